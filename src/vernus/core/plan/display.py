"""Whether a display and the scales chosen go together."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from vernus.core.finding import Finding, finding
from vernus.core.plan.scales import ScaleFamily


def match_display(
    axes: int,
    digits: int,
    signal: str,
    scales: Sequence[tuple[str, ScaleFamily]],
    travels_mm: Mapping[str, float],
    *,
    separate: int = 0,
) -> list[Finding]:
    """Findings on axes, digits and signal; ``scales`` are (axis, family), ``separate`` those with their own readout."""
    found: list[Finding] = []
    if len(scales) > axes:
        found.append(
            finding(
                "display-too-few-axes",
                "stop",
                "The display shows {axes} axes and {n} scales want one.",
                "Choose a display with {n} axes, or a scale with a readout of its own for one of them.",
                axes=axes,
                n=len(scales),
            )
        )
    for axis, family in scales:
        whole = max(1, math.ceil(math.log10(max(1.0, travels_mm.get(axis, 0.0)) + 1)))
        places = max(0, math.ceil(-math.log10(family.count_um / 1000) - 1e-9))
        if whole + places > digits:
            found.append(
                finding(
                    "display-too-few-digits",
                    "caution",
                    "{axis} needs {n} digits ({whole} before the point, {places} after) and the display has {digits}.",
                    "Choose one with {n} digits, or a coarser count.",
                    axis=axis, n=whole + places, whole=whole, places=places, digits=digits,
                )
            )  # fmt: skip
        if signal.strip() and family.signal and not _same_signal(signal, family.signal):
            found.append(
                finding(
                    "display-other-signal",
                    "caution",
                    "{axis}: the scale speaks “{theirs}”, the display takes “{ours}”.",
                    "Ask for the same signal, plug and pin order, or for an adapter, before ordering.",
                    axis=axis, theirs=family.signal, ours=signal.strip(),
                )
            )  # fmt: skip
    if len({family.signal for _, family in scales}) > 1 and not signal.strip():
        found.append(
            finding(
                "scales-of-two-signals",
                "caution",
                "The scales chosen speak different signals; one display rarely takes both.",
                "Choose one family, or check every axis's plug and pin order with the display's.",
            )
        )
    return found


def _same_signal(a: str, b: str) -> bool:
    """Whether the first words of both agree, whatever plug follows."""
    first, second = (t.lower().split(",")[0].strip() for t in (a, b))
    return first in second or second in first

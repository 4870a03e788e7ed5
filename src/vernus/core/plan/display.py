"""Whether a display and the scales chosen go together."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence

from vernus.core.finding import Finding, finding
from vernus.core.plan.scales import ScaleFamily

_MEANING = {
    "square": (
        r"square",
        r"\bttl\b",
        r"quadrature",
        r"\ba\W?b\b",
        r"rs-?422",
        r"line driver",
        r"\bpulses?\b",
        r"5 ?v\b",
    ),
    "sine": (r"\bsin", r"1 ?v(ss|pp)", r"\banalog", r"11 ?µa"),
    "bus": (r"\bbus\b", r"serial", r"\bspi\b", r"\bssi\b"),
}


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
        found += _signal(axis, signal.strip(), family)
    unlike = any(same_signal(a.signal, b.signal) is False for _, a in scales for _, b in scales)
    if unlike and not signal.strip():
        found.append(
            finding(
                "scales-of-two-signals",
                "caution",
                "The scales chosen speak different signals; one display rarely takes both.",
                "Choose one family, or check every axis's plug and pin order with the display's.",
            )
        )
    return found


def _signal(axis: str, signal: str, family: ScaleFamily) -> list[Finding]:
    """What is said of a scale's signal beside the display's; nothing while neither is known."""
    same = same_signal(signal, family.signal)
    if not signal or not family.signal or same:
        return []
    if same is None:
        return [
            finding(
                "display-signal-unclear",
                "info",
                "{axis}: whether “{ours}” and “{theirs}” are one signal can't be told from these words.",
                "Ask the seller for signal, voltage, plug and pin order before ordering.",
                axis=axis, theirs=family.signal, ours=signal,
            )
        ]  # fmt: skip
    return [
        finding(
            "display-other-signal",
            "caution",
            "{axis}: the scale speaks “{theirs}”, the display takes “{ours}”.",
            "Ask for the same signal, plug and pin order, or for an adapter, before ordering.",
            axis=axis, theirs=family.signal, ours=signal,
        )
    ]  # fmt: skip


def signal_kinds(words: str) -> frozenset[str]:
    """What a signal is by its meaning: ``square`` wave (TTL, quadrature, A/B, line driver), ``sine`` or ``bus``."""
    text = words.lower()
    return frozenset(kind for kind, names in _MEANING.items() if any(re.search(name, text) for name in names))


def same_signal(a: str, b: str) -> bool | None:
    """Whether two descriptions mean one signal; None where one of them says nothing of it."""
    first, second = signal_kinds(a), signal_kinds(b)
    return None if not first or not second else bool(first & second)

"""Keys and keyways: inch keys in metric slots and the other way round.

Slack = slot − key (negative: too tight). Play at the rim of a handwheel = slack × rim radius/shaft radius. Standard
widths by shaft diameter: DIN 6885-1 (ISO/R 773) for metric, ASME B17.1 for inch shafts, both from memory.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Sentence

_METRIC = (
    (6, 8, 2),
    (8, 10, 3),
    (10, 12, 4),
    (12, 17, 5),
    (17, 22, 6),
    (22, 30, 8),
    (30, 38, 10),
    (38, 44, 12),
    (44, 50, 14),
)
_INCH = (
    (5 / 16, 7 / 16, "3/32"), (7 / 16, 9 / 16, "1/8"), (9 / 16, 7 / 8, "3/16"), (7 / 8, 5 / 4, "1/4"),
    (5 / 4, 11 / 8, "5/16"), (11 / 8, 7 / 4, "3/8"),
)  # fmt: skip
SLIDES_MM = 0.03
"""A key this much narrower than its slot still counts as fitting; common practice, no source."""


@dataclass(frozen=True)
class KeyFit:
    """A key in a slot: slack (mm, negative too tight), play at the handwheel's rim, and what it comes to."""

    slack_mm: float
    play_mm: float | None
    verdict: Literal["fits", "loose", "tight"]
    words: Sentence


def fit_key(key_mm: float, slot_mm: float, rim_mm: float | None = None, shaft_mm: float | None = None) -> KeyFit:
    """A key of one width in a slot of another; ``rim_mm`` and ``shaft_mm`` are diameters of handwheel and shaft.

    Raises BadInputError for a width that isn't positive.
    """
    if not (key_mm > 0 and slot_mm > 0):
        raise BadInputError("Key and slot must be wider than zero.")
    slack = slot_mm - key_mm
    play = slack * rim_mm / shaft_mm if rim_mm and shaft_mm and slack > 0 else None
    values = {"key": Fine(key_mm), "slot": Fine(slot_mm), "slack": Fine(abs(slack)), "play": Mm(play or 0.0)}
    if slack < 0:
        words = Sentence(
            "The key is {slack} too wide: file or grind it to {slot}, or broach the slot to {key}. File the key, it "
            "is the part that can be bought again.",
            values,
        )
        return KeyFit(slack, None, "tight", words)
    if slack <= SLIDES_MM:
        return KeyFit(slack, play, "fits", Sentence("The key fits, {slack} of slack.", values))
    tail = ", felt as {play} at the rim of the handwheel" if play is not None else ""
    words = Sentence(
        "The key is {slack} narrower than its slot"
        + tail
        + ": make a stepped key ({key} in the shaft, {slot} in the hub), "
        "fit a new one, or accept the play.",
        values,
    )
    return KeyFit(slack, play, "loose", words)


def name_width(width_mm: float) -> str | None:
    """The standard key width that ``width_mm`` is within 0.04 mm of, such as ``5 mm`` or ``3/16 in``."""
    metric = [(f"{w} mm", float(w)) for _, _, w in _METRIC]
    inch = [(f"{n} in", _inches(n)) for _, _, n in _INCH]
    return next((name for name, mm in (*metric, *inch) if abs(mm - width_mm) <= 0.04), None)


def _inches(name: str) -> float:
    top, bottom = name.split("/")
    return 25.4 * int(top) / int(bottom)


def standard_key(shaft_mm: float, system: Literal["metric", "inch"]) -> tuple[str, float] | None:
    """Name and width (mm) of the standard key for a shaft; None outside the table."""
    if system == "metric":
        return next(
            ((f"{w} mm", float(w)) for low, high, w in _METRIC if low < shaft_mm <= high or shaft_mm == 6 == low), None
        )
    inches = shaft_mm / 25.4
    for low, high, name in _INCH:
        if low - 1e-6 <= inches <= high + 1e-6:
            return f"{name} in", _inches(name)
    return None

"""Keys and keyways: inch keys in metric slots and the other way round.

Slack = slot − key (negative: too tight). Play at the rim of a handwheel = slack × rim radius/shaft radius. Standard
widths by shaft diameter, heights and depths in the shaft: DIN 6885-1 (ISO/R 773) for metric, ASME B17.1 for inch shafts
(square keys, half their height in the shaft), both from memory.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Sentence, Size

_METRIC = (
    (6, 8, 2, 2, 1.2), (8, 10, 3, 3, 1.8), (10, 12, 4, 4, 2.5), (12, 17, 5, 5, 3.0), (17, 22, 6, 6, 3.5),
    (22, 30, 8, 7, 4.0), (30, 38, 10, 8, 5.0), (38, 44, 12, 8, 5.0), (44, 50, 14, 9, 5.5),
)  # fmt: skip
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
    values = {"key": Size(key_mm), "slot": Size(slot_mm), "slack": Fine(abs(slack)), "play": Mm(play or 0.0)}
    if slack < 0:
        words = Sentence(
            "The key is {slack} too wide: dress only what stands out of the shaft, to {slot} (a key can be bought "
            "again), or broach the slot to {key}.",
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


@dataclass(frozen=True)
class SteppedKey:
    """A key of one width in the shaft and another in the hub (mm): ``depth_mm`` of its height sits in ``lower``."""

    name: ClassVar[str] = "stepped key"
    length_mm: float
    shaft_width_mm: float
    hub_width_mm: float
    height_mm: float
    depth_mm: float
    lower: str = "shaft"


def stepped_key(key_mm: float, slot_mm: float, length_mm: float) -> SteppedKey:
    """The stepped key for a shaft's keyway ``key_mm`` wide and a hub's ``slot_mm`` wide.

    Height and depth are those of the standard key nearest in width to the shaft's; both keyways are measured before it
    is made. Raises BadInputError for a size that isn't positive.
    """
    if not min(key_mm, slot_mm, length_mm) > 0:
        raise BadInputError("Widths and length of a key must be larger than zero.")
    known = [(float(w), float(h), depth) for _, _, w, h, depth in _METRIC]
    known += [(_inches(n), _inches(n), _inches(n) / 2) for _, _, n in _INCH]
    _, height, depth = min(known, key=lambda k: abs(k[0] - key_mm))
    return SteppedKey(length_mm, key_mm, slot_mm, height, depth)


def name_width(width_mm: float) -> str | None:
    """The standard key width that ``width_mm`` is within 0.04 mm of, such as ``5 mm`` or ``3/16 in``."""
    metric = [(f"{w} mm", float(w)) for _, _, w, _, _ in _METRIC]
    inch = [(f"{n} in", _inches(n)) for _, _, n in _INCH]
    return next((name for name, mm in (*metric, *inch) if abs(mm - width_mm) <= 0.04), None)


def _inches(name: str) -> float:
    top, bottom = name.split("/")
    return 25.4 * int(top) / int(bottom)


def standard_key(shaft_mm: float, system: Literal["metric", "inch"]) -> tuple[str, float] | None:
    """Name and width (mm) of the standard key for a shaft; None outside the table."""
    if system == "metric":
        return next(
            ((f"{w} mm", float(w)) for low, high, w, _, _ in _METRIC if low < shaft_mm <= high or shaft_mm == 6 == low),
            None,
        )
    inches = shaft_mm / 25.4
    for low, high, name in _INCH:
        if low - 1e-6 <= inches <= high + 1e-6:
            return f"{name} in", _inches(name)
    return None

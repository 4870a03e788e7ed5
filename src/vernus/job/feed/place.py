"""The bracket of a power feed, solved from measurements."""

from __future__ import annotations

import math

from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import (
    LEAST_ADJUST_MODULES,
    Bracket,
    SolvedBracket,
    Spot,
    plan_bracket,
)
from vernus.core.finding import Mm, Sentence
from vernus.job.entities import PowerFeed
from vernus.job.fields import LengthEntry, mm_of

_WAYS: dict[str, Spot] = {"below": (0.0, -1.0), "above": (0.0, 1.0), "right": (1.0, 0.0), "left": (-1.0, 0.0)}
ADJUST_MM = 5.0
"""How far the unit goes either way on its slots, where the gears' module doesn't want more."""


def counts_from_screw(feed: PowerFeed) -> bool:
    """Whether the unit's holes are known only as an older Vernus asked for them: from the screw, not from its gear."""
    typed = bool(feed.unit_x.text or feed.unit_y.text)
    return typed and feed.pattern_x is None and feed.pattern_y is None


def pattern_missing(feed: PowerFeed) -> bool:
    """Whether nobody said where the unit's holes lie; straight over its gear is said by one of both figures."""
    return feed.pattern_x is None and feed.pattern_y is None and not counts_from_screw(feed)


def adjust_mm(module_mm: float | None) -> float:
    """How far the unit goes either way on its slots."""
    return max(ADJUST_MM, LEAST_ADJUST_MODULES * (module_mm or 0.0))


def bracket_result(
    feed: PowerFeed, centre_mm: float | None = None, module_mm: float | None = None
) -> SolvedBracket | None:
    """The bracket solved; None while a measure is missing or it is clamped on. Raises BadInputError.

    ``centre_mm`` is the centre distance of the gears and ``module_mm`` their module, where those are known.
    """
    if feed.bracket != "replace" or feed.bearing is None or feed.bearing_width is None or feed.screw_below is None:
        return None
    if feed.hole_across is None or feed.unit_across is None or not feed.hole_thread:
        return None
    if pattern_missing(feed) or (centre_mm is None and not counts_from_screw(feed)):
        return None
    if not feed.screw_below.mm > 0:
        raise BadInputError("The screw's axis lies below the table's top; measure by how much.")
    way = _WAYS[feed.sits]
    centre = centre_mm or max(1.0, math.hypot(feed.unit_x.mm, feed.unit_y.mm))
    off = mm_of(feed.pattern_x) or 0.0, mm_of(feed.pattern_y) or 0.0
    if counts_from_screw(feed):
        off = feed.unit_x.mm - way[0] * centre, feed.unit_y.mm - way[1] * centre
    unit = [(x + off[0], y + off[1]) for x, y in _corners(feed.unit_across, feed.unit_up)]
    bracket = Bracket(
        (feed.bearing.mm, feed.bearing_width.mm), mm_of(feed.shaft) or feed.bearing.mm / 2,
        tuple(_corners(feed.hole_across, feed.hole_up)), feed.hole_thread, tuple(unit), feed.unit_thread, way, centre,
        adjust_mm(module_mm), mm_of(feed.kit_bracket) or None,
        feed.screw_below.mm, module_mm, feed.feet == "slots", _outsides(feed, module_mm),
    )  # fmt: skip
    return plan_bracket(bracket, sticks_out_mm=mm_of(feed.shaft_length), old_bracket_mm=mm_of(feed.old_bracket) or 0.0)


_FOR_IT = (
    ("bearing", "the bearing's outside diameter"), ("bearing_width", "its width"),
    ("screw_below", "how far the screw's axis lies below the table's top"),
    ("hole_across", "the machine's bracket holes"), ("hole_thread", "their screws"),
    ("unit_across", "the unit's holes"),
)  # fmt: skip


def bracket_asks(feed: PowerFeed, meshed: bool) -> Sentence:
    """What is still to be measured for the bracket; how a clamp goes on. ``meshed``: the gears' centres are known."""
    if feed.bracket == "clamp":
        if feed.clamp_face is None:
            return Sentence("Hold the clamp on, and measure how far its face stands outside the bearing bracket's.")
        return Sentence(
            "Clamp it on the table's end, its face {mm} outside the bearing bracket's; nothing is to be made here.",
            {"mm": Mm(feed.clamp_face.mm, sign=True)},
        )
    missing = [words for name, words in _FOR_IT if getattr(feed, name) in (None, "")]
    missing += ["where they lie from the unit's own gear"] if pattern_missing(feed) else []
    missing += ["teeth of both gears, for their centres"] if not meshed else []
    return Sentence("Measure for the bracket: {what}.", {"what": ", ".join(missing[:3]) or "correct the figures"})


def _outsides(feed: PowerFeed, module_mm: float | None) -> tuple[float, float] | None:
    """The outside diameters of both gears (mm); None while one isn't known."""
    drive, unit = mm_of(feed.gear_outside), mm_of(feed.unit_outside)
    if unit is None and module_mm is not None and feed.unit_teeth is not None:
        unit = module_mm * (feed.unit_teeth + 2)
    return None if drive is None or unit is None else (drive, unit)


def _corners(across: LengthEntry, up: LengthEntry | None) -> list[Spot]:
    """Four holes in a rectangle round its middle, two where it has no height."""
    x, y = across.mm / 2, (mm_of(up) or 0.0) / 2
    return list(dict.fromkeys([(-x, -y), (x, -y), (-x, y), (x, y)]))

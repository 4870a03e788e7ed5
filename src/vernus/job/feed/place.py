"""The bracket of a power feed, solved from measurements, and made a part of the Mounts sheet."""

from __future__ import annotations

from collections.abc import Callable

from vernus.core.feed.bracket import HolePattern, SolvedBracket, solve_bracket
from vernus.job.entities import Axis, DrilledHole, Entity, MountPart, PowerFeed
from vernus.job.fields import LengthEntry, mm_of


def bracket_result(feed: PowerFeed) -> SolvedBracket | None:
    """The bracket solved; None while a measure is missing or it is clamped on. Raises BadInputError."""
    if feed.bracket != "replace" or feed.bearing is None or feed.bearing_width is None or feed.screw_below is None:
        return None
    if feed.hole_across is None or feed.unit_across is None or not feed.hole_thread:
        return None
    machine = HolePattern(feed.hole_across.mm, mm_of(feed.hole_up) or 0.0, feed.hole_thread)
    unit = HolePattern(
        feed.unit_across.mm, mm_of(feed.unit_up) or 0.0, feed.unit_thread, (feed.unit_x.mm, feed.unit_y.mm)
    )
    return solve_bracket(
        (feed.bearing.mm, feed.bearing_width.mm), machine, unit, feed.screw_below.mm,
        sticks_out_mm=mm_of(feed.shaft_length), old_bracket_mm=mm_of(feed.old_bracket) or 0.0,
    )  # fmt: skip


def bracket_part(axis: Axis, bracket: SolvedBracket, new_id: Callable[[], str]) -> list[Entity]:
    """The bracket as a part of the Mounts sheet, with its holes: there it is drawn, printed 1:1 and written as DXF."""
    part = bracket.part
    made = MountPart(
        id=new_id(), axis_id=axis.id, name=part.name, part_kind="plate", length=_entry(part.length_mm),
        width=_entry(part.width_mm), thickness=_entry(part.thickness_mm), material=part.material,
    )  # fmt: skip
    holes: list[Entity] = [
        DrilledHole(
            id=new_id(), part_id=made.id, x=_entry(h.x_mm), y=_entry(h.y_mm), hole_kind=h.kind, thread=h.thread or "M5",
            adjust=_entry(h.adjust_mm), bore=_entry(h.bore_mm) if h.bore_mm else None,
            depth=None if h.depth_mm is None else _entry(h.depth_mm),
        )
        for h in part.holes
    ]  # fmt: skip
    return [made, *holes]


def _entry(mm: float) -> LengthEntry:
    return LengthEntry(mm=mm)

"""Where a power feed sits: its bracket solved from measurements, and the room its unit takes."""

from __future__ import annotations

from collections.abc import Callable

from vernus.core.envelope import COORDINATES, Box
from vernus.core.feed_bracket import HolePattern, SolvedBracket, solve_bracket
from vernus.job.entities import Axis, DrilledHole, Entity, MountPart, PowerFeed
from vernus.job.fields import LengthEntry


def _mm(entry: LengthEntry | None) -> float | None:
    return None if entry is None else entry.mm


def bracket_result(feed: PowerFeed) -> SolvedBracket | None:
    """The bracket solved; None while a measure is missing or it is clamped on. Raises BadInputError."""
    if feed.bracket != "replace" or feed.bearing is None or feed.bearing_width is None or feed.screw_below is None:
        return None
    if feed.hole_across is None or feed.unit_across is None or not feed.hole_thread:
        return None
    machine = HolePattern(feed.hole_across.mm, _mm(feed.hole_up) or 0.0, feed.hole_thread)
    unit = HolePattern(
        feed.unit_across.mm, _mm(feed.unit_up) or 0.0, feed.unit_thread, (feed.unit_x.mm, feed.unit_y.mm)
    )
    return solve_bracket(
        (feed.bearing.mm, feed.bearing_width.mm), machine, unit, feed.screw_below.mm,
        sticks_out_mm=_mm(feed.shaft_length), old_bracket_mm=_mm(feed.old_bracket) or 0.0,
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


def feed_boxes(axis: Axis, feed: PowerFeed, boxes: list[Box]) -> list[Box]:
    """The unit as a box on the end of the moving member; empty while its size or the axis's direction isn't known.

    Its top is level with the member's top, its middle in the middle of the member's width.
    """
    sizes = (_mm(feed.unit_long), _mm(feed.unit_wide), _mm(feed.unit_high))
    mine = [b for b in boxes if b.member == axis.moving]
    if not axis.direction or not mine or None in sizes:
        return []
    long, wide, high = (s or 0.0 for s in sizes)
    along = COORDINATES.index(axis.direction[1])
    carrier = max(mine, key=lambda b: b.max_mm[along] - b.min_mm[along])
    across = next(c for c in (1, 0) if c != along)
    rise = next(c for c in (2, 1, 0) if c not in (along, across))
    low, high_mm = list(carrier.min_mm), list(carrier.max_mm)
    edge = carrier.max_mm[along] if feed.end == "high" else carrier.min_mm[along]
    low[along], high_mm[along] = (edge, edge + long) if feed.end == "high" else (edge - long, edge)
    middle = (carrier.min_mm[across] + carrier.max_mm[across]) / 2
    low[across], high_mm[across] = middle - wide / 2, middle + wide / 2
    low[rise], high_mm[rise] = carrier.max_mm[rise] - high, carrier.max_mm[rise]
    name = f"{axis.name} power feed"
    return [Box(name, axis.moving, (low[0], low[1], low[2]), (high_mm[0], high_mm[1], high_mm[2]), group=name)]

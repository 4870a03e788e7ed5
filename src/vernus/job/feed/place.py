"""Where a power feed sits: its bracket solved from measurements, and the room its unit takes."""

from __future__ import annotations

from collections.abc import Callable

from vernus.core.feed.bracket import HolePattern, SolvedBracket, solve_bracket
from vernus.core.machine.envelope import COORDINATES, Box
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
    """The unit, and a bracket in place of the bearing's, on the end of the moving member; empty while unknown.

    Tops are level with the member's top, middles in the middle of the member's width. A clamp sits on the table itself.
    """
    sizes = (_mm(feed.unit_long), _mm(feed.unit_wide), _mm(feed.unit_high))
    mine = [b for b in boxes if b.member == axis.moving]
    long, wide, high = (s or 0.0 for s in sizes)
    if not axis.direction or not mine or not min(long, wide, high) > 0:
        return []
    along = COORDINATES.index(axis.direction[1])
    across = next(c for c in (1, 0) if c != along)
    rise = next(c for c in (2, 1, 0) if c not in (along, across))
    carrier = max(mine, key=lambda b: b.max_mm[along] - b.min_mm[along])
    middle = (carrier.min_mm[across] + carrier.max_mm[across]) / 2
    group = f"{axis.name} power feed"

    def on_end(name: str, first: float, last: float) -> Box:
        """A box from ``first`` to ``last`` off the end of its carrier."""
        low, top = list(carrier.min_mm), list(carrier.max_mm)
        edge = carrier.max_mm[along] if feed.end == "high" else carrier.min_mm[along]
        low[along], top[along] = (edge + first, edge + last) if feed.end == "high" else (edge - last, edge - first)
        low[across], top[across] = middle - wide / 2, middle + wide / 2
        low[rise], top[rise] = carrier.max_mm[rise] - high, carrier.max_mm[rise]
        return Box(name, axis.moving, (low[0], low[1], low[2]), (top[0], top[1], top[2]), group=group)

    thick = max(0.0, _mm(feed.kit_bracket) or 0.0) if feed.bracket == "replace" else 0.0
    bracket = [on_end(f"{axis.name} feed bracket", 0.0, thick)] if thick else []
    return [on_end(group, thick, thick + long), *bracket]

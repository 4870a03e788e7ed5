"""Patterns of holes as they lie on a part: by their figures, or carried from another part, the scale or the reader.

Of what is carried those holes are proposed that don't bolt the source to something else already; any can be left out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.make.joint import Into
from vernus.core.make.parts import passes_screw
from vernus.core.make.patterns import Spot, carried, circle, rectangle, row
from vernus.job.document import Job
from vernus.job.entities import Axis, Delivery, DrilledHole, HolePattern, MountPart, carried_by
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import delivery_of
from vernus.job.known.lengths import family_of, screws
from vernus.job.make.holes_there import holes_on_face

DEEPEST = 6
"""How many parts a pattern may be carried through."""


@dataclass(frozen=True)
class SourceHole:
    """A hole that can be carried: its place (mm), what it is in words, what it bolts its part to, the thread there."""

    at: Spot
    words: str
    used_for: str = ""
    ends: Into | None = None


def goes_into(part: MountPart, hole: DrilledHole | HolePattern) -> str:
    """What the screw of a hole goes into: the id of a part, ``machine``, ``scale``, ``reader``, or "" where unknown.

    What carries the reader has two sorts of holes: slots and the other leg take the reader's screws.
    """
    second = hole.face == "leg" or "slot" in hole.hole_kind
    if isinstance(hole, DrilledHole) and hole.over:
        return "machine"
    if isinstance(hole, HolePattern) and hole.shape == "carried" and hole.source in ("reader", "machine"):
        return hole.source
    return "reader" if second and part.bolts_to == "machine" and carried_by(part) == "reader" else part.bolts_to


def reader_pattern(arrived: Delivery | None) -> list[Spot]:
    """The places of the reader's holes from the lower left one (mm); none while they weren't measured."""
    if arrived is None or arrived.reader_columns is None:
        return []
    columns, rows = round(arrived.reader_columns), round(arrived.reader_rows or 1)
    apart, rows_apart = mm_of(arrived.reader_apart), mm_of(arrived.reader_rows_apart)
    if (columns > 1 and apart is None) or (rows > 1 and rows_apart is None):
        return []
    return rectangle((0.0, 0.0), (apart or 0.0, rows_apart or 0.0), (columns, rows))


def places_of(job: Job, part: MountPart, pattern: HolePattern) -> list[Spot]:
    """Where the holes of a pattern lie on its face (mm); raises BadInputError for one that can't be."""
    return _places(job, part, pattern, DEEPEST)


def _places(job: Job, part: MountPart, pattern: HolePattern, deep: int) -> list[Spot]:
    first = pattern.x.mm + pattern.off_x.mm, pattern.y.mm + pattern.off_y.mm
    if pattern.shape == "row":
        return row(first, (pattern.apart.mm, 0.0), round(pattern.count))
    if pattern.shape == "rectangle":
        return rectangle(first, (pattern.apart.mm, pattern.rows_apart.mm), (round(pattern.count), round(pattern.rows)))
    if pattern.shape == "circle":
        return circle(first, pattern.radius.mm, round(pattern.count), pattern.start)
    chosen = [h.at for h in _chosen(job, part, pattern, deep)]
    return carried(chosen, first, turned=pattern.turned == "yes")


def chosen_holes(job: Job, part: MountPart, pattern: HolePattern) -> list[SourceHole]:
    """The holes of the source that a pattern carries, in their order; raises BadInputError where there is no source."""
    return _chosen(job, part, pattern, DEEPEST)


def source_holes(job: Job, part: MountPart, pattern: HolePattern) -> list[tuple[SourceHole, bool]]:
    """Every hole of the source, and whether it is carried."""
    holes = _source(job, part, pattern, DEEPEST)
    out = _left_out(part, pattern, holes)
    return [(hole, n not in out) for n, hole in enumerate(holes)]


def _chosen(job: Job, part: MountPart, pattern: HolePattern, deep: int) -> list[SourceHole]:
    holes = _source(job, part, pattern, deep)
    out = _left_out(part, pattern, holes)
    return [hole for n, hole in enumerate(holes) if n not in out]


def _left_out(part: MountPart, pattern: HolePattern, holes: Sequence[SourceHole]) -> set[int]:
    """The numbers that aren't carried: as ticked, else those that bolt their part to something else already."""
    if pattern.left_out is not None:
        return set(pattern.left_out)
    mine = {n for n, h in enumerate(holes) if h.used_for == part.id}
    if mine:
        return set(range(len(holes))) - mine
    used = {n for n, h in enumerate(holes) if h.used_for}
    return used if len(used) < len(holes) else set()


def _source(job: Job, part: MountPart, pattern: HolePattern, deep: int) -> list[SourceHole]:
    """The holes of what a pattern is carried from, in its own datum."""
    axis = job.get(part.axis_id)
    if not isinstance(axis, Axis):
        return []
    if pattern.source in ("scale", "reader"):
        return _of_kit(job, axis, pattern.source)
    if pattern.source == "machine":
        return [SourceHole(h.place_mm, h.where, "", h.ends if h.thread is not None else None)
                for h in holes_on_face(job, axis) if h.place_mm is not None]  # fmt: skip
    other = job.get(pattern.source)
    if not isinstance(other, MountPart) or other.id == part.id:
        raise BadInputError(f"Say what the pattern of {part.name or 'this part'} is carried from.")
    if deep == 0:
        raise BadInputError("These patterns are carried from each other in a circle; enter one of them by its figures.")
    return _of_part(job, other, deep)


def _of_kit(job: Job, axis: Axis, source: str) -> list[SourceHole]:
    """The holes of the scale or the reader: as measured on Receive, else as its family usually has them."""
    arrived, family = delivery_of(job, axis), family_of(job, axis)
    if source == "reader" and reader_pattern(arrived):
        thread = "" if arrived is None or not arrived.reader_thread else f", {arrived.reader_thread}"
        return [SourceHole(at, f"the reader's hole{thread}") for at in reader_pattern(arrived)]
    if source == "scale" and family is not None and family.body_type == "rod":
        apart = None if arrived is None else mm_of(arrived.support_apart)
        if apart is None:
            raise BadInputError("Measure how far apart the rod's supports stand, and their thread, on Receive first.")
        return [SourceHole((0.0, 0.0), "a support of the rod"), SourceHole((apart, 0.0), "a support of the rod")]
    if source == "scale" and family is not None and family.held == "adhesive":
        raise BadInputError("A tape is stuck on: it has no holes to carry.")
    known = screws(job, axis, "body" if source == "scale" else "reader")
    words = f"the {source}'s end hole"
    return [] if known is None else [SourceHole((x, 0.0), words) for x in known.value]


def _of_part(job: Job, other: MountPart, deep: int) -> list[SourceHole]:
    """The holes on the face of a part of ours, with what each bolts it to."""
    found: list[SourceHole] = []
    for h in (h for h in job.all(DrilledHole) if h.part_id == other.id):
        if h.face == "face" and h.hole_kind not in ("bore", "jack"):
            found.append(SourceHole((h.x.mm, h.y.mm), f"{h.hole_kind}, {h.thread}", _used_for(other, h)))
    for p in (p for p in job.all(HolePattern) if p.part_id == other.id):
        words, used = f"{p.hole_kind}, {p.thread}", _used_for(other, p)
        found += [SourceHole(at, words, used) for at in _places(job, other, p, deep - 1)]
    return found


def _used_for(part: MountPart, hole: DrilledHole | HolePattern) -> str:
    """What a hole bolts its part to; "" where a screw of another part finds its thread, or nobody said."""
    return goes_into(part, hole) if passes_screw(hole.hole_kind) else ""

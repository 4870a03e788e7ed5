"""The parts of an axis as the core makes them: their holes one by one and in patterns, carried ones followed, cuts."""

from __future__ import annotations

import math
from dataclasses import replace

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import Material, plan_hole, thread_named
from vernus.core.make.hole_rows import thread_made
from vernus.core.make.joint import Into
from vernus.core.make.parts import Part, PartCut, PartHole, passes_screw
from vernus.core.make.plates import lies_under
from vernus.job.document import Job
from vernus.job.entities import Axis, DrilledHole, Hole, HolePattern, MountPart, StackHeight, carried_by
from vernus.job.entities import PartCut as CutEntity
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.known.axis_figures import chosen_face, delivery_of
from vernus.job.known.lengths import gap_left
from vernus.job.machine.planned import bulk_of
from vernus.job.make.carried import chosen_holes, goes_into, places_of
from vernus.job.make.holes_there import slots_of, thread_there
from vernus.job.make.served import served
from vernus.job.plan.places import PlaceOnFace, place_on_face


def axis_of(job: Job, part: MountPart) -> Axis | None:
    """The axis a part belongs to."""
    found = job.get(part.axis_id)
    return found if isinstance(found, Axis) else None


def holes_of(job: Job, part: MountPart) -> list[DrilledHole]:
    """The holes of a part; those that follow the scale where it lies now, until somebody types another place."""
    mine = [h for h in job.all(DrilledHole) if h.part_id == part.id]
    axis = axis_of(job, part)
    if axis is None or not any(h.follows and not h.x.text for h in mine):
        return mine
    place = place_on_face(job, axis)
    return mine if place is None else [_followed(h, place) for h in mine]


def _followed(hole: DrilledHole, place: PlaceOnFace) -> DrilledHole:
    if not hole.follows or hole.x.text:
        return hole
    x = place.first_hole_mm if hole.follows == "first" else place.last_hole_mm
    return hole.model_copy(update={"x": LengthEntry(mm=x)})


def patterns_of(job: Job, part: MountPart) -> list[HolePattern]:
    """The patterns of a part."""
    return [p for p in job.all(HolePattern) if p.part_id == part.id]


def cuts_of(job: Job, part: MountPart) -> list[CutEntity]:
    """The steps, tongues, pockets and reliefs of a part."""
    return [c for c in job.all(CutEntity) if c.part_id == part.id]


def heights_of(job: Job, part: MountPart) -> list[StackHeight]:
    """The measured heights of a part's stack."""
    return [h for h in job.all(StackHeight) if h.part_id == part.id]


def solved_size(job: Job, entity: MountPart, thickness_mm: float | None = None) -> tuple[float, float, float]:
    """Length, width and thickness (mm): what follows from what it serves, and what fills a gap as that was measured.

    The thickness as it is solved, where that is given.
    """
    part, gap = served(job, entity), gap_left(job, entity)
    size = {"length": part.length.mm, "width": part.width.mm, "thickness": thickness_mm or part.thickness.mm}
    if gap is not None and gap > 0:
        size[part.fills] = gap
    return size["length"], size["width"], size["thickness"]


def part_of(job: Job, entity: MountPart, thickness_mm: float | None = None) -> Part:
    """The part with everything on it; raises BadInputError for one that can't be."""
    long, wide, thick = solved_size(job, entity, thickness_mm)
    holes = [_drilled(job, entity, h) for h in holes_of(job, entity)]
    holes = _covered(job, entity, holes)
    holes += [h for p in patterns_of(job, entity) for h in _pattern(job, entity, p, into_of(job, entity, p))]
    cuts = tuple(
        PartCut(c.cut_kind, c.face, c.x.mm, c.y.mm, c.wide.mm, c.high.mm, c.deep.mm) for c in cuts_of(job, entity)
    )
    leg = 0.0 if entity.leg is None else entity.leg.mm
    return Part(
        served(job, entity).name, entity.part_kind, long, wide, thick, entity.material, tuple(holes), cuts, leg,
        entity.bend_deg,
    )  # fmt: skip


def _covered(job: Job, entity: MountPart, holes: list[PartHole]) -> list[PartHole]:
    """The holes of a plate with no room over those whose heads the body lies on: it is screwed to the plate's threads.

    The outer threads of the plate are the body's, one at each of its end holes.
    """
    axis = axis_of(job, entity)
    face = None if axis is None else chosen_face(job, axis)
    tapped = [h for h in holes if h.kind == "tapped" and h.face == "face"]
    bulk = None if axis is None or face is None else bulk_of(job, axis, face)
    if entity.part_kind != "plate" or carried_by(entity) != "body" or bulk is None or len(tapped) < 2:
        return holes
    beyond, high = bulk.family.holes_from_end_mm, bulk.family.section_mm[0]
    span = min(h.x_mm for h in tapped) - beyond, max(h.x_mm for h in tapped) + beyond
    line = math.fsum(h.y_mm for h in tapped) / len(tapped), high
    found: list[PartHole] = []
    for hole in holes:
        plain = hole.face == "face" and hole.is_passed
        try:
            under = plain and lies_under((hole.x_mm, hole.y_mm), thread_named(hole.thread), span, line)
        except BadInputError:
            under = False  # told with its own row
        found.append(replace(hole, over_mm=0.0) if under else hole)
    return found


def into_of(job: Job, part: MountPart, hole: DrilledHole | HolePattern) -> Material | None:
    """What the screw of a hole goes into: the part that one bolts to, the machine's cast iron, aluminium of a scale."""
    goes = goes_into(part, hole)
    other = job.get(goes) if goes else None
    if isinstance(other, MountPart):
        return other.material
    return {"machine": "cast-iron", "scale": "aluminium", "reader": "aluminium"}.get(goes)  # type: ignore[return-value]


def _drilled(job: Job, part: MountPart, h: DrilledHole) -> PartHole:
    """A hole with what its screw passes and ends in."""
    hole = replace(_hole(h, into_of(job, part, h)), there=_there(job, part, h))
    if h.nut != "yes" or not hole.is_passed:
        return hole
    return replace(hole, nut=True, through_mm=_walled(job, part, h))


def _hole(h: DrilledHole, into: Material | None) -> PartHole:
    bore = 0.0 if h.bore is None else h.bore.mm
    depth = None if h.depth is None else h.depth.mm
    behind = 0.0 if h.behind is None else h.behind.mm
    return PartHole(
        h.x.mm, h.y.mm, h.hole_kind, h.thread, h.adjust.mm, bore, depth, h.face, h.angle, into, behind,
        far_side=h.hole_kind == "bore" and h.worked_from == "back",
    )  # fmt: skip


def _pattern(job: Job, part: MountPart, p: HolePattern, into: Material | None) -> list[PartHole]:
    through, nut = _through(job, part, p)
    spots, there = places_of(job, part, p), _there(job, part, p)
    each = [there] * len(spots)
    if p.shape == "carried" and p.source == "machine":
        each = [h.ends for h in chosen_holes(job, part, p)]
    return [
        PartHole(
            x,
            y,
            p.hole_kind,
            p.thread,
            p.adjust.mm,
            0.0,
            None,
            p.face,
            p.angle,
            into,
            through_mm=through,
            nut=nut,
            there=ends,
        )
        for (x, y), ends in zip(spots, each, strict=True)
    ]


def _there(job: Job, part: MountPart, hole: DrilledHole | HolePattern) -> Into | None:
    """The thread that the screw of a hole ends in, where one is there already; None where it is made for the screw."""
    if not passes_screw(hole.hole_kind) or hole.nut == "yes":
        return None
    old = job.get(hole.over) if isinstance(hole, DrilledHole) and hole.over else None
    if isinstance(old, Hole):
        return thread_there(old)
    axis, goes = axis_of(job, part), goes_into(part, hole)
    if goes == "reader":
        arrived = None if axis is None else delivery_of(job, axis)
        return Into("reader", None if arrived is None else mm_of(arrived.reader_depth))
    other = job.get(goes) if goes else None
    if isinstance(other, MountPart) and other.part_kind == "t-nut":
        return _t_nut(job, other)
    return _tapped_in(job, other, hole.thread) if isinstance(other, MountPart) else None


def loose_in(job: Job, part: MountPart, hole: DrilledHole | HolePattern) -> bool:
    """Whether the screw of a hole ends neither in a thread that is known, nor in a nut."""
    behind = hole.nut == "yes" or (isinstance(hole, HolePattern) and _through(job, part, hole)[1])
    return passes_screw(hole.hole_kind) and not behind and _there(job, part, hole) is None


def _t_nut(job: Job, bar: MountPart) -> Into | None:
    """A T-nut bar in the slot it was made for; None while that slot isn't noted, or the bar has no neck."""
    axis = axis_of(job, bar)
    slots = [] if axis is None else slots_of(job, axis)
    necks = [c.deep.mm for c in cuts_of(job, bar) if c.cut_kind == "step" and c.face == "face"]
    if not slots or not necks:
        return None
    slot, neck = slots[0][1], min(necks)
    return Into("t-nut", None, slot.lip_mm, neck, max(0.0, bar.thickness.mm - neck), slot.deep_mm)


def _tapped_in(job: Job, other: MountPart, thread: str) -> Into | None:
    """The shallowest thread of that name in a part of ours; None where it has none."""
    tapped: list[DrilledHole | HolePattern] = [h for h in holes_of(job, other) if h.hole_kind == "tapped"]
    tapped += [p for p in patterns_of(job, other) if p.hole_kind == "tapped"]
    found: list[Into] = []
    for hole in tapped:
        try:
            wanted, mine = thread_named(thread), thread_named(hole.thread)
        except BadInputError:
            continue
        if mine.name != wanted.name:
            continue
        typed = mm_of(hole.depth) if isinstance(hole, DrilledHole) else None
        thread_mm, drilled = thread_made(_bare(job, other), hole.face, plan_hole(mine, other.material), typed)
        found.append(Into("through" if drilled is None else "hole", thread_mm))
    return min(found, key=lambda t: t.most_mm(thread_named(thread)), default=None)


def _bare(job: Job, part: MountPart) -> Part:
    """A part without its holes and cuts."""
    leg = 0.0 if part.leg is None else part.leg.mm
    return Part(part.name or "part", part.part_kind, *solved_size(job, part), part.material, (), (), leg)


def _walled(job: Job, part: MountPart, hole: DrilledHole | HolePattern) -> float:
    """What a screw that ends in a nut passes behind its part (mm): the wall noted, or the part that it bolts to."""
    other = job.get(part.bolts_to) if part.bolts_to else None
    if hole.wall is not None:
        return hole.wall.mm
    return solved_size(job, other)[2] if isinstance(other, MountPart) else 0.0


def _through(job: Job, part: MountPart, pattern: HolePattern) -> tuple[float, bool]:
    """How thick what a screw passes behind its part is (mm), and whether it ends in a nut behind that.

    So it is said, or the other part a pattern is carried from has nothing tapped either.
    """
    if pattern.nut == "yes" and passes_screw(pattern.hole_kind):
        return _walled(job, part, pattern), True
    other = job.get(pattern.source) if pattern.shape == "carried" else None
    if not isinstance(other, MountPart) or not (other.id == part.bolts_to or part.id == other.bolts_to):
        return 0.0, False
    kinds: set[str] = {h.hole_kind for h in holes_of(job, other) if h.face == "face" and h.hole_kind != "bore"}
    kinds |= {p.hole_kind for p in patterns_of(job, other)}
    plain = bool(kinds) and "tapped" not in {*kinds, pattern.hole_kind}
    return (solved_size(job, other)[2], True) if plain else (0.0, False)

"""Parts that Vernus proposes: usual holes, the other hand, the face to drill, a plate over holes, a T-nut."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import counterbore, thread_named
from vernus.core.make.parts import PartHole, mirrored
from vernus.core.make.patterns import Spot
from vernus.core.make.plates import PlaceOfHole, PlatePlan, lies_under, plan_plate, sinks
from vernus.core.make.screws import t_nut
from vernus.core.make.usual import usual_holes
from vernus.core.plan.plan_parts import (
    PROPOSED_OFF_MM,
    ScaleBulk,
    clearing_across,
    clearing_off,
    scale_parts,
    solid_parts,
)
from vernus.job.document import Job
from vernus.job.entities import Axis, DrilledHole, Entity, Face, Hole, HolePattern, MountPart, PartCut, carried_by
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face, delivery_of
from vernus.job.known.lengths import length_of, screws, stand_off_wanted
from vernus.job.machine.geometry import face_place
from vernus.job.machine.planned import all_planned_parts, bulk_of, casting_at, castings_of
from vernus.job.machine.rests import across_of
from vernus.job.machine.survey import threads_that_fit, untold
from vernus.job.make.carried import reader_pattern
from vernus.job.make.holes_there import elsewhere, holes_on_face, slots_of
from vernus.job.make.parts import axis_of, part_of
from vernus.job.plan.places import PlaceOnFace, place_on_face
from vernus.job.plan.travel_left import kept_with, lost_against

NewId = Callable[[], str]
PLATE_MM = 12.0
_CLEAR_MM = 1.0
RING_PLAY_MM = 0.1
"""What a ring's bore is larger than the nose it goes round; common practice, no source."""
_PLATE_OVER_MM = 15.0
"""How far above the holes there are the scale's own line lies on the plate, at least."""


def _at(mm: float) -> LengthEntry:
    return LengthEntry(mm=mm)


def usual_screw(job: Job) -> str:
    """The screw that a hole is for until somebody says otherwise, in the system of the job; common practice."""
    return "10-24" if job.info.units == "in" else "M5"


def usual_jack(job: Job) -> str:
    """The jack screw until somebody says otherwise, in the system of the job; common practice."""
    return "1/4-20" if job.info.units == "in" else "M6"


def new_part(job: Job, axis: Axis, new_id: NewId) -> MountPart:
    """A part to begin with: the first block of an axis as thick as its body is wanted off the face."""
    made, wanted = MountPart(id=new_id(), axis_id=axis.id), stand_off_wanted(job, axis)
    if wanted is None or any(carried_by(p) == "body" for p in job.of_axis(MountPart, axis.id)):
        return made
    thick: MountPart = made.with_(thickness=_at(wanted))
    return thick


def with_usual_holes(job: Job, entity: MountPart, thread: str, new_id: NewId) -> list[Entity]:
    """The holes a part of its kind usually has, as entities; raises BadInputError where it is too small for them.

    A ring is bored for its nose, a cover gets the scale's end holes, a bracket the reader's own pattern where that is
    measured.
    """
    axis = axis_of(job, entity)
    bare, arrived = part_of(job, entity), None if axis is None else delivery_of(job, axis)
    if entity.fixed == "foam":
        raise BadInputError("What is held by foam tape has no holes: say that it is held by screws first.")
    reader = reader_pattern(arrived) if arrived is not None and carried_by(entity) == "reader" else []
    made: list[Entity] = []
    for h in usual_holes(bare, thread):
        bore = entity.nose.mm + RING_PLAY_MM if h.kind == "bore" and entity.nose is not None else h.bore_mm
        name = arrived.reader_thread if h.is_slot and arrived is not None and arrived.reader_thread else thread
        if h.is_slot and reader:
            continue
        made.append(
            DrilledHole(
                id=new_id(), part_id=entity.id, x=_at(h.x_mm), y=_at(h.y_mm), hole_kind=h.kind, thread=name,
                face=h.face, adjust=_at(h.adjust_mm), bore=_at(bore) if bore else None,
            )
        )  # fmt: skip
    if reader and arrived is not None:
        slots = [h for h in usual_holes(bare, thread) if h.is_slot]
        made += _reader_slots(entity, slots, reader, arrived.reader_thread or thread, new_id)
    return _at_end_holes(job, entity, made)


def _reader_slots(
    entity: MountPart, usual: Sequence[PartHole], reader: Sequence[Spot], thread: str, new_id: NewId
) -> list[Entity]:
    """The reader's own pattern in place of the usual slots, its middle where theirs is."""
    if not usual:
        return []
    middle = [(min(v) + max(v)) / 2 for v in zip(*((h.x_mm, h.y_mm) for h in usual), strict=True)]
    wide, high = (max(v) - min(v) for v in zip(*reader, strict=True))
    first = middle[0] + wide / 2, middle[1] - high / 2  # seen on a face that looks at it, its first hole lies right
    return [
        HolePattern(
            id=new_id(), part_id=entity.id, face=usual[0].face, shape="carried", source="reader", x=_at(first[0]),
            y=_at(first[1]), hole_kind="slot", thread=thread, adjust=_at(usual[0].adjust_mm),
        )
    ]  # fmt: skip


def _at_end_holes(job: Job, entity: MountPart, holes: list[Entity]) -> list[Entity]:
    """A scale's cover has its outer holes where the body's end holes are; every other part as it is."""
    axis = axis_of(job, entity)
    ends = None if axis is None or entity.part_kind != "cover" or entity.serves != "body" else screws(job, axis)
    if ends is None or len(holes) < 2:
        return holes
    first, last = ends.value
    step = (last - first) / (len(holes) - 1)
    return [h.with_(x=_at(first + n * step)) for n, h in enumerate(holes)]


def other_hand(job: Job, entity: MountPart, new_id: NewId) -> list[Entity]:
    """The mirror image of a part, as a part of its own with every hole by its place."""
    made = entity.with_(id=new_id(), created="", changed="", name=f"{entity.name}, other hand")
    turned = mirrored(part_of(job, entity), entity.name)
    holes = [
        DrilledHole(
            id=new_id(), part_id=made.id, x=_at(h.x_mm), y=_at(h.y_mm), hole_kind=h.kind, thread=h.thread, face=h.face,
            adjust=_at(h.adjust_mm), angle=h.angle_deg, bore=_at(h.bore_mm) if h.bore_mm else None,
            depth=None if h.depth_mm is None else _at(h.depth_mm), worked_from="back" if h.far_side else "front",
        )
        for h in turned.holes
    ]  # fmt: skip
    cuts = [
        PartCut(
            id=new_id(), part_id=made.id, cut_kind=c.kind, face=c.face, x=_at(c.x_mm), y=_at(c.y_mm),
            wide=_at(c.wide_mm), high=_at(c.high_mm), deep=_at(c.depth_mm),
        )
        for c in turned.cuts
    ]  # fmt: skip
    return [made, *holes, *cuts]


def face_part(job: Job, axis: Axis, new_id: NewId) -> list[Entity]:
    """The chosen face with the end holes of the scale, to be drilled; raises BadInputError while none is chosen."""
    face, place = chosen_face(job, axis), place_on_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if face is None or place is None or bulk is None:
        raise BadInputError("Choose the scale and its face first; the places of its end holes follow from them.")
    if bulk.family.held == "adhesive":
        raise BadInputError("A tape is stuck on: there is no end screw to drill for.")
    if bulk.family.body_type == "rod":
        return _for_supports(job, axis, face, place, new_id)
    high = bulk.family.section_mm[0]
    part = MountPart(
        id=new_id(), axis_id=axis.id, name=face.name, part_kind="face",
        length=_at(length_of(job, axis, face)),
        width=_at(high), thickness=_at(25), material="cast-iron",
    )  # fmt: skip
    ends: tuple[tuple[Literal["first", "last"], float], ...] = (
        ("first", place.first_hole_mm),
        ("last", place.last_hole_mm),
    )
    holes = [
        DrilledHole(id=new_id(), part_id=part.id, x=_at(x), y=_at(high / 2), thread=usual_screw(job), follows=which)
        for which, x in ends
    ]
    return [part, *holes]


def _for_supports(job: Job, axis: Axis, face: Face, place: PlaceOnFace, new_id: NewId) -> list[Entity]:
    """The face with a hole for the stud of each of a rod's supports, their middle under the rod's."""
    arrived = delivery_of(job, axis)
    if arrived is None or arrived.support_apart is None or not arrived.support_thread:
        raise BadInputError("Measure how far apart the rod's supports stand, and their thread, on Receive first.")
    part = MountPart(
        id=new_id(), axis_id=axis.id, name=face.name, part_kind="face", length=_at(length_of(job, axis, face)),
        width=_at(40), thickness=_at(25), material="cast-iron",
    )  # fmt: skip
    middle, apart = (place.start_mm + place.end_mm) / 2, arrived.support_apart.mm
    return [part, *(
        DrilledHole(id=new_id(), part_id=part.id, x=_at(middle + side * apart / 2), y=_at(20),
                    thread=arrived.support_thread)
        for side in (-1, 1)
    )]  # fmt: skip


def plate_over_holes(job: Job, axis: Axis, thread: str, new_id: NewId) -> tuple[list[Entity], PlatePlan]:
    """A plate over the holes there are on the chosen face, tapped for the scale's end holes, and how it was solved.

    The scale's line lies above the holes if they lie on it. Raises BadInputError without measured places.
    """
    place, face = place_on_face(job, axis), chosen_face(job, axis)
    apart = next((h for h in job.all(Hole) if face is not None and h.face_id == face.id and elsewhere(h, face)), None)
    if face is not None and apart is not None:
        raise BadInputError(
            f"The holes noted on “{face.name}” are in the {apart.member}, and that face is on the {face.member}: a "
            "plate bolted to the one that carries the scale on the other would lock the two. Correct where the holes "
            "are, or use them for the reader's bracket."
        )
    there = [h for h in holes_on_face(job, axis) if h.place_mm is not None and h.thread is not None]
    unsure = [h for h in job.all(Hole) if face is not None and h.face_id == face.id and untold(h)]
    if unsure and not there:
        names = " or ".join(t.name for t in threads_that_fit(unsure[0])[:4])
        raise BadInputError(
            f"The thread of {unsure[0].place or 'the holes there are'} can be {names}: turn a known screw in, choose "
            "it on the Machine sheet (Holes); then a plate is made for it."
        )
    if place is None or not there:
        raise BadInputError(
            "Note the holes of the chosen face with their places on the Machine sheet first (from its left end)."
        )
    screw, ends = thread_named(thread), (place.first_hole_mm, place.last_hole_mm)
    bare = [PlaceOfHole(h.place_mm[0], h.place_mm[1], h.thread) for h in there if h.place_mm and h.thread]
    up, existing, thick = _line_of_the_body(job, axis, bare, place, screw.major_mm)
    plan = plan_plate(existing, [PlaceOfHole(x, up, screw) for x in ends], thickness_mm=thick, material="aluminium")
    part = MountPart(
        id=new_id(), axis_id=axis.id, name="plate over the holes there are", part_kind="plate", bolts_to="machine",
        hung_on="" if face is None else face.id, length=_at(plan.width_mm),
        width=_at(plan.height_mm), thickness=_at(thick),
    )  # fmt: skip
    holes = [
        DrilledHole(
            id=new_id(), part_id=part.id, x=_at(h.x_mm), y=_at(h.y_mm), thread=h.thread.name,
            hole_kind="tapped" if h.of == "wanted" else "counterbored" if h.counterbore_mm else "clearance", over=old,
        )
        for h, old in zip(plan.holes, [*(h.hole_id for h in there), *[""] * len(ends)], strict=True)
    ]  # fmt: skip
    return [part, *holes], plan


def _line_of_the_body(
    job: Job, axis: Axis, existing: list[PlaceOfHole], place: PlaceOnFace, major_mm: float
) -> tuple[float, list[PlaceOfHole], float]:
    """How high the body's line lies above the face's middle, the holes there are with those sunk that it covers, and
    how thick the plate is (mm): what clears the castings the body rides with.

    Of the lines that can be the first that leaves most travel, with a plate of usual thickness rather than a thicker
    one, and with the body below the top of its casting rather than above it.
    """
    face = chosen_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    high = 0.0 if bulk is None else bulk.family.section_mm[0]
    lines = list(_lines(existing, place, major_mm, high))
    if face is None or bulk is None:
        return (*lines[0], PLATE_MM)
    lines += _lines(existing, place, major_mm, high, _beside_castings(job, axis, face, bulk, [up for up, _ in lines]))
    rooms = [_room_for(job, axis, face, replace(bulk, across_mm=up)) for up, _ in lines]
    best = min(range(len(lines)), key=lambda n: rooms[n])
    thick = max(PLATE_MM, float(rooms[best][-1]))
    return (*lines[best], thick if thick <= PROPOSED_OFF_MM else PLATE_MM)


def _beside_castings(job: Job, axis: Axis, face: Face, bulk: ScaleBulk, lines: Sequence[float]) -> list[float]:
    """The lines nearest to some on which a body right on its face clears the castings it rides with."""
    place, on = face_place(face, length_of(job, axis, face)), casting_at(job, axis, face, face.member)
    ways = [
        (up, None if on is None else clearing_across(place, replace(bulk, across_mm=up), castings_of(job, face), on))
        for up in lines
    ]
    return [up + way for up, way in ways if way]


def _lines(
    existing: list[PlaceOfHole],
    place: PlaceOnFace,
    major_mm: float,
    high_mm: float,
    only: Sequence[float] | None = None,
) -> Iterable[tuple[float, list[PlaceOfHole]]]:
    """The lines on which a body can lie over holes there are, nearest to the face's middle first; or those of some.

    Over heads that can be sunk into the plate, else clear of every head; its own threads are clear of the holes.
    """
    ends, span = (place.first_hole_mm, place.last_hole_mm), (place.start_mm, place.end_mm)
    near = [h for h in existing for x in ends if abs(h.x_mm - x) < (h.thread.major_mm + major_mm) * 1.5]
    over = max((h.y_mm + _PLATE_OVER_MM for h in near), default=0.0)
    under = min((h.y_mm - _PLATE_OVER_MM for h in near), default=0.0)
    reach = [(h, counterbore(h.thread)[0] / 2 + high_mm / 2 + _CLEAR_MM) for h in existing]
    above, below = max(h.y_mm + r for h, r in reach), min(h.y_mm - r for h, r in reach)
    for up in sorted({over, under} if only is None else set(only), key=abs):
        if any(abs(up - h.y_mm) < _PLATE_OVER_MM - 1e-9 for h in near):
            continue
        covered = [h for h in existing if lies_under((h.x_mm, h.y_mm), h.thread, span, (up, high_mm))]
        if all(sinks(h.thread, PLATE_MM) for h in covered):
            yield up, [replace(h, counterbored=h in covered) for h in existing]
    yield from ((up, existing) for up in sorted((above, below), key=abs) if only is None)


def _room_for(job: Job, axis: Axis, face: Face, bulk: ScaleBulk) -> tuple[bool, float, bool, bool, float]:
    """What a body on a plate costs there, the worst first: whether nothing is left, the travel lost of all axes,
    whether it wants a thicker plate than usual, whether it stands above its casting's top, how thick a plate clears.
    """
    place = face_place(face, length_of(job, axis, face))
    off = clearing_off(place, solid_parts(place, bulk), castings_of(job, face))
    thick = math.inf if off is None else max(PLATE_MM, float(math.ceil(off)))
    casting, up = casting_at(job, axis, face, face.member), across_of(face)
    above = casting is not None and solid_parts(place, bulk)[0].max_mm[up] > casting.max_mm[up]
    held = replace(bulk, stand_off_mm=min(thick, PROPOSED_OFF_MM), block_mm=0.0)
    others = all_planned_parts(job, without=axis.id)
    try:
        bare, kept = kept_with(job, others).kept, kept_with(job, [*others, *scale_parts(place, held, "the scale")]).kept
    except BadInputError:
        return False, 0.0, thick > PLATE_MM, above, thick
    lost = math.fsum((lost_against(bare or {}, kept) or {}).values())
    return kept is None, round(lost, 2), thick > PLATE_MM, above, thick


def t_nut_part(job: Job, axis: Axis, new_id: NewId) -> list[Entity]:
    """A T-nut bar for the first T-slot noted beside the axis's face; raises BadInputError without one."""
    found = slots_of(job, axis)
    if not found:
        raise BadInputError(
            "Note the T-slot on the Machine sheet first: mouth, head, its height, and the depth in all."
        )
    hole, slot = found[0]
    nut = t_nut(slot, "inch" if job.info.units == "in" else "metric")
    side = (nut.head_mm - nut.neck_mm) / 2
    long = 60.0
    part = MountPart(
        id=new_id(), axis_id=axis.id, name=f"T-nut bar, {hole.place or hole.member}", part_kind="t-nut",
        length=_at(long), width=_at(nut.head_mm), thickness=_at(nut.high_mm), material="steel",
    )  # fmt: skip
    neck = nut.high_mm - nut.head_high_mm
    cuts = [
        PartCut(id=new_id(), part_id=part.id, cut_kind="step", x=_at(0), y=_at(y), wide=_at(long), high=_at(side),
                deep=_at(neck))
        for y in (0.0, nut.head_mm - side)
    ]  # fmt: skip
    xs = (long / 4, 3 * long / 4)
    holes = [
        DrilledHole(id=new_id(), part_id=part.id, x=_at(x), y=_at(nut.head_mm / 2), thread=nut.thread.name) for x in xs
    ]
    return [part, *cuts, *holes]

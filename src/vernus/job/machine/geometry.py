"""From the entities of a job to boxes on members: the machine, the planned scales, and the envelope they make."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, finding
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member, Range, tilted_box
from vernus.core.plan.plan_parts import FacePlace, ScaleBulk, centred_start, scale_parts
from vernus.core.plan.scales import choose_size, family_by_id
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Axis, Face, Machine, PowerFeed, ScalePlan, SolidBox
from vernus.job.feed.place import feed_boxes
from vernus.job.fields import LengthEntry
from vernus.job.machine.travel import mm_of, plan_of, travel_result
from vernus.job.make.delivered import real_scale

UPRIGHT = "upright"
_WHERE_NOTHING_IS_CHOSEN = ("glass-slim", "glass-standard", "glass-long", "tape")


def faces_of(job: Job, axis: Axis) -> list[Face]:
    """The candidate faces of an axis."""
    return job.of_axis(Face, axis.id)


def chosen_face(job: Job, plan: ScalePlan | None) -> Face | None:
    """The face of a plan, if one is chosen."""
    found = job.get(plan.face_id) if plan is not None and plan.face_id else None
    return found if isinstance(found, Face) else None


def axis_travel(job: Job, axis: Axis) -> float | None:
    """The mechanical travel (mm): measured, or the template's until then."""
    best = travel_result(job, axis).best
    return best.travel_mm if best is not None else mm_of(axis.usual)


def axis_range(job: Job, axis: Axis) -> Range | None:
    """The positions the axis takes with what is given up taken off; 0 is where the boxes are drawn."""
    travel = axis_travel(job, axis)
    if travel is None or not travel > 0:
        return None
    low = {"mid": -travel / 2, "low": 0.0, "high": -travel}[axis.home]
    first, last = low + (mm_of(axis.give_up_low) or 0.0), low + travel - (mm_of(axis.give_up_high) or 0.0)
    return (first, last) if first < last else None


def low_end(job: Job, axis: Axis) -> float:
    """The position of the axis's low end mark."""
    travel = axis_travel(job, axis) or 0.0
    return {"mid": -travel / 2, "low": 0.0, "high": -travel}[axis.home]


def solid(box: SolidBox) -> Box:
    """An entity's box; raises BadInputError when a side lies beyond the opposite one."""
    return Box(
        box.name or "a box without a name",
        box.member,
        (box.left.mm, box.front.mm, box.bottom.mm),
        (box.right.mm, box.back.mm, box.top.mm),
    )


def face_place(face: Face) -> FacePlace:
    """An entity's face; raises BadInputError when its directions don't make one."""
    return FacePlace(
        face.member,
        face.reader_member,
        (face.x.mm, face.y.mm, face.z.mm),
        face.along,
        face.out,
        face.length.mm,
        face.bracket == "up",
    )


def bulk_of(job: Job, axis: Axis, face: Face, plan: ScalePlan | None) -> ScaleBulk | None:
    """What the planned scale takes of room on a face; where none is chosen yet, the smallest sealed one that serves."""
    travel = axis_travel(job, axis)
    families = families_of(job)
    margin = max(0.0, plan.margin.mm) if plan is not None else 10.0
    if travel is None or not travel > 0:
        return None
    real = real_scale(job, axis, plan) if plan is not None else None
    if face.separate == "yes":
        family, measuring = family_by_id(families, "beam"), None
    elif real is not None and real.measuring_mm is not None and real.measuring_mm > 0:
        family, measuring = real.family, real.measuring_mm
    else:
        wished = (plan.family,) if plan is not None and plan.family else _WHERE_NOTHING_IS_CHOSEN
        family, measuring = family_by_id(families, wished[0]), None
        for name in wished:
            candidate = family_by_id(families, name)
            if choose_size(candidate, travel, margin) is not None:
                family = candidate
                break
    if measuring is None:
        choice = choose_size(family, travel, margin)
        if choice is None:
            return None
        measuring = choice.measuring_mm
    overall = measuring + 2 * family.end_piece_mm
    shift = plan.shift.mm if plan is not None and plan.face_id == face.id else 0.0
    return ScaleBulk(
        family=family,
        overall_mm=overall,
        start_mm=centred_start(face.length.mm, overall) + shift,
        reader_at_mm=_reader_at(axis, face, overall, travel),
        cover=(plan.cover == "yes") if plan is not None else True,
        clearance_mm=max(0.0, plan.clearance.mm) if plan is not None else 1.0,
    )


def _reader_at(axis: Axis, face: Face, overall_mm: float, travel_mm: float) -> float:
    """The reader's middle from the body's left end at the position the boxes are drawn at."""
    middle = overall_mm / 2
    if axis.home == "mid" or not axis.direction:
        return middle
    # At an end of the travel the reader stands half the travel from the middle, on the side it came from.
    toward = 1.0 if (axis.direction == face.along) == (face.reader_member == axis.moving) else -1.0
    return middle - toward * travel_mm / 2 * (1 if axis.home == "low" else -1)


def planned_parts(job: Job, axis: Axis, face: Face, plan: ScalePlan | None) -> list[Box]:
    """The boxes that a scale on ``face`` brings with it; empty while nothing can be known of it."""
    bulk = bulk_of(job, axis, face, plan)
    return [] if bulk is None else scale_parts(face_place(face), bulk, f"{axis.name} scale")


def all_planned_parts(job: Job, without: str = "") -> list[Box]:
    """The parts of every axis whose face is chosen, one axis left away."""
    parts: list[Box] = []
    for axis in job.axes():
        plan = plan_of(job, axis)
        face = chosen_face(job, plan)
        if face is not None and axis.id != without:
            parts += planned_parts(job, axis, face, plan)
    return parts + feed_parts(job)


def feed_parts(job: Job) -> list[Box]:
    """The units of the power feeds, on the ends of the members they move."""
    boxes = machine_boxes(job) if job.all(PowerFeed) else []
    feeds = [(axis, feed) for axis in job.axes() for feed in job.of_axis(PowerFeed, axis.id)[-1:]]
    return [box for axis, feed in feeds for box in feed_boxes(axis, feed, boxes)]


def machine_boxes(job: Job) -> list[Box]:
    """The machine's solids, the head in every pose it is tilted to."""
    machine = job.machine
    boxes: list[Box] = []
    for entity in job.all(SolidBox):
        if entity.role == "keep":
            continue
        box = solid(entity)
        boxes += _posed(machine, box) if entity.role == "head" and machine.tilt_deg > 0 else [box]
    return boxes


def _posed(machine: Machine, box: Box) -> list[Box]:
    """Upright and tilted to either side about the middle of the box's height."""
    pivot = ((box.min_mm[0] + box.max_mm[0]) / 2, 0.0, (box.min_mm[2] + box.max_mm[2]) / 2)
    upright = replace(box, pose=UPRIGHT)
    turned = [
        replace(tilted_box(box, "y", sign * machine.tilt_deg, pivot, word), name=f"{box.name} {word}")
        for sign, word in ((1, "tilted left"), (-1, "tilted right"))
    ]
    return [upright, *turned]


def envelope_of(job: Job, parts: Iterable[Box] = ()) -> Envelope:
    """The machine with some parts on it; raises BadInputError naming what is wrong with it."""
    machine = job.machine
    if not machine.members:
        raise BadInputError("This job knows no members of its machine; start a job from a template or import one.")
    axes: list[EnvelopeAxis] = []
    for axis in job.axes():
        span = axis_range(job, axis)
        if axis.direction and span is not None:
            travel = span[1] - span[0]
            axes.append(
                EnvelopeAxis(
                    axis.name, axis.direction, span[0], span[1], min(span[1], max(span[0], 0.0)),
                    max(0.0, axis.weight), min(travel, max(0.0, mm_of(axis.least) or 0.0)),
                )
            )  # fmt: skip
    known = {a.id for a in axes}
    members = tuple(Member(m.id, m.on or None, m.axis if m.axis in known else None) for m in machine.members)
    minded = frozenset(frozenset(pair) for pair in machine.minded)
    return Envelope(members, tuple(axes), (*machine_boxes(job), *parts), minded=minded)


def keep_reachable(job: Job) -> list[SolidBox]:
    """The places that must stay reachable."""
    return [b for b in job.all(SolidBox) if b.role == "keep"]


def geometry_findings(job: Job) -> list[Finding]:
    """What is wrong with the machine's own boxes and faces."""
    found: list[Finding] = []
    members = {m.id for m in job.machine.members}
    for entity in job.all(SolidBox):
        try:
            solid(entity)
        except BadInputError as error:
            found.append(_wrong(str(error)))
        if entity.member not in members:
            found.append(_wrong(f"Box {entity.name} is on “{entity.member}”, which is not a member."))
    for face in job.all(Face):
        try:
            face_place(face)
        except BadInputError as error:
            found.append(_wrong(f"Face {face.name}: {error}"))
    return found


def _wrong(text: str) -> Finding:
    return finding("machine-wrong", "stop", "{text}", "Correct it on the Machine sheet.", text=text)


def entry(mm: float) -> LengthEntry:
    """A length nobody typed."""
    return LengthEntry(mm=mm)


def spans(boxes: Sequence[Box]) -> tuple[Range, Range, Range]:
    """The space that some boxes take."""
    if not boxes:
        return (-100.0, 100.0), (-100.0, 100.0), (-100.0, 100.0)
    x, y, z = ((min(b.min_mm[c] for b in boxes), max(b.max_mm[c] for b in boxes)) for c in range(3))
    return x, y, z

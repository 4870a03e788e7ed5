"""From the entities of a job to the machine: its boxes on members, its axes, and the envelope with parts on it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member, Range, tilted_box
from vernus.core.machine.travel_kept import blocked_along
from vernus.core.plan.plan_parts import FacePlace
from vernus.job.catalog.told import SIDES, told
from vernus.job.document import Job
from vernus.job.entities import Axis, Face, Machine, SolidBox
from vernus.job.fields import mm_of
from vernus.job.known import TOLD_BY, figures, travel
from vernus.job.scope import in_scope, motion_name

UPRIGHT = "upright"
_HAIR_MM = 1e-6


def faces_of(job: Job, axis: Axis) -> list[Face]:
    """The candidate faces of an axis, as they follow from the measures."""
    now = figures(job)
    return [told(face, now) for face in job.of_axis(Face, axis.id)]


def boxes_of(job: Job) -> list[SolidBox]:
    """The boxes of the machine, as they follow from the measures."""
    return list(job.derived("told boxes", lambda: [told(b, figures(job)) for b in job.all(SolidBox)], TOLD_BY))


def machine_told(job: Job) -> Machine:
    """The machine with its tool where the measures put it."""
    return told(job.machine, figures(job))


def axis_travel(job: Job, axis: Axis) -> float | None:
    """The travel from mark to mark (mm): measured, or the template's until then."""
    found = travel(job, axis)
    return None if found is None else found.value


def axis_range(job: Job, axis: Axis) -> Range | None:
    """The positions between the marks; 0 is where the boxes are drawn. What is given up plays no part in it."""
    far = axis_travel(job, axis)
    if far is None or not far > 0:
        return None
    low = low_end(job, axis)
    return low, low + far


def low_end(job: Job, axis: Axis) -> float:
    """The position of the axis's low end mark."""
    far = axis_travel(job, axis) or 0.0
    return {"mid": -far / 2, "low": 0.0, "high": -far}[axis.home]


def solid(box: SolidBox) -> Box:
    """An entity's box; raises BadInputError when a side lies beyond the opposite one."""
    for low, high, words in (
        (box.left, box.right, "left side lies right of its right side"),
        (box.front, box.back, "front lies behind its back"),
        (box.bottom, box.top, "bottom lies above its top"),
    ):
        if low.mm > high.mm:
            raise BadInputError(f"Box {box.name or 'without a name'}: its {words}; are the two swapped?")
    return Box(
        box.name or "a box without a name",
        box.member,
        (box.left.mm, box.front.mm, box.bottom.mm),
        (box.right.mm, box.back.mm, box.top.mm),
    )


def face_place(face: Face, length_mm: float | None = None) -> FacePlace:
    """An entity's face, with another length where one is known; raises BadInputError when it can't be one."""
    return FacePlace(
        face.member,
        face.reader_member,
        (face.x.mm, face.y.mm, face.z.mm),
        face.along,
        face.out,
        face.length.mm if length_mm is None else length_mm,
        face.bracket == "up",
    )


def machine_boxes(job: Job) -> list[Box]:
    """The machine's solids, the head in every pose it is tilted to; raises BadInputError."""
    return list(job.derived("boxes", lambda: _machine_boxes(job), TOLD_BY))


def _machine_boxes(job: Job) -> list[Box]:
    machine = job.machine
    boxes: list[Box] = []
    for entity in boxes_of(job):
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


def axis_keys(job: Job) -> dict[str, str]:
    """What each axis is called in the envelope, by its name: itself in scope, its member otherwise."""
    taken = {a.name for a in job.axes() if in_scope(a)}
    return {a.name: motion_name(a) if in_scope(a) or motion_name(a) not in taken else a.name for a in job.axes()}


def axis_key(job: Job, axis: Axis) -> str:
    """What an axis is called in the envelope."""
    return axis_keys(job)[axis.name]


def envelope_of(job: Job, parts: Iterable[Box] = (), *, exempting: bool = True) -> Envelope:
    """The machine from mark to mark with some parts on it; raises BadInputError naming what is wrong with it."""
    machine = job.machine
    if not machine.members:
        raise BadInputError("This job knows no members of its machine; start a job from a template or import one.")
    keys = axis_keys(job)
    axes: list[EnvelopeAxis] = []
    for axis in job.axes():
        span = axis_range(job, axis)
        if axis.direction and span is not None:
            axes.append(
                EnvelopeAxis(
                    keys[axis.name], axis.direction, span[0], span[1], min(span[1], max(span[0], 0.0)),
                    max(0.0, axis.weight), min(span[1] - span[0], max(0.0, mm_of(axis.least) or 0.0)),
                )
            )  # fmt: skip
    known = {a.id for a in axes}
    moved = {m.id: keys.get(m.axis, m.axis) for m in machine.members}
    members = tuple(Member(m.id, m.on or None, moved[m.id] if moved[m.id] in known else None) for m in machine.members)
    minded = frozenset(frozenset(pair) for pair in machine.minded)
    exempt = frozenset(frozenset((c.moved, c.other)) for c in contradictions(job)) if exempting else frozenset()
    return Envelope(members, tuple(axes), (*machine_boxes(job), *parts), minded=minded, exempt=exempt)


@dataclass(frozen=True)
class Contradiction:
    """Two of the machine's own parts that would meet where an axis was driven: their figures are wrong, not the axis.

    ``short_mm`` is how much farther apart they must be at least, ``end`` the end of the travel where they would meet.
    """

    axis: str
    end: Literal["low", "high"]
    moved: str
    other: str
    short_mm: float


def contradictions(job: Job) -> list[Contradiction]:
    """Where the template's metal would meet inside a travel that somebody measured by driving it."""
    return list(job.derived("contradictions", lambda: _contradictions(job), TOLD_BY))


def _contradictions(job: Job) -> list[Contradiction]:
    nobodys = {b.name for b in job.all(SolidBox) if _nobodys(b)}
    found: list[Contradiction] = []
    try:
        envelope = envelope_of(job, exempting=False)
    except BadInputError:
        return []
    home = {a.id: (a.home_mm, a.home_mm) for a in envelope.axes}
    for axis in job.axes():
        known, key = travel(job, axis), axis_key(job, axis)
        solid_axis = next((a for a in envelope.axes if a.id == key), None)
        if known is None or known.source != "measured" or solid_axis is None:
            continue
        for pair, (start, end) in blocked_along(envelope, home, key):
            inside = max(start, solid_axis.from_mm) < min(end, solid_axis.to_mm) - _HAIR_MM
            if not inside or not {pair.a.name, pair.b.name} <= nobodys:
                continue
            at_high = start >= solid_axis.home_mm
            short = solid_axis.to_mm - start if at_high else end - solid_axis.from_mm
            found.append(Contradiction(key, "high" if at_high else "low", pair.a.name, pair.b.name, short))
    return found


def _nobodys(box: SolidBox) -> bool:
    """Whether a box is the template's: it came with it, or nobody typed a side; what a user put there may well meet."""
    typed = [bool(getattr(box, side).text) for side in SIDES]
    return bool(box.built) and not all(typed) if box.key else not any(typed)


def contradiction_finding(found: Contradiction) -> Finding:
    """A contradiction between measures as a finding."""
    return finding(
        "measures-contradict",
        "caution",
        "{axis} was driven to its mark, yet by these sizes the {moved} and the {other} would meet {short} before it: "
        "one of the sizes is wrong, so the two are not compared.",
        "Run the axis to that mark and measure the gap between the {moved} and the {other} there.",
        axis=found.axis,
        moved=found.moved,
        other=found.other,
        short=Mm(found.short_mm),
    )


def keep_reachable(job: Job) -> list[SolidBox]:
    """The places that must stay reachable."""
    return [b for b in boxes_of(job) if b.role == "keep"]


def geometry_findings(job: Job) -> list[Finding]:
    """What is wrong with the machine's own boxes, and with the faces of the axes that get a scale."""
    return list(job.derived("geometry", lambda: _geometry_findings(job), TOLD_BY))


def _geometry_findings(job: Job) -> list[Finding]:
    found: list[Finding] = []
    members = {m.id for m in job.machine.members}
    trouble = figures(job).trouble
    if trouble:
        found.append(_wrong(trouble))
    for entity in boxes_of(job):
        try:
            solid(entity)
        except BadInputError as error:
            found.append(_wrong(str(error)))
        if entity.member not in members:
            found.append(_wrong(f"Box {entity.name} is on “{entity.member}”, which is not a member."))
    scoped = {a.id for a in job.axes() if in_scope(a)}
    for face in (told(f, figures(job)) for f in job.all(Face)):
        if face.axis_id not in scoped:
            continue
        try:
            face_place(face)
        except BadInputError as error:
            found.append(_wrong(f"Face {face.name}: {error}"))
    return found


def _wrong(text: str) -> Finding:
    return finding("machine-wrong", "stop", "{text}", "Correct it on the Machine sheet.", text=text)


def spans(boxes: Sequence[Box]) -> tuple[Range, Range, Range]:
    """The space that some boxes take."""
    if not boxes:
        return (-100.0, 100.0), (-100.0, 100.0), (-100.0, 100.0)
    x, y, z = ((min(b.min_mm[c] for b in boxes), max(b.max_mm[c] for b in boxes)) for c in range(3))
    return x, y, z

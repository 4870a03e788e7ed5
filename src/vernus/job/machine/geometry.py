"""From the entities of a job to the machine: its boxes on members, its axes, and the envelope with parts on it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations, product
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.machine.envelope import (
    COORDINATES,
    UPRIGHT,
    Box,
    Envelope,
    EnvelopeAxis,
    Member,
    Range,
    tilted_box,
)
from vernus.core.machine.measures import rests_on
from vernus.core.machine.travel_kept import blocked_along
from vernus.core.plan.plan_parts import FacePlace
from vernus.job.catalog.evaluated import evaluated
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.catalog.templates import BoxTemplate
from vernus.job.document import Job
from vernus.job.entities import Axis, Face, Machine, Measure, MemberPart, PowerFeed, SolidBox
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import TOLD_BY, feed_of, figures, travel
from vernus.job.scope import in_scope, motion_name
from vernus.job.sums import SIDES, figure_name, sums_of

OWN_BOX = "own_"
"""How the key of a box begins that a user put there."""
_HAIR_MM = 1e-6


def faces_of(job: Job, axis: Axis) -> list[Face]:
    """The candidate faces of an axis, as they follow from the measures."""
    now = figures(job)
    return [evaluated(face, now) for face in job.of_axis(Face, axis.id)]


def boxes_of(job: Job) -> list[SolidBox]:
    """The boxes of the machine, as they follow from the measures."""
    return list(job.derived("told boxes", lambda: [evaluated(b, figures(job)) for b in job.all(SolidBox)], TOLD_BY))


def machine_told(job: Job) -> Machine:
    """The machine with its tool where the measures put it."""
    return evaluated(job.machine, figures(job))


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
    """The machine's solids that are fitted, the head in every pose it is tilted to; raises BadInputError."""
    return list(job.derived("boxes", lambda: posed(job, _upright_boxes(job)), (*TOLD_BY, PowerFeed)))


def _upright_boxes(job: Job) -> list[Box]:
    arrived, off = came_with_the_machine(job), _off_for_a_feed(job)
    wheels = {b.name for b in _shipped(job) if b.shape.startswith("disc")}  # old jobs tell no shapes
    return [
        replace(
            solid(entity),
            own=entity.id in arrived,
            turns=entity.shape.startswith("disc") or (not entity.key and entity.name in wheels),
        )
        for entity in boxes_of(job)
        if entity.role != "keep" and entity.fitted == "yes" and entity.id not in off
    ]


def wheel_at(job: Job, axis: Axis, end: str) -> SolidBox | None:
    """The handwheel on an end of the member an axis moves, by where it is drawn; None where that end has none."""
    if not axis.direction:
        return None
    key = ("wheel", axis.direction, axis.moving, end)
    return job.derived(key, lambda: _wheel_at(job, axis, end))


def _wheel_at(job: Job, axis: Axis, end: str) -> SolidBox | None:
    along = COORDINATES.index(axis.direction[1])
    mine = [b for b in boxes_of(job) if b.member == axis.moving and b.role != "keep"]
    wheels = [b for b in mine if b.shape == f"disc-{axis.direction[1]}"]
    metal = [b for b in mine if b.shape != f"disc-{axis.direction[1]}"]
    if not wheels or not metal:
        return None

    def ends(box: SolidBox) -> Range:
        return solid(box).min_mm[along], solid(box).max_mm[along]

    carrier = max((ends(b) for b in metal), key=lambda span: span[1] - span[0])
    return next((w for w in wheels if (sum(ends(w)) > sum(carrier)) == (end == "high")), None)


def wheel_goes(job: Job, axis: Axis, feed: PowerFeed) -> bool:
    """Whether the handwheel at a feed comes off: said once, on its sheet or on the Machine sheet."""
    wheel = wheel_at(job, axis, feed.end)
    return feed.wheel == "no" or (wheel is not None and wheel.fitted == "off")


def is_off(job: Job, box: SolidBox) -> bool:
    """Whether a box is taken off, for a power feed too."""
    return box.fitted == "off" or box.id in _off_for_a_feed(job)


def _off_for_a_feed(job: Job) -> set[str]:
    """The ids of the handwheels that come off for a power feed."""
    return job.derived("off for a feed", lambda: _taken_off(job), (*TOLD_BY, PowerFeed))


def _taken_off(job: Job) -> set[str]:
    found = set()
    for axis in job.axes():
        feed = feed_of(job, axis)
        wheel = None if feed is None or feed.wheel == "yes" else wheel_at(job, axis, feed.end)
        found |= set() if wheel is None else {wheel.id}
    return found


def came_with_the_machine(job: Job) -> set[str]:
    """The ids of the boxes that are the machine's own metal; what a user put there is not."""
    names = {b.name for b in _shipped(job)}
    mine = job.all(SolidBox)
    return {b.id for b in mine if (b.key and not b.key.startswith(OWN_BOX)) or (not b.key and b.name in names)}


def _shipped(job: Job) -> tuple[BoxTemplate, ...]:
    """The boxes of the kind of machine as it is shipped; none for a kind of the user's own."""
    found = next((k for k in machine_kinds() if k.id == job.machine.machine_kind), None)
    return () if found is None else found.boxes


def posed(job: Job, boxes: Iterable[Box]) -> list[Box]:
    """Boxes with those on the tilting head there upright and tilted to either side, about the middle of the head.

    What slides in the head is bounded over its whole travel when tilted: generous, never too small.
    """
    machine, head = job.machine, tilting_head(job)
    if head is None:
        return list(boxes)
    pivot = head_pivot(head)
    found: list[Box] = []
    for box in boxes:
        if not _stands_on(machine, box.member, head.member):
            found.append(box)
            continue
        found.append(replace(box, pose=UPRIGHT))
        swept = _swept(job, box, head.member)
        for sign, word in ((1, "tilted left"), (-1, "tilted right")):
            turned = tilted_box(swept, "y", sign * machine.tilt_deg, pivot, word)
            found.append(replace(turned, name=f"{box.name} {word}", group=box.group, own=box.own))
    return found


def tilting_head(job: Job) -> SolidBox | None:
    """The head that is said to tilt; None where none does."""
    head = next((b for b in boxes_of(job) if b.role == "head" and b.fitted == "yes"), None)
    return head if job.machine.tilt_deg > 0 else None


def head_pivot(head: SolidBox) -> tuple[float, float, float]:
    """The middle of the head (mm), about which it tilts."""
    middle = solid(head)
    return (middle.min_mm[0] + middle.max_mm[0]) / 2, 0.0, (middle.min_mm[2] + middle.max_mm[2]) / 2


def rides_on(job: Job, member: str, below: str) -> bool:
    """Whether a member is the one below or rides on it."""
    return _stands_on(job.machine, member, below)


def _stands_on(machine: Machine, member: str, below: str) -> bool:
    """Whether a member is the one below or rides on it."""
    on = {m.id: m.on for m in machine.members}
    at, left = member, len(on)
    while at and at != below and left:
        at, left = on.get(at, ""), left - 1
    return at == below


def _swept(job: Job, box: Box, onto: str) -> Box:
    """The room a box takes over the travel of every axis between it and the member it is to sit on."""
    low, high = list(box.min_mm), list(box.max_mm)
    carried = {m.id: m for m in job.machine.members}
    at = box.member
    while at != onto:
        axis = next((a for a in job.axes() if a.name == carried[at].axis), None)
        span = None if axis is None or not axis.direction else axis_range(job, axis)
        if axis is not None and span is not None and axis.direction:
            c, sign = COORDINATES.index(axis.direction[1]), 1 if axis.direction[0] == "+" else -1
            ends = [sign * v for v in span]
            low[c], high[c] = low[c] + min(ends), high[c] + max(ends)
        at = carried[at].on
    return replace(box, member=onto, min_mm=(low[0], low[1], low[2]), max_mm=(high[0], high[1], high[2]))


def axis_keys(job: Job) -> dict[str, str]:
    """What each axis is called in the envelope, by its name: itself in scope, its member otherwise."""
    taken = {a.name for a in job.axes() if in_scope(a)}
    return {a.name: motion_name(a) if in_scope(a) or motion_name(a) not in taken else a.name for a in job.axes()}


def axis_key(job: Job, axis: Axis) -> str:
    """What an axis is called in the envelope."""
    return axis_keys(job)[axis.name]


def envelope_of(job: Job, parts: Iterable[Box] = (), *, exempting: bool = True, sliding: bool = True) -> Envelope:
    """The machine from mark to mark with some parts on it; raises BadInputError naming what is wrong with it.

    Without ``sliding`` what is pushed along by hand stays where it is drawn.
    """
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
    axes += _slid_by_hand(job) if sliding else []
    known = {a.id for a in axes}
    moved = {m.id: keys.get(m.axis, m.axis) or m.id for m in machine.members}
    members = tuple(Member(m.id, m.on or None, moved[m.id] if moved[m.id] in known else None) for m in machine.members)
    boxes = (*machine_boxes(job), *posed(job, parts))
    work = [p for p in machine.minded if not _slide_on_each_other(machine, p)]
    exempt = job.derived("exempt", lambda: _exempt(job), (*TOLD_BY, PowerFeed)) if exempting else {}
    return Envelope(members, tuple(axes), boxes, minded=frozenset(frozenset(p) for p in work), exempt=exempt)


def slides(job: Job, member: MemberPart) -> str:
    """The way a member is pushed along by hand, "" if it isn't; old jobs take it from their kind of machine."""
    way = dict(job.machine.slid).get(member.id, "")
    if way or member.axis:
        return "" if member.axis else way
    shipped = next((k for k in machine_kinds() if k.id == job.machine.machine_kind), None)
    return next((m.slides for m in shipped.members if m.id == member.id and not m.axis), "") if shipped else ""


def _slid_by_hand(job: Job) -> list[EnvelopeAxis]:
    """The members that are pushed along by hand, from where they are drawn back over the longest travel that way."""
    found: list[EnvelopeAxis] = []
    for member in job.machine.members:
        way = slides(job, member)
        if not way or not member.on:
            continue
        spans = [span for a in job.axes() if a.direction[1:] == way[1] and (span := axis_range(job, a)) is not None]
        reach = max((high - low for low, high in spans), default=500.0)
        found.append(EnvelopeAxis(member.id, way, -reach, 0.0, 0.0, 0.0, by_hand=True))
    return found


def _slide_on_each_other(machine: Machine, pair: tuple[str, str]) -> bool:
    return _stands_on(machine, *pair) or _stands_on(machine, pair[1], pair[0])


def _exempt(job: Job) -> dict[frozenset[str], str]:
    """Pairs of the machine's own metal that are not compared, and why."""
    machine = job.machine
    told = {
        frozenset((c.moved, c.other)): "their sizes contradict a travel that was driven" for c in contradictions(job)
    }
    minded = {frozenset(p) for p in machine.minded if _slide_on_each_other(machine, p)}
    on: dict[str, list[Box]] = {}
    for box in machine_boxes(job):
        if box.own:
            on.setdefault(box.member, []).append(box)
    for one, other in combinations(on, 2):
        if frozenset((one, other)) in minded:
            for a, b in product(on[one], on[other]):
                told.setdefault(frozenset((a.name, b.name)), "one slides on the other")
        elif _slide_on_each_other(machine, (one, other)):
            for a, b in product(on[one], on[other]):
                if {a.pose, b.pose} - {"", UPRIGHT}:
                    told.setdefault(
                        frozenset((a.name, b.name)), "the head turns on it, and its tilted room is generous"
                    )
    for there in on.values():
        tilted = [b for b in there if b.pose not in ("", UPRIGHT)]
        for a, b in product(tilted, there):
            if a is not b:
                told.setdefault(frozenset((a.name, b.name)), "the head turns on it, and its tilted room is generous")
    return told


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
            found.append(_no_room(job, entity) or _wrong(str(error)))
        if entity.member not in members:
            found.append(_wrong(f"Box {entity.name} is on “{entity.member}”, which is not a member."))
    scoped = {a.id for a in job.axes() if in_scope(a)}
    for face in (evaluated(f, figures(job)) for f in job.all(Face)):
        if face.axis_id not in scoped:
            continue
        try:
            face_place(face)
        except BadInputError as error:
            found.append(_wrong(f"Face {face.name}: {error}"))
    return found


def _no_room(job: Job, box: SolidBox) -> Finding | None:
    """A box that is nobody's mistake: what was measured leaves it no room, and a size of it is only the template's."""
    if box.side or any(getattr(box, side).text for side in SIDES):
        return None
    sums = sums_of(job.entities())
    pairs = ((s, t) for s, t in zip(SIDES[::2], SIDES[1::2], strict=True) if getattr(box, s).mm >= getattr(box, t).mm)
    under = {key for pair in pairs for side in pair for key in rests_on(sums, figure_name(box, side))}
    labels = [m.label for m in job.all(Measure) if m.key in under and not m.value.text]
    labels += travels_under(job, under)
    if not labels:
        return None
    return finding(
        "machine-wrong",
        "stop",
        "By what was measured and what is usual on such machines the {box} has no room left.",
        "Measure first: {labels}.",
        box=box.name,
        labels=", ".join(labels),
    )


def travels_under(job: Job, figures_: Iterable[str]) -> list[str]:
    """The travels nobody measured among figures, by what moves."""
    under, found = set(figures_), list[str]()
    for axis in job.axes():
        known = travel(job, axis)
        if f"{axis.name}.travel" in under and (known is None or not known.is_given):
            found.append(f"travel of {motion_name(axis)}")
    return found


def _wrong(text: str) -> Finding:
    return finding("machine-wrong", "stop", "{text}", "Correct it on the Machine sheet.", text=text)


def spans(boxes: Sequence[Box]) -> tuple[Range, Range, Range]:
    """The space that some boxes take."""
    if not boxes:
        return (-100.0, 100.0), (-100.0, 100.0), (-100.0, 100.0)
    x, y, z = ((min(b.min_mm[c] for b in boxes), max(b.max_mm[c] for b in boxes)) for c in range(3))
    return x, y, z

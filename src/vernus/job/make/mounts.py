"""The parts to make: their stacks solved from measured heights, their hole tables, and the face of the machine."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, in_order, plain
from vernus.core.make.hardware import DrillSet, Thread
from vernus.core.make.parts import HoleRow, Part, PartHole, hole_table, lay_out, review_school, usual_holes
from vernus.core.make.shims import ShimStock, pick_shims
from vernus.core.make.stacks import Stack, StackItem, solve_spacer, take_out_draft
from vernus.core.make.threads import identify_thread
from vernus.job.document import Job
from vernus.job.entities import Axis, DrilledHole, Entity, Hole, MountPart, ShimKind, StackHeight
from vernus.job.fields import LengthEntry
from vernus.job.known import chosen_face, length_of
from vernus.job.machine.planned import bulk_of
from vernus.job.plan.places import PlaceOnFace, place_on_face
from vernus.job.refusals import limit_findings, refusal

_SETS: dict[str, tuple[DrillSet, ...]] = {
    "metric": ("metric",),
    "inch": ("number", "letter", "fraction"),
    "all": ("metric", "number", "letter", "fraction"),
}


@dataclass(frozen=True)
class MountResult:
    """A part (None while it can't be made), its hole rows, its stack, findings, tools, and what to do."""

    part: Part | None
    rows: tuple[HoleRow, ...]
    stack: Stack | None
    findings: tuple[Finding, ...]
    tools: tuple[str, ...]
    instruction: Sentence


def parts_of(job: Job, axis: Axis) -> list[MountPart]:
    """The parts of an axis."""
    return job.of_axis(MountPart, axis.id)


def holes_of(job: Job, part: MountPart) -> list[DrilledHole]:
    """The holes of a part; those that follow the scale where it lies now, until somebody types another place."""
    mine = [h for h in job.all(DrilledHole) if h.part_id == part.id]
    axis = job.get(part.axis_id)
    if not isinstance(axis, Axis) or not any(h.follows and not h.x.text for h in mine):
        return mine
    place = place_on_face(job, axis)
    return mine if place is None else [_followed(h, place) for h in mine]


def _followed(hole: DrilledHole, place: PlaceOnFace) -> DrilledHole:
    if not hole.follows or hole.x.text:
        return hole
    x = place.first_hole_mm if hole.follows == "first" else place.last_hole_mm
    return hole.model_copy(update={"x": LengthEntry(mm=x)})


def heights_of(job: Job, part: MountPart) -> list[StackHeight]:
    """The measured heights of a part's stack."""
    return [h for h in job.all(StackHeight) if h.part_id == part.id]


def mount_result(job: Job, entity: MountPart) -> MountResult:
    """What a part comes to."""
    holes = holes_of(job, entity)
    limits = [f for e in (entity, *holes, *heights_of(job, entity)) for f in limit_findings(e)]
    if limits:
        return MountResult(None, (), None, tuple(limits), (), limits[0].remedy)
    try:
        part = Part(
            entity.name or "part", entity.part_kind, entity.length.mm, entity.width.mm, entity.thickness.mm,
            entity.material, tuple(_hole(h) for h in holes),
        )  # fmt: skip
        rows = tuple(hole_table(part, _SETS.get(job.info.drills_owned)))
        stack = _stack(job, entity)
    except BadInputError as error:
        return MountResult(None, (), None, (refusal(error),), (), plain(str(error)))
    findings = tuple(f for row in rows for f in row.findings)
    findings += tuple(review_school(job.info.hole_school, part, rows, _holes_there(job)))
    return MountResult(part, rows, stack, findings, tuple(lay_out(rows)), _instruct(job, entity, stack, rows, findings))


def _hole(h: DrilledHole) -> PartHole:
    bore = 0.0 if h.bore is None else h.bore.mm
    depth = None if h.depth is None else h.depth.mm
    return PartHole(h.x.mm, h.y.mm, h.hole_kind, h.thread, h.adjust.mm, bore, depth)


def _holes_there(job: Job) -> list[tuple[str, Thread]]:
    """The holes of the survey whose thread is known: where, and the thread."""
    found: list[tuple[str, Thread]] = []
    for hole in job.all(Hole):
        if hole.diameter is not None and hole.pitch is not None and hole.diameter.mm > 0 and hole.pitch.mm > 0:
            threads = identify_thread(hole.diameter.mm, hole.pitch.mm, hole.measured_on)
            found += [(f"{hole.member}, {hole.place}", t) for t in threads[:1]]
    return found


def shim_stock(job: Job) -> tuple[ShimStock, ...]:
    """The shims in the drawer, those whose figures make sense."""
    return tuple(
        ShimStock(s.thickness.mm, round(s.count)) for s in job.all(ShimKind) if s.thickness.mm > 0 and s.count >= 0
    )


def draft_words(entity: MountPart) -> Sentence | None:
    """How to take out the draft of the face a part sits on; None while it isn't noted."""
    if entity.draft_rise is None or entity.draft_over is None or entity.draft_over.mm <= 0:
        return None
    bolts = max(entity.width.mm / 2, 1.0)
    draft = take_out_draft(entity.draft_rise.mm, entity.draft_over.mm, max(entity.width.mm, 1.0), bolts)
    row = "lower" if draft.wedge_mm > 0 else "upper"
    return Sentence(
        "The face leans {angle:.2f}°: mill or bend the part by that, or make it a wedge {wedge} thicker at its {row} "
        "edge, or shim the {row} row of bolts by {shim} (rows {bolts} apart), or set jack screws by as much.",
        {
            "angle": abs(draft.angle_deg), "wedge": Fine(abs(draft.wedge_mm)), "shim": Fine(abs(draft.shim_mm)),
            "row": row, "bolts": Mm(bolts),
        },
    )  # fmt: skip


def other_hand(job: Job, entity: MountPart, new_id: Callable[[], str]) -> list[Entity]:
    """The mirror image of a part, as a part of its own."""
    made = entity.with_(id=new_id(), created="", changed="", name=f"{entity.name}, other hand")
    holes = [
        h.with_(id=new_id(), created="", changed="", part_id=made.id, x=LengthEntry(mm=entity.length.mm - h.x.mm))
        for h in holes_of(job, entity)
    ]
    return [made, *holes]


def _stack(job: Job, entity: MountPart) -> Stack | None:
    heights = heights_of(job, entity)
    if entity.wanted is None or not heights:
        return None
    items = [StackItem(h.name, h.height.mm, h.tolerance.mm) for h in heights]
    return solve_spacer(items, entity.wanted.mm)


def _instruct(
    job: Job, entity: MountPart, stack: Stack | None, rows: tuple[HoleRow, ...], findings: tuple[Finding, ...]
) -> Sentence:
    return in_order(_next_cut(job, entity, stack, rows), findings)


def _next_cut(job: Job, entity: MountPart, stack: Stack | None, rows: tuple[HoleRow, ...]) -> Sentence:
    if stack is not None and abs(stack.total_mm - entity.thickness.mm) > 0.005:
        short = stack.total_mm - entity.thickness.mm
        values = {"made": Mm(stack.total_mm), "rss": Fine(stack.rss_mm), "worst": Fine(stack.worst_mm)}
        stock = shim_stock(job)
        if 0 < short <= 3 and stock:
            pick = pick_shims(stock, short)
            if pick.pieces:
                words = " and ".join(f"{n} of {{t{i}}}" for i, (_, n) in enumerate(pick.pieces))
                shims = {f"t{i}": Fine(t) for i, (t, _) in enumerate(pick.pieces)}
                return Sentence("Shim it by {short}: " + words + ".", {"short": Fine(short), **shims})
        text = "Make it {made} thick (± {rss} likely, ± {worst} at worst), or note the thickness it has."
        return Sentence(text, values)
    if not rows:
        return Sentence(
            "Give it holes: Usual holes sets those a part of this kind has, then correct them by measuring."
        )
    return Sentence(
        "Dry fit it first, held by clamps or magnets, and run every axis through its stroke; then spot, drill and tap "
        "square. Slots where the final place is unknown."
    )


def with_usual_holes(entity: MountPart, thread: str, new_id: Callable[[], str]) -> list[Entity]:
    """The holes a part of its kind usually has, as entities."""
    return [
        DrilledHole(
            id=new_id(), part_id=entity.id, x=LengthEntry(mm=h.x_mm), y=LengthEntry(mm=h.y_mm), hole_kind=h.kind,
            thread=thread, adjust=LengthEntry(mm=h.adjust_mm),
        )
        for h in usual_holes(entity.part_kind, entity.length.mm, entity.width.mm, thread)
    ]  # fmt: skip


def face_part(job: Job, axis: Axis, new_id: Callable[[], str]) -> list[Entity]:
    """The chosen face with the end holes of the scale, to be drilled; raises BadInputError while none is chosen."""
    face, place = chosen_face(job, axis), place_on_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if face is None or place is None or bulk is None:
        raise BadInputError("Choose the scale and its face first; the places of its end holes follow from them.")
    high = bulk.family.section_mm[0]
    part = MountPart(
        id=new_id(), axis_id=axis.id, name=face.name, part_kind="face",
        length=LengthEntry(mm=length_of(job, axis, face)),
        width=LengthEntry(mm=high), thickness=LengthEntry(mm=25), material="cast-iron",
    )  # fmt: skip
    ends: tuple[tuple[Literal["first", "last"], float], ...] = (
        ("first", place.first_hole_mm),
        ("last", place.last_hole_mm),
    )
    holes = [
        DrilledHole(
            id=new_id(), part_id=part.id, x=LengthEntry(mm=x), y=LengthEntry(mm=high / 2), thread="M5", follows=which
        )
        for which, x in ends
    ]  # fmt: skip
    return [part, *holes]

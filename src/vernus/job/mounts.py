"""The parts to make: their stacks solved from measured heights, their hole tables, and the face of the machine."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, plain
from vernus.core.mounts import Stack, StackItem, solve_spacer
from vernus.core.parts import HoleRow, Part, PartHole, hole_table, lay_out, usual_holes
from vernus.core.shims import pick_shims
from vernus.job.align import shim_stock
from vernus.job.document import Job
from vernus.job.entities import Axis, DrilledHole, Entity, MountPart, StackHeight
from vernus.job.fields import LengthEntry
from vernus.job.geometry import bulk_of, chosen_face
from vernus.job.plan import place_on_face
from vernus.job.results import limit_findings, plan_of, refusal


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
    """The holes of a part."""
    return [h for h in job.all(DrilledHole) if h.part_id == part.id]


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
            entity.material, tuple(PartHole(h.x.mm, h.y.mm, h.hole_kind, h.thread, h.adjust.mm) for h in holes),
        )  # fmt: skip
        rows = tuple(hole_table(part))
        stack = _stack(job, entity)
    except BadInputError as error:
        return MountResult(None, (), None, (refusal(error),), (), plain(str(error)))
    findings = tuple(f for row in rows for f in row.findings)
    return MountResult(part, rows, stack, findings, tuple(lay_out(rows)), _instruct(job, entity, stack, rows, findings))


def _stack(job: Job, entity: MountPart) -> Stack | None:
    heights = heights_of(job, entity)
    if entity.wanted is None or not heights:
        return None
    items = [StackItem(h.name, h.height.mm, h.tolerance.mm) for h in heights]
    return solve_spacer(items, entity.wanted.mm)


def _instruct(
    job: Job, entity: MountPart, stack: Stack | None, rows: tuple[HoleRow, ...], findings: tuple[Finding, ...]
) -> Sentence:
    stop = next((f for f in findings if f.severity == "stop"), None)
    if stop is not None:
        return stop.remedy
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
    face, place = chosen_face(job, plan_of(job, axis)), place_on_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face, plan_of(job, axis))
    if face is None or place is None or bulk is None:
        raise BadInputError("Choose the scale and its face first; the places of its end holes follow from them.")
    high = bulk.family.section_mm[0]
    part = MountPart(
        id=new_id(), axis_id=axis.id, name=face.name, part_kind="face", length=LengthEntry(mm=face.length.mm),
        width=LengthEntry(mm=high), thickness=LengthEntry(mm=25), material="cast-iron",
    )  # fmt: skip
    last = place.end_mm - bulk.family.holes_from_end_mm
    holes = [
        DrilledHole(id=new_id(), part_id=part.id, x=LengthEntry(mm=x), y=LengthEntry(mm=high / 2), thread="M5")
        for x in (place.first_hole_mm, last)
    ]
    return [part, *holes]

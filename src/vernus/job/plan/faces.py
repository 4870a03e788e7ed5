"""The candidate faces of an axis side by side, what each costs, and what the chosen one does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding, plain
from vernus.core.machine.envelope import Box, Range, meetings
from vernus.core.machine.travel_kept import TravelKept
from vernus.core.plan.faces import FaceCosts, RankedFace, blocked_finding, rank_faces, what_would_change
from vernus.core.plan.plan_parts import abbe_error, abbe_offset
from vernus.job.document import Job
from vernus.job.entities import Axis, Face, ScalePlan
from vernus.job.fields import mm_of
from vernus.job.known import accuracy, chosen_face, length_of
from vernus.job.machine.geometry import (
    envelope_of,
    face_place,
    faces_of,
    geometry_findings,
    keep_reachable,
    machine_told,
    solid,
)
from vernus.job.machine.planned import all_planned_parts, bulk_of, planned_parts
from vernus.job.plan.travel_left import home_blocked, kept_with, lost_against

WEIGHTS = ("travel", "blocked", "exposure", "holes", "parts", "abbe")


@dataclass(frozen=True)
class JudgedFace:
    """A face, its place in the ranking, and the travel kept with a scale on it (None: it can't work)."""

    face: Face
    ranked: RankedFace
    kept: dict[str, Range] | None


@dataclass(frozen=True)
class FacesResult:
    """The faces of an axis, cheapest first, why, and what would change it."""

    judged: tuple[JudgedFace, ...]
    why: Sentence
    findings: tuple[Finding, ...]


def weights_of(job: Job) -> dict[str, float]:
    """How much each criterion counts."""
    return {k: max(0.0, getattr(job.info, f"w_{k}")) for k in WEIGHTS}


def faces_result(job: Job, axis: Axis) -> FacesResult:
    """Every candidate face of an axis judged beside the others."""
    return job.derived(("faces", axis.id), lambda: _faces_result(job, axis))


def _faces_result(job: Job, axis: Axis) -> FacesResult:
    problems = geometry_findings(job)
    faces = faces_of(job, axis)
    if problems or not faces:
        ask = "Correct the machine first." if problems else "No face of this axis is known; add one on this sheet."
        return FacesResult((), Sentence(ask), tuple(problems))
    others = all_planned_parts(job, without=axis.id)
    try:
        bare = kept_with(job, others)
        kept = [kept_with(job, [*others, *planned_parts(job, axis, face)]) for face in faces]
        costs = [_face_costs(job, axis, face, bare, result) for face, result in zip(faces, kept, strict=True)]
    except BadInputError as error:
        return FacesResult((), plain(str(error)), ())
    ranked = rank_faces(costs, weights_of(job))
    places = [next(n for n, c in enumerate(costs) if c is r.costs) for r in ranked]
    judged = tuple(JudgedFace(faces[n], r, kept[n].kept) for n, r in zip(places, ranked, strict=True))
    return FacesResult(judged, what_would_change(ranked, weights_of(job)), ())


def _tool(job: Job) -> tuple[float, float, float]:
    machine = machine_told(job)
    return mm_of(machine.tool_x) or 0.0, mm_of(machine.tool_y) or 0.0, mm_of(machine.tool_z) or 0.0


def _face_costs(job: Job, axis: Axis, face: Face, bare: TravelKept, result: TravelKept) -> FaceCosts:
    parts = planned_parts(job, axis, face)
    lost = lost_against(bare.kept or {}, result.kept)
    widths = {k: b - a for k, (a, b) in (bare.kept or {}).items()}
    share = sum(v / widths[k] for k, v in (lost or {}).items() if widths[k] > 0)
    bulk = bulk_of(job, axis, face)
    sealed = 0.0 if bulk is None else bulk.family.exposure
    return FaceCosts(
        name=face.name,
        travel_lost=share,
        lost_mm=lost or {},
        blocked=tuple(name for name, _, _ in _covered(job, parts, result)),
        exposure=min(3.0, float(face.exposure) * (0.5 + sealed / 2)),
        holes=face.holes,
        parts=face.parts + {"machined": 0, "painted": 0.5, "rough": 1.5}[face.flat],
        abbe_mm=0.0 if bulk is None else abbe_offset(face_place(face), bulk, _tool(job)),
        fits=bulk is None or bulk.overall_mm <= length_of(job, axis, face),
        possible=result.kept is not None,
        meets=home_blocked(result),
    )


def _covered(job: Job, parts: Sequence[Box], result: TravelKept) -> list[tuple[str, str, Sentence | None]]:
    """(feature, why it matters, when) for the places that the parts cover somewhere in the travel kept."""
    found: list[tuple[str, str, Sentence | None]] = []
    if result.kept is None:
        return found
    envelope = envelope_of(job, ())
    for feature in keep_reachable(job):
        box = solid(feature)
        still = [p for p in parts if p.member == box.member and _overlap(p, box)]
        if still:
            found.append((feature.name, feature.why, None))
            continue
        moving = replace(envelope, boxes=(box, *(p for p in parts if p.member != box.member)))
        met = [m for m in meetings(moving, result.kept) if m.a is box]
        if met:
            found.append((feature.name, feature.why, met[0].in_words()))
    return found


def _overlap(a: Box, b: Box) -> bool:
    return all(a.min_mm[c] < b.max_mm[c] and b.min_mm[c] < a.max_mm[c] for c in range(3))


def face_findings(job: Job, axis: Axis) -> list[Finding]:
    """What the chosen face of an axis costs: features covered, and the Abbe error it makes."""
    return list(job.derived(("face findings", axis.id), lambda: _face_findings(job, axis)))


def _face_findings(job: Job, axis: Axis) -> list[Finding]:
    face = chosen_face(job, axis)
    if face is None or geometry_findings(job):
        return []
    parts = planned_parts(job, axis, face)
    try:
        result = kept_with(job, [*all_planned_parts(job, without=axis.id), *parts])
        found = [_blocking(axis, parts, job, *covered) for covered in _covered(job, parts, result)]
    except BadInputError:
        return []
    bulk, wanted = bulk_of(job, axis, face), accuracy(axis)
    if bulk is None or not wanted.sure:
        return found
    offset = abbe_offset(face_place(face), bulk, _tool(job))
    if abbe_error(offset) > wanted.value:
        found.append(_abbe(wanted.value, offset))
    return found


def _blocking(axis: Axis, parts: Sequence[Box], job: Job, name: str, why: str, when: Sentence | None) -> Finding:
    box = next(solid(f) for f in keep_reachable(job) if f.name == name)
    part = next((p.name for p in parts if p.member == box.member and _overlap(p, box)), f"{axis.name} scale")
    return blocked_finding(f"The {part}", f"the {name}", why, when)


def _abbe(wanted_mm: float, offset_mm: float) -> Finding:
    return finding(
        "abbe",
        "caution",
        "The scale lies {offset} from the tool: where the ways tilt by 0.1 mm per metre it misreads by {error}, more "
        "than the {wanted} wanted.",
        "Choose a face nearer to the tool, or check the axis at the tool's height when calibrating.",
        offset=Mm(offset_mm),
        error=Mm(abbe_error(offset_mm)),
        wanted=Mm(wanted_mm),
    )


def choose_face(plan: ScalePlan, face: Face) -> ScalePlan:
    """The plan with a face; nothing that was typed or measured is put aside by it."""
    changed = plan.with_(face_id=face.id)
    assert isinstance(changed, ScalePlan)
    return changed

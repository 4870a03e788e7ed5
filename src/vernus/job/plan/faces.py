"""The candidate faces of an axis side by side, what each costs, and what the chosen one does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Rate, Sentence, finding, in_units, plain
from vernus.core.machine.envelope import Box, Range
from vernus.core.machine.meetings import meetings
from vernus.core.machine.travel_kept import TravelKept
from vernus.core.plan.faces import FaceCosts, RankedFace, blocked_finding, rank_faces, what_would_change
from vernus.core.plan.plan_parts import TILT_MRAD, ScaleBulk, abbe_error, abbe_offset
from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis, Face, ScalePlan
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import accuracy, chosen_face, plan_of
from vernus.job.known.lengths import length_of
from vernus.job.machine.geometry import (
    boxes_of,
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

WORK_HIGH_MM = 50.0
USUAL_PLAY_MM = 0.1
"""What a collar rocks until it is measured: a few hundredths to a tenth or two, common practice, no source."""
LIPS = {"down": 1.0, "in": 1.2, "out": 1.6, "up": 2.5}
"""How much more chips and coolant count by where a sealed body's lips look; common practice, no source."""
FREED = "a ring that can pivot on the collar, a guide rod with its bushing, the arm between them"
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


def candidates(job: Job, axis: Axis) -> list[Face]:
    """The faces a scale can go on by the scope: none for a readout of its own where one on the display is fitted.

    The chosen one stays, and so do all where the machine has no other.
    """
    faces, chosen = faces_of(job, axis), chosen_face(job, axis)
    if axis.readout != "new":
        return faces
    mine = [f for f in faces if f.separate != "yes" or (chosen is not None and f.id == chosen.id)]
    return mine or faces


def faces_result(job: Job, axis: Axis) -> FacesResult:
    """Every candidate face of an axis judged beside the others."""
    return job.derived(("faces", axis.id), lambda: _faces_result(job, axis))


def _faces_result(job: Job, axis: Axis) -> FacesResult:
    problems = geometry_findings(job)
    faces = candidates(job, axis)
    if problems or not faces:
        ask = Sentence("No face of this axis is known; add one on this sheet.")
        if problems:
            ask = Sentence("{what} {do}", {"what": problems[0].what, "do": problems[0].remedy})
        return FacesResult((), ask, tuple(problems))
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
    """Where the tool cuts: on a mill a little above the table, to which knee, head or quill bring it."""
    machine = machine_told(job)
    x, y, z = (mm_of(e) or 0.0 for e in (machine.tool_x, machine.tool_y, machine.tool_z))
    table = next((b for b in boxes_of(job) if b.shape == "slotted-x" or b.name == "table"), None)
    return x, y, z if table is None else min(z, table.top.mm + WORK_HIGH_MM)


def play_told(job: Job, axis: Axis, face: Face, units: UnitSystem) -> str:
    """What the collar of a face rocks by, which the ranking counts: measured, or the usual; empty where none does."""
    play = play_of(job, axis, face)
    if play is None:
        return ""
    how = ", measured." if play[1] else " or so; nobody measured it."
    return in_units(units, "The collar of “{face}” rocks by {play}" + how, face=face.name, play=Fine(play[0]))


def play_of(job: Job, axis: Axis, face: Face) -> tuple[float, bool] | None:
    """How far the reader of a face rocks (mm) and whether that was measured; None where it is held fast."""
    measured = mm_of(axis.play)
    if face.arm == "collar" or (face.separate == "yes" and face.reader_member == "quill" and measured is not None):
        return (measured, True) if measured is not None else (USUAL_PLAY_MM, False)
    return None


def _face_costs(job: Job, axis: Axis, face: Face, bare: TravelKept, result: TravelKept) -> FaceCosts:
    parts = planned_parts(job, axis, face)
    lost = lost_against(bare.kept or {}, result.kept)
    widths = {k: b - a for k, (a, b) in (bare.kept or {}).items()}
    share = sum(v / widths[k] for k, v in (lost or {}).items() if widths[k] > 0)
    bulk = bulk_of(job, axis, face)
    sealed = 0.0 if bulk is None else bulk.family.exposure
    plan, play = plan_of(job, axis), play_of(job, axis, face)
    lips = LIPS["down" if plan is None or bulk is None or bulk.family.body_type != "body" else plan.lips]
    return FaceCosts(
        name=face.name,
        travel_lost=share,
        lost_mm=lost or {},
        blocked=tuple(name for name, _, _ in _covered(job, parts, result)),
        exposure=min(3.0, float(face.exposure) * (0.5 + sealed / 2) * lips),
        holes=_holes_to_drill(job, face, bulk),
        parts=face.parts + {"machined": 0, "painted": 0.5, "rough": 1.5}[face.flat],
        abbe_mm=0.0 if bulk is None else abbe_offset(face_place(face), bulk, _tool(job)),
        fits=bulk is None or bulk.overall_mm <= length_of(job, axis, face),
        possible=result.kept is not None,
        meets=home_blocked(result),
        play_mm=None if play is None else play[0],
        wanted_mm=accuracy(axis).value,
        play_measured=play is not None and play[1],
        to_make=FREED if face.arm == "freed" else "",
    )


_END_SCREWS = 2
_KEPT_CLEAR = "kept clear"
"""The group of the places that parts must not cover: they are not compared with each other."""


def _holes_to_drill(job: Job, face: Face, bulk: ScaleBulk | None) -> float:
    """The holes a face takes: none where none is drilled in the job, without the end screws of what is stuck on."""
    if job.info.hole_school in ("none", "stick"):
        return 0.0
    stuck = bulk is not None and bulk.family.held == "adhesive"
    return max(0.0, face.holes - (_END_SCREWS if stuck else 0))


def _covered(job: Job, parts: Sequence[Box], result: TravelKept) -> list[tuple[str, str, Sentence | None]]:
    """(feature, why it matters, when) for the places that the parts cover somewhere in the travel kept."""
    found: list[tuple[str, str, Sentence | None]] = []
    if result.kept is None:
        return found
    features = [(f, replace(solid(f), group=_KEPT_CLEAR)) for f in keep_reachable(job)]
    moving = replace(envelope_of(job, ()), boxes=(*(box for _, box in features), *parts))
    met = [m for m in meetings(moving, result.kept) if m.a.group == _KEPT_CLEAR]
    for feature, box in features:
        if any(p.member == box.member and _overlap(p, box) for p in parts):
            found.append((feature.name, feature.why, None))
        elif (first := next((m for m in met if m.a == box), None)) is not None:
            found.append((feature.name, feature.why, first.in_words()))
    return found


def _overlap(a: Box, b: Box) -> bool:
    return all(a.min_mm[c] < b.max_mm[c] and b.min_mm[c] < a.max_mm[c] for c in range(3))


def face_findings(job: Job, axis: Axis) -> list[Finding]:
    """What the chosen face of an axis costs: features covered, and the Abbe error it makes.

    Nothing of a scale that hangs there already: its face is not to choose any more.
    """
    return (
        []
        if axis.readout == "there"
        else list(job.derived(("face findings", axis.id), lambda: _face_findings(job, axis)))
    )


def _face_findings(job: Job, axis: Axis) -> list[Finding]:
    face = chosen_face(job, axis)
    if face is None or geometry_findings(job):
        return []
    parts = planned_parts(job, axis, face)
    try:
        found = [_blocking(axis, parts, job, *covered) for covered in _covered_by_choice(job, axis, parts)]
    except BadInputError:
        return []
    return found + _of_the_choice(job, axis, face)


def _covered_by_choice(job: Job, axis: Axis, parts: Sequence[Box]) -> list[tuple[str, str, Sentence | None]]:
    """What the parts of the chosen face cover, beside those of the other axes; raises BadInputError."""
    return _covered(job, parts, kept_with(job, [*all_planned_parts(job, without=axis.id), *parts]))


def _of_the_choice(job: Job, axis: Axis, face: Face) -> list[Finding]:
    """The collar's play, lips in the stream, and the Abbe error of the chosen face."""
    found: list[Finding] = []
    bulk, wanted, plan, play = bulk_of(job, axis, face), accuracy(axis), plan_of(job, axis), play_of(job, axis, face)
    if play is not None and play[0] > wanted.value:
        found.append(_collar(play[0], wanted.value, measured=play[1]))
    lips = "down" if plan is None else plan.lips
    if bulk is not None and bulk.family.body_type == "body" and lips in ("up", "out") and float(face.exposure) >= 1:
        found.append(_lips(axis, lips))
    if bulk is None or not wanted.is_given:
        return found
    offset = abbe_offset(face_place(face), bulk, _tool(job))
    if abbe_error(offset) > wanted.value:
        others = [
            abbe_error(abbe_offset(face_place(f), bulk, _tool(job))) for f in faces_of(job, axis) if f.id != face.id
        ]
        found.append(_abbe(wanted.value, offset, curable=any(e <= wanted.value for e in others)))
    return found


def _collar(play_mm: float, wanted_mm: float, *, measured: bool) -> Finding:
    if measured:
        what = "The collar rocks by {play}, more than the {wanted} wanted: the scale reads that as travel."
        how = f"Free the arm of the collar: {FREED}. Or read the head instead."
    else:
        what = "A collar rocks by {play} or so on its guide screw, and {wanted} is wanted: that has not been measured."
        how = "Set an indicator on the arm where the scale will be, turn the collar both ways, and note its play here."
    return finding("collar-rocks", "caution", what, how, play=Fine(play_mm), wanted=Fine(wanted_mm))


def _lips(axis: Axis, lips: str) -> Finding:
    return finding(
        "lips-exposed",
        "caution",
        "The lips of the {axis} scale look {lips}, where chips and coolant get in.",
        "Turn the body so that they look down or in, or give it a cover that overlaps them.",
        axis=axis.name,
        lips=lips,
    )


def _blocking(axis: Axis, parts: Sequence[Box], job: Job, name: str, why: str, when: Sentence | None) -> Finding:
    feature = next(f for f in keep_reachable(job) if f.name == name)
    box = solid(feature)
    part = next((p.name for p in parts if p.member == box.member and _overlap(p, box)), f"{axis.name} scale")
    if feature.covered:
        done = {
            "by hand": "it is done by hand every {n} days, a task on the job card",
            "moved": "it is moved or lengthened", "given up": "it is given up",
        }[feature.covered]  # fmt: skip
        return finding(
            "feature-settled", "info", "The {part} covers the {feature}: " + done + ".",
            "Nothing more to do here; change it on the Machine sheet.",
            part=part, feature=name, n=round(feature.every_days),
        )  # fmt: skip
    return blocked_finding(f"The {part}", f"the {name}", why, when)


def covered_features(job: Job, axis: Axis) -> list[str]:
    """The names of the places that the chosen face's parts cover."""
    return job.derived(("covered features", axis.id), lambda: _covered_features(job, axis))


def _covered_features(job: Job, axis: Axis) -> list[str]:
    face = chosen_face(job, axis)
    if face is None or geometry_findings(job):
        return []
    try:
        return [name for name, _, _ in _covered_by_choice(job, axis, planned_parts(job, axis, face))]
    except BadInputError:
        return []


def _abbe(wanted_mm: float, offset_mm: float, *, curable: bool) -> Finding:
    how = "Choose a face nearer to the tool, or check" if curable else "No face of this axis is nearer: check"
    return finding(
        "abbe",
        "caution" if curable else "info",
        "The scale lies {offset} from the tool: where the ways tilt by {tilt} it misreads by {error}, more "
        "than the {wanted} wanted.",
        how + " the axis at the height and place where the tool works when calibrating, not along the scale.",
        offset=Mm(offset_mm),
        tilt=Rate(TILT_MRAD / 1000),
        error=Mm(abbe_error(offset_mm)),
        wanted=Mm(wanted_mm),
    )


def choose_face(plan: ScalePlan, face: Face) -> ScalePlan:
    """The plan with a face; nothing that was typed or measured is put aside by it."""
    changed = plan.with_(face_id=face.id)
    assert isinstance(changed, ScalePlan)
    return changed

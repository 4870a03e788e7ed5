"""Where a scale goes and what that costs: faces side by side, travel kept, stops, bumpers and what-ifs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding, plain
from vernus.core.machine.envelope import Box, Envelope, Meeting, Range, meetings
from vernus.core.machine.travel_kept import TravelKept, bumper_finding, keep_travel, plan_bumper
from vernus.core.plan.faces import FaceCosts, RankedFace, blocked_finding, rank_faces, what_would_change
from vernus.core.plan.plan_parts import abbe_error, abbe_offset, scale_parts
from vernus.core.units import UnitSystem, format_plain
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Axis, Face, ScalePlan
from vernus.job.machine.geometry import (
    all_planned_parts,
    bulk_of,
    chosen_face,
    envelope_of,
    face_place,
    faces_of,
    geometry_findings,
    keep_reachable,
    low_end,
    planned_parts,
    solid,
)
from vernus.job.machine.travel import mm_of, plan_of

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


@dataclass(frozen=True)
class Stop:
    """Where an axis must stop short of its own end: its position and its distance from that end mark."""

    axis: str
    high: bool
    at_mm: float
    short_by_mm: float


@dataclass(frozen=True)
class EnvelopeResult:
    """Travel kept with every planned part in place; ``kept`` is None when home is blocked."""

    envelope: Envelope
    kept: dict[str, Range] | None
    full: dict[str, Range]
    pairs: tuple[Meeting, ...]
    stops: tuple[Stop, ...]
    findings: tuple[Finding, ...]
    instruction: Sentence


@dataclass(frozen=True)
class WhatIf:
    """One variant of the plan, and what it takes of each axis (mm); ``lost_mm`` is None where it can't work."""

    words: Sentence
    lost_mm: dict[str, float] | None


def weights_of(job: Job) -> dict[str, float]:
    """How much each criterion counts."""
    return {k: max(0.0, getattr(job.info, f"w_{k}")) for k in WEIGHTS}


def _kept(job: Job, parts: Sequence[Box]) -> TravelKept:
    return keep_travel(envelope_of(job, parts))


def lost_against(bare: dict[str, Range], kept: dict[str, Range] | None) -> dict[str, float] | None:
    """What each axis loses against ``bare`` (mm), axes that lose nothing left away."""
    if kept is None:
        return None
    lost = {k: (b - a) - (kept[k][1] - kept[k][0]) for k, (a, b) in bare.items()}
    return {k: v for k, v in lost.items() if v > 1e-6}


def faces_result(job: Job, axis: Axis) -> FacesResult:
    """Every candidate face of an axis judged beside the others."""
    problems = geometry_findings(job)
    faces = faces_of(job, axis)
    if problems or not faces:
        ask = "Correct the machine first." if problems else "No face of this axis is known; add one on this sheet."
        return FacesResult((), Sentence(ask), tuple(problems))
    others = all_planned_parts(job, without=axis.id)
    try:
        bare = _kept(job, others)
        kept = [_kept(job, [*others, *planned_parts(job, axis, face, plan_of(job, axis))]) for face in faces]
    except BadInputError as error:
        return FacesResult((), plain(str(error)), ())
    costs = [_face_costs(job, axis, face, bare, result) for face, result in zip(faces, kept, strict=True)]
    ranked = rank_faces(costs, weights_of(job))
    places = [next(n for n, c in enumerate(costs) if c is r.costs) for r in ranked]
    judged = tuple(JudgedFace(faces[n], r, kept[n].kept) for n, r in zip(places, ranked, strict=True))
    return FacesResult(judged, what_would_change(ranked, weights_of(job)), ())


def _face_costs(job: Job, axis: Axis, face: Face, bare: TravelKept, result: TravelKept) -> FaceCosts:
    plan = plan_of(job, axis)
    parts = planned_parts(job, axis, face, plan)
    lost = lost_against(bare.kept or {}, result.kept)
    widths = {k: b - a for k, (a, b) in (bare.kept or {}).items()}
    share = sum(v / widths[k] for k, v in (lost or {}).items() if widths[k] > 0)
    bulk = bulk_of(job, axis, face, plan)
    machine = job.machine
    tool = (mm_of(machine.tool_x) or 0.0, mm_of(machine.tool_y) or 0.0, mm_of(machine.tool_z) or 0.0)
    sealed = 0.0 if bulk is None else bulk.family.exposure
    return FaceCosts(
        name=face.name,
        travel_lost=share,
        lost_mm=lost or {},
        blocked=tuple(name for name, _, _ in _covered(job, parts, result)),
        exposure=min(3.0, float(face.exposure) * (0.5 + sealed / 2)),
        holes=face.holes,
        parts=face.parts + {"machined": 0, "painted": 0.5, "rough": 1.5}[face.flat],
        abbe_mm=0.0 if bulk is None else abbe_offset(face_place(face), bulk, tool),
        fits=bulk is None or bulk.overall_mm <= face.length.mm,
        possible=result.kept is not None,
    )


def _covered(job: Job, parts: Sequence[Box], result: TravelKept) -> list[tuple[str, str, Sentence | None]]:
    """(feature, why it matters, when) for the places that the parts cover somewhere in the travel kept."""
    found: list[tuple[str, str, Sentence | None]] = []
    if result.kept is None:
        return found
    for feature in keep_reachable(job):
        box = solid(feature)
        still = [p for p in parts if p.member == box.member and _overlap(p, box)]
        if still:
            found.append((feature.name, feature.why, None))
            continue
        envelope = envelope_of(job, ())
        moving = replace(envelope, boxes=(box, *(p for p in parts if p.member != box.member)))
        met = [m for m in meetings(moving, result.kept) if m.a is box]
        if met:
            found.append((feature.name, feature.why, met[0].in_words()))
    return found


def _overlap(a: Box, b: Box) -> bool:
    return all(a.min_mm[c] < b.max_mm[c] and b.min_mm[c] < a.max_mm[c] for c in range(3))


def face_findings(job: Job, axis: Axis) -> list[Finding]:
    """What the chosen face of an axis costs: features covered, and the Abbe error it makes."""
    plan = plan_of(job, axis)
    face = chosen_face(job, plan)
    if face is None or geometry_findings(job):
        return []
    parts = planned_parts(job, axis, face, plan)
    result = _kept(job, [*all_planned_parts(job, without=axis.id), *parts])
    found = [_blocking(axis, parts, job, *covered) for covered in _covered(job, parts, result)]
    bulk = bulk_of(job, axis, face, plan)
    if bulk is None or axis.accuracy is None:
        return found
    machine = job.machine
    tool = (mm_of(machine.tool_x) or 0.0, mm_of(machine.tool_y) or 0.0, mm_of(machine.tool_z) or 0.0)
    offset = abbe_offset(face_place(face), bulk, tool)
    if abbe_error(offset) > axis.accuracy.mm:
        found.append(_abbe(axis, offset))
    return found


def _blocking(axis: Axis, parts: Sequence[Box], job: Job, name: str, why: str, when: Sentence | None) -> Finding:
    box = next(solid(f) for f in keep_reachable(job) if f.name == name)
    part = next((p.name for p in parts if p.member == box.member and _overlap(p, box)), f"{axis.name} scale")
    return blocked_finding(f"The {part}", f"the {name}", why, when)


def _abbe(axis: Axis, offset_mm: float) -> Finding:
    return finding(
        "abbe",
        "caution",
        "The scale lies {offset} from the tool: where the ways tilt by 0.1 mm per metre it misreads by {error}, more "
        "than the {wanted} wanted.",
        "Choose a face nearer to the tool, or check the axis at the tool's height when calibrating.",
        offset=Mm(offset_mm),
        error=Mm(abbe_error(offset_mm)),
        wanted=Mm(axis.accuracy.mm if axis.accuracy else 0.0),
    )


def envelope_result(job: Job) -> EnvelopeResult:
    """Travel kept per axis with the planned parts, who meets whom where, and the stops and bumpers that follow."""
    problems = geometry_findings(job)
    if problems:
        raise BadInputError(problems[0].what.text())
    envelope = envelope_of(job, all_planned_parts(job))
    result = keep_travel(envelope)
    findings = list(result.findings)
    if result.kept is None:
        ask = findings[0].remedy if findings else Sentence("Nothing can be kept.")
        return EnvelopeResult(envelope, None, envelope.full, result.pairs, (), tuple(findings), ask)
    stops = tuple(_stops(job, envelope, result.kept))
    findings += _meeting_findings(result.pairs)
    for stop in stops:
        findings += _bumper(envelope, result, stop)
    return EnvelopeResult(
        envelope,
        result.kept,
        envelope.full,
        result.pairs,
        stops,
        tuple(findings),
        _stop_words(stops)
        if any(b.group for b in envelope.boxes)
        else Sentence("Choose a scale and a face for at least one axis; its parts then appear here by themselves."),
    )


def _stops(job: Job, envelope: Envelope, kept: dict[str, Range]) -> list[Stop]:
    found: list[Stop] = []
    for axis in envelope.axes:
        low, high = kept[axis.id]
        if low > axis.from_mm + 1e-6:
            found.append(Stop(axis.id, False, low, low - axis.from_mm))
        if high < axis.to_mm - 1e-6:
            found.append(Stop(axis.id, True, high, axis.to_mm - high))
    return found


def _stop_words(stops: Sequence[Stop]) -> Sentence:
    if not stops:
        return Sentence("Nothing meets: every axis keeps its whole travel. Go on to the job card.")
    parts, values = [], {}
    for n, stop in enumerate(stops):
        end = "high" if stop.high else "low"
        parts.append(f"stop {stop.axis} {{short{n}}} before its {end} end mark")
        values[f"short{n}"] = Mm(stop.short_by_mm)
    return Sentence("Fit stops so that metal meets metal first: " + "; ".join(parts) + ".", values)


def _meeting_findings(pairs: Sequence[Meeting]) -> list[Finding]:
    """One finding per scale and box it meets: the part that meets it soonest, the others named beside it."""
    groups: dict[frozenset[str], list[Meeting]] = {}
    for pair in pairs:
        groups.setdefault(frozenset(b.group or b.name for b in (pair.a, pair.b)), []).append(pair)
    return [_meeting_finding(group) for group in groups.values()]


def _blocked_most(pair: Meeting) -> float:
    """How much of an axis a pair blocks (mm), sums that it blocks wholly left away."""
    narrow = [
        high - low
        for key, (low, high) in pair.blocked.items()
        if low > pair.limits[key][0] or high < pair.limits[key][1]
    ]
    return max(narrow, default=float("inf"))


def _meeting_finding(pairs: Sequence[Meeting]) -> Finding:
    pair = max(pairs, key=_blocked_most)
    part, other = (pair.a, pair.b) if pair.a.group else (pair.b, pair.a)
    names = {b.name.removeprefix(f"{b.group} ") for m in pairs for b in (m.a, m.b) if b.group == part.group and b.group}
    also = sorted(names - {part.name.removeprefix(f"{part.group} ")})
    return finding(
        "meets",
        "caution",
        "The {a} meets the {b} with {where}{also}.",
        "Keep out of there by a stop, slim or move the part, or choose another face.",
        a=part.name,
        b=other.name,
        where=pair.in_words() or "every axis anywhere",
        also=f" (so do {', '.join(also)})" if also else "",
    )


def _bumper(envelope: Envelope, result: TravelKept, stop: Stop) -> list[Finding]:
    """The bumper between the member that the axis moves and what it would meet there."""
    assert result.kept is not None
    member = next(m.id for m in envelope.members if m.axis == stop.axis)
    for pair in result.pairs:
        if stop.axis not in pair.blocked:
            continue
        still = pair.b if envelope.moves(pair.a.member, pair.b.member).by_coordinate != ((), (), ()) else pair.a
        if member in (pair.b.member,):
            still = pair.a
        solids = [b for b in envelope.boxes if b.member == member and not b.group and b.member != still.member]
        for mine in sorted(solids, key=lambda b: -_volume(b)):
            for other in (still, pair.a, pair.b):
                if other.group or other.member == member:
                    continue
                try:
                    bumper = plan_bumper(envelope, mine, other, stop.axis, result.kept, stop.high)
                except BadInputError:
                    continue
                if bumper.lands:
                    return [bumper_finding(bumper, mine, other)]
    return []


def _volume(box: Box) -> float:
    x, y, z = (high - low for low, high in zip(box.min_mm, box.max_mm, strict=True))
    return x * y * z


def what_ifs(job: Job, axis: Axis) -> list[WhatIf]:
    """Variants of an axis's plan compared at once: as planned, no cover, slimmer, 10 mm either way, the other faces."""
    plan = plan_of(job, axis)
    face = chosen_face(job, plan)
    if plan is None or face is None or geometry_findings(job):
        return []
    others = all_planned_parts(job, without=axis.id)
    bare = _kept(job, others)
    bulk = bulk_of(job, axis, face, plan)
    if bulk is None or bare.kept is None:
        return []
    families = families_of(job)
    place = face_place(face)
    name = f"{axis.name} scale"
    build = partial(scale_parts, place, name=name)
    variants: list[tuple[Sentence, list[Box]]] = [(plain("as planned"), build(bulk))]
    if bulk.cover:
        variants.append((plain("without the cover"), build(replace(bulk, cover=False))))
    for family in families:
        if family.id in ("glass-slim", "glass-micro", "thin-housing") and family.id != bulk.family.id:
            slim = replace(bulk, family=family, overall_mm=bulk.overall_mm)
            variants.append((plain(f"with {family.label[0].lower()}{family.label[1:]}"), build(slim)))
    for shift in (-10.0, 10.0):
        way = "left" if shift < 0 else "right"
        words = Sentence(f"{{shift}} to the {way}", {"shift": Mm(abs(shift))})
        variants.append((words, build(replace(bulk, start_mm=bulk.start_mm + shift))))
    for other in faces_of(job, axis):
        if other.id != face.id:
            variants.append((plain(other.name), planned_parts(job, axis, other, plan)))
    return [WhatIf(said, lost_against(bare.kept, _kept(job, [*others, *parts]).kept)) for said, parts in variants]


def show_lost(lost: dict[str, float] | None, units: UnitSystem) -> str:
    """What is lost, in words."""
    if lost is None:
        return "does not work"
    return ", ".join(f"{k} {format_plain(v, units)}" for k, v in sorted(lost.items())) or "nothing"


@dataclass(frozen=True)
class PlaceOnFace:
    """Where the body lies on its face (mm from the face's left end), and the first hole."""

    start_mm: float
    end_mm: float
    first_hole_mm: float
    overhang_mm: float
    reader_mid_mm: float


def place_on_face(job: Job, axis: Axis) -> PlaceOnFace | None:
    """The body's place on the chosen face, None while either is open."""
    plan = plan_of(job, axis)
    face = chosen_face(job, plan)
    if plan is None or face is None or plan.measuring is None:
        return None
    bulk = bulk_of(job, axis, face, plan)
    if bulk is None:
        return None
    end = bulk.start_mm + bulk.overall_mm
    return PlaceOnFace(
        start_mm=bulk.start_mm,
        end_mm=end,
        first_hole_mm=bulk.start_mm + bulk.family.holes_from_end_mm,
        overhang_mm=max(0.0, -bulk.start_mm, end - face.length.mm),
        reader_mid_mm=bulk.start_mm + bulk.overall_mm / 2,
    )


def choose_face(plan: ScalePlan, face: Face) -> ScalePlan:
    """The plan with a face: its length becomes the face's, the body goes on its member."""
    changed = plan.with_(face_id=face.id, face=face.length)
    assert isinstance(changed, ScalePlan)
    return changed


def position_from_mark(job: Job, axis: Axis, at_mm: float) -> float:
    """A position as distance from the axis's low end mark."""
    return at_mm - low_end(job, axis)

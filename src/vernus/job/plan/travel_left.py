"""The travel that planned parts leave: who meets whom where, the stops and bumpers that follow, and what-ifs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding, plain
from vernus.core.machine.envelope import Box, Envelope, Meeting, Range
from vernus.core.machine.stroke import ENDS, End, Need
from vernus.core.machine.travel_kept import TravelKept, bumper_finding, keep_travel, plan_bumper
from vernus.core.plan.plan_parts import scale_parts
from vernus.core.units import UnitSystem, format_plain
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known import chosen_face, length_of, plan_of
from vernus.job.machine.directions import end_words
from vernus.job.machine.geometry import axis_key, envelope_of, face_place, faces_of, geometry_findings, low_end
from vernus.job.machine.planned import all_planned_parts, bulk_of, planned_parts
from vernus.job.machine.stroke import metal_of, stroke_of
from vernus.job.scope import in_scope


@dataclass(frozen=True)
class AxisStop:
    """The one stop of an end: the axis, what its motion is called, and why."""

    axis: Axis
    motion: str
    need: Need
    end: str


@dataclass(frozen=True)
class EnvelopeResult:
    """Travel kept from mark to mark with every planned part in place; ``kept`` is None when home is blocked.

    ``left`` is what is left with every stop fitted, what is given up included. Both by the name of the motion.
    """

    envelope: Envelope
    kept: dict[str, Range] | None
    left: dict[str, Range]
    full: dict[str, Range]
    pairs: tuple[Meeting, ...]
    stops: tuple[AxisStop, ...]
    findings: tuple[Finding, ...]
    instruction: Sentence


@dataclass(frozen=True)
class WhatIf:
    """One variant of the plan, and what it takes of each axis (mm); ``lost_mm`` is None where it can't work."""

    words: Sentence
    lost_mm: dict[str, float] | None


def kept_with(job: Job, parts: Sequence[Box]) -> TravelKept:
    """The travel kept with some parts on the machine; raises BadInputError."""
    return keep_travel(envelope_of(job, parts))


def lost_against(bare: Mapping[str, Range], kept: Mapping[str, Range] | None) -> dict[str, float] | None:
    """What each axis loses against ``bare`` (mm), axes that lose nothing left away."""
    if kept is None:
        return None
    lost = {k: (b - a) - (kept[k][1] - kept[k][0]) for k, (a, b) in bare.items()}
    return {k: v for k, v in lost.items() if v > 1e-6}


def show_lost(lost: dict[str, float] | None, units: UnitSystem) -> str:
    """What is lost, in words."""
    if lost is None:
        return "does not work"
    return ", ".join(f"{k} {format_plain(v, units)}" for k, v in sorted(lost.items())) or "nothing"


def stops_of(job: Job) -> list[AxisStop]:
    """Every stop of the machine, axis by axis, low end first; of an axis out of scope those that metal needs."""
    found: list[AxisStop] = []
    for axis in job.axes():
        line = stroke_of(job, axis).stroke
        for need in line.stops if line is not None else ():
            if in_scope(axis) or need.why == "metal":
                found.append(AxisStop(axis, axis_key(job, axis), need, end_words(job, axis)[need.end == "high"]))
    return found


def envelope_result(job: Job) -> EnvelopeResult:
    """Travel kept per axis with the planned parts, who meets whom where, and the stops and bumpers that follow.

    Raises BadInputError for a machine that can't be one.
    """
    return job.derived("envelope", lambda: _envelope_result(job))


def _envelope_result(job: Job) -> EnvelopeResult:
    metal = metal_of(job)
    envelope, result = metal.envelope, metal.result
    findings = list(result.findings)
    if result.kept is None:
        ask = findings[0].remedy if findings else Sentence("Nothing can be kept.")
        return EnvelopeResult(envelope, None, {}, envelope.full, result.pairs, (), tuple(findings), ask)
    stops = tuple(stops_of(job))
    left = _left(job, envelope)
    findings += _meeting_findings(result.pairs)
    for axis in job.axes():
        findings += _bumpers(job, axis, envelope, left)
        findings += [f for f in stroke_of(job, axis).findings if f.code in _OF_THE_LINE and in_scope(axis)]
    planned = any(b.group for b in envelope.boxes)
    ask = Sentence("Choose a scale and a face for at least one axis; its parts then appear here by themselves.")
    words = _stop_words(stops) if planned or stops else ask
    return EnvelopeResult(envelope, result.kept, left, envelope.full, result.pairs, stops, tuple(findings), words)


_OF_THE_LINE = ("splits-the-travel", "no-travel-left", "scale-ends-first")


def _left(job: Job, envelope: Envelope) -> dict[str, Range]:
    """What is left of every axis with all its stops, in the envelope's positions."""
    left = dict(envelope.full)
    for axis in job.axes():
        line, key, low = stroke_of(job, axis).stroke, axis_key(job, axis), low_end(job, axis)
        if key in left and line is not None and line.kept_mm is not None:
            left[key] = (line.kept_mm[0] + low, line.kept_mm[1] + low)
    return left


def _stop_words(stops: Sequence[AxisStop]) -> Sentence:
    if not stops:
        return Sentence("Nothing meets: every axis keeps its whole travel. Go on to the next sheet.")
    parts: list[str] = []
    values: dict[str, object] = {}
    for n, stop in enumerate(stops):
        parts.append(f"{{motion{n}}} {{short{n}}} before its {stop.end} mark ({{why{n}}})")
        values |= {f"motion{n}": stop.motion, f"short{n}": Mm(stop.need.before_mark_mm), f"why{n}": _why(stop.need)}
    return Sentence("Fit stops so that metal meets metal first: " + "; ".join(parts) + ".", values)


def _why(need: Need) -> str:
    return {"metal": f"the {need.with_}", "given up": "given up", "scale": "the scale ends"}[need.why]


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


def _bumpers(job: Job, axis: Axis, envelope: Envelope, left: dict[str, Range]) -> list[Finding]:
    """The pillar of each end at which metal needs a stop, as long as the stop that is fitted there asks for."""
    line, key = stroke_of(job, axis).stroke, axis_key(job, axis)
    found: list[Finding] = []
    for end in ENDS:
        if line is not None and any(n.end == end and n.why == "metal" for n in line.needs):
            found += _bumper(envelope, metal_of(job).result.pairs, key, end, left)
    return found


def _bumper(envelope: Envelope, pairs: Sequence[Meeting], key: str, end: End, left: dict[str, Range]) -> list[Finding]:
    """The bumper between the member that the axis moves and what it would meet there."""
    member = next(m.id for m in envelope.members if m.axis == key)
    for pair in pairs:
        if all(key not in name.replace("-", "+").split("+") for name in pair.blocked):
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
                    bumper = plan_bumper(envelope, mine, other, key, left, end == "high")
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
    return list(job.derived(("what ifs", axis.id), lambda: _what_ifs(job, axis)))


def _what_ifs(job: Job, axis: Axis) -> list[WhatIf]:
    face = chosen_face(job, axis)
    if plan_of(job, axis) is None or face is None or geometry_findings(job):
        return []
    others = all_planned_parts(job, without=axis.id)
    bare, bulk = kept_with(job, others), bulk_of(job, axis, face)
    if bulk is None or bare.kept is None:
        return []
    build = partial(scale_parts, face_place(face, length_of(job, axis, face)), name=f"{axis.name} scale")
    variants: list[tuple[Sentence, list[Box]]] = [(plain("as planned"), build(bulk))]
    if bulk.cover:
        variants.append((plain("without the cover"), build(replace(bulk, cover=False))))
    for family in families_of(job):
        if family.id in ("glass-slim", "glass-micro", "thin-housing") and family.id != bulk.family.id:
            slim = replace(bulk, family=family, overall_mm=bulk.overall_mm)
            variants.append((plain(f"with {family.label[0].lower()}{family.label[1:]}"), build(slim)))
    for shift in (-10.0, 10.0):
        way = "left" if shift < 0 else "right"
        words = Sentence(f"{{shift}} to the {way}", {"shift": Mm(abs(shift))})
        variants.append((words, build(replace(bulk, start_mm=bulk.start_mm + shift))))
    for other in faces_of(job, axis):
        if other.id != face.id:
            variants.append((plain(other.name), planned_parts(job, axis, other)))
    return [WhatIf(said, lost_against(bare.kept, kept_with(job, [*others, *parts]).kept)) for said, parts in variants]

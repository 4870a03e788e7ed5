"""The travel that planned parts leave: who meets whom where, the stops and bumpers that follow, and what-ifs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Bracketed, Finding, Mm, Sentence, conclusion, finding, in_order
from vernus.core.machine.bumper import Bumper, bumper_finding, plan_bumper
from vernus.core.machine.envelope import Box, Envelope, Range
from vernus.core.machine.meetings import Meeting
from vernus.core.machine.stroke import ENDS, End, Need, Pair
from vernus.core.machine.travel_kept import TravelKept, keep_travel
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known.axis_figures import chosen_face
from vernus.job.machine.directions import directions_of, end_words, finding_directed
from vernus.job.machine.fitted_stops import is_fitted, stops_fitted
from vernus.job.machine.geometry import (
    axis_key,
    envelope_of,
    low_end,
)
from vernus.job.machine.stroke import metal_of, stroke_of
from vernus.job.plan.meets import meeting_findings, not_checked, room_findings
from vernus.job.plan.stop_rests import bumper_rests, stop_rests
from vernus.job.scope import gets_scale, in_scope


@dataclass(frozen=True)
class AxisStop:
    """The one stop of an end: the axis, what its motion is called, why, and what nobody measured that it rests on."""

    axis: Axis
    motion: str
    need: Need
    end: str
    unmeasured: tuple[str, ...] = ()

    @property
    def before(self) -> Mm:
        """How far before its mark it stands; in brackets while it rests on what nobody measured."""
        mm = self.need.before_mark_mm
        return Bracketed(mm) if self.unmeasured else Mm(mm)

    @property
    def reason(self) -> str:
        """Why it is there, without a figure: that stands before it, in brackets where nobody measured it."""
        metal = f"there the {self.need.with_} is met"
        return {"metal": metal, "given up": "given up", "scale": "there the scale ends"}[self.need.why]


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
    unchecked: tuple[Sentence, ...] = ()

    @property
    def lost_mm(self) -> dict[str, float] | None:
        """What each axis loses with every stop fitted: by metal, by a scale that ends, by what is given up."""
        return None if self.kept is None else lost_against(self.full, self.left)

    @property
    def ends_lost_mm(self) -> dict[str, Pair]:
        """The same at the low and the high end, of the axes that lose any."""
        return _lost(self.full, self.left)

    @property
    def verdict(self) -> Literal["pass", "stop"] | None:
        """Pass only where nothing is lost and nothing stands against it; None where something is lost or open."""
        serious = {f.severity for f in self.findings} - {"info"}
        if "stop" in serious or self.kept is None:
            return "stop"
        return None if serious or self.lost_mm else "pass"


def kept_with(job: Job, parts: Sequence[Box]) -> TravelKept:
    """The travel kept with some parts on the machine; raises BadInputError."""
    return keep_travel(envelope_of(job, parts), tilt_by_hand=True)


def home_blocked(result: TravelKept) -> tuple[tuple[str, str], ...]:
    """Who meets whom with every axis at home, where nothing can be kept."""
    return result.blocked


def lost_against(bare: Mapping[str, Range], kept: Mapping[str, Range] | None) -> dict[str, float] | None:
    """What each axis loses against ``bare`` (mm), axes that lose nothing left away."""
    if kept is None:
        return None
    lost = {k: (b - a) - (kept[k][1] - kept[k][0]) for k, (a, b) in bare.items()}
    return {k: v for k, v in lost.items() if v > 1e-6}


def stops_of(job: Job) -> list[AxisStop]:
    """Every stop of the machine, axis by axis, low end first; of an axis out of scope those that metal needs."""
    found: list[AxisStop] = []
    for axis in job.axes():
        line = stroke_of(job, axis).stroke
        for need in line.stops if line is not None else ():
            if in_scope(axis) or need.why == "metal":
                end = end_words(job, axis)[need.end == "high"]
                found.append(AxisStop(axis, axis_key(job, axis), need, end, stop_rests(job, axis, need)))
    return found


def envelope_result(job: Job) -> EnvelopeResult:
    """Travel kept per axis with the planned parts, who meets whom where, and the stops and bumpers that follow.

    Raises BadInputError for a machine that can't be one.
    """
    return job.derived("envelope", lambda: _envelope_result(job))


def _envelope_result(job: Job) -> EnvelopeResult:
    metal = metal_of(job)
    envelope, result = metal.envelope, metal.result
    findings = [*result.findings, *(_tight(*pair) for pair in metal.tight)]
    if result.kept is None:
        ask = findings[0].remedy if findings else Sentence("Nothing can be kept.")
        findings += room_findings(job, envelope)
        unchecked = (*not_checked(envelope), *_no_scale_of(job))
        return EnvelopeResult(envelope, None, {}, envelope.full, result.pairs, (), tuple(findings), ask, unchecked)
    stops = tuple(stops_of(job))
    left = _left(job, envelope)
    stopped = bool(stops) and all(is_fitted(job, s.axis, s.need) and not s.unmeasured for s in stops)
    findings += [*meeting_findings(result.pairs, stopped=stopped), *room_findings(job, envelope)]
    for axis in job.axes():
        findings += _bumpers(job, axis, envelope, left)
        found = [f for f in stroke_of(job, axis).findings if "envelope" in f.concerns and in_scope(axis)]
        found = [_kept_by_stop(f) if stops_fitted(job, axis) else f for f in found]
        findings += [_of_axis(finding_directed(f, directions_of(job, axis)), axis_key(job, axis)) for f in found]
    findings += [_not_in_it(axis) for axis in missing_scales(job)]
    planned = any(b.group for b in envelope.boxes)
    ask = Sentence("Choose a scale and a face for at least one axis; its parts then appear here by themselves.")
    wants_scale = any(gets_scale(a) for a in job.axes() if in_scope(a))
    words = _stop_words(stops, fitted=stopped) if planned or stops or not wants_scale else ask
    return EnvelopeResult(
        envelope, result.kept, left, envelope.full, result.pairs, stops, tuple(findings), in_order(words, findings),
        (*not_checked(envelope), *_no_scale_of(job)),
    )  # fmt: skip


def _tight(a: str, b: str) -> Finding:
    return finding(
        "too-little-air",
        "caution",
        "The {a} clears the {b} with every axis at home, but not by the air wanted round it.",
        "Slim or move the {a}; or type less air on the Scale sheet, and try it by hand before it is screwed down.",
        a=a, b=b,
    )  # fmt: skip


def missing_scales(job: Job) -> list[Axis]:
    """The axes with a scale there already of which nobody said on which face it hangs: it is in no envelope."""
    return [a for a in job.axes() if a.readout == "there" and chosen_face(job, a) is None and a.direction]


def _not_in_it(axis: Axis) -> Finding:
    return finding(
        "there-not-in-it",
        "caution",
        "The {axis} scale that is there already is not in this: nobody said on which face it hangs.",
        "Say on the Face sheet of {axis} where it hangs; until then nothing here is sure of it.",
        axis=axis.name,
    )


def _no_scale_of(job: Job) -> list[Sentence]:
    words = "the {axis} scale there already, whose face nobody said"
    return [Sentence(words, {"axis": axis.name}) for axis in missing_scales(job)]


def _kept_by_stop(found: Finding) -> Finding:
    """A scale that ends before its mark is kept by the stop that is fitted there."""
    if found.code != "scale-ends-first":
        return found
    return replace(found, severity="info", remedy=Sentence("The stop that is fitted keeps it; nothing more to do."))


def _of_axis(found: Finding, name: str) -> Finding:
    """A finding of one axis among those of the whole machine, with the axis's name before it."""
    return Finding(
        found.code, found.severity, Sentence("{name}: {what}", {"name": name, "what": found.what}), found.remedy
    )


def travel_left(job: Job) -> dict[str, Range]:
    """What is left of every axis with all its stops, by the name of its motion; raises BadInputError."""
    return _left(job, metal_of(job).envelope)


def ends_lost(job: Job) -> dict[str, Pair] | None:
    """``ends_lost_mm`` of the envelope's result alone; None where nothing can be kept. Raises BadInputError."""
    metal = metal_of(job)
    return None if metal.result.kept is None else _lost(metal.envelope.full, _left(job, metal.envelope))


def _lost(full: Mapping[str, Range], left: Mapping[str, Range]) -> dict[str, Pair]:
    ends = {k: (left[k][0] - a, b - left[k][1]) for k, (a, b) in full.items() if k in left}
    return {k: both for k, both in ends.items() if sum(both) > 1e-6}


def _left(job: Job, envelope: Envelope) -> dict[str, Range]:
    """What is left of every axis with all its stops, in the envelope's positions."""
    left = dict(envelope.full)
    for axis in job.axes():
        line, key, low = stroke_of(job, axis).stroke, axis_key(job, axis), low_end(job, axis)
        if key in left and line is not None:
            kept = line.kept_mm or (line.home_mm, line.home_mm)  # where the stops leave nothing, all of it is lost
            left[key] = (kept[0] + low, kept[1] + low)
    return left


def _stop_words(stops: Sequence[AxisStop], *, fitted: bool) -> Sentence:
    if not stops:
        return conclusion("Nothing meets: every axis keeps its whole travel. Go on to the next sheet.")
    parts: list[str] = []
    values: dict[str, object] = {}
    for n, stop in enumerate(stops):
        parts.append(f"{{motion{n}}} {{short{n}}} before its {stop.end} mark ({{why{n}}})")
        values |= {f"motion{n}": stop.motion, f"short{n}": stop.before, f"why{n}": _why(stop.need)}
    first = list(dict.fromkeys(name for stop in stops for name in stop.unmeasured))
    words = "The stops are fitted: " if fitted else "Fit stops so that metal meets metal first: "
    if first:
        words = "Measure first: {first}. Then fit stops so that metal meets metal first: "
    return Sentence(words + "; ".join(parts) + ".", {**values, "first": ", ".join(first)})


def _why(need: Need) -> str:
    return {"metal": f"the {need.with_}", "given up": "given up", "scale": "the scale ends"}[need.why]


def _bumpers(job: Job, axis: Axis, envelope: Envelope, left: dict[str, Range]) -> list[Finding]:
    """The pillar of each end at which metal needs a stop, as long as the stop that is fitted there asks for."""
    line, key = stroke_of(job, axis).stroke, axis_key(job, axis)
    found: list[Finding] = []
    for end in ENDS:
        if line is not None and any(n.end == end and n.why == "metal" for n in line.needs):
            pillar = pillar_of(job, axis, end, envelope, left)
            if pillar is not None:
                bumper, mine, other = pillar
                names = bumper_rests(job, axis, end, mine, other)
                found.append(bumper_finding(bumper, mine, other, _over(envelope, mine, other, key), names))
    return found


def pillar_of(
    job: Job, axis: Axis, end: End, envelope: Envelope, left: dict[str, Range]
) -> tuple[Bumper, Box, Box] | None:
    """The pillar that makes the stop of an end, with the boxes it stands on and lands on; None where none can."""
    return _bumper(envelope, metal_of(job).result.pairs, axis_key(job, axis), end, left)


@dataclass(frozen=True)
class Pillar:
    """The pillar that makes a stop, the boxes it stands on and lands on, and what nobody measured that it rests on."""

    bumper: Bumper
    mine: Box
    other: Box
    unmeasured: tuple[str, ...]

    @property
    def length(self) -> Mm:
        """How long it is; in brackets while it rests on what nobody measured."""
        mm = self.bumper.length_mm
        return Bracketed(mm) if self.unmeasured else Mm(mm)


def made_by(job: Job, stop: AxisStop) -> Pillar | None:
    """The pillar that makes a stop of metal; None where none can, or nothing meets there."""
    if stop.need.why != "metal":
        return None
    try:
        found = pillar_of(job, stop.axis, stop.need.end, metal_of(job).envelope, travel_left(job))
    except BadInputError:
        return None
    if found is None:
        return None
    bumper, mine, other = found
    return Pillar(bumper, mine, other, bumper_rests(job, stop.axis, stop.need.end, mine, other))


def pillar_rests(job: Job, axis: Axis, end: End) -> tuple[str, ...]:
    """What nobody measured of what decides the pillar at an end; none where there is no pillar."""
    line = stroke_of(job, axis).stroke
    if line is None or not any(n.end == end and n.why == "metal" for n in line.needs):
        return ()
    pillar = pillar_of(job, axis, end, metal_of(job).envelope, travel_left(job))
    return () if pillar is None else bumper_rests(job, axis, end, *pillar[1:])


def _bumper(
    envelope: Envelope, pairs: Sequence[Meeting], key: str, end: End, left: dict[str, Range]
) -> tuple[Bumper, Box, Box] | None:
    """The bumper between the member that the axis moves and what it would meet there.

    It stands on the machine's own metal and lands on such metal, never on a wheel or a chuck that turns.
    """
    member = next(m.id for m in envelope.members if m.axis == key)
    parts = [b for b in envelope.boxes if b.group]
    for pair in pairs:
        if all(key not in name.replace("-", "+").split("+") for name in pair.blocked):
            continue
        still = pair.b if envelope.moves(pair.a.member, pair.b.member).by_coordinate != ((), (), ()) else pair.a
        if member in (pair.b.member,):
            still = pair.a
        solids = [b for b in envelope.boxes if b.member == member and _bears(b) and b.member != still.member]
        for mine in sorted(solids, key=lambda b: -b.volume_mm3):
            for other in (still, pair.a, pair.b):
                if not _bears(other) or other.member == member:
                    continue
                try:
                    bumper = plan_bumper(envelope, mine, other, key, left, end == "high", parts)
                except BadInputError:
                    continue
                if bumper.lands:
                    return bumper, mine, other
    return None


def _bears(box: Box) -> bool:
    """Whether a pillar can be screwed to a box, or land on it."""
    return not box.group and not box.turns and not box.pose


def _over(envelope: Envelope, mine: Box, other: Box, key: str) -> str:
    """Over which other motions a bumper lands: “place of X and knee”."""
    moves = envelope.moves(mine.member, other.member)
    others = sorted({axis for terms in moves.by_coordinate for axis, _ in terms} - {key})
    return ("place of the " if others and len(others[0]) > 1 else "place of ") + " and ".join(others) if others else ""

"""The stroke of an axis from what the job knows: metal, what is given up, the scale's ends, and a feed's trips."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, finding
from vernus.core.machine.envelope import Box, Envelope, Range
from vernus.core.machine.meetings import Meeting
from vernus.core.machine.stroke import End, FeedRun, Meets, Pair, Stroke, review_trips, solve_stroke
from vernus.core.machine.travel_kept import TravelKept, blocked_along, keep_travel, with_reachable_least
from vernus.core.plan.scales import ScaleFamily
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    Delivery,
    Display,
    DrilledHole,
    Face,
    FamilyEdit,
    Hole,
    Machine,
    Measure,
    MountPart,
    PowerFeed,
    ReaderSetting,
    ScalePlan,
    SolidBox,
    TravelSurvey,
)
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import Sourced, feed_of, give_up, surveys_of, travel, unread
from vernus.job.known.lengths import family_of, margin, spare, spare_wanted
from vernus.job.known.run_on import run_on
from vernus.job.machine.geometry import axis_key, envelope_of, geometry_findings, low_end
from vernus.job.machine.planned import all_planned_parts
from vernus.job.refusals import refusal

READS = (
    Machine, Axis, Measure, SolidBox, Face, ScalePlan, FamilyEdit, Delivery, MountPart, PowerFeed, ReaderSetting,
    TravelSurvey, Display, DrilledHole, Hole,
)  # fmt: skip
_HAIR_MM = 1e-6


@dataclass(frozen=True)
class Metal:
    """The machine with every planned part: what is kept by metal alone, and within what is given up as well.

    ``within`` is None when nothing can be kept. Positions are the envelope's, 0 where the boxes are drawn. ``tight``
    names the parts between which there is metal clear of metal at home, but not the air wanted: solved without air.
    """

    envelope: Envelope
    result: TravelKept
    within: dict[str, Range] | None
    tight: tuple[tuple[str, str], ...] = ()


def metal_of(job: Job) -> Metal:
    """The envelope of the job solved from mark to mark; raises BadInputError for a machine that can't be one."""
    return job.derived("metal", lambda: _metal(job), READS)


def _metal(job: Job) -> Metal:
    problems = geometry_findings(job)
    if problems:
        raise BadInputError(problems[0].what.text())
    envelope = envelope_of(job, all_planned_parts(job))
    result, tight = keep_travel(envelope, tilt_by_hand=True), tuple[tuple[str, str], ...]()
    if result.kept is None and not result.blocked:
        envelope = with_reachable_least(envelope)
        less = keep_travel(envelope, tilt_by_hand=True)
        result = replace(less, findings=(*result.findings, *less.findings))
    elif result.kept is None:
        bare = envelope_of(job, all_planned_parts(job, air=False))
        without = keep_travel(bare, tilt_by_hand=True)
        if without.kept is not None:
            envelope, result, tight = bare, without, result.blocked
    return Metal(envelope, result, None if result.kept is None else _within(job, envelope, result.kept), tight)


def _within(job: Job, envelope: Envelope, kept: Mapping[str, Range]) -> dict[str, Range]:
    """The travels kept with what is given up taken off, and what that frees on other axes given back to them.

    Metal is solved from mark to mark first, so that nothing given up ever moves a stop that metal needs.
    """
    useful = dict(envelope.full)
    for axis in job.axes():
        key, (low, high) = axis_key(job, axis), give_up(axis)
        if key in useful and useful[key][0] + low < useful[key][1] - high:
            useful[key] = (useful[key][0] + low, useful[key][1] - high)
    within = {k: (max(a, useful[k][0]), min(b, useful[k][1])) for k, (a, b) in kept.items()}
    within = {k: (a, b) if a <= b else kept[k] for k, (a, b) in within.items()}
    if within == dict(kept):
        return within
    for axis_ in envelope.axes:
        first, last = useful[axis_.id]
        home = min(within[axis_.id][1], max(within[axis_.id][0], axis_.home_mm))
        for _, (start, end) in blocked_along(envelope, within, axis_.id):
            first, last = (max(first, end), last) if end <= home else (first, min(last, start))
        within[axis_.id] = (min(first, within[axis_.id][0]), max(last, within[axis_.id][1]))
    return within


@dataclass(frozen=True)
class AxisStroke:
    """The stroke of an axis, ``None`` where it can't be solved, and everything there is to say of it.

    ``blocks`` is the pair of boxes that decides at each end where metal does.
    """

    stroke: Stroke | None
    run_on: Sourced[Pair] | None
    blocks: dict[End, Meeting]
    findings: tuple[Finding, ...]


def stroke_of(job: Job, axis: Axis) -> AxisStroke:
    """The one line of an axis that every sheet and page draws and reads."""
    return job.derived(("stroke", axis.id), lambda: _stroke(job, axis, scale_ends(job, axis)))


def candidate_stroke(job: Job, axis: Axis, family: ScaleFamily, measuring_mm: float) -> Stroke | None:
    """The line with another scale on it than the one chosen, lying as the plan wants it."""
    far = travel(job, axis)
    if far is None:
        return None
    low, high = give_up(axis)
    rest, wanted = measuring_mm - family.head_mm - (far.value - low - high), spare_wanted(job, axis)
    first = rest / 2 if wanted is None else wanted[1] if wanted[0] == "low" else rest - wanted[1]
    ends = (low - first, far.value - high + rest - first)
    return _stroke(job, axis, ends if ends[0] < ends[1] else None).stroke


def _stroke(job: Job, axis: Axis, scale_mm: Pair | None) -> AxisStroke:
    far = travel(job, axis)
    if far is None:
        return AxisStroke(None, None, {}, ())
    try:
        ran = run_on(job, axis)
        met = _met(job, axis)
        feed = feed_of(job, axis)
        run = None if feed is None or ran.run_on is None else FeedRun(ran.run_on.value, max(0.0, feed.clear.mm))
        surveys = surveys_of(job, axis)
        solved = solve_stroke(
            far.value,
            home_mm=min(far.value, max(0.0, -low_end(job, axis))),
            meets=[m for m, _ in met],
            give_up_mm=give_up(axis),
            scale_mm=scale_mm,
            margin_mm=stop_margins(job, axis),
            feed=run,
            u_mm=surveys[0][1].expanded_mm if surveys else 0.0,
            unread_mm=unread(axis),
        )
    except BadInputError as error:
        return AxisStroke(None, None, {}, (refusal(error),))
    found = [*_metal_unknown(job), *solved.findings]
    if feed is not None:
        set_mm = (mm_of(feed.set_low), mm_of(feed.set_high))
        found += ran.findings if axis.drive == "new" else ()
        found += review_trips(solved, ran.run_on.value if ran.run_on is not None else (0.0, 0.0), set_mm)
    blocks: dict[End, Meeting] = {}
    for need in solved.needs:
        if need.why == "metal":
            at = need.before_mark_mm if need.end == "low" else far.value - need.before_mark_mm
            ends = [(pair, m.to_mm if need.end == "low" else m.from_mm) for m, pair in met]
            blocks[need.end] = min(ends, key=lambda e: abs(e[1] - at))[0]
    return AxisStroke(solved, ran.run_on, blocks, tuple(found))


def _met(job: Job, axis: Axis) -> list[tuple[Meets, Meeting]]:
    """Where the axis meets metal while every other one is in the travel it keeps, counted from its low mark."""

    def make() -> list[tuple[Meets, Meeting]]:
        try:
            metal = metal_of(job)
        except BadInputError:
            return []
        key, low = axis_key(job, axis), low_end(job, axis)
        if metal.within is None or all(a.id != key for a in metal.envelope.axes):
            return []
        found: list[tuple[Meets, Meeting]] = []
        for pair, (start, end) in blocked_along(metal.envelope, metal.within, key):
            span = _beside(-low, start - low, end - low)
            found.append((Meets(_other(metal.envelope, pair, key).name, *span), pair))
        return found

    return job.derived(("met", axis.id), make, READS)


def _beside(home: float, start: float, end: float) -> Pair:
    """An interval that rounds a hair over home only touches it."""
    if start < home < end and min(home - start, end - home) < _HAIR_MM:
        return (home, end) if home - start < end - home else (start, home)
    return start, end


def metal_unknown(job: Job) -> str:
    """Why nobody can say what meets; empty where it is known, or where there is no machine to meet."""
    if not job.machine.members:
        return ""
    try:
        return "two boxes meet with every axis at home" if metal_of(job).within is None else ""
    except BadInputError as error:
        return str(error).rstrip(".")


def blocked_at_home(job: Job, axis: Axis) -> bool:
    """Whether a part of the axis's own scale meets another where the machine is drawn: then it can't be there."""
    try:
        blocked = metal_of(job).result.blocked if metal_of(job).within is None else ()
    except BadInputError:
        return False
    return any(name.startswith(f"{axis.name} scale ") for pair in blocked for name in pair)


def _metal_unknown(job: Job) -> list[Finding]:
    """A finding where nobody can say what meets: then no stop on the line is the last word."""
    why = metal_unknown(job)
    if not why:
        return []
    return [
        finding(
            "metal-unknown",
            "stop",
            "Where metal meets on this axis is not known: {why}.",
            "Settle that on the Machine and Envelope sheets first; until then fit no stop by this line.",
            why=why,
        ).told_of("feed")
    ]


def _other(envelope: Envelope, pair: Meeting, key: str) -> Box:
    """Of two boxes that meet, the one that the axis doesn't move; the machine's own where that is not told."""
    member = next(m.id for m in envelope.members if m.axis == key)
    carried = {m.id for m in envelope.members if _stands_on(envelope, m.id, member)}
    still = [b for b in (pair.a, pair.b) if b.member not in carried]
    return still[0] if still else pair.b


def _stands_on(envelope: Envelope, member: str, below: str) -> bool:
    on = {m.id: m.on for m in envelope.members}
    at: str | None = member
    while at is not None and at != below:
        at = on[at]
    return at == below


def scale_ends(job: Job, axis: Axis) -> Pair | None:
    """The axis's positions, from the low mark, with the reader at either end of the measuring length."""
    known, far = spare(job, axis), travel(job, axis)
    if known is None or far is None:
        return None
    low, high = give_up(axis)
    ends = (low - known.value[0], far.value - high + known.value[1])
    return ends if ends[0] < ends[1] else None


def stop_margins(job: Job, axis: Axis) -> Pair:
    """The margins that ask for a stop: none where the scale has no end to be driven into."""
    family = family_of(job, axis)
    return (0.0, 0.0) if family is not None and family.open_ended else margins_of(job, axis)


def margins_of(job: Job, axis: Axis) -> Pair:
    """The margin that counts at the low and the high end: where less spare was asked for on purpose, that.

    A scale sold by its usable stroke needs none.
    """
    family = family_of(job, axis)
    wanted, habit = spare_wanted(job, axis), margin(job, axis).value
    habit = habit if family is None else family.wanted_margin(habit)
    if wanted is None:
        return habit, habit
    end, mm = wanted
    return (min(habit, mm), habit) if end == "low" else (habit, min(habit, mm))

"""The job card in evenings: when each step is done, what is left, what is waited for, and what would end it sooner.

Hours to begin with come from the trade's own: an axis takes two to three hours, an awkward quill three, a power feed
one to two (common practice, no source); typed ones go before them, and so does the median of what steps of the same
kind took you, in this job and your others.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Sentence, finding
from vernus.core.keep.evenings import HoursLeft, Plan, TimedStep, hours_left, longest_evening, plan_evenings
from vernus.core.keep.schedule import still_needed
from vernus.job.document import Job
from vernus.job.entities import EveningPlan, OwnStep, Step
from vernus.job.formats.schedule import WEEKDAYS, Evenings
from vernus.job.keep.card import CardLine
from vernus.job.keep.evenings.days import read_day, read_days
from vernus.job.keep.evenings.hours import StepHours, evening_plan, kind_of, ratios_of, waits_of
from vernus.job.keep.steps_own import falls_due, own_step
from vernus.job.moments import day_words, own_date

_IN_ONE_GO = ("align", "mesh", "stick", "bind")
"""What isn't left half done overnight: a sweep between two passes, a mesh not yet tight; common practice, no source."""


@dataclass(frozen=True)
class Delivery:
    """Something that is waited for: the step that sent for it, what it is, and the day it should come."""

    key: str
    words: str
    day: date


@dataclass(frozen=True)
class CardPlan:
    """Hours by step, the days they fall on (none without evenings), what is left, what ends it sooner."""

    hours: dict[str, float]
    days: dict[str, tuple[date, ...]]
    left: HoursLeft
    finish: date | None
    sooner: Sentence | None
    findings: tuple[Finding, ...]
    evenings: dict[date, tuple[tuple[str, float], ...]] = field(default_factory=dict)
    """What falls on each evening: (key, hours) each."""
    comes: tuple[Delivery, ...] = ()
    """What is waited for, with the day it should come."""
    waits: dict[str, int] = field(default_factory=dict)
    """The days to wait after each step that takes an evening's time."""


def plan_card(job: Job, lines: Sequence[CardLine], today: date) -> CardPlan:
    """The steps still to do in the evenings there are, from ``today`` or the day said."""
    times = StepHours(job)
    hours = {c.step.key: times.of(c.step.key) if c.done else times.left(c.step.key) for c in lines}
    lines = [c for c in lines if not falls_due(job, c.step.key)]
    open_ = [c for c in lines if not c.done]
    waits = {c.step.key: waits_of(job, c.step.key) for c in lines}
    own = {c.step.key for c in open_ if times.took(c.step.key) is not None}
    guessed = [hours[c.step.key] for c in open_ if c.step.key not in own]
    left = hours_left(guessed, ratios_of(job), [hours[key] for key in own])
    said = evening_plan(job)
    findings: list[Finding] = []
    days: dict[str, tuple[date, ...]] = {}
    finish, sooner = None, None
    comes: tuple[Delivery, ...] = ()
    falls: dict[date, tuple[tuple[str, float], ...]] = {}
    try:
        evenings = None if said is None else evenings_of(said, today)
        if evenings is not None and any(evenings.hours) and open_:
            timed = _timed(job, lines, hours, evenings.start)
            plan = plan_evenings(timed, 0, evenings.on())
            days, falls = _days(plan, evenings), _falls(plan, evenings)
            finish = evenings.start + timedelta(days=plan.finish)
            findings += _told(lines, timed, plan, evenings)
            sooner = _sooner(lines, timed, plan, evenings)
            comes = _deliveries(lines, timed, plan, evenings)
    except BadInputError as error:
        findings.append(finding("no-evenings", "caution", "{text}", "Correct it under Evenings.", text=str(error)))
    return CardPlan(hours, days, left, finish, sooner, tuple(findings), falls, comes, waits)


def evenings_of(said: EveningPlan, today: date) -> Evenings:
    """The evenings as said, less setting up and packing up; raises BadInputError for a day that is none."""
    start = today if not said.starts.strip() else max(today, read_day(said.starts))
    around = (min(max(said.set_up, 0.0), 240.0) + min(max(said.pack_up, 0.0), 240.0)) / 60
    hours = tuple(max(0.0, float(getattr(said, d)) - around) for d in WEEKDAYS)
    return Evenings(start, hours, read_days(said.away))


def _timed(job: Job, lines: Sequence[CardLine], hours: dict[str, float], start: date) -> list[TimedStep]:
    """What is open with its hours, and what is done with the days it still makes others wait."""
    done_on = {s.key: s.changed for s in job.all(Step) if s.done and s.changed}
    needs = {line.step.key: line.step.needs for line in lines}
    done = {line.step.key for line in lines if line.done}
    timed = []
    for line in lines:
        key, wait = line.step.key, waits_of(job, line.step.key)
        if line.done:
            since = own_date(done_on[key]) if key in done_on else None
            rest = 0 if since is None else max(0, (since + timedelta(days=wait) - start).days)
            timed.append(TimedStep(key, 0.0, (), rest))
            continue
        own = own_step(job, key)
        at_once = (own.after,) if own is not None and own.waits == "no" and own.after in line.step.needs else ()
        every = {*line.step.needs, *still_needed(key, needs, done)}
        before = tuple(n for n in (*line.step.needs, *sorted(every - set(line.step.needs))) if n not in at_once)
        timed.append(TimedStep(key, hours[key], before, wait, at_once, kind_of(key) in _IN_ONE_GO, _pinned(own, start)))
    begun = {s.key for s in job.all(Step) if s.minutes and not s.done}  # what was begun is gone on with
    return [*(t for t in timed if t.key in begun), *(t for t in timed if t.key not in begun)]


_COMES = {"order": "The parcel should come: what was ordered.", "missing": "What was missing should come."}


def _deliveries(
    lines: Sequence[CardLine], timed: Sequence[TimedStep], plan: Plan, evenings: Evenings
) -> tuple[Delivery, ...]:
    """The days on which what was ordered should come, as long as it isn't there."""
    waits, on = {s.key: s.wait_days for s in timed}, {s.key: s.day for s in plan.steps}
    done = {c.step.key for c in lines if c.done}
    found = []
    for line in lines:
        key, words = line.step.key, _COMES.get(kind_of(line.step.key))
        for_it = {c.step.key for c in lines if key in c.step.needs}
        if words is None or not waits[key] or (key in done and (not for_it - done or for_it & done)):
            continue
        found.append(Delivery(key, words, evenings.date(on[key] + waits[key])))
    return tuple(found)


def _pinned(own: OwnStep | None, start: date) -> int | None:
    """The day a step of one's own is pinned to, counted from the start; a day gone by pins nothing."""
    if own is None or not own.on_day.strip():
        return None
    number = (read_day(own.on_day) - start).days
    return number if number >= 0 else None


def _told(lines: Sequence[CardLine], timed: Sequence[TimedStep], plan: Plan, evenings: Evenings) -> list[Finding]:
    """What the plan can't keep to: a day pinned too early, a step longer than any evening."""
    words = {c.step.key: c.step.words.rstrip(".") for c in lines}
    on = {s.key: s.day for s in plan.steps}
    longest, found = longest_evening(0, evenings.on()), []
    for step in timed:
        if step.on_day is not None and on[step.key] > step.on_day:
            said = {
                "words": words[step.key],
                "day": day_words(evenings.date(step.on_day)),
                "then": day_words(evenings.date(on[step.key])),
            }
            told = "“{words}” is pinned to {day}; what it needs is done later, so it falls on {then}."
            found.append(
                finding("pinned-early", "caution", told, "Pin it to a later day, or put it after less.", **said)
            )
    long = [s for s in timed if s.whole and s.hours > longest + 1e-9]
    if long:
        said = {"words": words[long[0].key], "hours": f"{long[0].hours:.2g}", "longest": f"{longest:.2g}"}
        told = "“{words}” takes {hours} h in one go and no evening leaves more than {longest} h: it is split."
        found.append(finding("split", "caution", told, "Keep one longer evening for it.", **said))
    return found


def _days(plan: Plan, evenings: Evenings) -> dict[str, tuple[date, ...]]:
    return {s.key: tuple(evenings.start + timedelta(days=d) for d, _ in s.slots) for s in plan.steps if s.slots}


def _falls(plan: Plan, evenings: Evenings) -> dict[date, tuple[tuple[str, float], ...]]:
    found: dict[date, list[tuple[str, float]]] = {}
    for step in plan.steps:
        for number, hours in step.slots:
            found.setdefault(evenings.start + timedelta(days=number), []).append((step.key, hours))
    return {day: tuple(found[day]) for day in sorted(found)}


def _sooner(lines: Sequence[CardLine], timed: Sequence[TimedStep], plan: Plan, evenings: Evenings) -> Sentence | None:
    """A step that others wait for days after: begun first, with what it needs, the whole is done sooner.

    Found by planning it so. Nothing that others wait for may come later than it would have.
    """
    by_key = {s.key: s for s in timed}
    words = {c.step.key: c.step.words for c in lines}
    rested_on = {s.key: s.day for s in plan.steps if by_key[s.key].wait_days and by_key[s.key].hours}
    best: tuple[int, TimedStep] | None = None
    for step in (by_key[key] for key in rested_on):
        first = _closure(step, by_key)
        order = [*(s for s in timed if s.key in first), *(s for s in timed if s.key not in first)]
        other = plan_evenings(order, 0, evenings.on())
        later = any(s.day > rested_on[s.key] for s in other.steps if s.key in rested_on)
        if not later and other.finish < plan.finish and (best is None or other.finish < best[0]):
            best = (other.finish, step)
    if best is None:
        return None
    finish, step = best
    return Sentence(
        "Sooner: do “{words}” and what it needs first; it waits {days} days. Then it ends on {then}, not {now}.",
        {
            "words": words[step.key].rstrip("."),
            "days": step.wait_days,
            "then": day_words(evenings.date(finish)),
            "now": day_words(evenings.date(plan.finish)),
        },
    )


def _closure(step: TimedStep, by_key: dict[str, TimedStep]) -> set[str]:
    found, open_ = set[str](), [step.key]
    while open_:
        key = open_.pop()
        if key not in found:
            found.add(key)
            open_ += [*by_key[key].needs, *by_key[key].at_once]
    return found

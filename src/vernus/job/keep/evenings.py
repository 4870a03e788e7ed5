"""The job card in evenings: how long each step takes, when it is done, what is left, and what would end it sooner.

Hours to begin with come from the trade's own: an axis takes two to three hours, an awkward quill three, a power feed
one to two (common practice, no source); typed ones go before them, and so does the median of what steps of the same
kind took you, in this job and your others.
"""

from __future__ import annotations

import re
import statistics
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Sentence, finding
from vernus.core.keep.evenings import HoursLeft, Plan, TimedStep, hours_left, plan_evenings
from vernus.core.keep.schedule import still_needed
from vernus.job.document import Job
from vernus.job.entities import EveningPlan, MountPart, OwnStep, Step
from vernus.job.formats.schedule import WEEKDAYS, Evenings
from vernus.job.keep.card import CardLine
from vernus.job.keep.own import Took, took_elsewhere
from vernus.job.known import family_of

HOURS: dict[str, float] = {
    "isolate": 0.1, "survey": 0.25, "plan": 0.5, "order": 0.25, "receive": 0.25, "missing": 0.1, "stops": 1.0,
    "hold": 0.25, "run": 0.25, "mark": 0.25, "reach": 0.1, "drill": 0.75, "rodguard": 0.25, "align": 0.75, "rod": 0.25,
    "snug": 0.25, "other": 0.25, "bind": 0.25, "reader": 0.25, "cover": 0.25, "cables": 0.5, "powerup": 0.25,
    "calibrate": 0.5, "prove": 0.5, "fit": 0.25, "off": 0.25, "trip": 0.25, "mesh": 0.5, "guard": 0.25, "runon": 0.25,
    "feed": 0.25, "test": 0.25, "again": 0.5, "by-hand": 0.0, "rub": 0.1, "make": 1.0, "feedpart": 1.0, "noteoff": 0.25,
    "takeoff": 0.5, "putback": 1.0, "paint": 1.0, "clean": 0.5, "stick": 0.5,
    "roll": 0.25,
}  # fmt: skip
BEAM_HOURS: dict[str, float] = {
    "plan": 0.25, "run": 0.1, "mark": 0.1, "drill": 0.5, "align": 0.25, "cover": 0.1, "prove": 0.25, "make": 0.5,
}  # fmt: skip
"""A beam with a readout of its own is hung in an evening: short, light, no gap to set and no cable to lead."""
OTHER_HOURS = 0.5
MOST_DAYS = 365
"""As long as a delivery or a wait is reckoned with; a longer one is a slip, and told as one."""
PAINT_DAYS = 1
ADHESIVE_DAYS = 1
"""Days that paint and adhesive take, where the maker says nothing else; common practice, no source."""
_FALLS_DUE = ("rub", "by-hand")
"""What has a day of its own and fills no evening."""
_RANGE = re.compile(r"^(\d{4}-\d{2}-\d{2})(?:\s*(?:to|\.\.|–|-)\s*(\d{4}-\d{2}-\d{2}))?$")


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


def kind_of(key: str) -> str:
    """The kind of a step: its key without the axis."""
    return next((k for k in sorted(HOURS, key=len, reverse=True) if key == k or key.startswith(f"{k}-")), key)


def evening_plan(job: Job) -> EveningPlan | None:
    """When the user works on the job, if it was said."""
    found = job.all(EveningPlan)
    return found[-1] if found else None


def hours_of(job: Job, key: str) -> float:
    """The hours a step will take: as typed, as steps of its kind took, as the trade says."""
    steps = {s.key: s for s in job.all(Step)}
    said = steps.get(key)
    if said is not None and said.hours is not None:
        return said.hours
    own = next((o for o in job.all(OwnStep) if f"own-{o.id}" == key), None)
    if own is not None:
        return own.hours
    took = took_of(job, key)
    return usual_hours(job, key) if took is None else took


def usual_hours(job: Job, key: str) -> float:
    """The hours the trade gives a step, by the family of its axis's scale."""
    kind = kind_of(key)
    usual = HOURS.get(kind, OTHER_HOURS)
    part = job.get(key.removeprefix("make-")) if kind == "make" else None
    for axis in job.axes():
        mine = part.axis_id == axis.id if isinstance(part, MountPart) else key == f"{kind}-{axis.name}"
        family = family_of(job, axis) if mine and axis.readout == "own" else None
        if family is not None and family.body_type == "beam":
            return BEAM_HOURS.get(kind, usual)
    return usual


def took_of(job: Job, key: str) -> float | None:
    """The hours that steps of this kind took; None where none was timed, or where hours were typed for this one."""
    said = next((s for s in job.all(Step) if s.key == key), None)
    if (said is not None and said.hours is not None) or key.startswith("own-"):
        return None
    took = [hours for kind, hours, _ in (*took_here(job), *took_elsewhere(job.info.id)) if kind == kind_of(key)]
    return statistics.median(took) if took else None


def waits_of(job: Job, key: str) -> int:
    """The days to wait after a step: for the delivery, for what was missing, or as said of an own step."""
    plan = evening_plan(job)
    delivery = round(min(max(plan.delivery_days, 0), MOST_DAYS)) if plan is not None else 9
    own = next((o for o in job.all(OwnStep) if f"own-{o.id}" == key), None)
    if own is not None:
        return round(min(max(own.wait_days, 0), MOST_DAYS))
    waits = {"order": delivery, "missing": delivery, "paint": PAINT_DAYS, "roll": ADHESIVE_DAYS}
    return waits.get(kind_of(key), 0)


def took_here(job: Job) -> Took:
    """What the steps timed in this job took: kind, hours, and the estimate, the trade's or the one typed."""
    found = []
    for step in job.all(Step):
        guess = step.hours if step.hours is not None else usual_hours(job, step.key)
        if step.minutes and guess > 0:
            found.append((kind_of(step.key), step.minutes / 60, guess))
    return tuple(found)


def ratios_of(job: Job) -> list[float]:
    """Actual over estimate of the steps that were timed, in this job and the user's others."""
    return [hours / guess for _, hours, guess in (*took_here(job), *took_elsewhere(job.info.id))]


def plan_card(job: Job, lines: Sequence[CardLine], today: date) -> CardPlan:
    """The steps still to do in the evenings there are, from ``today`` or the day said."""
    hours = {c.step.key: hours_of(job, c.step.key) for c in lines}
    lines = [c for c in lines if kind_of(c.step.key) not in _FALLS_DUE]
    open_ = [c for c in lines if not c.done]
    own = {c.step.key for c in open_ if took_of(job, c.step.key) is not None}
    guessed = [hours[c.step.key] for c in open_ if c.step.key not in own]
    left = hours_left(guessed, ratios_of(job), [hours[key] for key in own])
    said = evening_plan(job)
    findings: list[Finding] = []
    days: dict[str, tuple[date, ...]] = {}
    finish, sooner = None, None
    falls: dict[date, tuple[tuple[str, float], ...]] = {}
    try:
        evenings = None if said is None else evenings_of(said, today)
        if evenings is not None and any(evenings.hours) and open_:
            timed = _timed(job, lines, hours, evenings.start)
            plan = plan_evenings(timed, 0, evenings.on())
            days, falls = _days(plan, evenings), _falls(plan, evenings)
            finish = evenings.start + timedelta(days=plan.finish)
            sooner = _sooner(job, lines, timed, plan, evenings)
    except BadInputError as error:
        findings.append(finding("no-evenings", "caution", "{text}", "Correct it under Evenings.", text=str(error)))
    return CardPlan(hours, days, left, finish, sooner, tuple(findings), falls)


def evenings_of(said: EveningPlan, today: date) -> Evenings:
    """The evenings as said; raises BadInputError for a day that is none."""
    start = today if not said.starts.strip() else max(today, _day(said.starts.strip()))
    away: set[date] = set()
    for part in (p.strip() for p in said.away.replace(";", ",").split(",")):
        found = _RANGE.match(part)
        if not part:
            continue
        if found is None:
            raise BadInputError(f"“{part[:40]}” is no day away; write 2027-02-01, or 2027-02-01 to 2027-02-07.")
        first, last = _day(found[1]), _day(found[2] or found[1])
        if not 0 <= (last - first).days <= 3660:
            raise BadInputError(f"“{part[:40]}” ends before it begins, or years later.")
        away |= {first + timedelta(days=n) for n in range((last - first).days + 1)}
    return Evenings(start, tuple(float(getattr(said, d)) for d in WEEKDAYS), frozenset(away))


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise BadInputError(f"“{text[:20]}” is no day; write one such as 2027-01-31.") from None


def _timed(job: Job, lines: Sequence[CardLine], hours: dict[str, float], start: date) -> list[TimedStep]:
    """What is open with its hours, and what is done with the days it still makes others wait."""
    done_on = {s.key: s.changed for s in job.all(Step) if s.done and s.changed}
    needs = {line.step.key: line.step.needs for line in lines}
    done = {line.step.key for line in lines if line.done}
    timed = []
    for line in lines:
        key, wait = line.step.key, waits_of(job, line.step.key)
        if not line.done:
            behind = sorted(still_needed(key, needs, done) - set(line.step.needs))
            timed.append(TimedStep(key, hours[key], (*line.step.needs, *behind), wait))
            continue
        since = datetime.fromisoformat(done_on[key]).astimezone().date() if key in done_on else None
        rest = 0 if since is None else max(0, (since + timedelta(days=wait) - start).days)
        timed.append(TimedStep(key, 0.0, (), rest))
    return timed


def _days(plan: Plan, evenings: Evenings) -> dict[str, tuple[date, ...]]:
    return {s.key: tuple(evenings.start + timedelta(days=d) for d, _ in s.slots) for s in plan.steps if s.slots}


def _falls(plan: Plan, evenings: Evenings) -> dict[date, tuple[tuple[str, float], ...]]:
    found: dict[date, tuple[tuple[str, float], ...]] = {}
    for step in plan.steps:
        for number, hours in step.slots:
            day = evenings.start + timedelta(days=number)
            found[day] = (*found.get(day, ()), (step.key, hours))
    return dict(sorted(found.items()))


def _sooner(
    job: Job, lines: Sequence[CardLine], timed: Sequence[TimedStep], plan: Plan, evenings: Evenings
) -> Sentence | None:
    """A step that others wait for days after: begun first, with what it needs, the whole is done sooner."""
    by_key = {s.key: s for s in timed}
    words = {c.step.key: c.step.words for c in lines}
    best: tuple[int, TimedStep] | None = None
    for step in timed:
        if not step.wait_days or not step.hours:
            continue
        first = _closure(step, by_key)
        order = [*(s for s in timed if s.key in first), *(s for s in timed if s.key not in first)]
        finish = plan_evenings(order, 0, evenings.on()).finish
        if finish < plan.finish and (best is None or finish < best[0]):
            best = (finish, step)
    if best is None:
        return None
    finish, step = best
    return Sentence(
        "Sooner: do “{words}” and what it needs first; it waits {days} days. Then it ends on {then}, not {now}.",
        {
            "words": words[step.key].rstrip("."),
            "days": step.wait_days,
            "then": evenings.day(finish),
            "now": evenings.day(plan.finish),
        },
    )


def _closure(step: TimedStep, by_key: dict[str, TimedStep]) -> set[str]:
    found, open_ = set[str](), [step.key]
    while open_:
        key = open_.pop()
        if key not in found:
            found.add(key)
            open_ += by_key[key].needs
    return found


def began(step: Step, now: datetime) -> Step:
    """The step with its clock running."""
    return _changed(step, begun=now.isoformat(timespec="seconds"))


def stopped(step: Step, now: datetime) -> Step:
    """The step with its clock stopped and the minutes added."""
    if not step.begun:
        return step
    minutes = max(0.0, (now - datetime.fromisoformat(step.begun)).total_seconds() / 60)
    return _changed(step, begun="", minutes=round((step.minutes or 0.0) + min(minutes, 24 * 60), 1))


def _changed(step: Step, **changes: object) -> Step:
    made = step.with_(**changes)
    assert isinstance(made, Step)
    return made

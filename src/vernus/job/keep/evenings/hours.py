"""The hours a step takes and the days it makes others wait: as typed, as such steps took, as the trade says."""

from __future__ import annotations

import statistics
from collections.abc import Mapping
from functools import lru_cache

from vernus.job.document import Job
from vernus.job.entities import EveningPlan, MountPart, Step
from vernus.job.errors import JobContentError
from vernus.job.keep.own import Took, took_elsewhere
from vernus.job.keep.steps_own import own_step
from vernus.job.known.lengths import family_of

HOURS: dict[str, float] = {
    "screws": 0.25, "screwend": 0.25, "isolate": 0.1,
    "survey": 0.25, "plan": 0.5, "order": 0.25, "receive": 0.25, "missing": 0.1, "stops": 1.0,
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


_LONGEST_FIRST = sorted(HOURS, key=len, reverse=True)


def hours_words(hours: float) -> str:
    """Hours to the minute or so, without noughts at the end: 0.25, 1.25, 2."""
    return f"{hours:.2f}".rstrip("0").rstrip(".")


@lru_cache(maxsize=4096)
def kind_of(key: str) -> str:
    """The kind of a step: its key without the axis."""
    return next((k for k in _LONGEST_FIRST if key == k or key.startswith(f"{k}-")), key)


def evening_plan(job: Job) -> EveningPlan | None:
    """When the user works on the job, if it was said."""
    found = job.all(EveningPlan)
    return found[-1] if found else None


_NOT_OF_THE_NEXT = frozenset({"id", "created", "changed", "note", "starts"})


def evenings_to_keep(job: Job) -> dict[str, object]:
    """When the user works, as the next job begins with it: all but the day this job started; empty where not said."""
    said = evening_plan(job)
    return {} if said is None else {k: v for k, v in dict(said).items() if k not in _NOT_OF_THE_NEXT}


def kept_evenings(kept: Mapping[str, object]) -> EveningPlan | None:
    """Those evenings for a new job; None where none were kept, or where they can't be read."""
    try:
        return EveningPlan(id="evenings").with_(**kept) if kept else None
    except JobContentError:
        return None


class StepHours:
    """The hours steps of a job take, as things stand: as typed, as such steps took, as the trade says."""

    def __init__(self, job: Job) -> None:
        self._job = job
        self._said = {s.key: s.hours for s in job.all(Step) if s.hours is not None}
        self._spent = {s.key: s.minutes / 60 for s in job.all(Step) if s.minutes and not s.done}
        every: dict[str, list[float]] = {}
        for kind, hours, _ in (*took_here(job), *took_elsewhere(job.info.id)):
            every.setdefault(kind, []).append(hours)
        self._took = {kind: statistics.median(hours) for kind, hours in every.items()}

    def took(self, key: str) -> float | None:
        """What steps of this kind took; None where none was timed, or where hours were typed for this one."""
        return None if key in self._said or key.startswith("own-") else self._took.get(kind_of(key))

    def of(self, key: str) -> float:
        """The hours of a step."""
        if key in self._said:
            return self._said[key]
        own = own_step(self._job, key)
        if own is not None:
            return own.hours
        took = self.took(key)
        return usual_hours(self._job, key) if took is None else took

    def left(self, key: str) -> float:
        """The hours left of an open step: less what was worked at it; a quarter of an hour where that is all gone."""
        whole, spent = self.of(key), self._spent.get(key, 0.0)
        gone = spent > 0 and whole - spent <= _ALL_GONE
        return min(whole, _LEAST_LEFT) if gone else whole - spent


_ALL_GONE, _LEAST_LEFT = 0.005, 0.25
"""Hours: where less than the first is left of the estimate, the second is reckoned with; own choice, no source."""


def hours_of(job: Job, key: str) -> float:
    """The hours a step will take: as typed, as steps of its kind took, as the trade says."""
    return StepHours(job).of(key)


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


def waits_of(job: Job, key: str) -> int:
    """The days to wait after a step: for the delivery, for what was missing, or as said of an own step."""
    plan = evening_plan(job)
    delivery = round(min(max(plan.delivery_days, 0), MOST_DAYS)) if plan is not None else 9
    own = own_step(job, key)
    if own is not None:
        return round(min(max(own.wait_days, 0), MOST_DAYS))
    waits = {"order": delivery, "missing": delivery, "paint": PAINT_DAYS, "roll": ADHESIVE_DAYS}
    return waits.get(kind_of(key), 0)


def took_here(job: Job) -> Took:
    """What the steps timed and ticked in this job took: kind, hours, and the estimate, the trade's or the one typed."""
    found = []
    for step in (s for s in job.all(Step) if s.done and s.minutes):
        guess = step.hours if step.hours is not None else usual_hours(job, step.key)
        if guess > 0:
            found.append((kind_of(step.key), (step.minutes or 0.0) / 60, guess))
    return tuple(found)


def ratios_of(job: Job) -> list[float]:
    """Actual over estimate of the steps that were timed, in this job and the user's others."""
    return [hours / guess for _, hours, guess in (*took_here(job), *took_elsewhere(job.info.id))]

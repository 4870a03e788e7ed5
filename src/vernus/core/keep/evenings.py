"""When the steps of a job are done: one after the other in the evenings there are, nothing before what it needs.

Serial by list order among what is ready. A step that is begun is gone on with until it is done, over several evenings
if need be; then the first in the list that is ready is taken. What a step needs must be finished, and its waiting days
(delivery, adhesive, paint) over: a step finished on day d with n waiting days lets go on day d + n. A step that is
done in one go waits for an evening that holds it, and others are done meanwhile. Days are whole
numbers; this module has no clock and no calendar. A scheduling rule of our own; no source.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.keep.schedule import JobStep, order_steps

MOST_DAYS = 40_000  # more than a hundred years
_YEAR = 366
_HAIR = 1e-9  # hours


@dataclass(frozen=True)
class TimedStep:
    """A step with the hours it takes, what must be done before, and the days to wait after it."""

    key: str
    hours: float
    needs: tuple[str, ...] = ()
    wait_days: int = 0
    at_once: tuple[str, ...] = ()
    """What must be done before without its waiting days: the shop is free while the parcel is on its way."""
    whole: bool = False
    """Begun only where the evening holds all of it; split like any other where no evening is that long."""
    on_day: int | None = None
    """The day it is pinned to: done first on that day, also where there are no hours; later where it isn't ready."""


@dataclass(frozen=True)
class Slotted:
    """A step in its evenings: (day, hours) each; none for one that takes no time, done on ``day``."""

    key: str
    slots: tuple[tuple[int, float], ...]
    day: int


@dataclass(frozen=True)
class Plan:
    """Every step in its evenings, in the order done, and the day of the last."""

    steps: tuple[Slotted, ...]
    finish: int


def plan_evenings(steps: Sequence[TimedStep], first_day: int, hours_on: Callable[[int], float]) -> Plan:
    """The steps in evenings from ``first_day``; ``hours_on`` a day is what there is, 0 where there is none.

    Raises BadInputError for steps that need each other in a circle or one that isn't there, for negative or endless
    hours, for hours that no day has, and for more than a hundred years.
    """
    _check(steps)
    work = _Work(steps, longest_evening(first_day, hours_on))
    for day in range(first_day, first_day + MOST_DAYS):
        work.evening(day, hours_on(day))
        if not work.left:
            return Plan(tuple(work.done), max((s.day for s in work.done), default=first_day))
    raise BadInputError("In a hundred years these steps aren't done; give more hours, or take some days away back.")


def longest_evening(first_day: int, hours_on: Callable[[int], float]) -> float:
    """The longest evening of the year that follows: a whole step longer than that is split like any other."""
    return max(hours_on(day) for day in range(first_day, first_day + _YEAR))


class _Work:
    """What is left to do, what is in hand, and what was done when."""

    def __init__(self, steps: Sequence[TimedStep], longest: float) -> None:
        self.steps, self.longest = steps, longest
        self.left = {s.key: s.hours for s in steps}
        self.done: list[Slotted] = []
        self._over: dict[str, int] = {}
        self._free: dict[str, int] = {}
        self._slots: dict[str, list[tuple[int, float]]] = {s.key: [] for s in steps}
        self._in_hand: TimedStep | None = None

    def evening(self, day: int, room: float) -> None:
        """Work through one evening of ``room`` hours: first what is pinned to the day, with hours of its own."""
        self._settle(day)
        for pinned in self.steps:
            if pinned.on_day == day and pinned.key in self.left and self._ready(pinned, day):
                took = self.left[pinned.key]
                self._spend(pinned, day, took)
                room = max(0.0, room - took)
        while True:
            step = self._next(day, room) if self._in_hand is None else self._in_hand
            if step is None or (room <= _HAIR and self.left[step.key] > _HAIR):
                return
            room -= self._spend(step, day, min(room, self.left[step.key]))
            self._in_hand = step if step.key in self.left else None
            if self._in_hand is not None:
                return

    def _settle(self, day: int) -> None:
        """What takes no time is over as soon as it is ready, without an evening."""
        ready = True
        while ready:
            nothing = [s for s in self.steps if self.left.get(s.key, 1.0) <= _HAIR and s.on_day is None]
            ready = False
            for step in nothing:
                if self._ready(step, day):
                    self._spend(step, day, 0.0)
                    ready = True

    def _next(self, day: int, room: float) -> TimedStep | None:
        return next((s for s in self.steps if s.key in self.left and self._begins(s, day, room)), None)

    def _begins(self, step: TimedStep, day: int, room: float) -> bool:
        fits = not step.whole or self.left[step.key] <= room + _HAIR or self.left[step.key] > self.longest + _HAIR
        pinned = step.on_day is not None and day < step.on_day
        return fits and not pinned and self._ready(step, day)

    def _ready(self, step: TimedStep, day: int) -> bool:
        waited = all(need in self._free and self._free[need] <= day for need in step.needs)
        return waited and all(self._over.get(need, day + 1) <= day for need in step.at_once)

    def _spend(self, step: TimedStep, day: int, hours: float) -> float:
        """Work so long at a step; once nothing of it is left it is done."""
        if hours > 0:
            self._slots[step.key].append((day, hours))
        self.left[step.key] -= hours
        if self.left[step.key] <= _HAIR:
            del self.left[step.key]
            self._over[step.key], self._free[step.key] = day, day + step.wait_days
            self.done.append(Slotted(step.key, tuple(self._slots[step.key]), day))
        return hours


def _check(steps: Sequence[TimedStep]) -> None:
    keys = [s.key for s in steps]
    twice = next((k for k in keys if keys.count(k) > 1), None)
    if twice is not None:
        raise BadInputError(f"Step {twice} stands there twice.")
    for step in steps:
        if not (math.isfinite(step.hours) and step.hours >= 0):
            raise BadInputError(f"Step {step.key}: the hours must be a number that isn't negative.")
        if step.wait_days < 0:
            raise BadInputError(f"Step {step.key}: the days to wait can't be negative.")
    order_steps([JobStep(s.key, "", "", (*s.needs, *s.at_once)) for s in steps])


@dataclass(frozen=True)
class HoursLeft:
    """The hours left, and the range that holds them in nineteen cases of twenty."""

    hours: float
    least: float
    most: float


PRIOR_SD, PRIOR_STEPS, BETWEEN_PEOPLE = 0.35, 5, 0.09
"""How far a step's time lies from its estimate (of its logarithm), for how many steps that counts, and how far one
person's times lie from the trade's (squared); own work by simulation, no source."""


def hours_left(hours: Sequence[float], ratios: Sequence[float], own: Sequence[float] = ()) -> HoursLeft:
    """The hours left of steps: ``hours`` are estimates, ``own`` what such steps took already: the ratio is in them.

    ``ratios`` are actual over estimate of the steps timed. Their logarithms count against the trade's by how many there
    are: w = n/(n + s²/0.09), s² pooled with five steps of 0.35. A range, not a ±.
    """
    logs = [math.log(r) for r in ratios if r > 0]
    n, mean = len(logs), math.fsum(logs) / len(logs) if logs else 0.0
    about = math.fsum((x - mean) ** 2 for x in logs)
    squared = (PRIOR_STEPS * PRIOR_SD**2 + about) / (PRIOR_STEPS + max(n - 1, 0))
    weight = n / (n + squared / BETWEEN_PEOPLE)
    guessed, known = math.fsum(hours), math.fsum(own)
    left = guessed * math.exp(weight * mean + squared / 2) + known
    total = guessed + known
    if total <= 0:
        return HoursLeft(0.0, 0.0, 0.0)
    each = math.fsum((h / total) ** 2 for h in (*hours, *own))
    way = math.exp(2 * math.sqrt(BETWEEN_PEOPLE * (1 - weight) * (guessed / total) ** 2 + squared * each))
    return HoursLeft(left, left / way, left * way)

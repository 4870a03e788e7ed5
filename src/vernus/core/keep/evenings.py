"""When the steps of a job are done: one after the other in the evenings there are, nothing before what it needs.

Serial by list order among what is ready. A step that is begun is gone on with until it is done, over several evenings
if need be; then the first in the list that is ready is taken. What a step needs must be finished, and its waiting days
(delivery, adhesive, paint) over: a step finished on day d with n waiting days lets go on day d + n. Days are whole
numbers; this module has no clock and no calendar. A scheduling rule of our own; no source.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.keep.schedule import JobStep, order_steps

MOST_DAYS = 40_000  # more than a hundred years
_HAIR = 1e-9  # hours


@dataclass(frozen=True)
class TimedStep:
    """A step with the hours it takes, what must be done before, and the days to wait after it."""

    key: str
    hours: float
    needs: tuple[str, ...] = ()
    wait_days: int = 0


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
    left = {s.key: s.hours for s in steps}
    free: dict[str, int] = {}
    slots: dict[str, list[tuple[int, float]]] = {s.key: [] for s in steps}
    done: list[Slotted] = []
    in_hand: TimedStep | None = None
    for day in range(first_day, first_day + MOST_DAYS):
        room = hours_on(day)
        while True:
            if in_hand is None:
                in_hand = next((s for s in steps if s.key in left and _ready(s, free, day)), None)
            if in_hand is None or (room <= _HAIR and left[in_hand.key] > _HAIR):
                break
            spent = min(room, left[in_hand.key])
            if spent > 0:
                slots[in_hand.key].append((day, spent))
            room, left[in_hand.key] = room - spent, left[in_hand.key] - spent
            if left[in_hand.key] > _HAIR:
                break
            del left[in_hand.key]
            free[in_hand.key] = day + in_hand.wait_days
            done.append(Slotted(in_hand.key, tuple(slots[in_hand.key]), day))
            in_hand = None
        if not left:
            return Plan(tuple(done), max((s.day for s in done), default=first_day))
    raise BadInputError("In a hundred years these steps aren't done; give more hours, or take some days away back.")


def _ready(step: TimedStep, free: dict[str, int], day: int) -> bool:
    return all(need in free and free[need] <= day for need in step.needs)


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
    order_steps([JobStep(s.key, "", "", s.needs) for s in steps])


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

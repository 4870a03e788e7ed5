"""The evenings of a job as JSON: what ``vernus calc schedule`` reads. Days are ISO 8601, hours are numbers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.keep.evenings import Plan, TimedStep, plan_evenings
from vernus.job.formats.json_text import number_of, read_as
from vernus.job.formats.stroke import known_entry

WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
_MOST_STEPS, _MOST_HOURS, _MOST_WAIT = 2000, 10_000.0, 3650


@dataclass(frozen=True)
class Evenings:
    """When somebody works: from a day on, so many hours a weekday, and the days away."""

    start: date
    hours: tuple[float, ...]
    away: frozenset[date] = frozenset()

    def on(self) -> Callable[[int], float]:
        """The hours of a day, counted from the start."""
        return lambda day: self._hours(self.start + timedelta(days=day))

    def _hours(self, day: date) -> float:
        return 0.0 if day in self.away else self.hours[day.weekday()]

    def day(self, number: int) -> str:
        """The date (ISO 8601) of a day counted from the start."""
        return self.date(number).isoformat()

    def date(self, number: int) -> date:
        """A day counted from the start."""
        return self.start + timedelta(days=number)


def read_schedule(path: Path) -> tuple[Evenings, Plan]:
    """The evenings in a JSON file and the plan that follows; raises BadInputError naming the file and the entry."""
    return read_as(path, schedule_from)


def schedule_from(data: Any) -> tuple[Evenings, Plan]:
    """The same of decoded JSON; raises BadInputError."""
    entry = known_entry(data, "the schedule", ("start", "hours", "steps"), ("start", "hours", "away", "steps"))
    evenings = Evenings(_day(entry["start"], "start"), _hours(entry["hours"]), _away(entry.get("away", [])))
    if not any(evenings.hours):
        raise BadInputError('hours: no weekday has any; give one of them some, such as {"tue": 2}.')
    steps = entry["steps"]
    if not isinstance(steps, list) or not 1 <= len(steps) <= _MOST_STEPS:
        raise BadInputError(f"steps must be a list of 1 to {_MOST_STEPS} steps.")
    timed = [_step(item, n) for n, item in enumerate(steps, 1)]
    return evenings, plan_evenings(timed, 0, evenings.on())


def _hours(item: Any) -> tuple[float, ...]:
    entry = known_entry(item, "hours", (), WEEKDAYS)
    found = [_amount(entry[d], f"hours on {d}", 24.0) if d in entry else 0.0 for d in WEEKDAYS]
    return tuple(found)


def _away(item: Any) -> frozenset[date]:
    if not isinstance(item, list) or len(item) > 20_000:
        raise BadInputError('away must be a list of days, such as ["2027-02-01"].')
    return frozenset(_day(day, "away") for day in item)


def _step(item: Any, number: int) -> TimedStep:
    what = f"step {number}"
    entry = known_entry(item, what, ("key", "hours"), ("key", "hours", "needs", "wait_days"))
    key, needs = entry["key"], entry.get("needs", [])
    if not isinstance(key, str) or not 0 < len(key) <= 200:
        raise BadInputError(f"{what}: key must be a short text.")
    if not isinstance(needs, list) or not all(isinstance(n, str) for n in needs):
        raise BadInputError(f"{what}: needs must be a list of keys.")
    wait = _amount(entry.get("wait_days", 0), f"{what}: wait_days", _MOST_WAIT)
    if wait != round(wait):
        raise BadInputError(f"{what}: wait_days is a whole number of days.")
    return TimedStep(key, _amount(entry["hours"], f"{what}: hours", _MOST_HOURS), tuple(needs), round(wait))


def _amount(value: Any, what: str, most: float) -> float:
    found = number_of(value, what, f"a number between 0 and {most:g}")
    if not 0 <= found <= most:
        raise BadInputError(f"{what} must lie between 0 and {most:g}.")
    return found


def _day(value: Any, what: str) -> date:
    try:
        if not isinstance(value, str) or len(value) != 10:
            raise ValueError
        found = date.fromisoformat(value)
        if not 1900 <= found.year <= 2900:
            raise ValueError
    except ValueError:
        raise BadInputError(f"{what}: “{str(value)[:20]}” is no day; write one such as 2027-01-04.") from None
    return found

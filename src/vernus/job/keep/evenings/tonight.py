"""Tonight: the next evening there is, from when to when, its steps with their tools, and what to bring."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from vernus.core.keep.schedule import still_needed
from vernus.job.document import Job
from vernus.job.keep.card import CardLine
from vernus.job.keep.evenings.calendar import evening_times
from vernus.job.keep.evenings.hours import evening_plan
from vernus.job.keep.evenings.plan import CardPlan
from vernus.job.keep.tools import ToolNeed, tools_needed
from vernus.job.moments import day_words

_WITHOUT_EVENINGS = 2.0
"""Hours of steps shown where nobody said when they work; common practice, no source."""


@dataclass(frozen=True)
class TonightStep:
    """A step of the evening: its number on the card, the line, the hours of it, and whether it goes on later."""

    number: int
    line: CardLine
    hours: float
    goes_on: bool = False


@dataclass(frozen=True)
class Tonight:
    """An evening: its day (None where no evenings were said), when it begins and ends, its steps and their tools."""

    day: date | None
    times: tuple[datetime, datetime] | None
    steps: tuple[TonightStep, ...]
    tools: tuple[ToolNeed, ...]

    def hours(self) -> float:
        """The hours of its steps."""
        return sum(s.hours for s in self.steps)

    def bring(self) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """Tools owned, and those to borrow or to get; all of them in the first where no kit was ever noted."""
        if not any(t.have for t in self.tools):
            return tuple(t.name for t in self.tools), ()
        rest = tuple(f"{t.name} ({t.words})" for t in self.tools if t.words != "have it")
        return tuple(t.name for t in self.tools if t.words == "have it"), rest

    def words(self, today: date) -> str:
        """Which evening it is, and from when to when."""
        if self.day is None:
            return "Next, as no evenings were said"
        lead = "Tonight" if self.day == today else "The next evening"
        clock = f", {self.times[0]:%H:%M} to {self.times[1]:%H:%M}" if self.times is not None else ""
        return f"{lead}, {day_words(self.day)}{clock}"


def tonight_of(job: Job, lines: Sequence[CardLine], plan: CardPlan, now: datetime) -> Tonight | None:
    """The next evening with something to do; None where nothing is open."""
    numbers = {c.step.key: n for n, c in enumerate(lines, 1)}
    by_key = {c.step.key: c for c in lines}
    day = next((d for d in plan.evenings if d >= now.date()), None)
    if day is None:
        steps = _next_ready(lines, plan)
    else:
        steps = [TonightStep(numbers[k], by_key[k], h, plan.days[k][-1] > day) for k, h in plan.evenings[day]]
    if not steps:
        return None
    hours = sum(s.hours for s in steps)
    times = None if day is None else evening_times(evening_plan(job), day, hours)
    tools = tools_needed(job, [s.line for s in steps])
    return Tonight(day, times, tuple(steps), tuple(tools))


def _next_ready(lines: Sequence[CardLine], plan: CardPlan) -> list[TonightStep]:
    """What can be done one after the other in two hours, the first step whatever it takes."""
    needs = {c.step.key: c.step.needs for c in lines}
    done, spent, found = {c.step.key for c in lines if c.done}, 0.0, list[TonightStep]()
    for number, line in enumerate(lines, 1):
        key = line.step.key
        if line.done or key not in plan.waits or still_needed(key, needs, done):
            continue
        if found and spent + plan.hours[key] > _WITHOUT_EVENINGS:
            break
        found.append(TonightStep(number, line, plan.hours[key]))
        spent += plan.hours[key]
        if plan.waits[key]:
            continue  # what comes after it waits
        done.add(key)
    return found

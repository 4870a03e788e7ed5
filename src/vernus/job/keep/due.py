"""What comes again: oil by hand, a look for rub marks, a check of the display; each with its day, and what is overdue.

A look for rub marks a month after the cover went on: common practice, no source. What is done by hand comes every so
many days, as said with the place that the scale covers; a display is checked as its history wants it.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from vernus.core.prove.recheck import EVENT_WORDS
from vernus.job.document import Job
from vernus.job.entities import Axis, LogEntry, Step
from vernus.job.keep.card import CardLine
from vernus.job.keep.steps_own import again_days, own_step
from vernus.job.moments import own_date
from vernus.job.prove.recheck import due_of
from vernus.job.scope import axes_in_scope, gets_scale, on_display
from vernus.job.sheet_names import SHEET_WORDS

RUB_DAYS = 30


@dataclass(frozen=True)
class Task:
    """Something that falls due: its key, of which axis, what, and the day."""

    key: str
    axis: str
    words: str
    day: date
    sheet: str = "card"
    """Where it is done or ticked."""

    def overdue(self, today: date) -> bool:
        """Whether its day has come."""
        return self.day <= today


def tasks_of(job: Job, lines: list[CardLine], now: datetime) -> list[Task]:
    """What falls due on a job, the earliest first; nothing before what it follows is done."""
    today = now.astimezone().date()
    ticked = {s.key: _day(s.changed) for s in job.all(Step) if s.done and s.changed}
    by_key = {c.step.key: c for c in lines}
    found = []
    for key, line in by_key.items():
        days = again_days(job, key)
        if days is None or not all(by_key[n].done for n in line.step.needs if n in by_key):
            continue
        last = ticked.get(key)
        words = line.step.words.split(": ", 1)[-1]
        own = own_step(job, key)
        first = today if own is None else own_date(own.created)  # due from the day it was added, until it is done
        found.append(Task(key, line.step.axis, words, first if last is None else last + timedelta(days=days)))
    for axis in axes_in_scope(job):
        cover = by_key.get(f"cover-{axis.name}")
        on = None if cover is None or not cover.done or not cover.when else date.fromisoformat(cover.when)
        if gets_scale(axis) and on is not None and f"rub-{axis.name}" not in ticked:
            words = "Look for rub marks on cover, body and reader."
            found.append(Task(f"rub-{axis.name}", axis.name, words, on + timedelta(days=RUB_DAYS)))
        check = due_of(job, axis, now) if on_display(axis) else None
        if check is not None:
            when = date(1970, 1, 1) + timedelta(days=int(check.day))
            words = f"Check the display: {check.why.text(job.info.units).rstrip('.')}."
            found.append(Task("display", axis.name, words, when, sheet="calibrate"))
        found += _opened(job, axis, lines)
    return sorted(found, key=lambda t: (t.day, t.axis, t.words))


def _opened(job: Job, axis: Axis, lines: list[CardLine]) -> list[Task]:
    """What something that happened opened again on an axis, as one task of that day."""
    mine = [c for c in lines if c.event and c.step.axis == axis.name and not c.done]
    event = job.get(mine[-1].event) if mine else None
    if not isinstance(event, LogEntry):
        return []
    sheets = ", ".join(dict.fromkeys(SHEET_WORDS.get(c.sheet, c.sheet).lower() for c in mine))
    words = f"After {EVENT_WORDS[event.event]}: {sheets} again."
    return [Task("opened", axis.name, words, _day(event.created), mine[0].sheet)]


def _day(moment: str) -> date:
    return own_date(moment)

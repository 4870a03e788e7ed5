"""The calendar of a job: its evenings with what is done on them, and what falls due afterwards."""

from __future__ import annotations

from pathlib import Path

from vernus.core.errors import BadInputError
from vernus.job.disk import write_whole
from vernus.job.document import Job
from vernus.job.formats.calendar import calendar_file
from vernus.job.keep.card import CardLine
from vernus.job.keep.due import tasks_of
from vernus.job.keep.evenings import plan_card
from vernus.job.keep.steps import again_days


def write_calendar(job: Job, lines: list[CardLine], path: Path) -> int:
    """Write the calendar file and return how many entries it has.

    Raises BadInputError where there is nothing to put into it, JobFileError where it can't be written.
    """
    now = job.now().astimezone()
    plan = plan_card(job, lines, now.date())
    words = {c.step.key: ": ".join(w for w in (c.step.axis, c.step.words.rstrip(".")) if w) for c in lines}
    evenings = {day: [(words[k], hours) for k, hours in steps] for day, steps in plan.evenings.items()}
    due = [
        (t.day, f"{t.axis}: {t.words.rstrip('.')}" if t.axis else t.words.rstrip("."), again_days(job, t.key))
        for t in tasks_of(job, lines, now)
    ]
    if not evenings and not due:
        raise BadInputError("Nothing has a day yet; say under Evenings when you work, and the days follow.")
    write_whole(path, calendar_file(job.info.title, evenings, due, job.info.id, now))
    return len(evenings) + len(due)

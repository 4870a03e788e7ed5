"""The calendar of a job: its evenings with what is done on them, what should come, and what falls due afterwards.

What the last file held is kept with the job: an entry that changed is sent as a later version of itself, one that is
gone is cancelled, and evenings that are over stay as they were.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from pathlib import Path

from vernus.core.errors import BadInputError
from vernus.job.disk import write_whole
from vernus.job.document import Job
from vernus.job.entities import EveningPlan, SentCalendar, SentEntry
from vernus.job.formats.calendar import Entry, calendar_file
from vernus.job.keep.card import CardLine
from vernus.job.keep.due import tasks_of
from vernus.job.keep.evenings.days import read_clock
from vernus.job.keep.evenings.hours import evening_plan, hours_words
from vernus.job.keep.evenings.plan import plan_card
from vernus.job.keep.steps_own import again_days

_MOST_SENT = 4000
GOES_ON = " (goes on another evening)"
_SENT_ID = "sent-calendar"


def write_calendar(job: Job, lines: Sequence[CardLine], path: Path) -> int:
    """Write the calendar file and return how many entries it has, cancelled ones left out.

    Raises BadInputError where there is nothing to put into it, JobFileError where it can't be written.
    """
    now = job.now().astimezone()
    entries = entries_of(job, lines, now)
    sent = sent_of(job)
    if not entries and not sent:
        raise BadInputError("Nothing has a day yet; say under Evenings when you work, and the days follow.")
    whole = with_history(entries, sent, now.date())
    write_whole(path, calendar_file(job.info.title, whole, job.info.id, now))
    if not job.read_only_because:
        _remember(job, whole, sent)
    return len(entries)


def entries_of(job: Job, lines: Sequence[CardLine], now: datetime) -> list[Entry]:
    """The entries as things stand: evenings, what should come, what falls due."""
    plan, ids = plan_card(job, lines, now.date()), {a.name: a.id for a in job.axes()}
    words = {c.step.key: ": ".join(w for w in (c.step.axis, c.step.words.rstrip(".")) if w) for c in lines}
    found = [
        _evening(job, day, [(words[k] + (GOES_ON if plan.days[k][-1] > day else ""), h) for k, h in steps])
        for day, steps in plan.evenings.items()
    ]
    found += [Entry(f"comes-{c.key}", c.day, c.words.rstrip("."), c.words) for c in plan.comes]
    for task in tasks_of(job, list(lines), now):
        said = f"{task.axis}: {task.words.rstrip('.')}" if task.axis else task.words.rstrip(".")
        kind = task.key.removesuffix(f"-{task.axis}") if task.axis else task.key
        found.append(
            Entry(f"due-{kind}-{ids.get(task.axis, 'machine')}", task.day, said, said, again=again_days(job, task.key))
        )
    return found


def _evening(job: Job, day: date, steps: Sequence[tuple[str, float]]) -> Entry:
    """An evening with its steps; from when to when, where the user said when evenings begin."""
    hours = sum(h for _, h in steps)
    more = f" and {len(steps) - 1} more" if len(steps) > 1 else ""
    listed = "\n".join(f"{hours_words(h)} h  {said}" for said, h in steps)
    entry = Entry(f"{day}", day, f"{steps[0][0]}{more} ({hours_words(hours)} h)", listed)
    times = evening_times(evening_plan(job), day, hours)
    return entry if times is None else replace(entry, begins=times[0], ends=times[1])


def evening_times(said: EveningPlan | None, day: date, hours: float) -> tuple[datetime, datetime] | None:
    """When an evening begins and ends, local, setting up and packing up with it; None where no time was said."""
    begins = None if said is None else begins_at(said, day)
    if said is None or begins is None:
        return None
    start = datetime.combine(day, begins).astimezone()
    return start, start + timedelta(hours=hours, minutes=said.set_up + said.pack_up)


def begins_at(said: EveningPlan, day: date) -> time | None:
    """When the evening of a day begins, as said; None where it wasn't, or where it is no time of day."""
    text = (said.begins_weekend or said.begins) if day.weekday() >= 5 else said.begins
    try:
        return read_clock(text) if text.strip() else None
    except BadInputError:
        return None


def sent_of(job: Job) -> Mapping[str, SentEntry]:
    """What the calendar files of the job held so far, by the entry's key."""
    return {e.uid: e for kept in job.all(SentCalendar)[-1:] for e in kept.entries}


def with_history(entries: Sequence[Entry], sent: Mapping[str, SentEntry], today: date) -> list[Entry]:
    """The entries with how often each changed, and those that are gone as cancelled; what is over is left alone."""
    whole = []
    for entry in entries:
        before = sent.get(entry.key)
        changed = before is not None and (before.gone or before.digest != entry.digest())
        whole.append(replace(entry, sequence=0 if before is None else before.sequence + changed))
    still = {e.key for e in entries}
    for key, before in sent.items():
        over = before.day < today and key == before.day.isoformat()
        if key not in still and not over:
            gone = Entry(
                key, before.day, "not any longer", "Cancelled: this is done, or planned for another day.", gone=True
            )
            whole.append(replace(gone, sequence=before.sequence + (not before.gone)))
    return whole


def _remember(job: Job, whole: Sequence[Entry], sent: Mapping[str, SentEntry]) -> None:
    """Keep what this file held; no edit of the user's, so nothing to undo."""
    now = {e.key: SentEntry(uid=e.key, sequence=e.sequence, day=e.day, digest=e.digest(), gone=e.gone) for e in whole}
    past = {k: e for k, e in sent.items() if k not in now}
    kept = tuple({**past, **now}.values())[-_MOST_SENT:]
    before = job.all(SentCalendar)
    if not before or before[-1].entries != kept:
        old = before[-1] if before else SentCalendar(id=_SENT_ID)
        job.apply("calendar written", [old.with_(entries=kept)], undoable=False)

"""The evenings of a job and what falls due as a calendar file (iCalendar, RFC 5545), for any calendar program."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime, timedelta
from typing import Any


def calendar_file(
    title: str,
    evenings: Mapping[date, Sequence[tuple[str, float]]],
    due: Sequence[tuple[date, str, int | None]],
    job_id: str,
    now: datetime,
) -> bytes:
    """The bytes of the file: an all-day entry per evening with its steps (words, hours), and one per thing due.

    ``due`` are day, words, and after how many days it comes again (None: once). Entries keep their ids, so that a
    later file of the same job takes the place of this one.
    """
    from icalendar import Calendar

    calendar = Calendar()
    calendar.add("prodid", "-//Vernus//job calendar//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", title)
    for day, steps in evenings.items():
        total = sum(hours for _, hours in steps)
        words = "\n".join(f"{hours:.2g} h  {said}" for said, hours in steps)
        summary = f"{title}: {steps[0][0]}" + (f" and {len(steps) - 1} more" if len(steps) > 1 else "")
        calendar.add_component(_entry(day, f"{summary} ({total:.2g} h)", words, f"{job_id}-{day}", now))
    for day, said, again in due:
        key = hashlib.blake2b(said.encode("utf-8", "replace"), digest_size=8).hexdigest()
        entry = _entry(day, f"{title}: {said}", said, f"{job_id}-due-{key}", now)
        if again:
            entry.add("rrule", {"freq": "daily", "interval": again})
        calendar.add_component(entry)
    made: bytes = calendar.to_ical()
    return made


def _entry(day: date, summary: str, words: str, uid: str, now: datetime) -> Any:
    from icalendar import Event

    entry = Event()
    entry.add("uid", f"{uid}@vernus")
    entry.add("dtstamp", now.astimezone(UTC))
    entry.add("dtstart", day)
    entry.add("dtend", day + timedelta(days=1))
    entry.add("summary", summary)
    entry.add("description", words)
    entry.add("transp", "TRANSPARENT")
    return entry

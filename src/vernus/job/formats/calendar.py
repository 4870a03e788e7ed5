"""Entries of a calendar as a file (iCalendar, RFC 5545, published as RFC 5546 has it), for any calendar program."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Any

_NOBODY = "invalid:nomail"
"""The address of one who has none: a published entry must name who organises it (RFC 5546, 3.2.1)."""
_CONTROLS = {n: " " for n in range(32) if n != 10} | {127: " "}


@dataclass(frozen=True)
class Entry:
    """An entry: its id in the job, its day or the moments it begins and ends, what stands in it.

    ``again`` is after how many days it comes again (None: once); ``sequence`` how often it changed; ``gone`` that it is
    cancelled.
    """

    key: str
    day: date
    summary: str
    words: str
    begins: datetime | None = None
    ends: datetime | None = None
    again: int | None = None
    sequence: int = 0
    gone: bool = False

    def digest(self) -> str:
        """What tells whether it changed."""
        held = (self.day, self.summary, self.words, self.begins, self.ends, self.again, self.gone)
        return hashlib.blake2b("\x1f".join(map(str, held)).encode("utf-8", "replace"), digest_size=8).hexdigest()


def calendar_file(title: str, entries: Sequence[Entry], job_id: str, now: datetime) -> bytes:
    """The bytes of the file: every entry of the job, those that are gone as cancelled.

    Entries keep their ids, so that a later file of the same job changes and cancels what an earlier one put there.
    """
    from icalendar import Calendar, vText

    calendar = Calendar()
    calendar.add("prodid", "-//Vernus//job calendar//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", vText(_line(title)))
    for entry in entries:
        calendar.add_component(_event(entry, title, job_id, now))
    made: bytes = calendar.to_ical()
    return made


def _line(words: str) -> str:
    """Words in one line, without what no calendar shows."""
    return " ".join(words.translate(_CONTROLS).split())


def _event(entry: Entry, title: str, job_id: str, now: datetime) -> Any:
    from icalendar import Event, vCalAddress

    event = Event()
    event.add("uid", f"{job_id}-{entry.key}@vernus")
    event.add("sequence", entry.sequence)
    event.add("status", "CANCELLED" if entry.gone else "CONFIRMED")
    event.add("dtstamp", now.astimezone(UTC))
    who = vCalAddress(_NOBODY)
    who.params["CN"] = _line(title).replace('"', "'")
    event.add("organizer", who)
    if entry.begins is not None and entry.ends is not None:
        event.add("dtstart", entry.begins.astimezone(UTC))
        event.add("dtend", entry.ends.astimezone(UTC))
    else:
        event.add("dtstart", entry.day)
        event.add("dtend", entry.day + timedelta(days=1))
        event.add("transp", "TRANSPARENT")
    event.add("summary", _line(f"{title}: {entry.summary}"))
    event.add("description", entry.words.translate(_CONTROLS))
    if entry.again and not entry.gone:
        event.add("rrule", {"freq": "daily", "interval": entry.again})
    return event

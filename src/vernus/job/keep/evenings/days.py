"""Days and times of day as they are typed: one day, days away in ranges, and when an evening begins."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import date, time, timedelta

from vernus.core.errors import BadInputError

_RANGE = re.compile(r"^(\d{4}-\d{2}-\d{2})(?:\s*(?:to|\.\.|–|-)\s*(\d{4}-\d{2}-\d{2}))?$")
_CLOCK = re.compile(r"^(\d{1,2})(?:[:.h](\d{2}))?\s*(am|pm)?$", re.IGNORECASE)
_MOST_AWAY = 3660
_FIRST_YEAR, _LAST_YEAR = 1970, 2900


def read_day(text: str) -> date:
    """A day as typed; raises BadInputError."""
    try:
        found = date.fromisoformat(text.strip())
    except ValueError:
        found = None
    if found is None or not _FIRST_YEAR <= found.year <= _LAST_YEAR:
        raise BadInputError(f"“{text[:20]}” is no day; write one such as 2027-01-31.")
    return found


def read_days(text: str) -> frozenset[date]:
    """Days and ranges of days, between commas; raises BadInputError for the first that is none."""
    away: set[date] = set()
    for part in (p.strip() for p in text.replace(";", ",").split(",")):
        found = _RANGE.match(part)
        if not part:
            continue
        if found is None:
            raise BadInputError(f"“{part[:40]}” is no day away; write 2027-02-01, or 2027-02-01 to 2027-02-07.")
        first, last = read_day(found[1]), read_day(found[2] or found[1])
        if not 0 <= (last - first).days <= _MOST_AWAY:
            raise BadInputError(f"“{part[:40]}” ends before it begins, or years later.")
        away |= {first + timedelta(days=n) for n in range((last - first).days + 1)}
    return frozenset(away)


def read_clock(text: str) -> time:
    """A time of day, such as 19:30, 19.30, 7 pm; raises BadInputError."""
    found = _CLOCK.match(text.strip())
    hours, minutes = (int(found[1]), int(found[2] or 0)) if found else (99, 0)
    half = (found[3] or "").lower() if found else ""
    if half and not 1 <= hours <= 12:
        hours = 99
    elif half:
        hours = hours % 12 + (12 if half == "pm" else 0)
    if hours > 23 or minutes > 59:
        raise BadInputError(f"“{text[:20]}” is no time of day; write one such as 19:30.")
    return time(hours, minutes)


READ: dict[str, Callable[[str], object]] = {"day": read_day, "days": read_days, "clock": read_clock}
"""By the kind of a field: what reads its words, and refuses what is none."""

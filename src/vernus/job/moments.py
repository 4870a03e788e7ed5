"""Stored moments: written in the local time of whoever worked, with its zone; read as that person's own day.

What older files hold is in UTC: that is shown in the local time here. Moments are compared by ``instant``, never as
they are written.
"""

from __future__ import annotations

from datetime import UTC, date, datetime
from functools import lru_cache

_IN_UTC = "+00:00"
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


@lru_cache(maxsize=65_536)
def instant(moment: str) -> str:
    """A stored moment as a text that sorts in time whatever zone it was written in; what is no moment stays."""
    if not moment or moment.endswith((_IN_UTC, "+")):
        return moment
    try:
        return datetime.fromisoformat(moment).astimezone(UTC).isoformat(timespec="microseconds")
    except (ValueError, OverflowError):
        return moment


def own_time(moment: str) -> datetime:
    """A stored moment by the clock of whoever wrote it; of older files by the clock here."""
    found = datetime.fromisoformat(moment)
    return found.astimezone() if moment.endswith(_IN_UTC) else found


def own_date(moment: str) -> date:
    """The day of a stored moment, as it was where it was written."""
    return own_time(moment).date()


def local_minute(moment: str) -> str:
    """Date and minute of a stored moment as the clock stood there, its zone beside it where that isn't the one here.

    "" where there is none.
    """
    if not moment:
        return ""
    own = own_time(moment)
    elsewhere = own.utcoffset() != own.astimezone().utcoffset()
    off = own.strftime("%z")
    return own.strftime("%Y-%m-%d %H:%M") + (f" (UTC{off[:3]}:{off[3:5]})" if elsewhere else "")


def local_day(moment: str) -> str:
    """The date of a stored moment; "" where there is none."""
    return own_date(moment).isoformat() if moment else ""


def day_words(day: date) -> str:
    """A day with its weekday, such as “Mon 2027-01-04”."""
    return f"{WEEKDAYS[day.weekday()]} {day.isoformat()}"


def today() -> date:
    """The date now, local."""
    return datetime.now().astimezone().date()


def local_zone() -> str:
    """The zone in which moments are told, such as “CET (UTC+01:00)”."""
    now = datetime.now().astimezone()
    off = now.strftime("%z")
    return f"{now.tzname()} (UTC{off[:3]}:{off[3:5]})"

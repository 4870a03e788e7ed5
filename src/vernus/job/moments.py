"""Stored moments as a person reads them: in local time. What is stored is UTC."""

from __future__ import annotations

from datetime import date, datetime


def local_minute(moment: str) -> str:
    """Date and minute of a stored moment, local; "" where there is none."""
    return datetime.fromisoformat(moment).astimezone().strftime("%Y-%m-%d %H:%M") if moment else ""


def local_day(moment: str) -> str:
    """The date of a stored moment, local; "" where there is none."""
    return local_minute(moment)[:10]


def today() -> date:
    """The date now, local."""
    return datetime.now().astimezone().date()


def local_zone() -> str:
    """The zone in which moments are told, such as “CET (UTC+01:00)”."""
    now = datetime.now().astimezone()
    off = now.strftime("%z")
    return f"{now.tzname()} (UTC{off[:3]}:{off[3:5]})"

"""A job as another job: duplicated, or sent to a friend; with an id of its own, so that neither overwrites the other.

Its calendar and the times its steps took are told apart by that id.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from vernus.job.document import Job, new_id, pictures_of
from vernus.job.entities import Entity, JobInfo, LogEntry, Photo, SentCalendar, Step

_PRICES = ("price", "kit_price")


@dataclass(frozen=True)
class Along:
    """What comes along: ticks of the card, the log, pictures, prices."""

    ticks: bool = True
    log: bool = True
    pictures: bool = True
    prices: bool = True


def copied(job: Job, title: str, along: Along = Along()) -> tuple[list[Entity], list[bytes]]:
    """The entities and pictures of the copy; what calendar files of the other job held stays with that one."""
    left = (SentCalendar, *(() if along.ticks else (Step,)), *(() if along.log else (LogEntry,)))
    left = (*left, *(() if along.pictures else (Photo,)))
    entities = [e for e in job.entities() if not isinstance(e, left)]
    made = [_own(e, title) if isinstance(e, JobInfo) else e if along.prices else _without_price(e) for e in entities]
    wanted = pictures_of(made)
    return made, [data for name, data in job.pictures() if name in wanted]


def with_own_id(entities: list[Entity], title: str) -> list[Entity]:
    """Entities read from an export as a job of its own."""
    return [_own(e, title) if isinstance(e, JobInfo) else e for e in entities]


def _own(info: JobInfo, title: str) -> JobInfo:
    made = info.with_(id=new_id(), title=title or info.title)
    assert isinstance(made, JobInfo)
    return made


def _without_price(entity: Entity) -> Entity:
    prices: dict[str, Any] = {name: None for name in _PRICES if getattr(entity, name, None) is not None}
    made: Entity = entity.with_(**prices) if prices else entity
    return made

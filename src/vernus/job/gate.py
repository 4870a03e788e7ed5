"""The one gate for entities that come from outside: an import, a template, a file that was sent.

Each entity was read by its own declaration; here they are held against each other.
"""

from __future__ import annotations

from collections.abc import Iterable

from vernus.core.errors import BadInputError
from vernus.job.document import Job
from vernus.job.entities import Entity, Machine, odd_times
from vernus.job.errors import JobContentError
from vernus.job.rows import check_whole
from vernus.job.sums import check_sums


def check_entities(entities: Iterable[Entity]) -> None:
    """Raise JobContentError unless the entities make a job.

    Ids are there once, with one job entry, one machine and axes of different names; every time is one; members stand on
    members and not on themselves; every sum of measures can be told.
    """
    given = list(entities)
    if len({e.id for e in given}) != len(given):
        raise JobContentError("two entries share one id")
    check_whole(given)
    for number, entity in enumerate(given, 1):
        odd = odd_times(entity)
        if odd:
            field, text = odd[0]
            raise JobContentError(f"entry {number}, of kind “{entity.kind}”: “{text[:40]}” in {field} is no time")
        if isinstance(entity, Machine):
            _check_members(entity)
    try:
        check_sums(Job(given))
    except BadInputError as error:
        raise JobContentError(str(error).rstrip(".")) from None


def _check_members(machine: Machine) -> None:
    on = {m.id: m.on for m in machine.members}
    if len(on) != len(machine.members):
        raise JobContentError("two members of the machine share one name")
    for member in on:
        at, left = member, len(on)
        while at and left >= 0:
            at, left = on.get(at, ""), left - 1
        if at:
            raise JobContentError(f"the member “{member[:40]}” stands on itself in a circle")

"""An entity that isn't in the job yet: kept until its first edit, so that looking at a sheet writes nothing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from vernus.job.entities import Entity

E = TypeVar("E", bound=Entity)


class Draft(Generic[E]):
    """The entity of one axis, or of whatever else ``key`` stands for; another key makes another one."""

    def __init__(self) -> None:
        self._key: object = None
        self._entity: E | None = None

    def of(self, key: object, make: Callable[[], E]) -> E:
        """The entity for ``key``, made when it is first asked for."""
        if self._entity is None or self._key != key:
            self._key, self._entity = key, make()
        return self._entity

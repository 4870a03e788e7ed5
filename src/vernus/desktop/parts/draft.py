"""An entity that isn't in the job yet: only its id is kept until its first edit, so that looking changes nothing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from vernus.job.document import new_id
from vernus.job.entities import Entity

E = TypeVar("E", bound=Entity)


class Draft(Generic[E]):
    """The entity of one axis, or of whatever else ``key`` stands for; another key makes another one.

    It is made afresh from the job each time it is asked for: what it proposes follows whatever was said meanwhile.
    """

    def __init__(self) -> None:
        self._key: object = None
        self._id = ""

    def of(self, key: object, make: Callable[[], E]) -> E:
        """The entity for ``key``, as it is proposed now, under the id it had when it was first asked for."""
        if not self._id or self._key != key:
            self._key, self._id = key, new_id()
        return make().model_copy(update={"id": self._id})

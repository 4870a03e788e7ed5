"""What several rows show of one entity, worked out once while they are shown one after the other."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

Current = Callable[[], Any]


class Together:
    """Between ``begin`` and its end each thing asked for is asked for once."""

    def __init__(self) -> None:
        self._seen: dict[Current, Any] | None = None

    @contextmanager
    def begin(self) -> Iterator[None]:
        """Show rows together; nothing may be edited meanwhile."""
        before, self._seen = self._seen, {}
        try:
            yield
        finally:
            self._seen = before

    def of(self, current: Current) -> Any:
        """What ``current`` answers now."""
        if self._seen is None:
            return current()
        if current not in self._seen:
            self._seen[current] = current()
        return self._seen[current]


together = Together()

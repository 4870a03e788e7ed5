"""What several rows show of one entity, worked out once while they are shown one after the other."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from typing import Any

Current = Callable[[], Any]


class Together:
    """Between ``begin`` and its end each thing asked for is asked for once."""

    def __init__(self) -> None:
        self._seen: dict[Hashable, Any] | None = None

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
        return self.once(current, current)

    def once(self, key: Hashable, make: Current) -> Any:
        """What ``make`` answers under a key."""
        if self._seen is None:
            return make()
        if key not in self._seen:
            self._seen[key] = make()
        return self._seen[key]


together = Together()

"""Long work off the interface thread, so that the window never freezes; what is no longer wanted is cancelled."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import cache
from typing import Any

from PySide6.QtCore import QObject, Signal

from vernus.core.errors import VernusError


class _Messenger(QObject):
    """Brings results from threads to whoever waits for them, who may be gone by then: this one never is."""

    came = Signal(object, int, object, str)


@cache
def _messenger() -> _Messenger:
    return _Messenger()


class Work(QObject):
    """One piece of work at a time: ``begin`` cancels the one before; ``done`` brings the newest result.

    The work is given a function that says whether it is cancelled. A VernusError comes back as ``failed``.
    """

    done = Signal(object)
    failed = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._number = 0
        self._enough = 0
        self._thread: threading.Thread | None = None
        self._mine = object()
        _messenger().came.connect(self._take)

    @property
    def busy(self) -> bool:
        """Whether something is being worked out."""
        return self._thread is not None

    def begin(self, work: Callable[[Callable[[], bool]], Any]) -> None:
        """Start ``work``."""
        self._number += 1
        mine, whose, came = self._number, self._mine, _messenger().came

        def act() -> None:
            result, failure = None, ""
            try:
                result = work(lambda: mine != self._number or mine == self._enough)
            except VernusError as error:
                failure = str(error)
            came.emit(whose, mine, result, failure)

        self._thread = threading.Thread(target=act, daemon=True)
        self._thread.start()

    def enough(self) -> None:
        """Let the work end as if cancelled, and take what it has by then."""
        self._enough = self._number

    def cancel(self) -> None:
        """Let go of what is being worked out and wait until it has ended."""
        self._number += 1
        if self._thread is not None:
            self._thread.join()
            self._thread = None

    def _take(self, whose: object, number: int, result: object, failure: str) -> None:
        if whose is not self._mine or number != self._number:
            return
        self._thread = None
        if failure:
            self.failed.emit(failure)
        else:
            self.done.emit(result)

"""What takes long in a large job: opening it, and what follows from an edit; worked out beside the window."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from PySide6.QtCore import QCoreApplication, QEventLoop

from vernus.desktop.beside import beside

if TYPE_CHECKING:  # with the first job, so that Start opens at once
    from vernus.job.document import Job

_LARGE_JOB, _LARGE_FILE = 1_000, 400_000
"""Entities, and bytes, from which on it is."""
T = TypeVar("T")


class LongWork:
    """The long work of a session (``vernus.desktop.session``, which makes it), one piece at a time."""

    def __init__(self, session: Any) -> None:
        self._session = session
        self.busy = False
        """Whether something is being worked out."""

    def ready(self, make: Callable[[], Job], source: Path) -> Job:
        """A job with what its sheets rest on worked out, from a file: a long one is read beside the window."""
        from vernus.job.ahead import asked_by, work_ahead

        def made() -> Job:
            job = make()
            work_ahead(job, asked_by(self._session.in_view))
            return job

        try:
            long = source.stat().st_size > _LARGE_FILE
        except (OSError, ValueError):
            long = False  # what is wrong with it is told by whoever reads it
        return self._waiting_for(made) if long and not self.busy else make()

    @property
    def is_large(self) -> bool:
        """Whether what follows from the job takes long enough that the window would stand still for it."""
        return self._session.job is not None and self._session.job.size >= _LARGE_JOB

    def breathe(self) -> None:
        """Between two steps of showing a large job: paint what is there; keys and clicks wait for all of it."""
        if self.is_large:
            waiting = QEventLoop.ProcessEventsFlag
            QCoreApplication.processEvents(waiting.ExcludeUserInputEvents | waiting.ExcludeSocketNotifiers)

    def beside(self, act: Callable[[], T]) -> T:
        """What ``act`` comes to, worked out beside the window where the job is large."""
        return self._waiting_for(act) if self.is_large and not self.busy else act()

    def _waiting_for(self, act: Callable[[], T]) -> T:
        self.busy = True
        self._session.working.emit(True)
        try:
            return beside(act)
        finally:
            self.busy = False
            self._session.working.emit(False)

    def work_out(self) -> None:
        """What the sheet in view asks for, worked out beside the window where the job is large."""
        from vernus.job.ahead import asked_by, work_ahead

        job = self._session.job
        if job is None or not self.is_large or self.busy:
            return
        asked = [ask for ask in asked_by(self._session.in_view) if not job.knows_now(ask)]
        if asked:
            other = job.supposing()
            self._waiting_for(lambda: work_ahead(other, asked))
            job.take_over(other)

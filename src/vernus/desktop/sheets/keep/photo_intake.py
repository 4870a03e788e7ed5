"""Pictures taken into the job beside the window: read, checked, made smaller a few at a time, each batch one edit."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from vernus.core.errors import BadInputError, VernusError
from vernus.desktop.parts.work import Work
from vernus.desktop.session import AtWork, Session
from vernus.job.disk import read_whole
from vernus.job.document import Job, new_id
from vernus.job.entities import Photo
from vernus.job.formats.picture import MOST_BYTES
from vernus.job.rows import picture_id
from vernus.paper.photo import Taken, take

_BATCH = 4


@dataclass(frozen=True)
class Source:
    """Where a picture comes from: a file, or what was pasted; and what it is called."""

    name: str
    path: Path | None = None
    data: bytes = b""


class PhotoIntake(QObject):
    """Takes pictures in; ``progress`` says how far it is, empty when it is through."""

    progress = Signal(str)

    def __init__(self, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self._work = Work(self)
        self._work.done.connect(self._came)
        self._waiting: deque[Source] = deque()
        self._total = self._done = 0
        self._refused: list[str] = []
        self._keep, self._axis_id = False, ""
        self._job: Job | None = None
        session.at_work.append(AtWork(self._left, self.stop))

    def _left(self) -> str:
        """What of the pictures isn't in the job yet."""
        left = self._total - self._done if self.busy else 0
        if not left:
            return ""
        return "1 picture is still being taken in." if left == 1 else f"{left} pictures are still being taken in."

    @property
    def busy(self) -> bool:
        """Whether pictures are still being taken in."""
        return bool(self._waiting) or self._work.busy

    def begin(self, sources: Sequence[Source], *, keep_original: bool, axis_id: str) -> None:
        """Take these in, after those that are being taken in already."""
        if not self.busy:
            self._total = self._done = 0
            self._refused, self._job = [], self._session.job
        self._keep, self._axis_id = keep_original, axis_id
        self._waiting += sources
        self._total += len(sources)
        self._next()

    def stop(self) -> None:
        """Leave the rest; what was taken in stays."""
        left = self._total - self._done if self.busy else 0
        self._waiting.clear()
        self._work.cancel()
        if left:
            self._session.notice.emit(f"Stopped: {self._done} taken in, {left} left out.")
        self.progress.emit("")

    def _next(self) -> None:
        if self._work.busy:
            return
        if not self._waiting:
            self._end()
            return
        batch = [self._waiting.popleft() for _ in range(min(_BATCH, len(self._waiting)))]
        self.progress.emit(f"Taking in pictures: {self._done} of {self._total}")
        keep = self._keep
        self._work.begin(lambda cancelled: _taken(batch, keep, cancelled))

    def _came(self, result: tuple[list[Taken], list[str]]) -> None:
        taken, refused = result
        self._refused += refused
        self._done += len(taken) + len(refused)
        job = self._session.job
        if job is None or job is not self._job:
            self._waiting.clear()
            self.progress.emit("")
            return
        if taken and not self._put(job, taken):
            self._waiting.clear()
        self._next()

    def _put(self, job: Job, taken: Sequence[Taken]) -> bool:
        photos, held = [], []
        for one in taken:
            names = [picture_id(data) if data else "" for data in (one.data, one.original)]
            photos.append(
                Photo(
                    id=new_id(), picture=names[0], original=names[1], width=one.width, height=one.height,
                    axis_id=self._axis_id,
                )
            )  # fmt: skip
            held += [data for data in (one.data, one.original) if data]
        words = "add a picture" if len(photos) == 1 else f"add {len(photos)} pictures"
        return self._session.apply(words, photos, pictures=held) or bool(job.pending)

    def _end(self) -> None:
        self.progress.emit("")
        if self._refused:
            more = f" (and {len(self._refused) - 3} more)" if len(self._refused) > 3 else ""
            self._session.notice.emit("Not taken: " + "; ".join(self._refused[:3]) + more + ".")
        elif self._total:
            n = self._total
            self._session.notice.emit(f"{n} picture{'s' if n > 1 else ''} taken in. Ctrl+Z takes the last back.")
        self._total = self._done = 0
        self._refused = []


def _taken(
    batch: Sequence[Source], keep_original: bool, cancelled: Callable[[], bool]
) -> tuple[list[Taken], list[str]]:
    """Pictures made ready, and what was refused and why; on any thread."""
    taken, refused = [], []
    for source in batch:
        if cancelled():
            break
        try:
            data = source.data if source.path is None else read_whole(source.path, MOST_BYTES)
            taken.append(take(data, keep_original=keep_original))
        except BadInputError as error:
            refused.append(f"{source.name} {error}")
        except VernusError as error:
            refused.append(str(error).rstrip("."))
    return taken, refused

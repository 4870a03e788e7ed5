"""Writing a PDF, page by page, in px at 96 dpi."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from PySide6.QtCore import QMarginsF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

from vernus.job.errors import JobFileError

RESOLUTION = 1200


@contextmanager
def pdf_pages(
    path: Path, title: str, size: QPageSize.PageSizeId, *, landscape: bool = False
) -> Iterator[tuple[QPdfWriter, QPainter]]:
    """A writer and a painter at 96 dpi on its first page; raises JobFileError when the file can't be written."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("ab"):
            pass
    except OSError as error:
        raise JobFileError(f"Can't write {path}: {(error.strerror or str(error)).lower()}.") from None
    writer = QPdfWriter(str(path))
    way = QPageLayout.Orientation.Landscape if landscape else QPageLayout.Orientation.Portrait
    writer.setPageLayout(QPageLayout(QPageSize(size), way, QMarginsF(0, 0, 0, 0)))
    writer.setResolution(RESOLUTION)
    writer.setTitle(title)
    writer.setCreator("Vernus")
    painter = QPainter()
    if not painter.begin(writer):
        raise JobFileError(f"Can't write {path}; choose another folder.")
    painter.scale(RESOLUTION / 96, RESOLUTION / 96)
    try:
        yield writer, painter
    finally:
        ended = painter.end()
    if not ended:
        raise JobFileError(f"Could not finish writing {path}; is the disk full?")

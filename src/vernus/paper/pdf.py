"""Writing a PDF, page by page, in px at 96 dpi."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMarginsF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

from vernus.job.disk import make_folder, shown, write_whole
from vernus.job.errors import JobFileError

RESOLUTION = 1200


@contextmanager
def pdf_pages(
    path: Path, title: str, size: QPageSize.PageSizeId, *, landscape: bool = False
) -> Iterator[tuple[QPdfWriter, QPainter]]:
    """A writer and a painter at 96 dpi on its first page; raises JobFileError when the file can't be written."""
    paper = QBuffer()
    paper.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(paper)
    way = QPageLayout.Orientation.Landscape if landscape else QPageLayout.Orientation.Portrait
    writer.setPageLayout(QPageLayout(QPageSize(size), way, QMarginsF(0, 0, 0, 0)))
    writer.setResolution(RESOLUTION)
    writer.setTitle(title)
    writer.setCreator("Vernus")
    painter = QPainter()
    if not painter.begin(writer):
        raise JobFileError(f"Can't paint {shown(path)}.")
    painter.scale(RESOLUTION / 96, RESOLUTION / 96)
    try:
        yield writer, painter
    finally:
        ended = painter.end()
    if not ended:
        raise JobFileError(f"Can't finish {shown(path)}.")
    make_folder(path.parent)
    write_whole(path, bytes(paper.data().data()))

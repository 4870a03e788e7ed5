"""Pictures decoded and made ready for the job file: checked before anything is decoded, turned as they were taken,
scaled to what is needed. What a camera wrote beside the picture (place, owner) stays behind with the original."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PySide6.QtGui import QImage, QImageReader, QImageWriter, QPainter

from vernus.core.errors import BadInputError
from vernus.job.document import Job
from vernus.job.entities import Photo
from vernus.job.formats.picture import check_picture

LONGEST = 2400
"""Picture points of the longer side that are kept: enough to print over a page and to click a hole to half a mm."""
_QUALITY = 85
_MOST_MB = 600


@dataclass(frozen=True)
class Taken:
    """A picture made ready: what is filed, its size, and the original where it is to be kept."""

    data: bytes
    width: int
    height: int
    original: bytes = b""


def decode(data: bytes, longest: int = LONGEST) -> QImage:
    """A picture, turned as it was taken and no larger than ``longest`` either way; safe on any thread.

    Raises BadInputError, in words that follow its name, for what is no picture or is broken.
    """
    head = check_picture(data)
    buffer = QBuffer()
    buffer.setData(QByteArray(data))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer, QByteArray(head.kind.encode()))
    reader.setAutoTransform(True)
    QImageReader.setAllocationLimit(_MOST_MB)
    size = QSize(head.width, head.height)
    if max(head.width, head.height) > longest:
        reader.setScaledSize(size.scaled(longest, longest, Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    if image.isNull():
        raise BadInputError("is broken or cut short; copy it again from where it came from")
    return image


def take(data: bytes, *, keep_original: bool = False) -> Taken:
    """A picture made ready for the job file; raises BadInputError as ``decode``."""
    image = decode(data)
    return Taken(encode(image), image.width(), image.height(), data if keep_original else b"")


def encode(image: QImage) -> bytes:
    """A picture as JPEG on white."""
    flat = QImage(image.size(), QImage.Format.Format_RGB32)
    flat.fill(0xFFFFFFFF)
    painter = QPainter(flat)
    painter.drawImage(0, 0, image)
    painter.end()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QImageWriter(buffer, QByteArray(b"jpeg"))
    writer.setQuality(_QUALITY)
    if not writer.write(flat):
        raise BadInputError("can't be made into a JPEG picture here")
    return bytes(buffer.data().data())


def image_of(job: Job, photo: Photo) -> QImage | None:
    """A picture of the job decoded; None where it is missing or can't be read."""
    data = job.picture(photo.picture)
    try:
        return None if data is None else decode(data)
    except BadInputError:
        return None

"""A picture of the job with what is drawn on it and measured in it; beside the one before, where there is one."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QImage, QPainter, QPolygonF

from vernus.job.entities import Photo, PhotoPoint
from vernus.paper.ink import Inks, font, pen

_GAP = 12.0
_NAME = 20.0
_HEAD = 11.0


@dataclass(frozen=True)
class PhotoShown:
    """A picture decoded (None: it can't be read), its entity, and the words over it."""

    photo: Photo
    image: QImage | None
    title: str = ""


def photo_place(shown: PhotoShown, room: QRectF, zoom: float = 1.0, about: tuple[float, float] = (0.5, 0.5)) -> QRectF:
    """Where the picture lies in its room: as large as fits, or ``zoom`` times that about a place of it."""
    width, height = float(shown.photo.width), float(shown.photo.height)
    scale = min(room.width() / width, room.height() / height) * zoom
    size = (width * scale, height * scale)
    if zoom <= 1:
        return QRectF(room.center().x() - size[0] / 2, room.center().y() - size[1] / 2, *size)
    left = room.center().x() - about[0] * size[0]
    top = room.center().y() - about[1] * size[1]
    left = (
        min(room.left(), max(room.right() - size[0], left))
        if size[0] > room.width()
        else (room.center().x() - size[0] / 2)
    )
    top = (
        min(room.top(), max(room.bottom() - size[1], top))
        if size[1] > room.height()
        else (room.center().y() - size[1] / 2)
    )
    return QRectF(left, top, *size)


def paint_photos(painter: QPainter, room: QRectF, shown: Sequence[PhotoShown], inks: Inks) -> None:
    """One picture, or the one before and the one after side by side, each under its title."""
    wide = (room.width() - _GAP * (len(shown) - 1)) / max(1, len(shown))
    for n, one in enumerate(shown):
        box = QRectF(room.left() + n * (wide + _GAP), room.top(), wide, room.height())
        painter.setFont(font(11))
        painter.setPen(pen(inks.ink))
        painter.drawText(QRectF(box.left(), box.top(), wide, _NAME), Qt.AlignmentFlag.AlignLeft, one.title)
        place = photo_place(one, box.adjusted(0, _NAME, 0, 0))
        paint_photo(painter, place, one, inks, measured=False)


def paint_photo(painter: QPainter, place: QRectF, shown: PhotoShown, inks: Inks, *, measured: bool) -> None:
    """The picture in its place, its arrows with their words and, where ``measured``, the marks of what is measured."""
    if shown.image is None:
        painter.setFont(font(11))
        painter.setPen(pen(inks.stop))
        painter.drawRect(place)
        painter.drawText(place, Qt.AlignmentFlag.AlignCenter, "This picture is missing or damaged.")
    else:
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(place, shown.image)
    for arrow in shown.photo.arrows:
        _arrow(painter, _at(place, arrow.start), _at(place, arrow.end), arrow.start.words, inks)
    if measured:
        _marks(painter, place, shown.photo, inks)


def _at(place: QRectF, point: PhotoPoint) -> QPointF:
    return QPointF(place.left() + point.x * place.width(), place.top() + point.y * place.height())


def _line(painter: QPainter, start: QPointF, end: QPointF, inks: Inks) -> None:
    """A line that can be seen on anything: the accent on a light seam."""
    for colour, width in ((inks.sheet, 4.5), (inks.accent, 2.0)):
        painter.setPen(pen(colour, width))
        painter.drawLine(start, end)


def _arrow(painter: QPainter, start: QPointF, end: QPointF, words: str, inks: Inks) -> None:
    way = end - start
    long = math.hypot(way.x(), way.y())
    if long > 1:
        unit = way / long
        square = QPointF(-unit.y(), unit.x())
        _line(painter, start, end - unit * _HEAD * 0.8, inks)
        painter.setPen(pen(inks.sheet, 1.0))
        painter.setBrush(QBrush(QColor(inks.accent)))
        tail = end - unit * _HEAD
        painter.drawPolygon(QPolygonF([end, tail + square * _HEAD * 0.36, tail - square * _HEAD * 0.36]))
    if words:
        _words(painter, start, words, inks, above=way.y() > 0)


def _words(painter: QPainter, at: QPointF, words: str, inks: Inks, *, above: bool) -> None:
    painter.setFont(font(11))
    metrics = QFontMetricsF(painter.font())
    wide, tall = metrics.horizontalAdvance(words) + 10, metrics.height() + 4
    box = QRectF(at.x() - wide / 2, at.y() - tall if above else at.y(), wide, tall)
    painter.setPen(pen(inks.accent, 1.0))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawRect(box)
    painter.setPen(pen(inks.ink))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


def _marks(painter: QPainter, place: QRectF, photo: Photo, inks: Inks) -> None:
    corners = [_at(place, c) for c in photo.corners]
    for n, corner in enumerate(corners):
        if n:
            _line(painter, corners[n - 1], corner, inks)
    if len(corners) == 4:
        _line(painter, corners[3], corners[0], inks)
    for n, corner in enumerate(corners, 1):
        _cross(painter, corner, str(n), inks)
    datum = [_at(place, d) for d in photo.datum]
    if len(datum) == 2:
        painter.setPen(pen(inks.accent, 1.4, (8, 3, 1, 3)))
        painter.drawLine(*datum)
    for n, at in enumerate(datum):
        _cross(painter, at, "datum" if not n else "along", inks)
    for n, point in enumerate(photo.points, 1):
        _cross(painter, _at(place, point), point.words or f"hole {n}", inks)


def _cross(painter: QPainter, at: QPointF, words: str, inks: Inks) -> None:
    """A scribed cross whose middle stays open, so that what is marked can still be seen."""
    for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
        _line(painter, at + QPointF(3 * dx, 3 * dy), at + QPointF(12 * dx, 12 * dy), inks)
    _words(painter, at + QPointF(0, 15), words, inks, above=False)

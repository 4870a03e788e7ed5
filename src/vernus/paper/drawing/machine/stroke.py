"""The stroke picture: scale body, measuring length, reader at an axis position, spare at each end, to scale."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.plan.scales import Placement, ScaleFamily
from vernus.core.units import UnitSystem, format_length
from vernus.paper.drawing.lines import dimension, label, text_width
from vernus.paper.ink import Inks, pen

_ABOVE, _BELOW = 72.0, 100.0  # room for the dimensions over and under the body


@dataclass(frozen=True)
class Stroke:
    """What the picture shows, in mm: the body with its measuring length, the travel, and where the axis stands.

    ``position_mm`` runs from 0 (low stop) to ``travel_mm``. ``face_mm`` is the face the body is screwed to, if known;
    ``trips_mm`` are the positions at which a power feed trips.
    """

    family: ScaleFamily
    measuring_mm: float
    travel_mm: float
    placement: Placement
    position_mm: float
    face_mm: float | None = None
    trips_mm: tuple[float, float] | None = None

    def place_of(self, position_mm: float) -> float:
        """The reader's middle from the body's left end at an axis position."""
        run = self.placement.high_stop_mm - self.placement.low_stop_mm
        return self.placement.low_stop_mm + run * position_mm / self.travel_mm

    @property
    def overall_mm(self) -> float:
        """Overall length of the body."""
        return self.measuring_mm + 2 * self.family.end_piece_mm

    @property
    def reader_at_mm(self) -> float:
        """The reader's middle from the body's left end, at the axis position shown."""
        return self.place_of(self.position_mm)


@dataclass(frozen=True)
class StrokeScale:
    """How mm along the body map to the picture."""

    left: float
    px_per_mm: float

    def x(self, mm: float) -> float:
        """Picture x of a place on the body."""
        return self.left + mm * self.px_per_mm

    def position(self, x: float, stroke: Stroke) -> float:
        """The axis position that puts the reader's middle at picture ``x``, kept within the travel."""
        low, high = stroke.placement.low_stop_mm, stroke.placement.high_stop_mm
        share = ((x - self.left) / self.px_per_mm - low) / (high - low)
        return min(1.0, max(0.0, share)) * stroke.travel_mm


def stroke_scale(stroke: Stroke, room: QRectF) -> StrokeScale:
    """The one scale of the picture: everything shown fits ``room`` lengthwise."""
    reach = max(0.0, stroke.family.reader_mm / 2 - min(stroke.placement.low_stop_mm, stroke.placement.high_stop_mm))
    face = stroke.face_mm or 0.0
    extent = max(stroke.overall_mm + 2 * reach, face)
    px = (room.width() - 24) / extent
    return StrokeScale(room.center().x() - stroke.overall_mm * px / 2, px)


def paint_stroke(painter: QPainter, room: QRectF, stroke: Stroke, inks: Inks, units: UnitSystem) -> None:
    """Paint the stroke picture into ``room``."""
    scale = stroke_scale(stroke, room)
    body_h = max(22.0, min(46.0, room.height() * 0.13))
    spare_height = room.height() - (_ABOVE + 1.8 * body_h + _BELOW)
    top = room.top() + _ABOVE + max(0.0, spare_height) / 2
    body = QRectF(scale.x(0), top, stroke.overall_mm * scale.px_per_mm, body_h)
    if stroke.face_mm is not None:
        _face(painter, body, stroke.face_mm * scale.px_per_mm, inks)
    _body(painter, body, stroke, scale, inks)
    _reader(painter, body, stroke, scale, inks)
    _dimensions(painter, room, body, stroke, scale, inks, units)


def _face(painter: QPainter, body: QRectF, width: float, inks: Inks) -> None:
    plate = QRectF(body.center().x() - width / 2, body.top() - 7, width, body.height() + 14)
    painter.setPen(pen(inks.hairline, 1, (6, 4)))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(plate)


def _body(painter: QPainter, body: QRectF, stroke: Stroke, scale: StrokeScale, inks: Inks) -> None:
    painter.setPen(pen(inks.ink, 1.2))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawRect(body)
    left, right = scale.x(stroke.placement.measuring_from_mm), scale.x(stroke.placement.measuring_to_mm)
    painter.setPen(pen(inks.ink))
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(QRectF(left, body.top(), right - left, body.height()))
    painter.setPen(pen(inks.hairline))
    for n in range(1, 20):
        x = left + (right - left) * n / 20
        painter.drawLine(
            QPointF(x, body.bottom()), QPointF(x, body.bottom() - body.height() * (0.5 if n == 10 else 0.25))
        )
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _reader(painter: QPainter, body: QRectF, stroke: Stroke, scale: StrokeScale, inks: Inks) -> None:
    width, height = stroke.family.reader_mm * scale.px_per_mm, body.height() * 0.8
    for stop in (stroke.placement.low_stop_mm, stroke.placement.high_stop_mm):
        painter.setPen(pen(inks.faint, 1, (3, 3)))
        painter.drawRect(QRectF(scale.x(stop) - width / 2, body.bottom() + 1, width, height))
    middle = scale.x(stroke.reader_at_mm)
    painter.setPen(pen(inks.accent, 1.6))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawRect(QRectF(middle - width / 2, body.bottom() + 1, width, height))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawLine(QPointF(middle, body.top() - 6), QPointF(middle, body.bottom() + height + 8))
    if width / 2 > text_width(painter, "reader") + 6:
        label(painter, QPointF(middle - width / 4, body.bottom() + height / 2 + 1), "reader", inks)


def _dimensions(
    painter: QPainter, room: QRectF, body: QRectF, stroke: Stroke, scale: StrokeScale, inks: Inks, units: UnitSystem
) -> None:
    place = stroke.placement
    left, right = scale.x(place.measuring_from_mm), scale.x(place.measuring_to_mm)
    low, high = scale.x(place.low_stop_mm), scale.x(place.high_stop_mm)

    def say(mm: float) -> str:
        return format_length(mm, units)

    dimension(
        painter,
        body.left(),
        body.right(),
        body.top() - 58,
        f"body {say(stroke.overall_mm)}",
        inks,
        feature_y=body.top(),
        room=room,
    )
    dimension(
        painter,
        left,
        right,
        body.top() - 28,
        f"measuring length {say(stroke.measuring_mm)}",
        inks,
        feature_y=body.top(),
        room=room,
    )
    under = body.bottom() + body.height() * 0.8
    dimension(painter, low, high, under + 28, f"travel {say(stroke.travel_mm)}", inks, feature_y=under, room=room)
    half_head = stroke.family.head_mm / 2 * scale.px_per_mm
    spare = (stroke.measuring_mm - stroke.family.head_mm - stroke.travel_mm) / 2
    first, last = min(low, high) - half_head, max(low, high) + half_head
    y = under + 58
    dimension(painter, left, first, y, f"spare {say(spare)}", inks, feature_y=body.bottom(), room=room)
    dimension(painter, last, right, y, f"spare {say(spare)}", inks, feature_y=body.bottom(), room=QRectF(0, 0, 0, 0))
    ends = ((low, "low stop"), (high, "high stop"))
    if stroke.trips_mm is not None:
        _trips(painter, under, [scale.x(stroke.place_of(at)) for at in stroke.trips_mm], inks)
    for x, word in ends:
        label(painter, QPointF(x, y + 28), word, inks, colour=inks.faint)


def _trips(painter: QPainter, y: float, places: list[float], inks: Inks) -> None:
    """A flag under the reader where a power feed trips at each end."""
    painter.setPen(pen(inks.caution, 2.0))
    for x in places:
        painter.drawLine(QPointF(x, y - 8), QPointF(x, y + 5))
        label(painter, QPointF(x, y + 14), "trip", inks, colour=inks.caution)

"""The stations of a sweep along the body, the two end screws, and where the indicator goes next."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.core.units import UnitSystem, format_plain
from vernus.paper.drawing.align.sweep import paint_screw
from vernus.paper.drawing.lines import label
from vernus.paper.ink import Inks, pen


def paint_stations(
    painter: QPainter,
    room: QRectF,
    stations_mm: Sequence[float],
    screws_mm: tuple[float, float] | None,
    hold: str,
    next_mm: float | None,
    inks: Inks,
    units: UnitSystem,
) -> None:
    """Paint the body seen from the indicator's side, to scale along its length."""
    places = [*stations_mm, *(screws_mm or ())]
    if not places or max(places) == min(places):
        return
    low, high = min(places), max(places)
    left, right = room.left() + 40, room.right() - 40
    per_mm = (right - left) / (high - low)
    body = QRectF(left - 18, room.center().y() - 22, right - left + 36, 44)
    painter.setPen(pen(inks.ink, 1.2))
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(body)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for mm in stations_mm:
        x = left + (mm - low) * per_mm
        painter.setPen(pen(inks.faint))
        painter.drawLine(QPointF(x, body.top()), QPointF(x, body.top() + 14))
        text = format_plain(mm, units, with_unit=False)
        label(painter, QPointF(x, body.bottom() + 16), text, inks, colour=inks.faint)
    for mm, side in zip(screws_mm or (), ("left", "right"), strict=False):
        paint_screw(painter, QPointF(left + (mm - low) * per_mm, body.center().y()), side == hold, inks)
    if next_mm is not None:
        _indicator(painter, QPointF(left + (next_mm - low) * per_mm, body.top()), inks)


def _indicator(painter: QPainter, tip: QPointF, inks: Inks) -> None:
    """A plain plunger standing on the body."""
    painter.setPen(pen(inks.accent, 2))
    painter.drawLine(tip, QPointF(tip.x(), tip.y() - 34))
    painter.setBrush(QBrush(QColor(inks.accent)))
    painter.drawPolygon(QPolygonF([tip, QPointF(tip.x() - 4, tip.y() - 9), QPointF(tip.x() + 4, tip.y() - 9)]))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawEllipse(QPointF(tip.x(), tip.y() - 50), 16, 16)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawLine(QPointF(tip.x(), tip.y() - 50), QPointF(tip.x() + 5, tip.y() - 61))

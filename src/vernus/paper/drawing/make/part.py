"""A part to scale with its holes numbered and dimensioned from the datum corner."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.make.parts import HoleRow, Part
from vernus.core.units import UnitSystem, format_length
from vernus.paper.drawing.lines import dimension, label
from vernus.paper.ink import Inks, pen


def paint_part(
    painter: QPainter, room: QRectF, part: Part, rows: Sequence[HoleRow], inks: Inks, units: UnitSystem
) -> None:
    """Paint the part seen on its holes into ``room``."""
    per_mm = min((room.width() - 70) / part.length_mm, (room.height() - 110) / part.width_mm)
    wide, high = part.length_mm * per_mm, part.width_mm * per_mm
    left, low = room.center().x() - wide / 2, room.top() + 44 + high
    painter.setPen(pen(inks.ink, 1.4))
    painter.setBrush(QBrush(QColor(inks.wash)))
    plate = QRectF(left, low - high, wide, high)
    painter.drawRect(plate)
    painter.setBrush(QBrush(QColor(inks.sheet)))
    middles = [QPointF(left + row.hole.x_mm * per_mm, low - row.hole.y_mm * per_mm) for row in rows]
    sizes = [(row.size_mm * per_mm, row.drill_mm * per_mm) for row in rows]
    taken = [QRectF(at.x() - w / 2, at.y() - h / 2, w, h) for at, (w, h) in zip(middles, sizes, strict=True)]
    for at, row in zip(middles, rows, strict=True):
        paint_hole(painter, at, row, per_mm, inks)
    for at, row in zip(middles, rows, strict=True):
        taken.append(label(painter, _number_at(at, row, taken, plate, per_mm), str(row.number), inks))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.accent, 2.4))
    painter.drawLine(QPointF(left, low), QPointF(left + 18, low))
    painter.drawLine(QPointF(left, low), QPointF(left, low - 18))
    words = f"{format_length(part.length_mm, units)}"
    dimension(painter, left, left + wide, low + 26, words, inks, feature_y=low, room=room)
    across = f"{format_length(part.width_mm, units)} wide, {format_length(part.thickness_mm, units)} thick"
    label(painter, QPointF(room.center().x(), low + 54), f"{across}; datum at the lower left", inks, colour=inks.faint)


def _number_at(at: QPointF, row: HoleRow, taken: Sequence[QRectF], plate: QRectF, per_mm: float) -> QPointF:
    """Where a hole's number stands: above, below, right or left of it, on the plate and clear of what is there."""
    up, aside = row.drill_mm * per_mm / 2 + 12, row.size_mm * per_mm / 2 + 12
    places = [at + QPointF(*off) for off in ((0.0, -up), (0.0, up), (aside, 0.0), (-aside, 0.0))]
    for place in places:
        box = QRectF(place.x() - 6, place.y() - 7, 12, 14)
        if plate.contains(box) and not any(box.intersects(other) for other in taken):
            return place
    return places[0]


def paint_hole(painter: QPainter, at: QPointF, row: HoleRow, per_mm: float, inks: Inks) -> None:
    """A hole, slot or counterbore with its centre lines, at a scale of ``per_mm`` px a millimetre."""
    radius = row.drill_mm / 2 * per_mm
    painter.setPen(pen(inks.ink, 1.2))
    if row.slot_mm is not None:
        half = row.slot_mm / 2 * per_mm
        painter.drawRoundedRect(QRectF(at.x() - half, at.y() - radius, 2 * half, 2 * radius), radius, radius)
    else:
        if row.counterbore_mm is not None:
            bore = row.counterbore_mm / 2 * per_mm
            painter.drawEllipse(at, bore, bore)
        painter.drawEllipse(at, radius, radius)
    if row.hole.kind == "tapped":
        painter.setPen(pen(inks.faint, 0.8, (4, 3)))
        painter.drawEllipse(at, radius * 1.2, radius * 1.2)
    reach = row.size_mm / 2 * per_mm + 5
    painter.setPen(pen(inks.accent, 0.7))
    painter.drawLine(at - QPointF(reach, 0), at + QPointF(reach, 0))
    painter.drawLine(at - QPointF(0, reach), at + QPointF(0, reach))

"""A pattern of holes to scale, numbered, with the middle it is driven from; what was measured as larger arrows."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QPainter

from vernus.core.units import UnitSystem, format_fine, format_length
from vernus.paper.drawing.lines import arrowhead_at, label
from vernus.paper.ink import Inks, pen

Place = tuple[float, float]
FOUND = "from its place to where it was found"
REMAINS = "what scales and squareness don't explain"
_MARGIN, _BELOW = 34.0, 24.0
_ARROW = 36.0


def paint_holes(
    painter: QPainter,
    room: QRectF,
    holes: Sequence[Place],
    inks: Inks,
    units: UnitSystem,
    radius_mm: float | None = None,
    off_mm: Mapping[int, Place] | None = None,
    told: str = FOUND,
) -> None:
    """Paint the holes (mm from the middle); ``off_mm`` is by hole number how far it lies off, ``told`` what that is."""
    reach = max([radius_mm or 0.0, *(abs(v) for hole in holes for v in hole)]) or 1.0
    across = min(room.width() - 2 * _MARGIN, room.height() - 2 * _MARGIN - _BELOW) / 2
    per_mm = across / reach
    middle = QPointF(room.center().x(), room.top() + _MARGIN + across)

    def at(place: Place) -> QPointF:
        return QPointF(middle.x() + place[0] * per_mm, middle.y() - place[1] * per_mm)

    painter.setPen(pen(inks.faint, 0.8, (12.0, 4.0, 2.0, 4.0)))
    painter.drawLine(QLineF(middle.x() - across - 10, middle.y(), middle.x() + across + 10, middle.y()))
    painter.drawLine(QLineF(middle.x(), middle.y() - across - 24, middle.x(), middle.y() + across + 10))
    taken = [
        label(painter, QPointF(middle.x() + across + 20, middle.y()), "X", inks, colour=inks.faint),
        label(painter, QPointF(middle.x() + 26, middle.y() - across - 22), "Y", inks, colour=inks.faint),
    ]
    if radius_mm is not None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, radius_mm * per_mm, radius_mm * per_mm)
    size = max(4.0, min(9.0, 2.2 * across / max(4, len(holes))))
    for number, hole in enumerate(holes, 1):
        spot = at(hole)
        painter.setPen(pen(inks.ink, 1.4))
        painter.drawEllipse(spot, size, size)
        away = math.hypot(*hole) or 1.0
        beside = QPointF(hole[0] / away * (size + 11), -hole[1] / away * (size + 11))
        words = spot + (beside if math.hypot(*hole) > 1e-9 else QPointF(size + 9, -size))
        wide = 9.0 * len(str(number)) + 6
        place = QRectF(words.x() - wide / 2, words.y() - 9, wide, 18)
        if not any(place.intersects(other) for other in taken):  # of many holes every so many is numbered
            taken.append(place)
            label(painter, words, str(number), inks)
    said = f"radius {format_length(radius_mm, units)}" if radius_mm is not None else ""
    most = max((math.hypot(*v) for v in (off_mm or {}).values()), default=0.0)
    if off_mm and most > 0:
        for number, off in off_mm.items():
            start = at(holes[number - 1])
            end = start + QPointF(off[0], -off[1]) * (_ARROW / most)
            painter.setPen(pen(inks.accent, 1.8))
            painter.drawLine(QLineF(start, end))
            if math.hypot(*off) > most / 8:
                long = math.hypot(*off)
                arrowhead_at(painter, end, (off[0] / long, -off[1] / long), inks.accent)
        said = f"{said}; " if said else ""
        said += f"arrows: {told}, the longest {format_fine(most, units)}"
    label(painter, QPointF(room.center().x(), room.bottom() - 10), said, inks, colour=inks.faint)

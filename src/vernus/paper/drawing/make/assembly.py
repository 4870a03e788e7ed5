"""Parts that are bolted together, drawn apart along the screws, each with its number; not to scale between views.

Oblique: the face square on, its thickness at 45° and half as long (ISO 5456-3, from memory).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import Part
from vernus.paper.drawing.lines import label
from vernus.paper.drawing.make.view import THICK, THIN
from vernus.paper.ink import Inks, pen

_APART = 90.0
"""How far one part is drawn off the next: px."""
_ROUND = 11.0


def paint_assembly(
    painter: QPainter, room: QRectF, parts: Sequence[tuple[Part, Sequence[HoleRow]]], inks: Inks
) -> None:
    """The parts from the machine outwards: the first at the upper right, the last nearest to the eye."""
    back = math.cos(math.radians(45)) / 2
    long = max(p.length_mm for p, _ in parts)
    high = max(p.width_mm for p, _ in parts)
    deep = sum(p.thickness_mm for p, _ in parts) * back
    gaps = _APART * (len(parts) - 1)
    per_mm = max(0.02, min((room.width() - gaps - 110) / (long + deep), (room.height() - gaps - 50) / (high + deep)))
    x, y = room.right() - 60 - long * per_mm - deep * per_mm / len(parts), room.top() + 30 + deep * per_mm
    middles: list[QPointF] = []
    for number, (part, rows) in enumerate(parts, 1):
        depth = part.thickness_mm * back * per_mm
        face = QRectF(x, y, part.length_mm * per_mm, part.width_mm * per_mm)
        _block(painter, face, depth, inks)
        for row in rows:
            if row.hole.face == "face":
                at = QPointF(face.left() + row.hole.x_mm * per_mm, face.bottom() - row.hole.y_mm * per_mm)
                if face.contains(at):
                    painter.drawEllipse(at, row.drill_mm / 2 * per_mm, row.drill_mm / 2 * per_mm)
        middles.append(face.center())
        _balloon(
            painter, QPointF(face.left() - 24, face.top() + 10), QPointF(face.left(), face.top() + 10), number, inks
        )
        x, y = x - depth - _APART, y + depth + _APART * 0.6
    painter.setPen(pen(inks.accent, THIN, (12, 3, 1, 3)))
    for one, other in pairwise(middles):
        painter.drawLine(one, other)


def _block(painter: QPainter, face: QRectF, depth: float, inks: Inks) -> None:
    off = QPointF(depth, -depth)
    painter.setPen(pen(inks.ink, THICK))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawPolygon(QPolygonF([face.topLeft(), face.topLeft() + off, face.topRight() + off, face.topRight()]))
    painter.drawPolygon(
        QPolygonF([face.topRight(), face.topRight() + off, face.bottomRight() + off, face.bottomRight()])
    )
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(face)
    painter.setBrush(QBrush(QColor(inks.sheet)))


def _balloon(painter: QPainter, at: QPointF, to: QPointF, number: int, inks: Inks) -> None:
    painter.setPen(pen(inks.ink, THIN))
    painter.drawLine(at + QPointF(_ROUND, 0), to)
    painter.drawEllipse(at, _ROUND, _ROUND)
    label(painter, at, str(number), inks)

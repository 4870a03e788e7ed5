"""How the passes converge: a bar of uncertainty per pass against the tolerance band."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.units import UnitSystem
from vernus.paper.drawing.lines import label
from vernus.paper.ink import Inks, pen

_MOST = 8


def paint_passes(
    painter: QPainter,
    room: QRectF,
    rises_mm: Sequence[float],
    unsure_mm: Sequence[float],
    tolerance_mm: float,
    inks: Inks,
    units: UnitSystem,
) -> None:
    """Paint the last passes' end-to-end figures (mm) with their uncertainty into ``room``, numbered below."""
    first = max(0, len(rises_mm) - _MOST)
    shown = list(zip(rises_mm, unsure_mm, strict=True))[first:]
    most = max(tolerance_mm, *(abs(r) + u for r, u in shown))
    low = room.bottom() - 20
    middle, per_mm = (room.top() + 4 + low) / 2, (low - room.top() - 8) / 2 / most
    band = QRectF(room.left(), middle - tolerance_mm * per_mm, room.width(), 2 * tolerance_mm * per_mm)
    painter.fillRect(band, QColor(inks.wash))
    painter.setPen(pen(inks.hairline))
    painter.drawLine(QPointF(room.left(), middle), QPointF(room.right(), middle))
    step = room.width() / (len(shown) + 1)
    for n, (rise, unsure) in enumerate(shown, 1):
        x, y = room.left() + n * step, middle - rise * per_mm
        painter.setPen(pen(inks.ink, 1.4))
        painter.drawLine(QPointF(x, y - unsure * per_mm), QPointF(x, y + unsure * per_mm))
        inside = abs(rise) <= tolerance_mm
        painter.setBrush(QBrush(QColor(inks.ink if inside else inks.sheet)))
        painter.drawEllipse(QPointF(x, y), 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        label(painter, QPointF(x, room.bottom() - 9), f"{first + n}", inks, colour=inks.faint)
    label(painter, QPointF(room.left(), room.bottom() - 9), "pass", inks, anchor="left", colour=inks.faint)

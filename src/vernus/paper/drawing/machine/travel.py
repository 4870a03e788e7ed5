"""The travel picture: the two end marks to scale, what is kept between them and what is given up."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter

from vernus.core.units import UnitSystem, format_length
from vernus.paper.drawing.lines import dimension, label
from vernus.paper.ink import Inks, pen


def paint_travel(
    painter: QPainter,
    room: QRectF,
    mechanical_mm: float | None,
    give_up_mm: tuple[float, float],
    inks: Inks,
    units: UnitSystem,
    members: tuple[str, str],
) -> None:
    """Paint the travel between its marks into ``room``; ``members`` are the moving and the still one.

    With no travel known yet the picture shows what to measure.
    """
    left, right = room.left() + 70, room.right() - 70
    total = mechanical_mm or 1.0
    per_mm = (right - left) / total
    y = room.top() + room.height() * 0.42
    height = max(26.0, min(60.0, room.height() * 0.16))
    kept = QRectF(left + give_up_mm[0] * per_mm, y, (total - sum(give_up_mm)) * per_mm, height)
    painter.fillRect(kept, QColor(inks.wash))
    painter.setPen(pen(inks.ink, 1.2))
    painter.drawLine(QPointF(room.left() + 8, y + height), QPointF(room.right() - 8, y + height))
    painter.drawRect(QRectF(left, y, right - left, height))
    _hatch(painter, QRectF(left, y, give_up_mm[0] * per_mm, height), inks)
    _hatch(painter, QRectF(kept.right(), y, right - kept.right(), height), inks)
    for x, word in ((left, "low mark"), (right, "high mark")):
        painter.setPen(pen(inks.accent, 1.4))
        painter.drawLine(QPointF(x, y - 14), QPointF(x, y + height + 14))
        label(painter, QPointF(x, y + height + 26), word, inks, colour=inks.faint)
    label(painter, QPointF(room.center().x(), y + height / 2), f"travel of the {members[0]}", inks)
    label(painter, QPointF(room.center().x(), y + height + 26), members[1], inks, colour=inks.faint)
    words = "measure this" if mechanical_mm is None else f"mechanical {format_length(mechanical_mm, units)}"
    dimension(painter, left, right, y - 62, words, inks, feature_y=y, room=room)
    if sum(give_up_mm) > 0:
        useful = format_length(total - sum(give_up_mm), units)
        dimension(painter, kept.left(), kept.right(), y - 30, f"useful {useful}", inks, feature_y=y, room=room)


def _hatch(painter: QPainter, box: QRectF, inks: Inks) -> None:
    """Slanted hairlines over what is given up."""
    if box.width() < 0.5:
        return
    painter.save()
    painter.setClipRect(box)
    painter.setPen(pen(inks.faint, 0.8))
    for n in range(int((box.width() + box.height()) / 6) + 1):
        x = box.left() + 6 * n
        painter.drawLine(QPointF(x, box.top()), QPointF(x - box.height(), box.bottom()))
    painter.restore()

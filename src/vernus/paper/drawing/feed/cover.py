"""The gear cover: its inside from the gears' side, and how deep it is."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.feed.cover import GearCover
from vernus.core.units import UnitSystem, format_length
from vernus.paper.drawing.lines import dimension, label
from vernus.paper.drawing.make.part import upright
from vernus.paper.drawing.make.view import THICK, THIN
from vernus.paper.ink import Inks, pen

_ROUND = 70.0
"""Room for the dimensions round the views: px."""


def paint_cover(painter: QPainter, room: QRectF, cover: GearCover, inks: Inks, units: UnitSystem) -> None:
    """Its inside along the line of centres, with the screw's hole, and beside it how deep it is."""
    wide_mm = cover.long_mm + cover.deep_mm
    per_mm = min((room.width() - 4 * _ROUND) / wide_mm, (room.height() - 2 * _ROUND) / cover.wide_mm)
    plan = QRectF(room.left() + _ROUND, room.top() + 30, cover.long_mm * per_mm, cover.wide_mm * per_mm)
    side = QRectF(plan.right() + 1.6 * _ROUND, plan.top(), cover.deep_mm * per_mm, plan.height())
    painter.setPen(pen(inks.ink, THICK))
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(plan)
    painter.drawRect(side)
    painter.setBrush(QBrush(QColor(inks.sheet)))
    screw = QPointF(plan.left() + cover.from_screw_mm * per_mm, plan.center().y())
    if cover.screw_mm is not None:
        painter.drawEllipse(screw, cover.screw_mm / 2 * per_mm, cover.screw_mm / 2 * per_mm)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.accent, THIN, (12, 3, 1, 3)))
    painter.drawLine(QPointF(plan.left() - 10, screw.y()), QPointF(plan.right() + 10, screw.y()))
    painter.drawLine(QPointF(screw.x(), plan.top() - 10), QPointF(screw.x(), plan.bottom() + 10))
    label(
        painter, QPointF(plan.left(), plan.top() - 16), "inside, from the gears", inks, anchor="left", colour=inks.faint
    )
    low = plan.bottom()
    reach = format_length(cover.from_screw_mm, units)
    dimension(painter, plan.left(), screw.x(), low + 22, reach, inks, feature_y=low, room=room)
    long = format_length(cover.long_mm, units)
    dimension(painter, plan.left(), plan.right(), low + 48, long, inks, feature_y=low, room=room)
    deep = format_length(cover.deep_mm, units)
    dimension(painter, side.left(), side.right(), low + 22, deep, inks, feature_y=low, room=room)
    upright(
        painter, low, plan.top(), plan.left() - 22, format_length(cover.wide_mm, units), inks, feature_x=plan.left()
    )

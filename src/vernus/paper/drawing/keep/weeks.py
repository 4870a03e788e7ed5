"""The weeks ahead: one row per axis, a block for every day something of it is done, Mondays ruled."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from datetime import date, timedelta
from functools import partial

from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.job.keep.card import CardLine
from vernus.paper.drawing.lines import label
from vernus.paper.ink import Inks, pen

_LEFT, _FOOT, _MOST_ROWS = 64.0, 22.0, 8


def weeks_drawing(
    lines: Sequence[CardLine], days: Mapping[str, tuple[date, ...]], inks: Inks
) -> Callable[[QPainter, QRectF], None]:
    """The picture of planned steps as a function that paints it into a room."""
    rows: dict[str, set[date]] = {}
    for line in lines:
        if line.step.key in days:
            rows.setdefault(line.step.axis or "all", set()).update(days[line.step.key])
    return partial(paint_weeks, rows=rows, inks=inks)


def paint_weeks(painter: QPainter, room: QRectF, rows: Mapping[str, Collection[date]], inks: Inks) -> None:
    """Paint the rows (name → the days on which something of it is done) from the first day to the last."""
    if not rows:
        return
    everything = [day for row in rows.values() for day in row]
    first, last = min(everything), max(everything)
    wide = (room.width() - _LEFT - 8) / ((last - first).days + 1)
    shown = list(rows.items())[:_MOST_ROWS]
    high = min(22.0, (room.height() - _FOOT) / len(shown))

    def at(day: date) -> float:
        return room.left() + _LEFT + (day - first).days * wide

    bottom = room.top() + high * len(shown)
    monday = first + timedelta(days=(7 - first.weekday()) % 7)
    every = max(1, round(90 / (7 * wide)))
    week = 0
    while monday <= last:
        painter.setPen(pen(inks.hairline))
        painter.drawLine(QLineF(at(monday), room.top(), at(monday), bottom))
        if week % every == 0 and at(monday) + 40 < room.right():
            said = f"{monday.day}.{monday.month}."
            label(painter, QPointF(at(monday), bottom + 11), said, inks, anchor="left", colour=inks.faint)
        monday, week = monday + timedelta(days=7), week + 1
    for n, (name, worked) in enumerate(shown):
        top = room.top() + n * high
        label(painter, QPointF(room.left(), top + high / 2), name, inks, anchor="left")
        painter.setPen(pen(inks.hairline))
        painter.drawLine(QLineF(room.left() + _LEFT, top + high, room.right() - 8, top + high))
        painter.setBrush(QBrush(QColor(inks.accent)))
        painter.setPen(pen(inks.sheet, 0.5))
        for day in sorted(worked):
            painter.drawRect(QRectF(at(day), top + 4, max(2.0, wide), high - 7))
    painter.setBrush(QBrush())

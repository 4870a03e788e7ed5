"""What a display reads over the years: every check with its ±, day by day, and what happened between."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from datetime import date

from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.paper.drawing.chart import ticks
from vernus.paper.drawing.lines import label
from vernus.paper.ink import Inks, pen

_LEFT, _RIGHT, _TOP, _FOOT, _DOT = 64.0, 46.0, 16.0, 22.0, 4.0
_LEAST_PPM = 20.0

Checked = tuple[date, float, float | None]
"""A check: its day, how much too long it reads (ppm), and its ± (None: not known)."""


def paint_history(
    painter: QPainter, room: QRectF, checks: Sequence[Checked], events: Sequence[tuple[date, str]], inks: Inks
) -> None:
    """Paint the checks as dots with their ± over the days, events as dashed lines with their word."""
    if not checks:
        return
    lows = [ppm - (u or 0.0) for _, ppm, u in checks]
    highs = [ppm + (u or 0.0) for _, ppm, u in checks]
    low, high = min([0.0, *lows]), max([0.0, *highs])
    if high - low < _LEAST_PPM:
        low, high = low - _LEAST_PPM / 2, high + _LEAST_PPM / 2
    days = [d for d, *_ in checks] + [d for d, _ in events]
    first, span = min(days), max(1, (max(days) - min(days)).days)
    inner = room.adjusted(_LEFT, _TOP, -_RIGHT, -_FOOT)

    def at(day: date, ppm: float) -> QPointF:
        share = (day - first).days / span if len(set(days)) > 1 else 0.5
        up = (ppm - low) / (high - low)
        return QPointF(inner.left() + share * inner.width(), inner.bottom() - up * inner.height())

    painter.setPen(pen(inks.hairline))
    for tick in ticks(low, high, 3):
        y = at(first, tick).y()
        painter.drawLine(QLineF(inner.left(), y, inner.right(), y))
        label(painter, QPointF(inner.left() - 6, y), f"{tick:+.0f}" if tick else "0", inks, anchor="right")
    label(painter, QPointF(room.left(), room.top() + 6), "reads long, µm per m", inks, anchor="left", colour=inks.faint)
    for day, words in events:
        x = at(day, low).x()
        painter.setPen(pen(inks.caution, 1.0, (4.0, 3.0)))
        painter.drawLine(QLineF(x, inner.top(), x, inner.bottom()))
        late = x > inner.left() + 0.6 * inner.width()
        side, off = ("right", -4) if late else ("left", 4)
        label(painter, QPointF(x + off, inner.top() + 5), words, inks, anchor=side, colour=inks.caution)
    painter.setPen(pen(inks.accent, 1.4))
    for day, ppm, u in checks:
        if u is not None:
            painter.drawLine(QLineF(at(day, ppm - u), at(day, ppm + u)))
    for (day, ppm, _), (then, later, _) in itertools.pairwise(checks):
        painter.drawLine(QLineF(at(day, ppm), at(then, later)))
    painter.setBrush(QBrush(QColor(inks.accent)))
    for day, ppm, _ in checks:
        painter.drawEllipse(at(day, ppm), _DOT, _DOT)
    painter.setBrush(QBrush())
    ends = dict.fromkeys((checks[0][0], checks[-1][0]))
    for day in ends:
        label(painter, QPointF(at(day, low).x(), inner.bottom() + 12), day.isoformat(), inks, colour=inks.faint)

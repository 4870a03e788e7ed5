"""How a try ended: how far from good over the minutes, and under it the deeds of both on one time line."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPolygonF

from vernus.core.units import UnitSystem
from vernus.paper.drawing.chart import ticks
from vernus.paper.ink import Inks, font, pen

_LANE, _AXIS, _LEFT = 44.0, 24.0, 8.0


@dataclass(frozen=True)
class TraceShown:
    """A try: minutes and how far from good (mm) after each pass, what it took, its deeds as (minute, words)."""

    minutes: Sequence[float]
    off: Sequence[float]
    total: float
    deeds: Sequence[tuple[float, str]] = ()


def paint_traces(
    painter: QPainter, room: QRectF, mine: TraceShown, other: TraceShown, inks: Inks, units: UnitSystem = "mm"
) -> None:
    """Two tries over the minutes they took; yours in the accent."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(11))
    most = max(mine.total, other.total, 1.0)
    lanes = QRectF(room.left() + _LEFT, room.bottom() - 2 * _LANE - _AXIS, room.width() - 2 * _LEFT, 2 * _LANE)
    if max(*mine.off, *other.off) > 0:
        above = QRectF(lanes.left(), room.top(), lanes.width(), lanes.top() - room.top() - 10)
        _paint_off(painter, above, ((other, inks.faint), (mine, inks.accent)), most, inks, units)
    for n, (trace, who, colour) in enumerate(((mine, "you", inks.accent), (other, "the adviser", inks.faint))):
        lane = QRectF(lanes.left(), lanes.top() + n * _LANE, lanes.width(), _LANE)
        _paint_lane(painter, lane, trace, f"{who}, {trace.total:.0f} min", most, colour, inks)
    painter.setPen(pen(inks.ink, 1.0))
    painter.drawLine(lanes.bottomLeft(), lanes.bottomRight())
    for tick in ticks(0.0, most, 5):
        x = lanes.left() + lanes.width() * tick / most
        painter.drawLine(QLineF(x, lanes.bottom(), x, lanes.bottom() + 4))
        words = f"{tick:g} min" if tick == 0 else f"{tick:g}"
        room_for = QRectF(x - (4 if tick == 0 else 30), lanes.bottom() + 4, 60, 18)
        side = Qt.AlignmentFlag.AlignLeft if tick == 0 else Qt.AlignmentFlag.AlignHCenter
        painter.drawText(room_for, side, words)


def _paint_lane(
    painter: QPainter, lane: QRectF, trace: TraceShown, who: str, most: float, colour: str, inks: Inks
) -> None:
    """The deeds of one as blocks on the line, those of one kind in a row together, named where there is room."""
    painter.setPen(pen(inks.ink))
    painter.drawText(QRectF(lane.left(), lane.top(), lane.width(), 18), Qt.AlignmentFlag.AlignLeft, who)
    groups = [(words, [m for m, _ in deeds]) for words, deeds in itertools.groupby(trace.deeds, key=lambda d: d[1])]
    metrics = QFontMetricsF(font(11))
    for n, (words, minutes) in enumerate(groups):
        begins, ends = minutes[0], groups[n + 1][1][0] if n + 1 < len(groups) else trace.total
        left, right = (lane.left() + lane.width() * min(m, most) / most for m in (begins, ends))
        box = QRectF(left, lane.top() + 19, max(1.0, right - left), 19)
        painter.setPen(pen(inks.sheet, 0.5))
        painter.setBrush(QBrush(QColor(colour if n % 2 == 0 else inks.wash)))
        painter.drawRect(box)
        if metrics.horizontalAdvance(words) + 6 < box.width():
            painter.setPen(pen(inks.sheet if n % 2 == 0 else inks.ink))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _paint_off(
    painter: QPainter, room: QRectF, traces: Sequence[tuple[TraceShown, str]], most: float, inks: Inks,
    units: UnitSystem,
) -> None:  # fmt: skip
    """How far from good, pass by pass, over the minutes."""
    highest = max(max(t.off) for t, _ in traces) or 1e-9
    per, unit = (1000.0, "µm") if units == "mm" else (1000 / 25.4, "thou")
    painter.setPen(pen(inks.faint))
    painter.drawText(QRectF(room.left(), room.top(), room.width(), 18), f"how far from good, {unit}")
    box = room.adjusted(44, 22, 0, -4)
    for tick in ticks(0.0, highest * per, 3):
        y = box.bottom() - box.height() * tick / (highest * per)
        painter.setPen(pen(inks.hairline))
        painter.drawLine(QLineF(box.left(), y, box.right(), y))
        painter.setPen(pen(inks.ink))
        painter.drawText(QRectF(room.left(), y - 9, 38, 18), Qt.AlignmentFlag.AlignRight, f"{tick:g}")
    for trace, colour in traces:
        painter.setPen(pen(colour, 2.2))
        points: list[QPointF] = []
        for minute, off in zip(trace.minutes, trace.off, strict=True):
            x = box.left() + box.width() * min(1.0, minute / most)
            y = box.bottom() - box.height() * (off / highest)
            points += [QPointF(x, points[-1].y())] if points else []
            points.append(QPointF(x, y))
        painter.drawPolyline(QPolygonF(points))

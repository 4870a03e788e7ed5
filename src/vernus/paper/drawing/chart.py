"""The one chart style: scribed frame, ticks in the reader's unit, points, lines and bands."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.core.units import UnitName, to_unit
from vernus.paper.drawing.lines import label
from vernus.paper.ink import Inks, font, pen


@dataclass(frozen=True)
class Range:
    """An axis of a chart: limits in mm, the unit its ticks are in, and its title."""

    low_mm: float
    high_mm: float
    unit: UnitName
    title: str

    @classmethod
    def holding(
        cls, values_mm: Iterable[float], unit: UnitName, title: str, least_mm: float = 1e-6, foot: float = 0.0
    ) -> Range:
        """A range that holds every value with a little air, never narrower than ``least_mm``.

        ``foot`` is a share of it left free at the low end.
        """
        values = list(values_mm)
        low, high = min(values), max(values)
        air = max((high - low) * 0.08, (least_mm - (high - low)) / 2, 0.0)
        return cls(low - air - foot * (high - low + 2 * air), high + air, unit, f"{title}, {unit}")


def ticks(low: float, high: float, wanted: int = 5) -> list[float]:
    """Round values (1, 2, 5 × 10ⁿ apart) between ``low`` and ``high``."""
    rough = (high - low) / max(1, wanted)
    power = 10.0 ** math.floor(math.log10(rough))
    step = next(m * power for m in (1, 2, 5, 10) if m * power >= rough * (1 - 1e-9))
    first = math.ceil(low / step - 1e-9)
    return [n * step for n in range(first, math.floor(high / step + 1e-9) + 1)]


class Chart:
    """A frame with two ranges; everything is given in mm."""

    def __init__(self, painter: QPainter, room: QRectF, x: Range, y: Range, inks: Inks, *, key: bool = True) -> None:
        self.painter, self.x, self.y, self.inks = painter, x, y, inks
        painter.setFont(font())
        height = painter.fontMetrics().height()
        self._x_ticks = ticks(to_unit(x.low_mm, x.unit), to_unit(x.high_mm, x.unit), max(2, int(room.width() / 90)))
        self._y_ticks = ticks(to_unit(y.low_mm, y.unit), to_unit(y.high_mm, y.unit), max(2, int(room.height() / 60)))
        self._y_texts = _tick_texts(self._y_ticks)
        margin = max(painter.fontMetrics().horizontalAdvance(t) for t in self._y_texts) + 12
        self.frame = QRectF(room.left() + margin, room.top() + height + 6, 0, 0)
        self.frame.setRight(room.right() - 10)
        self.frame.setBottom(room.bottom() - (3 if key else 2) * height - 12)
        self._draw_frame(height)

    def at(self, x_mm: float, y_mm: float) -> QPointF:
        """Where a point stands in the picture."""
        f = self.frame
        across = (x_mm - self.x.low_mm) / (self.x.high_mm - self.x.low_mm)
        up = (y_mm - self.y.low_mm) / (self.y.high_mm - self.y.low_mm)
        return QPointF(f.left() + across * f.width(), f.bottom() - up * f.height())

    def _draw_frame(self, height: float) -> None:
        p, f, inks = self.painter, self.frame, self.inks
        for value, text in zip(self._x_ticks, _tick_texts(self._x_ticks), strict=True):
            x = self.at(value / to_unit(1, self.x.unit), self.y.low_mm).x()
            p.setPen(pen(inks.hairline, 0.6))
            p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom() + 4))
            label(p, QPointF(x, f.bottom() + 4 + height / 2), text, inks, colour=inks.faint)
        for value, text in zip(self._y_ticks, self._y_texts, strict=True):
            y = self.at(self.x.low_mm, value / to_unit(1, self.y.unit)).y()
            p.setPen(pen(inks.hairline, 1.4 if abs(value) < 1e-12 else 0.6))
            p.drawLine(QPointF(f.left() - 4, y), QPointF(f.right(), y))
            label(p, QPointF(f.left() - 7, y), text, inks, anchor="right", colour=inks.faint)
        p.setPen(pen(inks.faint))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(f)
        label(p, QPointF(f.left(), f.top() - height / 2 - 4), self.y.title, inks, anchor="left")
        label(p, QPointF(f.right(), f.bottom() + height * 1.5 + 6), self.x.title, inks, anchor="right")

    def line(self, points: Sequence[tuple[float, float]], colour: str, width: float = 1.6, dash: bool = False) -> None:
        """A polyline through points in mm."""
        self.painter.setPen(pen(colour, width, (5, 4) if dash else ()))
        self.painter.drawPolyline(QPolygonF([self.at(*q) for q in points]))

    def band(self, low: Sequence[tuple[float, float]], high: Sequence[tuple[float, float]], colour: str) -> None:
        """A washed band between two polylines."""
        self.painter.save()
        self.painter.setClipRect(self.frame)
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(QBrush(QColor(colour)))
        self.painter.drawPolygon(QPolygonF([self.at(*q) for q in (*low, *reversed(high))]))
        self.painter.restore()

    def points(
        self,
        points: Sequence[tuple[float, float]],
        colour: str,
        *,
        filled: bool,
        square: bool = False,
        aside: float = 0.0,
    ) -> None:
        """Marks at points in mm: filled or open, round or square, so that grey print tells them apart.

        ``aside`` moves them (px to the right), where two kinds would hide each other.
        """
        self.painter.setPen(pen(colour, 1.6))
        self.painter.setBrush(QBrush(QColor(colour if filled else self.inks.sheet)))
        for point in points:
            where = self.at(*point) + QPointF(aside, 0.0)
            if square:
                self.painter.drawRect(QRectF(where.x() - 4, where.y() - 4, 8, 8))
            else:
                self.painter.drawEllipse(where, 4.5, 4.5)
        self.painter.setBrush(Qt.BrushStyle.NoBrush)

    def key(self, entries: Sequence[tuple[str, str, str]]) -> None:
        """What the marks mean: (shape, colour, words), shape one of filled, open, square, line, dash, band."""
        p, x = self.painter, self.frame.left()
        p.setFont(font())
        y = self.frame.bottom() + p.fontMetrics().height() * 2.5 + 8
        for shape, colour, words in entries:
            self._key_mark(shape, colour, x, y)
            box = label(p, QPointF(x + 24, y), words, self.inks, anchor="left", colour=self.inks.faint)
            x = box.right() + 16

    def _key_mark(self, shape: str, colour: str, x: float, y: float) -> None:
        p = self.painter
        if shape == "band":
            p.fillRect(QRectF(x, y - 5, 18, 10), QColor(colour))
        elif shape in ("line", "dash"):
            p.setPen(pen(colour, 1.6, (3, 2.5) if shape == "dash" else ()))
            p.drawLine(QPointF(x, y), QPointF(x + 18, y))
        else:
            p.setPen(pen(colour, 1.6))
            p.setBrush(QBrush(QColor(colour if shape == "filled" else self.inks.sheet)))
            mark = QRectF(x + 5, y - 4, 8, 8)
            p.drawRect(mark) if shape == "square" else p.drawEllipse(mark)
            p.setBrush(Qt.BrushStyle.NoBrush)


def _tick_texts(values: Sequence[float]) -> list[str]:
    step = abs(values[1] - values[0]) if len(values) > 1 else 1.0
    decimals = max(0, -math.floor(math.log10(step) + 1e-9))
    return [f"{v + 0.0:.{decimals}f}".replace("-", "−") for v in values]

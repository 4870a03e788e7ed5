"""A drawing that asks: shapes to scale and the distances wanted of them, the one in hand in the accent.

A distance that nobody measured is dashed and carries its name in place of a figure. Thick visible edges, thin dimension
lines, dash-dot centre lines (ISO 128 and 129, from memory).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.paper.drawing.lines import label, text_width
from vernus.paper.ink import Inks, font, pen

Spot = tuple[float, float]
_LANE = 25.0
_ARROW = 8.0
_MOST_BESIDE = 0.55
"""The most of a room's width that names beside the shapes may take."""


@dataclass(frozen=True)
class Shape:
    """A rectangle, circle, line or centre line between two spots (mm, y up); a circle fills its rectangle."""

    kind: Literal["rect", "circle", "line", "centre"]
    start: Spot
    end: Spot
    style: Literal["part", "planned", "cut", "thin"] = "part"


@dataclass(frozen=True)
class Asked:
    """A distance asked for: the field's name, its label, its figure ("": not measured), and where it lies.

    ``lane`` is how far out its line stands: 1, 2, … below or to the right, −1, −2, … above or to the left.
    """

    key: str
    name: str
    figure: str
    start: Spot
    end: Spot
    lane: int = 1

    @property
    def upright(self) -> bool:
        """Whether it is measured up and down."""
        return abs(self.end[1] - self.start[1]) > abs(self.end[0] - self.start[0])


@dataclass(frozen=True)
class Sketch:
    """Shapes and what is asked about them; ``in_hand`` is the key of the field the cursor is in."""

    shapes: tuple[Shape, ...]
    asked: tuple[Asked, ...]
    in_hand: str = ""

    def holding(self, key: str) -> Sketch:
        """The same with another field in hand."""
        return replace(self, in_hand=key)


@dataclass(frozen=True)
class _Place:
    left: float
    bottom: float
    per_mm: float
    low: Spot
    high: Spot
    bare: bool = False
    """Whether there is no room for names beside the shapes: only the one in hand is named, over them."""

    def at(self, spot: Spot) -> QPointF:
        x = self.left + (spot[0] - self.low[0]) * self.per_mm
        return QPointF(x, self.bottom - (spot[1] - self.low[1]) * self.per_mm)


def paint_sketch(painter: QPainter, room: QRectF, sketch: Sketch, inks: Inks) -> dict[str, QRectF]:
    """Paint a sketch into ``room``; returns where each distance can be clicked."""
    painter.setFont(font())
    place = _place(painter, room, sketch)
    for shape in sketch.shapes:
        _paint_shape(painter, shape, place, inks)
    found: dict[str, QRectF] = {}
    for asked in sorted(sketch.asked, key=lambda a: a.key == sketch.in_hand):
        found[asked.key] = _paint_asked(painter, asked, place, room, inks, held=asked.key == sketch.in_hand)
    return found


def _place(painter: QPainter, room: QRectF, sketch: Sketch) -> _Place:
    """The scale at which shapes and the lanes of the distances around them fit."""
    spots = [s for shape in sketch.shapes for s in (shape.start, shape.end)] or [(0.0, 0.0), (1.0, 1.0)]
    low = (min(x for x, _ in spots), min(y for _, y in spots))
    high = (max(x for x, _ in spots), max(y for _, y in spots))
    flat = [a.lane for a in sketch.asked if not a.upright]
    tall = [a.lane for a in sketch.asked if a.upright]
    below, above = _LANE * max([0, *flat]) + 14, _LANE * -min([0, *flat]) + 14
    wide_r, wide_l = (_beside(painter, sketch, side) for side in (1, -1))
    bare = wide_r + wide_l > _MOST_BESIDE * room.width()
    if bare:
        wide_r, wide_l = (_beside(painter, sketch, side, named=False) for side in (1, -1))
    right = wide_r + _LANE * 0.8 * max([0, *tall]) + 14
    left = wide_l + _LANE * 0.8 * -min([0, *tall]) + 14
    above += 20 if tall else 0
    wide, high_mm = max(1e-6, high[0] - low[0]), max(1e-6, high[1] - low[1])
    per_mm = min((room.width() - left - right) / wide, (room.height() - above - below) / high_mm)
    per_mm = max(1e-6, per_mm)
    x = room.left() + left + (room.width() - left - right - wide * per_mm) / 2
    y = room.bottom() - below - (room.height() - above - below - high_mm * per_mm) / 2
    return _Place(x, y, per_mm, low, high, bare)


def _beside(painter: QPainter, sketch: Sketch, side: int, *, named: bool = True) -> float:
    """The room that the words of upright distances want on one side, px; ``named``: of those without a figure too."""
    words = [a.figure or (a.name if named else "") for a in sketch.asked if a.upright and a.lane * side > 0]
    return max((text_width(painter, w) for w in words), default=0.0)


def _paint_shape(painter: QPainter, shape: Shape, place: _Place, inks: Inks) -> None:
    start, end = place.at(shape.start), place.at(shape.end)
    colour = inks.accent if shape.style == "planned" else inks.faint if shape.style == "thin" else inks.ink
    painter.setPen(pen(colour, 1.0 if shape.style == "thin" else 1.7))
    painter.setBrush(QBrush(QColor(inks.wash if shape.style == "planned" else inks.ground)))
    if shape.style == "cut":
        painter.setBrush(QBrush(QColor(inks.faint), Qt.BrushStyle.BDiagPattern))
    where = QRectF(start, end).normalized()
    if shape.kind == "rect":
        painter.drawRect(where)
    elif shape.kind == "circle":
        painter.drawEllipse(where)
    elif shape.kind == "line":
        painter.drawLine(start, end)
    else:
        painter.setPen(pen(inks.faint, 1.0, (12, 3, 2, 3)))
        painter.drawLine(start, end)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _paint_asked(painter: QPainter, asked: Asked, place: _Place, room: QRectF, inks: Inks, *, held: bool) -> QRectF:
    """One distance with its extension lines; returns the place of its line and words."""
    start, end = place.at(asked.start), place.at(asked.end)
    first, last = _line(asked, place, start, end)
    colour, width = (inks.accent, 2.0) if held else (inks.faint, 1.0)
    painter.setPen(pen(inks.accent if held else inks.hairline, 1.0))
    painter.drawLine(start, first)
    painter.drawLine(end, last)
    painter.setPen(pen(colour, width, () if asked.figure else (5, 3)))
    painter.drawLine(first, last)
    _arrows(painter, first, last, colour)
    words = asked.figure or asked.name
    if place.bare and asked.upright and not asked.figure and not held:
        return QRectF(first, last).normalized().adjusted(-5, -6, 5, 6)
    if held and asked.figure:
        words = f"{asked.name}: {asked.figure}"
    wide = text_width(painter, words)
    middle = (first + last) / 2
    if asked.upright and held:  # its words would lie on the drawing: they stand over it
        spot = QPointF(room.center().x() - wide / 2, room.top() + 11)
    elif asked.upright:
        x = middle.x() + 8 if asked.lane > 0 else middle.x() - 8 - wide
        spot = QPointF(x, middle.y() + 21 * (abs(asked.lane) - 2))
    else:
        spot = QPointF(middle.x() - wide / 2, middle.y())
    spot.setX(min(room.right() - wide - 2, max(room.left() + 2, spot.x())))
    ground = QRectF(spot.x() - 3, spot.y() - 10, wide + 6, 20)
    painter.fillRect(ground, QColor(inks.sheet))
    label(painter, spot, words, inks, anchor="left", bold=False, colour=inks.accent if held else inks.faint)
    return QRectF(first, last).normalized().adjusted(-5, -6, 5, 6).united(ground)


def _line(asked: Asked, place: _Place, start: QPointF, end: QPointF) -> tuple[QPointF, QPointF]:
    """Both ends of the dimension line, out in its lane."""
    if asked.upright:
        edge = place.at(place.high if asked.lane > 0 else place.low).x()
        x = edge + asked.lane * _LANE * 0.8
        return QPointF(x, start.y()), QPointF(x, end.y())
    edge = place.at(place.low if asked.lane > 0 else place.high).y()
    y = edge + asked.lane * _LANE
    return QPointF(start.x(), y), QPointF(end.x(), y)


def _arrows(painter: QPainter, first: QPointF, last: QPointF, colour: str) -> None:
    along = last - first
    length = (along.x() ** 2 + along.y() ** 2) ** 0.5
    if length < 1e-6:
        return
    unit = along / length
    across = QPointF(-unit.y(), unit.x())
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(colour)))
    for tip, way in ((first, 1.0), (last, -1.0)):
        back = tip + unit * (way * _ARROW * (1 if length > 3 * _ARROW else -1))
        painter.drawPolygon(QPolygonF([tip, back + across * 2.6, back - across * 2.6]))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def stacked(asked: Sequence[Asked]) -> tuple[Asked, ...]:
    """The level distances below in lanes one under the other, shortest first, so that no two lie on each other."""
    level = sorted((a for a in asked if not a.upright), key=lambda a: abs(a.end[0] - a.start[0]))
    lanes = {a.key: n for n, a in enumerate(level, 1)}
    return tuple(replace(a, lane=lanes.get(a.key, a.lane)) for a in asked)

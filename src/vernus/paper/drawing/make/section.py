"""A section through a part: what its holes are like inside, along the line that meets most of what is hidden.

Hatching at 45°, cutting line long dashed with a letter at its ends: ISO 128-44 and ISO 128-50, from memory.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath

from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import Part
from vernus.paper.drawing.lines import label
from vernus.paper.drawing.make.view import THICK, THIN, View
from vernus.paper.ink import Inks, pen

_HATCH_PX = 7.0
_POINT = math.tan(math.radians(90 - 59))
"""Height of a drill's 118° point over its radius."""


@dataclass(frozen=True)
class Cut:
    """A cutting line along a part's front, at a height above its lower edge (mm), and the holes it meets."""

    y_mm: float
    rows: tuple[HoleRow, ...]


def section_at(part: Part, rows: Sequence[HoleRow]) -> Cut | None:
    """Where a section shows most of what the front hides; None where nothing is hidden, or the part is no plate."""
    if part.kind in ("face", "ring") or part.has_leg:
        return None
    flat = [r for r in rows if r.hole.face in ("face", "back") and 0 <= r.hole.y_mm <= part.width_mm]
    hides = [r for r in flat if r.counterbore_mm is not None or r.drill_depth_mm is not None or r.hole.face == "back"]
    if not hides:
        return None

    def met(y: float) -> list[HoleRow]:
        return [r for r in flat if abs(r.hole.y_mm - y) < 0.05]

    best = max(hides, key=lambda r: (sum(m in hides for m in met(r.hole.y_mm)), -r.hole.y_mm))
    return Cut(best.hole.y_mm, tuple(met(best.hole.y_mm)))


def _through(part: Part, row: HoleRow) -> list[tuple[float, float, float, float]]:
    """What a hole takes out, as (half width, from, half width, to) below its own surface (mm), widest first."""
    deep = part.thickness_mm if row.drill_depth_mm is None else min(part.thickness_mm, row.drill_depth_mm)
    half, sunk = row.drill_mm / 2, row.counterbore_depth_mm or 0.0
    pieces = []
    if row.counterbore_mm is not None:
        wide = row.counterbore_mm / 2
        countersunk = row.counterbore_depth_mm is None
        pieces.append((wide, 0.0, half if countersunk else wide, max(0.0, wide - half) if countersunk else sunk))
    pointed = row.drill_depth_mm is not None and row.hole.kind != "bore"
    straight = max(0.0, deep - half * _POINT) if pointed else deep
    pieces.append((half, 0.0, half, straight))
    if pointed:
        pieces.append((half, straight, 0.0, deep))
    return pieces


def paint_section(painter: QPainter, view: View, front: View, part: Part, cut: Cut, inks: Inks) -> None:
    """The section below the front, hatched where it is cut, and its line on the front."""
    solid = QPainterPath()
    solid.addRect(view.rect)
    holes = QPainterPath()
    for row in cut.rows:
        reach = (row.slot_mm - row.drill_mm) / 2 if row.slot_mm is not None else 0.0
        along = reach * abs(math.cos(math.radians(row.hole.angle_deg)))
        from_back = row.hole.face == "back" or row.hole.far_side
        x = part.length_mm - row.hole.x_mm if row.hole.face == "back" else row.hole.x_mm
        for wide, begin, narrow, end in _through(part, row):
            below = (
                [begin, begin, end, end] if not from_back else [part.thickness_mm - v for v in (begin, begin, end, end)]
            )
            sides = (-wide - along, wide + along, narrow + along, -narrow - along)
            piece = QPainterPath(view.at(x + sides[0], part.thickness_mm - below[0]))
            for side, deep in list(zip(sides, below, strict=True))[1:]:
                piece.lineTo(view.at(x + side, part.thickness_mm - deep))
            piece.closeSubpath()
            holes = holes.united(piece)
    left = solid.subtracted(holes)
    _hatch(painter, left, view.rect, inks)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.ink, THICK))
    painter.drawPath(left)
    painter.setPen(pen(inks.ink, THIN))
    for row in cut.rows:
        if row.hole.is_tapped:
            _thread(painter, view, part, row)
    label(painter, QPointF(view.left, view.rect.top() - 12), "section A–A", inks, anchor="left", colour=inks.faint)
    line = front.at(0.0, cut.y_mm).y()
    ends = front.left - 14, front.left + front.wide + 14
    painter.setPen(pen(inks.accent, THIN, (14, 4, 2, 4)))
    painter.drawLine(QPointF(ends[0], line), QPointF(ends[1], line))
    painter.setPen(pen(inks.ink, THICK))
    for x, way in ((ends[0], 1), (ends[1], -1)):
        painter.drawLine(QPointF(x, line), QPointF(x + way * 8, line))
        label(painter, QPointF(x - way * 7, line - 9), "A", inks, bold=True)


def _thread(painter: QPainter, view: View, part: Part, row: HoleRow) -> None:
    """The thin lines of a thread along both sides of its hole."""
    deep = row.thread_depth_mm or row.drill_depth_mm or part.thickness_mm
    begin, end = part.thickness_mm, max(0.0, part.thickness_mm - deep)
    if row.hole.face == "back" or row.hole.far_side:
        begin, end = 0.0, min(part.thickness_mm, deep)
    x = part.length_mm - row.hole.x_mm if row.hole.face == "back" else row.hole.x_mm
    for side in (-row.nominal_mm / 2, row.nominal_mm / 2):
        painter.drawLine(view.at(x + side, begin), view.at(x + side, end))


def _hatch(painter: QPainter, shape: QPainterPath, box: QRectF, inks: Inks) -> None:
    painter.save()
    painter.setClipPath(shape, Qt.ClipOperation.IntersectClip)
    painter.setPen(pen(inks.faint, THIN * 0.7))
    x = box.left() - box.height()
    while x < box.right():
        painter.drawLine(QPointF(x, box.bottom()), QPointF(x + box.height(), box.top()))
        x += _HATCH_PX
    painter.restore()

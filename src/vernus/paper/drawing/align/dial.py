"""The dial picture: where the indicator stands now and the figure to bring it to."""

from __future__ import annotations

import math

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.core.units import UnitSystem, format_fine, to_unit
from vernus.job.fields import LengthEntry
from vernus.paper.drawing.lines import label
from vernus.paper.ink import Inks, pen

DIVISIONS = 100


def paint_dial(
    painter: QPainter,
    room: QRectF,
    now_mm: float,
    target_mm: float,
    division: LengthEntry,
    inks: Inks,
    units: UnitSystem,
) -> None:
    """Paint a dial of 100 divisions with the reading now and the target; zero at the top, growing clockwise.

    It is numbered as its own division says: in thou for a dial in thou, in hundredths of a millimetre or in µm.
    """
    radius = min(room.width() / 2 - 8, (room.height() - 76) / 2)
    centre = QPointF(room.center().x(), room.top() + radius + 4)
    painter.setPen(pen(inks.ink, 1.4))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawEllipse(centre, radius, radius)
    _graduations(painter, centre, radius, _per_division(division), inks)
    turn = 360.0 / (DIVISIONS * division.mm)
    now, target = now_mm * turn, target_mm * turn
    _sweep_arc(painter, centre, radius * 0.52, now, target, inks)
    _target_mark(painter, centre, radius, target, inks)
    tip = _polar(centre, radius * 0.84, now)
    painter.setPen(pen(inks.ink, 2.4))
    painter.drawLine(_polar(centre, radius * 0.14, now + 180), tip)
    painter.setBrush(QBrush(QColor(inks.ink)))
    painter.drawEllipse(centre, 4.5, 4.5)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    y = centre.y() + radius + 18
    moved = (target_mm - now_mm) / division.mm
    label(painter, QPointF(room.center().x(), y), f"now {format_fine(now_mm, units, sign=True)}", inks)
    words = f"bring to {format_fine(target_mm, units, sign=True)}"
    steps = f"{moved:+.1f} divisions".replace("-", "−")
    label(painter, QPointF(room.center().x(), y + 42), steps, inks, colour=inks.faint)
    label(painter, QPointF(room.center().x(), y + 22), words, inks, bold=True, colour=inks.accent)


def _polar(centre: QPointF, radius: float, degrees: float) -> QPointF:
    """A point on the dial, degrees clockwise from the top."""
    a = math.radians(degrees)
    return QPointF(centre.x() + radius * math.sin(a), centre.y() - radius * math.cos(a))


def _per_division(division: LengthEntry) -> float:
    """What one division counts for in the dial's own figures."""
    if division.unit in ("thou", "in"):
        return round(to_unit(division.mm, "thou"), 4)
    return round(division.mm * (100 if division.mm >= 0.01 - 1e-9 else 1000), 4)


def _graduations(painter: QPainter, centre: QPointF, radius: float, each: float, inks: Inks) -> None:
    lines: dict[float, list[QLineF]] = {0.16: [], 0.11: [], 0.07: []}
    for n in range(DIVISIONS):
        degrees = 360 * n / DIVISIONS
        length = 0.16 if n % 10 == 0 else 0.11 if n % 5 == 0 else 0.07
        ends = _polar(centre, radius * (1 - length), degrees), _polar(centre, radius * 0.995, degrees)
        lines[length].append(QLineF(*ends))
        if n % 10 == 0 and radius > 62:
            label(painter, _polar(centre, radius * 0.71, degrees), f"{n * each:g}", inks, colour=inks.faint)
    for length, alike in lines.items():
        painter.setPen(pen(inks.ink, 1.4) if length == 0.16 else pen(inks.faint, 0.7))
        painter.drawLines(alike)


def _sweep_arc(painter: QPainter, centre: QPointF, radius: float, now: float, target: float, inks: Inks) -> None:
    """The way the needle must go; a whole turn more is said by the figures, not drawn."""
    span = math.fmod(target - now, 360.0)
    if abs(span) < 2:
        return
    box = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
    painter.setPen(pen(inks.accent, 2.0))
    painter.drawArc(box, round((90 - now) * 16), round(-span * 16))
    way = 1 if span > 0 else -1
    end, back = now + span, now + span - way * 9
    head = [_polar(centre, radius, end), _polar(centre, radius + 5, back), _polar(centre, radius - 5, back)]
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(inks.accent)))
    painter.drawPolygon(QPolygonF(head))


def _target_mark(painter: QPainter, centre: QPointF, radius: float, target: float, inks: Inks) -> None:
    """A wedge on the rim with a scribed line through the graduations."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(inks.accent)))
    wedge = [
        _polar(centre, radius * 0.84, target),
        _polar(centre, radius * 1.0, target - 4),
        _polar(centre, radius * 1.0, target + 4),
    ]
    painter.drawPolygon(QPolygonF(wedge))

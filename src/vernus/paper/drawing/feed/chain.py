"""The screw's end with the parts of its scheme in place: bracket, coupler or sleeve, gear in its plane."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.feed.screw_end import ScrewEnd, ScrewEndPlan
from vernus.core.units import UnitSystem, format_length
from vernus.paper.drawing.lines import dimension, label
from vernus.paper.ink import Inks, pen

_THICK = 14.0


def paint_chain(
    painter: QPainter, room: QRectF, end: ScrewEnd, plan: ScrewEndPlan, inks: Inks, units: UnitSystem
) -> None:
    """Paint the chain from the side, to scale: the screw through the bracket, made parts in section, gear in plane."""
    root = end.gear.root_mm or 2.2 * end.gear.bore_mm
    tall = max(root, 2.4 * end.diameter_mm)
    far = max(end.needs_mm, end.end_mm, end.gear_plane_mm[1])
    per_mm = min((room.width() - 150) / (far + _THICK), (room.height() - 164) / tall)
    axis_y = room.top() + 56 + tall / 2 * per_mm
    start = room.center().x() - (far + _THICK) / 2 * per_mm + _THICK * per_mm

    def box(x0: float, x1: float, high: float, colour: str, *, dashed: bool = False) -> None:
        painter.setBrush(QBrush(QColor(colour)) if colour else QBrush(Qt.BrushStyle.NoBrush))
        painter.setPen(pen(inks.ink, 1.2, (4, 3)) if dashed else pen(inks.ink, 1.2))
        painter.drawRect(QRectF(start + x0 * per_mm, axis_y - high / 2 * per_mm, (x1 - x0) * per_mm, high * per_mm))

    def named(x0: float, x1: float, words: str, line: int) -> None:
        at = QPointF(start + (x0 + x1) / 2 * per_mm, room.top() + 10 + 15 * line)
        label(painter, at, words, inks, colour=inks.faint)

    near, gear_far = plan.gear_plane_mm
    box(-_THICK, 0.0, tall, inks.wash)
    named(-_THICK, 0.0, "bracket", 0)
    made = next((p for p in plan.parts if p.part in ("coupler", "sleeve")), None)
    box(near, gear_far, root, inks.wash)
    named(near, gear_far, "gear", 1)
    reach, lines = gear_far, {"dial": 2, "handwheel": 0, "nut": 1 if end.dial_mm else 2}
    for name, mm in (("dial", end.dial_mm), ("handwheel", end.wheel_mm), ("nut", end.nut_mm)):
        if mm:
            high = 1.8 * (end.thread_mm or end.diameter_mm) if name == "nut" else min(tall, 2.2 * end.diameter_mm)
            box(reach, reach + mm, high, "", dashed=True)
            named(reach, reach + mm, name, lines[name])
            reach += mm
    if made is not None and made.from_mm is not None and made.length_mm is not None:
        first, last = made.from_mm, made.from_mm + made.length_mm
        if made.part == "coupler":
            box(first, max(first, near), made.outside_mm or 0.0, inks.sheet)
            box(max(first, near), gear_far, end.gear.bore_mm, inks.sheet)
            box(gear_far, last, end.diameter_mm, inks.sheet)
        else:
            box(first, last, made.seat_mm or 0.0, inks.sheet)
    grave = any(f.severity == "stop" for f in plan.findings)
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.setPen(pen(inks.stop if grave else inks.ink, 1.8 if grave else 1.2))
    half = end.diameter_mm / 2 * per_mm
    painter.drawRect(QRectF(start - _THICK * per_mm, axis_y - half, (_THICK + end.end_mm) * per_mm, 2 * half))
    held = next((p for p in plan.parts if p.part in ("set screw", "pin")), None)
    if held is not None and held.from_mm is not None:
        x, reach_up = start + held.from_mm * per_mm, (made.outside_mm or tall) / 2 * per_mm if made else half
        painter.setPen(pen(inks.accent, 2.0))
        painter.drawLine(
            QPointF(x, axis_y - reach_up - 4), QPointF(x, axis_y + (reach_up if held.part == "pin" else 0))
        )
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.accent, 0.8, (8, 3, 2, 3)))
    painter.drawLine(QPointF(start - _THICK * per_mm - 8, axis_y), QPointF(start + far * per_mm + 8, axis_y))
    low = axis_y + tall / 2 * per_mm
    spans = [(0.0, near), (near, gear_far), (0.0, end.end_mm)]
    if made is not None and made.from_mm is not None and made.length_mm is not None:
        spans.append((made.from_mm, made.from_mm + made.length_mm))
    for line, (x0, x1) in enumerate(spans):
        y = low + 20 + 23 * line
        if x1 > x0:
            words = format_length(x1 - x0, units)
            dimension(painter, start + x0 * per_mm, start + x1 * per_mm, y, words, inks, feature_y=axis_y, room=room)

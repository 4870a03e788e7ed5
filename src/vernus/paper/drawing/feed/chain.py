"""The screw's end with the parts of its scheme in place: bracket, coupler or sleeve, gear in its plane."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from vernus.core.feed.screw_end import ScrewEnd, ScrewEndPlan, ScrewPart
from vernus.core.units import UnitSystem, format_length
from vernus.paper.drawing.lines import dimension, label, text_width
from vernus.paper.ink import Inks, pen

_THICK = 14.0


def paint_chain(
    painter: QPainter, room: QRectF, end: ScrewEnd, plan: ScrewEndPlan, inks: Inks, units: UnitSystem
) -> None:
    """Paint the chain from the side, to scale: the screw through the bracket, made parts in section, gear in plane."""
    tall = max(end.gear.root_mm or 2.2 * end.gear.bore_mm, 2.4 * end.diameter_mm)
    far = max(end.needs_mm, end.end_mm, end.gear_plane_mm[1])
    per_mm = min((room.width() - 150) / (far + _THICK), (room.height() - 164) / tall)
    start = room.center().x() - (far + _THICK) / 2 * per_mm + _THICK * per_mm
    side = _Side(painter, start, room.top() + 56 + tall / 2 * per_mm, per_mm, tall, inks)
    made = next((p for p in plan.parts if p.part in ("coupler", "sleeve")), None)
    _paint_bought(side, end, plan, room.top() + 10)
    if made is not None:
        _paint_part(side, end, plan, made)
    serious = any(f.severity == "stop" for f in plan.findings)
    side.box(-_THICK, end.end_mm, end.diameter_mm, inks.wash, pen(inks.stop, 1.8) if serious else None)
    held = next((p for p in plan.parts if p.part in ("set screw", "pin")), None)
    if held is not None and held.from_mm is not None:
        side.across(held.from_mm, (made and made.outside_mm) or end.diameter_mm, through=held.part == "pin")
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.accent, 0.8, (8, 3, 2, 3)))
    painter.drawLine(QPointF(side.x(-_THICK) - 8, side.axis_y), QPointF(side.x(far) + 8, side.axis_y))
    near, gear_far = plan.gear_plane_mm
    spans = [(0.0, near), (near, gear_far), (0.0, end.end_mm), *_length_of(made)]
    for line, (x0, x1) in enumerate(spans):
        if x1 > x0:
            y, words = side.axis_y + tall / 2 * per_mm + 20 + 23 * line, format_length(x1 - x0, units)
            dimension(painter, side.x(x0), side.x(x1), y, words, inks, feature_y=side.axis_y, room=room)


@dataclass(frozen=True)
class _Side:
    """A view from the side: places along the screw (mm from the bracket) and diameters, as rectangles."""

    painter: QPainter
    start: float
    axis_y: float
    per_mm: float
    tall_mm: float
    inks: Inks

    def x(self, along_mm: float) -> float:
        """Where a place along the screw lies on the sheet."""
        return self.start + along_mm * self.per_mm

    def box(self, x0: float, x1: float, high_mm: float, colour: str, line: QPen | None = None) -> None:
        """A round part of one diameter; no colour: only its outline."""
        self.painter.setBrush(QBrush(QColor(colour)) if colour else QBrush(Qt.BrushStyle.NoBrush))
        self.painter.setPen(pen(self.inks.ink, 1.2) if line is None else line)
        half = high_mm / 2 * self.per_mm
        self.painter.drawRect(QRectF(self.x(x0), self.axis_y - half, (x1 - x0) * self.per_mm, 2 * half))

    def across(self, at_mm: float, outside_mm: float, *, through: bool) -> None:
        """A set screw from outside to the middle, or a pin right through."""
        half = outside_mm / 2 * self.per_mm + 4
        self.painter.setPen(pen(self.inks.accent, 2.0))
        low = self.axis_y + (half if through else 0.0)
        self.painter.drawLine(QPointF(self.x(at_mm), self.axis_y - half), QPointF(self.x(at_mm), low))


def _paint_bought(side: _Side, end: ScrewEnd, plan: ScrewEndPlan, top: float) -> None:
    """The bracket, the gear in its plane, and dashed what sits beyond it."""
    near, far = plan.gear_plane_mm
    root, tall = end.gear.root_mm or 2.2 * end.gear.bore_mm, side.tall_mm
    side.box(-_THICK, 0.0, tall, side.inks.wash)
    side.box(near, far, root, side.inks.wash)
    named = [(-_THICK, 0.0, "bracket", 0), (near, far, "gear", 1)]
    lines = {"dial": 2, "handwheel": 0, "nut": 1 if end.dial_mm else 2}
    for name, mm in (("dial", end.dial_mm), ("handwheel", end.wheel_mm), ("nut", end.nut_mm)):
        if mm:
            high = 1.8 * (end.thread_mm or 0.0) if name == "nut" else min(tall, 2.2 * end.diameter_mm)
            side.box(far, far + mm, high, "", pen(side.inks.ink, 1.2, (4, 3)))
            named.append((far, far + mm, name, lines[name]))
            far += mm
    taken: list[QRectF] = []
    for x0, x1, words, line in named:
        x, wide = side.x((x0 + x1) / 2), text_width(side.painter, words) + 4
        tries = (QRectF(x - wide / 2, top + 15 * n - 7, wide, 14) for n in (line, *range(line)[::-1], *range(3, 8)))
        spot = next((t for t in tries if not any(t.intersects(o) for o in taken)), None)
        if spot is not None:
            taken.append(spot)
            label(side.painter, spot.center(), words, side.inks, colour=side.inks.faint)


def _paint_part(side: _Side, end: ScrewEnd, plan: ScrewEndPlan, made: ScrewPart) -> None:
    """The coupler with its collar, the gear's seat and its end, or the sleeve under the gear."""
    near, far = plan.gear_plane_mm
    ((first, last),) = _length_of(made)
    if made.part == "sleeve":
        side.box(first, last, made.seat_mm or 0.0, side.inks.sheet)
        return
    side.box(first, max(first, near), made.outside_mm or 0.0, side.inks.sheet)
    side.box(max(first, near), far, end.gear.bore_mm, side.inks.sheet)
    side.box(far, last, end.diameter_mm, side.inks.sheet)


def _length_of(made: ScrewPart | None) -> list[tuple[float, float]]:
    """Where a part begins and ends along the screw; none where there is no part."""
    if made is None or made.from_mm is None or made.length_mm is None:
        return []
    return [(made.from_mm, made.from_mm + made.length_mm)]

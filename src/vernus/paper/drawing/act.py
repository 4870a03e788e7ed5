"""What an empty sheet asks for, drawn: a known move, the round of targets, the edges of a part, parts to begin."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.paper.drawing.lines import arrowhead_at, dimension, label
from vernus.paper.ink import Inks, font, pen


def _box(painter: QPainter, box: QRectF, inks: Inks, words: str = "", *, ghost: bool = False) -> QRectF:
    painter.setPen(pen(inks.hairline if ghost else inks.ink, 1.2, (5, 4) if ghost else ()))
    painter.setBrush(Qt.BrushStyle.NoBrush if ghost else QBrush(QColor(inks.wash)))
    painter.drawRect(box)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if words:
        label(painter, box.center(), words, inks, colour=inks.faint)
    return box


def _indicator(painter: QPainter, tip: QPointF, inks: Inks) -> None:
    """An indicator whose plunger points to the left, its tip at a place."""
    painter.setPen(pen(inks.accent, 1.6))
    painter.drawLine(tip, tip + QPointF(34, 0))
    painter.drawEllipse(tip + QPointF(52, 0), 18, 18)
    painter.drawLine(tip + QPointF(52, 0), tip + QPointF(60, -10))


def _steps(painter: QPainter, room: QRectF, steps: Sequence[str], inks: Inks) -> None:
    """The steps below each other at the foot of the room, wrapped to its width."""
    painter.setFont(font())
    painter.setPen(pen(inks.ink))
    wrap, low = int(Qt.TextFlag.TextWordWrap), room.bottom() - 10
    for words in reversed(steps):
        box = QRectF(room.left() + 24, 0.0, room.width() - 48, 200.0)
        tall = painter.fontMetrics().boundingRect(box.toRect(), wrap, words).height()
        low -= tall + 4
        painter.drawText(QRectF(box.left(), low, box.width(), tall), wrap, words)


def paint_known_move(painter: QPainter, room: QRectF, moving: str, still: str, inks: Inks) -> None:
    """The member against an indicator that stands still: with the block between them, and moved on by its length."""
    wide, tall = min(520.0, room.width() - 120), 34.0
    left, low = room.center().x() - wide / 2, room.top() + room.height() * 0.42
    _box(painter, QRectF(left - 30, low, wide + 60, 26), inks, still)
    member, block = wide * 0.42, wide * 0.26
    _box(painter, QRectF(left, low - tall, member, tall), inks, moving)
    _box(painter, QRectF(left + block, low - tall, member, tall), inks, ghost=True)
    body = QRectF(left + member, low - tall + 4, block, 18)
    painter.setBrush(QBrush(QColor(inks.accent), Qt.BrushStyle.BDiagPattern))
    painter.setPen(pen(inks.accent, 1.4))
    painter.drawRect(body)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    label(painter, QPointF(body.center().x(), body.top() - 12), "block or bar", inks, colour=inks.accent)
    _indicator(painter, QPointF(body.right(), body.center().y()), inks)
    dimension(painter, left, left + block, low + 48, "truly moved", inks, feature_y=low + 26, room=room)
    shown = QRectF(min(left + wide - 30, room.right() - 140), low - 3.2 * tall, 130, 34)
    painter.setPen(pen(inks.ink, 1.4))
    painter.drawRoundedRect(shown, 4, 4)
    label(painter, shown.center(), "display showed", inks, colour=inks.faint)
    steps = (
        "1  Block in: bring the indicator to zero, zero the display.",
        "2  Block out: move on until the indicator reads zero again, from the same side.",
        "3  Type both into the first line and press Enter; read it three times.",
    )
    _steps(painter, room, steps, inks)


def paint_round(painter: QPainter, room: QRectF, count: int, both: bool, names: tuple[str, str], inks: Inks) -> None:
    """The line of an axis with its targets, and the order in which they are driven to."""
    count = max(2, min(count, 11))
    left, right = room.left() + 70, room.right() - 70
    line = room.top() + room.height() * 0.36
    painter.setPen(pen(inks.ink, 2.0))
    painter.drawLine(QPointF(left, line), QPointF(right, line))
    at = [left + 16 + (right - left - 32) * n / (count - 1) for n in range(count)]
    for n, x in enumerate(at):
        painter.setPen(pen(inks.ink, 1.4))
        painter.drawLine(QPointF(x, line - 8), QPointF(x, line + 8))
        label(painter, QPointF(x, line - 44), str(n + 1), inks)
    label(painter, QPointF(left, line + 22), f"{names[0]} mark", inks, anchor="left", colour=inks.faint)
    label(painter, QPointF(right, line + 22), f"{names[1]} mark", inks, anchor="right", colour=inks.faint)
    painter.setPen(pen(inks.accent, 1.6))
    painter.drawLine(QPointF(at[0], line - 24), QPointF(at[-1], line - 24))
    arrowhead_at(painter, QPointF(at[-1], line - 24), (1.0, 0.0), inks.accent)
    if both:
        painter.setPen(pen(inks.accent, 1.6, (5, 4)))
        painter.drawLine(QPointF(at[-1], line + 44), QPointF(at[0], line + 44))
        arrowhead_at(painter, QPointF(at[0], line + 44), (-1.0, 0.0), inks.accent)
    steps = (
        "1  Drive to each target by the reference and type what the display shows.",
        "2  Up through all of them, never past one and back" + ("; then down the same way." if both else "."),
        "3  The next target stands above the field; Enter goes on.",
    )
    _steps(painter, room, steps, inks)


def paint_edges(painter: QPainter, room: QRectF, inks: Inks) -> None:
    """A part with its circle of holes, and the four edges an edge finder touches."""
    side = max(60.0, min(220.0, room.height() * 0.48, (room.width() - 270) / 1.5))
    plate = QRectF(room.center().x() - side * 0.75, room.top() + 50, side * 1.5, side)
    _box(painter, plate, inks)
    middle, radius = plate.center(), side * 0.3
    painter.setPen(pen(inks.accent, 0.95, (12, 3, 1, 3)))
    painter.drawEllipse(middle, radius, radius)
    painter.drawLine(middle - QPointF(radius + 16, 0), middle + QPointF(radius + 16, 0))
    painter.drawLine(middle - QPointF(0, radius + 16), middle + QPointF(0, radius + 16))
    label(painter, middle + QPointF(radius * 0.5, -14), "radius", inks, colour=inks.faint)
    touches = (
        (QPointF(plate.left() - 9, middle.y()), "X, one side", "right", QPointF(-16, 0)),
        (QPointF(plate.right() + 9, middle.y()), "X, other side", "left", QPointF(16, 0)),
        (QPointF(middle.x(), plate.bottom() + 9), "Y, one side", "left", QPointF(16, 8)),
        (QPointF(middle.x(), plate.top() - 9), "Y, other side", "left", QPointF(16, -8)),
    )
    for at, words, anchor, off in touches:
        painter.setPen(pen(inks.accent, 1.6))
        painter.drawEllipse(at, 8, 8)
        label(painter, at + off, words, inks, anchor=anchor)
    steps = (
        "1  Touch both sides in X and in Y; type what the display shows each time.",
        "2  Give the radius and how many holes: the table says where to drive to.",
        "3  Drill, measure, and type the places found under Places.",
    )
    _steps(painter, room, steps, inks)


def paint_parts(painter: QPainter, room: QRectF, inks: Inks) -> None:
    """A scale on a machine in section: where a standoff, a plate and a bracket stand."""
    k = min(1.0, room.height() * 0.55 / 270)
    left, top = room.center().x() - 190 * k, room.top() + 40

    def part(x: float, y: float, wide: float, tall: float) -> QRectF:
        return QRectF(x, y, wide * k, tall * k)

    wall, still = part(left, top, 60, 210), part(left, top + 230 * k, 330, 26)
    painter.setPen(pen(inks.ink, 1.4))
    painter.setBrush(QBrush(QColor(inks.hairline), Qt.BrushStyle.BDiagPattern))
    painter.drawRects([wall, still])
    painter.setBrush(Qt.BrushStyle.NoBrush)
    plate = _box(painter, part(wall.right(), top + 20 * k, 14, 170), inks)
    standoff = _box(painter, part(plate.right(), top + 60 * k, 74, 30), inks)
    body = _box(painter, part(standoff.right(), top + 44 * k, 50, 62), inks, "scale")
    reader = _box(painter, part(body.left(), body.bottom() + 8 * k, 60, 34), inks, "reader")
    foot = QRectF(reader.right() + 2, reader.top(), 12 * k, still.top() - reader.top())
    _box(painter, foot, inks)
    _box(painter, QRectF(foot.right(), still.top() - 12 * k, 60 * k, 12 * k), inks)
    for words, at in (
        ("moves", QPointF(wall.center().x(), wall.top() - 14)),
        ("plate", QPointF(plate.right() + 24, plate.bottom() - 8)),
        ("standoff", QPointF(standoff.center().x(), standoff.top() - 12)),
        ("bracket", QPointF(foot.right() + 44, foot.top() + 40)),
        ("stays", QPointF(still.right() + 28, still.center().y())),
    ):
        label(painter, at, words, inks)
    steps = (
        "1  Ctrl+Ins begins a part: a standoff, a plate, a bracket, a cover.",
        "2  Usual holes puts in what its place wants; Screws follow from what they go through.",
        "3  Heights on Stack have its thickness solved.",
    )
    _steps(painter, room, steps, inks)

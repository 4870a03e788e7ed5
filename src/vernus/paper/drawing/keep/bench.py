"""The practice machine: the things to take hold of, where each lies, and how it is drawn.

Each thing is drawn as what it is (a wheel with its handle, a slotted screw head, a dial with its needle), not as a
control of a program; the one in hand stands in a dashed frame.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.paper.drawing.keep.bench_shown import BenchShown
from vernus.paper.drawing.keep.things import (
    paint_ear,
    paint_padlock,
    paint_palm,
    paint_paper,
    paint_stand,
    paint_tooth,
)
from vernus.paper.ink import Inks, font, pen

_ROOM_FOR_WORD = 30
_TOP = int(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignHCenter)
_BOTTOM = int(Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter)
Box = tuple[float, float, float, float]
Draw = Callable[[QPainter, QRectF, "BenchShown", Inks, str], None]

_LINE = (0.1, 0.9)
"""Where the travel begins and ends in the picture of the trips."""
_PLACES: dict[str, dict[str, Box]] = {
    "travel": {"rule": (0.1, 0.3, 0.8, 0.4)},
    "body": {
        "dial": (0.36, 0.02, 0.28, 0.44), "bezel": (0.7, 0.06, 0.13, 0.22), "thumb": (0.13, 0.1, 0.14, 0.3),
        "screw-left": (0.07, 0.5, 0.13, 0.2), "screw-right": (0.8, 0.5, 0.13, 0.2), "wheel": (0.4, 0.72, 0.2, 0.28),
        "stand": (0.03, 0.04, 0.14, 0.4),
    },
    "display": {
        "display": (0.26, 0.04, 0.48, 0.26), "nought": (0.8, 0.07, 0.12, 0.2), "wheel": (0.03, 0.5, 0.22, 0.44),
        "dial": (0.29, 0.46, 0.22, 0.46), "bezel": (0.53, 0.5, 0.1, 0.24), "blocks": (0.66, 0.6, 0.3, 0.28),
        "thermometer": (0.42, 0.42, 0.09, 0.5), "palm": (0.06, 0.52, 0.22, 0.4), "clock": (0.04, 0.05, 0.17, 0.3),
        "collar": (0.4, 0.4, 0.2, 0.56), "stand": (0.03, 0.04, 0.12, 0.38),
    },
    "gap": {
        "feeler-left": (0.03, 0.08, 0.27, 0.34), "feeler-right": (0.7, 0.08, 0.27, 0.34),
        "reader": (0.43, 0.08, 0.14, 0.24),
        "end-left": (0.12, 0.7, 0.14, 0.24), "end-right": (0.74, 0.7, 0.14, 0.24),
    },
    "mesh": {
        "gear": (0.06, 0.16, 0.4, 0.72), "unit": (0.46, 0.22, 0.32, 0.54), "tooth": (0.34, 0.0, 0.16, 0.22),
        "ear": (0.84, 0.04, 0.13, 0.3), "padlock": (0.02, 0.02, 0.12, 0.22), "paper": (0.56, 0.0, 0.22, 0.2),
    },
    "trips": {
        "trip-left": (0.14, 0.12, 0.12, 0.34), "trip-right": (0.74, 0.12, 0.12, 0.34),
        "run-left": (0.06, 0.64, 0.3, 0.28), "run-right": (0.64, 0.64, 0.3, 0.28),
    },
}  # fmt: skip


def grip_places(shown: BenchShown, room: QRectF) -> dict[str, QRectF]:
    """Where each thing lies in the room."""
    boxes = _PLACES[shown.scene]
    if shown.scene == "trips":  # they stand where they are set, to the scale of the travel
        for end in ("left", "right"):
            x = _LINE[0] + (_LINE[1] - _LINE[0]) * shown.figures.get(f"trip-{end}", 0.0 if end == "left" else 1.0)
            boxes = {**boxes, f"trip-{end}": (x - 0.06, 0.12, 0.12, 0.34)}
    if "unit" in shown.grips:
        x, y, w, h = boxes["unit"]
        boxes = {**boxes, "unit": (x + min(0.05, max(-0.02, shown.figures.get("slid", 0.0) * 0.03)), y, w, h)}
    return {
        g: QRectF(
            room.left() + boxes[g][0] * room.width(), room.top() + boxes[g][1] * room.height(),
            boxes[g][2] * room.width(), boxes[g][3] * room.height(),
        )
        for g in shown.grips
    }  # fmt: skip


def paint_bench(painter: QPainter, room: QRectF, shown: BenchShown, inks: Inks) -> None:
    """The machine with everything that can be gripped."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _ground(painter, room, shown, inks)
    places = grip_places(shown, room)
    for grip, place in places.items():
        kind = grip.split("-")[0]
        painter.setPen(pen(inks.ink, 1.6))
        painter.setBrush(QBrush(QColor(inks.sheet)))
        _DRAW[kind](painter, place, shown, inks, grip)
        if grip == shown.picked:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(pen(inks.accent, 1.6, (4, 3)))
            painter.drawRect(place.adjusted(-5, -5, 5, 5))
    if shown.lit in places:
        _light(painter, room, places[shown.lit], shown.lit, inks)


def _light(painter: QPainter, room: QRectF, place: QRectF, grip: str, inks: Inks) -> None:
    """The next thing, framed; its word stands on paper of its own, over whatever lies there."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.caution, 3.0))
    painter.drawRoundedRect(place.adjusted(-9, -9, 9, 9), 8, 8)
    painter.setFont(font(11, bold=True))
    above = place.top() - room.top() > _ROOM_FOR_WORD and not grip.startswith("trip")
    at = place.adjusted(-40, -30, 40, 0) if above else place.adjusted(-40, 0, 40, 28)
    across = _TOP if above else _BOTTOM
    word = painter.boundingRect(at, across, "next")
    painter.fillRect(word.adjusted(-3, 0, 3, 0), QColor(inks.sheet))
    painter.drawText(at, across, "next")


def _ground(painter: QPainter, room: QRectF, shown: BenchShown, inks: Inks) -> None:
    """What the things stand on: table and body, scale and reader, the line with its stops."""

    def box(x: float, y: float, w: float, h: float, fill: str) -> QRectF:
        placed = QRectF(room.left() + x * room.width(), room.top() + y * room.height(), w * room.width(),
                        h * room.height())  # fmt: skip
        painter.setPen(pen(inks.ink, 1.6))
        painter.setBrush(QBrush(QColor(fill)))
        painter.drawRect(placed)
        return placed

    table = shown.figures.get("table", 0.5)
    if shown.scene == "body":
        box(0.04, 0.62, 0.92, 0.07, inks.wash)
        box(0.12, 0.52, 0.76, 0.1, inks.sheet)
        on_body = shown.words.get("onto", "body") == "body"
        touch = QPointF(
            room.left() + (0.1 + 0.8 * table) * room.width(), room.top() + (0.52 if on_body else 0.62) * room.height()
        )
        painter.setPen(pen(inks.ink, 1.6))
        painter.drawLine(QPointF(room.center().x(), room.top() + 0.42 * room.height()), touch)
        _arrow(painter, room, (0.1 + 0.8 * table, 0.71), inks)
    elif shown.scene == "gap":
        box(0.06, 0.52, 0.88, 0.14, inks.wash)
        box(0.36, 0.36, 0.28, 0.13, inks.sheet)
    elif shown.scene == "trips":
        box(0.02, 0.5, 0.96, 0.06, inks.wash)
        box(_LINE[0] - 0.07, 0.3, 0.03, 0.2, inks.ink)
        box(_LINE[1] + 0.04, 0.3, 0.03, 0.2, inks.ink)
        box(_LINE[0] + (_LINE[1] - _LINE[0]) * table - 0.04, 0.38, 0.08, 0.12, inks.accent)
    elif shown.scene == "travel":
        box(0.04, 0.72, 0.92, 0.1, inks.wash)
    elif shown.scene == "mesh" and shown.heard:
        _paint_heard(painter, box(0.5, 0.84, 0.47, 0.12, inks.sheet), shown.heard, inks)


def _paint_heard(painter: QPainter, strip: QRectF, heard: Sequence[float], inks: Inks) -> None:
    """What was heard over one turn: a hum is thin, a growl dense, a rattle single knocks; eighths are marked."""
    middle, step = strip.center().y(), strip.width() / len(heard)
    for n, loud in enumerate(heard):
        x = strip.left() + (n + 0.5) * step
        knock = loud > 0.2 and n % 4
        half = strip.height() / 2 * (0.1 if knock else abs(loud) * 0.94)
        colour = inks.stop if loud < -0.2 else inks.caution if loud > 0.2 else inks.faint
        painter.setPen(pen(colour, max(1.0, step * 0.9) if loud < -0.2 else 1.2))
        painter.drawLine(QPointF(x, middle - half), QPointF(x, middle + half))
    painter.setPen(pen(inks.ink, 1.0))
    painter.setFont(font(11))
    for n in range(9):
        x = strip.left() + strip.width() * n / 8
        painter.drawLine(QPointF(x, strip.bottom()), QPointF(x, strip.bottom() + 4))
    over = QRectF(strip.left(), strip.top() - 19, strip.width(), 18)
    painter.drawText(over, Qt.AlignmentFlag.AlignCenter, "one turn, by ear")


def _arrow(painter: QPainter, room: QRectF, at: tuple[float, float], inks: Inks) -> None:
    """Where along the body the table stands under the indicator."""
    x, y = room.left() + at[0] * room.width(), room.top() + at[1] * room.height()
    painter.setPen(pen(inks.accent, 1.6))
    painter.setBrush(QBrush(QColor(inks.accent)))
    painter.drawPolygon(QPolygonF([QPointF(x, y), QPointF(x - 5, y + 9), QPointF(x + 5, y + 9)]))


def _round(place: QRectF) -> tuple[QPointF, float]:
    return place.center(), min(place.width(), place.height()) / 2


def _wheel(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, _grip: str) -> None:
    middle, radius = _round(place)
    painter.drawEllipse(middle, radius, radius)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(middle, radius * 0.78, radius * 0.78)
    turn = 2 * math.pi * shown.figures.get("wheel", 0.0)
    handle = middle + QPointF(math.sin(turn), -math.cos(turn)) * radius * 0.6
    painter.drawLine(middle, handle)
    painter.setBrush(QBrush(QColor(inks.ink)))
    painter.drawEllipse(handle, radius * 0.14, radius * 0.14)


def _dial(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, _grip: str) -> None:
    middle, radius = _round(place)
    painter.drawEllipse(middle, radius, radius)
    small = font(max(7, round(radius / 11)))
    for n in range(100):
        way = QPointF(math.sin(math.pi * n / 50), -math.cos(math.pi * n / 50))
        long = 0.84 if n % 10 == 0 else 0.9 if n % 5 == 0 else 0.94
        painter.setPen(pen(inks.ink, 1.4 if n % 10 == 0 else 0.7))
        painter.drawLine(middle + way * radius * long, middle + way * radius * 0.99)
        if n % 10 == 0:
            painter.setFont(small)
            at = middle + way * radius * 0.7
            painter.drawText(QRectF(at.x() - 20, at.y() - 10, 40, 20), Qt.AlignmentFlag.AlignCenter, str(n))
    if "needle" in shown.figures:
        turn = 2 * math.pi * shown.figures["needle"]
        painter.setPen(pen(inks.accent, 2.4))
        painter.drawLine(middle, middle + QPointF(math.sin(turn), -math.cos(turn)) * radius * 0.8)
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    words = shown.words.get("dial", "")
    painter.drawText(place.adjusted(0, radius * 0.75, 0, 0), Qt.AlignmentFlag.AlignCenter, words)


def _screw(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, grip: str) -> None:
    middle, radius = _round(place)
    loose = grip in shown.loose
    painter.drawEllipse(middle, radius, radius)
    painter.setPen(pen(inks.caution if loose else inks.ink, 3.0))
    way = QPointF(0.7, -0.7) if loose else QPointF(1, 0)
    painter.drawLine(middle - way * radius * 0.7, middle + way * radius * 0.7)


def _rule(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, _grip: str) -> None:
    bar = place.adjusted(0, place.height() * 0.5, 0, 0)
    painter.drawRect(bar)
    for n in range(41):
        x = bar.left() + bar.width() * n / 40
        painter.drawLine(
            QPointF(x, bar.bottom()), QPointF(x, bar.bottom() - bar.height() * (0.6 if n % 5 == 0 else 0.3))
        )
    for x in (bar.left() + 3, bar.right() - 3):
        painter.setPen(pen(inks.accent, 2.0))
        painter.drawLine(QPointF(x, bar.bottom()), QPointF(x, bar.bottom() + place.height() * 0.3))
    eye = QPointF(place.center().x() + shown.figures.get("eye", 0.0) * place.width() * 0.3, place.top() + 12)
    painter.setPen(pen(inks.ink, 1.6))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawEllipse(eye, 18, 10)
    painter.setBrush(QBrush(QColor(inks.ink)))
    painter.drawEllipse(eye, 4, 4)
    painter.setPen(pen(inks.hairline, 1.0, (4, 3)))
    painter.drawLine(eye, QPointF(place.center().x(), bar.bottom()))


def _feeler(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, grip: str) -> None:
    root = QPointF(place.left() + 8 if grip.endswith("left") else place.right() - 8, place.top() + 8)
    for n in range(4):
        angle = math.radians(18 + 16 * n)
        way = QPointF(math.cos(angle) * (1 if grip.endswith("left") else -1), math.sin(angle))
        painter.setPen(pen(inks.accent if n == 1 else inks.ink, 3.0 if n == 1 else 1.4))
        painter.drawLine(root, root + way * place.height() * 0.9)
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    painter.drawText(place, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter, shown.words.get(grip, ""))


def _display(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, _grip: str) -> None:
    painter.drawRect(place)
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(place.adjusted(6, 6, -6, -6))
    painter.setPen(pen(inks.ink))
    painter.setFont(font(15, bold=True))
    painter.drawText(place, Qt.AlignmentFlag.AlignCenter, shown.words.get("display", ""))


def _bezel(painter: QPainter, place: QRectF, _shown: BenchShown, inks: Inks, _grip: str) -> None:
    middle, radius = _round(place)
    painter.drawEllipse(middle, radius, radius)
    for n in range(24):
        way = QPointF(math.sin(math.pi * n / 12), -math.cos(math.pi * n / 12))
        painter.drawLine(middle + way * radius, middle + way * radius * 0.82)
    painter.setFont(font(11))
    painter.drawText(place, Qt.AlignmentFlag.AlignCenter, "0")


def _thumb(painter: QPainter, place: QRectF, _shown: BenchShown, _inks: Inks, _grip: str) -> None:
    wide = place.width() * 0.6
    left = place.center().x() - wide / 2
    painter.drawRoundedRect(QRectF(left, place.top(), wide, place.height()), wide / 2, wide / 2)
    painter.drawArc(QRectF(left + wide * 0.2, place.bottom() - wide * 0.9, wide * 0.6, wide * 0.6), 180 * 16, 180 * 16)


def _blocks(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, _grip: str) -> None:
    for n, share in enumerate((1.0, 0.7, 0.45)):
        tall = place.height() / 3
        bar = QRectF(place.left(), place.bottom() - tall * (n + 1), place.width() * share, tall)
        painter.drawRect(bar)
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    bottom = QRectF(place.left(), place.bottom() - place.height() / 3, place.width(), place.height() / 3)
    painter.drawText(bottom, Qt.AlignmentFlag.AlignCenter, shown.words.get("blocks", ""))


def _thermometer(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, _grip: str) -> None:
    wide = place.width() * 0.36
    stem = QRectF(place.center().x() - wide / 2, place.top(), wide, place.height() * 0.8)
    painter.drawRoundedRect(stem, wide / 2, wide / 2)
    painter.setBrush(QBrush(QColor(inks.stop)))
    painter.drawEllipse(QPointF(place.center().x(), place.bottom() - wide), wide, wide)
    painter.drawRect(stem.adjusted(wide * 0.3, stem.height() * 0.45, -wide * 0.3, 0))


def _clock(painter: QPainter, place: QRectF, _shown: BenchShown, _inks: Inks, _grip: str) -> None:
    middle, radius = _round(place)
    painter.drawEllipse(middle, radius, radius)
    painter.drawLine(middle, middle + QPointF(0, -radius * 0.75))
    painter.drawLine(middle, middle + QPointF(radius * 0.5, 0))


def _collar(painter: QPainter, place: QRectF, _shown: BenchShown, inks: Inks, _grip: str) -> None:
    stem = place.adjusted(place.width() * 0.3, 0, -place.width() * 0.3, 0)
    painter.drawRect(stem)
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(
        QRectF(place.left(), place.center().y() - place.height() * 0.12, place.width(), place.height() * 0.24)
    )


def _gear(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, grip: str) -> None:
    middle, radius = _round(place)
    teeth = 20 if grip == "gear" else 14
    turn = 2 * math.pi * shown.figures.get("gear", 0.0) * (1 if grip == "gear" else -1)
    points = []
    for n in range(teeth * 4):
        angle = turn + 2 * math.pi * n / (teeth * 4)
        r = radius * (1.0 if n % 4 in (1, 2) else 0.86)
        points.append(middle + QPointF(math.sin(angle), -math.cos(angle)) * r)
    painter.drawPolygon(QPolygonF(points))
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawEllipse(middle, radius * 0.2, radius * 0.2)
    painter.drawLine(middle, middle + QPointF(math.sin(turn), -math.cos(turn)) * radius * 0.8)


def _trip(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, grip: str) -> None:
    painter.drawRect(place.adjusted(place.width() * 0.3, 0, -place.width() * 0.3, 0))
    painter.setBrush(QBrush(QColor(inks.accent)))
    painter.drawRect(QRectF(place.left(), place.top(), place.width(), place.height() * 0.3))
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    under = QRectF(place.center().x() - 60, place.top() - 22, 120, 20)
    painter.drawText(under, Qt.AlignmentFlag.AlignCenter, shown.words.get(grip, ""))


def _run(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, grip: str) -> None:
    way = -1 if grip.endswith("left") else 1
    middle, half = place.center(), place.width() / 2
    tip = QPointF(middle.x() + way * half, middle.y())
    tail = QPointF(middle.x() - way * half, middle.y())
    tall = place.height() * 0.3
    points = [
        tip, QPointF(middle.x(), middle.y() - tall * 1.4), QPointF(middle.x(), middle.y() - tall),
        QPointF(tail.x(), tail.y() - tall), QPointF(tail.x(), tail.y() + tall),
        QPointF(middle.x(), middle.y() + tall), QPointF(middle.x(), middle.y() + tall * 1.4),
    ]  # fmt: skip
    painter.drawPolygon(QPolygonF(points))
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    painter.drawText(place, Qt.AlignmentFlag.AlignCenter, shown.words.get(grip, ""))


def _nought(painter: QPainter, place: QRectF, _shown: BenchShown, inks: Inks, _grip: str) -> None:
    """The display's key that sets it to nought."""
    painter.drawRoundedRect(place, 6, 6)
    painter.setPen(pen(inks.ink))
    painter.setFont(font(14, bold=True))
    painter.drawText(place, Qt.AlignmentFlag.AlignCenter, "0")


_DRAW: dict[str, Draw] = {
    "wheel": _wheel, "dial": _dial, "screw": _screw, "rule": _rule, "feeler": _feeler, "display": _display,
    "bezel": _bezel, "thumb": _thumb, "blocks": _blocks, "thermometer": _thermometer, "clock": _clock,
    "collar": _collar, "gear": _gear, "unit": _gear, "trip": _trip, "run": _run, "reader": _screw, "end": _screw,
    "nought": _nought, "palm": paint_palm, "tooth": paint_tooth, "ear": paint_ear, "paper": paint_paper,
    "padlock": paint_padlock, "stand": paint_stand,
}  # fmt: skip

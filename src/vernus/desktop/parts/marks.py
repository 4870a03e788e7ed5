"""Marks that say a state by shape and word as well as by colour."""

from __future__ import annotations

from typing import Literal

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from vernus.core.verdict_words import VERDICTS
from vernus.paper.ink import Inks, pen

MarkName = Literal["open", "begun", "done", "info", "caution", "stop", "pass", "fail", "unsure"]
WORDS: dict[MarkName, str] = {
    "open": "not begun",
    "begun": "begun",
    "done": "done",
    "info": "Note",
    "caution": "Caution",
    "stop": "Stop",
    "pass": VERDICTS["pass"],
    "fail": VERDICTS["fail"],
    "unsure": VERDICTS["unsure"],
}


def paint_mark(painter: QPainter, box: QRectF, name: MarkName, inks: Inks) -> None:
    """Paint one mark into a square box."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    c, r = box.center(), box.width() / 2 - 1
    alarms = {"caution": inks.caution, "unsure": inks.caution, "stop": inks.stop, "fail": inks.stop}
    colour = alarms.get(name, inks.accent)
    painter.setPen(pen(inks.faint if name == "open" else colour, 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if name in ("open", "begun"):
        painter.drawRect(box.adjusted(2, 2, -2, -2))
        if name == "begun":
            painter.fillRect(QRectF(box.left() + 2, c.y(), box.width() - 4, box.height() / 2 - 2), QColor(colour))
    elif name in ("done", "pass"):
        painter.fillRect(box.adjusted(2, 2, -2, -2), QColor(colour))
        painter.setPen(pen(inks.on_accent, 1.8))
        painter.drawPolyline(_shape(c, r, (-0.5, 0), (-0.1, 0.4), (0.5, -0.4)))
    elif name in ("caution", "unsure"):
        painter.drawPolygon(_shape(c, r, (0, -1), (1, 1), (-1, 1)))
        painter.drawLine(QPointF(c.x(), c.y() - r * 0.25), QPointF(c.x(), c.y() + r * 0.5))
    elif name in ("stop", "fail"):
        painter.setBrush(QBrush(QColor(colour)))
        painter.drawPolygon(_shape(c, r, (0, -1), (1, 0), (0, 1), (-1, 0)))
        painter.setBrush(Qt.BrushStyle.NoBrush)
    else:
        painter.drawLine(QPointF(c.x() - r, c.y()), QPointF(c.x() + r, c.y()))


def _shape(centre: QPointF, r: float, *corners: tuple[float, float]) -> QPolygonF:
    return QPolygonF([QPointF(centre.x() + x * r, centre.y() + y * r) for x, y in corners])


class Mark(QWidget):
    """One mark as a widget."""

    def __init__(self, size: int = 16) -> None:
        super().__init__()
        self._name: MarkName | None = None
        self._inks: Inks | None = None
        self._size = size
        self.setFixedSize(QSize(size, size))

    def show_mark(self, name: MarkName | None, inks: Inks) -> None:
        """Show a mark, or nothing."""
        self._name, self._inks = name, inks
        self.setAccessibleName(WORDS[name] if name else "")
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._name is not None and self._inks is not None:
            paint_mark(QPainter(self), QRectF(0, 0, self._size, self._size), self._name, self._inks)

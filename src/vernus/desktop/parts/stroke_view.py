"""The line of an axis: its reader dragged, its dimensions in hand with the list, and typed into."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent

from vernus.core.units import UnitSystem
from vernus.desktop.parts.dimension_edit import DimensionEdit
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.pictures import Picture
from vernus.paper.drawing.machine.stroke import paint_stroke, position_at
from vernus.paper.drawing.machine.stroke_parts import Places, StrokePicture
from vernus.paper.ink import Inks, pen


class StrokeView(Picture):
    """The line of an axis; where it may be moved, the reader follows the mouse and the arrow keys."""

    moved = Signal(float)

    def __init__(self, least: QSize | None = None, *, still: bool = False) -> None:
        words = "The line of the axis" if still else "The line of the axis: drag the reader, or use the arrow keys"
        super().__init__(words, least or QSize(300, 230))
        self._still = still
        if not still:
            self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._shown: StrokePicture | None = None
        self._units: UnitSystem = "mm"
        self._inks: Inks | None = None
        self._places: Places = {}
        self.figures: FigureList | None = None
        self.edit = DimensionEdit(self)

    def show_stroke(self, shown: StrokePicture | None, inks: Inks, units: UnitSystem) -> None:
        """Show a line."""
        self._shown, self._inks, self._units = shown, inks, units
        self.show_drawing(None if shown is None else self._draw)

    def _draw(self, painter: QPainter, room: QRectF) -> None:
        if self._shown is not None and self._inks is not None:
            row = None if self.figures is None else self.figures.in_hand
            shown = self._shown.holding("" if row is None else row.name)
            self._places = paint_stroke(painter, room, shown, self._inks, self._units)

    def follow(self) -> None:
        """The row in hand is the accented dimension."""
        self.update()

    def type_into_hand(self) -> bool:
        row = None if self.figures is None else self.figures.in_hand
        return row is not None and self.isVisible() and self._type_into(row.name)

    def _type_into(self, name: str) -> bool:
        figures, place = self.figures, self._places.get(name)
        row = None if figures is None else next((r for r in figures.rows if r.name == name and r.applies), None)
        if figures is None or row is None or place is None:
            return False
        times = self.width() / max(1.0, self.room().width())
        self.edit.begin(figures, row, QRectF(place.topLeft() * times, place.size() * times))
        return True

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        spot = self.spot(event.position())
        name = next((n for n, place in self._places.items() if place.contains(spot)), "")
        if not self._type_into(name):
            super().mouseDoubleClickEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._shown is not None and not self._still and event.buttons() & Qt.MouseButton.LeftButton:
            self.moved.emit(position_at(self._shown, self.room(), self.spot(event.position())))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -0.05, Qt.Key.Key_Right: 0.05, Qt.Key.Key_Home: -1.0, Qt.Key.Key_End: 1.0}
        steps |= {Qt.Key.Key_Down: -0.05, Qt.Key.Key_Up: 0.05}
        step = steps.get(Qt.Key(event.key()))
        line = None if self._shown is None else self._shown.stroke
        if self._shown is None or line is None or step is None:
            super().keyPressEvent(event)
            return
        at = self._shown.at_mm if self._shown.at_mm is not None else line.travel_mm / 2
        self.moved.emit(min(line.travel_mm, max(0.0, at + step * line.travel_mm)))

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.hasFocus() and self._inks is not None:
            painter = QPainter(self)
            painter.setPen(pen(self._inks.accent, 1, (2, 3)))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

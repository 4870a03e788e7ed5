"""Widgets that show the shared drawings; the stroke picture can be dragged."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from vernus.core.units import UnitSystem
from vernus.paper.drawing.machine.stroke import paint_stroke, position_at
from vernus.paper.drawing.machine.stroke_parts import StrokePicture
from vernus.paper.ink import Inks, pen

Paint = Callable[[QPainter, QRectF], None]
_BENCH_TIMES = 1.9


class Picture(QWidget):
    """Shows one drawing, filling its place at any size."""

    def __init__(self, name: str, least: QSize) -> None:
        super().__init__()
        self._paint: Paint | None = None
        self._times = 1.0
        self.setAccessibleName(name)
        self.setMinimumSize(least)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_drawing(self, paint: Paint | None) -> None:
        """Show a drawing, or nothing."""
        self._paint = paint
        self.update()

    def enlarge(self, bench: bool) -> None:
        """Drawn to be read from two metres, or from the chair: the room stays, letters and lines grow."""
        self._times = _BENCH_TIMES if bench else 1.0
        self.update()

    def type_into_hand(self) -> bool:
        """Type into the dimension of the row in hand; false where the drawing has none."""
        return False

    def room(self) -> QRectF:
        """The room in the drawing's own points."""
        return QRectF(0, 0, self.width() / self._times, self.height() / self._times)

    def spot(self, place: QPointF) -> QPointF:
        """A place of the widget in the drawing's own points."""
        return place / self._times

    def begin(self) -> QPainter:
        """A painter in the drawing's own points."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(self._times, self._times)
        return painter

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._paint is not None:
            self._paint(self.begin(), self.room())


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
        self._inks: Inks | None = None

    def show_stroke(self, shown: StrokePicture | None, inks: Inks, units: UnitSystem) -> None:
        """Show a line."""
        self._shown, self._inks = shown, inks
        self.show_drawing(None if shown is None else lambda p, room: paint_stroke(p, room, shown, inks, units))

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

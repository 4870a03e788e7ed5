"""The widget that shows a shared drawing, at any size and from two metres."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

Paint = Callable[[QPainter, QRectF], object]
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

    def follow(self) -> None:
        """Draw what goes with the row in hand in the accent."""

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

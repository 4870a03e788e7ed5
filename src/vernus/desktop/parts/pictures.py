"""The widget that shows a shared drawing, at any size and from two metres."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from vernus.desktop.parts.work import Work

Paint = Callable[[QPainter, QRectF], object]
_BENCH_TIMES = 1.9


class Picture(QWidget):
    """Shows one drawing, filling its place at any size; a long one is drawn beside the window, and shown when it is."""

    def __init__(self, name: str, least: QSize) -> None:
        super().__init__()
        self._paint: Paint | None = None
        self._long = self._stale = False
        self._image: QImage | None = None
        self._work = Work(self)
        self._work.done.connect(self._take_image)
        self._times = 1.0
        self.setAccessibleName(name)
        self.setMinimumSize(least)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_drawing(self, paint: Paint | None, *, long: bool = False) -> None:
        """Show a drawing, or nothing; a ``long`` one may use nothing that changes meanwhile."""
        self._paint, self._long = paint, long and paint is not None
        self.draw_afresh()

    def enlarge(self, bench: bool) -> None:
        """Drawn to be read from two metres, or from the chair: the room stays, letters and lines grow."""
        self._times = _BENCH_TIMES if bench else 1.0
        self.draw_afresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.draw_afresh()

    def draw_afresh(self) -> None:
        """Draw afresh, once it is seen."""
        self._stale = self._long
        if not self._long:
            self._image = None
        self.update()

    def _draw_beside(self, paint: Paint) -> None:
        self._stale = False
        room, times, ratio = self.room(), self._times, self.devicePixelRatio()
        size = self.size() * ratio

        def drawn(_cancelled: Callable[[], bool]) -> tuple[QImage, object]:
            image = QImage(size, QImage.Format.Format_ARGB32_Premultiplied)
            image.setDevicePixelRatio(ratio)
            image.fill(Qt.GlobalColor.transparent)
            painter = QPainter(image)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.scale(times, times)
            said = paint(painter, room)
            painter.end()
            return image, said

        self._work.begin(drawn)

    def _take_image(self, come: tuple[QImage, object]) -> None:
        if self._long:
            self._image = come[0]
            self.drawn(come[1])
            self.update()

    def drawn(self, said: object) -> None:
        """What the drawing said when it was drawn."""

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
        if self._long and self._paint is not None:
            if self._stale:
                self._draw_beside(self._paint)
            if self._image is not None:
                QPainter(self).drawImage(0, 0, self._image)
        elif self._paint is not None:
            painter = self.begin()
            self.drawn(self._paint(painter, self.room()))
            painter.end()

"""Shows a picture of the job and takes clicks in it, by mouse or by keys; zooms in for finer ones."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from vernus.paper.drawing.keep.photo import PhotoShown, paint_photo, paint_photos, photo_place
from vernus.paper.ink import LIGHT, Inks, pen

_MOST_ZOOM = 16.0
_STEP = 1.25
_MOVES = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


class PhotoView(QWidget):
    """A picture with a cross: arrow keys move it (Shift: finely), Space or a click marks, + and − or the wheel zoom."""

    marked = Signal(float, float, float)
    """A place was marked: shares of the picture's width and height, and the picture points to a point of the view."""
    taken_back = Signal()
    """Backspace: the last mark is to go."""
    dropped = Signal(list)
    """Paths of files dropped on it."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Picture: arrow keys move the cross, Space marks, + and − zoom, Backspace takes back")
        self.setMinimumSize(QSize(320, 240))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAcceptDrops(True)
        self._shown: Sequence[PhotoShown] = ()
        self._inks, self._measured, self._words = LIGHT, False, ""
        self._zoom, self._cross = 1.0, (0.5, 0.5)

    @property
    def cross(self) -> tuple[float, float]:
        """Where the cross stands, as shares of width and height."""
        return self._cross

    def show_photos(self, shown: Sequence[PhotoShown], inks: Inks, *, measured: bool, empty: str) -> None:
        """Show a picture, or the one before and the one after; ``empty`` says what to do where there is none."""
        if [s.photo.id for s in shown] != [s.photo.id for s in self._shown]:
            self._zoom, self._cross = 1.0, (0.5, 0.5)
        self._shown, self._inks, self._measured, self._words = tuple(shown), inks, measured, empty
        self.update()

    def _single(self) -> PhotoShown | None:
        """The picture that can be clicked in; None where two stand side by side."""
        return self._shown[0] if len(self._shown) == 1 else None

    def place(self) -> QRectF:
        """Where the single picture lies in the widget."""
        shown = self._single()
        return QRectF() if shown is None else photo_place(shown, QRectF(self.rect()), self._zoom, self._cross)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect())
        shown = self._single()
        if not self._shown:
            painter.setPen(pen(self._inks.faint))
            painter.drawText(room, int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), self._words)
        elif shown is None:
            paint_photos(painter, room, self._shown, self._inks)
        else:
            place = self.place()
            paint_photo(painter, place, shown, self._inks, measured=self._measured)
            self._paint_cross(painter, place)
        if self.hasFocus():
            painter.setPen(pen(self._inks.accent, 1, (2, 3)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _paint_cross(self, painter: QPainter, place: QRectF) -> None:
        if not self.hasFocus():
            return
        at = QPointF(place.left() + self._cross[0] * place.width(), place.top() + self._cross[1] * place.height())
        for colour, width in ((self._inks.sheet, 3.0), (self._inks.stop, 1.0)):
            painter.setPen(pen(colour, width))
            for dx, dy in ((1, 0), (-1, 0), (0, 1), (0, -1)):
                painter.drawLine(at + QPointF(4 * dx, 4 * dy), at + QPointF(26 * dx, 26 * dy))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = self.place()
        if event.button() != Qt.MouseButton.LeftButton or place.isEmpty() or not place.contains(event.position()):
            return
        x = (event.position().x() - place.left()) / place.width()
        y = (event.position().y() - place.top()) / place.height()
        self.setFocus()
        self._cross = (x, y)
        self.update()
        self.marked.emit(x, y, self._coarse())

    def _coarse(self) -> float:
        """How many picture points one point of the view is: a click is no finer than that."""
        shown, place = self._single(), self.place()
        return 0.0 if shown is None or place.isEmpty() else shown.photo.width / place.width()

    def wheelEvent(self, event: QWheelEvent) -> None:
        place = self.place()
        if place.isEmpty():
            return
        at = event.position()
        if place.contains(at):
            self._cross = ((at.x() - place.left()) / place.width(), (at.y() - place.top()) / place.height())
        self._zoom_by(_STEP if event.angleDelta().y() > 0 else 1 / _STEP)

    def _zoom_by(self, by: float) -> None:
        self._zoom = min(_MOST_ZOOM, max(1.0, self._zoom * by))
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        shown, fine = self._single(), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        other = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if shown is None or other:
            super().keyPressEvent(event)
        elif key in _MOVES:
            place, (dx, dy) = self.place(), _MOVES[key]
            step = 1.0 if fine else 12.0
            self._cross = (
                min(1.0, max(0.0, self._cross[0] + dx * step / place.width())),
                min(1.0, max(0.0, self._cross[1] + dy * step / place.height())),
            )
            self.update()
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self._zoom_by(1 / _STEP if key == Qt.Key.Key_Minus else _STEP)
        elif key == Qt.Key.Key_Space:
            self.marked.emit(*self._cross, self._coarse())
        elif key == Qt.Key.Key_Backspace:
            self.taken_back.emit()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        paths = [u.toLocalFile() for u in event.mimeData().urls() if u.isLocalFile()]
        if paths:
            event.acceptProposedAction()
            self.dropped.emit(paths)

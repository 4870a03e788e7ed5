"""The practice machine on the screen: take hold of a thing, turn it, work it, by mouse or by keys."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from vernus.core.units import UnitSystem
from vernus.paper.drawing.keep.bench import grip_places, paint_bench
from vernus.paper.drawing.keep.bench_shown import BenchShown
from vernus.paper.drawing.keep.practice_end import TraceShown, paint_traces
from vernus.paper.ink import LIGHT, Inks, pen

_TURNS = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Down: -1, Qt.Key.Key_Up: 1}


class BenchView(QWidget):
    """Tab takes hold of the next thing, the arrow keys turn it (Shift: finely), Space works it."""

    picked = Signal(str)
    turned = Signal(int, bool)
    worked = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("The practice machine")
        self.setMinimumSize(QSize(360, 220))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._shown: BenchShown | None = None
        self._traces: tuple[TraceShown, TraceShown] | None = None
        self._inks: Inks = LIGHT
        self._units: UnitSystem = "mm"

    def show_bench(self, shown: BenchShown, inks: Inks) -> None:
        """Show the machine."""
        self._shown, self._traces, self._inks = shown, None, inks
        self.update()

    def show_traces(self, mine: TraceShown, adviser: TraceShown, inks: Inks, units: UnitSystem) -> None:
        """Show how the try went beside the adviser's."""
        self._traces, self._inks, self._units = (mine, adviser), inks, units
        self.update()

    def _room(self) -> QRectF:
        return QRectF(self.rect()).adjusted(8, 8, -8, -8)

    def place_of(self, grip: str) -> QRectF:
        """Where a thing lies in the widget."""
        return QRectF() if self._shown is None else grip_places(self._shown, self._room())[grip]

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self._traces is not None:
            paint_traces(painter, self._room(), *self._traces, self._inks, self._units)
        elif self._shown is not None:
            paint_bench(painter, self._room(), self._shown, self._inks)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(pen(self._inks.accent, 1, (2, 3)))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _under(self, at: QRectF) -> str:
        shown = self._shown
        places = {} if shown is None or self._traces is not None else grip_places(shown, self._room())
        return next((g for g, place in reversed(places.items()) if place.adjusted(-4, -4, 4, 4).contains(at)), "")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        point = event.position()
        grip = self._under(QRectF(point.x(), point.y(), 0.1, 0.1))
        if grip and self._shown is not None:
            again = grip == self._shown.picked
            self.setFocus()
            if again:
                self.worked.emit()
            else:
                self.picked.emit(grip)

    def wheelEvent(self, event: QWheelEvent) -> None:
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._shown is not None and self._traces is None:
            self.turned.emit(1 if event.angleDelta().y() > 0 else -1, fine)

    def event(self, event: QEvent) -> bool:
        """Tab goes through the things before it leaves the machine."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and self._step(event):
            return True
        return super().event(event)

    def _step(self, event: QKeyEvent) -> bool:
        shown = self._shown
        if shown is None or self._traces is not None or event.key() not in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            return False
        at = shown.grips.index(shown.picked) if shown.picked in shown.grips else -1
        back = event.key() == Qt.Key.Key_Backtab or event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        to = at + (-1 if back else 1)
        if not 0 <= to < len(shown.grips):
            return False
        self.picked.emit(shown.grips[to])
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        other = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if other or self._traces is not None:
            super().keyPressEvent(event)
        elif key in _TURNS:
            self.turned.emit(_TURNS[key], fine)
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.worked.emit()
        else:
            super().keyPressEvent(event)

"""A choice in place: a letter takes the next choice that begins with it, Space the next one, Left and Right step."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRect, QSize, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent, QPainter, QPaintEvent, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QComboBox

_SIDE, _HIGH, _FRAME = 22, 24, 2


class ChoiceBox(QComboBox):
    """Flat words with a small mark that there are others; ``activated`` tells a choice, as of any such box."""

    def __init__(self, name: str, choices: Sequence[tuple[object, str]] = ()) -> None:
        super().__init__()
        self._measured: tuple[tuple[str, ...], int] = ((), 40 + _SIDE + 6)
        self.setAccessibleName(name)
        self.setObjectName("inplace")
        self.setFixedHeight(_HIGH)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        for value, words in choices:
            self.addItem(words, value)

    def longest(self) -> int:
        """The width its longest choice takes, px."""
        words = tuple(self.itemText(n) for n in range(self.count()))
        if words != self._measured[0]:
            wide = max((self.fontMetrics().horizontalAdvance(w) for w in words), default=40)
            self._measured = words, wide + _SIDE + 6
        return self._measured[1]

    def fit(self, room: int) -> None:
        """Two lines high where its longest choice has no room on one; the list of choices has room for all of it."""
        self.setFixedHeight(_HIGH if self.longest() <= room else 2 * _HIGH - 4)
        self.view().setMinimumWidth(self.longest() + _SIDE)

    def sizeHint(self) -> QSize:
        return QSize(self.longest(), self.minimumHeight())

    def minimumSizeHint(self) -> QSize:
        return QSize(40, _HIGH)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        here, palette = self.rect(), self.palette()
        if self.hasFocus():
            painter.fillRect(here, palette.base())
            painter.setPen(palette.link().color())
            painter.drawRect(here.adjusted(0, 0, -1, -1))
            painter.drawRect(here.adjusted(1, 1, -2, -2))
        enabled = self.isEnabled()
        painter.setPen((palette.text() if enabled else palette.placeholderText()).color())
        room = QRect(here.left() + 4, here.top(), here.width() - _SIDE - 4, here.height())
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(room, int(flags) | int(Qt.TextFlag.TextWordWrap), self.currentText())
        if not enabled:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(palette.placeholderText().color())
        x, y = here.right() - 11.0, here.center().y() + 0.5
        painter.drawPolyline(QPolygonF([QPointF(x - 4, y - 2), QPointF(x, y + 2), QPointF(x + 4, y - 2)]))

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel scrolls the list; it never changes a choice it happens to lie on."""
        event.ignore()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, other = event.key(), event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if other & Qt.KeyboardModifier.AltModifier and key == Qt.Key.Key_Down:
            self.showPopup()
        elif other & ~Qt.KeyboardModifier.ShiftModifier:
            event.ignore()
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Right):
            self._take(self.currentIndex() + 1)
        elif key == Qt.Key.Key_Left:
            self._take(self.currentIndex() - 1)
        elif not self._begins_with(event.text()):
            event.ignore()

    def _begins_with(self, letter: str) -> bool:
        """Take the next choice that begins with a letter; false where none does."""
        if not letter.strip():
            return False
        for step in range(1, self.count() + 1):
            at = (self.currentIndex() + step) % self.count()
            if self.itemText(at).lower().startswith(letter.lower()):
                self._take(at)
                return True
        return letter.isalpha()

    def _take(self, index: int) -> None:
        if self.count() > 1:
            self.setCurrentIndex(index % self.count())
            self.activated.emit(self.currentIndex())

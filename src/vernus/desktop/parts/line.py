"""The one text line: whoever comes to it types over what stands there; Ctrl+Z takes back its own typing first."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence, QMouseEvent
from PySide6.QtWidgets import QLineEdit

_BACK = (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason)


class Line(QLineEdit):
    """A line edit whose text is chosen whole on arrival, however it is reached.

    Undo and Redo are left to the window when it has nothing of its own to take back; the keys of a list (Add, Delete,
    Up, Down) are left to the list.
    """

    def __init__(self) -> None:
        super().__init__()
        self._clicked = False
        self.on_space: Callable[[], bool] = lambda: False
        """What the space bar does in an empty line, where it does anything: true when it did."""

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        if event.reason() not in _BACK:
            self.selectAll()
            self._clicked = event.reason() == Qt.FocusReason.MouseFocusReason

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A click chooses all of it, unless a part was dragged over or it is just being typed."""
        super().mouseReleaseEvent(event)
        if not self.hasSelectedText() and (self._clicked or not self.isModified()):
            self.selectAll()
        self._clicked = False

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            undo = event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()
            redo = event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            if undo or redo or _of_the_list(event):
                event.ignore()
                return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if _of_the_list(event) or event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            event.ignore()
            return
        if event.text() == " " and not self.text().strip() and self.on_space():
            return
        super().keyPressEvent(event)

    def renew(self, text: str = "") -> None:
        """Show ``text`` with no typing to take back; with the cursor here the next key replaces it."""
        self.setText(text)
        if self.hasFocus():
            self.selectAll()

    def type_over(self, text: str) -> None:
        """Take the first letters typed elsewhere: they replace what stands here."""
        self.setFocus()
        self.selectAll()
        self.insert(text)
        self.textEdited.emit(self.text())


def _of_the_list(event: QKeyEvent) -> bool:
    """Whether it is the key that adds a row or deletes one (copying words is Ctrl+C)."""
    control = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier == Qt.KeyboardModifier.ControlModifier
    return control and event.key() in (Qt.Key.Key_Insert, Qt.Key.Key_Delete)

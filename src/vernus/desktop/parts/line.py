"""The one text line: Ctrl+Z takes back its own typing first; Add and Delete of a list are left to the list."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QLineEdit


class Line(QLineEdit):
    """A line edit that leaves Undo and Redo to the window when it has nothing of its own to take back."""

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            undo = event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()
            redo = event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            if undo or redo or _of_the_list(event):
                event.ignore()
                return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if _of_the_list(event):
            event.ignore()
            return
        super().keyPressEvent(event)

    def renew(self, text: str = "") -> None:
        """Show ``text`` with no typing to take back."""
        self.setText(text)


def _of_the_list(event: QKeyEvent) -> bool:
    """Whether it is the key that adds a row or deletes one (copying words is Ctrl+C)."""
    control = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier == Qt.KeyboardModifier.ControlModifier
    return control and event.key() in (Qt.Key.Key_Insert, Qt.Key.Key_Delete)

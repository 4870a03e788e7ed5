"""The one text line: Ctrl+Z takes back its own typing first, and the job's last edit once there is none."""

from __future__ import annotations

from PySide6.QtCore import QEvent
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QLineEdit


class Line(QLineEdit):
    """A line edit that leaves Undo and Redo to the window when it has nothing of its own to take back."""

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            undo = event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()
            redo = event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            if undo or redo:
                event.ignore()
                return False
        return super().event(event)

    def renew(self, text: str = "") -> None:
        """Show ``text`` with no typing to take back."""
        self.setText(text)

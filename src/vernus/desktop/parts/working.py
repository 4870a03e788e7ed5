"""The sign that something long is being worked out: over the window's foot, so that nothing moves for it."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QWidget

from vernus.desktop.parts.words import Label

_SHOWN_AFTER_MS = 150
_CLEAR = 12


class Working(Label):
    """Hidden until something takes a while."""

    def __init__(self, window: QWidget) -> None:
        super().__init__("Working out what follows …")
        self.setParent(window)
        self._window = window
        self.setObjectName("working")
        self.hide()
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(_SHOWN_AFTER_MS)
        self._wait.timeout.connect(self._show)

    def show_working(self, begun: bool) -> None:
        """Something long has begun, or it is through."""
        if begun:
            QApplication.setOverrideCursor(Qt.CursorShape.BusyCursor)
            self._wait.start()
            return
        QApplication.restoreOverrideCursor()
        self._wait.stop()
        self.hide()

    def _show(self) -> None:
        self.adjustSize()
        whole = self._window.rect()
        self.move(whole.right() - self.width() - _CLEAR, whole.bottom() - self.height() - _CLEAR)
        self.raise_()
        self.show()

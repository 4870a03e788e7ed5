"""Two faces of an entry zone: what is logged, and how things are set up (F4 turns it over)."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QPushButton, QStackedWidget, QVBoxLayout, QWidget

from vernus.desktop.parts.form import scrolled, scrolled_form
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.words import Words


class SetupStack(QWidget):
    """A summary line, a button to turn over, and the two faces."""

    def __init__(self, log_face: QWidget, fields: Sequence[QWidget]) -> None:
        super().__init__()
        self.summary = Words("", "faint")
        self.turn = QPushButton("Setup… (F4)")
        press_by(self.turn, "F4")
        self.turn.clicked.connect(self._turn)
        self.faces = QStackedWidget()
        self.faces.addWidget(scrolled(log_face))
        self.faces.addWidget(scrolled_form(fields))
        self._first, self._log_face = fields[0], log_face
        self.setFocusProxy(log_face)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.summary)
        box.addWidget(self.turn)
        box.addWidget(self.faces, 1)

    def _turn(self) -> None:
        setup = self.faces.currentIndex() == 0
        self.faces.setCurrentIndex(1 if setup else 0)
        self.turn.setText("Back to the readings (F4)" if setup else "Setup… (F4)")
        if setup:
            self._first.setFocus()
        else:
            self._log_face.setFocus()

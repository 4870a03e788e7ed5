"""Faces of an entry zone that are turned over by a row of buttons."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.desktop.parts.pages import Pages


class Tabs(QWidget):
    """A row of buttons over the face chosen; ``buttons`` by their words in lower case.

    Ctrl+Tab turns to the next one; of two on one sheet only one can have that key, and the other is made with
    ``by_key`` false.
    """

    turned = Signal()

    def __init__(self, faces: Sequence[tuple[str, QWidget]], *, by_key: bool = True) -> None:
        super().__init__()
        self.stack = Pages()
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout()
        row.setSpacing(0)
        for n, (words, face) in enumerate(faces):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.setObjectName("tight")
            button.setChecked(n == 0)
            button.clicked.connect(partial(self._turn, n))
            self.buttons[words.replace("&", "").lower()] = button
            row.addWidget(button)
            self.stack.addWidget(face)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addLayout(row)
        box.addWidget(self.stack, 1)
        if by_key:
            QShortcut(QKeySequence("Ctrl+Tab"), self).activated.connect(self._next)

    def _next(self) -> None:
        """The next face, after the last the first."""
        self._turn((self.stack.currentIndex() + 1) % self.stack.count())

    def focus_face(self) -> None:
        """Put the cursor into the face chosen."""
        shown = self.stack.currentWidget()
        if shown is not None:
            shown.setFocus()

    def turn_to(self, words: str) -> None:
        """Turn to a face by its words in lower case."""
        n = list(self.buttons).index(words)
        if n != self.stack.currentIndex():
            self._turn(n)

    def _turn(self, n: int) -> None:
        self.stack.setCurrentIndex(n)
        for place, button in enumerate(self.buttons.values()):
            button.setChecked(place == n)
        self.turned.emit()
        self.focus_face()

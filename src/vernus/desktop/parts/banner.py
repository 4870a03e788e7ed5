"""The band over the sheets: what couldn't be written, what can't be edited, and a slip of ours, with what helps."""

from __future__ import annotations

from PySide6.QtCore import Signal, SignalInstance
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from vernus.desktop.parts.words import Words


class Banner(QFrame):
    """A sentence and the buttons that help; hidden while there is nothing to say."""

    retry_asked = Signal()
    copy_asked = Signal()
    undo_asked = Signal()
    description_asked = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("banner")
        row = QHBoxLayout(self)
        self.text = Words("")
        row.addWidget(self.text, 1)
        self.retry = self._button("Retry", self.retry_asked, row)
        self.copy = self._button("Save a copy as…", self.copy_asked, row)
        self.undo = self._button("Undo the last edit", self.undo_asked, row)
        self.describe = self._button("Copy a description", self.description_asked, row)
        self.close_it = QPushButton("Go on")
        self.close_it.clicked.connect(self.hide)
        row.addWidget(self.close_it)
        self.hide()

    def _button(self, words: str, asked: SignalInstance, row: QHBoxLayout) -> QPushButton:
        made = QPushButton(words)
        made.clicked.connect(lambda: asked.emit())
        row.addWidget(made)
        return made

    def show_failure(self, text: str, *, retry: bool) -> None:
        """Say that edits can't be written; hidden without words."""
        self._show(text, {self.copy, *({self.retry} if retry else ())})

    def show_refusal(self, text: str) -> None:
        """Say why something couldn't be done."""
        self._show(text, {self.close_it})

    def show_slip(self, text: str, *, undo: bool) -> None:
        """Say that something of ours went wrong."""
        self._show(text, {self.describe, self.close_it, *({self.undo} if undo else ())})

    def _show(self, text: str, buttons: set[QPushButton]) -> None:
        self.text.setText(text)
        for button in (self.retry, self.copy, self.undo, self.describe, self.close_it):
            button.setVisible(button in buttons)
        self.setVisible(bool(text))

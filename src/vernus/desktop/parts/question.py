"""A question under a figure: what is doubtful of it, and the two answers, each by one key."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QPushButton, QVBoxLayout

from vernus.desktop.parts.words import Words

if TYPE_CHECKING:  # the keys that answer are known before anything is asked: Start opens at once
    from vernus.core.doubt import Doubt
    from vernus.core.units import UnitSystem

TAKE_KEYS, KEEP_KEYS = "Alt+1", "Alt+2"
"""The keys that answer a question; they do nothing else anywhere, and no axis is called so."""


class Question(QFrame):
    """Hidden until something is asked. ``answered`` carries the text to take and whether it is kept as typed."""

    answered = Signal(str, bool)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("question")
        self._typed, self._instead, self._may_stay = "", "", True
        self.words = Words("")
        self.take, self.keep = QPushButton(), QPushButton()
        self.take.clicked.connect(self.accept_proposal)
        self.keep.clicked.connect(self.accept_typed)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        box.setSpacing(4)
        for widget in (self.words, self.take, self.keep):
            box.addWidget(widget)
        for button in (self.take, self.keep):
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.hide()

    @property
    def open(self) -> bool:
        """Whether an answer is waited for."""
        return not self.isHidden()

    @property
    def typed(self) -> str:
        """The text that is asked about."""
        return self._typed

    def ask(self, doubt: Doubt, typed: str, units: UnitSystem) -> None:
        """Ask; what was asked before and not answered is asked no more."""
        self._typed, self._instead = typed, doubt.instead
        rest = "" if doubt.instead else " Type it again, or keep it." if doubt.may_stay else " Type it again."
        self.words.setText(doubt.what.text(units) + rest)
        self.take.setText(f"{doubt.meant} ({TAKE_KEYS})")
        self.take.setVisible(bool(doubt.instead))
        self._may_stay = doubt.may_stay
        self.keep.setText(f"keep {doubt.typed(typed)} ({KEEP_KEYS})")
        self.keep.setVisible(doubt.may_stay)
        self.show()

    def accept_proposal(self) -> None:
        """Take what is proposed, where something is."""
        if self.open and self._instead:
            self.hide()
            self.answered.emit(self._instead, False)

    def accept_typed(self) -> None:
        """Keep the figure as it was typed, where it can be so."""
        if self.open and self._may_stay:
            self.hide()
            self.answered.emit(self._typed, True)

    def withdraw(self) -> None:
        """Ask no more."""
        self.hide()

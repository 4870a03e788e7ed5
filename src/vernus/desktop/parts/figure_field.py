"""A line for one figure: keeps what was typed, says what it means and what is wrong, and asks about what is doubtful.

What the label beside the line says is what bare figures are read in: both are one property (``measure``), so that a
field can't show one unit and read another.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from vernus.core.doubt import Doubt
from vernus.core.errors import BadInputError
from vernus.core.units import UnitSystem
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.question import Question
from vernus.desktop.parts.words import Label
from vernus.desktop.theme import restyle
from vernus.paper.ink import font

_LINE_PX = 30
_PLACE_PX, _PLACE_HIGH, _UNIT_PX = 74, 24, 32


class FigureField(QWidget):
    """``accepted`` carries the figure read, or None when an optional field was emptied.

    ``logging`` fields act on Enter only and are cleared by who logs; others also take the figure when left. A figure
    that is asked about is taken once it is answered, not before.
    """

    accepted = Signal(object)
    asking = Signal()
    """Something is asked, or told, under the figure: it wants to be seen whole."""

    def __init__(self, name: str, *, optional: bool = True, logging: bool = False) -> None:
        super().__init__()
        self._optional, self._logging, self._shown = optional, logging, ""
        self.measure = ""
        self.take_other: Callable[[str], bool] = lambda _text: False
        self.line = Line()
        self.line.setAccessibleName(name)
        self.line.setMinimumWidth(72)
        self.line.setMinimumHeight(_LINE_PX)
        self.suffix = Label()
        self.suffix.setObjectName("faint")
        row = self._row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.line, 1)
        row.addWidget(self.suffix)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addLayout(row)
        self._below = box
        self.line.textEdited.connect(self._edited)
        if logging:
            self.line.returnPressed.connect(self.accept)
        else:
            self.line.editingFinished.connect(self._finish)
        self.setFocusProxy(self.line)

    @cached_property
    def complaint(self) -> Label:
        """Why what is typed isn't taken; made when there is something to say, for there are many fields."""
        made = Label()
        made.setObjectName("complaint")
        made.setWordWrap(True)
        made.setFont(self.suffix.font())
        self._below.addWidget(made)
        made.hide()
        return made

    @cached_property
    def question(self) -> Question:
        """What is asked about what is typed; made when something is."""
        made = Question()
        made.answered.connect(self._answer)
        made.words.setFont(self.suffix.font())
        self._below.addWidget(made)
        return made

    def _withdraw(self) -> None:
        if "question" in self.__dict__:
            self.question.withdraw()

    def in_place(self) -> None:
        """Stand in a row of a list: no frame until the cursor is here, the figure to the right, its unit after it."""
        self.compact = True
        self.line.setObjectName("inplace")
        self.line.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.line.setMinimumHeight(0)
        self.line.setFixedSize(_PLACE_PX, _PLACE_HIGH)
        self.suffix.setFixedWidth(_UNIT_PX)
        self.suffix.show()
        self._row.setSpacing(3)

    def ask_in(self, column: QVBoxLayout) -> None:
        """Put complaint and question into another column: a field that shares its line has no room for them."""
        self.compact = True
        self._below = column

    compact = False
    """Whether only the unit stands beside the line."""

    # what a kind of figure says for itself

    def parse(self, text: str) -> Any:
        """The figure, in the unit shown; raises BadInputError."""
        raise NotImplementedError

    def doubt(self, text: str) -> Doubt | None:
        """What is to be asked about the text."""
        raise NotImplementedError

    def kept(self, value: Any) -> Any:
        """The figure, marked as asked about and kept."""
        return value

    def mean(self, value: Any) -> str:
        """What stands beside the line: the unit, and what the figure is elsewhere."""
        raise NotImplementedError

    @property
    def units(self) -> UnitSystem:
        """The unit system the question is asked in."""
        return "mm"

    # what all share

    @property
    def logs(self) -> bool:
        """Whether it is taken by Enter only."""
        return self._logging

    @property
    def draft(self) -> bool:
        """Whether something is typed that isn't accepted."""
        return self.line.text() != self._shown

    @property
    def unanswered(self) -> bool:
        """Whether its figure is asked about and waits."""
        return "question" in self.__dict__ and self.question.open

    def drop_draft(self) -> str:
        """Forget what is typed and not taken; returns it."""
        text = self.line.text().strip() if self.draft else ""
        self._withdraw()
        self.line.renew(self._shown)
        self.complain("")
        return text

    def show_text(self, text: str, complaint: str = "") -> bool:
        """Show what is stored, unless something else is being typed; true when it is shown."""
        typing = self.line.hasFocus() and self.line.isModified()
        if self.draft and (self._logging or self.unanswered or typing or self.line.property("wrong")):
            return False
        self._shown = text
        if self.line.text() != text:
            self.line.renew(text)
        if not self.line.hasFocus():
            self.line.setCursorPosition(0)
        self.complain(complaint)
        return True

    def enlarge(self, bench: bool) -> None:
        """Readable from two metres, or from the chair."""
        self.line.setFont(font(40 if bench else 11))
        self.suffix.setFont(font(20 if bench else 11))
        for name in ("complaint", "question"):
            if name in self.__dict__:
                words = self.complaint if name == "complaint" else self.question.words
                words.setFont(self.suffix.font())

    def says(self) -> str:
        """What the figure is in the other system of units; empty where there is nothing to say."""
        return ""

    def clear(self) -> None:
        """Empty the line, ready for the next figure."""
        self._shown = ""
        self.line.renew()
        self.suffix.setText(self.mean(None))
        self._withdraw()
        self.complain("")

    def read(self) -> Any:
        """What is typed; None, complaining under the field, when it can't be read or waits for an answer."""
        if self.unanswered:
            return None
        try:
            value = self.parse(self.line.text())
        except BadInputError as error:
            self.complain(str(error))
            return None
        self.complain("")
        return value

    def accept(self) -> None:
        """Take what is typed, or ask about it."""
        text = self.line.text()
        if not text.strip() and (self._optional or self._logging):
            self._shown = ""
            self._withdraw()
            self.complain("")
            if self._optional:
                self.accepted.emit(None)
            return
        if self.unanswered and self.question.typed == text:
            return
        self._withdraw()
        value = self.read()
        if value is None:
            return
        asked = self.doubt(text)
        if asked is not None:
            self.question.ask(asked, text, self.units)
            self.asking.emit()
            return
        self._take(value)

    def put(self, text: str) -> None:
        """Take a text typed elsewhere, as if it had been typed here."""
        self.line.setText(text)
        self.line.setModified(True)
        self.accept()

    @property
    def stays(self) -> bool:
        """Whether what is typed is not taken: it is asked about, or can't be read."""
        return self.unanswered or bool(self.line.property("wrong"))

    def complain(self, text: str) -> None:
        """Mark the field and say why; an empty text takes the mark away."""
        if text or "complaint" in self.__dict__:
            self.complaint.setText(text)
            self.complaint.setVisible(bool(text))
            if text:
                self.asking.emit()
        if bool(self.line.property("wrong")) != bool(text):
            self.line.setProperty("wrong", bool(text))
            restyle(self.line)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter goes on only when the figure is taken: not while it is asked about, wrong, or logged by the sheet."""
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        stays = self.stays or (self._logging and self._logged)
        if enter and stays and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            event.accept()
            return
        super().keyPressEvent(event)

    _logged = False

    def _take(self, value: Any) -> None:
        if not self._logging:
            self._shown = self.line.text()
            self.line.setModified(False)
        self.accepted.emit(value)
        if self.line.hasFocus():
            self.line.selectAll()

    def _answer(self, text: str, kept: bool) -> None:
        if not kept and self.take_other(text):
            return
        self.line.setText(text)
        self.line.setModified(True)
        value = self.read()
        if value is not None:
            self._take(self.kept(value) if kept else value)
            if self.line.isVisible() and not self._logging:
                self.line.setFocus()

    def _finish(self) -> None:
        if self.draft or self.confirmed():
            self.accept()

    def confirmed(self) -> bool:
        """Whether a figure that nobody had typed was typed again as it stood: then it is the user's own."""
        return False

    def _edited(self, text: str) -> None:
        self._logged = bool(text.strip())
        if self.unanswered and text != self.question.typed:
            self._withdraw()
        self.preview(text)

    def preview(self, text: str) -> None:
        """Say what is being typed while it is typed."""
        try:
            self.suffix.setText(self.mean(self.parse(text) if text.strip() else None))
        except BadInputError:
            self.suffix.setText(self.mean(None))

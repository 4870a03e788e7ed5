"""The one length field: reads every entry form, keeps what was typed, says what it means and what is wrong."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.units import SYSTEM_OF, UnitName, format_in
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.words import Label
from vernus.job.fields import LengthEntry
from vernus.paper.ink import font

_OTHER: dict[UnitName, tuple[UnitName, int]] = {"mm": ("in", 4), "in": ("mm", 3), "thou": ("mm", 4), "µm": ("thou", 2)}


class LengthField(QWidget):
    """A line for one length. ``accepted`` carries a LengthEntry, or None when an optional field was emptied.

    ``logging`` fields act on Enter only and can be emptied after it; others also accept when left.
    """

    accepted = Signal(object)

    def __init__(
        self, name: str, unit: Callable[[], UnitName], *, optional: bool = True, logging: bool = False
    ) -> None:
        super().__init__()
        self._unit, self._optional, self._shown = unit, optional, ""
        self._entry: LengthEntry | None = None
        self.line = Line()
        self.line.setAccessibleName(name)
        self.line.setMinimumWidth(96)
        self.suffix = Label()
        self.suffix.setObjectName("faint")
        self.complaint = Label()
        self.complaint.setObjectName("complaint")
        self.complaint.setWordWrap(True)
        self.complaint.hide()
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.line, 1)
        row.addWidget(self.suffix)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addLayout(row)
        box.addWidget(self.complaint)
        self.line.textEdited.connect(self._preview)
        if logging:
            self.line.returnPressed.connect(self.accept)
        else:
            self.line.editingFinished.connect(self._finish)
        self.setFocusProxy(self.line)

    @property
    def draft(self) -> bool:
        """Whether something is typed that isn't accepted."""
        return self.line.text() != self._shown

    def show_entry(self, entry: LengthEntry | None, complaint: str = "") -> None:
        """Show what is stored; text that could not be read stays until it is mended."""
        if self.draft and self.line.property("wrong"):
            return
        self._entry = entry
        self._shown = "" if entry is None else entry.shown(self._unit())
        if self.line.text() != self._shown:
            self.line.setText(self._shown)
        self._mean(entry)
        self.complain(complaint)

    def enlarge(self, bench: bool) -> None:
        """Readable from two metres, or from the chair."""
        self.line.setFont(font(40 if bench else 11))
        for words in (self.suffix, self.complaint):
            words.setFont(font(20 if bench else 11))

    def clear(self) -> None:
        """Empty the line, ready for the next value."""
        self._shown, self._entry = "", None
        self.line.renew()
        self._mean(None)
        self.complain("")

    def read(self) -> LengthEntry | None:
        """What is typed, complaining under the field when it can't be read."""
        try:
            entry = LengthEntry.read(self.line.text(), self._unit())
        except BadInputError as error:
            self.complain(str(error))
            return None
        self.complain("")
        return entry

    def accept(self) -> None:
        """Take what is typed."""
        if not self.line.text().strip() and self._optional:
            self._shown = ""
            self.complain("")
            self.accepted.emit(None)
            return
        entry = self.read()
        if entry is not None:
            self._shown = self.line.text()
            self.accepted.emit(entry)

    def complain(self, text: str) -> None:
        """Mark the field and say why; an empty text takes the mark away."""
        self.complaint.setText(text)
        self.complaint.setVisible(bool(text))
        if bool(self.line.property("wrong")) != bool(text):
            self.line.setProperty("wrong", bool(text))
            self.line.style().unpolish(self.line)
            self.line.style().polish(self.line)

    def _finish(self) -> None:
        if self.draft or self._confirmed():
            self.accept()

    def _confirmed(self) -> bool:
        """Whether a figure that nobody had typed was typed again as it stood: then it is the user's own."""
        return self.line.isModified() and self._entry is not None and not self._entry.text

    def _preview(self, text: str) -> None:
        try:
            self._mean(LengthEntry.read(text, self._unit()) if text.strip() else None)
        except BadInputError:
            self.suffix.setText(self._unit())

    def _mean(self, entry: LengthEntry | None) -> None:
        """The field's unit, and the value in the other system so that a slip shows at once."""
        unit = self._unit()
        if entry is None:
            self.suffix.setText(unit)
            return
        other, decimals = _OTHER[unit]
        named = not entry.text or entry.unit == unit or SYSTEM_OF[entry.unit] != SYSTEM_OF[unit]
        bare = named and not any(c.isalpha() or c in "\"'″" for c in entry.text)
        self.suffix.setText(
            f"{unit if bare or not entry.text else ''} = {format_in(entry.mm, other, decimals)}".strip()
        )

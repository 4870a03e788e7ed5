"""The small table of what is fitted: per axis what readout it gets, and what power feed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QWidget

from vernus.desktop.parts.words import Label
from vernus.job.fitted import DRIVES, READOUTS

COLUMNS = ("readout", "drive")
_LABELS = {"readout": "Readout", "drive": "Power feed"}
_CHOICES = {"readout": READOUTS, "drive": DRIVES}


@dataclass(frozen=True)
class ScopeRow:
    """One axis: its name, what moves, and what is fitted."""

    name: str
    label: str
    readout: str
    drive: str


class ScopeTable(QWidget):
    """A row per axis; ``changed`` carries axis, column and choice."""

    changed = Signal(str, str, str)

    def __init__(self) -> None:
        super().__init__()
        self.boxes: dict[tuple[str, str], QComboBox] = {}
        self._rows: list[tuple[str, str]] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        self._grid.setColumnStretch(0, 4)
        self._grid.setColumnStretch(1, 5)
        self._grid.setColumnStretch(2, 3)

    def show_rows(self, rows: Sequence[ScopeRow]) -> None:
        """Show the axes; a row that stays keeps its controls."""
        if [(r.name, r.label) for r in rows] != self._rows:
            self._build(rows)
        for row in rows:
            for column in COLUMNS:
                box = self.boxes[row.name, column]
                box.setCurrentIndex(box.findData(getattr(row, column)))

    def _build(self, rows: Sequence[ScopeRow]) -> None:
        self._rows = [(r.name, r.label) for r in rows]
        self.boxes.clear()
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for n, words in enumerate(("", *(_LABELS[c] for c in COLUMNS))):
            self._grid.addWidget(_label(words, faint=True), 0, n)
        for at, row in enumerate(rows, 1):
            title = _label(f"{row.name}  {row.label}" if row.label else row.name)
            title.setWordWrap(True)
            self._grid.addWidget(title, at, 0)
            for n, column in enumerate(COLUMNS, 1):
                box = self.boxes[row.name, column] = self._box(row.name, column)
                self._grid.addWidget(box, at, n)

    def _box(self, name: str, column: str) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(f"{name}, {_LABELS[column].lower()}")
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.setMinimumContentsLength(18 if column == "readout" else 10)
        box.setMinimumHeight(28)
        for value, words in _CHOICES[column]:
            box.addItem(words, value)
        box.activated.connect(lambda _index: self.changed.emit(name, column, box.currentData()))
        return box

    def chosen(self) -> dict[str, tuple[str, str]]:
        """Per axis its readout and its power feed as they stand."""
        names = [name for name, _ in self._rows]
        return {n: (self.boxes[n, "readout"].currentData(), self.boxes[n, "drive"].currentData()) for n in names}


def _label(text: str, *, faint: bool = False) -> Label:
    label = Label(text)
    if faint:
        label.setObjectName("faint")
    return label

"""The findings panel: for what is shown, a sentence with its number, its reason and its remedy."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from vernus.core.finding import Finding
from vernus.core.units import UnitSystem
from vernus.desktop.parts.marks import WORDS, Mark
from vernus.desktop.parts.words import Label, Words, set_tip
from vernus.paper.ink import Inks

_OPEN, _FOLDED = 236, 26


class FindingsPanel(QFrame):
    """A column of findings, folded to a strip with its count while there are none: the picture gets the room."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("ground")
        self.setFixedWidth(_FOLDED)
        self._title = Label("Findings")
        self._title.setObjectName("faint")
        self._body = QWidget()
        self._body.setObjectName("plain")
        self._column = QVBoxLayout(self._body)
        self._column.setContentsMargins(0, 0, 4, 0)
        self._column.setSpacing(10)
        area = self._area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self._body)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        box = QVBoxLayout(self)
        box.setContentsMargins(4, 8, 4, 4)
        box.addWidget(self._title)
        box.addWidget(area, 1)
        self._shown: object = None

    def show_findings(self, findings: Sequence[Finding], units: UnitSystem, inks: Inks) -> None:
        """Show these findings, gravest first."""
        told = [f.as_json(units) for f in findings]
        if (told, inks) == self._shown:
            return
        self._shown = (told, inks)
        while self._column.count():
            item = self._column.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        self.setFixedWidth(_OPEN if told else _FOLDED)
        self._area.setVisible(bool(told))
        self._title.setText(f"Findings: {len(told)}" if told else "0")
        set_tip(self._title, "" if told else "No findings here")
        for found, words in zip(findings, told, strict=True):
            self._column.addWidget(_card(found, words, inks))
        self._column.addStretch(1)

    def texts(self) -> list[str]:
        """The sentences shown."""
        return [w.text() for w in self._body.findChildren(Label)]


def _card(found: Finding, words: dict[str, str], inks: Inks) -> QWidget:
    card = QFrame()
    card.setObjectName("zone")
    box = QVBoxLayout(card)
    box.setContentsMargins(9, 8, 8, 8)
    box.setSpacing(5)
    head = QHBoxLayout()
    mark = Mark()
    mark.show_mark(found.severity, inks)
    word = Label(WORDS[found.severity])
    word.setObjectName({"info": "faint", "caution": "caution", "stop": "complaint"}[found.severity])
    head.addWidget(mark)
    head.addWidget(word, 1)
    box.addLayout(head)
    box.addWidget(Words(words["text"]))
    box.addWidget(Words(words["remedy"], "accent"))
    return card

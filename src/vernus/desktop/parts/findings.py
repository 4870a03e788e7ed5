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
        self._column.addStretch(1)
        self._cards: list[_Card] = []
        self._shown: object = None

    def show_findings(self, findings: Sequence[Finding], units: UnitSystem, inks: Inks) -> None:
        """Show these findings, gravest first."""
        told = [f.as_json(units) for f in findings]
        if (told, inks) == self._shown:
            return
        self._shown = (told, inks)
        while len(self._cards) > len(told):
            self._cards.pop().deleteLater()
        while len(self._cards) < len(told):
            self._cards.append(_Card())
            self._column.insertWidget(len(self._cards) - 1, self._cards[-1])
        for card, found, words in zip(self._cards, findings, told, strict=True):
            card.show_finding(found, words, inks)
        self.setFixedWidth(_OPEN if told else _FOLDED)
        self._area.setVisible(bool(told))
        self._title.setText(f"Findings: {len(told)}" if told else "0")
        set_tip(self._title, "" if told else "No findings here")

    def texts(self) -> list[str]:
        """The sentences shown."""
        return [w.text() for w in self._body.findChildren(Label)]


class _Card(QFrame):
    """One finding: how grave it is, what is wrong and what to do."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("zone")
        box = QVBoxLayout(self)
        box.setContentsMargins(9, 8, 8, 8)
        box.setSpacing(5)
        head = QHBoxLayout()
        self._mark, self._word = Mark(), Label("")
        self._text, self._remedy = Words(""), Words("", "accent")
        head.addWidget(self._mark)
        head.addWidget(self._word, 1)
        box.addLayout(head)
        box.addWidget(self._text)
        box.addWidget(self._remedy)

    def show_finding(self, found: Finding, words: dict[str, str], inks: Inks) -> None:
        """Show a finding in the words it has in the units of the window."""
        self._mark.show_mark(found.severity, inks)
        name = {"info": "faint", "caution": "caution", "stop": "complaint"}[found.severity]
        if self._word.objectName() != name:
            self._word.setObjectName(name)
            self._word.style().polish(self._word)
        self._word.setText(WORDS[found.severity])
        self._text.setText(words["text"])
        self._remedy.setText(words["remedy"])

"""The findings as lines under the headline: a mark and the first sentence; a line opens in place, with its remedy."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QResizeEvent, QShortcut
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from vernus.core.finding import Finding
from vernus.core.units import UnitSystem
from vernus.desktop.parts.marks import WORDS, Mark
from vernus.desktop.parts.words import Words, first_sentence
from vernus.desktop.theme import restyle
from vernus.paper.ink import Inks

OPEN_KEYS = "Ctrl+Space"
_CLOSED_LINES, _OPEN_SHARE, _MOST_LINES = 3, 0.45, 60


class FindingLines(QWidget):
    """Gravest first. While none is open at most three stand here, and a word on how many more there are.

    Of hundreds the first sixty are shown: mending those shows the next.
    """

    def __init__(self) -> None:
        super().__init__()
        self._body = QWidget()
        self._body.setObjectName("plain")
        self._column = QVBoxLayout(self._body)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(2)
        self._column.addStretch(1)
        area = self._area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(self._body)
        self.more = QPushButton()
        self.more.setObjectName("link")
        self.more.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.more.clicked.connect(self.turn)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(area)
        box.addWidget(self.more, 0, Qt.AlignmentFlag.AlignLeft)
        self.lines: list[FindingLine] = []
        self.all_shown = False
        self._told: list[dict[str, str]] = []
        self._beyond = 0
        self._shown: object = None
        QShortcut(QKeySequence(OPEN_KEYS), self).activated.connect(self.turn)

    def show_findings(self, findings: Sequence[Finding], units: UnitSystem, inks: Inks) -> None:
        """Show these findings, gravest first."""
        self._beyond, findings = max(0, len(findings) - _MOST_LINES), findings[:_MOST_LINES]
        told = [f.as_json(units) for f in findings]
        if (told, inks) == self._shown:
            return
        if [t["code"] for t in told] != [t["code"] for t in self._told]:
            self.all_shown = False
        self._shown, self._told = (told, inks), told
        while len(self.lines) > len(told):
            self.lines.pop().deleteLater()
        while len(self.lines) < len(told):
            self.lines.append(FindingLine(self.fit))
            self._column.insertWidget(len(self.lines) - 1, self.lines[-1])
        for line, found, words in zip(self.lines, findings, told, strict=True):
            line.show_finding(found, words, inks)
        self.fit()

    def texts(self) -> list[str]:
        """What is said: per finding its words and its remedy, open or not."""
        return [w for told in self._told for w in (told["text"], told["remedy"]) if w]

    def turn(self) -> None:
        """Open all lines, or fold them to what stands there at first."""
        self.all_shown = not self.all_shown
        for line in self.lines:
            line.open(self.all_shown)
        self.fit()

    def fit(self) -> None:
        """As high as the lines shown, up to a share of the sheet; beyond that they scroll."""
        over = len(self.lines) - _CLOSED_LINES
        for n, line in enumerate(self.lines):
            line.setVisible(self.all_shown or n < _CLOSED_LINES)
        self.setVisible(bool(self.lines))
        words = "Fold them" if self.all_shown else f"{over + self._beyond} more"
        beyond = f"; {self._beyond} more come once some of these are mended" if self.all_shown and self._beyond else ""
        self.more.setText(f"{words} ({OPEN_KEYS}){beyond}")
        self.more.setVisible(over > 0)
        wide = self.width()
        high = sum(line.heightForWidth(wide) + 2 for line in self.lines if not line.isHidden())
        most = round(_OPEN_SHARE * self.window().height())
        self._area.setFixedHeight(min(high, most))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()


class FindingLine(QFrame):
    """One finding; a click, Enter or Space opens it."""

    def __init__(self, turned: Callable[[], object]) -> None:
        super().__init__()
        self._turned = turned
        self.is_open = False
        self._words: dict[str, str] = {}
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.mark, self.text, self.remedy = Mark(), Words(marked=False), Words(name="accent", marked=False)
        lines = QVBoxLayout()
        lines.setSpacing(0)
        lines.addWidget(self.text)
        lines.addWidget(self.remedy)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 1, 0, 1)
        row.setSpacing(8)
        row.addWidget(self.mark, 0, Qt.AlignmentFlag.AlignTop)
        row.addLayout(lines, 1)

    def show_finding(self, found: Finding, words: dict[str, str], inks: Inks) -> None:
        """Show a finding in the words it has in the units of the window."""
        self._words = words
        self.mark.show_mark(found.severity, inks)
        self.setAccessibleName(f"{WORDS[found.severity]}: {words['text']}")
        name = {"info": "", "caution": "caution", "stop": "complaint"}[found.severity]
        if self.text.objectName() != name:
            self.text.setObjectName(name)
            restyle(self.text)
        self.open(self.is_open)

    def open(self, is_open: bool) -> None:
        """Show all of it with its remedy, or the first sentence."""
        self.is_open = is_open
        said, remedy = self._words.get("text", ""), self._words.get("remedy", "")
        self.text.setText(said if is_open else first_sentence(said))
        self.remedy.setText(remedy)
        self.remedy.setVisible(is_open and bool(remedy))

    def heightForWidth(self, width: int) -> int:
        room = max(60, width - 30)
        high = self.text.heightForWidth(room) + 2
        return high + (self.remedy.heightForWidth(room) if self.is_open and self._words.get("remedy") else 0)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._turn()
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and not event.modifiers():
            self._turn()
        else:
            super().keyPressEvent(event)

    def _turn(self) -> None:
        self.open(not self.is_open)
        self._turned()

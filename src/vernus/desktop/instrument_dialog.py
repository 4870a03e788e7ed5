"""Linking an instrument: port, line pattern, who sends; or the simulated one."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from vernus.bench.line import PATTERNS, LinePattern
from vernus.core.errors import VernusError
from vernus.desktop.instrument import Instrument, ports
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session


class InstrumentDialog(QDialog):
    """A few choices and two buttons."""

    def __init__(self, session: Session, instrument: Instrument, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._instrument = session, instrument
        self.setWindowTitle("Link an instrument")
        self.setMinimumWidth(520)
        self.port = QComboBox()
        self.port.setEditable(True)
        self.port.addItems(ports())
        self.pattern = QComboBox()
        for pattern in PATTERNS:
            self.pattern.addItem(pattern.label, pattern)
        self.pattern.addItem("my own pattern, below", None)
        self.own = QLineEdit()
        self.own.setPlaceholderText(r"such as R=(?P<value>[-+]?[0-9.]+)")
        self.unit = QComboBox()
        for unit in ("mm", "in"):
            self.unit.addItem(unit, unit)
        self.who = QComboBox()
        self.who.addItem("ask it all the time, F9 logs", True)
        self.who.addItem("its own send button logs", False)
        self.baud = QLineEdit("9600")
        box = QVBoxLayout(self)
        for words, widget in (
            ("Port", self.port),
            ("What its lines look like", self.pattern),
            ("Own pattern (a regular expression with a group named value)", self.own),
            ("Unit of figures without one", self.unit),
            ("Who sends", self.who),
            ("Baud", self.baud),
        ):
            title = Label(words)
            title.setObjectName("faint")
            title.setBuddy(widget)
            box.addWidget(title)
            box.addWidget(widget)
        hint = (
            "An instrument that types like a keyboard needs no link: click into the reading field and press its button."
        )
        self.complaint = Words("", "complaint")
        box.addWidget(Words(hint, "faint"))
        box.addWidget(self.complaint)
        row = QHBoxLayout()
        self.go = QPushButton("Link")
        self.go.setObjectName("main")
        self.go.clicked.connect(self._link)
        self.simulated = QPushButton("Use the simulated one")
        self.simulated.clicked.connect(self._simulate)
        self.cut = QPushButton("Unlink")
        self.cut.clicked.connect(self._unlink)
        for button in (self.go, self.simulated, self.cut):
            row.addWidget(button)
        box.addLayout(row)

    def _own_pattern(self) -> LinePattern:
        return LinePattern("own", "own", self.own.text(), "in" if self.unit.currentData() == "in" else "mm")

    def _link(self) -> None:
        try:
            pattern = self.pattern.currentData() or self._own_pattern()
            if not self.baud.text().isdigit():
                raise VernusError("The baud rate is a whole number such as 9600.")
            asking = bool(self.who.currentData())
            self._instrument.link(self.port.currentText(), pattern, baud=int(self.baud.text()), asking=asking)
        except VernusError as error:
            self.complaint.setText(str(error))
        else:
            self.accept()

    def _simulate(self) -> None:
        self._session.start_bench()
        self.accept()

    def _unlink(self) -> None:
        self._session.stop_bench()
        self.accept()

"""Linking an instrument by trying: it is listened to, what its lines say is shown, and only then is it linked."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from vernus.bench.line import BAUDS, PATTERNS, LinePattern, pattern_by_id, patterns_of
from vernus.core.errors import VernusError
from vernus.core.units import format_fine
from vernus.desktop import settings
from vernus.desktop.instrument import Instrument, Listening, Port, Who, ports
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.paper.ink import font

_WHO: tuple[tuple[Who, str], ...] = (
    ("key", "the space bar or F9 here"),
    ("button", "its own send button"),
    ("free", "hands-free: cranked, then stood still"),
)
_FIND = "by what it sends"


class InstrumentDialog(QDialog):
    """A port, what was heard there, who takes a station; the rest finds itself."""

    def __init__(self, session: Session, instrument: Instrument, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._instrument = session, instrument
        self._listening = Listening()
        self._listening.setParent(self)
        self._listening.heard.connect(self._understand)
        self._there: list[Port] = ports()
        self._pattern: LinePattern | None = None
        self.setWindowTitle("Link an instrument")
        self.setMinimumWidth(560)
        self.port, self.pattern, self.unit, self.who, self.baud = (QComboBox() for _ in range(5))
        self.port.setEditable(True)
        for port in self._there:
            self.port.addItem(f"{port.device}  {port.name}".strip(), port.device)
        self.pattern.addItem(_FIND, "")
        for pattern in PATTERNS:
            self.pattern.addItem(pattern.label, pattern.id)
        self.pattern.addItem("my own pattern, below", "own")
        self.own = QLineEdit()
        self.own.setPlaceholderText(r"such as R=(?P<value>[-+]?[0-9.]+)")
        for words, unit in (("not said yet", ""), ("millimetres", "mm"), ("inches", "in")):
            self.unit.addItem(words, unit)
        for who, words in _WHO:
            self.who.addItem(words, who)
        self.baud.addItem("find it", 0)
        for baud in BAUDS:
            self.baud.addItem(str(baud), baud)
        self.heard = Words("")
        self.heard.setFont(font(14))
        self.complaint = Words("", "complaint")
        self._lay_out()
        self._remembered()
        self.port.activated.connect(lambda _index: self.listen())
        for box in (self.pattern, self.unit):
            box.activated.connect(lambda _index: self._understand())
        self.own.textEdited.connect(lambda _text: self._understand())
        self.baud.activated.connect(lambda _index: self.listen())
        self.finished.connect(lambda _result: self._listening.stop())
        if self.port.currentText():
            self.listen()

    def _lay_out(self) -> None:
        box = QVBoxLayout(self)
        listen = QPushButton("Listen")
        listen.clicked.connect(self.listen)
        self.look = listen
        rows: tuple[tuple[str, QWidget], ...] = (
            ("Port", self.port), ("A station is taken by", self.who), ("What its lines look like", self.pattern),
            ("Figures without a unit are", self.unit), ("Own pattern, a regular expression with a group named value",
             self.own), ("Speed, baud", self.baud),
        )  # fmt: skip
        for words, widget in rows:
            title = Label(words)
            title.setObjectName("faint")
            title.setBuddy(widget)
            widget.setAccessibleName(words)
            box.addWidget(title)
            box.addWidget(widget)
            if widget is self.port:
                box.addWidget(listen)
                box.addWidget(self.heard)
        hint = (
            "An instrument that types like a keyboard needs no link: click into the reading field and press its button."
        )
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

    def _remembered(self) -> None:
        """Begin with the instrument linked last that is here again; by its serial number wherever it is plugged in."""
        kept = settings.links()
        known = next((k for k in kept if any(p.key == k for p in self._there)), "")
        port = next((p for p in self._there if p.key == known), None)
        if port is None:
            return
        link = kept[known]
        self.port.setCurrentIndex(self.port.findData(port.device))
        for box, name in ((self.pattern, "pattern"), (self.unit, "unit"), (self.who, "who")):
            box.setCurrentIndex(max(0, box.findData(link.get(name))))
        self.own.setText(str(link.get("own", ""))[:500])
        self.baud.setCurrentIndex(max(0, self.baud.findData(link.get("baud"))))

    def _device(self) -> str:
        text = self.port.currentText().strip()
        return next((p.device for p in self._there if f"{p.device}  {p.name}".strip() == text), text)

    def listen(self) -> None:
        """Listen on the port and show what comes."""
        self._pattern = None
        self.complaint.setText("")
        self.heard.setText("Listening… Press its send button if it has one.")
        said = self.baud.currentData()
        try:
            self._instrument.unlink()
            self._listening.listen(self._device(), (said,) if said else BAUDS)
        except VernusError as error:
            self.heard.setText("")
            self.complaint.setText(str(error))

    def _candidates(self, lines: list[str]) -> list[LinePattern]:
        """The patterns that read what was heard: the one chosen, or all that do."""
        chosen, unit = self.pattern.currentData(), self.unit.currentData()
        if chosen == "own":
            return [LinePattern("own", "own", self.own.text(), "in" if unit == "in" else "mm")]
        if chosen:
            return [pattern_by_id(chosen)]
        found = patterns_of(lines)
        return [p for p in found if not unit or p.unit == unit] if len(found) > 1 else found

    def _understand(self) -> None:
        """Say what was heard and what it is taken for; a figure without a unit is asked about."""
        lines, self._pattern = self._listening.lines, None
        try:
            found = self._candidates(lines)
        except VernusError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        if not lines:
            return
        read = [(p, value) for p in found if (value := p.read(lines[-1])) is not None]
        line = lines[-1][:40]
        if not read:
            self.heard.setText(f"Heard “{line}”: no figure is found in it so. Choose another pattern or speed.")
        elif len(read) > 1:
            both = " or ".join(format_fine(value, "in" if p.unit == "in" else "mm") for p, value in read)
            self.heard.setText(f"Heard “{line}”: {both}? Say below what figures without a unit are.")
            self.unit.setFocus()
        else:
            self._pattern, value = read[0]
            self.heard.setText(f"Heard “{line}”: {format_fine(value, 'mm')}, that is {format_fine(value, 'in')}.")

    def _link(self) -> None:
        try:
            pattern = self._pattern or self._unheard()
            baud = int(self.baud.currentData() or self._listening.baud or BAUDS[0])
            port = next((p for p in self._there if p.device == self._device()), Port(self._device()))
            self._listening.stop()
            self._instrument.link(port.device, pattern, baud=baud, who=self.who.currentData(), serial=port.serial)
        except VernusError as error:
            self.complaint.setText(str(error))
            return
        unit = "" if pattern.id == "with-unit" else pattern.unit
        settings.remember_link(
            port.key,
            {"pattern": pattern.id, "unit": unit, "own": self.own.text(), "who": self.who.currentData(), "baud": baud},
        )
        self.accept()

    def _unheard(self) -> LinePattern:
        """The pattern chosen, where nothing was heard yet; raises VernusError where that can't be said."""
        found = self._candidates(self._listening.lines) if self.pattern.currentData() else []
        if len(found) != 1:
            raise VernusError(
                "Nothing was understood yet: press its send button, or choose what its lines look like and in which "
                "unit its figures are."
            )
        return found[0]

    def _simulate(self) -> None:
        self._listening.stop()
        self._session.start_bench()
        self.accept()

    def _unlink(self) -> None:
        self._session.stop_bench()
        self.accept()

"""Where readings are typed, or taken from the instrument: the station asked for, and one figure or two."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from vernus.core.doubt import Yardstick
from vernus.core.errors import BadInputError
from vernus.core.units import format_plain
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.live_view import LiveView
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.align.edits import beside, next_line, with_readings
from vernus.job.align.passes import is_through, next_to_read
from vernus.job.doubts import along_yardstick, reading_yardstick
from vernus.job.entities import Sweep
from vernus.job.fields import LengthEntry

_THROUGH = "This pass is through; nothing is added to it. Start the next one with Ctrl+Enter."


class ReadingEntry(QWidget):
    """Logs into the pass that ``sweep`` gives; ``logged`` carries the row the reading went to."""

    logged = Signal(int)

    def __init__(self, session: Session, sweep: Callable[[], Sweep | None]) -> None:
        super().__init__()
        self._session, self._sweep = session, sweep
        self.station = LengthField("Station", lambda: session.unit("length"), optional=False, compare=self.along)
        self.reading = LengthField(
            "Reading", lambda: session.unit("fine"), optional=False, logging=True, compare=self._dial
        )
        self.second = LengthField(
            "Other reading", lambda: session.unit("fine"), optional=False, logging=True, compare=self._other_dial
        )
        self.reading.accepted.connect(self._take_first)
        self.second.accepted.connect(self._take_second)
        self._first: LengthEntry | None = None
        self._first_live = False
        self.ask = Words("")
        self.instrument = LiveView(session)
        self.instrument.taken.connect(self._log_sent)
        self.instrument.take_by_space([self.reading.line, self.second.line])
        self._live_text = ""
        self._lay_out()

    def _lay_out(self) -> None:
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.ask)
        row = QHBoxLayout()
        self.titles: list[Label] = []
        for words, field in (("Station", self.station), ("Reading", self.reading), ("Other reading", self.second)):
            column = QVBoxLayout()
            column.setSpacing(2)
            title = Label(words)
            title.setObjectName("faint")
            self.titles.append(title)
            column.addWidget(title)
            column.addWidget(field)
            if field is self.second:
                row = QHBoxLayout()
                row.addStretch(1)
            row.addLayout(column, 1)
            if field is not self.station:
                box.addLayout(row)
        for field in (self.station, self.reading, self.second):
            field.ask_in(box)
        box.addWidget(self.instrument)

    def show_next(self, sweep: Sweep) -> None:
        """Ask for the next reading of a pass."""
        upcoming = next_to_read(sweep)
        if not self.station.draft:
            self.station.show_entry(upcoming)
            self.station.suffix.setText(self._session.unit("length"))
        self.reading.show_entry(None)
        self.second.show_entry(None)
        self._show_two(sweep)
        self.instrument.show_now()
        self._crank_bench()
        self.ask.setText(self._asked(sweep, upcoming))

    def _log(self, *entries: LengthEntry, sent: bool = False) -> None:
        """Log one reading, or those that an instrument sent in one go, as one edit.

        What an instrument sends once the pass is through is not taken.
        """
        sweep = self._sweep()
        if sent and sweep is not None and sweep.readings and next_to_read(sweep) is None and not self.station.draft:
            self._session.notice.emit(_THROUGH)
            return
        station = self.station.read()
        if sweep is None or station is None:
            return
        planned = next_to_read(sweep)
        if planned is not None and self.station.line.text() == planned.shown(self._session.unit("length")):
            station = planned
        if self._session.apply("reading", [with_readings(sweep, station, entries, live=sent)]):
            self.reading.clear()
            self.station.clear()
            self.logged.emit(len(sweep.readings))

    def _take_first(self, entry: LengthEntry) -> None:
        """A reading: logged at once, or held until the second indicator's is typed."""
        sweep, live = self._sweep(), bool(self._live_text) and entry.text == self._live_text
        if sweep is None or not by_two(sweep):
            self._log(entry, sent=live)
            return
        self._first, self._first_live = entry, live
        self.second.setFocus()

    def _take_second(self, entry: LengthEntry) -> None:
        """Both readings of one traverse, as one edit."""
        sweep, job, station, first = self._sweep(), self._session.job, self.station.read(), self._first
        if sweep is None or job is None or station is None:
            return
        if first is None:
            self.reading.setFocus()
            self._session.notice.emit(f"First the {sweep.plane} reading, then the other one.")
            return
        other = beside(job, sweep, self._session.units)
        live = bool(self._live_text) and entry.text == self._live_text
        both = [
            with_readings(sweep, station, (first,), live=self._first_live),
            with_readings(other, station, (entry,), live=live),
        ]
        if self._session.apply("readings", both):
            self._first = None
            for field in (self.reading, self.second, self.station):
                field.clear()
            self.logged.emit(len(sweep.readings))
            self.reading.setFocus()

    def _log_sent(self, mm: float) -> None:
        """Take a value of the instrument as if it had been typed: asked about where it is doubtful."""
        sweep = self._sweep()
        if not self.isVisible() or sweep is None:
            return
        two = by_two(sweep)
        field = self.second if two and self._first is not None else self.reading
        if self.reading.unanswered or self.second.unanswered:
            self._session.notice.emit("Answer what is asked first; this reading was not taken.")
            return
        if two and self._first is None and sweep.readings and next_to_read(sweep) is None and not self.station.draft:
            self._session.notice.emit(_THROUGH)
            return
        if field.draft and field.line.text().strip():
            self._session.notice.emit("A figure is typed there: Enter takes it first. This reading was not taken.")
            return
        self._live_text = f"{mm:.4f} mm"
        field.put(self._live_text)

    def _crank_bench(self) -> None:
        """The simulated machine is at the station asked for, as a user would have cranked it there."""
        bench, station = self._session.bench, self.station.line.text()
        if bench is None or not station:
            return
        try:
            at = LengthEntry.read(station, self._session.unit("length")).mm
            bench.body.crank(min(bench.body.length_mm, max(0.0, at)))
        except BadInputError:
            return

    def along(self) -> Yardstick | None:
        """What a station is compared with: the axis."""
        job, axis = self._session.job, self._session.axis
        return along_yardstick(job, axis) if job is not None and axis is not None else None

    def _other_dial(self) -> Yardstick | None:
        """What the second indicator's reading is compared with: its own pass."""
        sweep, job = self._sweep(), self._session.job
        return None if sweep is None or job is None else reading_yardstick(beside(job, sweep, self._session.units))

    def _dial(self) -> Yardstick | None:
        sweep = self._sweep()
        return None if sweep is None else reading_yardstick(sweep)

    def _asked(self, sweep: Sweep, upcoming: LengthEntry | None) -> str:
        """Where the indicator goes next, or that the pass is through."""
        if upcoming is None:
            through = f"This pass is through: {len(sweep.readings)} readings. Do what is said below, then Ctrl+Enter"
            return f"{through}; or type a station to read it again." if sweep.readings else "Type the first station."
        text, line = format_plain(upcoming.mm, self._session.units), next_line(sweep)
        if line:
            return f"Indicator near the {line} edge at {text}"
        again = is_through(sweep)
        both = "Both indicators" if by_two(sweep) else "Indicator"
        return f"Back at {text}: does it still read the same?" if again else f"{both} at {text}"

    def _show_two(self, sweep: Sweep) -> None:
        """One entry row for one or two indicators."""
        two = by_two(sweep)
        self.titles[1].setText(f"{sweep.plane.capitalize()} reading" if two else "Reading")
        self.titles[2].setText("Edge reading" if sweep.plane == "face" else "Face reading")
        for part in (self.titles[2], self.second):
            part.setVisible(two)
        if not two:
            self._first = None


def by_two(sweep: Sweep) -> bool:
    """Whether two indicators are read in one traverse."""
    return sweep.both == "yes" and sweep.plane != "roll"

"""Align: log a sweep, be told which screw to move and to what dial figure."""

from __future__ import annotations

from functools import partial
from typing import Literal

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.units import format_fine, format_plain
from vernus.desktop.parts.findings import plain_label
from vernus.desktop.parts.form import BoundField
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.setup_stack import SetupStack
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.session import Session
from vernus.job.edits import (
    current_sweep,
    next_pass,
    next_station,
    with_reading,
    with_reading_changed,
    without_reading,
)
from vernus.job.entities import Sweep
from vernus.job.fields import LengthEntry
from vernus.job.results import SweepResult, passes, screws_of, sweep_before, sweep_result
from vernus.job.review import PLANES
from vernus.paper.drawing.dial import paint_dial
from vernus.paper.drawing.stations import paint_stations
from vernus.paper.drawing.sweep import paint_sweep

_SETUP = ("screw_left", "screw_right", "hold", "division", "sense", "lever_deg", "tolerance", "moved_by")
_PASSES_TOLD = 5


class AlignSheet(Sheet):
    """Stations and readings per plane; tilt, bow, verdict; the dial with its target."""

    name = "align"
    title = "Align"
    caution = "Isolate and lock off before hands go near the screws; run the axis by hand while sweeping."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.plane: Literal["face", "edge"] = "face"
        self._draft: Sweep | None = None
        self.planes = {p: QPushButton(p.capitalize()) for p in PLANES}
        row = QHBoxLayout()
        row.setSpacing(0)
        for plane, button in self.planes.items():
            button.setCheckable(True)
            button.clicked.connect(partial(self.show_plane, plane))
            row.addWidget(button)
        self.station = LengthField("Station", lambda: session.unit("length"), optional=False)
        self.reading = LengthField("Reading", lambda: session.unit("fine"), optional=False, logging=True)
        self.reading.accepted.connect(self._log)
        self.ask = plain_label("")
        self.table = Table("Readings of this pass")
        self.table.delete_pressed.connect(self._delete)
        self.next = QPushButton("Next pass (Ctrl+Enter)")
        press_by(self.next, "Ctrl+Return")
        self.next.clicked.connect(self._next_pass)
        face = self._log_face()
        self.fields = [BoundField(session, Sweep, name, self.sweep) for name in _SETUP]
        self.setup = SetupStack(face, self.fields)
        self.entry.addLayout(row)
        self.entry.addWidget(self.setup, 1)
        self.chart = Picture("Sweep chart", QSize(300, 170))
        self.dial = Picture("Dial with the target", QSize(190, 165))
        self.story = plain_label("")
        low = QHBoxLayout()
        low.addWidget(self.dial, 2)
        low.addWidget(self.story, 3)
        self.picture.addWidget(self.chart, 5)
        self.picture.addLayout(low, 4)
        self.not_on_bench = [*self.planes.values(), self.setup.summary, self.setup.turn, self.chart, self.dial]
        self.not_on_bench += [self.story, self.table, self.next]
        self.bench_fields, self.bench_words = [self.station, self.reading], [self.ask]

    def _log_face(self) -> QWidget:
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.ask)
        row = QHBoxLayout()
        for words, field in (("Station", self.station), ("Reading", self.reading)):
            column = QVBoxLayout()
            column.setSpacing(2)
            title = QLabel(words)
            title.setObjectName("faint")
            column.addWidget(title)
            column.addWidget(field)
            column.addStretch(1)
            row.addLayout(column, 1)
        box.addLayout(row)
        box.addWidget(self.table, 1)
        box.addWidget(self.next)
        face.setFocusProxy(self.reading)
        return face

    def sweep(self) -> Sweep | None:
        """The pass being logged; one that isn't in the job yet is kept here until its first edit."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        if not passes(job, axis, self.plane):
            draft = self._draft
            if draft is None or draft.axis_id != axis.id or draft.plane != self.plane:
                self._draft = current_sweep(job, axis, self.plane, self.session.units)
            return self._draft
        return current_sweep(job, axis, self.plane, self.session.units)

    def show_plane(self, plane: Literal["face", "edge"]) -> None:
        """Look at another plane."""
        self.plane = plane
        self.station.clear()
        self.session.changed.emit()
        self.focus_entry()

    def focus_entry(self) -> None:
        self.reading.setFocus()

    def _log(self, entry: LengthEntry) -> None:
        sweep, station = self.sweep(), self.station.read()
        if sweep is None or station is None:
            return
        planned = next_station(sweep)
        if planned is not None and self.station.line.text() == planned.shown(self.session.unit("length")):
            station = planned
        if self.session.apply("reading", [with_reading(sweep, station, entry)]):
            self.reading.clear()
            self.station.clear()
            self._show_entry(self.sweep() or sweep)
            self.table.scrollTo(self.table.rows.index(max(0, len(sweep.readings)), 0))

    def _delete(self, row: int) -> None:
        sweep = self.sweep()
        if sweep is not None and row < len(sweep.readings):
            self.session.apply("delete a reading", [without_reading(sweep, row)])

    def _edit(self, field: Literal["station", "reading"], row: int, text: str) -> None:
        sweep = self.sweep()
        if sweep is None or row >= len(sweep.readings):
            return
        unit = self.session.unit("length" if field == "station" else "fine")
        try:
            entry = LengthEntry.read(text, unit)
        except BadInputError as error:
            self.session.told.emit(f"{error} The old figure stays.")
            return
        self.session.apply(f"correct a {field}", [with_reading_changed(sweep, row, field, entry)])

    def _next_pass(self) -> None:
        sweep, job = self.sweep(), self.session.job
        if sweep is None or job is None:
            return
        try:
            self.session.apply("next pass", [next_pass(job, sweep)])
        except BadInputError as error:
            self.session.told.emit(str(error))
        self.focus_entry()

    def refresh(self) -> None:
        sweep, job, axis = self.sweep(), self.session.job, self.session.axis
        if sweep is None or job is None or axis is None:
            return
        done = passes(job, axis, self.plane)
        self.heading.setText(f"Align the scale of the {self.about_axis()}: {self.plane}, pass {max(1, len(done))}")
        for plane, button in self.planes.items():
            button.setChecked(plane == self.plane)
        for field in self.fields:
            field.refresh()
        self._show_entry(sweep)
        previous = sweep_before(job, sweep)
        result = sweep_result(sweep, previous)
        self.setup.summary.setText(self._summary(sweep))
        self.instruction.setText(result.instruction.text(self.session.units))
        self._show_figures(sweep, result)
        self._show_pictures(sweep, result, previous, done)

    def _show_entry(self, sweep: Sweep) -> None:
        along, fine = self.session.unit("length"), self.session.unit("fine")
        upcoming = next_station(sweep)
        if not self.station.draft:
            self.station.show_entry(upcoming)
            self.station.suffix.setText(along)
        self.reading.show_entry(None)
        if upcoming is not None:
            again = len(sweep.readings) >= len(sweep.stations)
            text = format_plain(upcoming.mm, self.session.units)
            self.ask.setText(f"Back at {text}: does it still read the same?" if again else f"Indicator at {text}")
        logged = [[str(n), r.station.shown(along), r.reading.shown(fine)] for n, r in enumerate(sweep.readings, 1)]
        ahead = [[str(n), s.shown(along), ""] for n, s in enumerate(sweep.stations, 1)][len(logged) :]
        columns = [
            Column("#", False),
            Column(f"station, {along}", True, partial(self._edit, "station")),
            Column(f"reading, {fine}", True, partial(self._edit, "reading")),
        ]
        self.table.rows.show_rows(columns, logged + ahead)
        self.table.narrow_first()

    def _summary(self, sweep: Sweep) -> str:
        say = partial(format_plain, system=self.session.units)
        screws = [say(s.mm) if s else "?" for s in (sweep.screw_left, sweep.screw_right)]
        lever = f", lever at {sweep.lever_deg:g}°" if sweep.lever_deg else ""
        return (
            f"Screws at {screws[0]} and {screws[1]}, {sweep.hold} one held. "
            f"Reading grows when the surface comes {sweep.sense}{lever}."
        )

    def _show_figures(self, sweep: Sweep, result: SweepResult) -> None:
        figures = result.alignment
        if figures is None:
            self.headline.show_answer(self.session, "no sweep yet", "two stations give a first figure")
            return
        system = self.session.units
        rise = format_fine(figures.end_to_end_mm, system, sign=True)
        bow = "" if figures.bow_mm is None else f"; bow {format_fine(figures.bow_mm, system)}"
        under = (
            f"end to end over {format_plain(figures.swept_mm, system)}, ± {format_fine(figures.expanded_mm, system)} "
            f"(95 %), tolerance {format_fine(figures.tolerance_mm, system)}{bow}"
        )
        self.headline.show_answer(self.session, rise, under, figures.verdict)

    def _show_pictures(self, sweep: Sweep, result: SweepResult, previous: Sweep | None, done: list[Sweep]) -> None:
        inks, units = self.session.inks, self.session.units
        if result.alignment is None:
            upcoming = next_station(sweep)
            self.chart.show_drawing(
                partial(
                    paint_stations,
                    stations_mm=[s.mm for s in sweep.stations],
                    screws_mm=screws_of(sweep),
                    hold=sweep.hold,
                    next_mm=upcoming.mm if upcoming else None,
                    inks=inks,
                    units=units,
                )
            )
            self.dial.show_drawing(None)
        else:
            before = sweep_result(previous).alignment if previous is not None else None
            self.chart.show_drawing(
                partial(
                    paint_sweep, sweep=result.alignment, inks=inks, units=units, before=before, fix=result.correction
                )
            )
        fix = result.correction
        if fix is not None:
            self.dial.show_drawing(
                partial(
                    paint_dial,
                    now_mm=fix.dial_now_mm,
                    target_mm=fix.dial_target_mm,
                    division_mm=sweep.division.mm,
                    inks=inks,
                    units=units,
                )
            )
        self.story.setText(self._story(result, done))

    def _story(self, result: SweepResult, done: list[Sweep]) -> str:
        """The correction in figures, and the last passes."""
        units, lines = self.session.units, []
        fix = result.correction
        if fix is not None:
            way = "toward" if fix.shift_mm > 0 else "away from"
            shift = f"{format_fine(abs(fix.shift_mm), units)} ± {format_fine(2 * fix.u_shift_mm, units)}"
            lines.append(f"At the moved screw that is {shift} {way} the indicator.\n")
        for n, sweep in list(enumerate(done, 1))[-_PASSES_TOLD:]:
            figures = sweep_result(sweep).alignment
            if figures is not None:
                lines.append(f"Pass {n}: {format_fine(figures.end_to_end_mm, units, sign=True)}")
        return "\n".join(lines)

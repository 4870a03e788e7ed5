"""Align: log a sweep, be told which screw to move and to what dial figure."""

from __future__ import annotations

from functools import partial
from typing import Literal, TypeVar

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from vernus.core.doubt import Yardstick
from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, in_units
from vernus.core.units import format_fine, format_plain
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.form import BoundField
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.setup_stack import SetupStack
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.sweep_view import SweepView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Label, Words, plain
from vernus.desktop.session import Session
from vernus.job.align.edits import (
    beside,
    clear_of_obstacle,
    current_sweep,
    next_line,
    next_pass,
    with_kit,
    with_reading_changed,
    with_readings,
    with_station_planned,
    without_reading,
    without_station,
)
from vernus.job.align.passes import (
    PLANES,
    SweepResult,
    figures_words,
    first_target,
    next_to_read,
    passes,
    result_in_job,
    screws_of,
    sweep_before,
)
from vernus.job.catalog.shipped import ToleranceHabit, tolerance_habits
from vernus.job.document import new_id
from vernus.job.doubts import along_yardstick, dial_yardstick
from vernus.job.entities import TARGETS, Entity, IndicatorKit, Plane, ShimKind, Sweep, Target
from vernus.job.fields import LengthEntry
from vernus.job.known import HOLLOW, Known
from vernus.job.known import screws as end_screws

_SETUP = (
    "screw_left", "screw_right", "hold", "rule_left", "rule_right", "both", "order", "blocked_from", "blocked_to", "by",
    "jack_pitch", "division", "range", "sense", "lever_deg", "tolerance", "moved_by", "lines_apart", "bolts_apart",
    "note",
)  # fmt: skip
_ROLL_ONLY = ("lines_apart", "bolts_apart")
_KIT = ("name", "division", "range", "sense", "lever_deg")
_ALL_PLANES: tuple[Plane, ...] = (*PLANES, "roll")
_ROOM_FOR_PASSES = 640
_LEAST_TABLE = 96

_E = TypeVar("_E", bound=Entity)


class AlignSheet(Sheet):
    """Stations and readings per plane; tilt, bow, verdict; the dial with its target."""

    name = "align"
    title = "Align"
    caution = "Isolate and lock off before hands go near the screws; run the axis by hand while sweeping."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.plane: Plane = "face"
        self.target: Target = "body"
        self._axis_shown = ""
        self._draft: Draft[Sweep] = Draft()
        self.planes = {p: QPushButton(p.capitalize()) for p in _ALL_PLANES}
        self.targets = QComboBox()
        self.targets.setAccessibleName("What is aligned")
        for target, words in TARGETS:
            self.targets.addItem(words, target)
        self.targets.activated.connect(lambda _i: self.show_target(self.targets.currentData()))
        row = QHBoxLayout()
        row.setSpacing(0)
        for plane, button in self.planes.items():
            button.setCheckable(True)
            button.clicked.connect(partial(self.show_plane, plane))
            row.addWidget(button)
        self.station = LengthField("Station", lambda: session.unit("length"), optional=False, compare=self._along)
        self.reading = LengthField(
            "Reading", lambda: session.unit("fine"), optional=False, logging=True, compare=self._dial
        )
        self.second = LengthField(
            "Other reading", lambda: session.unit("fine"), optional=False, logging=True, compare=self._dial
        )
        self.reading.accepted.connect(self._take_first)
        self.second.accepted.connect(self._take_second)
        self._first: LengthEntry | None = None
        self.ask = Words("")
        self.table = Table("Readings of this pass")
        self.table.setMinimumHeight(_LEAST_TABLE)
        self.table.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        self.table.delete_pressed.connect(self._delete)
        self.next = QPushButton("Next pass (Ctrl+Enter)")
        press_by(self.next, "Ctrl+Return")
        self.next.clicked.connect(self._next_pass)
        self.main = self.next
        self.live = QPushButton("Log the live reading (F9)")
        press_by(self.live, "F9")
        self.live.clicked.connect(self._log_live)
        session.instrument.changed.connect(self._show_live)
        session.instrument.sent.connect(self._log_sent)
        face = self._log_face()
        self.setup = SetupStack(face, self._make_setup())
        self.entry.addWidget(self.targets)
        self.entry.addLayout(row)
        self.entry.addWidget(self.setup, 1)
        self.view = SweepView(session)
        self.picture.addWidget(self.view, 1)
        self.not_on_bench = [*self.planes.values(), self.setup.summary, self.setup.turn, self.view]
        self.not_on_bench += [self.table, self.next, self.targets]
        self.bench_fields, self.bench_words = [self.station, self.reading, self.second], [self.ask]

    def _make_setup(self) -> list[QWidget]:
        session = self.session
        self.fields = [
            BoundField(session, Sweep, name, self.sweep, settle=clear_of_obstacle, known=partial(self._screw, name))
            for name in _SETUP
        ]
        self.habit = QComboBox()
        self.habit.setAccessibleName("Tolerance habit")
        for habit in tolerance_habits():
            self.habit.addItem(habit.label, habit)
            self.habit.setItemData(self.habit.count() - 1, plain(habit.why), Qt.ItemDataRole.ToolTipRole)
        self.habit.view().setMinimumWidth(self.habit.sizeHint().width())
        self.habit.activated.connect(self._take_habit)
        self.kit = QComboBox()
        self.kit.setAccessibleName("Indicator of the kit")
        self.kit.activated.connect(self._take_kit)
        self.kit_list = EntityList(
            session, "Indicators of the kit", IndicatorKit, _KIT, lambda: self._all(IndicatorKit),
            [Column("indicator", False)], lambda k: [k.name], self._new_kit,
        )  # fmt: skip
        self.shim_list = EntityList(
            session, "Shims in the drawer", ShimKind, ("thickness", "count"), lambda: self._all(ShimKind),
            [Column("thickness"), Column("how many")], self._shim_row, lambda: ShimKind(id=new_id()),
        )  # fmt: skip
        return [
            *self.fields,
            Words("Take an indicator of the kit", "faint"),
            self.kit,
            Words("Take a tolerance by habit", "faint"),
            self.habit,
            Words("The kit", "faint"),
            self.kit_list,
            Words("Shims in the drawer", "faint"),
            self.shim_list,
        ]

    def _log_face(self) -> QWidget:
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
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
            column.addStretch(1)
            if field is self.second:
                row = QHBoxLayout()
                row.addStretch(1)
            row.addLayout(column, 1)
            if field is not self.station:
                box.addLayout(row)
        for field in (self.station, self.reading, self.second):
            field.ask_in(box)
        box.addWidget(self.live)
        box.addWidget(self.table, 1)
        box.addWidget(self.next)
        face.setFocusProxy(self.reading)
        return face

    def _all(self, kind: type[_E]) -> list[_E]:
        return self.session.job.all(kind) if self.session.job else []

    def _new_kit(self) -> IndicatorKit:
        return IndicatorKit(id=new_id(), name="new indicator")

    def _shim_row(self, shim: ShimKind) -> list[str]:
        return [shim.thickness.shown(self.session.unit("fine")), f"{shim.count:g}"]

    def _take_habit(self, index: int) -> None:
        sweep, habit = self.sweep(), self.habit.itemData(index)
        if sweep is not None and isinstance(habit, ToleranceHabit):
            self.session.apply(f"tolerance: {habit.label}", [sweep.with_(tolerance=LengthEntry(mm=habit.mm))])

    def _take_kit(self, index: int) -> None:
        sweep, kit = self.sweep(), self.kit.itemData(index)
        found = next((k for k in self._all(IndicatorKit) if k.id == kit), None)
        if sweep is not None and found is not None:
            self.session.apply(f"hold {found.name}", [with_kit(sweep, found)])

    def sweep(self) -> Sweep | None:
        """The pass being logged; one that isn't in the job yet is kept here until its first edit."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        if not passes(job, axis.id, self.plane, self.target):
            here = axis.id, self.plane, self.target
            return self._draft.of(here, lambda: current_sweep(job, axis, self.plane, self.session.units, self.target))
        return current_sweep(job, axis, self.plane, self.session.units, self.target)

    def show_plane(self, plane: Plane) -> None:
        """Look at another plane."""
        self.plane = plane
        self.station.clear()
        self.session.changed.emit()
        self.focus_entry()

    def show_target(self, target: Target) -> None:
        """Align something else of this axis."""
        self.target = target
        self.show_plane("face")

    def focus_entry(self) -> None:
        self.reading.setFocus()

    def _log(self, *entries: LengthEntry, sent: bool = False) -> None:
        """Log one reading, or those that an instrument sent in one go, as one edit.

        What an instrument sends once the pass is through is not taken.
        """
        sweep = self.sweep()
        if sent and sweep is not None and sweep.readings and next_to_read(sweep) is None and not self.station.draft:
            self.session.told.emit("This pass is through; nothing is added to it. Start the next one with Ctrl+Enter.")
            return
        station = self.station.read()
        if sweep is None or station is None:
            return
        planned = next_to_read(sweep)
        if planned is not None and self.station.line.text() == planned.shown(self.session.unit("length")):
            station = planned
        if self.session.apply("reading", [with_readings(sweep, station, entries, live=sent)]):
            self.reading.clear()
            self.station.clear()
            self._show_entry(self.sweep() or sweep)
            self.table.scrollTo(self.table.rows.index(max(0, len(sweep.readings)), 0))

    def _take_first(self, entry: LengthEntry) -> None:
        """A reading: logged at once, or held until the second indicator's is typed."""
        sweep = self.sweep()
        if sweep is None or not _two(sweep):
            self._log(entry)
            return
        self._first = entry
        self.second.setFocus()

    def _take_second(self, entry: LengthEntry) -> None:
        """Both readings of one traverse, as one edit."""
        sweep, job, station, first = self.sweep(), self.session.job, self.station.read(), self._first
        if sweep is None or job is None or station is None:
            return
        if first is None:
            self.reading.setFocus()
            self.session.told.emit(f"First the {sweep.plane} reading, then the other one.")
            return
        other = beside(job, sweep, self.session.units)
        both = [with_readings(sweep, station, (first,)), with_readings(other, station, (entry,))]
        if self.session.apply("readings", both):
            self._first = None
            for field in (self.reading, self.second, self.station):
                field.clear()
            self._show_entry(self.sweep() or sweep)
            self.reading.setFocus()

    def _log_live(self) -> None:
        """Log the instrument's reading as if it had been typed."""
        live = self.session.instrument.live_mm
        if live is None:
            self.session.told.emit("No live reading; link an instrument with F8.")
            return
        self._log_sent([live])

    def _log_sent(self, values_mm: list[float]) -> None:
        sweep = self.sweep()
        if self.isVisible() and sweep is not None and _two(sweep):
            for mm in values_mm:
                entry = LengthEntry.read(f"{mm:.4f} mm")
                self._take_first(entry) if self._first is None else self._take_second(entry)
        elif self.isVisible():
            self._log(*(LengthEntry.read(f"{mm:.4f} mm") for mm in values_mm), sent=True)

    def _show_live(self) -> None:
        self.live.setVisible(self.session.instrument.linked)

    def _crank_bench(self) -> None:
        """The simulated machine is at the station asked for, as a user would have cranked it there."""
        bench, station = self.session.bench, self.station.line.text()
        if bench is None or not station:
            return
        try:
            at = LengthEntry.read(station, self.session.unit("length")).mm
            bench.body.crank(min(bench.body.length_mm, max(0.0, at)))
        except BadInputError:
            return

    def _delete(self, row: int) -> None:
        sweep = self.sweep()
        if sweep is not None and row < len(sweep.readings):
            self.session.apply("delete a reading", [without_reading(sweep, row)])
        elif sweep is not None and row < len(sweep.stations):
            self.session.apply("leave a station out", [without_station(sweep, row)])

    def _edit(self, field: Literal["station", "reading"], row: int, text: str) -> None:
        sweep = self.sweep()
        if sweep is None:
            return
        unit = self.session.unit("length" if field == "station" else "fine")
        compare = self._along() if field == "station" else dial_yardstick(sweep)
        self.correct(text, unit, compare, partial(self._correct, sweep, field, row))

    def _along(self) -> Yardstick | None:
        job, axis = self.session.job, self.session.axis
        return along_yardstick(job, axis) if job is not None and axis is not None else None

    def _dial(self) -> Yardstick | None:
        sweep = self.sweep()
        return None if sweep is None else dial_yardstick(sweep)

    def _correct(self, sweep: Sweep, field: Literal["station", "reading"], row: int, entry: LengthEntry) -> None:
        if row < len(sweep.readings):
            self.session.apply(f"correct a {field}", [with_reading_changed(sweep, row, field, entry)])
        elif field == "station":
            self.session.apply("move a station", [with_station_planned(sweep, row, entry)])
        else:
            self.session.told.emit("Log the readings in order; this station comes later.")

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
        axis, job = self.session.axis, self.session.job
        if axis is not None and job is not None and axis.id != self._axis_shown:
            self._axis_shown, self.target = axis.id, first_target(job, axis)
        sweep = self.sweep()
        if sweep is None or job is None or axis is None:
            return
        done = passes(job, axis.id, self.plane, self.target)
        words = dict(TARGETS)[self.target]
        self.heading.setText(f"Align the {words} of the {self.about_axis()}: {self.plane}, pass {max(1, len(done))}")
        for plane, button in self.planes.items():
            button.setChecked(plane == self.plane)
        self.targets.setCurrentIndex(self.targets.findData(self.target))
        for field in self.fields:
            field.setVisible(field.name not in _ROLL_ONLY or self.plane == "roll")
            field.refresh()
        self._show_kit()
        self._show_entry(sweep)
        previous = sweep_before(job, sweep)
        result = result_in_job(job, sweep)
        self.setup.summary.setText(self._summary(sweep))
        self.advise(result.instruction)
        self._show_figures(sweep, result)
        self.view.show_sweep(sweep, result, previous)
        self.view.show_passes(done, result, self.height() > _ROOM_FOR_PASSES)

    def _show_kit(self) -> None:
        for entities in (self.kit_list, self.shim_list):
            entities.refresh()
        names = [(k.name, k.id) for k in self._all(IndicatorKit)]
        if [(self.kit.itemText(n), self.kit.itemData(n)) for n in range(1, self.kit.count())] != names:
            self.kit.clear()
            self.kit.addItem("as noted below", "")
            for name, kit_id in names:
                self.kit.addItem(name, kit_id)

    def _show_entry(self, sweep: Sweep) -> None:
        along, fine = self.session.unit("length"), self.session.unit("fine")
        upcoming = next_to_read(sweep)
        if not self.station.draft:
            self.station.show_entry(upcoming)
            self.station.suffix.setText(along)
        self.reading.show_entry(None)
        self.second.show_entry(None)
        self._show_two(sweep)
        self._show_live()
        self._crank_bench()
        self.ask.setText(self._asked(sweep, upcoming))
        logged = [
            [f"{n}{r.line[:1]}", r.station.shown(along), r.reading.shown(fine)] for n, r in enumerate(sweep.readings, 1)
        ]
        ahead = [[str(n), s.shown(along), ""] for n, s in enumerate(sweep.stations, 1)][len(logged) :]
        ahead = [] if sweep.plane == "roll" else ahead
        columns = [
            Column("#", False),
            Column(f"station, {along}", True, partial(self._edit, "station")),
            Column(f"reading, {fine}", True, partial(self._edit, "reading")),
        ]
        self.table.rows.show_rows(columns, logged + ahead)
        self.table.narrow_first()

    def _asked(self, sweep: Sweep, upcoming: LengthEntry | None) -> str:
        """Where the indicator goes next, or that the pass is through."""
        if upcoming is None:
            through = f"This pass is through: {len(sweep.readings)} readings. Do what is said below, then Ctrl+Enter"
            return f"{through}; or type a station to read it again." if sweep.readings else "Type the first station."
        text, line = format_plain(upcoming.mm, self.session.units), next_line(sweep)
        if line:
            return f"Indicator near the {line} edge at {text}"
        again = len(sweep.readings) >= len(sweep.stations)
        both = "Both indicators" if _two(sweep) else "Indicator"
        return f"Back at {text}: does it still read the same?" if again else f"{both} at {text}"

    def _show_two(self, sweep: Sweep) -> None:
        """One entry row for one or two indicators."""
        two = _two(sweep)
        self.titles[1].setText(f"{sweep.plane.capitalize()} reading" if two else "Reading")
        self.titles[2].setText("Edge reading" if sweep.plane == "face" else "Face reading")
        for part in (self.titles[2], self.second):
            part.setVisible(two)
        if not two:
            self._first = None

    def _screws(self, sweep: Sweep) -> Known[tuple[float, float]] | None:
        """The end screws of what is swept: measured on the pass, or as the scale is known."""
        job, axis = self.session.job, self.session.axis
        ends = end_screws(job, axis, sweep.target) if job is not None and axis is not None else None
        return screws_of(sweep, ends)

    def _screw(self, name: str) -> Known[float] | None:
        """One end screw, for its field."""
        sweep = self.sweep() if name in ("screw_left", "screw_right") else None
        known = self._screws(sweep) if sweep is not None else None
        return None if known is None else Known(known.value[name == "screw_right"], known.source, known.name)

    def _summary(self, sweep: Sweep) -> str:
        say = partial(format_plain, system=self.session.units)
        known = self._screws(sweep)
        screws = ["?", "?"] if known is None else [say(mm) for mm in known.value]
        hollow = "" if known is None or known.sure else f"{HOLLOW} "
        lever = f", lever at {sweep.lever_deg:g}°" if sweep.lever_deg else ""
        return (
            f"{hollow}Screws at {screws[0]} and {screws[1]}, {self.session.directions.side(sweep.hold)} one held. "
            f"Reading grows when the surface comes {sweep.sense}{lever}."
        )

    def _show_figures(self, sweep: Sweep, result: SweepResult) -> None:
        figures, roll = result.alignment, result.roll
        if roll is not None:
            fine = partial(format_fine, system=self.session.units)
            words = "top less bottom, ± {u} (95 %), tolerance {tol}"
            under = in_units(self.session.units, words, u=Fine(roll.expanded_mm), tol=Fine(sweep.tolerance.mm))
            self.headline.show_answer(self.session, fine(roll.difference_mm, sign=True), under, roll.verdict)
            return
        if figures is None:
            ask = "both lines at one station give a first figure" if sweep.plane == "roll" else "two stations do"
            self.headline.show_answer(self.session, "no sweep yet", ask)
            return
        system = self.session.units
        rise = format_fine(figures.rise_mm, system, sign=True)
        under = figures_words(figures).text(system)
        self.headline.show_answer(self.session, rise, under, figures.verdict, figures.budget)


def _two(sweep: Sweep) -> bool:
    """Whether two indicators are read in one traverse."""
    return sweep.both == "yes" and sweep.plane != "roll"

"""Align: log a sweep, be told which screw to move and to what dial figure."""

from __future__ import annotations

from functools import partial
from typing import Literal, TypeVar

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.core.doubt import Yardstick
from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, in_units
from vernus.core.units import format_fine, format_plain
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.live_view import LiveView
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.sweep_view import SweepView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Label, Words
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
from vernus.job.align.held import ends_of
from vernus.job.align.passes import (
    PLANES,
    SweepResult,
    figures_words,
    first_target,
    is_through,
    next_to_read,
    passes,
    result_in_job,
    screws_of,
    sweep_before,
)
from vernus.job.catalog.shipped import ToleranceHabit, tolerance_habits
from vernus.job.document import new_id
from vernus.job.doubts import along_yardstick, dial_yardstick, reading_yardstick
from vernus.job.entities import TARGETS, Entity, IndicatorKit, Plane, ShimKind, Sweep, Target
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import UNMEASURED_MARK, Sourced

_BODY = ("screw_left", "screw_right", "hold", "rule_left", "rule_right", "blocked_from", "blocked_to")
_DIAL = ("division", "range", "sense", "lever_deg")
_WAY = ("both", "order", "tolerance", "note")
_CORRECTION = ("by", "jack_pitch", "moved_by", "lines_apart", "bolts_apart")
_SETUP = (*_BODY, *_DIAL, *_WAY, *_CORRECTION)
_ROLL_ONLY = ("lines_apart", "bolts_apart")
_KIT = {"": ("name", "division", "range", "sense", "lever_deg")}
_ALL_PLANES: tuple[Plane, ...] = (*PLANES, "roll")
_ROOM_FOR_PASSES = 640
_MOST_READ = 5
_THROUGH = "This pass is through; nothing is added to it. Start the next one with Ctrl+Enter."

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
        self.target_row = ChoiceRow("target", "Aligned is the", TARGETS, self._take_target)
        self.targets = self.target_row.box
        row = QHBoxLayout()
        row.setSpacing(0)
        for plane, button in self.planes.items():
            button.setCheckable(True)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(partial(self.show_plane, plane))
            row.addWidget(button)
        self.station = LengthField("Station", lambda: session.unit("length"), optional=False, compare=self._along)
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
        self.table = Table("Readings of this pass")
        self.table.delete_pressed.connect(self._delete)
        self.next = QPushButton("Next pass (Ctrl+Enter)")
        press_by(self.next, "Ctrl+Return")
        self.next.clicked.connect(self._next_pass)
        self.main = self.next
        self.instrument = LiveView(session)
        self.instrument.taken.connect(self._log_sent)
        self.instrument.take_by_space([self.reading.line, self.second.line])
        self.live = self.instrument.key
        self._live_text = ""
        self._make_list()
        sweep = QWidget()
        column = QVBoxLayout(sweep)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(row)
        self._log_face(column)
        column.addWidget(self.list, 1)
        column.addWidget(self.next)
        sweep.setFocusProxy(self.reading)
        self.sides = Tabs((("Sweep", sweep), ("Kit", self.kit_list), ("Shims", self.shim_list)))
        self.sides.turned.connect(self.refresh)
        self.entry.addWidget(self.sides, 1)
        self.view = SweepView(session)
        self.picture.addWidget(self.view, 1)
        self.hidden_on_bench = [*self.planes.values(), *self.sides.buttons.values()]
        self.bench_fields = [self.station, self.reading, self.second]

    def show_bench(self, bench: bool) -> None:
        super().show_bench(bench)
        for view in self.findChildren(SweepView):
            view.show_bench(bench)
        for live in self.findChildren(LiveView):
            live.show_bench(bench)

    def _make_list(self) -> None:
        """How the pass is read, in groups that fold to a line each; the kit and the shims are lists of their own."""
        session = self.session
        named = {
            name: FigureRow(
                session, Sweep, name, self.sweep, settle=clear_of_obstacle, known=partial(self._screw, name)
            )
            for name in _SETUP
        }
        self.fields = list(named.values())
        habit = ChoiceRow("habit", "Tolerance by habit", [(None, "own tolerance")], self._take_habit)
        habit.offer([(None, "own tolerance"), *((h, h.label) for h in tolerance_habits())])
        self.habit = habit.box
        self.kit_row = ChoiceRow("kit", "Indicator of the kit", [(None, "none")], self._take_kit)
        self.kit = self.kit_row.box
        self.read = PartRow("read", self.table)
        self.list = self.figures(
            Group("Readings", [self.read], says=self._read_said),
            Group("Pass", [self.target_row, *(named[n] for n in _WAY[:2]), habit, *(named[n] for n in _WAY[2:])],
                  aside=True, says=self._pass_said),
            Group("How it is corrected", [named[n] for n in _CORRECTION], aside=True),
            Group("Ends and screws", [named[n] for n in _BODY], aside=True, says=self._ends_said),
            Group("Indicator", [self.kit_row, *(named[n] for n in _DIAL)], aside=True, says=self._dial_said),
        )  # fmt: skip
        self.kit_list = EntityList(
            session, "Indicators of the kit", IndicatorKit, _KIT, lambda: self._all(IndicatorKit),
            [Column("indicator", False)], lambda k: [k.name], self._new_kit,
        )  # fmt: skip
        self.shim_list = EntityList(
            session, "Shims in the drawer", ShimKind, {"": ("thickness", "count")}, lambda: self._all(ShimKind),
            [Column("thickness"), Column("how many")], self._shim_row, lambda: ShimKind(id=new_id()),
        )  # fmt: skip

    def _log_face(self, box: QVBoxLayout) -> None:
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

    def _all(self, kind: type[_E]) -> list[_E]:
        return self.session.job.all(kind) if self.session.job else []

    def _new_kit(self) -> IndicatorKit:
        return IndicatorKit(id=new_id(), name="new indicator")

    def _shim_row(self, shim: ShimKind) -> list[str]:
        return [shim.thickness.shown(self.session.unit("fine")), f"{shim.count:g}"]

    def _take_target(self, target: object) -> None:
        self.show_target(next(t for t, _ in TARGETS if t == target))

    def _take_habit(self, habit: object) -> None:
        sweep = self.sweep()
        if sweep is not None and isinstance(habit, ToleranceHabit):
            self.session.apply(f"tolerance: {habit.label}", [sweep.with_(tolerance=LengthEntry(mm=habit.mm))])

    def _take_kit(self, kit: object) -> None:
        sweep = self.sweep()
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
        self.list.unfold("Readings")
        self.sides.focus_face()

    def _log(self, *entries: LengthEntry, sent: bool = False) -> None:
        """Log one reading, or those that an instrument sent in one go, as one edit.

        What an instrument sends once the pass is through is not taken.
        """
        sweep = self.sweep()
        if sent and sweep is not None and sweep.readings and next_to_read(sweep) is None and not self.station.draft:
            self.session.notice.emit(_THROUGH)
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
            self.list.unfold("Readings")
            self.table.scrollTo(self.table.rows.index(max(0, len(sweep.readings)), 0))

    def _take_first(self, entry: LengthEntry) -> None:
        """A reading: logged at once, or held until the second indicator's is typed."""
        sweep, live = self.sweep(), bool(self._live_text) and entry.text == self._live_text
        if sweep is None or not _two(sweep):
            self._log(entry, sent=live)
            return
        self._first, self._first_live = entry, live
        self.second.setFocus()

    def _take_second(self, entry: LengthEntry) -> None:
        """Both readings of one traverse, as one edit."""
        sweep, job, station, first = self.sweep(), self.session.job, self.station.read(), self._first
        if sweep is None or job is None or station is None:
            return
        if first is None:
            self.reading.setFocus()
            self.session.notice.emit(f"First the {sweep.plane} reading, then the other one.")
            return
        other = beside(job, sweep, self.session.units)
        live = bool(self._live_text) and entry.text == self._live_text
        both = [
            with_readings(sweep, station, (first,), live=self._first_live),
            with_readings(other, station, (entry,), live=live),
        ]
        if self.session.apply("readings", both):
            self._first = None
            for field in (self.reading, self.second, self.station):
                field.clear()
            self._show_entry(self.sweep() or sweep)
            self.reading.setFocus()

    def _log_sent(self, mm: float) -> None:
        """Take a value of the instrument as if it had been typed: asked about where it is doubtful."""
        sweep = self.sweep()
        if not self.isVisible() or sweep is None:
            return
        two = _two(sweep)
        field = self.second if two and self._first is not None else self.reading
        if self.reading.unanswered or self.second.unanswered:
            self.session.notice.emit("Answer what is asked first; this reading was not taken.")
            return
        if two and self._first is None and sweep.readings and next_to_read(sweep) is None and not self.station.draft:
            self.session.notice.emit(_THROUGH)
            return
        if field.draft and field.line.text().strip():
            self.session.notice.emit("A figure is typed there: Enter takes it first. This reading was not taken.")
            return
        self._live_text = f"{mm:.4f} mm"
        field.put(self._live_text)

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

    def _other_dial(self) -> Yardstick | None:
        """What the second indicator's reading is compared with: its own pass."""
        sweep, job = self.sweep(), self.session.job
        return None if sweep is None or job is None else reading_yardstick(beside(job, sweep, self.session.units))

    def _dial(self) -> Yardstick | None:
        sweep = self.sweep()
        return None if sweep is None else reading_yardstick(sweep)

    def _correct(self, sweep: Sweep, field: Literal["station", "reading"], row: int, entry: LengthEntry) -> None:
        if row < len(sweep.readings):
            self.session.apply(f"correct a {field}", [with_reading_changed(sweep, row, field, entry)])
        elif field == "station":
            self.session.apply("move a station", [with_station_planned(sweep, row, entry)])
        else:
            self.session.notice.emit("Log the readings in order; this station comes later.")

    def _next_pass(self) -> None:
        sweep, job = self.sweep(), self.session.job
        if sweep is None or job is None:
            return
        try:
            self.session.apply("next pass", [next_pass(job, sweep)])
        except BadInputError as error:
            self.session.notice.emit(str(error))
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
        self.heading.setText(f"Align the {words} of {self.about_axis()}: {self.plane}, pass {max(1, len(done))}")
        for plane, button in self.planes.items():
            button.setChecked(plane == self.plane)
        self.targets.setCurrentIndex(self.targets.findData(self.target))
        for field in self.fields:
            field.leave_out(field.name in _ROLL_ONLY and self.plane != "roll")
        self._show_kit(sweep)
        self.list.refresh()
        self._show_entry(sweep)
        previous = sweep_before(job, sweep)
        result = result_in_job(job, sweep)
        self.advise(result.instruction)
        self._show_figures(sweep, result)
        self.view.show_sweep(sweep, result, previous)
        self.view.show_passes(done, result, self.height() > _ROOM_FOR_PASSES)

    def _show_kit(self, sweep: Sweep) -> None:
        for entities in (self.kit_list, self.shim_list):
            entities.refresh()
        self.kit_row.offer([("", "as noted here"), *((k.id, k.name) for k in self._all(IndicatorKit))])
        mine = (sweep.division, sweep.sense, sweep.lever_deg)
        held = [k.id for k in self._all(IndicatorKit) if (k.division, k.sense, k.lever_deg) == mine]
        self.kit_row.show_value(held[0] if held else "")
        habits = [n for n in range(self.habit.count()) if (h := self.habit.itemData(n)) and h.mm == sweep.tolerance.mm]
        self.habit.setCurrentIndex(habits[0] if habits else 0)

    def _show_entry(self, sweep: Sweep) -> None:
        along, fine = self.session.unit("length"), self.session.unit("fine")
        upcoming = next_to_read(sweep)
        if not self.station.draft:
            self.station.show_entry(upcoming)
            self.station.suffix.setText(along)
        self.reading.show_entry(None)
        self.second.show_entry(None)
        self._show_two(sweep)
        self.instrument.show_now()
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
        self.read.show_count(len(logged + ahead), _MOST_READ)
        self.list.tell()

    def _asked(self, sweep: Sweep, upcoming: LengthEntry | None) -> str:
        """Where the indicator goes next, or that the pass is through."""
        if upcoming is None:
            through = f"This pass is through: {len(sweep.readings)} readings. Do what is said below, then Ctrl+Enter"
            return f"{through}; or type a station to read it again." if sweep.readings else "Type the first station."
        text, line = format_plain(upcoming.mm, self.session.units), next_line(sweep)
        if line:
            return f"Indicator near the {line} edge at {text}"
        again = is_through(sweep)
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

    def _screws(self, sweep: Sweep) -> Sourced[tuple[float, float]] | None:
        """The end screws of what is swept: measured on the pass, or as the scale is known."""
        job, axis = self.session.job, self.session.axis
        ends = ends_of(job, axis, sweep.target, sweep.plane) if job is not None and axis is not None else None
        return screws_of(sweep, ends)

    def _screw(self, name: str) -> Sourced[float] | None:
        """One end screw, for its field."""
        sweep = self.sweep() if name in ("screw_left", "screw_right") else None
        known = self._screws(sweep) if sweep is not None else None
        return None if known is None else Sourced(known.value[name == "screw_right"], known.source, known.name)

    def _read_said(self) -> list[str]:
        """How far the pass is."""
        sweep = self.sweep()
        return [] if sweep is None else [f"{len(sweep.readings)} read"]

    def _ends_said(self) -> list[str]:
        """The end screws and the one that is held."""
        sweep = self.sweep()
        if sweep is None:
            return []
        known = self._screws(sweep)
        say = partial(format_plain, system=self.session.units)
        screws = ["?", "?"] if known is None else [say(mm) for mm in known.value]
        hollow = "" if known is None or known.is_given else f"{UNMEASURED_MARK} "
        return [f"{hollow}{screws[0]} and {screws[1]}", f"{self.session.directions.side(sweep.hold)} held"]

    def _dial_said(self) -> list[str]:
        """The dial's division, and which way it grows."""
        sweep = self.sweep()
        if sweep is None:
            return []
        lever = [f"lever {sweep.lever_deg:g}°"] if sweep.lever_deg else []
        return [format_fine(sweep.division.mm, self.session.units), sweep.sense, *lever]

    def _pass_said(self) -> list[str]:
        """The tolerance, and what is read at once."""
        sweep = self.sweep()
        if sweep is None:
            return []
        wanted = in_units(self.session.units, "{tol} wanted", tol=Fine(sweep.tolerance.mm))
        return [wanted, *(["two at once"] if _two(sweep) else [])]

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

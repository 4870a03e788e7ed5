"""Align: log a sweep, be told which screw to move and to what dial figure."""

from __future__ import annotations

from functools import partial
from typing import Literal, TypeVar

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, in_units
from vernus.core.units import format_fine, format_plain
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.live_view import LiveView
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.sweep_view import SweepView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.session import Session
from vernus.desktop.sheets.align.reading_entry import ReadingEntry, by_two
from vernus.job.align.edits import (
    clear_of_obstacle,
    current_sweep,
    next_pass,
    with_kit,
    with_reading_changed,
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
    passes,
    result_in_job,
    screws_of,
    sweep_before,
)
from vernus.job.catalog.shipped import ToleranceHabit, tolerance_habits
from vernus.job.document import new_id
from vernus.job.doubts import dial_yardstick
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
        self.logging = ReadingEntry(session, self.sweep)
        self.logging.logged.connect(self._show_logged)
        self.station, self.reading, self.second = self.logging.station, self.logging.reading, self.logging.second
        self.instrument = self.logging.instrument
        self.table = Table("Readings of this pass")
        self.table.delete_pressed.connect(self._delete)
        self.next = QPushButton("Next pass (Ctrl+Enter)")
        press_by(self.next, "Ctrl+Return")
        self.next.clicked.connect(self._next_pass)
        self.main = self.next
        self.live, self.ask = self.instrument.key, self.logging.ask
        self._make_list()
        sweep = QWidget()
        column = QVBoxLayout(sweep)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(row)
        column.addWidget(self.logging)
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
        asked = self.plane, self.session.units, self.target
        return job.derived_of_axis(("swept", *asked), axis.id, lambda: current_sweep(job, axis, *asked))

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
        compare = self.logging.along() if field == "station" else dial_yardstick(sweep)
        self.correct(text, unit, compare, partial(self._correct, sweep, field, row))

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

    def _show_logged(self, row: int) -> None:
        """After a reading: where the indicator goes next, and the row it went to."""
        sweep = self.sweep()
        if sweep is not None:
            self.logging.show_next(sweep)
        self.list.unfold("Readings")
        self.table.scrollTo(self.table.rows.index(max(0, row), 0))

    def _show_entry(self, sweep: Sweep) -> None:
        along, fine = self.session.unit("length"), self.session.unit("fine")
        self.logging.show_next(sweep)
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
        return [wanted, *(["two at once"] if by_two(sweep) else [])]

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

"""Positioning: several cycles in both directions, the standard's figures, and what is wrong by the pattern."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QFileDialog, QPushButton, QVBoxLayout, QWidget

from vernus.core.doubt import Yardstick
from vernus.core.errors import BadInputError, VernusError
from vernus.core.finding import Fine, Mm, in_units
from vernus.core.prove.positioning import Positioning
from vernus.core.units import UnitSystem, format_fine
from vernus.core.verdict_words import ANSWERS
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.doubts import target_yardstick
from vernus.job.entities import FeelRecord, PositioningRun, ReferenceKit
from vernus.job.fields import LengthEntry, quantities
from vernus.job.prove.feel import feel_of, feel_result
from vernus.job.prove.positioning import PositioningResult, accuracy_of, positioning_result
from vernus.job.prove.runs import (
    next_approach,
    read_run,
    run_of,
    with_shown,
    with_shown_changed,
    with_targets,
    without_last,
)
from vernus.paper.drawing.act import paint_round
from vernus.paper.drawing.prove.positioning import paint_positioning

_SETUP = ("plan", "stations", "cycles", "ways", "reference_id", "scale_c", "reference_c", "u_c", "scale_substance")

_ROOM_FOR_BUDGET = 660
_FEEL_PX, _MOST_READ = 82, 8
_FELT = {
    "steps": "The indicator says it moved", "push": "The figure moved by", "zero": "Back at zero the display shows",
}  # fmt: skip


class PositioningSheet(Sheet):
    """The display is read at each target in turn; Enter after each."""

    name = "positioning"
    title = "Positioning"
    caution = "Hands off the handwheels of any axis under power; run the cycles by hand or with the guards on."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.shown = LengthField(
            "Shown", lambda: session.unit("length"), optional=False, logging=True, compare=self._target
        )
        self.shown.accepted.connect(self._log)
        self.ask = Words("")
        self.table = Table("Readings")
        self.table.delete_pressed.connect(lambda _row: self._delete_last())
        self.csv = QPushButton("Read a CSV file…")
        self.csv.clicked.connect(self.ask_and_read)
        self.again = QPushButton("Next run (Ctrl+Enter)")
        press_by(self.again, "Ctrl+Return")
        self.again.clicked.connect(self._again)
        self.main = self.again
        self.fields = [FigureRow(session, PositioningRun, n, self.run, settle=self._settle) for n in _SETUP]
        self.read = PartRow("readings", self.table)
        self.list = self.figures(
            Group("Readings", [self.read]),
            Group("Run", self.fields[:5], aside=True),
            Group("Temperature", self.fields[5:], aside=True),
        )
        self.sides = Tabs((("Cycles", self._log_face()), ("By hand", self._feel_face())))
        self.sides.turned.connect(self.refresh)
        self.entry.addWidget(self.sides, 1)
        self.chart = Picture("Deviations in both directions", QSize(320, 220))
        self.figures_said = Words("")
        self.cause = Words("")
        self.picture.addWidget(self.figures_said)
        self.picture.addWidget(self.chart, 1)
        self.picture.addWidget(self.cause)
        self.bench_fields = [self.shown]
        self.hidden_on_bench = [
            *self.sides.buttons.values(), self.figures_said, self.cause, self.csv, self.again,
        ]  # fmt: skip
        self._draft: Draft[PositioningRun] = Draft()

    def _log_face(self) -> QWidget:
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.ask)
        title = Label("The display shows")
        title.setObjectName("faint")
        box.addWidget(title)
        box.addWidget(self.shown)
        box.addWidget(self.list, 1)
        box.addWidget(self.csv)
        box.addWidget(self.again)
        face.setFocusProxy(self.shown)
        return face

    def _feel_face(self) -> QWidget:
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        choices = quantities(FeelRecord)["test"].choices
        test = ChoiceRow("test", "Test by hand", choices, lambda _value: self.refresh())
        self.test = test.box
        self.asked = FigureRow(self.session, FeelRecord, "asked", self._feel)
        self.feel_list = self.figures(Group("", [test, self.asked]))
        self.feel_list.setFixedHeight(_FEEL_PX)
        self.felt_title, self.felt_words = Words("", "faint"), Words()
        self.felt = LengthField("Found", lambda: self.session.unit("fine"), optional=False, logging=True)
        self.felt.accepted.connect(self._log_felt)
        self.felt_table = Table("Found by hand")
        self.felt_table.delete_pressed.connect(self._delete_felt)
        for widget in (self.feel_list, self.felt_title, self.felt, self.felt_words):
            box.addWidget(widget)
        box.addWidget(self.felt_table, 1)
        face.setFocusProxy(self.felt)
        return face

    def run(self) -> PositioningRun | None:
        """The run being logged; one that isn't in the job yet is kept here until its first edit."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        if job.of_axis(PositioningRun, axis.id):
            return run_of(job, axis, self.session.units)
        return self._draft.of(axis.id, lambda: run_of(job, axis, self.session.units))

    def _target(self) -> Yardstick | None:
        """What the display is to show about now."""
        run = self.run()
        due = None if run is None else next_approach(run)
        return None if due is None else target_yardstick(due[1].mm)

    def _settle(self, run: PositioningRun) -> PositioningRun:
        axis, job = self.session.axis, self.session.job
        return run if axis is None or job is None else with_targets(job, axis, run, self.session.units)

    def _feel(self) -> FeelRecord | None:
        axis, job = self.session.axis, self.session.job
        return feel_of(job, axis, self.test.currentData()) if axis is not None and job is not None else None

    def focus_entry(self) -> None:
        self.list.unfold("Readings")
        self.sides.focus_face()

    def _log(self, shown: LengthEntry) -> None:
        run = self.run()
        if run is None:
            return
        try:
            changed = with_shown(run, shown)
        except BadInputError as error:
            self.shown.complain(str(error))
            return
        if self.session.apply("reading", [changed]):
            self.shown.clear()
            self.refresh()

    def _delete_last(self) -> None:
        run = self.run()
        if run is not None and run.readings:
            self.session.apply("delete the last reading", [without_last(run)])

    def _edit(self, row: int, text: str) -> None:
        run = self.run()
        if run is None:
            return

        def take(entry: LengthEntry) -> None:
            self.session.apply("correct a reading", [with_shown_changed(run, len(run.readings) - 1 - row, entry)])

        self.correct(text, self.session.unit("length"), None, take)

    def _again(self) -> None:
        run = self.run()
        if run is None or not run.readings:
            self.session.notice.emit("This run has no readings yet; log some first.")
            return
        fresh = run.with_(id=new_id(), created="", changed="", note="", readings=())
        self.session.apply("next run", [self._settle(fresh)])
        self.focus_entry()

    def ask_and_read(self) -> None:
        """Ask for a CSV file and take its readings as a run."""
        name, _ = QFileDialog.getOpenFileName(self, "Readings of target, approach and shown", "", "CSV (*.csv *.txt)")
        if name:
            self.read_csv(Path(name))

    def read_csv(self, path: Path) -> None:
        """Take the readings of a file as a run, or say what is wrong with it."""
        axis = self.session.axis
        if axis is None:
            return
        try:
            run = read_run(path, axis)
        except VernusError as error:
            self.session.notice.emit(str(error))
            return
        if self.session.apply("readings from a file", [run]):
            self.session.notice.emit(f"Read {len(run.readings)} readings from {path.name}.")

    def _log_felt(self, value: LengthEntry) -> None:
        record = self._feel()
        if record is not None and self.session.apply("test by hand", [record.with_(values=(*record.values, value))]):
            self.felt.clear()
            self.refresh()
            self.felt.setFocus()

    def _delete_felt(self, row: int) -> None:
        record = self._feel()
        if record is not None and row < len(record.values):
            kept = (*record.values[:row], *record.values[row + 1 :])
            self.session.apply("delete a figure", [record.with_(values=kept)])

    def refresh(self) -> None:
        job, axis, run = self.session.job, self.session.axis, self.run()
        if job is None or axis is None or run is None:
            return
        self.heading.setText(f"Prove the positioning of {self.about_axis()}")
        kit = [("", "not said"), *((k.id, k.name or "a reference") for k in job.all(ReferenceKit))]
        next(f for f in self.fields if f.name == "reference_id").offer(kit)
        self.list.refresh()
        result = positioning_result(job, axis, run)
        self._show_log(run)
        self._show_result(run, result)
        self.advise(result.instruction)
        if self.sides.stack.currentIndex() == 1:
            self._show_feel()

    def _show_log(self, run: PositioningRun) -> None:
        units, unit = self.session.units, self.session.unit("length")
        due = next_approach(run)
        self.shown.setEnabled(due is not None)
        if due is None:
            self.ask.setText("All read." if run.targets else "")
        else:
            way = "up" if due[2] else "down"
            words = "Cycle {n} of {of:g}: " + way + " to {at}"
            self.ask.setText(in_units(units, words, n=due[0], of=run.cycles, at=Mm(due[1].mm)))
        rows = [[r.target.shown(unit), "up" if r.up else "down", r.shown.shown(unit)] for r in reversed(run.readings)]
        columns = [Column(f"target, {unit}"), Column("going", False), Column("shown", True, self._edit)]
        self.table.rows.show_rows(columns, rows)
        self.table.fix_widths({0: 94, 1: 64})
        self.read.show_count(len(rows), _MOST_READ)
        self.list.tell()

    def _show_result(self, run: PositioningRun, result: PositioningResult) -> None:
        units = self.session.units
        readings = result.readings
        self.chart.show_drawing(
            partial(paint_positioning, figures=result.figures, readings=readings, inks=self.session.inks, units=units)
            if readings
            else partial(
                paint_round, count=len(run.targets) or round(run.stations), both=run.ways == "both",
                names=self.session.directions.ends, inks=self.session.inks,
            )
        )  # fmt: skip
        figures = result.figures
        if figures is None:
            self.headline.show_answer(
                self.session, "not run yet" if not readings else "first cycle", "shown less target"
            )
            self.figures_said.setText("")
            self.cause.setText("")
            return
        main = accuracy_of(figures)
        ways = "both directions" if figures.accuracy_mm is not None else "one direction"
        under = f"accuracy A, {ways}, mean ± 2 s"
        axis = self.session.axis
        if axis is not None and axis.accuracy is not None:
            under += in_units(units, "; wanted {wanted}", wanted=Fine(axis.accuracy.mm))
        if result.budget is not None and self.height() > _ROOM_FOR_BUDGET:
            under += f". {result.budget.in_words().text(units)}"
        figure = "no repeats yet" if main is None else format_fine(main, units)
        self.headline.show_answer(self.session, figure, under, result.verdict, result.budget)
        self.figures_said.setText(_figure_words(figures, units))
        diagnosis = result.diagnosis
        if diagnosis is None:
            self.cause.setText("")
        elif diagnosis.causes:
            self.cause.setText(
                "\n".join(f"{n}. {c.evidence.text(units)}" for n, c in enumerate(diagnosis.causes[:3], 1))
            )
        else:
            self.cause.setText(diagnosis.instruction.text(units))

    def _show_feel(self) -> None:
        job, axis, record = self.session.job, self.session.axis, self._feel()
        if job is None or axis is None or record is None:
            return
        units, unit = self.session.units, self.session.unit("fine")
        self.asked.leave_out(record.test != "steps")
        self.feel_list.refresh()
        result = feel_result(job, axis, record)
        self.felt_title.setText(_FELT[record.test])
        self.felt_words.setText("\n".join(f.what.text(units) for f in result.findings))
        self.felt_words.setVisible(bool(result.findings))
        self.felt_table.rows.show_rows(
            [Column("#", False), Column(f"found, {unit}")],
            [[str(n), v.shown(unit)] for n, v in enumerate(record.values, 1)],
        )
        self.felt_table.narrow_first()
        self.advise(result.instruction)
        words = ANSWERS[result.verdict]
        limit = "up to {limit} is harmless here"
        worst = result.figure_mm
        under = in_units(
            units, limit if worst is None else "worst {worst}; " + limit, limit=Fine(result.limit_mm),
            worst=Fine(worst or 0.0),
        )  # fmt: skip
        self.headline.show_answer(self.session, f"{self.test.currentText()}: {words}", under, result.verdict)


def _figure_words(figures: Positioning, units: UnitSystem) -> str:
    """The standard's other figures in one line, those there are."""
    rows = (
        ("reversal B", figures.reversal_mm),
        ("mean reversal", figures.mean_reversal_mm),
        ("repeatability R", figures.repeatability_mm),
        ("systematic E", figures.systematic_mm),
        ("mean range M", figures.range_mean_mm),
    )
    words = [
        in_units(units, "{name} {mm}", name=name, mm=Fine(mm, sign="mean rev" in name))
        for name, mm in rows
        if mm is not None
    ]
    return (
        ", ".join(words) if words else "One direction only: reversal and the figures of both directions need the other."
    )

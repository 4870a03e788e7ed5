"""Calibrate: check the display against something better, and be told what to key in."""

from __future__ import annotations

from functools import partial
from typing import Literal

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.finding import Ppm
from vernus.core.units import format_fine
from vernus.desktop.parts.findings import plain_label
from vernus.desktop.parts.form import BoundField
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.marks import MarkName
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.setup_stack import SetupStack
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.session import Session
from vernus.job.edits import current_run, key_in, with_check, with_check_changed, without_check
from vernus.job.entities import CalibrationRun, Compensation
from vernus.job.fields import LengthEntry
from vernus.job.results import CalibrationResult, calibration_result, latest_run
from vernus.paper.drawing.residuals import paint_residuals

_SETUP = ("method", "set_counts", "per", "set_factor", "reference", "u_reference", "step")


class CalibrateSheet(Sheet):
    """Moved against shown; counts per unit or linear factor; errors before and after."""

    name = "calibrate"
    title = "Calibrate"
    caution = "Approach every station from the same side, and let machine and reference reach one temperature first."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._draft: CalibrationRun | None = None
        self.true = LengthField("Truly moved", lambda: session.unit("length"), optional=False, logging=True)
        self.shown = LengthField("Shown", lambda: session.unit("length"), optional=False, logging=True)
        self.true.accepted.connect(lambda _entry: self.shown.setFocus())
        self.shown.accepted.connect(self._log)
        self.titles = {"true": QLabel(), "shown": QLabel("Display showed")}
        self.table = Table("Checks against the reference")
        self.table.delete_pressed.connect(self._delete)
        self.keyed = QPushButton("Keyed in (Ctrl+Enter)")
        press_by(self.keyed, "Ctrl+Return")
        self.keyed.clicked.connect(self._key_in)
        self.fields = [BoundField(session, CalibrationRun, name, self.run) for name in _SETUP]
        self.setup = SetupStack(self._log_face(), self.fields)
        self.entry.addWidget(self.setup, 1)
        self.chart = Picture("Errors before and after", QSize(320, 230))
        self.history = plain_label("", "faint")
        self.picture.addWidget(self.chart, 1)
        self.picture.addWidget(self.history)
        self.bench_fields = [self.true, self.shown]
        self.not_on_bench = [self.setup.summary, self.setup.turn, self.table, self.keyed, self.chart, self.history]

    def _log_face(self) -> QWidget:
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        for key, field in (("true", self.true), ("shown", self.shown)):
            column = QVBoxLayout()
            column.setSpacing(2)
            self.titles[key].setObjectName("faint")
            column.addWidget(self.titles[key])
            column.addWidget(field)
            column.addStretch(1)
            row.addLayout(column, 1)
        box.addLayout(row)
        box.addWidget(self.table, 1)
        box.addWidget(self.keyed)
        face.setFocusProxy(self.true)
        return face

    def run(self) -> CalibrationRun | None:
        """The check being logged; one that isn't in the job yet is kept here until its first edit."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        if latest_run(job, axis) is None:
            if self._draft is None or self._draft.axis_id != axis.id:
                self._draft = current_run(job, axis, self.session.units)
            return self._draft
        return current_run(job, axis, self.session.units)

    def focus_entry(self) -> None:
        self.true.setFocus()

    def _log(self, shown: LengthEntry) -> None:
        run, true = self.run(), self.true.read()
        if run is None or true is None:
            return
        try:
            changed = with_check(run, true, shown)
        except BadInputError as error:
            self.true.complain(str(error))
            return
        if self.session.apply("check", [changed]):
            self.true.clear()
            self.shown.clear()
            self.true.setFocus()

    def _delete(self, row: int) -> None:
        run = self.run()
        if run is not None and row < len(run.checks):
            self.session.apply("delete a check", [without_check(run, row)])

    def _edit(self, field: Literal["true", "shown"], row: int, text: str) -> None:
        run = self.run()
        if run is None:
            return
        try:
            entry = LengthEntry.read(text, self.session.unit("length"))
        except BadInputError as error:
            self.session.told.emit(f"{error} The old figure stays.")
            return
        self.session.apply("correct a check", [with_check_changed(run, row, field, entry)])

    def _key_in(self) -> None:
        run, job = self.run(), self.session.job
        if run is None or job is None:
            return
        try:
            self.session.apply("keyed in", key_in(job, run))
        except BadInputError as error:
            self.session.told.emit(str(error))
        self.focus_entry()

    def refresh(self) -> None:
        run, job, axis = self.run(), self.session.job, self.session.axis
        if run is None or job is None or axis is None:
            return
        self.heading.setText(f"Calibrate the display: {self.about_axis()}")
        for field, name in zip(self.fields, _SETUP, strict=True):
            field.setVisible(name not in (("set_factor",) if run.method == "counts" else ("set_counts", "per")))
            field.refresh()
        unit = self.session.unit("length")
        self.titles["true"].setText("Truly moved" if run.method == "counts" else "True position")
        self.true.show_entry(None) if not self.true.draft else None
        self.shown.show_entry(None) if not self.shown.draft else None
        self.table.rows.show_rows(
            [
                Column("#", False),
                Column(f"true, {unit}", True, partial(self._edit, "true")),
                Column(f"shown, {unit}", True, partial(self._edit, "shown")),
            ],
            [[str(n), c.true.shown(unit), c.shown.shown(unit)] for n, c in enumerate(run.checks, 1)],
        )
        self.table.narrow_first()
        result = calibration_result(job, run)
        self.setup.summary.setText(self._summary(run))
        self.instruction.setText(result.instruction.text(self.session.units))
        self._show_figures(run, result)
        self.keyed.setEnabled(result.value_to_key is not None)
        lines = [_said(c) for c in job.of_axis(Compensation, axis.id)[-3:]]
        self.history.setText("\n".join(lines))

    def _summary(self, run: CalibrationRun) -> str:
        now = f"{run.set_counts:.7g} counts per {'inch' if run.per == 'in' else 'mm'}"
        if run.method == "factor":
            now = f"factor {run.set_factor:.6f}"
        return f"Display set to {now}. Reference: {run.reference or 'not named'}."

    def _show_figures(self, run: CalibrationRun, result: CalibrationResult) -> None:
        units = self.session.units
        mark: MarkName | None = "pass" if result.settled else None
        if result.counts is not None and result.value_to_key is not None:
            counts = result.counts
            agrees = "standard count; " if counts.nominal_per_mm is not None else ""
            left = ""
            if counts.error_over_travel_mm is not None:
                left = f"; leaves ± {format_fine(2 * counts.error_over_travel_mm, units)} over the travel"
            self.headline.show_answer(
                self.session,
                f"{result.value_to_key:.7g} per {'inch' if run.per == 'in' else 'mm'}",
                f"{agrees}measured {result.measured(run.per)}{left}",
                mark,
            )
        elif result.factor is not None:
            fit = result.factor
            found = "" if fit.u_factor is None else f" measured {result.measured(run.per)};"
            sd = "" if fit.residual_sd_mm is None else f", scatter {format_fine(fit.residual_sd_mm, units)}"
            self.headline.show_answer(
                self.session, f"{fit.factor:.6f}", f"linear factor;{found} {Ppm(fit.ppm).show(units)}{sd}", mark
            )
        else:
            self.headline.show_answer(self.session, "not checked yet", "log a known move")
        if not result.true_mm:
            self.chart.show_drawing(None)
            return
        self.chart.show_drawing(
            partial(
                paint_residuals,
                true_mm=result.true_mm,
                before_mm=result.before_mm,
                after_mm=result.after_mm,
                inks=self.session.inks,
                units=units,
            )
        )


def _said(keyed: Compensation) -> str:
    what = f"{keyed.value:.7g} counts per {keyed.per}" if keyed.method == "counts" else f"factor {keyed.value:.6f}"
    return f"{keyed.created[:10]} keyed in: {what}"

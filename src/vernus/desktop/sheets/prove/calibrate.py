"""Calibrate: check the display against something better, and be told what to key in."""

from __future__ import annotations

from functools import partial
from typing import Literal

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.core.doubt import Yardstick
from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Reads, in_units
from vernus.core.units import UnitSystem, format_fine, format_keyed, format_plain
from vernus.desktop.parts.check_field import CheckField
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.marks import MarkName
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.ways import WaysView
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.catalog.shipped import profile_starts
from vernus.job.document import Job, new_id
from vernus.job.doubts import along_yardstick
from vernus.job.entities import Axis, AxisSetting, CalibrationRun, ProfileSetting, ReferenceKit
from vernus.job.fields import LengthEntry
from vernus.job.prove.as_read import check_as_read
from vernus.job.prove.calibrate.edits import (
    axis_setting,
    current_run,
    fresh_run,
    key_in,
    left_behind,
    other_shows,
    run_of_today,
    with_check,
    with_check_changed,
    without_check,
)
from vernus.job.prove.calibrate.found import CalibrationResult, over_words
from vernus.job.prove.calibrate.result import calibration_result, latest_run
from vernus.job.prove.owned_references import core_profile, keyed_points, profile_of, reference_of
from vernus.job.prove.recheck import date_of, history_of, temperature_sum
from vernus.paper.drawing.act import paint_known_move
from vernus.paper.drawing.prove.residuals import paint_residuals

_SETUP = (
    "method", "set_factor", "reference_id", "reference", "u_reference", "scale_c",
    "reference_c", "u_c", "scale_substance",
)  # fmt: skip
_KIT = {
    "": ("name", "reference_kind", "grade", "pieces", "substance", "stated", "detector", "division", "dial_shows"),
}
_DISPLAY = (
    "name", "per", "counts", "least", "most", "factor", "wants", "decimals", "points", "spacing", "step", "origin",
)  # fmt: skip
_AXIS = ("counts", "per", "resolution", "shows")
_ROOM_FOR_HISTORY = 660
_OVER = "Over the travel"
_MOST_CHECKS = 7
_ONLY_FOR = {"set_factor": "factor"}


class CalibrateSheet(Sheet):
    """Moved against shown; counts, factor or table; errors before and after, the budget, and the keying order."""

    name = "calibrate"
    title = "Calibrate"
    caution = "Approach every station from the same side, and let machine and reference reach one temperature first."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._draft: Draft[CalibrationRun] = Draft()
        self._profile = ProfileSetting(id=new_id())
        self.true = LengthField(
            "Truly moved", lambda: session.unit("length"), optional=False, logging=True, compare=self._along
        )
        self.shown = CheckField(session, self._pair)
        self.true.accepted.connect(lambda _entry: self.shown.setFocus())
        self.shown.swapped.connect(self.true.line.setText)
        self.shown.accepted.connect(self._log)
        self.titles = {"true": Label(), "shown": Label("Display showed")}
        self.table = Table("Checks against the reference")
        self.table.delete_pressed.connect(self._delete)
        self.keyed = QPushButton("Keyed in (Ctrl+Enter)")
        press_by(self.keyed, "Ctrl+Return")
        self.keyed.clicked.connect(self._key_in)
        self.main = self.keyed
        self.diameter = QPushButton()
        self.diameter.hide()
        press_by(self.diameter, "Ctrl+Shift+D")
        self.diameter.clicked.connect(self._say_shows)
        self.anew = QPushButton("Check again, nothing keyed in")
        self.anew.clicked.connect(self._check_again)
        self.fields = [FigureRow(session, CalibrationRun, name, self.run) for name in _SETUP]
        named = {row.name: row for row in self.fields}
        self.read = PartRow("checks", self.table)
        self.list = self.figures(
            Group("Checks", [self.read]),
            Group("Checked against", [named[n] for n in ("reference_id", "reference", "u_reference")], aside=True),
            Group("Temperature", [named[n] for n in ("scale_c", "reference_c", "u_c", "scale_substance")], aside=True),
            Group("How it corrects", [named["method"], named["set_factor"]], aside=True, says=self._set_now),
        )
        self.kit = EntityList(
            session, "Reference kit", ReferenceKit, _KIT, self._kit, [Column("reference", False)],
            lambda k: [k.name], lambda: ReferenceKit(id=new_id(), name="new reference"),
        )  # fmt: skip
        own = {n: f"display_{n}" for n in _AXIS}  # what is set for the axis has those names already
        self.display = [FigureRow(session, ProfileSetting, n, self._display, name=own.get(n, n)) for n in _DISPLAY]
        self.of_axis = [FigureRow(session, AxisSetting, name, self._setting) for name in _AXIS]
        start = ChoiceRow("begin", "Begin with one that takes", [(None, "–")], self._begin_profile)
        start.offer([(None, "–"), *((s.fields, s.label) for s in profile_starts())])
        self.begin = start.box
        self.settings = self.figures(
            Group("Set in it for this axis", self.of_axis),
            Group("The display, for every axis", [start, *self.display]),
        )
        self.kit.figures.held.connect(lambda _name: self.show_hand(self.kit.figures))
        self.sides = Tabs((("Check", self._log_face()), ("Kit", self.kit), ("Display", self.settings)))
        self.entry.addWidget(self.sides, 1)
        self._make_views()

    def _make_views(self) -> None:
        """The pictures and words on the right, and what the bench view leaves out."""
        session = self.session
        self.trust = Words("", "faint")
        self.chart = Picture("Errors before and after", QSize(320, 200))
        self.order = Table("Table in keying order")
        self.ways = WaysView(session)
        self.warm = Words("")
        self.warm.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.views = Tabs(
            (
                ("Errors", self.chart),
                ("Key in", self.order),
                ("Table?", self.ways),
                ("Warm?", self.warm),
            ),
            by_key=False,
        )
        self.views.turned.connect(self.refresh)
        self.history = Words("", "faint")
        self.picture.addWidget(self.trust)
        self.picture.addWidget(self.views, 1)
        self.picture.addWidget(self.history)
        self.bench_fields = [self.true, self.shown]
        self.hidden_on_bench = [
            *self.sides.buttons.values(), *self.views.buttons.values(), self.keyed, self.anew, self.diameter,
            self.history, self.trust,
        ]  # fmt: skip

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
            row.addLayout(column, 1)
        box.addLayout(row)
        for field in (self.true, self.shown):
            field.ask_in(box)
        box.addWidget(self.list, 1)
        box.addWidget(self.diameter)
        box.addWidget(self.keyed)
        box.addWidget(self.anew)
        face.setFocusProxy(self.true)
        return face

    def run(self) -> CalibrationRun | None:
        """The check being logged; one that isn't in the job yet is kept here until its first edit."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        if latest_run(job, axis) is None:
            return self._draft.of(axis.id, lambda: current_run(job, axis, self.session.units))
        return current_run(job, axis, self.session.units)

    def _kit(self) -> list[ReferenceKit]:
        return self.session.job.all(ReferenceKit) if self.session.job else []

    def _display(self) -> ProfileSetting | None:
        return (profile_of(self.session.job) or self._profile) if self.session.job else None

    def _setting(self) -> AxisSetting | None:
        """What is set in the display for the axis in view."""
        axis, job = self.session.axis, self.session.job
        return axis_setting(job, axis, new_id()) if axis is not None and job is not None else None

    def _begin_profile(self, fields: object) -> None:
        """Set the display's profile to a generic one, to be corrected."""
        profile = self._display()
        if profile is not None and isinstance(fields, dict):
            self.session.apply("kind of display", [profile.with_(**fields)])
        self.begin.setCurrentIndex(0)

    def focus_entry(self) -> None:
        self.list.unfold("Checks")
        self.sides.focus_face()

    def _log(self, shown: LengthEntry) -> None:
        run, true, job = self.run(), self.true.read(), self.session.job
        if run is None or true is None or job is None:
            return
        try:
            changed = with_check(run_of_today(run, job.now().astimezone()), true, shown)
        except BadInputError as error:
            self.true.complain(str(error))
            return
        before = [left_behind(job, run)] if changed.id != run.id else []
        if self.session.apply("check", [*before, changed]):
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

        def take(entry: LengthEntry) -> None:
            self.session.apply("correct a check", [with_check_changed(run, row, field, entry)])

        self.correct(text, self.session.unit("length"), self._along(), take)

    def _pair(self) -> tuple[CalibrationRun, LengthEntry] | None:
        """The check being logged and the true figure beside the shown one."""
        run, job = self.run(), self.session.job
        true = self.true.read() if self.true.line.text().strip() else None
        return None if run is None or job is None or true is None else (check_as_read(job, run), true)

    def _along(self) -> Yardstick | None:
        """What a length of this sheet is compared with."""
        job, axis = self.session.job, self.session.axis
        return along_yardstick(job, axis) if job is not None and axis is not None else None

    def _check_again(self) -> None:
        """Begin another check of the display as it is."""
        run, job = self.run(), self.session.job
        if run is not None and job is not None and run.checks:
            self.session.apply("check again", [left_behind(job, run), fresh_run(run)])
        self.focus_entry()

    def _say_shows(self) -> None:
        """Say that the display shows a diameter on this axis, or a radius."""
        run, job = self.run(), self.session.job
        if run is None or job is None:
            return
        said = other_shows(job, run, calibration_result(job, run).findings)
        if said is not None:
            self.session.apply(f"the display shows a {said.shows}", [said])
        self.focus_entry()

    def _key_in(self) -> None:
        run, job = self.run(), self.session.job
        if run is None or job is None:
            return
        try:
            self.session.apply("keyed in", key_in(job, run))
        except BadInputError as error:
            self.session.notice.emit(str(error))
        self.focus_entry()

    def refresh(self) -> None:
        run, job, axis = self.run(), self.session.job, self.session.axis
        if run is None or job is None or axis is None:
            return
        logged, run = run, check_as_read(job, run)
        self.heading.setText(f"Calibrate the display: {self.about_axis()}")
        next(f for f in self.fields if f.name == "reference_id").offer(
            [("", "what is typed below"), *((k.id, k.name or "a reference") for k in self._kit())]
        )
        named = reference_of(job, run) is not None
        for field in self.fields:
            wanted = _ONLY_FOR.get(field.name, run.method) == run.method
            field.leave_out(not wanted or (named and field.name in ("reference", "u_reference")))
        self.list.refresh()
        self.settings.refresh()
        self.kit.refresh()
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
        self.read.show_count(len(run.checks), _MOST_CHECKS)
        self.list.tell()
        result = calibration_result(job, run)
        self.advise(result.instruction)
        self._show_figures(run, result)
        other = other_shows(job, logged, result.findings)
        self.diameter.setVisible(other is not None and not self.on_bench)
        self.diameter.setText("" if other is None else f"It shows a {other.shows} (Ctrl+Shift+D)")
        self.keyed.setEnabled(result.value_to_key is not None)
        self.anew.setEnabled(bool(run.checks))
        budget = result.budget
        trust = "" if budget is None else f"{_OVER} {budget.in_words().text(self.session.units)}"
        self.trust.setText(f"{trust} {_at_places(result, self.session.units)}".strip())
        self._show_order(run, result)
        if self.views.stack.currentWidget() is self.ways:
            self.ways.compare(run, result.settled)
        self.history.setText(self._tracker())
        self.history.setVisible(not self.on_bench and self.height() > _ROOM_FOR_HISTORY)
        self._show_warmth(job, axis)

    def _show_warmth(self, job: Job, axis: Axis) -> None:
        """Is it the temperature? The sum, step by step."""
        units = self.session.units
        found = temperature_sum(job, axis)
        judged = [f"{f.what.text(units)} {f.remedy.text(units)}" for f in found.findings]
        self.warm.setText("\n\n".join([*(s.text(units) for s in found.steps), *judged]))

    def _set_now(self) -> list[str]:
        """What stands in the display now."""
        run = self.run()
        if run is None or run.method == "table":
            return ["a table"]
        if run.method == "factor":
            return [f"factor {run.set_factor:.6f}"]
        return [f"{run.counts_set:.7g} counts per {'inch' if run.per == 'in' else 'mm'}"]

    def _tracker(self) -> str:
        """What every check of the axis found, so that one sees when it stops changing."""
        job, axis, units = self.session.job, self.session.axis, self.session.units
        if job is None or axis is None:
            return ""
        lines = []
        for n, kept in enumerate(history_of(job, axis), 1):
            found = calibration_result(job, kept.run)
            what = found.measured(kept.run.per)
            change = "" if kept.change is None else f" {kept.change.in_words().text(units)}"
            lines.append(f"Check {n}, {date_of(kept.proof.day)}: {kept.run.method} {what}.{change}")
        return "\n".join(lines[-3:])

    def _show_figures(self, run: CalibrationRun, result: CalibrationResult) -> None:
        units = self.session.units
        mark: MarkName | None = "pass" if result.settled else "unsure" if result.verdict == "pass" else result.verdict
        leave = result.value_to_key is None
        budget = result.budget
        over = over_words(result.travel_mm, result.over_mm or 0.0)
        left = "" if budget is None else in_units(units, "; ± {u} over {over}", u=Fine(budget.expanded), over=over)
        if result.counts is not None and result.keyed is not None:
            agrees = "standard count; " if result.counts.nominal_per_mm is not None else ""
            value = run.counts_set if leave else result.keyed.value
            figure = f"{'leave ' if leave else ''}{value:.7g} per {'inch' if run.per == 'in' else 'mm'}"
            found = f"{agrees}measured {result.measured(run.per)}{left}"
            self.headline.show_answer(self.session, figure, found, mark, result.budget, _OVER)
        elif result.factor is not None and result.keyed is not None:
            fit = result.factor
            scatter = fit.residual_sd_mm
            sd = "" if scatter is None else in_units(units, ", scatter {sd}", sd=Fine(scatter))
            found = (
                f"linear factor {result.measured(run.per)}; reads {Reads((fit.slope - 1) * 1e6).show(units)}{sd}{left}"
            )
            figure = f"leave {run.set_factor:.6f}" if leave else result.keyed.words.text(units)
            self.headline.show_answer(self.session, figure, found, mark, result.budget, _OVER)
        elif result.table is not None:
            table = result.table
            words = "left at most; the best straight line leaves {left}"
            under = in_units(units, words, left=Fine(table.linear_max_mm))
            self.headline.show_answer(
                self.session,
                in_units(units, "{n} points, {left}", n=len(table.knots), left=Fine(table.max_residual_mm)),
                under,
                mark,
                result.budget,
                _OVER,
            )
        else:
            self.headline.show_answer(self.session, "not checked yet", "log a known move")
        if not result.true_mm:
            axis, inks = self.session.axis, self.session.inks
            still = "" if axis is None else axis.still
            moving = "" if axis is None else axis.moving
            self.chart.show_drawing(partial(paint_known_move, moving=moving, still=still, inks=inks))
            return
        self.chart.show_drawing(
            partial(
                paint_residuals,
                true_mm=result.true_mm,
                before_mm=result.before_mm,
                after_mm=() if leave else result.after_mm,
                inks=self.session.inks,
                units=units,
            )
        )

    def _show_order(self, run: CalibrationRun, result: CalibrationResult) -> None:
        units, job, axis = self.session.units, self.session.job, self.session.axis
        if result.table is not None and job is not None and axis is not None:
            wants = core_profile(profile_of(job)).wants
            columns = [Column("point", False), Column(f"at, {units}"), Column(wants)]
            rows = [
                [str(n), format_plain(at, units, with_unit=False), format_keyed(value, units, sign=True)]
                for n, (at, value) in enumerate(keyed_points(job, axis, result.table.knots), 1)
            ]
        else:
            columns = [Column("setting", False), Column("now"), Column("key in")]
            now = f"{run.counts_set:.7g} per {run.per}" if run.method == "counts" else f"{run.set_factor:.6f}"
            want = "" if result.keyed is None or result.value_to_key is None else result.keyed.words.text(units)
            name = "counts" if run.method == "counts" else "linear correction"
            rows = [[name, now, "leave it" if result.value_to_key is None else want]]
        self.order.rows.show_rows(columns, rows)


def _at_places(result: CalibrationResult, units: UnitSystem) -> str:
    """The error now at the middle and at the full stroke read, where stations were read."""
    places = result.middle_and_full()
    if places is None:
        return ""
    middle, full = (format_fine(mm, units, sign=True) for mm in places)
    return f"Now {middle} at the middle, {full} at the full stroke."

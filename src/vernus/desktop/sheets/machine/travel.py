"""Travel: how far an axis really goes."""

from __future__ import annotations

from PySide6.QtCore import QSize

from vernus.core.doubt import Yardstick
from vernus.core.errors import BadInputError
from vernus.core.finding import WithUncertainty, in_units
from vernus.core.machine.stroke import ENDS
from vernus.core.units import format_with_uncertainty
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.stroke_view import StrokeView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.catalog.shipped import tools
from vernus.job.doubts import yardstick
from vernus.job.entities import Axis, TravelSurvey
from vernus.job.fields import LengthEntry, mm_of, quantities
from vernus.job.machine.travel import survey_with, travel_result, turns_entry
from vernus.paper.pages.machine.stroke import stroke_picture

_GIVEN_UP = tuple(f"give_up_{end}{part}" for end in ENDS for part in ("", "_how", "_why"))


class TravelSheet(Sheet):
    """End marks, repeats and the tool used; travel with its uncertainty."""

    name = "travel"
    title = "Travel"
    caution = "Isolate and lock off first. Watch that no leadscrew runs out of its nut at the ends."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._axis_shown = ""
        self.tool_row = ChoiceRow(
            "tool", "Measured with", [(t.id, t.label) for t in tools()], lambda _value: self.refresh()
        )
        self.tool = self.tool_row.box
        self.division = FigureRow(session, TravelSurvey, "division", self._survey)
        self.reading = LengthField(
            "Distance between the marks", lambda: session.unit("length"), optional=False, logging=True,
            compare=lambda: None if self._counting_turns() else self._usual(self._survey()),
        )  # fmt: skip
        self.reading.accepted.connect(self._log)
        self.table = Table("Readings of the travel")
        self.table.delete_pressed.connect(self._delete)
        wanted = [FigureRow(session, Axis, name, lambda: session.axis) for name in ("accuracy", *_GIVEN_UP)]
        screw = [FigureRow(session, Axis, name, lambda: session.axis) for name in ("lead", "backlash")]
        screw.append(FigureRow(session, TravelSurvey, "approach", self._survey))
        self.fields = [*wanted, *screw]
        self.read = PartRow("read", self.table)
        self.list = self.figures(
            Group("Readings", [self.read]),
            Group("Tool", [self.tool_row, self.division]),
            Group("Wanted, and given up", wanted),
            Group("Screw and approach", screw, aside=True),
        )
        self.between = Words("", "faint")
        for widget in (self.between, self.reading):
            self.entry.addWidget(widget)
        self.entry.addWidget(self.list, 1)
        self.view = StrokeView(QSize(300, 220), still=True)
        self.view.figures = self.list
        self.picture.addWidget(self.view, 1)
        self.bench_fields = [self.reading]

    def focus_entry(self) -> None:
        self.list.unfold("Readings")
        self.reading.setFocus()

    def _survey(self) -> TravelSurvey | None:
        axis, job = self.session.axis, self.session.job
        return survey_with(job, axis, self.tool.currentData()) if axis is not None and job is not None else None

    def _log(self, entry: LengthEntry) -> None:
        survey, axis = self._survey(), self.session.axis
        if survey is None or axis is None:
            return
        if self._counting_turns() and not any(c in entry.text for c in "×*"):
            try:
                entry = turns_entry(axis, survey, self.reading.line.text())
            except BadInputError as error:
                self.reading.complain(str(error))
                return
        if self.session.apply("travel reading", [survey.with_(readings=(*survey.readings, entry))]):
            self.reading.clear()

    def _counting_turns(self) -> bool:
        return bool(self.tool.currentData() == "handwheel")

    def _delete(self, row: int) -> None:
        survey = self._survey()
        if survey is not None and row < len(survey.readings):
            kept = (*survey.readings[:row], *survey.readings[row + 1 :])
            self.session.apply("delete a travel reading", [survey.with_(readings=kept)])

    def _edit(self, row: int, text: str) -> None:
        survey = self._survey()
        if survey is None:
            return
        others = (*survey.readings[:row], *survey.readings[row + 1 :])

        def take(entry: LengthEntry) -> None:
            readings = (*survey.readings[:row], entry, *survey.readings[row + 1 :])
            self.session.apply("correct a travel reading", [survey.with_(readings=readings)])

        self.correct(text, self.session.unit("length"), self._usual(survey.with_(readings=others)), take)

    def _usual(self, survey: TravelSurvey | None) -> Yardstick | None:
        """What a reading is compared with: the others, or the travel as it is known."""
        job = self.session.job
        quantity = quantities(TravelSurvey)["readings"]
        return None if job is None or survey is None else yardstick(job, survey, quantity)

    def refresh(self) -> None:
        axis, job = self.session.axis, self.session.job
        if axis is not None and job is not None and axis.id != self._axis_shown:
            self._axis_shown = axis.id
            known = travel_result(job, axis).surveys
            self.tool.setCurrentIndex(self.tool.findData(known[0][0]) if known else 0)
        survey = self._survey()
        if axis is None or job is None or survey is None:
            return
        self.heading.setText(f"Travel of {self.about_axis()}")
        unit = self.session.unit("length")
        self.reading.show_entry(None)
        for field in self.fields:
            end = next((e for e in ENDS if field.name in (f"give_up_{e}_how", f"give_up_{e}_why")), None)
            given = axis.give_up_low if end == "low" else axis.give_up_high
            field.leave_out(end is not None and not mm_of(given))
        self.list.refresh()
        turns = self._counting_turns()
        self.between.setText(
            "Handwheel turns from mark to mark, such as 53.24; Enter logs them"
            if turns
            else "Distance between the marks, Enter logs it"
        )
        self.reading.suffix.setText("turns" if turns else unit)
        self.table.rows.show_rows(
            [Column("#", False), Column(f"between marks, {unit}", True, self._edit)],
            [[str(n), r.shown(unit)] for n, r in enumerate(survey.readings, 1)],
        )
        self.table.narrow_first()
        self.read.show_count(len(survey.readings), 4)
        self.list.tell()
        result = travel_result(job, axis)
        self.advise(result.instruction)
        self.view.show_stroke(stroke_picture(job, axis), self.session.inks, self.session.units)
        if result.best is None:
            self.headline.show_answer(self.session, "not measured yet")
            return
        figure = format_with_uncertainty(result.best.travel_mm, result.best.expanded_mm, self.session.units)
        ways = "; ".join(
            in_units(
                self.session.units,
                "{tool} {travel}",
                tool=self.tool.itemText(self.tool.findData(tool)).lower(),
                travel=WithUncertainty(t.travel_mm, t.expanded_mm),
            )
            for tool, t in result.surveys
        )
        by = f". By {ways}." if len(result.surveys) > 1 else ""
        self.headline.show_answer(self.session, figure, f"travel, ± for 95 %{by}", None, result.best.budget)

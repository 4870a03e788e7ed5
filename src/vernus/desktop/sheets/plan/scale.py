"""Scale: which sizes serve, and where the reader sits."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QAbstractItemView, QComboBox, QLabel, QVBoxLayout, QWidget

from vernus.core.plan.scales import ScaleChoice, judge_choice, place_reader
from vernus.core.units import UnitSystem, format_plain
from vernus.desktop.parts.form import BoundField
from vernus.desktop.parts.pictures import StrokeView
from vernus.desktop.parts.setup_stack import SetupStack
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.align.edits import scale_plan
from vernus.job.catalog.families import family_edit
from vernus.job.catalog.shipped import margin_schools
from vernus.job.document import new_id
from vernus.job.entities import FamilyEdit, ScalePlan
from vernus.job.feed.feed import trips_of
from vernus.job.fields import LengthEntry
from vernus.job.machine.geometry import chosen_face
from vernus.job.machine.travel import ScaleResult, mm_of, scale_result
from vernus.job.plan.faces import place_on_face
from vernus.paper.drawing.machine.stroke import Stroke

_OPTIONS = ("cover", "shift", "clearance", "price")
_FAMILY = ("sizes", "end_piece", "height", "depth", "reader", "reader_height", "reader_depth", "count_um", "price")


class ScaleSheet(Sheet):
    """Margin, face and wishes; the sizes side by side; the stroke picture."""

    name = "scale"
    title = "Scale"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._share = 0.5
        self._shown: list[ScaleChoice] = []
        self.school = QComboBox()
        self.school.setAccessibleName("Margin habit")
        self.school.addItem("own margin", None)
        for school in margin_schools():
            self.school.addItem(school.label, school)
        self.school.activated.connect(self._take_school)
        habit = QLabel("Margin habit")
        habit.setObjectName("faint")
        self.fields = [
            BoundField(session, ScalePlan, "margin", self._plan),
            BoundField(session, ScalePlan, "face", self._plan),
            BoundField(session, ScalePlan, "scale_on", self._plan),
        ]
        self.own_size = BoundField(session, ScalePlan, "measuring", self._plan, label="Measuring length chosen")
        self.needs, self.judgement = Words("", "faint"), Words("")
        front = QWidget()
        column = QVBoxLayout(front)
        column.setContentsMargins(0, 0, 0, 0)
        for widget in (habit, self.school, *self.fields, self.own_size, self.judgement, self.needs):
            column.addWidget(widget)
        column.addStretch(1)
        front.setFocusProxy(self.school)
        self.options = [BoundField(session, ScalePlan, name, self._plan) for name in _OPTIONS]
        known = Words("What you know better of this family than the table does:", "faint")
        self.family_fields = [BoundField(session, FamilyEdit, name, self._family) for name in _FAMILY]
        self.setup = SetupStack(front, [*self.options, known, *self.family_fields])
        self.entry.addWidget(self.setup, 1)
        self.stroke = StrokeView()
        self.stroke.moved.connect(self._move_reader)
        self.position = QLabel()
        self.position.setWordWrap(True)
        self.position.setObjectName("faint")
        self.table = Table("Sizes that serve")
        self.table.leave_out_when_narrow(2)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setMinimumHeight(120)
        self.table.setMaximumHeight(8 * 27 + 36)
        self.table.chosen.connect(self._choose)
        self.table.doubleClicked.connect(lambda index: self._choose(index.row()))
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_stroke())
        self.picture.addWidget(self.stroke, 5)
        self.picture.addWidget(self.position)
        self.picture.addWidget(self.table, 6)
        self.not_on_bench = [habit, self.school, *self.fields, self.stroke, self.position, self.table, self.needs]
        self.not_on_bench += [self.judgement, self.setup.turn, self.setup.summary]

    def focus_entry(self) -> None:
        self.table.setFocus()

    def _plan(self) -> ScalePlan | None:
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        return scale_plan(job, axis, axis.usual_on)

    def _family(self) -> FamilyEdit | None:
        """The user's own figures for the family under the cursor, or the chosen one."""
        job, plan, row = self.session.job, self._plan(), self.table.currentIndex().row()
        name = self._shown[row].family.id if 0 <= row < len(self._shown) else plan.family if plan else ""
        return family_edit(job, name, new_id()) if job is not None and name else None

    def _take_school(self, index: int) -> None:
        plan, school = self._plan(), self.school.itemData(index)
        if plan is not None and school is not None:
            self.session.apply("margin habit", [plan.with_(margin=LengthEntry(mm=school.margin_mm))])

    def _choose(self, row: int) -> None:
        plan = self._plan()
        if plan is not None and 0 <= row < len(self._shown):
            choice = self._shown[row]
            put = plan.with_(family=choice.family.id, measuring=LengthEntry(mm=choice.measuring_mm))
            self.session.apply(f"choose {choice.family.label}", [put])

    def _move_reader(self, position_mm: float) -> None:
        result = self._result()
        if result is not None and result.travel_mm:
            self._share = position_mm / result.travel_mm
            self._show_stroke()

    def _result(self) -> ScaleResult | None:
        axis, job, plan = self.session.axis, self.session.job, self._plan()
        return scale_result(job, axis, plan) if axis and job and plan else None

    def refresh(self) -> None:
        plan, result = self._plan(), self._result()
        if plan is None or result is None:
            return
        self.heading.setText(f"Scale for the {self.about_axis()}")
        for field in (*self.fields, self.own_size, *self.options, *self.family_fields):
            field.refresh()
        axis = self.session.axis
        if axis is not None:
            self.fields[2].say({"moving": axis.moving, "still": axis.still})
        matching = [s for s in range(1, self.school.count()) if self.school.itemData(s).margin_mm == plan.margin.mm]
        self.school.setCurrentIndex(matching[0] if matching else 0)
        self._shown = list(result.choices)
        self._show_choices(plan)
        self.needs.setText(f"{result.family.label} wants: {result.family.needs}." if result.family else "")
        self.setup.summary.setText(self._on_face())
        self.instruction.setText(result.instruction.text(self.session.units))
        if result.spare_mm is None or plan.measuring is None or result.family is None:
            need = (
                ""
                if result.travel_mm is None
                else f"for a travel of {format_plain(result.travel_mm, self.session.units)}"
            )
            self.headline.show_answer(self.session, "not chosen yet", need)
        else:
            grave = any(f.severity == "stop" for f in result.findings)
            figure = format_plain(plan.measuring.mm, self.session.units)
            spare = format_plain(result.spare_mm, self.session.units)
            self.headline.show_answer(
                self.session, figure, f"{result.family.label}; {spare} spare at each end", "stop" if grave else None
            )
        self._show_stroke()

    def _on_face(self) -> str:
        """Where the body lies on the chosen face."""
        axis, job, say = self.session.axis, self.session.job, partial(format_plain, system=self.session.units)
        place = place_on_face(job, axis) if axis is not None and job is not None else None
        if place is None or job is None or axis is None:
            return "Choose a face to see where the body lies on it."
        face = chosen_face(job, self._plan())
        name = face.name if face else ""
        if place.overhang_mm > 0:
            return (
                f"On “{name}” the body stands over the ends by {say(place.overhang_mm)}: carry its end holes on "
                "standoffs or an extension plate."
            )
        return (
            f"On “{name}” the body starts {say(place.start_mm)} from the left end, its first hole at "
            f"{say(place.first_hole_mm)}, the reader in mid travel at {say(place.reader_mid_mm)}."
        )

    def _show_choices(self, plan: ScalePlan) -> None:
        units = self.session.units
        columns = [
            Column("family", False),
            Column("measures"),
            Column("overall"),
            Column("spare"),
            Column("fits", False),
        ]
        fits = {True: "yes", False: "no", None: "face?"}
        self.table.rows.show_rows(
            columns,
            [
                [
                    ("● " if c.family.id == plan.family else "   ") + c.family.label,
                    *(_bare(mm, units) for mm in (c.measuring_mm, c.overall_mm, c.spare_each_end_mm)),
                    fits[c.fits_face],
                ]
                for c in self._shown
            ],
        )
        self.table.fix_widths({1: 78, 2: 74, 3: 66, 4: 46})
        at = next((n for n, c in enumerate(self._shown) if c.family.id == plan.family), -1)
        if self.table.currentIndex().row() < 0 and self._shown:
            self.table.selectRow(max(0, at))

    def _show_stroke(self) -> None:
        stroke, row = self._stroke(), self.table.currentIndex().row()
        if 0 <= row < len(self._shown):
            self.judgement.setText(judge_choice(self._shown[row]).text(self.session.units))
        self.stroke.show_stroke(stroke, self.session.inks, self.session.units)
        if stroke is None:
            self.position.setText("")
            return
        at = format_plain(stroke.position_mm, self.session.units)
        reader = format_plain(stroke.reader_at_mm, self.session.units)
        self.position.setText(f"Axis {at} from its low stop, reader {reader} along the body.")

    def _trips(self) -> tuple[float, float] | None:
        job, axis = self.session.job, self.session.axis
        return trips_of(job, axis) if job is not None and axis is not None else None

    def _stroke(self) -> Stroke | None:
        """The chosen scale, or the one under the cursor while the table has the focus."""
        plan, result = self._plan(), self._result()
        if plan is None or result is None or result.travel_mm is None:
            return None
        row = self.table.currentIndex().row()
        family, measuring = result.family, mm_of(plan.measuring)
        if (self.table.hasFocus() or measuring is None or family is None) and 0 <= row < len(self._shown):
            family, measuring = self._shown[row].family, self._shown[row].measuring_mm
        if family is None or measuring is None or measuring <= 0:
            return None
        place = place_reader(
            family, measuring, result.travel_mm, max(0.0, plan.margin.mm), reader_follows=plan.scale_on == "still"
        )
        return Stroke(
            family,
            measuring,
            result.travel_mm,
            place,
            self._share * result.travel_mm,
            mm_of(plan.face),
            self._trips(),
        )


def _bare(mm: float, units: UnitSystem) -> str:
    return format_plain(mm, units).removesuffix(f" {units}")

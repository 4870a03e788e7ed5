"""Scale: which sizes serve, and where the reader sits."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QSize

from vernus.core.errors import VernusError
from vernus.core.finding import Mm, Sentence, Sold, directed, in_units
from vernus.core.plan.scales import ScaleChoice, judge_choice
from vernus.core.units import UnitSystem, format_plain
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.stroke_view import StrokeView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Label
from vernus.desktop.session import Session
from vernus.job.align.reader import setting_of
from vernus.job.catalog.families import family_edit
from vernus.job.catalog.shipped import margin_schools
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, Delivery, Entity, FamilyEdit, ReaderSetting, ScalePlan
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import Sourced, delivery_of
from vernus.job.known.lengths import face_length, measuring_length
from vernus.job.known.stored import Stored, store_of
from vernus.job.machine.geometry import axis_travel
from vernus.job.plan.scale import ScaleResult, scale_plan, scale_result
from vernus.job.plan.what_if import foretell
from vernus.paper.pages.machine.stroke import stroke_picture

_MOST_SIZES = 6
_OPTIONS = ("starts", "shift", "beside", "spare_at", "spare", "stand_off", "cover", "clearance", "price")
_THERE = (
    ("overall", "hole_from_end", "reader"),
    ("spare_low", "spare_high"),
    ("checked_on", "checked_off", "checked_over"),
)
"""What is told of a scale that is there already: sizes, spare at the stops, and its last check."""
_FORETOLD = ("starts", "shift", "spare")
"""What moves the body or the reader: what then changes at each end is said while it is typed."""
_FAMILY = (
    "sizes",
    "kits",
    "kit_price",
    "end_piece",
    "height",
    "depth",
    "reader",
    "reader_height",
    "reader_depth",
    "count_um",
    "price",
)


class ScaleSheet(Sheet):
    """Margin, face and wishes; the sizes side by side; the stroke picture."""

    name = "scale"
    title = "Scale"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._share: float | None = None
        self._shown: list[ScaleChoice] = []
        school = ChoiceRow("school", "Margin habit", [(None, "own margin")], self._take_school)
        school.offer([(None, "own margin"), *((s.margin_mm, s.label) for s in margin_schools())])
        self.school = school.box
        self.fields = [
            FigureRow(session, ScalePlan, "margin", self._plan),
            self._figure("face", "Length of the face", face_length),
            FigureRow(session, ScalePlan, "scale_on", self._plan),
        ]
        self.own_size = self._figure("measuring", "Measuring length", measuring_length)
        self.options = [FigureRow(session, ScalePlan, name, self._plan) for name in _OPTIONS]
        for row in self.options:
            if row.name in _FORETOLD and isinstance(row.editor, LengthField):
                row.editor.line.textEdited.connect(lambda text, row=row: self._foretell(row, row.editor, text))
        own = {"price": "family_price"}  # the plan has a price too
        self.family_fields = [FigureRow(session, FamilyEdit, n, self._family, name=own.get(n, n)) for n in _FAMILY]
        sizes, spare, check = _THERE
        self.there = [
            *(FigureRow(session, Delivery, field, self._came, name=f"came_{field}") for field in sizes),
            *(FigureRow(session, ReaderSetting, name, self._set) for name in spare),
            *(FigureRow(session, ScalePlan, name, self._plan) for name in check),
        ]
        self.table = Table("Sizes that serve")
        self.sizes = PartRow("offered", self.table)
        self.list = self.figures(
            Group("Sizes that serve", [self.sizes]),
            Group("What is wanted", [self.own_size, school, *self.fields]),
            Group("As it is there", self.there),
            Group("Where it lies", self.options, aside=True),
            Group("This family, as you know it", self.family_fields, aside=True),
        )
        self._needs = ""
        self.stroke = StrokeView(QSize(300, 258))
        self.stroke.moved.connect(self._move_reader)
        self.position = Label()
        self.position.setWordWrap(True)
        self.position.setObjectName("faint")
        self.table.two_lines()
        self.table.chosen.connect(self._choose)
        self.table.doubleClicked.connect(lambda index: self._choose(index.row()))
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_stroke())
        self.table.focus_moved.connect(self._show_stroke)
        self.entry.addWidget(self.list, 1)
        self.stroke.figures = self.list
        self.picture.addWidget(self.stroke, 1)
        self.picture.addWidget(self.position)
        self.hidden_on_bench = [self.position]

    def focus_entry(self) -> None:
        self.list.unfold("Sizes that serve")
        self.table.setFocus()

    def _figure(self, name: Stored, label: str, known: Callable[[Job, Axis], Sourced[float] | None]) -> FigureRow:
        """A field that shows what is known of a figure, and puts what is typed where it decides."""
        session = self.session

        def ask() -> Sourced[float] | None:
            return known(session.job, session.axis) if session.job is not None and session.axis is not None else None

        def store() -> tuple[Entity, str] | None:
            job, axis = session.job, session.axis
            return store_of(job, axis, name, new_id()) if job is not None and axis is not None else None

        return FigureRow(session, ScalePlan, name, self._plan, label=label, known=ask, store=store)

    def _plan(self) -> ScalePlan | None:
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        return scale_plan(job, axis)

    def _came(self) -> Delivery | None:
        """The sizes of a scale that is there, kept as those of one that came."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        return delivery_of(job, axis) or Delivery(id=new_id(), axis_id=axis.id)

    def _set(self) -> ReaderSetting | None:
        axis, job = self.session.axis, self.session.job
        return setting_of(job, axis, new_id()) if axis is not None and job is not None else None

    def _family(self) -> FamilyEdit | None:
        """The user's own figures for the family under the cursor, or the chosen one."""
        job, plan, row = self.session.job, self._plan(), self.table.currentIndex().row()
        name = self._shown[row].family.id if 0 <= row < len(self._shown) else plan.family if plan else ""
        return family_edit(job, name, new_id()) if job is not None and name else None

    def _take_school(self, margin_mm: object) -> None:
        plan = self._plan()
        if plan is not None and isinstance(margin_mm, float | int):
            self.session.apply("margin habit", [plan.with_(margin=LengthEntry(mm=float(margin_mm)))])

    def _choose(self, row: int) -> None:
        plan = self._plan()
        if plan is not None and 0 <= row < len(self._shown):
            choice = self._shown[row]
            put = plan.with_(family=choice.family.id, measuring=LengthEntry(mm=choice.measuring_mm))
            self.session.apply(f"choose {choice.family.label}", [put])

    def _foretell(self, row: FigureRow, field: LengthField, text: str) -> None:
        """Say beside the drawing what the figure being typed would change at each end of the travels."""
        plan, job, axis = self._plan(), self.session.job, self.session.axis
        if plan is None or job is None or axis is None or job.get(plan.id) is None:
            return
        try:
            said = plan.with_(**{row.name: field.parse(text) if text.strip() else None})
        except VernusError:
            return
        self.hand_words.show_words(row.label, foretell(job, axis, said, self.session.units))

    def _move_reader(self, position_mm: float) -> None:
        far = self._travel()
        if far:
            self._share = position_mm / far
            self._show_stroke()

    def _travel(self) -> float | None:
        """The travel from mark to mark (mm)."""
        axis, job = self.session.axis, self.session.job
        return axis_travel(job, axis) if axis is not None and job is not None else None

    def _result(self) -> ScaleResult | None:
        axis, job = self.session.axis, self.session.job
        return scale_result(job, axis) if axis is not None and job is not None else None

    def refresh(self) -> None:
        plan, result = self._plan(), self._result()
        if plan is None or result is None:
            return
        self.heading.setText(f"Scale for {self.about_axis()}")
        axis = self.session.axis
        for row in self.there:
            row.leave_out(axis is None or axis.readout != "there")
        self.list.refresh()
        if axis is not None:
            self.fields[2].offer([("", "as its face says"), ("moving", axis.moving), ("still", axis.still)])
            self.fields[2].refresh()
        self.school.setCurrentIndex(max(0, self.school.findData(plan.margin.mm)))
        self._shown = list(result.choices)
        self._show_choices(plan)
        self._needs = f"{result.family.label} wants: {result.family.needs}." if result.family else ""
        self.advise(result.instruction)
        if result.placement is None or result.measuring_mm is None or result.family is None:
            far = result.travel_mm
            need = "" if far is None else in_units(self.session.units, "for a travel of {far}", far=Mm(far))
            self.headline.show_answer(self.session, "not chosen yet", need)
        else:
            serious = any(f.severity == "stop" for f in result.findings)
            figure = format_plain(result.measuring_mm, self.session.units)
            under = f"{result.family.label}; {self.words_of('spare')}".removesuffix("; ")
            self.headline.show_answer(self.session, figure, under, "stop" if serious else None)
        self._show_stroke()

    def _on_face(self) -> str:
        """Where the body lies on the chosen face."""
        return self.words_of("body") or "Choose a face to see where the body lies on it."

    def _show_choices(self, plan: ScalePlan) -> None:
        fits = {True: "fits", False: "too long", None: "face?"}
        rows = []
        for c in self._shown:
            measures, overall, spare = self._row(c, plan)
            mark = "● " if c.family.id == plan.family else ""
            rows.append([f"{mark}{c.family.label}\n{measures} / {overall} / {spare}", fits[c.fits_face]])
        columns = [Column("measures / overall / spare", False), Column("fits", False)]
        self.table.rows.show_rows(columns, rows, [c.family.id for c in self._shown])
        self.table.fix_widths({1: 82})
        self.sizes.show_count(len(rows), _MOST_SIZES)
        self.list.tell()
        at = next((n for n, c in enumerate(self._shown) if c.family.id == plan.family), -1)
        if self.table.currentIndex().row() < 0 and self._shown:
            self.table.selectRow(max(0, at))

    def _row(self, choice: ScaleChoice, plan: ScalePlan) -> tuple[str, str, str]:
        """What a size measures, is overall and has to spare: the one chosen as it is, not as the list has it."""
        units, result = self.session.units, self._result()
        place = None if result is None or choice.family.id != plan.family else result.placement
        if result is None or place is None or result.measuring_mm is None or result.body_mm is None:
            return _size(choice, units), _bare(choice.overall_mm, units), _bare(choice.spare_each_end_mm, units)
        as_it_is = replace(choice, measuring_mm=result.measuring_mm)
        return _size(as_it_is, units), _bare(result.body_mm, units), _bare(min(place.spare_mm), units)

    def _judge(self, choice: ScaleChoice) -> None:
        """The size under the cursor in words, beside the drawing, while the cursor is among the sizes."""
        if self.table.hasFocus():
            judged = judge_choice(choice).text(self.session.units)
            self.hand_words.show_words("", f"{judged} {self._needs}".strip())

    def _show_stroke(self) -> None:
        """The line with the chosen scale, or with the one under the cursor while the table has the focus."""
        job, axis, row, far = self.session.job, self.session.axis, self.table.currentIndex().row(), self._travel()
        if 0 <= row < len(self._shown):
            self._judge(self._shown[row])
        result = self._result()
        if job is None or axis is None or result is None or far is None:
            self.stroke.show_stroke(None, self.session.inks, self.session.units)
            self.position.setText(self._on_face())
            return
        open_ = result.measuring_mm is None or result.family is None
        looked = self._shown[row] if (self.table.hasFocus() or open_) and 0 <= row < len(self._shown) else None
        other = None if looked is None else (looked.family, looked.measuring_mm)
        place = result.placement
        middle = far / 2 if place is None else place.axis_at_mm
        at = middle if self._share is None else self._share * far
        self.stroke.show_stroke(stroke_picture(job, axis, at, other), self.session.inks, self.session.units)
        if place is None:
            self.position.setText(self._on_face())
            return
        where = Sentence(
            "Axis {at} from its {@low} mark, the reader's middle {reader} from the body's {@left} end.",
            {"at": Mm(at), "reader": Mm(place.reader_mm(at))},
        )
        said = directed(where, self.session.directions).text(self.session.units)
        self.position.setText(f"{self._on_face()} {said}")


def _size(choice: ScaleChoice, units: UnitSystem) -> str:
    """The size as it is sold, or as it is cut."""
    if choice.cut_to_mm is not None:
        return _bare(choice.measuring_mm, units)
    nominal = Sold(choice.measuring_mm).nominal_in
    return str(nominal) if units == "in" and nominal is not None else _bare(choice.measuring_mm, units)


def _bare(mm: float, units: UnitSystem) -> str:
    return format_plain(mm, units, with_unit=False)

"""Part: find the middle, drive to a pattern of holes, and be told what the drilled part says of both axes."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Ppm, in_units
from vernus.core.units import UnitSystem, format_in, format_plain
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.marks import MarkName
from vernus.desktop.parts.number_field import NumberField
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.row import PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import TrialPart
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.prove.part import (
    DECIMALS,
    PartResult,
    found_places,
    next_hole,
    off_places,
    part_result,
    trial_part,
    with_place,
    with_span,
    without_measured,
)
from vernus.paper.drawing.act import paint_edges
from vernus.paper.drawing.prove.holes import FOUND, REMAINS, paint_holes

_FIELDS = (
    "pattern", "holes", "radius", "start_deg", "span_deg", "pitch", "angle_deg", "x_first", "x_second", "y_first",
    "y_second", "finder", "touched",
)  # fmt: skip
_ONLY_FOR = {
    "radius": ("circle", "arc"), "start_deg": ("circle", "arc"), "span_deg": ("arc",), "pitch": ("row",),
    "angle_deg": ("row",),
}  # fmt: skip

_MOST_MEASURED, _MOST_HOLES = 5, 8


class PartSheet(Sheet):
    """The pattern on the left, drawn on the right with the table to drive to; measured holes by place or distance."""

    name = "part"
    title = "Part"
    caution = "Clamp the part so that it can't turn, and keep fingers off the drill. Eye protection."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._draft = TrialPart(id=new_id())
        self.fields = [FigureRow(session, TrialPart, name, self.part) for name in _FIELDS]
        edges = self.fields[_FIELDS.index("x_first") :]
        self.table = Table("Holes to drive to")
        self.drive = PartRow("hole_table", self.table)
        self.list = self.figures(
            Group("Pattern", [f for f in self.fields if f not in edges]),
            Group("Middle, by its edges", edges),
            Group("Drive to", [self.drive]),
        )
        self.hole, self.other = NumberField("Hole"), NumberField("To hole")
        fine = partial(session.unit, "length")
        self.across = LengthField("Measured X", fine, optional=False, logging=True)
        self.along = LengthField("Measured Y", fine, optional=False, logging=True)
        self.apart = LengthField("Distance, middle to middle", fine, optional=False, logging=True)
        self.from_hole = NumberField("From hole")
        self.across.accepted.connect(lambda _entry: self.along.setFocus())
        self.along.accepted.connect(self._log_place)
        self.apart.accepted.connect(self._log_span)
        self.tabs = Tabs(
            (
                ("Drive to", self.list),
                ("Places", _rows((("Hole", self.hole), ("X measured", self.across), ("Y measured", self.along)))),
                ("Distances", _rows((("From hole", self.from_hole), ("To hole", self.other),
                                     ("Middle to middle", self.apart)))),
            )
        )  # fmt: skip
        self.tabs.turned.connect(self.refresh)
        self.measured = Table("Measured on the drilled part")
        self.measured.delete_pressed.connect(self._delete)
        self.entry.addWidget(self.tabs, 1)
        self.entry.addWidget(self.measured)
        self.view = Picture("The holes", QSize(300, 240))
        self.left_view = Picture("What remains", QSize(300, 240))
        self.views = Tabs((("Found", self.view), ("What remains", self.left_view)), by_key=False)
        self.halved = Words("")
        self.picture.addWidget(self.halved)
        self.picture.addWidget(self.views, 1)
        self.bench_fields = [self.across, self.along, self.apart]
        self.hidden_on_bench = [*self.tabs.buttons.values(), *self.views.buttons.values(), self.measured]

    def part(self) -> TrialPart | None:
        """The part in hand; one that isn't in the job yet is kept here until its first edit."""
        job = self.session.job
        return None if job is None else trial_part(job, "") if job.all(TrialPart) else self._draft

    def focus_entry(self) -> None:
        if self.tabs.stack.currentIndex() == 0:
            self.list.hold_first()
        else:
            (self.across if self.tabs.stack.currentIndex() == 1 else self.from_hole).setFocus()

    def _number(self, field: NumberField) -> int | None:
        """The hole's number typed in a field, or None after saying what is wrong."""
        text = field.line.text().strip()
        if text.isdigit() and 1 <= int(text) <= round((self.part() or self._draft).holes):
            return int(text)
        field.complain(f"A whole number from 1 to {(self.part() or self._draft).holes:g}.")
        return None

    def _log_place(self, y: LengthEntry) -> None:
        part, x, hole = self.part(), self.across.read(), self._number(self.hole)
        if part is None or x is None or hole is None:
            return
        if self.session.apply(f"hole {hole} measured", [with_place(part, hole, x, y)]):
            for field in (self.hole, self.across, self.along):
                field.clear()
            self.refresh()
            self.across.setFocus()

    def _log_span(self, apart: LengthEntry) -> None:
        part, first, second = self.part(), self._number(self.from_hole), self._number(self.other)
        if part is None or first is None or second is None:
            return
        try:
            changed = with_span(part, first, second, apart)
        except BadInputError as error:
            self.session.notice.emit(str(error))
            return
        if self.session.apply("distance measured", [changed]):
            for field in (self.from_hole, self.other, self.apart):
                field.clear()
            self.refresh()
            self.from_hole.setFocus()

    def _delete(self, row: int) -> None:
        part = self.part()
        if part is not None and row < len(part.places) + len(part.spans):
            self.session.apply("delete what was measured", [without_measured(part, row)])

    def refresh(self) -> None:
        job, part = self.session.job, self.part()
        if job is None or part is None:
            return
        self.heading.setText("A part as proof")
        for field in self.fields:
            field.leave_out(part.pattern not in _ONLY_FOR.get(field.name, (part.pattern,)))
        self.list.refresh()
        result = part_result(job, part)
        self.advise(result.instruction)
        due = next_hole(part, len(result.holes))
        if not self.hole.draft:
            self.hole.show_value(None if due is None else float(due))
        for entry in (self.across, self.along, self.apart):
            entry.show_entry(None)
        self._show_measured(part)
        self._show_holes(part, result)
        self._show_answer(part, result)

    def _show_measured(self, part: TrialPart) -> None:
        unit = self.session.unit("length")
        rows = [[f"hole {p.hole}", p.x.shown(unit), p.y.shown(unit)] for p in part.places]
        rows += [[f"{s.first} to {s.second}", f"{s.apart.shown(unit)} apart", ""] for s in part.spans]
        columns = [Column("measured", False), Column(f"x, {unit}"), Column(f"y, {unit}")]
        self.measured.rows.show_rows(columns, rows)
        self.measured.keep_to(0 if self.on_bench else len(rows), _MOST_MEASURED)

    def _show_holes(self, part: TrialPart, result: PartResult) -> None:
        units, axes = self.session.units, ("X", "Y")
        say = partial(format_plain, system=units)
        lines = [
            f"{axis}: the middle is at {say(m.middle_mm)}; {say(m.width_mm)} between the edges."
            for axis, m in zip(axes, result.middle, strict=True)
            if m is not None
        ]
        self.halved.setText(" ".join(lines))
        self.halved.setVisible(bool(lines))
        both = None not in result.middle
        columns = [Column("hole", False), Column(f"X, {units}"), Column(f"Y, {units}")]
        columns += [Column("X shown"), Column("Y shown")] if both else []
        bare = partial(format_in, unit=units, decimals=DECIMALS[units], with_unit=False)
        rows = []
        for number, (x, y) in enumerate(result.holes, 1):
            seen = [bare(mm) for mm in result.shown(number)] if both else []
            rows.append([str(number), bare(x), bare(y), *seen])
        self.table.rows.show_rows(columns, rows)
        self.drive.show_count(len(rows), _MOST_HOLES)
        self.list.tell()
        paint: Any = partial(
            paint_holes, holes=result.holes, inks=self.session.inks, units=units,
            radius_mm=None if part.pattern == "row" else mm_of(part.radius),
        )  # fmt: skip
        found = found_places(part, result)
        for button in self.views.buttons.values():
            button.setVisible(found is not None and not self.on_bench)
        if found is None:
            self.views.turn_to("found")
        for view, off, told in (
            (self.view, found, FOUND),
            (self.left_view, off_places(part, result), REMAINS),
        ):
            begun = partial(paint, off_mm=off, told=told)
            view.show_drawing(begun if result.holes else partial(paint_edges, inks=self.session.inks))

    def _show_answer(self, part: TrialPart, result: PartResult) -> None:
        check = result.check
        if check is None:
            kind = {"circle": "on a circle", "arc": "on part of a circle", "row": "in a row"}[part.pattern]
            figure = f"{len(result.holes)} hole{'' if len(result.holes) == 1 else 's'} {kind}"
            self.headline.show_answer(self.session, figure if result.holes else "no pattern yet", "from the middle")
            return
        mark: MarkName = "fail" if any(f.severity != "info" for f in result.findings) else "pass"
        figure, under = answer_words(result, self.session.units)
        self.headline.show_answer(self.session, figure, under, mark if check.freedom > 0 else "unsure")


def answer_words(result: PartResult, units: UnitSystem) -> tuple[str, str]:
    """Both scales and the squareness as measured, with their U (95 %); the big figure and the line under it."""
    check = result.check
    if check is None:
        return "", ""

    def sure(expanded: float | None) -> str:
        return "± ?" if expanded is None else f"± {expanded * 1e6:.0f}"

    x, y = (Ppm((s - 1) * 1e6).show(units).removesuffix(" ppm") for s in (check.scale_x, check.scale_y))
    figure = f"X {x} {sure(check.expanded_x)}, Y {y} {sure(check.expanded_y)} ppm"
    under = f"out of square {check.squareness * 1e6:+.0f} {sure(check.expanded_square)} µm per metre; what remains is "
    return figure, in_units(units, "{under}{rms} (rms)", under=under.replace("-", "−"), rms=Fine(check.rms_mm))


def _rows(fields: tuple[tuple[str, QWidget], ...]) -> QWidget:
    """A row of small fields with their titles over them."""
    face = QWidget()
    box = QVBoxLayout(face)
    box.setContentsMargins(0, 0, 0, 0)
    row = QHBoxLayout()
    for words, field in fields:
        column = QVBoxLayout()
        column.setSpacing(2)
        title = Label(words)
        title.setObjectName("faint")
        column.addWidget(title)
        column.addWidget(field)
        row.addLayout(column, 1)
    box.addLayout(row)
    box.addStretch(1)
    face.setFocusProxy(fields[0][1])
    return face

"""Reader: the gap by feelers over the stroke, and the checklist of the scale's family."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize

from vernus.core.align.reader import GAP_WORDS, GapAt
from vernus.core.doubt import Yardstick
from vernus.core.finding import Mm, in_units
from vernus.core.units import format_fine
from vernus.desktop.parts.asked_view import AskedView, figures_of
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.row import PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.stroke_view import StrokeView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.align.reader import CHECKS, ReaderResult, checks_for, gap_by, reader_result, setting_of
from vernus.job.document import new_id
from vernus.job.doubts import along_yardstick, gap_yardstick
from vernus.job.entities import GapCheck, ReaderSetting
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.known.axis_figures import Sourced
from vernus.job.known.lengths import body_length, family_of, reader_length
from vernus.job.machine.travel import travel_result
from vernus.paper.drawing.align.gap import paint_gap
from vernus.paper.drawing.align.head import head_sketch
from vernus.paper.pages.machine.stroke import stroke_picture

_SAME_MM = 1e-6
_OF_GAP = ("gap_set", "shim", "gap_least", "gap_most")
_OF_TAPE = ("side_by", "side_room", "yaw_deg", "yaw_room_deg")
_GROUPS = {
    "Checklist": CHECKS,
    "How the gap is set": ("gap_by", *_OF_GAP),
    "As it sits": ("high_by", *_OF_TAPE, "spare_low", "spare_high", "as_built", "push"),
}
_FIELDS = tuple(name for names in _GROUPS.values() for name in names)
_MOST_GAPS = 4


class ReaderSheet(Sheet):
    """Station, the feeler that goes in, the one that doesn't; Enter after each."""

    name = "reader"
    title = "Reader"
    caution = "Shipping clips come off before the axis is moved; run it by hand, isolated, while setting the gap."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.station = LengthField(
            "Station", lambda: session.unit("length"), optional=False, logging=True, compare=self._along
        )
        self.go = LengthField(
            "Goes in", lambda: session.unit("fine"), optional=False, logging=True, compare=self._feelers
        )
        self.no_go = LengthField("Doesn't", lambda: session.unit("fine"), logging=True, compare=self._feelers)
        self.station.accepted.connect(lambda _e: self.go.setFocus())
        self.go.accepted.connect(lambda _e: self.no_go.setFocus())
        self.no_go.accepted.connect(self._log)
        self.ask = Words("")
        self.table = Table("Gaps noted")
        self.table.delete_pressed.connect(self._delete)
        self.fields = [
            FigureRow(session, ReaderSetting, name, self._setting, known=partial(self._family_gap, name))
            for name in _FIELDS
        ]
        named = {row.name: row for row in self.fields}
        self.tried = PartRow("tried", self.table)
        groups = [Group(words, [named[n] for n in names]) for words, names in _GROUPS.items()]
        self.list = self.figures(Group("Gaps tried", [self.tried]), *groups)
        self._log_face()
        self.entry.addWidget(self.list, 1)
        self.chart = Picture("Gap over the stroke", QSize(320, 160))
        self.checks = Words("")
        self.line = StrokeView(QSize(300, 228), still=True)
        self.head = AskedView("The reader over its scale", QSize(320, 150), lambda: self.list)
        self.picture.addWidget(self.head, 1)
        self.picture.addWidget(self.chart, 1)
        self.line.figures = self.list
        self.picture.addWidget(self.line)
        self.picture.addWidget(self.checks)
        self.bench_fields = [self.station, self.go, self.no_go]
        self.hidden_on_bench = [self.line, self.checks]

    def _log_face(self) -> None:
        box = self.entry
        box.addWidget(self.ask)
        self.titles: list[Words] = []
        for words, field in (("Station of the stroke", self.station), ("Thickest feeler that goes in", self.go),
                             ("Thinnest that doesn't (Enter alone: none tried)", self.no_go)):  # fmt: skip
            title = Words(words, "faint")
            self.titles.append(title)
            box.addWidget(title)
            box.addWidget(field)

    def focus_entry(self) -> None:
        if self.go.isVisibleTo(self):
            self.go.setFocus()
        else:
            self.list.hold_first()

    def _setting(self) -> ReaderSetting | None:
        axis, job = self.session.axis, self.session.job
        return setting_of(job, axis, new_id()) if axis is not None and job is not None else None

    def _family_gap(self, name: str) -> Sourced[float] | None:
        """The gap that the family wants, for the two fields of it."""
        axis, job = self.session.axis, self.session.job
        family = family_of(job, axis) if axis is not None and job is not None else None
        if family is None or name not in ("gap_least", "gap_most") or not family.gap_mm[1] > 0:
            return None
        return Sourced(family.gap_mm[name == "gap_most"], "template", "gap")

    def _along(self) -> Yardstick | None:
        job, axis = self.session.job, self.session.axis
        return along_yardstick(job, axis) if job is not None and axis is not None else None

    def _feelers(self) -> Yardstick | None:
        job, axis = self.session.job, self.session.axis
        return None if job is None or axis is None else gap_yardstick(job, axis)

    def _gaps(self) -> list[GapCheck]:
        axis, job = self.session.axis, self.session.job
        return job.of_axis(GapCheck, axis.id) if axis is not None and job is not None else []

    def _log(self, no_go: LengthEntry | None) -> None:
        axis, station, go = self.session.axis, self.station.read(), self.go.read()
        if axis is None or station is None or go is None:
            return
        if no_go is not None and no_go.mm <= go.mm:
            self.no_go.complain("This feeler must be thicker than the one that goes in.")
            return
        again = next((g for g in self._gaps() if abs(g.station.mm - station.mm) < _SAME_MM), None)
        put = GapCheck(id=new_id() if again is None else again.id, axis_id=axis.id, station=station, go=go, no_go=no_go)
        if self.session.apply("gap", [put]):
            for field in (self.station, self.go, self.no_go):
                field.clear()
            self.refresh()
            self.go.setFocus()

    def _delete(self, row: int) -> None:
        gaps = self._gaps()
        if row < len(gaps):
            self.session.apply("delete a gap", drop=[gaps[row].id])

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None:
            return
        self.heading.setText(f"Set the reader of {self.about_axis()}")
        wanted, by = checks_for(job, axis), gap_by(job, axis)
        family = family_of(job, axis)
        hidden = {*CHECKS} - {*wanted} | ({*_OF_GAP} if by == "none" else {"gap_set"} if by == "feeler" else set())
        hidden |= set() if by in ("shim", "strip") else {"shim"}
        hidden |= set() if family is not None and family.body_type == "tape" else {*_OF_TAPE}
        for field in self.fields:
            field.leave_out(field.name in hidden)
        self.list.refresh()
        for part in (*self.titles, self.station, self.go, self.no_go):
            part.setVisible(by != "none")
        self._propose(travel_result(job, axis).useful_mm)
        along, fine = self.session.unit("length"), self.session.unit("fine")
        self.table.rows.show_rows(
            [Column(f"at, {along}"), Column(f"goes, {fine}"), Column("doesn't")],
            [
                [g.station.shown(along), g.go.shown(fine), "–" if g.no_go is None else g.no_go.shown(fine)]
                for g in self._gaps()
            ],
        )
        self.tried.show_count(0 if by == "none" else len(self._gaps()), _MOST_GAPS)
        self.list.tell()
        self.line.show_stroke(stroke_picture(job, axis), self.session.inks, self.session.units)
        result = reader_result(job, axis)
        self.advise(result.instruction)
        self._show(result)

    def _show_head(self, result: ReaderResult) -> None:
        """The reader over its scale; once the gap is tried its chart takes the place."""
        job, axis = self.session.job, self.session.axis
        wide = (result.gap is None or result.by == "none") and job is not None and axis is not None
        self.head.setVisible(wide)
        self.chart.setVisible(not wide)
        if not wide or job is None or axis is None:
            return
        _, figures, names = figures_of(self.fields, self.session.units)
        body, reader = body_length(job, axis), reader_length(job, axis)
        long = 500.0 if body is None else body.value
        head = long / 5 if reader is None else min(reader.value, long)
        self.head.show_sketch(head_sketch(long, head, figures, names, ""), self.session.inks)

    def _propose(self, travel_mm: float | None) -> None:
        """Both ends and the middle of the stroke, in this order."""
        gaps = self._gaps()
        places = (0.0, 0.5, 1.0)
        job, axis = self.session.job, self.session.axis
        job_by = "" if job is None or axis is None else gap_by(job, axis)
        if self.station.draft:
            return
        at = None if travel_mm is None or len(gaps) >= len(places) else places[len(gaps)] * travel_mm
        entry = None if at is None else LengthEntry(mm=float(round(at)))
        self.station.show_entry(entry)
        if job_by == "none":
            self.ask.show()
            self.ask.setText("This scale's reader has no gap to be set; the checklist is left.")
            return
        self.ask.setText(
            "" if entry is None else in_units(self.session.units, "Axis at {at} of its stroke", at=Mm(entry.mm))
        )
        self.ask.setVisible(bool(self.ask.text()))

    def _show_without_feelers(self, result: ReaderResult, wanted: str) -> None:
        """What is known of the gap while no feeler was tried: how it was set, or that there is none."""
        self.chart.show_drawing(None)
        if result.by == "none":
            self.headline.show_answer(self.session, "no gap", "nothing to be set on this kind of scale", None)
            return
        tool = GAP_WORDS.get(result.by)
        figure = f"set by {tool}" if tool is not None and result.verdict == "pass" else "no gap yet"
        by = "by feelers" if tool is None else f"by {tool}"
        self.headline.show_answer(
            self.session, figure, f"{wanted}, {by}", None if result.verdict == "unsure" else result.verdict
        )

    def _show(self, result: ReaderResult) -> None:
        units = self.session.units
        low, high = (format_fine(mm, units) for mm in result.wanted_mm)
        wanted = f"wanted {low}" if low == high else f"wanted {low} to {high}"
        still = ", ".join(f.label.rstrip("?").lower() for f in self.fields if f.name in result.open_checks)
        self.checks.setText(f"Still to check: {still}." if still else "The checklist is done.")
        self._show_head(result)
        if result.gap is None:
            self._show_without_feelers(result, wanted)
            return
        tried = result.gap
        most = "more" if tried.most_mm is None else format_fine(tried.most_mm, units)
        least = format_fine(tried.least_mm, units, with_unit=False)
        self.headline.show_answer(self.session, f"{least} to {most}", f"gap over the stroke; {wanted}", tried.verdict)
        gaps = [GapAt(g.station.mm, g.go.mm, mm_of(g.no_go)) for g in self._gaps()]
        self.chart.show_drawing(
            partial(paint_gap, gaps=gaps, wanted_mm=result.wanted_mm, inks=self.session.inks, units=units)
        )

"""Mounts: the parts to make, their holes and stacks; drill list, DXF and the 1:1 paper template."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, in_units
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import FACE_WORDS, Part
from vernus.core.units import format_plain
from vernus.desktop.parts.asked_view import AskedView, figures_of
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.part_files import PartFiles
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, DrilledHole, Entity, HolePattern, JobInfo, MountPart, PartCut, StackHeight
from vernus.job.known.axis_figures import delivery_of
from vernus.job.make.carried import SourceHole, source_holes
from vernus.job.make.lean import draft_words, jack_holes
from vernus.job.make.mounts import MountResult, hole_words, mount_result
from vernus.job.make.new_parts import (
    face_part,
    new_part,
    other_hand,
    plate_over_holes,
    t_nut_part,
    usual_jack,
    usual_screw,
    with_usual_holes,
)
from vernus.job.make.parts import cuts_of, heights_of, holes_of, patterns_of
from vernus.job.make.served import parts_of, unserved
from vernus.paper.drawing.act import paint_parts
from vernus.paper.drawing.make.block import block_sketch
from vernus.paper.drawing.make.part import paint_part

_PART = {
    "What it is": (
        "name", "part_kind", "serves", "nose", "outside", "length", "width", "thickness", "leg", "bend_deg", "material",
    ),
    "What it joins": ("carries", "bolts_to", "fills", "gap", "wanted", "room", "fixed", "tape_thick", "tape_wide"),
    "Piece at hand, and draft": ("stock_length", "stock_width", "stock_thick", "draft_rise", "draft_over"),
}  # fmt: skip
_HOLE = {
    "": ("face", "x", "y", "hole_kind", "thread", "adjust", "angle", "bore", "worked_from", "depth", "behind", "nut",
         "wall"),
}  # fmt: skip
_PATTERN = {
    "Pattern": ("shape", "source", "turned", "face", "x", "y", "count", "apart", "rows", "rows_apart", "radius",
                "start", "off_x", "off_y"),
    "Its holes": ("hole_kind", "thread", "adjust", "angle", "nut", "wall"),
}  # fmt: skip
_CUT = {"": ("cut_kind", "face", "x", "y", "wide", "high", "deep")}
_HEIGHT = {"": ("name", "height", "tolerance")}
_MOST_HOLES, _LEAST_HOLES = 6, 2
_MOST_TICKS = 5


class MountsSheet(Sheet):
    """Parts, holes and heights as lists; the part to scale with its hole table."""

    name = "mounts"
    title = "Mounts"
    caution = "Eye protection for drilling; clamp the part. Find out what is behind a wall before drilling into it."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._asked = ""
        self.files = PartFiles(session, self, self._drawn)
        self._make_lists(session)
        self._faces = (
            ("Parts", self.parts), ("Holes", self.holes), ("Rows", self.patterns), ("Cuts", self.cuts),
            ("Stack", self.heights),
        )  # fmt: skip
        for _, entities in self._faces:
            entities.figures.held.connect(partial(self._hold, entities.figures))
        self.schools = [FigureRow(session, JobInfo, n, self._info) for n in ("hole_school", "drills_owned")]
        self.habits = self.figures(Group("Habits of this job", self.schools))
        self.tabs = Tabs((*self._faces, ("Habits", self.habits)))
        self.tabs.turned.connect(self.refresh)
        self.parts.chosen.connect(lambda: self.refresh())
        self.entry.addWidget(self.tabs, 1)
        self.view = Picture("The part to scale", QSize(300, 215))
        self.table = Table("Hole table")
        self.table.wrap_words()
        self.tools = Words("", "faint")
        buttons = proposed = QHBoxLayout()
        files = QHBoxLayout()
        for row in (buttons, files):
            row.setSpacing(4)
        self.usual = self._button("Usual holes", self._usual, buttons)
        self.hand = self._button("Other hand", self._other_hand, buttons)
        self.from_face = self._button("From face", self._face, proposed)
        self.over = self._button("Plate over holes", self._plate, proposed)
        self.nut = self._button("T-nut bar", self._t_nut, proposed)
        self.jack = self._button("Jack screws", self._jacks, buttons)
        self.dxf = self._button("Write DXF…", self.files.ask_and_write_dxf, files)
        self.paper = self._button("1:1 paper template…", self.files.ask_and_write_template, files)
        self.block = AskedView("The part's sizes", QSize(300, 170), lambda: self.parts.figures)
        for drawing in (self.block, self.view):
            self.picture.addWidget(drawing, 1)
        self.picture.addWidget(self.table)
        self.picture.addWidget(self.tools)
        self.picture.addLayout(buttons)
        self.entry.addLayout(files)
        self.hidden_on_bench = [self.tabs, self.table, self.tools, self.usual]
        self.hidden_on_bench += [self.from_face, self.over, self.nut, self.dxf, self.paper, self.hand]
        self.hidden_on_bench.append(self.jack)

    def _make_lists(self, session: Session) -> None:
        """Parts, and the chosen part's holes, patterns, cuts and heights."""
        self.parts = EntityList(
            session, "Parts", MountPart, _PART, self._parts, [Column("part", False), Column("is", False)],
            lambda p: [p.name, p.part_kind], self._new_part, 88, self._unserved,
        )  # fmt: skip
        self.holes = EntityList(
            session, "Holes", DrilledHole, _HOLE, self._holes, [Column("at x"), Column("y"), Column("for", False)],
            lambda h: [h.x.shown(session.unit("length")), h.y.shown(session.unit("length")), _for(h)],
            lambda: self._of_part(lambda part: DrilledHole(id=new_id(), part_id=part.id, thread=self._screw())),
        )  # fmt: skip
        self.heights = EntityList(
            session, "Heights of the stack", StackHeight, _HEIGHT, self._heights,
            [Column("what", False), Column("height")],
            lambda h: [h.name, h.height.shown(session.unit("length"))],
            lambda: self._of_part(lambda part: StackHeight(id=new_id(), part_id=part.id, name="what it is")),
        )  # fmt: skip
        self.patterns = EntityList(
            session, "Patterns of holes", HolePattern, _PATTERN, self._patterns,
            [Column("pattern", False), Column("for", False)], lambda p: [p.shape, p.thread],
            lambda: self._of_part(lambda part: HolePattern(id=new_id(), part_id=part.id, thread=self._screw())), 0,
            self._reader_thread,
        )  # fmt: skip
        self.ticks = Table("Holes that are carried")
        self.ticks.chosen.connect(self._tick)
        self.patterns.layout().addWidget(self.ticks)  # type: ignore[union-attr]
        self.cuts = EntityList(
            session, "Steps, tongues, pockets", PartCut, _CUT, self._cuts,
            [Column("cut", False), Column("on its", False)], lambda c: [c.cut_kind, FACE_WORDS[c.face]],
            lambda: self._of_part(lambda part: PartCut(id=new_id(), part_id=part.id)),
        )  # fmt: skip

    def _unserved(self, part: MountPart) -> MountPart:
        """A part as it is stored: what only follows from what it serves is left open."""
        return part if self.session.job is None else unserved(self.session.job, part)

    def _reader_thread(self, pattern: HolePattern) -> HolePattern:
        """A pattern just carried from the reader takes the reader's threads, where those are noted."""
        job, axis = self.session.job, self.session.axis
        was = None if job is None else job.get(pattern.id)
        arrived = None if job is None or axis is None else delivery_of(job, axis)
        new = isinstance(was, HolePattern) and was.source != pattern.source
        if not new or pattern.source != "reader" or arrived is None or not arrived.reader_thread:
            return pattern
        settled: HolePattern = pattern.with_(thread=arrived.reader_thread)
        return settled

    def _tick(self, number: int) -> None:
        """Carry a hole of the source, or leave it out."""
        pattern, part, job = self.patterns.current(), self.part(), self.session.job
        if not isinstance(pattern, HolePattern) or part is None or job is None:
            return
        out = {n for n, (_, carried) in enumerate(source_holes(job, part, pattern)) if not carried} ^ {number}
        self.session.apply("holes carried", [pattern.with_(left_out=tuple(sorted(out)))])

    def _show_ticks(self) -> None:
        """The holes a pattern can carry, those that it does ticked."""
        pattern, part, job = self.patterns.current(), self.part(), self.session.job
        holes: list[tuple[SourceHole, bool]] = []
        if isinstance(pattern, HolePattern) and pattern.shape == "carried" and part is not None and job is not None:
            try:
                holes = source_holes(job, part, pattern)
            except BadInputError:
                holes = []  # told with the part

        def at(hole: SourceHole) -> str:
            return "; ".join(format_plain(mm, self.session.units, with_unit=False) for mm in hole.at)

        self.ticks.setVisible(bool(holes))
        self.ticks.rows.show_rows(
            [Column("", False), Column("at"), Column("it is", False)],
            [["✓" if carried else "–", at(h), h.words] for h, carried in holes],
        )
        self.ticks.fix_widths({0: 26, 1: 92})
        self.ticks.keep_to(len(holes), _MOST_TICKS)

    def _button(self, words: str, act: Callable[[], object], row: QHBoxLayout) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName("tight")
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.clicked.connect(lambda _checked=False: act())
        row.addWidget(button)
        return button

    def _hold(self, figures: FigureList, _name: str) -> None:
        self.show_hand(figures)

    def focus_entry(self) -> None:
        self.tabs.focus_face()

    def _parts(self) -> list[MountPart]:
        axis, job = self.session.axis, self.session.job
        return parts_of(job, axis) if axis is not None and job is not None else []

    def part(self) -> MountPart | None:
        """The part chosen."""
        found = self.parts.current()
        return found if isinstance(found, MountPart) else None

    def _holes(self) -> list[DrilledHole]:
        part, job = self.part(), self.session.job
        return holes_of(job, part) if part is not None and job is not None else []

    def _patterns(self) -> list[HolePattern]:
        part, job = self.part(), self.session.job
        return patterns_of(job, part) if part is not None and job is not None else []

    def _cuts(self) -> list[PartCut]:
        part, job = self.part(), self.session.job
        return cuts_of(job, part) if part is not None and job is not None else []

    def _heights(self) -> list[StackHeight]:
        part, job = self.part(), self.session.job
        return heights_of(job, part) if part is not None and job is not None else []

    def _new_part(self) -> MountPart | None:
        axis, job = self.session.axis, self.session.job
        return None if axis is None or job is None else new_part(job, axis, new_id)

    def _screw(self) -> str:
        return usual_screw(self.session.job) if self.session.job is not None else ""

    def _of_part(self, make: Callable[[MountPart], Entity]) -> Entity | None:
        part = self.part()
        if part is None:
            self.session.notice.emit("Add a part first (Ctrl+Ins under Parts).")
            return None
        return make(part)

    def _info(self) -> JobInfo | None:
        return self.session.job.info if self.session.job else None

    def _other_hand(self) -> None:
        part, job = self.part(), self.session.job
        if part is not None and job is not None:
            put = other_hand(job, part, new_id)
            self.session.apply("the other hand", put)
            self.parts.choose(put[0].id)
            self.refresh()

    def _usual(self) -> None:
        part, job = self.part(), self.session.job
        if part is None or job is None:
            self.session.notice.emit("Add a part first (Ctrl+Ins under Parts).")
            return
        there = self._holes()
        if there and self._asked != part.id:
            self._asked = part.id
            many = "a hole" if len(there) == 1 else f"{len(there)} holes"
            self.session.notice.emit(f"This part has {many} entered: press again to put the usual ones in their place.")
            return
        self._asked = ""
        try:
            put = with_usual_holes(job, part, self._screw(), new_id)
        except BadInputError as error:
            self.session.notice.emit(str(error))
            return
        self.session.apply("usual holes", put, [h.id for h in there])

    def _jacks(self) -> None:
        part, job = self.part(), self.session.job
        if part is None or job is None:
            self.session.notice.emit("Add a part first (Ctrl+Ins under Parts).")
            return
        old = [h.id for h in self._holes() if h.hole_kind == "jack"]
        try:
            put = jack_holes(job, part, usual_jack(job), new_id)
        except BadInputError as error:
            self.session.notice.emit(str(error))
            return
        self.session.apply("jack screws", put, old)

    def _face(self) -> None:
        self._propose("the face to drill", lambda job, axis: face_part(job, axis, new_id))

    def _plate(self) -> None:
        self._propose("a plate over holes", lambda job, axis: plate_over_holes(job, axis, self._screw(), new_id)[0])

    def _t_nut(self) -> None:
        self._propose("a T-nut bar", lambda job, axis: t_nut_part(job, axis, new_id))

    def _propose(self, label: str, make: Callable[[Job, Axis], list[Entity]]) -> None:
        """Add a part that Vernus makes up from what it knows, or say what is missing."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return
        try:
            put = make(job, axis)
        except BadInputError as error:
            self.session.notice.emit(str(error))
            return
        self.session.apply(label, put)
        self.parts.choose(put[0].id)
        self.refresh()

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None:
            return
        self.heading.setText(f"Mounts for {self.about_axis()}")
        self._offer()
        for entities in (self.parts, self.holes, self.patterns, self.cuts, self.heights):
            entities.refresh()
        self._show_ticks()
        part = self.part()
        self._asked = self._asked if part is not None and self._asked == part.id else ""
        self.habits.refresh()
        for button in (self.usual, self.dxf, self.paper, self.hand, self.jack):
            button.setEnabled(part is not None)
        if part is None:
            self.headline.show_answer(self.session, "no part yet", "add one, or take the face with the scale's holes")
            self.say("Add the first part with Ctrl+Ins: a standoff, a plate, a bracket.")
            self._show_rows(None)
            return
        result = mount_result(job, part)
        self.advise(result.instruction)
        self._show_headline(part, result)
        self._show_rows(result)

    def _offer(self) -> None:
        """What a part can be bolted to, and what a pattern can be carried from."""
        others = [(p.id, p.name or "a part") for p in self._parts()]
        mine = "" if self.part() is None else self.part().id  # type: ignore[union-attr]
        others = [o for o in others if o[0] != mine]
        known = [("machine", "the machine"), ("scale", "the scale"), ("reader", "the reader")]
        self.parts.offer("bolts_to", [("", "not said yet"), *known, *others])
        holes = [("", "say from where"), ("scale", "the scale"), ("reader", "the reader"),
                 ("machine", "holes of the chosen face"), *others]  # fmt: skip
        self.patterns.offer("source", holes)

    def _show_headline(self, part: MountPart, result: MountResult) -> None:
        units = self.session.units
        serious = any(f.severity == "stop" for f in result.findings)
        if result.stack is not None:
            under = in_units(units, "thickness that makes the stack; ± {rss} likely", rss=Fine(result.stack.rss_mm))
            figure = format_plain(result.stack.total_mm, units)
        else:
            figure = format_plain(part.thickness.mm, units)
            under = f"thick; {_holes_said(len(result.rows))}"
            under += "." if part.part_kind == "face" else ". Under Stack note heights to have the thickness solved."
        self.headline.show_answer(self.session, figure, under, "stop" if serious else None)

    def _show_rows(self, result: MountResult | None) -> None:
        units = self.session.units
        self._show_block(result)
        if result is None or result.part is None:
            self.view.show_drawing(None if result is not None else partial(paint_parts, inks=self.session.inks))
            self.table.rows.show_rows([], [])
            self.table.hide()
            self.tools.setText("")
            return
        self.view.show_drawing(
            partial(paint_part, part=result.part, rows=result.rows, inks=self.session.inks, units=units)
        )

        def say(mm: float | None) -> str:
            return "" if mm is None else format_plain(mm, units, with_unit=False)

        self.table.rows.show_rows(
            [
                Column("#", False), Column("on", False), Column(f"x, {units}"), Column(f"y, {units}"),
                Column("what", False), Column("flag at"),
            ],
            [
                [
                    str(r.number), FACE_WORDS[r.hole.face], say(r.hole.x_mm), say(r.hole.y_mm), hole_words(r, units),
                    say(r.tape_flag_mm),
                ]
                for r in result.rows
            ],
        )  # fmt: skip
        self.table.fix_widths({0: 34, 1: 86, 2: 62, 3: 62, 5: 66})
        self.table.setColumnHidden(5, all(r.tape_flag_mm is None for r in result.rows))
        self.table.resizeRowsToContents()
        self.table.keep_to(len(result.rows), _MOST_HOLES, _LEAST_HOLES)
        if self.on_bench:
            self.table.hide()
        part, job = self.part(), self.session.job
        draft = draft_words(job, part) if part is not None and job is not None else None
        words = ["Lay out: " + ", ".join(result.tools) + "."] if result.rows else []
        words += [n.text(units) for n in result.notes]
        self.tools.setText("\n".join([*words, *([draft.text(units)] if draft is not None else [])]))

    def _show_block(self, result: MountResult | None) -> None:
        """The part's sizes while it has no holes; then the part with its holes."""
        bare = self.part() is not None and (result is None or not result.rows) and not self.on_bench
        self.block.setVisible(bare)
        self.view.setVisible(not bare and not self.on_bench)
        if bare:
            sketch = block_sketch(*figures_of(self.parts.fields, self.session.units))
            self.block.show_sketch(sketch, self.session.inks)

    def _drawn(self) -> tuple[Part, Sequence[HoleRow]] | None:
        """The part chosen with its hole rows; None while it can't be drawn."""
        result = self._result()
        return None if result is None or result.part is None else (result.part, result.rows)

    def _result(self) -> MountResult | None:
        part, job = self.part(), self.session.job
        return mount_result(job, part) if part is not None and job is not None else None


def _holes_said(count: int) -> str:
    return "1 hole" if count == 1 else f"{count} holes"


def _for(hole: DrilledHole) -> str:
    """The screw a hole is for; a bore takes none."""
    return "bore" if hole.hole_kind == "bore" else f"{hole.thread} jack" if hole.hole_kind == "jack" else hole.thread

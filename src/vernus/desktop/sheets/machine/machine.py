"""Machine: what moves on what, what stands in the way, what must stay reachable, and the holes there are."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, Sentence, in_units
from vernus.core.machine.envelope import Envelope
from vernus.core.units import format_plain
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.machine_view import MachineView
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.sliders import AxisSliders
from vernus.desktop.parts.tables import Column
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.desktop.sheets.machine.measure_rows import MeasureRows
from vernus.job.document import Job, new_id
from vernus.job.entities import Face, Hole, Machine, SolidBox
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face
from vernus.job.machine.geometry import OWN_BOX, axis_keys, boxes_of, envelope_of, geometry_findings, is_off
from vernus.job.machine.measures import is_taken, measures_of, pose_of, span_of
from vernus.job.machine.survey import (
    agreed,
    hole_in_short,
    hole_thread,
    is_at,
    machine_summary,
    threads_that_fit,
    where_at,
)
from vernus.paper.drawing.machine.solid import Dimension
from vernus.paper.drawing.machine.views import Scene

_BOX = {
    "What it is": ("name", "member", "role", "fitted", "why", "covered", "every_days"),
    "By its gap to a neighbour": ("near", "side", "gap", "wide", "deep", "high"),
    "By its sides": ("left", "right", "front", "back", "bottom", "top"),
}  # fmt: skip
_HOLE = {
    "": ("place", "what", "member", "mouth", "head", "head_high", "measured_on", "diameter", "pitch", "thread"),
    "How deep": ("depth", "thread_deep", "through", "used_by"),
    "Where it is": ("face_id", "at_x", "at_y", "count", "apart", "room"),
}  # fmt: skip
_TOOL = ("name", "tool_x", "tool_y", "tool_z", "tilt_deg")
_ROLE = {"solid": "metal", "keep": "keep", "head": "head", "display": "display"}


class MachineSheet(Sheet):
    """Measures first, boxes and holes with their figures; the machine drawn in the round, driven by hand."""

    name = "machine"
    title = "Machine"
    caution = "Columns, heads and tables are heavy and topple: hoist or second person. Find out what is behind a wall."

    def _box_row(self, box: SolidBox) -> list[str]:
        """Its name, and what it is, in a word; off where it was taken off, for a power feed too."""
        job = self.session.job
        return [box.name, "off" if job is not None and is_off(job, box) else _ROLE[box.role]]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.boxes = EntityList(
            session, "Boxes", SolidBox, _BOX, self._all_boxes,
            [Column("box", False), Column("is", False)], self._box_row,
            self._new_box, 70,
        )  # fmt: skip
        self.holes = EntityList(
            session, "Holes there are", Hole, _HOLE, self._all_holes,
            [Column("where", False), Column("thread", False)],
            lambda h: [h.place, hole_in_short(h).text(session.units)], self._new_hole, settle=self._agreed,
        )  # fmt: skip
        self.measures = MeasureRows(session)
        self.measures.turned.connect(self._pose)
        self.measures.advised.connect(self._advise)
        self.fields = [FigureRow(session, Machine, name, self._machine) for name in _TOOL]
        self.tool = self.figures(Group("Tool in the spindle", self.fields))
        for figures in (self.measures.list, self.boxes.figures, self.holes.figures):
            figures.held.connect(partial(self._hold, figures))
        self.tabs = Tabs(
            (("Measures", self.measures), ("Boxes", self.boxes), ("Holes", self._holes_face()), ("Tool", self.tool))
        )
        self.tabs.turned.connect(self.refresh)
        self.sliders = AxisSliders()
        self.sliders.moved.connect(self._paint)
        self.boxes.chosen.connect(self._paint)
        self.holes.chosen.connect(self._show_thread)
        self.holes.table.wrap_words()
        self.entry.addWidget(self.tabs, 1)
        self.view = MachineView("The machine", QSize(320, 300))
        self.view.chosen.connect(self._choose_box)
        self.view.asked.connect(self._choose_measure)
        self.view.driven.connect(self.sliders.drive)
        self.view.figures = self.measures.list
        self.picture.addWidget(self.view, 1)
        self.entry.addWidget(self.sliders)
        self.hidden_on_bench = [self.sliders]

    def focus_entry(self) -> None:
        lists = (self.measures.list, self.boxes.figures, self.holes.figures, self.tool)
        if not lists[self.tabs.stack.currentIndex()].hold_first():
            self.tabs.focus_face()

    def hold_wanted(self) -> None:
        """To the measure that matters most, whatever face is turned to."""
        self.tabs.turn_to("measures")
        super().hold_wanted()

    def _hold(self, figures: FigureList, _name: str) -> None:
        self.show_hand(figures)

    def _machine(self) -> Machine | None:
        return self.session.job.machine if self.session.job else None

    def _all_boxes(self) -> list[SolidBox]:
        return boxes_of(self.session.job) if self.session.job else []

    def _all_holes(self) -> list[Hole]:
        return self.session.job.all(Hole) if self.session.job else []

    def _first_member(self) -> str:
        machine = self._machine()
        return machine.members[0].id if machine is not None and machine.members else ""

    def _new_box(self) -> SolidBox:
        """A box next to the one chosen, to be told by the gap between them and its size."""
        made, size, chosen = new_id(), LengthEntry(mm=50), self.boxes.current()
        near, member = (chosen.id, chosen.member) if chosen is not None and chosen.key else ("", self._first_member())
        return SolidBox(
            id=made, key=f"{OWN_BOX}{made}", name="new box", member=member, right=size, back=size, top=size, near=near,
            side="back" if near else "", wide=size, deep=size, high=size,
        )  # fmt: skip

    def _holes_face(self) -> QWidget:
        """The holes with what their figures mean, and what tells two threads apart."""
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        self.thread_words = Words("", "faint")
        box.addWidget(self.thread_words)
        box.addWidget(self.holes, 1)
        face.setFocusProxy(self.holes)
        return face

    def _agreed(self, hole: Hole) -> Hole:
        """Member and face agree: a face takes its member along, a member drops a face that it isn't at."""
        job = self.session.job
        return hole if job is None else agreed(job, hole)

    def _offer_of_hole(self, job: Job) -> None:
        """What can be chosen of the hole in hand: the faces of its member, and the threads that its figures fit."""
        hole = self.holes.current()
        faces = [(f.id, where_at(f, hole)) for f in job.all(Face) if hole is None or is_at(f, hole.member)]
        self.holes.offer("face_id", [("", "not named"), *faces])
        fits = [] if hole is None else threads_that_fit(hole)
        self.holes.offer("thread", [("", "not said"), *((t.name, t.name) for t in fits)])

    def _show_thread(self) -> None:
        hole = self.holes.current()
        if self.session.job is not None:
            self._offer_of_hole(self.session.job)
        self.thread_words.setText("" if hole is None else hole_thread(hole).text(self.session.units))

    def _new_hole(self) -> Hole:
        job, axis = self.session.job, self.session.axis
        face = None if job is None or axis is None else chosen_face(job, axis)
        if face is None:
            return Hole(id=new_id(), place="where it is", member=self._first_member())
        return Hole(id=new_id(), place="where it is", member=face.member, face_id=face.id)

    def refresh(self) -> None:
        job, machine = self.session.job, self._machine()
        if job is None or machine is None:
            return
        members = [(m.id, m.id) for m in machine.members]
        for entities in (self.boxes, self.holes):
            entities.offer("member", members)
        self._offer_of_hole(job)
        self.boxes.offer("near", [("", "–"), *((b.id, b.name) for b in self._all_boxes() if b.key)])
        for entities in (self.boxes, self.holes):
            entities.refresh()
        self._show_thread()
        self.tool.refresh()
        self.measures.refresh()
        self.heading.setText(f"Machine: {machine.name}")
        figure, under, _ = machine_summary(job)
        self.headline.show_answer(self.session, figure, under)
        self._advise()
        try:
            self.sliders.show_axes(envelope_of(job).axes, self.session.units)
        except BadInputError as error:
            self.say(str(error))
        self._paint()

    def _advise(self) -> None:
        """What to measure next, by its number; what is wrong before that."""
        job = self.session.job
        if job is None:
            return
        advice, ask = self.measures.advice, machine_summary(job)[2]
        if self.measures.current() is not None and not geometry_findings(job):
            waiting = Sentence("Take the measures one by one; which of them matters most is being worked out.")
            ask = waiting if advice is None else advice.words
        self.say(ask.text(self.session.units))

    def _pose(self) -> None:
        """Run the axes to where the measure in hand is taken."""
        job, held = self.session.job, self.measures.current()
        if job is None or held is None or geometry_findings(job):
            return
        self.sliders.go(pose_of(held, envelope_of(job), axis_keys(job)))
        self._paint()

    def _choose_box(self, name: str) -> None:
        box = next((b for b in self._all_boxes() if b.name == name), None)
        if box is None:
            return
        if self.measures.isVisible():
            key = next((m.key for m in measures_of(self.session.job) if f"{box.key}." in m.high), "")  # type: ignore[arg-type]
            self.measures.choose(key)
        else:
            self.boxes.choose(box.id)
        self._paint()

    def _choose_measure(self, key: str) -> None:
        self.measures.choose(key)

    def _paint(self) -> None:
        job = self.session.job
        if job is None or geometry_findings(job) or not job.machine.members:
            self.view.show_machine(None, {}, self.session.inks)
            return
        envelope, at = envelope_of(job), self.sliders.at()
        marked = self.boxes.current() if self.boxes.isVisible() else None
        scene = Scene(envelope, at, (), (), marked.name if marked is not None else "")
        shapes = {b.name: b.shape for b in boxes_of(job)}
        names = {b.name: b.name for b in envelope.boxes}
        asked = self._dimensions(envelope, at) if self.measures.isVisible() else []
        self.view.show_machine(scene, shapes, self.session.inks, names, asked)
        if marked is not None:
            self._say_size(next(b for b in boxes_of(job) if b.id == marked.id))

    def _dimensions(self, envelope: Envelope, at: Mapping[str, float]) -> list[Dimension]:
        job, held = self.session.job, self.measures.current()
        found: list[Dimension] = []
        for measure in measures_of(job) if job is not None else []:
            span = span_of(job, measure, envelope, at) if job is not None else None
            if span is None or (measure.pose and measure is not held):
                continue
            figure = format_plain(measure.value.mm, self.session.units) if is_taken(measure) else ""
            here = held is not None and measure.key == held.key
            found.append(Dimension(measure.key, measure.label, figure, span.start, span.end, here))
        return found

    def _say_size(self, box: SolidBox) -> None:
        sides = [
            in_units(self.session.units, "{mm} " + word, mm=Mm(b.mm - a.mm))
            for word, a, b in (
                ("wide", box.left, box.right), ("deep", box.front, box.back), ("high", box.bottom, box.top),
            )
        ]  # fmt: skip
        self.headline.under.setText(f"{box.name}: " + ", ".join(sides))

"""Machine: what moves on what, what stands in the way, what must stay reachable, and the holes there are."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.units import format_plain
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.form import BoundField
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.sliders import AxisSliders
from vernus.desktop.parts.tables import Column
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import Hole, Machine, SolidBox
from vernus.job.fields import LengthEntry
from vernus.job.machine.geometry import envelope_of, geometry_findings, keep_reachable, solid
from vernus.job.machine.survey import hole_thread, machine_summary
from vernus.paper.drawing.machine.views import Scene, paint_views, scene_spans

_BOX = ("name", "member", "role", "left", "right", "front", "back", "bottom", "top", "why")
_HOLE = ("place", "member", "measured_on", "diameter", "pitch", "depth", "through", "used_by")
_TOOL = ("name", "tool_x", "tool_y", "tool_z", "tilt_deg")
_ROLE = {"solid": "metal", "keep": "keep", "head": "head"}


class MachineSheet(Sheet):
    """Boxes and holes as lists with their forms; the machine drawn from three sides, driven by sliders."""

    name = "machine"
    title = "Machine"
    caution = "Columns, heads and tables are heavy and topple: hoist or second person. Find out what is behind a wall."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.boxes = EntityList(
            session, "Boxes", SolidBox, _BOX, self._all_boxes,
            [Column("box", False), Column("is", False)], lambda b: [b.name, _ROLE[b.role]], self._new_box, 70,
        )  # fmt: skip
        self.holes = EntityList(
            session, "Holes there are", Hole, _HOLE, self._all_holes,
            [Column("where", False), Column("thread", False)],
            lambda h: [h.place, hole_thread(h).text()], self._new_hole,
        )  # fmt: skip
        tool = QWidget()
        column = QVBoxLayout(tool)
        column.setContentsMargins(0, 0, 0, 0)
        self.fields = [BoundField(session, Machine, name, self._machine) for name in _TOOL]
        for field in self.fields:
            column.addWidget(field)
        column.addStretch(1)
        self.tabs = Tabs((("&Boxes", self.boxes), ("&Holes", self.holes), ("&Tool", tool)))
        self.tabs.turned.connect(self.refresh)
        self.sliders = AxisSliders()
        self.sliders.moved.connect(self._paint)
        self.boxes.chosen.connect(self._paint)
        self.entry.addWidget(self.tabs, 1)
        self.view = Picture("The machine from three sides", QSize(320, 300))
        self.picture.addWidget(self.view, 1)
        self.picture.addWidget(self.sliders)
        self.not_on_bench = [self.view, self.tabs, self.sliders]

    def focus_entry(self) -> None:
        self.tabs.focus_face()

    def _machine(self) -> Machine | None:
        return self.session.job.machine if self.session.job else None

    def _all_boxes(self) -> list[SolidBox]:
        return self.session.job.all(SolidBox) if self.session.job else []

    def _all_holes(self) -> list[Hole]:
        return self.session.job.all(Hole) if self.session.job else []

    def _first_member(self) -> str:
        machine = self._machine()
        return machine.members[0].id if machine is not None and machine.members else ""

    def _new_box(self) -> SolidBox:
        side = LengthEntry(mm=50)
        return SolidBox(id=new_id(), name="new box", member=self._first_member(), right=side, back=side, top=side)

    def _new_hole(self) -> Hole:
        return Hole(id=new_id(), place="where it is", member=self._first_member())

    def refresh(self) -> None:
        job, machine = self.session.job, self._machine()
        if job is None or machine is None:
            return
        members = [(m.id, m.id) for m in machine.members]
        for entities in (self.boxes, self.holes):
            entities.offer("member", members)
            entities.refresh()
        for field in self.fields:
            field.refresh()
        self.heading.setText(f"Machine: {machine.name}")
        figure, under, ask = machine_summary(job)
        self.headline.show_answer(self.session, figure, under)
        self.instruction.setText(ask.text(self.session.units))
        try:
            self.sliders.show_axes(envelope_of(job).axes, self.session.units)
        except BadInputError as error:
            self.instruction.setText(str(error))
        self._paint()

    def _paint(self) -> None:
        job = self.session.job
        if job is None or geometry_findings(job) or not job.machine.members:
            self.view.show_drawing(None)
            return
        envelope = envelope_of(job)
        keep = [solid(b) for b in keep_reachable(job)]
        marked = self.boxes.current()
        scene = Scene(envelope, self.sliders.at(), keep, (), marked.name if marked is not None else "")
        draw = partial(
            paint_views, scene=scene, spans=scene_spans(envelope, keep), inks=self.session.inks,
            units=self.session.units, kept=envelope.full,
        )  # fmt: skip
        self.view.show_drawing(draw)
        if marked is not None and self.boxes.isVisible():
            sides = [
                f"{format_plain(b.mm - a.mm, self.session.units)} {word}"
                for word, a, b in (
                    ("wide", marked.left, marked.right),
                    ("deep", marked.front, marked.back),
                    ("high", marked.bottom, marked.top),
                )
            ]
            self.headline.under.setText(f"{marked.name}: " + ", ".join(sides))

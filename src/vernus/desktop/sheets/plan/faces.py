"""Face: the candidate faces of an axis side by side, and what each costs."""

from __future__ import annotations

from PySide6.QtCore import QSize

from vernus.core.finding import Rate
from vernus.core.plan.plan_parts import TILT_MRAD, abbe_error
from vernus.core.units import UnitName, UnitSystem, format_in
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.machine_view import MachineView
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.catalog.shipped import FaceSchool, face_schools
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, Face, JobInfo, ScalePlan
from vernus.job.fields import LengthEntry
from vernus.job.machine.geometry import boxes_of, envelope_of, faces_of, keep_reachable, solid
from vernus.job.machine.planned import all_planned_parts, planned_parts
from vernus.job.plan.faces import WEIGHTS, FacesResult, JudgedFace, choose_face, faces_result, play_told, weights_of
from vernus.job.plan.scale import scale_plan
from vernus.job.plan.what_if import show_lost
from vernus.paper.drawing.machine.views import Scene

_FACE = {
    "Where it is": ("name", "member", "reader_member", "x", "y", "z", "along", "out", "length"),
    "What it is like": ("bracket", "flat", "exposure", "holes", "parts", "arm", "separate"),
}  # fmt: skip
_MOST_FACES = 7
_ABBE: dict[UnitSystem, tuple[UnitName, int]] = {"mm": ("µm", 0), "in": ("thou", 1)}


class FacesSheet(Sheet):
    """The faces ranked over what matters and what is wanted; the one looked at drawn on the machine in the round."""

    name = "faces"
    title = "Face"
    caution = "Before drilling, find out what is behind the wall: gearbox, oil, a bearing."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._result: FacesResult | None = None
        school = ChoiceRow("school", "What matters", [(None, "own weights")], self._take_school)
        school.offer([(None, "own weights"), *((s, s.label) for s in face_schools())])
        self.school = school.box
        self.weights = [FigureRow(session, JobInfo, f"w_{k}", self._info) for k in WEIGHTS]
        self.options = [FigureRow(session, ScalePlan, n, self._plan) for n in ("stand_off", "lips")]
        self.options.append(FigureRow(session, Axis, "play", lambda: session.axis))
        self.table = Table("Faces, best first")
        self.ranked = PartRow("faces", self.table)
        self.wishes = self.figures(
            Group("Faces, best first", [self.ranked]),
            Group("How it is held off", self.options),
            Group("What matters to you", [school, *self.weights], aside=True, says=lambda: [self.school.currentText()]),
        )
        self.note = Words("", "faint")
        self.table.chosen.connect(self._choose)
        self.table.doubleClicked.connect(lambda index: self._choose(index.row()))
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_chosen())
        self.table.two_lines()
        self.list = EntityList(
            session, "Faces", Face, _FACE, self._faces, [Column("face", False)], lambda f: [f.name], self._new_face
        )
        self.list.figures.held.connect(lambda _name: self.show_hand(self.list.figures))
        self.tabs = Tabs((("Choose", self.wishes), ("Describe", self.list)))
        self.tabs.turned.connect(self.refresh)
        self.entry.addWidget(self.tabs, 1)
        self.view = MachineView("The face on the machine", QSize(300, 230))
        self.picture.addWidget(self.view, 1)
        self.picture.addWidget(self.note)
        self.hidden_on_bench = [self.tabs, self.note]

    def focus_entry(self) -> None:
        if self.tabs.stack.currentIndex():
            self.tabs.focus_face()
            return
        self.wishes.unfold("Faces, best first")
        self.table.setFocus()

    def _info(self) -> JobInfo | None:
        return self.session.job.info if self.session.job else None

    def _faces(self) -> list[Face]:
        axis, job = self.session.axis, self.session.job
        return faces_of(job, axis) if axis is not None and job is not None else []

    def _plan(self) -> ScalePlan | None:
        axis, job = self.session.axis, self.session.job
        return scale_plan(job, axis) if axis is not None and job is not None else None

    def _new_face(self) -> Face | None:
        axis = self.session.axis
        if axis is None:
            return None
        return Face(
            id=new_id(), axis_id=axis.id, name="new face", member=axis.moving, reader_member=axis.still,
            length=LengthEntry(mm=300),
        )  # fmt: skip

    def _take_school(self, school: object) -> None:
        info = self._info()
        if info is not None and isinstance(school, FaceSchool):
            weights = {f"w_{k}": v for k, v in school.weights.items()}
            self.session.apply(f"weigh faces: {school.label}", [info.with_(**weights)])
            plan = self._plan()
            if self._judged() and (plan is None or not plan.face_id):
                self.table.selectRow(0)

    def _choose(self, row: int) -> None:
        plan, axis = self._plan(), self.session.axis
        judged = self._judged()
        if plan is None or axis is None or not 0 <= row < len(judged):
            return
        face = judged[row].face
        put = choose_face(plan, face)
        self.session.apply(f"choose {face.name}", [put])

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None:
            return
        self.heading.setText(f"Face for the scale of {self.about_axis()}")
        members = [(m.id, m.id) for m in job.machine.members]
        for name in ("member", "reader_member"):
            self.list.offer(name, members)
        self.list.refresh()
        collar = any(f.arm for f in self._faces()) or any(f.reader_member == "quill" for f in self._faces())
        self.options[-1].leave_out(not collar)
        now = weights_of(job)
        matching = [n for n in range(1, self.school.count()) if self.school.itemData(n).weights == now]
        self.school.setCurrentIndex(matching[0] if matching else 0)
        self.wishes.refresh()
        self._result = faces_result(job, axis)
        self._show_table()
        self.advise(self._result.why)
        self._show_chosen()

    def _show_table(self) -> None:
        units, plan = self.session.units, self._plan()
        rows = []
        for judged in self._judged():
            face, costs = judged.face, judged.ranked.costs
            mark = "● " if plan is not None and plan.face_id == face.id else "   "
            lost = show_lost(costs.lost_mm if costs.possible else None, units)
            blocks = _many(len(costs.blocked), "place") if costs.blocked else "nothing"
            rows.append([f"{mark}{face.name}\n   takes {lost}, blocks {blocks}"])
        self.table.rows.show_rows([Column("face", False)], rows, [judged.face.id for judged in self._judged()])
        self.ranked.show_count(len(rows), _MOST_FACES)
        self.wishes.tell()
        if rows and self.table.currentIndex().row() < 0:
            self.table.selectRow(next((n for n, row in enumerate(rows) if row[0].startswith("●")), 0))

    def _judged(self) -> tuple[JudgedFace, ...]:
        return self._result.judged if self._result is not None else ()

    def _show_chosen(self) -> None:
        job, axis, row = self.session.job, self.session.axis, self.table.currentIndex().row()
        if job is None or axis is None or not 0 <= row < len(self._judged()):
            self.view.show_machine(None, {}, self.session.inks)
            wrong = self._result is not None and bool(self._result.findings)
            text, under = ("not known yet", "") if wrong else ("no face yet", "describe one under Describe")
            self.headline.show_answer(self.session, text, under)
            self.note.setText("")
            return
        face, ranked = self._judged()[row].face, self._judged()[row].ranked
        unit, decimals = _ABBE[self.session.units]
        abbe = format_in(abbe_error(ranked.costs.abbe_mm), unit, decimals)
        tilt = Rate(TILT_MRAD / 1000).show(self.session.units)
        work = f"{_many(ranked.costs.holes, 'hole')} and {_many(face.parts, 'part')} to make"
        said = f"{work}. Abbe: it misreads by {abbe} where the ways tilt by {tilt}."
        judged = f"{ranked.judgement.text(self.session.units)} {said}"
        play = play_told(job, axis, face, self.session.units)
        self.note.setText(" ".join(filter(None, (f"{face.name}: {judged}", play, face.note))))
        plan = self._plan()
        chosen = plan is not None and plan.face_id == face.id
        lost = show_lost(ranked.costs.lost_mm if ranked.costs.possible else None, self.session.units)
        self.headline.show_answer(
            self.session,
            f"takes {lost}" if ranked.costs.possible else lost,
            f"{face.name}, chosen" if chosen else f"{face.name}; Enter in the list chooses it",
            None if ranked.costs.possible else "stop",
        )
        self._show_machine(job, axis, face)

    def _show_machine(self, job: Job, axis: Axis, face: Face) -> None:
        """The machine in the round with the parts of the plan, those on the face looked at among them."""
        mine = planned_parts(job, axis, face)
        envelope = envelope_of(job, [*all_planned_parts(job, without=axis.id), *mine])
        keep = [solid(b) for b in keep_reachable(job)]
        scene = Scene(envelope, envelope.home, keep)
        shapes = {b.name: b.shape for b in boxes_of(job)}
        names = {b.name: b.name for b in envelope.boxes}
        self.view.show_machine(scene, shapes, self.session.inks, names)


def _many(count: float, noun: str) -> str:
    return f"{count:g} {noun}" if count == 1 else f"{count:g} {noun}s"

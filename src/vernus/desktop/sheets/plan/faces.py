"""Face: the candidate faces of an axis side by side, and what each costs."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QComboBox, QGridLayout, QVBoxLayout, QWidget

from vernus.core.finding import Rate
from vernus.core.plan.plan_parts import TILT_MRAD, abbe_error
from vernus.core.units import format_in
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.form import BoundField
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.setup_stack import SetupStack
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Label, Words, set_tip
from vernus.desktop.session import Session
from vernus.job.catalog.shipped import FaceSchool, face_schools
from vernus.job.document import new_id
from vernus.job.entities import Axis, Face, JobInfo, ScalePlan
from vernus.job.fields import LengthEntry
from vernus.job.machine.geometry import envelope_of, faces_of, keep_reachable, solid
from vernus.job.machine.planned import all_planned_parts, planned_parts
from vernus.job.plan.faces import WEIGHTS, FacesResult, JudgedFace, choose_face, faces_result, weights_of
from vernus.job.plan.scale import scale_plan
from vernus.job.plan.travel_left import show_lost
from vernus.paper.drawing.machine.views import Scene, paint_views, scene_spans

_FACE = ("name", "member", "reader_member", "x", "y", "z", "along", "out", "length", "bracket", "flat", "exposure",
         "holes", "parts", "arm", "separate")  # fmt: skip


class FacesSheet(Sheet):
    """Weights on the left, the faces ranked on the right, the chosen one drawn on the machine."""

    name = "faces"
    title = "Face"
    caution = "Before drilling, find out what is behind the wall: gearbox, oil, a bearing."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._result: FacesResult | None = None
        front = QWidget()
        column = QVBoxLayout(front)
        column.setContentsMargins(0, 0, 0, 0)
        self.school = QComboBox()
        self.school.setAccessibleName("What matters")
        self.school.addItem("own weights", None)
        for school in face_schools():
            self.school.addItem(school.label, school)
        self.school.activated.connect(self._take_school)
        words = Label("What matters to you")
        words.setObjectName("faint")
        self.why = Words("", "faint")
        column.addWidget(words)
        column.addWidget(self.school)
        column.addWidget(self.why)
        grid = QGridLayout()
        self.weights = [BoundField(session, JobInfo, f"w_{k}", self._info) for k in WEIGHTS]
        for n, field in enumerate(self.weights):
            grid.addWidget(field, n // 2, n % 2)
        column.addLayout(grid)
        self.options = [BoundField(session, ScalePlan, n, self._plan) for n in ("stand_off", "lips")]
        self.options.append(BoundField(session, Axis, "play", lambda: session.axis))
        for n, field in enumerate(self.options):
            grid.addWidget(field, (len(self.weights) + 1) // 2 + n, 0, 1, 2)
        self.judgement = Words("")
        self.note = Words("", "faint")
        column.addWidget(self.judgement)
        column.addWidget(self.note)
        column.addStretch(1)
        front.setFocusProxy(self.school)
        self.list = EntityList(
            session, "Faces", Face, _FACE, self._faces, [Column("face", False)], lambda f: [f.name], self._new_face
        )
        self.setup = SetupStack(front, [self.list])
        self.entry.addWidget(self.setup, 1)
        self.table = Table("Faces, best first")
        self.table.chosen.connect(self._choose)
        self.table.doubleClicked.connect(lambda index: self._choose(index.row()))
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_chosen())
        self.table.setMinimumHeight(120)
        self.table.wrap_words()
        self.table.leave_out_when_narrow(4, 5)
        self.view = Picture("The face on the machine", QSize(300, 230))
        self.picture.addWidget(self.table, 2)
        self.picture.addWidget(self.view, 4)
        self.not_on_bench = [self.setup, self.table, self.view]

    def focus_entry(self) -> None:
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

    def _take_school(self, index: int) -> None:
        info, school = self._info(), self.school.itemData(index)
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
        self.heading.setText(f"Face for the scale of the {self.about_axis()}")
        members = [(m.id, m.id) for m in job.machine.members]
        for name in ("member", "reader_member"):
            self.list.offer(name, members)
        self.list.refresh()
        for field in (*self.weights, *self.options):
            field.refresh()
        collar = any(f.arm for f in self._faces()) or any(f.reader_member == "quill" for f in self._faces())
        self.options[-1].setVisible(collar)
        now = weights_of(job)
        matching = [n for n in range(1, self.school.count()) if self.school.itemData(n).weights == now]
        self.school.setCurrentIndex(matching[0] if matching else 0)
        school = self.school.currentData()
        self.why.setText(school.why if isinstance(school, FaceSchool) else "weights of your own")
        self.setup.summary.hide()
        self._result = faces_result(job, axis)
        self._show_table()
        self.advise(self._result.why)
        self._show_chosen()

    def _show_table(self) -> None:
        units, plan = self.session.units, self._plan()
        rows = []
        for judged in self._judged():
            face, costs = judged.face, judged.ranked.costs
            mark = "●" if plan is not None and plan.face_id == face.id else ""
            lost = show_lost(costs.lost_mm if costs.possible else None, units)
            abbe = format_in(abbe_error(costs.abbe_mm), "µm" if units == "mm" else "thou", 0 if units == "mm" else 1)
            work = f"{costs.holes:g} / {face.parts:g}"
            rows.append([mark, face.name, lost, str(len(costs.blocked)), work, abbe])
        columns = [
            Column("", False), Column("face", False), Column("travel lost", False), Column("blocks"),
            Column("holes/parts"), Column("Abbe"),
        ]  # fmt: skip
        self.table.rows.show_rows(columns, rows, [judged.face.id for judged in self._judged()])
        set_tip(self.table, f"Abbe: what it misreads where the ways tilt by {Rate(TILT_MRAD / 1000).show(units)}")
        self.table.fix_widths({0: 26, 2: 104, 3: 60, 4: 96, 5: 84})
        self.table.resizeRowsToContents()
        if rows and self.table.currentIndex().row() < 0:
            self.table.selectRow(next((n for n, row in enumerate(rows) if row[0]), 0))

    def _judged(self) -> tuple[JudgedFace, ...]:
        return self._result.judged if self._result is not None else ()

    def _show_chosen(self) -> None:
        job, axis, row = self.session.job, self.session.axis, self.table.currentIndex().row()
        if job is None or axis is None or not 0 <= row < len(self._judged()):
            self.view.show_drawing(None)
            self.headline.show_answer(self.session, "no face yet", "describe one under Setup (F4)")
            self.judgement.setText("")
            self.note.setText("")
            return
        face, ranked = self._judged()[row].face, self._judged()[row].ranked
        self.judgement.setText(f"{face.name}: {ranked.judgement.text(self.session.units)}")
        self.note.setText(face.note)
        plan = self._plan()
        chosen = plan is not None and plan.face_id == face.id
        lost = show_lost(ranked.costs.lost_mm if ranked.costs.possible else None, self.session.units)
        self.headline.show_answer(
            self.session,
            f"takes {lost}" if ranked.costs.possible else lost,
            f"{face.name}, chosen" if chosen else f"{face.name}; Enter in the list chooses it",
            None if ranked.costs.possible else "stop",
        )
        parts = [*all_planned_parts(job, without=axis.id), *planned_parts(job, axis, face)]
        envelope = envelope_of(job, parts)
        keep = [solid(b) for b in keep_reachable(job)]
        scene = Scene(envelope, envelope.home, keep)
        self.view.show_drawing(
            partial(
                paint_views, scene=scene, spans=scene_spans(envelope, keep), inks=self.session.inks,
                units=self.session.units, kept=self._judged()[row].kept,
            )
        )  # fmt: skip

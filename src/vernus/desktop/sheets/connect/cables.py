"""Cables: where each is held, how long it must be, which position to hold while tying it, and its wires."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, in_units
from vernus.core.units import format_length
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.machine_view import MachineView
from vernus.desktop.parts.marks import MarkName
from vernus.desktop.parts.row import PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.connect.cables import (
    CableResult,
    anchors_of,
    cable_of,
    cable_result,
    copied_wires,
    earthed,
    hold_words,
    propose_anchors,
    supplied_mm,
    usual_wires,
    wires_to_copy,
)
from vernus.job.document import new_id
from vernus.job.entities import CableAnchor, CableRun, Wire
from vernus.job.machine.geometry import boxes_of, envelope_of
from vernus.job.machine.planned import all_planned_parts
from vernus.paper.drawing.machine.views import Scene

_FIELDS = ("supplied", "slack", "bend", "drip", "ends", "socket", "plug", "tied", "earth")
_ANCHOR = {"": ("name", "member", "x", "y", "z", "place")}
_WIRE = {"": ("signal", "colour", "pin", "wanted_pin")}
_MOST_STRETCHES = 5


class CablesSheet(Sheet):
    """The cable, its anchors and its wires; the machine with the cable on it, stretch by stretch."""

    name = "cables"
    title = "Cables"
    caution = "Display off while anything is plugged. Earthing and supply follow local electrical codes."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.fields = [FigureRow(session, CableRun, name, self._cable) for name in _FIELDS]
        self.table = Table("Stretches of the cable")
        self.table.two_lines()
        self.stretches = PartRow("stretches", self.table)
        self.list = self.figures(
            Group("Stretches", [self.stretches]),
            Group("Cable", self.fields),
        )
        self.anchors = EntityList(
            session, "Anchors", CableAnchor, _ANCHOR, self._anchors, [Column("held at", False), Column("on", False)],
            lambda a: [a.name, a.member], self._new_anchor, 84,
        )  # fmt: skip
        self.wires = EntityList(
            session, "Wires", Wire, _WIRE, self._wires,
            [Column("carries", False), Column("pin"), Column("wants")],
            lambda w: [w.signal, w.pin, w.wanted_pin], self._new_wire,
        )  # fmt: skip
        self.propose = QPushButton("Propose from the plan")
        self.propose.clicked.connect(self._propose)
        self.usual = QPushButton("Usual signals")
        self.usual.clicked.connect(self._usual_wires)
        self.copy = QPushButton("Copy from another axis")
        self.copy.clicked.connect(self._copy_wires)
        self.tabs = Tabs(
            (
                ("Cable", self.list),
                ("Anchors", _over(self.anchors, self.propose)),
                ("Wires", _over(self.wires, self.usual, self.copy)),
            )
        )
        self.tabs.turned.connect(self.refresh)
        self.entry.addWidget(self.tabs, 1)
        self.view = MachineView("The machine with the cable", QSize(300, 200))
        for figures in (self.anchors.figures, self.wires.figures):
            figures.held.connect(partial(self._hold, figures))
        self.table.chosen.connect(lambda _row: self._paint())
        self.table.selectionModel().currentRowChanged.connect(lambda _now, _was: self._paint())
        self.words = Words("", "faint")
        self.longest = QPushButton("Its longest pose (Ctrl+W)")
        press_by(self.longest, "Ctrl+W")
        self.longest.setCheckable(True)
        self.longest.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.longest.toggled.connect(lambda _on: self._paint())
        self.picture.addWidget(self.view, 1)
        row = QHBoxLayout()
        row.addWidget(self.words, 1)
        row.addWidget(self.longest)
        self.picture.addLayout(row)
        self._result: CableResult | None = None
        self.hidden_on_bench = [self.words]

    def _hold(self, figures: FigureList, _name: str) -> None:
        self.show_hand(figures)

    def focus_entry(self) -> None:
        if self.tabs.stack.currentIndex() == 0:
            self.list.hold_first()
        else:
            self.tabs.focus_face()

    def _cable(self) -> CableRun | None:
        axis, job = self.session.axis, self.session.job
        return cable_of(job, axis, new_id()) if axis is not None and job is not None else None

    def _anchors(self) -> list[CableAnchor]:
        axis, job = self.session.axis, self.session.job
        return anchors_of(job, axis) if axis is not None and job is not None else []

    def _wires(self) -> list[Wire]:
        axis, job = self.session.axis, self.session.job
        return job.of_axis(Wire, axis.id) if axis is not None and job is not None else []

    def _new_anchor(self) -> CableAnchor | None:
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None or not job.machine.members:
            return None
        place = max((a.place for a in self._anchors()), default=0.0) + 1
        member = job.machine.members[0].id
        return CableAnchor(id=new_id(), axis_id=axis.id, name="clip", member=member, place=place)

    def _new_wire(self) -> Wire | None:
        axis = self.session.axis
        return Wire(id=new_id(), axis_id=axis.id) if axis is not None else None

    def _propose(self) -> None:
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return
        try:
            put = propose_anchors(job, axis, new_id)
        except BadInputError as error:
            self.session.notice.emit(str(error))
            return
        self.session.apply("anchors of the cable", put, [a.id for a in self._anchors()])

    def _usual_wires(self) -> None:
        axis = self.session.axis
        if axis is not None and not self._wires():
            self.session.apply("usual signals", usual_wires(axis, new_id))

    def _copy_wires(self) -> None:
        axis, job = self.session.axis, self.session.job
        if axis is not None and job is not None:
            self.session.apply("copy the wires", copied_wires(job, axis, new_id))

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None:
            return
        units = self.session.units
        self.heading.setText(f"The cable of {self.about_axis()}")
        self.anchors.offer("member", [(m.id, m.id) for m in job.machine.members])
        said = any(c.earth == "yes" for c in job.all(CableRun) if c.axis_id != axis.id)
        for field in self.fields:
            field.leave_out(field.name == "earth" and said and earthed(job) == "yes")
        self.list.refresh()
        self.anchors.refresh()
        self.wires.refresh()
        self.usual.setEnabled(not self._wires())
        other, _ = wires_to_copy(job, axis)
        self.copy.setText(f"Copy those of {other}" if other else "Copy from another axis")
        self.copy.setEnabled(bool(other))
        result = self._result = cable_result(job, axis)
        self.advise(result.instruction)
        cable = self._cable()
        supplied = supplied_mm(job, axis)
        if result.need is None:
            self.headline.show_answer(self.session, "not known yet", "anchors are wanted: reader, clips, display")
            self.table.rows.show_rows([], [])
            self.stretches.show_count(0, 0)
        else:
            need = result.need
            words = "straight {straight} at the farthest corners, and its allowances"
            if supplied is not None:
                where = ", measured on Receive" if cable is not None and cable.supplied is None else ""
                words += "; supplied {supplied}" + where
            under = in_units(units, words, straight=Mm(need.straight_mm), supplied=Mm(supplied or 0.0))
            short = need.over_mm is not None and need.over_mm < 0
            mark: MarkName | None = (
                None if need.over_mm is None else "stop" if short else "caution" if need.snags else "pass"
            )
            self.headline.show_answer(
                self.session, in_units(units, "{need} needed", need=Mm(need.need_mm)), under, mark
            )
            self.table.rows.show_rows(
                [Column("stretch, one after the other", False), Column(f"{units}")],
                [
                    [
                        f"to {s.b.name}\nhold {hold_words(job, s)}",
                        format_length(s.longest_mm, units, with_unit=False),
                    ]
                    for s in need.stretches
                ],
            )
            self.table.fix_widths({1: 76})
            self.stretches.show_count(len(need.stretches), _MOST_STRETCHES)
        self.list.tell()
        self.longest.setVisible(result.need is not None and not self.on_bench)
        told = "Choose a stretch: the machine stands where it is longest while the key is down."
        self.words.setText("" if result.need is None else told)
        self._paint()

    def _paint(self) -> None:
        job, result = self.session.job, self._result
        if job is None or result is None:
            return
        try:
            envelope = envelope_of(job, all_planned_parts(job))
        except BadInputError:
            self.view.show_machine(None, {}, self.session.inks)
            return
        row = max(0, self.table.currentIndex().row())
        stretches = result.need.stretches if result.need is not None else ()
        hold = stretches[row].hold if row < len(stretches) and self.longest.isChecked() else {}
        at = {**envelope.home, **hold}
        anchors = self._anchors() if result.need is not None else []
        cable = tuple((a.member, (a.x.mm, a.y.mm, a.z.mm)) for a in anchors)
        scene = Scene(envelope, at, cable=cable)
        shapes = {b.name: b.shape for b in boxes_of(job)}
        names = {b.name: b.name for b in envelope.boxes}
        self.view.show_machine(scene, shapes, self.session.inks, names, held=row if stretches else None)


def _over(face: QWidget, *buttons: QPushButton) -> QWidget:
    """A list with more buttons under it."""
    whole = QWidget()
    box = QVBoxLayout(whole)
    box.setContentsMargins(0, 0, 0, 0)
    box.addWidget(face, 1)
    row = QHBoxLayout()
    for button in buttons:
        row.addWidget(button)
    box.addLayout(row)
    whole.setFocusProxy(face)
    return whole

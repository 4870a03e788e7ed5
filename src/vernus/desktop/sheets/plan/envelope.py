"""Envelope: which parts meet where, the travel that is left, and the stops that follow."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, in_units
from vernus.core.machine.meetings import meetings
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.machine_view import MachineView
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.sliders import AxisSliders
from vernus.desktop.parts.stroke_view import StrokeView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.entities import Axis
from vernus.job.machine.geometry import boxes_of, keep_reachable, solid
from vernus.job.plan.travel_left import EnvelopeResult, envelope_result
from vernus.job.plan.what_if import end_names, show_ends, what_ifs
from vernus.paper.drawing.machine.views import Scene, paint_views, scene_spans
from vernus.paper.pages.machine.stroke import stroke_picture

_LIST_PX = 84


class EnvelopeSheet(Sheet):
    """Sliders run the machine; pairs that meet are outlined; what-ifs are compared at once."""

    name = "envelope"
    title = "Envelope"
    caution = "A reader driven into its end cap is destroyed: fit the stops before the first run under power."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._result: EnvelopeResult | None = None
        self.sliders = AxisSliders()
        self.sliders.moved.connect(self._paint)
        self.fields = [FigureRow(session, Axis, name, lambda: session.axis) for name in ("least", "weight")]
        self.list = self.figures(Group("When something must give way", self.fields))
        self.what_if = Table("What if")
        self.what_if.wrap_words()
        self.what_if_words = Words("", "faint")
        self.unchecked = Words("", "faint")
        self.entry.addWidget(self.sliders)
        self.entry.addWidget(self.list)
        self.list.setFixedHeight(_LIST_PX)
        self.entry.addWidget(self.what_if_words)
        self.entry.addWidget(self.what_if, 1)
        self.entry.addWidget(self.unchecked)
        self.view = Picture("The machine from three sides", QSize(320, 280))
        self.round = MachineView("The machine with the planned parts", QSize(320, 280))
        self.round.driven.connect(self.sliders.drive)
        self.views = Tabs((("In the round", self.round), ("Three sides", self.view)))
        self.line = StrokeView(QSize(300, 92), still=True)
        self.line.setMaximumHeight(120)
        self.picture.addWidget(self.views, 1)
        self.picture.addWidget(self.line)
        self.hidden_on_bench = [
            self.line,
            self.what_if,
            self.what_if_words,
            self.unchecked,
        ]

    def focus_entry(self) -> None:
        self.list.hold_first()

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None:
            return
        units = self.session.units
        self.line.show_stroke(stroke_picture(job, axis), self.session.inks, units)
        self.list.refresh()
        try:
            self._result = envelope_result(job)
        except BadInputError as error:
            self._result = None
            self.headline.show_answer(self.session, "not known yet")
            self.say(str(error))
            self.view.show_drawing(None)
            self.round.show_machine(None, {}, self.session.inks)
            self.what_if.rows.show_rows([], [])
            return
        result = self._result
        self.sliders.show_axes(result.envelope.axes, units)
        lost = result.lost_mm
        if not lost and result.verdict != "stop" and not any(b.group for b in result.envelope.boxes):
            self.headline.show_answer(self.session, "no parts planned", "choose a face for at least one axis")
        elif lost is None:
            self.headline.show_answer(self.session, "home is blocked", "two boxes meet with every axis at home", "stop")
        elif lost:
            worst = max(lost, key=lambda k: lost[k])
            under = "lost with all planned parts and stops in place: "
            under += show_ends(result.ends_lost_mm, end_names(job), units)
            figure = in_units(units, "{axis} loses {mm}", axis=worst, mm=Mm(lost[worst]))
            self.headline.show_answer(self.session, figure, under)
        else:
            serious = [f for f in result.findings if f.severity != "info"]
            under = "with all planned parts in place" + ("; see the findings" if serious else "")
            self.headline.show_answer(self.session, "all travel kept", under, result.verdict)
        self.advise(result.instruction)
        said = "; ".join(w.text(units) for w in result.unchecked)
        self.unchecked.setText(f"Not checked: {said}." if said else "Every pair is checked.")
        rows = [[w.words.text(units), w.in_words(units)] for w in what_ifs(job, axis)]
        self.what_if_words.setText(
            f"What if the {axis.name} scale were …" if rows else f"Choose a face for {axis.name} to compare variants."
        )
        self.what_if.rows.show_rows([Column("variant", False), Column("loses", False)], rows)
        self.what_if.fix_widths({1: 108})
        self.what_if.resizeRowsToContents()
        self._paint()

    def _paint(self) -> None:
        job, result = self.session.job, self._result
        if job is None or result is None:
            return
        at = self.sliders.at()
        here = meetings(result.envelope, {k: (v, v) for k, v in at.items()})
        names = {box.name for m in here for box in (m.a, m.b)}
        keep = [solid(b) for b in keep_reachable(job)]
        scene = Scene(result.envelope, at, keep, names)
        draw = partial(
            paint_views, scene=scene, spans=scene_spans(result.envelope, keep), inks=self.session.inks,
            units=self.session.units, kept=result.left or None,
        )  # fmt: skip
        self.view.show_drawing(draw)
        shapes = {b.name: b.shape for b in boxes_of(job)}
        named = {b.name: f"{b.name} meets" if b.name in names else b.name for b in result.envelope.boxes}
        self.round.show_machine(scene, shapes, self.session.inks, named)

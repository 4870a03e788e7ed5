"""Measures, one after the other: what to take, how, the figure, and the list of all of them."""

from __future__ import annotations

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QHideEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from vernus.core.doubt import Yardstick
from vernus.core.finding import Sentence
from vernus.core.units import UnitSystem, format_plain
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.parts.work import Work
from vernus.desktop.session import Session
from vernus.job.document import Job
from vernus.job.doubts import yardstick
from vernus.job.entities import Measure
from vernus.job.fields import LengthEntry, quantities
from vernus.job.known import HOLLOW
from vernus.job.machine.measures import is_taken, measures_of
from vernus.job.plan.next_measure import NextMeasure, next_measure
from vernus.paper.ink import font

_PAUSE_MS = 300


class MeasuresFace(QWidget):
    """One measure in hand; Enter takes it and goes on to the one that matters most of those nobody took.

    Enter without typing passes a measure by. ``turned`` tells that another one is in hand, ``advised`` that it is known
    which one matters most.
    """

    turned = Signal()
    advised = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._key = session, ""
        self.advice: NextMeasure | None = None
        self._asked_of: list[object] = []
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(_PAUSE_MS)
        self._pause.timeout.connect(self._begin)
        self._work = Work(self)
        self._work.done.connect(self._take_advice)
        self.title, self.how = Words(""), Words("", "faint")
        self.title.setFont(font(13, bold=True))
        self.field = LengthField("Measure", lambda: session.unit("length"), optional=False, compare=self._compare)
        self.field.accepted.connect(self._take)
        self.table = Table("Measures of the machine")
        self.table.wrap_words()
        self.table.selectionModel().currentRowChanged.connect(lambda now, _was: self._select(now.row()))
        self.table.chosen.connect(lambda _row: self.field.setFocus())
        self.table.delete_pressed.connect(self._forget)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        for widget in (self.title, self.how, self.field):
            box.addWidget(widget)
        box.addWidget(self.table, 1)
        self.setFocusProxy(self.field)

    def current(self) -> Measure | None:
        """The measure in hand."""
        return next((m for m in self._measures() if m.key == self._key), None)

    def choose(self, key: str) -> None:
        """Take a measure in hand by its key."""
        if key == self._key or key not in [m.key for m in self._measures()]:
            return
        dropped = self.field.drop_draft()
        if dropped:
            self._session.told.emit(f"Typed but not taken, so not kept: “{dropped[:30]}”.")
        self._key = key
        self.refresh()
        self.turned.emit()

    def refresh(self) -> None:
        """Show what is taken."""
        measures = self._measures()
        self.setEnabled(bool(measures))
        if self.current() is None:
            self._key = measures[0].key if measures else ""
        held, unit = self.current(), self._session.unit("length")
        self.title.setText(held.label if held else "This job's boxes are given by their sides")
        self.how.setText(held.how if held else "A machine from a template is told by distances; see Boxes.")
        self.field.show_entry(held.value if held else None)
        rows = [[m.label, _figure(m, self._session.units)] for m in measures]
        self.table.selectionModel().blockSignals(True)
        self.table.rows.show_rows([Column("measure", False), Column(unit)], rows)
        at = next((n for n, m in enumerate(measures) if m.key == self._key), -1)
        if at >= 0:
            self.table.selectRow(at)
            self.table.scrollTo(self.table.rows.index(at, 0))
        self.table.selectionModel().blockSignals(False)
        self.table.fix_widths({1: 92})
        self.table.resizeRowsToContents()
        self._ask()

    def _measures(self) -> list[Measure]:
        return measures_of(self._session.job) if self._session.job else []

    def _compare(self) -> Yardstick | None:
        job = self._session.job
        return None if job is None else yardstick(job, self.current(), quantities(Measure)["value"])

    def _take(self, entry: LengthEntry) -> None:
        held = self.current()
        if held is not None:
            self._session.apply(held.label.lower(), [held.with_(value=entry)])

    def _forget(self, row: int) -> None:
        """Take the figure away that somebody measured: it is only the template's again."""
        measures = self._measures()
        if 0 <= row < len(measures) and is_taken(measures[row]):
            entry = LengthEntry(mm=measures[row].value.mm)
            self._session.apply(f"delete the figure of {measures[row].label}", [measures[row].with_(value=entry)])

    def _select(self, row: int) -> None:
        measures = self._measures()
        if 0 <= row < len(measures):
            self.choose(measures[row].key)

    def go_on(self, step: int) -> None:
        """Take the next measure in hand (−1: the one before); the entry engine asks for it."""
        measures = self._measures()
        keys = [m.key for m in measures]
        if not keys:
            return
        held = self.current()
        first = self.advice.measure if self.advice is not None else None
        open_ = held is not None and is_taken(held) and first is not None and first.key != self._key
        at = keys.index(self._key) if self._key in keys else 0
        self.choose(first.key if open_ and step > 0 and first else keys[(at + step) % len(keys)])
        self.field.line.selectAll()

    def _ask(self) -> None:
        """Work out beside the window which measure matters most, once per edit."""
        job = self._session.job
        if job is None or not self.isVisible():
            return
        entities: list[object] = list(job.entities())
        if entities == self._asked_of:
            return
        self._asked_of = entities
        self._pause.start()

    def _begin(self) -> None:
        job = self._session.job
        if job is not None and self.isVisible():
            entities = job.entities()
            self._work.begin(lambda cancelled: next_measure(Job(entities), cancelled))

    def hideEvent(self, event: QHideEvent) -> None:
        """Out of view nobody waits for advice."""
        self._pause.stop()
        self._work.begin(lambda _cancelled: NextMeasure(None, (), Sentence("")))
        self._asked_of = []
        super().hideEvent(event)

    def _take_advice(self, advice: NextMeasure) -> None:
        if not advice.words.template:
            return
        self.advice = advice
        busy = self.field.line.hasFocus() or self.field.draft or self.field.unanswered
        if advice.measure is not None and self.current() is not None and not busy:
            self.choose(advice.measure.key)
        self.advised.emit()


def _figure(measure: Measure, units: UnitSystem) -> str:
    """As typed; the template's figure under a hollow mark, no finer than a rule."""
    if is_taken(measure):
        return measure.value.shown(units)
    return "\u00a0".join((HOLLOW, format_plain(measure.value.mm, units, with_unit=False)))

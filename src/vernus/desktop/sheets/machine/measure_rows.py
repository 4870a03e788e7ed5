"""The machine's measures as a list of figures: a row each, how it is taken beside the drawing, the next one marked."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QHideEvent
from PySide6.QtWidgets import QVBoxLayout

from vernus.core.finding import Sentence
from vernus.desktop.parts.entry import Rows
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.words import Words
from vernus.desktop.parts.work import Work
from vernus.desktop.session import Session
from vernus.job.entities import Axis, Measure
from vernus.job.fields import LengthEntry
from vernus.job.machine.measures import is_taken, measures_of, only_moved
from vernus.job.plan.next_measure import NextMeasure, next_measure
from vernus.job.scope import motion_name

_PAUSE_MS = 300
_LEAST_GROUP = 4


class MeasureRows(Rows):
    """``turned`` tells that another measure is in hand, ``advised`` that it is known which one matters most."""

    turned = Signal()
    advised = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.advice: NextMeasure | None = None
        self._asked_of: list[object] = []
        self._keys: list[str] = []
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(_PAUSE_MS)
        self._pause.timeout.connect(self._begin)
        self._work = Work(self)
        self._work.done.connect(self._take_advice)
        self.none = Words("This job's boxes are given by their sides; see Boxes.", "faint")
        self.list = FigureList()
        self.list.held.connect(lambda _key: self.turned.emit())
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.none)
        box.addWidget(self.list, 1)
        self.setFocusProxy(self.list)

    def current(self) -> Measure | None:
        """The measure in hand, the first one until the cursor has been in any."""
        measures = self._measures()
        held = self.list.in_hand
        key = held.name if held is not None else measures[0].key if measures else ""
        return self._measure(key)

    def choose(self, key: str) -> None:
        """Bring the cursor to a measure by its key."""
        self.list.hold(key)

    def row(self, key: str) -> FigureRow:
        """The row of a measure; raises KeyError."""
        found = self.list.row(key)
        assert isinstance(found, FigureRow)
        return found

    def refresh(self) -> None:
        """Show what is taken."""
        measures, moved = self._measures(), self._only_moved()
        keys = [*(m.key for m in measures), *(a.id for a in moved)]
        if keys != self._keys:
            self._keys = keys
            groups = [Group(words, [self._row(m) for m in some]) for words, some in grouped(measures)]
            groups += [Group("What only moves", [self._travel_row(a) for a in moved])] if moved else []
            self.list.show_groups(groups)
        self.none.setVisible(not measures)
        self.list.refresh()
        self._ask()

    def forget(self) -> None:
        """Take the figure away that somebody measured: it is only the template's again."""
        held = self.current()
        if held is not None and is_taken(held):
            entry = LengthEntry(mm=held.value.mm)
            self._session.apply(f"delete the figure of {held.label}", [held.with_(value=entry)])

    def drop_row(self) -> None:
        """The entry engine's key for deleting."""
        self.forget()

    def add_row(self) -> None:
        """There are as many measures as the template has."""
        self._session.notice.emit("A machine from a template has these measures; add what else there is under Boxes.")

    def _row(self, measure: Measure) -> FigureRow:
        row = FigureRow(
            self._session, Measure, "value", partial(self._measure, measure.key), label=measure.label, help=measure.how
        )
        row.name = measure.key
        return row

    def _travel_row(self, axis: Axis) -> FigureRow:
        """The travel of an axis that nothing is fitted to: it has no Travel sheet, and the envelope rests on it."""
        help_ = "From one end of its travel to the other, by rule; its stops, and what it meets, follow from it."
        return FigureRow(
            self._session, Axis, "usual", partial(self._axis, axis.id),
            label=f"Travel of the {motion_name(axis)}", help=help_, name=f"travel-{axis.name}",
        )  # fmt: skip

    def _only_moved(self) -> list[Axis]:
        job = self._session.job
        return [] if job is None else only_moved(job)

    def _axis(self, axis_id: str) -> Axis | None:
        found = self._session.job.get(axis_id) if self._session.job is not None else None
        return found if isinstance(found, Axis) else None

    def _measures(self) -> list[Measure]:
        return measures_of(self._session.job) if self._session.job else []

    def _measure(self, key: str) -> Measure | None:
        return next((m for m in self._measures() if m.key == key), None)

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
            other = job.supposing()
            self._work.begin(lambda cancelled: next_measure(other, cancelled))

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
        self.list.want([] if advice.measure is None else [advice.measure.key])
        self.list.refresh()
        self.advised.emit()


def grouped(measures: Sequence[Measure]) -> list[tuple[str, list[Measure]]]:
    """Measures in their order, in groups of four at least, named by what most of them are taken of."""
    groups: list[list[Measure]] = []
    for measure in measures:
        new = not groups or (len(groups[-1]) >= _LEAST_GROUP and _subject(measure) != _subject(groups[-1][-1]))
        groups.append([measure]) if new else groups[-1].append(measure)
    if len(groups) > 1 and len(groups[-1]) < _LEAST_GROUP - 1:
        groups[-2:] = [groups[-2] + groups[-1]]
    named = []
    for group in groups:
        subjects = [word for word, _ in Counter(_subject(m) for m in group).most_common(2)]
        named.append((" and ".join([subjects[0], *(s.lower() for s in subjects[1:])]), group))
    return named


def _subject(measure: Measure) -> str:
    """What a measure is taken of: the word its label begins with."""
    return measure.label.split(",")[0].split()[0].removesuffix("'s")

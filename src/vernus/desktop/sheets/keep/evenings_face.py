"""When the user works: hours by weekday, when evenings begin, days away; and the calendar file made of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import VernusError
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import EveningPlan
from vernus.job.keep.card import CardLine
from vernus.job.keep.evenings.calendar import write_calendar
from vernus.job.keep.evenings.hours import evening_plan

_HOURS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
_CLOCK = ("begins", "begins_weekend", "set_up", "pack_up")
_DAYS = ("starts", "away", "delivery_days")


class EveningsFace(QWidget):
    """The figures of the evenings over one button."""

    def __init__(self, session: Session, lines: Callable[[], Sequence[CardLine]]) -> None:
        super().__init__()
        self._session, self._lines = session, lines
        self._draft = EveningPlan(id=new_id())
        rows = {n: FigureRow(session, EveningPlan, n, self._evenings) for n in (*_HOURS, *_CLOCK, *_DAYS)}
        self.rows = list(rows.values())
        self.list = FigureList(
            Group("Hours in an evening", [rows[n] for n in _HOURS]),
            Group("When", [rows[n] for n in _CLOCK]),
            Group("Days", [rows[n] for n in _DAYS]),
        )
        self.calendar = QPushButton("Calendar file…")
        self.calendar.clicked.connect(self.ask_and_write_calendar)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 1)
        box.addWidget(self.calendar)
        self.setFocusProxy(self.rows[0].editor)

    def _evenings(self) -> EveningPlan | None:
        job = self._session.job
        return None if job is None else evening_plan(job) or self._draft

    def ask_and_write_calendar(self) -> None:
        """Ask where, and write the evenings and what falls due as a calendar file."""
        job = self._session.job
        if job is None:
            return
        start = str((job.path or Path("job.vernus")).with_suffix(".ics"))
        name, _ = QFileDialog.getSaveFileName(self, "Write the calendar file", start, "Calendar (*.ics)")
        if not name:
            return
        try:
            count = write_calendar(job, self._lines(), Path(name))
        except VernusError as error:
            self._session.notice.emit(str(error))
        else:
            self._session.notice.emit(f"Wrote {count} {'entries' if count != 1 else 'entry'} to {name}.")

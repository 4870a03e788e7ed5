"""Log: the dated notebook of the job."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox

from vernus.core.errors import VernusError
from vernus.core.finding import Ppm
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.document import Job, new_id, utc_now
from vernus.job.entities import Axis, LogEntry
from vernus.job.fields import quantities
from vernus.job.keep.due import tasks_of
from vernus.job.prove.recheck import date_of, due_of, due_words, history_of
from vernus.job.review import card_lines
from vernus.job.scope import axes_in_scope, on_display


class LogSheet(Sheet):
    """One line in, the newest on top."""

    name = "log"
    title = "Log"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.line = Line()
        self.line.setAccessibleName("Note")
        self.line.setMaxLength(1_000_000)  # what is too long is told, not cut
        self.line.returnPressed.connect(self._log)
        self.about = Words("", "faint")
        self.entry.addWidget(self.about)
        self.entry.addWidget(self.line)
        self.happened = QComboBox()
        self.happened.setAccessibleName("It was")
        for value, words in quantities(LogEntry)["event"].choices:
            self.happened.addItem(words, value)
        self.entry.addWidget(self.happened)
        self.due_title = Words("What falls due", "faint")
        self.due = Words("")
        self.entry.addSpacing(12)
        self.entry.addWidget(self.due_title)
        self.entry.addWidget(self.due)
        self.entry.addStretch(1)
        self.table = Table("Log")
        self.table.wrap_words()
        self.table.delete_pressed.connect(self._delete)
        self.checks = Table("Calibrations of the axis")
        self.checks.wrap_words()
        self.picture.addWidget(self.table, 3)
        self.checks_words = Words("", "faint")
        self.picture.addWidget(self.checks_words)
        self.picture.addWidget(self.checks, 2)
        self.instruction.setText("Write down what you did, what the indicator said, and what was odd.")
        self.not_on_bench = [self.table, self.checks, self.checks_words, self.due_title, self.due, self.happened]

    def focus_entry(self) -> None:
        self.line.setFocus()

    def _entries(self) -> list[LogEntry]:
        return self.session.job.all(LogEntry)[::-1] if self.session.job else []

    def _log(self) -> None:
        text = self.line.text().strip()
        event = self.happened.currentData()
        try:
            put = LogEntry(id=new_id(), axis_id=self.session.axis_id, event=event).with_(text=text)
        except VernusError as error:
            self.session.told.emit(str(error))
            return
        if text and self.session.apply("note", [put]):
            self.line.renew()
            self.happened.setCurrentIndex(0)

    def _delete(self, row: int) -> None:
        entries = self._entries()
        if row < len(entries):
            self.session.apply("delete a note", drop=[entries[row].id])

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None:
            return
        names = {a.id: a.name for a in axes_in_scope(job)}
        entries = self._entries()
        self.about.setText(f"A note on the {axis.name} axis, Enter logs it" if axis else "A note, Enter logs it")
        self.headline.show_answer(self.session, f"{len(entries)} note{'' if len(entries) == 1 else 's'}")
        self.table.rows.show_rows(
            [Column("when", False), Column("axis", False), Column("note", False)],
            [[e.created[:16].replace("T", " "), names.get(e.axis_id, ""), _said(e)] for e in entries],
        )
        self.table.fix_widths({0: 168, 1: 46})
        self.table.resizeRowsToContents()
        now = utc_now()
        read = [a for a in axes_in_scope(job) if on_display(a)]
        checks = [f"{a.name}: {due_words(due_of(job, a, now)).text(self.session.units)}" for a in read]
        tasks = [
            f"{t.axis}: {t.words.rstrip('.')}, {'due since' if t.overdue(now.date()) else 'on'} {t.day.isoformat()}."
            for t in tasks_of(job, card_lines(job), now)
            if t.key
        ]
        self.due.setText("\n".join([*checks, *tasks]))
        if axis is not None:
            self._show_checks(job, axis)

    def _show_checks(self, job: Job, axis: Axis) -> None:
        """Every calibration of the axis and whether it changed."""
        kept = history_of(job, axis)
        self.checks_words.setText(
            f"Calibrations of {axis.name}: its own counts against nominal, ± 2u"
            if kept
            else f"{axis.name} was not calibrated yet."
        )
        self.checks.rows.show_rows(
            [Column("when", False), Column("off nominal"), Column("change", False)],
            [
                [
                    date_of(k.proof.day),
                    f"{Ppm(k.proof.ppm).show(self.session.units)} ± {k.proof.expanded_words()}",
                    "" if k.change is None else k.change.in_words().text(self.session.units),
                ]
                for k in reversed(kept)
            ],
        )
        self.checks.fix_widths({0: 112, 1: 164})
        self.checks.resizeRowsToContents()


def _said(entry: LogEntry) -> str:
    """The note, and what it was when that calls for a new check."""
    words = dict(quantities(LogEntry)["event"].choices)
    return f"{words[entry.event].capitalize()}: {entry.text}" if entry.event else entry.text

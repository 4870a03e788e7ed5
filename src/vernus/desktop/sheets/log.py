"""Log: the dated notebook of the job."""

from __future__ import annotations

from vernus.desktop.parts.findings import plain_label
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import LogEntry


class LogSheet(Sheet):
    """One line in, the newest on top."""

    name = "log"
    title = "Log"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.line = Line()
        self.line.setAccessibleName("Note")
        self.line.setMaxLength(2000)
        self.line.returnPressed.connect(self._log)
        self.about = plain_label("", "faint")
        self.entry.addWidget(self.about)
        self.entry.addWidget(self.line)
        self.entry.addStretch(1)
        self.table = Table("Log")
        self.table.wrap_words()
        self.table.delete_pressed.connect(self._delete)
        self.picture.addWidget(self.table, 1)
        self.instruction.setText("Write down what you did, what the indicator said, and what was odd.")
        self.not_on_bench = [self.table]

    def focus_entry(self) -> None:
        self.line.setFocus()

    def _entries(self) -> list[LogEntry]:
        return self.session.job.all(LogEntry)[::-1] if self.session.job else []

    def _log(self) -> None:
        text = self.line.text().strip()
        if text and self.session.apply("note", [LogEntry(id=new_id(), axis_id=self.session.axis_id, text=text)]):
            self.line.renew()

    def _delete(self, row: int) -> None:
        entries = self._entries()
        if row < len(entries):
            self.session.apply("delete a note", drop=[entries[row].id])

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None:
            return
        names = {a.id: a.name for a in job.axes()}
        entries = self._entries()
        self.about.setText(f"A note on the {axis.name} axis, Enter logs it" if axis else "A note, Enter logs it")
        self.headline.show_answer(self.session, f"{len(entries)} note{'' if len(entries) == 1 else 's'}")
        self.table.rows.show_rows(
            [Column("when", False), Column("axis", False), Column("note", False)],
            [[e.created[:16].replace("T", " "), names.get(e.axis_id, ""), e.text] for e in entries],
        )
        header = self.table.horizontalHeader()
        for column, width in ((0, 168), (1, 46)):
            header.setSectionResizeMode(column, header.ResizeMode.Fixed)
            header.resizeSection(column, width)
        self.table.resizeRowsToContents()

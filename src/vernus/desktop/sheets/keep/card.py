"""Job card: the steps in order, ticked off with date and note."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import Step
from vernus.job.keep.card import CardLine, next_line
from vernus.job.review import card_lines


class CardSheet(Sheet):
    """A list of steps; Enter ticks the one chosen or takes the tick away."""

    name = "card"
    title = "Job card"
    caution = "Isolate and lock off before hands go near screws; eye protection for drilling and compressed air."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._lines: list[CardLine] = []
        self.about = Words("")
        self.care = Words("", "caution")
        self.tools = Words("", "faint")
        self.note = Line()
        self.note.setAccessibleName("Note on this step")
        self.note.setPlaceholderText("a note for this step")
        self.note.returnPressed.connect(self._tick)
        self.button = QPushButton("Tick it off (Ctrl+Enter)")
        press_by(self.button, "Ctrl+Return")
        self.button.clicked.connect(self._tick)
        for widget in (self.about, self.tools, self.care, self.note, self.button):
            self.entry.addWidget(widget)
        self.entry.addStretch(1)
        self.table = Table("Steps")
        self.table.wrap_words()
        self.table.chosen.connect(lambda _row: self._tick())
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_step())
        self.picture.addWidget(self.table, 1)
        self.not_on_bench = [self.table]

    def focus_entry(self) -> None:
        self.table.setFocus()

    def _chosen(self) -> CardLine | None:
        row = self.table.currentIndex().row()
        return self._lines[row] if 0 <= row < len(self._lines) else None

    def _tick(self) -> None:
        line, job = self._chosen(), self.session.job
        if line is None or job is None:
            return
        old = next((s for s in job.all(Step) if s.key == line.step.key), None)
        note = self.note.text().strip()
        if old is not None and not note:
            put = old.with_(done=not old.done)
        else:
            put = (old or Step(id=new_id(), key=line.step.key)).with_(done=True, note=note)
        if self.session.apply(f"tick “{line.step.words}”", [put]):
            self.note.renew()

    def refresh(self) -> None:
        job = self.session.job
        if job is None:
            return
        self._lines = card_lines(job)
        names = {line.step.key: n for n, line in enumerate(self._lines, 1)}
        rows = [
            [
                str(n),
                "done" if line.done else "",
                line.step.axis,
                line.step.words + (f" — {line.note}" if line.note else ""),
                ", ".join(str(names[k]) for k in line.step.needs[:4]) + (" …" if len(line.step.needs) > 4 else ""),
            ]
            for n, line in enumerate(self._lines, 1)
        ]
        columns = [
            Column("#", False), Column("", False), Column("axis", False), Column("step", False), Column("after", False),
        ]  # fmt: skip
        self.table.rows.show_rows(columns, rows)
        self.table.fix_widths({0: 46, 1: 60, 2: 42, 4: 64})
        self.table.resizeRowsToContents()
        coming = next_line(self._lines)
        if self.table.currentIndex().row() < 0 and self._lines:
            self.table.selectRow(self._lines.index(coming) if coming in self._lines else 0)
        done = sum(line.done for line in self._lines)
        self.headline.show_answer(
            self.session, f"{done} of {len(self._lines)} steps", "done, by a tick or by its sheet"
        )
        if coming is None:
            self.instruction.setText("Everything is done. Check again in a month, after a crash, or in another season.")
        else:
            axis = f"{coming.step.axis}: " if coming.step.axis else ""
            self.instruction.setText(f"Next, {axis}{coming.step.words}")
        self._show_step()

    def _show_step(self) -> None:
        line = self._chosen()
        if line is None:
            return
        self.about.setText(line.step.words)
        self.tools.setText(f"Tools: {line.step.tools}" if line.step.tools else "")
        self.care.setText(line.step.care)
        when = f" on {line.when}" if line.when else " by its sheet" if line.by_sheet else ""
        self.button.setText(
            "Take the tick away (Ctrl+Enter)" if line.when and line.done else "Tick it off (Ctrl+Enter)"
        )
        if line.done:
            self.tools.setText(f"Done{when}. {self.tools.text()}")

"""Tonight, on the card: the evening's steps in one list beside what to bring, ticked there, printed as one sheet."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.keep.evenings.hours import hours_words
from vernus.job.keep.evenings.tonight import Tonight, TonightStep

_WHOLE = 12
"""Lines of a step: an evening is short, and its steps stand whole."""


class TonightFace(QWidget):
    """Which evening, from when to when, what to bring; ``table`` is its list, shown beside it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._steps: Sequence[TonightStep] = ()
        self.when = Words("")
        self.hours = Words("", "faint")
        self.bring = Words("")
        self.get = Words("", "caution")
        self.print = QPushButton("Print tonight's sheet…")
        self.print.clicked.connect(self.ask_and_write)
        self.table = Table("Tonight's steps")
        self.table.wrap_words(_WHOLE)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        for widget in (self.when, self.hours, self.bring, self.get, self.print):
            box.addWidget(widget)
        box.addStretch(1)
        self.setFocusProxy(self.print)

    def chosen(self) -> str:
        """The key of the step chosen in the list, "" without one."""
        row = self.table.currentIndex().row()
        return self._steps[row].line.step.key if 0 <= row < len(self._steps) else ""

    def show_evening(self, found: Tonight | None, today: date) -> None:
        """Show an evening, or that nothing is open."""
        self._steps = () if found is None else found.steps
        self.when.setText("Nothing is open." if found is None else found.words(today))
        self.hours.setText("" if found is None else f"About {found.hours():.1f} h of work, with the tools:")
        owned, rest = found.bring() if found is not None else ((), ())
        self.bring.setText(", ".join(owned))
        self.bring.setVisible(bool(owned))
        self.get.setText(", ".join(rest))
        self.get.setVisible(bool(rest))
        self.print.setEnabled(found is not None)
        columns = [Column("#", False), Column("axis", False), Column("step", False), Column("h")]
        self.table.rows.show_rows(columns, [self._row(s) for s in self._steps], [s.line.step.key for s in self._steps])
        self.table.fix_widths({0: 46, 1: 46, 3: 60})
        self.table.resizeRowsToContents()
        if self.table.currentIndex().row() < 0 and self._steps:
            self.table.selectRow(0)

    def _row(self, step: TonightStep) -> list[str]:
        line = step.line.step
        said = [line.words, line.care, f"Tools: {line.tools}" if line.tools else ""]
        later = "It goes on another evening." if step.goes_on else ""
        noted = step.line.noted(self._session.units)
        words = "\n".join(w for w in (*said, noted, later) if w)
        return [str(step.number), line.axis, words, hours_words(step.hours)]

    def ask_and_write(self) -> None:
        """Ask where, and write the sheet of the evening."""
        from vernus.paper.report import PAPERS, SIZES, usual_size, write_report

        job = self._session.job
        if job is None:
            return
        path = job.path or Path("job.vernus")
        start = str(path.with_name(f"{path.stem}-tonight.pdf"))
        name, _ = QFileDialog.getSaveFileName(self, "Write tonight's sheet", start, "PDF (*.pdf)")
        if not name:
            return
        size = next((s for s in SIZES if s == settings.paper_size()), usual_size(job.info.units))
        try:
            write_report(job, Path(name), None, PAPERS["tonight"][1], size)
        except VernusError as error:
            self._session.notice.emit(str(error))
        else:
            self._session.notice.emit(f"Wrote tonight's sheet to {name}.")

"""Line or table: the ways to correct side by side, worked out off the thread, and what to key in."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from vernus.core.finding import Tiny
from vernus.core.prove.calibrate.table_choice import Trial, compare_tables
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.parts.work import Work
from vernus.desktop.session import Session
from vernus.job.entities import CalibrationRun
from vernus.job.prove.calibrate.ways import name_way, ways_in_words, ways_to_compare


class WaysView(QWidget):
    """A table of the ways with what each leaves, and the conclusion in one sentence under it."""

    _heard = Signal(int, int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.table = Table("Line or table")
        self.words = Words("")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.table, 1)
        box.addWidget(self.words)
        self.setFocusProxy(self.table)
        self.work = Work(self)
        self.work.done.connect(self._show)
        self.stop = QPushButton("Enough: take what there is")
        self.stop.clicked.connect(self.work.enough)
        self.stop.hide()
        box.addWidget(self.stop)
        self._heard.connect(self._tell)
        self.work.failed.connect(lambda text: self._say("not compared", text))
        self._asked: object = None
        self._found: tuple[list[Trial], Trial] | None = None
        self._settled = False

    def compare(self, run: CalibrationRun, settled: bool) -> None:
        """Compare the ways for a run, once for the same checks and display."""
        job = self._session.job
        if job is None:
            return
        self._settled = settled
        if len(run.checks) < 4 or run.method == "counts":
            self._asked = self._found = None
            self._say(
                "nothing to compare yet",
                "Choose linear factor or table under How it corrects and log four stations at least.",
            )
            return
        given = ways_to_compare(job, run)
        if given == self._asked:
            if self._found is not None:
                self._show(self._found)
            return
        self._asked, self._found = given, None
        self._say("working it out", "leaving out one station after the other …")
        self.stop.show()
        self.work.begin(lambda cancelled: compare_tables(*given, cancelled, self._heard.emit))

    def _tell(self, done: int, of: int) -> None:
        """How far it is, while it runs."""
        if self.work.busy and self._found is None:
            self._say("working it out", f"leaving out one station after the other: {done} of {of} tables tried …")

    def _say(self, title: str, words: str) -> None:
        self.table.rows.show_rows([Column(title, False)], [[words]])
        self.words.setText("")

    def _show(self, found: tuple[list[Trial], Trial]) -> None:
        if self._asked is None:  # nothing to compare any more
            return
        units = self._session.units
        self.stop.hide()
        self._found = found
        trials, chosen = found
        rows = [
            [
                name_way(t), "best" if t is chosen else "",
                *(Tiny(mm).show(units) for mm in (t.max_mm, t.unseen_rms_mm, t.unseen_max_mm)),
            ]
            for t in trials
        ]  # fmt: skip
        columns = [Column("leaves"), Column("unseen"), Column("worst")]
        self.table.rows.show_rows([Column("way", False), Column("", False), *columns], rows)
        self.table.fix_widths({1: 56, 2: 102, 3: 102, 4: 102})
        self.words.setText(ways_in_words(trials, chosen, self._settled).text(units))

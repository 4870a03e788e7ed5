"""The frame of every sheet: entry, picture with headline figure, and instruction, always in the same places."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtGui import QFontMetrics, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.core.budget import Budget
from vernus.core.doubt import Yardstick, doubt_length
from vernus.core.errors import BadInputError
from vernus.core.finding import Sentence, directed
from vernus.core.units import UnitName, UnitSystem
from vernus.desktop.parts.budget_view import BudgetDialog
from vernus.desktop.parts.entry import Entry
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.marks import WORDS, Mark, MarkName
from vernus.desktop.parts.question import Question
from vernus.desktop.parts.words import Label, Words, set_tip
from vernus.desktop.session import Session
from vernus.job.fields import LengthEntry
from vernus.job.known import HOLLOW
from vernus.job.said import of_axis
from vernus.paper.ink import font


class Headline(QWidget):
    """The answer in big figures, with a verdict mark and a line under it."""

    def __init__(self) -> None:
        super().__init__()
        self._bench = False
        self.mark = Mark(26)
        self.figure = Label()
        self.word = Label()
        self.under = Words("", "faint")
        self.rests = Words("", "faint")
        self.rests.hide()
        row = QHBoxLayout()
        row.setSpacing(10)
        row.addWidget(self.figure)
        row.addWidget(self.mark)
        row.addWidget(self.word)
        row.addStretch(1)
        self.lines = QPushButton("± (F7)")
        set_tip(self.lines, "The uncertainty of this figure, line by line")
        press_by(self.lines, "F7")
        self.lines.clicked.connect(self._open_budget)
        self.lines.hide()
        self._budget: Budget | None = None
        self._about = ""
        self._units: UnitSystem = "mm"
        row.addWidget(self.lines)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addLayout(row)
        box.addWidget(self.under)
        box.addWidget(self.rests)
        self.enlarge(False)

    def show_answer(
        self,
        session: Session,
        figure: str,
        under: str = "",
        mark: MarkName | None = None,
        budget: Budget | None = None,
        about: str = "",
    ) -> None:
        """Show the figure, the line under it, a mark with its word, and a key to its budget (``about``: of what)."""
        self._budget, self._about, self._units = budget, about, session.units
        self.figure.setText(figure)
        self.under.setText(under)
        self.under.setVisible(bool(under))
        self.mark.setVisible(mark is not None)
        self.mark.show_mark(mark, session.inks)
        self.word.setText(WORDS[mark] if mark else "")
        self._fit()

    def show_rests(self, names: Sequence[str]) -> None:
        """Say under the figure which of those it rests on nobody measured."""
        self.rests.setText(f"{HOLLOW} Nobody measured or said: {', '.join(names)}." if names else "")
        self.rests.setVisible(bool(names) and not self._bench)

    def _open_budget(self) -> None:
        if self._budget is not None:
            BudgetDialog(self._budget, self._about, self._units, self.window()).open()

    def enlarge(self, bench: bool) -> None:
        """Readable from two metres, or from the chair."""
        self._bench = bench
        self._fit()
        self.word.setFont(font(40 if bench else 15, bold=True))
        self.under.setFont(font(22 if bench else 11))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """The largest figures that fit beside the mark, its word and the key to the budget."""
        self.lines.setVisible(self._budget is not None and not self._bench)
        taken = 50 + self.word.sizeHint().width() if self.word.text() else 0
        taken += 0 if self.lines.isHidden() else self.lines.sizeHint().width() + 10
        for points in (64, 52, 44, 36) if self._bench else (25, 21, 17, 15):
            face = font(points, bold=True)
            if QFontMetrics(face).horizontalAdvance(self.figure.text()) + taken <= self.width():
                break
        self.figure.setFont(face)


class Sheet(QWidget):
    """A sheet with its three zones. Subclasses fill ``entry`` and ``picture`` and implement ``refresh``."""

    name = ""
    title = ""
    caution = ""
    on_bench = False

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.heading = Label(self.title)
        self.heading.setFont(font(15, bold=True))
        self.entry_zone, self.entry = _zone()
        self.main: QPushButton | None = None
        self.engine = Entry(self.entry_zone, lambda: self.main)
        self.cell_question = Question()
        self.cell_question.answered.connect(self._answer_cell)
        self._cell: tuple[UnitName, Callable[[LengthEntry], object]] | None = None
        self.entry.addWidget(self.cell_question)
        self.picture_zone, self.picture = _zone()
        self.headline = Headline()
        self.picture.addWidget(self.headline)
        self.instruction_zone = QFrame()
        self.instruction_zone.setObjectName("instruction")
        self.instruction = Words("")
        self.caution_label = Words(self.caution, "caution")
        low = QVBoxLayout(self.instruction_zone)
        low.setContentsMargins(12, 8, 12, 8)
        low.addWidget(self.instruction)
        low.addWidget(self.caution_label)
        self.caution_label.setVisible(bool(self.caution))
        grid = QGridLayout(self)
        grid.setContentsMargins(8, 4, 8, 8)
        grid.setSpacing(8)
        grid.addWidget(self.heading, 0, 0, 1, 2)
        grid.addWidget(self.entry_zone, 1, 0)
        grid.addWidget(self.picture_zone, 1, 1)
        grid.addWidget(self.instruction_zone, 2, 0, 1, 2)
        grid.setRowStretch(1, 1)
        grid.setColumnStretch(1, 1)
        self.not_on_bench: list[QWidget] = []
        self.bench_fields: list[LengthField] = []
        self.bench_words: list[Label] = []
        self.show_bench(False)

    def show_bench(self, bench: bool) -> None:
        """Only the headline figure, the entry field and the instruction, large; or everything."""
        self.on_bench = bench
        self.headline.enlarge(bench)
        self.instruction.setFont(font(26 if bench else 13))
        self.entry_zone.setFixedWidth(560 if bench else 296)
        for field in self.bench_fields:
            field.enlarge(bench)
        for words in self.bench_words:
            words.setFont(font(22 if bench else 11))
        for widget in (*self.not_on_bench, self.heading):
            widget.setVisible(not bench)

    def words_of(self, *kinds: str, about: str = "") -> str:
        """What is said of the axis in view, of those kinds, in the words that paper has too."""
        job, axis = self.session.job, self.session.axis
        found = of_axis(job, axis, *kinds) if job is not None and axis is not None else []
        return " ".join(s.words.text(self.session.units) for s in found if about in ("", s.about))

    def refresh(self) -> None:
        """Show the job as it is."""
        raise NotImplementedError

    def focus_entry(self) -> None:
        """Put the cursor where the next thing is typed."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Keys that no field wanted go to the entry engine."""
        if not self.engine.key(event):
            super().keyPressEvent(event)

    def correct(
        self, text: str, unit: UnitName, compare: Yardstick | None, take: Callable[[LengthEntry], object]
    ) -> None:
        """Take a figure corrected in a table, once it can be read and nothing of it is doubtful.

        What can't be read is said, and the old one stays; what is doubtful is asked about above the table.
        """
        try:
            entry = LengthEntry.read(text, unit)
            asked = None if compare is None else doubt_length(text, unit, compare)
        except BadInputError as error:
            self.session.told.emit(f"{error} The old figure stays.")
            return
        if asked is None:
            self.cell_question.withdraw()
            take(entry)
            return
        self._cell = unit, take
        self.cell_question.ask(asked, text, self.session.units)

    def _answer_cell(self, text: str, kept: bool) -> None:
        if self._cell is None:
            return
        unit, take = self._cell
        self._cell = None
        entry = LengthEntry.read(text, unit)
        take(entry.model_copy(update={"kept": True}) if kept else entry)

    def drop_draft(self) -> str:
        """Forget a correction that waits for an answer."""
        if not self.cell_question.open:
            return ""
        self._cell = None
        self.cell_question.withdraw()
        return self.cell_question.typed

    def advise(self, words: Sentence) -> None:
        """Show the instruction, in the words of direction of the axis in view."""
        self.instruction.setText(directed(words, self.session.directions).text(self.session.units))

    def about_axis(self) -> str:
        """“X: table, left and right” for headings."""
        axis = self.session.axis
        return f"{axis.name} axis, {axis.label}" if axis else ""


def _zone() -> tuple[QFrame, QVBoxLayout]:
    frame = QFrame()
    frame.setObjectName("zone")
    box = QVBoxLayout(frame)
    box.setContentsMargins(12, 10, 12, 10)
    box.setSpacing(8)
    return frame, box

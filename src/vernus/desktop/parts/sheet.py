"""The frame of every sheet: the list of figures with the instruction under it; beside them headline and picture."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QFontMetrics, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.core.budget import Budget
from vernus.core.doubt import Yardstick, doubt_length
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Sentence, directed
from vernus.core.units import UnitName, UnitSystem
from vernus.desktop.parts.budget_view import BudgetDialog
from vernus.desktop.parts.entry import Entry
from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.findings import FindingLines
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.marks import WORDS, Mark, MarkName
from vernus.desktop.parts.pages import Pages
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.question import Question
from vernus.desktop.parts.row import Row
from vernus.desktop.parts.tables import Table
from vernus.desktop.parts.words import Label, Words, set_tip
from vernus.desktop.session import Session
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import UNMEASURED_MARK
from vernus.job.said import of_axis
from vernus.paper.ink import font

ENTRY_PX, _BENCH_PX = 322, 520
_SHEET_PX = QSize(900, 480)
"""Less than any window leaves it."""
_HAND_PX, _MOST_WORDS = 20, 480


class Headline(QWidget):
    """The answer in big figures, with a verdict mark and what it is of beside it, or under it where that is long."""

    def __init__(self) -> None:
        super().__init__()
        self._bench = False
        self.mark = Mark(24)
        self.figure = Label()
        self.word = Label()
        self.under = Words("", "faint")
        self.rests = Words("", "faint")
        self.rests.hide()
        self._row = QHBoxLayout()
        self._row.setSpacing(10)
        self._row.addWidget(self.figure)
        self._row.addWidget(self.mark)
        self._row.addWidget(self.word)
        self._row.addStretch(1)
        self.lines = QPushButton("± (F7)")
        set_tip(self.lines, "The uncertainty of this figure, line by line")
        press_by(self.lines, "F7")
        self.lines.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.lines.clicked.connect(self._open_budget)
        self.lines.hide()
        self._budget: Budget | None = None
        self._about = ""
        self._units: UnitSystem = "mm"
        self._row.addWidget(self.lines)
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0, 0, 0, 0)
        self._box.setSpacing(1)
        self._box.addLayout(self._row)
        self._box.addWidget(self.under)
        self._box.addWidget(self.rests)
        self._beside = False
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

    def show_rests(self, names: Sequence[str], axis: str = "") -> None:
        """Say under the figure which of those it rests on are not measured, and of which axis."""
        of = f" for {axis}" if axis else ""
        self.rests.setText(f"{UNMEASURED_MARK} Not measured{of}: {', '.join(names)}." if names else "")
        self.rests.setVisible(bool(names) and not self._bench)

    def _open_budget(self) -> None:
        if self._budget is not None:
            BudgetDialog(self._budget, self._about, self._units, self.window()).open()

    def enlarge(self, bench: bool) -> None:
        """Readable from two metres, or from the chair."""
        self._bench = bench
        self.word.setFont(font(40 if bench else 14, bold=True))
        self.under.setFont(font(22 if bench else 11))
        self._fit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """The largest figures that fit beside the mark, its word and the key to the budget; short words beside them."""
        self.lines.setVisible(self._budget is not None and not self._bench)
        taken = 50 + self.word.sizeHint().width() if self.word.text() else 0
        taken += 0 if self.lines.isHidden() else self.lines.sizeHint().width() + 10
        for points in (64, 52, 44, 36) if self._bench else (23, 20, 17, 15):
            face = font(points, bold=True)
            if QFontMetrics(face).horizontalAdvance(self.figure.text()) + taken <= self.width():
                break
        if self.figure.font() != face:
            self.figure.setFont(face)
        left = self.width() - taken - QFontMetrics(face).horizontalAdvance(self.figure.text()) - 40
        high = QFontMetrics(self.under.font()).boundingRect(0, 0, max(1, left), 999, 0x1000, self.under.text()).height()
        self._put_under(beside=left > 240 and high <= 2 * QFontMetrics(self.under.font()).lineSpacing())

    def _put_under(self, *, beside: bool) -> None:
        if beside == self._beside:
            return
        self._beside = beside
        if beside:
            self._box.removeWidget(self.under)
            self._row.insertWidget(3, self.under, 100)
        else:
            self._row.removeWidget(self.under)
            self._box.insertWidget(1, self.under)


class Sheet(QWidget):
    """A sheet with its zones. Subclasses fill ``entry`` and ``picture`` and implement ``refresh``."""

    name = ""
    title = ""
    caution = ""
    on_bench = False

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.heading = Words(self.title)
        self.heading.setFont(font(12, bold=True))
        self.entry_zone, self.entry = _zone()
        self.main: QPushButton | None = None
        self.engine = Entry(self.entry_zone, lambda: self.main)
        self.cell_question = Question()
        self.cell_question.answered.connect(self._answer_cell)
        self._cell: tuple[UnitName, Callable[[LengthEntry], object]] | None = None
        self.entry.addWidget(self.heading)
        self.entry.addWidget(self.cell_question)
        self._act, self._remedy = "", ""
        self._watched: list[Table] = []
        self._seen_on_bench: bool | None = None
        self._lay_out()
        self.hidden_on_bench: list[QWidget] = []
        self.bench_fields: list[LengthField] = []
        self.show_bench(False)

    def _lay_out(self) -> None:
        """Figures and instruction on the left, the answer and its picture on the right."""
        self.picture_zone, column = _zone()
        self.headline, self.findings = Headline(), FindingLines()
        self.picture = QVBoxLayout()
        self.picture.setSpacing(6)
        self.hand_words = HandWords()
        column.setSpacing(5)
        column.addWidget(self.headline)
        column.addWidget(self.findings)
        column.addLayout(self.picture, 1)
        column.addWidget(self.hand_words)
        self.caution_label = Words(self.caution, "caution")
        column.addWidget(self.caution_label)
        self.caution_label.setVisible(bool(self.caution))
        self.instruction_zone = QFrame()
        self.instruction_zone.setObjectName("instruction")
        self.instruction, self.then = Words(""), Words("", "faint")
        low = QVBoxLayout(self.instruction_zone)
        low.setContentsMargins(10, 7, 8, 7)
        low.setSpacing(4)
        low.addWidget(self.instruction)
        low.addWidget(self.then)
        low.addStretch(1)
        grid = self._grid = QGridLayout(self)
        grid.setContentsMargins(6, 2, 6, 6)
        grid.setSpacing(6)
        grid.setRowStretch(0, 1)
        grid.setColumnStretch(1, 1)
        grid.addWidget(self.entry_zone, 0, 0)
        grid.addWidget(self.instruction_zone, 1, 0)
        grid.addWidget(self.picture_zone, 0, 1, 2, 1)

    def sizeHint(self) -> QSize:
        """A sheet takes the room there is: what is on it isn't asked, and not for every other sheet in the window."""
        return QSize(_SHEET_PX)

    def minimumSizeHint(self) -> QSize:
        return QSize(_SHEET_PX)

    def hasHeightForWidth(self) -> bool:
        return False

    @contextmanager
    def laid_out_once(self) -> Iterator[None]:
        """While much of it changes: what comes and goes is laid out once, at the end, not each time."""
        grounds = (self, self.entry_zone, self.picture_zone, self.headline, self.hand_words)
        layouts = [layout for ground in grounds if (layout := ground.layout()) is not None and layout.isEnabled()]
        for layout in layouts:
            layout.setEnabled(False)
        try:
            yield
        finally:
            for layout in layouts:
                layout.setEnabled(True)
            for layout in layouts:
                layout.activate()

    def figures(self, *groups: Group) -> FigureList:
        """A list of figures for this sheet: the words of its row in hand stand beside the drawing."""
        made = FigureList(*groups)
        made.held.connect(lambda _name: self.show_hand(made))
        return made

    def show_hand(self, figures: FigureList) -> None:
        """Say what belongs to the row in hand, and let the drawing follow."""
        self.hand_words.show_row(figures.in_hand)
        for view in self.findChildren(Picture):
            view.follow()

    def type_into_drawing(self) -> bool:
        """Type into the dimension of the row in hand; false where no drawing in view has it."""
        return any(view.type_into_hand() for view in self.findChildren(Picture) if view.isVisible())

    def be_seen(self, *, bench: bool) -> None:
        """Come into view, as it is read at the machine or from the chair."""
        if bench != self._seen_on_bench:
            self._seen_on_bench = bench
            self.show_bench(bench)

    def show_bench(self, bench: bool) -> None:
        """Only the headline figure, the entry field, the picture and the instruction, large; or everything."""
        self.on_bench = bench
        self.headline.enlarge(bench)
        self.instruction.setFont(font(24 if bench else 12))
        self.then.setFont(font(18 if bench else 11))
        self.entry_zone.setFixedWidth(_BENCH_PX if bench else ENTRY_PX)
        self.instruction_zone.setFixedWidth(_BENCH_PX if bench else ENTRY_PX)
        self._grid.setRowStretch(0, 0 if bench else 1)
        self._grid.setRowStretch(1, 1 if bench else 0)
        for view in self.findChildren(Picture):
            view.enlarge(bench)
        for table in self.findChildren(Table):
            if table not in self._watched:
                self._watched.append(table)
                table.looked.connect(self._say_row)
        for field in self.bench_fields:
            field.enlarge(bench)
        for words in self._entry_words():
            words.setFont(font(20 if bench else 11))
        self.caution_label.setFont(font(16 if bench else 11))
        for widget in (*self.hidden_on_bench, self.heading, self.hand_words):
            widget.setVisible(not bench)
        for figures in self.findChildren(FigureList):
            if self.bench_fields and not isinstance(figures.parentWidget(), Pages):  # else it is the entry
                figures.setVisible(not bench)
        self.findings.setVisible(not bench and bool(self.findings.lines))

    def _entry_words(self) -> list[Label]:
        """The words over the fields of the next reading, which are read at the machine."""
        inside = (*self.findChildren(FigureList), *self.findChildren(FigureField))
        labels = [w for w in self.entry_zone.findChildren(Label) if w is not self.heading]
        return [w for w in labels if not any(part.isAncestorOf(w) for part in inside)]

    def _say_row(self, words: str) -> None:
        """A row whose words had no room in its table: all of them, beside the drawing."""
        self.hand_words.show_words("", words)

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

    def hold_wanted(self) -> None:
        """Put the cursor to what matters most next."""
        if not any(figures.isVisible() and figures.hold_wanted() for figures in self.findChildren(FigureList)):
            self.focus_entry()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Keys that no field wanted go to the entry engine; a digit goes to the figure in hand."""
        if not self.engine.key(event) and not self.engine.take_typed(event):
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
            self.session.notice.emit(f"{error} The old figure stays.")
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
        take(replace(entry, kept=True) if kept else entry)

    def drop_draft(self) -> str:
        """Forget a correction that waits for an answer."""
        if not self.cell_question.open:
            return ""
        self._cell = None
        self.cell_question.withdraw()
        return self.cell_question.typed

    def advise(self, words: Sentence) -> None:
        """Show the next act, in the words of direction of the axis in view."""
        self.say(directed(words, self.session.directions).text(self.session.units))

    def say(self, act: str) -> None:
        """Show the next act; where something stops the sheet, what mends that comes first."""
        self._act = act
        self._instruct()

    def _instruct(self) -> None:
        first = self._remedy if self._remedy and self._remedy not in self._act else ""
        self.instruction.setText(first or self._act)
        self.then.setText(f"Then: {self._act}" if first and self._act else "")
        self.then.setVisible(bool(self.then.text()))

    def show_findings(self, found: Sequence[Finding]) -> None:
        """Show what stands against the sheet; the worst stop's remedy comes first in the instruction."""
        units = self.session.units
        self.findings.show_findings(found, units, self.session.inks)
        self.findings.setVisible(bool(found) and not self.on_bench)
        stop = next((f for f in found if f.severity == "stop"), None)
        self._remedy = "" if stop is None else stop.as_json(units)["remedy"]
        self._instruct()
        figures = next((f for f in self.findChildren(FigureList) if f.in_hand is not None and f.isVisible()), None)
        if figures is not None:
            self.hand_words.show_row(figures.in_hand)

    def about_axis(self) -> str:
        """“X, table, left and right” for headings."""
        axis = self.session.axis
        return f"{axis.name}, {axis.label}" if axis else ""


class HandWords(QWidget):
    """The row in hand in words, beside the drawing: its name, how it is taken, and what it decides."""

    def __init__(self) -> None:
        super().__init__()
        self.name, self.words = Label(), Words("", "faint")
        self.name.setObjectName("accent")
        self.name.setFont(font(11, bold=True))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(14)
        row.addWidget(self.name, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(self.words, 1, Qt.AlignmentFlag.AlignTop)
        self.setMinimumHeight(_HAND_PX)

    def show_row(self, row: Row | None) -> None:
        """Show the words of a row."""
        self.show_words("" if row is None else row.label.lstrip("… "), "" if row is None else row.help)

    def show_words(self, name: str, words: str) -> None:
        """Show words about something else that is looked at."""
        self.name.setText(name)
        self.name.setVisible(bool(name))
        self.words.setText(words if len(words) <= _MOST_WORDS else words[:_MOST_WORDS].rsplit(" ", 1)[0] + " …")


def _zone() -> tuple[QFrame, QVBoxLayout]:
    frame = QFrame()
    frame.setObjectName("zone")
    box = QVBoxLayout(frame)
    box.setContentsMargins(8, 6, 8, 6)
    box.setSpacing(6)
    return frame, box

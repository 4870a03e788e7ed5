"""The practice panel: choose a lesson, work the machine, say what was asked, see how it went."""

from __future__ import annotations

import math
import random
from collections.abc import Sequence

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.bench.practice.attempt import DEED_WORDS, Attempt, Trace, went_another_way
from vernus.bench.practice.grips import Grip, InHand, grips_of, known_facts, next_thing
from vernus.bench.practice.lessons import FREE_PLAY, LESSONS, Lesson, lesson_by_id
from vernus.bench.practice.progress import (
    LEVELS,
    Best,
    best_of,
    keep_best,
    keep_end,
    keep_level,
    keep_try,
    last_lesson,
    left_try,
    level,
    streak_of,
)
from vernus.bench.practice.world import Seen
from vernus.core.errors import BadInputError, VernusError
from vernus.core.finding import Mm
from vernus.core.units import UnitSystem, parse_length, parse_number
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.words import Label, Words, set_tip
from vernus.desktop.practice.bench_view import BenchView
from vernus.desktop.session import Session
from vernus.paper.drawing.keep.bench_shown import BenchShown
from vernus.paper.drawing.keep.practice_end import TraceShown
from vernus.paper.ink import font

PANEL_WIDTH = 430
_LAST_SEED, _FRAME_MS = 9999, 25


class PracticePanel(QFrame):
    """One lesson on one machine; every deed is kept, so that leaving loses nothing."""

    left = Signal()
    begun = Signal(str)
    """A lesson was begun: the sheet that goes with it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("zone")
        self.setFixedWidth(PANEL_WIDTH)
        self._session = session
        self.attempt: Attempt | None = None
        self.hand = InHand()
        self._grips: list[Grip] = []
        self._picked = ""
        self._seen_words = ""
        self._display = ""
        self._trace: tuple[Trace, Trace] | None = None
        self._entered = False
        self.lesson = QComboBox()
        self.lesson.setAccessibleName("Lesson")
        self.lesson.activated.connect(self._choose)
        self.level = QComboBox()
        self.level.setAccessibleName("How much is helped")
        for name, words in LEVELS:
            self.level.addItem(words, name)
        self.level.setCurrentIndex(self.level.findData(level()))
        self.level.activated.connect(self._choose_level)
        self.fresh = False
        """Whether the try in hand begins anew: the sheets beside it are emptied too."""
        self._frames: list[float] = []
        self._film = QTimer(self)
        self._film.setInterval(_FRAME_MS)
        self._film.timeout.connect(self._next_frame)
        self.number = Line()
        self.number.setAccessibleName("Machine number, to race a friend")
        self.number.setPlaceholderText("machine number, Enter")
        self.number.returnPressed.connect(self._numbered)
        self.brief = Words("")
        self.known = Words("", "faint")
        self.view = BenchView()
        self.view.picked.connect(self._pick)
        self.view.turned.connect(self._turn)
        self.view.worked.connect(self._work)
        self.how = Words("", "faint")
        self.seen = Words("")
        self.seen.setFont(font(14, bold=True))
        self.figure = Line()
        self.figure.setAccessibleName("Figure for the thing in hand")
        self.figure.returnPressed.connect(self._type)
        self.figure.returnPressed.connect(self._enter)
        self.spent = Label("")
        self.answer = Line()
        self.answer.setAccessibleName("Your answer")
        self.answer.returnPressed.connect(self._enter)
        self.answer.returnPressed.connect(self.end)
        self.choice = QComboBox()
        self.choice.setAccessibleName("Your answer, chosen")
        self.result = Words("")
        self._layout(self._buttons())
        self.hide()

    def _buttons(self) -> Sequence[Sequence[QPushButton]]:
        self.hint = QPushButton("Hint (F5)")
        press_by(self.hint, "F5")
        set_tip(self.hint, "A hint costs three minutes")
        self.hint.clicked.connect(self._hint)
        self.done = QPushButton("That's it (F10)")
        self.done.setObjectName("main")
        press_by(self.done, "F10")
        self.done.clicked.connect(self.end)
        self.again = QPushButton("Same machine again")
        self.again.clicked.connect(lambda: self._begin(self.attempt.seed if self.attempt else 1))
        self.other = QPushButton("Another machine")
        self.other.clicked.connect(self._another)
        self.next = QPushButton("Next lesson")
        self.next.clicked.connect(self._next_lesson)
        self.leave = QPushButton("Leave the practice")
        self.leave.clicked.connect(self.left)
        return ((self.done, self.hint), (self.again, self.other), (self.next, self.leave))

    def _layout(self, buttons: Sequence[Sequence[QPushButton]]) -> None:
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 10, 12, 10)
        box.setSpacing(6)
        for widget in (self.lesson, self.level, self.brief, self.known):
            box.addWidget(widget)
        box.addWidget(self.view, 1)
        below: tuple[QWidget, ...] = (
            self.how, self.figure, self.seen, self.answer, self.choice, self.result, self.spent
        )  # fmt: skip
        for part in below:
            box.addWidget(part)
        box.addWidget(self.number)
        for row in buttons:
            line = QHBoxLayout()
            for button in row:
                line.addWidget(button)
            box.addLayout(line)

    @property
    def units(self) -> UnitSystem:
        """The units read and typed."""
        return self._session.units

    def open(self) -> None:
        """Show the panel with the lesson worked on last, as it was left."""
        wanted = last_lesson() or LESSONS[0].id
        self._offer()
        try:
            lesson = lesson_by_id(wanted)
        except VernusError:
            lesson = LESSONS[0]
        self._take_up(lesson)

    def _offer(self) -> None:
        self.lesson.clear()
        for n, lesson in enumerate((*LESSONS, FREE_PLAY), 1):
            best = best_of(lesson.id)
            row = streak_of(lesson.id)
            in_a_row = f", {row} in a row" if row > 1 else ""
            done = "" if best is None else f" (done in {best.minutes:.0f} min{in_a_row})"
            self.lesson.addItem(f"{n}. {lesson.title}{done}", lesson.id)

    def _choose(self, _index: int) -> None:
        self._take_up(lesson_by_id(self.lesson.currentData()))

    def _take_up(self, lesson: Lesson) -> None:
        """Go on with a lesson where it was left, or begin it."""
        self.lesson.setCurrentIndex(self.lesson.findData(lesson.id))
        kept = left_try(lesson.id)
        if kept is None:
            self.attempt = Attempt(lesson, random.randint(1, _LAST_SEED), inch=self.units == "in")
            self._fresh()
            return
        self.attempt = kept
        self._fresh()
        if kept.ended:
            self._show_end(kept.trace())

    def _choose_level(self, _index: int) -> None:
        try:
            keep_level(self.level.currentData())
        except VernusError as error:
            self._session.notice.emit(f"The practice is not kept: {error}")
        self.refresh()

    def _numbered(self) -> None:
        """The machine of a number: two people race on the same one."""
        text = self.number.text().strip()
        if not text.isdecimal() or not 1 <= int(text) <= _LAST_SEED:
            self._session.notice.emit(f"A machine has a number from 1 to {_LAST_SEED}.")
            return
        self.number.renew()
        self._entered = True
        self._begin(int(text))

    def _next_lesson(self) -> None:
        row = [one.id for one in (*LESSONS, FREE_PLAY)]
        here = self.attempt.lesson.id if self.attempt is not None else row[0]
        self._take_up(lesson_by_id(row[(row.index(here) + 1) % len(row)]))

    def _another(self) -> None:
        self._begin(random.randint(1, _LAST_SEED))

    def _begin(self, seed: int) -> None:
        if self.attempt is not None:
            self.attempt = Attempt(self.attempt.lesson, seed, inch=self.units == "in")
            self._keep()
            self.fresh = True
            self._fresh()

    def begin_lesson(self, lesson_id: str, seed: int) -> None:
        """Begin a lesson on the machine of a seed, so that two people can race."""
        self.lesson.setCurrentIndex(self.lesson.findData(lesson_id))
        self.attempt = Attempt(lesson_by_id(lesson_id), seed, inch=self.units == "in")
        self._keep()
        self._fresh()

    def _fresh(self) -> None:
        """Everything of the panel for the try in hand."""
        attempt = self.attempt
        if attempt is None:
            return
        self.hand = InHand()
        self._grips = grips_of(attempt, self.hand)
        self._picked = self._grips[0].id
        self._display, self._trace, self._frames = "", None, []
        self._seen_words = "" if attempt.last is None else attempt.last.words.text(self.units)
        self.answer.clear()
        self.choice.clear()
        self.choice.addItem("your answer: choose", None)
        for value, words in attempt.lesson.choices:
            self.choice.addItem(words, value)
        self.result.setText("")
        self.refresh()
        self.begun.emit(attempt.lesson.sheet)
        self.fresh = False
        self._session.notice.emit("")
        self.view.setFocus()

    def refresh(self) -> None:
        """Show the try as it stands."""
        attempt = self.attempt
        if attempt is None:
            return
        lesson = attempt.lesson
        self.brief.setText(lesson.brief)
        self.known.setText(" ".join(s.text(self.units) for s in known_facts(lesson, attempt)))
        grip = self._grip()
        self.how.setText("" if grip is None or attempt.ended else _how(grip, self.units))
        self.figure.setVisible(bool(grip and grip.type_words) and not attempt.ended)
        self.figure.setPlaceholderText("" if grip is None else f"{grip.type_words} …, Enter")
        self.seen.setText(self._seen_words)
        self.seen.setVisible(bool(self._seen_words))
        self.answer.setVisible(lesson.asked in ("length", "counts") and not attempt.ended)
        unit = self._session.unit("length") if lesson.asked == "length" else "counts per mm"
        self.answer.setPlaceholderText(f"your answer, {unit}, Enter")
        self.choice.setVisible(lesson.asked == "choice" and not attempt.ended)
        self.result.setVisible(bool(self.result.text()))
        self.done.setVisible(not attempt.ended)
        self.hint.setVisible(not attempt.ended and self.level.currentData() != "alone")
        self.next.setVisible(attempt.ended)
        hints = "" if not attempt.hints else f", {attempt.hints} {'hint' if attempt.hints == 1 else 'hints'}"
        self.spent.setText(f"{attempt.minutes:.1f} min{hints}; machine number {attempt.seed}")
        if self._trace is None:
            self.view.show_bench(self._shown(attempt), self._session.inks)

    def _grip(self) -> Grip | None:
        return next((g for g in self._grips if g.id == self._picked), None)

    def _shown(self, attempt: Attempt) -> BenchShown:
        world, h = attempt.world, attempt.world.hidden
        figures = {
            "wheel": world.wheel / h.lead, "table": world.table / h.travel, "eye": float(self.hand.eye - 1),
            "gear": world.gear_turn,
        }  # fmt: skip
        if "read" in attempt.lesson.grips:
            figures["needle"] = (self._frames[0] if self._frames else world.needle) / (h.division * 100)
        figures |= {f"trip-{e}": at / h.travel for e, at in zip(("left", "right"), world.trips, strict=True)}
        figures["slid"] = world.slid
        words = {g.id: "" if (said := g.shows()) is None else said.text(self.units) for g in self._grips}
        words["display"] = self._display or "–"
        words["onto"] = world.onto
        lit = next_thing(attempt) if self.level.currentData() == "guided" and not attempt.ended else ""
        loose = tuple(f"screw-{e}" for e, tight in zip(("left", "right"), world.tight, strict=True) if not tight)
        grips = tuple(g.id for g in self._grips)
        return BenchShown(
            attempt.lesson.scene, grips, self._picked, figures, words, loose, world.heard, world.rolled, lit
        )

    def _next_frame(self) -> None:
        """The needle goes on by a frame of what the last deed made it do."""
        self._frames = self._frames[1:]
        if not self._frames:
            self._film.stop()
        if self.attempt is not None and self._trace is None:
            self.view.show_bench(self._shown(self.attempt), self._session.inks)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter that was taken in one of its lines presses no button that has the focus only since."""
        if self._entered and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()
        else:
            super().keyPressEvent(event)
        self._entered = False

    def _enter(self) -> None:
        self._entered = True

    def _pick(self, grip: str) -> None:
        self._picked = grip
        self.refresh()

    def _turn(self, steps: int, fine: bool) -> None:
        grip = self._grip()
        if grip is not None and grip.turn_words:
            self._try(lambda: grip.turned(steps, fine))

    def _work(self) -> None:
        grip = self._grip()
        if grip is not None and grip.act_words:
            self._try(grip.acted)

    def _type(self) -> None:
        grip, text = self._grip(), self.figure.text().strip()
        if grip is None or not grip.type_words or not text:
            return

        def act() -> Seen | None:
            return grip.typed(_minutes(text) if grip.id == "clock" else parse_length(text, self.units).mm)

        if self._try(act):
            self.figure.renew()

    def _try(self, act: object) -> bool:
        """Do something to the machine, say what it showed, and keep it."""
        attempt = self.attempt
        if attempt is None or attempt.ended or not callable(act):
            return False
        try:
            seen = act()
        except VernusError as error:
            self._session.notice.emit(str(error))
            return False
        self._session.notice.emit("")
        if seen is not None:
            name = attempt.world.deeds[-1][0]
            by_eye = name == "read" and self.level.currentData() != "guided" and not attempt.world.at_its_end
            self._seen_words = "Read the needle on the dial." if by_eye else seen.words.text(self.units)
            self._frames = list(attempt.world.needle_path) if "read" in attempt.lesson.grips else []
            if self._frames:
                self._film.start()
            if name in ("display", "move") and seen.value is not None:
                self._display = Mm(seen.value).show(self.units, 1)
            self._keep()
        self.refresh()
        return True

    def _keep(self) -> None:
        try:
            if self.attempt is not None:
                keep_try(self.attempt)
        except VernusError as error:
            self._session.notice.emit(f"The practice is not kept: {error}")

    def _hint(self) -> None:
        if self.attempt is not None and not self.attempt.ended:
            self._seen_words = self.attempt.take_hint()
            self._keep()
            self.refresh()

    def _said(self) -> float | str | None:
        lesson = self.attempt.lesson if self.attempt is not None else LESSONS[0]
        text = self.answer.text().strip()
        if lesson.asked == "length" and text:
            return parse_length(text, self.units).mm
        if lesson.asked == "counts" and text:
            return parse_number(text, such_as="199.62")
        return self.choice.currentData() if lesson.asked == "choice" else None

    def end(self) -> None:
        """End the try and hold it against the adviser's."""
        attempt = self.attempt
        if attempt is None or attempt.ended:
            return
        try:
            mine = attempt.end(self._said())
        except VernusError as error:
            self._session.notice.emit(str(error))
            return
        self._keep()
        self._show_end(mine)

    def _show_end(self, mine: Trace) -> None:
        attempt = self.attempt
        if attempt is None:
            return
        adviser = attempt.adviser()
        self._trace = (mine, adviser)
        word = "Good, and proved." if mine.outcome.good else "Not yet."
        settings = "1 setting" if mine.passes == 1 else f"{mine.passes} settings"
        passes = f" and {settings} against {adviser.passes}" if mine.passes or adviser.passes else ""
        self.result.setText(
            f"{word} {mine.outcome.truth.text(self.units)} You took {mine.total_minutes:.0f} min{passes}; the adviser "
            f"{adviser.total_minutes:.0f} min on the same machine. {went_another_way(mine, adviser)}"
        )
        try:
            if mine.outcome.good:
                keep_best(attempt.lesson.id, Best(attempt.seed, mine.total_minutes, adviser.total_minutes))
            row = keep_end(attempt.lesson.id, attempt.seed, good=mine.outcome.good)
            if row > 1:
                self.result.setText(f"{self.result.text()} That makes {row} machines in a row.")
        except VernusError as error:
            self._session.notice.emit(f"The practice is not kept: {error}")
        self._seen_words = ""
        self.refresh()
        self.view.show_traces(_shown(mine), _shown(adviser), self._session.inks, self.units)


def _shown(trace: Trace) -> TraceShown:
    total = trace.total_minutes if math.isfinite(trace.total_minutes) else 0.0
    return TraceShown(trace.minutes, trace.off, total, [(at, DEED_WORDS.get(n, n)) for at, n in trace.deeds])


def _minutes(text: str) -> float:
    """Minutes as typed, such as 60."""
    try:
        return parse_number(text)
    except VernusError:
        raise BadInputError("Type minutes, such as 60.") from None


def _how(grip: Grip, units: UnitSystem) -> str:
    """What can be done with the thing in hand, by which keys."""
    shows = grip.shows()
    said = f"{grip.label[:1].upper()}{grip.label[1:]}" + ("" if shows is None else f" ({shows.text(units)})")
    ways = [
        f"arrows: {grip.turn_words}" if grip.turn_words else "",
        f"Space: {grip.act_words}" if grip.act_words else "",
    ]
    return f"{said}. " + "; ".join(w for w in ways if w) + ". Tab: the next thing; F12: the sheet beside, and back."

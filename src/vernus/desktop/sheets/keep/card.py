"""Job card: the steps in order, ticked off with date, note and time; own steps; the evenings there are."""

from __future__ import annotations

from datetime import date, datetime

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import VernusError
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.desktop.sheets.keep.evenings_face import EveningsFace
from vernus.desktop.sheets.keep.own_face import OwnStepsFace
from vernus.desktop.sheets.keep.tonight_face import TonightFace
from vernus.desktop.sheets.keep.tools_face import ToolsFace
from vernus.job.entities import Step
from vernus.job.keep.card import CardLine, next_line
from vernus.job.keep.evenings.clock import began, forgotten, ran_for, stopped
from vernus.job.keep.evenings.hours import hours_words
from vernus.job.keep.evenings.plan import CardPlan, plan_card
from vernus.job.keep.evenings.tonight import tonight_of
from vernus.job.keep.made import made_now
from vernus.job.keep.tools import tools_needed
from vernus.job.moments import day_words, own_time
from vernus.job.review.review import card_lines
from vernus.job.sheet_names import SHEET_WORDS
from vernus.paper.drawing.keep.weeks import weeks_drawing

_TICK = "✓"
_TIMES = ("hours", "minutes")
_ROOM_FOR_WEEKS = 840
_TIMES_PX = 56


class CardSheet(Sheet):
    """A list of steps; Enter ticks the one chosen or takes the tick away."""

    name = "card"
    title = "Job card"
    caution = "Isolate and lock off before hands go near screws; eye protection for drilling and compressed air."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._lines: list[CardLine] = []
        self.about = Words("")
        self.reopened = Words("", "caution")
        self.care = Words("", "caution")
        self.tools = Words("", "faint")
        self.note = Line()
        self.note.setAccessibleName("Note on this step")
        self.note.setPlaceholderText("a note for this step")
        self.note.returnPressed.connect(self._tick)
        self.button = QPushButton("Tick it off (Ctrl+Enter)")
        press_by(self.button, "Ctrl+Return")
        self.button.clicked.connect(self._tick)
        self.main = self.button
        self.untick = QPushButton("Untick (Ctrl+Backspace)")
        press_by(self.untick, "Ctrl+Backspace")
        self.untick.clicked.connect(self._untick)
        self.go = QPushButton("Go to its sheet (F6)")
        press_by(self.go, "F6")
        self.go.clicked.connect(self._go)
        self.clock = QPushButton("Start the clock")
        self.clock.clicked.connect(self._run_clock)
        self.asked = Words("", "caution")
        self.really = QPushButton()
        self.really.clicked.connect(self._count_clock)
        self.times = [FigureRow(session, Step, name, self._step, settle=self._timed_by_hand) for name in _TIMES]
        self.step_list = self.figures(Group("", self.times))
        self.step_list.setFixedHeight(_TIMES_PX)
        self.kit = ToolsFace(session)
        self.own = OwnStepsFace(session, lambda: self._lines)
        self.evenings = EveningsFace(session, lambda: self._lines)
        self.evenings.list.held.connect(lambda _name: self.show_hand(self.evenings.list))
        self.tonight = TonightFace(session)
        self.tonight.table.chosen.connect(lambda _row: self._tick())
        self.tonight.table.selectionModel().currentRowChanged.connect(lambda *_: self._choose_tonight())
        self.tabs = Tabs(
            (
                ("Step", self._step_face()),
                ("Tonight", self.tonight),
                ("Own steps", self.own),
                ("Evenings", self.evenings),
                ("Tools", self.kit),
            )
        )
        self.tabs.turned.connect(self.refresh)
        self.entry.addWidget(self.tabs, 1)
        self.table = Table("Steps")
        self.table.wrap_words()
        self.table.chosen.connect(lambda _row: self._tick())
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_step())
        self.weeks = Picture("The weeks ahead", QSize(300, 110))
        self.sooner = Words("", "faint")
        self.picture.addWidget(self.table, 1)
        self.picture.addWidget(self.tonight.table, 1)
        self.picture.addWidget(self.sooner)
        self.picture.addWidget(self.weeks)
        self.hidden_on_bench = [self.table, self.tonight.table, self.weeks, self.sooner]

    def _step_face(self) -> QWidget:
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        for widget in (self.about, self.reopened, self.tools, self.care, self.note, self.button, self.untick, self.go):
            box.addWidget(widget)
        below: tuple[QWidget, ...] = (self.step_list, self.clock, self.asked, self.really)
        for part in below:
            box.addWidget(part)
        box.addStretch(1)
        face.setFocusProxy(self.note)
        return face

    def _choose_tonight(self) -> None:
        """The step chosen in tonight's list is the one that is ticked and looked at."""
        key = self.tonight.chosen()
        row = next((n for n, c in enumerate(self._lines) if c.step.key == key), -1)
        if row >= 0 and self._is_tonight():
            self.table.selectRow(row)

    def _is_tonight(self) -> bool:
        return self.tabs.stack.currentWidget() is self.tonight

    def focus_entry(self) -> None:
        self.table.setFocus()

    def _chosen(self) -> CardLine | None:
        row = self.table.currentIndex().row()
        return self._lines[row] if 0 <= row < len(self._lines) else None

    def _step(self) -> Step | None:
        """What is noted of the step chosen, a record that isn't done if there is none yet."""
        line, job = self._chosen(), self.session.job
        if line is None or job is None:
            return None
        found = next((s for s in job.all(Step) if s.key == line.step.key), None)
        return found or Step(id=f"step-{line.step.key}", key=line.step.key, done=False)

    def _run_clock(self) -> None:
        """Start the clock of the step chosen, or stop it and add the minutes."""
        step, job = self._step(), self.session.job
        if step is None or job is None:
            return
        now = job.now().astimezone()
        if step.begun and forgotten(step, now):
            self._show_step()
            return
        put = [stopped(step, now)] if step.begun else began(job, step, now)
        late = [s for s in put if s.id != step.id and s.minutes is None]
        if self.session.apply("stop the clock" if step.begun else "start the clock", put) and late:
            self.session.notice.emit("The other clock was forgotten: nothing was counted. Type what that step took.")

    def _timed_by_hand(self, step: Step) -> Step:
        """Minutes typed beside a clock that was forgotten stop it."""
        job = self.session.job
        late = job is not None and forgotten(step, job.now().astimezone()) and step.minutes is not None
        made = step.with_(begun="") if late else step
        assert isinstance(made, Step)
        return made

    def _count_clock(self) -> None:
        """The clock really ran for as long as it says."""
        step, job = self._step(), self.session.job
        if step is not None and job is not None and step.begun:
            now = job.now().astimezone()
            self.session.apply("stop the clock", [stopped(step, now, ran_for(step, now))])

    def _tick(self) -> None:
        line, step, job = self._chosen(), self._step(), self.session.job
        if line is None or step is None or job is None:
            return
        note = self.note.text().strip()
        now = made_now(job, line.step)
        if step.done and line.reopened is None and line.done and not note and (step.made_to or not now):
            self.session.notice.emit(
                "It is ticked. Ctrl+Backspace takes the tick away; a note typed here is added to it."
            )
            return
        more, moment = ({"note": note} if note else {}), job.now().astimezone()
        try:
            put = stopped(step, moment).with_(done=True, made_to=now, **more)
        except VernusError as error:
            self.session.notice.emit(str(error))
            return
        if self.session.apply(f"tick “{line.step.words}”", [put]):
            self.note.renew()
            self._tell_tick(line, step, moment)

    def _tell_tick(self, line: CardLine, step: Step, moment: datetime) -> None:
        """What a tick leaves to be said: something it needs is open, or its clock was forgotten."""
        said = next((c.before for c in self._lines if c.step.key == line.step.key), "")
        told = [f"Ticked before {said}, which it needs; the card says so beside it." if said else ""]
        if forgotten(step, moment):
            told.append(f"Its clock had run for {_spell(step, moment)}: not counted. Type the minutes it took.")
        if any(told):
            self.session.notice.emit(" ".join(w for w in told if w))

    def _untick(self) -> None:
        line, step = self._chosen(), self._step()
        if line is not None and step is not None and step.done:
            self.session.apply(f"take the tick off “{line.step.words}”", [step.with_(done=False)])

    def _go(self) -> None:
        line = self._chosen()
        if line is not None and line.sheet != self.name:
            self.session.wanted.emit(line.sheet, line.step.axis)

    def _when(self, plan: CardPlan, line: CardLine) -> str:
        """The day a step was done, that its clock runs, or the day it is planned for."""
        job = self.session.job
        begun = next((s.begun for s in job.all(Step) if s.key == line.step.key), "") if job is not None else ""
        if begun:
            return f"clock since {own_time(begun):%H:%M}"
        if line.done:
            return day_words(date.fromisoformat(line.when)) if line.when else ""
        days = plan.days.get(line.step.key)
        return "" if days is None else day_words(days[-1])

    def refresh(self) -> None:
        job = self.session.job
        if job is None:
            return
        self._lines = card_lines(job)
        plan = plan_card(job, self._lines, job.now().astimezone().date())
        rows = [
            [
                str(n),
                _TICK if line.done else "",
                line.step.axis,
                line.step.words + (f" — {said}" if (said := line.noted(self.session.units)) else ""),
                _hours(plan.hours[line.step.key], line),
                self._when(plan, line),
            ]
            for n, line in enumerate(self._lines, 1)
        ]
        columns = [
            Column("#", False), Column("", False), Column("axis", False), Column("step", False), Column("h"),
            Column("when", False),
        ]  # fmt: skip
        self.table.rows.show_rows(columns, rows, [line.step.key for line in self._lines])
        self.table.fix_widths({0: 40, 1: 34, 2: 42, 4: 54, 5: 154})
        self.table.resizeRowsToContents()
        coming = next_line(self._lines)
        if self.table.currentIndex().row() < 0 and self._lines:
            self.table.selectRow(self._lines.index(coming) if coming in self._lines else 0)
        now = job.now().astimezone()
        self.tonight.show_evening(tonight_of(job, self._lines, plan, now), now.date())
        self._show_plan(plan)
        if coming is None:
            self.say("Everything is done. What comes again stands under Log, with its day.")
        else:
            axis = f"{coming.step.axis}: " if coming.step.axis else ""
            self.say(f"Next, {axis}{coming.step.words}")
        self.own.show_steps(job)
        self.evenings.list.refresh()
        self.kit.show_needs(tools_needed(job, self._lines))
        self._show_step()

    def _show_plan(self, plan: CardPlan) -> None:
        done = sum(line.done for line in self._lines)
        left = f"about {plan.left.hours:.1f} h left, {plan.left.least:.1f} to {plan.left.most:.1f}"
        when = f"{left}; done by {day_words(plan.finish)}" if plan.finish is not None else left
        if plan.finish is None and done < len(self._lines):
            when += "; say under Evenings when you work, and the days follow"
        self.headline.show_answer(self.session, f"{done} of {len(self._lines)} steps", when)
        told = [f.what.text(self.session.units) for f in plan.findings]
        words = [*told, *([plan.sooner.text(self.session.units)] if plan.sooner is not None else [])]
        self.sooner.setText(" ".join(words))
        tonight = self._is_tonight()
        self.table.setVisible(not tonight and not self.on_bench)
        self.tonight.table.setVisible(tonight)
        self.sooner.setVisible(bool(words) and not self.on_bench and not tonight)
        room = self.height() > _ROOM_FOR_WEEKS and not self.on_bench and not tonight
        self.weeks.setVisible(bool(plan.days) and room)
        self.weeks.show_drawing(weeks_drawing(self._lines, plan.days, self.session.inks) if plan.days else None)

    def _show_step(self) -> None:
        line, step, job = self._chosen(), self._step(), self.session.job
        if line is None or step is None or job is None:
            return
        self.about.setText(line.step.words)
        self.tools.setText(f"Tools: {line.step.tools}" if line.step.tools else "")
        self.care.setText(line.step.care)
        self.step_list.refresh()
        now = job.now().astimezone()
        running = f" (since {own_time(step.begun):%H:%M})" if step.begun else ""
        self.clock.setText(f"Stop the clock{running}" if step.begun else "Start the clock")
        late = forgotten(step, now)
        self.asked.setText(
            f"Its clock has run for {_spell(step, now)}. How long did it take? Type the minutes above." if late else ""
        )
        self.really.setText(f"It took {_spell(step, now)}")
        for widget in (self.asked, self.really):
            widget.setVisible(late)
        ticked = step.done and bool(line.when)
        self.untick.setVisible(ticked)
        self.button.setVisible(not (line.done and line.by_sheet and not ticked))
        self.button.setText("Add the note (Ctrl+Enter)" if line.done and ticked else "Tick it off (Ctrl+Enter)")
        self.go.setVisible(line.sheet != self.name)
        self.go.setText(f"Go to {SHEET_WORDS.get(line.sheet, line.sheet)} (F6)")
        self.reopened.setText("" if line.reopened is None else line.reopened.text(self.session.units))
        self.reopened.setVisible(line.reopened is not None)
        if line.done:
            when = f" on {line.when}" if line.when else " by its sheet" if line.by_sheet else ""
            self.tools.setText(f"Done{when}. {self.tools.text()}")


def _hours(hours: float, line: CardLine) -> str:
    """What it took, where that is known; what it will take otherwise."""
    return f"{line.minutes / 60:.1f}" if line.minutes else "" if line.done else hours_words(hours)


def _spell(step: Step, now: datetime) -> str:
    """How long a clock has run, such as “14 h 5 min”."""
    hours, minutes = divmod(round(ran_for(step, now)), 60)
    return f"{hours} h {minutes} min"

"""Job card: the steps in order, ticked off with date, note and time; own steps; the evenings there are."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QFileDialog, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import VernusError
from vernus.desktop.parts.entity_list import EntityList
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
from vernus.desktop.sheets.keep.tools_face import ToolsFace
from vernus.job.document import Job, new_id
from vernus.job.entities import EveningPlan, OwnStep, Step
from vernus.job.keep.calendar import write_calendar
from vernus.job.keep.card import CardLine, next_line
from vernus.job.keep.evenings import CardPlan, began, evening_plan, plan_card, stopped
from vernus.job.keep.made import made_now
from vernus.job.keep.tools import tools_needed
from vernus.job.review import card_lines
from vernus.job.scope import axes_in_scope
from vernus.job.sheet_names import SHEET_WORDS
from vernus.paper.drawing.keep.weeks import weeks_drawing

_OWN = {"": ("words", "axis_id", "after", "hours", "wait_days", "tools")}
_EVENINGS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun", "starts", "away", "delivery_days")
_TIMES = ("hours", "minutes")
_ROOM_FOR_WEEKS = 640
_TIMES_PX = 56


class CardSheet(Sheet):
    """A list of steps; Enter ticks the one chosen or takes the tick away."""

    name = "card"
    title = "Job card"
    caution = "Isolate and lock off before hands go near screws; eye protection for drilling and compressed air."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._lines: list[CardLine] = []
        self._draft = EveningPlan(id=new_id())
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
        self.times = [FigureRow(session, Step, name, self._step) for name in _TIMES]
        self.step_list = self.figures(Group("", self.times))
        self.step_list.setFixedHeight(_TIMES_PX)
        self.own = EntityList(
            session, "Own steps", OwnStep, _OWN, self._own_steps, [Column("own step", False), Column("h")],
            lambda o: [o.words, f"{o.hours:g}"], lambda: OwnStep(id=new_id(), words="own step"),
        )  # fmt: skip
        self.kit = ToolsFace(session)
        self.evenings = [FigureRow(session, EveningPlan, name, self._evenings) for name in _EVENINGS]
        self.evening_list = self.figures(
            Group("Hours in an evening", self.evenings[:7]), Group("Days", self.evenings[7:])
        )
        self.tabs = Tabs(
            (
                ("Step", self._step_face()),
                ("Own steps", self.own),
                ("Evenings", self._evening_face()),
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
        self.picture.addWidget(self.sooner)
        self.picture.addWidget(self.weeks)
        self.not_on_bench = [self.table, self.weeks, self.sooner]

    def _step_face(self) -> QWidget:
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        for widget in (self.about, self.reopened, self.tools, self.care, self.note, self.button, self.untick, self.go):
            box.addWidget(widget)
        box.addWidget(self.step_list)
        box.addWidget(self.clock)
        box.addStretch(1)
        face.setFocusProxy(self.note)
        return face

    def _evening_face(self) -> QWidget:
        self.calendar = QPushButton("Calendar file…")
        self.calendar.clicked.connect(self.ask_and_write_calendar)
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.evening_list, 1)
        box.addWidget(self.calendar)
        face.setFocusProxy(self.evenings[0].editor)
        return face

    def ask_and_write_calendar(self) -> None:
        """Ask where, and write the evenings and what falls due as a calendar file."""
        job = self.session.job
        if job is None:
            return
        start = str((job.path or Path("job.vernus")).with_suffix(".ics"))
        name, _ = QFileDialog.getSaveFileName(self, "Write the calendar file", start, "Calendar (*.ics)")
        if not name:
            return
        try:
            count = write_calendar(job, self._lines, Path(name))
        except VernusError as error:
            self.session.told.emit(str(error))
        else:
            self.session.told.emit(f"Wrote {count} {'entries' if count != 1 else 'entry'} to {name}.")

    def focus_entry(self) -> None:
        self.table.setFocus()

    def _evenings(self) -> EveningPlan | None:
        job = self.session.job
        return None if job is None else evening_plan(job) or self._draft

    def _own_steps(self) -> list[OwnStep]:
        return self.session.job.all(OwnStep) if self.session.job else []

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
        step, now = self._step(), datetime.now().astimezone()
        if step is None:
            return
        put = stopped(step, now) if step.begun else began(step, now)
        self.session.apply("stop the clock" if step.begun else "start the clock", [put])

    def _tick(self) -> None:
        line, step, job = self._chosen(), self._step(), self.session.job
        if line is None or step is None or job is None:
            return
        note = self.note.text().strip()
        now = made_now(job, line.step)
        if step.done and line.reopened is None and line.done and not note and (step.made_to or not now):
            self.session.told.emit(
                "It is ticked. Ctrl+Backspace takes the tick away; a note typed here is added to it."
            )
            return
        more = {"note": note} if note else {}
        put = stopped(step, datetime.now().astimezone()).with_(done=True, made_to=now, **more)
        if self.session.apply(f"tick “{line.step.words}”", [put]):
            self.note.renew()

    def _untick(self) -> None:
        line, step = self._chosen(), self._step()
        if line is not None and step is not None and step.done:
            self.session.apply(f"take the tick off “{line.step.words}”", [step.with_(done=False)])

    def _go(self) -> None:
        line = self._chosen()
        if line is not None and line.sheet != self.name:
            self.session.wanted.emit(line.sheet, line.step.axis)

    def refresh(self) -> None:
        job = self.session.job
        if job is None:
            return
        self._lines = card_lines(job)
        plan = plan_card(job, self._lines, datetime.now().astimezone().date())
        rows = [
            [
                str(n),
                "done" if line.done else "",
                line.step.axis,
                line.step.words + (f" — {said}" if (said := line.noted(self.session.units)) else ""),
                _hours(plan.hours[line.step.key], line),
                _when(plan, line),
            ]
            for n, line in enumerate(self._lines, 1)
        ]
        columns = [
            Column("#", False), Column("", False), Column("axis", False), Column("step", False), Column("h"),
            Column("when", False),
        ]  # fmt: skip
        self.table.rows.show_rows(columns, rows, [line.step.key for line in self._lines])
        self.table.fix_widths({0: 46, 1: 60, 2: 42, 4: 54, 5: 122})
        self.table.resizeRowsToContents()
        coming = next_line(self._lines)
        if self.table.currentIndex().row() < 0 and self._lines:
            self.table.selectRow(self._lines.index(coming) if coming in self._lines else 0)
        self._show_plan(plan)
        if coming is None:
            self.say("Everything is done. Check again in a month, after a crash, or in another season.")
        else:
            axis = f"{coming.step.axis}: " if coming.step.axis else ""
            self.say(f"Next, {axis}{coming.step.words}")
        self._show_own(job)
        self.evening_list.refresh()
        self.kit.show_needs(tools_needed(job, self._lines))
        self._show_step()

    def _show_plan(self, plan: CardPlan) -> None:
        done = sum(line.done for line in self._lines)
        left = f"about {plan.left.hours:.1f} h left, {plan.left.least:.1f} to {plan.left.most:.1f}"
        when = f"{left}; done by {plan.finish.isoformat()}" if plan.finish is not None else left
        if plan.finish is None and done < len(self._lines):
            when += "; say under Evenings when you work, and the days follow"
        self.headline.show_answer(self.session, f"{done} of {len(self._lines)} steps", when)
        told = [f.what.text(self.session.units) for f in plan.findings]
        words = [*told, *([plan.sooner.text(self.session.units)] if plan.sooner is not None else [])]
        self.sooner.setText(" ".join(words))
        self.sooner.setVisible(bool(words) and not self.on_bench)
        room = self.height() > _ROOM_FOR_WEEKS and not self.on_bench
        self.weeks.setVisible(bool(plan.days) and room)
        self.weeks.show_drawing(weeks_drawing(self._lines, plan.days, self.session.inks) if plan.days else None)

    def _show_own(self, job: Job) -> None:
        self.own.offer("axis_id", [("", "the whole machine"), *((a.id, a.name) for a in axes_in_scope(job))])
        after = [(c.step.key, f"{c.step.axis} {c.step.words}"[:60].strip()) for c in self._lines]
        self.own.offer(
            "after", [("", "at the end"), *(a for a in after if a[0] != f"own-{_id_of(self.own.current())}")]
        )
        self.own.refresh()

    def _show_step(self) -> None:
        line, step = self._chosen(), self._step()
        if line is None or step is None:
            return
        self.about.setText(line.step.words)
        self.tools.setText(f"Tools: {line.step.tools}" if line.step.tools else "")
        self.care.setText(line.step.care)
        self.step_list.refresh()
        running = f" (since {step.begun[11:16]})" if step.begun else ""
        self.clock.setText(f"Stop the clock{running}" if step.begun else "Start the clock")
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


def _id_of(own: OwnStep | None) -> str:
    return "" if own is None else own.id


def _hours(hours: float, line: CardLine) -> str:
    """What it took, where that is known; what it will take otherwise."""
    return f"{line.minutes / 60:.1f}" if line.minutes else "" if line.done else f"{hours:.2g}"


def _when(plan: CardPlan, line: CardLine) -> str:
    if line.done:
        return line.when
    days = plan.days.get(line.step.key)
    return "" if days is None else days[-1].isoformat()

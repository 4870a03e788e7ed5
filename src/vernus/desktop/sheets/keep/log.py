"""Log: the dated notebook of the job, and its pictures."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from vernus.core.errors import VernusError
from vernus.core.finding import Reads
from vernus.core.units import format_length
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.pages import Pages
from vernus.desktop.parts.photo_view import PhotoView
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.desktop.sheets.keep.pictures import PhotoMeasureFace, PicturesFace, PicturesShown
from vernus.job.document import Job, new_id, now_here
from vernus.job.entities import Axis, LogEntry
from vernus.job.fields import quantities
from vernus.job.keep.due import tasks_of
from vernus.job.keep.photo import PhotoMeasured, photos_of
from vernus.job.moments import day_words, local_minute, own_date
from vernus.job.prove.recheck import date_of, due_of, due_words, history_of
from vernus.job.review.review import card_lines
from vernus.job.scope import axes_in_scope, on_display
from vernus.paper.drawing.prove.history import paint_history

_CHART_PX = 150
_SAID = {
    "notes": "Write down what you did, what the indicator said, and what was odd.",
    "pictures": "An arrow: click where its words stand, then what it points at. Choose the one before to see both.",
}


class LogSheet(Sheet):
    """One line in, the newest on top."""

    name = "log"
    title = "Log"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.pictures = PicturesFace(session)
        self.measure = PhotoMeasureFace(session, self.pictures)
        self.tabs = Tabs((("Notes", self._notes_face()), ("Pictures", self.pictures), ("Measure", self.measure)))
        self.tabs.turned.connect(self.refresh)
        self.entry.addWidget(self.tabs, 1)
        self.table = Table("Log")
        self.table.wrap_words()
        self.table.delete_pressed.connect(self._delete)
        self.checks = Table("Calibrations of the axis")
        self.checks.wrap_words()
        self.checks_words = Words("", "faint")
        notes = QWidget()
        box = QVBoxLayout(notes)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.table, 3)
        box.addWidget(self.checks_words)
        box.addWidget(self.checks, 2)
        self.chart = Picture("What it read over time", QSize(300, 130))
        self.chart.setFixedHeight(_CHART_PX)
        box.addWidget(self.chart)
        self.view = PhotoView()
        self.view.marked.connect(self._mark)
        self.view.taken_back.connect(self._take_back)
        self.view.dropped.connect(self._dropped)
        self.pictures.chosen.connect(self._show_picture)
        self._shown = PicturesShown(session, self.view)
        session.opened.connect(self._shown.forget)
        self.sides = Pages()
        self.sides.addWidget(notes)
        looked_at = QWidget()
        column = QVBoxLayout(looked_at)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.view, 1)
        column.addWidget(self.measure.places)
        column.addWidget(self.measure.complaint)
        self.sides.addWidget(looked_at)
        self.picture.addWidget(self.sides, 1)
        self.hidden_on_bench = [self.sides, self.due_title, self.due, self.happened]

    def _notes_face(self) -> QWidget:
        self.line = Line()
        self.line.setAccessibleName("Note")
        self.line.setMaxLength(1_000_000)  # what is too long is told, not cut
        self.line.returnPressed.connect(self._log)
        self.about = Words("", "faint")
        self.happened = QComboBox()
        self.happened.setAccessibleName("It was")
        for value, words in quantities(LogEntry)["event"].choices:
            self.happened.addItem(words, value)
        self.due_title = Words("What falls due", "faint")
        self.due = Words("")
        face = QWidget()
        box = QVBoxLayout(face)
        box.setContentsMargins(0, 0, 0, 0)
        for widget in (self.about, self.line, self.happened):
            box.addWidget(widget)
        box.addSpacing(12)
        box.addWidget(self.due_title)
        box.addWidget(self.due)
        box.addStretch(1)
        face.setFocusProxy(self.line)
        return face

    def _face(self) -> QWidget | None:
        return self.tabs.stack.currentWidget()

    def _mark(self, x: float, y: float, coarse_px: float) -> None:
        (self.measure if self._face() is self.measure else self.pictures).mark(x, y, coarse_px)

    def _take_back(self) -> None:
        (self.measure if self._face() is self.measure else self.pictures).take_back()

    def _dropped(self, names: list[str]) -> None:
        self.pictures.take_files(names)

    def _show_picture(self) -> None:
        measuring = self._face() is self.measure
        self._shown.show(self.pictures.photo(), measured=measuring)
        measured = self.measure.refresh()
        self.measure.places.setVisible(measuring and self.measure.places.rows.rowCount() > 0)
        self.measure.complaint.setVisible(measuring and bool(self.measure.complaint.text()))
        if measuring and measured is not None:
            self.say(measured.complaint or f"Click {measured.next_click}.")
            self._headline_of(measured)

    def _headline_of(self, measured: PhotoMeasured) -> None:
        places = () if measured.result is None else measured.result.places
        if not places:
            self.headline.show_answer(self.session, "nothing measured yet")
            return
        last, units = places[-1], self.session.units
        along, up = (format_length(mm, units, with_unit=False) for mm in (last.x_mm, last.y_mm))
        within = format_length(max(last.x_expanded_mm, last.y_expanded_mm), units)
        self.headline.show_answer(self.session, f"{along}; {up} ± {within}", "the last place, from the datum")

    def focus_entry(self) -> None:
        self.tabs.focus_face()

    def _entries(self) -> list[LogEntry]:
        return self.session.job.all(LogEntry)[::-1] if self.session.job else []

    def _log(self) -> None:
        text = self.line.text().strip()
        event = self.happened.currentData()
        try:
            put = LogEntry(id=new_id(), axis_id=self.session.axis_id, event=event).with_(text=text)
        except VernusError as error:
            self.session.notice.emit(str(error))
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
        self._say(job, len(entries))
        self.pictures.refresh()
        self.sides.setCurrentIndex(self.tabs.stack.currentIndex() > 0)
        self._show_picture()
        self.table.rows.show_rows(
            [Column("when", False), Column("axis", False), Column("note", False)],
            [[local_minute(e.created), names.get(e.axis_id, ""), _said(e)] for e in entries],
        )
        self.table.fix_widths({0: 168, 1: 46})
        self.table.resizeRowsToContents()
        now = now_here()
        read = [a for a in axes_in_scope(job) if on_display(a)]
        checks = [f"{a.name}: {due_words(due_of(job, a, now)).text(self.session.units)}" for a in read]
        tasks = [
            f"{t.axis}: {t.words.rstrip('.')}, {'due since' if t.overdue(now.date()) else 'on'} {day_words(t.day)}."
            for t in tasks_of(job, card_lines(job), now)
            if t.key != "display"
        ]
        self.due.setText("\n".join([*checks, *tasks]))
        if axis is not None:
            self._show_checks(job, axis)

    def _say(self, job: Job, notes: int) -> None:
        """The headline, and what to do on the face turned to."""
        photos = len(photos_of(job))
        counts = [f"{n} {word}{'' if n == 1 else 's'}" for n, word in ((notes, "note"), (photos, "picture"))]
        self.headline.show_answer(self.session, ", ".join(counts) if photos else counts[0])
        self.say(
            _SAID.get(list(self.tabs.buttons)[self.tabs.stack.currentIndex()], "Choose a picture on the other face.")
        )

    def _show_checks(self, job: Job, axis: Axis) -> None:
        """Every calibration of the axis and whether it changed."""
        kept = history_of(job, axis)
        self.checks.setVisible(bool(kept))
        self.chart.setVisible(bool(kept))
        checks = [(own_date(k.run.created), k.proof.ppm, k.proof.expanded()) for k in kept]
        words = dict(quantities(LogEntry)["event"].choices)
        happened = [
            (own_date(e.created), words[e.event])
            for e in job.all(LogEntry)
            if e.event and e.axis_id in ("", axis.id) and checks and own_date(e.created) >= checks[0][0]
        ]
        drawing = partial(paint_history, checks=checks, events=happened, inks=self.session.inks)
        self.chart.show_drawing(drawing if kept else None)
        self.checks_words.setText(
            f"Calibrations of {axis.name}: its own counts against nominal, ± 2u"
            if kept
            else f"{axis.name} was not calibrated yet."
        )
        self.checks.rows.show_rows(
            [Column("when", False), Column("it reads"), Column("change", False)],
            [
                [
                    date_of(k.proof.day),
                    f"{Reads(k.proof.ppm).show(self.session.units)} ± {k.proof.expanded_words()}",
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

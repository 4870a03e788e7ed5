"""The window: route, top strip, the sheet in view, and its findings."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, partial
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QMimeData, Qt, QTimer
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent
from PySide6.QtWidgets import (
    QApplication,
    QFrame,
    QGridLayout,
    QMainWindow,
    QScrollArea,
    QWidget,
)

from vernus.desktop import settings
from vernus.desktop.acts import Acts
from vernus.desktop.files import JobFiles
from vernus.desktop.menus import make_menus
from vernus.desktop.open_points import open_points
from vernus.desktop.parts.banner import Banner
from vernus.desktop.parts.entry import drop_drafts, take_typed
from vernus.desktop.parts.pages import Pages
from vernus.desktop.parts.words import Words
from vernus.desktop.parts.working import Working
from vernus.desktop.session import Session
from vernus.desktop.sheet_list import Sheets
from vernus.desktop.sheets.start import StartSheet
from vernus.desktop.theme import dress
from vernus.job.sheet_names import AXIS_SHEETS, SHEET_WORDS

if TYPE_CHECKING:  # made or asked for with the first job only, so that Start opens at once
    from vernus.desktop.fault import FaultKeeper
    from vernus.desktop.parts.findings import FindingLines
    from vernus.desktop.parts.route import Route
    from vernus.desktop.parts.sheet import Sheet
    from vernus.desktop.parts.strip import TopStrip
    from vernus.desktop.practice.panel import PracticePanel


_LEAST, _LEAST_LARGER = (1200, 700), (640, 420)


def _scrolled(ground: QWidget) -> QScrollArea:
    """Where everything is drawn larger a small screen shows a part of it, and the rest is scrolled to."""
    area = QScrollArea()
    area.setFrameShape(QFrame.Shape.NoFrame)
    ground.setMinimumSize(*_LEAST)
    area.setWidget(ground)
    area.setWidgetResizable(True)
    return area


def _dropped(data: QMimeData) -> list[Path]:
    """The jobs, machines and families among what is dropped."""
    paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
    return [p for p in paths if p.suffix in (".vernus", ".json")]


class Window(QMainWindow):
    """One window on one job."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        session.setParent(self)
        self.files = JobFiles(self, session, lambda text: self.banner.show_refusal(text), lambda: self.start.refresh())
        self._dress()
        larger = settings.scale() > 1
        self.setMinimumSize(*(_LEAST_LARGER if larger else _LEAST))
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.start = StartSheet(session)
        self.stack = Pages()
        self.stack.addWidget(self.start)
        self.broken = Words(
            "This sheet can't be shown as the job is now. What you logged is on the disk. Undo the last edit (Ctrl+Z), "
            "or go on with another sheet; Help copies a description of the fault for whoever mends it."
        )
        self.broken.setMargin(40)
        self.broken.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.stack.addWidget(self.broken)
        self.keeper: FaultKeeper | None = None
        """Who keeps what nobody foresaw; None: it is raised."""
        self.sheets = Sheets(session, self.stack)
        self.banner = self._make_banner()
        ground = QWidget()
        ground.setObjectName("ground")
        grid = self._grid = QGridLayout(ground)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(0)
        grid.addWidget(self.banner, 0, 0, 1, 2)
        grid.addWidget(self.stack, 1, 1)
        grid.setColumnStretch(1, 1)
        grid.setRowStretch(1, 1)
        self.setCentralWidget(_scrolled(ground) if larger else ground)
        self.working = Working(self)
        bar = self.statusBar()
        bar.setSizeGripEnabled(False)
        bar.messageChanged.connect(lambda text: bar.setVisible(bool(text)))
        bar.hide()
        self._bench = self._close_asked = False
        self.acts = Acts(self, session)
        self.menus, self._top = make_menus(self)
        self._listen()
        self._opened()
        self.refresh()

    def _listen(self) -> None:
        """Follow Start, the session and the desktop."""
        session = self.session
        self.start.demo_asked.connect(self.files.open_demo)
        self.start.open_asked.connect(self.files.ask_and_open)
        self.start.practice_asked.connect(self.practise)
        session.wanted.connect(self._go)
        session.changed.connect(self.refresh)
        session.opened.connect(self._opened)
        session.notice.connect(lambda text: self.statusBar().showMessage(text, 12_000))
        session.failed.connect(self._show_failure)
        session.slipped.connect(self._show_slip)
        session.working.connect(self._show_working)
        session.theme_changed.connect(self._dress)
        hints = QApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(session.follow_desktop)
        session.leaving.connect(self._drop_drafts)

    @cached_property
    def route(self) -> Route:
        """The phases and sheets of the job; made with the first job that is opened, as all that only jobs need."""
        made: Route = import_module("vernus.desktop.parts.route").Route(self.session)
        made.asked.connect(self.show_sheet)
        self._grid.addWidget(made, 1, 0)
        return made

    @cached_property
    def strip(self) -> TopStrip:
        """Axes, room, instrument, units, undo."""
        made: TopStrip = import_module("vernus.desktop.parts.strip").TopStrip(self.session)
        self._top.addWidget(made, 1)
        return made

    @property
    def findings(self) -> FindingLines:
        """What stands against the sheet in view."""
        return self.sheets[self.session.in_view].findings

    @cached_property
    def practice(self) -> PracticePanel:
        """The bench of the practice."""
        made: PracticePanel = import_module("vernus.desktop.practice.panel").PracticePanel(self.session)
        made.left.connect(self._leave_practice)
        made.begun.connect(self._practise_on)
        self._grid.addWidget(made, 1, 0)
        return made

    def _make_banner(self) -> Banner:
        made = Banner()
        made.retry_asked.connect(self.session.retry)
        made.copy_asked.connect(self.files.ask_and_copy)
        made.undo_asked.connect(self._undo_slip)
        made.description_asked.connect(lambda: self.acts.copy_fault())
        return made

    def _show_failure(self, text: str) -> None:
        job = self.session.job
        because = job.read_only_because if job is not None else ""
        if not text and because:
            text = f"Opened read-only: {because}. Save a copy to work on it."
        self.banner.show_failure(text, retry=not because)

    def _show_working(self, begun: bool) -> None:
        """A sign that something long is being worked out; a window that was told to close meanwhile closes then."""
        self.working.show_working(begun)
        if self._close_asked and not begun:
            self._close_asked = False
            QTimer.singleShot(0, self.close)

    def _show_slip(self, text: str) -> None:
        job = self.session.job
        self.banner.show_slip(text, undo=job is not None and job.history.next_undo is not None)

    def _undo_slip(self) -> None:
        self.banner.hide()
        self.session.undo()

    def _dress(self) -> None:
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        dress(application, self, self.session.inks)

    def show_sheet(self, name: str) -> None:
        """Bring a sheet into view and put the cursor where the next thing is typed.

        A sheet that the axis in view doesn't go through is shown for the first axis that does; one that no axis does
        is not there.
        """
        job, axis = self.session.job, self.session.axis
        if job is None:
            return
        from vernus.job.scope import axes_in_scope, sheets_of, sheets_of_job

        if name not in sheets_of_job(job):
            self.session.notice.emit(f"{SHEET_WORDS[name]} is not part of this job; say on Scope what is fitted.")
            name = "scope"
        if name in AXIS_SHEETS and (axis is None or name not in sheets_of(axis)):
            other = next(a for a in axes_in_scope(job) if name in sheets_of(a))
            self.session.show_axis(other.id)
        if name != self.session.in_view:
            self._drop_drafts()
        self.session.in_view = name
        self.session.long.work_out()
        sheet = self.sheets[name]
        large = self.session.long.is_large
        with sheet.laid_out_once():
            sheet.be_seen(bench=self._bench)
            self.stack.setCurrentWidget(sheet)
            if not large:
                self.refresh()
        if large:  # what is there is painted before what takes long
            self.session.long.breathe()
            self.refresh()
        sheet.focus_entry()

    def _go(self, name: str, axis_name: str) -> None:
        """Show a sheet that another one asked for."""
        job = self.session.job
        axis = next((a for a in job.axes() if a.name == axis_name), None) if job is not None else None
        if axis is not None:
            self.session.show_axis(axis.id)
        self.show_sheet(name)

    def _opened(self) -> None:
        job = self.session.job
        if self.keeper is not None:
            self.keeper.forget()
        self.sheets.forget()
        title = "Vernus" if job is None else f"{job.info.title} – Vernus"
        self.setWindowTitle(title)
        self._show_failure("")
        practising = self.session.practising
        if practising or "practice" in self.__dict__:
            self.practice.setVisible(practising)
        beside = (self.route, self.strip) if job is not None or "route" in self.__dict__ else ()
        for widget in beside:
            widget.setVisible(job is not None and not self._bench and not (practising and widget is not self.strip))
        if job is None:
            self.stack.setCurrentWidget(self.start)
            self.start.renew()
            self.start.refresh()
            self.start.focus_entry()
            return
        self.session.long.breathe()
        axis = self.session.axis
        self.show_sheet((self.session.review(axis).next_sheet or "card") if axis else "scope")
        for words in job.notices:
            self.session.notice.emit(words)

    def refresh(self) -> None:
        """Show the job as it is; a part that can't be shown is told and covered, and the others live on."""
        if self.session.job is None:
            return
        self._stay_in_scope()
        beside: list[Callable[[], object]] = [self.strip.refresh, partial(self.route.refresh, self.session.in_view)]
        beside += [self.practice.refresh] if "practice" in self.__dict__ else []
        for show in beside:
            self._foreseen(show)
        sheet = self.sheets[self.session.in_view]
        shown = self._foreseen(partial(self._show, sheet))
        wanted = sheet if shown else self.broken
        if self.stack.currentWidget() in (sheet, self.broken) and self.stack.currentWidget() is not wanted:
            self.stack.setCurrentWidget(wanted)

    def _foreseen(self, act: Callable[[], object]) -> bool:
        """Do something; where it raises what nobody foresaw, and somebody keeps that, it is kept: false."""
        try:
            act()
        except Exception as error:
            if self.keeper is None:
                raise
            self.keeper.caught(type(error), error, error.__traceback__)
            return False
        return True

    def _show(self, sheet: Sheet) -> None:
        """Show a sheet and what stands against it."""
        with sheet.laid_out_once():
            sheet.refresh()
            if self.session.job is not None:
                found = open_points(self.session, self.session.job)
                sheet.headline.show_rests(found.rests, found.of)
                sheet.show_findings(found.findings)

    def _stay_in_scope(self) -> None:
        """After what is fitted has changed, or was undone: an axis and a sheet that are there."""
        job = self.session.job
        if job is None:
            return
        from vernus.job.scope import axes_in_scope, sheets_of, sheets_of_job

        scoped = axes_in_scope(job)
        if scoped and self.session.axis not in scoped:
            self.session.axis_id = scoped[0].id
        elif not scoped:
            self.session.axis_id = ""
        axis, name = self.session.axis, self.session.in_view
        gone = name not in sheets_of_job(job)
        if gone or (name in AXIS_SHEETS and (axis is None or name not in sheets_of(axis))):
            self.session.in_view = "scope" if gone or axis is None else sheets_of(axis)[0]
            sheet = self.sheets[self.session.in_view]
            sheet.be_seen(bench=self._bench)
            self.stack.setCurrentWidget(sheet)

    def _drop_drafts(self) -> None:
        """What was typed and can't be taken dies with its axis, sheet or job, and that is said."""
        take_typed(QApplication.focusWidget())
        dropped = self.sheets.drop_drafts(self.session.in_view)
        dropped += drop_drafts(self.strip) if "strip" in self.__dict__ else []
        if dropped:
            texts = ", ".join(f"“{text[:30]}”" for text in dropped[:3])
            self.session.notice.emit(f"Typed but not taken, so not kept: {texts}.")

    def other_bench(self) -> None:
        """The view read from the machine, or the whole sheet."""
        self._bench = not self._bench
        self.sheets[self.session.in_view].be_seen(bench=self._bench)
        practising = self.session.practising
        self.menus.setVisible(not self._bench)
        for widget in (self.route, self.strip):
            shown = self.session.job is not None and not self._bench
            widget.setVisible(shown and not (practising and widget is self.route))
        self.refresh()

    def practise(self) -> None:
        """Open the practice job with the bench beside its sheets."""
        if self.files.attempt(self.session.may_leave):
            self.practice.open()

    def _practise_on(self, sheet: str) -> None:
        """The sheet that goes with a lesson, in the job of the try."""
        tried = self.practice.attempt
        if tried is not None and self.files.attempt(
            lambda: self.session.open_practice(tried, fresh=self.practice.fresh)
        ):
            self.show_sheet(sheet)
            self.practice.view.setFocus()

    def other_side(self) -> None:
        """From the bench of the practice to the sheet beside it, and back."""
        if not self.session.practising:
            return
        inside = self.practice.isAncestorOf(QApplication.focusWidget() or self)
        if inside:
            self.sheets[self.session.in_view].focus_entry()
        else:
            self.practice.view.setFocus()

    def _leave_practice(self) -> None:
        self.practice.hide()
        self.files.attempt(self.session.close_job)

    def ask_and_link(self) -> None:
        """Ask for a serial port and listen to it."""
        from vernus.desktop.instrument_dialog import InstrumentDialog

        InstrumentDialog(self.session, self.session.instrument, self).open()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Jobs, machines and scale families can be dropped anywhere on the window."""
        if _dropped(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Take in what was dropped."""
        event.acceptProposedAction()
        self.files.drop(_dropped(event.mimeData()))

    def closeEvent(self, event: QCloseEvent) -> None:
        """Everything accepted is on the disk already, unless the disk refused it."""
        job = self.session.job
        if self.session.long.busy:
            self._close_asked = True
            event.ignore()
            return
        if not self.files.attempt(self.session.may_leave):
            event.ignore()
            return
        self.session.stop_bench()
        if job is not None:
            self.session.keep_due()
            job.close()
        super().closeEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape leaves the bench view; Enter presses the button in hand."""
        if self._bench and event.key() == Qt.Key.Key_Escape:
            self.other_bench()
            return
        if not self.acts.engine.key(event):
            super().keyPressEvent(event)

"""The window: route, top strip, the sheet in view, and its findings."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, partial
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QCloseEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QMenuBar,
    QMessageBox,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QWidget,
)

from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.demo import DemoName, demo_source
from vernus.desktop.help import show_cautions, show_keys
from vernus.desktop.parts.banner import Banner
from vernus.desktop.parts.entry import Entry, drop_drafts, take_typed
from vernus.desktop.parts.question import KEEP_KEYS, TAKE_KEYS
from vernus.desktop.parts.words import Words
from vernus.desktop.session import PendingError, Session, UnfinishedError
from vernus.desktop.sheet_list import SHEETS, Sheets
from vernus.desktop.sheets.start import StartSheet
from vernus.desktop.theme import dress
from vernus.job.sheet_names import AXIS_SHEETS, SHEET_WORDS

if TYPE_CHECKING:  # made or asked for with the first job only, so that Start opens at once
    from vernus.core.finding import Finding
    from vernus.desktop.fault import FaultKeeper
    from vernus.desktop.parts.findings import FindingLines
    from vernus.desktop.parts.route import Route
    from vernus.desktop.parts.sheet import Sheet
    from vernus.desktop.parts.strip import TopStrip
    from vernus.desktop.practice.panel import PracticePanel


_RESTS = ("scale", "faces", "envelope", "order", "mounts", "align", "reader", "fit", "bracket", "trips")


_LEAST, _LEAST_LARGER = (1200, 700), (640, 420)


def _scrolled(ground: QWidget) -> QScrollArea:
    """Where everything is drawn larger a small screen shows a part of it, and the rest is scrolled to."""
    area = QScrollArea()
    area.setFrameShape(QFrame.Shape.NoFrame)
    ground.setMinimumSize(*_LEAST)
    area.setWidget(ground)
    area.setWidgetResizable(True)
    return area


class Window(QMainWindow):
    """One window on one job."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._dress()
        larger = settings.scale() > 1
        self.setMinimumSize(*(_LEAST_LARGER if larger else _LEAST))
        self.resize(1280, 800)
        self.start = StartSheet(session)
        self.stack = QStackedWidget()
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
        bar = self.statusBar()
        bar.setSizeGripEnabled(False)
        bar.messageChanged.connect(lambda text: bar.setVisible(bool(text)))
        bar.hide()
        self._bench = False
        self._current = "scope"
        self._make_menus()
        self.start.demo_asked.connect(self.open_demo)
        self.start.open_asked.connect(self.ask_and_open)
        self.start.practice_asked.connect(self.practise)
        session.wanted.connect(self._go)
        session.changed.connect(self.refresh)
        session.opened.connect(self._opened)
        session.told.connect(lambda text: self.statusBar().showMessage(text, 12_000))
        session.failed.connect(self._show_failure)
        session.slipped.connect(self._show_slip)
        session.theme_changed.connect(self._dress)
        hints = QApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(lambda _scheme: session.follow_desktop())
        session.leaving.connect(self._drop_drafts)
        self._opened()
        self.refresh()

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
        return self.sheets[self._current].findings

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
        made.copy_asked.connect(self.ask_and_copy)
        made.undo_asked.connect(self._undo_slip)
        made.description_asked.connect(self._copy_fault)
        return made

    def _show_failure(self, text: str) -> None:
        job = self.session.job
        because = job.read_only_because if job is not None else ""
        if not text and because:
            text = f"Opened read-only: {because}. Save a copy to work on it."
        self.banner.show_failure(text, retry=not because)

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

    def _make_menus(self) -> None:
        self.menus = QMenuBar()
        self.menus.setNativeMenuBar(False)  # the strip stands beside it
        self.menus.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        top = QWidget()
        top.setObjectName("ground")
        self._top = QHBoxLayout(top)
        self._top.setContentsMargins(0, 0, 0, 0)
        self._top.addWidget(self.menus, 0, Qt.AlignmentFlag.AlignVCenter)
        self.setMenuWidget(top)
        job, edit, view, help_ = (self.menus.addMenu(t) for t in ("&Job", "E&dit", "&View", "&Help"))
        for menu, text, keys, act in (
            (job, "New job…", "Ctrl+N", lambda: self.attempt(self.session.close_job)),
            (job, "Open…", "Ctrl+O", self.ask_and_open),
            (job, "Open the demo mill", "", self.open_demo),
            (job, "Open the demo lathe", "", lambda: self.open_demo("lathe")),
            (job, "Practise on a machine that can't be hurt", "", self.practise),
            (job, "Save", "Ctrl+S", self._say_saved),
            (job, "Save a copy as…", "Ctrl+Shift+S", self.ask_and_copy),
            (job, "Duplicate job…", "", self.ask_and_duplicate),
            (job, "Send to a friend…", "", self.ask_and_send),
            (job, "Export as JSON and CSV…", "", self.ask_and_export),
            (job, "Import an export…", "", self.ask_and_import),
            (job, "Keep this machine as a template…", "", self.ask_and_keep_template),
            (job, "Import a machine template…", "", self.ask_and_import_template),
            (job, "Quit", "Ctrl+Q", self.close),
            (edit, "Undo", "Ctrl+Z", self.session.undo),
            (edit, "Redo", "Ctrl+Shift+Z", self.session.redo),
            (edit, "Add a row", "Ctrl+Ins", self._add_row),
            (edit, "Delete the row", "Ctrl+Del", self._drop_row),
            (edit, "Take the figure proposed", TAKE_KEYS, partial(self._answer, True)),
            (edit, "Keep the figure as typed", KEEP_KEYS, partial(self._answer, False)),
            (view, "Units mm / in", "Ctrl+U", self._other_units),
            (view, "Next axis", "Ctrl+PgDown", partial(self._step_axis, 1)),
            (view, "Previous axis", "Ctrl+PgUp", partial(self._step_axis, -1)),
            (view, "Light / dark", "Ctrl+D", self._other_ground),
            (view, "High contrast", "", lambda: self.session.show_theme("contrast")),
            (view, "Larger, from the next start on", "", self._larger),
            (view, "What matters most next", "F3", self._hold_wanted),
            (view, "Type into the drawing", "F4", self._type_into_drawing),
            (view, "Bench view", "F11", self._other_bench),
            (view, "Practice: bench or sheet", "F12", self._other_side),
            (view, "Link an instrument…", "F8", self.ask_and_link),
            (help_, "Keys", "F1", lambda: show_keys(self, {s.keys: s.title for s in SHEETS})),
            (help_, "Cautions", "", lambda: show_cautions(self)),
            (help_, "Copy a description of the fault", "", self._copy_fault),
        ):
            self._action(menu, text, keys, act)
        view.addSeparator()
        for sheet in SHEETS:
            self._action(view, sheet.title, sheet.keys, partial(self.show_sheet, sheet.name))

    def _action(self, menu: QMenu, text: str, keys: str, act: Callable[[], object]) -> None:
        action = QAction(text, self)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _checked=False: act())
        menu.addAction(action)

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
            self.session.told.emit(f"{SHEET_WORDS[name]} is not part of this job; say on Scope what is fitted.")
            name = "scope"
        if name in AXIS_SHEETS and (axis is None or name not in sheets_of(axis)):
            other = next(a for a in axes_in_scope(job) if name in sheets_of(a))
            self.session.show_axis(other.id)
        if name != self._current:
            self._drop_drafts()
        self._current = name
        sheet = self.sheets[name]
        sheet.show_bench(self._bench)
        self.stack.setCurrentWidget(sheet)
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
        axis = self.session.axis
        self.show_sheet((self.session.review(axis).next_sheet or "card") if axis else "scope")
        for words in job.told:
            self.session.told.emit(words)

    def refresh(self) -> None:
        """Show the job as it is; a part that can't be shown is told and covered, and the others live on."""
        if self.session.job is None:
            return
        self._stay_in_scope()
        beside: list[Callable[[], object]] = [self.strip.refresh, partial(self.route.refresh, self._current)]
        beside += [self.practice.refresh] if "practice" in self.__dict__ else []
        for show in beside:
            self._foreseen(show)
        sheet = self.sheets[self._current]
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
        sheet.refresh()
        axis = self.session.axis
        review = self.session.review(axis) if axis is not None else None
        located = review.findings if review is not None else ()
        here = [at.finding for at in located if at.sheet == self._current or self._current in ("log", "paper")]
        here += self._wider_findings()
        rests = [] if any(f.code == "rests-on-unmeasured" for f in here) else self._rests()
        of_one = axis is not None and self._current in AXIS_SHEETS
        sheet.headline.show_rests(rests, axis.name if of_one and axis is not None else "")
        sheet.show_findings(here)

    def _rests(self) -> list[str]:
        """What nobody measured under this sheet's answer: of the axis, or of all on a sheet of the whole machine."""
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None or self._current not in _RESTS:
            return []
        from vernus.job.scope import axes_in_scope

        if self._current in AXIS_SHEETS:
            return list(self.session.review(axis).rests_on)
        return [f"{n} ({one.name})" for one in axes_in_scope(job) for n in self.session.review(one).rests_on]

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
        axis = self.session.axis
        gone = self._current not in sheets_of_job(job)
        if gone or (self._current in AXIS_SHEETS and (axis is None or self._current not in sheets_of(axis))):
            self._current = "scope" if gone or axis is None else sheets_of(axis)[0]
            sheet = self.sheets[self._current]
            sheet.show_bench(self._bench)
            self.stack.setCurrentWidget(sheet)

    def _wider_findings(self) -> list[Finding]:
        """What the plan sheets say, worked out only while one of them is in view."""
        job = self.session.job
        if job is None or self._current not in ("machine", "envelope", "order", "part"):
            return []
        from vernus.job.review import review_machine

        return [at.finding for at in review_machine(job) if at.sheet == self._current]

    def _other_units(self) -> None:
        self.session.show_units("in" if self.session.units == "mm" else "mm")

    def _drop_drafts(self) -> None:
        """What was typed and can't be taken dies with its axis, sheet or job, and that is said."""
        take_typed(QApplication.focusWidget())
        dropped = [*self.sheets.drop_drafts(self._current), *self._strip_drafts()]
        if dropped:
            texts = ", ".join(f"“{text[:30]}”" for text in dropped[:3])
            self.session.told.emit(f"Typed but not taken, so not kept: {texts}.")

    def _strip_drafts(self) -> list[str]:
        return drop_drafts(self.strip) if "strip" in self.__dict__ else []

    def _engine(self) -> Entry:
        return self.start.engine if self.session.job is None else self.sheets[self._current].engine

    def _add_row(self) -> None:
        rows = self._engine().rows()
        if rows is not None:
            rows.add_row()

    def _drop_row(self) -> None:
        rows = self._engine().rows()
        if rows is not None:
            rows.drop_row()

    def _answer(self, take: bool) -> None:
        """Answer the figure asked about, on the sheet or in the strip; with none asked the keys do nothing."""
        question = self._engine().question() or (self.strip.engine.question() if "strip" in self.__dict__ else None)
        if question is not None:
            question.accept_proposal() if take else question.accept_typed()

    def _hold_wanted(self) -> None:
        if self.session.job is not None:
            self.sheets[self._current].hold_wanted()

    def _type_into_drawing(self) -> None:
        if self.session.job is not None and not self.sheets[self._current].type_into_drawing():
            self.session.told.emit("The drawing has no dimension for the row in hand.")

    def _step_axis(self, step: int) -> None:
        job = self.session.job
        if job is None:
            return
        from vernus.job.scope import axes_in_scope

        ids = [a.id for a in axes_in_scope(job)]
        if not ids:
            return
        self.session.show_axis(ids[(ids.index(self.session.axis_id) + step) % len(ids)])
        self.sheets[self._current].focus_entry()

    def _other_ground(self) -> None:
        self.session.show_theme("light" if self.session.dark else "dark")

    def _larger(self) -> None:
        """The next larger drawing of everything, or the usual one again after the largest."""
        at = settings.SCALES.index(settings.scale())
        by = settings.SCALES[(at + 1) % len(settings.SCALES)]
        settings.remember_scale(by)
        self.session.told.emit(f"From the next start on everything is drawn at {100 * by:.0f} %.")

    def _copy_fault(self) -> None:
        """What helps somebody to mend a fault, onto the clipboard: versions and last actions, nothing of the job."""
        from vernus.desktop.fault import description

        QApplication.clipboard().setText(description(self.session, self._current))
        self.session.told.emit("A description of the fault is on the clipboard; nothing of it was sent anywhere.")

    def _other_bench(self) -> None:
        self._bench = not self._bench
        self.sheets[self._current].show_bench(self._bench)
        practising = self.session.practising
        self.menus.setVisible(not self._bench)
        for widget in (self.route, self.strip):
            shown = self.session.job is not None and not self._bench
            widget.setVisible(shown and not (practising and widget is self.route))
        self.refresh()

    def _say_saved(self) -> None:
        job = self.session.job
        if job is None:
            return
        if job.pending:
            self.session.retry()
        else:
            self.statusBar().showMessage(
                f"Every accepted entry is already in {job.path}; there is nothing to save.", 12_000
            )

    def ask_and_open(self) -> None:
        """Ask for a job file and open it."""
        name, _ = QFileDialog.getOpenFileName(self, "Open a job", str(settings.jobs_folder()), "Vernus jobs (*.vernus)")
        if name:
            self.attempt(lambda: self.session.open_job(Path(name)))

    def open_demo(self, name: DemoName = "mill") -> None:
        """Open a demo job, written afresh."""
        self.attempt(lambda: self.session.open_demo(settings.demo_path(name), demo_source(name)))

    def practise(self) -> None:
        """Open the practice job with the bench beside its sheets."""
        if self.attempt(self.session.may_leave):
            self.practice.open()

    def _practise_on(self, sheet: str) -> None:
        """The sheet that goes with a lesson, in the job of the try."""
        tried = self.practice.attempt
        if tried is not None and self.attempt(lambda: self.session.open_practice(tried, fresh=self.practice.fresh)):
            self.show_sheet(sheet)
            self.practice.view.setFocus()

    def _other_side(self) -> None:
        """From the bench of the practice to the sheet beside it, and back."""
        if not self.session.practising:
            return
        inside = self.practice.isAncestorOf(QApplication.focusWidget() or self)
        if inside:
            self.sheets[self._current].focus_entry()
        else:
            self.practice.view.setFocus()

    def _leave_practice(self) -> None:
        self.practice.hide()
        self.attempt(self.session.close_job)

    def ask_and_copy(self) -> None:
        """Ask for a name and save a copy there."""
        path = self._ask_new("Save a copy")
        job = self.session.job
        if path is not None and job is not None and self.attempt(lambda: job.save_copy(path, replace=True)):
            self.session.told.emit(f"A copy is in {path}.")

    def ask_and_duplicate(self) -> None:
        """Ask what the other job is called and what comes along, write it and go on in it."""
        self._ask_and_write_copy("Duplicate the job", ("ticks", "log", "pictures"), self.session.open_job)

    def ask_and_send(self) -> None:
        """Ask what a friend is to see, and write it as one file to mail."""
        self._ask_and_write_copy("Send to a friend", ("log", "pictures", "prices"), self._tell_sent)

    def _tell_sent(self, path: Path) -> None:
        self.session.told.emit(f"It is in {path}: one file to mail. Your own job is open as before.")

    def _ask_and_write_copy(self, heading: str, ask: tuple[str, ...], then: Callable[[Path], None]) -> None:
        job = self.session.job
        if job is None:
            return
        from vernus.desktop.copy_dialog import CopyDialog
        from vernus.job.catalog.copies import Along

        sending = "prices" in ask
        along = Along(prices=not sending, log=not sending)
        dialog = CopyDialog(self, heading, job.info.title, along, ask)
        if dialog.exec() != CopyDialog.DialogCode.Accepted:
            return
        path = self._ask_new(heading)
        if path is not None and self.attempt(
            lambda: self.session.write_copy(path, dialog.title.text(), dialog.along())
        ):
            self.attempt(lambda: then(path))

    def ask_and_export(self) -> None:
        """Ask for a folder and write JSON and CSV into it."""
        job = self.session.job
        folder = QFileDialog.getExistingDirectory(self, "Folder for the export") if job else ""
        if folder and job is not None:
            from vernus.job.formats.exchange import export_job

            self.attempt(
                lambda: self.session.told.emit(f"Wrote {len(export_job(job, Path(folder)))} files to {folder}.")
            )

    def ask_and_import(self) -> None:
        """Ask for an export and for the file to make of it."""
        kinds = "Exports and job files (job.json *.vernus)"
        name, _ = QFileDialog.getOpenFileName(self, "Import an export, or recover a job file", "", kinds)
        path = self._ask_new("Make a job of it") if name else None
        if path is not None and self.attempt(lambda: self.session.import_job(Path(name), path)):
            self._ask_title()

    def _ask_title(self) -> None:
        """What the job is called that was just made of another."""
        from vernus.desktop.copy_dialog import CopyDialog
        from vernus.job.catalog.copies import Along

        job = self.session.job
        if job is None:
            return
        dialog = CopyDialog(self, "A job of its own", job.info.title, Along(), ())
        if dialog.exec() == CopyDialog.DialogCode.Accepted and dialog.title.text().strip():
            self.session.apply("name the job", [job.info.with_(title=dialog.title.text().strip())])

    def ask_and_link(self) -> None:
        """Ask for a serial port and listen to it."""
        from vernus.desktop.instrument_dialog import InstrumentDialog

        InstrumentDialog(self.session, self.session.instrument, self).open()

    def ask_and_keep_template(self) -> None:
        """Ask for a file and write the job's machine there as a template."""
        job = self.session.job
        if job is None:
            return
        from vernus.job.catalog.templates import template_file_name

        folder = settings.templates_folder()
        start = str(folder / template_file_name(job.machine.name or "machine"))
        self.attempt(lambda: folder.mkdir(parents=True, exist_ok=True))
        name, _ = QFileDialog.getSaveFileName(self, "Keep the machine as a template", start, "Templates (*.json)")
        if name:
            self.attempt(lambda: self.keep_template(Path(name if name.endswith(".json") else name + ".json")))

    def keep_template(self, path: Path) -> None:
        """Write the job's machine as a template; raises VernusError."""
        from vernus.job.catalog.templates import template_of, write_template

        assert self.session.job is not None
        write_template(template_of(self.session.job.entities(), self.session.job.machine.name or path.stem), path)
        self.start.refresh()
        folder = settings.templates_folder()
        self.session.told.emit(f"The machine is kept in {path}; those in {folder} are offered at Start.")

    def ask_and_import_template(self) -> None:
        """Ask for a template file and offer it at Start from now on."""
        name, _ = QFileDialog.getOpenFileName(self, "Import a machine template", "", "Templates (*.json)")
        if name:
            self.attempt(lambda: self.import_template(Path(name)))

    def import_template(self, source: Path) -> None:
        """Check a template file and copy it among the user's own; raises VernusError."""
        from vernus.job.catalog.templates import read_template, template_file_name, write_template

        template = read_template(source)
        write_template(template, settings.templates_folder() / template_file_name(template.label))
        self.start.refresh()
        self.session.told.emit(f"“{template.label}” is offered at Start now.")

    def _ask_new(self, title: str) -> Path | None:
        start = str(settings.jobs_folder() / "copy.vernus")
        name, _ = QFileDialog.getSaveFileName(self, title, start, "Vernus jobs (*.vernus)")
        return Path(name if name.endswith(".vernus") else name + ".vernus") if name else None

    def attempt(self, act: Callable[[], object]) -> bool:
        """Do something that may fail, and say why if it does."""
        try:
            act()
        except PendingError as error:
            return self._ask_to_leave(str(error)) and self.attempt(act)
        except UnfinishedError as error:
            return self._ask_to_wait(str(error)) and self.attempt(act)
        except VernusError as error:
            self.banner.show_refusal(str(error))
            return False
        return True

    def _ask_to_wait(self, why: str) -> bool:
        """Whether what is still being taken in is left out; true when the job may be left now."""
        text = f"{why} Wait until they are in, or leave the rest out?"
        box = QMessageBox(QMessageBox.Icon.Question, "Vernus", text, parent=self)
        box.setTextFormat(Qt.TextFormat.PlainText)
        leave = box.addButton("Leave the rest out", QMessageBox.ButtonRole.DestructiveRole)
        wait = box.addButton("Wait", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(wait)
        box.setEscapeButton(wait)
        box.exec()
        if box.clickedButton() is not leave:
            return False
        self.session.leave_unfinished()
        return True

    def _ask_to_leave(self, why: str) -> bool:
        """What is to become of edits that could not be written; true when the job may be left now."""
        text = f"{why} Save a copy elsewhere, or leave it behind: it is lost then."
        box = QMessageBox(QMessageBox.Icon.Warning, "Vernus", text, parent=self)
        box.setTextFormat(Qt.TextFormat.PlainText)
        copy = box.addButton("Save a copy as…", QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton("Leave it behind", QMessageBox.ButtonRole.DestructiveRole)
        stay = box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(copy)
        box.setEscapeButton(stay)
        box.exec()
        if box.clickedButton() is leave:
            self.session.forget_pending()
            return True
        if box.clickedButton() is copy:
            self.ask_and_copy()
        job = self.session.job
        return job is None or job.copied

    def closeEvent(self, event: QCloseEvent) -> None:
        """Everything accepted is on the disk already, unless the disk refused it."""
        job = self.session.job
        if not self.attempt(self.session.may_leave):
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
            self._other_bench()
            return
        if not self._engine().key(event):
            super().keyPressEvent(event)

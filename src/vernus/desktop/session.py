"""What is open and looked at: the job, the axis and the units shown. Sheets edit through it and listen to it."""

from __future__ import annotations

import gc
from collections import deque
from collections.abc import Callable, Iterable
from contextlib import suppress
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QGuiApplication

from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.long_work import LongWork
from vernus.job.disk import is_there, make_folder
from vernus.job.errors import JobWriteError
from vernus.paper.ink import CONTRAST, DARK, LIGHT, Inks

if TYPE_CHECKING:  # what only an open job needs is imported when one is opened: Start opens at once
    from vernus.bench.practice.attempt import Attempt
    from vernus.bench.serve import BenchServer
    from vernus.core.finding import Directions
    from vernus.core.units import DegreeName, UnitName, UnitSystem
    from vernus.desktop.instrument import Instrument
    from vernus.job.catalog.copies import Along
    from vernus.job.catalog.new_job import Scope
    from vernus.job.catalog.templates import MachineTemplate
    from vernus.job.document import Job
    from vernus.job.entities import Axis, Entity
    from vernus.job.fields import Kind
    from vernus.job.review.review import AxisReview

_MOST_PLACES = 12
_MOST_ACTIONS = 20


class PendingError(VernusError):
    """The open job has edits that are nowhere but in memory."""


class UnfinishedError(VernusError):
    """Something is still being taken into the open job."""


class AtWork(NamedTuple):
    """What takes time for the open job: what is left of it, in words ("" when it is through), and how to leave that."""

    left: Callable[[], str]
    stop: Callable[[], None]


def preferred_theme() -> settings.ThemeName:
    """What the desktop prefers: dark where it says so."""
    hints = QGuiApplication.styleHints()
    return "dark" if hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark else "light"


def _same_file(one: Path, other: Path) -> bool:
    try:
        return one.samefile(other)
    except (OSError, ValueError):
        return False


def _families_kept() -> list[Entity]:
    """What is known of scale families by measuring them, for a new job; nothing is loaded where nothing is kept."""
    folder = settings.families_folder()
    if not folder.is_dir():
        return []
    from vernus.job.catalog.shared import own_families
    from vernus.job.document import new_id

    return [shared.entity(new_id()) for shared in own_families(folder)[0]]


class Session(QObject):
    """One window's state. ``changed`` follows every edit and every change of what is shown."""

    changed = Signal()
    opened = Signal()
    leaving = Signal()
    """What is looked at is about to change: what was typed and not taken dies with it."""
    theme_changed = Signal()
    notice = Signal(str)
    failed = Signal(str)
    slipped = Signal(str)
    """Something of ours went wrong that nobody foresaw; in a sentence."""
    working = Signal(bool)
    """Something long is being worked out beside the window, or it is through."""
    wanted = Signal(str, str)
    """A sheet is to be shown, by its name and the axis's (empty: the one in view)."""

    def __init__(self) -> None:
        super().__init__()
        self.job: Job | None = None
        self.axis_id = ""
        self.units: UnitSystem = "mm"
        self.theme: settings.ThemeName = settings.theme() or preferred_theme()
        self.demo = False
        self.practising = False
        self.at_work: list[AtWork] = []
        self.in_view = "scope"
        """The sheet in view."""
        self.long = LongWork(self)
        self.bench: BenchServer | None = None
        self.actions: deque[str] = deque(maxlen=_MOST_ACTIONS)
        """The last edits by the kinds of what was put and dropped, without their contents."""
        self.faults: deque[str] = deque(maxlen=3)

    @cached_property
    def instrument(self) -> Instrument:
        """The indicator that is linked, or none is; made with the first job, as all that only jobs need."""
        from vernus.desktop.instrument import Instrument

        return Instrument()

    @property
    def inks(self) -> Inks:
        """The colours of the theme."""
        return {"light": LIGHT, "dark": DARK, "contrast": CONTRAST}[self.theme]

    @property
    def dark(self) -> bool:
        """Whether the ground is dark."""
        return self.theme == "dark"

    @property
    def axis(self) -> Axis | None:
        """The axis shown."""
        found: Any = self.job.get(self.axis_id) if self.job is not None and self.axis_id else None
        return found if found is not None and found.kind == "axis" else None

    def unit(self, kind: Kind) -> UnitName:
        """The unit of bare numbers in a field of that kind."""
        from vernus.job.fields import field_unit

        return field_unit(kind, self.units)

    @property
    def directions(self) -> Directions:
        """The words of direction of the axis shown."""
        if self.job is None or self.axis is None:
            from vernus.core.finding import PLAIN_DIRECTIONS

            return PLAIN_DIRECTIONS
        from vernus.job.machine.directions import directions_of

        return directions_of(self.job, self.axis)

    def shown_in(self) -> tuple[UnitSystem, Directions, DegreeName]:
        """The units, the words of direction and the degrees that figures are shown in."""
        return self.units, self.directions, self.degrees

    def said(self, template: str) -> str:
        """A template of ours in the words of direction of the axis shown: left mark for ``{@low}`` mark, and so on."""
        return self.directions.said(template)

    @property
    def degrees(self) -> DegreeName:
        """The scale bare temperatures are read and shown in."""
        return "°C" if self.job is None else self.job.info.degrees

    def show_degrees(self, degrees: DegreeName) -> None:
        """Read and show temperatures in another scale; the job remembers it."""
        job = self.job
        if job is not None and not job.read_only_because and job.info.degrees != degrees:
            self._do(lambda: job.apply("degrees", [job.info.with_(degrees=degrees)], undoable=False))

    def review(self, axis: Axis) -> AxisReview:
        """The axis's review."""
        assert self.job is not None
        from vernus.job.review.review import review_axis

        return review_axis(self.job, axis)

    def may_leave(self) -> None:
        """Raise PendingError while edits of the open job are neither on the disk nor in a copy.

        Raise UnfinishedError while something is still being taken into it.
        """
        left = next((words for work in self.at_work if (words := work.left())), "")
        if left:
            raise UnfinishedError(left)
        if self.job is None or not self.job.pending:
            return
        self.retry()
        if self.job.pending and not self.job.copied:
            n = len(self.job.pending)
            raise PendingError(f"{n} {'entry' if n == 1 else 'entries'} of this job could not be written yet.")

    def leave_unfinished(self) -> None:
        """Leave out what is still being taken in; the user was asked."""
        for work in self.at_work:
            work.stop()

    def forget_pending(self) -> None:
        """Leave behind what could not be written; the user was asked."""
        if self.job is not None:
            self.job.pending = {}

    def new_job(
        self,
        path: Path,
        title: str,
        kind: str | MachineTemplate,
        units: UnitSystem,
        machine: str,
        scope: Scope | None = None,
    ) -> None:
        """Write a new job file and open it; raises VernusError."""
        from vernus.job.catalog.new_job import new_job_entities
        from vernus.job.document import Job
        from vernus.job.keep.evenings.hours import kept_evenings
        from vernus.job.keep.own import own_evenings

        self.may_leave()
        self.keep_due()
        make_folder(path.parent)
        evenings = kept_evenings(own_evenings())
        begun_with: list[Entity] = [] if evenings is None else [evenings]
        begun_with += _families_kept()
        self._show(Job.create(path, [*new_job_entities(title, kind, units, machine, scope), *begun_with]))

    def open_job(self, path: Path) -> None:
        """Open a job file; raises VernusError and then keeps what was open. The one that is open stays as it is."""
        from vernus.job.document import Job

        if self.job is not None and self.job.path is not None and _same_file(self.job.path, path):
            self.notice.emit("This job is open already.")
            return
        self.may_leave()
        self._show(self.long.ready(lambda: Job.open(path), path))

    def write_copy(self, path: Path, title: str, along: Along) -> None:
        """Write the open job as another one, with an id of its own; raises VernusError."""
        from vernus.job.catalog.copies import copied
        from vernus.job.document import Job

        assert self.job is not None
        entities, pictures = copied(self.job, title.strip(), along)
        make_folder(path.parent)
        Job.create(path, entities, pictures, replace=True).close()

    def import_job(self, source: Path, path: Path) -> None:
        """Make a job file from an export and open it; raises VernusError."""
        from vernus.job.catalog.copies import with_own_id
        from vernus.job.document import Job
        from vernus.job.formats.exchange import read_export, read_pictures

        self.may_leave()
        told: list[str] = []

        def imported() -> Job:
            entities = read_export(source, told)
            if source.suffix != ".vernus":  # what is recovered goes on being the job it was
                entities = with_own_id(entities, "")
            return Job.create(path, entities, read_pictures(source, entities, told))

        self._show(self.long.ready(imported, source))
        for words in told:
            self.notice.emit(words)

    def open_demo(self, path: Path, source: Path) -> None:
        """Write the demo job afresh and open it; where another window has it open, that one is shown read-only."""
        from vernus.job.document import Job
        from vernus.job.formats.exchange import read_export, read_pictures

        if self.demo and self.job is not None and self.job.path == path and not self.job.read_only_because:
            self.notice.emit("The demo job is open already; close it (New job) to begin it afresh.")
            return
        self.may_leave()
        make_folder(path.parent)
        entities = read_export(source)
        try:
            in_use = is_there(path) and Job.open(path)
        except VernusError:
            in_use = False
        if in_use and in_use.read_only_because:
            self._show(in_use, demo=True)
            return
        if in_use:
            in_use.close()
        self._show(Job.create(path, entities, read_pictures(source, entities, []), replace=True), demo=True)
        self.notice.emit("The demo job begins afresh each time; duplicate it (Job menu) to keep what you change.")

    def open_practice(self, attempt: Attempt, *, fresh: bool = False) -> None:
        """Open the practice job of a try: as it was left, or written afresh; raises VernusError."""
        from vernus.bench.practice.sheet_job import practice_entities, practice_title
        from vernus.job.document import Job

        same = self.practising and self.job is not None and self.job.info.title == practice_title(attempt)
        if same and not fresh:
            return
        self.may_leave()
        path = settings.practice_path()
        make_folder(path.parent)
        job = None if fresh else self._left_practice(path, attempt)
        if job is None:
            if self.practising and self.job is not None:
                self.job.close()
                self.job = None
            job = Job.create(path, practice_entities(attempt, self.units), replace=True)
        self._show(job, demo=True, practising=True)

    def _left_practice(self, path: Path, attempt: Attempt) -> Job | None:
        """The practice job as it was left, where it is of this try."""
        from vernus.bench.practice.sheet_job import practice_title
        from vernus.job.document import Job

        try:
            job = Job.open(path) if is_there(path) and not self.practising else None
        except VernusError:
            return None
        if job is not None and (job.read_only_because or job.info.title != practice_title(attempt)):
            job.close()
            return None
        return job

    def _show(self, job: Job, *, demo: bool = False, practising: bool = False) -> None:
        self.leaving.emit()
        self.keep_due()
        large, self.practising = self.long.is_large, practising
        if self.job is not None:
            self.job.close()
        self.job, self.demo = job, demo
        from vernus.job.scope import axes_in_scope

        axes = axes_in_scope(job)
        self.axis_id = axes[0].id if axes else ""
        self.units = job.info.units
        if job.path is not None and not demo:
            settings.remember_job(job.path)
        self.opened.emit()
        if large:
            gc.unfreeze()
            gc.collect()
        if self.long.is_large:
            gc.freeze()  # what stays until the job is left needn't be looked through for garbage again and again

    def close_job(self) -> None:
        """Close the job and go back to Start; raises PendingError."""
        self.may_leave()
        self.leaving.emit()
        self.keep_due()
        if self.job is not None:
            self.job.close()
        gc.unfreeze()
        self.job, self.practising = None, False
        self.opened.emit()

    def keep_due(self) -> None:
        """Let Start know what falls due on the job that is left, without its being opened."""
        job = self.job
        if job is None or job.path is None or self.demo:
            return
        from vernus.job.keep.due import tasks_of
        from vernus.job.keep.evenings.hours import evenings_to_keep, took_here
        from vernus.job.keep.own import keep_evenings, keep_times
        from vernus.job.review.review import card_lines

        tasks = tasks_of(job, card_lines(job), job.now())
        told = [(t.day.isoformat(), f"{t.axis}: {t.words}" if t.axis else t.words, t.sheet, t.axis) for t in tasks]
        settings.remember_due(job.path, told)
        with suppress(VernusError):  # nothing of the job depends on it
            keep_times(job.info.id, took_here(job))
            keep_evenings(evenings_to_keep(job))

    def show_axis(self, axis_id: str) -> None:
        """Look at another axis."""
        if axis_id != self.axis_id:
            self.leaving.emit()
        self.axis_id = axis_id
        self.changed.emit()

    def show_units(self, units: UnitSystem) -> None:
        """Read and type in another unit system; the job remembers it."""
        self.units = units
        if self.job is not None and not self.job.read_only_because and self.job.info.units != units:
            job = self.job
            self._do(lambda: job.apply("units", [job.info.with_(units=units)], undoable=False))
        self.changed.emit()

    def show_theme(self, theme: settings.ThemeName) -> None:
        """Light, dark or high contrast, and so from now on."""
        settings.remember_theme(theme)
        self._take_theme(theme)

    def follow_desktop(self) -> None:
        """The desktop's preference changed: it is followed unless a theme was chosen."""
        if settings.theme() is None:
            self._take_theme(preferred_theme())

    def _take_theme(self, theme: settings.ThemeName) -> None:
        self.theme = theme
        self.theme_changed.emit()
        self.changed.emit()

    def note_fault(self, kind: str, places: list[str]) -> None:
        """Keep where a slip of ours happened, for whoever is asked to mend it."""
        self.faults.append("\n".join([kind, *places[-_MOST_PLACES:]]))

    def apply(
        self, label: str, put: Iterable[Entity] = (), drop: Iterable[str] = (), pictures: Iterable[bytes] = ()
    ) -> bool:
        """Accept one edit; true when it is on the disk."""
        assert self.job is not None
        job, put, drop = self.job, list(put), list(drop)
        kinds = ", ".join(sorted({e.kind for e in put})) or "nothing"
        self.actions.append(f"put {kinds}" + (f", dropped {len(drop)}" if drop else ""))
        deletes = bool(drop) or label.startswith(("delete", "leave a station"))
        done = self._do(lambda: job.apply(label, put, drop, pictures=pictures))
        if done and deletes:
            self.notice.emit(f"Done: {label}. Ctrl+Z brings it back.")
        return done

    def start_bench(self, seed: int = 7) -> None:
        """Start the simulated indicator and listen to it as to a real one."""
        from vernus.bench.line import pattern_by_id
        from vernus.bench.machine import SimulatedBody
        from vernus.bench.serve import BenchServer

        self.stop_bench()
        self.bench = BenchServer(SimulatedBody.from_seed(seed), "with-unit")
        self.bench.start()
        self.instrument.link(self.bench.port, pattern_by_id("with-unit"))
        self.changed.emit()

    def stop_bench(self) -> None:
        """Unlink whatever is linked."""
        if "instrument" in self.__dict__:
            self.instrument.unlink()
        if self.bench is not None:
            self.bench.stop()
            self.bench = None

    def undo(self) -> None:
        """Take the last edit back."""
        self._step("Undone", lambda job: job.undo())

    def redo(self) -> None:
        """Do the last undone edit again."""
        self._step("Done again", lambda job: job.redo())

    def retry(self) -> None:
        """Try again to write what could not be written."""
        if self.job is not None and self._do(self.job.retry):
            self.notice.emit("Everything is on the disk now.")

    def _step(self, word: str, act: Callable[[Job], str | None]) -> None:
        if self.job is None:
            return
        job, labels, units = self.job, list[str | None](), self.job.info.units
        done = self._do(lambda: labels.append(act(job)))
        if job.info.units != units:
            self.units = job.info.units
            self.changed.emit()
        if done and labels:
            self.notice.emit(f"{word}: {labels[0]}" if labels[0] else "Nothing to take back or do again.")

    def _do(self, act: Callable[[], object]) -> bool:
        """Try an edit and tell how it went."""
        good, job = True, self.job
        decided = 0 if job is None else job.decided
        try:
            act()
        except JobWriteError as error:
            good = False
            self.failed.emit(str(error))
        except VernusError as error:
            good = False
            self.notice.emit(str(error))
        else:
            self.failed.emit("")
        if job is not None and job.decided != decided:
            self.long.work_out()
        self.changed.emit()
        return good

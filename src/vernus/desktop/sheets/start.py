"""Start: a new job, a job worked on before, or the demo."""

from __future__ import annotations

import itertools
import os
from datetime import datetime, timedelta
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.parts.entry import Entry
from vernus.desktop.parts.scope_table import ScopeRow, ScopeTable
from vernus.desktop.parts.words import Label, Words, WordsLink, set_tip
from vernus.desktop.session import Session
from vernus.job.catalog.kinds import KindHead, kind_heads
from vernus.job.disk import shown
from vernus.paper.ink import font

if TYPE_CHECKING:  # a template is made when a job begins on it
    from vernus.job.catalog.new_job import Scope
    from vernus.job.catalog.shared import SharedFamily
    from vernus.job.catalog.templates import MachineTemplate

_SOON_DAYS, _MOST_SEARCHED, _LESSONS = 14, 100, 12


class StartSheet(QWidget):
    """Shown while no job is open."""

    demo_asked = Signal(str)
    open_asked = Signal()
    practice_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._kinds: list[KindHead | MachineTemplate] = []
        self.engine = Entry(self, lambda: self.begin, press=True)
        self.setObjectName("ground")
        title = Label("Vernus")
        title.setFont(font(34, bold=True))
        under = Words(
            "Plan, fit and prove a digital readout or a power feed on a manual mill or lathe: what you measured, what "
            "it means, and what to do next.",
            "faint",
        )
        columns = QHBoxLayout()
        columns.setSpacing(16)
        columns.addWidget(self._new_zone(), 3)
        columns.addWidget(self._open_zone(), 2)
        box = QVBoxLayout(self)
        box.setContentsMargins(70, 40, 70, 30)
        box.setSpacing(8)
        box.addWidget(title)
        box.addWidget(under)
        box.addSpacing(16)
        box.addLayout(columns)
        box.addStretch(1)
        caution = "Vernus advises; local codes, the makers' instructions and licensed practice decide."
        box.addWidget(Words(caution, "faint"))

    def _new_zone(self) -> QFrame:
        self.name = QLineEdit("My machine")
        self.machine = QLineEdit()
        self.machine.setPlaceholderText("as you call it in the shop")
        self.kind = QComboBox()
        self.units = QComboBox()
        self.units.addItem("millimetres", "mm")
        self.units.addItem("inches", "in")
        self.kind.currentIndexChanged.connect(lambda _i: self._offer_axes())
        self.fitted = ScopeTable()
        self.path = QLineEdit()
        self.path.setAccessibleName("Kept in the file")
        self.path.setReadOnly(False)
        browse = QPushButton("Folder…")
        browse.clicked.connect(self._browse)
        self.begin = QPushButton("Begin")
        self.begin.setObjectName("main")
        self.begin.clicked.connect(self._create)
        self.complaint, self.set_aside = Words("", "complaint"), Words("", "faint")
        self.name.textEdited.connect(self._propose)
        zone, box = _zone("New job")
        for pair in (
            (("What is the job called?", self.name), ("Machine", self.machine)),
            (("Kind of machine (and its axes)", self.kind), ("Units to read and type", self.units)),
        ):
            row = QHBoxLayout()
            row.setSpacing(12)
            for stretch, (words, widget) in zip((3, 2), pair, strict=True):
                column = QVBoxLayout()
                column.addWidget(_faint(words))
                widget.setAccessibleName(words)
                column.addWidget(widget)
                row.addLayout(column, stretch)
            box.addLayout(row)
        self.whose = Words("", "faint")
        box.addWidget(self.whose)
        box.addWidget(_faint("What is fitted to which axis; Scope changes it at any time"))
        box.addWidget(self.fitted)
        box.addWidget(_faint("Kept in the file"))
        place = QHBoxLayout()
        place.addWidget(self.path, 1)
        place.addWidget(browse)
        box.addLayout(place)
        box.addWidget(self.complaint)
        box.addWidget(self.set_aside)
        box.addWidget(self.begin)
        return zone

    def _open_zone(self) -> QFrame:
        zone, self._recent = _zone("Go on with")
        self._recent_box = QVBoxLayout()
        self._recent.addLayout(self._recent_box)
        self.search = QLineEdit()
        self.search.setAccessibleName("Find in jobs and their logs")
        self.search.setPlaceholderText("find in jobs and their logs, Enter")
        self.search.returnPressed.connect(self._find)
        self._recent.addWidget(self.search)
        self.due_title = Words("Due", "faint")
        self.due = QVBoxLayout()
        self.due.setSpacing(0)
        inner = QWidget()
        inner.setLayout(self.due)
        self.due.setContentsMargins(0, 0, 0, 0)
        self.due_room = QScrollArea()
        self.due_room.setWidget(inner)
        self.due_room.setWidgetResizable(True)
        self.due_room.setFrameShape(QFrame.Shape.NoFrame)
        self.due_room.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._recent.addWidget(self.due_title)
        self._recent.addWidget(self.due_room, 1)
        self._recent.addStretch(0)
        self.open = QPushButton("Open a job file… (Ctrl+O)")
        self.open.clicked.connect(self.open_asked)
        self.demo = QPushButton("Look at the demo mill (mm)")
        self.demo.clicked.connect(lambda: self.demo_asked.emit("mill"))
        self.demo_lathe = QPushButton("Look at the demo lathe (inches)")
        self.demo_lathe.clicked.connect(lambda: self.demo_asked.emit("lathe"))
        self.practise = QPushButton("Practise on a machine that can't be hurt")
        self.practise.clicked.connect(self.practice_asked)
        self._recent.addWidget(self.practise)
        self._recent.addWidget(self.open)
        self._recent.addWidget(self.demo)
        self._recent.addWidget(self.demo_lathe)
        return zone

    def refresh(self) -> None:
        """Show the recent jobs, the machines to start from, and propose a file name."""
        self._offer_machines()
        while self._recent_box.count():
            item = self._recent_box.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        done = settings.lessons_done()
        often = f" ({done} of {_LESSONS} lessons done)" if done else ""
        self.practise.setText(f"Practise on a machine that can't be hurt{often}")
        recent = settings.recent_jobs()
        for path in recent:
            button = QPushButton(shown(Path(path.stem)).replace("&", "&&"))
            button.setObjectName("link")
            set_tip(button, shown(path))
            button.clicked.connect(lambda _c=False, p=path: self._open(p))
            self._recent_box.addWidget(button)
        if not recent:
            self._recent_box.addWidget(Words("Jobs you worked on will be listed here.", "faint"))
        soon = (datetime.now().astimezone().date() + timedelta(days=_SOON_DAYS)).isoformat()
        self._show_due([t for t in settings.due_tasks() if t.day <= soon])
        if not self.path.isModified():
            self._propose()

    def _show_due(self, due: list[settings.DueTask]) -> None:
        """Everything that is due, each a link that opens its job at its sheet."""
        rows = [(f"{t.day}  {shown(Path(t.path.stem))}, {t.words}", t.path, t.sheet, t.axis) for t in due]
        self._show_links("Due", rows)

    def _show_links(self, title: str, rows: list[tuple[str, Path, str, str]]) -> None:
        while self.due.count():
            item = self.due.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        for words, path, sheet, axis in rows:
            link = WordsLink(words)
            link.pressed.connect(partial(self._open_at, path, sheet, axis))
            self.due.addWidget(link)
        self.due.addStretch(1)
        self.due_title.setText(title)
        self.due_title.setVisible(bool(rows))
        self.due_room.setVisible(bool(rows))

    def _find(self) -> None:
        """Look for words in the jobs worked on and those in the usual folder; what is found leads there."""
        from vernus.job.keep.found import find_words

        words = self.search.text().strip()
        if not words:
            self.refresh()
            return
        folder = settings.jobs_folder()
        beside = sorted(folder.glob("*.vernus"))[:_MOST_SEARCHED] if folder.is_dir() else []
        paths = list(dict.fromkeys(p.resolve() for p in (*settings.recent_jobs(), *beside)))
        found = find_words(paths, words)
        rows = [(f"{f.day}  {shown(Path(f.path.stem))}, {f.text or f.title}", f.path, f.sheet, "") for f in found]
        self._show_links(f"Found: {len(rows)}" if rows else "Found", rows)
        if not rows:
            self.due_title.setText(f"“{words[:40]}” stands in none of {len(paths)} jobs.")
            self.due_title.setVisible(True)

    def _open_at(self, path: Path, sheet: str, axis: str) -> None:
        """Open the job of something due or found, where it is done or stands."""
        self._open(path)
        job = self._session.job
        if job is not None and job.path is not None and job.path.resolve() == path.resolve():
            self._session.wanted.emit(sheet, axis)

    def _offer_machines(self) -> None:
        kinds: list[tuple[KindHead | MachineTemplate, str]] = [(k, "") for k in kind_heads()]
        own, wrong = _own_templates()
        kinds += [(k, "own: ") for k in own]
        known, odd = _own_families()
        lines = [f"Known in new jobs: {', '.join(f.said() for f in known[:4])}"] if known else []
        lines += [f"Set aside: {words}" for words in (*wrong, *odd)[:3]]
        self.set_aside.setText("\n".join(lines))
        self.set_aside.setVisible(bool(lines))
        if [k for k, _ in kinds] == self._kinds:
            return
        self._kinds = [k for k, _ in kinds]
        self.kind.clear()
        for kind, whose in kinds:
            self.kind.addItem(f"{whose}{kind.label} ({', '.join(a.name for a in kind.axes)})", kind)
        self._offer_axes()

    def _offer_axes(self) -> None:
        """The axes of the machine chosen, with what is usually fitted to them."""
        kind = self.kind.currentData()
        by, on = getattr(kind, "by", ""), getattr(kind, "on", "")
        self.whose.setText(f"Measured by {', '.join(w for w in (by, on) if w)}.")
        self.whose.setVisible(bool(by or on))
        if kind is not None:
            self.fitted.show_rows([ScopeRow(a.name, a.label, a.readout, "none") for a in kind.axes])
            self._in_order()

    def _in_order(self) -> None:
        """Tab goes as the eye does: what is fitted before where it is kept."""
        chain = [self.units, *self.fitted.boxes.values(), self.path]
        for before, after in itertools.pairwise(chain):
            QWidget.setTabOrder(before, after)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Keys that no field wanted go to the entry engine."""
        if not self.engine.key(event):
            super().keyPressEvent(event)

    def renew(self) -> None:
        """Forget what was typed for the job before."""
        self.name.setText("My machine")
        self.machine.clear()
        self.path.setModified(False)
        self.complaint.setText("")
        self._offer_axes()

    def focus_entry(self) -> None:
        """Begin with the job's name."""
        self.name.setFocus()
        self.name.selectAll()

    def _propose(self) -> None:
        if self.path.isModified():
            return
        stem = "".join(c if c.isalnum() or c in " -_" else "-" for c in self.name.text()).strip() or "job"
        folder, n = settings.jobs_folder(), 1
        path = folder / f"{stem}.vernus"
        while os.path.lexists(path):
            n += 1
            path = folder / f"{stem} {n}.vernus"
        self.path.setText(str(path))

    def _browse(self) -> None:
        start = str(Path(self.path.text()).parent)
        folder = QFileDialog.getExistingDirectory(self, "Folder for the job", start)
        if folder:
            self.path.setText(str(Path(folder) / Path(self.path.text()).name))
            self.path.setModified(True)

    def _create(self) -> None:
        path = Path(self.path.text().strip())
        if path.suffix != ".vernus":
            path = path.parent / (path.name + ".vernus")
        title, machine = self.name.text().strip() or "New job", self.machine.text().strip()
        long = next((words for words in (title, machine) if len(words) > 200), None)
        if long is not None:
            self.complaint.setText(f"“{long[:30]}…” has {len(long)} characters; at most 200 fit. Shorten it.")
            return
        try:
            kind = self.kind.currentData()
            chosen = kind.id if isinstance(kind, KindHead) else kind
            scope = cast("Scope", self.fitted.chosen())
            self._session.new_job(path, title, chosen, self.units.currentData(), machine, scope)
        except VernusError as error:
            self.complaint.setText(str(error))
        else:
            self.complaint.setText("")
            self.path.setModified(False)

    def _open(self, path: Path) -> None:
        try:
            self._session.open_job(path)
        except VernusError as error:
            self.complaint.setText(str(error))


def _own_templates() -> tuple[list[MachineTemplate], list[str]]:
    """The user's own machines; nothing is loaded for them where there are none."""
    folder = settings.templates_folder()
    if not folder.is_dir():
        return [], []
    from vernus.job.catalog.templates import own_templates

    return own_templates(folder)


def _own_families() -> tuple[list[SharedFamily], list[str]]:
    """The scale families somebody measured; nothing is loaded for them where there are none."""
    folder = settings.families_folder()
    if not folder.is_dir():
        return [], []
    from vernus.job.catalog.shared import own_families

    return own_families(folder)


def _faint(words: str) -> Label:
    label = Label(words)
    label.setObjectName("faint")
    return label


def _zone(title: str) -> tuple[QFrame, QVBoxLayout]:
    frame = QFrame()
    frame.setObjectName("zone")
    box = QVBoxLayout(frame)
    box.setContentsMargins(18, 14, 18, 16)
    head = Label(title)
    head.setFont(font(15, bold=True))
    box.addWidget(head)
    return frame, box

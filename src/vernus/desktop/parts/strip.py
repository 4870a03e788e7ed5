"""The top strip: axis chips, mm/in, room temperature, undo and redo."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence
from PySide6.QtWidgets import QButtonGroup, QFrame, QHBoxLayout, QPushButton

from vernus.core.units import UnitSystem, format_fine
from vernus.desktop.parts.entry import Entry
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.words import Label, set_tip
from vernus.desktop.session import Session
from vernus.job.entities import JobInfo
from vernus.job.scope import axes_in_scope

UNITS: tuple[UnitSystem, ...] = ("mm", "in")


class TopStrip(QFrame):
    """What is looked at, and in which units."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("ground")
        self._chips = QHBoxLayout()
        self._chips.setSpacing(4)
        self.chips: dict[str, QPushButton] = {}
        self._group = QButtonGroup(self)
        self.units = {u: QPushButton(u) for u in UNITS}
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 2, 8, 2)
        row.setSpacing(6)
        axis = Label("Axis")
        axis.setObjectName("faint")
        row.addWidget(axis)
        row.addLayout(self._chips)
        row.addStretch(1)
        self.link = Label()
        self.link.setObjectName("faint")
        row.addWidget(self.link)
        row.addSpacing(10)
        session.instrument.changed.connect(self.show_link)
        self.engine = Entry(self)
        self.room = FigureRow(session, JobInfo, "room_c", self._info, label="Room")
        self.room.furnish()
        self.room.mark.hide()
        self.room.setObjectName("ground")
        self.room.setFixedWidth(176)
        row.addWidget(self.room)
        row.addSpacing(14)
        pair = QHBoxLayout()
        pair.setSpacing(0)
        for unit, button in self.units.items():
            button.setCheckable(True)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            set_tip(button, "Ctrl+U changes the units")
            button.clicked.connect(partial(session.show_units, unit))
            pair.addWidget(button)
        row.addLayout(pair)
        row.addSpacing(14)
        self.undo = QPushButton("Undo")
        self.redo = QPushButton("Redo")
        self.undo.clicked.connect(session.undo)
        self.redo.clicked.connect(session.redo)
        for button in (self.undo, self.redo):
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        row.addWidget(self.undo)
        row.addWidget(self.redo)

    def _info(self) -> JobInfo | None:
        return self._session.job.info if self._session.job else None

    def show_link(self) -> None:
        """The instrument's live reading, or what is wrong with it."""
        instrument = self._session.instrument
        if instrument.live_mm is not None:
            text = f"live {format_fine(instrument.live_mm, self._session.units, sign=True)}"
        else:
            text = "listening…" if instrument.linked else ""
        self.link.setText("the instrument: see Align" if instrument.trouble else text)
        set_tip(self.link, instrument.trouble)

    def refresh(self) -> None:
        """Show the job as it is."""
        self.show_link()
        job = self._session.job
        if job is None:
            return
        axes = axes_in_scope(job)
        if list(self.chips) != [a.id for a in axes]:
            for chip in self.chips.values():
                chip.deleteLater()
            self.chips = {}
            for axis in axes:
                chip = QPushButton("&" + axis.name)
                chip.setShortcut(QKeySequence())
                chip.setFocusPolicy(Qt.FocusPolicy.TabFocus)
                press_by(chip, f"Alt+{axis.name[:1]}")
                chip.setCheckable(True)
                set_tip(chip, f"Alt+{axis.name}: {axis.label}")
                chip.setMinimumWidth(44)
                chip.clicked.connect(partial(self._session.show_axis, axis.id))
                self._group.addButton(chip)
                self._chips.addWidget(chip)
                self.chips[axis.id] = chip
        for axis_id, chip in self.chips.items():
            chip.setChecked(axis_id == self._session.axis_id)
        for unit, button in self.units.items():
            button.setChecked(unit == self._session.units)
        self.room.refresh()
        self.undo.setEnabled(job.history.next_undo is not None)
        set_tip(self.undo, f"Ctrl+Z takes back: {job.history.next_undo or 'nothing'}")
        self.redo.setEnabled(job.history.next_redo is not None)
        set_tip(self.redo, f"Ctrl+Shift+Z does again: {job.history.next_redo or 'nothing'}")

"""The steps that the user adds to the card, and the keys that move the chosen one along it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.tables import Column
from vernus.desktop.session import Session
from vernus.job.document import Job, new_id
from vernus.job.entities import OwnStep
from vernus.job.keep.card import CardLine
from vernus.job.keep.steps_own import moved, own_key
from vernus.job.scope import axes_in_scope

_FIELDS = {
    "": ("words", "axis_id", "after", "waits", "hours", "tools"),
    "When": ("wait_days", "on_day", "every_days"),
}


class OwnStepsFace(QWidget):
    """A list, its figures, and two keys."""

    def __init__(self, session: Session, lines: Callable[[], Sequence[CardLine]]) -> None:
        super().__init__()
        self._session, self._lines = session, lines
        self.list = EntityList(
            session, "Own steps", OwnStep, _FIELDS, self._steps, [Column("own step", False), Column("h")],
            lambda o: [o.words, f"{o.hours:g}"], lambda: OwnStep(id=new_id(), words="own step"),
        )  # fmt: skip
        self.up, self.down = QPushButton("Up (Ctrl+Shift+Up)"), QPushButton("Down (Ctrl+Shift+Down)")
        row = QHBoxLayout()
        row.setSpacing(4)
        for button, keys, by in ((self.up, "Ctrl+Shift+Up", -1), (self.down, "Ctrl+Shift+Down", 1)):
            button.setObjectName("tight")
            press_by(button, keys)
            button.clicked.connect(partial(self._move, by))
            row.addWidget(button)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 1)
        box.addLayout(row)
        self.setFocusProxy(self.list)

    def _steps(self) -> list[OwnStep]:
        return self._session.job.all(OwnStep) if self._session.job else []

    def _move(self, by: int, _checked: bool = False) -> None:
        own, job = self.list.current(), self._session.job
        if own is None or job is None:
            return
        put = moved(job, own, [c.step.key for c in self._lines()], by)
        if put is None:
            self._session.notice.emit("It can't go further that way.")
        elif put != own:
            self._session.apply(f"move “{own.words}”", [put])

    def show_steps(self, job: Job) -> None:
        """Show what is stored; what a step may be put after is the card as it stands."""
        own = self.list.current()
        mine = "" if own is None else own_key(own)
        self.list.offer("axis_id", [("", "the whole machine"), *((a.id, a.name) for a in axes_in_scope(job))])
        after = [(c.step.key, f"{c.step.axis} {c.step.words}"[:60].strip()) for c in self._lines()]
        self.list.offer("after", [("", "at the end"), *(a for a in after if a[0] != mine)])
        self.list.refresh()

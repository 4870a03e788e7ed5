"""Undo and redo: a bounded history of before/after pairs, kept in the job and not in widgets."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass

from vernus.job.entities import Entity

Change = dict[str, Entity | None]


@dataclass(frozen=True)
class Edit:
    """One accepted edit: what each touched entity was, and what it became (None: not there)."""

    label: str
    before: Change
    after: Change


class History:
    """The last edits, at most ``bound`` of them."""

    def __init__(self, bound: int = 500) -> None:
        self._done: deque[Edit] = deque(maxlen=bound)
        self._undone: list[Edit] = []

    def add(self, edit: Edit) -> None:
        """Remember an edit; what had been undone can no longer be redone."""
        self._done.append(edit)
        self._undone.clear()

    @property
    def next_undo(self) -> str | None:
        """What Undo would take back, in words."""
        return self._done[-1].label if self._done else None

    @property
    def next_redo(self) -> str | None:
        """What Redo would do again, in words."""
        return self._undone[-1].label if self._undone else None

    def undo(self) -> Edit | None:
        """Take the last edit off; None when there is none."""
        if not self._done:
            return None
        self._undone.append(self._done.pop())
        return self._undone[-1]

    def redo(self) -> Edit | None:
        """Put the last undone edit back; None when there is none."""
        if not self._undone:
            return None
        self._done.append(self._undone.pop())
        return self._done[-1]

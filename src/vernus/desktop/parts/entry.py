"""The one entry engine: what Enter, Add, Delete and the answering keys do, wherever the cursor is.

Enter takes the figure and goes on to the next field that can be seen, Shift+Enter back; after the last one it presses
the sheet's main button, or, where that makes a record of work done, rests on it until the next Enter: nothing is noted
as keyed in by one Enter too many. Fields take their
own Enter first; what they leave alone comes up to the sheet and is handled here, so no sheet knows a key.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Protocol, runtime_checkable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QCheckBox,
    QComboBox,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QScrollArea,
    QWidget,
)

if TYPE_CHECKING:  # Start has an engine too, and opens before any of these is needed
    from vernus.desktop.parts.question import Question

_ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
_LINE_PX = 12
_FIELDS = (QLineEdit, QComboBox, QCheckBox, QPlainTextEdit)


@runtime_checkable
class Rows(Protocol):
    """A list that rows are added to and deleted from."""

    def add_row(self) -> None:
        """Add a row and put the cursor into it."""

    def drop_row(self) -> None:
        """Delete the chosen row."""


@runtime_checkable
class GoesOn(Protocol):
    """A part that shows one figure of a list at a time."""

    def go_on(self, step: int) -> None:
        """Take the next figure in hand (−1: the one before)."""


class Entry:
    """The engine of one sheet: its fields are those of ``zone`` that can be seen, in the order they are read."""

    def __init__(
        self, zone: QWidget, main: Callable[[], QPushButton | None] = lambda: None, *, press: bool = False
    ) -> None:
        self._zone, self._main, self._press = zone, main, press

    def key(self, event: QKeyEvent) -> bool:
        """Handle a key nobody else wanted; true when it was one of the engine's."""
        if event.key() not in _ENTER or event.modifiers() & ~(
            Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier
        ):
            return False
        here = QApplication.focusWidget()
        if isinstance(here, QAbstractButton) and not isinstance(here, QCheckBox):
            here.click()
            return True
        back = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        return self.go_on(-1 if back else 1)

    def fields(self) -> list[QWidget]:
        """The fields that can be seen and typed into, as they are read: from the top, each line from the left."""
        found = [w for w in self._zone.findChildren(QWidget) if isinstance(w, _FIELDS) and _open(w, self._zone)]
        return sorted(found, key=self._place)

    def _place(self, field: QWidget) -> tuple[int, int]:
        corner = field.mapTo(self._zone, field.rect().center())
        return round(corner.y() / _LINE_PX), corner.x()

    def go_on(self, step: int = 1) -> bool:
        """Put the cursor into the next field (−1: the one before); after the last, on the main button."""
        here, fields = QApplication.focusWidget(), self.fields()
        if here is None or here not in fields:
            return False
        own = self._going_on(here)
        if own is not None:
            own.go_on(step)
            return True
        at = fields.index(here) + step
        main = self._main()
        if 0 <= at < len(fields):
            _enter(fields[at])
        elif at >= len(fields) and main is not None and _open(main, self._zone.window()):
            main.setFocus(Qt.FocusReason.TabFocusReason)
            if self._press:
                main.click()
        return True

    def _going_on(self, here: QWidget) -> GoesOn | None:
        """What around a field has an order of its own, one field for a list of figures."""
        at = here.parentWidget()
        while at is not None and at is not self._zone:
            if isinstance(at, GoesOn):
                return at
            at = at.parentWidget()
        return None

    def question(self) -> Question | None:
        """The question to answer: of the field in hand, otherwise the first that is open."""
        from vernus.desktop.parts.figure_field import FigureField
        from vernus.desktop.parts.question import Question

        here = QApplication.focusWidget()
        fields = [f for f in self._zone.findChildren(FigureField) if f.unanswered and f.isVisibleTo(self._zone)]
        near = [f.question for f in fields if here is not None and f.isAncestorOf(here)]
        others = [q for q in self._zone.findChildren(Question) if q.open and q.isVisibleTo(self._zone)]
        return next(iter([*near, *others]), None)

    def rows(self) -> Rows | None:
        """The list the cursor is in; otherwise the first one in view."""
        at = QApplication.focusWidget()
        while at is not None and at is not self._zone:
            if isinstance(at, Rows):
                return at
            at = at.parentWidget()
        lists = [w for w in self._zone.findChildren(QWidget) if isinstance(w, Rows) and w.isVisible()]
        return lists[0] if lists else None


def drop_drafts(ground: QWidget) -> list[str]:
    """Forget what is typed and not taken in every field of ``ground``; returns the texts."""
    from vernus.desktop.parts.figure_field import FigureField
    from vernus.desktop.parts.form import BoundField

    fields: list[FigureField | BoundField] = [*ground.findChildren(FigureField), *ground.findChildren(BoundField)]
    return [text for field in fields if (text := field.drop_draft())]


def _open(widget: QWidget, zone: QWidget) -> bool:
    reachable = bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)
    return reachable and widget.isEnabled() and widget.isVisibleTo(zone)


def _enter(field: QWidget) -> None:
    around = field.parentWidget()
    while around is not None and not isinstance(around, QScrollArea):
        around = around.parentWidget()
    if isinstance(around, QScrollArea):
        around.ensureWidgetVisible(field, 10, 60)
    field.setFocus(Qt.FocusReason.TabFocusReason)
    if isinstance(field, QLineEdit):
        field.selectAll()

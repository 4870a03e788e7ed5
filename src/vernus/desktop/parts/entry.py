"""The one entry engine: what Enter, Add, Delete and the answering keys do, wherever the cursor is.

Enter takes the figure and goes on to the next open one in reading order, Shift+Enter back; after the last one it
presses the sheet's main button, or, where that makes a record of work done, rests on it until the next Enter: nothing
is noted as keyed in by one Enter too many. Fields take their own Enter first; what they leave alone comes up to the
sheet and is handled here, so no sheet knows a key.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

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

from vernus.desktop.parts.keys import is_figure
from vernus.desktop.parts.line import Line

if TYPE_CHECKING:  # Start has an engine too, and opens before any of these is needed
    from vernus.desktop.parts.figure_list import FigureList
    from vernus.desktop.parts.question import Question
    from vernus.desktop.parts.row import Row

_ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
_LINE_PX = 12
_FIELDS = (QLineEdit, QComboBox, QCheckBox, QPlainTextEdit)


class Rows(QWidget):
    """A list that rows are added to and deleted from."""

    def add_row(self) -> None:
        """Add a row and put the cursor into it."""
        raise NotImplementedError

    def drop_row(self) -> None:
        """Delete the chosen row."""
        raise NotImplementedError


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
        """Put the cursor into the next open field in reading order (−1: the one before, open or not).

        After the last open one it goes on the main button; where there is none, into the next field there is.
        """
        here, fields = QApplication.focusWidget(), self.fields()
        if here is None or here not in fields:
            return False
        if step < 0:
            at = fields.index(here) - 1
            if at >= 0:
                _enter(fields[at])
            return True
        if self._next_row(here):
            return True
        after = fields[fields.index(here) + 1 :]
        there = next((f for f in after if _row_of(f) is None or _is_open(f)), None)
        main = self._main()
        if there is not None:
            _enter(there)
        elif main is not None and _open(main, self._zone.window()):
            main.setFocus(Qt.FocusReason.TabFocusReason)
            if self._press:
                main.click()
        elif after:
            _enter(after[0])
        return True

    def _next_row(self, here: QWidget) -> bool:
        """Go to the next open row of the list the cursor is in, its group opened."""
        figures = _list_of(here)
        row = None if figures is None else figures.next_open(here)
        if figures is None or row is None:
            return False
        figures.enter(row)
        return True

    def take_typed(self, event: QKeyEvent) -> bool:
        """Give a digit that no field wanted to the figure in hand: of the list in view, else the first field."""
        from vernus.desktop.parts.figure_list import FigureList

        if not is_figure(event):
            return False
        lists = [w for w in self._zone.findChildren(FigureList) if w.isVisible()]
        if any(figures.in_hand is not None and figures.take_typed(event) for figures in lists):
            return True
        line = next((f for f in self.fields() if isinstance(f, Line) and _row_of(f) is None), None)
        if line is not None:
            line.type_over(event.text())
            return True
        return any(figures.take_typed(event) for figures in lists)

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
        return next((w for w in self._zone.findChildren(Rows) if w.isVisible()), None)


def take_typed(here: QWidget | None) -> None:
    """Take what is typed where the cursor is, as any field does when it is left; a reading is logged by Enter only."""
    from vernus.desktop.parts.figure_field import FigureField

    if not isinstance(here, Line):
        return
    field = here.parentWidget()
    if not isinstance(field, FigureField):
        here.editingFinished.emit()
    elif field.draft and not field.logs and not field.stays:
        field.accept()


def drop_drafts(ground: QWidget) -> list[str]:
    """Forget what is typed and not taken in every field of ``ground``; returns the texts."""
    from vernus.desktop.parts.figure_field import FigureField
    from vernus.desktop.parts.row import Row

    fields: list[FigureField | Row] = [*ground.findChildren(FigureField), *ground.findChildren(Row)]
    return [text for field in fields if (text := field.drop_draft())]


def _row_of(field: QWidget) -> Row | None:
    from vernus.desktop.parts.row import Row

    at = field.parentWidget()
    while at is not None and not isinstance(at, Row):
        at = at.parentWidget()
    return at


def _list_of(field: QWidget) -> FigureList | None:
    from vernus.desktop.parts.figure_list import FigureList

    at = field.parentWidget()
    while at is not None and not isinstance(at, FigureList):
        at = at.parentWidget()
    return at


def _is_open(field: QWidget) -> bool:
    row = _row_of(field)
    return row is not None and row.open


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

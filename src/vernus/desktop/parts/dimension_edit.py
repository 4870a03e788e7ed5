"""A figure typed into the drawing: the line stands over its dimension, and what is typed is its row's."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QWidget

from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.row import Row

_WIDE, _HIGH = 104, 28


class DimensionEdit(Line):
    """Enter gives the figure to its row and goes on to the next one that is open; Escape leaves it as it was.

    What is asked about the figure is asked under its row, where the cursor goes then.
    """

    def __init__(self, view: QWidget) -> None:
        super().__init__()
        self._view = view
        self.setParent(view)
        self.setObjectName("dimension")
        self.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._row: Row | None = None
        self._figures: FigureList | None = None
        self.hide()

    def begin(self, figures: FigureList, row: Row, place: QRectF) -> None:
        """Stand over the dimension of a row, with its figure chosen whole."""
        if not isinstance(row.editor, FigureField):
            return
        self._figures, self._row = figures, row
        self.setAccessibleName(row.label)
        self.setPlaceholderText(row.label)
        self.renew(row.editor.line.text())
        room = self._view.rect()
        x = min(room.right() - _WIDE, max(0, round(place.center().x() - _WIDE / 2)))
        y = min(room.bottom() - _HIGH, max(0, round(place.center().y() - _HIGH / 2)))
        self.setGeometry(x, y, _WIDE, _HIGH)
        self.show()
        self.raise_()
        self.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.selectAll()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._give(go_on=True)
        elif event.key() == Qt.Key.Key_Escape:
            row = self._row
            self._row = None
            self.hide()
            if row is not None:
                row.editor.setFocus()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """What was typed is taken when it is left, as in any field."""
        super().focusOutEvent(event)
        if event.reason() != Qt.FocusReason.ActiveWindowFocusReason:
            self._give(go_on=False)

    def _give(self, *, go_on: bool) -> None:
        row, figures, text = self._row, self._figures, self.text()
        self._row = None
        self.hide()
        if row is None or figures is None or not isinstance(row.editor, FigureField):
            return
        if self.isModified() or not row.editor.line.text():
            row.editor.put(text)
        if not go_on and not row.editor.stays:
            return
        after = None if row.editor.stays or not go_on else figures.next_open(row.editor)
        figures.enter(after or row)

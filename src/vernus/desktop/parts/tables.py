"""The one table model: rows of texts with a header, editable where a column says so."""

from __future__ import annotations

import re
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QAbstractTableModel, QEvent, QModelIndex, QPersistentModelIndex, QRect, Qt, QTimer, Signal
from PySide6.QtGui import QFocusEvent, QIcon, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableView

from vernus.desktop.parts.keys import is_figure
from vernus.desktop.parts.words import kept_together

Index = QModelIndex | QPersistentModelIndex


@dataclass(frozen=True)
class Column:
    """A column: its header, whether it holds figures, and what happens when a cell of it is edited."""

    header: str
    figures: bool = True
    edit: Callable[[int, str], None] | None = None


_HEADER_PX, _TWO_LINES_PX, _MOST_LINES = 34, 46, 2
_MOST_FITTED = 4096
_PADDING = 22  # 12 px of the style, 6 px of the focus frame, and room for the delegate breaking lines a little earlier


class RowsModel(QAbstractTableModel):
    """Columns over rows of plain texts."""

    def __init__(self) -> None:
        super().__init__()
        self.columns: Sequence[Column] = ()
        self.rows: Sequence[Sequence[str]] = ()
        self.keys: Sequence[Hashable] = ()
        self.cut: Callable[[int, str], str] = lambda _column, text: text
        self.icons: Mapping[int, QIcon] = {}
        """Small pictures beside the first cell, by the row."""

    def show_rows(
        self, columns: Sequence[Column], rows: Sequence[Sequence[str]], keys: Sequence[Hashable] = ()
    ) -> None:
        """Replace everything shown; ``keys`` tell what each row is of: the cursor stays on it in a new order."""
        same_shape = len(rows) == len(self.rows) and len(columns) == len(self.columns)
        if same_shape and list(keys) == list(self.keys):
            looks = [(c.header, c.figures) for c in columns] == [(c.header, c.figures) for c in self.columns]
            same = looks and [list(row) for row in rows] == [list(row) for row in self.rows]
            self.columns, self.rows = columns, rows
            if same:
                return
            if rows:
                self.dataChanged.emit(self.index(0, 0), self.index(len(rows) - 1, len(columns) - 1))
            self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, len(columns) - 1)
            return
        self.beginResetModel()
        self.columns, self.rows, self.keys = columns, rows, keys
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.columns)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        column = self.columns[index.column()]
        if role == Qt.ItemDataRole.DisplayRole:
            return kept_together(self.cut(index.column(), self.rows[index.row()][index.column()]))
        if role == Qt.ItemDataRole.EditRole:
            return self.rows[index.row()][index.column()]
        if role == Qt.ItemDataRole.DecorationRole and index.column() == 0:
            return self.icons.get(index.row())
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if column.figures else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignTop)
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Vertical:
            return str(section + 1) if role == Qt.ItemDataRole.DisplayRole else None
        if role == Qt.ItemDataRole.DisplayRole and section < len(self.columns):
            return self.columns[section].header
        if role == Qt.ItemDataRole.TextAlignmentRole and section < len(self.columns):
            side = Qt.AlignmentFlag.AlignRight if self.columns[section].figures else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        return None

    def flags(self, index: Index) -> Qt.ItemFlag:
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return base | Qt.ItemFlag.ItemIsEditable if self.columns[index.column()].edit else base

    def setData(self, index: Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        edit = self.columns[index.column()].edit
        if role != Qt.ItemDataRole.EditRole or edit is None or str(value) == self.rows[index.row()][index.column()]:
            return False
        edit(index.row(), str(value))
        return True


class Table(QTableView):
    """A table that deletes rows with Delete and chooses with Enter; ``focus_moved`` when the cursor comes or leaves."""

    delete_pressed = Signal(int)
    chosen = Signal(int)
    focus_moved = Signal()
    looked = Signal(str)
    """The words of the row under the cursor, where its cells have no room for all of them."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.rows = RowsModel()
        self.setModel(self.rows)
        self._key: Hashable = None
        self._fitted: dict[tuple[str, int], tuple[str, int]] = {}
        """What a cell's words come to in a room: what is shown of them, and how high that is (px)."""
        self.rows.modelAboutToBeReset.connect(self._keep_key)
        self.rows.modelReset.connect(self._follow_key)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.EditKeyPressed)
        self.setTabKeyNavigation(False)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(27)
        self.horizontalHeader().setHighlightSections(False)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.setShowGrid(False)
        self.setWordWrap(False)  # what is too long ends in dots; no second line looks out under the first
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def _keep_key(self) -> None:
        row = self.currentIndex().row()
        self._key = self.rows.keys[row] if 0 <= row < len(self.rows.keys) else None

    def _follow_key(self) -> None:
        """Put the cursor back on what it was on: Enter must not choose what only took its place."""
        if self._key is not None and self._key in self.rows.keys:
            self.selectRow(list(self.rows.keys).index(self._key))

    _most_lines = _MOST_LINES

    def wrap_words(self, most_lines: int = _MOST_LINES) -> None:
        """Let long words run over several lines, each row as high as it needs, up to so many lines."""
        self._most_lines = most_lines
        self.setWordWrap(True)
        self.rows.cut = self._two_lines
        self.selectionModel().currentRowChanged.connect(lambda now, _was: self._tell_whole(now.row()))
        self._rows_fit = QTimer(self)
        self._rows_fit.setSingleShot(True)
        self._rows_fit.timeout.connect(self.resizeRowsToContents)
        self.horizontalHeader().sectionResized.connect(lambda *_: self._rows_fit.start(0))

    def _two_lines(self, column: int, text: str) -> str:
        """As many clauses of a cell's words as two lines hold: the row's words stand whole beside the drawing."""
        return self._fit(text, self.columnWidth(column) - _PADDING)[0]

    def _fit(self, text: str, room: int) -> tuple[str, int]:
        found = self._fitted.get((text, room))
        if found is None:
            shown = self._shortened(text, max(20, room))
            words = self.fontMetrics().boundingRect(
                QRect(0, 0, max(1, room), 10_000), Qt.TextFlag.TextWordWrap, kept_together(shown)
            )
            if len(self._fitted) > _MOST_FITTED:
                self._fitted.clear()
            found = self._fitted[text, room] = shown, words.height()
        return found

    def changeEvent(self, event: QEvent) -> None:
        """Measure words anew in another type."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.FontChange:
            self._fitted.clear()

    def _shortened(self, text: str, room: int) -> str:
        if self._lines_of(text, room) <= self._most_lines:
            return text
        clauses = re.split(r"(?<=[,;:.]) ", text)
        for n in range(len(clauses) - 1, 0, -1):
            short = " ".join(clauses[:n]).rstrip(",;:.") + " …"
            if self._lines_of(short, room) <= self._most_lines:
                return short
        words = text.split(" ")
        while len(words) > 1 and self._lines_of(" ".join(words) + " …", room) > self._most_lines:
            words.pop()
        return " ".join(words) + " …"

    def _lines_of(self, text: str, room: int) -> int:
        metrics = self.fontMetrics()
        if metrics.horizontalAdvance(text) <= room:
            return 1
        high = metrics.boundingRect(QRect(0, 0, room, 10_000), Qt.TextFlag.TextWordWrap, kept_together(text)).height()
        return round(high / metrics.lineSpacing())

    def _tell_whole(self, row: int) -> None:
        """Tell the row's words where a cell has no room for them."""
        if not 0 <= row < len(self.rows.rows):
            return
        cells = [str(cell) for cell in self.rows.rows[row]]
        if any(self._two_lines(n, cell) != cell for n, cell in enumerate(cells)):
            self.looked.emit("  ".join(cell for cell in cells if cell))

    def resizeRowsToContents(self) -> None:
        """Rows as high as their words; with one higher than the view, scroll by the pixel so its end is reached."""
        super().resizeRowsToContents()
        self._choose_scrolling()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.focus_moved.emit()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.focus_moved.emit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._choose_scrolling()

    def _choose_scrolling(self) -> None:
        high = max((self.rowHeight(row) for row in range(self.rows.rowCount())), default=0)
        ways = QAbstractItemView.ScrollMode
        self.setVerticalScrollMode(ways.ScrollPerPixel if high > self.viewport().height() else ways.ScrollPerItem)

    def sizeHintForRow(self, row: int) -> int:
        """As high as the wrapped words; Qt's own figure leaves out the padding of the style and then cuts words off."""
        if not self.wordWrap():
            return super().sizeHintForRow(row)
        high = self.verticalHeader().defaultSectionSize()
        high = max(high, self.iconSize().height() + 4) if row in self.rows.icons else high
        for column in range(len(self.rows.columns)):
            words = self._fit(str(self.rows.rows[row][column]), self.columnWidth(column) - _PADDING)[1]
            high = max(high, words + 8)
        return high

    def fix_widths(self, widths: Mapping[int, int]) -> None:
        """Columns of a fixed width (px) by their number; the others share what is left."""
        header = self.horizontalHeader()
        for column, width in widths.items():
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Fixed)
            header.resizeSection(column, width)

    def two_lines(self) -> None:
        """Rows of two lines, where a line has no room for every figure."""
        self.verticalHeader().setDefaultSectionSize(_TWO_LINES_PX)

    def keep_to(self, count: int, most: int, least: int = 0) -> None:
        """As high as its rows, up to ``most`` of them; more scroll, and it is gone while there is none.

        Where room is scarce it goes down to ``least`` rows, if that is given.
        """
        self.setVisible(count > 0 and most > 0)
        heights = [self.rowHeight(n) for n in range(min(count, most))]
        self.setMaximumHeight(sum(heights) + _HEADER_PX)
        self.setMinimumHeight(sum(heights[: least or most]) + _HEADER_PX)

    def narrow_first(self) -> None:
        """A first column that only holds row numbers."""
        self.fix_widths({0: 44})

    def keyPressEvent(self, event: QKeyEvent) -> None:
        row = self.currentIndex().row()
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and row >= 0:
            self.delete_pressed.emit(row)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and row >= 0 and not event.modifiers():
            self.chosen.emit(row)
        elif is_figure(event):
            event.ignore()  # a digit goes to the figure in hand
        else:
            super().keyPressEvent(event)

"""The tools that the open steps need, against the kit that the user keeps across jobs."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QVBoxLayout, QWidget

from vernus.core.errors import VernusError
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.keep.own import Have, keep_tool
from vernus.job.keep.tools import ToolNeed

_NEXT: dict[Have, Have] = {"": "have", "have": "borrow", "borrow": ""}


class ToolsFace(QWidget):
    """A list: Enter on a tool says that it is owned, again that it is borrowed, again that it is neither."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._needs: Sequence[ToolNeed] = ()
        self.how = Words("Enter: have it, borrow it, get it. Your kit is kept for every job.", "faint")
        self.table = Table("Tools needed")
        self.table.wrap_words()
        self.table.chosen.connect(self._turn)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_use())
        self.use = Words("", "faint")
        self.own = Line()
        self.own.setAccessibleName("Another tool you have")
        self.own.setPlaceholderText("another tool you have, Enter")
        self.own.returnPressed.connect(self._add)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.how)
        box.addWidget(self.table, 1)
        box.addWidget(self.use)
        box.addWidget(self.own)
        self.setFocusProxy(self.table)

    def show_needs(self, needs: Sequence[ToolNeed]) -> None:
        """Show what is needed."""
        self._needs = tuple(needs)
        columns = [Column("tool", False), Column("", False)]
        self.table.rows.show_rows(columns, [[n.name, n.words] for n in needs], [n.name for n in needs])
        self.table.fix_widths({1: 96})
        self.table.resizeRowsToContents()
        self._show_use()

    def _show_use(self) -> None:
        row = self.table.currentIndex().row()
        if not 0 <= row < len(self._needs):
            open_ = sum(not n.have for n in self._needs)
            self.use.setText(f"{open_} of {len(self._needs)} still to get or to borrow." if self._needs else "")
            return
        steps = self._needs[row].steps
        more = f", and {len(steps) - 2} more" if len(steps) > 2 else ""
        self.use.setText("For: " + "; ".join(steps[:2]) + more + ".")

    def _turn(self, row: int) -> None:
        if 0 <= row < len(self._needs):
            self._keep(self._needs[row].name, _NEXT[self._needs[row].have])

    def _add(self) -> None:
        name = self.own.text().strip()
        if name and self._keep(name, "have"):
            self.own.renew()
            self._session.notice.emit(f"“{name}” is in your kit.")

    def _keep(self, name: str, have: Have) -> bool:
        try:
            keep_tool(name, have)
        except VernusError as error:
            self._session.notice.emit(str(error))
            return False
        self._session.changed.emit()
        return True

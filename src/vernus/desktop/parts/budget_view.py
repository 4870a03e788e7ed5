"""An uncertainty budget line by line, in one dialog for every figure that has one."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QPushButton, QVBoxLayout, QWidget

from vernus.core.budget import Budget
from vernus.core.units import UnitSystem
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words


class BudgetDialog(QDialog):
    """What is uncertain in a figure, how much each part makes of it, and what would halve it."""

    def __init__(self, budget: Budget, about: str, units: UnitSystem, parent: QWidget) -> None:
        """``about`` says what the budget is of where that isn't the figure itself, such as “Over the travel”."""
        super().__init__(parent)
        self.setWindowTitle("Uncertainty, line by line")
        self.resize(640, 440)
        self.words = Words(f"{about} {budget.in_words().text(units)}".strip())
        self.table = Table("Uncertainty, line by line")
        self.table.wrap_words()
        columns = [Column("what is uncertain", False), Column("spread", False), Column("± 1u"), Column("share")]
        self.table.rows.show_rows(columns, budget.in_rows(units))
        self.table.fix_widths({1: 120, 2: 124, 3: 70})
        close = QPushButton("Close (Esc)")
        close.clicked.connect(self.accept)
        box = QVBoxLayout(self)
        box.addWidget(self.words)
        box.addWidget(self.table, 1)
        box.addWidget(close)
        self.table.resizeRowsToContents()

"""Duplicating a job or sending it to a friend: what the other is called, and what comes along."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QLineEdit, QVBoxLayout, QWidget

from vernus.desktop.parts.words import Words
from vernus.job.catalog.copies import Along

_CHOICES = (("ticks", "the ticks of the card"), ("log", "the log"), ("pictures", "pictures"), ("prices", "prices"))
_LONGEST = 200


class CopyDialog(QDialog):
    """A title and four boxes to tick."""

    def __init__(self, parent: QWidget, heading: str, title: str, along: Along, ask: tuple[str, ...]) -> None:
        super().__init__(parent)
        self.setWindowTitle(heading)
        self.setMinimumWidth(420)
        self.title = QLineEdit(title)
        self.title.setMaxLength(_LONGEST)
        self.title.setAccessibleName("What is it called?")
        self.boxes = {name: QCheckBox(words) for name, words in _CHOICES if name in ask}
        box = QVBoxLayout(self)
        box.addWidget(Words("What is it called?", "faint"))
        box.addWidget(self.title)
        if self.boxes:
            box.addWidget(Words("With it go its figures and plans, and", "faint"))
        for name, check in self.boxes.items():
            check.setChecked(getattr(along, name))
            box.addWidget(check)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        box.addWidget(buttons)
        self.title.selectAll()

    def along(self) -> Along:
        """What was ticked."""
        said = {name: check.isChecked() for name, check in self.boxes.items()}
        return Along(**{name: said.get(name, True) for name, _ in _CHOICES})

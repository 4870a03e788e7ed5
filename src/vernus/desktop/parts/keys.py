"""Keys that press a button at once, while the button can be seen."""

from __future__ import annotations

from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QAbstractButton


def press_by(button: QAbstractButton, keys: str) -> None:
    """Press ``button`` by ``keys`` without the delay of a button's own shortcut."""
    QShortcut(QKeySequence(keys), button).activated.connect(button.click)

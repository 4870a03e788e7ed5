"""Keys that press a button at once, while the button can be seen; and those that begin a figure."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PySide6.QtWidgets import QAbstractButton

_TYPED = "0123456789.,+-−"


def is_figure(event: QKeyEvent) -> bool:
    """Whether a key begins a figure."""
    held = event.modifiers() & ~(Qt.KeyboardModifier.KeypadModifier | Qt.KeyboardModifier.ShiftModifier)
    return bool(event.text()) and event.text() in _TYPED and not held


def press_by(button: QAbstractButton, keys: str) -> None:
    """Press ``button`` by ``keys`` without the delay of a button's own shortcut."""
    QShortcut(QKeySequence(keys), button).activated.connect(button.click)

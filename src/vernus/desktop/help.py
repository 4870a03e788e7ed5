"""The help overlay with every key, and the cautions."""

from __future__ import annotations

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QDialog, QMainWindow, QPushButton, QVBoxLayout, QWidget

from vernus.desktop.parts.words import Words
from vernus.paper.cautions import CAUTIONS

_ENTRY = (
    'Enter logs what is typed and goes to the next station. Lengths: 262, 262 mm, 9.25 in, 9 1/4", 6-5/8, 3/32 in, '
    "3 thou, 12 µm, 22,5, and sums such as 180 + 22,5. A bare number is in the unit shown beside the field."
)
_REST = (
    "Alt and an axis letter: that axis",
    "Up and Down: from row to row; Enter: the next open row; a letter, Space, Left and Right: the choice in a row",
    "A digit typed anywhere replaces the figure in hand; Right first, to go on in it",
    "F5, F10 in the practice: a hint, and that's it; F6 on the card: to the step's sheet",
    "F9 logs the live reading of an instrument",
    "F7: the uncertainty of the figure shown, line by line",
    "Ctrl+Enter: the main button of the sheet: next pass, keyed in, tick",
    "Ctrl+Tab: the next face of the list; Ctrl+Space: open the findings, and fold them",
    "Ctrl+G: what comes next on this axis",
    "Delete: the row chosen in a list; F2 corrects it",
    "Arrow keys on the stroke picture: run the axis; on the sizes: look, Enter chooses",
)


def show_keys(window: QMainWindow) -> None:
    """Every shortcut of the menus, and the keys of the sheets."""
    lines = [_ENTRY, ""]
    for action in window.findChildren(QAction):
        if not action.shortcut().isEmpty():
            lines.append(f"{action.shortcut().toString()}: {action.text()}")
    _show(window, "Keys", "\n".join([*lines, *_REST]))


def show_cautions(window: QMainWindow) -> None:
    """The usual cautions."""
    _show(window, "Cautions", "\n\n".join(CAUTIONS))


def _show(window: QWidget, title: str, text: str) -> None:
    dialog = QDialog(window)
    dialog.setWindowTitle(title)
    dialog.setMinimumWidth(620)
    box = QVBoxLayout(dialog)
    box.addWidget(Words(text))
    close = QPushButton("Close")
    close.clicked.connect(dialog.accept)
    box.addWidget(close)
    dialog.open()

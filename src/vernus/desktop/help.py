"""The help overlay with every key, and the cautions."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtWidgets import QDialog, QMainWindow, QPushButton, QVBoxLayout, QWidget

from vernus.desktop.key_table import IN_LISTS, MENU_KEYS, SHEET_KEYS
from vernus.desktop.parts.words import Words
from vernus.paper.cautions import CAUTIONS

_ENTRY = (
    'Enter logs what is typed and goes to the next station. Lengths: 262, 262 mm, 9.25 in, 9 1/4", 6-5/8, 3/32 in, '
    "3 thou, 12 µm, 22,5, and sums such as 180 + 22,5. A bare number is in the unit shown beside the field."
)


def show_keys(window: QMainWindow, sheets: Mapping[str, str]) -> None:
    """Every key there is, with its meaning, and how figures are typed; ``sheets``: those that turn to one."""
    shown = (MENU_KEYS, SHEET_KEYS, sheets)
    lines = [", ".join(f"{keys} {meaning}" for keys, meaning in table.items()) + "." for table in shown]
    _show(window, "Keys", "\n\n".join([_ENTRY, "\n".join(IN_LISTS), *lines]))


def show_cautions(window: QMainWindow) -> None:
    """The usual cautions."""
    _show(window, "Cautions", "\n\n".join(CAUTIONS))


def _show(window: QWidget, title: str, text: str) -> None:
    dialog = QDialog(window)
    dialog.setWindowTitle(title)
    dialog.setMinimumWidth(820)
    box = QVBoxLayout(dialog)
    box.addWidget(Words(text))
    close = QPushButton("Close")
    close.clicked.connect(dialog.accept)
    box.addWidget(close)
    dialog.open()

"""Every key that the window, a sheet or the practice takes, each with its one meaning.

The menus, the help and the user guide have what is said here; a test reads every shortcut there is against it.
"""

from __future__ import annotations

from typing import Final

MENU_KEYS: Final[dict[str, str]] = {
    "Ctrl+N": "a new job",
    "Ctrl+O": "open a job",
    "Ctrl+S": "say that everything is saved",
    "Ctrl+Shift+S": "save a copy",
    "Ctrl+Q": "quit",
    "Ctrl+Z": "undo",
    "Ctrl+Shift+Z": "redo",
    "Ctrl+Ins": "add a row",
    "Ctrl+Del": "delete the row",
    "Alt+1": "take the figure proposed",
    "Alt+2": "keep the figure as typed",
    "Ctrl+U": "units, mm or in",
    "Ctrl+PgDown": "the next axis",
    "Ctrl+PgUp": "the axis before",
    "Ctrl+D": "light or dark",
    "F1": "the keys",
    "F3": "to the figure that matters most next",
    "F4": "type into the drawing",
    "F8": "link an instrument",
    "F11": "bench view, and back",
    "F12": "practice: bench or sheet",
}
"""Keys of the menus that don't turn to a sheet."""

SHEET_KEYS: Final[dict[str, str]] = {
    "Ctrl+Tab": "the next face of the list, or the next section",
    "Ctrl+Space": "open the findings, and fold them",
    "Ctrl+Return": "the main button of the sheet: next pass, keyed in, tick",
    "Ctrl+Backspace": "take the tick away",
    "Ctrl+G": "what comes next on this axis",
    "Ctrl+P": "write the PDF",
    "Ctrl+W": "the cable's longest pose",
    "Ctrl+Shift+Up": "card: an own step one place up",
    "Ctrl+Shift+Down": "card: an own step one place down",
    "Ctrl+Shift+D": "calibrate: the display shows a diameter, or a radius",
    "Ctrl+Shift+V": "paste a picture",
    "F5": "practice: a hint",
    "F6": "card: to the sheet of the step",
    "F7": "the uncertainty of the figure shown, line by line",
    "F9": "take the station by the instrument; so does the space bar in an empty reading",
    "F10": "practice: that's it",
}
"""Keys that buttons and sheets take while they can be seen."""

IN_LISTS: Final[tuple[str, ...]] = (
    "Enter: take the figure and go on to the next open one; Shift+Enter: back to the one before",
    "Up and Down: from row to row; Enter or Space on a heading: fold its group, or open it",
    "A digit, wherever the cursor is in a list: it replaces the figure in hand; Right first, to go on in it",
    "In a choice: a letter takes the next one that begins so, Space, Right and Left step, Alt+Down shows all",
    "Alt and an axis letter: that axis",
    "Delete: the row chosen in a table; F2 corrects the figure in it",
    "Arrow keys on a picture: turn the machine, or run the axis along its line; Home: as at first",
)
"""What the keys of rows, tables and pictures do, in sentences."""

"""Start the application."""

from __future__ import annotations

import gc
import os
import sys
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QTimer
from PySide6.QtWidgets import QApplication

from vernus.core.errors import BadInputError, VernusError
from vernus.desktop import settings
from vernus.desktop.fault import FaultKeeper
from vernus.desktop.session import Session
from vernus.desktop.theme import STYLE
from vernus.desktop.window import Window
from vernus.job.disk import make_folder, write_whole
from vernus.paper.ink import load_fonts

_SWITCH_S = 0.0005
"""How long work beside the window may keep the interpreter from it: painting asks for it hundreds of times."""


def application() -> QApplication:
    """The one application object, with the shipped typeface; raises BadInputError where there is no display."""
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        raise BadInputError(
            "There is no display to open a window on; log in to a desktop, or start it under xvfb-run "
            "(reports, checks and calc work without)."
        )
    if settings.scale() != 1.0 and "QT_SCALE_FACTOR" not in os.environ:
        os.environ["QT_SCALE_FACTOR"] = f"{settings.scale():g}"
    found = QApplication.instance()
    made = found if isinstance(found, QApplication) else QApplication([*sys.argv[:1], *STYLE])
    made.setApplicationName("Vernus")
    sys.setswitchinterval(_SWITCH_S)
    load_fonts()
    return made


def shown_window(act: Callable[[Window], object]) -> Window:
    """The window, shown once ``act`` has opened something in it; raises what that raises."""
    gc.disable()  # nothing of what is loaded at start is garbage, and looking for it takes a tenth of the time
    QTimer.singleShot(0, application(), gc.enable)
    window = Window(Session())
    act(window)
    _tell_of_slips(window)
    window.show()
    return window


def run(path: Path | None = None) -> int:
    """Open the window, on a job if one is given; raises VernusError when that can't be opened."""
    _window = shown_window(lambda opened: None if path is None else opened.session.open_job(path))
    return int(QApplication.exec())


def run_demo(write_to: Path | None = None) -> int:
    """Open the window on the demo job; with ``write_to``, write its report and a screenshot there and leave."""
    window = shown_window(lambda opened: opened.files.open_demo())
    if write_to is not None:
        QTimer.singleShot(600, lambda: _write_and_leave(window, write_to))
    return int(QApplication.exec())


def _write_and_leave(window: Window, folder: Path) -> None:
    from vernus.paper.report import write_report

    code = 0
    try:
        make_folder(folder)
        assert window.session.job is not None
        write_report(window.session.job, folder / "demo-report.pdf")
        picture = QBuffer()
        picture.open(QIODevice.OpenModeFlag.WriteOnly)
        window.grab().save(picture, "PNG")
        write_whole(folder / "demo-screenshot.png", bytes(picture.data().data()))
        sys.stdout.write(f"Wrote demo-report.pdf and demo-screenshot.png to {folder}\n")
    except VernusError as error:
        sys.stderr.write(f"vernus: {error}\n")
        code = 1
    window.close()
    QApplication.exit(code)


def _tell_of_slips(window: Window) -> None:
    """A slip of ours is told in a sentence and written to stderr; the job stays open, its edits are on the disk."""
    window.keeper = FaultKeeper(window.session)
    sys.excepthook = window.keeper.caught

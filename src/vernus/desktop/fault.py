"""A slip of ours: caught in one place, kept for whoever mends it, and told once; nothing of any job, sent nowhere."""

from __future__ import annotations

import os
import sys
import traceback
from types import TracebackType

import PySide6
from platformdirs import user_state_path
from PySide6.QtCore import qVersion
from PySide6.QtGui import QGuiApplication

from vernus import __version__
from vernus.core.errors import VernusError
from vernus.desktop.session import Session
from vernus.job.disk import make_folder, write_text


def description(session: Session, sheet: str) -> str:
    """The text that is copied; file names, figures and words that were typed are not in it."""
    import platform

    screen, seen = QGuiApplication.primaryScreen(), "none"
    if screen is not None:
        seen = f"{screen.size().width()} x {screen.size().height()} at {screen.devicePixelRatio():g}"
    lines = [
        f"Vernus {__version__}",
        f"Python {sys.version.split()[0]}, Qt {qVersion()}, PySide6 {PySide6.__version__}",
        f"{platform.system()} {platform.release()} {platform.machine()}",
        f"window system {QGuiApplication.platformName()}, session {os.environ.get('XDG_SESSION_TYPE', 'unknown')}",
        f"screen {seen}, theme {session.theme}, units {session.units}",
        f"sheet {sheet}, job {'open' if session.job is not None else 'none'}",
        "last actions: " + ("; ".join(session.actions) or "none"),
    ]
    return "\n".join([*lines, *(f"fault: {f}" for f in session.faults)]) + "\n"


class FaultKeeper:
    """Catches what nobody foresaw: its kind and places go to the fault file, a sentence to the window, once a place."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._told: set[str] = set()

    def caught(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """Take what was raised; what was raised on purpose is only told."""
        session = self._session
        if isinstance(error, VernusError):
            session.notice.emit(str(error))
            return
        traceback.print_exception(kind, error, trace)
        places = [f"{f.filename}:{f.lineno} {f.name}" for f in traceback.extract_tb(trace)]
        key = f"{kind.__name__} {places[-1] if places else ''}"
        if key in self._told:
            return
        self._told.add(key)
        session.note_fault(kind.__name__, places)
        try:
            make_folder(user_state_path("vernus"))
            write_text(user_state_path("vernus") / "fault.txt", description(session, ""))
        except VernusError:  # the description can be copied all the same
            pass
        session.slipped.emit(
            f"Something went wrong inside Vernus ({kind.__name__}). What you logged is on the disk; please go on, "
            "or undo the last edit if this came with it."
        )

    def forget(self) -> None:
        """What happens from now on is told again."""
        self._told.clear()

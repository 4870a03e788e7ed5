"""A description of a fault for whoever mends it: versions, platform, last actions; nothing of any job, sent nowhere."""

from __future__ import annotations

import os
import platform
import sys

import PySide6
from PySide6.QtCore import qVersion
from PySide6.QtGui import QGuiApplication

from vernus import __version__
from vernus.desktop.session import Session


def description(session: Session, sheet: str) -> str:
    """The text that is copied; file names, figures and words that were typed are not in it."""
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

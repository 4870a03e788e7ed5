"""Takes one picture of each main view from the demo job. Run by `make screenshots` on a virtual screen.

Usage: tools/screenshots.py FOLDER [NAME …]
"""

import os
import sys
import tempfile
from pathlib import Path

_home = tempfile.mkdtemp()
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "HOME"):
    os.environ[_name] = _home

from PySide6.QtCore import QEventLoop, QTimer  # noqa: E402

from vernus.desktop.app import application  # noqa: E402
from vernus.desktop.session import Session  # noqa: E402
from vernus.desktop.window import Window  # noqa: E402

VIEWS = (
    # name, axis, sheet, dark, demo job, bench view
    ("scope", "x", "scope", False, "lathe", False),
    ("machine", "y", "machine", False, "mill", False),
    ("travel", "z", "travel", False, "lathe", False),
    ("scale", "y", "scale", False, "mill", False),
    ("face", "x", "faces", False, "mill", False),
    ("envelope", "x", "envelope", False, "mill", False),
    ("order", "x", "order", False, "mill", False),
    ("align", "y", "align", False, "mill", False),
    ("mounts", "y", "mounts", False, "mill", False),
    ("reader", "x", "reader", True, "mill", False),
    ("cables", "x", "cables", False, "mill", False),
    ("powerup", "x", "powerup", False, "mill", False),
    ("calibrate", "x", "calibrate", False, "mill", False),
    ("positioning", "x", "positioning", False, "mill", False),
    ("part", "x", "part", False, "mill", False),
    ("feed", "x", "feed", False, "mill", False),
    ("card", "x", "card", False, "mill", False),
    ("paper", "x", "paper", False, "mill", False),
)


def wait_ms(duration: int) -> None:
    """Let the event loop, and what works beside it, run."""
    loop = QEventLoop()
    QTimer.singleShot(duration, loop.quit)
    loop.exec()


def main(folder: Path, wanted: list[str]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    app = application()
    window = Window(Session())
    window.resize(1280, 800)
    window.show()

    def take(name: str) -> None:
        if wanted and name not in wanted:
            return
        window.statusBar().clearMessage()
        wait_ms(2500 if name == "machine" else 120)  # what to measure next is worked out beside the window
        app.processEvents()
        window.grab().save(str(folder / f"{name}.png"))

    take("start")
    opened = ""
    for name, axis, sheet, dark, demo, bench in VIEWS:
        if wanted and name not in wanted:
            continue
        if opened != demo:
            window.open_demo(demo)
            opened = demo
        window.session.show_axis(f"axis-{axis}")
        if window.session.dark != dark:
            window.session.show_theme("dark" if dark else "light")
        window.show_sheet(sheet)
        if name == "mounts":
            window.sheets["mounts"].parts.choose("part-2")
            window.sheets["mounts"].refresh()
        if bench:
            window._other_bench()
        take(name)
        if bench:
            window._other_bench()
    os._exit(0)


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2:])

"""Start to first usable window, of Start and of the demo job, as ratios to an empty main window in the same run.

Run: .venv/bin/python benchmarks/startup.py
"""

import os
import statistics
import subprocess
import sys
import tempfile
import time

EMPTY = """
import sys
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication(sys.argv)
window = QMainWindow()
window.show()
app.processEvents()
"""
START = """
from vernus.desktop.app import application
from vernus.desktop.session import Session
from vernus.desktop.window import Window
app = application()
window = Window(Session())
window.show()
app.processEvents()
"""
DEMO = """
from PySide6.QtWidgets import QApplication
from vernus.desktop.app import application
from vernus.desktop.session import Session
from vernus.desktop.window import Window
app = application()
window = Window(Session())
window.files.open_demo()
window.show()
app.processEvents()
assert window.session.job is not None
"""
ROUNDS = 9


def seconds(code: str, environment: dict[str, str]) -> float:
    """Wall time of a fresh interpreter that runs ``code`` and leaves at once."""
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-c", code + "\nimport os\nos._exit(0)"], check=True, env=environment)
    return time.perf_counter() - begun


def main() -> None:
    with tempfile.TemporaryDirectory() as home:
        platform = os.environ.get("QT_QPA_PLATFORM", "offscreen")
        environment = {**os.environ, "HOME": home, "QT_QPA_PLATFORM": platform}
        environment.pop("PYTHONDONTWRITEBYTECODE", None)  # an installed program is compiled once
        codes = (EMPTY, START, DEMO)
        rounds = [[seconds(code, environment) for code in codes] for _ in range(ROUNDS)][1:]
    empty, start, demo = (statistics.median(r[i] for r in rounds) for i in range(3))
    print(f"start-up: Start / empty main window = {start / empty:.2f} (budget 2; {start:.2f} s / {empty:.2f} s)")
    print(f"start-up: demo job / empty main window = {demo / empty:.2f} (budget 3; {demo:.2f} s / {empty:.2f} s)")


if __name__ == "__main__":
    main()

"""Command to first usable window, of Start and of the demo job, as ratios to an empty main window in the same run.

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
OURS = """
import sys
class LeaveOnceShown:
    def find_spec(self, name, path, target=None):
        if name == "vernus.desktop.app":  # the toolkit is loaded when the command loads it, not before
            from PySide6.QtWidgets import QApplication
            QApplication.exec = staticmethod(lambda: QApplication.processEvents() or 0)
sys.meta_path.insert(0, LeaveOnceShown())
from vernus.cli.main import main
assert main(sys.argv[1:]) == 0
"""
ROUNDS = 9


def seconds(environment: dict[str, str], code: str, *words: str) -> float:
    """Wall time of a fresh interpreter that runs ``code``, given words, and leaves at once."""
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-c", code + "\nimport os\nos._exit(0)", *words], check=True, env=environment)
    return time.perf_counter() - begun


def main() -> None:
    with tempfile.TemporaryDirectory() as home:
        platform = os.environ.get("QT_QPA_PLATFORM", "offscreen")
        environment = {**os.environ, "HOME": home, "QT_QPA_PLATFORM": platform}
        environment.pop("PYTHONDONTWRITEBYTECODE", None)  # an installed program is compiled once
        codes = ((EMPTY,), (OURS,), (OURS, "demo"))
        rounds = [[seconds(environment, *code) for code in codes] for _ in range(ROUNDS)][1:]
    empty, start, demo = (statistics.median(r[i] for r in rounds) for i in range(3))
    print(f"start-up: Start / empty main window = {start / empty:.2f} (budget 2; {start:.2f} s / {empty:.2f} s)")
    print(f"start-up: demo job / empty main window = {demo / empty:.2f} (budget 5; {demo:.2f} s / {empty:.2f} s)")


if __name__ == "__main__":
    main()

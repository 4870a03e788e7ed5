"""Kills the application while readings are being logged, and looks whether an acknowledged one was lost.

A child process opens a job in the real window (offscreen) and types readings into Align; each one the screen has
shown as logged is told on its standard output. The parent kills it (SIGKILL) at a random moment, opens the file and
compares. Run: .venv/bin/python benchmarks/kill.py [--rounds 100] [--seed 1]
"""

import argparse
import os
import random
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path


def level(n: int) -> int:
    """The nth reading in steps of 10 µm, up and down: a jump would be asked about."""
    return abs(n % 8 - 4)


def child(path: Path) -> None:
    """Log pass after pass of whole divisions, so few that nothing is asked about, through the window at ``path``."""
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from vernus.desktop.app import application
    from vernus.desktop.session import Session
    from vernus.desktop.window import Window
    from vernus.job.entities import Sweep

    app = application()
    window = Window(Session())
    window.session.open_job(path)
    window.show()
    window.show_sheet("align")
    sheet = window.sheets["align"]
    sys.stdout.write("ready\n")
    n, job = 0, window.session.job
    while isinstance(app, QApplication) and job is not None:
        QTest.keyClicks(sheet.reading.line, f"{10 * level(n)} um\r")
        app.processEvents()
        logged = sum(len(s.readings) for s in job.all(Sweep))
        if logged == n:
            QTest.keyClick(sheet.reading.line, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
            continue
        assert logged == n + 1
        sys.stdout.write(f"{n}\n")
        sys.stdout.flush()
        n += 1


def one_round(path: Path, wait_s: float) -> tuple[int, int]:
    """Log until killed after ``wait_s``; returns how many were acknowledged and how many are in the file.

    Raises AssertionError when an acknowledged reading is missing or wrong.
    """
    from vernus.job.catalog.new_job import new_job_entities
    from vernus.job.document import Job
    from vernus.job.entities import Sweep

    Job.create(path, new_job_entities("Kill", "bench-mill")).close()
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": str(path.parent)}
    words = [sys.executable, "-u", __file__, "--child", str(path)]
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True, env=environment) as logger:
        assert logger.stdout is not None
        if logger.stdout.readline() != "ready\n":
            raise AssertionError("the logger did not start")
        time.sleep(wait_s)
        if logger.poll() is not None:
            raise AssertionError("the logger ended by itself")
        logger.kill()
        told = [line for line in logger.stdout.read().splitlines(keepends=True) if line.endswith("\n")]
    with closing(Job.open(path)) as job:
        assert not job.read_only_because
        found = [round(r.reading.mm * 100) for s in job.all(Sweep) for r in s.readings]
    assert found == [level(n) for n in range(len(found))], "readings are out of order or changed"
    assert len(told) <= len(found) <= len(told) + 1, f"{len(told)} acknowledged, {len(found)} in the file"
    return len(told), len(found)


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("--rounds", type=int, default=100)
    words.add_argument("--seed", type=int, default=1)
    words.add_argument("--child", type=Path)
    given = words.parse_args()
    if given.child is not None:
        child(given.child)
        return
    chance = random.Random(given.seed)
    acknowledged = 0
    with tempfile.TemporaryDirectory() as folder:
        for n in range(given.rounds):
            acknowledged += one_round(Path(folder) / f"{n}.vernus", chance.uniform(0.0, 0.6))[0]
    print(f"killed {given.rounds} times: {acknowledged} readings acknowledged, 0 lost, every file opened")


if __name__ == "__main__":
    main()

"""Enter on a reading → figures, picture and advice updated, with 10,000 readings in the job, in 60 Hz frames.

Run: .venv/bin/python benchmarks/log_reading.py
"""

import os
import statistics
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtTest import QTest

from vernus.desktop.app import application
from vernus.desktop.session import Session
from vernus.desktop.window import Window
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, Reading, Sweep
from vernus.job.fields import LengthEntry

PASSES, STATIONS, FRAME_S = 1250, 8, 1 / 60


def big_job(path: Path) -> None:
    entities = new_job_entities("Big", "bench-mill")
    axes = [e for e in entities if isinstance(e, Axis)]
    rows = tuple(Reading(station=LengthEntry(mm=40.0 * n), reading=LengthEntry(mm=0.001 * n)) for n in range(STATIONS))
    places = tuple(LengthEntry(mm=40.0 * n) for n in range(STATIONS + 40))
    sweeps = [
        Sweep(id=new_id(), axis_id=axes[n % len(axes)].id, stations=places, readings=rows, screw_left=places[0],
              screw_right=places[-1])
        for n in range(PASSES)
    ]  # fmt: skip
    Job.create(path, [*entities, *sweeps]).close()


def main() -> None:
    app = application()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "big.vernus"
        big_job(path)
        begun = time.perf_counter()
        window = Window(Session())
        window.session.open_job(path)
        window.show()
        window.show_sheet("align")
        app.processEvents()
        opened = time.perf_counter() - begun
        line = window.sheets["align"].reading.line
        times = []
        for n in range(30):
            QTest.keyClicks(line, f"0.0{n % 2}")  # such as nobody is asked about
            app.processEvents()
            begun = time.perf_counter()
            QTest.keyClicks(line, "\r")
            app.processEvents()
            times.append(time.perf_counter() - begun)
        logged = statistics.median(times[3:])
        assert len(window.sheets["align"].sweep().readings) == STATIONS + 30
    frames = f"{logged / FRAME_S:.2f} frames (budget 1; {logged * 1e3:.1f} ms)"
    print(f"log a reading with {PASSES * STATIONS} in the job: {frames}")
    print(f"open that job into the window: {opened:.2f} s")


if __name__ == "__main__":
    main()

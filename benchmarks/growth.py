"""How the work slows as a job grows: demo, 100,000 readings, 2,000 boxes, and both, as ratios to the demo.

Prints one row per job; the first row is the demo in milliseconds, the others are times its figures. Memory is the peak
of what opening allocates, in times the file's bytes.
"""

import gc
import os
import sys
import tempfile
import time
import tracemalloc
from contextlib import closing
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
HOME = Path(tempfile.mkdtemp())
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "HOME"):
    os.environ[_name] = str(HOME)

from vernus.desktop.app import application  # noqa: E402
from vernus.desktop.demo import demo_source  # noqa: E402
from vernus.desktop.session import Session  # noqa: E402
from vernus.desktop.sheet_list import SHEETS  # noqa: E402
from vernus.desktop.window import Window  # noqa: E402
from vernus.job.document import Job  # noqa: E402
from vernus.job.entities import Entity, Reading, SolidBox, Sweep  # noqa: E402
from vernus.job.fields import LengthEntry  # noqa: E402
from vernus.job.formats.exchange import export_job, read_export  # noqa: E402
from vernus.paper.report import write_report  # noqa: E402

SWEEPS, READINGS, BOXES = 1000, 100, 2000


def grown(readings: bool, boxes: bool) -> list[Entity]:
    """The demo mill with many more readings, or boxes kept free of everything."""
    entities = read_export(demo_source("mill"))
    sweep = next(e for e in entities if isinstance(e, Sweep))
    box = next(e for e in entities if isinstance(e, SolidBox) and e.role == "keep")
    more: list[Entity] = []
    if readings:
        logged = tuple(
            Reading(station=LengthEntry(mm=float(n)), reading=LengthEntry(mm=n / 1e4)) for n in range(READINGS)
        )
        more += [sweep.with_(id=f"s{n}", created="", readings=logged, plane="edge") for n in range(SWEEPS)]
    if boxes:
        solid = next(e for e in entities if isinstance(e, SolidBox) and e.role != "keep")
        many = [solid if n % 2 else box for n in range(BOXES)]
        for n, one in enumerate(many):
            at = {"left": 5000.0 + n, "right": 5001.0 + n, "front": 5000.0, "back": 5001.0}
            far = {side: LengthEntry(mm=mm) for side, mm in at.items()}
            more.append(one.with_(id=f"b{n}", created="", name=f"box {n}", **far))
    return [*entities, *more]


def milliseconds(act, times: int = 1) -> float:  # type: ignore[no-untyped-def]
    """The shortest of some runs."""
    found = []
    for _ in range(times):
        gc.collect()
        begun = time.perf_counter()
        act()
        found.append(1000 * (time.perf_counter() - begun))
    return min(found)


def figures(window: Window, path: Path) -> dict[str, float]:
    """What a user waits for in one job."""
    found: dict[str, float] = {}
    found["open file"] = milliseconds(lambda: Job.open(path).close(), 2)
    tracemalloc.start()
    with closing(Job.open(path)):
        memory = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    found["open window"] = milliseconds(lambda: window.session.open_job(path))
    job = window.session.job
    assert job is not None
    window.session.show_axis("axis-y")
    for entry in SHEETS:
        window.show_sheet(entry.name)

    def again() -> None:
        for entry in SHEETS:
            window.show_sheet(entry.name)

    found["every sheet again"] = milliseconds(again, 2)
    found["export"] = milliseconds(lambda: export_job(job, HOME / "export"))
    found["report"] = milliseconds(lambda: write_report(job, HOME / "r.pdf"))
    window.session.close_job()
    found["memory, times the file"] = memory / path.stat().st_size
    return found


def main() -> None:
    application()
    window = Window(Session())
    window.show()
    kinds = {
        "demo": (False, False), "100,000 readings": (True, False), "2,000 boxes": (False, True), "both": (True, True),
    }  # fmt: skip
    base: dict[str, float] = {}
    for name, (readings, boxes) in kinds.items():
        path = HOME / f"{name}.vernus"
        Job.create(path, grown(readings, boxes)).close()
        found = figures(window, path)
        memory = found.pop("memory, times the file")
        base = base or found
        shown = [f"{k} {v:.0f} ms" + ("" if found is base else f" ({v / base[k]:.1f}x)") for k, v in found.items()]
        print(f"{name}: " + "; ".join(shown) + f"; memory {memory:.1f} times the file", flush=True)
    sys.stdout.flush()
    os._exit(0)


if __name__ == "__main__":
    main()

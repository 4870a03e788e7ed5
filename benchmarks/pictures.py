"""How a job bears many large pictures: 200 of 8 MB dropped at once (argument: another number).

Prints ratios of one run: the taking in against decoding and encoding alone, the longest time the window was held
against one decoding, opening the job against opening one without pictures, the file's size against what was dropped.
"""

import os
import sys
import tempfile
import time
from pathlib import Path

home = tempfile.mkdtemp()
os.environ |= dict.fromkeys(("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "HOME"), home)
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np  # noqa: E402
from PySide6.QtCore import QTimer  # noqa: E402
from PySide6.QtGui import QImage  # noqa: E402

from vernus.desktop.app import application  # noqa: E402
from vernus.desktop.session import Session  # noqa: E402
from vernus.desktop.sheets.keep.photo_intake import Source  # noqa: E402
from vernus.desktop.window import Window  # noqa: E402
from vernus.job.document import Job  # noqa: E402
from vernus.paper.photo import take  # noqa: E402

SIDES = (4000, 3000)


def noisy(seed):
    """A picture of about 8 MB: grain over slow shades, as a camera takes them in a dim shop."""
    rng = np.random.default_rng(seed)
    shade = np.linspace(60, 190, SIDES[0])[None, :] + rng.normal(0, 26, (SIDES[1], SIDES[0]))
    grey = np.clip(shade, 0, 255).astype(np.uint8)
    return QImage(grey.data, SIDES[0], SIDES[1], SIDES[0], QImage.Format.Format_Grayscale8).copy()


def opened(path):
    """Seconds to open a job."""
    start = time.perf_counter()
    Job.open(path).close()
    return time.perf_counter() - start


def main(count):
    app = application()
    folder = Path(home)
    grain = [noisy(n) for n in range(4)]
    for n in range(count):
        image = grain[n % 4]
        for bit in range(16):  # no two alike
            image.setPixel(bit, 0, 0xFFFFFFFF if n >> bit & 1 else 0xFF000000)
        image.save(str(folder / f"{n}.jpg"), None, 95)
    data = (folder / "0.jpg").read_bytes()
    start = time.perf_counter()
    for _ in range(4):
        take(data)
    alone = (time.perf_counter() - start) / 4
    window = Window(Session())
    window.resize(1280, 800)
    window.show()
    window.session.new_job(folder / "job.vernus", "Pictures", "bench-mill", "mm", "A mill")
    window.show_sheet("log")
    app.processEvents()
    window.session.job.save_copy(folder / "without.vernus")
    intake = window.sheets["log"].pictures.intake
    held, last = [0.0], [time.perf_counter()]

    def tick():
        now = time.perf_counter()
        held[0], last[0] = max(held[0], now - last[0]), now

    timer = QTimer()
    timer.timeout.connect(tick)
    timer.start(1)
    begun = time.perf_counter()
    last[0] = begun
    intake.begin([Source(f"{n}", folder / f"{n}.jpg") for n in range(count)], keep_original=False, axis_id="")
    while intake.busy:
        app.processEvents()
        time.sleep(0.0005)
    took = time.perf_counter() - begun
    timer.stop()
    path = window.session.job.path
    window.session.close_job()
    times = [min(opened(p) for _ in range(5)) for p in (path, folder / "without.vernus")]
    print(f"{count} pictures of {len(data) / 1e6:.1f} MB")
    print(f"taking in / decoding and encoding alone: {took / count / alone:.2f}")
    print(f"longest the window was held / one such: {held[0] / alone:.2f} ({held[0] * 1000:.0f} ms)")
    print(f"opening / opening without pictures: {times[0] / times[1]:.2f}")
    print(
        f"file / what was dropped: {path.stat().st_size / (count * len(data)):.3f} ({path.stat().st_size / 1e6:.0f} MB)"
    )


main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)

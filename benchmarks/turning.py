"""Turning the machine: how long one picture takes against a frame at 60 Hz, and hidden lines at rest, 200 boxes.

Prints milliseconds and the ratio to one frame; run by hand.
"""

from __future__ import annotations

import os
import random
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

FRAME_MS = 1000 / 60


def main() -> None:
    """Time 120 turned pictures and 10 hidden-line runs of a machine with 200 boxes."""
    from PySide6.QtCore import QSize

    from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member
    from vernus.desktop.app import application
    from vernus.desktop.parts.machine_view import MachineView
    from vernus.paper.drawing.machine.solid import lines_of
    from vernus.paper.drawing.machine.views import Scene
    from vernus.paper.ink import LIGHT

    application()
    chance = random.Random(5)
    boxes = []
    for n in range(200):
        low = [chance.uniform(0, 1200) for _ in range(3)]
        high = [v + chance.uniform(10, 90) for v in low]
        boxes.append(Box(f"b{n}", "bed" if n % 2 else "table", (low[0], low[1], low[2]), (high[0], high[1], high[2])))
    members = (Member("bed"), Member("table", "bed", "X"))
    envelope = Envelope(members, (EnvelopeAxis("X", "+x", 0, 100),), tuple(boxes))
    view = MachineView("bench", QSize(640, 480))
    view.resize(760, 520)
    view.show_machine(Scene(envelope, {"X": 50.0}), {}, LIGHT)
    view.grab()
    start = time.perf_counter()
    for _ in range(120):
        view.turn(3.0, 0.0)
        view.grab()
    turned = (time.perf_counter() - start) / 120 * 1000
    start = time.perf_counter()
    for _ in range(10):
        assert view._model is not None
        lines_of(view._model, view.view)
    rest = (time.perf_counter() - start) / 10 * 1000
    print(f"turning, 200 boxes: {turned:.1f} ms a picture, {turned / FRAME_MS:.2f} of a 60 Hz frame")
    print(f"hidden lines at rest: {rest:.1f} ms, {rest / 100:.2f} of the 100 ms allowed")


if __name__ == "__main__":
    main()

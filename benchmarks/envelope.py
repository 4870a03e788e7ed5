"""200 boxes on 4 axes: the exact solver against brute force at 1 mm, and its time.

The brute force looks at every position on a 1 mm grid once (never at every product of intervals, which would take for
ever), so it is a lower bound of what a grid search costs. Run: .venv/bin/python benchmarks/envelope.py
"""

import itertools
import random
import time

from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member
from vernus.core.machine.meetings import meetings, pair_bounds
from vernus.core.machine.travel_kept import keep_travel

GRID_MM = 1.0


def machine(seed: int, boxes: int = 200) -> Envelope:
    chance = random.Random(seed)
    members = (
        Member("column"),
        Member("knee", "column", "W"),
        Member("saddle", "knee", "Y"),
        Member("table", "saddle", "X"),
        Member("quill", "column", "Z"),
    )
    axes = (
        EnvelopeAxis("X", "-x", -340, 340),
        EnvelopeAxis("Y", "+y", -130, 130),
        EnvelopeAxis("W", "+z", -200, 200),
        EnvelopeAxis("Z", "-z", 0, 120),
    )
    made: list[Box] = []
    while len(made) < boxes:
        at = [chance.uniform(-600, 600), chance.uniform(-500, 500), chance.uniform(-500, 500)]
        size = [chance.uniform(5, 120) for _ in range(3)]
        box = Box(
            f"b{len(made)}", chance.choice(members).id, tuple(at), tuple(a + b for a, b in zip(at, size, strict=True))
        )
        trial = Envelope(members, axes, (*[b for b in made if b.member != box.member], box))
        home = {k: (v, v) for k, v in trial.home.items()}
        if not any(m.b == box for m in meetings(trial, home)):
            made.append(box)
    return Envelope(members, axes, tuple(made))


def grid_seconds(envelope: Envelope) -> float:
    """Seconds to look at every 1 mm position for every pair, estimated from a NumPy pass over one plane of the grid."""
    import numpy as np

    bounds = []
    for a, b in itertools.combinations(envelope.boxes, 2):
        moves = envelope.moves(a.member, b.member)
        if any(moves.by_coordinate):
            bounds.append((pair_bounds(a, b, 0.0), moves))
    x = np.arange(-340, 341, GRID_MM)
    y = np.arange(-130, 131, GRID_MM)
    begun = time.perf_counter()
    for limits, moves in bounds[:200]:
        met = np.ones((len(x), len(y)), bool)
        for c, (low, high) in enumerate(limits):
            d = np.zeros((len(x), len(y)))
            for axis, sign in moves.by_coordinate[c]:
                d = d + sign * (x[:, None] if axis == "X" else y[None, :] if axis == "Y" else 0.0)
            met &= (low < d) & (d < high)
    plane = (time.perf_counter() - begun) / 200 * len(bounds)
    return plane * 401 * 121


def main() -> None:
    for seed in range(5):
        envelope = machine(seed)
        begun = time.perf_counter()
        result = keep_travel(envelope)
        took = time.perf_counter() - begun
        kept = {k: f"{b - a:.0f}" for k, (a, b) in (result.kept or {}).items()}
        print(f"seed {seed}: {took:.3f} s, {len(result.pairs)} pairs meet, kept {kept}; "
              f"grid at 1 mm / solver = {grid_seconds(envelope) / took:.1e}")  # fmt: skip


if __name__ == "__main__":
    main()

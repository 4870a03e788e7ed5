"""Follows the adviser only, on 100 simulated machines: tilt up to 3 mm per metre over 200 to 900 mm, bow, noise, sense.

Run: .venv/bin/python benchmarks/follow_advice.py
"""

from collections import Counter

from vernus.bench.machine import SimulatedBody
from vernus.core.align.means import knows_shift
from vernus.core.align.sweep import analyse_sweep, correct, propose_stations
from vernus.core.align.sweep_review import compare_passes

SEEDS, MOST_PASSES = 100, 3


def follow(seed: int, by: str) -> tuple[int | None, int, int]:
    """Passes needed (None: not inside after three), corrections that made it worse, and those that were told."""
    body = SimulatedBody.from_seed(seed)
    stations = propose_stations(*body.screws_mm, 7)
    before, was, worse, told = None, 0.0, 0, 0
    for n in range(MOST_PASSES + 1):
        readings = [body.reading(x) for x in stations]
        sweep = analyse_sweep(stations, readings, body.indicator)
        if before is not None and abs(body.tilt_mm) > was + 0.01:
            worse += 1
            told += bool(compare_passes(before, sweep, "dial" if by == "dial" else "turns"))
        if abs(body.tilt_mm) <= 0.05 and sweep.verdict == "pass":
            return n, worse, told
        fix = correct(sweep, readings, body.indicator, body.screws_mm)
        was, before = abs(body.tilt_mm), sweep
        if by == "dial":
            body.follow_dial("left", fix.park_mm, fix.dial_target_mm)
        else:
            body.move_screw("left", fix.shift_mm)
    return (MOST_PASSES if abs(body.tilt_mm) <= 0.05 else None), worse, told


def corrections(seed: int, noise_mm: float) -> int | None:
    """Corrections at one screw until a sweep there and back passes, by the words, of a reader with so much noise."""
    body = SimulatedBody.from_seed(seed)
    body.let_noise_be(noise_mm)
    there = propose_stations(*body.screws_mm, 7)
    stations, readings, done = list[float](), list[float](), 0
    for _ in range(4 * MOST_PASSES):
        stations += [*there, *reversed(there)]
        readings += [body.reading(x) for x in stations[len(readings) :]]
        sweep = analyse_sweep(stations, readings, body.indicator)
        if sweep.verdict == "pass":
            return done if abs(body.tilt_mm) <= sweep.tolerance_mm else None
        fix = correct(sweep, readings, body.indicator, body.screws_mm)
        if sweep.verdict == "fail" or knows_shift(sweep, fix):
            body.follow_dial("left", fix.park_mm, fix.dial_target_mm)
            stations, readings, done = [], [], done + 1
    return None


def main() -> None:
    for by in ("dial", "shims"):
        results = [follow(seed, by) for seed in range(SEEDS)]
        passes = Counter(r[0] for r in results)
        inside = sum(n for p, n in passes.items() if p is not None)
        table = ", ".join(f"{p} corrections: {passes[p]}" for p in sorted(p for p in passes if p is not None))
        print(f"by {by}: {inside} of {SEEDS} inside 0.05 mm in at most {MOST_PASSES} ({table}); "
              f"made worse {sum(r[1] for r in results)}, of these told {sum(r[2] for r in results)}")  # fmt: skip
    for noise in (0.0025, 0.005, 0.01):
        found = Counter(corrections(seed, noise) for seed in range(3 * SEEDS))
        print(f"noise of {noise / 0.01} divisions: " + ", ".join(f"{n} corrections: {found[n]}" for n in found))


if __name__ == "__main__":
    main()

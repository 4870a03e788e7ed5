"""How often a stated ± covers the truth: travel, tilt, correction, counts, factor, and the accuracy A of ISO 230-2.

A generator of its own, apart from the bench: normal, even and long-tailed noise, readings rounded to half a division,
uneven stations, few of them. Run: .venv/bin/python -m benchmarks.coverage [TRIALS]
"""

import math
import random
import sys
from collections.abc import Callable

import numpy as np

from benchmarks.rates import Case, rates
from vernus.core.align.sweep import Indicator, analyse_sweep, correct
from vernus.core.budget import BudgetLine, combine
from vernus.core.machine.travel import measure_travel
from vernus.core.prove.calibrate.calibration import average_moves
from vernus.core.prove.calibrate.factor import fit_factor
from vernus.core.prove.positioning import analyse_positioning
from vernus.core.uncertainty import student_t95

Noise = Callable[[float], float]


def noise_of(rng: random.Random) -> Noise:
    """A noise of some standard deviation: normal, even, or long-tailed."""
    kind = rng.choice(("normal", "even", "laplace"))
    if kind == "normal":
        return lambda sd: rng.gauss(0, sd)
    if kind == "even":
        return lambda sd: rng.uniform(-1, 1) * sd * math.sqrt(3)
    return lambda sd: rng.choice((-1, 1)) * rng.expovariate(1) * sd / math.sqrt(2)


def rounded(value: float, step: float) -> float:
    """The value as read in steps."""
    return round(value / step) * step


def travel(rng: random.Random) -> bool:
    noise, unit = noise_of(rng), rng.choice((1.0, 25.4))
    truth, division = rng.uniform(5, 30) * unit, rng.choice((0.02, 0.05)) * unit
    sd = division * rng.uniform(0.2, 2)
    found = measure_travel([rounded(truth + noise(sd), division) for _ in range(rng.randint(2, 6))], division)
    return abs(found.travel_mm - truth) <= found.expanded_mm


def stations(rng: random.Random, span: float, least: int = 3) -> list[float]:
    """Uneven stations, the ends of the span among them."""
    return sorted({0.0, span, *(rng.uniform(0.05, 0.95) * span for _ in range(rng.randint(least - 2, 9)))})


def tilt(rng: random.Random) -> bool:
    noise, division, span = noise_of(rng), rng.choice((0.01, 0.0127, 0.002)), rng.uniform(100, 800)
    sd, slope = division * rng.uniform(0.1, 0.6), rng.uniform(-1, 1) * 0.3 / span
    at = stations(rng, span)
    read = [rounded(slope * x + noise(sd), division / 2) for x in at]
    found = analyse_sweep(at, read, Indicator(division_mm=division))
    return abs(found.rise_mm - slope * found.judged_mm) <= found.expanded_mm


def correction(rng: random.Random) -> bool:
    noise, division, span = noise_of(rng), rng.choice((0.01, 0.0127, 0.002)), rng.uniform(100, 800)
    sd, slope = division * rng.uniform(0.1, 0.6), rng.uniform(-1, 1) * 0.3 / span
    at = stations(rng, span)
    read = [rounded(slope * x + noise(sd), division / 2) for x in at]
    held = Indicator(division_mm=division)
    found = analyse_sweep(at, read, held)
    fix = correct(found, read, held, (-8.0, span + 8.0))
    return abs(fix.shift_mm + slope * (span + 16)) <= found.line.budget.k * fix.u_shift_mm


def counts(rng: random.Random) -> bool:
    noise, step, move = noise_of(rng), rng.choice((0.001, 0.005, 0.00508)), rng.uniform(20, 250)
    k, sd, repeats = 1 + rng.uniform(-1, 1) * 1e-3, step * rng.uniform(0.2, 2), rng.randint(2, 7)
    u_moved = rng.uniform(0.0005, 0.003)
    truly = move + rng.gauss(0, u_moved)  # the reference is off alike each time
    read = [rounded(k * truly + noise(sd), step) for _ in range(repeats)]
    check = average_moves(read, [move] * repeats, 200.0, 0.0, u_moved, step)
    return abs(check.shown_mm / check.moved_mm - k) <= check.k * check.u_rel * abs(k)


def factor(rng: random.Random) -> bool:
    noise, step, span = noise_of(rng), rng.choice((0.001, 0.005, 0.00508)), rng.uniform(100, 800)
    k, sd = 1 + rng.uniform(-1, 1) * 3e-4, step * rng.uniform(0.3, 2)
    at = stations(rng, span)
    read = [rounded(k * x + noise(sd), step) for x in at]
    fit = fit_factor(at, read)
    mean = sum(at) / len(at)
    spread = math.sqrt(sum((x - mean) ** 2 for x in at))
    floor = step / math.sqrt(12)
    if fit.residual_sd_mm is None or fit.residual_sd_mm > floor:
        return abs(fit.slope - k) <= student_t95(len(at) - 2) * (fit.u_slope or 0.0)
    return abs(fit.slope - k) <= combine([BudgetLine("rounding", floor / spread, "normal")]).expanded


def accuracy(rng: random.Random) -> bool:
    noise, places, cycles = noise_of(rng), np.array(stations(rng, 400, 5)), rng.randint(2, 8)
    up = np.array([rng.gauss(0, 0.006) for _ in places])
    down = up - rng.uniform(-0.01, 0.01)
    sd = rng.choice((0.001, 0.003, 0.006)) * np.array([rng.choice((0.7, 1.0, 1.4)) for _ in places])
    truth = max((m + 2 * sd).max() for m in (up, down)) - min((m - 2 * sd).min() for m in (up, down))
    rows = [
        (x, way, mean[n] + noise(sd[n]))
        for _ in range(cycles)
        for way, mean in ((True, up), (False, down))
        for n, x in enumerate(places)
    ]
    found = analyse_positioning(*zip(*rows, strict=True))
    sampled = found.sampling()
    assert sampled is not None
    assert found.accuracy_mm is not None
    return bool(abs(found.accuracy_mm - truth) <= combine([sampled]).expanded)


FIGURES: dict[str, Callable[[random.Random], bool]] = {
    "travel": travel, "tilt, 3 stations or more": tilt, "correction at the screw": correction, "counts": counts,
    "linear factor": factor, "accuracy A": accuracy,
}  # fmt: skip


def measure(trials: int, seed: int = 1) -> dict[str, float]:
    """The share of trials in which the ± covers the truth, by figure."""
    return {
        name: sum(one(random.Random(f"{seed} {name} {n}")) for n in range(trials)) / trials
        for name, one in FIGURES.items()
    }


def main() -> None:
    trials = int(sys.argv[1]) if len(sys.argv) > 1 else 3000
    print(f"{'stated at 95 %, covers the truth in':40} of {trials}")
    for name, share in measure(trials).items():
        print(f"{name:40} {100 * share:.1f} %")
    for name in ("tilt", "roll", "counts", "factor", "part"):
        for kind in ("normal", "even", "quantised"):
            found = [
                (n, noise, rates(name, Case(0.5, noise, kind, n), trials // 4).covered)
                for n in ((4, 7, 20) if name == "part" else (3, 5, 20)) for noise in (0.02, 0.1, 0.5)
            ]  # fmt: skip
            print(f"{name + ', ' + kind:24} " + ", ".join(f"n {n} noise {x}: {100 * c:.1f}" for n, x, c in found))


if __name__ == "__main__":
    main()

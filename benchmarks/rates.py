"""How often what is concluded is wrong, and how often its ± covers the truth: one line per conclusion and setting.

Truths of its own. The error is a share of the tolerance; noise a share of it too: even, normal, or normal and read in
whole steps. With blunders, three readings in a hundred are ten divisions off; a conclusion that is asked about first is
unsure.
"""

import math
import random
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from vernus.core.align.corrections import analyse_roll
from vernus.core.align.sweep import Indicator, analyse_sweep
from vernus.core.budget import blunders, judge, stated
from vernus.core.prove.calibrate.calibration import review_stations
from vernus.core.prove.calibrate.factor import fit_factor
from vernus.core.prove.diagnosis import WAVE_SEEN, odd_readings, wave_targets
from vernus.core.prove.part_check import check_places
from vernus.core.prove.positioning import analyse_positioning
from vernus.core.prove.worst import Stations, judge_worst, scatter_of_stations

TOLERANCE = 0.02
SPAN = 400.0


@dataclass(frozen=True)
class Case:
    """What one draw is about: the error as a share of the tolerance, the noise as another, how it is spread."""

    share: float
    noise: float = 0.1
    kind: str = "normal"
    count: int = 7
    blunders: bool = False
    step: float = 0.0005

    def read(self, rng: random.Random, value: float) -> float:
        """A value as it is read."""
        sd = self.noise * TOLERANCE
        off = rng.uniform(-1, 1) * sd * math.sqrt(3) if self.kind == "even" else rng.gauss(0, sd)
        if self.blunders and rng.random() < 0.03:
            off += rng.choice((-1, 1)) * 10 * 0.002
        return round((value + off) / self.resolution) * self.resolution

    @property
    def resolution(self) -> float:
        """The step in which it is read: coarser than the noise where that is what is tried."""
        return max(self.step, 2 * self.noise * TOLERANCE) if self.kind == "quantised" else self.step


Said = tuple[str, bool]
"""The verdict, and whether the ± covers the truth."""


def tilt(rng: random.Random, case: Case) -> Said:
    """A sweep there and back whose rise is a share of the tolerance."""
    at = [SPAN * n / (case.count - 1) for n in range(case.count)]
    rise = rng.choice((-1, 1)) * case.share * TOLERANCE
    places = [*at, *reversed(at)]
    found = analyse_sweep(
        places,
        [case.read(rng, rise * x / SPAN) for x in places],
        Indicator(division_mm=max(0.002, case.resolution)),
        TOLERANCE,
    )
    return found.verdict, abs(found.rise_mm - rise) <= found.expanded_mm


def roll(rng: random.Random, case: Case) -> Said:
    """Two lines whose difference is a share of the tolerance."""
    off = rng.choice((-1, 1)) * case.share * TOLERANCE
    at = [SPAN * n / (case.count - 1) for n in range(case.count)]
    tops, bottoms = [case.read(rng, off) for _ in at], [case.read(rng, 0.0) for _ in at]
    found = analyse_roll(at, tops, bottoms, Indicator(division_mm=max(0.002, case.resolution)), 20, 20, TOLERANCE)
    odd = blunders([t - b for t, b in zip(tops, bottoms, strict=True)], max(0.002, case.resolution))
    return "unsure" if odd else found.verdict, abs(found.difference_mm - off) <= found.expanded_mm


def bow(rng: random.Random, case: Case) -> Said:
    """A body bowed by a share of the tolerance, swept there and back; the bow has no ± of its own."""
    at = [SPAN * n / (case.count - 1) for n in range(case.count)]
    places = [*at, *reversed(at)]
    high = case.share * TOLERANCE
    read = [case.read(rng, 4 * high * (x / SPAN) * (1 - x / SPAN)) for x in places]
    return analyse_sweep(places, read, Indicator(division_mm=max(0.002, case.resolution)), TOLERANCE).bow_verdict, True


def counts(rng: random.Random, case: Case) -> Said:
    """Repeats of one move; the error over the travel is a share of the tolerance."""
    off = rng.choice((-1, 1)) * case.share * TOLERANCE
    shown = [case.read(rng, off) for _ in range(case.count)]
    mean, sd = float(np.mean(shown)), float(np.std(shown, ddof=1))
    sure = stated(sd / math.sqrt(case.count), case.count - 1, case.resolution)
    verdict = "unsure" if blunders(shown, case.resolution) else judge(mean, sure, TOLERANCE).verdict
    return verdict, abs(mean - off) <= sure


def factor(rng: random.Random, case: Case) -> Said:
    """Stations of a display whose factor makes a share of the tolerance over them."""
    off = rng.choice((-1, 1)) * case.share * TOLERANCE / SPAN
    at = [SPAN * n / (case.count - 1) for n in range(case.count)]
    shown = [case.read(rng, x * (1 + off)) for x in at]
    fit = fit_factor(at, shown)
    sure = fit.expanded(case.resolution)
    if sure is None:
        return "unsure", True
    error, wide = (fit.slope - 1) * SPAN, sure * SPAN
    asked = review_stations(shown, at, case.resolution)
    return "unsure" if asked else judge(error, wide, TOLERANCE).verdict, abs(error - off * SPAN) <= wide


def accuracy(rng: random.Random, case: Case) -> Said:
    """Five cycles over targets whose accuracy A is a share of the tolerance."""
    targets, sd = [SPAN * n / (case.count - 1) for n in range(case.count)], case.noise * TOLERANCE
    reach = case.share * TOLERANCE - 4 * sd
    if reach < 0:
        return "unsure", True
    means = [reach * (n / (case.count - 1) - 0.5) for n in range(case.count)]
    rows = [(x, up, case.read(rng, means[n])) for _ in range(5) for up in (True, False) for n, x in enumerate(targets)]
    found = analyse_positioning([r[0] for r in rows], [r[1] for r in rows], [r[2] for r in rows])
    odd = odd_readings([r[0] for r in rows], [r[1] for r in rows], [r[0] + r[2] for r in rows], case.resolution)
    return "unsure" if odd else found.judge_accuracy(TOLERANCE) or "unsure", True


def part(rng: random.Random, case: Case) -> Said:
    """A circle of holes whose scale along X is off by a share of the tolerance over it."""
    turn = math.radians(rng.uniform(-5, 5))
    scale = 1 + case.share * TOLERANCE / 100.0
    spots = [
        (50 * math.cos(2 * math.pi * n / case.count), 50 * math.sin(2 * math.pi * n / case.count))
        for n in range(case.count)
    ]
    got = [
        (
            case.read(rng, scale * x * math.cos(turn) - y * math.sin(turn)),
            case.read(rng, scale * x * math.sin(turn) + y * math.cos(turn)),
        )
        for x, y in spots
    ]
    found = check_places(spots, got, case.resolution)
    sure = found.expanded_x
    if sure is None:
        return "unsure", True
    error = (found.scale_x - 1) * 100.0
    verdict = "unsure" if found.odd else judge(error, sure * 100.0, TOLERANCE).verdict
    return verdict, abs(found.scale_x - scale) <= sure


def worst_station(rng: random.Random, case: Case) -> Said:
    """Stations read there and back; one of them is off by a share of the tolerance, the others by half of that."""
    at = [SPAN * n / (case.count - 1) for n in range(case.count)]
    far = rng.randrange(case.count)
    off = [case.share * TOLERANCE * (1 if n == far else rng.uniform(-0.5, 0.5)) for n in range(case.count)]
    rows = [(x, case.read(rng, e)) for _ in range(2) for x, e in zip(at, off, strict=True)]
    found = scatter_of_stations([r[0] for r in rows], [r[1] for r in rows], "bent")
    u, freedom = found if found is not None else (None, math.inf)
    means = [(rows[n][1] + rows[n + case.count][1]) / 2 for n in range(case.count)]
    of = Stations(case.count, u, freedom, case.resolution)
    verdict = judge_worst(max(map(abs, means)), of, TOLERANCE).verdict
    odd = blunders([r[1] - means[n % case.count] for n, r in enumerate(rows)], case.resolution)
    return "unsure" if odd else verdict, abs(means[far] - off[far]) <= of.expanded_mm


def wave(rng: random.Random, case: Case) -> Said:
    """A wave of the screw whose range is a share of the tolerance, seen by stations an eighth of it apart."""
    phase, high = rng.uniform(0, 2 * math.pi), case.share * TOLERANCE / 2
    places = wave_targets(0.0, SPAN, 5.0, case.count)
    rows = [(x, case.read(rng, high * math.sin(2 * math.pi * x / 5.0 + phase))) for _ in range(3) for x in places]
    found = scatter_of_stations([r[0] for r in rows], [r[1] for r in rows], "bent")
    u, freedom = found if found is not None else (None, math.inf)
    count = len(places)
    means = [sum(rows[n + k * count][1] for k in range(3)) / 3 for n in range(count)]
    of = Stations(count * (count - 1) // 2, None if u is None else u * 2**0.5, freedom, case.resolution, pairs=True)
    odd = blunders([r[1] - means[n % count] for n, r in enumerate(rows)], case.resolution)
    verdict = judge_worst(max(means) - min(means), of, WAVE_SEEN * TOLERANCE).verdict
    return "unsure" if odd else verdict, True


CONCLUSIONS: dict[str, Callable[[random.Random, Case], Said]] = {
    "tilt": tilt, "roll": roll, "bow": bow, "counts": counts, "factor": factor, "accuracy A": accuracy, "part": part,
    "worst station": worst_station, "wave": wave,
}  # fmt: skip


@dataclass(frozen=True)
class Rates:
    """Shares of a number of draws: passed, failed, not told, and covered by the ±."""

    passed: float
    failed: float
    unsure: float
    covered: float


def rates(name: str, case: Case, draws: int) -> Rates:
    """The shares of one conclusion, seeded by its name and case."""
    said: Counter[str] = Counter()
    covered = 0
    for n in range(draws):
        verdict, held = CONCLUSIONS[name](random.Random(f"{name} {case} {n}"), case)
        said[verdict] += 1
        covered += held
    return Rates(said["pass"] / draws, said["fail"] / draws, said["unsure"] / draws, covered / draws)

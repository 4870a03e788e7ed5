"""An axis with its scale and display that aren't there: known faults, one at a time or several, from one seed.

A reading is what the display shows when the axis truly stands at a place, approached upward or downward, at a time. No
axis is perfect: beside its faults each has a little lost motion and a little error of form, below a count. Drift slows
down as things warm through, a wave is not a pure sine, and lost motion may grow toward either end.
"""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

from vernus.core.errors import BadInputError
from vernus.core.prove.calibrate.mixups import CLEAN_RATIOS
from vernus.core.prove.causes import PATTERNS, Cause


@dataclass(frozen=True)
class AxisFaults:
    """What is wrong with the axis; lengths in mm from peak to peak, over its whole travel. All zero: nothing."""

    lost_motion: float = 0.0
    lost_motion_growing: float = 0.0
    step: float = 0.0
    step_at_share: float = 0.5
    cyclic: float = 0.0
    period_share: float = 0.2
    trend_ppm: float = 0.0
    bow: float = 0.0
    scatter: float = 0.0
    drift: float = 0.0
    ratio: float = 1.0

    @classmethod
    def of(cls, cause: Cause, travel_mm: float, count_mm: float, chance: random.Random) -> AxisFaults:
        """A fault of one kind, of a size met in workshops: a few counts to a few tenths of a millimetre."""
        size = count_mm * chance.uniform(1.5, 12.0) * chance.choice((-1, 1))
        ppm = chance.choice((-1, 1)) * chance.uniform(60, 280) * max(1.0, 300 * count_mm / 0.005 / travel_mm)
        made = {
            "lost-motion": cls(lost_motion=abs(size)),
            "lost-motion-growing": cls(lost_motion_growing=size),
            "step": cls(step=size, step_at_share=chance.uniform(0.2, 0.8)),
            "cyclic": cls(cyclic=abs(size), period_share=chance.uniform(0.28, 0.6)),
            "trend": cls(trend_ppm=min(290.0, abs(ppm)) * math.copysign(1, ppm)),
            "bow": cls(bow=size),
            "scatter": cls(scatter=count_mm * chance.uniform(1.3, 5.0)),
            "drift": cls(drift=size),
            "reads-wrong": cls(trend_ppm=chance.choice((-1, 1)) * chance.uniform(500, 5000)),
            "ratio": cls(ratio=chance.choice(CLEAN_RATIOS) ** chance.choice((-1, 1))),
        }
        return made[cause]  # nobody simulates what is “unexplained”

    def together(self, other: AxisFaults) -> AxisFaults:
        """Both at once; where both have a say the other one's goes."""
        nothing = AxisFaults()
        told = {
            f.name: getattr(other, f.name) for f in fields(self) if getattr(other, f.name) != getattr(nothing, f.name)
        }
        return replace(self, **told)


class SimulatedAxis:
    """An axis of ``travel_mm`` whose display shows steps of ``count_mm``."""

    def __init__(self, travel_mm: float, faults: AxisFaults, seed: int, *, count_mm: float = 0.005) -> None:
        if not (travel_mm > 0 and count_mm > 0):
            raise BadInputError("Travel and count of the simulated axis must be larger than zero.")
        self.travel_mm, self.faults, self.count_mm = travel_mm, faults, count_mm
        self._chance = random.Random(seed)
        self._phase = self._chance.uniform(0, 2 * math.pi)
        self._form = [count_mm * self._chance.gauss(0, 0.25) for _ in range(3)]
        self._play = count_mm * self._chance.uniform(0, 0.4)

    @classmethod
    def from_seed(cls, seed: int, *causes: Cause) -> SimulatedAxis:
        """An axis of 120 to 700 mm with the named faults, or with one that the seed chooses."""
        chance = random.Random(seed)
        travel, count = chance.uniform(120, 700), chance.choice((0.001, 0.005, 0.005, 0.01))
        faults = AxisFaults()
        for cause in causes or (chance.choice(PATTERNS),):
            faults = faults.together(AxisFaults.of(cause, travel, count, chance))
        return cls(travel, faults, seed + 1, count_mm=count)

    def targets(self, count: int) -> list[float]:
        """Targets over the travel at uneven distances, so that waves can't hide between them."""
        gap = self.travel_mm / (count - 1)
        inner = [gap * (n + self._chance.uniform(-0.35, 0.35)) for n in range(1, count - 1)]
        return [round(x, 2) for x in (0.0, *inner, self.travel_mm)]

    def error(self, at_mm: float, up: bool, time_share: float) -> float:
        """Shown − true (mm), without scatter and rounding."""
        f, share = self.faults, at_mm / self.travel_mm
        side = 0.5 if up else -0.5
        angle = 2 * math.pi * share / f.period_share + self._phase
        wave = math.sin(angle) + 0.15 * math.sin(2 * angle)
        toward = share if f.lost_motion_growing >= 0 else 1 - share
        form = math.fsum(a * math.sin(math.pi * (n + 1) * share) for n, a in enumerate(self._form))
        return (
            form
            + side * (self._play + f.lost_motion + abs(f.lost_motion_growing) * toward)
            + (f.step if share > f.step_at_share else 0.0)
            + f.cyclic / 2 * wave
            + f.trend_ppm * 1e-6 * at_mm
            + f.bow * 4 * share * (1 - share)
            + f.drift * (1 - math.exp(-2 * time_share)) / (1 - math.exp(-2))
        )

    def show(self, at_mm: float, up: bool, time_share: float) -> float:
        """What the display shows (mm)."""
        noise = self._chance.gauss(0.0, math.hypot(0.25 * self.count_mm, self.faults.scatter))
        shown = self.faults.ratio * (at_mm + self.error(at_mm, up, time_share)) + noise
        return round(shown / self.count_mm) * self.count_mm

    def run(self, targets_mm: Sequence[float], cycles: int) -> list[tuple[float, bool, float]]:
        """(target, upward, shown) of so many runs up and down, in the order read."""
        ways = [(t, up) for _ in range(cycles) for up in (True, False) for t in sorted(targets_mm, reverse=not up)]
        last = max(1, len(ways) - 1)
        return [(t, up, self.show(t, up, n / last)) for n, (t, up) in enumerate(ways)]

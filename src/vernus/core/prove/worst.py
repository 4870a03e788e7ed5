"""The worst of several stations against a tolerance, by how the stations scatter.

By simulation, own work, no source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vernus.core.budget import SURELY_STEPS, Guarded, at_95, stated
from vernus.core.prove.calibrate.straight import Pattern
from vernus.core.uncertainty import student_t

_CUBIC_FROM = 6
"""From so many stations on, single readings tell their own scatter: about a cubic."""


@dataclass(frozen=True)
class Stations:
    """How ``count`` stations scatter: ``u_mm`` of one station's mean, None where the readings don't say; what else."""

    count: int
    u_mm: float | None
    freedom: float
    step_mm: float
    rest_mm: float = 0.0
    """Standard uncertainty that all of them share: reference, temperatures."""
    pairs: bool = False
    """Whether differences of two stations are meant, which are read twice."""

    @property
    def floor_mm(self) -> float:
        """Half a step, a whole one of a difference."""
        return self.step_mm * (1.0 if self.pairs else 0.5)

    @property
    def expanded_mm(self) -> float:
        """U of one of them, half a step at least."""
        return stated(self.u_mm or 0.0, self.freedom, self.floor_mm, self.rest_mm)


def judge_worst(largest_mm: float, of: Stations, tolerance_mm: float) -> Guarded:
    """The largest of the deviations of several stations, against a tolerance.

    It passes with the U of one station: that it is the largest errs to the safe side. It fails with a U that none of
    them exceeds by chance, t at 0.975^(1/n) one-sided. By simulation, no source. Where nothing says how they scatter,
    only what lies a dozen steps beyond fails.
    """
    settle = abs(tolerance_mm - largest_mm)
    if of.u_mm is None:
        surely = largest_mm - math.hypot(SURELY_STEPS * of.step_mm, 1.96 * of.rest_mm) > tolerance_mm
        return Guarded("fail" if surely else "unsure", settle)
    if largest_mm + of.expanded_mm <= tolerance_mm:
        return Guarded("pass", settle)
    widened = student_t(1 - 0.975 ** (1 / of.count), of.freedom) * of.u_mm
    below = at_95(widened, of.floor_mm, of.rest_mm)
    return Guarded("fail" if largest_mm - below > tolerance_mm else "unsure", settle)


def scatter_of_stations(
    at_mm: Sequence[float], errors_mm: Sequence[float], pattern: Pattern
) -> tuple[float, float] | None:
    """Standard uncertainty of a station's mean (mm) and its degrees of freedom; None where the readings don't say.

    From repeats where there are some, pooled over the stations; of single readings by what a line leaves where they lie
    on one, the first apart where only the zero is off, else by what a cubic leaves of six or more.
    """
    x, y = np.asarray(at_mm, dtype=float), np.asarray(errors_mm, dtype=float)
    places, inverse, counts = np.unique(x, return_inverse=True, return_counts=True)
    again = len(x) - len(places)
    if again:
        means = np.bincount(inverse, weights=y) / counts
        return math.sqrt(float(((y - means[inverse]) ** 2).sum()) / again / float(counts.min())), float(again)
    if pattern == "zero-off":
        x, y = np.delete(x, x.argmin()), np.delete(y, x.argmin())
    degree = 3 if pattern == "bent" else 1
    if len(x) < (_CUBIC_FROM if degree == 3 else 3):
        return None
    scaled = (x - x.mean()) / (float(np.ptp(x)) or 1.0)
    rest = y - np.polyval(np.polyfit(scaled, y, degree), scaled)
    freedom = len(x) - degree - 1
    return math.sqrt(float(rest @ rest) / freedom), float(freedom)

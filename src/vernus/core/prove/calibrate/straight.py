"""Is a straight line enough? Whether the errors at stations lie on a line, bend, or only the zero is off.

Bent: Fisher's F of the squares that a polynomial of degree 2, 3 or 4 takes out beyond the line, against what it
leaves; the best of the degrees must come out below 2.5 %. With ten stations or more also where neighbours are alike:
von Neumann's ratio Σ(r₊₁ − r)²/Σr², 2 by chance with a variance of 4(n − 2)/(n² − 1), more than 2.6 deviations below.
Where stations were repeated, their own scatter is what is left (lack of fit). Zero off: the line through all other
stations misses the first by more than Student's t at 1 % allows. Nothing finer than the display's rounding is ever
taken for scatter. Textbook statistics, from memory.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.uncertainty import f_tail, student_tail

Array = NDArray[np.float64]
Pattern = Literal["line", "bent", "zero-off"]
BENT_BELOW = 0.025
ZERO_BELOW = 0.01
_DEGREES = (2, 3, 4)
_ALIKE_FROM, _ALIKE_SD = 10, 2.6


@dataclass(frozen=True)
class Shape:
    """What the errors at the stations look like (mm): the pattern, and the greatest difference between two stations."""

    pattern: Pattern
    range_mm: float


def shape_of(at_mm: Sequence[float], errors_mm: Sequence[float], step_mm: float) -> Shape:
    """The shape of errors (mm) at two stations (mm) at least, repeats allowed, read in steps of ``step_mm``."""
    x, y = np.asarray(at_mm, dtype=float), np.asarray(errors_mm, dtype=float)
    places, inverse, counts = np.unique(x, return_inverse=True, return_counts=True)
    means = np.bincount(inverse, weights=y) / counts
    rounding = step_mm / math.sqrt(12)
    again = len(x) - len(places)
    pure = float(((y - means[inverse]) ** 2).sum())
    pattern: Pattern = "line"
    if _zero_off(places, means, rounding):
        pattern = "zero-off"
    elif (
        _bent(x, y, rounding)
        or _neighbours_alike(places, means, rounding)
        or (again and _lacks_fit(places, means, counts, pure, again, rounding))
    ):
        pattern = "bent"
    return Shape(pattern, float(np.ptp(means)))


def _left(x: Array, y: Array, degree: int) -> float:
    """The squares a polynomial leaves."""
    span = float(np.ptp(x)) or 1.0
    scaled = (x - x.mean()) / span
    rest = y - np.polyval(np.polyfit(scaled, y, degree), scaled)
    return float(rest @ rest)


def _bent(x: Array, y: Array, rounding_mm: float) -> bool:
    n, distinct = len(x), len(np.unique(x))
    straight, best = _left(x, y, 1), 1.0
    for degree in _DEGREES:
        if n - degree - 1 < 1 or distinct <= degree + 1:
            break
        left = max(_left(x, y, degree), (n - degree - 1) * rounding_mm**2)
        taken = max(0.0, straight - left)
        if left > 0:
            best = min(best, f_tail(taken / (degree - 1) / (left / (n - degree - 1)), degree - 1, n - degree - 1))
        elif taken > 0:
            best = 0.0
    return best < BENT_BELOW


def _neighbours_alike(places: Array, means: Array, rounding_mm: float) -> bool:
    """Whether what a line leaves goes on from station to station, farther than rounding alone can make it."""
    n = len(places)
    if n < _ALIKE_FROM:
        return False
    scaled = (places - places.mean()) / (float(np.ptp(places)) or 1.0)
    rest = means - np.polyval(np.polyfit(scaled, means, 1), scaled)
    squares = float(rest @ rest)
    if squares / n <= (2 * rounding_mm) ** 2:
        return False
    ratio = float((np.diff(rest) ** 2).sum()) / squares
    return (2 - ratio) / math.sqrt(4 * (n - 2) / (n * n - 1)) > _ALIKE_SD


def _lacks_fit(
    places: Array, means: Array, counts: NDArray[np.int64], pure: float, again: int, rounding_mm: float
) -> bool:
    """Whether the station means lie farther off their line than the repeats scatter."""
    if len(places) < 3:
        return False
    weights = np.sqrt(counts)
    scaled = (places - places.mean()) / (float(np.ptp(places)) or 1.0)
    rest = means - np.polyval(np.polyfit(scaled, means, 1, w=weights), scaled)
    lack = float((counts * rest**2).sum()) / (len(places) - 2)
    scatter = max(pure / again, rounding_mm**2)
    return scatter > 0 and f_tail(lack / scatter, len(places) - 2, again) < BENT_BELOW


def _zero_off(places: Array, means: Array, rounding_mm: float) -> bool:
    """Whether all stations but the first lie on a line that misses the first."""
    if len(places) < 5:
        return False
    x, y = places[1:], means[1:]
    middle = x.mean()
    sxx = float(((x - middle) ** 2).sum())
    slope = float(((x - middle) * y).sum()) / sxx
    rest = y - y.mean() - slope * (x - middle)
    freedom = len(x) - 2
    sd = max(math.sqrt(float(rest @ rest) / freedom), rounding_mm)
    missed = float(means[0] - y.mean() - slope * (places[0] - middle))
    u = sd * math.sqrt(1 + 1 / len(x) + (places[0] - middle) ** 2 / sxx)
    return u > 0 and 2 * student_tail(abs(missed) / u, freedom) < ZERO_BELOW if missed else False

"""Line or table: which way to correct does best at stations it has not seen, so that nobody keys in noise."""

from __future__ import annotations

import math
import statistics
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import overload

import numpy as np

from vernus.core.errors import BadInputError
from vernus.core.prove.calibrate.compensation import DEFAULT_STEP_MM, check_table, stations_of
from vernus.core.prove.calibrate.straight import Pattern, shape_of
from vernus.core.prove.calibrate.table_search import Array, Spacing, search_table
from vernus.core.uncertainty import student_t95

_Predict = Callable[[Array, Array, Array], Array]
_FOLDS = 10
_NEAR = 0.05  # steps to which the least largest residual is known, for tables that are only compared


@dataclass(frozen=True)
class Trial:
    """A way to correct, and what it leaves at the stations and at stations it has not seen (mm).

    ``unseen_error_mm2`` is the standard error of the mean square left unseen; ``points`` is 0 for no
    correction, 1 for the straight line, else those of a table.
    """

    points: int
    max_mm: float
    unseen_rms_mm: float
    unseen_max_mm: float
    unseen_error_mm2: float = 0.0


def compare_tables(
    shown_mm: Sequence[float],
    true_mm: Sequence[float],
    most_points: int,
    spacing: Spacing = "free",
    step_mm: float = DEFAULT_STEP_MM,
    cancelled: Callable[[], bool] = lambda: False,
    told: Callable[[int, int], None] = lambda _done, _of: None,
) -> tuple[list[Trial], Trial]:
    """No correction, the line and tables side by side at stations left out, and the one to key in.

    One station is left out at a time, of more than twelve every tenth at once (tenfold cross-validation; the
    one-standard-error rule below goes with it: Classification and Regression Trees, 1984, from memory). Their
    neighbours stay. The end stations are never left out; no correction leaves a constant, since the zero is read like
    any station. Tables are tried only where the errors bend (``shape_of``), until more points do worse, and the one of
    fewest points is chosen whose squares left unseen lie within one standard error of the least (one-standard-error
    rule); a line only where its slope is known to be other than none, by Student's t at 95 %. Once ``cancelled``
    says so no more tables are tried; ``told`` hears how many are done. Raises BadInputError with fewer than four
    stations: nothing could be left out.
    """
    check_table(most_points, step_mm)
    at, correction = stations_of(shown_mm, true_mm)
    if len(at) < 4:
        raise BadInputError("Comparing tables needs four stations at least; read more of them.")
    none = _trial(0, at, correction, lambda _at, seen, x: 0.0 * x + seen.mean())
    trials = [replace(none, max_mm=float(np.abs(correction).max())), _trial(1, at, correction, _line)]
    errors = [s - t for s, t in zip(shown_mm, true_mm, strict=True)]
    pattern = shape_of(true_mm, errors, step_mm).pattern
    counts = _points_to_try(min(most_points, len(at) - 1)) if pattern == "bent" else []
    for done, points in enumerate(counts):
        told(done, len(counts))
        if done >= 2 and _worse(trials):
            break

        made = _trial(points, at, correction, _table(points, spacing, step_mm), cancelled)
        if made is None:
            break
        trials.append(made)
    return trials, _choose(trials, at, correction, pattern)


def _table(points: int, spacing: Spacing, step_mm: float) -> _Predict:
    """What tables of so many points say; each search begins at what the one before left, since they differ little."""
    left = [0.0]

    def predict(seen: Array, wanted: Array, x: Array) -> Array:
        knots, values, every, most = search_table(seen, wanted / step_mm, points, spacing, _NEAR, left[0])
        left[0] = most if every == 1 else 0.0
        return np.interp(x, knots, values * step_mm)

    return predict


def _worse(trials: Sequence[Trial]) -> bool:
    """Whether the last two tables did worse at stations not seen than the best, by more than its standard error."""
    best = min(trials, key=lambda t: t.unseen_rms_mm)
    return all(t.unseen_rms_mm**2 > best.unseen_rms_mm**2 + best.unseen_error_mm2 for t in trials[-2:])


def _points_to_try(most: int) -> list[int]:
    """Every number of points up to eight, then in growing steps."""
    return [n for n in (3, 4, 5, 6, 7, 8, 10, 12, 16, 20, 26, 32, 40, 50, 64, 80, 100, 128, 160, 200) if n <= most]


def _choose(trials: Sequence[Trial], at: Array, correction: Array, pattern: Pattern) -> Trial:
    """The simplest way that the stations bear out."""
    if pattern == "bent":
        best = min(trials, key=lambda t: t.unseen_rms_mm)
        within = best.unseen_rms_mm**2 + best.unseen_error_mm2
        chosen = next(t for t in trials if t.unseen_rms_mm**2 <= within * (1 + 1e-12))
        if chosen.points > 1:
            return chosen
    return trials[1] if pattern != "zero-off" and _slopes(at, correction) else trials[0]


def _slopes(at: Array, correction: Array) -> bool:
    """Whether the slope of the corrections is other than none at 95 %."""
    middle, freedom = at.mean(), len(at) - 2
    sxx = float(((at - middle) ** 2).sum())
    slope = float(((at - middle) * correction).sum()) / sxx
    left = correction - correction.mean() - slope * (at - middle)
    return abs(slope) > student_t95(freedom) * math.sqrt(float(left @ left) / freedom / sxx)


def _line(at: Array, correction: Array, x: Array) -> Array:
    middle = at.mean()
    slope = ((at - middle) * correction).sum() / ((at - middle) ** 2).sum()
    return np.asarray(correction.mean() + slope * (x - middle))


@overload
def _trial(points: int, at: Array, correction: Array, predict: _Predict) -> Trial: ...
@overload
def _trial(
    points: int, at: Array, correction: Array, predict: _Predict, cancelled: Callable[[], bool]
) -> Trial | None: ...
def _trial(
    points: int,
    at: Array,
    correction: Array,
    predict: _Predict,
    cancelled: Callable[[], bool] = lambda: False,
) -> Trial | None:
    left = correction - predict(at, correction, at)
    unseen: list[float] = []
    inner = np.arange(1, len(at) - 1)
    for first in range(min(_FOLDS, len(inner))):
        if cancelled():
            return None
        out = inner[first::_FOLDS]
        seen = np.ones(len(at), dtype=bool)
        seen[out] = False
        unseen += (correction[out] - predict(at[seen], correction[seen], at[out])).tolist()
    squares = [r * r for r in unseen]
    spread = statistics.stdev(squares) / math.sqrt(len(squares)) if len(squares) > 1 else 0.0
    return Trial(points, float(np.abs(left).max()), math.sqrt(statistics.fmean(squares)), max(map(abs, unseen)), spread)

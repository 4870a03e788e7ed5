"""Line or table: which way to correct does best at stations it has not seen, so that nobody keys in noise."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from vernus.core.errors import BadInputError
from vernus.core.prove.compensation import DEFAULT_STEP_MM, check_table, stations_of
from vernus.core.prove.table_search import Array, Spacing, solve_table

_Predict = Callable[[Array, Array, Array], Array]
_NEAR = 0.02  # steps to which the least largest residual is known, for tables that are only compared


@dataclass(frozen=True)
class Trial:
    """A way to correct, and what it leaves at the stations and at stations it has not seen (mm).

    ``points`` is 0 for no correction, 1 for the straight line, else those of a table.
    """

    points: int
    max_mm: float
    unseen_rms_mm: float
    unseen_max_mm: float


def compare_tables(
    shown_mm: Sequence[float],
    true_mm: Sequence[float],
    most_points: int,
    spacing: Spacing = "free",
    step_mm: float = DEFAULT_STEP_MM,
    cancelled: Callable[[], bool] = lambda: False,
) -> tuple[list[Trial], Trial]:
    """No correction, the line and tables side by side by leaving one station out at a time, and the one to key in.

    The end stations are never left out. The one with the least unseen residual is chosen, or a simpler one that comes
    within 10 % of it. Once ``cancelled`` says so no more tables are tried. Raises BadInputError with fewer than four
    stations: nothing could be left out.
    """
    check_table(most_points, step_mm)
    at, correction = stations_of(shown_mm, true_mm)
    if len(at) < 4:
        raise BadInputError("Comparing tables needs four stations at least; read more of them.")
    trials = [_trial(0, at, correction, lambda _at, _c, x: 0.0 * x), _trial(1, at, correction, _line)]
    for points in range(3, min(most_points, len(at) - 1) + 1):
        if cancelled():
            break

        def table(seen: Array, wanted: Array, x: Array, points: int = points) -> Array:
            knots, values, _ = solve_table(seen, wanted / step_mm, points, spacing, _NEAR)
            return np.interp(x, knots, values * step_mm)

        trials.append(_trial(points, at, correction, table))
    least = min(t.unseen_rms_mm for t in trials)
    chosen = next(t for t in trials if t.unseen_rms_mm <= 1.1 * least + 1e-12)
    return trials, chosen


def _line(at: Array, correction: Array, x: Array) -> Array:
    middle = at.mean()
    slope = ((at - middle) * correction).sum() / ((at - middle) ** 2).sum()
    return np.asarray(correction.mean() + slope * (x - middle))


def _trial(points: int, at: Array, correction: Array, predict: _Predict) -> Trial:
    unseen = []
    for n in range(1, len(at) - 1):
        seen = np.arange(len(at)) != n
        unseen.append(float(correction[n] - predict(at[seen], correction[seen], at[n : n + 1])[0]))
    left = correction - predict(at, correction, at)
    return Trial(
        points,
        float(np.abs(left).max()),
        math.sqrt(math.fsum(r * r for r in unseen) / len(unseen)),
        max(map(abs, unseen)),
    )

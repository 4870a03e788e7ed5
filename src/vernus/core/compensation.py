"""A table of corrections to key in: few points, straight lines between them, values the display can hold.

Correction = true − shown, tabulated against what is shown; corrected = shown + table(shown); beyond the ends the last
value is held. Repeats at one station are averaged first. Least largest residual comes first, then least sum of
squares, then fewest points. Neighbouring segments share a value, so the state of the search is (knot, value): both
passes go from left to right over every candidate knot and every multiple of the display's step that the largest
residual tried allows. A knot between stations is kept to [min − ε, max + ε] of its two neighbouring stations'
corrections, ε what the best straight line leaves plus half a step, so that the line itself is never shut out. Largest
residuals are bisected until they are known to a millionth of the step.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.alignment import minimum_zone
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Tiny, finding

Spacing = Literal["equal", "free"]
Array = NDArray[np.float64]
_Predict = Callable[[Array, Array, Array], Array]
DEFAULT_STEP_MM = 0.001
_EDGE = 1e-9  # steps; keeps a value that is whole on paper from being lost to rounding
_CLOSE = 1e-6  # steps to which the least largest residual is known
_NEAR = 0.02  # the same, for tables that are only compared
_NEVER = 1 << 20
_MOST_WORK = 20_000_000


@dataclass(frozen=True)
class Knot:
    """One line of the table: the shown position and the correction there (mm)."""

    at_mm: float
    correction_mm: float


@dataclass(frozen=True)
class SegmentTable:
    """A table of corrections and what it leaves (mm); ``linear_max_mm`` is left by the best straight line."""

    knots: tuple[Knot, ...]
    max_residual_mm: float
    rms_residual_mm: float
    linear_max_mm: float
    findings: tuple[Finding, ...] = ()

    def correction(self, shown_mm: float) -> float:
        """The correction (mm) at a shown position, the last value held beyond the ends."""
        return float(np.interp(shown_mm, [k.at_mm for k in self.knots], [k.correction_mm for k in self.knots]))


def stations_of(shown_mm: Sequence[float], true_mm: Sequence[float]) -> tuple[Array, Array]:
    """Stations in order and their mean corrections (mm); raises BadInputError with fewer than two stations."""
    if len(shown_mm) != len(true_mm):
        raise BadInputError("Every true position needs one shown value.")
    shown, true = np.asarray(shown_mm, dtype=float), np.asarray(true_mm, dtype=float)
    if not (np.isfinite(shown).all() and np.isfinite(true).all()):
        raise BadInputError("Every station must be a finite number.")
    order = np.argsort(true, kind="stable")
    true, shown = true[order], shown[order]
    starts = np.flatnonzero(np.concatenate([[True], np.diff(true) > 1e-9])) if len(true) else np.zeros(0, int)
    if len(starts) < 2:
        raise BadInputError("A table needs two different stations at least; log one more.")
    counts = np.diff([*starts, len(true)])
    mean_shown = np.add.reduceat(shown, starts) / counts
    if not (np.diff(mean_shown) > 0).all():
        raise BadInputError("The shown values do not grow with the true ones; check direction and columns.")
    return mean_shown, true[starts] - mean_shown


def fit_segments(
    shown_mm: Sequence[float],
    true_mm: Sequence[float],
    points: int,
    spacing: Spacing = "free",
    step_mm: float = DEFAULT_STEP_MM,
) -> SegmentTable:
    """The best table of at most ``points`` points (exactly as many with equal spacing), values multiples of
    ``step_mm``.

    ``shown_mm`` and ``true_mm`` are equally long. Raises BadInputError for fewer than two points or stations, or a
    step that isn't positive.
    """
    _check(points, step_mm)
    at, correction = stations_of(shown_mm, true_mm)
    knots, values, every = _solve(at, correction / step_mm, points, spacing)
    table = [Knot(float(x), float(v * step_mm) + 0.0) for x, v in zip(knots, values, strict=True)]
    left = correction - np.interp(at, knots, values * step_mm)
    made = SegmentTable(
        tuple(table),
        float(np.abs(left).max()),
        float(np.sqrt(np.mean(left**2))),
        (minimum_zone(at, correction) or 0.0) / 2,
    )
    return SegmentTable(
        made.knots,
        made.max_residual_mm,
        made.rms_residual_mm,
        made.linear_max_mm,
        tuple(_review(made, len(at), every * step_mm if every > 1 else None)),
    )


def _check(points: int, step_mm: float) -> None:
    if points < 2:
        raise BadInputError(f"A table has two points at least, the first and the last; {points} were asked for.")
    if points > 1000:
        raise BadInputError(f"No display takes {points} points; at most 1000 are worked out.")
    if not step_mm > 0:
        raise BadInputError("The step of the values must be larger than zero, such as 0.001 mm.")


def _review(table: SegmentTable, stations: int, coarse_mm: float | None) -> list[Finding]:
    found = [
        finding(
            "held-beyond-the-ends",
            "info",
            "The table reaches from {low} to {high}; beyond it the last value is held.",
            "Read stations over the whole travel, the ends included.",
            low=Mm(table.knots[0].at_mm),
            high=Mm(table.knots[-1].at_mm),
        )
    ]
    if coarse_mm is not None:
        found.append(
            finding(
                "corrections-far-apart",
                "caution",
                "The table leaves {left}, hundreds of its steps; values were tried every {step} only.",
                "Look at the readings first: one is likely mistyped, or the count size is wrong.",
                left=Fine(table.max_residual_mm),
                step=Fine(coarse_mm),
            )
        )
    if stations <= len(table.knots):
        found.append(
            finding(
                "a-point-per-station",
                "caution",
                "{points} points for {stations} stations: the table follows every reading, its noise included.",
                "Read more stations, or key in fewer points.",
                points=len(table.knots),
                stations=stations,
            )
        )
    if table.max_residual_mm >= table.linear_max_mm and len(table.knots) > 2:
        found.append(
            finding(
                "line-is-as-good",
                "info",
                "A straight line leaves {line} at most, this table {table}.",
                "Key in the linear factor instead.",
                line=Tiny(table.linear_max_mm),
                table=Tiny(table.max_residual_mm),
            )
        )
    return found


class _Search:
    """Candidate knots over stations; corrections, residuals and values in steps of the display."""

    def __init__(self, at: Array, wanted: Array, knots: Array, chain: bool) -> None:
        self.at, self.wanted, self.knots, self.chain = at, wanted, knots, chain
        self.after = np.searchsorted(at, knots + _EDGE)  # first station beyond the knot
        before = np.clip(np.searchsorted(at, knots - _EDGE), 0, len(at) - 1)
        left = np.where(np.abs(at[before] - knots) <= _EDGE, before, np.maximum(before - 1, 0))
        pair = np.stack([wanted[left], wanted[before]])
        self.low, self.high = pair.min(axis=0), pair.max(axis=0)
        self.at_station = left == before
        self.slack = (minimum_zone(at, wanted) or 0.0) / 2 + 0.5

    def mirrored(self) -> _Search:
        """The same search from right to left."""
        return _Search(-self.at[::-1], self.wanted[::-1], -self.knots[::-1], self.chain)

    def window(self, most: float) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """First value and number of values each knot may take when residuals up to ``most`` are allowed."""
        room = np.where(self.at_station, most, self.slack) + _EDGE
        first = np.ceil(self.low - room).astype(np.int64)
        last = np.floor(self.high + room).astype(np.int64)
        return first, np.maximum(last - first + 1, 0)

    def work(self) -> int:
        """How many pairs of knots and values one pass looks at, at most."""
        wide = int(self.window(self.slack)[1].max())
        return len(self.knots) * wide * (1 if self.chain else len(self.knots))

    def ends(self, i: int) -> int:
        """The last knot that may follow knot ``i``, plus one."""
        return min(i + 2, len(self.knots)) if self.chain else len(self.knots)

    def cones(self, i: int, values: Array, most: float) -> tuple[Array, Array, int]:
        """Least and greatest value at each knot after ``i`` from each value there, and for how many knots."""
        begin, stop = self.after[i], self.ends(i)
        reach = self.at[begin : self.after[stop - 1]]
        run = self.knots[i + 1 : stop] - self.knots[i]
        low = np.full((len(values), len(reach) + 1), -np.inf)
        high = -low
        if len(reach):
            over = reach - self.knots[i]
            wanted = self.wanted[begin : begin + len(reach)]
            rise = wanted[None, :] - values[:, None]
            np.maximum.accumulate((rise - most - _EDGE) / over, axis=1, out=low[:, 1:])
            np.minimum.accumulate((rise + most + _EDGE) / over, axis=1, out=high[:, 1:])
        pick = self.after[i + 1 : stop] - begin
        open_at: NDArray[np.bool_] = np.asarray((low <= high).any(axis=0))
        live = open_at[pick]
        count = len(pick) if live.all() else int(np.argmin(live))
        pick, run = pick[:count], run[:count]
        least = np.ceil(values[:, None] + low[:, pick] * run - _EDGE)
        greatest = np.floor(values[:, None] + high[:, pick] * run + _EDGE)
        return least, greatest, count

    def needed(self, most: float, points: int) -> NDArray[np.int64]:
        """Fewest points up to each (knot, value) with no residual above ``most``; ``_NEVER`` where it can't be."""
        first, width = self.window(most)
        wide = int(width.max())
        needed = np.full((len(self.knots), max(wide, 1)), _NEVER)
        needed[0, : width[0]] = 1
        for i in range(len(self.knots) - 1):
            here = np.flatnonzero(needed[i, : width[i]] < points)
            if not len(here):
                continue
            least, greatest, count = self.cones(i, (first[i] + here).astype(float), most)
            rows = slice(i + 1, i + 1 + count)
            base, size = first[rows], width[rows]
            low = np.clip(least - base, 0, size).astype(np.int64)
            high = np.clip(greatest - base, -1, size - 1).astype(np.int64)
            for used in np.unique(needed[i, here]):
                mine = needed[i, here] == used
                covered = _covered(low[mine], high[mine], wide)
                block = needed[rows]
                block[covered & (block > used + 1)] = used + 1
        return needed

    def possible(self, most: float, points: int) -> bool:
        """Whether a table of at most ``points`` points leaves no more than ``most``."""
        return bool(self.needed(most, points)[-1].min() <= points)

    def least_largest(self, points: int, close: float) -> float:
        """The least largest residual, to ``close`` steps."""
        low, high = 0.0, min(0.5, self.slack)
        while high < self.slack and not self.possible(high, points):
            low, high = high, min(high * 2, self.slack)
        while high - low > close:
            middle = (low + high) / 2
            low, high = (low, middle) if self.possible(middle, points) else (middle, high)
        return high

    def smoothest(self, most: float, points: int) -> tuple[Array, Array] | None:
        """Knots and values of the table of least squares among those that leave no more than ``most``.

        None where there are too many of them to go through.
        """
        first, width = self.window(most)
        forth, back = self.needed(most, points), self.mirrored().needed(most, points)[::-1]
        alive = (forth + back <= points + 1) & (np.arange(forth.shape[1]) < width[:, None])
        if int(alive.sum(axis=1).max()) * int(alive.any(axis=1).sum()) * alive.shape[1] > _MOST_WORK:
            return None
        cost = np.full((points + 1, *alive.shape), np.inf)
        came = np.zeros((points + 1, *alive.shape, 2), dtype=np.int64)
        start = np.flatnonzero(alive[0])
        cost[1, 0, start] = (first[0] + start - self.wanted[0]) ** 2
        for i in range(len(self.knots) - 1):
            here = np.flatnonzero(alive[i])
            if len(here):
                self._spread(i, here, first, most, alive, cost, came)
        return self._walk_back(first, cost, came)

    def _spread(
        self,
        i: int,
        here: NDArray[np.int64],
        first: NDArray[np.int64],
        most: float,
        alive: NDArray[np.bool_],
        cost: Array,
        came: NDArray[np.int64],
    ) -> None:
        """Carry the least squares at knot ``i`` on to every knot that may follow it."""
        values = (first[i] + here).astype(float)
        least, greatest, count = self.cones(i, values, most)
        rows = i + 1 + np.flatnonzero(alive[i + 1 : i + 1 + count].any(axis=1))
        if not len(rows):
            return
        pick = rows - i - 1
        ahead = first[rows][:, None] + np.arange(alive.shape[1])
        fits = (least[:, pick, None] <= ahead) & (ahead <= greatest[:, pick, None]) & alive[rows]
        squares = np.where(fits, self._squares(i, rows, values, ahead.astype(float)), np.inf)
        for used in range(1, cost.shape[0] - 1):
            total = cost[used, i, here][:, None, None] + squares
            best = total.argmin(axis=0)
            found = np.take_along_axis(total, best[None], axis=0)[0]
            better = found < cost[used + 1, rows]
            cost[used + 1, rows] = np.where(better, found, cost[used + 1, rows])
            came[used + 1, rows, :, 0] = np.where(better, i, came[used + 1, rows, :, 0])
            came[used + 1, rows, :, 1] = np.where(better, here[best], came[used + 1, rows, :, 1])

    def _squares(self, i: int, rows: NDArray[np.int64], values: Array, ahead: Array) -> Array:
        """Sum of squares at the stations beyond knot ``i`` up to each of ``rows``, for each pair of values."""
        begin = self.after[i]
        over, wanted = self.at[begin:] - self.knots[i], self.wanted[begin:]
        terms = np.stack([np.ones_like(over), over, over**2, wanted, wanted**2, wanted * over])
        sums = np.concatenate([np.zeros((6, 1)), np.cumsum(terms, axis=1)], axis=1)
        n, s1, s2, c1, c2, d = (t[None, :, None] for t in sums[:, self.after[rows] - begin])
        u = values[:, None, None]
        slope = (ahead[None] - u) / (self.knots[rows] - self.knots[i])[None, :, None]
        return np.asarray(n * u**2 + 2 * u * slope * s1 + slope**2 * s2 - 2 * (u * c1 + slope * d) + c2)

    def _walk_back(self, first: NDArray[np.int64], cost: Array, came: NDArray[np.int64]) -> tuple[Array, Array]:
        last = cost[:, -1].min(axis=1)
        used = int(np.flatnonzero(last <= last.min() + 1e-9 * (1 + last.min()))[0])
        i, v = len(self.knots) - 1, int(cost[used, -1].argmin())
        path = [(i, v)]
        while used > 1:
            i, v = (int(n) for n in came[used, i, v])
            path.append((i, v))
            used -= 1
        rows = [i for i, _ in reversed(path)]
        return self.knots[rows], np.array([float(first[i] + v) for i, v in reversed(path)])


def _covered(low: NDArray[np.int64], high: NDArray[np.int64], wide: int) -> NDArray[np.bool_]:
    """Which values each knot can take from any of the rows, each of which reaches from low to high."""
    count = low.shape[1]
    keep = high >= low
    column = np.broadcast_to(np.arange(count), low.shape)[keep]
    size = count * (wide + 1)
    change = np.bincount(column * (wide + 1) + low[keep], minlength=size)
    change = change - np.bincount(column * (wide + 1) + high[keep] + 1, minlength=size)
    return np.asarray(np.cumsum(change.reshape(count, wide + 1), axis=1)[:, :wide] > 0)


def _candidates(at: Array, points: int, spacing: Spacing) -> Array:
    grid = np.linspace(at[0], at[-1], points)
    if spacing == "equal":
        return grid
    apart = np.abs(grid[:, None] - at[None, :]).min(axis=1) > 1e-9 * (at[-1] - at[0])
    return np.sort(np.concatenate([at, grid[apart]]))


def _solve(at: Array, wanted: Array, points: int, spacing: Spacing, close: float = _CLOSE) -> tuple[Array, Array, int]:
    """Knots and values (in steps) of the best table, its largest residual to ``close`` steps, and how many steps count.

    Where corrections are so far apart against the step that trying every value would take minutes, only every second,
    fourth … value is tried: what is left is then hundreds of steps anyway.
    """
    knots = _candidates(at, points, spacing)
    every = 1
    while True:
        search = _Search(at, wanted / every, knots, spacing == "equal")
        if search.work() <= _MOST_WORK:
            most = search.least_largest(points, close)
            found = search.smoothest(most, points)
            if found is not None:
                return found[0], found[1] * every, every
        every *= 2


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
    _check(most_points, step_mm)
    at, correction = stations_of(shown_mm, true_mm)
    if len(at) < 4:
        raise BadInputError("Comparing tables needs four stations at least; read more of them.")
    trials = [_trial(0, at, correction, lambda _at, _c, x: 0.0 * x), _trial(1, at, correction, _line)]
    for points in range(3, min(most_points, len(at) - 1) + 1):
        if cancelled():
            break

        def table(seen: Array, wanted: Array, x: Array, points: int = points) -> Array:
            knots, values, _ = _solve(seen, wanted / step_mm, points, spacing, _NEAR)
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


def keyed_before(shown_mm: float, knots: Sequence[tuple[float, float]]) -> float:
    """What a display would show without its table: the place whose correction leads to ``shown_mm`` (mm).

    ``knots`` are (shown without the table, correction); none at all: no table.
    """
    if not knots:
        return shown_mm
    at, correction = zip(*knots, strict=True)
    raw = shown_mm
    for _ in range(50):
        raw, last = shown_mm - float(np.interp(raw, at, correction)), raw
        if abs(raw - last) < 1e-12:
            break
    return raw

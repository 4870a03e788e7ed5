"""The search behind a table of corrections: exact over every candidate knot and every value the display can hold.

Neighbouring segments share a value, so the state of the search is (knot, value): both passes go from left to right over
every candidate knot and every multiple of the display's step that the largest residual tried allows. A knot between
stations is kept to [min − ε, max + ε] of its two neighbouring stations' corrections, ε what the best straight line
leaves plus half a step, so that the line itself is never shut out. Largest residuals are bisected until they are known
to a millionth of the step.
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.align.sweep import minimum_zone

Spacing = Literal["equal", "free"]
Array = NDArray[np.float64]
_EDGE = 1e-9  # steps; keeps a value that is whole on paper from being lost to rounding
CLOSE = 1e-6  # steps to which the least largest residual is known
_NEVER = 1 << 20
_MOST_WORK = 20_000_000


class TableSearch:
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

    def mirrored(self) -> TableSearch:
        """The same search from right to left."""
        return TableSearch(-self.at[::-1], self.wanted[::-1], -self.knots[::-1], self.chain)

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
            rise = wanted - values[:, None]
            np.maximum.accumulate((rise - most - _EDGE) / over, axis=1, out=low[:, 1:])
            np.minimum.accumulate((rise + most + _EDGE) / over, axis=1, out=high[:, 1:])
        pick = self.after[i + 1 : stop] - begin
        live: NDArray[np.bool_] = np.asarray((low[:, pick] <= high[:, pick]).any(axis=0))
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
            here = (needed[i, : width[i]] < points).nonzero()[0]
            if not len(here):
                continue
            least, greatest, count = self.cones(i, (first[i] + here).astype(float), most)
            rows = slice(i + 1, i + 1 + count)
            base, size = first[rows], width[rows]
            low = np.minimum(np.maximum(least - base, 0), size).astype(np.int64)
            high = np.minimum(np.maximum(greatest - base, -1), size - 1).astype(np.int64)
            fewest, block = needed[i, here], needed[rows]
            for used in np.bincount(fewest).nonzero()[0]:
                mine = fewest == used
                covered = _covered(low, high, wide) if mine.all() else _covered(low[mine], high[mine], wide)
                block[covered & (block > used + 1)] = used + 1
        return needed

    def possible(self, most: float, points: int) -> bool:
        """Whether a table of at most ``points`` points leaves no more than ``most``."""
        return bool(self.needed(most, points)[-1].min() <= points)

    def least_largest(self, points: int, close: float, about: float = 0.0) -> float:
        """The least largest residual, to ``close`` steps; looked for near ``about`` first, if that is above zero."""
        low, high = 0.0, min(about, self.slack) if about > 0 else min(0.5, self.slack)
        if about > 0 and self.possible(high, points):
            for share in (0.95, 0.8):
                if not self.possible(share * high, points):
                    low = share * high
                    break
                high *= share
        else:
            grow = 1.2 if about > 0 else 2.0
            if about > 0:
                low, high = high, min(high * grow, self.slack)
            while high < self.slack and not self.possible(high, points):
                low, high = high, min(high * grow, self.slack)
        while high - low > close:
            middle = (low + high) / 2
            low, high = (low, middle) if self.possible(middle, points) else (middle, high)
        return high

    def smoothest(self, most: float, points: int) -> tuple[Array, Array] | None:
        """Knots and values of the table of least squares among those that leave no more than ``most``.

        ``most`` is known to ``CLOSE`` only, and a tie may be lost to rounding on one of the two ways: it is widened by
        as much until a table is found. None where there are too many of them to go through.
        """
        for wider in (1, 2, 4, 8, 16, 1 << 10, 1 << 20):
            tried = self._smoothest(most + wider * CLOSE, points)
            if not isinstance(tried, str):
                return tried
            if tried == "too many":
                return None
        raise AssertionError("a table that leaves this much was found before, and must be found again")

    def _smoothest(self, most: float, points: int) -> tuple[Array, Array] | Literal["too many", "none"]:
        first, width = self.window(most)
        forth, back = self.needed(most, points), self.mirrored().needed(most, points)[::-1]
        alive = (forth + back <= points + 1) & (np.arange(forth.shape[1]) < width[:, None])
        if int(alive.sum(axis=1).max()) * int(alive.any(axis=1).sum()) * alive.shape[1] > _MOST_WORK:
            return "too many"
        cost = np.full((points + 1, *alive.shape), np.inf)
        came = np.zeros((points + 1, *alive.shape, 2), dtype=np.int64)
        start = np.flatnonzero(alive[0])
        cost[1, 0, start] = (first[0] + start - self.wanted[0]) ** 2
        for i in range(len(self.knots) - 1):
            here = np.flatnonzero(alive[i])
            if len(here):
                self._spread(i, here, first, most, alive, cost, came)
        return self._walk_back(first, cost, came) if np.isfinite(cost[:, -1]).any() else "none"

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
            found = total.min(axis=0)
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
    begin = np.arange(count) * (wide + 1)
    size = count * (wide + 1)
    change = np.bincount((low + begin)[keep], minlength=size)
    change = change - np.bincount((high + (begin + 1))[keep], minlength=size)
    return np.asarray(np.cumsum(change.reshape(count, wide + 1), axis=1)[:, :wide] > 0)


_COARSE, _USUAL_PASSES, _LESS = 1e-2, 25.0, 16
"""To what a search of every second, fourth … value is known (steps of it), how often an exact one is halved, and by
how much less work is put into one that isn't exact anyway."""


def _candidates(at: Array, points: int, spacing: Spacing) -> Array:
    grid = np.linspace(at[0], at[-1], points)
    if spacing == "equal":
        return grid
    apart = np.abs(grid[:, None] - at[None, :]).min(axis=1) > 1e-9 * (at[-1] - at[0])
    return np.sort(np.concatenate([at, grid[apart]]))


def solve_table(
    at: Array, wanted: Array, points: int, spacing: Spacing, close: float = CLOSE
) -> tuple[Array, Array, int]:
    """Knots and values (in steps) of the best table, its largest residual to ``close`` steps, and how many steps count.

    Where corrections are so far apart against the step that trying every value would take minutes, only every second,
    fourth … value is tried: what is left is then hundreds of steps anyway.
    """
    return search_table(at, wanted, points, spacing, close)[:3]


def search_table(
    at: Array, wanted: Array, points: int, spacing: Spacing, close: float, about: float = 0.0
) -> tuple[Array, Array, int, float]:
    """As ``solve_table``, and the largest residual (in steps); one of ``about`` so much is looked for first."""
    knots = _candidates(at, points, spacing)
    every = 1
    while True:
        search = TableSearch(at, wanted / every, knots, spacing == "equal")
        near = close if every == 1 else max(close, _COARSE)
        passes = math.log2(max(2.0, search.slack / near))
        if search.work() * passes <= _MOST_WORK * _USUAL_PASSES / (1 if every == 1 else _LESS):
            most = search.least_largest(points, near, about / every)
            found = search.smoothest(most, points)
            if found is not None:
                return found[0], found[1] * every, every, most * every
        every *= 2

"""Picking shims from a drawer: exact bounded knapsack over thicknesses in tenths of a µm.

First the least error, errors within half the thinnest shim (or a tolerance given) counting as equal; then the fewest
pieces; of as many pieces an exact stack before a near one; then the fewest kinds.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vernus.core.errors import BadInputError

UNITS_PER_MM = 10_000
_NEVER = 10**9


@dataclass(frozen=True)
class ShimStock:
    """So many shims of one thickness (mm)."""

    thickness_mm: float
    count: int


@dataclass(frozen=True)
class ShimPick:
    """Shims to use: (thickness in mm, how many), their sum, and how far that is from what was wanted (mm)."""

    pieces: tuple[tuple[float, int], ...]
    total_mm: float
    error_mm: float

    @property
    def count(self) -> int:
        """How many pieces."""
        return sum(n for _, n in self.pieces)


def pick_shims(stock: Sequence[ShimStock], wanted_mm: float, tolerance_mm: float | None = None) -> ShimPick:
    """The best stack for ``wanted_mm``; nothing at all is a stack too.

    Raises BadInputError for a thickness or count that isn't positive, or a height that can't be wanted.
    """
    if not 0 <= wanted_mm <= 50:
        raise BadInputError(f"Shims for {wanted_mm:g} mm are not wanted; give a height from 0 to 50 mm (2 in).")
    kinds: dict[int, int] = {}
    for shim in stock:
        if not shim.thickness_mm > 0 or shim.count < 0:
            raise BadInputError("A shim has a thickness larger than zero and a count of zero or more.")
        size = round(shim.thickness_mm * UNITS_PER_MM)
        kinds[size] = kinds.get(size, 0) + shim.count
    kinds = {size: n for size, n in sorted(kinds.items()) if n > 0 and size > 0}
    target = round(wanted_mm * UNITS_PER_MM)
    if not kinds or target == 0:
        return ShimPick((), 0.0, -target / UNITS_PER_MM)
    limit = target + max(kinds)
    cost, taken = _stacks(kinds, limit)
    sums = np.flatnonzero(cost < _NEVER)
    error = np.abs(sums - target)
    slack = min(kinds) / 2 if tolerance_mm is None else tolerance_mm * UNITS_PER_MM
    near = sums[error <= max(float(error.min()), slack)]
    best = min(near.tolist(), key=lambda s: (int(cost[s]) // 1000, s != target, int(cost[s]), abs(s - target)))
    return _read_back(kinds, taken, best, target)


def _stacks(kinds: dict[int, int], limit: int) -> tuple[np.ndarray, list[np.ndarray]]:
    """Per sum the least cost (pieces·1000 + kinds), and per kind how many of it that takes."""
    cost = np.full(limit + 1, _NEVER, dtype=np.int64)
    cost[0] = 0
    taken: list[np.ndarray] = []
    for size, count in kinds.items():
        best, used = cost.copy(), np.zeros(limit + 1, dtype=np.int32)
        for n in range(1, min(count, limit // size) + 1):
            shifted = cost[: limit + 1 - n * size] + n * 1000 + 1
            place = best[n * size :]
            better = shifted < place
            place[better] = shifted[better]
            used[n * size :][better] = n
        cost = best
        taken.append(used)
    return cost, taken


def _read_back(kinds: dict[int, int], taken: list[np.ndarray], total: int, target: int) -> ShimPick:
    pieces: list[tuple[float, int]] = []
    rest = total
    for size, used in reversed(list(zip(kinds, taken, strict=True))):
        n = int(used[rest])
        if n:
            pieces.append((size / UNITS_PER_MM, n))
            rest -= n * size
    return ShimPick(tuple(pieces), total / UNITS_PER_MM, (total - target) / UNITS_PER_MM)

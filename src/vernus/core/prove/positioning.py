"""Positioning by several cycles in both directions: the figures of ISO 230-2:2014, clauses 3 and 5, from memory.

Deviations x_ij at target i in run j and direction ↑ (approached with growing position) or ↓; x̄ and s (n − 1) per target
and direction; B_i = x̄_i↑ − x̄_i↓. Repeatability R_i↑ = 4·s_i↑, R_i = max(2s_i↑ + 2s_i↓ + |B_i|, R_i↑, R_i↓). Accuracy A
spans x̄ ± 2s. A display read at a known place gives shown − target: the opposite sign of a machine sent to a target.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from vernus.core.budget import BudgetLine, Verdict
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, finding

LEAST_CYCLES = 5
LEAST_PER_METRE = 5

Array = NDArray[np.float64]


@dataclass(frozen=True)
class OneWay:
    """One direction's figures (mm): systematic deviation E, repeatability R, accuracy A; None where not computable."""

    systematic_mm: float | None
    repeatability_mm: float | None
    accuracy_mm: float | None


A_ABOVE = 2.3
A_BELOW = ((5.0, 10.0, 20.0), (3.9, 4.3, 4.8))
"""How many pooled standard deviations the accuracy found may lie above the true one, or below it by targets."""


@dataclass(frozen=True)
class Positioning:
    """The standard's figures in mm; bidirectional ones are None with one direction, repeatability with one run."""

    targets_mm: tuple[float, ...]
    mean_up_mm: tuple[float, ...] | None
    mean_down_mm: tuple[float, ...] | None
    reversal_mm: float | None
    mean_reversal_mm: float | None
    range_mean_mm: float | None
    systematic_mm: float | None
    repeatability_mm: float | None
    accuracy_mm: float | None
    up: OneWay | None
    down: OneWay | None
    findings: tuple[Finding, ...]
    spread_up_mm: tuple[float, ...] | None = None
    spread_down_mm: tuple[float, ...] | None = None

    cycles: int = 0

    def sampling(self) -> BudgetLine | None:
        """What the accuracy found may be off by because it rests on few cycles; None without repeats.

        A spans two values of x̄ ± 2s: u² = Σ s²·(1/n + 2/(n − 1)) over both, s² the mean of what was pooled over all
        targets and of the own one at either (first order, GUM 5.1; a simulation keeps it above 90 %).
        """
        parts = [(m, s) for m, s in ((self.mean_up_mm, self.spread_up_mm), (self.mean_down_mm, self.spread_down_mm))
                 if m is not None and s is not None]  # fmt: skip
        if not parts or self.cycles < 2:
            return None
        mean, spread = np.concatenate([m for m, _ in parts]), np.concatenate([s for _, s in parts])
        pooled = float((spread**2).mean())
        ends = spread[[int((mean + 2 * spread).argmax()), int((mean - 2 * spread).argmin())]]
        squares = float(((pooled + ends**2) / 2).sum()) * (1 / self.cycles + 2 / (self.cycles - 1))
        return BudgetLine(
            f"sampling by {self.cycles} cycles", math.sqrt(squares), "normal", freedom=len(mean) * (self.cycles - 1),
            remedy="Run more cycles.",
        )  # fmt: skip

    @property
    def pooled_mm(self) -> float | None:
        """The standard deviation of repeats, pooled over every target and direction; None without repeats."""
        spreads = [s for row in (self.spread_up_mm, self.spread_down_mm) if row is not None for s in row]
        return math.sqrt(math.fsum(s * s for s in spreads) / len(spreads)) if spreads and self.cycles > 1 else None

    def judge_accuracy(self, tolerance_mm: float, beside_mm: float = 0.0) -> Verdict | None:
        """Whether A keeps a tolerance: by how far A strays with few cycles; None where it isn't known.

        Pass where A and 2.3 pooled standard deviations keep it; fail where A less 3.9, 4.3 or 4.8 of them (5, 10, 20
        targets) doesn't: A is a largest of many and comes out too large. By simulation for five cycles, no source.
        ``beside_mm`` is U of what doesn't scatter: reference, temperatures, the display's step.
        """
        spread, found = self.pooled_mm, self.accuracy_mm
        if spread is None or found is None:
            return None
        if found + math.hypot(A_ABOVE * spread, beside_mm) <= tolerance_mm:
            return "pass"
        below = float(np.interp(len(self.targets_mm), *A_BELOW))
        return "fail" if found - math.hypot(below * spread, beside_mm) > tolerance_mm else "unsure"

    def band(self, up: bool) -> tuple[tuple[float, ...], tuple[float, ...]] | None:
        """Mean − 2s and mean + 2s (mm) at each target; None without that direction or without repeats."""
        mean, spread = (self.mean_up_mm, self.spread_up_mm) if up else (self.mean_down_mm, self.spread_down_mm)
        if mean is None or spread is None:
            return None
        pairs = list(zip(mean, spread, strict=True))
        return tuple(m - 2 * s for m, s in pairs), tuple(m + 2 * s for m, s in pairs)


@dataclass(frozen=True)
class _Direction:
    mean: Array
    spread: Array | None


def analyse_positioning(
    targets_mm: Sequence[float] | Array, up: Sequence[bool] | NDArray[np.bool_], deviations_mm: Sequence[float] | Array
) -> Positioning:
    """The figures from one row per reading: target (mm), whether approached upward, and deviation (mm).

    Raises BadInputError without two targets, or when a direction wasn't read at every target.
    """
    target = np.asarray(targets_mm, dtype=float)
    way = np.asarray(up, dtype=bool)
    deviation = np.asarray(deviations_mm, dtype=float)
    if not len(target) == len(way) == len(deviation):
        raise BadInputError("Every row needs a target, an approach and a value.")
    places, index = np.unique(target, return_inverse=True)
    if len(places) < 2:
        raise BadInputError("Positioning needs two targets at least; log another one.")
    rising = _direction(index, deviation, way, len(places), "+")
    falling = _direction(index, deviation, ~way, len(places), "-")
    cycles = min(int(np.bincount(index[chosen], minlength=len(places)).min()) for chosen in (way, ~way) if chosen.any())
    return replace(_figures(places, rising, falling, tuple(_coverage(places, cycles))), cycles=cycles)


def _direction(
    index: NDArray[np.intp], deviation: Array, chosen: NDArray[np.bool_], places: int, word: str
) -> _Direction | None:
    if not chosen.any():
        return None
    here, values = index[chosen], deviation[chosen]
    count = np.bincount(here, minlength=places)
    if (count == 0).any():
        raise BadInputError(f"Direction {word} was not read at every target; read it everywhere or leave it out.")
    mean = np.bincount(here, values, places) / count
    if (count < 2).any():
        return _Direction(mean, None)
    squares = np.bincount(here, (values - mean[here]) ** 2, places)
    return _Direction(mean, np.sqrt(squares / (count - 1)))


def _one_way(found: _Direction | None) -> OneWay | None:
    if found is None:
        return None
    systematic = float(np.ptp(found.mean))
    if found.spread is None:
        return OneWay(systematic, None, None)
    accuracy = float((found.mean + 2 * found.spread).max() - (found.mean - 2 * found.spread).min())
    return OneWay(systematic, float(4 * found.spread.max()), accuracy)


def _figures(
    places: Array, rising: _Direction | None, falling: _Direction | None, findings: tuple[Finding, ...]
) -> Positioning:
    def told(found: _Direction | None) -> tuple[float, ...] | None:
        return None if found is None else tuple(map(float, found.mean))

    def spread(found: _Direction | None) -> tuple[float, ...] | None:
        return None if found is None or found.spread is None else tuple(map(float, found.spread))

    reversal = mean_reversal = range_mean = systematic = repeatability = accuracy = None
    if rising is not None and falling is not None:
        apart = rising.mean - falling.mean
        both = (rising.mean + falling.mean) / 2
        means = np.concatenate([rising.mean, falling.mean])
        reversal, mean_reversal = float(np.abs(apart).max()), float(apart.mean())
        range_mean, systematic = float(np.ptp(both)), float(np.ptp(means))
        if rising.spread is not None and falling.spread is not None:
            s, t = rising.spread, falling.spread
            repeatability = float(np.maximum.reduce([2 * s + 2 * t + np.abs(apart), 4 * s, 4 * t]).max())
            spreads = np.concatenate([s, t])
            accuracy = float((means + 2 * spreads).max() - (means - 2 * spreads).min())
    return Positioning(
        tuple(map(float, places)), told(rising), told(falling), reversal, mean_reversal, range_mean, systematic,
        repeatability, accuracy, _one_way(rising), _one_way(falling), findings, spread(rising), spread(falling),
    )  # fmt: skip


def _coverage(places: Array, cycles: int) -> list[Finding]:
    span = float(places[-1] - places[0])
    wanted = max(LEAST_PER_METRE, int(np.ceil(LEAST_PER_METRE * span / 1000)))
    if cycles >= LEAST_CYCLES and len(places) >= wanted:
        return []
    return [
        finding(
            "below-the-standard",
            "info",
            "Targets: {places}, cycles: {cycles}. The standard asks for {wanted} targets and {least} cycles at least.",
            "The figures are worth having; to quote the standard by them, run the full number in both directions.",
            cycles=cycles,
            places=len(places),
            least=LEAST_CYCLES,
            wanted=wanted,
        )
    ]

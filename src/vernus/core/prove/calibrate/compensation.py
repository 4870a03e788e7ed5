"""A table of corrections to key in: few points, straight lines between them, values the display can hold.

Correction = true − shown, tabulated against what is shown; corrected = shown + table(shown); beyond the ends the last
value is held. Repeats at one station are averaged first. Least largest residual comes first, then least sum of
squares, then fewest points; ``vernus.core.prove.calibrate.table_search`` is exact.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vernus.core.align.sweep import minimum_zone
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Tiny, finding
from vernus.core.prove.calibrate.table_search import Array, Spacing, solve_table

DEFAULT_STEP_MM = 0.001


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
    check_table(points, step_mm)
    at, correction = stations_of(shown_mm, true_mm)
    knots, values, every = solve_table(at, correction / step_mm, points, spacing)
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


def check_table(points: int, step_mm: float) -> None:
    """Raise BadInputError for a number of points or a step (mm) that can't be."""
    if points < 2:
        raise BadInputError(f"A table has two points at least, the first and the last; {points} were asked for.")
    if points > 1000:
        raise BadInputError(f"No display takes {points} points; at most 1000 are worked out.")
    if not step_mm > 0:
        raise BadInputError("The step of the values must be larger than zero, such as 0.001 mm or 0.05 thou.")


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
                "Read more stations, or ask for fewer points.",
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

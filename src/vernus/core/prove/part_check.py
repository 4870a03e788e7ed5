"""What a drilled part says of the machine: the scale of both axes and their squareness, from its measured holes.

From places: measured = t + A·wanted by least squares; with c_x and c_y the columns of A, scale_x = |c_x|, scale_y =
|c_y|, squareness = asin(c_x·c_y/(|c_x||c_y|)) (positive: the angle from +X to +Y is below 90°), turn the direction of
c_x. Exact for any turn and shift of the part while it was measured. From
distances: the change of length along a direction is ε_x·cos² + ε_y·sin² + γ·sin·cos, by least squares. Uncertainties by
ordinary regression (GUM 5.1); U by ``stated``, one whole step over the span at least. All lengths in mm.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

import numpy as np
from numpy.typing import NDArray

from vernus.core.budget import BLUNDER_STEPS, stated, written_step
from vernus.core.errors import BadInputError

Array = NDArray[np.float64]
Place = tuple[float, float]
MOST_MM = 1e6


@dataclass(frozen=True)
class PartCheck:
    """Scales (measured over wanted), squareness (rad), their standard uncertainties (None without a reading to spare).

    ``residuals_mm`` are what remains of each hole (dx, dy) or each distance; ``freedom`` the readings to spare.
    ``turn`` (rad, counter-clockwise) is how the part lay while it was measured; None from distances. ``spans_mm`` is
    how far along X and Y it was measured, ``step_mm`` the step in which.
    """

    scale_x: float
    scale_y: float
    squareness: float
    u_scale_x: float | None
    u_scale_y: float | None
    u_squareness: float | None
    residuals_mm: tuple[tuple[float, ...], ...]
    freedom: int
    turn: float | None = None
    spans_mm: tuple[float, float] = (math.inf, math.inf)
    step_mm: float = 0.0
    odd: tuple[int, ...] = ()
    """The rows that lie far off what the others make, farthest first: asked about, never dropped."""

    @property
    def expanded_x(self) -> float | None:
        """U of scale_x at 95 %: by scatter, or one step of what was read over the span; None without one to spare."""
        return self._expanded(self.u_scale_x, self.step_mm / self.spans_mm[0])

    @property
    def expanded_y(self) -> float | None:
        """U of scale_y at 95 %."""
        return self._expanded(self.u_scale_y, self.step_mm / self.spans_mm[1])

    @property
    def expanded_square(self) -> float | None:
        """U of the squareness (rad) at 95 %."""
        return self._expanded(self.u_squareness, sum(self.step_mm / span for span in self.spans_mm))

    def _expanded(self, u: float | None, floor: float) -> float | None:
        return None if u is None or self.freedom <= 0 else stated(u, self.freedom, floor)

    @property
    def rms_mm(self) -> float:
        """Root mean square of what remains."""
        flat = [r for row in self.residuals_mm for r in row]
        return math.sqrt(math.fsum(r * r for r in flat) / len(flat))


def off_in_place(wanted_mm: Sequence[Place], measured_mm: Sequence[Place]) -> list[Place]:
    """How far each hole was found off its place (mm), the part laid on the pattern: shifted and turned, not stretched.

    Least squares over all holes (the two-dimensional orthogonal Procrustes problem); two holes at least.
    """
    want, got = (np.asarray(places, dtype=float) @ np.array([1, 1j]) for places in (wanted_mm, measured_mm))
    want, got = want - want.mean(), got - got.mean()
    turn = complex(np.vdot(got, want))
    off = got * (turn / (abs(turn) or 1.0)) - want
    return [(float(d.real), float(d.imag)) for d in off]


def check_places(wanted_mm: Sequence[Place], measured_mm: Sequence[Place], step_mm: float | None = None) -> PartCheck:
    """The check from places, both lists equally long; raises BadInputError for fewer than three that span a plane.

    ``step_mm`` is one whole step of what was read; None: as the figures are written.
    """
    want, got = _places(wanted_mm), _places(measured_mm)
    if len(want) != len(got):
        raise BadInputError("Every hole needs the place wanted and the place measured.")
    if len(want) < 3:
        raise BadInputError("Three measured holes at least are needed, not in one line; measure another one.")
    centre = want.mean(axis=0)
    span = float(np.abs(want - centre).max())
    design = np.column_stack([np.ones(len(want)), (want - centre) / (span or 1.0)])
    if not span or np.linalg.matrix_rank(design, tol=1e-6) < 3:
        raise BadInputError("The measured holes lie in one line, so squareness can't be seen; measure one beside it.")
    off = got - want
    fit, *_ = np.linalg.lstsq(design, off, rcond=None)
    left = off - design @ fit
    freedom = 2 * len(want) - 6
    inverse = np.linalg.inv(design.T @ design)
    sd = math.sqrt(float((left**2).sum()) / freedom) if freedom > 0 else None

    def u(*places: int) -> float | None:
        return None if sd is None else sd * math.sqrt(sum(float(inverse[p, p]) for p in places)) / span

    x, y = np.eye(2) + fit[1:] / span  # where a step along X and one along Y came to lie
    long_x, long_y = float(np.hypot(*x)), float(np.hypot(*y))
    if not x[0] * y[1] - x[1] * y[0] > 0:
        raise BadInputError(
            "Measured, the part is a mirror image of what was wanted: an axis runs the other way, or X and Y are "
            "swapped. Correct which column is which, or a sign."
        )
    step = written_step(got.ravel().tolist()) if step_mm is None else step_mm
    return PartCheck(
        long_x,
        long_y,
        math.asin(max(-1.0, min(1.0, float(x @ y) / (long_x * long_y)))),
        u(1),
        u(2),
        u(1, 2),
        tuple((float(dx), float(dy)) for dx, dy in left),
        freedom,
        math.atan2(float(x[1]), float(x[0])),
        (float(np.ptp(want[:, 0])), float(np.ptp(want[:, 1]))),
        step,
        _odd(design, off, step, _FAR_PLACES),
    )


def check_distances(
    from_mm: Sequence[Place], to_mm: Sequence[Place], measured_mm: Sequence[float], step_mm: float | None = None
) -> PartCheck:
    """The check from distances between wanted places; raises BadInputError without three different directions.

    ``step_mm`` is one whole step of what was read; None: as the figures are written.
    """
    start, end = _places(from_mm), _places(to_mm)
    got = np.asarray(measured_mm, dtype=float)
    if not len(start) == len(end) == len(got):
        raise BadInputError("Every distance needs both of its places and what was measured.")
    apart = end - start
    wanted = np.hypot(apart[:, 0], apart[:, 1]) if len(apart) else np.zeros(0)
    if not len(wanted) or not (wanted > 0).all() or not ((got > 0) & (got <= MOST_MM)).all():
        raise BadInputError("A distance goes from one place to another, and is larger than zero.")
    along = apart / wanted[:, None]
    design = wanted[:, None] * np.column_stack([along[:, 0] ** 2, along[:, 1] ** 2, along[:, 0] * along[:, 1]])
    size = float(wanted.max())
    if len(got) < 3 or np.linalg.matrix_rank(design / size, tol=1e-6) < 3:
        raise BadInputError(
            "Distances in three different directions at least are needed: along both axes and one across."
        )
    off = got - wanted
    fit, *_ = np.linalg.lstsq(design, off, rcond=None)
    left = off - design @ fit
    freedom = len(got) - 3
    sd = math.sqrt(float(left @ left) / freedom) if freedom > 0 else None
    inverse = np.linalg.inv(design.T @ design)
    x, y, square = (None if sd is None else sd * math.sqrt(float(inverse[n, n])) for n in range(3))
    rows = tuple((float(r),) for r in left)
    spans = float(np.abs(apart[:, 0]).max()), float(np.abs(apart[:, 1]).max())
    step = written_step(got.tolist()) if step_mm is None else step_mm
    return PartCheck(
        1 + float(fit[0]),
        1 + float(fit[1]),
        float(fit[2]),
        x,
        y,
        square,
        rows,
        freedom,
        None,
        spans,
        step,
        _odd(design, off, step, _FAR_DISTANCES),
    )


_FAR_PLACES = ((6.0, 7.0, 8.0, 10.0, 12.0, 16.0, 24.0), (23.0, 20.0, 10.5, 7.2, 5.7, 5.1, 4.5))
_FAR_DISTANCES = ((8.0, 10.0, 14.0, 20.0), (52.0, 23.0, 15.5, 10.2))
"""How many medians of what remains are asked about, by how many there are: 1 % of clean sets; by simulation."""


def _odd(design: Array, off: Array, step: float, far: tuple[tuple[float, ...], tuple[float, ...]]) -> tuple[int, ...]:
    """The rows far off the fit of least absolute remainders, which some slips can't pull off; up to a third."""
    n = len(off)
    if n < far[0][0]:
        return ()
    weights = np.ones(n)
    rows = off.reshape(n, -1)
    remains = np.zeros(n)
    for _ in range(30):
        root = np.sqrt(weights)[:, None]
        fit, *_ = np.linalg.lstsq(design * root, rows * root, rcond=None)
        remains = np.sqrt(((rows - design @ fit) ** 2).sum(axis=1))
        weights = 1 / np.maximum(remains, 1e-9 + 0.05 * median(remains))
    limit = max(BLUNDER_STEPS * step, float(np.interp(n, *far)) * median(remains))
    odd = sorted(np.flatnonzero(remains > limit).tolist(), key=lambda i: -float(remains[i]))
    return tuple(odd) if len(odd) <= n / 3 else ()


def _places(rows: Sequence[Place]) -> Array:
    places = np.asarray(rows, dtype=float).reshape(-1, 2)
    if not (np.abs(places) <= MOST_MM).all():  # not a number fails too
        raise BadInputError(f"Every place must be a number of at most {MOST_MM:g} mm, a kilometre.")
    return places

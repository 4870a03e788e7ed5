"""Aligning a scale by indicator: tilt with its uncertainty, bow, verdict, and which screw to move how far.

Stations and screws share one coordinate x along the body, growing to the right as one faces it. A reading r becomes
a height toward the indicator y = s·r·cos θ, s = +1 when the reading grows as the surface comes toward the indicator,
θ the angle between lever and surface (plunger: between plunger and normal).

Line: least squares y = a + b·x. u(b)² = s²/Sxx + 2·u_r²/(x_max − x_min)², u_r = division·cos θ/√12, with the
effective degrees of freedom of Welch and Satterthwaite (JCGM 100:2008 (GUM) G.4) and Student's t at 95 %.
Where sag is recognised, tilt and its u come from line plus parabola (x from the middle of the sweep), so that sag is
told by itself and never widens the ± of the tilt.
Bow: width of the least zone between two parallel lines that holds every point (minimum zone, ISO 12780-1:2011).
Verdict: slope × the length it matters over (screws or stroke; a reader's own length), never over a shorter sweep. Two
readings say nothing of their own scatter, so they never pass nor fail.
Tolerances are common practice, no source: 0.05 mm over that length serves, 0.01 mm is as good as anyone gets.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.budget import (
    BLUNDER_STEPS,
    SURELY_STEPS,
    Budget,
    BudgetLine,
    Verdict,
    blunders,
    blunders_of_line,
    combine_apart,
    judge,
    unsure_if_odd,
)
from vernus.core.errors import BadInputError
from vernus.core.uncertainty import student_t95

Sense = Literal["toward", "away"]
STEEPEST_DEG = 80.0
DEFAULT_TOLERANCE_MM = 0.05
DEFAULT_DIVISION_MM = 0.01


@dataclass(frozen=True)
class Indicator:
    """The indicator as held: its sense, the angle of lever or plunger, and one division of its dial."""

    sense: Sense = "toward"
    angle_deg: float = 0.0
    division_mm: float = DEFAULT_DIVISION_MM

    def __post_init__(self) -> None:
        if self.sense not in ("toward", "away"):
            raise BadInputError(f"The sense is “toward” or “away”; “{self.sense}” was given.")
        if not abs(self.angle_deg) <= STEEPEST_DEG:
            raise BadInputError(
                f"A lever at {self.angle_deg:g}° reads almost nothing of the surface; hold it below {STEEPEST_DEG:g}°."
            )
        if not self.division_mm > 0:
            raise BadInputError("The indicator's division must be larger than zero, such as 0.01 mm or 0.5 thou.")

    @property
    def sign(self) -> int:
        """+1 when the reading grows as the surface comes toward the indicator."""
        return 1 if self.sense == "toward" else -1

    @property
    def cosine(self) -> float:
        """cos θ: height seen per unit of reading."""
        return math.cos(math.radians(self.angle_deg))

    @property
    def u_reading_mm(self) -> float:
        """Standard uncertainty of one reading from the dial's division, as height (GUM 4.3.7)."""
        return self.division_mm * self.cosine / math.sqrt(12)


@dataclass(frozen=True)
class Line:
    """y = a + b·x by least squares; ``budget`` is of its rise over ``span_mm``. Slopes are mm per mm."""

    intercept_mm: float
    slope: float
    span_mm: float
    budget: Budget
    residuals_mm: tuple[float, ...]

    @property
    def u_slope(self) -> float:
        """Standard uncertainty of the slope."""
        return self.budget.u / self.span_mm

    def at(self, x_mm: float) -> float:
        """Height (mm) of the line at ``x_mm``."""
        return self.intercept_mm + self.slope * x_mm


@dataclass(frozen=True)
class Correction:
    """Keep the screw at ``hold_mm``, move the one at ``move_mm`` by ``shift_mm`` toward the indicator.

    With the indicator at ``park_mm`` the dial, now at ``dial_now_mm``, is brought to ``dial_target_mm``.
    """

    hold_mm: float
    move_mm: float
    shift_mm: float
    u_shift_mm: float
    park_mm: float
    dial_now_mm: float
    dial_target_mm: float


@dataclass(frozen=True)
class Alignment:
    """What one sweep says; lengths in mm, slopes mm per mm. ``bow_mm`` is None with fewer than three stations."""

    stations_mm: tuple[float, ...]
    heights_mm: tuple[float, ...]
    line: Line
    end_to_end_mm: float
    tolerance_mm: float
    judged_mm: float
    bow_mm: float | None
    sagging: bool
    verdict: Verdict
    bow_verdict: Verdict = "unsure"
    """Whether the bow keeps the tolerance, as far as the readings repeat."""
    bow_expanded_mm: float | None = None
    """U of the bow at 95 % (mm); None where the readings don't say how they scatter."""
    odd: tuple[int, ...] = ()
    """The readings, by their place in the log, that lie so far off the others that they are asked about."""

    @property
    def swept_mm(self) -> float:
        """Length of the sweep."""
        return self.line.span_mm

    @property
    def rise_mm(self) -> float:
        """What the tilt makes over ``judged_mm``: what the tolerance is compared with."""
        return self.line.slope * self.judged_mm

    @property
    def budget(self) -> Budget:
        """The budget of ``rise_mm``."""
        grows = self.judged_mm / self.line.span_mm
        return combine_apart([replace(line, sensitivity=line.sensitivity * grows) for line in self.line.budget.lines])

    @property
    def expanded_mm(self) -> float:
        """U of ``rise_mm``: t·u at 95 %."""
        return self.line.budget.expanded * self.judged_mm / self.line.span_mm

    @property
    def settle_mm(self) -> float:
        """The expanded uncertainty that would settle the verdict (0: none would)."""
        return abs(self.tolerance_mm - abs(self.rise_mm))

    @property
    def two_only(self) -> bool:
        """Whether the line rests on two readings, so that nothing shows how they scatter."""
        return len(self.stations_mm) < 3


def analyse_sweep(
    stations_mm: Sequence[float],
    readings_mm: Sequence[float],
    indicator: Indicator,
    tolerance_mm: float = DEFAULT_TOLERANCE_MM,
    judged_mm: float | None = None,
) -> Alignment:
    """Tilt, bow and verdict of one sweep; rows in any order, repeats allowed, both arrays in mm and equally long.

    ``judged_mm`` is the length that the tolerance is for; the stretch swept where it is longer, or None.
    Raises BadInputError for fewer than two different stations or a tolerance that isn't positive.
    """
    if len(stations_mm) != len(readings_mm):
        raise BadInputError("Every station needs one reading.")
    if len(set(stations_mm)) < 2:
        raise BadInputError("A sweep needs readings at two different stations at least; log one more.")
    if not tolerance_mm > 0:
        raise BadInputError("The tolerance must be larger than zero, such as 0.05 mm or 2 thou.")
    x = np.asarray(stations_mm, dtype=float)
    y = indicator.sign * indicator.cosine * np.asarray(readings_mm, dtype=float)
    sagging = is_sagging(x, y, indicator.u_reading_mm)
    line = (fit_sagging if sagging else fit_line)(x, y, indicator.u_reading_mm)
    over = max(line.span_mm, judged_mm or 0.0)
    odd = _asked_about(x, y, line, indicator)
    verdict = _judge_line(line, over, indicator, tolerance_mm)
    bowed = judge_bow(x, y, indicator.division_mm, tolerance_mm)
    if odd:
        kept = np.setdiff1d(np.arange(len(x)), odd)
        rest = (fit_sagging if sagging else fit_line)(x[kept], y[kept], indicator.u_reading_mm)
        verdict = unsure_if_odd(verdict, _judge_line(rest, over, indicator, tolerance_mm))
        without = judge_bow(x[kept], y[kept], indicator.division_mm, tolerance_mm)
        bowed = replace(bowed, verdict=unsure_if_odd(bowed.verdict, without.verdict))
    if finer_than_the_dial(readings_mm, indicator.division_mm):
        verdict = "unsure"
    return Alignment(
        stations_mm=tuple(map(float, x)),
        heights_mm=tuple(map(float, y)),
        line=line,
        end_to_end_mm=line.slope * line.span_mm,
        tolerance_mm=tolerance_mm,
        judged_mm=over,
        bow_mm=minimum_zone(x, y),
        sagging=sagging,
        verdict=verdict,
        bow_verdict=bowed.verdict,
        bow_expanded_mm=bowed.expanded_mm,
        odd=tuple(odd),
    )


def _judge_line(line: Line, over_mm: float, indicator: Indicator, tolerance_mm: float) -> Verdict:
    """A tilt against its tolerance; of two readings alone only what is off by a dozen divisions more fails."""
    rise = abs(line.slope * over_mm)
    if len(line.residuals_mm) < 3:
        far = tolerance_mm + SURELY_STEPS * indicator.division_mm * over_mm / line.span_mm
        return "fail" if rise > far else "unsure"
    return judge(rise, line.budget.expanded * over_mm / line.span_mm, tolerance_mm).verdict


def _read_again(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64], row: int, near_mm: float) -> bool:
    """Whether another reading at the same station says the same: then it is the body, and no slip."""
    same = np.flatnonzero(x_mm == x_mm[row])
    return any(n != row and abs(y_mm[n] - y_mm[row]) <= near_mm for n in same)


def _asked_about(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64], line: Line, indicator: Indicator) -> list[int]:
    """The readings far off what the others make; never so many that no line is left."""
    step = indicator.division_mm * indicator.cosine
    sags = is_sagging(x_mm, y_mm, indicator.u_reading_mm)  # a parabola's points lie off any line
    odd = blunders(line.residuals_mm, step, of_a_line=True) if sags else blunders_of_line(x_mm, y_mm, step)  # type: ignore[arg-type]
    odd = [n for n in odd if not _read_again(x_mm, y_mm, n, BLUNDER_STEPS * step)]
    kept = np.setdiff1d(np.arange(len(x_mm)), odd)
    return odd if len(kept) > 2 and len(set(x_mm[kept].tolist())) > 2 else []


_TYPED_SHARE = 0.05
"""How far a reading that was rounded as it was typed may be off a whole step, in steps."""


def finer_than_the_dial(readings_mm: Sequence[float], division_mm: float) -> bool:
    """Whether every reading lies below one division and they aren't what is read between its lines: another unit.

    A dial is read to halves or to fifths of a division; a body that is well aligned shows nothing but such figures.
    """
    most = max((abs(r) for r in readings_mm), default=0.0)
    if not 0 < most < division_mm * (1 - 1e-9):
        return False
    return not any(_whole(readings_mm, division_mm / parts) for parts in (2, 5))


def _whole(readings_mm: Sequence[float], step_mm: float) -> bool:
    """Whether readings are 0 or whole steps, as far as they are typed."""
    steps = [abs(r) / step_mm for r in readings_mm if r]
    return all(n > 0.5 and abs(n - round(n)) < _TYPED_SHARE for n in steps)


def propose_stations(low_mm: float, high_mm: float, count: int = 7, grid_mm: float = 1.0) -> list[float]:
    """``count`` stations evenly from ``low_mm`` to ``high_mm``, inside them and on a grid that is easy to set."""
    first, last = math.ceil(low_mm / grid_mm - 1e-9), math.floor(high_mm / grid_mm + 1e-9)
    if count < 2 or last - first < count - 1:
        raise BadInputError("There is no room for that many stations; sweep fewer, or a longer stretch.")
    return [round(first + (last - first) * n / (count - 1)) * grid_mm for n in range(count)]


def fit_line(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64], u_reading_mm: float) -> Line:
    """Least-squares line through points in mm, its slope's uncertainty never the residual spread alone."""
    n = len(x_mm)
    mean_x, mean_y = math.fsum(x_mm) / n, math.fsum(y_mm) / n
    sxx = math.fsum((x_mm - mean_x) ** 2)
    slope = math.fsum((x_mm - mean_x) * (y_mm - mean_y)) / sxx
    intercept = mean_y - slope * mean_x
    residuals = y_mm - (intercept + slope * x_mm)
    span = float(x_mm.max() - x_mm.min())
    scatter = math.sqrt(math.fsum(residuals**2) / (n - 2) / sxx) * span if n > 2 else 0.0
    budget = _rise_budget(u_reading_mm, scatter, n - 2, "Sweep more stations; a body that is bowed scatters too.")
    return Line(intercept, slope, span, budget, tuple(map(float, residuals)))


def fit_sagging(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64], u_reading_mm: float) -> Line:
    """The tilt of points (mm) that sag: the slope of line plus parabola at the middle of the sweep.

    The line goes through the parabola's height there; ``residuals_mm`` are what neither explains.
    """
    low, high = float(x_mm.min()), float(x_mm.max())
    span, middle = high - low, (low + high) / 2
    design = np.vander((x_mm - middle) / span, 3)
    curve, slope, height = (float(c) for c in np.linalg.lstsq(design, y_mm, rcond=None)[0])
    residuals = y_mm - design @ np.array([curve, slope, height])
    freedom = len(x_mm) - 3
    variance = math.fsum(residuals**2) / freedom
    scatter = math.sqrt(variance * float(np.linalg.inv(design.T @ design)[1, 1]))
    budget = _rise_budget(u_reading_mm, scatter, freedom, "Sweep more stations.")
    return Line(height - slope / span * middle, slope / span, span, budget, tuple(map(float, residuals)))


def _rise_budget(u_reading_mm: float, scatter_mm: float, freedom: int, more: str) -> Budget:
    """The budget of a line's rise over its span: the dial's division at both ends, and the scatter about the fit."""
    finer = "Use an indicator with a finer division."
    lines = [
        BudgetLine(
            "the dial's division, at both ends",
            u_reading_mm * 3**0.5,
            sensitivity=2**0.5,
            remedy=finer,
            step=u_reading_mm * 6**0.5,
        ),
    ]
    if freedom > 0:
        lines.append(BudgetLine("scatter about the line", scatter_mm, "normal", freedom=freedom, remedy=more))
    return combine_apart(lines)


_FARTHEST = ((3.0, 5.0, 7.0, 10.0, 20.0), (2.74, 3.55, 3.95, 4.33, 4.92))
"""How wide a zone n readings of unit scatter fill, at 97.5 %; by simulation, no source."""
_OF_THREE = math.sqrt(2)
"""How much farther a station lies off the chord of two others than one reading is off, at most."""
_CUBIC_FROM = 7
"""From so many stations on, one pass tells its own scatter: about a cubic."""


@dataclass(frozen=True)
class Bow:
    """A bow's verdict, and the U (mm) by which it passes; None where the readings don't say how they scatter."""

    verdict: Verdict
    expanded_mm: float | None = None


def judge_bow(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64], division_mm: float, tolerance_mm: float) -> Bow:
    """Whether the bow keeps a tolerance: by how the readings scatter, or one division where that is more.

    Scatter comes from the differences of passes, a line taken out of each, or of one pass about a cubic; fewer readings
    can't tell. By simulation, no source.
    """
    stations = np.unique(x_mm)
    rows = [y_mm[x_mm == x] for x in stations]
    passes, n = min(len(r) for r in rows), len(stations)
    means = np.array([r.mean() for r in rows])
    zone, found = minimum_zone(stations, means), _scatter_of(stations, rows, passes)
    if zone is None or found is None:
        return Bow("unsure")
    scatter, freedom = found
    t, alone = student_t95(freedom), scatter / math.sqrt(passes)
    sure = max(t * _OF_THREE * alone, division_mm)
    if zone + sure <= tolerance_mm:
        return Bow("pass", sure)
    wide = float(np.interp(n, *_FARTHEST))
    return Bow("fail" if zone - max(t / 1.96 * wide * alone, division_mm) > tolerance_mm else "unsure", sure)


def _scatter_of(
    x_mm: NDArray[np.float64], rows: Sequence[NDArray[np.float64]], passes: int
) -> tuple[float, float] | None:
    """The scatter of one reading (mm) and its degrees of freedom; None where the readings don't say."""
    n = len(x_mm)
    if passes >= 2 and n > 2:
        squares, design = 0.0, np.column_stack([np.ones(n), x_mm - x_mm.mean()])
        for k in range(passes):
            off = np.array([row[k] - row[:passes].mean() for row in rows])
            squares += float(((off - design @ np.linalg.lstsq(design, off, rcond=None)[0]) ** 2).sum())
        freedom = (passes - 1) * (n - 2)
        return math.sqrt(squares / freedom), freedom
    if n < _CUBIC_FROM:
        return None
    at = (x_mm - x_mm.mean()) / float(np.ptp(x_mm))
    design = np.vander(at, 4)
    once = np.array([row[0] for row in rows])
    rest = once - design @ np.linalg.lstsq(design, once, rcond=None)[0]
    return math.sqrt(float((rest**2).sum()) / (n - 4)), n - 4


def minimum_zone(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64]) -> float | None:
    """Width (mm, along y) of the least zone between parallel lines holding all points; None below three stations."""
    if len(set(x_mm.tolist())) < 3:
        return None
    best = math.inf
    for slope in _hull_slopes(x_mm, y_mm):
        rest = y_mm - slope * x_mm
        best = min(best, float(rest.max() - rest.min()))
    return best


def _hull_slopes(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64]) -> list[float]:
    """Slopes of the edges of the lower and the upper convex hull; the least zone lies along one of them."""
    slopes: list[float] = []
    for side in (1.0, -1.0):
        hull: list[tuple[float, float]] = []
        for point in sorted(zip(x_mm.tolist(), (side * y_mm).tolist(), strict=True)):
            if hull and hull[-1][0] == point[0]:
                continue
            while len(hull) > 1 and _turn(hull[-2], hull[-1], point) <= 0:
                hull.pop()
            hull.append(point)
        slopes += [side * (q[1] - p[1]) / (q[0] - p[0]) for p, q in itertools.pairwise(hull)]
    return slopes


def _turn(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float]) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])


def is_sagging(x_mm: NDArray[np.float64], y_mm: NDArray[np.float64], u_reading_mm: float) -> bool:
    """True for a dip or hump symmetric about the middle: table sag or a bowed extrusion.

    The quadratic term must explain at least 70 % of the residual and exceed three of its own standard
    uncertainties; at least five stations. The scatter is never taken below the dial's resolution.
    """
    if len(set(x_mm.tolist())) < 5:
        return False
    z = (x_mm - x_mm.mean()) / (x_mm.max() - x_mm.min())
    design = np.vander(z, 3)
    straight = y_mm - np.vander(z, 2) @ np.linalg.lstsq(np.vander(z, 2), y_mm, rcond=None)[0]
    curve = np.linalg.lstsq(design, y_mm, rcond=None)[0]
    left, before = y_mm - design @ curve, float(straight @ straight)
    if before == 0:
        return False
    scatter = max(float(left @ left) / (len(z) - 3), u_reading_mm**2)
    u_curve = math.sqrt(scatter * np.linalg.inv(design.T @ design)[0, 0])
    return 1 - float(left @ left) / before >= 0.7 and abs(float(curve[0])) > 3 * u_curve


def correct(
    sweep: Alignment,
    readings_mm: Sequence[float],
    indicator: Indicator,
    screws_mm: tuple[float, float],
    hold: Literal["left", "right"] = "left",
) -> Correction:
    """Which screw to move and to what dial figure, pivoting about the one held. All lengths in mm.

    The dial's change is s·(−b·(x_k − x_p))/cos θ at the swept station x_k nearest the moved screw; the target is the
    reading last logged there plus that change. Raises BadInputError when the two screws are in one place, or when
    every station lies on the pivot's side so that the dial would not see the move.
    """
    left, right = sorted(screws_mm)
    if right - left <= 0:
        raise BadInputError("The two screws are in one place; give the station of each.")
    pivot, moved = (left, right) if hold == "left" else (right, left)
    park = min(sweep.stations_mm, key=lambda x: abs(x - moved))
    if (park - pivot) * (moved - pivot) <= 0:
        raise BadInputError("No swept station lies on the moved screw's side of the screw held; sweep nearer to it.")
    last = max(i for i, x in enumerate(sweep.stations_mm) if x == park)
    change = indicator.sign * (-sweep.line.slope * (park - pivot)) / indicator.cosine
    return Correction(
        hold_mm=pivot,
        move_mm=moved,
        shift_mm=-sweep.line.slope * (moved - pivot),
        u_shift_mm=abs(moved - pivot) * sweep.line.u_slope,
        park_mm=park,
        dial_now_mm=readings_mm[last],
        dial_target_mm=readings_mm[last] + change,
    )


def which_way(sweep: Alignment) -> str:
    """Which way a body leans as its stations grow: a sign in words."""
    return "falls away" if sweep.rise_mm < 0 else "comes nearer by"


def cosine_error(length_mm: float, slope: float) -> float:
    """How much a tilted scale misreads (mm) over ``length_mm``: L·(1 − cos b)."""
    return length_mm * 2 * math.sin(math.atan(slope) / 2) ** 2

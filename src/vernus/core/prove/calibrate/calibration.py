"""Checking a display against something better: counts per unit, and the linear factor.

Counts per unit: the display shows D after the true move L with counts C set; true counts = C·D/L,
u_rel² = (u_D/D)² + (u_L/L)², u_D = √(s²/n + entered² + q²/6), q the larger of one count and the display's last step
(two roundings, GUM 4.3.7). Repeats are averaged, moves of different length weighted: C = C_set·ΣDL/ΣL².
Linear factor: shown = i + k·true by least squares; factor to key in = factor set × 1/k.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.budget import Verdict, blunders, blunders_of_line, judge, stated
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Ppm, Sentence, Severity, conclusion, finding
from vernus.core.prove.calibrate.mixups import review_ratio
from vernus.core.uncertainty import student_t95

MM_PER_INCH = 25.4
MOST_MM = 1e6
STANDARD_COUNTS_UM = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0)
BEAM_COUNTS_PER_INCH = 2560.0  # capacitive beams; common practice, no source
DEFAULT_ERROR_MM = 0.01
SUSPECT_PPM = 300.0  # a sealed scale; common practice, no source


@dataclass(frozen=True)
class Counts:
    """Counts per unit from one move; ``nominal_per_mm`` is the standard count it agrees with, if exactly one."""

    counts_per_mm: float
    u_rel: float
    nominal_per_mm: float | None
    min_length_mm: float | None
    error_over_travel_mm: float | None
    reversed: bool
    findings: tuple[Finding, ...] = ()

    @property
    def counts_per_inch(self) -> float:
        """Counts per inch, exactly 25.4 times the counts per mm."""
        return self.counts_per_mm * MM_PER_INCH

    @property
    def count_um(self) -> float:
        """One count in µm."""
        return 1000 / self.counts_per_mm

    @property
    def nominal_per_inch(self) -> float | None:
        """The standard count per inch."""
        return None if self.nominal_per_mm is None else self.nominal_per_mm * MM_PER_INCH


@dataclass(frozen=True)
class MoveCheck:
    """One move, or the mean of ``n``: what was shown, what was really moved, how well both are known. Lengths in mm.

    ``scatter_mm`` is the standard deviation (n − 1) of the shown lengths about the mean.
    """

    shown_mm: float
    moved_mm: float
    set_per_mm: float
    u_shown_mm: float = 0.0
    u_moved_mm: float = 0.0
    step_mm: float = 0.0
    n: int = 1
    scatter_mm: float = 0.0

    def __post_init__(self) -> None:
        if self.moved_mm == 0:
            raise BadInputError("The move is zero, so nothing can be divided by it; move a known distance first.")
        if self.shown_mm == 0:
            raise BadInputError("The display showed no movement; check that it is on, connected and counting.")
        if not self.set_per_mm > 0:
            raise BadInputError("The counts set in the display must be larger than zero, such as 5080 per inch.")
        for value, name in ((self.u_shown_mm, "shown"), (self.u_moved_mm, "moved"), (self.step_mm, "step")):
            if value < 0:
                raise BadInputError(f"The uncertainty or step of what was {name} can't be negative.")

    @property
    def u_display_mm(self) -> float:
        """Standard uncertainty of the shown distance, the rounding at both ends included."""
        rounding = max(1 / self.set_per_mm, self.step_mm) / math.sqrt(6)
        return math.hypot(self.u_shown_mm, rounding, self.scatter_mm / math.sqrt(self.n))

    @property
    def u_true_move_mm(self) -> float:
        """Both uncertainties as true length, √((u_D·L/D)² + u_L²)."""
        return math.hypot(self.u_display_mm * self.moved_mm / self.shown_mm, self.u_moved_mm)

    @property
    def u_rel(self) -> float:
        """Relative standard uncertainty of the counts."""
        return self.u_true_move_mm / abs(self.moved_mm)

    @property
    def expanded_rel(self) -> float:
        """U of the counts at 95 %, relative: the scatter of repeats by its own Student's t, or one whole step."""
        true_of_shown = abs(self.moved_mm / self.shown_mm)
        step = max(1 / self.set_per_mm, self.step_mm) * true_of_shown
        rest = math.hypot(self.u_shown_mm * true_of_shown, self.u_moved_mm)
        u = stated(self.scatter_mm / math.sqrt(self.n) * true_of_shown, self.n - 1, step, rest)
        return u / abs(self.moved_mm)

    def judge(self, error_mm: float, travel_mm: float | None = None, *, doubtful: bool = False) -> Verdict:
        """Whether the counts set keep an error over a travel, or over the move itself where none is given.

        One move says nothing of how it repeats: it neither passes nor fails by itself, nor does what is asked about.
        """
        if doubtful or self.n < 2:
            return "unsure"
        over, shown = travel_mm if travel_mm is not None else abs(self.moved_mm), abs(self.shown_mm / self.moved_mm)
        return judge(abs(shown - 1) * over, self.expanded_rel * over * shown, error_mm).verdict

    @property
    def k95(self) -> float:
        """The factor that expands ``u_rel`` to 95 %: Student's t (GUM G.4) where repeats scatter."""
        scatter = self.scatter_mm / math.sqrt(self.n) * abs(self.moved_mm / self.shown_mm)
        freedom = self.u_true_move_mm**4 / (scatter**4 / (self.n - 1)) if scatter > 0 else math.inf
        return student_t95(freedom)

    @property
    def k(self) -> float:
        """The same, never below 2: within so many ``u_rel`` a standard count agrees."""
        return max(2.0, self.k95)


def average_moves(
    shown_mm: Sequence[float],
    moved_mm: Sequence[float],
    set_per_mm: float,
    u_shown_mm: float = 0.0,
    u_moved_mm: float = 0.0,
    step_mm: float = 0.0,
) -> MoveCheck:
    """Repeated moves as one, of their root mean square length: shown/moved = ΣDL/ΣL², scatter about that.

    Raises BadInputError for none, for lists of different length, and for moves of zero.
    """
    if not shown_mm or len(shown_mm) != len(moved_mm):
        raise BadInputError("Every move needs what was truly moved and what the display showed.")
    if any(moved == 0 for moved in moved_mm):
        raise BadInputError("A move is zero, so nothing can be divided by it; move a known distance.")
    if not all(abs(length) <= MOST_MM for length in (*shown_mm, *moved_mm)):
        raise BadInputError(f"No axis moves more than {MOST_MM:g} mm, a kilometre; look at the figures and their unit.")
    n = len(shown_mm)
    squares = math.fsum(m * m for m in moved_mm)
    ratio = math.fsum(s * m for s, m in zip(shown_mm, moved_mm, strict=True)) / squares
    length = abs(moved_mm[0]) if n == 1 else math.sqrt(squares / n)
    length *= -1 if all(m < 0 for m in moved_mm) else 1
    left = math.fsum((s - ratio * m) ** 2 for s, m in zip(shown_mm, moved_mm, strict=True))
    scatter = math.sqrt(left / (n - 1)) if n > 1 else 0.0
    shown = shown_mm[0] if n == 1 else ratio * length
    return MoveCheck(shown, length, set_per_mm, u_shown_mm, u_moved_mm, step_mm, n, scatter)


def odd_ones(shown_mm: Sequence[float], moved_mm: Sequence[float], step_mm: float) -> list[int]:
    """Which of at least three repeats lie far off the others, against what the median of shown over moved makes."""
    if len(shown_mm) < 3:
        return []
    ratio = statistics.median(s / m for s, m in zip(shown_mm, moved_mm, strict=True))
    return blunders([s - ratio * m for s, m in zip(shown_mm, moved_mm, strict=True)], step_mm)


def odd_stations(shown_mm: Sequence[float], true_mm: Sequence[float], step_mm: float) -> list[int]:
    """Which of at least five stations lie far off the line of the others; the zero alone is told as such elsewhere."""
    return [k for k in blunders_of_line(true_mm, shown_mm, step_mm) if true_mm[k] != 0]


def review_repeats(shown_mm: Sequence[float], moved_mm: Sequence[float], step_mm: float) -> list[Finding]:
    """A finding on each repeat that lies far off the others, by its number from 1; asked about, never dropped."""
    return [_doubtful(k, shown_mm[k], moved_mm[k]) for k in odd_ones(shown_mm, moved_mm, step_mm)]


def review_stations(shown_mm: Sequence[float], true_mm: Sequence[float], step_mm: float) -> list[Finding]:
    """A finding on each station that lies far off the line of the others; asked about, never dropped."""
    return [_doubtful(k, shown_mm[k], true_mm[k]) for k in odd_stations(shown_mm, true_mm, step_mm)]


def _doubtful(row: int, shown_mm: float, moved_mm: float) -> Finding:
    return finding(
        "doubtful",
        "caution",
        "Check {n}, {shown} for {moved}, lies far off the others.",
        "Move it once more; correct or delete that line if it was a slip.",
        n=row + 1,
        shown=Mm(shown_mm),
        moved=Mm(moved_mm),
    )


def count_per_unit(
    check: MoveCheck,
    travel_mm: float | None = None,
    error_mm: float = DEFAULT_ERROR_MM,
    per: Literal["in", "mm"] = "mm",
    suspect_ppm: float = SUSPECT_PPM,
) -> Counts:
    """Counts per mm from one move, the standard count it agrees with, and the shortest move that is good enough.

    Findings name counts per ``per``; farther than ``suspect_ppm`` from every standard count they are doubted.

    ``min_length_mm`` = 2·T·u/e: over the travel T the counts then err by at most e (k = 2). Without a travel it is
    None. Raises BadInputError for a travel or wanted error that isn't positive.
    """
    if travel_mm is not None and not travel_mm > 0:
        raise BadInputError("The travel must be larger than zero.")
    if not error_mm > 0:
        raise BadInputError("The error wanted must be larger than zero, such as 0.01 mm or 0.5 thou.")
    per_mm = check.set_per_mm * abs(check.shown_mm / check.moved_mm)
    u_rel = check.u_rel
    near = nominal_counts(per_mm, u_rel, check.k)
    least = None if travel_mm is None else least_move(check.u_true_move_mm, travel_mm, error_mm)
    return Counts(
        counts_per_mm=per_mm,
        u_rel=u_rel,
        nominal_per_mm=near[0] if len(near) == 1 else None,
        min_length_mm=least,
        error_over_travel_mm=None if travel_mm is None else u_rel * travel_mm,
        reversed=check.shown_mm * check.moved_mm < 0,
        findings=tuple(_review_counts(check, per_mm, near, travel_mm, least, error_mm, per, suspect_ppm)),
    )


def least_move(u_move_mm: float, travel_mm: float, error_mm: float) -> float:
    """The shortest move (mm), known to ``u_move_mm``: its counts err by ``error_mm`` over the travel (k = 2)."""
    return 2 * travel_mm * u_move_mm / error_mm


def nominal_counts(per_mm: float, u_rel: float, k: float = 2.0) -> list[float]:
    """Standard counts per mm that agree with ``per_mm`` within k·u_rel."""
    standard = [1000 / um for um in STANDARD_COUNTS_UM] + [BEAM_COUNTS_PER_INCH / MM_PER_INCH]
    return [c for c in standard if abs(per_mm / c - 1) <= k * u_rel]


def _review_counts(
    check: MoveCheck,
    per_mm: float,
    near: Sequence[float],
    travel_mm: float | None,
    least_mm: float | None,
    error_mm: float,
    per: Literal["in", "mm"],
    suspect_ppm: float,
) -> list[Finding]:
    findings: list[Finding] = []
    if check.shown_mm * check.moved_mm < 0:
        findings.append(
            finding(
                "direction-reversed",
                "caution",
                "The display counted the other way from the move.",
                "Change the direction setting of this axis; the counts themselves stand.",
            )
        )
    if len(near) > 1:
        findings.append(
            finding(
                "two-standard-counts",
                "caution",
                "The move was too short to tell {n} standard counts apart.",
                "Repeat over a longer move.",
                n=len(near),
            )
        )
    lands = len(near) == 1 or (not near and abs(_from_standard(per_mm)[1]) <= suspect_ppm)
    mixed = review_ratio(check.shown_mm / check.moved_mm, check.u_rel, lands=lands)
    findings += mixed
    if not near and not mixed:
        findings += _off_standard(per_mm, per, suspect_ppm)
    other = len(near) == 1 and abs(near[0] / check.set_per_mm - 1) > 1e-6  # a standard count, but not the one set
    if travel_mm is not None and least_mm is not None and abs(check.moved_mm) < least_mm * (1 - 1e-12):
        findings.append(_too_short(check, travel_mm, least_mm, error_mm, standard=other))
    return findings


def _from_standard(per_mm: float) -> tuple[float, float]:
    """The standard count per mm that is nearest, and how far off it some counts are (ppm)."""
    standard = [1000 / um for um in STANDARD_COUNTS_UM] + [BEAM_COUNTS_PER_INCH / MM_PER_INCH]
    nearest = min(standard, key=lambda c: abs(math.log(per_mm / c)))
    return nearest, (per_mm / nearest - 1) * 1e6


def _off_standard(per_mm: float, per: Literal["in", "mm"], suspect_ppm: float) -> list[Finding]:
    nearest, ppm = _from_standard(per_mm)
    if abs(ppm) <= suspect_ppm:
        return []
    return [
        finding(
            "counts-suspect",
            "caution",
            "The counts are {ppm} from the nearest standard one, {nearest} per {unit}: more than a good scale errs.",
            "Before keying it in, check the reference, the zero at both ends, the mm/inch setting of the display and "
            "the middle and full stroke.",
            ppm=Ppm(ppm),
            nearest=f"{nearest * (MM_PER_INCH if per == 'in' else 1):.6g}",
            unit="inch" if per == "in" else "mm",
        )
    ]


def _too_short(check: MoveCheck, travel_mm: float, least_mm: float, error_mm: float, *, standard: bool) -> Finding:
    """The move was too short to be keyed in by its own figure; no objection to the one standard count in its reach."""
    severity: Severity = "info" if standard else "caution"
    values = {
        "moved": Mm(abs(check.moved_mm)),
        "travel": Mm(travel_mm),
        "least": Mm(least_mm),
        "makes": Fine(check.k95 * check.u_rel * travel_mm),
        "error": Fine(error_mm),
    }
    if least_mm > travel_mm:
        return finding(
            "no-single-move",
            severity,
            "No single move can do it: a move of {least} would be needed for {error}, more than the travel of "
            "{travel}. This one leaves {makes} over the travel.",
            "Use a better reference or zero detector, or check at many stations and fit a linear factor.",
            **values,
        )
    return finding(
        "move-too-short",
        severity,
        "A move of {moved} leaves an uncertainty of {makes} over the travel of {travel}; {error} is wanted.",
        "Repeat over at least {least}.",
        **values,
    )


@dataclass(frozen=True)
class LinearFactor:
    """shown = intercept + slope·true, and the factor to key in. ``u_…`` and the SD are None with two points."""

    factor: float
    u_factor: float | None
    ppm: float
    slope: float
    u_slope: float | None
    intercept_mm: float
    u_intercept_mm: float | None
    correlation: float
    residual_sd_mm: float | None
    residuals_mm: tuple[float, ...]
    findings: tuple[Finding, ...] = ()
    span_mm: float = 1.0
    """From the first station to the last."""
    worst_mm: float = 0.0
    """How far a station is off the first one at most, as it is set."""

    def expanded(self, step_mm: float = 0.0) -> float | None:
        """U of the factor at 95 %, with one whole step of the display over the span; None with two stations."""
        if self.u_factor is None:
            return None
        return stated(self.u_factor, len(self.residuals_mm) - 2, step_mm / self.span_mm * self.factor)

    def judge(self, error_mm: float, step_mm: float = 0.0, *, doubtful: bool = False) -> Verdict:
        """Whether what is set keeps an error over the stations; *unsure* with two of them, or one that doesn't keep it.

        What is asked about decides nothing.
        """
        sure = self.expanded(step_mm)
        if sure is None or doubtful:
            return "unsure"
        found = judge(abs(self.slope - 1) * self.span_mm, sure / self.factor * self.span_mm, error_mm).verdict
        return "unsure" if found == "pass" and self.worst_mm > error_mm else found

    def predicted_error(self, true_mm: float) -> tuple[float, float | None]:
        """Error shown − true (mm) at ``true_mm`` and its standard uncertainty, the correlation taken into account."""
        error = self.intercept_mm + (self.slope - 1) * true_mm
        if self.u_intercept_mm is None or self.u_slope is None:
            return error, None
        mixed = 2 * true_mm * self.correlation * self.u_intercept_mm * self.u_slope
        return error, math.sqrt(max(0.0, self.u_intercept_mm**2 + (true_mm * self.u_slope) ** 2 + mixed))


def fit_factor(
    true_mm: Sequence[float], shown_mm: Sequence[float], current: float = 1.0, suspect_ppm: float = SUSPECT_PPM
) -> LinearFactor:
    """The linear factor from stations: ``true_mm`` and ``shown_mm`` equally long, ``current`` the factor now set.

    Raises BadInputError for fewer than two different stations, a current factor of zero or less, or a display that
    shows the same everywhere.
    """
    if len(true_mm) != len(shown_mm):
        raise BadInputError("Every target needs one shown value.")
    if len(set(true_mm)) < 2:
        raise BadInputError("A linear factor needs two different stations at least; log one more.")
    if not current > 0:
        raise BadInputError("The factor now set must be larger than zero, such as 1.000000.")
    n = len(true_mm)
    mean_x, mean_y = math.fsum(true_mm) / n, math.fsum(shown_mm) / n
    dx = [x - mean_x for x in true_mm]
    sxx = math.fsum(d * d for d in dx)
    slope = math.fsum(d * (y - mean_y) for d, y in zip(dx, shown_mm, strict=True)) / sxx
    if slope <= 0:
        raise BadInputError("The shown values do not grow with the true ones; check direction and columns.")
    intercept = mean_y - slope * mean_x
    residuals = tuple(y - mean_y - slope * d for d, y in zip(dx, shown_mm, strict=True))
    sd = math.sqrt(math.fsum(r * r for r in residuals) / (n - 2)) if n > 2 else None
    u_slope = None if sd is None else sd / math.sqrt(sxx)
    lever = math.sqrt(1 / n + mean_x**2 / sxx)
    ppm = (1 / slope - 1) * 1e6
    return LinearFactor(
        factor=current / slope,
        u_factor=None if u_slope is None else current * u_slope / slope**2,
        ppm=ppm,
        slope=slope,
        u_slope=u_slope,
        intercept_mm=intercept,
        u_intercept_mm=None if sd is None else sd * lever,
        correlation=-mean_x / math.sqrt(sxx) / lever,
        residual_sd_mm=sd,
        residuals_mm=residuals,
        findings=tuple(_review_factor(ppm, u_slope, slope, suspect_ppm, max(1, n - 2))),
        span_mm=max(true_mm) - min(true_mm),
        worst_mm=max(abs(s - t - shown_mm[0] + true_mm[0]) for t, s in zip(true_mm, shown_mm, strict=True)),
    )


def _review_factor(
    ppm: float, u_slope: float | None, slope: float, suspect_ppm: float, freedom: float
) -> list[Finding]:
    findings: list[Finding] = []
    if abs(ppm) > suspect_ppm:
        findings.append(
            finding(
                "ppm-suspect",
                "caution",
                "The correction of {ppm} is more than the {limit:.0f} ppm a good scale of this kind may need.",
                "Before keying it in, check the reference, the temperature, the mounting and the count size, and read "
                "the middle and the full stroke again.",
                ppm=Ppm(ppm),
                limit=suspect_ppm,
            )
        )
    if u_slope is None:
        findings.append(
            finding(
                "two-stations",
                "info",
                "Two stations give a factor but say nothing of how far to trust it.",
                "Add a station in the middle of the travel and one at the far end.",
            )
        )
    elif abs(slope - 1) < student_t95(freedom) * u_slope:
        findings.append(
            finding(
                "factor-not-needed",
                "info",
                "The correction of {ppm} is inside its own uncertainty of {u:.0f} ppm.",
                "Leave the factor as it is; check over a longer distance if the job needs better.",
                ppm=Ppm(ppm),
                u=student_t95(freedom) * u_slope * 1e6,
            )
        )
    return findings


def instruct_counts(counts: Counts, moved_mm: float, per_inch: bool, keyed: Sentence) -> Sentence:
    """What to key in, in the display's words, and what to do after it."""
    value = counts.counts_per_inch if per_inch else counts.counts_per_mm
    unit = "inch" if per_inch else "mm"
    tail = " Then repeat the move until the figure stops changing."
    if counts.nominal_per_mm is not None:
        text = (
            "Key {keyed} into the display: the measured {value} agrees with this standard count within its "
            "uncertainty, so the difference is the measurement's." + tail
        )
        return conclusion(text, {"keyed": keyed, "value": f"{value:.2f}"})
    if counts.min_length_mm is not None and counts.min_length_mm > abs(moved_mm):
        return Sentence(
            "Don't key in {value} counts per {unit} yet: repeat over a longer move first, at least {least} or the "
            "whole travel.",
            {"value": f"{value:.2f}", "unit": unit, "least": Mm(counts.min_length_mm)},
        )
    return conclusion("Key {keyed} into the display." + tail, {"keyed": keyed})


def instruct_factor(fit: LinearFactor, keyed: Sentence) -> Sentence:
    """What to key in, in the display's own way of writing it."""
    if any(f.code == "factor-not-needed" for f in fit.findings):
        return conclusion("Leave the factor as it is: the error found is inside its own uncertainty.")
    first = next((f for f in fit.findings if f.code == "ppm-suspect"), None)
    if first is not None:
        return first.remedy
    return conclusion(
        "Key in {keyed} (a correction of {ppm}). Then run the stations again to see that it took.",
        {"keyed": keyed, "ppm": Ppm(fit.ppm)},
    )

"""The linear factor: shown = i + k·true by least squares; the factor to key in is the one set × 1/k."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.budget import Verdict, judge, stated
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Ppm, Sentence, conclusion, finding
from vernus.core.prove.calibrate.counts import SUSPECT_PPM
from vernus.core.uncertainty import student_t95


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

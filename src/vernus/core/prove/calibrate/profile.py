"""What a display takes, and how a correction is written for it.

A correction 1/k (true = shown/k) is keyed in as a multiplier, as ppm, as mm per metre, or as the true and the shown
length of one move; some displays want the error instead of the correction, so the sign is said too. Counts are whole
or with decimals, per inch or per mm, within a range. Common practice, no source.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, KeyedLength, Mm, Sentence, Size, finding
from vernus.core.prove.calibrate.calibration import MM_PER_INCH
from vernus.core.prove.calibrate.table_search import Spacing

PAIR_MM = 100.0
"""The true length of a pair where no move gives one."""
FactorStyle = Literal["multiplier", "ppm", "mm-per-m", "pair"]
Wants = Literal["correction", "error"]


@dataclass(frozen=True)
class DisplayProfile:
    """What one display takes. ``least_counts`` and ``most_counts`` are per ``per``; ``table_points`` 0: no table.

    ``origin_mm`` is the shown position its table counts from.
    """

    per: Literal["in", "mm"] = "mm"
    whole_counts: bool = True
    least_counts: float | None = None
    most_counts: float | None = None
    factor: FactorStyle = "multiplier"
    wants: Wants = "correction"
    factor_decimals: int = 6
    table_points: int = 0
    equal_spacing: bool = False
    table_step_mm: float = 0.001
    shows: Literal["radius", "diameter"] = "radius"
    origin_mm: float = 0.0

    @property
    def spacing(self) -> Spacing:
        """How the points of its table are spaced."""
        return "equal" if self.equal_spacing else "free"


Way = Literal["counts_per_inch", "counts_per_mm", "factor", "ppm", "mm_per_m", "pair", "table"]


@dataclass(frozen=True)
class Keyed:
    """A figure as the display takes it, the value it stands for (counts or factor), and what that costs.

    ``typed`` is what the fingers key in by ``way``: a number, the true and the shown length of a pair (mm), or the rows
    of a table (position, correction; mm).
    """

    words: Sentence
    value: float
    way: Way
    typed: float | tuple[float, float] | tuple[tuple[float, float], ...]
    findings: tuple[Finding, ...] = ()


def key_counts(profile: DisplayProfile, counts_per_mm: float, travel_mm: float | None) -> Keyed:
    """Counts as the display takes them, rounded to whole ones where it takes no others.

    Raises BadInputError for counts that aren't positive.
    """
    if not counts_per_mm > 0:
        raise BadInputError("Counts must be larger than zero.")
    wanted = counts_per_mm * (MM_PER_INCH if profile.per == "in" else 1.0)
    value = float(round(wanted)) if profile.whole_counts else round(wanted, 3)
    found = []
    if value <= 0:
        raise BadInputError(f"{wanted:.4g} counts per {profile.per} round to none; this display can't take this scale.")
    off = abs(value / wanted - 1) * (travel_mm or 0.0)
    if off > 0.001:
        found.append(
            finding(
                "whole-counts-cost",
                "caution",
                "The display takes {value} for the {wanted} wanted: {off} over the travel of {travel}.",
                "Take out the rest with its linear factor or table, if it has one.",
                value=f"{value:.7g}",
                wanted=f"{wanted:.3f}",
                off=Fine(off),
                travel=Mm(travel_mm or 0.0),
            )
        )
    low, high = profile.least_counts, profile.most_counts
    if (low is not None and value < low) or (high is not None and value > high):
        found.append(
            finding(
                "counts-out-of-range",
                "stop",
                "The display takes {low} to {high} counts; {value} are wanted.",
                "Check the unit it counts per, and the count size of the scale; if both are right, it is the wrong "
                "display.",
                low="any" if low is None else f"{low:g}",
                high="any" if high is None else f"{high:g}",
                value=f"{value:.7g}",
            )
        )
    unit = "inch" if profile.per == "in" else "mm"
    words = Sentence("{v} counts per {unit}", {"v": f"{value:.7g}", "unit": unit})
    return Keyed(words, value, "counts_per_inch" if profile.per == "in" else "counts_per_mm", value, tuple(found))


def _too_coarse(factor: float) -> BadInputError:
    return BadInputError(
        f"The display's steps are too coarse to write a factor of {factor:.6g}; check Display and moves."
    )


def key_factor(profile: DisplayProfile, factor: float, pair_mm: float = PAIR_MM) -> Keyed:
    """A factor (true over shown) in the display's own way of writing it; ``pair_mm`` is the true length of a pair.

    ``wants`` "error" asks for the opposite sign, or one over the factor. Raises BadInputError for a factor that isn't
    positive, or that the display's steps are too coarse for.
    """
    if not factor > 0:
        raise BadInputError("The factor must be larger than zero, such as 1.000000.")
    told = factor if profile.wants == "correction" else 1 / factor
    if profile.factor == "multiplier":
        value = round(told, profile.factor_decimals)
        if not value > 0:
            raise _too_coarse(factor)
        words = Sentence("{v}", {"v": f"{value:.{profile.factor_decimals}f}"})
        return Keyed(words, value if profile.wants == "correction" else 1 / value, "factor", value)
    ppm = (factor - 1) * 1e6 * (1 if profile.wants == "correction" else -1)
    if profile.factor == "pair":
        shown = round(pair_mm / factor / profile.table_step_mm) * profile.table_step_mm
        if not shown > 0:
            raise _too_coarse(factor)
        words = Sentence("true {true}, shown {shown}", {"true": Size(pair_mm), "shown": KeyedLength(shown)})
        return Keyed(words, pair_mm / shown, "pair", (pair_mm, shown))
    if profile.factor == "ppm":
        value = round(ppm)
        words = Sentence("{v} ppm", {"v": f"{value:+d}".replace("-", "−")})
        return Keyed(words, _from_ppm(profile, value, factor), "ppm", float(value))
    value_mm_per_m = round(ppm / 1000, 3)
    words = Sentence("{v} mm per metre", {"v": f"{value_mm_per_m:+.3f}".replace("-", "−")})
    return Keyed(words, _from_ppm(profile, value_mm_per_m * 1000, factor), "mm_per_m", value_mm_per_m)


def key_knot(profile: DisplayProfile, at_mm: float, correction_mm: float) -> tuple[float, float]:
    """A point of a table (shown position, true − shown; mm) as the display takes it: from its origin, in its sign."""
    return at_mm - profile.origin_mm, correction_mm if profile.wants == "correction" else 0.0 - correction_mm


def _from_ppm(profile: DisplayProfile, ppm: float, factor: float) -> float:
    value = 1 + ppm * 1e-6 * (1 if profile.wants == "correction" else -1)
    if not value > 0:
        raise _too_coarse(factor)
    return value

"""Counts per unit: the display shows D after the true move L with counts C set, so that true counts = C·D/L.

u_rel² = (u_D/D)² + (u_L/L)². Repeats are averaged, moves of different length weighted: C = C_set·ΣDL/ΣL².
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Ppm, Sentence, Severity, conclusion, finding
from vernus.core.prove.calibrate.calibration import DEFAULT_ERROR_MM, MM_PER_INCH, MoveCheck, least_move
from vernus.core.prove.calibrate.mixups import review_ratio

STANDARD_COUNTS_UM = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0)

BEAM_COUNTS_PER_INCH = 2560.0  # capacitive beams; common practice, no source

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

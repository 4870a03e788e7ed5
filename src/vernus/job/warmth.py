"""What the temperatures noted on a check make, and whether a trend that is left can still be theirs."""

from __future__ import annotations

from vernus.core.budget import BudgetLine
from vernus.core.diagnosis import Diagnosis
from vernus.core.finding import Finding, Fine, Mm, finding
from vernus.core.references import Reference, temperature_lines
from vernus.core.thermal import ALPHA_PER_K, Substance, check_temperature, expected_difference
from vernus.job.entities import Warmed


def substance_of(reference: Reference | None) -> Substance:
    """What a reference expands like; steel where nothing is said of it."""
    return "steel" if reference is None else reference.substance


def warmth_mm(run: Warmed, reference: Reference | None, length_mm: float) -> float | None:
    """Shown less nominal (mm) that the temperatures alone make over a length; None while they aren't noted."""
    if run.scale_c is None or run.reference_c is None:
        return None
    alphas = ALPHA_PER_K[run.scale_substance], ALPHA_PER_K[substance_of(reference)]
    return expected_difference(length_mm, *alphas, run.scale_c, run.reference_c)


def warmth_lines(run: Warmed, reference: Reference | None, length_mm: float) -> list[BudgetLine]:
    """The budget lines of the temperatures over a length (mm); none while they aren't noted."""
    if run.scale_c is None or run.reference_c is None:
        return []
    return temperature_lines(
        length_mm, substance_of(reference), run.scale_substance, run.reference_c, run.scale_c, run.u_c
    )


def temperatures_in_words(run: Warmed) -> str:
    """The temperatures of a check in one sentence; empty while they aren't noted."""
    if run.scale_c is None or run.reference_c is None:
        return ""
    return f"Scale at {run.scale_c:.1f} °C, reference at {run.reference_c:.1f} °C, each ± {run.u_c:g}."


def taken_out(run: Warmed, warm_mm: float | None, step_mm: float, where: str) -> list[Finding]:
    """A finding that what temperature makes is taken out, where that is a step of the display or more."""
    if warm_mm is None or abs(warm_mm) < step_mm:
        return []
    return [
        finding(
            "temperature-taken-out",
            "info",
            "Scale at {scale:.1f} °C and reference at {reference:.1f} °C make {warm} over {where}; it is taken out, so "
            "that the display is right for a part at 20 °C.",
            "Better: let both reach one temperature and read again.",
            scale=run.scale_c,
            reference=run.reference_c,
            warm=Fine(warm_mm, sign=True),
            where=where,
        )
    ]


def review_trend(run: Warmed, reference: Reference | None, diagnosis: Diagnosis, span_mm: float) -> list[Finding]:
    """Whether an even trend found over ``span_mm``, temperature taken out as far as noted, can be temperature.

    What the thermometers and the coefficients (α ± 15 %) leave open decides; without temperatures it is asked for them.
    """
    seen = next((n.grows_mm for n in diagnosis.causes if n.grows_mm is not None), None)
    if seen is None:
        return []
    ours, theirs = run.scale_substance, substance_of(reference)
    if run.scale_c is None or run.reference_c is None:
        apart = max(abs(check_temperature(span_mm, ours, theirs, *t).expected_mm) for t in ((25, 20), (20, 25)))
        return [
            finding(
                "trend-temperature-unknown",
                "info",
                "Whether the trend of {seen} is the temperature can't be told: none is noted. Five degrees between "
                "scale and reference make {apart} over {span}.",
                "Note both under Setup (F4); what they make is then taken out.",
                seen=Fine(seen, sign=True),
                apart=Fine(apart),
                span=Mm(span_mm),
            )
        ]
    check = check_temperature(span_mm, ours, theirs, run.scale_c, run.reference_c, u_c=run.u_c)
    low, high = check.least_mm - check.expected_mm, check.greatest_mm - check.expected_mm
    inside = low <= seen <= high
    return [
        finding(
            "trend-may-be-temperature" if inside else "trend-not-temperature",
            "info",
            "Temperature makes {expected} over {span}, taken out; thermometers and coefficients leave {low} to {high} "
            "open. The trend of {seen} that is left "
            + ("can still be that." if inside else "is more: it is not the temperature."),
            "Let scale and reference reach one temperature near 20 °C and read again before keying anything in."
            if inside
            else "Look at the reference and the count size; if they are right, key in the factor from Calibrate.",
            expected=Fine(check.expected_mm, sign=True),
            low=Fine(low, sign=True),
            high=Fine(high, sign=True),
            seen=Fine(seen, sign=True),
            span=Mm(span_mm),
        )
    ]

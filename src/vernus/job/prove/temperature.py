"""What the temperatures noted on a check make, and whether a trend that is left can still be theirs."""

from __future__ import annotations

from vernus.core.budget import BudgetLine
from vernus.core.finding import DegreesApart, Finding, Fine, Mm, Sentence, Temperature, finding
from vernus.core.prove.diagnosis import Diagnosis
from vernus.core.prove.references import Reference, temperature_lines
from vernus.core.prove.thermal import ALPHA_PER_K, REFERENCE_C, Substance, check_temperature, expected_difference
from vernus.job.entities import PositioningRun, Warmed


def substance_of(reference: Reference | None) -> Substance:
    """What a reference expands like; steel where nothing is said of it."""
    return "steel" if reference is None else reference.substance


def alphas_of(run: Warmed, reference: Reference | None) -> tuple[float, float]:
    """Expansion of scale and reference (per K)."""
    return ALPHA_PER_K[run.scale_like], ALPHA_PER_K[substance_of(reference)]


def five_degrees_mm(run: Warmed, reference: Reference | None, length_mm: float) -> float:
    """What five degrees between scale and reference would make over a length (mm), the one or the other warmer."""
    alphas = alphas_of(run, reference)
    return max(abs(expected_difference(length_mm, *alphas, *t)) for t in ((25, 20), (20, 25)))


def warmth_mm(run: Warmed, reference: Reference | None, length_mm: float) -> float | None:
    """Shown less nominal (mm) that the temperatures alone make over a length; None while they aren't noted."""
    if run.scale_c is None or run.reference_c is None:
        return None
    return expected_difference(length_mm, *alphas_of(run, reference), run.scale_c, run.reference_c)


def warmth_lines(run: Warmed, reference: Reference | None, length_mm: float) -> list[BudgetLine]:
    """The budget lines of the temperatures over a length (mm); none while they aren't noted."""
    if run.scale_c is None or run.reference_c is None:
        return []
    return temperature_lines(length_mm, substance_of(reference), run.scale_like, run.reference_c, run.scale_c, run.u_c)


def temperatures_noted(run: Warmed) -> Sentence | None:
    """The temperatures of a check as far as they are noted; None while neither is."""
    noted = [(what, t) for what, t in (("Scale", run.scale_c), ("reference", run.reference_c)) if t is not None]
    if not noted:
        return None
    words = ", ".join(f"{what if n else what.capitalize()} at {{t{n}}}" for n, (what, _) in enumerate(noted))
    lacks = "" if len(noted) == 2 else "; the other wasn't read"
    each = ", each ± {u}" if len(noted) == 2 else " ± {u}"
    values = {f"t{n}": Temperature(t) for n, (_, t) in enumerate(noted)} | {"u": DegreesApart(run.u_c)}
    return Sentence(words + each + lacks + ".", values)


def taken_out(run: Warmed, warm_mm: float | None, step_mm: float, where: str, length_mm: float = 0.0) -> list[Finding]:
    """A finding that what temperature makes over a length is taken out, where that is a step of the display or more.

    What a steel part then shows off its size at 20 °C, with scale and part at the scale's temperature, is said too.
    """
    if warm_mm is None or abs(warm_mm) < step_mm:
        return []
    at = run.scale_c if run.scale_c is not None else REFERENCE_C
    part_mm = expected_difference(length_mm, ALPHA_PER_K[run.scale_like], ALPHA_PER_K["steel"], at, at)
    return [
        finding(
            "temperature-taken-out",
            "info",
            "Scale at {scale} and reference at {reference} make {warm} over {where}; it is taken out: with scale and "
            "part both at 20 °C the display is then right. With both at {scale} a steel part measures {part} over it.",
            "Better: let both reach one temperature and read again.",
            scale=Temperature(run.scale_c or 0.0),
            reference=Temperature(run.reference_c or 0.0),
            warm=Fine(warm_mm, sign=True),
            part=Fine(part_mm, sign=True),
            where=where,
        )
    ]


def review_trend(
    run: PositioningRun, reference: Reference | None, diagnosis: Diagnosis, span_mm: float
) -> list[Finding]:
    """Whether an even trend found over ``span_mm``, temperature taken out as far as noted, can be temperature.

    Judged with what was taken out, and two roundings of the display; without temperatures it is asked for them.
    """
    left = next((n.grows_mm for n in diagnosis.causes if n.grows_mm is not None), None)
    if left is None:
        return []
    if run.scale_c is None or run.reference_c is None:
        return [
            finding(
                "trend-temperature-unknown",
                "info",
                "Whether the trend of {left} is the temperature can't be told: none is noted. {five} between "
                "scale and reference make {apart} over {span}.",
                "Note both under Temperature; what they make is then taken out.",
                left=Fine(left, sign=True),
                five=DegreesApart(5.0),
                apart=Fine(five_degrees_mm(run, reference, span_mm)),
                span=Mm(span_mm),
            )
        ]
    seen = left + (warmth_mm(run, reference, span_mm) or 0.0)
    check = check_temperature(
        span_mm, run.scale_like, substance_of(reference), run.scale_c, run.reference_c, u_c=run.u_c,
        drift_mm=seen, u_drift_mm=run.step.mm / 6**0.5,
    )  # fmt: skip
    return [
        finding(
            "trend-may-be-temperature" if check.explained else "trend-not-temperature",
            "info",
            "Over {span} the readings grew by {seen}; temperature makes {least} to {most} of that, and {expected} is "
            "taken out. The {left} left "
            + ("can still be the temperature." if check.explained else "is not the temperature."),
            "Let scale and reference reach one temperature near 20 °C and read again before keying anything in."
            if check.explained
            else "Look at the reference and the count size; if they are right, the factor of Calibrate takes it out.",
            span=Mm(span_mm),
            seen=Fine(seen, sign=True),
            least=Fine(check.least_mm, sign=True),
            most=Fine(check.greatest_mm, sign=True),
            expected=Fine(check.expected_mm, sign=True),
            left=Fine(left, sign=True),
        )
    ]

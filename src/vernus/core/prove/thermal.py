"""Is it the temperature? What a scale and a reference at their own temperatures must show against each other.

shown − nominal = L·[α_ref·(t_ref − 20) − α_scale·(t_scale − 20)], reference temperature 20 °C (ISO 1). Coefficients in
10⁻⁶/K: handbook values, from memory. The range is over the corners α ± 15 % and t ± u_t: the sum is linear in each.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import Literal, get_args

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, finding

Substance = Literal["steel", "cast-iron", "glass", "aluminium", "brass", "stainless"]
SUBSTANCES: tuple[Substance, ...] = get_args(Substance)
ALPHA_PER_K: dict[Substance, float] = {
    "steel": 11.5e-6, "cast-iron": 10.5e-6, "glass": 8.5e-6, "aluminium": 23e-6, "brass": 19e-6, "stainless": 16.5e-6,
}  # fmt: skip
REFERENCE_C = 20.0
ALPHA_SHARE = 0.15


@dataclass(frozen=True)
class ThermalCheck:
    """What temperature makes (mm): expected, its least and greatest, and whether a drift seen is explained by it."""

    expected_mm: float
    least_mm: float
    greatest_mm: float
    explained: bool | None
    findings: tuple[Finding, ...]


def expected_difference(
    length_mm: float, alpha_scale: float, alpha_reference: float, scale_c: float, reference_c: float
) -> float:
    """Shown less nominal (mm) for a scale and a reference at their own temperatures (°C)."""
    return length_mm * (alpha_reference * (reference_c - REFERENCE_C) - alpha_scale * (scale_c - REFERENCE_C))


def check_temperature(
    length_mm: float,
    scale: Substance,
    reference: Substance,
    scale_c: float,
    reference_c: float,
    *,
    u_c: float = 0.5,
    drift_mm: float | None = None,
    u_drift_mm: float = 0.0,
) -> ThermalCheck:
    """Whether temperature can make a drift of ``drift_mm`` against the state at 20 °C; raises BadInputError."""
    if not length_mm > 0:
        raise BadInputError("The length must be larger than zero.")
    for name in (scale, reference):
        if name not in ALPHA_PER_K:
            raise BadInputError(f"“{name}” is not in the table; there are {', '.join(SUBSTANCES)}.")
    if not all(-50 <= t <= 80 for t in (scale_c, reference_c)) or u_c < 0 or u_drift_mm < 0:
        raise BadInputError("Temperatures are in °C from -50 to 80; uncertainties can't be negative.")
    ours, theirs = ALPHA_PER_K[scale], ALPHA_PER_K[reference]
    expected = expected_difference(length_mm, ours, theirs, scale_c, reference_c)
    share = (1 - ALPHA_SHARE, 1 + ALPHA_SHARE)
    corners = [
        expected_difference(length_mm, ours * a, theirs * b, scale_c + t, reference_c + u)
        for a, b, t, u in itertools.product(share, share, (-u_c, u_c), (-u_c, u_c))
    ]
    least, greatest = min(corners), max(corners)
    return _judge(expected, least, greatest, drift_mm, u_drift_mm)


@dataclass(frozen=True)
class Temperatures:
    """Scale and reference (°C) on one occasion."""

    scale_c: float
    reference_c: float


def check_drift(
    length_mm: float,
    scale: Substance,
    reference: Substance,
    before: Temperatures,
    after: Temperatures,
    *,
    u_c: float = 0.5,
    drift_mm: float | None = None,
    u_drift_mm: float = 0.0,
) -> ThermalCheck:
    """Whether temperature can make the change from one occasion to another over a length (mm).

    The coefficients are the same on both occasions, the four temperatures are not: every corner of α ± 15 % and
    t ± ``u_c`` is tried. Raises BadInputError for a length that isn't positive.
    """
    if not length_mm > 0:
        raise BadInputError("The length must be larger than zero.")
    ours, theirs = ALPHA_PER_K[scale], ALPHA_PER_K[reference]

    def change(a: float, b: float, t: tuple[float, ...]) -> float:
        now = expected_difference(length_mm, ours * a, theirs * b, after.scale_c + t[0], after.reference_c + t[1])
        was = expected_difference(length_mm, ours * a, theirs * b, before.scale_c + t[2], before.reference_c + t[3])
        return now - was

    share, off = (1 - ALPHA_SHARE, 1 + ALPHA_SHARE), itertools.product((-u_c, u_c), repeat=4)
    corners = [change(a, b, t) for a, b, t in itertools.product(share, share, off)]
    return _judge(change(1.0, 1.0, (0.0,) * 4), min(corners), max(corners), drift_mm, u_drift_mm)


def _judge(expected: float, least: float, greatest: float, drift_mm: float | None, u_drift_mm: float) -> ThermalCheck:
    values = {"least": Fine(least, sign=True), "most": Fine(greatest, sign=True)}
    if drift_mm is None:
        return ThermalCheck(expected, least, greatest, None, ())
    values["drift"] = Fine(drift_mm, sign=True)
    explained = least - 2 * u_drift_mm <= drift_mm <= greatest + 2 * u_drift_mm
    if explained:
        found = finding(
            "may-be-the-temperature",
            "info",
            "The drift of {drift} can be the temperature, which alone makes {least} to {most}.",
            "Let everything reach one temperature and check again before keying anything in.",
            **values,
        )
    else:
        found = finding(
            "not-the-temperature",
            "caution",
            "The drift of {drift} is not the temperature: that makes {least} to {most}.",
            "Look for lost motion, a loose reader mount, the wrong reference, or a setting that was changed.",
            **values,
        )
    return ThermalCheck(expected, least, greatest, explained, (found,))

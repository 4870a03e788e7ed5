"""Where to drive to: a circle, a part of one, or a row of holes, and the middle of two edges found by halving.

Angles go from +x counter-clockwise. A whole circle is divided by its holes; a smaller span by one less, so that both
its ends are drilled. Halving: half of the sum of two edges touched from opposite sides; a finder touching both from
outside (or both from inside) adds the same to either, so that its diameter cancels in the middle and not in the width.
Common practice, no source. All lengths in mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError

Place = tuple[float, float]
MOST_HOLES = 999
MOST_MM = 1e6


def circle_of_holes(
    holes: int, radius_mm: float, start_deg: float = 0.0, span_deg: float = 360.0, centre_mm: Place = (0.0, 0.0)
) -> list[Place]:
    """The holes' places (mm); raises BadInputError for none, a radius that can't be, or a span beyond a turn."""
    _check_count(holes)
    if not 0 < radius_mm <= MOST_MM:
        raise BadInputError("The radius must be larger than zero, such as 35 mm or 1.375 in.")
    if not 0 < abs(span_deg) <= 360:
        raise BadInputError(f"A span of {span_deg:g}° is no part of a circle; it goes up to 360°.")
    whole = abs(abs(span_deg) - 360) < 1e-9
    step = span_deg / holes if whole else span_deg / (holes - 1) if holes > 1 else 0.0
    angles = [math.radians(start_deg + n * step) for n in range(holes)]
    return [(centre_mm[0] + radius_mm * math.cos(a), centre_mm[1] + radius_mm * math.sin(a)) for a in angles]


def row_of_holes(holes: int, pitch_mm: float, angle_deg: float = 0.0, first_mm: Place = (0.0, 0.0)) -> list[Place]:
    """The holes' places (mm) along a straight row; raises BadInputError for none, or a pitch that isn't positive."""
    _check_count(holes)
    if not 0 < pitch_mm <= MOST_MM:
        raise BadInputError("The pitch must be larger than zero, such as 20 mm or 3/4 in.")
    a = math.radians(angle_deg)
    along, up = pitch_mm * math.cos(a), pitch_mm * math.sin(a)
    return [(first_mm[0] + n * along, first_mm[1] + n * up) for n in range(holes)]


def _check_count(holes: int) -> None:
    if not 1 <= holes <= MOST_HOLES:
        raise BadInputError(f"From 1 to {MOST_HOLES} holes can be worked out; {holes} were asked for.")


@dataclass(frozen=True)
class Halved:
    """The middle of two edges and what lies between them (mm), with the standard uncertainty of the middle."""

    middle_mm: float
    width_mm: float
    u_middle_mm: float


def halve(
    first_mm: float,
    second_mm: float,
    finder_mm: float = 0.0,
    touched: Literal["outside", "inside"] = "outside",
    step_mm: float = 0.0,
) -> Halved:
    """Two edges as the display showed them with the finder touching; ``step_mm`` is the display's last step.

    Raises BadInputError for a negative finder, or edges that its diameter leaves nothing between.
    """
    if finder_mm < 0 or step_mm < 0:
        raise BadInputError("The finder's diameter and the display's step can't be negative.")
    apart = abs(second_mm - first_mm)
    width = apart - finder_mm if touched == "outside" else apart + finder_mm
    if not width > 0:
        raise BadInputError(
            f"The two edges read {apart:g} mm apart, and the finder measures {finder_mm:g} mm: nothing is between them."
        )
    return Halved((first_mm + second_mm) / 2, width, step_mm / math.sqrt(12) / math.sqrt(2))

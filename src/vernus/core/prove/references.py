"""What a display is checked against: gauge blocks and their stacks, a micrometer head, a length bar, a dial.

Gauge blocks: limit deviations of length at any point, ISO 3650:1998 table 5, from memory, up to 500 mm, in µm. A
stack adds each block's. Where the user knows the uncertainty it goes before any table. Common practice for the rest,
no source: an unmarked set of shop blocks ± 5 µm each, a micrometer head ± 4 µm, a machine's dial half a division and
whatever backlash was not taken out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from vernus.core.budget import BudgetLine
from vernus.core.errors import BadInputError
from vernus.core.prove.thermal import ALPHA_PER_K, ALPHA_SHARE, REFERENCE_C, Substance

ReferenceKind = Literal["blocks", "shop-blocks", "micrometer", "bar", "dial", "other"]
Grade = Literal["0", "1", "2"]
_UP_TO_MM = (10, 25, 50, 75, 100, 150, 200, 250, 300, 400, 500)
_LIMIT_UM: dict[Grade, tuple[float, ...]] = {
    "0": (0.12, 0.14, 0.20, 0.25, 0.30, 0.40, 0.50, 0.60, 0.70, 0.90, 1.10),
    "1": (0.20, 0.30, 0.40, 0.50, 0.60, 0.80, 1.00, 1.20, 1.40, 1.80, 2.20),
    "2": (0.45, 0.60, 0.80, 1.00, 1.20, 1.60, 2.00, 2.40, 2.80, 3.60, 4.40),
}
SHOP_BLOCK_MM = 0.005
MICROMETER_MM = 0.004
SCREW_MM, SCREW_PER_MM = 0.01, 0.02 / 300  # a feed screw in use, ±; common practice, no source
POOR = ("dial",)


@dataclass(frozen=True)
class Reference:
    """A reference of the user's kit; ``stated_mm`` is its expanded uncertainty (k = 2) where a certificate says it.

    ``detector_mm`` is the division of the zero detector, an indicator brought to the same figure at both ends.
    """

    kind: ReferenceKind
    grade: Grade = "1"
    pieces: int = 1
    substance: Substance = "steel"
    stated_mm: float | None = None
    detector_mm: float = 0.001
    division_mm: float = 0.01


def block_limit(length_mm: float, grade: Grade) -> float:
    """Limit deviation (mm) of one gauge block; raises BadInputError beyond the table's 500 mm."""
    for up_to, limit in zip(_UP_TO_MM, _LIMIT_UM[grade], strict=True):
        if abs(length_mm) <= up_to:
            return limit / 1000
    raise BadInputError("The table of gauge blocks ends at 500 mm (20 in); type what the certificate says instead.")


def reference_lines(reference: Reference, length_mm: float) -> list[BudgetLine]:
    """The budget lines of a reference over a length (mm): the thing itself, and the zero found at both ends."""
    if reference.pieces < 1:
        raise BadInputError("A stack has one piece at least.")
    lines = [_itself(reference, abs(length_mm))]
    if reference.kind == "dial":
        half = SCREW_MM + SCREW_PER_MM * abs(length_mm)
        lines.append(BudgetLine("the screw behind the dial", half, remedy="Use gauge blocks instead."))
    else:
        lines.append(
            BudgetLine(
                "the zero detector, twice",
                reference.detector_mm / 2,
                sensitivity=math.sqrt(2),
                remedy="Use an indicator with a finer division.",
            )
        )
    return lines


def _itself(reference: Reference, length_mm: float) -> BudgetLine:
    kind = reference.kind
    if reference.stated_mm is not None:
        return BudgetLine("the reference", reference.stated_mm / 2, "normal", remedy="Use a better reference.")
    if kind == "blocks":
        each = block_limit(length_mm / reference.pieces, reference.grade)
        fewer = " or fewer blocks" if reference.pieces > 1 else ""
        return BudgetLine(
            "the gauge blocks", each, sensitivity=math.sqrt(reference.pieces), remedy=f"Use a better grade{fewer}."
        )
    if kind == "dial":
        return BudgetLine(
            "the dial, both ends",
            reference.division_mm / 2,
            sensitivity=math.sqrt(2),
            remedy="Use gauge blocks instead.",
        )
    half = MICROMETER_MM if kind == "micrometer" else SHOP_BLOCK_MM
    remedy = "Use gauge blocks with a grade, or measure these."
    return BudgetLine("the reference", half, sensitivity=math.sqrt(reference.pieces), remedy=remedy)


def temperature_lines(
    length_mm: float, reference: Substance, scale: Substance, reference_c: float, scale_c: float, u_c: float
) -> list[BudgetLine]:
    """The budget lines of temperature over a length (mm): both thermometers and both coefficients (α ± 15 %)."""
    theirs, ours = ALPHA_PER_K[reference], ALPHA_PER_K[scale]
    length = abs(length_mm)
    apart = [
        ("the reference's temperature", u_c, length * theirs),
        ("the scale's temperature", u_c, length * ours),
        ("the reference's expansion", ALPHA_SHARE * theirs, length * abs(reference_c - REFERENCE_C)),
        ("the scale's expansion", ALPHA_SHARE * ours, length * abs(scale_c - REFERENCE_C)),
    ]
    wait = "Let both reach one temperature, near 20 °C, and measure it better."
    return [BudgetLine(name, half, sensitivity=c, remedy=wait) for name, half, c in apart]

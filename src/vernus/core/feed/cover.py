"""The cover of open gears, by its inside: round both gears over the travel of the slots, as deep as they stand out.

5 mm of air stand between gears and cover, and 2 mm of sheet round that: common practice, no source. Lengths in mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.feed.gears import Mesh
from vernus.core.finding import Finding, Mm, Sentence, finding

AIR_MM = 5.0
SHEET_MM = 2.0
HOLE_AIR_MM = 4.0
Sits = Literal["below", "above", "right", "left"]


@dataclass(frozen=True)
class GearCover:
    """Inside sizes: ``long_mm`` along the line of centres, across it, and deep from the bracket's face.

    ``screw_mm`` is the hole where the screw's end passes through, None where it doesn't; ``from_screw_mm`` how far the
    inside goes beyond the screw's axis, away from the unit.
    """

    long_mm: float
    wide_mm: float
    deep_mm: float
    from_screw_mm: float
    screw_mm: float | None
    findings: tuple[Finding, ...]
    words: Sentence


def plan_cover(
    mesh: Mesh,
    teeth: tuple[int, int],
    far_mm: float,
    adjust_mm: float,
    *,
    screw: tuple[float, float] | None = None,
    sits: Sits = "below",
    top_mm: float | None = None,
) -> GearCover:
    """The cover of drive gear and unit's gear (``teeth`` in that order), whose faces end ``far_mm`` from the bracket.

    ``screw`` is the diameter and the end of what passes through, ``top_mm`` how far below the table's top the screw's
    axis lies. Raises BadInputError.
    """
    if not far_mm > 0 or adjust_mm < 0 or min(teeth) < 1:
        raise BadInputError("Gears and their far side are larger than zero, the adjustment not negative.")
    outer = [mesh.module_mm * (z + 2) / 2 for z in teeth]
    beyond = outer[0] + AIR_MM
    long = beyond + mesh.centre_mm + mesh.open_mm + adjust_mm + outer[1] + AIR_MM
    deep, wide = far_mm + AIR_MM, 2 * max(outer) + 2 * AIR_MM
    through = screw[0] + HOLE_AIR_MM if screw is not None and screw[1] > deep else None
    values: dict[str, object] = {
        "long": Mm(long), "wide": Mm(wide), "deep": Mm(deep), "beyond": Mm(beyond), "hole": Mm(through or 0.0)
    }  # fmt: skip
    words = "Inside {long} along the line of centres ({beyond} of it beyond the screw), {wide} across, {deep} deep"
    words += ", with a hole of {hole} for what turns in it." if through is not None else "."
    high = beyond if sits == "below" else long - beyond if sits == "above" else wide / 2
    over = 0.0 if top_mm is None else high + SHEET_MM - top_mm
    return GearCover(long, wide, deep, beyond, through, tuple(_over(over)), Sentence(words, values))


def _over(over_mm: float) -> Sequence[Finding]:
    if over_mm <= 1e-9:
        return []
    return [
        finding(
            "cover-above-the-table",
            "caution",
            "A cover round the gears would stand {over} above the table.",
            "Cut it open level with the table's top and let nothing wider than the table pass there, or get a smaller "
            "drive gear.",
            over=Mm(over_mm),
        )
    ]

"""The bracket of a power feed, solved: bearing pocket, both hole patterns, and no higher than the table.

The plate is seen on the table's end, x across, y up, from its lower left corner. Edges: one and a half diameters from
a hole's middle, 6 mm of metal round the pocket, 4 mm behind the bearing, 12 mm thick at least: common practice, no
source. All lengths in mm.
"""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.make.hardware import Material, clearance_holes, thread_named
from vernus.core.make.hole_rows import EDGE_DIAMETERS
from vernus.core.make.parts import Part, PartHole

POCKET_WALL_MM = 6.0
WEB_MM = 4.0
LEAST_THICKNESS_MM = 12.0


@dataclass(frozen=True)
class HolePattern:
    """Four holes in a rectangle (two where one side is 0): sides, its middle from the screw, and the thread."""

    across_mm: float
    up_mm: float
    thread: str
    middle_mm: tuple[float, float] = (0.0, 0.0)

    def centres(self) -> list[tuple[float, float]]:
        """The holes from the screw's axis, each once."""
        x, y = self.middle_mm
        sides = [(x + a * self.across_mm / 2, y + b * self.up_mm / 2) for b in (-1, 1) for a in (-1, 1)]
        return list(dict.fromkeys(sides))


@dataclass(frozen=True)
class SolvedBracket:
    """The plate with its holes, where the screw's axis lies on it, what sticks out of it then, and what is wrong."""

    part: Part
    screw_mm: tuple[float, float]
    projection_mm: float | None
    findings: tuple[Finding, ...]
    instruction: Sentence


def solve_bracket(
    bearing_mm: tuple[float, float],
    machine: HolePattern,
    unit: HolePattern,
    screw_below_table_mm: float,
    *,
    material: Material = "steel",
    adjust_mm: float = 5.0,
    sticks_out_mm: float | None = None,
    old_bracket_mm: float = 0.0,
) -> SolvedBracket:
    """The bracket round a bearing (outside diameter, width) that replaces the old one.

    ``machine`` is the pattern the old bracket was screwed on by (clearance holes), ``unit`` that of the feed unit
    (slots, so that the mesh can be set). ``sticks_out_mm`` is the screw's end beyond the old bracket. Raises
    BadInputError.
    """
    outside, width = bearing_mm
    if not (outside > 0 and width > 0):
        raise BadInputError("The bearing needs an outside diameter and a width larger than zero.")
    if not screw_below_table_mm > 0:
        raise BadInputError("The screw's axis lies below the table's top; measure by how much.")
    edge_m, edge_u = (EDGE_DIAMETERS * clearance_holes(thread_named(p.thread))[1] for p in (machine, unit))
    pocket = outside / 2 + POCKET_WALL_MM
    reach = [(x, y, edge_m, edge_m) for x, y in machine.centres()]
    reach += [(x, y, edge_u + adjust_mm, edge_u) for x, y in unit.centres()]
    left = max(pocket, *(dx - x for x, _, dx, _ in reach))
    right = max(pocket, *(dx + x for x, _, dx, _ in reach))
    low = max(pocket, *(dy - y for _, y, _, dy in reach))
    high = max(pocket, *(dy + y for _, y, _, dy in reach))
    top = min(high, screw_below_table_mm)
    thickness = max(LEAST_THICKNESS_MM, width + WEB_MM)
    holes = [PartHole(left, low, "bore", "", 0.0, outside, width)]
    holes += [PartHole(left + x, low + y, "clearance", machine.thread) for x, y in machine.centres()]
    holes += [PartHole(left + x, low + y, "slot", unit.thread, adjust_mm) for x, y in unit.centres()]
    part = Part("feed bracket", "plate", left + right, low + top, thickness, material, tuple(holes))
    found = []
    if high > screw_below_table_mm + 1e-9:
        found.append(_too_high(high - screw_below_table_mm))
    found += _too_near(outside, machine, unit)
    projection = None if sticks_out_mm is None else sticks_out_mm - (thickness - old_bracket_mm)
    return SolvedBracket(part, (left, low), projection, tuple(found), _instruct(part, projection, found))


def _too_high(over_mm: float) -> Finding:
    return finding(
        "above-the-table",
        "stop",
        "The bracket would stand {over} above the table.",
        "Hang the unit lower, or turn it to the other side of the screw; nothing may stand above the table's top.",
        over=Mm(over_mm),
    )


def _too_near(outside_mm: float, machine: HolePattern, unit: HolePattern) -> list[Finding]:
    """Holes that run into the pocket or into each other."""
    found = []
    for pattern, whose in ((machine, "the machine's"), (unit, "the unit's")):
        wide = thread_named(pattern.thread).major_mm
        nearest = min((x * x + y * y) ** 0.5 for x, y in pattern.centres())
        if nearest < outside_mm / 2 + wide:
            found.append(
                finding(
                    "hole-in-the-pocket",
                    "stop",
                    "A hole of {whose} pattern lies {near} from the screw's axis and runs into the bearing's pocket.",
                    "Check the pattern's measures; if they are right, put that pattern on a plate of its own.",
                    whose=whose,
                    near=Mm(nearest),
                )
            )
    wide = thread_named(machine.thread).major_mm / 2 + thread_named(unit.thread).major_mm / 2
    apart = min(((a - x) ** 2 + (b - y) ** 2) ** 0.5 for a, b in machine.centres() for x, y in unit.centres())
    if apart < wide + 2:
        found.append(
            finding(
                "patterns-collide",
                "stop",
                "Two holes of the patterns lie only {apart} apart.",
                "Turn the unit, or counterbore the machine's screws and put the unit on studs of its own plate.",
                apart=Mm(apart),
            )
        )
    return found


def _instruct(part: Part, projection_mm: float | None, found: list[Finding]) -> Sentence:
    grave = next((f for f in found if f.severity == "stop"), None)
    if grave is not None:
        return grave.remedy
    values: dict[str, object] = {
        "long": Mm(part.length_mm),
        "wide": Mm(part.width_mm),
        "thick": Mm(part.thickness_mm),
        "out": Mm(projection_mm or 0.0),
    }
    words = "Make it {long} × {wide} × {thick}. Bore pocket and both patterns in one clamping, from the screw's axis."
    if projection_mm is not None:
        words += " The screw then sticks out {out}."
    return Sentence(words, values)

"""The bracket of a power feed, solved: pocket, hole for the screw, both patterns, slots along the line of centres.

The origin is the screw's axis, x to the right as one faces the table's end, y up. The unit sits at the centre distance
in the direction of its gear; its holes are slots along that line, so that the mesh can be set: half a module either way
at least, and 2.25 modules outward to lift it out of mesh. Edges keep one and a half diameters of the screw, 6 mm of
metal stand round the pocket and between it and a hole, 4 mm behind the bearing; common practice, no source. Lengths in
mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.make.hardware import Material, clearance_holes, plan_hole, thread_named
from vernus.core.make.hole_rows import EDGE_DIAMETERS, HoleRow, apart, hole_table
from vernus.core.make.parts import Part, PartHole
from vernus.core.make.screws import stock_finding

HoleFor = Literal["screw", "bearing", "machine", "unit"]
Spot = tuple[float, float]
POCKET_WALL_MM = 6.0
WEB_MM = 4.0
LEAST_THICKNESS_MM = 12.0
SCREW_CLEARANCE_MM = 1.0
LEAST_ADJUST_MODULES = 0.5
OUT_OF_MESH_MODULES = 2.25


@dataclass(frozen=True)
class Bracket:
    """What the bracket has to take: lengths in mm from the screw's axis, the unit's holes from its gear.

    ``unit_gear`` gives the direction in which the unit sits, ``top_mm`` how far the plate may go up. ``studs``: the
    unit's own feet are slotted, so that the plate has a tapped hole for each stud. ``gears_mm`` are the outside
    diameters of drive gear and unit's gear.
    """

    bearing_mm: tuple[float, float]
    screw_mm: float
    machine_holes: tuple[Spot, ...]
    machine_screw: str
    unit_holes: tuple[Spot, ...]
    unit_screw: str
    unit_gear: Spot
    centre_mm: float
    adjust_mm: float
    thickness_mm: float | None = None
    top_mm: float | None = None
    module_mm: float | None = None
    studs: bool = False
    gears_mm: tuple[float, float] | None = None

    def __post_init__(self) -> None:
        if not (min(*self.bearing_mm, self.screw_mm, self.centre_mm) > 0 and self.adjust_mm >= 0):
            raise BadInputError("Bearing, screw and centre distance are larger than zero, the adjustment not negative.")
        if math.hypot(*self.unit_gear) <= 0:
            raise BadInputError("Say in which direction the unit's gear lies from the screw: it can't sit on it.")
        if not self.machine_holes or not self.unit_holes:
            raise BadInputError("A bracket wants the machine's holes and the unit's.")

    @property
    def way(self) -> Spot:
        """The direction from the screw to the unit's gear, of length 1."""
        long = math.hypot(*self.unit_gear)
        return self.unit_gear[0] / long, self.unit_gear[1] / long

    @property
    def slot_angle_deg(self) -> float:
        """The direction of the slots, from +x counter-clockwise, 0 to 180°."""
        found = math.degrees(math.atan2(self.way[1], self.way[0])) % 180.0
        return 0.0 if found >= 180.0 - 1e-9 else found


@dataclass(frozen=True)
class BracketHole:
    """A hole from the screw's axis (mm): ``slot_mm`` is the travel between its end middles, 0 for a round one."""

    for_: HoleFor
    x_mm: float
    y_mm: float
    diameter_mm: float
    slot_mm: float = 0.0
    slot_angle_deg: float = 0.0
    thread: str = ""
    depth_mm: float | None = None

    @property
    def ends(self) -> tuple[Spot, Spot]:
        """The middles of its two ends."""
        a, half = math.radians(self.slot_angle_deg), self.slot_mm / 2
        dx, dy = half * math.cos(a), half * math.sin(a)
        return (self.x_mm - dx, self.y_mm - dy), (self.x_mm + dx, self.y_mm + dy)


@dataclass(frozen=True)
class SolvedBracket:
    """The plate with its holes, where the screw's axis lies on it, what sticks out of it then, and what is wrong."""

    part: Part
    holes: tuple[BracketHole, ...]
    screw_mm: Spot
    projection_mm: float | None
    findings: tuple[Finding, ...]
    instruction: Sentence

    @property
    def rows(self) -> list[HoleRow]:
        """Its holes as they are drilled, bored and slotted, from its lower left corner."""
        return hole_table(self.part)


def plan_bracket(
    bracket: Bracket,
    *,
    material: Material = "steel",
    sticks_out_mm: float | None = None,
    old_bracket_mm: float = 0.0,
    stock_mm: tuple[float, float, float] | None = None,
) -> SolvedBracket:
    """The smallest plate that takes pocket, screw and both patterns, and what stands against it; raises BadInputError.

    ``sticks_out_mm`` is the screw's end beyond the old bracket, ``stock_mm`` a plate at hand.
    """
    wanted = max(LEAST_THICKNESS_MM, bracket.bearing_mm[1] + WEB_MM)
    thickness = bracket.thickness_mm if bracket.thickness_mm is not None else wanted
    if not thickness > 0:
        raise BadInputError("The plate's thickness must be larger than zero.")
    holes = _holes(bracket)
    reach = [_reach(bracket, h) for h in holes]
    left, right = max(-x0 for x0, _, _, _ in reach), max(x1 for _, x1, _, _ in reach)
    low, high = max(-y0 for _, _, y0, _ in reach), max(y1 for _, _, _, y1 in reach)
    size = (left + right, low + high, thickness)
    part = _part(bracket, holes, (left, low), size, material)
    found = [*_over_the_top(bracket, high), *_pocket(bracket, thickness), *_touching(bracket, holes)]
    found += [*_gears_over_the_top(bracket), *_held(bracket, thickness), _seen_from()]
    if stock_mm is not None:
        found.append(stock_finding(size, stock_mm))
    projection = None if sticks_out_mm is None else sticks_out_mm - (thickness - old_bracket_mm)
    return SolvedBracket(part, tuple(holes), (left, low), projection, tuple(found), _instruct(part, projection, found))


def _holes(bracket: Bracket) -> list[BracketHole]:
    outside, width = bracket.bearing_mm
    machine, unit = (clearance_holes(thread_named(t))[1] for t in (bracket.machine_screw, bracket.unit_screw))
    gx, gy = (bracket.centre_mm * w for w in bracket.way)
    slot, angle = 0.0 if bracket.studs else 2 * bracket.adjust_mm, bracket.slot_angle_deg
    if bracket.studs:
        unit = plan_hole(thread_named(bracket.unit_screw), "steel").tap_drill.diameter_mm
    return [
        BracketHole("bearing", 0.0, 0.0, outside, depth_mm=width),
        BracketHole("screw", 0.0, 0.0, bracket.screw_mm + SCREW_CLEARANCE_MM),
        *(BracketHole("machine", x, y, machine, thread=bracket.machine_screw) for x, y in bracket.machine_holes),
        *(
            BracketHole("unit", gx + x, gy + y, unit, slot, angle if slot else 0.0, bracket.unit_screw)
            for x, y in bracket.unit_holes
        ),
    ]


def _reach(bracket: Bracket, hole: BracketHole) -> tuple[float, float, float, float]:
    """How far the plate must go for a hole: x from, x to, y from, y to."""
    if hole.for_ in ("bearing", "screw"):
        edge = bracket.bearing_mm[0] / 2 + POCKET_WALL_MM
    else:
        edge = max(EDGE_DIAMETERS * thread_named(hole.thread).major_mm, hole.diameter_mm / 2 + 1.0)
    xs, ys = [p[0] for p in hole.ends], [p[1] for p in hole.ends]
    return min(xs) - edge, max(xs) + edge, min(ys) - edge, max(ys) + edge


def _part(
    bracket: Bracket,
    holes: Sequence[BracketHole],
    datum: Spot,
    size: tuple[float, float, float],
    material: Material,
) -> Part:
    """The bracket as a part from its lower left corner."""
    made: list[PartHole] = []
    for h in holes:
        x, y = h.x_mm + datum[0], h.y_mm + datum[1]
        if h.for_ in ("bearing", "screw"):
            made.append(PartHole(x, y, "bore", "", 0.0, h.diameter_mm, h.depth_mm, far_side=h.for_ == "bearing"))
        elif h.slot_mm:
            made.append(PartHole(x, y, "slot", h.thread, h.slot_mm / 2, angle_deg=h.slot_angle_deg))
        elif h.for_ == "unit" and bracket.studs:
            made.append(PartHole(x, y, "tapped", h.thread))
        else:
            made.append(PartHole(x, y, "clearance", h.thread))
    return Part("feed bracket", "plate", *size, material, tuple(made))


def _seen_from() -> Finding:
    return finding(
        "seen-from",
        "info",
        "Every place is as seen from outside, facing the table's end; the bearing's pocket is bored from the machine's "
        "side.",
        "Mark the outside on the plate before it is turned over, or it comes out mirrored.",
    )


def _over_the_top(bracket: Bracket, high_mm: float) -> list[Finding]:
    over = 0.0 if bracket.top_mm is None else high_mm - bracket.top_mm
    if over <= 1e-9:
        return []
    return [
        finding(
            "above-the-table",
            "stop",
            "The bracket would stand {over} above the table.",
            "Hang the unit lower, or turn it to the other side of the screw; nothing may stand above the table's top.",
            over=Mm(over),
        )
    ]


def _gears_over_the_top(bracket: Bracket) -> list[Finding]:
    """A gear that stands above the table's top."""
    if bracket.top_mm is None or bracket.gears_mm is None:
        return []
    drive, unit = bracket.gears_mm
    tops = (("drive gear", drive / 2), ("unit’s gear", bracket.centre_mm * bracket.way[1] + unit / 2))
    return [
        finding(
            "gear-above-the-table",
            "stop",
            "The {gear} would stand {over} above the table's top.",
            "Let the unit's gear lie below the screw, or take smaller gears: what hangs over the table hits it.",
            gear=name, over=Mm(top - bracket.top_mm),
        )
        for name, top in tops if top > bracket.top_mm + 1e-9
    ]  # fmt: skip


def _held(bracket: Bracket, thickness_mm: float) -> list[Finding]:
    """How the unit is held: by slots long enough, or by studs that want their thread."""
    if not bracket.studs:
        return _slots(bracket)
    wants = plan_hole(thread_named(bracket.unit_screw), "steel").min_thread_depth_mm
    if thickness_mm >= wants - 1e-9:
        return []
    return [
        finding(
            "studs-too-short",
            "caution",
            "A stud of {thread} wants {wants} of thread, and the plate is {thick} thick.",
            "Take a thicker plate, or weld or nut the studs from behind.",
            thread=bracket.unit_screw, wants=Mm(wants), thick=Mm(thickness_mm),
        )
    ]  # fmt: skip


def _pocket(bracket: Bracket, thickness_mm: float) -> list[Finding]:
    found: list[Finding] = []
    outside, width = bracket.bearing_mm
    web = thickness_mm - width
    if web < WEB_MM - 1e-9:
        found.append(
            finding(
                "plate-too-thin",
                "stop" if web < 1.0 else "caution",
                "The plate of {thick} leaves {web} behind a bearing {width} wide; {least} is wanted.",
                "Take a thicker plate, or hold the bearing by a ring screwed on.",
                thick=Mm(thickness_mm), web=Mm(max(0.0, web)), width=Mm(width), least=Mm(WEB_MM),
            )
        )  # fmt: skip
    if bracket.screw_mm + SCREW_CLEARANCE_MM > outside - 2.0:
        found.append(
            finding(
                "no-shoulder",
                "stop",
                "The hole for the screw, {hole}, leaves no shoulder for a bearing of {outside}.",
                "Check both diameters: the bearing sits on the screw and in the pocket.",
                hole=Mm(bracket.screw_mm + SCREW_CLEARANCE_MM), outside=Mm(outside),
            )
        )  # fmt: skip
    return found


def _slots(bracket: Bracket) -> list[Finding]:
    """Whether the slots let the mesh be set, and the unit be lifted out of it."""
    if bracket.module_mm is None:
        return []
    least, out = LEAST_ADJUST_MODULES * bracket.module_mm, OUT_OF_MESH_MODULES * bracket.module_mm
    if bracket.adjust_mm < least - 1e-9:
        return [
            finding(
                "slots-too-short",
                "stop",
                "The slots let the unit move {has} either way; setting the mesh wants {least}.",
                "Make them {slot} long between the middles of their ends, along the line from the screw to the gear.",
                has=Mm(bracket.adjust_mm), least=Mm(least), slot=Mm(2 * out),
            )
        ]  # fmt: skip
    if bracket.adjust_mm < out - 1e-9:
        return [
            finding(
                "stays-in-mesh",
                "info",
                "With {has} either way the gears can't be lifted out of mesh ({out} outward would do it).",
                "Lengthen the slots outward if the feed is to be taken out of mesh on its slots.",
                has=Mm(bracket.adjust_mm), out=Mm(out),
            )
        ]  # fmt: skip
    return []


def _touching(bracket: Bracket, holes: Sequence[BracketHole]) -> list[Finding]:
    """Holes and slots that come nearer to each other or to the pocket than the rule."""
    found: list[Finding] = []
    others = [h for h in holes if h.for_ in ("machine", "unit")]
    for hole in others:
        metal = _between(hole, holes[0])
        if metal < POCKET_WALL_MM - 1e-9:
            found.append(
                finding(
                    "hole-in-the-pocket",
                    "stop",
                    "A hole of the {whose} pattern leaves {metal} to the bearing's pocket; {least} is wanted.",
                    "Check the pattern's measures; if they are right, put that pattern on a plate of its own, or use "
                    "shorter slots.",
                    whose=f"{hole.for_}’s", metal=Mm(max(0.0, metal)), least=Mm(POCKET_WALL_MM),
                )
            )  # fmt: skip
    for a, b in itertools.combinations(others, 2):
        least = max(thread_named(h.thread).major_mm for h in (a, b))
        metal = _between(a, b)
        if metal < min(least, 3.0 if a.for_ != b.for_ else least) - 1e-9:
            found.append(
                finding(
                    "patterns-collide",
                    "stop",
                    "A {a} hole and a {b} hole have only {metal} between them; {least} is wanted.",
                    "Turn the unit, shorten the slots, or put the unit on studs of its own plate.",
                    a=a.for_, b=b.for_, metal=Mm(max(0.0, metal)), least=Mm(least),
                )
            )  # fmt: skip
    return _once(found)


def _once(found: Sequence[Finding]) -> list[Finding]:
    """Each finding once, however many holes it is true of."""
    told: dict[str, Finding] = {}
    for f in found:
        told.setdefault(f.what.text(), f)
    return list(told.values())


def _between(a: BracketHole, b: BracketHole) -> float:
    """The metal between two holes (mm), slots along their whole length; negative where they run into each other."""
    return apart(a.ends, b.ends) - (a.diameter_mm + b.diameter_mm) / 2


def tapped_depth(bracket: SolvedBracket, thread: str) -> float:
    """How deep a stud of a thread wants to be tapped into the bracket's material (mm)."""
    return plan_hole(thread_named(thread), bracket.part.material).min_thread_depth_mm


def how_held(bracket: SolvedBracket, thread: str, *, studs: bool = False) -> Sentence:
    """How the unit is held: bolts through the bracket's slots, or studs where the unit's foot has the slots."""
    if studs:
        return Sentence("Studs of {thread} in the tapped holes; the unit moves on the slots of its own feet.",
                        {"thread": thread})  # fmt: skip
    values = {"thread": thread, "deep": Mm(tapped_depth(bracket, thread)), "thick": Mm(bracket.part.thickness_mm)}
    if tapped_depth(bracket, thread) > bracket.part.thickness_mm:
        words = (
            "Bolts of {thread} through the slots, as drawn. Studs would want {deep} of thread, and {thick} are there."
        )
        return Sentence(words, values)
    return Sentence(
        "Bolts of {thread} through the slots from the machine's side, put in before the plate goes on, their heads "
        "behind it; or, where the unit's own foot is slotted, studs in round holes tapped {deep} deep at least.",
        values,
    )


def _instruct(part: Part, projection_mm: float | None, found: Sequence[Finding]) -> Sentence:
    serious = next((f for f in found if f.severity == "stop"), None)
    if serious is not None:
        return serious.remedy
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

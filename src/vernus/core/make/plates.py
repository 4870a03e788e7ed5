"""A plate over existing holes that carries a pattern of its own, both patterns in one datum: its lower left corner.

Edges keep 1.5 diameters of the screw, the metal between two holes one diameter of the larger, counterbores are clear of
both (common practice, no source); diameters are the nominal ones of the threads. Lengths in mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.make.hardware import Material, Thread, counterbore, plan_hole
from vernus.core.make.hole_rows import EDGE_DIAMETERS, LIGAMENT_DIAMETERS
from vernus.core.make.joint import LEAST_UNDER_HEAD_MM, LEFT_UNDER_HEAD_DIAMETERS

PlateHoleOf = Literal["existing", "wanted"]
Corner = tuple[float, float]
_HAIR_MM = 1e-9


@dataclass(frozen=True)
class PlaceOfHole:
    """A hole there is, or one wanted, in a datum of one's own (mm); ``counterbored`` where its head must sink in."""

    x_mm: float
    y_mm: float
    thread: Thread
    counterbored: bool = False


@dataclass(frozen=True)
class KeepOut:
    """A rectangle in which there must be no plate (mm, the places' datum)."""

    low: Corner
    high: Corner

    def __post_init__(self) -> None:
        if not (self.low[0] < self.high[0] and self.low[1] < self.high[1]):
            raise BadInputError("A place to keep out of runs from its lower left corner to its upper right one.")


@dataclass(frozen=True)
class PlateHole:
    """A hole of the plate from its lower left corner (mm); clearance over a hole there is, tapped for one wanted."""

    of: PlateHoleOf
    x_mm: float
    y_mm: float
    thread: Thread
    drill_name: str
    diameter_mm: float
    counterbore_mm: float | None
    counterbore_depth_mm: float | None


@dataclass(frozen=True)
class PlatePlan:
    """The plate, its holes, where the places' own datum lies on it, and whether it can be made."""

    holes: tuple[PlateHole, ...]
    width_mm: float
    height_mm: float
    datum_mm: Corner
    feasible: bool
    findings: tuple[Finding, ...]


def plan_plate(
    existing: Sequence[PlaceOfHole],
    wanted: Sequence[PlaceOfHole],
    keep_out: Sequence[KeepOut] = (),
    *,
    thickness_mm: float,
    material: Material,
    edge_diameters: float = EDGE_DIAMETERS,
) -> PlatePlan:
    """The smallest plate that holds both patterns with its edges, and what stands against it.

    Raises BadInputError without holes, or for a thickness or an edge that isn't positive.
    """
    if not existing or not wanted:
        raise BadInputError("A plate wants at least one hole there is and one that is wanted.")
    if not thickness_mm > 0 or not edge_diameters > 0:
        raise BadInputError("The plate's thickness and its edge (in diameters) must be larger than zero.")
    places = [*existing, *wanted]
    reach = [_reach(p, edge_diameters) for p in places]
    low = (
        min(p.x_mm - r for p, r in zip(places, reach, strict=True)),
        min(p.y_mm - r for p, r in zip(places, reach, strict=True)),
    )
    high = (
        max(p.x_mm + r for p, r in zip(places, reach, strict=True)),
        max(p.y_mm + r for p, r in zip(places, reach, strict=True)),
    )
    holes = [_hole("existing", p, low, material) for p in existing] + [
        _hole("wanted", p, low, material) for p in wanted
    ]
    found = [*_too_near(holes), *_kept_out(places, low, high, keep_out)]
    judged = any(f.severity == "stop" for f in found)
    found += _thickness(holes, thickness_mm, material)
    judged = judged or any(f.severity == "stop" for f in found)
    return PlatePlan(tuple(holes), high[0] - low[0], high[1] - low[1], (-low[0], -low[1]), not judged, tuple(found))


def lies_under(at_mm: Corner, thread: Thread, span_mm: Corner, line_mm: Corner) -> bool:
    """Whether a body covers the head of a screw at a place.

    The body goes from one end of ``span_mm`` to the other along x; ``line_mm`` is the height of its middle and its own.
    """
    head, (up, high) = counterbore(thread)[0] / 2, line_mm
    return span_mm[0] - head < at_mm[0] < span_mm[1] + head and abs(at_mm[1] - up) < high / 2 + head


def sinks(thread: Thread, thick_mm: float) -> bool:
    """Whether the head of a screw can be sunk into a plate with half its diameter left under it."""
    return thick_mm - counterbore(thread)[1] >= LEFT_UNDER_HEAD_DIAMETERS * thread.major_mm - _HAIR_MM


def _reach(place: PlaceOfHole, edge_diameters: float) -> float:
    """How far the plate must go on beyond a hole's middle."""
    reach = edge_diameters * place.thread.major_mm
    return max(reach, counterbore(place.thread)[0] / 2 + 1.0) if place.counterbored else reach


def _hole(of: PlateHoleOf, place: PlaceOfHole, low: Corner, material: Material) -> PlateHole:
    data = plan_hole(place.thread, material)
    sunk = (data.counterbore_mm, data.counterbore_depth_mm) if place.counterbored and of == "existing" else (None, None)
    name, size = (
        (data.clearance_names[1], data.clearance_mm[1])
        if of == "existing"
        else (data.tap_drill.name, data.tap_drill.diameter_mm)
    )
    return PlateHole(of, place.x_mm - low[0], place.y_mm - low[1], place.thread, name, size, *sunk)


def _too_near(holes: Sequence[PlateHole]) -> list[Finding]:
    """Pairs of holes with less metal between them than one diameter of the larger."""
    found: list[Finding] = []
    for (m, a), (n, b) in itertools.combinations(enumerate(holes, 1), 2):
        apart = math.dist((a.x_mm, a.y_mm), (b.x_mm, b.y_mm))
        larger = max(a.thread.major_mm, b.thread.major_mm)
        metal = apart - (_round(a) + _round(b)) / 2
        least = LIGAMENT_DIAMETERS * larger
        sunk = a.counterbore_mm is not None or b.counterbore_mm is not None
        if metal < (0.0 if sunk and apart - (a.thread.major_mm + b.thread.major_mm) / 2 >= least else least) - _HAIR_MM:
            found.append(
                finding(
                    "holes-too-near",
                    "stop",
                    "Holes {m} and {n} are {apart} apart: {metal} of metal between them where {least} is wanted.",
                    "Move the wanted pattern, use a hole that is farther off, or make two plates bolted together.",
                    m=m, n=n, apart=Mm(apart), metal=Mm(max(0.0, metal)), least=Mm(least),
                )
            )  # fmt: skip
    return found


def _round(hole: PlateHole) -> float:
    """The largest round of a hole that counts: its counterbore, or the nominal diameter."""
    return hole.counterbore_mm or hole.thread.major_mm


def _kept_out(places: Sequence[PlaceOfHole], low: Corner, high: Corner, keep_out: Sequence[KeepOut]) -> list[Finding]:
    found: list[Finding] = []
    for number, area in enumerate(keep_out, 1):
        if not all(area.low[c] < high[c] - _HAIR_MM and low[c] < area.high[c] - _HAIR_MM for c in (0, 1)):
            continue
        inside = [
            n for n, p in enumerate(places, 1)
            if all(area.low[c] - p.thread.major_mm / 2 < (p.x_mm, p.y_mm)[c] < area.high[c] + p.thread.major_mm / 2
                   for c in (0, 1))
        ]  # fmt: skip
        deep = [min(area.high[c], high[c]) - max(area.low[c], low[c]) for c in (0, 1)]
        if inside:
            text = "Hole {n} lies in a place to keep out of ({number})."
            remedy = "Use another hole, or move the wanted pattern."
        else:
            text = "The plate runs {across} by {up} into a place to keep out of ({number})."
            remedy = "Cut the plate out there if the holes keep their edges, move the pattern, or make two plates."
        found.append(
            finding(
                "kept-out", "stop", text, remedy,
                n=" and ".join(map(str, inside)), number=number, across=Mm(deep[0]), up=Mm(deep[1]),
            )
        )  # fmt: skip
    return found


def _thickness(holes: Sequence[PlateHole], thickness_mm: float, material: Material) -> list[Finding]:
    found: list[Finding] = []
    for number, hole in enumerate(holes, 1):
        wants = plan_hole(hole.thread, material).min_thread_depth_mm
        if hole.of == "wanted" and thickness_mm < wants - _HAIR_MM:
            found.append(
                finding(
                    "thin-wall",
                    "caution",
                    "Hole {n} has {depth} of thread where {wanted} is wanted in this material.",
                    "Take a thicker plate, a screw right through with a nut, or an insert.",
                    n=number, depth=Mm(thickness_mm), wanted=Mm(wants),
                )
            )  # fmt: skip
        left = math.inf if hole.counterbore_depth_mm is None else thickness_mm - hole.counterbore_depth_mm
        if left < LEFT_UNDER_HEAD_DIAMETERS * hole.thread.major_mm:
            found.append(
                finding(
                    "counterbore-too-deep",
                    "stop" if left < LEAST_UNDER_HEAD_MM else "caution",
                    "Counterbore {n} is {depth} deep in a plate of {thick}: little is left under the head.",
                    "Take a thicker plate, or let the head stand proud where nothing passes.",
                    n=number, depth=Mm(hole.counterbore_depth_mm or 0.0), thick=Mm(thickness_mm),
                )
            )  # fmt: skip
    return found

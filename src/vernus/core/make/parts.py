"""Parts to make: their outline and holes from a datum corner, what to drill and tap, and what could go wrong.

x runs along the length from the left edge, y across the width from the lower edge, both mm. Edge distances: common
practice, no source: a hole's middle at least 1.5 diameters from an edge.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.make.hardware import DrillSet, Material, Thread, clearance_holes, plan_hole, tape_flag, thread_named
from vernus.core.make.stacks import slot_length

PartKind = Literal["standoff", "plate", "angle", "bridge", "t-nut", "stud", "spacer", "face"]
HoleKind = Literal["tapped", "clearance", "counterbored", "slot", "bore"]
EDGE_DIAMETERS = 1.5


@dataclass(frozen=True)
class PartHole:
    """A hole of a part; ``adjust_mm`` is how far a slot lets the screw go either way along x.

    A ``bore`` takes no screw: it is ``bore_mm`` wide and ``depth_mm`` deep (None: through), such as a bearing pocket.
    """

    x_mm: float
    y_mm: float
    kind: HoleKind
    thread: str
    adjust_mm: float = 0.0
    bore_mm: float = 0.0
    depth_mm: float | None = None


@dataclass(frozen=True)
class Part:
    """A part: a block of length × width × thickness (mm) with holes; a ``face`` is a place on the machine itself."""

    name: str
    kind: PartKind
    length_mm: float
    width_mm: float
    thickness_mm: float
    material: Material
    holes: tuple[PartHole, ...] = ()

    def __post_init__(self) -> None:
        if not (self.length_mm > 0 and self.width_mm > 0 and self.thickness_mm > 0):
            raise BadInputError(f"{self.name}: length, width and thickness must be larger than zero.")


@dataclass(frozen=True)
class HoleRow:
    """One line of the hole table; lengths in mm, None where it doesn't apply."""

    number: int
    hole: PartHole
    drill_name: str
    drill_mm: float
    engagement_percent: float | None
    thread_depth_mm: float | None
    drill_depth_mm: float | None
    tape_flag_mm: float | None
    counterbore_mm: float | None
    slot_mm: float | None
    findings: tuple[Finding, ...]

    @property
    def size_mm(self) -> float:
        """The largest round this hole makes in the surface."""
        return self.counterbore_mm or self.drill_mm


def usual_holes(kind: PartKind, length_mm: float, width_mm: float, thread: str) -> tuple[PartHole, ...]:
    """The holes a part of a kind usually has: clearance to the machine, tapped or slotted for what it carries."""
    inset = max(9.0, min(12.0, length_mm / 4))
    middle, ends = width_mm / 2, (inset, length_mm - inset)
    if kind in ("spacer", "stud"):
        return (PartHole(length_mm / 2, middle, "clearance", thread),)
    if kind == "t-nut":
        return tuple(PartHole(x, middle, "tapped", thread) for x in ends)
    if kind == "standoff":
        carried = tuple(PartHole(x, middle, "tapped", thread) for x in ends)
        return (*carried, PartHole(length_mm / 2, middle, "counterbored", thread))
    low, high = width_mm / 4, 3 * width_mm / 4
    if kind in ("angle", "bridge"):
        slots = tuple(PartHole(x, high, "slot", thread, 3.0) for x in ends)
        return (*(PartHole(x, low, "clearance", thread) for x in ends), *slots)
    return tuple(PartHole(x, y, "tapped", thread) for y in (low, high) for x in ends)


def mirrored(part: Part, name: str) -> Part:
    """The other hand of a part: its holes counted from the right edge."""
    holes = tuple(replace(h, x_mm=part.length_mm - h.x_mm) for h in part.holes)
    return replace(part, name=name, holes=holes)


def hole_table(part: Part, sets: Sequence[DrillSet] | None = None) -> list[HoleRow]:
    """What to drill and tap where, from the lower left corner; raises BadInputError for a thread that is none."""
    return [_row(part, hole, number, sets) for number, hole in enumerate(part.holes, 1)]


def _row(part: Part, hole: PartHole, number: int, sets: Sequence[DrillSet] | None) -> HoleRow:
    if hole.kind == "bore":
        return _bored(part, hole, number)
    thread = thread_named(hole.thread)
    data = plan_hole(thread, part.material, sets=sets, wall_mm=None)
    if hole.kind != "tapped":
        size = clearance_holes(thread)[1]
        slot = slot_length(size, hole.adjust_mm) if hole.kind == "slot" else None
        bore = data.counterbore_mm if hole.kind == "counterbored" else None
        name = f"{size:g} mm" if thread.system == "metric" else f"{size / 25.4:.3f} in"
        row = HoleRow(number, hole, name, size, None, None, None, None, bore, slot, ())
    else:
        through = part.kind != "face" and part.thickness_mm <= data.drill_depth_mm + 1.0
        row = HoleRow(
            number, hole, data.tap_drill.name, data.tap_drill.diameter_mm, data.engagement_percent,
            min(data.min_thread_depth_mm, part.thickness_mm), None if through else data.drill_depth_mm,
            None if through else tape_flag(data), None, None, data.findings,
        )  # fmt: skip
    return replace(row, findings=(*row.findings, *_review(part, row, data.min_thread_depth_mm)))


def _bored(part: Part, hole: PartHole, number: int) -> HoleRow:
    if not hole.bore_mm > 0:
        raise BadInputError(f"Bore {number} of {part.name} needs a diameter larger than zero.")
    depth = None if hole.depth_mm is None or hole.depth_mm >= part.thickness_mm else hole.depth_mm
    row = HoleRow(number, hole, f"bore {hole.bore_mm:g} mm", hole.bore_mm, None, None, depth, None, None, None, ())
    return replace(row, findings=tuple(_review(part, row, 0.0)))


def _review(part: Part, row: HoleRow, wanted_mm: float) -> list[Finding]:
    hole, found = row.hole, list[Finding]()
    half = (row.slot_mm or 0.0) / 2
    edges = {
        "left": hole.x_mm - max(half, 0.0), "right": part.length_mm - hole.x_mm - max(half, 0.0),
        "lower": hole.y_mm, "upper": part.width_mm - hole.y_mm,
    }  # fmt: skip
    edge = min(edges, key=lambda k: edges[k])
    if edges[edge] < row.size_mm / 2:
        found.append(
            finding(
                "off-the-part",
                "stop",
                "Hole {n} of {part} runs over the {edge} edge.",
                "Move it in, or make the part larger.",
                n=row.number, part=part.name, edge=edge,
            )
        )  # fmt: skip
    elif edges[edge] < EDGE_DIAMETERS * row.drill_mm and row.slot_mm is None and hole.kind != "bore":
        found.append(
            finding(
                "near-an-edge",
                "caution",
                "Hole {n} of {part} is only {off} from the {edge} edge.",
                "Keep one and a half diameters, or use a smaller screw.",
                n=row.number, part=part.name, off=Mm(edges[edge]), edge=edge,
            )
        )  # fmt: skip
    if row.thread_depth_mm is not None and row.thread_depth_mm < wanted_mm - 1e-9:
        found.append(
            finding(
                "thin-wall",
                "caution",
                "Hole {n} of {part} has {depth} of thread where {wanted} is wanted in this material.",
                "Use a smaller thread, a thicker part, or a nut or insert behind it.",
                n=row.number, part=part.name, depth=Mm(row.thread_depth_mm), wanted=Mm(wanted_mm),
            )
        )  # fmt: skip
    if part.kind == "face" and hole.kind == "tapped":
        found.append(
            finding(
                "behind-the-wall",
                "caution",
                "Hole {n} goes {depth} into the machine.",
                "Find out what is behind there before drilling: oil, a gearbox, a bearing.",
                n=row.number, depth=Mm(row.drill_depth_mm or 0.0),
            )
        )  # fmt: skip
    return found


def review_school(
    school: str, part: Part, rows: Sequence[HoleRow], there: Sequence[tuple[str, Thread]]
) -> list[Finding]:
    """Findings on new holes in the machine by the school: ``none``, ``reuse``, ``stick`` or ``drill``.

    ``there`` are the holes the machine has on that member: where, and their thread.
    """
    new = [r for r in rows if r.hole.kind == "tapped"]
    if part.kind != "face" or not new or school == "drill":
        return []
    if school == "reuse":
        return [_reuse(r, there) for r in new]
    what = "no new holes are wanted in the machine" if school == "none" else "it is to be stuck on"
    how = (
        "Clamp it, use the T-slots, or carry it on a plate bolted to holes there are."
        if school == "none"
        else "Clean and key both faces; magnets and adhesive carry a light cover or a tape, hardly a scale body. Keep "
        "magnets from pacemakers."
    )
    return [
        finding(
            "new-holes",
            "caution",
            "{n} tapped holes are planned in {part}, but " + what + ".",
            how,
            n=len(new),
            part=part.name,
        )
    ]


def _reuse(row: HoleRow, there: Sequence[tuple[str, Thread]]) -> Finding:
    thread = thread_named(row.hole.thread)
    same = [where for where, found in there if found.name == thread.name]
    if same:
        return finding(
            "hole-there",
            "info",
            "Hole {n}: {thread} is there already: {where}.",
            "Reach it with a slot in the bracket instead of drilling.",
            n=row.number, thread=thread.name, where="; ".join(same),
        )  # fmt: skip
    others = ", ".join(f"{found.name} ({where})" for where, found in there) or "none noted"
    return finding(
        "no-hole-there",
        "caution",
        "Hole {n}: no {thread} is there to reuse; there are: {others}.",
        "Use one of those with its own screw, or bridge to it with a plate.",
        n=row.number, thread=thread.name, others=others,
    )  # fmt: skip


def lay_out(rows: Sequence[HoleRow]) -> list[str]:
    """The drills, taps and counterbores to lay out, in the order they are used, each once."""
    tools: list[str] = ["centre punch or transfer punch", "spot drill"]
    for row in rows:
        tools.append(f"drill {row.drill_name}")
    for row in rows:
        if row.counterbore_mm is not None:
            tools.append(f"counterbore {row.counterbore_mm:g} mm for {row.hole.thread}")
    for row in rows:
        if row.hole.kind == "tapped":
            tools.append(f"tap {thread_named(row.hole.thread).name}, guide block")
    return list(dict.fromkeys(tools))

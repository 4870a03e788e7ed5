"""What to drill and tap where on a part, and what could go wrong with it.

A hole's middle keeps 1.5 diameters of its screw from an edge, two holes one diameter of the larger between them (common
practice, no source); a T-nut bar, held by its slot, only toward its ends. Advice ends somewhere: where wall and thread
don't suit, a screw right through with a nut, an insert, or a thicker part.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.make.hardware import DrillSet, HoleData, countersink_mm, plan_hole, tape_flag, thread_named
from vernus.core.make.joint import (
    LEAST_UNDER_HEAD_MM,
    LEFT_UNDER_HEAD_DIAMETERS,
    MADE_FOR_IT,
    Closed,
    HeadKind,
    Into,
    Joint,
    Layer,
    close_with_washers,
    short_of_bottom,
    washer_mm,
)
from vernus.core.make.parts import FACE_WORDS, Part, PartFace, PartHole
from vernus.core.make.screws import Screw
from vernus.core.make.stacks import slot_length
from vernus.core.units import UnitSystem, format_plain

EDGE_DIAMETERS = 1.5
LIGAMENT_DIAMETERS = 1.0
LEAST_WALL_MM = 1.0
"""The wall kept beside a counterbore: common practice, no source."""
THROUGH_FROM_MM = 1.0
"""A hole that would leave less than this behind it goes right through."""
Spot = tuple[float, float]


@dataclass(frozen=True)
class HoleRow:
    """One line of the hole table; lengths in mm, None where it doesn't apply.

    ``slot_mm`` is the slot's overall length, ``counterbore_mm`` also a countersink's diameter, ``nominal_mm`` the
    diameter the edge rule counts with.
    """

    number: int
    hole: PartHole
    drill_name: str
    drill_mm: float
    engagement_percent: float | None
    thread_depth_mm: float | None
    drill_depth_mm: float | None
    tape_flag_mm: float | None
    counterbore_mm: float | None
    counterbore_depth_mm: float | None
    slot_mm: float | None
    nominal_mm: float
    joint: Closed | None = None
    """What closes it, where it is known what its screw ends in."""
    findings: tuple[Finding, ...] = ()

    @property
    def screw(self) -> Screw | None:
        """The screw that goes in."""
        return None if self.joint is None else self.joint.screw

    @property
    def size_mm(self) -> float:
        """The largest round this hole makes in the surface."""
        return self.counterbore_mm or self.drill_mm

    @property
    def ends(self) -> tuple[Spot, Spot]:
        """The middles of its two ends; twice its middle where it is round."""
        reach = self.hole.adjust_mm if self.hole.is_slot else 0.0
        dx = reach * math.cos(math.radians(self.hole.angle_deg))
        dy = reach * math.sin(math.radians(self.hole.angle_deg))
        return (self.hole.x_mm - dx, self.hole.y_mm - dy), (self.hole.x_mm + dx, self.hole.y_mm + dy)


def hole_table(part: Part, sets: Sequence[DrillSet] | None = None) -> list[HoleRow]:
    """What to drill and tap where, face by face, from each lower left corner; raises BadInputError for no thread."""
    return _reviewed(part, [_row(part, hole, number, sets) for number, hole in enumerate(part.holes, 1)])


def readable_rows(part: Part, sets: Sequence[DrillSet] | None = None) -> tuple[list[HoleRow], list[Finding]]:
    """The rows of the holes that can be made, and a finding on each that can't be read: the others stand."""
    rows: list[HoleRow] = []
    unread: list[Finding] = []
    for number, hole in enumerate(part.holes, 1):
        try:
            rows.append(_row(part, hole, number, sets))
        except BadInputError as error:
            words = "Hole {n} of {part} can't be read: {text}"
            unread.append(
                finding("hole-unread", "stop", words, "Correct hole {n}: {text} The others stand.", n=number,
                        part=part.name, text=str(error))
            )  # fmt: skip
    return _reviewed(part, rows), unread


def _reviewed(part: Part, rows: Sequence[HoleRow]) -> list[HoleRow]:
    """The rows with what is wrong with each hole's place."""
    near = _too_near(part, rows)
    return [replace(r, findings=(*r.findings, *_review(part, r), *near.get(r.number, ()))) for r in rows]


def _row(part: Part, hole: PartHole, number: int, sets: Sequence[DrillSet] | None) -> HoleRow:
    if hole.kind == "bore":
        return _bored(part, hole, number)
    data = plan_hole(thread_named(hole.thread), part.material, sets=sets, wall_mm=None)
    return _tapped(part, hole, number, data) if hole.is_tapped else _clear(part, hole, number, data)


def _tapped(part: Part, hole: PartHole, number: int, data: HoleData) -> HoleRow:
    thread, deep = thread_made(part, hole.face, data, hole.depth_mm)
    if hole.kind == "jack":
        thread, deep = part.size_of(hole.face)[2], None
    flag = None if deep is None else tape_flag(replace(data, drill_depth_mm=deep))
    return HoleRow(
        number, hole, data.tap_drill.name, data.tap_drill.diameter_mm, data.engagement_percent, thread, deep, flag,
        None, None, None, data.thread.major_mm, None,
        (*data.findings, *_thin_wall(part, hole, number, thread, data.min_thread_depth_mm)),
    )  # fmt: skip


def thread_made(part: Part, face: PartFace, data: HoleData, typed_mm: float | None) -> tuple[float, float | None]:
    """How deep a thread of a part is made and drilled (mm; None: right through).

    Where nobody typed it, as deep as the screw engages and stays clear of the bottom.
    """
    behind = part.size_of(face)[2]
    wanted = data.min_thread_depth_mm + short_of_bottom(data.thread) if typed_mm is None else typed_mm
    deep = data.drill_depth_mm - data.min_thread_depth_mm + wanted
    through = part.kind != "face" and behind <= deep + THROUGH_FROM_MM
    return behind if through else min(wanted, behind), None if through else deep


def _clear(part: Part, hole: PartHole, number: int, data: HoleData) -> HoleRow:
    size, behind = data.clearance_mm[1], part.size_of(hole.face)[2]
    name = data.clearance_names[1]
    if hole.kind == "plain":
        if not hole.bore_mm > 0:
            raise BadInputError(f"Plain hole {number} of {part.name} needs a diameter larger than zero.")
        size, name = hole.bore_mm, f"{hole.bore_mm:g} mm"
    slot = slot_length(size, hole.adjust_mm) if hole.is_slot else None
    bore = depth = None
    if hole.kind.startswith("counterbored"):
        bore, depth = data.counterbore_mm, data.counterbore_depth_mm
    elif hole.kind.startswith("countersunk"):
        bore, depth = countersink_mm(data.thread), (countersink_mm(data.thread) - size) / 2
    found = [] if hole.kind != "plain" else _too_small(part, number, size, data.thread.major_mm)
    found += [] if depth is None else _under_head(part, number, depth, behind, data.thread.major_mm)
    closed = None if part.kind == "face" else _closed(part, hole, number, data, depth or 0.0)
    if closed is not None:
        found += closed.findings
    return HoleRow(
        number, hole, name, size, None, None, None, None, bore, depth, slot, max(size, data.thread.major_mm)
        if hole.kind == "plain" else data.thread.major_mm,
        closed, tuple(found),
    )  # fmt: skip


def _closed(part: Part, hole: PartHole, number: int, data: HoleData, sunk_mm: float) -> Closed | None:
    """The joint of a hole with what closes it; None while nobody said what its screw goes into, or it is sunk through.

    A slot that isn't sunk has a washer under the head.
    """
    behind = part.size_of(hole.face)[2]
    into = Into("nut") if hole.nut else hole.there if hole.there is not None else MADE_FOR_IT
    head: HeadKind = "countersunk" if hole.kind.startswith("countersunk") else "cap"
    bored = sunk_mm if hole.kind.startswith("counterbored") else 0.0
    if (hole.into is None and into.kind != "nut") or bored > behind:
        return None
    layers = [Layer("washer", washer_mm(data.thread))] if hole.kind == "slot" else []
    layers.append(Layer("slot" if hole.is_slot else "part", behind))
    layers += [Layer("shim", hole.behind_mm)] if hole.behind_mm > 0 else []
    layers += [Layer("part", hole.through_mm)] if hole.through_mm > 0 else []
    over = hole.over_mm if hole.over_mm is not None else 0.0 if bored > 0 else None  # it is sunk to lie under something
    joint = Joint(data.thread, tuple(layers), into, hole.into or "steel", bored, head, over)
    return close_with_washers(joint, f"hole {number} of {part.name}")


def _bored(part: Part, hole: PartHole, number: int) -> HoleRow:
    if not hole.bore_mm > 0:
        raise BadInputError(f"Bore {number} of {part.name} needs a diameter larger than zero.")
    behind = part.size_of(hole.face)[2]
    depth = None if hole.depth_mm is None or hole.depth_mm >= behind else hole.depth_mm
    name = f"bore {hole.bore_mm:g} mm"
    return HoleRow(number, hole, name, hole.bore_mm, None, None, depth, None, None, None, None, hole.bore_mm)


def _thin_wall(part: Part, hole: PartHole, number: int, has_mm: float, wants_mm: float) -> list[Finding]:
    if has_mm >= wants_mm - 1e-9 or hole.depth_mm is not None:
        return []
    return [
        finding(
            "thin-wall",
            "caution",
            "Hole {n} of {part} has {depth} of thread where {wanted} is wanted in this material.",
            "Put the screw right through with a nut, use an insert, or a thicker part.",
            n=number, part=part.name, depth=Mm(has_mm), wanted=Mm(wants_mm),
        )
    ]  # fmt: skip


def _too_small(part: Part, number: int, size_mm: float, major_mm: float) -> list[Finding]:
    """A plain hole that its screw doesn't go through."""
    if size_mm >= major_mm:
        return []
    return [
        finding(
            "hole-too-small", "stop", "Hole {n} of {part} is {size} wide, and its screw {screw}: it doesn't go in.",
            "Drill it larger, or take a thinner screw.",
            n=number, part=part.name, size=Mm(size_mm), screw=Mm(major_mm),
        )
    ]  # fmt: skip


def _under_head(part: Part, number: int, depth_mm: float, behind_mm: float, major_mm: float) -> list[Finding]:
    left = behind_mm - depth_mm
    if left >= LEFT_UNDER_HEAD_DIAMETERS * major_mm:
        return []
    return [
        finding(
            "counterbore-too-deep",
            "stop" if left < LEAST_UNDER_HEAD_MM else "caution",
            "Counterbore {n} of {part} is {depth} deep where it is {thick} thick: {left} is left under the head.",
            "Take a thicker part, sink it less, or let the head stand proud where nothing passes.",
            n=number, part=part.name, depth=Mm(depth_mm), thick=Mm(behind_mm), left=Mm(max(0.0, left)),
        )
    ]  # fmt: skip


def _review(part: Part, row: HoleRow) -> list[Finding]:
    """What is wrong with a hole's place on its face, and behind it."""
    hole, found = row.hole, list[Finding]()
    along, across, _ = part.size_of(hole.face)
    xs, ys = [e[0] for e in row.ends], [e[1] for e in row.ends]
    edges = {"left": min(xs), "right": along - max(xs), "lower": min(ys), "upper": across - max(ys)}
    edge = min(edges, key=lambda k: edges[k])
    least = EDGE_DIAMETERS * row.nominal_mm
    where = "" if hole.face == "face" else f" on its {FACE_WORDS[hole.face]}"
    if edges[edge] < row.size_mm / 2:
        found.append(
            finding(
                "off-the-part",
                "stop",
                "Hole {n} of {part}{where} runs over the {edge} edge.",
                "Move it in, or make the part larger.",
                n=row.number, part=part.name, edge=edge, where=where,
            )
        )  # fmt: skip
    elif (
        edges[edge] < least - 1e-9 and hole.kind != "bore" and not (part.kind == "t-nut" and edge in ("lower", "upper"))
    ):
        found.append(
            finding(
                "near-an-edge",
                "caution",
                "Hole {n} of {part}{where} is {off} from the {edge} edge; {least} is kept (1.5 × {d}).",
                "Move it in by {short}, or make the part larger by as much.",
                n=row.number, part=part.name, off=Mm(edges[edge]), edge=edge, where=where, least=Mm(least),
                d=Mm(row.nominal_mm), short=Mm(least - edges[edge]),
            )
        )  # fmt: skip
    if part.kind == "face" and hole.kind == "tapped":
        found.append(
            finding(
                "behind-the-wall",
                "caution",
                "Hole {n} ({part}) goes {depth} into the machine.",
                "Find out what is behind there before drilling: oil, a gearbox, a bearing.",
                n=row.number, part=part.name, depth=Mm(row.drill_depth_mm or 0.0),
            )
        )  # fmt: skip
    return found


def _too_near(part: Part, rows: Sequence[HoleRow]) -> dict[int, list[Finding]]:
    """Holes of one face with less metal between them than a diameter of the larger, by the number of the second."""
    found: dict[int, list[Finding]] = {}
    for a, b in itertools.combinations(rows, 2):
        if a.hole.face != b.hole.face or (a.hole.kind == b.hole.kind == "bore" and apart(a.ends, b.ends) < 0.01):
            continue  # a pocket and the hole through it share their middle
        metal = apart(a.ends, b.ends) - (a.size_mm + b.size_mm) / 2
        nominal = apart(a.ends, b.ends) - (a.nominal_mm + b.nominal_mm) / 2
        least = LIGAMENT_DIAMETERS * max(a.nominal_mm, b.nominal_mm)
        sunk = any(r.counterbore_mm is not None for r in (a, b))
        thin = sunk and 0 < metal < LEAST_WALL_MM - 1e-9
        if not thin and (
            (nominal >= least - 1e-9 and metal > 0) or ("bore" in (a.hole.kind, b.hole.kind) and metal > 0)
        ):
            continue
        least = LEAST_WALL_MM if thin else least
        found.setdefault(b.number, []).append(
            finding(
                "holes-too-near",
                "stop" if metal <= 0 else "caution",
                "Holes {m} and {n} of {part} run into each other." if metal <= 0
                else "The sunk heads of holes {m} and {n} of {part} leave a wall of {metal}; {least} is kept." if thin
                else "Holes {m} and {n} of {part} have {metal} between them; {least} is kept (1 × the larger).",
                "Move one of them, or shorten a slot.",
                m=a.number, n=b.number, part=part.name, metal=Mm(max(0.0, metal)), least=Mm(least),
            )
        )  # fmt: skip
    return found


def apart(a: tuple[Spot, Spot], b: tuple[Spot, Spot]) -> float:
    """Distance (mm) of two straight pieces, each from end to end; 0 where they cross."""
    if _cross(a, b):
        return 0.0
    return min(_from(p, b) for p in a) if a[0] == a[1] else min(*(_from(p, b) for p in a), *(_from(p, a) for p in b))


def _from(p: Spot, piece: tuple[Spot, Spot]) -> float:
    (x0, y0), (x1, y1) = piece
    long = (x1 - x0) ** 2 + (y1 - y0) ** 2
    t = 0.0 if long == 0 else max(0.0, min(1.0, ((p[0] - x0) * (x1 - x0) + (p[1] - y0) * (y1 - y0)) / long))
    return math.hypot(p[0] - x0 - t * (x1 - x0), p[1] - y0 - t * (y1 - y0))


def _cross(a: tuple[Spot, Spot], b: tuple[Spot, Spot]) -> bool:
    def side(p: Spot, q: Spot, r: Spot) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(*a, b[0]) * side(*a, b[1]) < 0 and side(*b, a[0]) * side(*b, a[1]) < 0


def hole_said(row: HoleRow) -> Sentence:
    """A hole as the shop reads it: what to drill, how deep, what is sunk, which way a slot runs and how far."""
    hole = row.hole
    values: dict[str, object] = {
        "drill": row.drill_name, "d": Mm(row.drill_mm), "deep": Mm(row.drill_depth_mm or 0.0),
        "thread": Mm(row.thread_depth_mm or 0.0), "bore": Mm(row.counterbore_mm or 0.0),
        "sunk": Mm(row.counterbore_depth_mm or 0.0), "slot": Mm(row.slot_mm or 0.0), "adjust": Mm(hole.adjust_mm),
        "name": hole.thread, "angle": hole.angle_deg,
    }  # fmt: skip
    through = row.drill_depth_mm is None
    if hole.is_tapped:
        words = "tap {name}: drill {drill} " + ("through" if through else "{deep} deep, thread {thread} deep")
        words += ", for a jack screw" if hole.kind == "jack" else ""
    elif hole.kind == "bore":
        words = "bore {d} through" if through else "bore {d} H7, {deep} deep"
        words += ", pocket from the machine's side" if hole.far_side else ""
    elif hole.kind == "plain":
        words = "hole {d} through"
        major = thread_named(hole.thread).major_mm
        values["slack"] = Mm((row.drill_mm - major) / 2)
        if row.drill_mm > major:
            words += " for {name} (it can be set ± {slack})"
    else:
        words = f"{'slot' if hole.is_slot else 'hole'} {{drill}} through for {{name}}"
    if hole.is_slot:
        way = {0: "along the length", 90: "across the length"}.get(
            round(hole.angle_deg) % 180, "at {angle:g}° to the length"
        )
        words += ", {slot} long overall (the screw moves ± {adjust}), " + way
    if row.counterbore_mm is not None:
        words += ", counterbored {bore} × {sunk} deep" if "counterbored" in hole.kind else ", countersunk to {bore}"
    if row.counterbore_mm is not None and hole.is_slot:
        values["long"] = Mm(row.counterbore_mm + 2 * hole.adjust_mm)
        words += " and {long} long"
    return Sentence(words, values)


def lay_out(rows: Sequence[HoleRow], units: UnitSystem = "mm") -> list[str]:
    """The drills, taps and counterbores to lay out, in the order they are used, each once; sizes in the units."""
    return list(dict.fromkeys(_tools(rows, units)))


def _tools(rows: Sequence[HoleRow], units: UnitSystem) -> Iterable[str]:
    yield from ("centre punch or transfer punch", "spot drill")
    for row in rows:
        size = format_plain(row.drill_mm, units)
        named = size if row.hole.kind == "plain" else row.drill_name
        yield f"bore {size}" if row.hole.kind == "bore" else f"drill {named}"
    for row in rows:
        if row.counterbore_mm is not None:
            sunk = "counterbored" in row.hole.kind
            what = "countersink" if not sunk else "end mill" if row.hole.is_slot else "counterbore"
            yield f"{what} {format_plain(row.counterbore_mm, units)} for {row.hole.thread}"
        if row.slot_mm is not None:
            yield f"end mill for slots of {row.drill_name}"
    for row in rows:
        if row.hole.is_tapped:
            yield f"tap {thread_named(row.hole.thread).name}, guide block"

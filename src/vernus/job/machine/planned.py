"""What the plan puts on the machine: the boxes of scales with their readers, and of power feeds."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from vernus.core.machine.envelope import COORDINATES, UPRIGHT, Box, Triple
from vernus.core.plan.plan_parts import (
    BRACKET_MM,
    PROPOSED_OFF_MM,
    ScaleBulk,
    body_start,
    clearing_across,
    clearing_off,
    scale_parts,
    solid_parts,
)
from vernus.core.plan.scales import ScaleFamily, choose_size, family_by_id, place_reader
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import (
    BESIDE_MACHINE,
    Axis,
    Delivery,
    Display,
    DrilledHole,
    Face,
    FamilyEdit,
    Hole,
    MountPart,
    PowerFeed,
    ReaderSetting,
    ScalePlan,
    carried_by,
)
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import TOLD_BY, Sourced, chosen_face, feed_of, give_up, plan_of
from vernus.job.known.lengths import (
    bracket_came,
    family_of,
    holding_parts,
    length_of,
    margin,
    measuring_length,
    moved_by,
    planned_spare,
    spare,
    spare_wanted,
    stand_off,
)
from vernus.job.known.run_on import new_bracket_mm, worked_over
from vernus.job.machine.geometry import axis_travel, face_place, geometry_findings, low_end, machine_boxes
from vernus.job.machine.rests import across_of, open_across
from vernus.job.scope import gets_scale, on_display

DISPLAY_MM = (260.0, 60.0, 170.0)  # wide, deep, high: usual sizes, common practice, no source
ARM_MM = 40.0
_BLOCK_MM = 40.0  # along the scale, while nobody typed it: common practice, no source
_READS = (*TOLD_BY, ScalePlan, FamilyEdit, Delivery, MountPart, ReaderSetting, DrilledHole, Hole)
"""The kinds of entities that a planned scale follows from."""
_WHERE_NOTHING_IS_CHOSEN = ("glass-slim", "glass-standard", "glass-long", "tape")


def bulk_of(job: Job, axis: Axis, face: Face) -> ScaleBulk | None:
    """What the planned scale takes of room on a face; where none is chosen yet, the smallest sealed one that serves.

    Where nobody said how far its body is held off, and it was measured that a casting it rides on stands in its way,
    it lies as far across its face, or else off it, as clears that.
    """
    return job.derived(("bulk", axis.id, face.id), lambda: _bulk_of(job, axis, face), _READS)


def _bulk_of(job: Job, axis: Axis, face: Face) -> ScaleBulk | None:
    travel = axis_travel(job, axis)
    if travel is None or not travel > 0:
        return None
    found = _scale_on(job, axis, face, travel)
    if found is None:
        return None
    mine = chosen_face(job, axis)
    here = mine is not None and mine.id == face.id
    known = stand_off(job, axis)
    said = (here or mine is None) and (known.is_given or known.value > 0)
    bulk = _bulk(job, axis, face, found, off=known.value if said else 0.0, here=here)
    lifted = lifted_by(job, axis, face) if here else None
    if lifted is not None:
        return replace(bulk, across_mm=lifted)
    if said or geometry_findings(job):
        return bulk
    place = face_place(face, length_of(job, axis, face))
    parts = solid_parts(place, bulk)
    met = [b for b in castings_of(job, face) if clearing_off(place, parts, [b]) != 0.0]
    met = [b for b in met if not open_across(job, face, place, parts, b)]
    clear = clearing_off(place, parts, met)
    if clear == 0.0:
        return bulk
    on, typed = casting_at(job, axis, face, face.member), (face.x, face.y, face.z)[across_of(face)].text
    across = None if on is None or typed else clearing_across(place, bulk, castings_of(job, face), on)
    if across is not None:
        return replace(bulk, across_mm=across)
    if clear is None or clear > PROPOSED_OFF_MM:
        return bulk
    return _bulk(job, axis, face, found, off=clear, here=here)


def lifted_by(job: Job, axis: Axis, face: Face) -> float | None:
    """How far above the middle of the face a plate over its old holes carries the body (mm); None without such a plate.

    The plate's thread for the body lies so far above the hole that is bolted to the old one, wherever that is.
    """
    for part in (p for p in holding_parts(job, axis) if p.part_kind == "plate"):
        holes = [h for h in job.all(DrilledHole) if h.part_id == part.id and h.face == "face"]
        threads = [h.y.mm for h in holes if h.hole_kind == "tapped" and not h.over]
        for hole in holes if threads else ():
            old = job.get(hole.over) if hole.over else None
            if isinstance(old, Hole) and old.face_id == face.id and old.at_y is not None:
                return old.at_y.mm + sum(threads) / len(threads) - hole.y.mm
    return None


def castings_of(job: Job, face: Face) -> list[Box]:
    """The machine's own castings on the two members that a scale on a face rides on."""
    mine = (face.member, face.reader_member)
    boxes = [] if geometry_findings(job) else machine_boxes(job)
    return [b for b in boxes if b.own and not b.turns and b.member in mine and b.pose in ("", UPRIGHT)]


def held_off(job: Job, axis: Axis, face: Face) -> Sourced[float]:
    """How far the body is held off its face: made, typed, or as clears the castings it rides on until then."""
    known, bulk = stand_off(job, axis), bulk_of(job, axis, face)
    if known.is_given or bulk is None:
        return known
    return Sourced(bulk.stand_off_mm, "default", known.name)


def _bulk(job: Job, axis: Axis, face: Face, scale: tuple[ScaleFamily, float], *, off: float, here: bool) -> ScaleBulk:
    """The scale on a face, held off it by ``off`` mm; ``here`` on the face that is chosen."""
    family, measuring = scale
    overall, plan = family.overall_mm(measuring), plan_of(job, axis)
    shift = moved_by(plan) if plan is not None and here else 0.0
    reader_at = _reader_at(job, axis, face, scale, here=here)
    carried, lies = reader_carrier_span(job, axis, face), plan.starts if plan is not None and here else None
    start = body_start(length_of(job, axis, face), overall, reader_at + shift, family.reader_mm, carried)
    return ScaleBulk(
        family=family,
        overall_mm=overall,
        start_mm=start + shift if lies is None else lies.mm,
        reader_at_mm=reader_at,
        cover=(plan.cover == "yes") if plan is not None else True,
        clearance_mm=max(0.0, plan.clearance.mm) if plan is not None else 1.0,
        stand_off_mm=off,
        block_mm=_block(job, axis) if off > 0 else 0.0,
        bracket_mm=_bracket(job, axis) if here else None,
        bracket_thick_mm=bracket_came(job, axis) or BRACKET_MM,
    )


def casting_at(job: Job, axis: Axis, face: Face, member: str) -> Box | None:
    """The casting of a member that is at a face: the nearest to the face's middle; None of a member without any."""
    castings = [b for b in castings_of(job, face) if b.member == member]
    if not castings:
        return None
    place, along = face_place(face, length_of(job, axis, face)), COORDINATES.index(face.along[1])
    middle = list(place.at_mm)
    middle[along] += (place.length_mm / 2) * (1 if face.along[0] == "+" else -1)
    return min(castings, key=lambda b: (round(_distance(b, middle), 3), -b.volume_mm3))


def _distance(box: Box, point: Sequence[float]) -> float:
    return math.dist([min(max(p, a), b) for p, a, b in zip(point, box.min_mm, box.max_mm, strict=True)], point)


def reader_carrier_span(job: Job, axis: Axis, face: Face) -> tuple[float, float] | None:
    """Where the casting that carries the reader lies along a face (mm from its left end); None of no such casting."""
    casting = casting_at(job, axis, face, face.reader_member)
    if casting is None:
        return None
    place, c = face_place(face, length_of(job, axis, face)), COORDINATES.index(face.along[1])
    ends = [(v - place.at_mm[c]) * (1 if face.along[0] == "+" else -1) for v in (casting.min_mm[c], casting.max_mm[c])]
    return min(ends), max(ends)


def _scale_on(job: Job, axis: Axis, face: Face, travel_mm: float) -> tuple[ScaleFamily, float] | None:
    """The family and measuring length (mm) to reckon with on a face."""
    families = families_of(job)
    known, measuring = family_of(job, axis), measuring_length(job, axis)
    if face.separate == "yes" and (known is None or known.body_type != "beam"):
        known = family_by_id(families, "beam")
        measuring = None
    if known is not None and measuring is not None:
        return known, measuring.value
    wished = [known] if known is not None else [family_by_id(families, name) for name in _WHERE_NOTHING_IS_CHOSEN]
    asked, useful = spare_wanted(job, axis), max(travel_mm - sum(give_up(axis)), 1e-3)
    for family in wished:
        choice = choose_size(family, useful, margin(job, axis).value, asked_mm=asked and asked[1])
        if choice is not None:
            return family, choice.measuring_mm
    return None


def _block(job: Job, axis: Axis) -> float:
    """How long the standoff blocks are along the scale; 0 where a plate carries it."""
    parts = holding_parts(job, axis)
    if any(p.part_kind == "plate" for p in parts):
        return 0.0
    return max((p.length.mm for p in parts if p.length.text), default=_BLOCK_MM)


def _bracket(job: Job, axis: Axis) -> Triple | None:
    """What carries the reader, as made: the largest of each size where there are several.

    A part just begun, of which no size across was typed, is none yet; a thickness nobody typed is the usual one.
    """
    made = [p for p in job.of_axis(MountPart, axis.id) if carried_by(p) == "reader"]
    made = [p for p in made if min(p.length.mm, p.width.mm, p.thickness.mm) > 0 and (p.width.text or p.thickness.text)]
    if not made:
        return None
    long = max(p.length.mm if p.length.text else 0.0 for p in made)
    thick = max(p.thickness.mm if p.thickness.text else BRACKET_MM for p in made)
    return long, max(p.width.mm for p in made), thick


def _reader_at(job: Job, axis: Axis, face: Face, scale: tuple[ScaleFamily, float], *, here: bool) -> float:
    """The reader's middle from the body's left end at the position the boxes are drawn at."""
    family, measuring = scale
    middle = family.beyond_mm + measuring / 2
    travel = axis_travel(job, axis) or 0.0
    if not axis.direction:
        return middle
    low, high = give_up(axis)
    follows = (axis.direction == face.along) == (face.reader_member == axis.moving)
    measured = axis.readout == "there"  # what is there already stands where it was found
    known = None if not here else spare(job, axis) if measured else planned_spare(job, axis)
    place = place_reader(
        family, measuring, (low, travel - high), (0.0, 0.0), None if known is None else known.value,
        reader_follows=follows,
    )  # fmt: skip
    return place.reader_mm(-low_end(job, axis))


def planned_parts(job: Job, axis: Axis, face: Face, *, air: bool = True) -> list[Box]:
    """The boxes that a scale on ``face`` brings with it, with the air wanted round them; none while it isn't known."""
    bulk = bulk_of(job, axis, face)
    if bulk is not None and not air:
        bulk = replace(bulk, clearance_mm=0.0)
    return [] if bulk is None else scale_parts(face_place(face, length_of(job, axis, face)), bulk, f"{axis.name} scale")


def all_planned_parts(job: Job, without: str = "", *, air: bool = True) -> list[Box]:
    """The parts of every axis in scope whose face is chosen, one axis left away, and of every power feed."""
    parts: list[Box] = []
    for axis in job.axes():
        face = chosen_face(job, axis)
        if face is not None and axis.id != without and (gets_scale(axis) or axis.readout == "there"):
            parts += planned_parts(job, axis, face, air=air)
    return parts + feed_parts(job) + display_parts(job)


def display_parts(job: Job) -> list[Box]:
    """The display and its arm, where it is said how far the arm reaches; empty while no axis is read on one."""
    wanted = job.all(Display)[-1:]
    if not wanted or not any(on_display(a) for a in job.axes()):
        return []
    display, reach = wanted[0], mm_of(wanted[0].reach) or 0.0
    if display.member in BESIDE_MACHINE:
        return []
    boxes = machine_boxes(job) if reach > 0 else []
    member = display.member or next((m.id for m in job.machine.members if not m.on), "")
    mine = [b for b in boxes if b.member == member and b.pose in ("", UPRIGHT)]
    if not mine:
        return []
    left = display.side == "left"
    front, top = min(b.min_mm[1] for b in mine), max(b.max_mm[2] for b in mine)
    edge = min(b.min_mm[0] for b in mine) if left else max(b.max_mm[0] for b in mine)
    wide, deep, high = DISPLAY_MM

    def beside(name: str, near: float, far: float, y: tuple[float, float], z: tuple[float, float]) -> Box:
        x = (edge - far, edge - near) if left else (edge + near, edge + far)
        return Box(name, member, (x[0], y[0], z[0]), (x[1], y[1], z[1]), group="display")

    arm = beside("display arm", 0.0, reach, (front, front + ARM_MM), (top - ARM_MM, top))
    case = beside(
        "display case", max(0.0, reach - wide / 2), reach + wide / 2, (front - deep, front),
        (top - ARM_MM / 2 - high / 2, top - ARM_MM / 2 + high / 2),
    )  # fmt: skip
    return [arm, case]


def feed_parts(job: Job) -> list[Box]:
    """The units of the power feeds, on the ends of the members they move."""
    feeds = [(axis, worked_over(job, axis, feed)) for axis in job.axes() if (feed := feed_of(job, axis)) is not None]
    boxes = machine_boxes(job) if feeds else []
    return [box for axis, feed in feeds for box in feed_boxes(axis, feed, boxes)]


def feed_boxes(axis: Axis, feed: PowerFeed, boxes: Sequence[Box]) -> list[Box]:
    """The unit, and a bracket in place of the bearing's, on the end of the moving member; empty while unknown.

    Tops are level with the member's top, middles in the middle of the member's width. A clamp sits on the table itself.
    """
    sizes = (mm_of(feed.unit_long), mm_of(feed.unit_wide), mm_of(feed.unit_high))
    mine = [b for b in boxes if b.member == axis.moving]
    long, wide, high = (s or 0.0 for s in sizes)
    if not axis.direction or not mine or not min(long, wide, high) > 0:
        return []
    along = COORDINATES.index(axis.direction[1])
    across = next(c for c in (1, 0) if c != along)
    rise = next(c for c in (2, 1, 0) if c not in (along, across))
    carrier = max(mine, key=lambda b: b.max_mm[along] - b.min_mm[along])
    middle = (carrier.min_mm[across] + carrier.max_mm[across]) / 2
    group = f"{axis.name} power feed"

    def on_end(name: str, first: float, last: float) -> Box:
        """A box from ``first`` to ``last`` off the end of its carrier."""
        low, top = list(carrier.min_mm), list(carrier.max_mm)
        edge = carrier.max_mm[along] if feed.end == "high" else carrier.min_mm[along]
        low[along], top[along] = (edge + first, edge + last) if feed.end == "high" else (edge - last, edge - first)
        low[across], top[across] = middle - wide / 2, middle + wide / 2
        low[rise], top[rise] = carrier.max_mm[rise] - high, carrier.max_mm[rise]
        return Box(name, axis.moving, (low[0], low[1], low[2]), (top[0], top[1], top[2]), group=group)

    thick = max(0.0, new_bracket_mm(feed) or 0.0) if feed.bracket == "replace" else 0.0
    bracket = [on_end(f"{axis.name} feed bracket", 0.0, thick)] if thick else []
    return [on_end(group, thick, thick + long), *bracket]

"""What lengths the scale, its reader and what carries them have, from size to spare and cable. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from vernus.core.plan.scales import ScaleFamily, family_length
from vernus.core.prove.thermal import SUBSTANCES, Substance
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    CableRun,
    Face,
    FamilyEdit,
    MountPart,
    ScalePlan,
    StackHeight,
    carried_by,
)
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.known.axis_figures import Source, Sourced, chosen_face, delivery_of, give_up, plan_of, set_up_of, travel
from vernus.job.scope import has_scale

DEFAULT_MARGIN_MM = 10.0

_LONGER_MM = DEFAULT_MARGIN_MM
"""What comes longer than planned by no more than a margin is hung as it is, not cut; common practice, no source."""


def family_of(job: Job, axis: Axis) -> ScaleFamily | None:
    """The scale's family with what is known better of it, lengths as delivered; None while none is chosen."""
    plan = plan_of(job, axis)
    family = _table_family(job, plan)
    if plan is None or family is None:
        return None
    arrived, measuring = delivery_of(job, axis), _measuring(job, axis, plan)
    if arrived is None:
        return family
    if arrived.reader is not None and arrived.reader.mm > 0:
        family = family.with_reader(arrived.reader.mm)
    if arrived.overall is not None and measuring is not None and arrived.overall.mm >= measuring.value:
        came_long = measuring.value if arrived.measuring is None else arrived.measuring.mm
        ends = (arrived.overall.mm - came_long) / 2 - (family.beyond_mm - family.end_piece_mm)
        family = replace(family, end_piece_mm=max(0.0, ends))
    if arrived.hole_from_end is not None and arrived.hole_from_end.mm >= 0:
        family = replace(family, holes_from_end_mm=arrived.hole_from_end.mm)
    return family


def _table_family(job: Job, plan: ScalePlan | None) -> ScaleFamily | None:
    """The family as planned, before anything arrived."""
    return next((f for f in families_of(job) if plan is not None and f.id == plan.family), None)


def planned_family(job: Job, axis: Axis) -> ScaleFamily | None:
    """The family as planned, before anything arrived."""
    return _table_family(job, plan_of(job, axis))


def edit_of(job: Job, plan: ScalePlan | None) -> FamilyEdit | None:
    """What was changed of the family that a plan names."""
    return next((e for e in job.all(FamilyEdit) if plan is not None and e.family == plan.family), None)


def _measuring(job: Job, axis: Axis, plan: ScalePlan) -> Sourced[float] | None:
    arrived = delivery_of(job, axis)
    if (
        arrived is not None
        and arrived.measuring is not None
        and arrived.measuring.mm > 0
        and not stock_to_cut(job, axis)
    ):
        return Sourced(arrived.measuring.mm, "delivered", "measuring length")
    planned = cut_to(job, axis)
    if plan.measuring is None or planned is None:
        return None
    return Sourced(planned, "typed" if plan.measuring.text else "chosen", "measuring length")


def cut_to(job: Job, axis: Axis) -> float | None:
    """The measuring length planned (mm), as typed or chosen; None while there is none.

    One that was chosen from the list and is cut only once it has come is never cut shorter than its head, as it came,
    and the travel, as it is measured now, want.
    """
    plan, arrived, far = plan_of(job, axis), delivery_of(job, axis), travel(job, axis)
    family = _table_family(job, plan)
    if plan is None or plan.measuring is None or not plan.measuring.mm > 0:
        return None
    planned = plan.measuring.mm
    if plan.measuring.text or arrived is None or far is None or family is None or not family.can_be_cut:
        return planned
    if arrived.reader is not None and arrived.reader.mm > 0:
        family = family.with_reader(arrived.reader.mm)
    wanted, given_up = spare_wanted(job, axis), sum(give_up(axis))
    asked = None if wanted is None else wanted[1]
    return max(planned, family_length(family, far.value - given_up, margin(job, axis).value, asked))


_SIZE_SHARE = 0.03
"""How far a delivered length may be off the size it was sold as."""


def stock_to_cut(job: Job, axis: Axis) -> float | None:
    """The delivered length (mm) that is still to be cut to the plan's; None where nothing is to be cut.

    Longer than planned, of a family that can be cut, and planned to a length that isn't just a size it is sold in.
    """
    plan, arrived = plan_of(job, axis), delivery_of(job, axis)
    family = _table_family(job, plan)
    if plan is None or plan.measuring is None or arrived is None or arrived.measuring is None or family is None:
        return None
    planned, delivered = cut_to(job, axis) or 0.0, arrived.measuring.mm
    sold_so = any(abs(plan.measuring.mm - size) < 1e-6 for size in family.sizes_mm)
    if not family.can_be_cut or not 0 < planned < delivered - _LONGER_MM:
        return None
    return None if sold_so and delivered <= planned * (1 + _SIZE_SHARE) else delivered


def measuring_length(job: Job, axis: Axis) -> Sourced[float] | None:
    """The scale's measuring length."""
    plan = plan_of(job, axis)
    return _measuring(job, axis, plan) if plan is not None else None


def body_length(job: Job, axis: Axis) -> Sourced[float] | None:
    """The body from end to end."""
    family, measuring, arrived = family_of(job, axis), measuring_length(job, axis), delivery_of(job, axis)
    if family is None or measuring is None:
        return None
    length = family.overall_mm(measuring.value)
    if arrived is not None and arrived.overall is not None and arrived.overall.mm >= measuring.value:
        return Sourced(length, "delivered", "body length")
    edit = edit_of(job, plan_of(job, axis))
    typed = family.end_piece_mm == 0 or (edit is not None and edit.end_piece is not None)
    return Sourced(length, "typed" if typed else "template", "body length")


def reader_length(job: Job, axis: Axis) -> Sourced[float] | None:
    """The reader along the scale."""
    family, arrived = family_of(job, axis), delivery_of(job, axis)
    if family is None:
        return None
    if arrived is not None and arrived.reader is not None and arrived.reader.mm > 0:
        return Sourced(family.reader_mm, "delivered", "reader length")
    edit = edit_of(job, plan_of(job, axis))
    typed = edit is not None and edit.reader is not None
    return Sourced(family.reader_mm, "typed" if typed else "template", "reader length")


def first_hole(job: Job, axis: Axis) -> Sourced[float] | None:
    """The body's first hole from its end."""
    family, arrived = family_of(job, axis), delivery_of(job, axis)
    if family is None:
        return None
    delivered = arrived is not None and arrived.hole_from_end is not None and arrived.hole_from_end.mm >= 0
    return Sourced(family.holes_from_end_mm, "delivered" if delivered else "template", "first hole")


def bracket_came(job: Job, axis: Axis) -> float | None:
    """How thick (mm) the reader's bracket is that came with the scale; None while nobody measured it."""
    arrived = delivery_of(job, axis)
    thick = None if arrived is None else mm_of(arrived.bracket)
    return thick if thick is not None and thick > 0 else None


def screws(job: Job, axis: Axis, target: str = "body") -> Sourced[tuple[float, float]] | None:
    """The end screws of the body, or of the reader, from its left end, left first."""
    hole = first_hole(job, axis)
    long = reader_length(job, axis) if target == "reader" else body_length(job, axis)
    if hole is None or long is None or not long.value > 2 * hole.value:
        return None
    source: Source = "delivered" if hole.source == long.source == "delivered" else "template"
    return Sourced((hole.value, long.value - hole.value), source, "end screws")


def face_length(job: Job, axis: Axis) -> Sourced[float] | None:
    """The face the body is screwed to."""
    plan, face = plan_of(job, axis), chosen_face(job, axis)
    if face is not None and face.length.text and face.length.mm > 0:
        return Sourced(face.length.mm, "typed", "face length")
    if plan is not None and plan.face is not None and plan.face.mm > 0:
        return Sourced(plan.face.mm, "typed" if plan.face.text else "template", "face length")
    return None if face is None or not face.length.mm > 0 else Sourced(face.length.mm, "template", "face length")


def length_of(job: Job, axis: Axis, face: Face) -> float:
    """The length of one candidate face (mm): of the chosen one as it is known."""
    mine = chosen_face(job, axis)
    known = face_length(job, axis) if mine is not None and mine.id == face.id else None
    return face.length.mm if known is None else known.value


def bearing_length(job: Job, axis: Axis) -> Sourced[float] | None:
    """What the body lies on from end to end: the face, or a made part that carries it and is longer than the face.

    A body with a block at each end is borne over the whole of its length.
    """
    face, body = face_length(job, axis), body_length(job, axis)
    made = [p for p in job.of_axis(MountPart, axis.id) if carried_by(p) == "body"] if has_scale(axis) else []
    blocks = [p for p in made if p.part_kind == "standoff" and _thick(job, p).text]
    if body is not None and len(blocks) > 1:
        return Sourced(max(body.value, 0.0 if face is None else face.value), "typed", "the blocks that carry it")
    plates = [p.length.mm for p in made if p.part_kind != "standoff" and p.length.text]
    if face is None or max(plates, default=0.0) <= face.value:
        return face
    return Sourced(max(plates), "typed", "the part that carries it")


def carrier(job: Job, axis: Axis) -> Sourced[Literal["moving", "still"]]:
    """Whether the body is on the moving or on the still member."""
    plan, face = plan_of(job, axis), chosen_face(job, axis)
    if plan is not None and plan.scale_on:
        return Sourced(plan.scale_on, "typed", "the scale's carrier")
    if face is not None and face.member in (axis.moving, axis.still):
        return Sourced("moving" if face.member == axis.moving else "still", "chosen", "the scale's carrier")
    return Sourced(axis.usual_on, "template", "the scale's carrier")


def reader_follows(job: Job, axis: Axis) -> bool:
    """Whether the reader goes to the right along the body, as one faces it, while the axis goes to its high end."""
    face = chosen_face(job, axis)
    if face is None or not axis.direction:
        return carrier(job, axis).value == "still"
    return (axis.direction == face.along) == (face.reader_member == axis.moving)


def margin(job: Job, axis: Axis) -> Sourced[float]:
    """The margin wanted at each end."""
    plan = plan_of(job, axis)
    if plan is None:
        return Sourced(DEFAULT_MARGIN_MM, "default", "margin")
    return Sourced(max(0.0, plan.margin.mm), "typed" if plan.margin.text else "chosen", "margin")


def spare_wanted(job: Job, axis: Axis) -> tuple[Literal["low", "high"], float] | None:
    """The end at which a spare was asked for, and how much; None where it is even."""
    plan = plan_of(job, axis)
    if plan is None or plan.spare_at == "even" or plan.spare is None or plan.spare.mm < 0:
        return None
    return plan.spare_at, plan.spare.mm


def spare(job: Job, axis: Axis) -> Sourced[tuple[float, float]] | None:
    """What the scale has beyond the useful travel at the low and the high end; negative where it is short.

    Measured once the reader is set; until then as asked for, and even otherwise, less what the body was moved.
    """
    planned = planned_spare(job, axis)
    said = set_up_of(job, axis) if has_scale(axis) else None
    low, high = (mm_of(said.spare_low), mm_of(said.spare_high)) if said is not None else (None, None)
    if low is None and high is None:
        return planned
    total = None if planned is None else sum(planned.value)
    if total is None and (low is None or high is None):
        return None
    rest = total or 0.0
    both = (low if low is not None else rest - (high or 0.0), high if high is not None else rest - (low or 0.0))
    return Sourced(both, "measured", "spare")


def planned_spare(job: Job, axis: Axis) -> Sourced[tuple[float, float]] | None:
    """The spare at the low and the high end as planned."""
    family, measuring, far = family_of(job, axis), measuring_length(job, axis), travel(job, axis)
    plan = plan_of(job, axis)
    if plan is None or family is None or measuring is None or far is None:
        return None
    rest = measuring.value - family.head_mm - (far.value - sum(give_up(axis)))
    wanted = spare_wanted(job, axis)
    low = rest / 2 if wanted is None else wanted[1] if wanted[0] == "low" else rest - wanted[1]
    # The reader stays where its member holds it: a body moved to the right leaves it nearer its left end.
    off = moved_by(plan) if reader_follows(job, axis) else -moved_by(plan)
    return Sourced((low - off, rest - low + off), "chosen" if wanted is None else "typed", "spare")


def moved_by(plan: ScalePlan) -> float:
    """How far (mm) the body was moved to the right on its face, its reader staying; 0 where its place was measured."""
    return 0.0 if plan.starts is not None else plan.shift.mm


def stand_off(job: Job, axis: Axis) -> Sourced[float]:
    """How far the body is held off its face: by the parts whose thickness was typed, as typed, or by parts proposed."""
    parts, planned = holding_parts(job, axis), stand_off_wanted(job, axis)
    if not parts and planned is not None:
        return Sourced(planned, "typed", "stand-off")
    typed = any(_thick(job, p).text for p in parts)
    return Sourced(_held_off(job, parts), "measured" if typed else "default", "stand-off")


def stand_off_wanted(job: Job, axis: Axis) -> float | None:
    """The stand-off typed into the plan (mm), 0 for a body that is to lie right on its face."""
    plan = plan_of(job, axis)
    return plan.stand_off.mm if plan is not None and plan.stand_off is not None and plan.stand_off.mm >= 0 else None


def holding_parts(job: Job, axis: Axis) -> list[MountPart]:
    """The blocks and plates that hold the body off: those whose thickness was typed before those only begun.

    A part of which nothing was typed decides nothing against a stand-off that was.
    """
    parts = [p for p in job.of_axis(MountPart, axis.id) if carried_by(p) == "body"] if has_scale(axis) else []
    parts = [p for p in parts if p.part_kind in ("standoff", "plate") and _thick(job, p).mm > 0]
    typed = [p for p in parts if _thick(job, p).text]
    return typed or ([] if stand_off_wanted(job, axis) is not None else parts)


def _held_off(job: Job, parts: Sequence[MountPart]) -> float:
    """The blocks and plates on each other (mm), each with the foam tape it is stuck on with."""
    kinds = ("standoff", "plate")
    return sum(max((_thick(job, p).mm + _foam(p) for p in parts if p.part_kind == kind), default=0.0) for kind in kinds)


def _foam(part: MountPart) -> float:
    return part.tape_thick.mm if part.fixed == "foam" else 0.0


def _thick(job: Job, part: MountPart) -> LengthEntry:
    """A part's thickness: of the gap it fills, or its own."""
    gap = gap_left(job, part) if part.fills == "thickness" else None
    return LengthEntry(mm=gap, text=part.gap.text) if gap is not None and part.gap is not None else part.thickness


def gap_left(job: Job, part: MountPart) -> float | None:
    """What a gap measured leaves for the part that fills it, beside the pieces noted under Stack (mm); None: no gap."""
    if part.gap is None or not part.gap.mm > 0:
        return None
    return part.gap.mm - math.fsum(h.height.mm for h in job.all(StackHeight) if h.part_id == part.id)


def cable_length(job: Job, axis: Axis) -> Sourced[float] | None:
    """The cable supplied, plug to reader."""
    arrived = delivery_of(job, axis)
    if arrived is not None and arrived.cable is not None:
        return Sourced(arrived.cable.mm, "delivered", "cable length")
    run = next(iter(reversed(job.of_axis(CableRun, axis.id))), None)
    return None if run is None or run.supplied is None else Sourced(run.supplied.mm, "typed", "cable length")


def substance(job: Job, axis: Axis) -> Sourced[Substance]:
    """What the scale expands like: a tape and a magnetic body like what carries them, cast iron until said."""
    family = family_of(job, axis)
    if family is None:
        return Sourced("glass", "default", "what the scale expands like")
    like: Substance = next((s for s in SUBSTANCES if s == family.expands_like), "glass")
    return Sourced(like, "template", "what the scale expands like")

"""Where the body of a scale lies on its face: start, end, first and last hole, and how far off it at least."""

from __future__ import annotations

from dataclasses import dataclass, replace

from vernus.core.machine.envelope import Box
from vernus.core.plan.plan_parts import scale_parts
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known import chosen_face, length_of, measuring_length
from vernus.job.machine.geometry import face_place, geometry_findings, keep_reachable, machine_boxes, solid
from vernus.job.machine.planned import bulk_of

_MOST_MM = 80.0
_STEP_MM = 0.5
_NEAR_MM = 0.005


@dataclass(frozen=True)
class PlaceOnFace:
    """Where the body lies on its face (mm from the face's left end), and its holes."""

    start_mm: float
    end_mm: float
    first_hole_mm: float
    last_hole_mm: float
    overhang_mm: float


def place_on_face(job: Job, axis: Axis) -> PlaceOnFace | None:
    """The body's place on the chosen face, None while either is open."""
    face = chosen_face(job, axis)
    if face is None or measuring_length(job, axis) is None:
        return None
    bulk = bulk_of(job, axis, face)
    if bulk is None:
        return None
    end, hole = bulk.start_mm + bulk.overall_mm, bulk.family.holes_from_end_mm
    return PlaceOnFace(
        start_mm=bulk.start_mm,
        end_mm=end,
        first_hole_mm=bulk.start_mm + hole,
        last_hole_mm=end - hole,
        overhang_mm=max(0.0, -bulk.start_mm, end - length_of(job, axis, face)),
    )


def least_stand_off(job: Job, axis: Axis) -> float | None:
    """How far (mm) the chosen face's parts have to stand off at least to clear the metal and the places of its member.

    None while no face is chosen, the machine can't be one or nothing is known of the scale, and where no stand-off up
    to 80 mm clears them.
    """
    face = chosen_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if face is None or bulk is None or geometry_findings(job):
        return None
    place = face_place(face, length_of(job, axis, face))
    there = [b for b in (*machine_boxes(job), *map(solid, keep_reachable(job))) if b.pose in ("", "upright")]

    def clears(off: float) -> bool:
        parts = scale_parts(place, replace(bulk, stand_off_mm=off), f"{axis.name} scale")
        return not any(_meets(p, b) for p in parts for b in there if p.member == b.member)

    steps = (n * _STEP_MM for n in range(round(_MOST_MM / _STEP_MM) + 1))
    high = next((off for off in steps if clears(off)), None)
    if high is None or high == 0.0:
        return high
    low = high - _STEP_MM
    while high - low > _NEAR_MM:
        middle = (low + high) / 2
        low, high = (low, middle) if clears(middle) else (middle, high)
    return round(high, 2)


def _meets(part: Box, there: Box) -> bool:
    """Whether a scale's part stands in something; a bracket or cable stub is made to what it is screwed to."""
    if any(part.name.endswith(f" {word}") for word in ("bracket", "stub")):
        return False
    return all(
        part.min_mm[c] < there.max_mm[c] - _NEAR_MM and there.min_mm[c] < part.max_mm[c] - _NEAR_MM for c in range(3)
    )

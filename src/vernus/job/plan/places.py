"""Where the body of a scale lies on its face: start, end, first and last hole, and how far off it at least."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.machine.envelope import COORDINATES, UPRIGHT
from vernus.core.plan.plan_parts import beyond_carrier, body_start, clearing_off
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known import chosen_face, figures_given, length_of, measuring_length, moved_by, plan_of
from vernus.job.machine.geometry import face_place, geometry_findings, keep_reachable, machine_boxes, solid
from vernus.job.machine.planned import bulk_of, reader_carrier, reader_carrier_span
from vernus.job.plan.stop_rests import FAR_IDLE_MM, FAR_MM, FAR_SHARE, casting_rests, unmeasured_of


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


def place_rests(job: Job, axis: Axis) -> tuple[str, ...]:
    """What nobody measured of where the casting that carries the reader lies along the face, by name.

    A figure counts where, as far off as machines of a kind differ, it would move the body or leave its reader beside
    nothing.
    """
    return job.derived_of_axis("place rests", axis.id, lambda: _place_rests(job, axis))


def _place_rests(job: Job, axis: Axis) -> tuple[str, ...]:
    face = chosen_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    casting = None if face is None else reader_carrier(job, face)
    span = None if face is None else reader_carrier_span(job, axis, face)
    if face is None or bulk is None or casting is None or span is None:
        return ()
    c, sign = COORDINATES.index(face.along[1]), 1 if face.along[0] == "+" else -1
    shares = casting_rests(job, face, casting, c)
    low, high = shares if sign > 0 else shares[::-1]
    given, length = figures_given(job), length_of(job, axis, face)
    plan = plan_of(job, axis)
    moved = 0.0 if plan is None else moved_by(plan)
    found: list[str] = []
    for name in dict.fromkeys((*low, *high)):
        far = max(FAR_MM, FAR_SHARE * abs(given.get(name, 0.0)))
        for by in (-far, far):
            there = (span[0] + sign * by * low.get(name, 0.0), span[1] + sign * by * high.get(name, 0.0))
            start = body_start(length, bulk.overall_mm, bulk.reader_at_mm + moved, bulk.family.reader_mm, there)
            off = abs(start + moved - bulk.start_mm) if plan is None or plan.starts is None else 0.0
            if off > FAR_IDLE_MM or beyond_carrier(bulk, there) > 0:
                found += unmeasured_of(job, {name: 1.0})
                break
    return tuple(dict.fromkeys(found))


def least_stand_off(job: Job, axis: Axis) -> float | None:
    """How far (mm) the chosen face's parts have to stand off at least to clear the metal and the places of its member.

    None while no face is chosen, the machine can't be one or nothing is known of the scale, and where no stand-off
    there is clears them.
    """
    face = chosen_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if face is None or bulk is None or geometry_findings(job):
        return None
    place = face_place(face, length_of(job, axis, face))
    there = [b for b in (*machine_boxes(job), *map(solid, keep_reachable(job))) if b.pose in ("", UPRIGHT)]
    return clearing_off(place, bulk, there)

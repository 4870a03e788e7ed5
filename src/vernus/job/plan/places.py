"""Where the body of a scale lies on its face: start, end, first and last hole."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known import chosen_face, length_of, measuring_length
from vernus.job.machine.planned import bulk_of


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

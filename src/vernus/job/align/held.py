"""What holds the ends of a target: jack screws under the part that carries a body, for tilt and roll off its face, or
the end screws."""

from __future__ import annotations

from vernus.job.document import Job
from vernus.job.entities import Axis, Plane, Target
from vernus.job.known.axis_figures import Sourced
from vernus.job.known.lengths import screws
from vernus.job.make.lean import Jacks, jacks_under


def jacks_of(job: Job, axis: Axis, target: Target, plane: Plane) -> Jacks | None:
    """The jack screws that correct a pass; None where nothing but the end screws does, as along the face."""
    return jacks_under(job, axis) if target == "body" and plane != "edge" else None


def ends_of(job: Job, axis: Axis, target: Target, plane: Plane) -> Sourced[tuple[float, float]] | None:
    """Where the ends of a target are held, from its left end, left first."""
    jacks = jacks_of(job, axis, target, plane)
    if jacks is not None:
        return Sourced((jacks.left_mm, jacks.right_mm), "typed", "jack screws")
    return screws(job, axis, target)

"""What the ends of an axis are called: left and right, front and back, bottom and top; on a lathe its own words."""

from __future__ import annotations

from dataclasses import replace

from vernus.core.finding import Directions, Finding, directed
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known.axis_figures import chosen_face
from vernus.job.scope import is_lathe

_ENDS = {"x": ("left", "right"), "y": ("front", "back"), "z": ("bottom", "top")}
_LATHE = {"x": ("headstock", "tailstock"), "y": ("outer", "inner"), "z": ("bottom", "top")}


def end_words(job: Job, axis: Axis) -> tuple[str, str]:
    """The names of the ends of an axis's travel, low end first; "low" and "high" for one without a direction."""
    if not axis.direction:
        return "low", "high"
    low, high = (_LATHE if is_lathe(job) else _ENDS)[axis.direction[1]]
    return (low, high) if axis.direction[0] == "+" else (high, low)


def directions_of(job: Job, axis: Axis) -> Directions:
    """The words of direction of an axis: its ends, and the ends of its scale where that stands upright."""
    return job.derived(("directions", axis.id), lambda: _directions_of(job, axis))


def _directions_of(job: Job, axis: Axis) -> Directions:
    face = chosen_face(job, axis)
    along = face.along if face is not None else axis.direction
    first, second = _SIDES[along[1]] if along else ("left", "right")
    behind = face is not None and bool(along) and along[1] == "x" and face.out == "+y"
    if along[:1] == "-" and not behind:
        first, second = second, first
    return Directions(end_words(job, axis), (first, second), "from behind" if behind else "", job.info.degrees)


_SIDES = {"x": ("left", "right"), "y": ("front", "back"), "z": ("lower", "upper")}
"""What the ends of a body are called that runs so, the one that its face counts from first."""


def finding_directed(found: Finding, directions: Directions) -> Finding:
    """A finding told in an axis's own words of direction."""
    return replace(found, what=directed(found.what, directions), remedy=directed(found.remedy, directions))

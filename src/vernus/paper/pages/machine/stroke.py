"""The line of an axis as a picture: what the job knows, ready to be drawn on a sheet or a page."""

from __future__ import annotations

from vernus.core.machine.stroke import End
from vernus.core.plan.scales import ScaleFamily
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import feed_of, travel
from vernus.job.known.lengths import family_of, measuring_length, reader_follows
from vernus.job.machine.directions import directions_of, end_words
from vernus.job.machine.stroke import candidate_stroke, stroke_of
from vernus.paper.drawing.machine.stroke_parts import ScaleRow, StrokePicture


def stroke_picture(
    job: Job, axis: Axis, at_mm: float | None = None, candidate: tuple[ScaleFamily, float] | None = None
) -> StrokePicture:
    """The line of an axis, with the axis at ``at_mm`` from its low mark.

    ``candidate`` is a family and measuring length (mm) to look at in place of the one chosen.
    """
    far, feed = travel(job, axis), feed_of(job, axis)
    stroke = stroke_of(job, axis).stroke
    family, known = family_of(job, axis), measuring_length(job, axis)
    measuring = None if known is None else known.value
    if candidate is not None:
        family, measuring = candidate
        stroke = candidate_stroke(job, axis, *candidate) or stroke
    row = None
    if family is not None and measuring is not None:
        left_at: End = "low" if reader_follows(job, axis) else "high"
        row = ScaleRow(measuring, family.beyond_mm, family.reader_mm, left_at, directions_of(job, axis).sides[0])
    return StrokePicture(
        stroke,
        (axis.moving or axis.name, axis.still or "the machine"),
        row,
        at_mm,
        (None, None) if feed is None else (mm_of(feed.set_low), mm_of(feed.set_high)),
        far is not None and not far.is_given,
        end_words(job, axis),
        {"+z": 1, "-z": -1}.get(axis.direction, 0),
    )

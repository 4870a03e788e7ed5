"""Which stops are fitted: by the tick on the card, and only as far before the mark as it was ticked for."""

from __future__ import annotations

from vernus.core.machine.stroke import Need
from vernus.job.document import Job
from vernus.job.entities import Axis, Step
from vernus.job.machine.stroke import stroke_of
from vernus.job.made import MATTERS


def is_fitted(job: Job, axis: Axis, stop: Need) -> bool:
    """Whether a stop was ticked as fitted where it is wanted now; a tick that noted no figure counts for all."""
    tick = next((s for s in job.all(Step) if s.key == "stops" and s.done), None)
    if tick is None or not tick.made_to:
        return tick is not None
    was = next((m.mm for m in tick.made_to if m.id == f"stop/{axis.name}/{stop.end}"), None)
    by_mm = MATTERS["stop"][0].by_mm or 0.0
    return was is not None and abs(was - stop.before_mark_mm) <= by_mm


def stops_fitted(job: Job, axis: Axis) -> bool:
    """Whether every stop of an axis is fitted where it is wanted now; one without a stop has none to fit."""
    line = stroke_of(job, axis).stroke
    return line is None or all(is_fitted(job, axis, stop) for stop in line.stops)

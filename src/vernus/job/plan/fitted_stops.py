"""Which stops are fitted: by the tick on the card, and only as far before the mark as it was ticked for."""

from __future__ import annotations

from vernus.job.document import Job
from vernus.job.entities import Step
from vernus.job.made import MATTERS
from vernus.job.plan.travel_left import AxisStop, stops_of


def is_fitted(job: Job, stop: AxisStop) -> bool:
    """Whether a stop was ticked as fitted where it is wanted now; a tick that noted no figure counts for all."""
    tick = next((s for s in job.all(Step) if s.key == "stops" and s.done), None)
    if tick is None or not tick.made_to:
        return tick is not None
    wanted = f"stop/{stop.axis.name}/{stop.need.end}"
    was = next((m.mm for m in tick.made_to if m.id == wanted), None)
    by_mm = MATTERS["stop"][0].by_mm or 0.0
    return was is not None and abs(was - stop.need.before_mark_mm) <= by_mm


def stops_fitted(job: Job) -> bool:
    """Whether every stop is fitted where it is wanted now."""
    return all(is_fitted(job, stop) for stop in stops_of(job))

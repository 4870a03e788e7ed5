"""A check or a run as it was read: what nobody said on it follows what is said of the display and of the scale.

Said before or after the readings were logged, it comes to the same.
"""

from __future__ import annotations

from vernus.core.prove.calibrate.calibration import MM_PER_INCH
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun, Compensation, PositioningRun
from vernus.job.known.display import family_count_mm, setting_of, shows
from vernus.job.known.lengths import substance
from vernus.job.moments import instant
from vernus.job.prove.owned_references import profile_of


def check_as_read(job: Job, run: CalibrationRun) -> CalibrationRun:
    """A check with the counts the display was set to, how it shows a move, and what the scale expands like."""
    axis = job.get(run.axis_id)
    if not isinstance(axis, Axis):
        return run
    changes: dict[str, object] = {}
    if run.set_counts is None or _said_since(job, axis, run):
        changes |= _counts(job, axis, run)
    if not run.shows:
        changes["shows"] = shows(job, axis).value
    if not run.scale_substance:
        changes["scale_substance"] = substance(job, axis).value
    return run.model_copy(update=changes) if changes else run


def run_as_read(job: Job, run: PositioningRun) -> PositioningRun:
    """A run over targets with how the display shows a move, and what the scale expands like."""
    axis = job.get(run.axis_id)
    if not isinstance(axis, Axis) or (run.shows and run.scale_substance):
        return run
    shown, like = run.shows or shows(job, axis).value, run.scale_substance or substance(job, axis).value
    return run.model_copy(update={"shows": shown, "scale_substance": like})


def _said_since(job: Job, axis: Axis, run: CalibrationRun) -> bool:
    """Whether somebody said what is set in the display after the last check was read."""
    said, last = setting_of(job, axis), job.of_axis(CalibrationRun, axis.id)[-1:]
    latest = bool(last) and last[0].id == run.id
    return latest and said is not None and said.counts is not None and instant(said.changed) > instant(run.changed) > ""


def _counts(job: Job, axis: Axis, run: CalibrationRun) -> dict[str, object]:
    """The counts set when a check was read, per inch or mm: as keyed in before, as said, or as such scales have it."""
    said, profile = setting_of(job, axis), profile_of(job)
    keyed = [
        c
        for c in job.of_axis(Compensation, axis.id)
        if c.method == "counts" and instant(c.created) <= (instant(run.created) or "~")
    ]
    if (
        said is not None
        and said.counts is not None
        and not (keyed and instant(keyed[-1].created) > instant(said.changed))
    ):
        return {"set_counts": said.counts, "per": said.per}
    if keyed:
        return {"set_counts": keyed[-1].value, "per": keyed[-1].per or run.per}
    per = run.per if profile is None else profile.per
    return {"set_counts": (MM_PER_INCH if per == "in" else 1.0) / family_count_mm(job, axis), "per": per}

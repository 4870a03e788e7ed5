"""What the display counts and shows: the size of a count, the step, radius or diameter."""

from __future__ import annotations

from typing import Literal

from vernus.core.budget import standing_limit
from vernus.core.prove.calibrate.calibration import MM_PER_INCH
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    AxisSetting,
    CalibrationRun,
    Compensation,
)
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import Sourced, accuracy, plan_of
from vernus.job.known.lengths import edit_of, family_of
from vernus.job.moments import instant

DEFAULT_COUNT_UM = 5.0


def setting_of(job: Job, axis: Axis) -> AxisSetting | None:
    """What was said to be set in the display for an axis."""
    found = job.of_axis(AxisSetting, axis.id)
    return found[-1] if found else None


def count(job: Job, axis: Axis) -> Sourced[float]:
    """One count of the axis (mm): as set in the display, by the family's table until then."""
    said = setting_of(job, axis)
    keyed = next(
        (c for c in reversed(job.of_axis(Compensation, axis.id)) if c.method == "counts" and c.value > 0), None
    )
    runs = [r for r in job.of_axis(CalibrationRun, axis.id) if r.checks and r.set_counts]
    if keyed is not None and (said is None or said.counts is None or instant(keyed.created) > instant(said.changed)):
        return Sourced(_per(keyed.per) / keyed.value, "measured", "count")
    if said is not None and said.counts is not None and said.counts > 0:
        return Sourced(_per(said.per) / said.counts, "typed", "count")
    if runs:
        return Sourced(_per(runs[-1].per) / (runs[-1].set_counts or 1.0), "typed", "count")
    family = family_of(job, axis)
    if family is None:
        return Sourced(family_count_mm(job, axis), "default", "count")
    edit = edit_of(job, plan_of(job, axis))
    typed = edit is not None and edit.count_um is not None
    return Sourced(family_count_mm(job, axis), "typed" if typed else "template", "count")


def family_count_mm(job: Job, axis: Axis) -> float:
    """One count (mm) as the axis's scale family usually has it."""
    family = family_of(job, axis)
    return (DEFAULT_COUNT_UM if family is None else family.count_um) / 1000


def count_said(job: Job, axis: Axis, run: CalibrationRun) -> bool:
    """Whether somebody said what the display was set to for a check, or it is only what such scales usually have."""
    said = setting_of(job, axis)
    if said is not None and said.counts is not None:
        return True
    if any(c.method == "counts" for c in job.of_axis(Compensation, axis.id)):
        return True
    usual = _per(run.per) / family_count_mm(job, axis)
    return run.set_counts is not None and abs(run.set_counts - usual) > 1e-6 * usual


def _per(unit: str) -> float:
    return MM_PER_INCH if unit == "in" else 1.0


def step(job: Job, axis: Axis) -> Sourced[LengthEntry] | None:
    """The last digit of the display on an axis, as set now; None while nobody said."""
    said = setting_of(job, axis)
    if said is not None and said.resolution is not None and said.resolution.mm > 0:
        return Sourced(said.resolution, "typed", "the display's last digit")
    return None


def shown_step(job: Job, axis: Axis) -> float:
    """The step (mm) in which the figure of an axis can move: the larger of its last digit and one count."""
    last = step(job, axis)
    return max(count(job, axis).value, 0.0 if last is None else last.value.mm)


def still_limit(job: Job, axis: Axis) -> float:
    """How far (mm) a figure of the axis that should stand still may move."""
    return standing_limit(shown_step(job, axis), accuracy(axis).value)


def shows(job: Job, axis: Axis) -> Sourced[Literal["radius", "diameter"]]:
    """Whether the display shows the true move of an axis or twice it."""
    said = setting_of(job, axis)
    if said is None or not said.shows:
        return Sourced("radius", "default", "radius or diameter")
    return Sourced(said.shows, "typed", "radius or diameter")

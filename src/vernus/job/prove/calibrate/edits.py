"""The edits of checks of the display that a user makes at the machine: each returns the entities to put."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from datetime import datetime
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding
from vernus.core.units import UnitSystem
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, AxisSetting, CalibrationRun, Check, Compensation, Entity, LogEntry, TableKnot
from vernus.job.fields import LengthEntry
from vernus.job.known.display import setting_of, shows, step
from vernus.job.moments import own_date
from vernus.job.prove.as_read import check_as_read
from vernus.job.prove.calibrate.result import calibration_result, latest_run
from vernus.job.prove.owned_references import profile_of


def axis_setting(job: Job, axis: Axis, new_id_: str) -> AxisSetting:
    """What is set in the display for an axis, a fresh record if there is none yet."""
    profile = profile_of(job)
    per = profile.per if profile is not None else job.info.units
    return setting_of(job, axis) or AxisSetting(id=new_id_, axis_id=axis.id, per=per)


def other_shows(job: Job, run: CalibrationRun, findings: Sequence[Finding]) -> AxisSetting | None:
    """What to say of the display where it shows twice or half the true move: that it shows a diameter, or a radius.

    ``findings`` are those of the check as logged. None where it shows no such ratio, or where that is said already.
    """
    axis = job.get(run.axis_id)
    mixed = any(f.code == "clean-ratio" for f in findings)
    ratios = [c.shown.mm / c.true.mm for c in run.checks if c.true.mm]
    if not mixed or not ratios or not isinstance(axis, Axis) or run.shows:
        return None
    near = min((1.0, 2.0), key=lambda r: abs(abs(statistics.median(ratios)) - r))
    if abs(abs(statistics.median(ratios)) / near - 1) > _RATIO_OFF:
        return None
    other: Literal["radius", "diameter"] = "diameter" if near > 1 else "radius"
    if shows(job, axis).value == other:
        return None
    said: AxisSetting = axis_setting(job, axis, new_id()).with_(shows=other)
    return said


_RATIO_OFF = 0.005


def current_run(job: Job, axis: Axis, units: UnitSystem) -> CalibrationRun:
    """The check being logged, or a fresh one set as the display was last keyed."""
    last, profile, said = latest_run(job, axis), profile_of(job), setting_of(job, axis)
    pair = profile is not None and profile.factor == "pair"
    if last is not None:
        return _run_by(last, "factor") if pair and not last.checks and last.method == "counts" else last
    per: Literal["in", "mm"] = "in" if units == "in" else "mm"
    if said is not None and said.counts is not None:
        per = said.per
    elif profile is not None:
        per = profile.per
    usual = LengthEntry(mm=0.00508, text="0.2", unit="thou") if units == "in" else LengthEntry(mm=0.005, text="0.005")
    digit = step(job, axis)
    method: Literal["counts", "factor"] = "factor" if pair else "counts"
    of_step = usual if digit is None else digit.value
    return CalibrationRun(id=new_id(), axis_id=axis.id, per=per, step=of_step, method=method)


def _run_by(run: CalibrationRun, method: Literal["counts", "factor"]) -> CalibrationRun:
    changed = run.with_(method=method)
    assert isinstance(changed, CalibrationRun)
    return changed


def left_behind(job: Job, run: CalibrationRun) -> CalibrationRun:
    """A check that another one follows: from now on it keeps what the display was set to while it was read."""
    was = check_as_read(job, run)
    said = setting_of(job, axis) if isinstance(axis := job.get(run.axis_id), Axis) else None
    kept = {"set_counts": was.set_counts, "per": was.per} if run.set_counts is not None or said is not None else {}
    shown = {"shows": was.shows} if said is not None and said.shows else {}
    changed = run.with_(**kept, **shown)
    assert isinstance(changed, CalibrationRun)
    return changed


def fresh_run(run: CalibrationRun) -> CalibrationRun:
    """Another check of the display as it is set: the same reference, settings and temperatures, no readings."""
    blank = {"id": new_id(), "created": "", "changed": "", "note": "", "shows": ""}
    changed = run.with_(**blank, checks=())
    assert isinstance(changed, CalibrationRun)
    return changed


def run_of_today(run: CalibrationRun, now: datetime) -> CalibrationRun:
    """The run to log into: a fresh one where the last figure of ``run`` was logged on another day than ``now``."""
    if not run.checks or not run.changed:
        return run
    if own_date(run.changed) == now.date():
        return run
    changed = fresh_run(run).with_(scale_c=None, reference_c=None)  # another day has its own
    assert isinstance(changed, CalibrationRun)
    return changed


def with_check(run: CalibrationRun, true: LengthEntry, shown: LengthEntry) -> CalibrationRun:
    """The run with one more comparison; raises BadInputError for a zero move in a counts run."""
    if run.method == "counts" and true.mm == 0:
        raise BadInputError("The move is zero, so nothing can be divided by it; move a known distance first.")
    return _run(run, (*run.checks, Check(true=true, shown=shown)))


def with_check_changed(
    run: CalibrationRun, row: int, field: Literal["true", "shown"], entry: LengthEntry
) -> CalibrationRun:
    """The run with one figure corrected."""
    changed = Check.model_validate({**dict(run.checks[row]), field: entry})
    return _run(run, (*run.checks[:row], changed, *run.checks[row + 1 :]))


def without_check(run: CalibrationRun, row: int) -> CalibrationRun:
    """The run without one comparison."""
    return _run(run, (*run.checks[:row], *run.checks[row + 1 :]))


def _run(run: CalibrationRun, checks: tuple[Check, ...]) -> CalibrationRun:
    changed = run.with_(checks=checks)
    assert isinstance(changed, CalibrationRun)
    return changed


def key_in(job: Job, run: CalibrationRun) -> list[Entity]:
    """Record that the advised figure was keyed into the display, and begin the run that checks it.

    Raises BadInputError while the run advises nothing.
    """
    result = calibration_result(job, run)
    value, keyed = result.value_to_key, result.keyed
    if value is None or keyed is None:
        raise BadInputError("There is nothing to key in yet; log a check first, or settle the findings.")
    per = check_as_read(job, run).per if run.method == "counts" else ""
    changes: dict[str, dict[str, object]] = {"counts": {"set_counts": None}, "factor": {"set_factor": value}}
    setting = changes.get(run.method, {})
    knots = () if result.table is None else result.table.knots
    what = {"counts": "", "factor": "linear factor ", "table": "a table of "}[run.method]
    text = f"Keyed into the display: {what}{keyed.words.text(job.info.units)}."
    return [
        *_set_now(job, run, value),
        Compensation(
            id=new_id(),
            axis_id=run.axis_id,
            run_id=run.id,
            method=run.method,
            value=value,
            per=per,
            knots=tuple(TableKnot(at_mm=k.at_mm, correction_mm=k.correction_mm) for k in knots),
        ),
        LogEntry(id=new_id(), axis_id=run.axis_id, text=text),
        left_behind(job, run),
        fresh_run(run).with_(**setting),
    ]


def _set_now(job: Job, run: CalibrationRun, counts: float) -> list[Entity]:
    """What is set in the display once counts are keyed in; the rest of what it holds is as it was."""
    axis = job.get(run.axis_id)
    if run.method != "counts" or not isinstance(axis, Axis):
        return []
    per = check_as_read(job, run).per
    return [axis_setting(job, axis, new_id()).with_(counts=counts, per=per)]

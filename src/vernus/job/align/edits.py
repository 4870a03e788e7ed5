"""The edits a user makes at the machine: each returns the entities to put."""

from __future__ import annotations

from typing import Literal

from vernus.core.align.sweep import propose_stations
from vernus.core.errors import BadInputError
from vernus.core.machine.travel import handwheel_travel
from vernus.core.units import UnitSystem, parse_number
from vernus.job.align.passes import passes, targets_of
from vernus.job.catalog.families import families_of
from vernus.job.catalog.shipped import tools
from vernus.job.document import Job, new_id
from vernus.job.entities import (
    Axis,
    CalibrationRun,
    Check,
    Compensation,
    Entity,
    IndicatorKit,
    LogEntry,
    Plane,
    Reading,
    ScalePlan,
    Sweep,
    TableKnot,
    Target,
    TravelSurvey,
)
from vernus.job.fields import LengthEntry
from vernus.job.machine.travel import plan_of, scale_result, travel_result
from vernus.job.prove.calibrate import calibration_result, latest_run
from vernus.job.prove.owned_references import profile_of, resolution_of

STATIONS = 7
UNKNOWN_SWEEP_MM = 300.0
SCREW_FROM_END_MM = 8.0  # usual distance of the end holes; common practice, no source. To be measured.


def survey_with(job: Job, axis: Axis, tool_id: str) -> TravelSurvey:
    """The survey of an axis with a tool, a fresh one if there is none yet."""
    for survey in job.of_axis(TravelSurvey, axis.id):
        if survey.tool == tool_id:
            return survey
    tool = next(t for t in tools() if t.id == tool_id)
    inches = job.info.units == "in"
    division = LengthEntry.read(tool.division_in, "in") if inches else LengthEntry(mm=tool.division_mm)
    return TravelSurvey(id=new_id(), axis_id=axis.id, tool=tool_id, division=division)


def turns_entry(axis: Axis, survey: TravelSurvey, text: str) -> LengthEntry:
    """A travel from handwheel turns typed as a plain number; raises BadInputError, also while the lead is unknown."""
    if axis.lead is None:
        raise BadInputError("Say the lead of this axis's screw first, under Setup (F4).")
    turns = parse_number(text)
    same = survey.approach == "same"
    backlash = 0.0 if axis.backlash is None else axis.backlash.mm
    if not same and axis.backlash is None:
        raise BadInputError("The marks were approached from opposite sides: say the backlash under Setup (F4).")
    mm = handwheel_travel(turns, axis.lead.mm, backlash, same_side=same)
    return LengthEntry(mm=mm)


def scale_plan(job: Job, axis: Axis, scale_on: Literal["moving", "still"]) -> ScalePlan:
    """The scale plan of an axis, a fresh one if there is none yet."""
    return plan_of(job, axis) or ScalePlan(id=new_id(), axis_id=axis.id, scale_on=scale_on)


def first_sweep(job: Job, axis: Axis, plane: Plane, target: Target, units: UnitSystem) -> Sweep:
    """A fresh pass: stations from the travel and the plan, screws and indicator as last noted on this target."""
    earlier = [s for s in job.of_axis(Sweep, axis.id) if s.screw_left is not None and s.target == target]
    if earlier:
        last = earlier[-1]
        changes = {"id": new_id(), "created": "", "changed": "", "note": "", "plane": plane, "readings": ()}
        return _fresh(last, **changes, moved_by="dial")
    inch = units == "in"
    small = {
        "division": LengthEntry(mm=0.0127, text="0.5", unit="thou") if inch else LengthEntry(mm=0.01, text="0.01"),
        "tolerance": LengthEntry(mm=0.0508, text="2", unit="thou") if inch else LengthEntry(mm=0.05, text="0.05"),
    }
    low, high, screws = _sweep_reach(job, axis, target)
    stations = tuple(_proposed(s) for s in _stations(low, high, 2.54 if inch else 1.0))
    left, right = (_proposed(s) for s in screws)
    return Sweep(
        id=new_id(), axis_id=axis.id, plane=plane, target=target, stations=stations, screw_left=left,
        screw_right=right, **small,
    )  # fmt: skip


def _fresh(sweep: Sweep, **changes: object) -> Sweep:
    made = sweep.with_(**changes)
    assert isinstance(made, Sweep)
    return made


def _stations(low_mm: float, high_mm: float, grid_mm: float) -> list[float]:
    """Stations on a grid as coarse as the stretch allows; none where it has no length to speak of."""
    for grid in (grid_mm, grid_mm / 10, grid_mm / 100):
        try:
            return propose_stations(low_mm, high_mm, STATIONS, grid)
        except BadInputError:
            continue
    return []


def clear_of_obstacle(sweep: Sweep) -> Sweep:
    """The pass with every station not read yet that lies on the obstacle moved to the obstacle's nearer end."""
    if sweep.blocked_from is None or sweep.blocked_to is None:
        return sweep
    ends = sorted((sweep.blocked_from, sweep.blocked_to), key=lambda end: end.mm)
    read = len(sweep.readings)
    stations = list(sweep.stations[:read])
    for station in sweep.stations[read:]:
        inside = ends[0].mm < station.mm < ends[1].mm
        put = min(ends, key=lambda end: abs(end.mm - station.mm)) if inside else station
        if not inside or all(put.mm != other.mm for other in (*stations, *sweep.stations)):
            stations.append(put)
    return _fresh(sweep, stations=tuple(stations))


def _sweep_reach(job: Job, axis: Axis, target: Target) -> tuple[float, float, tuple[float, float]]:
    """Where along the target the indicator can sweep, and where its end screws are likely to be (mm).

    A reader is swept over its own length only.
    """
    travel = travel_result(job, axis).useful_mm or UNKNOWN_SWEEP_MM
    plan = plan_of(job, axis)
    if target == "reader" and plan is not None and plan.family:
        long = next(f for f in families_of(job) if f.id == plan.family).reader_mm
        return 5.0, long - 5.0, (SCREW_FROM_END_MM, long - SCREW_FROM_END_MM)
    place = scale_result(job, axis, plan).placement if plan is not None else None
    if place is None or plan is None or plan.measuring is None:
        return 0.0, travel, (0.0, travel)
    family = next(f for f in families_of(job) if f.id == plan.family)
    overall = plan.measuring.mm + 2 * family.end_piece_mm
    middle = overall / 2
    return middle - travel / 2, middle + travel / 2, (SCREW_FROM_END_MM, overall - SCREW_FROM_END_MM)


def _proposed(mm: float) -> LengthEntry:
    """A length nobody typed."""
    return LengthEntry(mm=mm)


def next_station(sweep: Sweep) -> LengthEntry | None:
    """Where to read next: through the stations once, then from the first again to see that nothing moved, or all back.

    For roll both ends only, each on the top and on the bottom line.
    """
    if not sweep.stations:
        return None
    if sweep.plane == "roll":
        ends = (sweep.stations[0], sweep.stations[-1])
        return ends[len(sweep.readings) // 2 % 2]
    count, n = len(sweep.stations), len(sweep.readings)
    if sweep.order == "back":
        n %= 2 * count
        return sweep.stations[n if n < count else 2 * count - 1 - n]
    return sweep.stations[n % count]


def next_line(sweep: Sweep) -> Literal["", "top", "bottom"]:
    """The line to touch next in a roll pass; nothing in the others."""
    if sweep.plane != "roll":
        return ""
    return "top" if len(sweep.readings) % 2 == 0 else "bottom"


def with_reading(sweep: Sweep, station: LengthEntry, reading: LengthEntry) -> Sweep:
    """The pass with one more reading."""
    return _fresh(sweep, readings=(*sweep.readings, Reading(station=station, reading=reading, line=next_line(sweep))))


def with_reading_changed(sweep: Sweep, row: int, field: Literal["station", "reading"], entry: LengthEntry) -> Sweep:
    """The pass with one figure corrected."""
    changed = Reading.model_validate({**dict(sweep.readings[row]), field: entry})
    return _fresh(sweep, readings=(*sweep.readings[:row], changed, *sweep.readings[row + 1 :]))


def with_station_planned(sweep: Sweep, row: int, station: LengthEntry) -> Sweep:
    """The pass with one of its planned stations elsewhere; those beyond the last are added."""
    stations = list(sweep.stations)
    stations[row : row + 1] = [station]
    return _fresh(sweep, stations=tuple(stations))


def without_station(sweep: Sweep, row: int) -> Sweep:
    """The pass without one of its planned stations."""
    return _fresh(sweep, stations=(*sweep.stations[:row], *sweep.stations[row + 1 :]))


def without_reading(sweep: Sweep, row: int) -> Sweep:
    """The pass without one reading."""
    return _fresh(sweep, readings=(*sweep.readings[:row], *sweep.readings[row + 1 :]))


def next_pass(job: Job, sweep: Sweep) -> Sweep:
    """A new pass with the same setup; raises BadInputError while the present one has no figures."""
    if len({r.station.mm for r in sweep.readings}) < 2:
        raise BadInputError("Log this pass first: two stations at least. Then start the next one.")
    moved_by = "dial" if sweep.by == "pivot" else "turns"
    return _fresh(sweep, id=new_id(), created="", changed="", note="", readings=(), moved_by=moved_by)


def current_sweep(job: Job, axis: Axis, plane: Plane, units: UnitSystem, target: Target | None = None) -> Sweep:
    """The pass being logged of a target in a plane, or a fresh one that isn't in the job yet.

    Without a target the first one of the axis's scale family.
    """
    what = target or targets_of(job, axis)[0]
    found = passes(job, axis.id, plane, what)
    return found[-1] if found else first_sweep(job, axis, plane, what, units)


def with_kit(sweep: Sweep, kit: IndicatorKit) -> Sweep:
    """The pass with an indicator of the kit."""
    changes = {"division": kit.division, "range": kit.range, "sense": kit.sense, "lever_deg": kit.lever_deg}
    return _fresh(sweep, **changes)


def current_run(job: Job, axis: Axis, units: UnitSystem) -> CalibrationRun:
    """The check being logged, or a fresh one set as the display was last keyed."""
    last = latest_run(job, axis)
    if last is not None:
        return last
    profile = profile_of(job)
    per = profile.per if profile is not None else "in" if units == "in" else "mm"
    counts = 1000.0 / _family_count_um(job, axis) * (25.4 if per == "in" else 1.0)
    usual = LengthEntry(mm=0.00508, text="0.2", unit="thou") if units == "in" else LengthEntry(mm=0.005, text="0.005")
    step = resolution_of(job) or usual
    return CalibrationRun(id=new_id(), axis_id=axis.id, set_counts=counts, per=per, step=step)


def _family_count_um(job: Job, axis: Axis) -> float:
    plan = plan_of(job, axis)
    return next((f.count_um for f in families_of(job) if plan is not None and f.id == plan.family), 5.0)


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
    per = run.per if run.method == "counts" else ""
    setting = {"counts": {"set_counts": value}, "factor": {"set_factor": value}, "table": {}}[run.method]
    knots = () if result.table is None else result.table.knots
    what = {"counts": "", "factor": "linear factor ", "table": "a table of "}[run.method]
    text = f"Keyed into the display: {what}{keyed.words.text(job.info.units)}."
    return [
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
        run.with_(id=new_id(), created="", changed="", note="", checks=(), **setting),
    ]

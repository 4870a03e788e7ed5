"""Positioning runs as they are planned and logged: targets by the kind of run, and every edit at the machine."""

from __future__ import annotations

from pathlib import Path

from vernus.core.errors import BadInputError
from vernus.core.prove.diagnosis import wave_targets
from vernus.core.prove.positioning import LEAST_PER_METRE
from vernus.core.units import UnitSystem
from vernus.job.document import Job, new_id
from vernus.job.entities import Approach, Axis, PositioningRun
from vernus.job.fields import LengthEntry, complaints, mm_of
from vernus.job.formats.measurements import read_measurements
from vernus.job.known.display import step
from vernus.job.machine.travel import travel_result

QUICK_TARGETS, QUICK_CYCLES = 3, 2


def run_of(job: Job, axis: Axis, units: UnitSystem) -> PositioningRun:
    """The run being logged, or a fresh one over the travel that isn't in the job yet."""
    found = job.of_axis(PositioningRun, axis.id)
    if found:
        return with_targets(job, axis, found[-1], units)
    fresh = PositioningRun(id=new_id(), axis_id=axis.id)
    last = step(job, axis)
    if last is not None:
        fresh = _changed(fresh, step=last.value)
    elif units == "in":
        fresh = _changed(fresh, step=LengthEntry(mm=0.0127, text="0.5", unit="thou"))
    return with_targets(job, axis, fresh, units)


def _changed(run: PositioningRun, **changes: object) -> PositioningRun:
    made = run.with_(**changes)
    assert isinstance(made, PositioningRun)
    return made


def with_targets(job: Job, axis: Axis, run: PositioningRun, units: UnitSystem) -> PositioningRun:
    """The run with as many targets as its kind asks for, spread over the useful travel; kept while readings are logged.

    A number of targets outside its limits changes nothing: it is told as a finding.
    """
    travel = travel_result(job, axis).useful_mm
    if run.readings or travel is None or complaints(run):
        return run
    grid = 25.4 / 20 if units == "in" else 1.0
    inset = min(5.0, travel / 50)
    if run.plan == "wave":
        fine = grid / 10
        wave = [round(p / fine) * fine for p in wave_targets(inset, travel - inset, mm_of(axis.lead))]
        return _changed(run, targets=tuple(LengthEntry(mm=p) for p in wave), cycles=2.0)
    if run.plan == "quick":
        run = _changed(run, stations=float(QUICK_TARGETS), cycles=float(QUICK_CYCLES), ways="both")
    count = max(2, round(run.stations))
    uneven = [0.0, *((n + 0.18 * (-1) ** n) / (count - 1) for n in range(1, count - 1)), 1.0]
    places = [round((inset + u * (travel - 2 * inset)) / grid) * grid for u in uneven]
    targets = tuple(LengthEntry(mm=p) for p in sorted(set(places)))
    return _changed(run, targets=targets)


def fewest_targets(travel_mm: float) -> int:
    """How many targets the standard asks for over a travel (mm)."""
    return max(LEAST_PER_METRE, -int(-LEAST_PER_METRE * travel_mm // 1000))


def next_approach(run: PositioningRun) -> tuple[int, LengthEntry, bool] | None:
    """Cycle (from 1), target and direction of the next reading: up through all targets, then back down."""
    order = [(t, True) for t in run.targets]
    if run.ways == "both":
        order += [(t, False) for t in reversed(run.targets)]
    done = len(run.readings)
    if not order or done >= len(order) * round(run.cycles):
        return None
    return done // len(order) + 1, *order[done % len(order)]


def with_shown(run: PositioningRun, shown: LengthEntry) -> PositioningRun:
    """The run with one more reading; raises BadInputError when it is full."""
    due = next_approach(run)
    if due is None:
        raise BadInputError("Every cycle is read; start another run, or ask for more cycles under Run.")
    return _changed(run, readings=(*run.readings, Approach(target=due[1], up=due[2], shown=shown)))


def with_shown_changed(run: PositioningRun, row: int, shown: LengthEntry) -> PositioningRun:
    """The run with one reading corrected."""
    changed = run.readings[row].model_copy(update={"shown": shown})
    return _changed(run, readings=(*run.readings[:row], changed, *run.readings[row + 1 :]))


def without_last(run: PositioningRun) -> PositioningRun:
    """The run without its last reading."""
    return _changed(run, readings=run.readings[:-1])


def read_run(path: Path, axis: Axis) -> PositioningRun:
    """A run from a CSV of target, approach and shown, in the order read; raises BadInputError."""
    rows = read_measurements(path, ("target", "shown"), ("approach",))
    readings = [
        Approach(target=LengthEntry(mm=t), up=way > 0, shown=LengthEntry(mm=s))
        for t, way, s in zip(rows["target"], rows["approach"], rows["shown"], strict=True)
    ]
    targets = sorted({r.target.mm for r in readings})
    both = len({r.up for r in readings}) == 2
    cycles = len(readings) / (len(targets) * (2 if both else 1))
    return PositioningRun(
        id=new_id(), axis_id=axis.id, targets=tuple(LengthEntry(mm=t) for t in targets), stations=float(len(targets)),
        cycles=min(50.0, max(1.0, float(-int(-cycles // 1)))), ways="both" if both else "up", readings=tuple(readings),
    )  # fmt: skip

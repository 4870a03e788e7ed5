"""The edits of alignment passes that a user makes at the machine: each returns the pass as changed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.units import MM_PER, UnitSystem
from vernus.job.align.passes import next_to_read, passes, targets_of
from vernus.job.align.proposed import as_proposed
from vernus.job.align.reader import strip_tolerance
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, IndicatorKit, Plane, Reading, Sweep, Target
from vernus.job.fields import LengthEntry


def first_sweep(job: Job, axis: Axis, plane: Plane, target: Target, units: UnitSystem) -> Sweep:
    """A fresh pass: stations from the travel and the plan, screws and indicator as last noted on this target."""
    earlier = [s for s in job.of_axis(Sweep, axis.id) if s.screw_left is not None and s.target == target]
    if earlier:
        last = earlier[-1]
        changes: dict[str, object] = {"id": new_id(), "created": "", "changed": "", "note": ""}
        changes |= {"plane": plane, "readings": ()}
        if last.plane != plane and last.tolerance == _tolerance(job, axis, last.plane, target, units):
            changes["tolerance"] = _tolerance(job, axis, plane, target, units)
        return as_proposed(job, axis, _fresh(last, **changes, moved_by="dial", rule_left=None, rule_right=None))
    inch = units == "in"
    small = {
        "division": LengthEntry(mm=0.0127, text="0.5", unit="thou") if inch else LengthEntry(mm=0.01, text="0.01"),
        "tolerance": _tolerance(job, axis, plane, target, units),
    }
    return as_proposed(job, axis, Sweep(id=new_id(), axis_id=axis.id, plane=plane, target=target, **small))


def _tolerance(job: Job, axis: Axis, plane: Plane, target: Target, units: UnitSystem) -> LengthEntry:
    """What a target may lean, end to end: what the head of a tape allows, 0.05 mm or 2 thou of everything else."""
    strip = strip_tolerance(job, axis, plane) if target == "body" and plane != "roll" else None
    if units == "in":
        each = float(MM_PER["thou"])
        thou = 2 if strip is None else max(2, math.floor(strip / each))
        return LengthEntry(mm=thou * each, text=f"{thou}", unit="thou")
    mm = 0.05 if strip is None else max(0.05, strip)
    return LengthEntry(mm=mm, text=f"{mm:g}")


def _fresh(sweep: Sweep, **changes: object) -> Sweep:
    made = sweep.with_(**changes)
    assert isinstance(made, Sweep)
    return made


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


def next_line(sweep: Sweep) -> Literal["", "top", "bottom"]:
    """The line to touch next in a roll pass; nothing in the others."""
    if sweep.plane != "roll":
        return ""
    return "top" if len(sweep.readings) % 2 == 0 else "bottom"


def with_reading(sweep: Sweep, station: LengthEntry, reading: LengthEntry, *, live: bool = False) -> Sweep:
    """The pass with one more reading. One at a station that was read already is a second look: the first stays.

    Who slipped takes the first one back (undo, Delete, or corrects it in the list).
    """
    read = Reading(station=station, reading=reading, line=next_line(sweep), live=live)
    return _fresh(sweep, readings=(*sweep.readings, read))


def with_readings(sweep: Sweep, station: LengthEntry, readings: Sequence[LengthEntry], *, live: bool = False) -> Sweep:
    """The pass with readings that came together: the first at ``station``, the others at those that follow.

    What an instrument sends (``live``) ends with the pass: nothing is added to one that is through.
    """
    for reading in readings:
        sweep = with_reading(sweep, station, reading, live=live)
        ahead = next_to_read(sweep)
        if ahead is None and live and sweep.stations:
            break
        station = ahead or station
    return sweep


def with_reading_changed(sweep: Sweep, row: int, field: Literal["station", "reading"], entry: LengthEntry) -> Sweep:
    """The pass with one figure corrected."""
    was = sweep.readings[row]
    station, reading = (entry, was.reading) if field == "station" else (was.station, entry)
    changed = replace(was, station=station, reading=reading, live=False)
    return _fresh(sweep, readings=(*sweep.readings[:row], changed, *sweep.readings[row + 1 :]))


def with_station_planned(sweep: Sweep, row: int, station: LengthEntry) -> Sweep:
    """The pass with one of its planned stations elsewhere; those beyond the last are added."""
    stations = [_said(s) for s in sweep.stations]
    stations[row : row + 1] = [station]
    return _fresh(sweep, stations=tuple(stations))


def without_station(sweep: Sweep, row: int) -> Sweep:
    """The pass without one of its planned stations."""
    left = [_said(s) for n, s in enumerate(sweep.stations) if n != row]
    return _fresh(sweep, stations=tuple(left))


def _said(station: LengthEntry) -> LengthEntry:
    """A station as it is from now on: the others of a pass of which somebody moved or left out one."""
    return station if station.text else LengthEntry(mm=station.mm, text=f"{station.mm:g}")


def without_reading(sweep: Sweep, row: int) -> Sweep:
    """The pass without one reading."""
    return _fresh(sweep, readings=(*sweep.readings[:row], *sweep.readings[row + 1 :]))


def next_pass(job: Job, sweep: Sweep) -> Sweep:
    """A new pass with the same setup; raises BadInputError while the present one has no figures."""
    if len({r.station.mm for r in sweep.readings}) < 2:
        raise BadInputError("Log this pass first: two stations at least. Then start the next one.")
    changes = {"id": new_id(), "created": "", "changed": "", "note": "", "readings": ()}
    moved_by = "turns" if sweep.by in ("shims", "three") else "dial"
    return _fresh(sweep, **changes, moved_by=moved_by, rule_left=None, rule_right=None)


def beside(job: Job, sweep: Sweep, units: UnitSystem) -> Sweep:
    """The pass that a second indicator logs in the same traverse: the other plane's, one as long as this.

    Where the other plane has a pass of another length, a new one is begun.
    """
    axis = job.get(sweep.axis_id)
    assert isinstance(axis, Axis)
    plane: Plane = "edge" if sweep.plane == "face" else "face"
    series = passes(job, axis.id, plane, sweep.target)
    if series and len(series[-1].readings) == len(sweep.readings):
        return series[-1]
    changes = {"id": new_id(), "created": "", "changed": "", "note": "", "readings": (), "plane": plane}
    return _fresh(sweep, **changes, rule_left=None, rule_right=None)


def current_sweep(job: Job, axis: Axis, plane: Plane, units: UnitSystem, target: Target | None = None) -> Sweep:
    """The pass being logged of a target in a plane, or a fresh one that isn't in the job yet.

    Without a target the first one of the axis's scale family.
    """
    what = target or targets_of(job, axis)[0]
    found = passes(job, axis.id, plane, what)
    return as_proposed(job, axis, found[-1]) if found else first_sweep(job, axis, plane, what, units)


def with_kit(sweep: Sweep, kit: IndicatorKit) -> Sweep:
    """The pass with an indicator of the kit."""
    changes = {"division": kit.division, "range": kit.range, "sense": kit.sense, "lever_deg": kit.lever_deg}
    return _fresh(sweep, **changes)

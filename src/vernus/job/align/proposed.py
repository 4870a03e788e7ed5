"""What a pass proposes while nobody typed or read anything on it: stations and end screws, afresh each time."""

from __future__ import annotations

from vernus.core.align.sweep import propose_stations
from vernus.core.errors import BadInputError
from vernus.job.align.held import ends_of, jacks_of
from vernus.job.document import Job
from vernus.job.entities import Axis, Sweep
from vernus.job.fields import LengthEntry
from vernus.job.known.lengths import reader_length
from vernus.job.machine.travel import travel_result
from vernus.job.plan.scale import scale_result

STATIONS = 7
UNKNOWN_SWEEP_MM = 300.0
SCREW_FROM_END_MM = 8.0  # usual distance of the end holes; common practice, no source. To be measured.
_INCH_GRID_MM = 2.54


def as_proposed(job: Job, axis: Axis, sweep: Sweep) -> Sweep:
    """A pass with what nobody typed or read anything on worked out from the job as it is now.

    Stations stay once one of them was typed, left out or read; a screw stays once it was typed.
    """
    low, high, ends = _sweep_reach(job, axis, sweep)
    changes: dict[str, object] = {}
    jacks = jacks_of(job, axis, sweep.target, sweep.plane)
    if jacks is not None and not sweep.readings and sweep.bolts_apart == Sweep.model_fields["bolts_apart"].default:
        changes["bolts_apart"] = LengthEntry(mm=jacks.rows_mm or sweep.bolts_apart.mm, text="")
    if not sweep.readings and not any(s.text for s in sweep.stations):
        grid = _INCH_GRID_MM if job.info.units == "in" else 1.0
        places = _stations(low, high, grid)
        places = [places[0], places[-1]] if sweep.order == "ends" and len(places) > 2 else places
        changes["stations"] = tuple(LengthEntry(mm=s) for s in places)
    for name, mm in zip(("screw_left", "screw_right"), ends, strict=True):
        noted = getattr(sweep, name)
        if noted is None or not noted.text:
            changes[name] = LengthEntry(mm=mm)
    if all(getattr(sweep, name) == value for name, value in changes.items()):
        return sweep
    return sweep.model_copy(update=changes)


def _stations(low_mm: float, high_mm: float, grid_mm: float) -> list[float]:
    """Stations on a grid as coarse as the stretch allows; none where it has no length to speak of."""
    for grid in (grid_mm, grid_mm / 10, grid_mm / 100):
        try:
            return propose_stations(low_mm, high_mm, STATIONS, grid)
        except BadInputError:
            continue
    return []


def _sweep_reach(job: Job, axis: Axis, sweep: Sweep) -> tuple[float, float, tuple[float, float]]:
    """Where along the target the indicator can sweep, and where its end screws are likely to be (mm).

    A reader is swept over its own length only.
    """
    travel, target = travel_result(job, axis).useful_mm or UNKNOWN_SWEEP_MM, sweep.target
    reader, ends = reader_length(job, axis), ends_of(job, axis, target, sweep.plane)
    if target == "reader" and reader is not None:
        known = (SCREW_FROM_END_MM, reader.value - SCREW_FROM_END_MM) if ends is None else ends.value
        return 5.0, reader.value - 5.0, known
    place = scale_result(job, axis).placement
    if place is None or ends is None:
        return 0.0, travel, (0.0, travel)
    low, high = sorted(place.at_stops_mm)
    return low, high, ends.value

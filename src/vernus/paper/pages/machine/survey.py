"""What was measured of the machine: its measures one by one, and the travel of an axis by each tool."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial

from vernus.core.finding import WithUncertainty, in_units
from vernus.core.units import UnitSystem, format_length
from vernus.job.document import Job
from vernus.job.entities import Axis, TravelSurvey
from vernus.job.machine.measures import is_taken, measures_of, only_moved, taken
from vernus.job.machine.travel import travel_result
from vernus.job.scope import motion_name
from vernus.paper.drawing.machine.stroke import paint_stroke
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, heading, subheading, table_in_halves
from vernus.paper.pages.machine.stroke import stroke_picture
from vernus.paper.pages.said import said_blocks


def measure_blocks(job: Job, units: UnitSystem) -> Iterable[Block]:
    """Every measure of the machine, those that are still only the template's in brackets."""
    measures = measures_of(job)
    if not measures:
        return
    yield heading("Measures of the machine")
    rows = [
        (
            m.label,
            m.value.shown(units) if is_taken(m) else "(" + format_length(m.value.mm, units, with_unit=False) + ")",
        )
        for m in measures
    ]
    for axis in only_moved(job):
        if axis.usual is not None:
            mm, typed = axis.usual, bool(axis.usual.text)
            shown = mm.shown(units) if typed else "(" + format_length(mm.mm, units, with_unit=False) + ")"
            rows.append((f"Travel of the {motion_name(axis)}", shown))
    yield from table_in_halves(("Measure", units), rows, (0.36, 0.14), figures=(1,))
    done, of = taken(job)
    yield Words(f"{done} of {of} measures taken.", after=2)
    if not all(is_taken(m) for m in measures):
        yield Words("In brackets: nobody measured it, it is the template's.")


def travel_blocks(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """The travel with its ±, every reading, what each tool says, and the line of the axis."""
    result = travel_result(job, axis)
    if result.best is None:
        yield from said_blocks(job, axis, units, "zone", "kept", "stop", "bumper")
        return
    yield subheading("Travel")
    parts = [
        f"{s.tool}: " + ", ".join(r.shown(units) for r in s.readings)
        for s in job.of_axis(TravelSurvey, axis.id)
        if s.readings
    ]
    yield from said_blocks(job, axis, units, "travel", "zone", "kept")
    yield Words(f"Read: {'; '.join(parts)}.")
    if len(result.surveys) > 1:
        ways = "; ".join(
            in_units(units, "{tool} {travel}", tool=tool, travel=WithUncertainty(t.travel_mm, t.expanded_mm))
            for tool, t in result.surveys
        )
        yield Words(f"By {ways}.")
    yield Picture(partial(paint_stroke, picture=stroke_picture(job, axis), inks=PRINT, units=units), 232)
    yield from said_blocks(job, axis, units, "stop", "bumper")

"""What was measured of the machine: its measures one by one, and the travel of an axis by each tool."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial

from vernus.core.units import UnitSystem, format_length, format_with_uncertainty
from vernus.job.document import Job
from vernus.job.entities import Axis, TravelSurvey
from vernus.job.known import give_up, unread
from vernus.job.machine.directions import directions_of
from vernus.job.machine.measures import is_taken, measures_of, taken
from vernus.job.machine.stroke import stroke_of
from vernus.job.machine.travel import travel_result
from vernus.paper.drawing.machine.stroke import paint_stroke
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, heading, subheading, table
from vernus.paper.pages.machine.stroke import stroke_picture


def measure_blocks(job: Job, units: UnitSystem) -> Iterable[Block]:
    """Every measure of the machine, those that are still only the template's in brackets."""
    measures = measures_of(job)
    if not measures:
        return
    yield heading("Measures of the machine")
    rows = [
        (m.label, m.value.shown(units) if is_taken(m) else f"({format_length(m.value.mm, units, with_unit=False)})")
        for m in measures
    ]
    half = (len(rows) + 1) // 2
    pairs = [(*a, *b) for a, b in zip(rows[:half], [*rows[half:], ("", "")], strict=False)]
    yield from table(("Measure", units, "Measure", units), pairs, (0.36, 0.14, 0.36, 0.14), (1, 3))
    done, of = taken(job)
    yield Words(f"{done} of {of} measures taken.", after=2)
    if not all(is_taken(m) for m in measures):
        yield Words("In brackets: nobody measured it, it is the template's.")


def travel_blocks(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """The travel with its ±, every reading, what each tool says, and the line of the axis."""
    result = travel_result(job, axis)
    if result.best is None:
        return
    yield subheading("Travel")
    figure = format_with_uncertainty(result.best.travel_mm, result.best.expanded_mm, units)
    given, through = give_up(axis), unread(axis)
    useful = ""
    if result.useful_mm is not None and sum(given) > 0:
        low, high = (format_length(g, units) for g in given)
        ends = directions_of(job, axis).ends
        useful = (
            f" Given up: {low} at the {ends[0]} end, {high} at the {ends[1]} end; "
            f"useful {format_length(result.useful_mm, units)}."
        )
        useful += f" {axis.give_up_why}" if axis.give_up_why else ""
    if any(through):
        low, high = (format_length(g, units) for g in through)
        ends = directions_of(job, axis).ends
        useful = f" Not read, still driven through: {low} at the {ends[0]} end, {high} at the {ends[1]} end."
    parts = [
        f"{s.tool}: " + ", ".join(r.shown(units) for r in s.readings)
        for s in job.of_axis(TravelSurvey, axis.id)
        if s.readings
    ]
    yield Words(f"{figure} ({'; '.join(parts)}).{useful}")
    if len(result.surveys) > 1:
        ways = "; ".join(
            f"{tool} {format_with_uncertainty(t.travel_mm, t.expanded_mm, units)}" for tool, t in result.surveys
        )
        yield Words(f"By {ways}.")
    yield Picture(partial(paint_stroke, picture=stroke_picture(job, axis), inks=PRINT, units=units), 232)
    for stop in stroke_of(job, axis).findings:
        if stop.code == "stop-needed":
            yield Words(stop.what.text(units), indent=8, after=3)

"""Connecting and proving in the report, and the calibration sheet that hangs on the wall by the machine."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any

from vernus.core.finding import Fine, Mm, Reads, Sentence, directed, in_units
from vernus.core.units import UnitName, UnitSystem, format_fine, format_keyed, format_length, format_plain
from vernus.core.verdict_words import ANSWERS
from vernus.job.connect.cables import CableResult, anchors_of, cable_result, hold_words
from vernus.job.connect.powerup import powerup_of, powerup_result
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    CableRun,
    CalibrationRun,
    Compensation,
    FeelRecord,
    PositioningRun,
    Warmed,
    Wire,
)
from vernus.job.fields import quantities
from vernus.job.machine.directions import directions_of
from vernus.job.moments import local_day, local_minute, today
from vernus.job.prove.as_read import check_as_read
from vernus.job.prove.calibrate.edits import current_run
from vernus.job.prove.calibrate.found import CalibrationResult
from vernus.job.prove.calibrate.result import calibration_result, latest_run
from vernus.job.prove.feel import feel_result
from vernus.job.prove.keyed import keyed_words
from vernus.job.prove.owned_references import core_profile, keyed_points, profile_of, reference_of
from vernus.job.prove.positioning import positioning_result
from vernus.job.prove.recheck import date_of, due_of, due_words, history_of, temperature_sum
from vernus.job.prove.temperature import temperatures_noted
from vernus.job.said import of_axis
from vernus.job.scope import on_display, sheets_of
from vernus.paper.drawing.prove.positioning import paint_positioning
from vernus.paper.drawing.prove.residuals import paint_residuals
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, heading, subheading, table
from vernus.paper.pages.feed.feed import wall_feed
from vernus.paper.pages.machine.noted import noted_words
from vernus.paper.pages.said import said_blocks


def proof_blocks(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """Cable, first power-up, every calibration and the last positioning run of an axis."""
    yield from _cable(job, axis, units)
    if "powerup" in sheets_of(axis):
        result = powerup_result(job, axis)
        word = ANSWERS[result.verdict]
        yield subheading("First power-up")
        still, hand = format_fine(result.still_mm, units), format_fine(result.hand_mm, units)
        limits = f"At rest up to {still} is harmless, at a stop touched by hand {hand}."
        yield Words(f"{word.capitalize()}. {result.instruction.text(units)} {limits}")
        yield Words(noted_words(powerup_of(job, axis, "none"), units))
    if on_display(axis):
        yield from said_blocks(job, axis, units, "setting")
    runs = [check_as_read(job, r) for r in job.of_axis(CalibrationRun, axis.id) if r.checks]
    for run in runs:
        yield from _calibration(job, run, units, last=run is runs[-1])
    warm = temperature_sum(job, axis)
    if len(warm.steps) > 1:
        for step in (*warm.steps, *(s for f in warm.findings for s in (f.what, f.remedy))):
            yield Words(step.text(units), indent=8, after=3)
    if not runs and on_display(axis):
        yield subheading("Calibration")
        run = current_run(job, axis, units)
        yield Words(calibration_result(job, check_as_read(job, run)).instruction.text(units))
    yield from _history(job, axis, units)
    yield from _positioning(job, axis, units)
    yield from _by_hand(job, axis, units)


def _by_hand(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """The tests by hand: the worst figure of each, what is allowed, the verdict."""
    records = {r.test: r for r in job.of_axis(FeelRecord, axis.id) if r.values}
    if not records:
        return
    words = dict(quantities(FeelRecord)["test"].choices)
    results = {test: feel_result(job, axis, record) for test, record in records.items()}
    yield subheading("Tests by hand")
    fine: UnitName = "thou" if units == "in" else "mm"
    rows = [
        (
            words[test],
            "–" if r.figure_mm is None else format_fine(r.figure_mm, units),
            format_fine(r.limit_mm, units),
            ANSWERS[r.verdict],
            ", ".join(v.shown(fine) for v in records[test].values),
        )
        for test, r in results.items()
    ]
    heads = ("Test", "Worst", "Allowed", "Verdict", f"Read, {fine}")
    yield from table(heads, rows, (0.3, 0.13, 0.13, 0.14, 0.3), (1, 2))
    for result in results.values():
        for found in result.findings:
            yield Words(f"–  {found.what.text(units)} {found.remedy.text(units)}", indent=8, after=3)


def _cable(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    wires = job.of_axis(Wire, axis.id)
    if not (anchors_of(job, axis) or wires):
        return
    result = cable_result(job, axis)
    yield subheading("Cable")
    if result.need is None:
        yield Words(result.instruction.text(units))
    else:
        yield from _stretches(job, axis, result, units)
    if wires:
        lines = [(w.signal, w.colour, w.pin, w.wanted_pin) for w in wires]
        yield from table(("Carries", "Colour", "Pin at the plug", "Pin at the display"), lines, (0.3, 0.22, 0.24, 0.24))


def _stretches(job: Job, axis: Axis, result: CableResult, units: UnitSystem) -> Iterable[Block]:
    if result.need is None:
        return
    for run in job.of_axis(CableRun, axis.id)[-1:]:
        yield Words(noted_words(run, units, ("supplied",)))
    yield from said_blocks(job, axis, units, "cable")
    straight = Sentence("Straight it is {s} at the farthest corners.", {"s": Mm(result.need.straight_mm)})
    yield Words(f"{straight.text(units)} {result.instruction.text(units)}")
    rows = [
        (
            f"{s.a.name} to {s.b.name}", format_length(s.longest_mm, units),
            hold_words(job, s),
        )
        for s in result.need.stretches
    ]  # fmt: skip
    yield from table(("Stretch", "Longest", "Hold while tying"), rows, (0.5, 0.2, 0.3), (1,))


def _calibration(job: Job, run: CalibrationRun, units: UnitSystem, *, last: bool) -> Iterable[Block]:
    """A check with its readings; of the last one its budget and its picture too."""
    result = calibration_result(job, run)
    yield subheading(f"Calibration, {local_minute(run.created)}")
    if not result.true_mm:
        yield Words(result.instruction.text(units))
        return
    kit = reference_of(job, run)
    if kit is not None or run.reference:
        yield Words(f"Reference: {kit.name if kit is not None else run.reference}.")
    axis = job.get(run.axis_id)
    if isinstance(axis, Axis):
        yield from _temperatures(job, axis, run, units)
    yield Words(f"Result: {_result_words(run, result, units)}", bold=True)
    if isinstance(axis, Axis) and (latest := latest_run(job, axis)) is not None and latest.id == run.id:
        yield from said_blocks(job, axis, units, "key_in")
        yield from said_blocks(job, axis, units, "verdict", about="display")
    if result.budget is not None:
        yield Words(f"Over the travel {result.budget.in_words().text(units)}")
        lines = [tuple(row) for row in result.budget.in_rows(units)] if last else []
        if lines:
            yield from table(("Uncertain", "Spread", "± 1u", "Share"), lines, (0.46, 0.2, 0.2, 0.14), (2, 3), size=8.5)
    rows = [
        (c.true.shown(units), c.shown.shown(units), format_fine(before, units, sign=True),
         format_fine(after, units, sign=True))
        for c, before, after in zip(run.checks, result.before_mm, result.after_mm, strict=True)
    ]  # fmt: skip
    yield from table(("True", "Shown", "Error before", "Error after"), rows, (0.25, 0.25, 0.25, 0.25), (0, 1, 2, 3))
    draw: Callable[..., Any] = partial(
        paint_residuals,
        true_mm=result.true_mm,
        before_mm=result.before_mm,
        after_mm=() if result.value_to_key is None else result.after_mm,
        inks=PRINT,
        units=units,
    )
    if last:
        yield Picture(draw, 150)
    yield Words(result.instruction.text(units))


def _temperatures(job: Job, axis: Axis, run: Warmed, units: UnitSystem) -> Iterable[Block]:
    """The temperatures noted with a check, in the degrees of the job."""
    noted = temperatures_noted(run)
    if noted is not None:
        yield Words(directed(noted, directions_of(job, axis)).text(units))


def _result_words(run: CalibrationRun, result: CalibrationResult, units: UnitSystem) -> str:
    keyed = "" if result.keyed is None else result.keyed.words.text(units)
    do = "leave the display as it is set" if result.value_to_key is None else f"key in {keyed}"
    if result.counts is not None:
        return f"{do}; measured {result.measured(run.per)}."
    if result.factor is not None:
        reads = Reads((result.factor.slope - 1) * 1e6).show(units)
        return f"{do}; linear factor {result.measured(run.per)}, reads {reads}."
    if result.table is None:
        return f"{do}."
    return in_units(units, "{do}, leaving {left} at most.", do=do, left=Fine(result.table.max_residual_mm))


def _history(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    kept = history_of(job, axis)
    if not kept:
        return
    yield subheading("Calibrations over time")
    rows = [
        (
            date_of(k.proof.day), Reads(k.proof.ppm).show(units), k.proof.expanded_words(),
            "" if k.change is None else k.change.in_words().text(units),
        )
        for k in kept
    ]  # fmt: skip
    yield from table(("When", "It reads", "±, 95 %", "Since the one before"), rows, (0.17, 0.16, 0.15, 0.52), (1, 2))


def _positioning(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    runs = [r for r in job.of_axis(PositioningRun, axis.id) if r.readings]
    if not runs:
        return
    run = runs[-1]
    result = positioning_result(job, axis, run)
    yield subheading(f"Positioning, {local_minute(run.created)}")
    yield from _temperatures(job, axis, run, units)
    figures = result.figures
    if figures is not None:
        figured = (
            ("accuracy A", figures.accuracy_mm), ("repeatability R", figures.repeatability_mm),
            ("reversal B", figures.reversal_mm), ("mean reversal", figures.mean_reversal_mm),
            ("systematic E", figures.systematic_mm), ("mean range M", figures.range_mean_mm),
        )  # fmt: skip
        rows = [in_units(units, "{name} {mm}", name=name, mm=Fine(mm)) for name, mm in figured if mm is not None]
        yield Words("; ".join(rows) + ".")
        yield from said_blocks(job, axis, units, "verdict", about="positioning")
    draw: Callable[..., Any] = partial(
        paint_positioning, figures=figures, readings=result.readings, inks=PRINT, units=units
    )
    yield Picture(draw, 165)
    yield from _cycles(run, units)
    for cause in result.diagnosis.causes if result.diagnosis is not None else ():
        yield Words(f"–  {cause.evidence.text(units)}", indent=8, after=3)
    yield Words(result.instruction.text(units))


def _cycles(run: PositioningRun, units: UnitSystem) -> Iterable[Block]:
    """Every reading, a row per target and direction, cycle after cycle."""
    rows: dict[tuple[float, bool], list[str]] = {}
    for reading in run.readings:
        rows.setdefault((reading.target.mm, reading.up), [reading.target.shown(units)]).append(
            reading.shown.shown(units)
        )
    told = [(row[0], "up" if up else "down", "  ".join(row[1:])) for (_, up), row in sorted(rows.items())]
    yield from table((f"Target, {units}", "Going", "Shown, cycle after cycle"), told, (0.18, 0.12, 0.7))


def wall_blocks(job: Job, axes: list[Axis], units: UnitSystem) -> Iterable[Block]:
    """The calibration sheet for the wall: what is set in the display, how good it is, when it is checked again."""
    shown = any(a.readout != "none" for a in axes)
    title = "what the display is set to" if shown else "its power feed"
    yield Words(f"{job.machine.name}: {title}", size=22, bold=True, after=4)
    profile = profile_of(job)
    named = f"{profile.name}. " if profile is not None and profile.name else ""
    this_day = today().isoformat()
    lost = " Key these in again if the display loses them." if shown else ""
    yield Words(f"{named}Printed {this_day}.{lost}", after=14)
    for axis in axes:
        yield from _wall_axis(job, axis, units)
    if shown:
        yield Words(
            "Check again after a crash, after cleaning inside, in another season, and when a part comes out wrong."
        )


def _wall_axis(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    yield heading(f"{axis.name}: {axis.label}")
    yield from wall_feed(job, axis, units)
    if axis.readout == "none":
        return
    keyed = job.of_axis(Compensation, axis.id)
    runs = [check_as_read(job, r) for r in job.of_axis(CalibrationRun, axis.id) if r.checks]
    if on_display(axis):
        for said in of_axis(job, axis, "setting"):
            known = not said.figures.get("assumed")  # what is only assumed is no setting to key in again
            yield Words(said.words.text(units), size=15 if known else 11, bold=known)
    if not keyed and not runs:
        yield Words("Not calibrated yet.", size=13, after=12)
        return
    latest = {entry.method: entry for entry in keyed}
    for entry in latest.values():
        told = keyed_words(job, entry).text(units)
        yield Words(f"{told[:1].upper()}{told[1:]}, keyed in {local_day(entry.created)}", size=15, bold=True)
    yield from said_blocks(job, axis, units, "key_in", size=15, bold=True)
    table_entry = latest.get("table")
    if table_entry is not None:
        wants = core_profile(profile_of(job)).wants.capitalize()
        rows = [
            (str(n), format_plain(at, units), format_keyed(value, units, sign=True))
            for n, (at, value) in enumerate(keyed_points(job, axis, table_entry.knots), 1)
        ]
        yield from table(("Point", "At", wants), rows, (0.2, 0.4, 0.4), (1, 2))
    if runs:
        result = calibration_result(job, runs[-1])
        if result.budget is not None and result.error_mm is not None:
            kit = reference_of(job, runs[-1])
            against = kit.name if kit is not None else runs[-1].reference or "a reference not named"
            yield Words(f"Last check {local_day(runs[-1].created)}, against {against}.", size=13)
            yield from said_blocks(job, axis, units, "verdict", about="display", size=13)
        if not result.settled:
            yield Words(f"It is not settled: {result.instruction.text(units)}", size=13)
    yield Words(due_words(due_of(job, axis, job.now())).text(units), size=13, after=12)

"""The passes of alignment with their readings, and the reader as it was set."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any

from vernus.core.align.reader import GAP_WORDS
from vernus.core.align.sweep import Alignment
from vernus.core.finding import Fine, Mm, in_units
from vernus.core.units import UnitName, UnitSystem, format_fine
from vernus.core.verdict_words import VERDICTS
from vernus.job.align.passes import (
    PLANES,
    SweepResult,
    figures_words,
    left_words,
    passes,
    result_in_job,
    setting_in_job,
)
from vernus.job.align.reader import reader_result
from vernus.job.document import Job
from vernus.job.entities import TARGETS, Axis, Entity, GapCheck, ReaderSetting, Sweep
from vernus.job.machine.travel import travel_result
from vernus.job.moments import local_minute
from vernus.paper.drawing.align.sweep import paint_sweep
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, subheading, table
from vernus.paper.pages.machine.noted import noted_words
from vernus.paper.pages.said import said_blocks

_NOTED_OF_READER: tuple[type[Entity], ...] = (GapCheck, ReaderSetting)


def align_blocks(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """Every plane of every target that was swept."""
    for target, words in TARGETS:
        for plane in (*PLANES, "roll"):
            yield from _sweeps(job, axis, plane, target, words, units)


def _sweeps(job: Job, axis: Axis, plane: str, target: str, words: str, units: UnitSystem) -> Iterable[Block]:
    done = [s for s in passes(job, axis.id, plane, target) if s.readings]
    looked = [(s, result_in_job(job, s)) for s in done]
    rolls = [r for _, r in looked if r.roll is not None]
    if rolls:
        yield subheading(f"Alignment, {words}, roll")
        yield from said_blocks(job, axis, units, "verdict", about=f"align-{target}-roll")
        yield Words(rolls[-1].instruction.text(units))
        held = next(s for s, r in reversed(looked) if r.roll is not None)
        pitch = setting_in_job(job, held).pitch_on(held)
        used = "Lines {apart} apart, rows of bolts {rows} apart" + (", jack screws of pitch {pitch}." if pitch else ".")
        lines = {"apart": Mm(held.lines_apart.mm), "rows": Mm(held.bolts_apart.mm), "pitch": Mm(pitch)}
        yield Words(in_units(units, used, **lines))
        yield from _read_in(held, units)
    figured = [(s, r, r.alignment) for s, r in looked if r.alignment is not None]
    if not figured:
        return
    yield subheading(f"Alignment, {words}, {plane}")
    rows = [_pass_row(n, s, figures, units) for n, (s, _, figures) in enumerate(figured, 1)]
    head = (
        "Pass",
        "When",
        in_units(units, "Rise over {over}", over=Mm(figured[-1][2].judged_mm)),
        "±, 95 %",
        "Bow",
        "Verdict",
    )
    yield from table(head, rows, (0.08, 0.26, 0.19, 0.16, 0.15, 0.16), (2, 3, 4))
    held, result, figures = figured[-1]
    swept = f"The last one {figures_words(figures).text(units)}."
    yield Words(f"{swept} {noted_words(held, units, ('target', 'plane'))}")
    before = figured[-2][2] if len(figured) > 1 else None
    draw: Callable[..., Any] = partial(
        paint_sweep, sweep=figures, inks=PRINT, units=units, before=before, fix=result.correction
    )
    yield Picture(draw, 165)
    about = f"{target}-{plane}"
    yield from said_blocks(job, axis, units, "verdict", about=f"align-{about}")
    yield from said_blocks(job, axis, units, "dial", about=about)
    yield Words(result.instruction.text(units))
    story = left_words(result, travel_result(job, axis).useful_mm, reader=target == "reader", units=units)
    if story:
        yield Words(" ".join(story))
    for number, (sweep, said, _) in enumerate(figured[:-1], 1):
        told = _told(number, sweep, said, units)
        if told:
            yield Words(told)
    yield from _read_in(held, units)


def _told(number: int, sweep: Sweep, result: SweepResult, units: UnitSystem) -> str:
    """What an earlier pass told to do at the machine; empty where it told nothing."""
    fix = result.correction
    if fix is None:
        return ""
    values = {
        "n": number, "hold": Mm(fix.hold_mm), "park": Mm(fix.park_mm), "now": Fine(fix.dial_now_mm, sign=True),
        "to": Fine(fix.dial_target_mm, sign=True), "shift": Fine(abs(fix.shift_mm)),
    }  # fmt: skip
    words = (
        "After pass {n}: the screw at {hold} kept, the indicator at {park} brought from {now} to {to} ({shift} there)."
    )
    return in_units(units, words, **values)


_ACROSS = 8
"""Readings in a row of the table; more go on below."""


def _read_in(sweep: Sweep, units: UnitSystem) -> Iterable[Block]:
    """Every reading of a pass under its station, as it was typed."""
    fine: UnitName = "thou" if units == "in" else "mm"
    rolled = any(r.line for r in sweep.readings)
    for first in range(0, len(sweep.readings), _ACROSS):
        part = sweep.readings[first : first + _ACROSS]
        blank = [""] * (_ACROSS - len(part))
        heads = [f"At, {units}", *(r.station.shown(units) + (f" {r.line}" if rolled else "") for r in part), *blank]
        row = [f"read, {fine}", *(r.reading.shown(fine) for r in part), *blank]
        widths = (0.16, *[0.84 / _ACROSS] * _ACROSS)
        yield from table(tuple(heads), [tuple(row)], widths, tuple(range(1, _ACROSS + 1)))


def _bow(figures: Alignment, units: UnitSystem) -> str:
    """The bow with its U, as far as either is known."""
    if figures.bow_mm is None:
        return "–"
    sure = figures.bow_expanded_mm
    words = "{bow}" if sure is None else "{bow} ± {sure}"
    return in_units(units, words, bow=Fine(figures.bow_mm), sure=Fine(sure or 0.0))


def _pass_row(number: int, sweep: Sweep, figures: Alignment, units: UnitSystem) -> tuple[str, ...]:
    return (
        str(number),
        local_minute(sweep.created),
        format_fine(figures.rise_mm, units, sign=True),
        format_fine(figures.expanded_mm, units),
        _bow(figures, units),
        VERDICTS[figures.verdict],
    )


def reader_blocks(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """The gap that was wanted and found, by feelers or otherwise, and what was ticked of the checklist."""
    result = reader_result(job, axis)
    yield subheading("Reader")
    verdict = VERDICTS[result.verdict]
    low, high = (format_fine(mm, units) for mm in result.wanted_mm)
    if result.by != "none":
        yield Words(f"Gap wanted: {low if low == high else f'{low} to {high}'}.")
    if result.open_checks:
        yield Words(f"Still to check: {', '.join(result.open_checks)}.")
    if not any(job.of_axis(kind, axis.id) for kind in _NOTED_OF_READER):
        yield Words("Not set yet.")
        return
    if result.by == "none":
        yield Words(f"No gap to be set. {result.instruction.text(units)}")
    elif result.gap is None:
        yield Words(f"Gap by {GAP_WORDS.get(result.by, 'feelers')}: {verdict}. {result.instruction.text(units)}")
    else:
        yield from said_blocks(job, axis, units, "gap")
        yield Words(f"Gap: {verdict}. {result.instruction.text(units)}")
        unit: UnitName = "thou" if units == "in" else "mm"
        rows = [
            (g.station.shown(units), g.go.shown(unit), "–" if g.no_go is None else g.no_go.shown(unit))
            for g in job.of_axis(GapCheck, axis.id)
        ]
        heads = (f"Axis at, {units}", f"Goes in, {unit}", f"Doesn't, {unit}")
        yield from table(heads, rows, (0.3, 0.3, 0.3), (0, 1, 2))
    for setting in job.of_axis(ReaderSetting, axis.id)[-1:]:
        noted = noted_words(setting, units)
        if noted:
            yield Words(noted)

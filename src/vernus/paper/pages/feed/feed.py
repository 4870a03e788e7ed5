"""The power feed of an axis in the report."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any

from vernus.core.units import UnitSystem, format_fine, format_length, format_plain
from vernus.job.document import Job
from vernus.job.entities import Axis, MeshTrial, RunOnTest
from vernus.job.feed.feed import feed_result, removed_parts
from vernus.job.known import feed_of
from vernus.paper.drawing.feed.chain import paint_chain
from vernus.paper.drawing.feed.feed import paint_made
from vernus.paper.drawing.machine.stroke import paint_stroke
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, subheading, table
from vernus.paper.pages.machine.stroke import stroke_picture

FIT_WORDS = {"fits": "fits", "task": "to do", "part": "to make", "open": "to measure"}


def feed_blocks(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """Fit, speeds, mesh, stops and what was taken off; nothing without a feed."""
    feed = feed_of(job, axis)
    if feed is None:
        return
    result = feed_result(job, axis, feed)
    yield subheading("Power feed")
    yield Words(result.instruction.text(units))
    if result.fit.items:
        rows = [(i.what, FIT_WORDS[i.verdict], i.words.text(units)) for i in result.fit.items]
        yield from table(("What", "Verdict", "In figures"), rows, (0.18, 0.14, 0.68))
    chain = result.fit.chain
    if chain is not None:
        yield Words("The screw's end with its parts in place, to scale", keep_with_next=True)
        laid: Callable[..., Any] = partial(paint_chain, end=chain.end, plan=chain.plan, inks=PRINT, units=units)
        yield Picture(laid, 230)
    for part in result.fit.parts:
        yield Words(f"{part.name.capitalize()}, to scale", keep_with_next=True)
        made: Callable[..., Any] = partial(paint_made, part=part, inks=PRINT, units=units)
        yield Picture(made, 220)
    if result.speeds is not None:
        yield Words(result.speeds.in_words().text(units))
    yield from _mesh(job, axis, units)
    if result.stops.stroke is not None:
        draw: Callable[..., Any] = partial(paint_stroke, picture=stroke_picture(job, axis), inks=PRINT, units=units)
        yield Picture(draw, 230)
        yield Words(result.stops.instruction.text(units))
    tests = job.of_axis(RunOnTest, axis.id)
    if tests:
        lines = [
            (
                t.way,
                t.speed,
                t.tripped.shown(units),
                t.stood.shown(units),
                format_plain(abs(t.stood.mm - t.tripped.mm), units),
            )
            for t in tests
        ]
        yield from table(("Running", "At", "Tripped", "Stood", "Run-on"), lines, (0.2, 0.2, 0.2, 0.2, 0.2), (2, 3, 4))
    gone = removed_parts(job, axis)
    if gone:
        yield Words("Taken off, and how the machine is put back", keep_with_next=True)
        yield from table(("Part", "Kept", "Goes back"), [(g.name, g.kept, g.back) for g in gone], (0.3, 0.3, 0.4))


def _mesh(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    trials = job.of_axis(MeshTrial, axis.id)
    if not trials:
        return
    rows = [
        (
            str(n), format_length(t.shim.mm, units), t.paper or "–",
            "–" if t.backlash is None else format_fine(t.backlash.mm, units), t.noise or "–",
        )
        for n, t in enumerate(trials, 1)
    ]  # fmt: skip
    yield from table(("Trial", "Shim", "Paper", "Backlash", "By ear"), rows, (0.12, 0.2, 0.24, 0.22, 0.22), (1, 3))

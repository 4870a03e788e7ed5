"""Parts on paper: drawn to scale, with everything the shop needs to make them, and what arrived in the boxes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import partial
from typing import Any

from vernus.core.make.parts import FACE_WORDS, Part
from vernus.core.units import UnitSystem, format_length, format_plain
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart
from vernus.job.make.mounts import MountResult, draft_words, hole_words, mount_result
from vernus.job.make.parts import parts_of
from vernus.paper.drawing.make.part import paint_part
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, subheading, table

_SEVERITY = {"info": "Note", "caution": "CAUTION", "stop": "STOP"}


def part_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """Every part of some axes: its sizes, its drawing, its holes, cuts, heights, screws and findings."""
    for axis in axes:
        for entity in parts_of(job, axis):
            result = mount_result(job, entity)
            if result.part is not None:
                yield subheading(f"Part for {axis.name}: {result.part.name}")
                yield from _one(job, entity, result.part, result, units)


def _one(job: Job, entity: MountPart, part: Part, result: MountResult, units: UnitSystem) -> Iterable[Block]:
    yield Words(_sizes(part, result, units))
    draw: Callable[..., Any] = partial(paint_part, part=part, rows=result.rows, inks=PRINT, units=units)
    yield Picture(draw, 200 + 70 * (len(part.faces_used()) - 1))
    rows = [
        (
            str(r.number), FACE_WORDS[r.hole.face],
            format_length(r.hole.x_mm, units), format_length(r.hole.y_mm, units),
            hole_words(r, units)
            + ("" if r.tape_flag_mm is None else f"; flag on the drill at {format_plain(r.tape_flag_mm, units)}"),
        )
        for r in result.rows
    ]  # fmt: skip
    if part.seen:
        yield Words(f"{part.seen[:1].upper()}{part.seen[1:]}.", keep_with_next=True)
    if rows:
        widths = (0.06, 0.14, 0.15, 0.15, 0.5)
        yield from table(("#", "On its", "From left", "From below", "What to do"), rows, widths)
    for cut in part.cuts:
        place = f"{format_length(cut.x_mm, units)} from the left, {format_length(cut.y_mm, units)} from below"
        sizes = f"{format_length(cut.wide_mm, units)} × {format_length(cut.high_mm, units)}"
        deep = f"{format_length(cut.depth_mm, units)} {'high' if cut.kind == 'tongue' else 'deep'}"
        yield Words(f"{cut.kind.capitalize()} on its {FACE_WORDS[cut.face]}: {sizes}, {deep}, {place}.")
    draft = draft_words(job, entity)
    for note in [*result.notes, *([draft] if draft is not None else [])]:
        yield Words(note.text(units))
    if result.tools and result.rows:
        yield Words("Lay out: " + ", ".join(result.tools) + ".")
    yield Words(result.instruction.text(units))
    for found in result.findings:
        told = found.as_json(units)
        yield Words(f"{_SEVERITY[told['severity']]}: {told['text']} → {told['remedy']}", indent=8, after=4)


def _sizes(part: Part, result: MountResult, units: UnitSystem) -> str:
    """The part's sizes, the solved thickness if it has one, and what it is made of."""
    long, wide, thick = (format_length(mm, units) for mm in (part.length_mm, part.width_mm, part.thickness_mm))
    said = f"{long} × {wide} × {thick}, {part.material.replace('-', ' ')}"
    if part.has_leg:
        said += f"; other leg {format_length(part.leg_mm, units)}, at {part.bend_deg:g}°"
        said += ", drawn from outside, the bend below"
    if result.stack is not None:
        said += f"; thickness by the stack {format_length(result.stack.total_mm, units)}"
    return said + ". Every place counts from the lower left corner of the face it is on."

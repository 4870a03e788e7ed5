"""Parts on paper: drawn to scale, with everything the shop needs to make them, and what arrived in the boxes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import partial
from typing import Any

from vernus.core.finding import Mm, in_units
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import FACE_WORDS, Part
from vernus.core.units import UnitSystem, format_length
from vernus.core.verdict_words import SEVERITIES_SAID
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart
from vernus.job.make.lean import draft_words
from vernus.job.make.mounts import MountResult, hole_words, mount_result
from vernus.job.make.served import parts_of
from vernus.paper.drawing.make.part import paint_part
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, subheading, table


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
    yield from drawn_part(part, result.rows, units)
    for cut in part.cuts:
        way = "high" if cut.kind == "tongue" else "deep"
        values = {"x": Mm(cut.x_mm), "y": Mm(cut.y_mm), "w": Mm(cut.wide_mm), "h": Mm(cut.high_mm),
                  "d": Mm(cut.depth_mm), "kind": cut.kind.capitalize(), "face": FACE_WORDS[cut.face]}  # fmt: skip
        deep = "right through" if cut.kind == "opening" else "{d} " + way
        words = "{kind} on its {face}: {w} × {h}, " + deep + ", {x} from the left, {y} from below."
        yield Words(in_units(units, words, **values))
    draft = draft_words(job, entity)
    for note in [*result.notes, *([draft] if draft is not None else [])]:
        yield Words(note.text(units))
    if result.tools and result.rows:
        yield Words("Lay out: " + ", ".join(result.tools) + ".")
    yield Words(result.instruction.text(units))
    for found in result.findings:
        what, how = found.what.text(units), found.remedy.text(units)
        yield Words(f"{SEVERITIES_SAID[found.severity]}: {what} → {how}", indent=8, after=4)


def drawn_part(part: Part, rows: Sequence[HoleRow], units: UnitSystem) -> Iterable[Block]:
    """A part to scale, and what to drill, bore and tap where."""
    draw: Callable[..., Any] = partial(paint_part, part=part, rows=rows, inks=PRINT, units=units)
    yield Picture(draw, 200 + 70 * (len(part.faces_used()) - 1))
    lines = [
        (
            str(r.number), FACE_WORDS[r.hole.face],
            format_length(r.hole.x_mm, units), format_length(r.hole.y_mm, units),
            hole_words(r, units)
            + ("" if r.tape_flag_mm is None else in_units(units, "; flag on the drill at {mm}", mm=Mm(r.tape_flag_mm))),
        )
        for r in rows
    ]  # fmt: skip
    if part.seen:
        yield Words(f"{part.seen[:1].upper()}{part.seen[1:]}.", keep_with_next=True)
    if lines:
        widths = (0.06, 0.14, 0.15, 0.15, 0.5)
        yield from table(("#", "On its", "From left", "From below", "What to do"), lines, widths)


def _sizes(part: Part, result: MountResult, units: UnitSystem) -> str:
    """The part's sizes, the solved thickness if it has one, and what it is made of."""
    values: dict[str, object] = {
        "l": Mm(part.length_mm), "w": Mm(part.width_mm), "t": Mm(part.thickness_mm), "leg": Mm(part.leg_mm),
        "m": part.material.replace("-", " "), "deg": part.bend_deg,
        "stack": Mm(0.0 if result.stack is None else result.stack.total_mm),
    }  # fmt: skip
    said = "{l} × {w} × {t}, {m}"
    if part.has_leg:
        said += "; other leg {leg}, at {deg:g}°, drawn from outside, the bend below"
    if result.stack is not None:
        said += "; thickness by the stack {stack}"
    return in_units(units, said + ". Every place counts from the lower left corner of the face it is on.", **values)

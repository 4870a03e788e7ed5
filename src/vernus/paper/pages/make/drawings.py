"""Shop drawings: one part a page, to a stated scale, with its holes, its joints and a title block at the foot."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter

from vernus.core.feed.bracket import how_held
from vernus.core.finding import Mm, in_units
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import FACE_WORDS, Part
from vernus.core.units import UnitSystem, format_length
from vernus.core.verdict_words import SEVERITIES_SAID
from vernus.job.document import Job
from vernus.job.entities import Axis, Entity, MountPart
from vernus.job.feed.feed import feed_result
from vernus.job.known.axis_figures import feed_of
from vernus.job.make.lean import draft_words
from vernus.job.make.mounts import MountResult, hole_words, mount_result
from vernus.job.make.parts import cuts_of, heights_of, holes_of, patterns_of
from vernus.job.make.served import parts_of
from vernus.job.moments import instant, local_day, today
from vernus.job.said import of_axis
from vernus.job.statement import Statement
from vernus.paper.drawing.feed.cover import paint_cover
from vernus.paper.drawing.feed.feed import paint_made
from vernus.paper.drawing.make.assembly import paint_assembly
from vernus.paper.drawing.make.part import paint_to_scale, scale_for
from vernus.paper.ink import PRINT, font, pen
from vernus.paper.page import Block, Filling, NewPage, Picture, Words, subheading, table

_LEAST = 300.0
"""What the views have of a page at least: px."""


@dataclass
class TitleBlock:
    """What a drawing is of, at the foot of its page: name, count, material, stock, scale, job, dates."""

    cells: Sequence[tuple[str, str]]
    keep_with_next: bool = False

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """Itself."""
        return [self]

    def height(self, width: float) -> float:
        """Two lines a row, three cells each."""
        return 38.0 * -(-len(self.cells) // 3) + 8

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """A frame with a name and a figure in every cell."""
        rows = -(-len(self.cells) // 3)
        wide, tall = place.width() / 3, (place.height() - 8) / rows
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for n, (name, said) in enumerate(self.cells):
            box = QRectF(place.left() + n % 3 * wide, place.top() + 8 + n // 3 * tall, wide, tall)
            painter.setPen(pen(PRINT.ink, 0.95))
            painter.drawRect(box)
            painter.setPen(pen(PRINT.faint))
            painter.setFont(font(7.5))
            painter.drawText(QPointF(box.left() + 5, box.top() + 12), name)
            painter.setPen(pen(PRINT.ink))
            how = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap)
            room = box.adjusted(5, 12, -5, 0)
            for size in (10.0, 9.0, 8.0, 7.0):
                painter.setFont(font(size, bold=n == 0))
                if painter.fontMetrics().boundingRect(room.toRect(), how, said).height() <= room.height():
                    break
            painter.drawText(room, how, said)


def drawing_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """Every part of some axes, a page each, or that there is none."""
    found = list(part_pages(job, axes, units))
    yield from found or [Words("No part of these axes is designed yet: see Mounts and Fit.")]


def part_pages(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """Every part of some axes, a page each."""
    for axis in axes:
        said = {s.about: s for s in of_axis(job, axis, "part")}
        for entity in parts_of(job, axis):
            result = mount_result(job, entity)
            if result.part is not None:
                yield from _part_page(job, axis, entity, result.part, result, said.get(entity.id), units)
        yield from _assembly_pages(job, axis, units)
        yield from _feed_pages(job, axis, said, units)


def _part_page(
    job: Job, axis: Axis, entity: MountPart, part: Part, result: MountResult, told: Statement | None, units: UnitSystem
) -> Iterable[Block]:
    rests = (entity, *holes_of(job, entity), *patterns_of(job, entity), *cuts_of(job, entity), *heights_of(job, entity))
    head: list[Block] = [subheading(f"Part for {axis.name}: {part.name}"), Words(_sizes(part, result, units), size=10)]
    rest = [*_holes(result.rows, units), *_joints(job, axis, part, units), *_notes(job, entity, result, units)]

    def title(scale: float) -> TitleBlock:
        return _title(job, axis, part.name, told, scale, rests, units)

    yield drawn(part, result.rows, title, head, rest, units)


def _notes(job: Job, entity: MountPart, result: MountResult, units: UnitSystem) -> Iterable[Block]:
    """Cuts, what leans, the tools to lay it out, how to go about it, and what stands against it."""
    for cut in result.part.cuts if result.part is not None else ():
        way = "high" if cut.kind == "tongue" else "deep"
        values = {"x": Mm(cut.x_mm), "y": Mm(cut.y_mm), "w": Mm(cut.wide_mm), "h": Mm(cut.high_mm),
                  "d": Mm(cut.depth_mm), "kind": cut.kind.capitalize(), "face": FACE_WORDS[cut.face]}  # fmt: skip
        deep = "right through" if cut.kind == "opening" else "{d} " + way
        words = "{kind} on its {face}: {w} × {h}, " + deep + ", {x} from the left, {y} from below."
        yield Words(in_units(units, words, **values), size=10)
    draft = draft_words(job, entity)
    for note in [*result.notes, *([draft] if draft is not None else [])]:
        yield Words(note.text(units), size=10)
    if result.tools and result.rows:
        yield Words("Lay out: " + ", ".join(result.tools) + ".", size=10)
    yield Words(result.instruction.text(units), size=10)
    for found in result.findings:
        what, how = found.what.text(units), found.remedy.text(units)
        yield Words(f"{SEVERITIES_SAID[found.severity]}: {what} → {how}", size=10, indent=8, after=4)


def drawn(
    part: Part, rows: Sequence[HoleRow], title: Callable[[float], TitleBlock], head: Sequence[Block],
    rest: Sequence[Block], units: UnitSystem,
) -> Filling:  # fmt: skip
    """One page: a part's views at the largest scale at which they and what stands with them fill it."""

    def build(width: float, room: float) -> list[Block]:
        left = room - title(1.0).height(width) - sum(b.height(width) for b in (*head, *rest)) - 10
        scale, high = scale_for(part, rows, width, max(_LEAST, left))
        draw: Callable[..., Any] = partial(paint_to_scale, part=part, rows=rows, inks=PRINT, units=units, scale=scale)
        return [NewPage(title(scale)), *head, Picture(draw, high, keep_with_next=True), *rest]

    return Filling(build)


def _holes(rows: Sequence[HoleRow], units: UnitSystem) -> Iterable[Block]:
    """What to drill, bore and tap where."""
    elsewhere = any(r.hole.face != "face" for r in rows)
    lines = [
        (
            str(r.number), *([FACE_WORDS[r.hole.face]] if elsewhere else []),
            format_length(r.hole.x_mm, units), format_length(r.hole.y_mm, units),
            hole_words(r, units)
            + ("" if r.tape_flag_mm is None else in_units(units, "; flag on the drill at {mm}", mm=Mm(r.tape_flag_mm))),
        )
        for r in rows
    ]  # fmt: skip
    if lines:
        heads = ("Hole", *(["On its"] if elsewhere else []), "From left", "From below", "What to do")
        widths = (0.06, *([0.1] if elsewhere else []), 0.14, 0.14, 0.56)
        yield from table(heads, lines, widths, (0, len(heads) - 3, len(heads) - 2), size=8.5)


def _joints(job: Job, axis: Axis, part: Part, units: UnitSystem) -> Iterable[Block]:
    """The screws of a part: how many of what, through what, into what."""
    screws = [s for s in of_axis(job, axis, "screw") if s.figures["part"] == part.name]
    if screws:
        yield from table(("Joints",), [(s.words.text(units),) for s in screws], (1.0,))


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


def _title(
    job: Job, axis: Axis, name: str, told: Statement | None, scale: float | None, rests: Sequence[Entity],
    units: UnitSystem,
) -> TitleBlock:  # fmt: skip
    figures = {} if told is None else told.figures
    stock = figures.get("stock_mm")
    sizes = " × ".join(format_length(mm, units, with_unit=False) for mm in stock) if isinstance(stock, list) else "–"
    changed = max((e.changed for e in rests if e.changed), key=instant, default="")
    return TitleBlock(
        (
            ("Part", name),
            ("Count", str(figures.get("count", "–"))),
            ("Material", str(figures.get("material", "–"))),
            (f"Stock, {units}", sizes),
            ("Scale", _scale_words(scale)),
            ("State", str(figures.get("state", "–"))),
            ("Job", f"{job.info.title}, {axis.name} of {job.machine.name}"),
            ("Printed", today().isoformat()),
            ("Last changed", local_day(changed) if changed else "–"),
        )
    )


def _scale_words(scale: float | None) -> str:
    return "not to scale" if scale is None else "1:1" if scale == 1 else f"1:{round(1 / scale)}"


def bolted_together(job: Job, axis: Axis) -> list[list[MountPart]]:
    """The parts of an axis that are bolted to each other, two or more, from the one on the machine outwards."""
    parts = {p.id: p for p in parts_of(job, axis) if mount_result(job, p).part is not None}
    chains: list[list[MountPart]] = []
    for first in parts.values():
        if first.bolts_to in parts:
            continue
        chain, ahead = list[MountPart](), [first]
        while ahead:
            chain.append(ahead.pop(0))
            ahead += [p for p in parts.values() if p.bolts_to == chain[-1].id and p not in chain]
        if len(chain) > 1:
            chains.append(chain)
    return chains


def _assembly_pages(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """What is bolted together, drawn apart with its numbers, and the list of them."""
    for chain in bolted_together(job, axis):
        results = [mount_result(job, p) for p in chain]
        drawn_apart = [(r.part, r.rows) for r in results if r.part is not None]
        names = " and ".join(part.name for part, _ in drawn_apart)
        yield NewPage(_title(job, axis, "assembly", None, None, chain, units))
        yield subheading(f"Assembly for {axis.name}: {names}")
        draw: Callable[..., Any] = partial(paint_assembly, parts=drawn_apart, inks=PRINT)
        yield Picture(draw, 420)
        rows = [
            (str(n), part.name, part.material.replace("-", " "), _size_words(part, units))
            for n, (part, _) in enumerate(drawn_apart, 1)
        ]
        yield from table(("No.", "Part", "Material", f"Size, {units}"), rows, (0.08, 0.4, 0.22, 0.3), (0,))
        for part, _ in drawn_apart:
            yield from _joints(job, axis, part, units)


def _size_words(part: Part, units: UnitSystem) -> str:
    sizes = (part.length_mm, part.width_mm, part.thickness_mm)
    return " × ".join(format_length(mm, units, with_unit=False) for mm in sizes)


def _feed_pages(job: Job, axis: Axis, said: dict[str, Statement], units: UnitSystem) -> Iterable[Block]:
    """What is made for a power feed: the bracket, its cover, and what is turned."""
    feed = feed_of(job, axis)
    if feed is None:
        return
    result = feed_result(job, axis, feed)
    if result.bracket is not None:
        made = result.bracket
        head: list[Block] = [
            subheading(f"Part for {axis.name}: feed bracket"),
            Words(made.instruction.text(units), size=10),
        ]
        held = how_held(made, feed.unit_thread, studs=feed.feet == "slots").text(units)
        rest = [*_holes(made.rows, units), Words(held, size=10)]

        def title(scale: float) -> TitleBlock:
            return _title(job, axis, "feed bracket", said.get("feed-feed bracket"), scale, (feed,), units)

        yield drawn(made.part, made.rows, title, head, rest, units)
    if result.cover is not None:
        yield NewPage(_title(job, axis, "gear cover", said.get("feed-gear cover"), None, (feed,), units))
        yield subheading(f"Part for {axis.name}: gear cover")
        draw: Callable[..., Any] = partial(paint_cover, cover=result.cover, inks=PRINT, units=units)
        yield Picture(draw, 330)
        yield Words(result.cover.words.text(units))
    for part in result.fit.parts:
        told = said.get(f"feed-{part.name}")
        yield NewPage(_title(job, axis, part.name, told, None, (feed,), units))
        yield subheading(f"Part for {axis.name}: {part.name}")
        turned: Callable[..., Any] = partial(paint_made, part=part, inks=PRINT, units=units)
        yield Picture(turned, 330)
        if told is not None:
            yield Words(told.words.text(units))

"""What a part to make comes to: its stack solved from measured heights, its hole table, and what stands against it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, finding, in_order, plain
from vernus.core.make.hardware import DrillSet
from vernus.core.make.hole_rows import HoleRow, hole_said, lay_out, readable_rows
from vernus.core.make.parts import PART_FACES, Part
from vernus.core.make.reuse import HoleThere, review_school
from vernus.core.make.screws import drill_room, stock_finding
from vernus.core.make.shims import ShimStock, pick_shims
from vernus.core.make.stacks import Stack, StackItem, level_plane, solve_spacer
from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import MountPart, ShimKind, carried_by
from vernus.job.fields import mm_of
from vernus.job.known.lengths import stand_off, stand_off_wanted
from vernus.job.make.fits import review_fits
from vernus.job.make.holes_there import holes_on_face
from vernus.job.make.last_piece import made_last, review_gap
from vernus.job.make.parts import axis_of, cuts_of, heights_of, holes_of, part_of, patterns_of
from vernus.job.make.served import ask_of, served
from vernus.job.refusals import limit_findings, refusal

_SAME_MM = 0.05
"""A block nearer to the plan than this is as planned; common practice, no source."""
_SETS: dict[str, tuple[DrillSet, ...]] = {
    "metric": ("metric",),
    "inch": ("number", "letter", "fraction"),
    "all": ("metric", "number", "letter", "fraction"),
}


MadeState = Literal["to make", "made", "to make again"]
Made = Mapping[str, MadeState]
NOT_MADE: Made = {}
"""By the id of a part how far it is."""


@dataclass(frozen=True)
class MountResult:
    """A part (None while it can't be made), its hole rows, its stack, findings, tools, what to do, and notes on it."""

    part: Part | None
    rows: tuple[HoleRow, ...]
    stack: Stack | None
    findings: tuple[Finding, ...]
    tools: tuple[str, ...]
    instruction: Sentence
    notes: tuple[Sentence, ...] = ()


def mount_result(job: Job, entity: MountPart) -> MountResult:
    """What a part comes to."""
    stored = job.get(entity.id)
    if stored is not entity and (not isinstance(stored, MountPart) or served(job, stored) != entity):
        return _mount_result(job, entity)
    return job.derived(("mount", entity.id), lambda: _mount_result(job, entity))


def _mount_result(job: Job, entity: MountPart) -> MountResult:
    entity = served(job, entity)
    told = (entity, *holes_of(job, entity), *patterns_of(job, entity), *cuts_of(job, entity), *heights_of(job, entity))
    limits = [f for e in told for f in limit_findings(e)]
    if limits:
        return MountResult(None, (), None, tuple(limits), (), limits[0].remedy)
    try:
        stack = _stack(job, entity)
        part = part_of(job, entity)
        found, unread = readable_rows(part, _SETS.get(job.info.drills_owned))
        rows = tuple(found)
        findings = [*unread, *(f for row in rows for f in row.findings)]
        findings += review_school(job.info.hole_school, part, rows, _holes_there(job, entity))
        findings += [*_room(entity, rows), *_stock(entity, part), *review_gap(job, entity), *_held(job, entity)]
        findings += review_fits(job, entity, part, rows)
    except BadInputError as error:
        return MountResult(None, (), None, (refusal(error),), (), plain(str(error)))
    words = in_order(_next_cut(job, entity, stack, rows), tuple(findings))
    last = made_last(job, entity)
    notes = (*(() if last is None else (last.words,)), *_washers(job, entity), *_screws(rows))
    tools = tuple(lay_out(rows, job.info.units))
    return MountResult(part, rows, stack, tuple(findings), tools, words, notes)


def _held(job: Job, entity: MountPart) -> list[Finding]:
    """Whether the blocks and plates made hold the body as far off its face as the plan says."""
    axis = axis_of(job, entity)
    wanted = None if axis is None else stand_off_wanted(job, axis)
    if axis is None or wanted is None or carried_by(entity) != "body" or not entity.thickness.text:
        return []
    made = stand_off(job, axis)
    if made.source != "measured" or abs(made.value - wanted) <= _SAME_MM:
        return []
    return [
        finding(
            "parts-against-plan",
            "caution",
            "The parts made hold the body {made} off its face, the plan says {wanted}.",
            "The parts decide what it meets and what travel is left; make them {wanted} thick, or correct the plan on "
            "the Face sheet.",
            made=Mm(made.value),
            wanted=Mm(wanted),
        )
    ]


def _holes_there(job: Job, entity: MountPart) -> list[HoleThere]:
    """The holes of the face the part is, counted from its lower left corner like its own."""
    axis = axis_of(job, entity)
    if axis is None or entity.part_kind != "face":
        return []
    up = entity.width.mm / 2
    return [
        h if h.place_mm is None else replace(h, place_mm=(h.place_mm[0], h.place_mm[1] + up))
        for h in holes_on_face(job, axis)
    ]


def shim_stock(job: Job) -> tuple[ShimStock, ...]:
    """The shims in the drawer, those whose figures make sense."""
    return tuple(
        ShimStock(s.thickness.mm, round(s.count)) for s in job.all(ShimKind) if s.thickness.mm > 0 and s.count >= 0
    )


def _room(entity: MountPart, rows: tuple[HoleRow, ...]) -> list[Finding]:
    """Whether a drill gets at the holes of a face of the machine."""
    if entity.part_kind != "face" or entity.room is None or not entity.room.mm > 0:
        return []
    deep = [r.drill_depth_mm for r in rows if r.hole.kind == "tapped" and r.drill_depth_mm]
    if not deep:
        return []
    found = drill_room(entity.room.mm, max(deep)).finding(entity.room.mm, max(deep))
    return [] if found is None else [found]


def _stock(entity: MountPart, part: Part) -> list[Finding]:
    sizes = [mm_of(e) or 0.0 for e in (entity.stock_length, entity.stock_width, entity.stock_thick)]
    if entity.part_kind == "face" or not min(sizes) > 0:
        return []
    long, wide, thick = blank_of(part)
    tongue = thick - part.thickness_mm
    found = stock_finding((long, wide, thick), (sizes[0], sizes[1], sizes[2]))
    if tongue < _SAME_MM:
        return [found]
    said = Sentence("{said} A tongue of {tongue} stands out of {part}.",
                    {"said": found.what, "tongue": Mm(tongue), "part": part.name})  # fmt: skip
    return [replace(found, what=said)]


def blank_of(part: Part) -> tuple[float, float, float]:
    """What a part is made from (mm): its own size, with the tongues that stand out of it, and bent from one piece."""
    out = {face: max((c.depth_mm for c in part.cuts if c.kind == "tongue" and c.face == face), default=0.0)
           for face in PART_FACES}  # fmt: skip
    wide = part.width_mm + (part.leg_mm if part.has_leg else 0.0)
    return (
        part.length_mm + out["left"] + out["right"],
        wide + out["lower"] + out["upper"],
        part.thickness_mm + out["face"] + out["back"],
    )


def _washers(job: Job, entity: MountPart) -> list[Sentence]:
    """What fills the gap behind each hole, and how the casting leans where three or more were measured."""
    gaps = [(n, h, h.behind.mm) for n, h in enumerate(holes_of(job, entity), 1) if h.behind is not None]
    if not gaps:
        return []
    stock = shim_stock(job)
    words: list[str] = []
    values: dict[str, object] = {}
    for n, _, gap in gaps:
        pick = pick_shims(stock, gap) if stock and 0 < gap <= 50 else None
        shims = "" if pick is None or not pick.pieces else f" (from the drawer {{s{n}}})"
        words.append(f"{{g{n}}} behind hole {n}" + shims)
        values[f"g{n}"] = Fine(gap)
        if pick is not None and pick.pieces:
            told = " and ".join(f"{count} of {{p{k}}}" for k, (_, count) in enumerate(pick.pieces))
            values[f"s{n}"] = Sentence(told, {f"p{k}": Fine(mm) for k, (mm, _) in enumerate(pick.pieces)})
    said = [Sentence("Spacers and washers: " + ", ".join(words) + ".", values)]
    places = [(h.x.mm, h.y.mm) for _, h, _ in gaps]
    if len(gaps) >= 3:
        try:
            plane = level_plane([(x, y, gap) for (x, y), (_, _, gap) in zip(places, gaps, strict=True)], places)
        except BadInputError:
            return said
        text = "The casting falls away by {x} over the length and {y} over the width, which these heights take out."
        lean = {"x": Fine(plane.slope_x * entity.length.mm), "y": Fine(plane.slope_y * entity.width.mm)}
        said.append(Sentence(text, lean))
    return said


def screw_groups(rows: Sequence[HoleRow]) -> list[list[HoleRow]]:
    """The holes that take a screw, those of one length and thread together."""
    groups: dict[str, list[HoleRow]] = {}
    for row in rows:
        if row.screw is not None:
            groups.setdefault(row.screw.in_words().text(), []).append(row)
    return list(groups.values())


def _screws(rows: Sequence[HoleRow]) -> list[Sentence]:
    """The screws to have at hand, each length once."""
    told = ", ".join(f"{len(g)} of {g[0].screw.in_words().text()}" for g in screw_groups(rows) if g[0].screw)
    return [Sentence("Screws: {told}.", {"told": told})] if told else []


def _stack(job: Job, entity: MountPart) -> Stack | None:
    heights = heights_of(job, entity)
    if entity.wanted is None or not heights:
        return None
    items = [StackItem(h.name, h.height.mm, h.tolerance.mm) for h in heights]
    return solve_spacer(items, entity.wanted.mm)


def _next_cut(job: Job, entity: MountPart, stack: Stack | None, rows: tuple[HoleRow, ...]) -> Sentence:
    asked, last = ask_of(entity), made_last(job, entity)
    if asked is not None:
        return asked
    if last is not None and abs(last.off_mm) >= 0.005:
        return last.words
    if stack is not None and abs(stack.total_mm - entity.thickness.mm) > 0.005:
        short = stack.total_mm - entity.thickness.mm
        values = {"made": Mm(stack.total_mm), "rss": Fine(stack.rss_mm), "worst": Fine(stack.worst_mm)}
        stock = shim_stock(job)
        if 0 < short <= 3 and stock:
            pick = pick_shims(stock, short)
            if pick.pieces:
                words = " and ".join(f"{n} of {{t{i}}}" for i, (_, n) in enumerate(pick.pieces))
                shims = {f"t{i}": Fine(t) for i, (t, _) in enumerate(pick.pieces)}
                return Sentence("Shim it by {short}: " + words + ".", {"short": Fine(short), **shims})
        text = "Make it {made} thick (± {rss} likely, ± {worst} at worst), or note the thickness it has."
        return Sentence(text, values)
    if not rows:
        return Sentence(
            "Give it holes: Usual holes sets those a part of this kind has, then correct them by measuring."
        )
    return Sentence(
        "Dry fit it first, held by clamps or magnets, and run every axis through its stroke; then spot, drill and tap "
        "square. Slots where the final place is unknown."
    )


def hole_words(row: HoleRow, units: UnitSystem) -> str:
    """What a hole is, with its thread's engagement and the screw that goes in."""
    share = "" if row.engagement_percent is None else f", {row.engagement_percent:.0f} %"
    screw = "" if row.screw is None else f"; screw {row.screw.in_words().text(units)}"
    return hole_said(row).text(units) + share + screw

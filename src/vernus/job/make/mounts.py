"""What a part to make comes to: its stack solved from measured heights, its hole table, and what stands against it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, finding, in_order, plain
from vernus.core.make.hardware import DrillSet
from vernus.core.make.hole_rows import HoleRow, hole_said, lay_out, readable_rows
from vernus.core.make.joint import review_neck
from vernus.core.make.parts import FACE_WORDS, PART_FACES, Part
from vernus.core.make.patterns import chain_rest
from vernus.core.make.reuse import HoleThere, review_school
from vernus.core.make.screws import drill_room, stock_finding
from vernus.core.make.shims import ShimStock, pick_shims
from vernus.core.make.stacks import Draft, Stack, StackItem, level_plane, solve_spacer, take_out_draft
from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import MountPart, ShimKind, carried_by
from vernus.job.fields import mm_of
from vernus.job.known import stand_off, stand_off_wanted
from vernus.job.make.holes_there import holes_on_face, slots_of
from vernus.job.make.parts import axis_of, cuts_of, heights_of, holes_of, part_of, patterns_of
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
    if job.get(entity.id) is not entity:
        return _mount_result(job, entity)
    return job.derived(("mount", entity.id), lambda: _mount_result(job, entity))


def _mount_result(job: Job, entity: MountPart) -> MountResult:
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
        findings += [*_room(entity, rows), *_stock(entity, part), *_cuts(part), *_chain(entity), *_held(job, entity)]
        findings += _neck(job, entity, part)
    except BadInputError as error:
        return MountResult(None, (), None, (refusal(error),), (), plain(str(error)))
    words = in_order(_next_cut(job, entity, stack, rows), tuple(findings))
    last = made_last(entity)
    notes = (*(() if last is None else (last.words,)), *_washers(job, entity), *_screws(rows))
    return MountResult(part, rows, stack, tuple(findings), tuple(lay_out(rows)), words, notes)


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


def _neck(job: Job, entity: MountPart, part: Part) -> list[Finding]:
    """A T-nut whose neck is as high as the lips it is drawn up against: the part above would ride on the nut."""
    axis = axis_of(job, entity)
    slots = slots_of(job, axis) if axis is not None and part.kind == "t-nut" else []
    steps = [c.depth_mm for c in part.cuts if c.kind == "step" and c.face == "face"]
    if not slots or not steps:
        return []
    return review_neck(part.name, min(steps), slots[0][1].lip_mm)


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


def draft_words(job: Job, entity: MountPart) -> Sentence | None:
    """How to take out the draft of the face a part sits on; None while it isn't noted.

    The shims lie under one row of the bolts that hold it: where no two rows are known, their distance is asked for.
    """
    draft, rows = _draft(job, entity), _rows_apart(job, entity)
    if draft is None:
        return None
    row = "lower" if draft.wedge_mm > 0 else "upper"
    shim = "shim the {row} row of bolts by {shim} (rows {bolts} apart), or set jack screws by as much."
    if rows is None:
        shim = "shim one row of its bolts or set jack screws: place its bolts in two rows to be told by how much."
    return Sentence(
        "The face leans {angle:.2f}°: mill or bend the part by that, or make it a wedge {wedge} thicker at its {row} "
        "edge, or " + shim,
        {
            "angle": abs(draft.angle_deg), "wedge": Fine(abs(draft.wedge_mm)), "shim": Fine(abs(draft.shim_mm)),
            "row": row, "bolts": Mm(rows or 0.0),
        },
    )  # fmt: skip


def shims_of(job: Job, entity: MountPart) -> list[tuple[str, str, float]]:
    """A key, under what, and how thick (mm) every shim and spacer of a part is: behind its holes, and for the draft."""
    name = entity.name or "the part"
    holes = enumerate(holes_of(job, entity), 1)
    found = [(str(n), f"{name} at hole {n}", h.behind.mm) for n, h in holes if h.behind is not None and h.behind.mm > 0]
    draft, rows = _draft(job, entity), _rows_apart(job, entity)
    if draft is not None and rows is not None and abs(draft.shim_mm) > 0:
        row = "lower" if draft.wedge_mm > 0 else "upper"
        found.append(("draft", f"the {row} row of bolts of {name}", abs(draft.shim_mm)))
    return found


def _draft(job: Job, entity: MountPart) -> Draft | None:
    if entity.draft_rise is None or entity.draft_over is None or entity.draft_over.mm <= 0:
        return None
    rows = _rows_apart(job, entity) or 1.0
    return take_out_draft(entity.draft_rise.mm, entity.draft_over.mm, max(entity.width.mm, 1.0), rows)


def _rows_apart(job: Job, entity: MountPart) -> float | None:
    """How far apart (mm) the outer rows of the holes that bolt a part on are; None where there aren't two rows."""
    try:
        holes = part_of(job, entity).holes
    except BadInputError:
        return None
    ys = [h.y_mm for h in holes if h.face == "face" and h.kind not in ("tapped", "bore")]
    apart = max(ys) - min(ys) if ys else 0.0
    return apart if apart > _SAME_MM else None


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


def _cuts(part: Part) -> list[Finding]:
    """Cuts that go beyond their face or through the part."""
    found: list[Finding] = []
    for number, cut in enumerate(part.cuts, 1):
        along, across, behind = part.size_of(cut.face)
        over = cut.x_mm + cut.wide_mm > along + 1e-9 or cut.y_mm + cut.high_mm > across + 1e-9
        through = cut.kind not in ("tongue", "opening") and cut.depth_mm >= behind - 1e-9
        if over or through:
            what = "goes over the edge of its" if over else "goes right through its"
            found.append(
                finding(
                    "cut-off-the-part",
                    "stop",
                    "The {kind} number {n} of {part} {does} {face}.",
                    "Correct its place or its size" + ("." if over else ", or say that it is an opening."),
                    kind=cut.kind, n=number, part=part.name, does=what, face=FACE_WORDS[cut.face],
                )
            )  # fmt: skip
    return found


def _chain(entity: MountPart) -> list[Finding]:
    """A last piece that is too short for the gap measured."""
    if entity.gap is None or not entity.gap.mm > 0:
        return []
    planned = getattr(entity, entity.fills).mm
    rest = chain_rest(planned, entity.gap.mm)
    if rest >= -1e-9:
        return []
    return [
        finding(
            "too-short-for-the-gap",
            "caution",
            "The gap measured is {gap}, and {part} was planned {planned}: {short} too short.",
            "Make it {gap}, or put a spacer of {short} under it; look first whether all other parts sit home.",
            gap=Mm(entity.gap.mm), part=entity.name or "the part", planned=Mm(planned), short=Mm(-rest),
        )
    ]  # fmt: skip


@dataclass(frozen=True)
class LastPiece:
    """The piece that fills a measured gap: what it has, what it is brought to, and what comes off (mm)."""

    at_hand_mm: float
    to_mm: float
    words: Sentence

    @property
    def off_mm(self) -> float:
        """What is taken off; negative where it is too short."""
        return self.at_hand_mm - self.to_mm


def made_last(entity: MountPart) -> LastPiece | None:
    """What to take off the last piece: of the piece at hand where that was measured, else of what was planned."""
    if entity.gap is None or not entity.gap.mm > 0:
        return None
    planned, at_hand = getattr(entity, entity.fills).mm, _at_hand(entity)
    has = planned if at_hand is None else at_hand
    rest = chain_rest(has, entity.gap.mm)
    of = "the {fills} was planned {has}" if at_hand is None else "the piece at hand has a {fills} of {has}"
    words = "The gap is {gap}: " + of + ", so take {rest} off."
    if abs(rest) < 0.005:
        words = "The gap is {gap}, as planned." if at_hand is None else "The gap is {gap}, as the piece at hand."
    elif rest < 0:
        words = "The gap is {gap}: " + of + "; make it {short} longer."
    values = {"gap": Mm(entity.gap.mm), "fills": entity.fills, "has": Mm(has), "rest": Mm(rest)}
    return LastPiece(has, entity.gap.mm, Sentence(words, {**values, "short": Mm(-rest)}))


def _at_hand(entity: MountPart) -> float | None:
    """The piece at hand along what fills the gap (mm); None while it wasn't measured."""
    stock = {"length": entity.stock_length, "width": entity.stock_width, "thickness": entity.stock_thick}
    return mm_of(stock[entity.fills])


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
    last = made_last(entity)
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

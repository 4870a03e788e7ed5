"""The lean of a face taken out: by a wedge, by shims under one row of the bolts, or by jack screws beside them.

A jack screw stands beside each outer bolt, a diameter of the larger of metal from its head: common practice, no source.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Sentence
from vernus.core.make.hardware import counterbore, thread_named
from vernus.core.make.hole_rows import EDGE_DIAMETERS
from vernus.core.make.parts import PartHole
from vernus.core.make.screws import Screw, lengths_sold
from vernus.core.make.stacks import Draft, take_out_draft
from vernus.job.document import Job
from vernus.job.entities import Axis, DrilledHole, Entity, MountPart, carried_by
from vernus.job.fields import LengthEntry
from vernus.job.known.lengths import first_hole
from vernus.job.make.parts import holes_of, part_of
from vernus.job.make.served import parts_of

NewId = Callable[[], str]
_SAME_MM = 0.05
_NUT_DIAMETERS = 0.8
_OUT_MM = 2.0
"""A jack screw reaches through its part and its lock nut, and this much beyond; common practice, no source."""


def draft_words(job: Job, entity: MountPart) -> Sentence | None:
    """How to take out the draft of the face a part sits on; None while it isn't noted.

    The shims lie under one row of the bolts that hold it: where no two rows are known, their distance is asked for.
    """
    draft, rows = _draft(job, entity), _rows_apart(job, entity)
    if draft is None:
        return None
    row, out = ("lower", "upper") if draft.wedge_mm > 0 else ("upper", "lower")
    shim = (
        "shim the {row} row of bolts by {shim} (rows {bolts} apart), or drive jack screws beside that row in by {shim}."
    )
    if rows is None:
        shim = "shim one row of its bolts or set jack screws: place its bolts in two rows to be told by how much."
    return Sentence(
        "The face leans {angle:.2f}°, its {out} edge stands out: mill or bend the part by that, or make it a wedge "
        "{wedge} thicker at its {row} edge, or " + shim,
        {
            "angle": abs(draft.angle_deg), "wedge": Fine(abs(draft.wedge_mm)), "shim": Fine(abs(draft.shim_mm)),
            "row": row, "out": out, "bolts": Mm(rows or 0.0),
        },
    )  # fmt: skip


def shims_of(job: Job, entity: MountPart) -> list[tuple[str, str, float]]:
    """A key, under what, and how thick (mm) every shim and spacer of a part is: behind its holes, and for the draft."""
    name = entity.name or "the part"
    holes = enumerate(holes_of(job, entity), 1)
    found = [(str(n), f"{name} at hole {n}", h.behind.mm) for n, h in holes if h.behind is not None and h.behind.mm > 0]
    draft, rows = _draft(job, entity), _rows_apart(job, entity)
    jacked = any(h.hole_kind == "jack" for h in holes_of(job, entity))  # they take the lean out, and no shim
    if draft is not None and rows is not None and abs(draft.shim_mm) > 0 and not jacked:
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
    ys = [h.y_mm for h in holes if h.face == "face" and h.is_passed]
    apart = max(ys) - min(ys) if ys else 0.0
    return apart if apart > _SAME_MM else None


def _bolts(job: Job, entity: MountPart) -> list[PartHole]:
    """What bolts a part to its face: the holes its screws pass, slots for what it carries left away."""
    holes = [h for h in part_of(job, entity).holes if h.face == "face" and h.is_passed]
    return [h for h in holes if not h.is_slot] or holes


def jack_holes(job: Job, entity: MountPart, thread: str, new_id: NewId) -> list[Entity]:
    """A hole for a jack screw beside each outer bolt of a part, inward of it.

    Raises BadInputError without bolts in two places, or where the part has no room for them.
    """
    bolts, major = _bolts(job, entity), thread_named(thread).major_mm
    xs = sorted({h.x_mm for h in bolts})
    if len(xs) < 2:
        raise BadInputError("Jack screws stand beside the outer bolts: place the bolts of this part first.")
    part = part_of(job, entity)
    low, high = min(h.y_mm for h in bolts), max(h.y_mm for h in bolts)
    if high - low <= _SAME_MM:
        edge = EDGE_DIAMETERS * major
        low, high = edge, part.width_mm - edge
        if high - low < 2 * major:
            raise BadInputError("The part is too narrow for two rows of jack screws: make it wider, or use shims.")
    aside = max(_aside(h, major) for h in bolts)
    left, right = xs[0] + aside, xs[-1] - aside
    if right - left < 2 * major:
        raise BadInputError("There is no room for jack screws between the outer bolts: make the part longer.")
    return [
        DrilledHole(
            id=new_id(), part_id=entity.id, x=LengthEntry(mm=x), y=LengthEntry(mm=y), hole_kind="jack", thread=thread
        )
        for y in (low, high)
        for x in (left, right)
    ]


def _aside(bolt: PartHole, major_mm: float) -> float:
    head, bolt_mm = counterbore(thread_named(bolt.thread))[0], thread_named(bolt.thread).major_mm
    return (head + major_mm) / 2 + max(bolt_mm, major_mm)


def jack_screw(thread: str, thick_mm: float) -> Screw | None:
    """The set screw of a jack hole: through the part and a lock nut; None where none is long enough."""
    of = thread_named(thread)
    wanted = thick_mm + _NUT_DIAMETERS * of.major_mm + _OUT_MM
    sold = next((mm for mm in lengths_sold(of) if mm >= wanted), None)
    return None if sold is None else Screw(of, sold, thick_mm, thick_mm)


@dataclass(frozen=True)
class Jacks:
    """The jack screws that hold a body's carrier: left and right from the body's left end, their rows, their pitch."""

    left_mm: float
    right_mm: float
    rows_mm: float | None
    pitch_mm: float


def jacks_under(job: Job, axis: Axis) -> Jacks | None:
    """The jack screws of the part that carries the body; None without two along it, or where nobody placed the body.

    The outer threads of the part are the body's, one at each of its end holes.
    """
    for part in (p for p in parts_of(job, axis) if carried_by(p) == "body"):
        holes = [h for h in holes_of(job, part) if h.face == "face"]
        jacks = [h for h in holes if h.hole_kind == "jack"]
        threads = [h.x.mm for h in holes if h.hole_kind == "tapped"]
        known = first_hole(job, axis)
        if len({h.x.mm for h in jacks}) < 2 or not threads or known is None:
            continue
        xs, ys = [h.x.mm for h in jacks], [h.y.mm for h in jacks]
        start = min(threads) - known.value
        rows = max(ys) - min(ys)
        try:
            pitch = thread_named(jacks[0].thread).pitch_mm
        except BadInputError:
            continue
        return Jacks(min(xs) - start, max(xs) - start, rows if rows > _SAME_MM else None, pitch)
    return None

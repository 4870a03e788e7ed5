"""The holes the machine has: on the face a scale goes on, with the places that were measured, and its T-slots."""

from __future__ import annotations

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import LEAD_PITCHES
from vernus.core.make.joint import Into
from vernus.core.make.reuse import HoleThere
from vernus.core.make.screws import TSlot
from vernus.job.document import Job
from vernus.job.entities import Axis, DrilledHole, Face, Hole, HolePattern, MountPart
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import chosen_face
from vernus.job.machine.survey import thread_of


def holes_on_face(job: Job, axis: Axis) -> list[HoleThere]:
    """Every hole of the face chosen for an axis, one by one, or of its member where no face was named."""
    face = chosen_face(job, axis)
    if face is None:
        return []
    found: list[HoleThere] = []
    for hole in job.all(Hole):
        mine = hole.face_id == face.id or (not hole.face_id and hole.member == face.member)
        if hole.what == "slot" or not mine or elsewhere(hole, face):
            continue
        where = ", ".join(w for w in (hole.member, hole.place) if w) or "on this face"
        thread = thread_of(hole)
        if hole.what == "threaded" and thread is None:
            continue
        for n in range(max(1, round(hole.count))):
            found.append(
                HoleThere(
                    _named(where, n, hole),
                    thread,
                    _place(hole, n, hole.face_id == face.id),
                    hole.used_by,
                    mm_of(hole.room),
                    hole.id,
                    thread_there(hole),
                )
            )
    return found


def used_by(job: Job, hole: Hole) -> str:
    """What uses a hole: as it was typed, and the parts of the plan that are screwed to it; empty where nothing does."""
    over = {h.part_id for h in job.all(DrilledHole) if h.over == hole.id}
    for pattern in job.all(HolePattern):
        part = job.get(pattern.part_id) if (pattern.shape, pattern.source) == ("carried", "machine") else None
        axis = job.get(part.axis_id) if isinstance(part, MountPart) else None
        if isinstance(axis, Axis) and any(h.hole_id == hole.id for h in holes_on_face(job, axis)):
            over.add(pattern.part_id)
    names = [p.name for p in job.all(MountPart) if p.id in over and p.name and job.counts(p)]
    return "; ".join(dict.fromkeys([*([hole.used_by] if hole.used_by else []), *names]))


def elsewhere(hole: Hole, face: Face) -> bool:
    """Whether a hole is in another member than the face it is noted on: what is bolted there moves against the face."""
    return bool(hole.member) and hole.member != face.member


def thread_there(hole: Hole) -> Into:
    """The thread of a hole as a screw finds it: gauged by one, or less than the drill went by a tap's lead."""
    through, thread = hole.through == "through", thread_of(hole)
    deep, hole_deep = mm_of(hole.thread_deep), mm_of(hole.depth)
    if deep is None and hole_deep is not None:
        lead = 0.0 if through or thread is None else LEAD_PITCHES["plug"] * thread.pitch_mm
        deep = max(0.0, hole_deep - lead)
    return Into("through" if through else "hole", deep)


def _named(where: str, n: int, hole: Hole) -> str:
    return where if round(hole.count) <= 1 else f"{where}, number {n + 1}"


def _place(hole: Hole, n: int, named: bool) -> tuple[float, float] | None:
    """The place of the n-th hole of a row, from the face's left end and its middle; None while it isn't measured."""
    if hole.at_x is None or not named:
        return None
    apart = 0.0 if hole.apart is None else hole.apart.mm
    return hole.at_x.mm + n * apart, 0.0 if hole.at_y is None else hole.at_y.mm


def slots_of(job: Job, axis: Axis) -> list[tuple[Hole, TSlot]]:
    """The T-slots of the member an axis's scale goes on, those whose figures make sense."""
    face = chosen_face(job, axis)
    found: list[tuple[Hole, TSlot]] = []
    for hole in job.all(Hole):
        if hole.what != "slot" or (face is not None and hole.member not in (face.member, face.reader_member)):
            continue
        sizes = (hole.mouth, hole.head, hole.head_high, hole.depth)
        if any(s is None for s in sizes):
            continue
        try:
            found.append((hole, TSlot(*(s.mm for s in sizes if s is not None))))
        except BadInputError:
            continue
    return found

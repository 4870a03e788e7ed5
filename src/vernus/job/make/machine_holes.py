"""The holes that the machine gets: those of its faces, and those that parts are bolted down by."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from vernus.core.finding import Mm, Sentence
from vernus.core.make.hardware import plan_hole, thread_named
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import PartHole
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart, carried_by
from vernus.job.known.lengths import family_of
from vernus.job.make.holes_there import holes_on_face
from vernus.job.make.mounts import mount_result
from vernus.job.make.served import parts_of

_SAME_MM = 1.0
"""Nearer than that to a hole there is, a hole planned is that hole."""


@dataclass(frozen=True)
class MachineHoles:
    """Holes of one kind that the machine gets; ``depth_mm`` as deep as the drill goes, None right through.

    ``tap`` is the thread cut into them, empty for a plain hole.
    """

    where: str
    count: int
    tap: str
    drill: str
    drill_mm: float
    depth_mm: float | None

    def in_words(self) -> Sentence:
        """How many, drilled with what and how deep, and tapped."""
        words = "{n} × drill {drill}" + (" through" if self.depth_mm is None else ", {deep} deep")
        words += ", tap {tap}" if self.tap else ""
        return Sentence(
            words, {"n": self.count, "drill": self.drill, "deep": Mm(self.depth_mm or 0.0), "tap": self.tap}
        )


def machine_holes(job: Job, axis: Axis) -> list[MachineHoles]:
    """Every new hole in the machine's castings for an axis, those alike in one line; none where one there is used."""
    found: list[MachineHoles] = []
    for part in parts_of(job, axis):
        rows = _new_in_face(job, axis, part) if part.part_kind == "face" else _bolted_down(job, part)
        kinds = [_kind(part, row) for row in rows]
        found += [replace(k, count=kinds.count(k)) for k in dict.fromkeys(kinds)]
    return found


def drills_anything(job: Job, axis: Axis) -> bool:
    """Whether the machine gets a new hole for an axis.

    As laid out on Mounts. Until it is laid out what the body is screwed to, wherever new holes are wanted, none lie
    there already, and the scale isn't stuck on.
    """
    if machine_holes(job, axis):
        return True
    family, school = family_of(job, axis), job.info.hole_school
    if school in ("none", "stick") or (family is not None and family.held == "adhesive"):
        return False
    if any(p.part_kind in ("face", "t-nut") or carried_by(p) == "body" for p in parts_of(job, axis)):
        return False
    return school != "reuse" or all(h.place_mm is None for h in holes_on_face(job, axis))


def _new_in_face(job: Job, axis: Axis, face: MountPart) -> list[HoleRow]:
    """The holes laid out on a face that aren't there already."""
    up = face.width.mm / 2
    there = [(x, y + up) for x, y in (h.place_mm for h in holes_on_face(job, axis) if h.place_mm is not None)]
    rows = mount_result(job, face).rows
    return [r for r in rows if all(math.dist((r.hole.x_mm, r.hole.y_mm), place) > _SAME_MM for place in there)]


def _bolted_down(job: Job, part: MountPart) -> Sequence[HoleRow]:
    """The holes of a part by which it is bolted to a casting in which no thread is there yet.

    Slots and the other leg take the screws of what it carries, or lie over holes there are: nothing is drilled there.
    """
    if part.bolts_to != "machine":
        return ()
    return [r for r in mount_result(job, part).rows if _new_below(r.hole)]


def _new_below(hole: PartHole) -> bool:
    clear = hole.is_passed and not hole.is_slot and not hole.nut
    return clear and hole.face != "leg" and hole.there is None


def _kind(part: MountPart, row: HoleRow) -> MachineHoles:
    where = part.name or ("face" if part.part_kind == "face" else "a part")
    if part.part_kind == "face":
        tap = thread_named(row.hole.thread).name if row.hole.kind == "tapped" else ""
        return MachineHoles(where, 1, tap, row.drill_name, row.drill_mm, row.drill_depth_mm)
    data = plan_hole(thread_named(row.hole.thread), row.hole.into or "cast-iron")
    beyond = data.drill_depth_mm - data.min_thread_depth_mm
    engaged = data.min_thread_depth_mm if row.screw is None else max(row.screw.engaged_mm, data.min_thread_depth_mm)
    drill = data.tap_drill
    return MachineHoles(where, 1, data.thread.name, drill.name, drill.diameter_mm, math.ceil(engaged + beyond))

"""Where the body of a scale lies on its face: start, end, first and last hole, and how far off it at least."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from vernus.core.finding import Finding, Mm, finding
from vernus.core.machine.envelope import COORDINATES, UPRIGHT, Box
from vernus.core.plan.plan_parts import MOST_OFF_MM, ScaleBulk, beyond_carrier, body_start, clearing_off, solid_parts
from vernus.job.document import Job
from vernus.job.entities import Axis, DrilledHole, Face, MountPart, carried_by
from vernus.job.known.axis_figures import chosen_face, plan_of
from vernus.job.known.lengths import bearing_length, length_of, measuring_length, moved_by, stand_off
from vernus.job.machine.geometry import face_place, geometry_findings, keep_reachable, machine_boxes, solid
from vernus.job.machine.planned import bulk_of, casting_at, castings_of, reader_carrier_span
from vernus.job.machine.rests import (
    FAR_IDLE_MM,
    PART,
    across_of,
    casting_rests,
    far,
    put_across,
    unmeasured_of,
    with_span,
)
from vernus.job.machine.stroke import READS
from vernus.job.plan.stop_rests import LARGER, varied

_FROM: tuple[Literal["left"], Literal["front"], Literal["top"]] = ("left", "front", "top")
"""The side of a casting that a place across a face is counted from, by the coordinate across it."""


@dataclass(frozen=True)
class PlaceAcross:
    """How far (mm) the body's middle line lies from a side of the casting that it is on: below its top."""

    mm: float
    casting: str
    side: Literal["left", "front", "top"]


@dataclass(frozen=True)
class PlaceOnFace:
    """Where the body lies on its face (mm from the face's left end), and its holes."""

    start_mm: float
    end_mm: float
    first_hole_mm: float
    last_hole_mm: float
    overhang_mm: float
    across: PlaceAcross | None = None


def place_on_face(job: Job, axis: Axis) -> PlaceOnFace | None:
    """The body's place on the chosen face, None while either is open."""
    face = chosen_face(job, axis)
    if face is None or measuring_length(job, axis) is None:
        return None
    bulk = bulk_of(job, axis, face)
    if bulk is None:
        return None
    end, hole = bulk.start_mm + bulk.overall_mm, bulk.family.holes_from_end_mm
    return PlaceOnFace(
        start_mm=bulk.start_mm,
        end_mm=end,
        first_hole_mm=bulk.start_mm + hole,
        last_hole_mm=end - hole,
        overhang_mm=_over(job, axis, face, bulk.start_mm, end),
        across=_across(job, axis, face, bulk.across_mm),
    )


def _over(job: Job, axis: Axis, face: Face, start_mm: float, end_mm: float) -> float:
    """How far the body stands over an end of what it lies on; a made part is about the face's middle."""
    face_mm, bears = length_of(job, axis, face), bearing_length(job, axis)
    beyond = 0.0 if bears is None else max(0.0, bears.value - face_mm) / 2
    return max(0.0, -start_mm - beyond, end_mm - face_mm - beyond)


def _across(job: Job, axis: Axis, face: Face, across_mm: float) -> PlaceAcross | None:
    """Across the face the body lies so far from the face's line: counted from the casting, where a rule finds it.

    None where a plate over holes there are carries it: then the plate's own holes say how high it lies.
    """
    casting = casting_at(job, axis, face, face.member)
    plates = {p.id for p in job.of_axis(MountPart, axis.id) if carried_by(p) == "body"}
    if casting is None or any(h.over and h.part_id in plates for h in job.all(DrilledHole)):
        return None
    place, u = face_place(face, length_of(job, axis, face)), across_of(face)
    up = COORDINATES[u] == "z"
    mm = casting.max_mm[u] - place.at_mm[u] if up else place.at_mm[u] - casting.min_mm[u]
    return PlaceAcross(mm - across_mm if up else mm + across_mm, casting.name, _FROM[u])


def place_rests(job: Job, axis: Axis) -> tuple[str, ...]:
    """What nobody measured of where the casting that carries the reader lies along the face, by name.

    A figure counts where, as far off as machines of a kind differ, it would move the body, leave its reader beside
    nothing, or let either stand in a casting.
    """
    return job.derived(("place rests", axis.id), lambda: _place_rests(job, axis), READS)


def _place_rests(job: Job, axis: Axis) -> tuple[str, ...]:
    face = chosen_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if face is None or bulk is None or geometry_findings(job):
        return ()
    names = [*_along_rests(job, axis, face, bulk), *_out_rests(job, axis, face, bulk), *_sizes(job, axis, face, bulk)]
    return unmeasured_of(job, dict.fromkeys(names, 1.0))


def in_casting(job: Job, axis: Axis) -> list[Finding]:
    """That the body or its reader, held off its face as it is, stands in a casting that it rides on."""
    if job.get(axis.id) is not axis:  # one that is only imagined
        return _in_casting(job, axis)
    return list(job.derived(("in casting", axis.id), lambda: _in_casting(job, axis)))


def _in_casting(job: Job, axis: Axis) -> list[Finding]:
    face = chosen_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if face is None or bulk is None or geometry_findings(job):
        return []
    place, castings = face_place(face, length_of(job, axis, face)), castings_of(job, face)
    parts = solid_parts(place, bulk)
    clear = clearing_off(place, parts, castings)
    if clear is not None and clear <= bulk.stand_off_mm + FAR_IDLE_MM:
        return []
    inside = max(castings, key=lambda b: clearing_off(place, parts, [b]) or 0.0)
    open_ = place_rests(job, axis)
    remedy = "Hold it off its face by {clear} or more" if clear is not None else "Choose another face"
    remedy += ", or move its line across the face (Machine, Faces) until it is clear of that."
    there = axis.readout == "there"
    if there:
        remedy = "It is there, so it doesn't: say how far it is held off its face (Scale), and at what height it lies."
    return [
        finding(
            "stands-in-casting",
            "caution" if open_ or there else "stop",
            "As the {axis} scale lies on “{face}”, its body or reader stands inside the {casting}.",
            ("Measure first: {open}. Then: " if open_ else "") + remedy,
            axis=axis.name, face=face.name, casting=inside.name, clear=Mm(clear or 0.0), open=", ".join(open_),
        )
    ]  # fmt: skip


def _along_rests(job: Job, axis: Axis, face: Face, bulk: ScaleBulk) -> Iterable[str]:
    """What would move the body along its face, or leave its reader beside nothing."""
    casting, span, plan = (
        casting_at(job, axis, face, face.reader_member),
        reader_carrier_span(job, axis, face),
        plan_of(job, axis),
    )
    if casting is None or span is None:
        return
    c, sign = COORDINATES.index(face.along[1]), 1 if face.along[0] == "+" else -1
    low, high = casting_rests(job, face, casting, c)[::sign]
    length, moved = length_of(job, axis, face), 0.0 if plan is None else moved_by(plan)
    for name in dict.fromkeys((*low, *high)):
        for by in (-far(job, name), far(job, name)):
            there = (span[0] + sign * by * low.get(name, 0.0), span[1] + sign * by * high.get(name, 0.0))
            start = body_start(length, bulk.overall_mm, bulk.reader_at_mm + moved, bulk.family.reader_mm, there)
            off = abs(start + moved - bulk.start_mm) if plan is None or plan.starts is None else 0.0
            if off > FAR_IDLE_MM or beyond_carrier(bulk, there) > 0:
                yield name
                break


def _out_rests(job: Job, axis: Axis, face: Face, bulk: ScaleBulk) -> Iterable[str]:
    """What would let the body or its reader stand in a casting that it rides on, or hold it off where nobody said."""
    place, said = face_place(face, length_of(job, axis, face)), stand_off(job, axis).is_given
    c, sign = COORDINATES.index(face.out[1]), 1 if face.out[0] == "+" else -1
    parts = solid_parts(place, bulk)
    for box in castings_of(job, face):
        variants = list(put_across(job, face, box))
        if clearing_off(place, parts, [_grown(box, c, sign, 2 * MOST_OFF_MM)]) != 0.0:  # else it lies beside the parts
            side = casting_rests(job, face, box, c)[sign > 0]
            ways = ((name, by * share) for name, share in side.items() for by in _both_ways(far(job, name)))
            variants += [(name, _grown(box, c, sign, by)) for name, by in ways]
        here = clearing_off(place, parts, [box])
        for name, there in variants:
            off = clearing_off(place, parts, [there])
            if off != here and (off is None or here is None or _matters(off, here, bulk, said=said)):
                yield name


def _sizes(job: Job, axis: Axis, face: Face, bulk: ScaleBulk) -> Iterable[str]:
    """The sizes of the scale that nobody measured and that, a quarter larger, would let it stand in a casting."""
    place, castings = face_place(face, length_of(job, axis, face)), castings_of(job, face)
    for label, other in varied(job, axis, bulk, LARGER):
        off = clearing_off(place, solid_parts(place, other), castings)
        if off is None or off > bulk.stand_off_mm + FAR_IDLE_MM:
            yield f"{PART}{axis.name} {label}"


def _both_ways(mm: float) -> tuple[float, float]:
    return -mm, mm


def _matters(clear_mm: float, here_mm: float, bulk: ScaleBulk, *, said: bool) -> bool:
    """Whether another least stand-off than the one there is would change what is said."""
    wanted = clear_mm > bulk.stand_off_mm + FAR_IDLE_MM
    return wanted or (not said and abs(clear_mm - here_mm) > FAR_IDLE_MM)


def _grown(box: Box, c: int, sign: int, by_mm: float) -> Box:
    """A box whose side that looks the face's way stands farther out by so much."""
    low, high = box.min_mm[c], box.max_mm[c]
    return with_span(box, c, *((low, max(low, high + by_mm)) if sign > 0 else (min(high, low - by_mm), high)))


def least_stand_off(job: Job, axis: Axis) -> float | None:
    """How far (mm) the chosen face's parts have to stand off at least to clear the metal and the places of its member.

    None while no face is chosen, the machine can't be one or nothing is known of the scale, and where no stand-off
    there is clears them.
    """
    face = chosen_face(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if face is None or bulk is None or geometry_findings(job):
        return None
    place = face_place(face, length_of(job, axis, face))
    there = [b for b in (*machine_boxes(job), *map(solid, keep_reachable(job))) if b.pose in ("", UPRIGHT)]
    return clearing_off(place, solid_parts(place, bulk), there)

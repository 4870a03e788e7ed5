"""What a stop and its bumper rest on that nobody measured: found from the sums by which the machine is told.

Where metal meets is a difference of two figures of the machine, so that what both rest on alike drops out: a table's
width decides nothing between its back and a column that was measured from there.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from vernus.core.machine.envelope import Box, Envelope
from vernus.core.machine.measures import coefficients
from vernus.core.machine.stroke import End, Need
from vernus.core.plan.plan_parts import BRACKET_MM, ScaleBulk, assumed_bracket, scale_parts
from vernus.job.catalog.families import family_edit
from vernus.job.document import Job
from vernus.job.entities import Axis, Entity, Face, FamilyEdit, MountPart
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face
from vernus.job.known.lengths import bracket_came, length_of
from vernus.job.machine.geometry import axis_key, face_place
from vernus.job.machine.planned import bulk_of
from vernus.job.machine.rests import BOX_SIDES, PART, Shares, box_named, less, sums_in, unmeasured_of
from vernus.job.machine.stroke import metal_of, stroke_of
from vernus.job.scope import has_scale
from vernus.job.sums import figure_name

_NOTHING = 1e-9


def stop_rests(job: Job, axis: Axis, need: Need) -> tuple[str, ...]:
    """What nobody measured of what decides a stop, by name; none for one that isn't of metal."""
    pair = stroke_of(job, axis).blocks.get(need.end) if need.why == "metal" else None
    if pair is None:
        return ()
    return unmeasured_of(job, less(_to_mark(axis, need.end), _apart(job, axis, need.end, pair.a, pair.b)))


def bumper_rests(job: Job, axis: Axis, end: End, mine: Box, other: Box) -> tuple[str, ...]:
    """What nobody measured of what decides the length of the bumper at an end, between two boxes of the machine."""
    pair = stroke_of(job, axis).blocks.get(end)
    between = _apart(job, axis, end, mine, other)
    return unmeasured_of(job, between if pair is None else less(between, _apart(job, axis, end, pair.a, pair.b)))


def _to_mark(axis: Axis, end: End) -> Shares:
    """What there is in the distance from where the boxes are drawn to the mark of an end."""
    share = 0.5 if axis.home == "mid" else 0.0 if axis.home == end else 1.0
    return {f"{axis.name}.travel": share}


def _apart(job: Job, axis: Axis, end: End, a: Box, b: Box) -> Shares:
    """What there is in the distance that an axis may go toward an end until two boxes meet."""
    envelope, key = metal_of(job).envelope, axis_key(job, axis)
    carrier = next(m.id for m in envelope.members if m.axis == key)
    mine, other = (a, b) if _carried(envelope, a.member, carrier) else (b, a)
    sign, c = (1 if axis.direction[0] == "+" else -1), "xyz".index(axis.direction[1])
    toward = sign * (1 if end == "high" else -1) > 0
    return less(_figure(job, other, c, high=not toward), _figure(job, mine, c, high=toward))


def _carried(envelope: Envelope, member: str | None, carrier: str) -> bool:
    on = {m.id: m.on for m in envelope.members}
    while member is not None and member != carrier:
        member = on.get(member)
    return member == carrier


def _figure(job: Job, box: Box, c: int, *, high: bool) -> Shares:
    """What there is in a side of a box; of a planned part in the face it lies on."""
    sums = sums_in(job)
    if box.group:
        axis = next((a for a in job.axes() if box.group == f"{a.name} scale"), None)
        face = None if axis is None else chosen_face(job, axis)
        if axis is None or face is None:
            return {}
        return coefficients(sums, figure_name(face, "xyz"[c])) | _of_the_part(job, axis, face, box, c, high=high)
    entity = box_named(job, box.name)
    return {} if entity is None else coefficients(sums, figure_name(entity, BOX_SIDES[c][high]))


def _of_the_part(job: Job, axis: Axis, face: Face, box: Box, c: int, *, high: bool) -> Shares:
    """What there is of the scale's own sizes in a side of a planned part, found by varying each nobody measured."""
    bulk = bulk_of(job, axis, face)
    if bulk is None:
        return {}
    place = face_place(face, length_of(job, axis, face))

    def side(of: ScaleBulk) -> float | None:
        parts = {b.name: b for b in scale_parts(place, of, f"{axis.name} scale")}
        found = parts.get(box.name)
        return None if found is None else (found.max_mm if high else found.min_mm)[c]

    here = side(bulk)
    return {
        f"{PART}{axis.name} {label}": 1.0
        for label, other in varied(job, axis, bulk)
        if here is not None and (there := side(other)) is not None and abs(there - here) > _NOTHING
    }


_BY_MM = 1.0
LARGER = 1.25
"""By how much what is sold under one name differs, at most; common practice, no source."""
_SIZES = (
    ("height", "scale, height of its section"), ("depth", "scale, depth of its section"),
    ("reader_height", "reader, its height"), ("reader_depth", "reader, its depth"),
)  # fmt: skip
_MADE_FOR_ITSELF_MM = 20.0
"""How much farther than is usual a bracket may reach that hangs there already; common practice, no source."""
_BRACKET = "reader's bracket, its thickness"
_ACROSS = "reader's bracket, how far it goes across"


def varied(job: Job, axis: Axis, bulk: ScaleBulk, times: float = 1.0) -> Iterable[tuple[str, ScaleBulk]]:
    """The scale with each of its sizes that nobody measured so many times larger and a little, by that size's name."""
    edit = next((e for e in job.all(FamilyEdit) if e.family == bulk.family.id), None)
    (high, deep), (tall, reader_deep) = bulk.family.section_mm, bulk.family.reader_section_mm
    family = bulk.family
    others = (
        replace(family, section_mm=(times * high + _BY_MM, deep)),
        replace(family, section_mm=(high, times * deep + _BY_MM)),
        replace(family, reader_section_mm=(times * tall + _BY_MM, reader_deep)),
        replace(family, reader_section_mm=(tall, times * reader_deep + _BY_MM)),
    )
    for (field, label), other in zip(_SIZES, others, strict=True):
        if edit is None or getattr(edit, field) is None:
            yield label, replace(bulk, family=other)
    if bulk.bracket_mm is None and bracket_came(job, axis) is None:
        face = chosen_face(job, axis)
        if face is not None:
            yield _BRACKET, replace(bulk, bracket_mm=_thicker(job, axis, face, bulk))


def sizes_otherwise(job: Job, axis: Axis) -> list[tuple[tuple[str, str, list[Entity]], str]]:
    """Each size of a scale nobody measured as ``_sized`` has it, a quarter larger and then a quarter smaller."""
    ways = ((LARGER, "larger"), (1 / LARGER, "smaller"))
    return [(size, than) for times, than in ways for size in _sized(job, axis, times)]


def _sized(job: Job, axis: Axis, times: float) -> list[tuple[str, str, list[Entity]]]:
    """(name, where to say it, entities that say it is so many times as large) of each size of a scale not measured."""
    face = chosen_face(job, axis)
    bulk = None if face is None or not has_scale(axis) else bulk_of(job, axis, face)
    if bulk is None:
        return []
    edit = family_edit(job, bulk.family.id, "a larger one")
    sizes = zip(_SIZES, (*bulk.family.section_mm, *bulk.family.reader_section_mm), strict=True)
    found: list[tuple[str, str, list[Entity]]] = [
        (
            f"{axis.name} {label}",
            "type it on Scale, under This family, as you know it",
            [edit.with_(**{field: _typed(mm * times)})],
        )
        for (field, label), mm in sizes
        if getattr(edit, field) is None
    ]
    if bulk.bracket_mm is None and face is not None:
        arrived = bracket_came(job, axis)
        long, wide, thick = _thicker(job, axis, face, bulk)
        wide, thick = wide * times, thick * times
        if times > 1 and axis.readout == "there":  # somebody made it, to no plan of ours
            wide, thick = wide + _MADE_FOR_ITSELF_MM, 2 * thick
        part = MountPart(
            id="a larger one", axis_id=axis.id, part_kind="angle", carries="reader", length=_typed(long),
            width=_typed(wide), thickness=_typed(thick if arrived is None else arrived),
        )  # fmt: skip
        what = _BRACKET if arrived is None else _ACROSS
        found.append((f"{axis.name} {what}", "measure what carries the reader on Receive or Mounts", [part]))
    return found


def _typed(mm: float) -> LengthEntry:
    return LengthEntry(mm=mm, text=f"{mm:.2f}")


def _thicker(job: Job, axis: Axis, face: Face, bulk: ScaleBulk) -> tuple[float, float, float]:
    """A bracket as it is assumed, but thicker."""
    long, wide, _ = assumed_bracket(face_place(face, length_of(job, axis, face)), bulk)
    return long, wide, BRACKET_MM + _BY_MM

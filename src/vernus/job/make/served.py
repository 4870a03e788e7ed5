"""Parts as they follow from what they serve: name by kind, a cover's sizes, a ring's; what was typed stands.

A scale's cover is as long as the body and wide enough for its depth and height. A way cover reaches over the travel
with 25 mm at either end to be held by, common practice, no source. A ring is as large as its outside diameter.
"""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.finding import Sentence
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face
from vernus.job.known.lengths import body_length
from vernus.job.machine.planned import bulk_of
from vernus.job.machine.travel import travel_result

KIND_WORDS = {
    "standoff": "standoff block", "plate": "backing plate", "angle": "angle bracket", "bridge": "bridge plate",
    "t-nut": "T-nut bar", "stud": "stud with large washers", "spacer": "spacer", "ring": "ring on a collar",
    "cover": "cover", "deflector": "deflector", "face": "face of the machine",
}  # fmt: skip
_COVER_WORDS = {"body": "scale's cover", "way": "way cover", "": "cover"}
HELD_BY_MM = 25.0


def parts_of(job: Job, axis: Axis) -> list[MountPart]:
    """The parts of an axis, each with the name and the sizes that follow from what it serves."""
    mine = job.of_axis(MountPart, axis.id)
    return [_served(job, axis, part, _name(mine, part)) for part in mine]


def served(job: Job, part: MountPart) -> MountPart:
    """One part with the name and sizes that follow from what it serves."""
    axis = job.get(part.axis_id)
    if not isinstance(axis, Axis):
        return part
    mine = [part if p.id == part.id else p for p in job.of_axis(MountPart, axis.id)]
    return _served(job, axis, part, _name(mine, part))


def unserved(job: Job, part: MountPart) -> MountPart:
    """A part as it is stored: what was only shown as following from what it serves is left as it was."""
    stored = job.get(part.id)
    if not isinstance(stored, MountPart):
        return part
    shown = served(job, stored)
    fields = ("name", "length", "width")
    was = {f: getattr(stored, f) for f in fields if getattr(part, f) == getattr(shown, f) != getattr(stored, f)}
    return part.model_copy(update=was) if was else part


def _name(mine: Sequence[MountPart], part: MountPart) -> str:
    """A part's own name, or what it is: numbered where several of a kind have none."""
    if part.name:
        return part.name
    alike = [p for p in mine if not p.name and _kind(p) == _kind(part)]
    number = next((n for n, p in enumerate(alike, 1) if p.id == part.id), 1)
    return _kind(part) + (f" {number}" if number > 1 else "")


def _kind(part: MountPart) -> str:
    return _COVER_WORDS[part.serves] if part.part_kind == "cover" else KIND_WORDS[part.part_kind]


def _served(job: Job, axis: Axis, part: MountPart, name: str) -> MountPart:
    changes: dict[str, object] = {} if part.name == name else {"name": name}
    for field, mm in _sizes(job, axis, part).items():
        entry = getattr(part, field)
        if not entry.text and mm > 0 and entry.mm != mm:
            changes[field] = LengthEntry(mm=mm)
    return part.model_copy(update=changes) if changes else part


def _sizes(job: Job, axis: Axis, part: MountPart) -> dict[str, float]:
    """The sizes (mm) that follow, by field; none where nothing is known of what it serves."""
    if part.part_kind == "ring" and part.outside is not None:
        return {"length": part.outside.mm, "width": part.outside.mm}
    if part.part_kind != "cover" or not part.serves:
        return {}
    face, body = chosen_face(job, axis), body_length(job, axis)
    bulk = None if face is None else bulk_of(job, axis, face)
    if part.serves == "body":
        section = () if bulk is None else bulk.family.section_mm
        return ({} if body is None else {"length": body.value}) | ({"width": sum(section)} if section else {})
    best = travel_result(job, axis).best
    travel = None if best is None else best.travel_mm
    beside = 0.0 if bulk is None else bulk.family.section_mm[1]
    return {"length": travel + beside + 2 * HELD_BY_MM} if travel else {}


def ask_of(part: MountPart) -> Sentence | None:
    """What has to be measured before a part can be made for what it serves; None where nothing is missing."""
    if part.part_kind == "ring" and (part.nose is None or part.outside is None):
        return Sentence("Measure the nose that the ring goes round, and say how large the ring is outside.")
    if part.part_kind == "cover" and part.serves == "way" and not part.width.text:
        return Sentence("Measure across the ways that the cover hides, the scale beside them too, and give its width.")
    if part.part_kind == "cover" and not part.serves and not part.length.text:
        return Sentence("Say what it covers, the scale's body or the ways: its sizes follow from that.")
    return None

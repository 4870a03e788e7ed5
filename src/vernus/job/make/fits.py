"""Whether a part goes where it is to go: its tongue in a slot's mouth, its neck under the lips, the reader's screws,
what must stay clear, its foam tape.

A tongue runs in its slot with 0.05 to 0.5 mm of play; foam tape bears about 1 kg on 50 cm²: common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.make.hardware import thread_named
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.joint import review_neck
from vernus.core.make.parts import FACE_WORDS, Part, PartCut
from vernus.job.document import Job
from vernus.job.entities import DrilledHole, Hole, HolePattern, MountPart
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import chosen_face, delivery_of
from vernus.job.machine.survey import thread_of
from vernus.job.make.carried import goes_into
from vernus.job.make.holes_there import slots_of
from vernus.job.make.parts import axis_of, holes_of, loose_in, patterns_of

TONGUE_PLAY_MM = (0.05, 0.5)
FOAM_CM2_PER_KG = 50.0
_HAIR_MM = 1e-9
_SLACK_MM = 0.5


def review_fits(job: Job, entity: MountPart, part: Part, rows: Sequence[HoleRow]) -> list[Finding]:
    """What stands against a part where it goes."""
    return [
        *_cuts(part), *_kept_clear(part, rows), *_neck(job, entity, part), *_tongue(job, entity, part),
        *_reader_threads(job, entity), *_threads_in_sheet(part), *_foam(entity, part), *_ends_in_nothing(job, entity),
        *_there_already(job, entity),
    ]  # fmt: skip


def _neck(job: Job, entity: MountPart, part: Part) -> list[Finding]:
    """A T-nut whose neck is as high as the lips it is drawn up against: the part above would ride on the nut."""
    axis = axis_of(job, entity)
    slots = slots_of(job, axis) if axis is not None and part.kind == "t-nut" else []
    steps = [c.depth_mm for c in part.cuts if c.kind == "step" and c.face == "face"]
    if not slots or not steps:
        return []
    return review_neck(part.name, min(steps), slots[0][1].lip_mm)


def _tongue(job: Job, entity: MountPart, part: Part) -> list[Finding]:
    """A tongue beside the mouth of the slot it goes into: what to take off, or how much it is loose."""
    axis = axis_of(job, entity)
    slots = slots_of(job, axis) if axis is not None else []
    tongues = [c for c in part.cuts if c.kind == "tongue" and c.face == "back"]
    if not slots or not tongues:
        return []
    hole, slot = slots[0]
    least, most = TONGUE_PLAY_MM
    found: list[Finding] = []
    for cut in tongues:
        wide = min(cut.wide_mm, cut.high_mm)
        play, deep = slot.mouth_mm - wide, cut.depth_mm > slot.lip_mm + _HAIR_MM
        values = {
            "part": part.name, "wide": Mm(wide), "mouth": Mm(slot.mouth_mm), "play": Mm(abs(play)),
            "off": Mm(least - play), "where": hole.place or hole.member, "deep": Mm(cut.depth_mm),
            "lip": Mm(slot.lip_mm),
        }  # fmt: skip
        if play < least - _HAIR_MM:
            found.append(finding(
                "tongue-too-wide", "stop",
                "The tongue of {part} is {wide} wide, and the mouth of the slot ({where}) {mouth}: it doesn't go in.",
                "Take {off} off its width.", **values,
            ))  # fmt: skip
        elif play > most + _HAIR_MM:
            found.append(finding(
                "tongue-loose", "caution",
                "The tongue of {part} has {play} of play in the slot ({where}): it doesn't guide.",
                "Make it wider, or set the part by an indicator and let its screws hold it.", **values,
            ))  # fmt: skip
        else:
            found.append(finding(
                "tongue-fits", "info", "The tongue of {part} has {play} of play in the slot's mouth of {mouth}.",
                "Nothing to do here.", **values,
            ))  # fmt: skip
        if deep:
            found.append(finding(
                "tongue-too-high", "caution",
                "The tongue of {part} stands out {deep}, and the slot's lips are {lip} thick.",
                "Make it lower than the lips, or it meets the T-nut's head.", **values,
            ))  # fmt: skip
    return found


def _reader_threads(job: Job, entity: MountPart) -> list[Finding]:
    """Holes for another screw than the one that goes into the reader's threads."""
    axis = axis_of(job, entity)
    arrived = None if axis is None else delivery_of(job, axis)
    if arrived is None or not arrived.reader_thread:
        return []
    try:
        theirs = thread_named(arrived.reader_thread).name
    except BadInputError:
        return []  # told on Receive
    mine: list[DrilledHole | HolePattern] = [*holes_of(job, entity), *patterns_of(job, entity)]
    for hole in mine:
        if goes_into(entity, hole) != "reader" or hole.hole_kind in ("tapped", "bore", "jack"):
            continue
        try:
            name = thread_named(hole.thread).name
        except BadInputError:
            continue  # told with its row
        if name != theirs:
            return [finding(
                "reader-thread", "stop",
                "A hole of {part} is for {mine}, and the reader's threads are {theirs}: that screw doesn't go in.",
                "Say {theirs} for the holes that take the reader's screws.",
                part=entity.name or "the part", mine=name, theirs=theirs,
            )]  # fmt: skip
    return []


def _ends_in_nothing(job: Job, entity: MountPart) -> list[Finding]:
    """Screws that bolt a part to another of ours that has no thread for them, nor a nut behind."""
    mine: list[DrilledHole | HolePattern] = [*holes_of(job, entity), *patterns_of(job, entity)]
    for hole in mine:
        other = job.get(goes_into(entity, hole))
        if isinstance(other, MountPart) and other.id != entity.id and loose_in(job, entity, hole):
            return [finding(
                "screws-in-nothing", "caution",
                "The {thread} screws of {part} go into {other}, which has no thread of that size.",
                "Carry their holes onto {other} as tapped ones (Rows, carried from), or say that a nut is behind.",
                part=entity.name or "the part", other=other.name or "the other part", thread=hole.thread,
            )]  # fmt: skip
    return []


def _there_already(job: Job, entity: MountPart) -> list[Finding]:
    """A new hole for a screw, though one that takes it is there in what the part is bolted to, nobody said where."""
    axis = axis_of(job, entity)
    face = None if axis is None else chosen_face(job, axis)
    members = () if face is None else (face.member, face.reader_member)
    if entity.bolts_to != "machine" or entity.part_kind == "face":
        return []
    used = {h.over for h in job.all(DrilledHole) if h.over}
    for hole in holes_of(job, entity):
        if hole.over or hole.hole_kind not in ("clearance", "counterbored", "countersunk"):
            continue
        old = next((o for o in job.all(Hole) if _takes(o, hole, members) and o.id not in used), None)
        if old is not None:
            return [finding(
                "hole-there-already", "info",
                "A new hole is drilled for the {thread} screw of {part}, though “{place}” in the {member} takes it.",
                "If {part} goes there, choose it on Mounts under “Its screw ends in”.",
                part=entity.name or "the part", thread=hole.thread, place=old.place or "the old hole",
                member=old.member,
            )]  # fmt: skip
    return []


def _takes(old: Hole, hole: DrilledHole, members: Sequence[str]) -> bool:
    """Whether an old hole of which nobody said where it is takes the screw of a new one."""
    if old.face_id or old.what == "slot" or old.member not in members:
        return False
    try:
        screw = thread_named(hole.thread)
    except BadInputError:
        return False  # told with its row
    wide, thread = mm_of(old.diameter), thread_of(old)
    if old.what == "plain":
        return wide is not None and -_SLACK_MM <= wide - screw.major_mm <= 3 * _SLACK_MM
    return thread is not None and thread.name == screw.name


def _threads_in_sheet(part: Part) -> list[Finding]:
    """Threads in thin sheet or plastic: they strip."""
    if part.material not in ("sheet", "plastic") or not any(h.is_tapped for h in part.holes):
        return []
    what = "Sheet metal" if part.material == "sheet" else "Plastic"
    return [finding(
        "thread-in-sheet", "caution", what + " takes nuts or inserts: a thread cut into {part} strips.",
        "Make the hole a clearance hole with a nut behind, or press or weld in an insert.", part=part.name,
    )]  # fmt: skip


def _cuts(part: Part) -> list[Finding]:
    """Cuts that go beyond their face or through the part."""
    found: list[Finding] = []
    for number, cut in enumerate(part.cuts, 1):
        if cut.kind == "keep clear":
            continue
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


def _kept_clear(part: Part, rows: Sequence[HoleRow]) -> list[Finding]:
    """Holes in a place to keep clear, and metal over it that nothing is cut out for."""
    found: list[Finding] = []
    for number, area in enumerate((c for c in part.cuts if c.kind == "keep clear"), 1):
        inside = [r.number for r in rows if r.hole.face == area.face and _meets(r, area)]
        along, across, _ = part.size_of(area.face)
        over = (
            area.x_mm + area.wide_mm > 0 and area.x_mm < along and area.y_mm + area.high_mm > 0 and area.y_mm < across
        )
        values = {"n": " and ".join(map(str, inside)), "number": number, "part": part.name}
        if inside:
            one = "Hole {n} of {part} lies" if len(inside) == 1 else "Holes {n} of {part} lie"
            found.append(finding("kept-clear", "stop", one + " in place {number} to keep clear.",
                                 "Move it out, or use another hole.", **values))  # fmt: skip
        elif over and not any(_holds(c, area) for c in part.cuts):
            found.append(finding(
                "kept-clear", "stop", "Place {number} to keep clear lies under the metal of {part}.",
                "Make an opening there, or a relief on its back where it only has to be clear behind; or make the part "
                "smaller.", **values,
            ))  # fmt: skip
    return found


def _meets(row: HoleRow, area: PartCut) -> bool:
    reach = row.size_mm / 2
    return any(
        area.x_mm - reach < x < area.x_mm + area.wide_mm + reach
        and area.y_mm - reach < y < area.y_mm + area.high_mm + reach
        for x, y in row.ends
    )


def _holds(cut: PartCut, area: PartCut) -> bool:
    """Whether a cut takes the metal of a place to keep clear away, as seen from outside: from the face or the back."""
    if cut.kind not in ("opening", "relief", "pocket", "step") or {cut.face, area.face} - {"face", "back"}:
        return cut.kind == "opening" and cut.face == area.face and _around(cut, area)
    return _around(cut, area)


def _around(cut: PartCut, area: PartCut) -> bool:
    return (
        cut.x_mm <= area.x_mm + _HAIR_MM
        and cut.y_mm <= area.y_mm + _HAIR_MM
        and cut.x_mm + cut.wide_mm >= area.x_mm + area.wide_mm - _HAIR_MM
        and cut.y_mm + cut.high_mm >= area.y_mm + area.high_mm - _HAIR_MM
    )


def foam_strip(entity: MountPart, part: Part) -> tuple[float, float]:
    """Length and width of the foam tape under a part (mm): as wide as noted, in as many strips as go side by side."""
    wide = part.width_mm if entity.tape_wide is None else min(entity.tape_wide.mm, part.width_mm)
    return part.length_mm * max(1, math.floor(part.width_mm / wide + _HAIR_MM)), wide


def _foam(entity: MountPart, part: Part) -> list[Finding]:
    """What foam tape bears and that it creeps."""
    if entity.fixed != "foam":
        return []
    long, wide = foam_strip(entity, part)
    bears = long * wide / 100.0 / FOAM_CM2_PER_KG
    return [finding(
        "foam-creeps", "caution",
        "Foam tape under {part} bears about {kg:.1f} kg and creeps under a steady pull, sooner where it is warm.",
        "Degrease both faces, press it on and leave it a day; look at line and gap again after a month. Where it must "
        "hold to a hundredth, screw it.", part=part.name, kg=bears,
    )]  # fmt: skip

"""What is known of the machine itself: how much is measured, and which threads its holes have."""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.finding import Finding, Mm, Sentence, conclusion, finding
from vernus.core.make.hardware import ALL_THREADS, Thread
from vernus.core.make.threads import identify_thread, name_thread, short_names, tell_apart
from vernus.job.document import Job
from vernus.job.entities import Face, Hole, SolidBox
from vernus.job.fields import mm_of
from vernus.job.machine.geometry import geometry_findings
from vernus.job.machine.measures import measures_of, taken

_SIDES = ("left", "right", "front", "back", "bottom", "top")


def hole_thread(hole: Hole) -> Sentence:
    """The thread of an existing hole, a T-slot's mouth, a plain hole's diameter, or what to measure."""
    if hole.what == "slot":
        return Sentence("measure") if hole.mouth is None else Sentence("T-slot {mm}", {"mm": Mm(hole.mouth.mm)})
    if hole.what == "plain":
        return Sentence("measure") if hole.diameter is None else Sentence("plain {mm}", {"mm": Mm(hole.diameter.mm)})
    if hole.thread:
        return Sentence(f"{hole.thread}, tried with a screw.")
    if hole.diameter is None or hole.pitch is None:
        return Sentence("measure")
    if not (hole.diameter.mm > 0 and hole.pitch.mm > 0):
        return Sentence("check the figures")
    return name_thread(identify_thread(hole.diameter.mm, hole.pitch.mm, hole.measured_on), hole.diameter.mm)


def threads_that_fit(hole: Hole) -> list[Thread]:
    """The threads a hole can have: those its two figures fit, best first; without both every one there is."""
    if hole.diameter is None or hole.pitch is None or not (hole.diameter.mm > 0 and hole.pitch.mm > 0):
        return list(ALL_THREADS)
    return identify_thread(hole.diameter.mm, hole.pitch.mm, hole.measured_on)


def thread_of(hole: Hole) -> Thread | None:
    """The thread of a hole: the one it was tried with, or the only one its figures fit; None until it is certain."""
    if hole.what != "threaded":
        return None
    if hole.thread:
        return next((t for t in ALL_THREADS if t.name == hole.thread), None)
    if hole.diameter is None or hole.pitch is None:
        return None
    found = threads_that_fit(hole)
    return found[0] if len(found) == 1 else None


def untold(hole: Hole) -> bool:
    """Whether a hole was measured and its thread can't be told yet."""
    return hole.what == "threaded" and None not in (hole.diameter, hole.pitch) and thread_of(hole) is None


def is_at(face: Face, member: str) -> bool:
    """Whether a member is at a face: it carries the body there, or the reader beside it."""
    return not member or member in (face.member, face.reader_member)


def where_at(face: Face, hole: Hole | None) -> str:
    """A face as the place of a hole: its own, or the side of the member beside it that carries the reader."""
    if hole is not None and hole.member == face.reader_member and face.reader_member != face.member:
        return f"of the {face.reader_member}, at {face.name}"
    return f"{face.name} ({face.member})"


def agreed(job: Job, hole: Hole) -> Hole:
    """A hole whose member and face agree, after either was chosen."""
    was = job.get(hole.id)
    face = job.get(hole.face_id) if hole.face_id else None
    if not isinstance(face, Face) or (is_at(face, hole.member) and hole.member):
        return hole
    new_face = not isinstance(was, Hole) or was.face_id != hole.face_id
    settled: Hole = hole.with_(member=face.member) if new_face else hole.with_(face_id="")
    return settled


def hole_findings(job: Job) -> list[Finding]:
    """What can't be so of the holes there are, and threads that two figures can't tell apart."""
    found: list[Finding] = []
    for hole in job.all(Hole):
        where = hole.place or hole.member
        if untold(hole):
            found.append(_not_told(where, threads_that_fit(hole)))
        head, mouth = mm_of(hole.head), mm_of(hole.mouth)
        if hole.what == "slot" and head is not None and mouth is not None and head <= mouth:
            found.append(
                finding(
                    "slot-head", "stop",
                    "{where}: the T-slot's head of {head} is no wider than its mouth of {mouth}.",
                    "Measure both again: the head lies below the lips and is the wider one (Machine, Holes).",
                    where=where, head=Mm(head), mouth=Mm(mouth),
                )
            )  # fmt: skip
    return found


def _not_told(where: str, fits: Sequence[Thread]) -> Finding:
    names = " or ".join(t.name for t in fits[:4])
    what = "{where}: the thread can be {names}." if fits else "{where}: no thread of the table fits its two figures."
    how = tell_apart(fits[:4]) if fits else "measure the screw with a caliper and the pitch with a gauge"
    return finding(
        "thread-not-told",
        "caution",
        what,
        "Choose its thread (Machine, Holes) before a screw is bought: {how}.",
        where=where, names=names, how=how,
    )  # fmt: skip


def hole_in_short(hole: Hole) -> Sentence:
    """What a hole is, short enough for a list."""
    if hole.thread and hole.what == "threaded":
        return Sentence(hole.thread)
    if hole.what != "threaded" or hole.diameter is None or hole.pitch is None:
        return hole_thread(hole)
    if not (hole.diameter.mm > 0 and hole.pitch.mm > 0):
        return hole_thread(hole)
    found = identify_thread(hole.diameter.mm, hole.pitch.mm, hole.measured_on)
    return Sentence(short_names(found)) if found else Sentence("no thread fits")


def told_so_far(job: Job) -> tuple[int, int]:
    """How many measures somebody took, and how many there are; without measures, of the sides of the boxes."""
    if measures_of(job):
        return taken(job)
    sides = [getattr(b, side) for b in job.all(SolidBox) for side in _SIDES]
    return sum(bool(s.text) for s in sides), len(sides)


def machine_summary(job: Job) -> tuple[str, str, Sentence]:
    """Headline, the line under it, and what to do about the machine."""
    boxes = job.all(SolidBox)
    keep = sum(b.role == "keep" for b in boxes)
    done, of = told_so_far(job)
    what = "measures taken" if measures_of(job) else "sides measured"
    figure = f"{done} of {of} {what}"
    under = f"{len(boxes) - keep} boxes, {keep} places to keep free; what isn't measured is the template's"
    wrong = geometry_findings(job)
    if wrong:
        return figure, under, wrong[0].what
    if not boxes:
        return figure, "", Sentence("Add what can meet: table, saddle, column, head, handwheels. Boxes are enough.")
    if done < of:
        return (
            figure,
            under,
            Sentence(
                "Replace the template's sizes by measuring, first those near a face you might use: a wrong one costs "
                "travel on paper that the machine has, or the other way round."
            ),
        )
    return figure, under, conclusion("All measured. Go on to Travel.")

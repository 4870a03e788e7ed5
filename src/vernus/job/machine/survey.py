"""What is known of the machine itself: how much is measured, and which threads its holes have."""

from __future__ import annotations

from vernus.core.finding import Mm, Sentence, conclusion
from vernus.core.make.threads import identify_thread, name_thread, short_names
from vernus.job.document import Job
from vernus.job.entities import Hole, SolidBox
from vernus.job.machine.geometry import geometry_findings
from vernus.job.machine.measures import measures_of, taken

_SIDES = ("left", "right", "front", "back", "bottom", "top")


def hole_thread(hole: Hole) -> Sentence:
    """The thread of an existing hole, a T-slot's mouth, a plain hole's diameter, or what to measure."""
    if hole.what == "slot":
        return Sentence("measure") if hole.mouth is None else Sentence("T-slot {mm}", {"mm": Mm(hole.mouth.mm)})
    if hole.what == "plain":
        return Sentence("measure") if hole.diameter is None else Sentence("plain {mm}", {"mm": Mm(hole.diameter.mm)})
    if hole.diameter is None or hole.pitch is None:
        return Sentence("measure")
    if not (hole.diameter.mm > 0 and hole.pitch.mm > 0):
        return Sentence("check the figures")
    return name_thread(identify_thread(hole.diameter.mm, hole.pitch.mm, hole.measured_on))


def hole_in_short(hole: Hole) -> Sentence:
    """What a hole is, short enough for a list."""
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

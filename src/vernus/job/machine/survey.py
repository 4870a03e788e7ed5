"""What is known of the machine itself: how much is measured, and which threads its holes have."""

from __future__ import annotations

from vernus.core.finding import Sentence
from vernus.core.make.threads import identify_thread, name_thread
from vernus.job.document import Job
from vernus.job.entities import Hole, SolidBox
from vernus.job.machine.geometry import geometry_findings

_SIDES = ("left", "right", "front", "back", "bottom", "top")


def hole_thread(hole: Hole) -> Sentence:
    """The thread of an existing hole, or what to measure."""
    if hole.diameter is None or hole.pitch is None:
        return Sentence("measure")
    if not (hole.diameter.mm > 0 and hole.pitch.mm > 0):
        return Sentence("check the figures")
    return name_thread(identify_thread(hole.diameter.mm, hole.pitch.mm, hole.measured_on))


def sides_measured(job: Job) -> tuple[int, int]:
    """How many sides of the machine's boxes somebody typed, and how many there are."""
    sides = [getattr(b, side) for b in job.all(SolidBox) for side in _SIDES]
    return sum(bool(s.text) for s in sides), len(sides)


def all_sides_typed(box: SolidBox) -> bool:
    """Whether somebody typed every side of a box."""
    return all(getattr(box, side).text for side in _SIDES)


def machine_summary(job: Job) -> tuple[str, str, Sentence]:
    """Headline, the line under it, and what to do about the machine."""
    boxes = job.all(SolidBox)
    keep = sum(b.role == "keep" for b in boxes)
    measured, sides = sides_measured(job)
    figure = f"{len(boxes) - keep} boxes, {keep} to keep free"
    under = f"{measured} of {sides} sides measured; the others are the template's"
    wrong = geometry_findings(job)
    if wrong:
        return figure, under, wrong[0].what
    if not boxes:
        return figure, "", Sentence("Add what can meet: table, saddle, column, head, handwheels. Boxes are enough.")
    if measured < sides:
        return (
            figure,
            under,
            Sentence(
                "Replace the template's sizes by measuring, first those near a face you might use: a wrong one costs "
                "travel on paper that the machine has, or the other way round."
            ),
        )
    return figure, under, Sentence("All measured. Go on to Travel.")

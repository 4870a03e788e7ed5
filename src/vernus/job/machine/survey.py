"""What is known of the machine itself: how much is measured, and which threads its holes have."""

from __future__ import annotations

from vernus.core.finding import Mm, Sentence
from vernus.core.make.threads import identify_thread, name_thread
from vernus.job.document import Job
from vernus.job.entities import Axis, Hole, SolidBox
from vernus.job.machine.geometry import geometry_findings

_SIDES = ("left", "right", "front", "back", "bottom", "top")


def hole_thread(hole: Hole) -> Sentence:
    """The thread of an existing hole, or what to measure."""
    if hole.diameter is None or hole.pitch is None:
        return Sentence("measure")
    if not (hole.diameter.mm > 0 and hole.pitch.mm > 0):
        return Sentence("check the figures")
    return name_thread(identify_thread(hole.diameter.mm, hole.pitch.mm, hole.measured_on))


def machine_summary(job: Job) -> tuple[str, str, Sentence]:
    """Headline, the line under it, and what to do about the machine."""
    boxes = job.all(SolidBox)
    keep = sum(b.role == "keep" for b in boxes)
    sides = [getattr(b, side) for b in boxes for side in _SIDES]
    measured = sum(bool(s.text) for s in sides)
    figure = f"{len(boxes) - keep} boxes, {keep} to keep free"
    under = f"{measured} of {len(sides)} sides measured; the others are the template's"
    wrong = geometry_findings(job)
    if wrong:
        return figure, under, wrong[0].what
    if not boxes:
        return figure, "", Sentence("Add what can meet: table, saddle, column, head, handwheels. Boxes are enough.")
    if measured < len(sides):
        return (
            figure,
            under,
            Sentence(
                "Replace the template's sizes by measuring, first those near a face you might use: a wrong one costs "
                "travel on paper that the machine has, or the other way round."
            ),
        )
    return figure, under, Sentence("All measured. Go on to Travel.")


def consequence(job: Job, axis: Axis) -> Sentence | None:
    """What giving up travel costs at the spindle, for an axis that moves up or down (None: nothing, or not known)."""
    closing = _closing_end(axis)
    given = None if closing is None else axis.give_up_high if closing == "high" else axis.give_up_low
    if given is None or given.mm <= 0:
        return None
    return Sentence("The spindle then comes {gap} less near to the table.", {"gap": Mm(given.mm)})


def _closing_end(axis: Axis) -> str | None:
    """The end of a vertical axis at which spindle and table are nearest: knee up, quill down, head down."""
    if axis.direction not in ("+z", "-z"):
        return None
    table_side = axis.moving in ("knee", "table", "saddle")
    return "high" if (axis.direction == "+z") == table_side else "low"

"""What the cables and the display's arm want from the shop."""

from __future__ import annotations

from vernus.core.finding import Mm, Sentence
from vernus.job.connect.cables import anchors_of
from vernus.job.document import Job
from vernus.job.plan.display import display_of
from vernus.job.plan.order import Item


def cable_items(job: Job) -> list[Item]:
    """Clips and ties of each cable that is led to a display, and the arm the display hangs on."""
    items: list[Item] = []
    for axis in job.axes():
        if axis.readout != "new":
            continue
        clips = max(0, len(anchors_of(job, axis)) - 2)
        count = "{n} clips" if clips else "as many clips as Cables says once its way is led"
        detail = Sentence(count + ", and ties", {"n": clips})
        items.append(
            Item("have", axis.name, Sentence("Clips and ties for the cable"), detail, None, "clips", count=clips or 1)
        )
    display = display_of(job)
    if display is not None and display.reach is not None and items:
        items.append(
            Item(
                "buy",
                "",
                Sentence("Arm for the display"),
                Sentence("reach {mm}", {"mm": Mm(display.reach.mm)}),
                None,
                "arm",
            )
        )
    return items

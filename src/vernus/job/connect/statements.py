"""What is said of an axis's cable."""

from __future__ import annotations

from vernus.core.finding import Mm, Sentence
from vernus.job.connect.cables import anchors_of, cable_result, supplied_mm
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.statement import Statement


def cable_statements(job: Job, axis: Axis) -> list[Statement]:
    """How long the cable has to be against what it is, and what holds it."""
    need = cable_result(job, axis).need
    if need is None:
        return []
    have = supplied_mm(job, axis)
    words = Sentence("The cable has to be {need} long.", {"need": Mm(need.need_mm)})
    if have is not None:
        words = Sentence(
            "The cable has to be {need} long, and is {have}.", {"need": Mm(need.need_mm), "have": Mm(have)}
        )
    anchors = [a.member for a in anchors_of(job, axis)]
    said = {"need_mm": need.need_mm, "have_mm": have, "anchors": anchors}
    return [Statement("cable", axis.name, "", "cables", words, said)]

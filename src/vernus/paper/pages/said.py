"""Statements on paper: the words that everything else says too."""

from __future__ import annotations

from collections.abc import Iterable

from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.said import of_axis
from vernus.paper.page import BODY_PT, Block, Words


def said_blocks(
    job: Job, axis: Axis, units: UnitSystem, *kinds: str, size: float = BODY_PT, bold: bool = False, about: str = ""
) -> Iterable[Block]:
    """What is said of an axis, kind by kind, a line each; of one thing where it is named."""
    for kind in kinds:
        for said in of_axis(job, axis, kind):
            if about in ("", said.about):
                yield Words(said.words.text(units), size=size, bold=bold)

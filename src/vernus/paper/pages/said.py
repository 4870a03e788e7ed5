"""Statements on paper: the words that everything else says too."""

from __future__ import annotations

from collections.abc import Iterable

from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.said import of_axis
from vernus.job.scope import axes_in_scope
from vernus.paper.page import BODY_PT, Block, Words


def unfitted_stops(job: Job, units: UnitSystem) -> Iterable[Block]:
    """Stops and zones of axes on which nothing is fitted, but which could drive into what is."""
    fitted = {a.id for a in axes_in_scope(job)}
    for axis in job.axes():
        if axis.id not in fitted:
            for kind in ("zone", "stop", "bumper"):
                for said in of_axis(job, axis, kind):
                    yield Words(f"{axis.name}, {axis.moving}: {said.words.text(units)}")


def said_blocks(
    job: Job, axis: Axis, units: UnitSystem, *kinds: str, size: float = BODY_PT, bold: bool = False, about: str = ""
) -> Iterable[Block]:
    """What is said of an axis, kind by kind, a line each; of one thing where it is named."""
    for kind in kinds:
        for said in of_axis(job, axis, kind):
            if about in ("", said.about):
                yield Words(said.words.text(units), size=size, bold=bold)

"""The job on a page: the machine with what is planned on it, a line per axis, what is open and what is due."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from vernus.core.errors import BadInputError
from vernus.core.machine.hidden import View
from vernus.core.units import UnitSystem
from vernus.core.verdict_words import SEVERITIES_SAID
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.finished import next_step
from vernus.job.machine.geometry import boxes_of, keep_reachable, solid
from vernus.job.plan.travel_left import EnvelopeResult, envelope_result
from vernus.job.review.review import review_axis
from vernus.job.said import of_axis
from vernus.paper.drawing.machine.solid import lines_of, model_of, paint_names, paint_solids, sight_of, swept_corners
from vernus.paper.drawing.machine.views import Scene
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, subheading, table
from vernus.paper.pages.keep.due import due_blocks
from vernus.paper.pages.machine.names import kind_label
from vernus.paper.pages.said import unfitted_stops

_MOST_OPEN = 6
"""So many open findings are named on the page; the others are counted."""


def job_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """One page, two at most: the machine in the round, its axes line by line, what is open, what falls due."""
    info, machine = job.info, job.machine
    yield Words(info.title, size=18, bold=True, after=2)
    yield Words(f"{machine.name} ({kind_label(job)})" + (f", {info.workshop}" if info.workshop else ""), after=6)
    if machine.members and axes:
        try:
            yield Picture(_in_the_round(job, envelope_result(job)), 270)
        except BadInputError as error:
            yield Words(str(error))
    rows = [_line(job, a, units) for a in axes]
    head = ("", "Travel kept", "Scale and its place", "Stops", "In the display", "Next")
    yield from table(head, rows, (0.04, 0.13, 0.27, 0.15, 0.18, 0.23), size=8.5)
    yield from unfitted_stops(job, units)
    opened = [at for a in axes for at in review_axis(job, a).findings if at.finding.severity != "info"]
    if opened:
        yield subheading("Open")
    for at in sorted(opened, key=lambda at: at.finding.severity != "stop")[:_MOST_OPEN]:
        said = f"{at.axis}, {SEVERITIES_SAID[at.finding.severity]}: {at.finding.what.text(units)}"
        yield Words(said, size=9.5, indent=8, after=2)
    if len(opened) > _MOST_OPEN:
        yield Words(f"… and {len(opened) - _MOST_OPEN} more, in the record.", size=9.5, indent=8)
    yield from due_blocks(job, axes, units, size=9.5)


def _in_the_round(job: Job, result: EnvelopeResult) -> Callable[[QPainter, QRectF], object]:
    """The machine as it stands at home, planned parts in the accent, each axis's parts named."""
    scene = Scene(result.envelope, result.envelope.home, [solid(b) for b in keep_reachable(job)])
    shapes = {b.name: b.shape for b in boxes_of(job)}
    names = {b.name: b.name for b in result.envelope.boxes}
    return partial(_paint_round, scene=scene, shapes=shapes, names=names)


def _paint_round(painter: QPainter, room: QRectF, scene: Scene, shapes: Any, names: dict[str, str]) -> None:
    view, model = View(), model_of(scene, shapes)
    sight = sight_of(room, swept_corners(scene.envelope, scene.envelope.boxes), view)
    paint_solids(painter, model, scene, sight, PRINT, lines_of(model, view))
    paint_names(painter, model, sight, PRINT, names)


def _line(job: Job, axis: Axis, units: UnitSystem) -> tuple[str, ...]:
    """An axis: what is kept, its scale and the reader's place, its stops, what is keyed in and how well it reads."""

    def said(*kinds: str, about: str = "") -> str:
        found = [s for k in kinds for s in of_axis(job, axis, k) if about in ("", s.about)]
        return "\n".join(s.words.text(units) for s in found)

    display = said("key_in") + ("\n" + checked if (checked := said("verdict", about="display")) else "")
    kept = said("kept")
    return (
        axis.name,
        kept or "not measured",
        said("scale", "place") or "none",
        said("stop", "trip") or ("none wanted" if kept else "not known yet"),
        display.strip() or "nothing yet",
        next_step(job, axis).text(units),
    )

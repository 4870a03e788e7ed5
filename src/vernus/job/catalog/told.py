"""The machine as it is told: boxes, faces and the tool from measures; what somebody typed by hand stands.

A box or face of a template carries, per side, the sum of measures it follows. Its stored figures are what they were
when the template was laid down; these functions say what they are now. One that was typed stands as typed.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import TypeVar

from vernus.core.errors import BadInputError
from vernus.core.machine.measures import tell
from vernus.job.document import Job
from vernus.job.entities import Axis, Entity, Face, Machine, Measure, SolidBox
from vernus.job.fields import LengthEntry

Travel = Callable[[Axis], float | None]
E = TypeVar("E", SolidBox, Face, Machine)
SIDES = ("left", "right", "front", "back", "bottom", "top")


@dataclass(frozen=True)
class Told:
    """The figures that are told, by name (mm), and why they can't be told, if they can't."""

    figures: dict[str, float]
    trouble: str = ""


def figure_name(entity: Entity, field: str) -> str:
    """The name of an entity's figure in the sums."""
    key = getattr(entity, "key", "") or entity.id
    return f"tool.{field[-1]}" if isinstance(entity, Machine) else f"{key}.{field}"


def sums_of(entities: Iterable[Entity]) -> dict[str, str]:
    """Figure name → sum, of everything that follows from measures and wasn't typed."""
    return {
        figure_name(e, field): text
        for e in entities
        if isinstance(e, SolidBox | Face | Machine)
        for field, text in e.built
        if not _typed(e, field)
    }


def given_by(job: Job, travel: Travel) -> dict[str, float]:
    """What the sums rest on: measures by key, travels, and sides of boxes that don't follow from anything."""
    given = {m.key: m.value.mm for m in job.all(Measure)}
    given |= {f"{a.name}.travel": travel(a) or 0.0 for a in job.axes()}
    for box in job.all(SolidBox):
        following = {field for field, _ in box.built}
        for side in SIDES:
            entry: LengthEntry = getattr(box, side)
            if side not in following or entry.text:
                given[figure_name(box, side)] = entry.mm
    return given


def told_figures(job: Job, travel: Travel) -> Told:
    """Every figure that follows from measures, as they are now."""
    sums = sums_of(job.entities())
    try:
        return Told(tell(sums, given_by(job, travel)))
    except BadInputError as error:
        return Told({}, str(error))


def told(entity: E, figures: Told) -> E:
    """An entity with the figures that follow from measures put in; what was typed stays."""
    changes = {
        field: LengthEntry(mm=figures.figures[name])
        for field, _ in entity.built
        if (name := figure_name(entity, field)) in figures.figures and not _typed(entity, field)
    }
    return entity.model_copy(update=changes) if changes else entity


def _typed(entity: SolidBox | Face | Machine, field: str) -> bool:
    entry = getattr(entity, field)
    return isinstance(entry, LengthEntry) and bool(entry.text)

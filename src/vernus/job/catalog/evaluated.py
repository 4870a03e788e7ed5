"""The machine as it is told: boxes, faces and the tool from measures; what somebody typed by hand stands.

A box or face of a template carries, per side, the sum of measures it follows. Its stored figures are what they were
when the template was laid down; these functions say what they are now. One that was typed stands as typed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeVar

from vernus.core.errors import BadInputError
from vernus.core.machine.measures import tell
from vernus.core.units import MOST_MM
from vernus.job.document import Job
from vernus.job.entities import Face, Machine, Measure, SolidBox
from vernus.job.fields import LengthEntry
from vernus.job.sums import SIDES, Travel, figure_name, given_by, is_length, is_typed, sums_of

E = TypeVar("E", SolidBox, Face, Machine)
LARGEST_MEASURE_MM = 100_000.0
"""As long as a distance on a machine can be; a longer one is a slip."""


@dataclass(frozen=True)
class Evaluated:
    """The figures that are told, by name (mm), and why they can't be told, if they can't."""

    figures: dict[str, float]
    trouble: str = ""


def evaluated_figures(job: Job, travel: Travel) -> Evaluated:
    """Every figure that follows from measures, as they are now."""
    sums, given = sums_of(job.entities()), given_by(job, travel)
    slip = next((m for m in job.all(Measure) if abs(m.value.mm) > LARGEST_MEASURE_MM), None)
    if slip is not None:
        return Evaluated(
            {}, f"“{slip.label}” is given as {slip.value.text or slip.value.mm}: no machine is that large."
        )
    try:
        told = tell(sums, given)
    except BadInputError as error:
        return Evaluated({}, str(error))
    if any(abs(mm) > MOST_MM for mm in told.values()):
        return Evaluated({}, "The measures and travels come to more than any machine: one of them is a slip.")
    return Evaluated(told)


def evaluated(entity: E, figures: Evaluated) -> E:
    """An entity with the figures that follow from measures put in; what was typed stays."""
    fields = [field for field, _ in entity.built if is_length(entity, field)]
    if isinstance(entity, SolidBox) and entity.side:
        fields += SIDES
    changes = {
        field: LengthEntry(mm=figures.figures[name])
        for field in fields
        if (name := figure_name(entity, field)) in figures.figures and not is_typed(entity, field)
    }
    return entity.model_copy(update=changes) if changes else entity

"""What is chosen, delivered and surveyed of an axis, and the figures of the machine as it is told. Lengths in mm."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, Literal, TypeVar

from vernus.core.machine.travel import Travel, measure_travel
from vernus.core.prove.calibrate.calibration import DEFAULT_ERROR_MM
from vernus.job.catalog.evaluated import Evaluated, evaluated, evaluated_figures
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    Delivery,
    Face,
    Machine,
    Measure,
    PowerFeed,
    ReaderSetting,
    ScalePlan,
    SolidBox,
    TravelSurvey,
)
from vernus.job.fields import complaints, mm_of
from vernus.job.scope import has_feed, has_scale, in_scope
from vernus.job.sums import given_by

T = TypeVar("T")
Source = Literal["measured", "delivered", "typed", "chosen", "template", "default"]
SOURCE_WORDS: dict[Source, str] = {
    "measured": "measured", "delivered": "as delivered", "typed": "as typed", "chosen": "as chosen",
    "template": "nobody measured it", "default": "nobody said it",
}  # fmt: skip
UNMEASURED_MARK = "○"
"""The mark of a figure nobody measured."""

TOLD_BY = (Machine, Axis, Measure, SolidBox, Face, TravelSurvey)
"""The kinds of entities that boxes and faces follow from."""


@dataclass(frozen=True)
class Sourced(Generic[T]):
    """A figure, where it is from, and what it is called."""

    value: T
    source: Source
    name: str

    @property
    def is_given(self) -> bool:
        """Whether somebody measured, typed or chose it; the others wear a hollow mark."""
        return self.source not in ("template", "default")


def plan_of(job: Job, axis: Axis) -> ScalePlan | None:
    """The scale plan of an axis; None for an axis without a scale."""
    plans = job.of_axis(ScalePlan, axis.id) if has_scale(axis) else []
    return plans[-1] if plans else None


def delivery_of(job: Job, axis: Axis) -> Delivery | None:
    """What arrived for an axis, or was found on it."""
    found = job.of_axis(Delivery, axis.id) if has_scale(axis) else []
    return found[-1] if found else None


def feed_of(job: Job, axis: Axis) -> PowerFeed | None:
    """The power feed of an axis, if one is in scope."""
    found = job.of_axis(PowerFeed, axis.id) if has_feed(axis) else []
    return found[-1] if found else None


def chosen_face(job: Job, axis: Axis) -> Face | None:
    """The face an axis's scale goes on, if one is chosen."""
    return job.derived(("chosen face", axis.id), lambda: _chosen_face(job, axis), (*TOLD_BY, ScalePlan))


def _chosen_face(job: Job, axis: Axis) -> Face | None:
    plan = plan_of(job, axis)
    found = job.get(plan.face_id) if plan is not None and plan.face_id else None
    return evaluated(found, figures(job)) if isinstance(found, Face) else None


def figures(job: Job) -> Evaluated:
    """Every figure of the machine that follows from measures, as they are now."""
    return job.derived("told", lambda: evaluated_figures(job, _travel_mm(job)), TOLD_BY)


def figures_given(job: Job) -> dict[str, float]:
    """What the machine's figures are told from, by name (mm): measures, travels, and sides that follow from nothing."""
    return job.derived("given", lambda: given_by(job, _travel_mm(job)), TOLD_BY)


def _travel_mm(job: Job) -> Callable[[Axis], float | None]:
    def far(axis: Axis) -> float | None:
        known = travel(job, axis)
        return None if known is None else known.value

    return far


def surveys_of(job: Job, axis: Axis) -> list[tuple[str, Travel]]:
    """(tool, travel) of every survey that can be computed with, most certain first."""

    def make() -> list[tuple[str, Travel]]:
        known = [
            (s.tool, measure_travel([r.mm for r in s.readings], s.division.mm))
            for s in job.of_axis(TravelSurvey, axis.id)
            if s.readings and not complaints(s)
        ]
        return sorted(known, key=lambda k: k[1].u_mm)

    return job.derived(("surveys", axis.id), make)


def travel(job: Job, axis: Axis) -> Sourced[float] | None:
    """The travel from mark to mark."""
    found = surveys_of(job, axis)
    if found:
        return Sourced(found[0][1].travel_mm, "measured", "travel")
    if axis.usual is None or not axis.usual.mm > 0:
        return None
    return Sourced(axis.usual.mm, "typed" if axis.usual.text else "template", "travel")


def give_up(axis: Axis) -> tuple[float, float]:
    """What is given up with a stop at the low and the high end; a figure that can't be counts as none."""
    return _given(axis, "stop")


def unread(axis: Axis) -> tuple[float, float]:
    """What is not read at the low and the high end, though the axis is driven through it: the scale bears it."""
    return _given(axis, "driven")


def _given(axis: Axis, how: str) -> tuple[float, float]:
    if not in_scope(axis):  # nothing is given up of an axis that nothing is fitted to
        return 0.0, 0.0
    ends = ((axis.give_up_low, axis.give_up_low_how), (axis.give_up_high, axis.give_up_high_how))
    low, high = (max(0.0, mm_of(mm) or 0.0) if way == how else 0.0 for mm, way in ends)
    return low, high


def as_built(job: Job, axis: Axis) -> Sourced[float] | None:
    """The travel measured after fitting: a figure of its own, compared with what is kept."""
    said = set_up_of(job, axis)
    if said is None or said.as_built is None:
        return None
    return Sourced(said.as_built.mm, "measured", "travel as built")


def set_up_of(job: Job, axis: Axis) -> ReaderSetting | None:
    """The setting of the reader noted last."""
    found = job.of_axis(ReaderSetting, axis.id)
    return found[-1] if found else None


def accuracy(axis: Axis) -> Sourced[float]:
    """The accuracy wanted over the travel."""
    said = axis.accuracy
    if said is not None and said.mm > 0:
        return Sourced(said.mm, "typed", "accuracy wanted")
    return Sourced(DEFAULT_ERROR_MM, "default", "accuracy wanted")

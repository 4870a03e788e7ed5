"""Where the copy of a figure is kept that decides, and which figures nobody measured."""

from __future__ import annotations

from typing import Literal

from vernus.job.catalog.families import family_edit
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    CableRun,
    Entity,
    ScalePlan,
)
from vernus.job.known.axis_figures import Sourced, accuracy, chosen_face, delivery_of, plan_of, travel
from vernus.job.known.lengths import body_length, face_length, family_of, first_hole, reader_length, stand_off
from vernus.job.scope import has_scale

Stored = Literal["face", "measuring", "reader", "cable", "end_piece"]


def store_of(job: Job, axis: Axis, figure: Stored, new_id: str) -> tuple[Entity, str] | None:
    """The entity and field that hold the deciding copy of a figure; a fresh entity where none is there yet.

    What is typed after a delivery counts as measured, and so lands in the delivery.
    """
    plan, arrived, face = plan_of(job, axis), delivery_of(job, axis), chosen_face(job, axis)
    if figure == "face" and face is not None:
        return face, "length"
    if arrived is not None and figure in ("measuring", "reader", "cable") and getattr(arrived, figure) is not None:
        return arrived, figure
    if figure in ("reader", "end_piece"):
        return None if plan is None or not plan.family else (family_edit(job, plan.family, new_id), figure)
    if figure == "cable":
        runs = job.of_axis(CableRun, axis.id)
        return (runs[-1] if runs else CableRun(id=new_id, axis_id=axis.id)), "supplied"
    return (plan or ScalePlan(id=new_id, axis_id=axis.id)), figure


def unmeasured(job: Job, axis: Axis) -> list[Sourced[float]]:
    """The figures of an axis that its plan uses and nobody measured, typed or chose."""
    asked: list[Sourced[float] | None] = [travel(job, axis)]
    if plan_of(job, axis) is not None:
        asked += [face_length(job, axis), body_length(job, axis), reader_length(job, axis)]
        family = family_of(job, axis)
        if family is None or family.held != "adhesive":  # what is stuck on has no end holes
            asked.append(first_hole(job, axis))
        off = stand_off(job, axis)
        asked.append(off if off.value > 0 else None)
    if has_scale(axis):
        asked.append(accuracy(axis))
    return [k for k in asked if k is not None and not k.is_given]

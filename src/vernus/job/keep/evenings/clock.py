"""The clock of a step: one runs at a time, and one that was forgotten is asked about, not added."""

from __future__ import annotations

from datetime import datetime

from vernus.job.document import Job
from vernus.job.entities import Step

FORGOTTEN_MINUTES = 180.0
"""Nobody works longer at one step in one go: common practice, no source."""


def ran_for(step: Step, now: datetime) -> float:
    """The minutes since its clock was started; 0 where none runs."""
    return max(0.0, (now - datetime.fromisoformat(step.begun)).total_seconds() / 60) if step.begun else 0.0


def forgotten(step: Step, now: datetime) -> bool:
    """Whether its clock runs for longer than anybody works at one step."""
    return ran_for(step, now) > FORGOTTEN_MINUTES


def running(job: Job) -> list[Step]:
    """The steps whose clock runs."""
    return [s for s in job.all(Step) if s.begun]


def began(job: Job, step: Step, now: datetime) -> list[Step]:
    """The step with its clock running, and whatever ran before stopped."""
    others = [stopped(s, now) for s in running(job) if s.id != step.id]
    return [*others, _changed(step, begun=now.isoformat(timespec="seconds"))]


def stopped(step: Step, now: datetime, minutes: float | None = None) -> Step:
    """The step with its clock stopped and the minutes added: those it ran, or as said; none where it was forgotten."""
    if not step.begun:
        return step
    if minutes is None and forgotten(step, now):
        return _changed(step, begun="")
    ran = ran_for(step, now) if minutes is None else minutes
    return _changed(step, begun="", minutes=round((step.minutes or 0.0) + ran, 1))


def _changed(step: Step, **changes: object) -> Step:
    made = step.with_(**changes)
    assert isinstance(made, Step)
    return made

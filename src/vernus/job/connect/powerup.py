"""The first power-up of an axis as it was noted, judged."""

from __future__ import annotations

from vernus.core.connect.powerup import PowerUp, PowerUpResult, judge_powerup
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Axis, PowerUpCheck
from vernus.job.machine.travel import mm_of, plan_of


def powerup_of(job: Job, axis: Axis, new_id: str) -> PowerUpCheck:
    """What was noted of an axis, a fresh record if there is none yet."""
    found = job.of_axis(PowerUpCheck, axis.id)
    return found[-1] if found else PowerUpCheck(id=new_id, axis_id=axis.id)


def count_mm(job: Job, axis: Axis) -> float:
    """One count of the axis's scale (mm); 0.005 while no family is chosen."""
    plan = plan_of(job, axis)
    return next((f.count_um for f in families_of(job) if plan is not None and f.id == plan.family), 5.0) / 1000


def powerup_result(job: Job, axis: Axis) -> PowerUpResult:
    """What one axis did when first switched on, judged."""
    c = powerup_of(job, axis, "none")
    seen = PowerUp(
        c.counts, c.right_axis, c.direction, c.stroke, mm_of(c.lost_at), mm_of(c.low), mm_of(c.high), mm_of(c.drift),
        mm_of(c.before), mm_of(c.after),
    )  # fmt: skip
    return judge_powerup(seen, count_mm(job, axis))

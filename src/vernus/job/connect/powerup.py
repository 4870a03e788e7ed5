"""The first power-up of an axis as it was noted, judged."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

from vernus.core.connect.powerup import PowerUp, PowerUpResult, judge_powerup
from vernus.core.finding import Finding, finding, in_order
from vernus.job.connect.cables import earthed
from vernus.job.document import Job
from vernus.job.entities import Axis, PowerUpCheck
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import accuracy
from vernus.job.known.display import shown_step


def powerup_of(job: Job, axis: Axis, new_id: str) -> PowerUpCheck:
    """What was noted of an axis, a fresh record if there is none yet."""
    found = job.of_axis(PowerUpCheck, axis.id)
    return found[-1] if found else PowerUpCheck(id=new_id, axis_id=axis.id)


def powerup_result(job: Job, axis: Axis) -> PowerUpResult:
    """What one axis did when first switched on, judged."""
    c = powerup_of(job, axis, "none")
    seen = PowerUp(**{f.name: _seen(c, f.name) for f in fields(PowerUp)})
    found = judge_powerup(seen, shown_step(job, axis), accuracy(axis).value)
    findings = (*_no_earth(job), *found.findings)
    verdict = None if findings != found.findings else found.verdict
    return replace(found, verdict=verdict, findings=findings, instruction=in_order(found.instruction, findings))


def _seen(check: PowerUpCheck, name: str) -> Any:
    """What was noted, under the name it is judged by: a length in mm."""
    return mm_of(getattr(check, name.removesuffix("_mm"))) if name.endswith("_mm") else getattr(check, name)


def _no_earth(job: Job) -> list[Finding]:
    """The display said not to be earthed: nothing is switched on before that."""
    if earthed(job) != "no":
        return []
    return [
        finding(
            "not-earthed",
            "stop",
            "The display is not earthed to the machine.",
            "Earth it before it is switched on: a short lead from its earth screw to bare metal of the machine. Where "
            "supply wiring is touched, local electrical codes go before this.",
        )
    ]

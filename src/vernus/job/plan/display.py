"""The readout wanted, and whether it goes with the scales chosen."""

from __future__ import annotations

from vernus.core.finding import Finding
from vernus.core.plan.display import match_display
from vernus.core.plan.scales import ScaleFamily, family_by_id
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Display
from vernus.job.machine.geometry import axis_travel, chosen_face
from vernus.job.machine.travel import plan_of


def display_of(job: Job) -> Display | None:
    """The readout wanted, if it was said."""
    found = job.all(Display)
    return found[-1] if found else None


def display_findings(job: Job) -> list[Finding]:
    """Whether the display and the chosen scales go together."""
    display = display_of(job)
    if display is None:
        return []
    scales: list[tuple[str, ScaleFamily]] = []
    separate = 0
    for axis in job.axes():
        plan = plan_of(job, axis)
        face = chosen_face(job, plan)
        if face is not None and face.separate == "yes":
            separate += 1
        elif plan is not None and plan.family:
            scales.append((axis.name, family_by_id(families_of(job), plan.family)))
    travels = {a.name: axis_travel(job, a) or 0.0 for a in job.axes()}
    return match_display(round(display.axes), round(display.digits), display.signal, scales, travels, separate=separate)

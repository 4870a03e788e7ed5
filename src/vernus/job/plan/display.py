"""The readout wanted, and whether it goes with the scales chosen."""

from __future__ import annotations

from vernus.core.finding import Finding
from vernus.core.plan.display import match_display
from vernus.core.plan.scales import ScaleFamily
from vernus.job.document import Job
from vernus.job.entities import Display
from vernus.job.known.lengths import family_of
from vernus.job.machine.geometry import axis_travel
from vernus.job.scope import axes_in_scope, is_lathe, on_display


def display_of(job: Job) -> Display | None:
    """The readout wanted, if it was said."""
    found = job.all(Display)
    return found[-1] if found else None


def usual_display(job: Job, new_id: str) -> Display:
    """The readout to begin with: for the axes read on it, with the functions of its kind of machine."""
    axes = max(1, sum(on_display(a) for a in job.axes()))
    functions = "diameter and radius, mm/inch" if is_lathe(job) else "halving, hole circle, mm/inch"
    return Display(id=new_id, axes=float(axes), functions=functions)


def display_findings(job: Job) -> list[Finding]:
    """Whether the display and the chosen scales go together."""
    display = display_of(job)
    if display is None:
        return []
    scales: list[tuple[str, ScaleFamily]] = []
    for axis in job.axes():
        family = family_of(job, axis) if on_display(axis) else None
        if family is not None:
            scales.append((axis.name, family))
    travels = {a.name: axis_travel(job, a) or 0.0 for a in axes_in_scope(job)}
    separate = sum(a.readout == "own" for a in job.axes())
    return match_display(round(display.axes), round(display.digits), display.signal, scales, travels, separate=separate)

"""What kind of machine a job is about, in words."""

from __future__ import annotations

from vernus.job.catalog.shipped import machine_kinds
from vernus.job.document import Job


def kind_label(job: Job) -> str:
    """The machine's own label, that of its template, or that it is of its own kind."""
    machine = job.machine
    return machine.kind_label or next((k.label for k in machine_kinds() if k.id == machine.machine_kind), "own kind")

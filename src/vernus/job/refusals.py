"""What can't be computed with, as findings: values outside their limits, and figures the core refuses."""

from __future__ import annotations

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, finding
from vernus.job.entities import Entity
from vernus.job.fields import complaints


def limit_findings(entity: Entity) -> list[Finding]:
    """A finding for each value outside its declared limits; the value itself is kept."""
    return [
        finding("out-of-range", "stop", "{text}", "Correct it; the value is kept and marked until then.", text=words)
        for _, words in complaints(entity)
    ]


def refusal(error: BadInputError) -> Finding:
    """The finding for a figure that can't be computed with."""
    return finding(
        "cannot-compute", "stop", "{text}", "Correct the entry; nothing was computed from it.", text=str(error)
    )

"""What to think of before a check of the display is trusted."""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.finding import Finding, Mm, finding
from vernus.core.prove.references import POOR, Reference
from vernus.job.entities import CalibrationRun
from vernus.job.prove.temperature import taken_out


def review_checks(
    run: CalibrationRun,
    reference: Reference | None,
    travel_mm: float | None,
    true_mm: Sequence[float],
    thermal_mm: float | None,
    step_mm: float,
) -> list[Finding]:
    """What to think of before trusting the checks: a poor reference, unread places, temperature (lengths in mm)."""
    found: list[Finding] = []
    if reference is not None and reference.kind in POOR:
        found.append(
            finding(
                "poor-reference",
                "caution",
                "The machine's own dial is a poor reference: it has backlash, and its screw errs like a scale.",
                "Use gauge blocks, a length bar or a micrometer head; until then come from one side only.",
            )
        )
    travel = travel_mm
    if run.method != "counts" and travel is not None and len(run.checks) > 1:
        reach = max(true_mm) - min(true_mm)
        if reach < 0.6 * travel:
            found.append(
                finding(
                    "stroke-unread",
                    "caution",
                    "The stations reach over {reach} of the {travel} of travel.",
                    "Read the middle and the full stroke before keying anything in.",
                    reach=Mm(reach),
                    travel=Mm(travel),
                )
            )
    return found + taken_out(run, thermal_mm, step_mm, "the longest move", max(map(abs, true_mm), default=0.0))

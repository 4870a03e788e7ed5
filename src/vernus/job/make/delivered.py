"""What arrived against what was planned; the delivered figures replace the plan's from then on."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known import delivery_of, plan_of, planned_family


@dataclass(frozen=True)
class Difference:
    """One figure planned and delivered (mm), None where it isn't known."""

    words: str
    planned_mm: float | None
    delivered_mm: float | None

    @property
    def off_mm(self) -> float | None:
        """Delivered less planned."""
        if self.planned_mm is None or self.delivered_mm is None:
            return None
        return self.delivered_mm - self.planned_mm


def compare_delivery(job: Job, axis: Axis) -> tuple[list[Difference], list[Finding], Sentence]:
    """Planned beside delivered, what that changes, and whether to keep it."""
    came, plan, family = delivery_of(job, axis), plan_of(job, axis), planned_family(job, axis)
    if plan is None or family is None or plan.measuring is None:
        return [], [], Sentence("Nothing was planned for this axis; choose its scale first.")
    planned = {
        "Measuring length": plan.measuring.mm,
        "Body length": family.overall_mm(plan.measuring.mm),
        "First hole from its end": family.holes_from_end_mm,
        "Reader length": family.reader_mm,
    }
    entries = (
        (None, None, None, None) if came is None else (came.measuring, came.overall, came.hole_from_end, came.reader)
    )
    rows = [
        Difference(words, mm, None if e is None else e.mm)
        for (words, mm), e in zip(planned.items(), entries, strict=True)
    ]
    if came is None or all(r.delivered_mm is None for r in rows):
        return rows, [], Sentence("Measure what arrived before anything is made: the body, its holes, the reader.")
    findings = [_differs(r) for r in rows if r.off_mm is not None and abs(r.off_mm) > 0.5]
    if came.missing:
        findings.append(
            finding(
                "missing",
                "caution",
                "Missing or unsuitable: {parts}.",
                "Ask for it now, or note it among the parts to buy or to make.",
                parts=came.missing,
            )
        )
    first = rows[0].off_mm
    if first is not None and first < -0.5:
        return (
            rows,
            findings,
            Sentence("Shorter than planned: look at the Scale sheet, which now counts with it, before you keep it."),
        )
    return (
        rows,
        findings,
        Sentence(
            "Keep it; the sheets count with its true figures from now on. Put clips, shims and certificates in one bag."
        ),
    )


def _differs(row: Difference) -> Finding:
    return finding(
        "delivered-differs",
        "info",
        "{figure}: planned {planned}, delivered {came}.",
        "Nothing to do here: places, spares and holes are worked out anew with the delivered figure.",
        figure=row.words,
        planned=Mm(row.planned_mm or 0.0),
        came=Mm(row.delivered_mm or 0.0),
    )

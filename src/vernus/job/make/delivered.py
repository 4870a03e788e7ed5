"""What arrived against what was planned; the delivered figures replace the plan's from then on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.make.hardware import thread_named
from vernus.job.document import Job
from vernus.job.entities import Axis, Delivery
from vernus.job.known.axis_figures import delivery_of, plan_of
from vernus.job.known.lengths import cut_to, planned_family, stock_to_cut
from vernus.job.scope import on_display

OFF_MM = 0.5
_HOLE = "First hole from its end"
"""How far a delivered figure is off the plan before it is counted as off; common practice, no source."""


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


State = Literal["", "there", "missing"]


def contents_of(job: Job, axis: Axis) -> list[tuple[str, State]]:
    """What comes with a scale of the family chosen, ticked as there, as missing, or not looked at yet."""
    family, arrived = planned_family(job, axis), delivery_of(job, axis)
    if family is None:
        return []
    there = set() if arrived is None else set(arrived.came)
    lacking = set() if arrived is None else set(arrived.lacking)
    return [(c, "there" if c in there else "missing" if c in lacking else "") for c in family.contents]


def turned(arrived: Delivery, item: str) -> Delivery:
    """The delivery with an item ticked as there, then as missing, then as not looked at."""
    there, lacking = list(arrived.came), list(arrived.lacking)
    if item in there:
        there.remove(item)
        lacking.append(item)
    elif item in lacking:
        lacking.remove(item)
    else:
        there.append(item)
    changed = arrived.with_(came=tuple(there), lacking=tuple(lacking))
    assert isinstance(changed, Delivery)
    return changed


def missing_of(job: Job, axis: Axis) -> str:
    """What is missing of an axis's delivery, in words; empty where nothing is."""
    arrived = delivery_of(job, axis)
    if arrived is None:
        return ""
    return ", ".join(
        [
            *(item for item, state in contents_of(job, axis) if state == "missing"),
            *([arrived.missing] if arrived.missing else []),
        ]
    )


def not_of_it(job: Job, axis: Axis) -> set[str]:
    """The figures of a delivery that what arrived hasn't got: a tape has no end hole, an own readout no cable."""
    family = planned_family(job, axis)
    stuck = family is not None and family.held == "adhesive"
    rod = family is not None and family.body_type == "rod"
    lacks = ({"hole_from_end"} if stuck else set()) | (set() if on_display(axis) else {"cable"})
    return lacks | (set() if rod else {"support_apart", "support_thread"})


def compare_delivery(job: Job, axis: Axis) -> tuple[list[Difference], list[Finding], Sentence]:
    """Planned beside delivered, what that changes, and whether to keep it."""
    arrived, plan, family = delivery_of(job, axis), plan_of(job, axis), planned_family(job, axis)
    if plan is None or family is None or plan.measuring is None:
        return [], [], Sentence("Nothing was planned for this axis; choose its scale first.")
    planned = {
        "Measuring length": plan.measuring.mm,
        "Body length": family.overall_mm(plan.measuring.mm),
        _HOLE: family.holes_from_end_mm,
        "Reader length": family.reader_mm,
    }
    entries = (
        (None, None, None, None)
        if arrived is None
        else (arrived.measuring, arrived.overall, arrived.hole_from_end, arrived.reader)
    )
    rows = [
        Difference(words, mm, None if e is None else e.mm)
        for (words, mm), e in zip(planned.items(), entries, strict=True)
        if words != _HOLE or "hole_from_end" not in not_of_it(job, axis)
    ]
    stock = stock_to_cut(job, axis)
    uncut = ("Measuring length", "Body length") if stock is not None else ()
    findings = [_differs(r) for r in rows if r.off_mm is not None and abs(r.off_mm) > 0.5 and r.words not in uncut]
    if stock is not None:
        findings.insert(0, _to_cut(stock, cut_to(job, axis) or stock))
    findings += [] if arrived is None else _threads_unread(arrived)
    missing = missing_of(job, axis)
    if missing:
        findings.append(
            finding(
                "missing",
                "caution",
                "Missing or unsuitable: {parts}.",
                "Ask for it now; it stands on the job card until it is ticked as there.",
                parts=missing,
            )
        )
    unticked = [item for item, state in contents_of(job, axis) if not state]
    if arrived is None or all(r.delivered_mm is None for r in rows):
        ask = (
            "Tick what is in the box (Enter), then measure it before anything is made: the body, its holes, the reader."
        )
        return rows, findings, Sentence(ask)
    first = rows[0].off_mm
    if first is not None and first < -0.5:
        return (
            rows,
            findings,
            Sentence("Shorter than planned: look at the Scale sheet, which now counts with it, before you keep it."),
        )
    if unticked:
        return rows, findings, Sentence("Look in the box for: {items}.", {"items": ", ".join(unticked)})
    keep = "Keep it; the sheets count with its true figures from now on. Put clips, shims and certificates in one bag."
    return rows, findings, Sentence(keep)


def _threads_unread(arrived: Delivery) -> list[Finding]:
    """Threads noted that no table has."""
    found: list[Finding] = []
    for what, name in (("reader's threads", arrived.reader_thread), ("supports' threads", arrived.support_thread)):
        try:
            if name:
                thread_named(name)
        except BadInputError as error:
            words = f"The {what} can't be read: {{text}}"
            found.append(finding("thread-unread", "caution", words, "Write them such as M4, 8-32 or 4 BA.",
                                 text=str(error)))  # fmt: skip
    return found


def _to_cut(stock_mm: float, planned_mm: float) -> Finding:
    return finding(
        "stock-to-cut",
        "info",
        "{stock} has come, and the plan wants {planned}: it is still to be cut.",
        "Cut it after the dry fit, from the end without the connector; the reader has to be on it at both ends. Keep "
        "the offcut, and note here what it measures then.",
        stock=Mm(stock_mm),
        planned=Mm(planned_mm),
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

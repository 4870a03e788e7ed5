"""What arrived, on paper: planned beside delivered, the contents ticked, and what was kept where."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from vernus.core.finding import Mm, in_units
from vernus.core.units import UnitSystem, format_length
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known.axis_figures import delivery_of
from vernus.job.make.delivered import OFF_MM, compare_delivery, contents_of
from vernus.job.scope import has_scale
from vernus.paper.page import Block, Words, subheading, table


def received_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """Every one of some axes for which something arrived."""
    for axis in axes:
        arrived = delivery_of(job, axis) if has_scale(axis) else None
        if arrived is None:
            continue
        yield subheading(f"What arrived for {axis.name}")
        rows, findings, _ = compare_delivery(job, axis)
        said = [
            (
                r.words,
                *("" if mm is None else format_length(mm, units) for mm in (r.planned_mm, r.delivered_mm, r.off_mm)),
            )
            for r in rows
        ]
        if said:
            yield from table(("Figure", "Planned", "Delivered", "Off by"), said, (0.4, 0.2, 0.2, 0.2), (1, 2, 3))
            off = sum(r.off_mm is not None and abs(r.off_mm) > OFF_MM for r in rows)
            yield Words(in_units(units, "{n} of them off by more than {mm}.", n=off or "None", mm=Mm(OFF_MM)))
        words = {"there": "there", "missing": "MISSING", "": "not looked at"}
        items = [f"{item}: {words[state]}" for item, state in contents_of(job, axis)]
        if items:
            yield Words("In the box: " + "; ".join(items) + ".")
        for label, text in (("Cable", "" if arrived.cable is None else format_length(arrived.cable.mm, units)),
                            ("Its holes and threads", arrived.hole_thread), ("Kept", arrived.keep)):  # fmt: skip
            if text:
                yield Words(f"{label}: {text}.")
        for found in findings:
            if found.code == "missing":
                yield Words(f"CAUTION: {found.what.text(units)} → {found.remedy.text(units)}", indent=8, after=4)

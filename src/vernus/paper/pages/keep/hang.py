"""Sheets to hang by the machine: what must be oiled and reached, and how to put back what was taken off."""

from __future__ import annotations

from collections.abc import Iterable

from vernus.core.units import UnitSystem, format_length
from vernus.job.document import Job
from vernus.job.entities import Axis, Hole, RemovedPart
from vernus.job.machine.geometry import keep_reachable
from vernus.job.plan.faces import covered_features
from vernus.job.review.review import card_lines
from vernus.paper.page import Block, Words, heading, table

_HUNG = 12.0
"""Tables that are read from where one stands: points."""


def oil_blocks(job: Job, axes: list[Axis], _units: UnitSystem) -> Iterable[Block]:
    """Every place that must stay reachable: why, what covers it now, and how often it is done by hand."""
    yield Words(f"{job.machine.name}: oil points and what must be reached", size=22, bold=True, after=10)
    places = keep_reachable(job)
    if not places:
        yield Words("No place is marked to be kept reachable; mark them on the Machine sheet.", size=13)
        return
    covers = {name: axis.name for axis in axes for name in covered_features(job, axis)}
    rows = [
        (
            box.name,
            box.why or "–",
            f"the {covers[box.name]} scale" if box.name in covers else "nothing",
            f"by hand every {box.every_days:.0f} days" if box.covered == "by hand" and box.name in covers else "",
        )
        for box in places
    ]
    yield from table(("Place", "Why", "Covered by", "So"), rows, (0.28, 0.32, 0.18, 0.22), size=_HUNG)


def back_blocks(job: Job, axes: list[Axis], units: UnitSystem) -> Iterable[Block]:
    """What was taken off, where it is kept and how it goes back; the holes made for it, and the notes of the card."""
    yield Words(f"{job.machine.name}: how to put it back as it was", size=22, bold=True, after=10)
    yield Words(
        "Isolate and lock off first. Heads, columns and tables are heavy: hoist, or a second person.", size=13, after=10
    )
    ids = {a.id: a.name for a in axes}
    off = [p for p in job.all(RemovedPart) if p.axis_id in ids]
    if off:
        yield heading("Taken off and kept")
        rows = [(ids[p.axis_id], p.name, p.kept, p.back) for p in off]
        yield from table(("Axis", "Part", "Kept", "How it goes back"), rows, (0.08, 0.3, 0.26, 0.36), size=_HUNG)
    used = [h for h in job.all(Hole) if h.used_by]
    if used:
        yield heading("Holes and what they were for")
        holes = [(h.place, h.used_by, "" if h.diameter is None else format_length(h.diameter.mm, units)) for h in used]
        yield from table(("Hole", "Was for", "Measures"), holes, (0.42, 0.38, 0.2), (2,), size=_HUNG)
    noted = [c for c in card_lines(job) if c.note and c.step.axis in ("", *ids.values())]
    if noted:
        yield heading("Noted on the way")
        yield from table(("Step", "Note"), [(c.step.words, c.noted(units)) for c in noted], (0.5, 0.5), size=_HUNG)
    if not (off or used or noted):
        yield Words(
            "Nothing was noted as taken off. Parts are noted on Power feed, holes on Machine, the rest on the card."
        )

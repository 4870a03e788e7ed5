"""Scale families as this job knows them: the table's, with what the user measured or was told instead."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from vernus.core.plan.scales import ScaleFamily
from vernus.job.catalog.shipped import scale_families
from vernus.job.document import Job
from vernus.job.entities import FamilyEdit


def families_of(job: Job) -> tuple[ScaleFamily, ...]:
    """Every scale family, with what the user knows better in this job."""
    edits = {e.family: e for e in job.all(FamilyEdit)}
    return tuple(_edited(f, edits[f.id]) if f.id in edits else f for f in scale_families())


def family_edit(job: Job, family_id: str, new_id: str) -> FamilyEdit:
    """The user's own figures for a family, fresh ones if there are none yet."""
    return next((e for e in job.all(FamilyEdit) if e.family == family_id), FamilyEdit(id=new_id, family=family_id))


def _edited(family: ScaleFamily, edit: FamilyEdit) -> ScaleFamily:
    changes: dict[str, Any] = {}
    try:
        sizes = tuple(sorted(float(w) for w in edit.sizes.replace(",", " ").replace(";", " ").split()))
    except ValueError:
        sizes = ()
    if sizes and all(0 < s < 1e6 for s in sizes):
        changes["sizes_mm"] = sizes
    for field, entry in (("end_piece_mm", edit.end_piece), ("reader_mm", edit.reader)):
        if entry is not None and entry.mm >= 0:
            changes[field] = entry.mm
    for field, pair in (
        ("section_mm", (edit.height, edit.depth)),
        ("reader_section_mm", (edit.reader_height, edit.reader_depth)),
    ):
        known = getattr(family, field)
        changes[field] = tuple(e.mm if e is not None and e.mm > 0 else k for e, k in zip(pair, known, strict=True))
    if edit.count_um is not None and edit.count_um > 0:
        changes["count_um"] = edit.count_um
    if edit.price is not None:
        changes["price"] = edit.price
    return replace(family, **changes)

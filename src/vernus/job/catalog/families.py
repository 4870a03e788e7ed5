"""Scale families as this job knows them: the table's, with what the user measured or was told instead."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from vernus.core.errors import VernusError
from vernus.core.plan.scales import Kit, ScaleFamily
from vernus.core.units import parse_lengths
from vernus.job.catalog.shipped import scale_families
from vernus.job.document import Job
from vernus.job.entities import FamilyEdit


def families_of(job: Job) -> tuple[ScaleFamily, ...]:
    """Every scale family, with what the user knows better in this job."""
    return job.derived("families", lambda: _families_of(job), (FamilyEdit,))


def _families_of(job: Job) -> tuple[ScaleFamily, ...]:
    edits = {e.family: e for e in job.all(FamilyEdit)}
    return tuple(_edited(f, edits[f.id]) if f.id in edits else f for f in scale_families())


def family_edit(job: Job, family_id: str, new_id: str) -> FamilyEdit:
    """The user's own figures for a family, fresh ones if there are none yet."""
    return next((e for e in job.all(FamilyEdit) if e.family == family_id), FamilyEdit(id=new_id, family=family_id))


def _lengths(text: str) -> tuple[float, ...]:
    """The lengths (mm) of a list as it was typed; none where it can't be read."""
    try:
        found = tuple(t.mm for t in parse_lengths(text))
    except VernusError:
        return ()
    return found if all(0 < mm < 1e6 for mm in found) else ()


def _edited(family: ScaleFamily, edit: FamilyEdit) -> ScaleFamily:
    changes: dict[str, Any] = {}
    kits = tuple(Kit(_lengths(k), edit.kit_price) for k in edit.kits.split(";") if k.strip())
    kits = tuple(k for k in kits if k.lengths_mm)
    sizes = _lengths(edit.sizes) or tuple({mm for k in kits for mm in k.lengths_mm})
    if sizes:
        changes["sizes_mm"] = tuple(sorted(set(sizes)))
    if kits:
        changes["kits"] = kits
    if edit.end_piece is not None and edit.end_piece.mm >= 0:
        changes["end_piece_mm"] = edit.end_piece.mm
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
    known_better = replace(family, **changes)
    if edit.reader is not None and edit.reader.mm > 0:
        known_better = known_better.with_reader(edit.reader.mm)
    return known_better

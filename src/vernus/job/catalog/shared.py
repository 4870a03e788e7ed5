"""Scale families as files: what somebody knows of a family better than the table, with who measured it and when.

A file is one open JSON text that can be mailed. It passes the same gate as every entity from outside.
"""

from __future__ import annotations

import json
import re
from datetime import date
from pathlib import Path
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from vernus.core.errors import BadInputError, VernusError
from vernus.job.catalog.shipped import scale_families
from vernus.job.disk import make_folder, shown, write_text
from vernus.job.document import Job
from vernus.job.entities import FamilyEdit
from vernus.job.fields import complaints
from vernus.job.formats.json_text import json_files, read_json

JOBS_OWN = ("id", "created", "changed", "family", "note")
"""Fields of the entity that are the job's own."""


class SharedFamily(BaseModel):
    """What is known of a scale family; ``figures`` are those of ``FamilyEdit``, ``on`` an ISO day."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: Literal["vernus-family"] = "vernus-family"
    version: Literal[1] = 1
    family: str = Field(min_length=1, max_length=60)
    label: str = Field(default="", max_length=200)
    by: str = Field(default="", max_length=200)
    on: str = Field(default="", max_length=10)
    figures: dict[str, Any]

    def entity(self, entity_id: str) -> FamilyEdit:
        """The figures as an entity of a job; raises ValidationError."""
        note = f"Measured by {self.by or 'somebody'}" + (f", {self.on}" if self.on else "") + "."
        return FamilyEdit.model_validate({**self.figures, "id": entity_id, "family": self.family, "note": note})

    def into(self, there: FamilyEdit) -> FamilyEdit:
        """What a job knows of the family with these figures in place of its own; its other figures stay."""
        mine = self.entity(there.id)
        made = there.with_(note=mine.note, **{name: getattr(mine, name) for name in self.figures})
        assert isinstance(made, FamilyEdit)
        return made

    def said(self) -> str:
        """Which family, by whom and when, for the eye."""
        who = ", ".join(w for w in (self.by, self.on) if w)
        return self.label + (f" ({who})" if who else "")


def shared_family(job: Job, family: str, by: str, on: date) -> SharedFamily:
    """What a job knows of a family, to be written; raises BadInputError where it knows nothing better."""
    edit = next((e for e in job.all(FamilyEdit) if e.family == family), None)
    found = {} if edit is None else edit.model_dump(mode="json", exclude=set(JOBS_OWN), exclude_defaults=True)
    if edit is None or not found:
        raise BadInputError("Nothing of this family is measured here yet; type its figures under “This family”.")
    label = next((f.label for f in scale_families() if f.id == family), family)
    return SharedFamily(family=family, label=label, by=by.strip(), on=on.isoformat(), figures=found)


def write_family(shared: SharedFamily, path: Path) -> None:
    """Write a family as JSON; raises JobFileError when it can't be written."""
    make_folder(path.parent)
    write_text(path, json.dumps(shared.model_dump(mode="json"), ensure_ascii=False, indent=1) + "\n")


def read_family(path: Path) -> SharedFamily:
    """A family file; raises BadInputError naming what is wrong and where."""
    try:
        shared = SharedFamily.model_validate(read_json(path))
        edit = shared.entity("e")
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise BadInputError(f"{shown(path)} is no scale family: {where}: {first['msg']}.") from None
    if shared.family not in {f.id for f in scale_families()}:
        raise BadInputError(f"{shown(path)}: this Vernus knows no family “{shared.family}”; it may be a newer one's.")
    if shared.on and not _is_day(shared.on):
        raise BadInputError(f"{shown(path)}: “{shared.on}” is no day, such as 2027-01-31.")
    wrong = complaints(edit)
    if wrong:
        raise BadInputError(f"{shown(path)}: {wrong[0][0]}: {wrong[0][1].text()}")
    if not shared.figures:
        raise BadInputError(f"{shown(path)} holds no figures.")
    return shared


def _is_day(text: str) -> bool:
    try:
        date.fromisoformat(text)
    except ValueError:
        return False
    return True


def own_families(folder: Path) -> tuple[list[SharedFamily], list[str]]:
    """The families kept in ``folder``, of each what was measured last, and what is wrong with files that are none."""
    found: dict[str, SharedFamily] = {}
    paths, wrong = json_files(folder)
    for path in paths:
        try:
            shared = read_family(path)
        except VernusError as error:
            wrong.append(str(error))
            continue
        if shared.family not in found or shared.on >= found[shared.family].on:
            found[shared.family] = shared
    return list(found.values()), wrong


def family_file_name(shared: SharedFamily) -> str:
    """A file name for a family of that person."""
    return (re.sub(r"[^\w-]+", "-", f"{shared.family} {shared.by}").strip("-").lower() or "family") + ".json"

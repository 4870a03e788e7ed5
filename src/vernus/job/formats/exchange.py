"""Export and import: the whole job as one JSON file, with CSV tables beside it for spreadsheets.

``job.json`` and the folder of pictures hold everything and are what import reads; the CSV files are copies to look at.
"""

from __future__ import annotations

import csv
import json
import unicodedata
from collections.abc import Iterable
from dataclasses import fields
from io import StringIO
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from vernus.core.errors import BadInputError
from vernus.job.disk import is_there, make_folder, read_text, read_whole, shown, write_text, write_whole
from vernus.job.document import Job, pictures_of
from vernus.job.entities import ENTITY_TYPES, Entity, Reading
from vernus.job.errors import JobContentError, JobFileError, NewerContentError
from vernus.job.fields import LengthEntry
from vernus.job.file import is_job_file, recover, recover_pictures
from vernus.job.formats.json_text import parse_json
from vernus.job.formats.picture import MOST_BYTES, picture_type
from vernus.job.gate import check_entities
from vernus.job.migration import STORED, VERSION, stored_version, upgrade, version_words
from vernus.job.rows import entity_from_json, picture_id

FORMAT = "vernus-job"
PICTURES = "pictures"
ENDING_OF = {"jpeg": ".jpg", "png": ".png", "webp": ".webp", "": ".bin"}
_LARGEST = 500_000_000


def export_job(job: Job, folder: Path) -> list[Path]:
    """Write ``job.json`` and a CSV per kind of entity into ``folder``; returns what was written.

    Raises JobFileError when the folder can't be written.
    """
    make_folder(folder)
    written = [folder / "job.json"]
    write_text(written[0], job_json(job.entities()))
    for name, rows in _tables(job).items():
        written.append(folder / f"{name}.csv")
        write_text(written[-1], _table_text(rows))
    for name, data in job.pictures():
        make_folder(folder / PICTURES)
        written.append(folder / PICTURES / f"{name}{ENDING_OF[picture_type(data)]}")
        write_whole(written[-1], data)
    return written


def read_pictures(source: Path, entities: Iterable[Entity], told: list[str]) -> list[bytes]:
    """The pictures of an export beside what ``read_export`` gave; those missing or altered are told."""
    wanted = pictures_of(entities)
    if is_job_file(source):
        found = recover_pictures(source, wanted)
    else:
        folder = (source if source.is_dir() else source.parent) / PICTURES
        found = {}
        for name in wanted:
            paths = [p for ending in ENDING_OF.values() if is_there(p := folder / f"{name}{ending}")]
            data = read_whole(paths[0], MOST_BYTES) if paths else b""
            if picture_id(data) == name:
                found[name] = data
    missing = len(wanted) - len(found)
    if missing:
        told.append(
            f"{missing} {'pictures are' if missing > 1 else 'picture is'} missing or altered; the rest is whole."
        )
    return list(found.values())


def job_json(entities: Iterable[Entity]) -> str:
    """The whole job as JSON text, an entity on each line."""
    lines = (f'{{"kind":{json.dumps(e.kind)},{e.model_dump_json()[1:]}' for e in entities)
    return f'{{"format":"{FORMAT}","version":{STORED},"entities":[\n' + ",\n".join(lines) + "\n]}\n"


def read_export(source: Path, told: list[str] | None = None) -> list[Entity]:
    """The entities of an exported job: a folder holding ``job.json``, or that file itself.

    Of a job file, a damaged one too, what can be read of it. What is decided for the user in an export of an older
    version, and what is missing, is added to ``told``.
    Raises JobFileError naming what is wrong and where; then nothing is imported.
    """
    if is_job_file(source):
        entities, missing = recover(source)
        if told is not None:
            told += missing
        return entities
    path = source / "job.json" if source.is_dir() else source
    try:
        return entities_from_json(read_text(path, _LARGEST), told)
    except JobContentError as error:
        raise JobFileError(f"{shown(path)} can't be imported: {error}. Nothing was imported.") from None


def entities_from_json(text: str, told: list[str] | None = None) -> list[Entity]:
    """The entities in the JSON text of an export, of an older version as ``told``; raises JobContentError."""
    try:
        data = parse_json(text, "it")
    except BadInputError as error:
        raise JobContentError(str(error).rstrip(".")) from None
    if not isinstance(data, dict) or data.get("format") != FORMAT or not isinstance(data.get("entities"), list):
        raise JobContentError("it is not an exported Vernus job")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or not version >= 1:
        raise JobContentError(f"its version is “{str(version)[:20]}”, where 1 to {STORED} would be right")
    stored = stored_version(version)
    if stored > STORED:
        this = f"version {version_words(stored)}; this one reads up to {version_words(STORED)}"
        raise JobContentError(f"it was written by a newer Vernus ({this})")
    entities = [_entity(item, n) for n, item in enumerate(_today(data["entities"], stored // 100, told), 1)]
    check_entities(entities)
    return entities


def _today(items: list[Any], version: int, told: list[str] | None) -> list[Any]:
    """The entries as of today's version; what is no entry at all is left for the check that names it."""
    if version == VERSION or not all(isinstance(item, dict) for item in items):
        return items
    entries, decided = upgrade(items, version)
    if told is not None:
        told += decided
    return entries


def _entity(item: Any, number: int) -> Entity:
    if not isinstance(item, dict):
        raise JobContentError(f"entry {number} is not an object")
    body = {k: v for k, v in item.items() if k != "kind"}
    try:
        return entity_from_json(str(item.get("kind")), json.dumps(body))
    except NewerContentError as error:
        raise JobContentError(f"it was written by a newer Vernus (entry {number}: {error})") from None
    except JobContentError as error:
        raise JobContentError(f"entry {number}: {error}") from None


_Cells = dict[str, Any]


def _tables(job: Job) -> dict[str, list[_Cells]]:
    """One table per kind of entity, and one per list inside it with a row for each item."""
    tables: dict[str, list[_Cells]] = {}
    for kind, model in ENTITY_TYPES.items():
        for entity in job.all(model):
            own: _Cells = {}
            for name in model.model_fields:
                value = getattr(entity, name)
                if not isinstance(value, tuple):
                    own |= _cells(name, value)
                    continue
                for n, item in enumerate(value, 1):
                    row = {f"{kind}_id": entity.id, "row": n} | _cells("value", item)
                    tables.setdefault(f"{kind}-{name}", []).append(row)
            tables.setdefault(kind, []).append(own)
    return tables


def _cells(name: str, value: Any) -> _Cells:
    """Lengths as ``name_mm`` and ``name_typed``; parts of a value by their own names."""
    if isinstance(value, LengthEntry):
        return {f"{name}_mm": value.mm, f"{name}_typed": f"{value.text} {value.unit}" if value.text else ""}
    if isinstance(value, BaseModel | Reading):
        parts = [f.name for f in fields(value)] if isinstance(value, Reading) else type(value).model_fields
        return {k: v for part in parts for k, v in _cells(part, getattr(value, part)).items()}
    return {name: value}


def _table_text(rows: list[_Cells]) -> str:
    columns = list(dict.fromkeys(k for row in rows for k in row))
    text = StringIO(newline="")
    writer = csv.DictWriter(text, columns, restval="")
    writer.writeheader()
    writer.writerows({k: _safe_cell(v) for k, v in row.items()} for row in rows)
    return text.getvalue()


_UNSEEN = ("Cc", "Cf", "Mn", "Me", "Zs", "Zl", "Zp")
_BLANK = "\u3164\u115f\u1160\uffa0\u2800"
"""Letters that are drawn as nothing; marks that sit on a letter are nothing before one."""


def _safe_cell(value: Any) -> Any:
    """Text that a spreadsheet would run as a formula is quoted, also behind marks that can't be seen; NUL goes."""
    if not isinstance(value, str):
        return "" if value is None else value
    seen = "".join(c for c in value if not c.isspace() and unicodedata.category(c) not in _UNSEEN and c not in _BLANK)
    runs = unicodedata.normalize("NFKC", seen[:1]) in ("=", "+", "-", "@") or value[:1] in ("\t", "\r")
    return ("'" if runs else "") + value.replace("\0", "")

"""The rows of a job file: the tables they stand in, an entity to a row and back, and the checksums over them."""

from __future__ import annotations

import hashlib
import sqlite3
from collections.abc import Iterable
from typing import Any

from pydantic import ValidationError

from vernus.job.entities import ENTITY_TYPES, Axis, Entity, JobInfo, Machine
from vernus.job.errors import JobContentError, NewerContentError
from vernus.job.migration import STORED, VERSION

APPLICATION_ID = 0x5645524E  # "VERN"
FIRST_SCHEMA = ("CREATE TABLE entity (id TEXT PRIMARY KEY, kind TEXT NOT NULL, body TEXT NOT NULL)",)
SECOND_SCHEMA = (
    "CREATE TABLE entity (id TEXT PRIMARY KEY, kind TEXT NOT NULL, body TEXT NOT NULL, sum INTEGER NOT NULL)",
    "CREATE TABLE whole (entries INTEGER NOT NULL, sum INTEGER NOT NULL)",
)
SCHEMA = (*SECOND_SCHEMA, "CREATE TABLE picture (id TEXT PRIMARY KEY, data BLOB NOT NULL)")
SCHEMAS = {1: FIRST_SCHEMA, 2: SECOND_SCHEMA} | dict.fromkeys(range(3, VERSION + 1), SCHEMA)
"""The tables of each file version."""
_LARGEST_BODY = 16_000_000

Whole = tuple[int, int]
"""How many entries a file holds, and the sum of their checksums."""


def entity_from_json(kind: str, body: str | bytes) -> Entity:
    """The entity of ``kind`` in the JSON text ``body``; raises JobContentError naming the field."""
    model = ENTITY_TYPES.get(kind)
    if model is None:
        raise NewerContentError(f"an entry of the unknown kind “{kind[:40]}”")
    try:
        return model.model_validate_json(body)
    except ValidationError as error:
        wrong = error.errors()
        unknown = next((e for e in wrong if e["type"] == "extra_forbidden"), None)
        if unknown is not None and len(wrong) == sum(e["type"] == "extra_forbidden" for e in wrong):
            raise NewerContentError(
                f"an entry of kind “{kind}” with “{str(unknown['loc'][-1])[:40]}”, which this Vernus doesn't know"
            ) from None
        first = wrong[0]
        where = ".".join(str(p) for p in first["loc"]) or "the whole entry"
        raise JobContentError(f"an entry of kind “{kind}” with a bad {where}: {first['msg']}") from None


def check_whole(entities: Iterable[Entity]) -> None:
    """Raise JobContentError unless there are one job entry, one machine, and axes of different names."""
    given = list(entities)
    for kind, word in ((JobInfo, "job"), (Machine, "machine")):
        n = sum(isinstance(e, kind) for e in given)
        if n != 1:
            raise JobContentError(f"{n} {word} entries where there must be exactly one")
    names = [e.name for e in given if isinstance(e, Axis)]
    if not names:
        raise JobContentError("no axes")
    twice = next((n for n in names if not n.strip() or names.count(n) > 1), None)
    if twice is not None:
        raise JobContentError(f"two axes named “{twice[:40]}”" if twice.strip() else "an axis without a name")


def row_of(entity: Entity) -> tuple[str, str, str, int]:
    """An entity as a row: id, kind, body, checksum."""
    body = entity.model_dump_json()
    return entity.id, entity.kind, body, row_sum(entity.id, entity.kind, body)


def entity_of(row: tuple[Any, ...]) -> Entity:
    """The entity of a row; raises JobContentError where it was altered or is none."""
    row_id, kind, body, noted = row
    if not (isinstance(row_id, str) and isinstance(kind, str) and isinstance(body, str) and len(body) < _LARGEST_BODY):
        raise JobContentError("an entry that is not text")
    if noted != row_sum(row_id, kind, body):
        raise JobContentError(f"an entry of kind “{kind[:40]}” that was altered")
    entity = entity_from_json(kind, body)
    if entity.id != row_id:
        raise JobContentError(f"an entry filed under the wrong id “{row_id[:40]}”")
    return entity


def row_sum(row_id: str, kind: str, body: str) -> int:
    """The checksum of a row: 64 bits of a hash over id, kind and body, as the database keeps integers."""
    text = "\0".join((row_id, kind, body)).encode("utf-8", "surrogatepass")
    return int.from_bytes(hashlib.blake2b(text, digest_size=8).digest(), "big", signed=True)


def added(whole: Whole, entries: int, by: int) -> Whole:
    """With entries and their sum added; the sum wraps at 64 bits, as the database's integers do."""
    return whole[0] + entries, (whole[1] + by + 2**63) % 2**64 - 2**63


def whole_of(db: sqlite3.Connection) -> Whole:
    """What a file says of its number of entries and their checksums; raises JobContentError."""
    found = db.execute("SELECT entries, sum FROM whole").fetchall()
    if len(found) != 1 or not all(isinstance(n, int) for n in found[0]):
        raise JobContentError("its number of entries can't be read")
    return found[0][0], found[0][1]


def picture_id(data: bytes) -> str:
    """The id of a picture: a hash of what it holds, so that no other picture can take its place."""
    return hashlib.blake2b(data, digest_size=16).hexdigest()


def fill_tables(db: sqlite3.Connection, entities: Iterable[Entity], pictures: Iterable[tuple[str, bytes]] = ()) -> None:
    """Make today's tables in an empty database and put the entities and their pictures in."""
    for table in SCHEMA:
        db.execute(table)
    db.execute(f"PRAGMA application_id={APPLICATION_ID}")
    db.execute(f"PRAGMA user_version={STORED}")
    whole: Whole = (0, 0)
    for entity in entities:
        row = row_of(entity)
        whole = added(whole, 1, row[3])
        db.execute("INSERT INTO entity VALUES (?,?,?,?)", row)
    db.execute("INSERT INTO whole VALUES (?,?)", whole)
    db.executemany("INSERT INTO picture VALUES (?,?)", pictures)

"""The job file: an SQLite database with one row per entity, one transaction per accepted edit.

``application_id`` and ``user_version`` mark it, ``synchronous=FULL`` and the rollback journal keep every
acknowledged edit through a power cut. An exclusive ``flock`` on the file tells a second window that it is in use.
A file of an older version is converted after a backup copy; where it can't be written, a copy in memory is.
"""

from __future__ import annotations

import errno
import fcntl
import json
import os
import shutil
import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import IO
from urllib.parse import quote

from pydantic import ValidationError

from vernus.job.entities import ENTITY_TYPES, Entity, JobInfo
from vernus.job.errors import JobContentError, JobFileError, JobWriteError
from vernus.job.migration import VERSION, upgrade

APPLICATION_ID = 0x5645524E  # "VERN"
_MAGIC = b"SQLite format 3\0"
_SCHEMA = "CREATE TABLE entity (id TEXT PRIMARY KEY, kind TEXT NOT NULL, body TEXT NOT NULL)"
_LARGEST_BODY = 16_000_000


def entity_from_json(kind: str, body: str | bytes) -> Entity:
    """The entity of ``kind`` in the JSON text ``body``; raises JobContentError naming the field."""
    model = ENTITY_TYPES.get(kind)
    if model is None:
        raise JobContentError(f"an entry of the unknown kind “{kind[:40]}”")
    try:
        return model.model_validate_json(body)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "the whole entry"
        raise JobContentError(f"an entry of kind “{kind}” with a bad {where}: {first['msg']}") from None


def check_whole(entities: Iterable[Entity]) -> None:
    """Raise JobContentError unless there is exactly one job entry."""
    n = sum(isinstance(e, JobInfo) for e in entities)
    if n != 1:
        raise JobContentError(f"{n} job entries where there must be exactly one")


class JobFile:
    """An open job file. ``read_only_because`` is empty when edits can be written.

    ``told`` is what was decided for the user when an older file was converted.
    """

    def __init__(
        self, path: Path, db: sqlite3.Connection, lock: IO[bytes], read_only_because: str, told: Sequence[str] = ()
    ) -> None:
        self.path = path
        self.read_only_because = read_only_because
        self.told = tuple(told)
        self._db = db
        self._lock = lock

    @classmethod
    def create(cls, path: Path, entities: Iterable[Entity], *, replace: bool = False) -> JobFile:
        """Write a new job file and open it; an existing file is refused unless ``replace``."""
        if path.exists() and not replace:
            raise JobFileError(f"{path.name} is already there; choose another name, or open it.")
        fresh = path.with_name(f".{path.name}.new")
        try:
            fresh.unlink(missing_ok=True)
            db = _connect(fresh, "rwc")
            try:
                db.execute("BEGIN")
                db.execute(_SCHEMA)
                db.execute(f"PRAGMA application_id={APPLICATION_ID}")
                db.execute(f"PRAGMA user_version={VERSION}")
                db.executemany("INSERT INTO entity VALUES (?,?,?)", [_row(e) for e in entities])
                db.execute("COMMIT")
            finally:
                db.close()
            fresh.replace(path)
            _sync_folder(path.parent)
        except (OSError, sqlite3.Error) as error:
            raise JobFileError(f"Can't write {path}: {_reason(error)}. Choose another folder.") from None
        return cls.open(path)

    @classmethod
    def open(cls, path: Path) -> JobFile:
        """Open an existing job file, read-only when it is in use or can't be written.

        Raises JobFileError for a file that is missing, foreign, damaged or newer.
        """
        found = _check_header(path)
        told: list[str] = []
        because = "" if os.access(path, os.W_OK) and os.access(path.parent, os.W_OK) else "the file can't be written"
        lock = path.open("rb")
        try:
            if not because:
                try:
                    fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                except OSError as error:
                    if error.errno not in (errno.EWOULDBLOCK, errno.EACCES):
                        raise
                    because = "it is open in another window"
            if found < VERSION and not because:
                told = _convert(path, found)
            db = _checked(path, "ro" if because else "rw")
            if found < VERSION and because:
                db = _in_memory(db)
                told = _rewrite(db, path, found)
        except BaseException:
            lock.close()
            raise
        return cls(path, db, lock, because, told)

    def load(self) -> dict[str, Entity]:
        """Every entity by id; raises JobFileError when one can't be read, and then loads nothing."""
        entities: dict[str, Entity] = {}
        try:
            for row_id, kind, body in self._db.execute("SELECT id, kind, body FROM entity"):
                if not (isinstance(kind, str) and isinstance(body, str) and len(body) < _LARGEST_BODY):
                    raise JobContentError("an entry that is not text")
                entity = entity_from_json(kind, body)
                if entity.id != row_id:
                    raise JobContentError(f"an entry filed under the wrong id “{str(row_id)[:40]}”")
                entities[entity.id] = entity
            check_whole(entities.values())
        except sqlite3.Error as error:
            raise _damaged(self.path, str(error)) from None
        except JobContentError as error:
            raise _damaged(self.path, str(error)) from None
        return entities

    def write(self, changes: Mapping[str, Entity | None]) -> None:
        """Write one edit as one transaction (None: drop that entity); on return it is on the disk.

        Raises JobWriteError, and then nothing of the edit is in the file.
        """
        if self.read_only_because:
            raise JobWriteError(f"{self.path.name} is open read-only: {self.read_only_because}.")
        try:
            self._check_still_there()
            self._db.execute("BEGIN IMMEDIATE")
            self._db.executemany("DELETE FROM entity WHERE id=?", [(i,) for i, e in changes.items() if e is None])
            self._db.executemany(
                "INSERT OR REPLACE INTO entity VALUES (?,?,?)",
                [_row(e) for e in changes.values() if e is not None],
            )
            self._db.execute("COMMIT")
        except (OSError, sqlite3.Error) as error:
            if self._db.in_transaction:
                self._db.execute("ROLLBACK")
            raise JobWriteError(
                f"Could not write to {self.path}: {_reason(error)}. Your work is kept in memory; make room or put the "
                "drive back and retry, or save a copy elsewhere."
            ) from None

    def close(self) -> None:
        """Close the file and let go of its lock."""
        self._db.close()
        self._lock.close()

    def _check_still_there(self) -> None:
        """SQLite would go on writing happily into a file that was deleted or replaced under it."""
        here, mine = self.path.stat(), os.fstat(self._lock.fileno())
        if (here.st_dev, here.st_ino) != (mine.st_dev, mine.st_ino):
            raise OSError(errno.ESTALE, "the file was replaced by another one")


def _row(entity: Entity) -> tuple[str, str, str]:
    return entity.id, entity.kind, entity.model_dump_json()


def _connect(path: Path, mode: str) -> sqlite3.Connection:
    db = sqlite3.connect(f"file:{quote(str(path.resolve()))}?mode={mode}", uri=True, isolation_level=None, timeout=2)
    try:
        for pragma in ("trusted_schema=OFF", "cell_size_check=ON", "synchronous=FULL"):
            db.execute(f"PRAGMA {pragma}")
    except sqlite3.Error:
        db.close()
        raise
    return db


def _check_header(path: Path) -> int:
    try:
        with path.open("rb") as file:
            head = file.read(100)
    except IsADirectoryError:
        raise JobFileError(f"{path} is a folder; choose a file whose name ends in .vernus.") from None
    except OSError as error:
        raise JobFileError(f"Can't open {path}: {_reason(error)}.") from None
    if not head:
        raise JobFileError(f"{path.name} is empty; it is not a Vernus job. Choose a backup or another copy.")
    if not head.startswith(_MAGIC) or len(head) < 100 or int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise JobFileError(f"{path.name} is not a Vernus job; choose a file that Vernus wrote.")
    found = int.from_bytes(head[60:64], "big")
    if found > VERSION:
        raise JobFileError(
            f"{path.name} was written by a newer Vernus (file version {found}; this one reads up to {VERSION}). "
            "Open it with that newer Vernus; nothing was changed."
        )
    return found


def _checked(path: Path, mode: str) -> sqlite3.Connection:
    """A connection to a database that is whole and holds nothing but the entity table."""
    db = None
    try:
        db = _connect(path, mode)
        result = db.execute("PRAGMA quick_check(1)").fetchone()[0]
        if result != "ok":
            raise _damaged(path, str(result).splitlines()[-1])
        things = db.execute("SELECT type, sql FROM sqlite_master WHERE sql IS NOT NULL").fetchall()
        if things != [("table", _SCHEMA)]:
            raise JobFileError(f"{path.name} holds tables that Vernus did not make; it was not opened.")
    except (sqlite3.Error, JobFileError) as error:
        if db is not None:
            db.close()
        raise error if isinstance(error, JobFileError) else _damaged(path, str(error)) from None
    return db


def _convert(path: Path, found: int) -> list[str]:
    """Convert an older file in place after a backup copy; what was decided on the way.

    Raises JobFileError, and then the file is as it was.
    """
    _checked(path, "ro").close()
    backup = _unused(path.with_name(f"{path.name}.version-{found}.bak"))
    try:
        shutil.copy2(path, backup)
        db = _connect(path, "rw")
        try:
            db.execute("BEGIN EXCLUSIVE")
            told = _rewrite(db, path, found)
            db.execute("COMMIT")
        finally:
            db.close()
    except (OSError, sqlite3.Error) as error:
        raise JobFileError(f"Can't convert {path.name}: {_reason(error)}. The file is unchanged.") from None
    return [*told, f"The file as it was is kept as {backup.name}."]


def _unused(path: Path) -> Path:
    """That name, or the next one with a number: a backup never takes the place of an earlier one."""
    names = (path.with_name(f"{path.name}-{n}") for n in range(2, 1000))
    return path if not path.exists() else next((p for p in names if not p.exists()), path)


def _in_memory(db: sqlite3.Connection) -> sqlite3.Connection:
    """A copy of a database that may not be written."""
    copy = sqlite3.connect(":memory:", isolation_level=None)
    db.backup(copy)
    db.close()
    return copy


def _rewrite(db: sqlite3.Connection, path: Path, found: int) -> list[str]:
    """Every entry brought to the present version and checked; raises JobFileError before anything is committed."""
    if found < 1:
        raise JobFileError(f"{path.name} has file version {found}, which this Vernus can't convert.")
    try:
        rows = db.execute("SELECT id, kind, body FROM entity").fetchall()
        entries, told = upgrade([{**json.loads(body), "kind": kind} for _, kind, body in rows], found)
        entities = [entity_from_json(e.pop("kind"), json.dumps(e)) for e in entries]
    except (TypeError, ValueError, RecursionError) as error:
        raise _damaged(path, str(error)) from None
    db.execute("DELETE FROM entity")
    db.executemany("INSERT INTO entity VALUES (?,?,?)", [_row(e) for e in entities])
    db.execute(f"PRAGMA user_version={VERSION}")
    return told


def _damaged(path: Path, detail: str) -> JobFileError:
    return JobFileError(
        f"{path.name} is damaged ({detail[:200]}); nothing was loaded or changed. "
        "Open a backup copy or import an export."
    )


def _reason(error: Exception) -> str:
    if isinstance(error, OSError) and error.strerror:
        return error.strerror[0].lower() + error.strerror[1:]
    return str(error)


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)

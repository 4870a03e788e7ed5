"""The job file: an SQLite database with one row per entity, one transaction per accepted edit.

``application_id`` and ``user_version`` mark it; ``synchronous=EXTRA`` and the rollback journal keep every acknowledged
edit through a power cut, the folder's entry included. Each row has a checksum, and the table ``whole`` one over all of
them with their number, so that nothing is altered or missing unseen; a picture is filed under the hash of what it
holds, and read only when it is looked at. An exclusive ``flock`` on the file tells a second
window that it is in use. A file of an older version is converted after a backup copy; where it can't be written, a copy
in memory is.
"""

from __future__ import annotations

import errno
import fcntl
import gc
import json
import os
import sqlite3
import stat
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import closing, contextmanager, suppress
from pathlib import Path
from typing import IO

from vernus.job.database import connect
from vernus.job.disk import is_there, reason, shown, write_whole
from vernus.job.entities import ENTITY_TYPES, Entity
from vernus.job.errors import JobContentError, JobFileError, JobWriteError, NewerContentError
from vernus.job.migration import STORED, VERSION, stored_version, upgrade, version_words
from vernus.job.rows import (
    APPLICATION_ID,
    SCHEMAS,
    Whole,
    added,
    check_whole,
    entity_from_json,
    entity_of,
    fill_tables,
    picture_id,
    row_of,
    row_sum,
    whole_of,
)  # fmt: skip

_MANY_OBJECTS = 50_000
_MAGIC = b"SQLite format 3\0"
_LARGEST_CHECKED_WHOLE = 20_000_000  # bytes; beyond that it is the pictures, each of which is checked when it is read
Picture = tuple[str, bytes]
"""The id of a picture, and what it holds."""


class JobFile:
    """An open job file. ``read_only_because`` is empty when edits can be written.

    ``notices`` is what was decided for the user when an older file was converted.
    """

    def __init__(
        self, path: Path, db: sqlite3.Connection, lock: IO[bytes], read_only_because: str, notices: Sequence[str] = ()
    ) -> None:
        self.path = path
        self.read_only_because = read_only_because
        self.notices = tuple(notices)
        self._db = db
        self._lock = lock
        self._whole = whole_of(db)
        self._seen = self._look()

    @classmethod
    def create(
        cls, path: Path, entities: Iterable[Entity], pictures: Iterable[Picture] = (), *, replace: bool = False
    ) -> JobFile:
        """Write a new job file and open it; an existing file is refused unless ``replace``."""
        if replace and is_there(path):
            _refuse_in_use(path)
        db = sqlite3.connect(":memory:", isolation_level=None)
        try:
            fill_tables(db, entities, pictures)
            content = db.serialize()
        finally:
            db.close()
        if not path.parent.is_dir():
            raise JobFileError(f"There is no folder {shown(path.parent)}. Choose another folder.")
        _refuse_left_journal(path)
        write_whole(path, content, replace=replace)
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
        db: sqlite3.Connection | None = None
        try:
            if not because:
                because, told = _take_lock(lock)
            if not because and is_there(path.with_name(path.name + "-journal")):
                _play_back(path)  # a kill in the last instant of an edit: the header is right only after it
                found = _check_header(path)
            major = found // 100
            if major < VERSION and not because:
                told += _convert(path, major)
            db = _checked(path, "ro" if because else "rw", major if because else VERSION)
            if major < VERSION and because:
                db = _in_memory(db)
                told += _rewrite(db, path, major)
            elif major == VERSION and found < STORED and not because:
                db.execute(f"PRAGMA user_version={STORED}")  # what is edited from now on may hold newer fields
            return cls(path, db, lock, because, told)
        except BaseException as error:
            if db is not None:
                db.close()
            lock.close()
            if isinstance(error, sqlite3.Error | JobContentError):
                raise _unreadable(path, error) from None
            raise

    def load(self) -> dict[str, Entity]:
        """Every entity by id; raises JobFileError when one can't be read, and then loads nothing."""
        with _collecting_nothing():
            return self._load()

    def _load(self) -> dict[str, Entity]:
        entities: dict[str, Entity] = {}
        found: Whole = (0, 0)
        try:
            for row in self._db.execute("SELECT id, kind, body, sum FROM entity"):
                entity = entity_of(row)
                entities[entity.id] = entity
                found = added(found, 1, row[3])
            if found != self._whole:
                missing = self._whole[0] - found[0]
                raise JobContentError(f"{missing} entries are missing" if missing > 0 else "entries were changed")
            check_whole(entities.values())
        except (sqlite3.Error, JobContentError) as error:
            raise _unreadable(self.path, error) from None
        return entities

    def picture(self, wanted: str) -> bytes | None:
        """A picture by its id; None where it isn't there, can't be read, or was altered."""
        try:
            row = self._db.execute("SELECT data FROM picture WHERE id=?", (wanted,)).fetchone()
        except sqlite3.Error:
            return None
        whole = row is not None and isinstance(row[0], bytes) and picture_id(row[0]) == wanted
        return row[0] if whole else None

    def forget_pictures(self, but: Iterable[str]) -> None:
        """Drop every picture but these; what can't be dropped stays until the next time."""
        kept = set(but)
        try:
            found = [i for (i,) in self._db.execute("SELECT id FROM picture") if i not in kept]
            if found and not self.read_only_because:
                self._check_still_there()
                self._db.execute("BEGIN IMMEDIATE")
                self._db.executemany("DELETE FROM picture WHERE id=?", [(i,) for i in found])
                self._db.execute("COMMIT")
                self._seen = self._look()
        except (OSError, sqlite3.Error):
            if self._db.in_transaction:
                self._db.execute("ROLLBACK")

    def write(self, changes: Mapping[str, Entity | None], pictures: Mapping[str, bytes] | None = None) -> None:
        """Write one edit as one transaction (None: drop that entity); on return it is on the disk.

        ``pictures`` are put beside it, each under its id.

        Raises JobWriteError, and then nothing of the edit is in the file.
        """
        if self.read_only_because:
            raise JobWriteError(f"{self.path.name} is open read-only: {self.read_only_because}.")
        try:
            self._check_still_there()
            self._db.execute("BEGIN IMMEDIATE")
            whole = self._whole
            for entity_id in changes:
                for (was,) in self._db.execute("SELECT sum FROM entity WHERE id=?", (entity_id,)):
                    whole = added(whole, -1, -was)
            rows = [row_of(e) for e in changes.values() if e is not None]
            for row in rows:
                whole = added(whole, 1, row[3])
            self._db.executemany("DELETE FROM entity WHERE id=?", [(i,) for i, e in changes.items() if e is None])
            self._db.executemany("INSERT OR REPLACE INTO entity VALUES (?,?,?,?)", rows)
            self._db.execute("UPDATE whole SET entries=?, sum=?", whole)
            self._db.executemany("INSERT OR REPLACE INTO picture VALUES (?,?)", (pictures or {}).items())
            self._db.execute("COMMIT")
            self._whole, self._seen = whole, self._look()
        except (OSError, sqlite3.Error, JobContentError) as error:
            if self._db.in_transaction:
                self._db.execute("ROLLBACK")
            raise JobWriteError(
                f"Could not write to {shown(self.path)}: {reason(error)}. Your work is kept in memory; make room or "
                "put the drive back and retry, or save a copy elsewhere."
            ) from None

    def close(self) -> None:
        """Close the file and let go of its lock."""
        self._db.close()
        self._lock.close()

    @property
    def closed(self) -> bool:
        """Whether the file was let go of."""
        return self._lock.closed

    def _check_still_there(self) -> None:
        """SQLite would go on writing happily into a file that was deleted, replaced or overwritten under it."""
        here, mine = self.path.stat(), os.fstat(self._lock.fileno())
        if (here.st_dev, here.st_ino) != (mine.st_dev, mine.st_ino):
            raise OSError(errno.ESTALE, "the file was replaced by another one")
        if self._look() == self._seen:
            return
        fresh = connect(self.path, "ro")
        try:
            if whole_of(fresh) != self._whole:
                raise OSError(errno.ESTALE, "another job, or an older copy of it, was written over the file")
        finally:
            fresh.close()

    def _look(self) -> tuple[int, int]:
        """What changes when anybody writes into the file."""
        found = os.fstat(self._lock.fileno())
        return found.st_mtime_ns, found.st_size


@contextmanager
def _collecting_nothing() -> Iterator[None]:
    """No look for garbage while a job is read: nothing of it is any, and looking takes longer than reading.

    What is read of a large one isn't looked through later either; ``gc.unfreeze`` lets go of that with the job.
    """
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if gc.get_count()[0] > _MANY_OBJECTS:
            gc.freeze()
        if was:
            gc.enable()


def is_job_file(path: Path) -> bool:
    """Whether a file is marked as a job of ours, whole or not."""
    if not is_there(path):
        return False
    try:
        with path.open("rb") as file:
            return file.read(72)[68:] == APPLICATION_ID.to_bytes(4, "big")
    except OSError:
        return False


def recover(path: Path) -> tuple[list[Entity], list[str]]:
    """What can still be read of a damaged job file of today's version, and what is missing, for a new file.

    Raises JobFileError where too little is left to be a job.
    """
    if _check_header(path) // 100 != VERSION:
        raise JobFileError(f"{path.name} is of another file version; open it instead.")
    rows: dict[str, Entity] = {}
    bad: set[str] = set()
    wanted: int | None = None
    try:
        with closing(connect(path, "ro")) as db:
            for way in ("", " DESC"):
                _read_what_can_be(db, way, rows, bad)
            wanted = whole_of(db)[0]
    except (sqlite3.Error, JobContentError) as error:
        if not rows:
            raise _damaged(path, str(error)) from None
    try:
        check_whole(rows.values())
    except JobContentError as error:
        raise JobFileError(f"{path.name} can't be recovered: {error}. Open a backup copy.") from None
    lost = f"{max(wanted - len(rows), 0)} of {wanted}" if wanted is not None else "an unknown number of"
    kinds = sorted(bad - {"?"})
    of = f" (among them of: {', '.join(kinds)})" if kinds else ""
    return list(rows.values()), [f"Recovered {len(rows)} entries; {lost} are missing{of}. Look the job through."]


def recover_pictures(path: Path, wanted: Iterable[str]) -> dict[str, bytes]:
    """The pictures that can still be read whole out of a job file, damaged or not."""
    found: dict[str, bytes] = {}
    try:
        with closing(connect(path, "ro")) as db:
            for picture in wanted:
                with suppress(sqlite3.Error):
                    row = db.execute("SELECT data FROM picture WHERE id=?", (picture,)).fetchone()
                    if row is not None and isinstance(row[0], bytes) and picture_id(row[0]) == picture:
                        found[picture] = row[0]
    except sqlite3.Error:
        return found
    return found


def _read_what_can_be(db: sqlite3.Connection, way: str, rows: dict[str, Entity], bad: set[str]) -> None:
    """Add the rows that read well, from one end up to the first page that can't be read at all."""
    try:
        for row in db.execute(f"SELECT id, kind, body, sum FROM entity ORDER BY rowid{way}"):
            try:
                entity = entity_of(row)
                rows[entity.id] = entity
            except JobContentError:
                bad.add(row[1] if row[1] in ENTITY_TYPES else "?")
    except sqlite3.Error:
        bad.add("?")


def _take_lock(lock: IO[bytes]) -> tuple[str, list[str]]:
    """Why the file can only be read, and what is to be told of a drive that can't lock."""
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        if error.errno in (errno.EWOULDBLOCK, errno.EACCES):
            return "it is open in another window", []
        return "", ["This drive can't lock files: see that no other window has the same job open."]
    return "", []


def _refuse_left_journal(path: Path) -> None:
    """SQLite would play a journal left by a crash back into whatever file is put beside it."""
    left = path.with_name(path.name + "-journal")
    if is_there(left):
        raise JobFileError(
            f"{left.name} lies there from a crash and belongs to another job file. Open {path.name} first if it is "
            "there, or choose another name."
        )


def _refuse_in_use(path: Path) -> None:
    """A file that is open in a window is never written over, this window's own neither."""
    try:
        with path.open("rb") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        if error.errno in (errno.EWOULDBLOCK, errno.EACCES):
            raise JobFileError(f"{path.name} is open in a window; choose another name for the copy.") from None


def _play_back(path: Path) -> None:
    """Let SQLite take back what a killed edit left half done."""
    db = connect(path, "rw")
    try:
        db.execute("SELECT count(*) FROM sqlite_master").fetchone()
    finally:
        db.close()


def _check_header(path: Path) -> int:
    try:
        found = path.stat()
        if not stat.S_ISREG(found.st_mode):
            what = "a folder" if stat.S_ISDIR(found.st_mode) else "no ordinary file"
            raise JobFileError(f"{shown(path)} is {what}; choose a file whose name ends in .vernus.")
        with path.open("rb") as file:
            head = file.read(100)
    except JobFileError:
        raise
    except (OSError, ValueError) as error:
        raise JobFileError(f"Can't open {shown(path)}: {reason(error)}.") from None
    if not head:
        raise JobFileError(f"{path.name} is empty; it is not a Vernus job. Choose a backup or another copy.")
    if not head.startswith(_MAGIC) or len(head) < 100 or int.from_bytes(head[68:72], "big") != APPLICATION_ID:
        raise JobFileError(f"{path.name} is not a Vernus job; choose a file that Vernus wrote.")
    version = stored_version(int.from_bytes(head[60:64], "big"))
    if version > STORED:
        written = f"file version {version_words(version)}; this one reads up to {version_words(STORED)}"
        raise _newer(path, written)
    return version


def _newer(path: Path, why: str) -> JobFileError:
    return JobFileError(
        f"{path.name} was written by a newer Vernus ({why[:200]}). Open it with that newer Vernus; nothing was changed."
    )


def _unreadable(path: Path, error: Exception) -> JobFileError:
    """What to say of content that can't be loaded: of a newer version where only that is the matter, else damaged."""
    return _newer(path, str(error)) if isinstance(error, NewerContentError) else _damaged(path, str(error))


def _checked(path: Path, mode: str, version: int) -> sqlite3.Connection:
    """A connection to a database that is whole and holds nothing but the tables of that version."""
    db = None
    try:
        db = connect(path, mode)
        large = version == VERSION and path.stat().st_size > _LARGEST_CHECKED_WHOLE
        for table in ("entity", "whole") if large else ("1",):
            result = db.execute(f"PRAGMA quick_check({table})").fetchone()[0]
            if result != "ok":
                raise _damaged(path, str(result).splitlines()[-1])
        things = db.execute("SELECT type, sql FROM sqlite_master WHERE sql IS NOT NULL").fetchall()
        if things != [("table", sql) for sql in SCHEMAS.get(version, ())]:
            raise JobFileError(f"{path.name} holds tables that Vernus did not make; it was not opened.")
    except (sqlite3.Error, JobFileError) as error:
        if db is not None:
            db.close()
        if mode == "ro" and is_there(path.with_name(path.name + "-journal")):
            raise JobFileError(
                f"{path.name} was left in the middle of an edit by a crash, and can't be tidied up where nothing may "
                f"be written. Copy it together with {path.name}-journal to a folder you can write, and open it there."
            ) from None
        raise error if isinstance(error, JobFileError) else _damaged(path, str(error)) from None
    return db


def _convert(path: Path, found: int) -> list[str]:
    """Convert an older file in place after a backup copy; what was decided on the way.

    Raises JobFileError, and then the file is as it was.
    """
    _checked(path, "rw", found).close()
    backup = _unused(path.with_name(f"{path.name}.version-{found}.bak"))
    try:
        write_whole(backup, path.read_bytes(), replace=False)
        db = connect(path, "rw")
        try:
            db.execute("BEGIN EXCLUSIVE")
            told = _rewrite(db, path, found)
            db.execute("COMMIT")
        finally:
            db.close()
    except (OSError, sqlite3.Error) as error:
        raise JobFileError(f"Can't convert {path.name}: {reason(error)}. The file is unchanged.") from None
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
        if found > 1:
            _check_sums(db)
        entries, told = upgrade([{**json.loads(body), "kind": kind} for _, kind, body in rows], found)
        entities = [entity_from_json(e.pop("kind"), json.dumps(e)) for e in entries]
    except (TypeError, AttributeError, ValueError, RecursionError) as error:
        raise _unreadable(path, error) from None
    db.execute("DROP TABLE entity")
    db.execute("DROP TABLE IF EXISTS whole")
    pictured = found > 2
    if pictured:
        db.execute("ALTER TABLE picture RENAME TO picture_before")
    fill_tables(db, entities)
    if pictured:
        db.execute("INSERT INTO picture SELECT id, data FROM picture_before")
        db.execute("DROP TABLE picture_before")
    return told


def _check_sums(db: sqlite3.Connection) -> None:
    """Raise JobContentError where an entry was altered or is missing; for a file that is about to be converted."""
    found: Whole = (0, 0)
    for *row, noted in db.execute("SELECT id, kind, body, sum FROM entity"):
        if row_sum(*row) != noted:
            raise JobContentError("an entry that was altered")
        found = added(found, 1, noted)
    if found != whole_of(db):
        raise JobContentError("entries are missing or were changed")


def _damaged(path: Path, detail: str) -> JobFileError:
    return JobFileError(
        f"{path.name} is damaged ({detail[:200]}); nothing was loaded or changed. "
        "Open a backup copy, or import it (Job menu, or “vernus import”) to recover into a new file what can be read."
    )

"""A connection to an SQLite file that somebody else may have written: whatever is wrong with it is an sqlite3.Error."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from pathlib import Path
from typing import Any, ParamSpec, TypeVar
from urllib.parse import quote

P = ParamSpec("P")
R = TypeVar("R")


def _told_as_sqlite(act: Callable[P, R]) -> Callable[P, R]:
    """SQLite quotes a damaged name in its sentence; where that is no text, the sentence can't be had."""

    def acted(*args: P.args, **named: P.kwargs) -> R:
        try:
            return act(*args, **named)
        except UnicodeDecodeError:
            raise sqlite3.DatabaseError("a name in it is no text") from None

    return acted


class _Cursor(sqlite3.Cursor):
    execute = _told_as_sqlite(sqlite3.Cursor.execute)
    executemany = _told_as_sqlite(sqlite3.Cursor.executemany)
    fetchone = _told_as_sqlite(sqlite3.Cursor.fetchone)
    fetchall = _told_as_sqlite(sqlite3.Cursor.fetchall)
    __next__ = _told_as_sqlite(sqlite3.Cursor.__next__)  # type: ignore[arg-type]  # typed by the iterator it is


class _Database(sqlite3.Connection):
    def execute(self, *asked: Any) -> sqlite3.Cursor:
        return _Cursor(self).execute(*asked)

    def executemany(self, *asked: Any) -> sqlite3.Cursor:
        return _Cursor(self).executemany(*asked)


def connect(path: Path, mode: str) -> sqlite3.Connection:
    """An SQLite file opened as ``mode`` says ("ro", "rw"), trusting nothing of it; raises sqlite3.Error.

    One thread at a time may use it, not only the one it was opened in.
    """
    where = f"file:{quote(str(path.resolve()))}?mode={mode}"
    db = sqlite3.connect(where, uri=True, isolation_level=None, timeout=2, factory=_Database, check_same_thread=False)
    try:
        for pragma in ("trusted_schema=OFF", "cell_size_check=ON", "synchronous=EXTRA"):
            db.execute(f"PRAGMA {pragma}")
    except sqlite3.Error:
        db.close()
        raise
    return db

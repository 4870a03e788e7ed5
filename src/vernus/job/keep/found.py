"""Words looked for in job files without opening them: titles, notes of the log, notes of steps; read only."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

_KINDS = ("job", "log", "step", "machine")
_MOST = 60
_LONGEST = 160


@dataclass(frozen=True)
class Found:
    """A place where the words stand: the file, the job's title, the day, the text, and the sheet it stands on."""

    path: Path
    title: str
    day: str
    text: str
    sheet: str


def find_words(paths: Iterable[Path], words: str) -> list[Found]:
    """Where all of the words stand, newest first; a file that can't be read is passed over."""
    wanted = [w.casefold() for w in words.split()]
    found = [hit for path in paths for hit in _in_file(path, wanted)] if wanted else []
    return sorted(found, key=lambda f: f.day, reverse=True)[:_MOST]


def _in_file(path: Path, wanted: list[str]) -> Iterator[Found]:
    if not path.is_file():
        return  # a pipe would be waited for
    try:
        with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro&immutable=1", uri=True)) as db:
            rows = db.execute(
                f"SELECT kind, body FROM entity WHERE kind IN ({','.join('?' * len(_KINDS))})", _KINDS
            ).fetchall()
            entries = [(kind, json.loads(body)) for kind, body in rows]
    except (sqlite3.Error, OSError, ValueError, RecursionError):
        return
    title = next((str(e.get("title", "")) for kind, e in entries if kind == "job" and isinstance(e, dict)), "")
    for kind, entry in entries:
        if not isinstance(entry, dict):
            continue
        text = " ".join(str(entry.get(name, "")) for name in _TEXTS[kind]).strip()
        if all(w in f"{text} {title if kind == 'job' else ''}".casefold() for w in wanted):
            yield Found(path, title, str(entry.get("created", ""))[:10], text[:_LONGEST], _SHEETS[kind])


_TEXTS = {"job": ("title", "workshop", "note"), "log": ("text",), "step": ("note",), "machine": ("name", "note")}
_SHEETS = {"job": "scope", "log": "log", "step": "card", "machine": "machine"}

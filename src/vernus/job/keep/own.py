"""What belongs to the user and not to one job: the tools owned, how long steps took in other jobs, the evenings.

Three small JSON files in the user's data folder, read again when they change. A file that can't be read counts as empty
and is left alone until something is kept in it.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any, Literal

from platformdirs import user_data_path

from vernus.core.errors import VernusError
from vernus.job.disk import make_folder, read_text, write_text
from vernus.job.formats.json_text import parse_json

Have = Literal["have", "borrow", ""]
"""Whether a tool is owned, can be borrowed, or is neither."""
_LARGEST = 2_000_000
_MOST_JOBS = 200
_MOST_TOOLS = 2000

Took = tuple[tuple[str, float, float], ...]
"""Per step timed: its kind, the hours it took, the hours that were estimated."""


def own_tools() -> dict[str, Have]:
    """The tools in the user's kit, by their words in lower case."""
    found = _read("kit.json").get("tools", {})
    words: dict[str, Have] = {"have": "have", "borrow": "borrow"}
    return {k: words[v] for k, v in found.items() if v in words} if isinstance(found, dict) else {}


def keep_tool(name: str, have: Have) -> None:
    """Put a tool into the kit, mark it as to be borrowed, or take it out; raises JobFileError."""
    tools: dict[str, str] = {**own_tools(), name.strip().lower()[:200]: have}
    kept = {k: v for k, v in tools.items() if v and k}
    _write("kit.json", {"tools": dict(list(kept.items())[-_MOST_TOOLS:])})


def took_elsewhere(job_id: str) -> Took:
    """What steps took in the user's other jobs."""
    return tuple(row for name, rows in _times().items() if name != job_id for row in rows)


def keep_times(job_id: str, took: Took) -> None:
    """Remember what the steps of a job took; raises JobFileError."""
    others = {k: v for k, v in _times().items() if k != job_id}
    if not took and len(others) == len(_times()):
        return
    kept = {**others, **({job_id: took} if took else {})}
    _write("times.json", {"jobs": dict(list(kept.items())[-_MOST_JOBS:])})


def own_evenings() -> Mapping[str, Any]:
    """When the user works, as said in the job worked on last: the fields of its evenings; empty where it wasn't."""
    found = _read("evenings.json").get("evenings", {})
    return found if isinstance(found, dict) else {}


def keep_evenings(evenings: Mapping[str, Any]) -> None:
    """Remember when the user works, for the next job; raises JobFileError."""
    if evenings and dict(evenings) != dict(own_evenings()):
        _write("evenings.json", {"evenings": dict(evenings)})


def _times() -> dict[str, Took]:
    found = _read("times.json").get("jobs", {})
    if not isinstance(found, dict):
        return {}
    return {str(k): tuple(_row(r) for r in v if _is_row(r)) for k, v in found.items() if isinstance(v, list)}


def _is_row(row: Any) -> bool:
    good = isinstance(row, list) and len(row) == 3 and isinstance(row[0], str)
    return good and all(isinstance(n, int | float) and not isinstance(n, bool) and 0 < n < 1e4 for n in row[1:])


def _row(row: Any) -> tuple[str, float, float]:
    return row[0], float(row[1]), float(row[2])


def _path(name: str) -> Path:
    return user_data_path("vernus") / name


def _read(name: str) -> Mapping[str, Any]:
    path = _path(name)
    try:
        found = path.stat()
    except OSError:
        return {}
    return _read_once(path, found.st_mtime_ns, found.st_size)


@lru_cache(maxsize=8)
def _read_once(path: Path, _changed: int, _size: int) -> Mapping[str, Any]:
    try:
        found = parse_json(read_text(path, _LARGEST), "it")
    except VernusError:
        return {}
    return found if isinstance(found, dict) else {}


def _write(name: str, content: Mapping[str, Any]) -> None:
    make_folder(_path(name).parent)
    write_text(_path(name), json.dumps(content, indent=1, ensure_ascii=False) + "\n")

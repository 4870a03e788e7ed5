"""What the application remembers between starts: recent jobs and the theme."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any, Literal, NamedTuple

from platformdirs import user_data_path, user_documents_path, user_state_path

from vernus.core.errors import VernusError
from vernus.job.disk import is_there, make_folder, read_text, write_text
from vernus.job.formats.json_text import parse_json

ThemeName = Literal["light", "dark", "contrast"]
SCALES = (1.0, 1.25, 1.5, 2.0)
_MOST = 8
_MOST_DUE = 40
_LARGEST = 1_000_000


def jobs_folder() -> Path:
    """Where new jobs are proposed."""
    return user_documents_path() / "Vernus"


def templates_folder() -> Path:
    """Where the user's own machine templates are kept."""
    return user_data_path("vernus") / "machines"


def families_folder() -> Path:
    """Where scale families are kept that somebody measured."""
    return user_data_path("vernus") / "families"


def demo_path(name: str) -> Path:
    """Where a demo job lives; it is written afresh each time it is opened."""
    return user_state_path("vernus") / f"demo-{name}.vernus"


def practice_path() -> Path:
    """Where the practice job lives; it is written afresh each time it is opened."""
    return user_state_path("vernus") / "practice.vernus"


def _file() -> Path:
    return user_state_path("vernus") / "settings.json"


def _read() -> dict[str, Any]:
    try:
        found = parse_json(read_text(_file(), _LARGEST), "the settings")
    except VernusError:
        return {}
    return found if isinstance(found, dict) else {}


def _write(**changes: Any) -> None:
    """Settings that can't be written are forgotten; nothing of the job depends on them."""
    try:
        make_folder(_file().parent)
        text = json.dumps({**_read(), **changes}, indent=1)
        write_text(_file(), text if len(text) < _LARGEST else json.dumps(changes))  # what is written can be read again
    except VernusError:
        return


def recent_jobs() -> list[Path]:
    """The jobs opened last that are still there, newest first."""
    names = _read().get("recent", [])
    return [Path(n) for n in names if isinstance(n, str) and is_there(Path(n))] if isinstance(names, list) else []


def remember_job(path: Path) -> None:
    """Put ``path`` first among the recent jobs."""
    paths = [path.resolve(), *(p for p in recent_jobs() if p != path.resolve())]
    _write(recent=[str(p) for p in paths[:_MOST]])


def theme() -> ThemeName | None:
    """The theme that was chosen; None where the desktop's preference is followed."""
    found = _read()
    chosen: dict[object, ThemeName] = {"light": "light", "dark": "dark", "contrast": "contrast"}
    name = found.get("theme")
    if isinstance(name, str) and name in chosen:
        return chosen[name]
    return "dark" if found.get("dark") is True else None


def remember_theme(name: ThemeName) -> None:
    """Keep the theme for the next start."""
    _write(theme=name)


def scale() -> float:
    """How much larger than usual everything is drawn."""
    found = _read().get("scale")
    return found if isinstance(found, float) and found in SCALES else 1.0


def remember_scale(by: float) -> None:
    """Keep how large everything is drawn; it holds from the next start on."""
    _write(scale=by)


def paper_size() -> str:
    """The size of paper last chosen; "" where it is left to the country."""
    found = _read().get("paper")
    return found if found in ("A4", "Letter") else ""


def remember_paper_size(size: str) -> None:
    """Keep the size of paper chosen."""
    _write(paper=size)


class DueTask(NamedTuple):
    """Something due on a job: its day, what, on which sheet and axis it is done, and the job's file."""

    day: str
    words: str
    sheet: str
    axis: str
    path: Path


def remember_due(path: Path, tasks: Sequence[tuple[str, str, str, str]]) -> None:
    """Keep what falls due on a job, (day, words, sheet, axis) each: Start says it without opening the job."""
    due = {k: v for k, v in _due().items() if k != str(path.resolve()) and is_there(Path(k))}
    _write(due={**due, str(path.resolve()): [list(t) for t in tasks[:_MOST_DUE]]})


def due_tasks() -> list[DueTask]:
    """What falls due on the jobs worked on here, the earliest first."""
    found = []
    for name, tasks in _due().items():
        for task in tasks if isinstance(tasks, list) and is_there(Path(name)) else []:
            if isinstance(task, list) and len(task) in (2, 4) and all(isinstance(t, str) for t in task):
                day, words, sheet, axis = (*task, "log", "")[:4]
                found.append(DueTask(day, words, sheet, axis, Path(name)))
    return sorted(found, key=lambda t: t[:2])


def lessons_done() -> int:
    """How many lessons of the practice were ever good: looked up where nothing of the practice is loaded yet."""
    try:
        kept = parse_json(read_text(user_data_path("vernus") / "practice.json", _LARGEST), "the practice")
    except VernusError:
        return 0
    best = kept.get("best", {}) if isinstance(kept, dict) else {}
    return len(best) if isinstance(best, dict) else 0


def links() -> dict[str, dict[str, Any]]:
    """How instruments were linked, by the name of each: port, what its lines look like, who sends, how fast."""
    found = _read().get("instruments", {})
    return {k: v for k, v in found.items() if isinstance(v, dict)} if isinstance(found, dict) else {}


def remember_link(name: str, link: dict[str, Any]) -> None:
    """Keep how an instrument was linked; it is the one tried first next time."""
    others = {k: v for k, v in links().items() if k != name}
    _write(instruments=dict([(name, link), *others.items()][:_MOST]))


def _due() -> dict[str, Any]:
    found = _read().get("due", {})
    return found if isinstance(found, dict) else {}

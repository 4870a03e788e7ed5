"""What a user has practised: the tries not ended, and the best ended one of each lesson; kept per user, not per job."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from platformdirs import user_data_path

from vernus.bench.practice.attempt import Attempt
from vernus.core.errors import BadInputError, VernusError
from vernus.job.disk import make_folder, read_text, write_text
from vernus.job.formats.json_text import parse_json

_LARGEST = 5_000_000
_MOST_IN_A_ROW = 50


@dataclass(frozen=True)
class Best:
    """The best ended try of a lesson: its seed, its minutes, and the adviser's on the same machine."""

    seed: int
    minutes: float
    adviser_minutes: float


def _path() -> Path:
    return user_data_path("vernus") / "practice.json"


def _read() -> dict[str, Any]:
    try:
        found = parse_json(read_text(_path(), _LARGEST), "the practice")
    except VernusError:
        return {}
    return found if isinstance(found, dict) else {}


def _write(**changes: Any) -> None:
    make_folder(_path().parent)
    write_text(_path(), json.dumps({**_read(), **changes}) + "\n")


def left_try(lesson_id: str) -> Attempt | None:
    """The try that was left in the middle, as it was; None where there is none, or none that can be read."""
    tries = _read().get("tries", {})
    data = tries.get(lesson_id) if isinstance(tries, dict) else None
    try:
        return None if data is None else Attempt.from_json(data)
    except BadInputError:
        return None


def keep_try(attempt: Attempt) -> None:
    """Keep a try as it stands; raises JobFileError."""
    tries = _read().get("tries", {})
    tries = dict(tries) if isinstance(tries, dict) else {}
    _write(tries={**tries, attempt.lesson.id: attempt.as_json()}, last=attempt.lesson.id)


Level = Literal["guided", "hints", "alone"]
LEVELS: tuple[tuple[Level, str], ...] = (
    ("guided", "guided: the next thing lights up, figures are said"),
    ("hints", "with hints: the dial is read by eye"),
    ("alone", "alone"),
)


def level() -> Level:
    """How much is helped: guided at first."""
    found = _read().get("level")
    return next((name for name, _ in LEVELS if name == found), "guided")


def keep_level(name: Level) -> None:
    """Keep how much is helped; raises JobFileError."""
    _write(level=name)


def streak_of(lesson_id: str) -> int:
    """How many different machines in a row a lesson was good on."""
    found = _read().get("streaks", {})
    row = found.get(lesson_id) if isinstance(found, dict) else None
    return len(row) if isinstance(row, list) else 0


def keep_end(lesson_id: str, seed: int, *, good: bool) -> int:
    """Count an ended try: a machine more in the row, or none any longer; returns the row. Raises JobFileError."""
    kept = _read().get("streaks", {})
    kept = dict(kept) if isinstance(kept, dict) else {}
    row = [n for n in kept.get(lesson_id, []) if isinstance(n, int) and n != seed] if good else []
    row = [*row, seed][-_MOST_IN_A_ROW:] if good else []
    _write(streaks={**kept, lesson_id: row})
    return len(row)


def last_lesson() -> str:
    """The lesson worked on last; empty for none."""
    found = _read().get("last", "")
    return found if isinstance(found, str) else ""


def best_of(lesson_id: str) -> Best | None:
    """The best good try of a lesson."""
    found = _read().get("best", {})
    row = found.get(lesson_id) if isinstance(found, dict) else None
    good = isinstance(row, list) and len(row) == 3 and all(isinstance(n, int | float) for n in row)
    return Best(int(row[0]), float(row[1]), float(row[2])) if good and row is not None else None


def keep_best(lesson_id: str, best: Best) -> bool:
    """Keep a good try where it beats the one before, held against the adviser; whether it did."""
    before = best_of(lesson_id)
    share = best.minutes / max(best.adviser_minutes, 0.1)
    if before is not None and before.minutes / max(before.adviser_minutes, 0.1) <= share:
        return False
    kept = _read().get("best", {})
    kept = dict(kept) if isinstance(kept, dict) else {}
    _write(best={**kept, lesson_id: [best.seed, best.minutes, best.adviser_minutes]})
    return True

"""The line of an axis as JSON: what ``vernus calc stroke`` reads. Lengths are in mm, or texts with a unit."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.machine.stroke import FeedRun, Meets, Pair, Stroke, solve_stroke
from vernus.core.units import parse_length
from vernus.job.formats.json_text import number_of, read_as

_KEYS = ("marks_mm", "home_mm", "meets", "give_up_mm", "unread_mm", "scale_mm", "scale_margin_mm", "feed")


def read_stroke(path: Path) -> Stroke:
    """The line in a JSON file, solved; raises BadInputError naming the file and the entry that is wrong."""
    return read_as(path, stroke_from)


def stroke_from(data: Any) -> Stroke:
    """The line in decoded JSON, solved; raises BadInputError."""
    entry = known_entry(data, "the line", ("marks_mm",), _KEYS)
    low, high = pair_mm(entry["marks_mm"], "marks_mm")
    if low != 0:
        raise BadInputError("marks_mm begins with 0, the low mark: every position counts from there.")
    margin = length_mm(entry["scale_margin_mm"], "scale_margin_mm") if "scale_margin_mm" in entry else 0.0
    meets = entry.get("meets", [])
    if not isinstance(meets, list):
        raise BadInputError("meets must be a list of with, from_mm and to_mm.")
    return solve_stroke(
        high,
        home_mm=length_mm(entry["home_mm"], "home_mm") if "home_mm" in entry else None,
        meets=[_meets(m, n) for n, m in enumerate(meets, 1)],
        give_up_mm=pair_mm(entry["give_up_mm"], "give_up_mm") if "give_up_mm" in entry else (0.0, 0.0),
        unread_mm=pair_mm(entry["unread_mm"], "unread_mm") if "unread_mm" in entry else (0.0, 0.0),
        scale_mm=pair_mm(entry["scale_mm"], "scale_mm") if entry.get("scale_mm") is not None else None,
        margin_mm=(margin, margin),
        feed=_feed(entry["feed"]) if entry.get("feed") is not None else None,
    )


def _meets(item: Any, number: int) -> Meets:
    what = f"meets {number}"
    entry = known_entry(item, what, ("from_mm", "to_mm"), ("with", "from_mm", "to_mm"))
    name = entry.get("with", "")
    if not isinstance(name, str) or len(name) > 200:
        raise BadInputError(f"{what}: with must be a short text.")
    return Meets(name, length_mm(entry["from_mm"], f"{what}: from_mm"), length_mm(entry["to_mm"], f"{what}: to_mm"))


def _feed(item: Any) -> FeedRun:
    entry = known_entry(item, "feed", ("run_on_mm",), ("run_on_mm", "clear_mm"))
    run_on = length_mm(entry["run_on_mm"], "feed: run_on_mm")
    return FeedRun((run_on, run_on), length_mm(entry["clear_mm"], "feed: clear_mm") if "clear_mm" in entry else 0.0)


def known_entry(item: Any, what: str, wanted: tuple[str, ...], allowed: tuple[str, ...]) -> Mapping[str, Any]:
    """An object with the keys wanted and none that isn't known; raises BadInputError naming the key."""
    if not isinstance(item, dict):
        raise BadInputError(f"{what} must be an object with {', '.join(allowed)}.")
    unknown = next((k for k in item if k not in (*allowed, "note")), None)
    if unknown is not None:
        raise BadInputError(f"{what}: “{str(unknown)[:40]}” is not known; {', '.join(allowed)} are.")
    missing = next((k for k in wanted if k not in item), None)
    if missing is not None:
        raise BadInputError(f"{what} has no “{missing}”.")
    return item


def length_mm(value: Any, what: str) -> float:
    """A number in mm, or a length as it is typed with its unit; raises BadInputError naming ``what``."""
    if isinstance(value, str):
        try:
            return parse_length(value).mm
        except BadInputError as error:
            raise BadInputError(f"{what}: {error}") from None
    return number_of(value, what, "a length: a number in mm, or a text such as “1/4 in”")


def pair_mm(value: Any, what: str) -> Pair:
    """Two lengths; raises BadInputError naming ``what``."""
    if not isinstance(value, list) or len(value) != 2:
        raise BadInputError(f"{what} must be a list of two lengths, low and high.")
    return length_mm(value[0], what), length_mm(value[1], what)

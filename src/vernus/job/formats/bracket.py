"""The bracket of a feed as JSON: what ``vernus calc bracket`` reads. Lengths are in mm, or texts with a unit."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import Bracket, SolvedBracket, Spot, plan_bracket
from vernus.job.formats.json_text import read_as
from vernus.job.formats.stroke import known_entry, length_mm, pair_mm

_WANTED = (
    "bearing", "screw_diameter_mm", "machine_holes", "machine_screw", "unit_holes", "unit_screw", "unit_gear",
    "centre_distance_mm", "adjust_mm",
)  # fmt: skip
_KEYS = (*_WANTED, "thickness_mm", "top_limit_mm", "module_mm")


def read_bracket(path: Path) -> SolvedBracket:
    """The bracket in a JSON file, solved; raises BadInputError naming the file and the entry that is wrong."""
    return read_as(path, bracket_from)


def bracket_from(data: Any) -> SolvedBracket:
    """The bracket in decoded JSON, solved; raises BadInputError."""
    entry = known_entry(data, "the bracket", _WANTED, _KEYS)
    bearing = known_entry(entry["bearing"], "bearing", ("diameter_mm", "depth_mm"), ("diameter_mm", "depth_mm"))
    screws = [entry["machine_screw"], entry["unit_screw"]]
    if not all(isinstance(s, str) for s in screws):
        raise BadInputError("machine_screw and unit_screw are texts such as “M6”.")
    more = {
        k: length_mm(entry[k], k) for k in ("thickness_mm", "top_limit_mm", "module_mm") if entry.get(k) is not None
    }
    return plan_bracket(
        Bracket(
            (
                length_mm(bearing["diameter_mm"], "bearing: diameter_mm"),
                length_mm(bearing["depth_mm"], "bearing: depth_mm"),
            ),
            length_mm(entry["screw_diameter_mm"], "screw_diameter_mm"),
            _spots(entry["machine_holes"], "machine_holes"),
            screws[0],
            _spots(entry["unit_holes"], "unit_holes"),
            screws[1],
            pair_mm(entry["unit_gear"], "unit_gear"),
            length_mm(entry["centre_distance_mm"], "centre_distance_mm"),
            length_mm(entry["adjust_mm"], "adjust_mm"),
            more.get("thickness_mm"),
            more.get("top_limit_mm"),
            more.get("module_mm"),
        )
    )


_MOST_HOLES = 60


def _spots(value: Any, what: str) -> tuple[Spot, ...]:
    if not isinstance(value, list) or not value:
        raise BadInputError(f"{what} must be a list of places, each of two lengths.")
    if len(value) > _MOST_HOLES:
        raise BadInputError(f"{what}: {len(value)} holes; a bracket has {_MOST_HOLES} at most.")
    return tuple(pair_mm(spot, f"{what} {n}") for n, spot in enumerate(value, 1))

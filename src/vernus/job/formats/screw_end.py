"""The screw's end of a feed as JSON: what ``vernus calc screw-end`` reads. Lengths are in mm, or texts with a unit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, get_args

from vernus.core.errors import BadInputError
from vernus.core.feed.screw_end import Drive, Gear, ScrewEnd, ScrewEndPlan, WheelDrive, plan_screw_end
from vernus.job.formats.json_text import read_as
from vernus.job.formats.stroke import known_entry, length_mm, pair_mm

_WANTED = ("screw_diameter_mm", "projection_mm", "key_mm", "gear", "gear_plane_mm")
_KEYS = (*_WANTED, "thread", "bracket_mm", "dial_mm", "wheel_mm", "wheel_drive")
_GEAR = ("bore_mm", "keyway_mm", "face_mm")


def read_screw_end(path: Path) -> ScrewEndPlan:
    """The chain in a JSON file, solved; raises BadInputError naming the file and the entry that is wrong."""
    return read_as(path, screw_end_from)


def screw_end_from(data: Any) -> ScrewEndPlan:
    """The chain in decoded JSON, solved; raises BadInputError."""
    entry = known_entry(data, "the screw's end", _WANTED, _KEYS)
    gear = known_entry(entry["gear"], "gear", _GEAR, (*_GEAR, "root_mm", "drive", "hub_mm"))
    if gear.get("hub_mm") is not None:
        length_mm(gear["hub_mm"], "gear: hub_mm")
    thread = entry.get("thread")
    if thread is not None:
        thread = known_entry(thread, "thread", ("diameter_mm",), ("diameter_mm", "pitch_mm"))
        if "pitch_mm" in thread:
            length_mm(thread["pitch_mm"], "thread: pitch_mm")
    root = gear.get("root_mm")
    return plan_screw_end(
        ScrewEnd(
            length_mm(entry["screw_diameter_mm"], "screw_diameter_mm"),
            length_mm(entry["projection_mm"], "projection_mm"),
            0.0 if entry["key_mm"] is None else length_mm(entry["key_mm"], "key_mm"),
            Gear(
                length_mm(gear["bore_mm"], "gear: bore_mm"),
                0.0 if gear["keyway_mm"] is None else length_mm(gear["keyway_mm"], "gear: keyway_mm"),
                length_mm(gear["face_mm"], "gear: face_mm"),
                None if root is None else length_mm(root, "gear: root_mm"),
                _drive(gear.get("drive"), "gear: drive", get_args(Drive)),
            ),
            pair_mm(entry["gear_plane_mm"], "gear_plane_mm"),
            None if thread is None else length_mm(thread["diameter_mm"], "thread: diameter_mm"),
            length_mm(entry.get("bracket_mm", 0.0), "bracket_mm"),
            _taken(entry, "dial_mm"),
            _taken(entry, "wheel_mm"),
            _drive(entry.get("wheel_drive"), "wheel_drive", get_args(WheelDrive)),
        )
    )


def _drive(value: Any, where: str, known: Sequence[str]) -> Any:
    """What drives a joint; raises BadInputError for a word that names nothing."""
    if value is not None and value not in known:
        raise BadInputError(f"{where}: “{str(value)[:40]}” drives nothing; use one of {', '.join(known)}.")
    return value


def _taken(entry: Mapping[str, Any], key: str) -> float | None:
    """What a member takes of the screw: 0 where it is left off, None where it is not known."""
    value = entry.get(key, 0.0)
    return None if value is None else length_mm(value, key)

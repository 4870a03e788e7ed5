"""The screw's end of a feed as JSON: what ``vernus calc screw-end`` reads. Lengths are in mm, or texts with a unit."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.feed.screw_end import Gear, ScrewEnd, ScrewEndPlan, plan_screw_end
from vernus.job.formats.json_text import read_json
from vernus.job.formats.stroke import known_entry, length_mm, pair_mm

_WANTED = ("screw_diameter_mm", "projection_mm", "key_mm", "gear", "gear_plane_mm")
_KEYS = (*_WANTED, "thread", "bracket_mm", "dial_mm", "wheel_mm")


def read_screw_end(path: Path) -> ScrewEndPlan:
    """The chain in a JSON file, solved; raises BadInputError naming the file and the entry that is wrong."""
    try:
        return screw_end_from(read_json(path))
    except BadInputError as error:
        said = str(error)
        raise BadInputError(said if said.startswith(path.name) else f"{path.name}: {said}") from None


def screw_end_from(data: Any) -> ScrewEndPlan:
    """The chain in decoded JSON, solved; raises BadInputError."""
    entry = known_entry(data, "the screw's end", _WANTED, _KEYS)
    gear = known_entry(
        entry["gear"], "gear", ("bore_mm", "keyway_mm", "face_mm"), ("bore_mm", "keyway_mm", "face_mm", "root_mm")
    )
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
            ),
            pair_mm(entry["gear_plane_mm"], "gear_plane_mm"),
            None if thread is None else length_mm(thread["diameter_mm"], "thread: diameter_mm"),
            length_mm(entry.get("bracket_mm", 0.0), "bracket_mm"),
            *(None if entry.get(k, 0.0) is None else length_mm(entry.get(k, 0.0), k) for k in ("dial_mm", "wheel_mm")),
        )
    )

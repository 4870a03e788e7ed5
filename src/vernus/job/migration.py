"""Jobs of older versions brought to the present one: plain JSON entries in, plain JSON entries and what was done out.

The job file and the import of an export use the same steps, so that both come to the same job.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from vernus.job.errors import JobContentError

VERSION, MINOR = 5, 5
"""The version written today, of the job file and of an export: a new field anywhere raises the minor one."""
STORED = VERSION * 100 + MINOR
"""Both in the one number that is stored; up to version 3 the major one was stored alone."""


def stored_version(number: int) -> int:
    """A stored number as one that compares: 300 for the 3 of an older file."""
    return number * 100 if 0 < number < 100 else number


def version_words(stored: int) -> str:
    """“3.1” for 301."""
    return f"{stored // 100}.{stored % 100}"


Entry = dict[str, Any]

_READOUT_KINDS = ("scale", "delivery", "sweep", "reader", "gap", "calibration", "positioning")


def upgrade(entries: list[Entry], version: int) -> tuple[list[Entry], list[str]]:
    """The entries as of today's version, and what was decided for the user on the way, in sentences.

    Raises JobContentError for entries that no version ever wrote.
    """
    told: list[str] = []
    try:
        for step in range(version, VERSION):
            entries = _STEPS[step](entries, told)
    except (TypeError, KeyError, AttributeError, ValueError):
        raise JobContentError("an entry that can't be brought to the present version") from None
    return entries, told


def _to_two(entries: list[Entry], told: list[str]) -> list[Entry]:
    """What is fitted is said per axis; display settings are the axis's; holes of a face follow the scale."""
    fresh = [dict(e) for e in entries]
    feed_only = any(e.get("purpose") == "feed" for e in fresh if e.get("kind") == "job")
    axes = [e for e in fresh if e.get("kind") == "axis"]
    for entry in fresh:
        if entry.get("kind") == "job":
            entry.pop("purpose", None)
    for axis in axes:
        mine = {e.get("kind") for e in fresh if e.get("axis_id") == axis.get("id") and _holds(e)}
        readout = bool(mine & set(_READOUT_KINDS)) or ("travel" in mine and not feed_only)
        axis.setdefault("readout", "new" if readout else "none")
        axis.setdefault("drive", "new" if "feed" in mine else "none")
    _tell_scope(axes, told)
    _follow_scale(fresh)
    return fresh + _settings(fresh, axes, told)


def _holds(entry: Entry) -> bool:
    """Whether anything was entered in an entry whose mere presence says nothing: a travel without a reading."""
    return entry.get("kind") != "travel" or bool(entry.get("readings"))


def _tell_scope(axes: list[Entry], told: list[str]) -> None:
    words = []
    for axis in axes:
        fitted = {"new": "a scale"}.get(axis["readout"]), {"new": "a power feed"}.get(axis["drive"])
        words.append(f"{axis.get('name', '?')} {' and '.join(w for w in fitted if w) or 'nothing'}")
    if words:
        told.append(
            "This job is from an older Vernus. Taken from what was entered, fitted are: "
            + ", ".join(words)
            + ". Change that on the Scope sheet."
        )


def _follow_scale(entries: list[Entry]) -> None:
    """Holes that nobody typed on a face of the machine were worked out from the scale: they follow it from now on."""
    for part in entries:
        if part.get("kind") != "part" or part.get("part_kind") != "face":
            continue
        holes = [e for e in entries if e.get("kind") == "drilled" and e.get("part_id") == part.get("id")]
        if len(holes) == 2 and all(isinstance(h.get("x"), dict) and not h["x"].get("text") for h in holes):
            first, last = sorted(holes, key=lambda h: h["x"].get("mm", 0.0))
            first["follows"], last["follows"] = "first", "last"


def _settings(entries: list[Entry], axes: list[Entry], told: list[str]) -> list[Entry]:
    """One setting per axis from the display's profile, and what each run was read with."""
    profiles = [e for e in entries if e.get("kind") == "profile"]
    resolution = shows = None
    for profile in profiles:
        resolution, shows = profile.pop("resolution", None), profile.pop("shows", "radius")
    if not profiles or (resolution is None and shows != "diameter"):
        return []
    lathe = any(str(e.get("machine_kind", "")).startswith("lathe") for e in entries if e.get("kind") == "machine")
    made: list[Entry] = []
    for axis in axes:
        if axis["readout"] != "new":
            continue
        mine = "radius" if lathe and axis.get("name") != "X" else shows
        stamp = {k: profiles[-1].get(k, "") for k in ("created", "changed")}
        made.append(
            {"kind": "setting", "id": f"setting-{axis.get('id', '')}"[:64], **stamp, "axis_id": axis["id"],
             "per": profiles[-1].get("per", "mm"), "resolution": resolution, "shows": mine}
        )  # fmt: skip
        for run in entries:
            if run.get("kind") == "calibration" and run.get("axis_id") == axis["id"]:
                run["shows"] = mine
    if lathe and shows == "diameter":
        told.append("The display's diameter setting is kept for X only; the other axes show the true move.")
    return made


def _to_three(entries: list[Entry], _told: list[str]) -> list[Entry]:
    """Version 3 only adds pictures; every entry of version 2 is one of version 3."""
    return entries


def _to_four(entries: list[Entry], told: list[str]) -> list[Entry]:
    """What was done keeps the figures of the statement it was done to; what nobody said is no longer taken as said."""
    fresh = [dict(e) for e in entries]
    axes = {str(e.get("id")): e for e in fresh if e.get("kind") == "axis"}
    faces = {str(e.get("id")): e for e in fresh if e.get("kind") == "face"}
    ticked = False
    for entry in fresh:
        axis = axes.get(str(entry.get("axis_id")), {})
        if entry.get("kind") == "step":
            ticked = bool(entry.pop("rested", ())) or ticked
            entry["made_to"] = []
        elif entry.get("kind") == "feed":
            entry["made_to"] = [_made_to(axis, m["what"], m.get("words", "")) for m in entry.get("made_to", ())]
        elif entry.get("kind") == "rework":
            words = entry.get("made_to", "")
            entry["made_to"] = [_made_to(axis, entry.get("figure", ""), words)] if words else []
        elif entry.get("kind") == "scale" and _only_usual(entry, axis, faces.get(str(entry.get("face_id")), {})):
            entry["scale_on"] = ""
    if ticked:
        told.append("Steps ticked in an older Vernus: made to what is not noted; tick a step again to note it.")
    return fresh


def _made_to(axis: Entry, what: str, words: str) -> Entry:
    part = f"part/{axis.get('name', '?')}/feed-{what}"[:200]
    return {"id": part, "figure": "how", "name": what, "mm": None, "words": words[:1000]}


def _only_usual(plan: Entry, axis: Entry, face: Entry) -> bool:
    """Whether the carrier of a scale is only what its face or its kind of axis makes it."""
    return bool(face) or plan.get("scale_on", "moving") == axis.get("usual_on", "moving")


def _to_five(entries: list[Entry], _told: list[str]) -> list[Entry]:
    """How and why travel is given up is said of each end."""
    fresh = [dict(e) for e in entries]
    for entry in fresh:
        if entry.get("kind") == "axis":
            how, why = entry.pop("give_up_how", "stop"), entry.pop("give_up_why", "")
            for end in ("low", "high"):
                entry.setdefault(f"give_up_{end}_how", how)
                entry.setdefault(f"give_up_{end}_why", why if entry.get(f"give_up_{end}") else "")
    return fresh


_STEPS: dict[int, Callable[[list[Entry], list[str]], list[Entry]]] = {
    1: _to_two, 2: _to_three, 3: _to_four, 4: _to_five,
}  # fmt: skip

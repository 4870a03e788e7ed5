"""Machines as JSON: the envelope that ``vernus calc envelope`` reads."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member
from vernus.job.formats.json_text import number_of, read_json


def read_envelope(path: Path) -> Envelope:
    """The envelope in a JSON file (members, axes, boxes, clearance_mm; lengths in mm).

    Raises BadInputError naming the file and the entry that is wrong.
    """
    data = read_json(path)
    try:
        return envelope_from(data)
    except BadInputError as error:
        raise BadInputError(f"{path.name}: {error}") from None


def envelope_from(data: Any) -> Envelope:
    """The envelope in decoded JSON; raises BadInputError."""
    if not isinstance(data, dict):
        raise BadInputError("an object with members, axes and boxes is wanted.")
    unknown = set(data) - {"members", "axes", "boxes", "clearance_mm", "note"}
    if unknown:
        raise BadInputError(f"“{sorted(unknown)[0]}” is not known; members, axes, boxes and clearance_mm are.")
    return Envelope(
        tuple(_member(m, n) for n, m in enumerate(_list(data, "members"), 1)),
        tuple(_axis(a, n) for n, a in enumerate(_list(data, "axes"), 1)),
        tuple(_box(b, n) for n, b in enumerate(_list(data, "boxes"), 1)),
        _number(data.get("clearance_mm", 0.0), "clearance_mm"),
    )


def _list(data: dict[str, Any], name: str) -> list[Any]:
    found = data.get(name)
    if not isinstance(found, list):
        raise BadInputError(f"“{name}” must be a list.")
    return found


def _entry(item: Any, what: str, wanted: tuple[str, ...], allowed: tuple[str, ...]) -> dict[str, Any]:
    if not isinstance(item, dict):
        raise BadInputError(f"{what} must be an object.")
    missing = [w for w in wanted if w not in item]
    unknown = [k for k in item if k not in (*wanted, *allowed, "note")]
    if missing:
        raise BadInputError(f"{what} has no “{missing[0]}”.")
    if unknown:
        raise BadInputError(f"{what}: “{unknown[0]}” is not known.")
    return item


def _number(value: Any, what: str) -> float:
    return number_of(value, what, "a number in mm")


def _text(value: Any, what: str) -> str:
    if not isinstance(value, str) or not value or len(value) > 200:
        raise BadInputError(f"{what} must be a short text.")
    return value


def _member(item: Any, n: int) -> Member:
    entry = _entry(item, f"member {n}", ("id",), ("on", "axis"))
    on, axis = entry.get("on"), entry.get("axis")
    return Member(
        _text(entry["id"], f"member {n}: id"),
        None if on is None else _text(on, f"member {n}: on"),
        None if axis is None else _text(axis, f"member {n}: axis"),
    )


def _axis(item: Any, n: int) -> EnvelopeAxis:
    entry = _entry(item, f"axis {n}", ("id", "direction", "from_mm", "to_mm"), ("home_mm", "weight", "minimum_mm"))
    home, weight, least = (
        _number(entry.get(k, usual), f"axis {n}: {k}")
        for k, usual in (("home_mm", 0.0), ("weight", 1.0), ("minimum_mm", 0.0))
    )
    return EnvelopeAxis(
        _text(entry["id"], f"axis {n}: id"),
        _text(entry["direction"], f"axis {n}: direction"),
        _number(entry["from_mm"], f"axis {n}: from_mm"),
        _number(entry["to_mm"], f"axis {n}: to_mm"),
        home,
        weight,
        least,
    )


def _box(item: Any, n: int) -> Box:
    entry = _entry(item, f"box {n}", ("name", "member", "min_mm", "max_mm"), ("pose",))
    corners = []
    for key in ("min_mm", "max_mm"):
        if not isinstance(entry[key], list) or len(entry[key]) != 3:
            raise BadInputError(f"box {n}: {key} must be a list of three numbers, x, y and z.")
        x, y, z = (_number(v, f"box {n}: {key}") for v in entry[key])
        corners.append((x, y, z))
    pose = entry.get("pose", "")
    name, member = _text(entry["name"], f"box {n}: name"), _text(entry["member"], f"box {n}: member")
    return Box(name, member, corners[0], corners[1], pose if pose == "" else _text(pose, f"box {n}: pose"))

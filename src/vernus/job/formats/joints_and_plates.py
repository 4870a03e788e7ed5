"""Plates over existing holes and joints as JSON: what ``vernus calc plate`` and ``calc joint`` read.

Lengths are in mm, or texts with a unit.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any, TypeVar

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import MATERIALS, thread_named
from vernus.core.make.hole_rows import EDGE_DIAMETERS
from vernus.core.make.joint import HEAD_KINDS, INTO_KINDS, LAYER_KINDS, Into, Joint, Layer
from vernus.core.make.plates import KeepOut, PlaceOfHole, PlatePlan, plan_plate
from vernus.job.formats.json_text import number_of, read_as
from vernus.job.formats.stroke import known_entry, length_mm, pair_mm

_MOST_HOLES = 60
_KEYS = ("existing", "wanted", "keep_out", "thickness_mm", "material", "edge_diameters")
_JOINT = ("thread", "layers", "counterbore_mm", "into", "material", "head", "over_head_mm")
_T_NUT = ("lip_mm", "neck_mm", "nut_mm", "slot_mm")
_Word = TypeVar("_Word", bound=str)
_HOLE = ("x_mm", "y_mm", "thread", "counterbore")


def read_plate(path: Path) -> PlatePlan:
    """The plate in a JSON file, solved; raises BadInputError naming the file and the entry that is wrong."""
    return read_as(path, plate_from)


def plate_from(data: Any) -> PlatePlan:
    """The plate in decoded JSON, solved; raises BadInputError."""
    entry = known_entry(data, "the plate", ("existing", "wanted", "thickness_mm", "material"), _KEYS)
    material = entry["material"]
    if material not in MATERIALS:
        raise BadInputError(f"material must be one of {', '.join(MATERIALS)}.")
    edge = entry.get("edge_diameters", EDGE_DIAMETERS)
    return plan_plate(
        _holes(entry["existing"], "existing"),
        _holes(entry["wanted"], "wanted"),
        [_keep_out(area, f"keep_out {n}") for n, area in enumerate(_list(entry.get("keep_out", []), "keep_out"), 1)],
        thickness_mm=length_mm(entry["thickness_mm"], "thickness_mm"),
        material=material,
        edge_diameters=number_of(edge, "edge_diameters", "a number of diameters"),
    )


def _list(value: Any, what: str) -> list[Any]:
    if not isinstance(value, list):
        raise BadInputError(f"{what} must be a list.")
    return value


def _holes(value: Any, what: str) -> list[PlaceOfHole]:
    found: list[PlaceOfHole] = []
    if isinstance(value, list) and len(value) > _MOST_HOLES:
        raise BadInputError(f"{what}: {len(value)} holes; a plate has {_MOST_HOLES} at most.")
    for n, item in enumerate(_list(value, what), 1):
        entry = known_entry(item, f"{what} {n}", ("x_mm", "y_mm", "thread"), _HOLE)
        sunk = entry.get("counterbore", False)
        if not isinstance(entry["thread"], str) or not isinstance(sunk, bool):
            raise BadInputError(f"{what} {n}: thread is a text such as “M6”, counterbore true or false.")
        x, y = (length_mm(entry[k], f"{what} {n}: {k}") for k in ("x_mm", "y_mm"))
        found.append(PlaceOfHole(x, y, thread_named(entry["thread"]), sunk))
    return found


def _keep_out(item: Any, what: str) -> KeepOut:
    entry = known_entry(item, what, ("from", "to"), ("from", "to"))
    a, b = pair_mm(entry["from"], f"{what}: from"), pair_mm(entry["to"], f"{what}: to")
    return KeepOut((min(a[0], b[0]), min(a[1], b[1])), (max(a[0], b[0]), max(a[1], b[1])))


def read_joint(path: Path) -> Joint:
    """The joint in a JSON file; raises BadInputError naming the file and the entry that is wrong."""
    return read_as(path, joint_from)


def joint_from(data: Any) -> Joint:
    """The joint in decoded JSON; raises BadInputError."""
    entry = known_entry(data, "the joint", ("thread", "layers", "into", "material"), _JOINT)
    if not isinstance(entry["thread"], str):
        raise BadInputError("thread is a text such as “M6” or “1/4-20”.")
    if not isinstance(entry["layers"], list) or not entry["layers"]:
        raise BadInputError("layers must be a list with at least one part.")
    over = entry.get("over_head_mm")
    return Joint(
        thread_named(entry["thread"]),
        tuple(_layer(item, f"layer {n}") for n, item in enumerate(entry["layers"], 1)),
        _into(entry["into"]),
        _one_of(entry["material"], "material", MATERIALS),
        length_mm(entry.get("counterbore_mm", 0), "counterbore_mm"),
        _one_of(entry.get("head", "cap"), "head", HEAD_KINDS),
        None if over is None else length_mm(over, "over_head_mm"),
    )


def _layer(item: Any, what: str) -> Layer:
    entry = known_entry(item, what, ("kind", "thickness_mm"), ("kind", "thickness_mm"))
    return Layer(
        _one_of(entry["kind"], f"{what}: kind", LAYER_KINDS), length_mm(entry["thickness_mm"], f"{what}: thickness_mm")
    )


def _into(item: Any) -> Into:
    entry = known_entry(item, "into", ("kind",), ("kind", "thread_mm", *_T_NUT))
    kind = _one_of(entry["kind"], "into: kind", INTO_KINDS)
    deep = entry.get("thread_mm")
    missing = [k for k in _T_NUT if entry.get(k) is None] if kind == "t-nut" else []
    if missing:
        raise BadInputError(f"into: a T-nut wants {', '.join(missing)} too.")
    sizes = {k: length_mm(entry[k], f"into: {k}") for k in _T_NUT if entry.get(k) is not None}
    return Into(kind, None if deep is None else length_mm(deep, "into: thread_mm"), **sizes)


def _one_of(value: Any, what: str, words: Sequence[_Word]) -> _Word:
    for word in words:
        if value == word:
            return word
    raise BadInputError(f"{what} must be one of {', '.join(words)}.")

"""A joint as JSON: what ``vernus calc joint`` reads. Lengths are in mm, or texts with a unit."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any, TypeVar

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import MATERIALS, thread_named
from vernus.core.make.joint import HEAD_KINDS, INTO_KINDS, LAYER_KINDS, Into, Joint, Layer
from vernus.job.formats.json_text import read_json
from vernus.job.formats.stroke import known_entry, length_mm

_KEYS = ("thread", "layers", "counterbore_mm", "into", "material", "head", "over_head_mm")
_T_NUT = ("lip_mm", "neck_mm", "nut_mm", "slot_mm")
_Word = TypeVar("_Word", bound=str)


def read_joint(path: Path) -> Joint:
    """The joint in a JSON file; raises BadInputError naming the file and the entry that is wrong."""
    try:
        return joint_from(read_json(path))
    except BadInputError as error:
        said = str(error)
        raise BadInputError(said if said.startswith(path.name) else f"{path.name}: {said}") from None


def joint_from(data: Any) -> Joint:
    """The joint in decoded JSON; raises BadInputError."""
    entry = known_entry(data, "the joint", ("thread", "layers", "into", "material"), _KEYS)
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

"""The data files shipped with Vernus: scale families, machine kinds, measuring tools, margin schools."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.plan.scales import ScaleFamily
from vernus.job.catalog.templates import MachineTemplate


@dataclass(frozen=True)
class Tool:
    """A measuring tool and its usual division: in mm, and as an inch tool has it."""

    id: str
    label: str
    division_mm: float
    division_in: str


@dataclass(frozen=True)
class MarginSchool:
    """A named habit of how much to leave at each end (mm), and its reason."""

    id: str
    label: str
    margin_mm: float
    why: str


@dataclass(frozen=True)
class ToleranceHabit:
    """A named tolerance of an alignment, end to end (mm), and its reason."""

    id: str
    label: str
    mm: float
    why: str


@dataclass(frozen=True)
class FaceSchool:
    """A named way of weighing what a face costs, and its reason."""

    id: str
    label: str
    weights: dict[str, float]
    why: str


@dataclass(frozen=True)
class ProfileStart:
    """A generic kind of display to begin its profile from: fields of ``ProfileSetting`` and their values."""

    id: str
    label: str
    fields: dict[str, Any]


def _load(name: str) -> Any:
    return json.loads(resources.files("vernus.data").joinpath(name).read_text(encoding="utf-8"))


@cache
def scale_families() -> tuple[ScaleFamily, ...]:
    """Every scale family, in the order shown."""
    return tuple(family_from(f) for f in _load("families.json")["families"])


def family_from(data: dict[str, Any]) -> ScaleFamily:
    """A scale family from decoded JSON."""
    fields: dict[str, Any] = {k: tuple(v) if isinstance(v, list) else v for k, v in data.items()}
    return ScaleFamily(**fields)


@cache
def machine_kinds() -> tuple[MachineTemplate, ...]:
    """Every machine kind shipped, in the order shown."""
    return tuple(MachineTemplate.model_validate(k) for k in _load("machines.json")["kinds"])


@cache
def tools() -> tuple[Tool, ...]:
    """The tools a travel is measured with."""
    return tuple(Tool(**t) for t in _load("practice.json")["tools"])


@cache
def margin_schools() -> tuple[MarginSchool, ...]:
    """The named margins."""
    return tuple(MarginSchool(**m) for m in _load("practice.json")["margins"])


@cache
def tolerance_habits() -> tuple[ToleranceHabit, ...]:
    """The named tolerances of an alignment."""
    return tuple(ToleranceHabit(**t) for t in _load("practice.json")["tolerances"])


@cache
def face_schools() -> tuple[FaceSchool, ...]:
    """The named ways of weighing a face."""
    return tuple(FaceSchool(**f) for f in _load("practice.json")["face_schools"])


def machine_kind(wanted: str) -> MachineTemplate:
    """The kind with id ``wanted``; raises BadInputError naming the kinds there are."""
    for kind in machine_kinds():
        if kind.id == wanted:
            return kind
    raise BadInputError(
        f"There is no machine kind “{wanted}”; choose one of {', '.join(k.id for k in machine_kinds())}."
    )


@cache
def profile_starts() -> tuple[ProfileStart, ...]:
    """Generic kinds of display to begin a profile from."""
    return tuple(ProfileStart(p["id"], p["label"], p["fields"]) for p in _load("practice.json")["display_profiles"])

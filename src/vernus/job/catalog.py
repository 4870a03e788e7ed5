"""The data files shipped with Vernus: scale families, machine kinds, measuring tools, margin schools."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.scales import ScaleFamily


@dataclass(frozen=True)
class AxisTemplate:
    """An axis a machine of some kind has."""

    name: str
    label: str
    moving: str
    still: str
    scale_on: str


@dataclass(frozen=True)
class MachineKind:
    """A kind of machine and its axes."""

    id: str
    label: str
    axes: tuple[AxisTemplate, ...]


@dataclass(frozen=True)
class Tool:
    """A measuring tool and its usual division (mm)."""

    id: str
    label: str
    division_mm: float


@dataclass(frozen=True)
class MarginSchool:
    """A named habit of how much to leave at each end (mm), and its reason."""

    id: str
    label: str
    margin_mm: float
    why: str


def _load(name: str) -> Any:
    return json.loads(resources.files("vernus.data").joinpath(name).read_text(encoding="utf-8"))


@cache
def scale_families() -> tuple[ScaleFamily, ...]:
    """Every scale family, in the order shown."""
    return tuple(
        ScaleFamily(**{**f, "sizes_mm": tuple(f["sizes_mm"]), "section_mm": tuple(f["section_mm"])})
        for f in _load("families.json")["families"]
    )


@cache
def machine_kinds() -> tuple[MachineKind, ...]:
    """Every machine kind, in the order shown."""
    return tuple(
        MachineKind(k["id"], k["label"], tuple(AxisTemplate(**a) for a in k["axes"]))
        for k in _load("machines.json")["kinds"]
    )


@cache
def tools() -> tuple[Tool, ...]:
    """The tools a travel is measured with."""
    return tuple(Tool(**t) for t in _load("practice.json")["tools"])


@cache
def margin_schools() -> tuple[MarginSchool, ...]:
    """The named margins."""
    return tuple(MarginSchool(**m) for m in _load("practice.json")["margins"])


def machine_kind(wanted: str) -> MachineKind:
    """The kind with id ``wanted``; raises BadInputError naming the kinds there are."""
    for kind in machine_kinds():
        if kind.id == wanted:
            return kind
    raise BadInputError(
        f"There is no machine kind “{wanted}”; choose one of {', '.join(k.id for k in machine_kinds())}."
    )

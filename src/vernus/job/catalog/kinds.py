"""The machine kinds by name and axes only, for a list to choose from: read without making a template of any of them."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources


@dataclass(frozen=True)
class AxisHead:
    """An axis of a kind: its name, what moves, and what readout is usual on it."""

    name: str
    label: str
    readout: str


@dataclass(frozen=True)
class KindHead:
    """A machine kind: its id, what it is called, its axes."""

    id: str
    label: str
    axes: tuple[AxisHead, ...]


@cache
def kind_heads() -> tuple[KindHead, ...]:
    """Every machine kind shipped, in the order shown."""
    data = json.loads(resources.files("vernus.data").joinpath("machines.json").read_text(encoding="utf-8"))
    return tuple(KindHead(k["id"], k["label"], tuple(_axis(a) for a in k["axes"])) for k in data["kinds"])


def _axis(data: dict[str, str]) -> AxisHead:
    return AxisHead(data["name"], data["label"], data.get("readout", "none"))

"""Kits: lengths sold together for one price, and which of them serves the axes of a machine.

Each axis wants one length of the kit, at least its own need; longest need to longest length is always best.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vernus.core.plan.scales import Kit

_EDGE_MM = 1e-9


@dataclass(frozen=True)
class KitChoice:
    """A kit and the length of it that each axis gets (mm)."""

    kit: Kit
    lengths_mm: dict[str, float]

    @property
    def over_mm(self) -> float:
        """The length of everything in the kit."""
        return sum(self.kit.lengths_mm)


def kit_that_serves(kits: Sequence[Kit], needs_mm: Mapping[str, float]) -> KitChoice | None:
    """The shortest kit whose lengths serve every axis's need (mm); None where none does or nothing is needed."""
    found = [choice for kit in kits if (choice := _share_out(kit, needs_mm)) is not None]
    return min(found, key=lambda c: (c.over_mm, c.kit.lengths_mm), default=None)


def _share_out(kit: Kit, needs_mm: Mapping[str, float]) -> KitChoice | None:
    axes = sorted(needs_mm, key=lambda a: (-needs_mm[a], a))
    lengths = sorted(kit.lengths_mm)
    if not axes or len(lengths) < len(axes):
        return None
    given: dict[str, float] = {}
    for axis in reversed(axes):  # the shortest need first takes the shortest length that serves it
        serves = next((mm for mm in lengths if mm >= needs_mm[axis] - _EDGE_MM), None)
        if serves is None:
            return None
        lengths.remove(serves)
        given[axis] = serves
    return KitChoice(kit, given)

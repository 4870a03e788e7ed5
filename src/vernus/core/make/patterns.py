"""Patterns of holes entered once: a row, a rectangle, a circle; and carried to the part that bolts there.

Two faces that touch look at each other: what is at x on one lies at ``across − x`` on the other, heights stay. A slot's
direction is mirrored with it. Lengths in mm, angles from +x counter-clockwise.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from vernus.core.errors import BadInputError

Spot = tuple[float, float]
MOST = 200


def row(first: Spot, pitch: Spot, count: int) -> list[Spot]:
    """``count`` places from the first, each one pitch (along x and y) from the last; raises BadInputError."""
    _some(count)
    return [(first[0] + n * pitch[0], first[1] + n * pitch[1]) for n in range(count)]


def rectangle(first: Spot, pitch: Spot, counts: tuple[int, int]) -> list[Spot]:
    """Rows over rows from the lower left place; raises BadInputError."""
    _some(counts[0] * counts[1])
    return [(first[0] + n * pitch[0], first[1] + m * pitch[1]) for m in range(counts[1]) for n in range(counts[0])]


def circle(middle: Spot, radius: float, count: int, start_deg: float = 0.0) -> list[Spot]:
    """``count`` places evenly round a middle, counter-clockwise from ``start_deg``; raises BadInputError."""
    _some(count)
    if not radius > 0:
        raise BadInputError("The radius of a circle of holes must be larger than zero.")
    angles = [math.radians(start_deg + 360 * n / count) for n in range(count)]
    return [(middle[0] + radius * math.cos(a), middle[1] + radius * math.sin(a)) for a in angles]


def _some(count: int) -> None:
    if not 1 <= count <= MOST:
        raise BadInputError(f"A pattern has 1 to {MOST} holes; {count} were asked for.")


def carried(places: Sequence[Spot], first_at: Spot, *, turned: bool) -> list[Spot]:
    """A pattern on another part, its first place at ``first_at``; ``turned`` where the faces look at each other."""
    if not places:
        return []
    x0, y0 = places[0]
    sign = -1.0 if turned else 1.0
    return [(first_at[0] + sign * (x - x0), first_at[1] + (y - y0)) for x, y in places]


def chain_rest(planned_mm: float, gap_mm: float) -> float:
    """What to take off the last piece of a chain for the gap measured (mm); negative: it is too short by as much."""
    if not (planned_mm > 0 and gap_mm > 0):
        raise BadInputError("A piece and the gap it fills must be longer than zero.")
    return planned_mm - gap_mm

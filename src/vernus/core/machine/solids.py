"""Convex solids to draw: boxes, discs and prisms, as half-spaces, faces and edges. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import NDArray

from vernus.core.errors import BadInputError
from vernus.core.machine.envelope import Triple

Points = NDArray[np.float64]
ROUND: Final = 24
"""How many sides a disc is drawn with."""
_BOX_FACES: Final = ((0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4), (2, 3, 7, 6), (1, 2, 6, 5), (3, 0, 4, 7))
_BOX_NORMALS: Final = np.array([(0, 0, -1), (0, 0, 1), (0, -1, 0), (0, 1, 0), (1, 0, 0), (-1, 0, 0)], dtype=float)


@dataclass(frozen=True, eq=False)
class Solid:
    """A convex solid: ``points`` (n, 3), ``faces`` as loops of point numbers seen counter-clockwise from outside.

    ``smooth`` numbers the faces that run into each other without an edge, as round a disc.
    """

    points: Points
    faces: tuple[tuple[int, ...], ...]
    smooth: frozenset[int] = frozenset()

    @cached_property
    def normals(self) -> Points:
        """The outward unit normals, one row per face; nobody changes them."""
        if self.faces is _BOX_FACES:
            return _BOX_NORMALS
        corners = np.array([[self.points[f[0]], self.points[f[1]], self.points[f[2]]] for f in self.faces])
        found = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 1])
        return np.asarray(found / np.linalg.norm(found, axis=1, keepdims=True), dtype=float)

    @cached_property
    def offsets(self) -> Points:
        """How far each face lies from the origin along its normal (mm): inside where n·p is less for every face."""
        first = np.array([self.points[f[0]] for f in self.faces])
        return np.asarray((self.normals * first).sum(axis=1), dtype=float)

    @cached_property
    def edges(self) -> tuple[tuple[int, int, int, int], ...]:
        """(point, point, face, face) of every edge."""
        sides: dict[tuple[int, int], list[int]] = {}
        for n, face in enumerate(self.faces):
            for a, b in zip(face, (*face[1:], face[0]), strict=True):
                sides.setdefault((min(a, b), max(a, b)), []).append(n)
        return tuple((a, b, two[0], two[-1]) for (a, b), two in sides.items())

    def moved(self, by: Triple) -> Solid:
        """The same solid somewhere else (mm)."""
        return Solid(self.points + np.array(by), self.faces, self.smooth)


def box_solid(low: Triple, high: Triple) -> Solid:
    """A box between two corners; one without thickness gets a hair of it, so that it can be drawn."""
    thin = [1e-3 if h - l < 1e-3 else 0.0 for l, h in zip(low, high, strict=True)]  # noqa: E741
    (x0, y0, z0), (x1, y1, z1) = low, [h + t for h, t in zip(high, thin, strict=True)]
    corners = [(x0, y0, z0), (x1, y0, z0), (x1, y1, z0), (x0, y1, z0)]
    return Solid(np.array([*corners, *((x, y, z1) for x, y, _ in corners)], dtype=float), _BOX_FACES)


def prism_solid(outline: Sequence[tuple[float, float]], low: float, high: float, along: int = 2) -> Solid:
    """A convex outline drawn out along a coordinate (0, 1, 2) from ``low`` to ``high``.

    The outline's two coordinates are the other two in cyclic order, counter-clockwise. Raises BadInputError.
    """
    n = len(outline)
    if n < 3 or not high > low:
        raise BadInputError("A prism needs three corners at least, and a length.")
    u, v = (along + 1) % 3, (along + 2) % 3
    points = np.zeros((2 * n, 3))
    for k, level in enumerate((low, high)):
        points[k * n : (k + 1) * n, u] = [p for p, _ in outline]
        points[k * n : (k + 1) * n, v] = [q for _, q in outline]
        points[k * n : (k + 1) * n, along] = level
    sides = tuple((k, (k + 1) % n, n + (k + 1) % n, n + k) for k in range(n))
    return Solid(points, (tuple(reversed(range(n))), tuple(range(n, 2 * n)), *sides))


def disc_solid(low: Triple, high: Triple, along: int) -> Solid:
    """The round body that fills a box, lying along a coordinate; drawn with ``ROUND`` sides that show no edges."""
    u, v = (along + 1) % 3, (along + 2) % 3
    mid = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
    half = [max(1e-3, (b - a) / 2) for a, b in zip(low, high, strict=True)]
    angles = [2 * math.pi * (k + 0.5) / ROUND for k in range(ROUND)]
    outline = [(mid[u] + half[u] * math.cos(a), mid[v] + half[v] * math.sin(a)) for a in angles]
    drawn = prism_solid(outline, low[along], max(high[along], low[along] + 1e-3), along)
    return Solid(drawn.points, drawn.faces, frozenset(range(2, 2 + ROUND)))

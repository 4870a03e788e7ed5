"""Hidden lines of convex solids, exactly: which stretches of which edges can be seen from a direction.

A point p of an edge is hidden by a convex solid {q: n_i·q ≤ c_i} iff some q = p + s·d with s > 0 lies inside it, where
d points to the viewer. Along the edge p(t) = a + t·e that is a linear program in t and s; eliminating s (Fourier and
Motzkin) leaves for every pair of faces, one toward the viewer (g > 0) and one away (g < 0), one linear inequality in
t: the hidden stretch is one interval. Parallel projection; lengths in mm.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np
from numpy.typing import NDArray

from vernus.core.machine.solids import Points, Solid

_SHRUNK_MM: Final = 1e-4
_HAIR: Final = 1e-12
_SHORTEST: Final = 1e-6


@dataclass(frozen=True)
class View:
    """A direction to look from: ``azimuth_deg`` round the upright axis from the right, ``height_deg`` above level."""

    azimuth_deg: float = -62.0
    height_deg: float = 28.0

    @cached_property
    def toward(self) -> NDArray[np.float64]:
        """The unit vector that points to the viewer; a hair off the machine's own directions."""
        a, h = math.radians(self.azimuth_deg + 1e-5), math.radians(min(89.9, max(-89.9, self.height_deg)) + 1e-5)
        return np.array([math.cos(h) * math.cos(a), math.cos(h) * math.sin(a), math.sin(h)])

    @cached_property
    def frame(self) -> NDArray[np.float64]:
        """Rows: to the right on the picture, up on it, and to the viewer."""
        d = self.toward
        right = np.array([-d[1], d[0], 0.0])
        right /= np.linalg.norm(right)
        return np.array([right, np.cross(d, right), d])

    def flat(self, points: Points) -> Points:
        """Points (n, 3) as (right, up, toward the viewer) of the picture, mm."""
        return np.asarray(points @ self.frame.T, dtype=float)


@dataclass(frozen=True)
class Line:
    """A visible stretch: the solid it belongs to, its ends on the picture (mm), and whether it bounds the solid."""

    solid: int
    start: tuple[float, float]
    end: tuple[float, float]
    outline: bool


@dataclass(frozen=True)
class Mark:
    """A line drawn on a solid, such as a slot: from one point of its surface to another, on one of its faces."""

    solid: int
    face: int
    start: tuple[float, float, float]
    end: tuple[float, float, float]


def visible_lines(solids: Sequence[Solid], view: View, marks: Sequence[Mark] = ()) -> list[Line]:
    """The stretches of the solids' edges, and of lines drawn on them, that nothing hides from ``view``."""
    d = view.toward
    owners, starts, ends, outlines = _drawn_edges(solids, d, marks)
    if not owners:
        return []
    a, b, owner = np.array(starts), np.array(ends), np.array(owners)
    hidden = _hidden_stretches(solids, view, a, b, owner)
    flat_a, flat_b = view.flat(a), view.flat(b)
    lines: list[Line] = []
    for n, outline in enumerate(outlines):
        for t0, t1 in _rest(hidden.get(n, [])):
            p, q = flat_a[n] + t0 * (flat_b[n] - flat_a[n]), flat_a[n] + t1 * (flat_b[n] - flat_a[n])
            lines.append(Line(int(owner[n]), (float(p[0]), float(p[1])), (float(q[0]), float(q[1])), outline))
    return lines


def _drawn_edges(
    solids: Sequence[Solid], d: Points, marks: Sequence[Mark]
) -> tuple[list[int], list[Points], list[Points], list[bool]]:
    """Edges with a face toward the viewer, without those inside a round body: owner, both ends, outline."""
    owners, starts, ends, outlines = list[int](), list[Points](), list[Points](), list[bool]()
    for n, solid in enumerate(solids):
        front = solid.normals @ d > 0
        for p, q, f, g in solid.edges:
            outline = bool(front[f] != front[g])
            if outline or (front[f] and not (f in solid.smooth and g in solid.smooth)):
                owners.append(n)
                starts.append(solid.points[p])
                ends.append(solid.points[q])
                outlines.append(outline)
    for mark in marks:
        if solids[mark.solid].normals[mark.face] @ d > 0:
            owners.append(mark.solid)
            starts.append(np.array(mark.start))
            ends.append(np.array(mark.end))
            outlines.append(False)
    return owners, starts, ends, outlines


def _reach(solids: Sequence[Solid], view: View) -> tuple[Points, Points, Points]:
    """Per solid the least, the greatest and the mean coordinates on the picture (n, 3)."""
    sizes = np.array([len(s.points) for s in solids])
    first = np.concatenate([[0], np.cumsum(sizes)[:-1]])
    flat = view.flat(np.concatenate([s.points for s in solids]))
    mean = np.add.reduceat(flat, first) / sizes[:, None]
    return np.minimum.reduceat(flat, first), np.maximum.reduceat(flat, first), mean


def _hidden_stretches(
    solids: Sequence[Solid], view: View, a: Points, b: Points, owner: NDArray[np.int_]
) -> dict[int, list[tuple[float, float]]]:
    """Edge number → the stretches (t from 0 to 1) that some other solid hides."""
    flat_a, flat_b = view.flat(a), view.flat(b)
    low, high = np.minimum(flat_a, flat_b), np.maximum(flat_a, flat_b)
    least, most, _ = _reach(solids, view)
    near = np.ones((len(solids), len(a)), dtype=bool)
    for c in (0, 1):
        near &= (least[:, None, c] < high[None, :, c]) & (low[None, :, c] < most[:, None, c])
    near &= most[:, None, 2] > low[None, :, 2] + _SHRUNK_MM
    near[owner, np.arange(len(a))] = False
    found: dict[int, list[tuple[float, float]]] = {}
    for faces in sorted({len(s.faces) for s in solids}):
        group = np.array([n for n, s in enumerate(solids) if len(s.faces) == faces])
        which, edge = np.nonzero(near[group])
        if not len(which):
            continue
        t0, t1 = _behind([solids[n] for n in group], which, a[edge], (b - a)[edge], view.toward)
        for k in np.nonzero(t0 < t1 - _SHORTEST)[0]:
            found.setdefault(int(edge[k]), []).append((float(t0[k]), float(t1[k])))
    return found


def _behind(solids: Sequence[Solid], which: NDArray[np.int_], a: Points, e: Points, d: Points) -> tuple[Points, Points]:
    """Per pair (solid ``which``, edge a + t·e) the interval of t that lies behind the solid; empty where t0 ≥ t1."""
    normals = np.array([s.normals for s in solids])[which]
    offsets = np.array([s.offsets for s in solids])[which]
    at = np.einsum("kij,kj->ki", normals, a) - offsets + _SHRUNK_MM
    slope = np.einsum("kij,kj->ki", normals, e)
    g = normals @ d
    g = np.where(np.abs(g) < _HAIR, _HAIR, g)
    # s ≤ (or ≥ where g < 0) level + t·rate
    level, rate = -at / g, -slope / g
    t0, t1 = np.zeros(len(a)), np.ones(len(a))

    def bound(alpha: Points, beta: Points, where: NDArray[np.bool_]) -> None:
        """Take in alpha + beta·t ≥ 0 for the pairs of ``where``."""
        root = -alpha / np.where(beta == 0, _HAIR, beta)
        np.maximum(t0, root, out=t0, where=where & (beta > 0))
        np.minimum(t1, root, out=t1, where=where & (beta < 0))
        t1[where & (beta == 0) & (alpha < 0)] = -1.0

    faces = range(normals.shape[1])
    for i in faces:
        ahead = g[:, i] > 0
        if not ahead.any():
            continue
        bound(level[:, i] - _SHRUNK_MM, rate[:, i], ahead)
        for j in faces:
            pair = ahead & (g[:, j] < 0)
            if pair.any():
                bound(level[:, i] - level[:, j], rate[:, i] - rate[:, j], pair)
    return t0, t1


def _rest(hidden: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """What of 0 … 1 no interval covers."""
    at, seen = 0.0, list[tuple[float, float]]()
    for start, end in sorted(hidden):
        if start > at + _SHORTEST:
            seen.append((at, start))
        at = max(at, end)
    if at < 1 - _SHORTEST:
        seen.append((at, 1.0))
    return seen


def back_to_front(solids: Sequence[Solid], view: View) -> list[int]:
    """The order in which solids that don't cut each other can be painted over one another.

    A solid goes before one that lies, beyond a plane square to a machine direction, on the viewer's side of it, where
    both overlap on the picture. A circle of such pairs, which solids of this kind hardly make, is cut at the farthest.
    """
    n = len(solids)
    if n == 0:
        return []
    d = view.toward
    sizes = np.array([len(s.points) for s in solids])
    first = np.concatenate([[0], np.cumsum(sizes)[:-1]])
    points = np.concatenate([s.points for s in solids])
    low, high = np.minimum.reduceat(points, first), np.maximum.reduceat(points, first)
    least, most, mean = _reach(solids, view)
    over = np.ones((n, n), dtype=bool)
    for c in (0, 1):
        over &= (least[:, None, c] < most[None, :, c]) & (least[None, :, c] < most[:, None, c])
    behind = np.zeros((n, n), dtype=bool)
    for c in range(3):
        apart = high[:, None, c] <= low[None, :, c] + _SHRUNK_MM
        behind |= apart if d[c] > 0 else apart.T
    before = behind & ~behind.T & over
    np.fill_diagonal(before, False)
    waiting = before.sum(axis=0)
    depth = mean[:, 2]
    left, order = np.ones(n, dtype=bool), list[int]()
    while len(order) < n:
        free = np.nonzero(left & (waiting <= 0))[0]
        taken = free[np.argsort(depth[free])] if len(free) else np.array([np.argmin(np.where(left, depth, np.inf))])
        order += taken.tolist()
        left[taken] = False
        waiting = waiting - before[taken].sum(axis=0)
    return order

"""Places measured in a picture: the plane of a face set straight by a thing of known size that lies on it.

Four corners of a rectangle of known sides fix the projective map (homography) between picture and plane: with
``s (u, v, 1) = H (x, y, 1)`` each corner gives two linear equations for the eight unknowns of H (the ninth is 1).
Places follow by the inverse. Their ± is the law of propagation (JCGM 100, clause 5.1.2) with the Jacobian of the whole
way from clicks and sides to places, taken by central differences; a click's ± and a side's ± are read as 95 %. A thing
standing proud of the face shifts what lies beside it outwards, by no more than its height times the tangent of the
angle of view; that bound is taken as rectangular. How a lens bends straight lines isn't known here: keep the thing near
what is measured and everything away from the picture's edge. Measured in a picture is never instead of the rule, but
beside it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding

Array = NDArray[np.float64]
Click = tuple[float, float, float]
"""A place clicked in the picture: picture points to the right and down, and what it is good to (95 %)."""

K95 = 1.959964
_MOST_LEAN = 2.0
"""How much shorter a length may look across than along: seen from 60 degrees; common practice, no source."""
_LEANING = 1.3  # from 40 degrees on it is said
_VIEW = 0.9
"""Tangent of the angle of view at a picture's corner: of the wide lenses of phones; from memory, no source."""
_MOST_PROUD_MM = 1.2
_COARSE_MM = 0.5
_STEP = 1e-4


@dataclass(frozen=True)
class Sourced:
    """The thing of known size: its corners in the picture, in order around it, and its sides in mm.

    ``length_mm`` is the side from the first corner to the second, ``width_mm`` that from the second to the third;
    ``within_mm`` what they are good to (95 %), ``proud_mm`` how far it stands above the face.
    """

    corners: tuple[Click, ...]
    length_mm: float
    width_mm: float
    within_mm: float = 0.0
    proud_mm: float = 0.0


@dataclass(frozen=True)
class PhotoPlace:
    """A place on the face in mm from the datum, with its ± (95 %) each way."""

    x_mm: float
    y_mm: float
    x_expanded_mm: float
    y_expanded_mm: float


@dataclass(frozen=True)
class Rectified:
    """The places, how fine the picture is (mm to a picture point), how far it looks from the side, what to mind."""

    places: tuple[PhotoPlace, ...]
    mm_per_point: float
    lean_deg: float
    findings: tuple[Finding, ...]


def measure_photo(known: Sourced, points: Sequence[Click], datum: Sequence[Click], size: tuple[int, int]) -> Rectified:
    """Places on a face from a picture of it; everything in picture points, x to the right and y down.

    ``datum`` is none (the first corner, and the line to the second), one place, or a place and a second one along its
    line. x counts along the line, y square to it, anticlockwise as seen.

    Raises BadInputError for fewer than four corners, corners out of order, no size, a picture too slanted or too coarse
    to say anything, a thing too far off the face, and a place that the plane's horizon cuts off.
    """
    _check(known, (*known.corners, *points, *datum), size)
    corners = np.array(known.corners, float)[:, :2]
    sides = np.array([known.length_mm, known.width_mm])
    marks = np.array([*points, *datum], float).reshape(-1, 3)
    clicked = marks[:, :2]
    matrix = _plane_map(corners, sides)
    local = _local(matrix, corners.mean(axis=0))
    stretch = np.linalg.svd(local, compute_uv=False)
    lean = float(stretch[0] / stretch[1])
    if lean > _MOST_LEAN:
        raise BadInputError(
            f"The picture looks at the face from {_degrees(lean):.0f}° off square, where a place can't be told any "
            "more; take it again from straight in front, as far away as the thing still fills a third of it."
        )
    whole, own = _spread(known, corners, sides, marks, len(points), size)
    where = _places(corners, sides, clicked, len(points))
    expanded = K95 * np.sqrt(whole + own)
    places = tuple(
        PhotoPlace(*(float(w) for w in at), *(float(e) for e in by)) for at, by in zip(where, expanded, strict=True)
    )
    return Rectified(places, float(math.sqrt(stretch[0] * stretch[1])), _degrees(lean), _minded(places, lean))


def _check(known: Sourced, clicks: Sequence[Click], size: tuple[int, int]) -> None:
    if len(known.corners) != 4:
        raise BadInputError(
            f"{len(known.corners)} of 4 corners are marked; a plane needs all four corners of the thing of known size."
        )
    for name, value in (("from corner 1 to 2", known.length_mm), ("from corner 2 to 3", known.width_mm)):
        if not (math.isfinite(value) and value > 0):
            raise BadInputError(f"The side of the thing {name} must be more than nothing; give its size.")
    if min(size) < 1 or not all(within > 0 for _, _, within in clicks):
        raise BadInputError("A picture has a width and a height, and a click is good to more than nothing.")
    if known.proud_mm > _MOST_PROUD_MM or known.proud_mm < 0:
        raise BadInputError(
            f"The thing stands {known.proud_mm:g} mm ({known.proud_mm / 25.4:.3f} in) above the face: what lies "
            "beside it is then off by as much. Lay something thin on the face (a rule, a sheet of paper), or mark the "
            "corners of its foot."
        )
    corners = [complex(x, y) for x, y, _ in known.corners]
    edges = [corners[(n + 1) % 4] - corners[n] for n in range(4)]
    shortest = min(abs(e) for e in edges)
    turns = [(edges[n].conjugate() * edges[(n + 1) % 4]).imag for n in range(4)]
    if shortest > 0 and not (all(t > 0 for t in turns) or all(t < 0 for t in turns)):
        raise BadInputError("The corners don't go around the thing; mark them one after the other around it.")
    click_px = max(within for _, _, within in known.corners)
    if shortest < 10 * click_px:
        raise BadInputError(
            f"The thing's shortest side is {shortest:.0f} picture points long, where {10 * click_px:.0f} are "
            f"needed with clicks good to ± {click_px:g}; take the picture nearer, or zoom in and click finer."
        )


def _plane_map(corners: Array, sides: Array) -> Array:
    """The matrix from picture points to mm on the plane, the first corner at nought, y anticlockwise as seen."""
    length, width = sides
    first, second = corners[1] - corners[0], corners[2] - corners[1]
    around = first[0] * second[1] - first[1] * second[0]
    up = -width if around > 0 else width  # picture rows count downwards
    plane = np.array([(0, 0), (length, 0), (length, up), (0, up)])
    rows: list[list[float]] = []
    right: list[float] = []
    for (u, v), (x, y) in zip(corners, plane, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -x * u, -x * v], [0, 0, 0, u, v, 1, -y * u, -y * v]]
        right += [x, y]
    found: Array = np.append(np.linalg.solve(np.array(rows), np.array(right)), 1.0).reshape(3, 3)
    return found


def _on_plane(matrix: Array, points: Array) -> Array:
    spread = np.column_stack([points, np.ones(len(points))]) @ matrix.T
    found: Array = spread[:, :2] / spread[:, 2:]
    return found


def _local(matrix: Array, at: Array) -> Array:
    """Millimetres on the plane per picture point about a place."""
    step = 0.5
    moved = _on_plane(matrix, at + step * np.array([(1, 0), (-1, 0), (0, 1), (0, -1)]))
    return np.column_stack([(moved[0] - moved[1]), (moved[2] - moved[3])]) / (2 * step)


def _places(corners: Array, sides: Array, clicked: Array, count: int) -> Array:
    """The first ``count`` clicks in mm from the datum that the others are; raises BadInputError beyond the horizon."""
    matrix = _plane_map(corners, sides)
    depth = np.column_stack([clicked, np.ones(len(clicked))]) @ matrix[2]
    least = float((np.column_stack([corners, np.ones(4)]) @ matrix[2]).min())
    behind = np.flatnonzero(depth <= 0.2 * least)
    if behind.size:
        raise BadInputError(
            f"Place {behind[0] + 1} lies too far off towards the plane's horizon; take the picture squarer or nearer."
        )
    on = _on_plane(matrix, clicked)
    datum = on[count:]
    origin = datum[0] if len(datum) else np.zeros(2)
    along = datum[1] - datum[0] if len(datum) > 1 else np.array([1.0, 0.0])
    if not np.hypot(*along) > 0:
        raise BadInputError("The two places of the datum are the same; mark the second one along its edge.")
    along = along / np.hypot(*along)
    off = on[:count] - origin
    return np.column_stack([off @ along, off @ np.array([-along[1], along[0]])])


def _spread(
    known: Sourced, corners: Array, sides: Array, marks: Array, count: int, size: tuple[int, int]
) -> tuple[Array, Array]:
    """The variances of the places in mm²: from what all share (corners, sides, datum), and from each one's own."""
    points, datum = marks[:count, :2], marks[count:, :2].copy()
    corner_u = np.array(known.corners, float)[:, 2:].repeat(2, axis=1) / K95
    datum_u = marks[count:, 2:].repeat(2, axis=1) / K95
    total = np.zeros((count, 2))
    for value, u in ((corners, corner_u), (sides, np.full(2, known.within_mm / K95)), (datum, datum_u)):
        for index in np.ndindex(value.shape):
            step = _STEP * max(1.0, abs(float(value[index])))
            ways = []
            for sign in (1.0, -1.0):
                value[index] += sign * step
                ways.append(_places(corners, sides, np.concatenate([points, datum]), count))
                value[index] -= sign * step
            total += (u[index] * (ways[0] - ways[1]) / (2 * step)) ** 2
    own = np.zeros((count, 2))
    step = _STEP * 100
    for axis in (0, 1):
        moved = np.eye(2)[axis] * step
        ways = [_places(corners, sides, np.concatenate([points + s * moved, datum]), count) for s in (1.0, -1.0)]
        own += (marks[:count, 2:] / K95 * (ways[0] - ways[1]) / (2 * step)) ** 2
    half = math.hypot(*size) / 2
    away = np.hypot(points[:, 0] - size[0] / 2, points[:, 1] - size[1] / 2) / half
    proud = known.proud_mm * (_VIEW * away + _VIEW * 0.5) / math.sqrt(3)
    return total, own + proud[:, None] ** 2


def _degrees(lean: float) -> float:
    return math.degrees(math.acos(min(1.0, 1 / lean)))


def _minded(places: Sequence[PhotoPlace], lean: float) -> tuple[Finding, ...]:
    found = []
    if lean > _LEANING:
        found.append(
            finding(
                "photo-slanted", "caution",
                "The picture looks at the face from about {angle}° off square.",
                "Take it again from straight in front; the places are better for it.", angle=f"{_degrees(lean):.0f}",
            )
        )  # fmt: skip
    worst = max((max(p.x_expanded_mm, p.y_expanded_mm) for p in places), default=0.0)
    if worst > _COARSE_MM:
        found.append(
            finding(
                "photo-coarse", "caution", "The picture tells places to no better than ± {worst}.",
                "Zoom in for finer clicks, lay the thing nearer to the holes, fill the picture with them, or take the "
                "rule; drill by the rule.",
                worst=Mm(worst),
            )
        )  # fmt: skip
    return tuple(found)

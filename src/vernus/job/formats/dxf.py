"""A part as DXF: every face with its holes, slots, counterbores, cuts and centre marks, in millimetres.

The front lies with its datum corner at the origin; the other faces lie below it, each named, each with its own corner.
"""

from __future__ import annotations

import math
from io import StringIO
from pathlib import Path
from typing import Any

from vernus.core.make.hole_rows import HoleRow, hole_said
from vernus.core.make.parts import FACE_WORDS, Part, PartFace
from vernus.job.disk import write_text

_GAP_MM = 20.0
_TEXT_MM = 3.0
LAYERS = ("outline", "holes", "behind", "sunk", "cuts", "centre lines", "text")
_OVER_MM = 2.0
"""How far a centre line goes beyond its hole."""


def write_dxf(part: Part, rows: list[HoleRow], path: Path) -> None:
    """Write a part with its holes; raises JobFileError when it can't be written."""
    import ezdxf.filemanagement

    drawing = ezdxf.filemanagement.new("R2010", setup=True)
    drawing.header["$INSUNITS"] = 4
    for layer in LAYERS:
        drawing.layers.add(
            layer, linetype="CENTER" if layer == "centre lines" else "DASHED" if layer == "behind" else "Continuous"
        )
    space = drawing.modelspace()
    y = 0.0
    for face in part.faces_used():
        across = part.size_of(face)[1]
        y = y if face == "face" else y - across - _GAP_MM
        _face(space, part, face, y, [r for r in rows if r.hole.face == face])
    words = f"{part.name}: {part.length_mm:g} x {part.width_mm:g} x {part.thickness_mm:g} mm, {part.material}"
    if part.has_leg:
        words += f", leg {part.leg_mm:g} at {part.bend_deg:g} deg"
    seen = part.seen or "seen from outside"
    lines = [words, seen[:1].upper() + seen[1:] + ".", *(f"{r.number}: {hole_said(r).text('mm')}" for r in rows)]
    for n, line in enumerate(lines):
        _words(space, line, (part.length_mm + _GAP_MM, part.width_mm - 5.0 * n))
    text = StringIO()
    drawing.write(text)
    write_text(path, text.getvalue())


def _words(space: Any, line: str, at: tuple[float, float]) -> None:
    space.add_text(line, height=_TEXT_MM, dxfattribs={"layer": "text"}).set_placement(at)


def _face(space: Any, part: Part, face: PartFace, low: float, rows: list[HoleRow]) -> None:
    """One face with its lower left corner at (0, ``low``)."""
    along, across, _ = part.size_of(face)
    corners = [(0, low), (along, low), (along, low + across), (0, low + across)]
    space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "outline"})
    if face != "face":
        _words(space, FACE_WORDS[face], (0, low + across + 2.0))
    for cut in (c for c in part.cuts if c.face == face):
        x0, y0 = cut.x_mm, low + cut.y_mm
        x1, y1 = x0 + cut.wide_mm, y0 + cut.high_mm
        space.add_lwpolyline([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], close=True, dxfattribs={"layer": "cuts"})
        _words(
            space, "opening, through" if cut.kind == "opening" else f"{cut.kind} {cut.depth_mm:g}", (x0 + 1.0, y0 + 1.0)
        )
    for row in rows:
        at = (row.hole.x_mm, low + row.hole.y_mm)
        travel = row.hole.adjust_mm if row.slot_mm is not None else 0.0
        _round(space, at, row.drill_mm, travel, row.hole.angle_deg, "behind" if row.hole.far_side else "holes")
        if row.counterbore_mm is not None:
            _round(space, at, row.counterbore_mm, travel, row.hole.angle_deg, "sunk")
        _centre(space, at, row.size_mm / 2 + _OVER_MM, travel, row.hole.angle_deg)
        _words(space, str(row.number), (at[0] + row.size_mm / 2 + 1.0, at[1] + 1.0))


def _centre(space: Any, at: tuple[float, float], reach: float, travel: float, angle_deg: float) -> None:
    """The middle of a hole with its centre lines, along a slot and across both its ends."""
    layer = {"layer": "centre lines"}
    space.add_point(at, dxfattribs=layer)
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))

    def spot(along: float, across: float) -> tuple[float, float]:
        return at[0] + along * c - across * s, at[1] + along * s + across * c

    space.add_line(spot(-reach - travel, 0.0), spot(reach + travel, 0.0), dxfattribs=layer)
    for end in sorted({-travel, travel}):
        space.add_line(spot(end, -reach), spot(end, reach), dxfattribs=layer)


def _round(space: Any, at: tuple[float, float], size: float, travel: float, angle_deg: float, layer: str) -> None:
    """A circle, or a slot whose ends lie ``travel`` either way along an angle."""
    radius = size / 2
    if travel <= 0:
        space.add_circle(at, radius, dxfattribs={"layer": layer})
        return
    c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    corners = ((-travel, -radius, 0), (travel, -radius, 1), (travel, radius, 0), (-travel, radius, 1))
    points = [(at[0] + u * c - v * s, at[1] + u * s + v * c, bulge) for u, v, bulge in corners]
    space.add_lwpolyline(points, format="xyb", close=True, dxfattribs={"layer": layer})

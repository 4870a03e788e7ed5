"""A part as DXF: outline, holes, slots and centre marks, in millimetres from the datum corner."""

from __future__ import annotations

from io import StringIO
from pathlib import Path

from vernus.core.make.parts import HoleRow, Part
from vernus.job.disk import write_text


def write_dxf(part: Part, rows: list[HoleRow], path: Path) -> None:
    """Write a part with its holes; raises JobFileError when it can't be written."""
    import ezdxf.filemanagement

    drawing = ezdxf.filemanagement.new("R2010", setup=True)
    drawing.header["$INSUNITS"] = 4
    for layer in ("outline", "holes", "centres"):
        drawing.layers.add(layer)
    space = drawing.modelspace()
    length, width = part.length_mm, part.width_mm
    corners = [(0, 0), (length, 0), (length, width), (0, width)]
    space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "outline"})
    for row in rows:
        x, y = row.hole.x_mm, row.hole.y_mm
        radius = row.drill_mm / 2
        if row.slot_mm is None:
            space.add_circle((x, y), radius, dxfattribs={"layer": "holes"})
        else:
            reach = row.slot_mm / 2 - radius
            points = [(x - reach, y - radius, 0), (x + reach, y - radius, 1), (x + reach, y + radius, 0),
                      (x - reach, y + radius, 1)]  # fmt: skip
            space.add_lwpolyline(points, format="xyb", close=True, dxfattribs={"layer": "holes"})
        if row.counterbore_mm is not None:
            space.add_circle((x, y), row.counterbore_mm / 2, dxfattribs={"layer": "holes"})
        space.add_point((x, y), dxfattribs={"layer": "centres"})
    text = StringIO()
    drawing.write(text)
    write_text(path, text.getvalue())

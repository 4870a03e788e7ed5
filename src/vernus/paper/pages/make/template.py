"""The 1:1 paper template: outline and centre marks to transfer with a punch, a check bar, tiled over pages."""

from __future__ import annotations

import math
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPageSize, QPainter

from vernus.core.finding import Mm, in_units
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import FACE_WORDS, Part, PartFace
from vernus.core.units import UnitSystem
from vernus.paper.drawing.lines import label
from vernus.paper.drawing.make.part import paint_hole
from vernus.paper.drawing.make.view import PX_PER_MM
from vernus.paper.ink import PRINT, pen
from vernus.paper.pdf import pdf_pages

BORDER_MM = 12.0
FOOT_MM = 24.0
OVERLAP_MM = 10.0
_PAGES_MM = {"mm": (297.0, 210.0), "in": (279.4, 215.9)}
CHECK_MM = {"mm": 100.0, "in": 101.6}


def write_template_pdf(part: Part, rows: Sequence[HoleRow], path: Path, units: UnitSystem) -> int:
    """Write the template on A4 or Letter, landscape, and return the number of pages; needs the fonts loaded.

    Raises JobFileError when the file can't be written.
    """
    wide, high = _PAGES_MM[units]
    free_x, free_y = wide - 2 * BORDER_MM, high - 2 * BORDER_MM - FOOT_MM
    tiles = [t for face in part.faces_used() for t in _tiles(part, face, (free_x, free_y))]
    size = QPageSize.PageSizeId.Letter if units == "in" else QPageSize.PageSizeId.A4
    with pdf_pages(path, f"{part.name}, 1:1", size, landscape=True) as (writer, painter):
        for n, (face, offset) in enumerate(tiles):
            if n:
                writer.newPage()
            _tile(painter, part, face, [r for r in rows if r.hole.face == face], offset, (free_x, free_y), units)
            where = (f", {part.seen}" if part.seen else "") if face == "face" else f", {FACE_WORDS[face]}"
            _foot(painter, part.name + where, (wide, high), f"sheet {n + 1} of {len(tiles)}", units)
    return len(tiles)


def _tiles(part: Part, face: PartFace, free_mm: tuple[float, float]) -> list[tuple[PartFace, QPointF]]:
    """The sheets one face takes: how far each is shifted over it."""
    along, up, _ = part.size_of(face)
    step = free_mm[0] - OVERLAP_MM, free_mm[1] - OVERLAP_MM
    across = max(1, math.ceil((along - OVERLAP_MM) / step[0]))
    down = max(1, math.ceil((up - OVERLAP_MM) / step[1]))
    return [(face, QPointF(n % across * step[0], n // across * step[1])) for n in range(across * down)]


def _tile(
    painter: QPainter,
    part: Part,
    face: PartFace,
    rows: Sequence[HoleRow],
    offset_mm: QPointF,
    free_mm: tuple[float, float],
    units: UnitSystem,
) -> None:
    s, (along, up, _) = PX_PER_MM, part.size_of(face)
    painter.save()
    window = QRectF(BORDER_MM * s, BORDER_MM * s, free_mm[0] * s, free_mm[1] * s)
    painter.setClipRect(window.adjusted(-2, -2, 2, 2))
    origin = QPointF((BORDER_MM - offset_mm.x()) * s, (BORDER_MM - offset_mm.y()) * s)
    painter.setPen(pen(PRINT.ink, 0.8))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(QRectF(origin.x(), origin.y(), along * s, up * s))
    for row in rows:
        at = origin + QPointF(row.hole.x_mm * s, (up - row.hole.y_mm) * s)
        paint_hole(painter, at, row, s, PRINT)
        name = row.drill_name if row.hole.kind != "bore" else in_units(units, "bore {d}", d=Mm(row.drill_mm))
        words = f"{row.number}: {name}" + (", from the machine's side" if row.hole.far_side else "")
        label(painter, at + QPointF(row.size_mm * s / 2 + 6, -10), words, PRINT, anchor="left")
    painter.restore()


def _foot(painter: QPainter, name: str, page_mm: tuple[float, float], sheet: str, units: UnitSystem) -> None:
    """The check bar, and what to do with it."""
    s = PX_PER_MM
    y = (page_mm[1] - BORDER_MM - 12) * s
    bar, left = CHECK_MM[units], BORDER_MM * s
    painter.setPen(pen(PRINT.ink, 0.8))
    painter.drawLine(QPointF(left, y), QPointF(left + bar * s, y))
    for x in (left, left + bar * s):
        painter.drawLine(QPointF(x, y - 6), QPointF(x, y + 6))
    words = in_units(units, "This bar is {bar}: measure it, and print again at 100 % if it is not.", bar=Mm(bar))
    label(painter, QPointF(left + bar * s + 12, y), words, PRINT, anchor="left")
    label(painter, QPointF(left, y + 22), f"{name}, 1:1, {sheet}", PRINT, anchor="left", colour=PRINT.faint)

"""A drawing beside a list of figures: the row in hand is its accented distance, and figures are typed into it."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QMouseEvent, QPainter

from vernus.core.units import UnitSystem, format_plain
from vernus.desktop.parts.dimension_edit import DimensionEdit
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.row import Row
from vernus.paper.drawing.asked import Sketch, paint_sketch
from vernus.paper.ink import LIGHT, Inks

Figures = Callable[[], FigureList]


class AskedView(Picture):
    """Shows the sketch of a sheet; ``figures`` is the list that its distances stand in."""

    def __init__(self, name: str, least: QSize, figures: Figures) -> None:
        super().__init__(f"{name}: click a distance to go to its figure, double click to type into it", least)
        self._figures = figures
        self._sketch: Sketch | None = None
        self._inks: Inks = LIGHT
        self._places: dict[str, QRectF] = {}
        self.edit = DimensionEdit(self)

    def show_sketch(self, sketch: Sketch | None, inks: Inks) -> None:
        """Show a sketch, the row in hand accented."""
        self._sketch, self._inks = sketch, inks
        self.follow()
        self.show_drawing(None if sketch is None else self._draw)

    @property
    def in_hand(self) -> str:
        """The name of the row that is accented."""
        return "" if self._sketch is None else self._sketch.in_hand

    def _draw(self, painter: QPainter, room: QRectF) -> None:
        if self._sketch is not None:
            self._places = paint_sketch(painter, room, self._sketch, self._inks)

    def follow(self) -> None:
        """Accent the row in hand."""
        if self._sketch is None:
            return
        row = self._figures().in_hand
        held = "" if row is None else row.name
        keys = [a.key for a in self._sketch.asked]
        if held != self._sketch.in_hand and (held in keys or self._sketch.in_hand):
            self._sketch = self._sketch.holding(held if held in keys else "")
            self.update()

    def type_into_hand(self) -> bool:
        row = self._figures().in_hand
        if row is None or row.name not in self._places or not self.isVisible():
            return False
        self._type_into(row)
        return True

    def _type_into(self, row: Row) -> None:
        place = self._places[row.name]
        times = self.width() / max(1.0, self.room().width())
        self.edit.begin(self._figures(), row, QRectF(place.topLeft() * times, place.size() * times))

    def _row_at(self, event: QMouseEvent) -> Row | None:
        spot = self.spot(event.position())
        places = sorted(self._places.items(), key=lambda p: p[1].width() * p[1].height())
        key = next((k for k, place in places if place.contains(spot)), "")
        return next((r for r in self._figures().rows if r.name == key), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = self._row_at(event)
        if row is not None:
            self._figures().enter(row)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        row = self._row_at(event)
        if row is not None:
            self._type_into(row)


def figures_of(
    rows: Iterable[Row], units: UnitSystem
) -> tuple[dict[str, float | None], dict[str, str], dict[str, str]]:
    """Of the length rows of a list, by name: the size (mm, None: unknown), the figure to print, and the label."""
    lengths = [r for r in rows if isinstance(r, FigureRow) and isinstance(r.editor, LengthField)]
    sizes = {f.name: f.mm() for f in lengths}
    figures = {f.name: "" if f.is_unmeasured() else format_plain(f.mm() or 0.0, units) for f in lengths}
    return sizes, figures, {f.name: f.label.lstrip("… ") for f in lengths}

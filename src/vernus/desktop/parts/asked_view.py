"""A drawing beside a form: the field in hand is its accented distance, a click on a distance goes to its field."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QMouseEvent, QPainter
from PySide6.QtWidgets import QApplication, QWidget

from vernus.core.units import UnitSystem, format_plain
from vernus.desktop.parts.form import BoundField
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.pictures import Picture
from vernus.paper.drawing.asked import Sketch, paint_sketch
from vernus.paper.ink import LIGHT, Inks

Fields = Callable[[], Iterable[BoundField]]


class AskedView(Picture):
    """Shows the sketch of a sheet whose fields are ``fields``."""

    def __init__(self, name: str, least: QSize, fields: Fields) -> None:
        super().__init__(f"{name}: click a distance to go to its field", least)
        self._fields = fields
        self._sketch: Sketch | None = None
        self._inks: Inks = LIGHT
        self._places: dict[str, QRectF] = {}
        application = QApplication.instance()
        if isinstance(application, QApplication):
            application.focusChanged.connect(self._look)

    def show_sketch(self, sketch: Sketch | None, inks: Inks) -> None:
        """Show a sketch, the field in hand accented."""
        self._sketch, self._inks = sketch, inks
        self._look(None, QApplication.focusWidget())
        self.show_drawing(None if sketch is None else self._draw)

    @property
    def in_hand(self) -> str:
        """The name of the field that is accented."""
        return "" if self._sketch is None else self._sketch.in_hand

    def _draw(self, painter: QPainter, room: QRectF) -> None:
        if self._sketch is not None:
            self._places = paint_sketch(painter, room, self._sketch, self._inks)

    def _look(self, _was: QWidget | None, now: QWidget | None) -> None:
        """Follow the cursor from field to field."""
        if self._sketch is None or now is None:
            return
        held = next((f.name for f in self._fields() if f is now or f.isAncestorOf(now)), "")
        keys = [a.key for a in self._sketch.asked]
        if held != self._sketch.in_hand and (held in keys or self._sketch.in_hand):
            self._sketch = self._sketch.holding(held if held in keys else "")
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        spot = event.position()
        places = sorted(self._places.items(), key=lambda p: p[1].width() * p[1].height())
        key = next((k for k, place in places if place.contains(spot)), "")
        field = next((f for f in self._fields() if f.name == key), None)
        if field is not None:
            field.setFocus()


def figures_of(
    fields: Iterable[BoundField], units: UnitSystem
) -> tuple[dict[str, float | None], dict[str, str], dict[str, str]]:
    """Of the length fields of a form, by name: the size (mm, None: unknown), the figure to print, and the label."""
    lengths = [f for f in fields if isinstance(f.editor, LengthField)]
    sizes = {f.name: f.mm() for f in lengths}
    figures = {f.name: "" if f.hollow() else format_plain(f.mm() or 0.0, units) for f in lengths}
    return sizes, figures, {f.name: f.label.lstrip("… ") for f in lengths}

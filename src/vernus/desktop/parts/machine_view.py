"""The machine drawn in the round: turned, its members dragged along their axes, its boxes and dimensions clicked."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent

from vernus.core.machine.envelope import Box
from vernus.core.machine.hidden import Line, View
from vernus.desktop.parts.dimension_edit import DimensionEdit
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.pictures import Picture
from vernus.paper.drawing.machine.solid import (
    Dimension,
    Model,
    Sight,
    box_at,
    is_long,
    lines_of,
    model_of,
    paint_cable,
    paint_dimensions,
    paint_names,
    paint_solids,
    sight_of,
    swept_corners,
)
from vernus.paper.drawing.machine.views import Scene
from vernus.paper.ink import LIGHT, Inks, pen

_REST_MS = 90
_CLICK_PX = 4.0
_TURNS = {
    Qt.Key.Key_Left: (-10.0, 0.0), Qt.Key.Key_Right: (10.0, 0.0),
    Qt.Key.Key_Up: (0.0, 8.0), Qt.Key.Key_Down: (0.0, -8.0),
}  # fmt: skip


class MachineView(Picture):
    """``chosen`` carries the name of a box clicked, ``asked`` the key of a dimension, ``driven`` (member, mm)."""

    chosen = Signal(str)
    asked = Signal(str)
    driven = Signal(str, float)

    def __init__(self, name: str, least: QSize) -> None:
        super().__init__(f"{name}: arrow keys turn it, Home brings it back; drag a member to run its axis", least)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.view = View()
        self._scene: Scene | None = None
        self._model: Model | None = None
        self._lines: list[Line] | None = None
        self._corners = np.zeros((1, 3))
        self._inks: Inks = LIGHT
        self._names: Mapping[str, str] = {}
        self._shapes: Mapping[str, str] = {}
        self._dimensions: Sequence[Dimension] = ()
        self._places: dict[str, QRectF] = {}
        self._pressed: QPointF | None = None
        self._held = ""
        self._stretch: int | None = None
        self._moved = False
        self.figures: FigureList | None = None
        self.edit = DimensionEdit(self)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(_REST_MS)
        self._rest.timeout.connect(self._settle)

    def show_machine(
        self,
        scene: Scene | None,
        shapes: Mapping[str, str],
        inks: Inks,
        names: Mapping[str, str] | None = None,
        dimensions: Sequence[Dimension] = (),
        held: int | None = None,
    ) -> None:
        """Show a machine as it stands; the hidden lines are removed at once unless it is being turned or driven.

        ``held`` is the stretch of its cable that is looked at. What is shown already isn't drawn again.
        """
        names, shapes, dimensions = dict(names or {}), dict(shapes), tuple(dimensions)
        before = self._scene, self._shapes, self._inks, self._names, self._dimensions, self._stretch
        now = scene, shapes, inks, names, dimensions, held
        if now == before:
            return
        solids_stay = scene is not None and self._stands_as(scene, shapes)
        self._scene, self._shapes, self._inks, self._names, self._dimensions, self._stretch = now
        if scene is not None and scene.envelope.boxes:
            anchors = [Box("anchor", member, point, point) for member, point in scene.cable]
            self._corners = swept_corners(scene.envelope, [*scene.envelope.boxes, *anchors])
        if solids_stay:
            self.draw_afresh()
            return
        self._model = None if scene is None else model_of(scene, shapes)
        self._lines = None
        if self._model is not None and self._pressed is None:
            self._lines = lines_of(self._model, self.view)
        elif self._pressed is not None:
            self._rest.start()
        self.draw_afresh()

    def _stands_as(self, scene: Scene, shapes: Mapping[str, str]) -> bool:
        """Whether the solids of a scene are those drawn: only what is written on them differs, or their colour."""
        shown = self._scene
        same = shown is not None and (shown.envelope, shown.at, self._shapes) == (scene.envelope, scene.at, shapes)
        return same and self._model is not None

    def turn(self, azimuth_deg: float, height_deg: float) -> None:
        """Look from another side."""
        height = min(88.0, max(-25.0, self.view.height_deg + height_deg))
        self.view = View((self.view.azimuth_deg + azimuth_deg) % 360, height)
        self._lines = None
        self._rest.start()
        self.draw_afresh()

    def _settle(self) -> None:
        if self._model is not None:
            self._lines = lines_of(self._model, self.view)
            self.draw_afresh()

    def _sight(self) -> Sight:
        return sight_of(self.room(), self._corners, self.view)

    def draw_afresh(self) -> None:
        """Draw it as it is now: solids by the hundred beside the window."""
        scene, model, corners, view, lines = self._scene, self._model, self._corners, self.view, self._lines
        inks, dimensions, names, stretch = self._inks, self._dimensions, self._names, self._stretch
        self._long = model is not None and is_long(model)
        smooth = lines is not None or self._long

        def paint(painter: QPainter, room: QRectF) -> dict[str, QRectF]:
            if scene is None or model is None:
                return {}
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, smooth)
            sight = sight_of(room, corners, view)
            paint_solids(painter, model, scene, sight, inks, lines)
            paint_cable(painter, scene, sight, inks, stretch)
            places = paint_dimensions(painter, dimensions, sight, inks, room)
            if lines is not None:
                paint_names(painter, model, sight, inks, names, [places[""]] if "" in places else [])
            return places

        self._paint = paint
        super().draw_afresh()

    def drawn(self, said: object) -> None:
        """Where the dimensions are written, to be clicked."""
        assert isinstance(said, dict)
        self._places = {key: place for key, place in said.items() if key}

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.hasFocus() and self._scene is not None:
            painter = self.begin()
            painter.setPen(pen(self._inks.accent, 1, (2, 3)))
            painter.drawRect(self.room().adjusted(0, 0, -1, -1))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The arrow keys turn the machine, Home shows it as at first."""
        step = _TURNS.get(Qt.Key(event.key()))
        if step is not None:
            self.turn(*step)
        elif event.key() == Qt.Key.Key_Home:
            self.view = View()
            self.turn(0.0, 0.0)
        else:
            super().keyPressEvent(event)

    def type_into_hand(self) -> bool:
        """Type into the dimension of the row in hand; false where it isn't drawn."""
        row = None if self.figures is None else self.figures.in_hand
        return row is not None and self.isVisible() and self._type_into(row.name)

    def _type_into(self, key: str) -> bool:
        figures = self.figures
        row = None if figures is None else next((r for r in figures.rows if r.name == key), None)
        if figures is None or row is None or key not in self._places:
            return False
        times = self.width() / max(1.0, self.room().width())
        place = self._places[key]
        self.edit.begin(figures, row, QRectF(place.topLeft() * times, place.size() * times))
        return True

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        spot = self.spot(event.position())
        key = next((k for k, place in self._places.items() if place.contains(spot)), "")
        self._pressed = None
        if not self._type_into(key):
            super().mouseDoubleClickEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed, self._moved = self.spot(event.position()), False
        box = box_at(self._model, self._sight(), self._pressed) if self._model is not None else None
        self._held = "" if box is None else box.member

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None:
            return
        here = self.spot(event.position())
        step = here - self._pressed
        if not self._moved and abs(step.x()) + abs(step.y()) < _CLICK_PX:
            return
        self._moved, self._pressed = True, here
        if not (self._held and self._drive(step)):
            self.turn(-0.5 * step.x(), 0.4 * step.y())

    def _drive(self, step: QPointF) -> bool:
        """Run the axis of the member held by as much as the hand moved along it; false for one without an axis."""
        if self._scene is None:
            return False
        envelope = self._scene.envelope
        moved_by = {m.id: m.axis for m in envelope.members}.get(self._held)
        axis = next((a for a in envelope.axes if a.id == moved_by), None)
        if axis is None:
            return False
        sight, ahead = self._sight(), [0.0, 0.0, 0.0]
        ahead[axis.coordinate] = float(axis.sign)
        along = sight.at(ahead) - sight.at((0.0, 0.0, 0.0))
        square = along.x() ** 2 + along.y() ** 2
        if square < 1e-6:
            return True
        self.driven.emit(axis.id, (step.x() * along.x() + step.y() * along.y()) / square)
        return True

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        clicked = self._pressed is not None and not self._moved
        self._pressed = None
        self._rest.start()
        if not clicked:
            return
        spot = self.spot(event.position())
        key = next((k for k, place in self._places.items() if place.contains(spot)), "")
        box = box_at(self._model, self._sight(), spot) if self._model is not None else None
        if key:
            self.asked.emit(key)
        elif box is not None:
            self.chosen.emit(box.name)

"""The machine in the round: an axonometric line drawing, hidden lines removed, quietly shaded, to scale.

Thick visible outlines, thin inner edges and dimensions (widths after ISO 128, dimensions after ISO 129, from memory).
While it turns, solids are painted over one another from the back; at rest their hidden lines are worked out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache, reduce
from itertools import pairwise
from math import ceil

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPen, QPolygonF

from vernus.core.machine.envelope import Box, Envelope, Triple
from vernus.core.machine.hidden import Line, Mark, View, back_to_front, visible_lines
from vernus.core.machine.solids import Points, Solid, box_solid, disc_solid
from vernus.paper.drawing.lines import label, text_width
from vernus.paper.drawing.machine.views import Scene
from vernus.paper.ink import Inks, font, pen

_EDGE = 20.0
_SLOTS = 3
_NAME_HIGH, _NAME_CLEAR = 18.0, 4.0
_MOST_SOLIDS = 600
_LARGEST_PICTURE = QRectF(-4000, -4000, 8000, 8000)


@dataclass(frozen=True)
class Dimension:
    """A distance to draw: between two points of the machine (mm), named, with its figure ("": not measured)."""

    key: str
    name: str
    figure: str
    start: Triple
    end: Triple
    in_hand: bool = False


@dataclass(frozen=True, eq=False)
class Model:
    """The solids of a scene where they stand; made once per position."""

    boxes: tuple[Box, ...]
    solids: tuple[Solid, ...]
    marks: tuple[Mark, ...]
    _orders: dict[View, list[int]] = field(init=False, repr=False, default_factory=dict)

    def order(self, view: View) -> list[int]:
        """The numbers of the solids from back to front."""
        if view not in self._orders:
            self._orders[view] = back_to_front(self.solids, view)
        return self._orders[view]

    @cached_property
    def points(self) -> Points:
        """The points of all solids, one under the other."""
        return np.concatenate([s.points for s in self.solids]) if self.solids else np.zeros((0, 3))

    @cached_property
    def normals(self) -> Points:
        """The normals of all their faces."""
        return np.concatenate([s.normals for s in self.solids]) if self.solids else np.zeros((0, 3))

    @cached_property
    def begins(self) -> tuple[tuple[int, int], ...]:
        """Per solid the numbers of its first point and its first face."""
        points, faces, found = 0, 0, list[tuple[int, int]]()
        for solid in self.solids:
            found.append((points, faces))
            points, faces = points + len(solid.points), faces + len(solid.faces)
        return tuple(found)


def model_of(scene: Scene, shapes: Mapping[str, str]) -> Model:
    """The solids of the boxes of a scene; ``shapes`` by box name says which are round or slotted."""
    boxes = tuple(b for b in scene.envelope.boxes if b.pose in ("", "upright"))
    off = {m: scene.envelope.offset(m, scene.at) for m in {b.member for b in boxes}}
    solids = tuple(_solid(_moved(b.min_mm, off[b.member]), _moved(b.max_mm, off[b.member]), shapes.get(b.name, "box"))
                   for b in boxes)  # fmt: skip
    marks = [m for n, b in enumerate(boxes) if shapes.get(b.name) == "slotted-x" for m in _slots(n, solids[n])]
    return Model(boxes, solids, tuple(marks))


def _moved(corner: Triple, by: Triple) -> Triple:
    return corner[0] + by[0], corner[1] + by[1], corner[2] + by[2]


@lru_cache(maxsize=8192)
def _solid(low: Triple, high: Triple, shape: str) -> Solid:
    return disc_solid(low, high, "xyz".index(shape[-1])) if shape.startswith("disc") else box_solid(low, high)


def _slots(number: int, solid: Solid) -> list[Mark]:
    """The edges of the T-slots along the top of a table."""
    low, high = solid.points[0].tolist(), solid.points[6].tolist()
    top = next(n for n, normal in enumerate(solid.normals) if normal[2] > 0.9)
    wide = (high[1] - low[1]) / (4 * _SLOTS)
    middles = [low[1] + (high[1] - low[1]) * (k + 0.5) / _SLOTS for k in range(_SLOTS)]
    sides = [y + way * wide / 2 for y in middles for way in (-1, 1)]
    return [Mark(number, top, (low[0], y, high[2]), (high[0], y, high[2])) for y in sides]


@dataclass(frozen=True)
class Sight:
    """How the machine lies in its place: the view, the scale (px per mm), and where the machine's origin falls."""

    view: View
    per_mm: float
    origin: QPointF

    def at(self, point: Triple | Sequence[float]) -> QPointF:
        """A point of the machine on the picture."""
        right, up, _ = self.view.flat(np.array([point], dtype=float))[0]
        return self.on(float(right), float(up))

    def on(self, right: float, up: float) -> QPointF:
        """A point given as it lies on the picture, mm."""
        return QPointF(self.origin.x() + right * self.per_mm, self.origin.y() - up * self.per_mm)


def swept_corners(envelope: Envelope, boxes: Sequence[Box]) -> Points:
    """The corners (n, 3) of the space that each box sweeps while the axes go from mark to mark."""
    swept, corners = envelope.swept(), list[tuple[float, float, float]]()
    for box in boxes:
        ways = swept[box.member]
        spans = [(box.min_mm[c] + ways[c][0], box.max_mm[c] + ways[c][1]) for c in range(3)]
        corners += [(x, y, z) for x in spans[0] for y in spans[1] for z in spans[2]]
    return np.array(corners, dtype=float)


def sight_of(room: QRectF, corners: Points, view: View) -> Sight:
    """A sight in which everything has its place, however the axes stand; ``corners`` as ``swept_corners`` says."""
    flat = view.flat(corners)
    low, high = flat.min(axis=0), flat.max(axis=0)
    wide, tall = max(1.0, float(high[0] - low[0])), max(1.0, float(high[1] - low[1]))
    per_mm = max(1e-6, min((room.width() - 2 * _EDGE) / wide, (room.height() - 2 * _EDGE) / tall))
    middle = (float(low[0] + high[0]) / 2, float(low[1] + high[1]) / 2)
    origin = QPointF(room.center().x() - middle[0] * per_mm, room.center().y() + middle[1] * per_mm)
    return Sight(view, per_mm, origin)


def paint_solids(
    painter: QPainter,
    model: Model,
    scene: Scene,
    sight: Sight,
    inks: Inks,
    lines: Sequence[Line] | None,
) -> None:
    """Paint the machine; ``lines`` are its visible lines, None while it turns: edges come with the faces then."""
    seen = _seen(model, sight)
    for n in model.order(sight.view):
        _faces(painter, model, n, scene, seen, inks, edged=lines is None)
    if lines is None:
        return
    for box_style in (False, True):
        for outline in (False, True):
            painter.setPen(pen(inks.accent if box_style else inks.ink, 1.7 if outline else 0.9))
            for line in lines:
                planned = _stands_out(model.boxes[line.solid], scene)
                if line.outline == outline and planned == box_style:
                    painter.drawLine(sight.on(*line.start), sight.on(*line.end))


def is_long(model: Model) -> bool:
    """Whether there are so many solids that the window would stand still while they are painted."""
    return len(model.solids) > _MOST_SOLIDS


def lines_of(model: Model, view: View) -> list[Line] | None:
    """The visible lines of a model; None of so many solids that they are painted over one another at rest too."""
    return visible_lines(model.solids, view, model.marks) if not is_long(model) else None


def _stands_out(box: Box, scene: Scene) -> bool:
    return bool(box.group) or box.name == scene.marked


@dataclass(frozen=True)
class _Seen:
    """All corners of a model on the picture, and which faces look to the viewer."""

    corners: list[QPointF]
    front: list[bool]
    tones: list[tuple[float, float, float]]


def _seen(model: Model, sight: Sight) -> _Seen:
    flat = sight.view.flat(model.points) * sight.per_mm
    xs, ys = (flat[:, 0] + sight.origin.x()).tolist(), (sight.origin.y() - flat[:, 1]).tolist()
    front = (model.normals @ sight.view.toward > 0).tolist()
    tones = [(x, y, z) for x, y, z in np.round(model.normals, 2).tolist()]
    return _Seen([QPointF(x, y) for x, y in zip(xs, ys, strict=True)], front, tones)


def _faces(painter: QPainter, model: Model, n: int, scene: Scene, seen: _Seen, inks: Inks, *, edged: bool) -> None:
    """The faces of a solid that look to the viewer, shaded by where they look; hatched where it meets something."""
    solid, box = model.solids[n], model.boxes[n]
    first_point, first_face = model.begins[n]
    meeting, planned = box.name in scene.meeting, bool(box.group)
    for f, loop in enumerate(solid.faces):
        if not seen.front[first_face + f]:
            continue
        shape = [seen.corners[first_point + k] for k in loop]
        edge, fill = _tone(inks, seen.tones[first_face + f], planned, edged and f not in solid.smooth)
        painter.setPen(edge)
        painter.setBrush(fill)
        painter.drawConvexPolygon(shape)
        if meeting:
            painter.setPen(pen(inks.stop, 1.0))
            painter.setBrush(QBrush(QColor(inks.stop), Qt.BrushStyle.DiagCrossPattern))
            painter.drawConvexPolygon(shape)
    painter.setBrush(Qt.BrushStyle.NoBrush)


@lru_cache(maxsize=512)
def _tone(inks: Inks, normal: tuple[float, float, float], planned: bool, edged: bool) -> tuple[QPen, QBrush]:
    """Pen and brush of a face: light from above and a little from the right."""
    share = min(1.0, max(0.0, 0.55 + 0.36 * normal[2] + 0.12 * normal[0] - 0.1 * normal[1]))
    dark, bright = (inks.wash, inks.sheet) if planned else (inks.hairline, inks.sheet)
    a, b, much = QColor(dark), QColor(bright), 0.35 + 0.65 * share
    pairs = ((a.red(), b.red()), (a.green(), b.green()), (a.blue(), b.blue()))
    red, green, blue = (round(p + (q - p) * much) for p, q in pairs)
    colour = QColor(red, green, blue)
    return pen(inks.faint, 1.0) if edged else QPen(colour, 0.6), QBrush(colour)


def paint_cable(painter: QPainter, scene: Scene, sight: Sight, inks: Inks, held: int | None = None) -> None:
    """The cable from anchor to anchor, over all else so that it is seen whole; stretch ``held`` is heavy."""
    points = [sight.at(point) for point in scene.cable_points()]
    for n, (start, end) in enumerate(pairwise(points)):
        painter.setPen(pen(inks.accent, 3.4 if n == held else 1.8, () if n == held else (7, 3)))
        painter.drawLine(start, end)
    painter.setPen(pen(inks.accent, 1.4))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    for point in points:
        painter.drawEllipse(point, 4.0, 4.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def paint_names(
    painter: QPainter, model: Model, sight: Sight, inks: Inks, names: Mapping[str, str], taken: Sequence[QRectF] = ()
) -> None:
    """The names of boxes (box name → word) on a face that is seen, where they fit and nothing is ``taken`` already."""
    painter.setFont(font())
    taken = list(taken)
    faces: dict[int, list[QRectF]] = {}
    shapes = _shapes(model, sight)
    for n, shape in shapes:
        faces.setdefault(n, []).append(shape.boundingRect())
    seen = Seen(model, sight, shapes)
    for n, mine in reversed(faces.items()):
        word = names.get(model.boxes[n].name)
        whole = reduce(QRectF.united, mine)
        if word is None or whole.height() < _NAME_HIGH or whole.width() < (wide := text_width(painter, word)):
            continue
        for face in sorted(mine, key=lambda r: -r.width() * r.height()):
            middle = face.center()
            place = QRectF(middle.x() - wide / 2, middle.y() - _NAME_HIGH / 2, wide, _NAME_HIGH)
            free = place.adjusted(-_NAME_CLEAR, 0, _NAME_CLEAR, 0)
            spots = [free.topLeft(), free.topRight(), free.bottomLeft(), free.bottomRight(), middle]
            if any(seen.top(spot) != n for spot in spots) or any(place.intersects(t) for t in taken):
                continue
            taken.append(place)
            label(painter, middle, word, inks, colour=inks.faint)
            break


def _shapes(model: Model, sight: Sight) -> list[tuple[int, QPolygonF]]:
    """The faces that look to the viewer, on the picture, each with its box's number, farthest solids first."""
    found: list[tuple[int, QPolygonF]] = []
    for n in model.order(sight.view):
        solid = model.solids[n]
        flat = sight.view.flat(solid.points) * sight.per_mm
        for f in np.nonzero(solid.normals @ sight.view.toward > 0)[0].tolist():
            found.append((n, QPolygonF([QPointF(*_on(sight, flat[k])) for k in solid.faces[f]])))
    return found


class Seen:
    """Which box is seen at each dot of the picture: every face painted over those behind it, in its box's number."""

    def __init__(self, model: Model, sight: Sight, shapes: Sequence[tuple[int, QPolygonF]] | None = None) -> None:
        shapes = _shapes(model, sight) if shapes is None else shapes
        bounds = [shape.boundingRect() for _, shape in shapes]
        room = reduce(QRectF.united, bounds, QRectF()).intersected(_LARGEST_PICTURE)
        self._at = room.topLeft()
        self._image = QImage(max(1, ceil(room.width())), max(1, ceil(room.height())), QImage.Format.Format_RGB32)
        self._image.fill(0)
        painter = QPainter(self._image)
        painter.translate(-self._at)
        painter.setPen(Qt.PenStyle.NoPen)
        for n, shape in shapes:
            painter.setBrush(QColor.fromRgb(n + 1))
            painter.drawPolygon(shape)
        painter.end()

    def top(self, where: QPointF) -> int | None:
        """The number of the box seen there; None beside all of them."""
        spot = (where - self._at).toPoint()
        if not self._image.valid(spot):
            return None
        number = self._image.pixel(spot) & 0xFFFFFF
        return number - 1 if number else None


def _on(sight: Sight, flat: Sequence[float]) -> tuple[float, float]:
    return float(flat[0]) + sight.origin.x(), sight.origin.y() - float(flat[1])


def box_at(model: Model, sight: Sight, where: QPointF) -> Box | None:
    """The nearest box under a place of the picture."""
    return next(
        (model.boxes[n] for n, shape in reversed(_shapes(model, sight))
         if shape.containsPoint(where, Qt.FillRule.OddEvenFill)),
        None,
    )  # fmt: skip


def paint_dimensions(
    painter: QPainter, dimensions: Sequence[Dimension], sight: Sight, inks: Inks, room: QRectF
) -> dict[str, QRectF]:
    """Paint distances on the machine; returns where each one lies, to be clicked, and under "" where its words stand.

    The one in hand is drawn in the accent with arrows and its name; of the others only a thin line, dashed where nobody
    measured.
    """
    places: dict[str, QRectF] = {}
    for asked in sorted(dimensions, key=lambda d: d.in_hand):
        start, end = sight.at(asked.start), sight.at(asked.end)
        places[asked.key] = QRectF(start, end).normalized().adjusted(-6, -6, 6, 6)
        if not asked.in_hand:
            painter.setPen(pen(inks.accent, 0.8, () if asked.figure else (4, 4)))
            painter.drawLine(start, end)
            continue
        places[""] = _in_hand(painter, asked, start, end, inks, room)
    return places


def _in_hand(painter: QPainter, asked: Dimension, start: QPointF, end: QPointF, inks: Inks, room: QRectF) -> QRectF:
    painter.setPen(pen(inks.accent, 2.2, () if asked.figure else (5, 3)))
    painter.drawLine(start, end)
    along = end - start
    length = max(1e-6, (along.x() ** 2 + along.y() ** 2) ** 0.5)
    unit = QPointF(along.x() / length, along.y() / length)
    across = QPointF(-unit.y(), unit.x())
    painter.setBrush(QBrush(QColor(inks.accent)))
    for tip, way in ((start, -1.0), (end, 1.0)):
        out = way if length > 34 else -way
        back = tip - unit * (out * 10)
        painter.drawPolygon(QPolygonF([tip, back + across * 3.4, back - across * 3.4]))
        painter.setPen(pen(inks.accent, 1.2))
        painter.drawLine(tip - across * 9, tip + across * 9)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    words = f"{asked.name}: {asked.figure}" if asked.figure else asked.name
    wide = text_width(painter, words)
    middle = QPointF((start.x() + end.x()) / 2, min(start.y(), end.y()) - 14)
    x = min(room.right() - wide - 8, max(room.left() + 8, middle.x() - wide / 2))
    y = max(room.top() + 12, middle.y())
    ground, place = QColor(inks.sheet), QRectF(x - 5, y - 11, wide + 10, 22)
    ground.setAlpha(225)
    painter.fillRect(place, ground)
    label(painter, QPointF(x, y), words, inks, anchor="left", bold=False, colour=inks.accent)
    return place

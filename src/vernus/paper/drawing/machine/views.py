"""The machine from the front, from the right and from above, to one scale, with its axes at any position."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.core.machine.envelope import Box, Envelope, Range, Triple
from vernus.core.units import UnitSystem, format_plain
from vernus.paper.drawing.lines import label, text_width
from vernus.paper.ink import Inks, font, pen

_VIEWS = (("from the front", 0, 2, -1), ("from the right", 1, 2, 1), ("from above", 0, 1, -1))
_GAP = 26.0


@dataclass(frozen=True)
class Scene:
    """What is drawn: boxes with the axes at ``at`` (mm); ``keep`` are places to be reached.

    ``meeting`` names the boxes that meet there, ``marked`` the one chosen; ``cable`` is (member, point) along a cable.
    """

    envelope: Envelope
    at: Mapping[str, float]
    keep: Sequence[Box] = ()
    meeting: Collection[str] = ()
    marked: str = ""
    cable: Sequence[tuple[str, Triple]] = ()

    def placed(self, box: Box) -> tuple[tuple[float, float], ...]:
        """The box's spans (mm) in x, y and z at the positions shown."""
        offset = self.envelope.offset(box.member, self.at)
        return tuple((box.min_mm[c] + offset[c], box.max_mm[c] + offset[c]) for c in range(3))

    def cable_points(self) -> list[Triple]:
        """The cable's anchors (mm) at the positions shown."""
        moved = [(point, self.envelope.offset(member, self.at)) for member, point in self.cable]
        return [(p[0] + o[0], p[1] + o[1], p[2] + o[2]) for p, o in moved]


def scene_spans(
    envelope: Envelope, keep: Sequence[Box] = (), cable: Sequence[tuple[str, Triple]] = ()
) -> tuple[Range, Range, Range]:
    """The space (mm) the boxes can take over the whole travel of every axis, so that the picture never jumps."""
    low, high = [1e12] * 3, [-1e12] * 3
    points = [Box("anchor", member, point, point) for member, point in cable]
    ways = envelope.swept()
    for box in (*envelope.boxes, *keep, *points):
        for c, (least, most) in enumerate(ways[box.member]):
            low[c], high[c] = min(low[c], box.min_mm[c] + least), max(high[c], box.max_mm[c] + most)
    x, y, z = ((a, b) if a < b else (-100.0, 100.0) for a, b in zip(low, high, strict=True))
    return x, y, z


def paint_views(
    painter: QPainter,
    room: QRectF,
    scene: Scene,
    spans: tuple[Range, Range, Range],
    inks: Inks,
    units: UnitSystem,
    kept: Mapping[str, Range] | None = None,
) -> None:
    """Paint the three views into ``room`` and, in the fourth corner, the travel kept per axis."""
    sizes = [high - low for low, high in spans]
    painter.setFont(font())
    title = painter.fontMetrics().height() + 4.0
    per_mm = min(
        (room.width() - _GAP - 8) / (sizes[0] + sizes[1]), (room.height() - _GAP - 2 * title) / (sizes[2] + sizes[1])
    )
    wide, deep, tall = (s * per_mm for s in sizes)
    left = room.left() + (room.width() - wide - deep - _GAP) / 2
    top = room.top() + title
    frames = (
        QRectF(left, top, wide, tall),
        QRectF(left + wide + _GAP, top, deep, tall),
        QRectF(left, top + tall + _GAP + title - 6, wide, deep),
    )
    for (words, c, d, _), frame in zip(_VIEWS, frames, strict=True):
        label(painter, QPointF(frame.left(), frame.top() - title / 2), words, inks, anchor="left", colour=inks.faint)
        _view(painter, frame, scene, spans, per_mm, (c, d), inks)
    corner = QRectF(frames[1].left(), frames[2].top() - 8, room.right() - frames[1].left() - 4, 0)
    corner.setBottom(room.bottom() - 2)
    paint_kept(painter, corner, scene.envelope, scene.at, kept, inks, units)


def _view(
    painter: QPainter,
    frame: QRectF,
    scene: Scene,
    spans: tuple[Range, Range, Range],
    per_mm: float,
    coordinates: tuple[int, int],
    inks: Inks,
) -> None:
    c, d = coordinates
    depth = next(n for n in range(3) if n not in coordinates)
    toward = 1 if depth == 0 else -1 if depth == 1 else 1
    boxes = sorted(scene.envelope.boxes, key=lambda b: toward * (scene.placed(b)[depth][0] + scene.placed(b)[depth][1]))

    def rect(box: Box) -> QRectF:
        spots = scene.placed(box)
        x, y = spots[c], spots[d]
        corner = QPointF(frame.left() + (x[0] - spans[c][0]) * per_mm, frame.bottom() - (y[1] - spans[d][0]) * per_mm)
        return QRectF(corner.x(), corner.y(), (x[1] - x[0]) * per_mm, (y[1] - y[0]) * per_mm)

    for box in boxes:
        _solid(painter, rect(box), box, scene, inks)
    for box in scene.keep:
        painter.setPen(pen(inks.accent if box.name == scene.marked else inks.faint, 1.2, (1.5, 2.5)))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(rect(box))
    for box in boxes:
        if box.name in scene.meeting:
            _meets(painter, rect(box), inks)
    points = [
        QPointF(frame.left() + (p[c] - spans[c][0]) * per_mm, frame.bottom() - (p[d] - spans[d][0]) * per_mm)
        for p in scene.cable_points()
    ]
    if points:
        painter.setPen(pen(inks.accent, 2.2))
        painter.drawPolyline(QPolygonF(points))
        painter.setBrush(QBrush(QColor(inks.accent)))
        for point in points:
            painter.drawEllipse(point, 3.5, 3.5)
        painter.setBrush(Qt.BrushStyle.NoBrush)


def _solid(painter: QPainter, where: QRectF, box: Box, scene: Scene, inks: Inks) -> None:
    planned = bool(box.group)
    fill = QColor(inks.wash if planned else inks.ground)
    fill.setAlpha(235 if planned else 205)
    painter.setBrush(QBrush(fill))
    marked = box.name == scene.marked
    dashes = () if box.pose in ("", "upright") else (6.0, 4.0)
    painter.setPen(pen(inks.accent if planned or marked else inks.faint, 2.4 if marked else 1.2, dashes))
    painter.drawRect(where)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _meets(painter: QPainter, where: QRectF, inks: Inks) -> None:
    """A heavy dashed outline, crossed hatching and the word: never colour alone."""
    painter.save()
    painter.setPen(pen(inks.stop, 2.4, (3, 2)))
    painter.drawRect(where)
    painter.setClipRect(where)
    painter.setPen(pen(inks.stop, 0.8))
    reach = where.width() + where.height()
    for n in range(int(reach / 9) + 1):
        x = where.left() + 9 * n
        painter.drawLine(QPointF(x, where.top()), QPointF(x - where.height(), where.bottom()))
    painter.restore()
    if where.width() > 60 and where.height() > 16:
        label(painter, where.center(), "meets", inks, bold=True, colour=inks.stop)


def paint_kept(
    painter: QPainter,
    room: QRectF,
    envelope: Envelope,
    at: Mapping[str, float],
    kept: Mapping[str, Range] | None,
    inks: Inks,
    units: UnitSystem,
) -> None:
    """A bar per axis: the whole travel, what is kept of it, what is lost, and where the axis stands."""
    painter.setFont(font())
    step = min(58.0, room.height() / max(1, len(envelope.axes)))
    worded = step >= 36
    names = font(bold=True)
    painter.setFont(names)
    widest = max((text_width(painter, axis.id) for axis in envelope.axes), default=0.0)
    painter.setFont(font())
    left, right = room.left() + max(26.0, widest + 10), room.right() - 6
    for n, axis in enumerate(envelope.axes):
        y = room.top() + n * step + (20 if worded else 2)
        label(painter, QPointF(room.left(), y + 6), axis.id, inks, anchor="left", bold=True)
        per_mm = (right - left) / axis.travel_mm
        bar = QRectF(left, y, right - left, 12)
        span = (axis.from_mm, axis.to_mm) if kept is None else kept[axis.id]
        held = QRectF(left + (span[0] - axis.from_mm) * per_mm, y, (span[1] - span[0]) * per_mm, 12)
        painter.setBrush(Qt.BrushStyle.BDiagPattern)
        painter.setPen(pen(inks.faint))
        painter.drawRect(bar)
        painter.setPen(pen(inks.ink, 1.2))
        painter.setBrush(QBrush(QColor(inks.wash)))
        painter.drawRect(held)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(inks.accent, 2.4))
        x = left + (at[axis.id] - axis.from_mm) * per_mm
        painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 16))
        lost = axis.travel_mm - (span[1] - span[0])
        whole, rest = format_plain(axis.travel_mm, units), format_plain(span[1] - span[0], units)
        bare = format_plain(span[1] - span[0], units, with_unit=False)
        choices = [f"all {whole}", whole] if lost <= 0.005 else [f"{bare} of {whole}", f"keeps {rest}", rest]
        fitting = (c for c in choices if text_width(painter, c) <= right - left + 6)
        words = "blocked" if kept is None else next(fitting, choices[-1])
        if worded:
            label(painter, QPointF(left, y - 11), words, inks, anchor="left", colour=inks.faint)

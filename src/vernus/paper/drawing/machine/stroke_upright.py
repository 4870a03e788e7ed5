"""The stroke of an upright axis, drawn upright as it stands, words beside what they belong to.

It shows what the level line shows, to scale: travel, what is kept, stops and trips, the scale with its reader and its
spares.
"""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.machine.stroke import ENDS, Need, Stroke
from vernus.core.units import UnitSystem, format_plain
from vernus.paper.drawing.lines import arrowhead_at, label, text_width
from vernus.paper.drawing.machine.stroke_parts import GIVEN_UP, Places, ScaleRow, StrokePicture, hatch, stop_words
from vernus.paper.ink import Inks, pen

_END = 30.0
_BAR, _BODY, _READER = 30.0, 22.0, 16.0
_LANE, _GAP = 26.0, 8.0


@dataclass(frozen=True)
class UprightScale:
    """How mm from the low mark map to the picture; ``way`` is 1 where they grow upward."""

    low_y: float
    px_per_mm: float
    travel_mm: float
    way: int

    def y(self, mm: float) -> float:
        """Picture y of a position on the line."""
        return self.low_y - self.way * mm * self.px_per_mm

    def position(self, y: float) -> float:
        """The position at picture ``y``, kept between the marks."""
        return min(self.travel_mm, max(0.0, self.way * (self.low_y - y) / self.px_per_mm))

    def part(self, x: float, wide: float, first: float, last: float) -> QRectF:
        """The rectangle from one position to another."""
        return QRectF(QPointF(x, self.y(first)), QPointF(x + wide, self.y(last))).normalized()


def upright_scale(picture: StrokePicture, room: QRectF) -> UprightScale:
    """The one scale of the picture: marks, scale body and trips fit ``room`` from top to bottom."""
    stroke = picture.stroke
    way = picture.upright or 1
    if stroke is None:
        at = room.bottom() - _END if way > 0 else room.top() + _END
        return UprightScale(at, room.height() - 2 * _END, 1.0, way)
    ends = [0.0, stroke.travel_mm, *(s for s in picture.set_mm if s is not None)]
    if stroke.scale_mm is not None:
        extra = picture.scale.end_piece_mm if picture.scale is not None else 0.0
        reader = picture.scale.reader_mm / 2 if picture.scale is not None else 0.0
        ends += [stroke.scale_mm[0] - extra, stroke.scale_mm[1] + extra, -reader, stroke.travel_mm + reader]
    low, high = min(ends), max(ends)
    px = (room.height() - 2 * _END) / (high - low)
    at = room.bottom() - _END + low * px if way > 0 else room.top() + _END - low * px
    return UprightScale(at, px, stroke.travel_mm, way)


def paint_upright(painter: QPainter, room: QRectF, picture: StrokePicture, inks: Inks, units: UnitSystem) -> Places:
    """Paint the line of an upright axis into ``room``; returns where the words of its dimensions stand."""
    scale, stroke = upright_scale(picture, room), picture.stroke
    if stroke is None:
        _to_measure(painter, scale.part(room.center().x() - _BAR / 2, _BAR, 0.0, 1.0), picture, scale, inks)
        return {}
    dims = _dimensions(picture, stroke, units)
    before = max(text_width(painter, words) for words, _, _ in dims) + _GAP + _LANE * len(dims)
    said = [*(mark for mark, _ in _marks(picture, stroke, units)), f"{picture.members[0]} on {picture.members[1]}"]
    beside = max(text_width(painter, one) for one in said) + _GAP + 12
    behind = (
        0.0 if stroke.scale_mm is None else _BODY + _READER + 4 * _LANE + text_width(painter, "measures 0000.00 mm")
    )
    left = room.left() + max(0.0, (room.width() - before - _BAR - beside - behind) / 2) + before
    bar = scale.part(left, _BAR, 0.0, stroke.travel_mm)
    _bar(painter, bar, picture, stroke, scale, inks)
    for lane, (words, low, high) in enumerate(dims, 1):
        tall(
            painter, scale.y(low), scale.y(high), bar.left() - lane * _LANE, words, inks, feature_x=bar.left(), side=-1
        )
    _ends(painter, bar, picture, stroke, scale, inks, units)
    places: Places = {}
    for name, mm, end in zip(GIVEN_UP, stroke.give_up_mm, (0.0, stroke.travel_mm), strict=True):
        if picture.holds(name) and mm > 0:
            to = end + (mm if name == GIVEN_UP[0] else -mm)
            words, x = f"given up {format_plain(mm, units)}", bar.left() - _LANE
            places[name] = tall(
                painter, scale.y(end), scale.y(to), x, words, inks, feature_x=bar.left(), side=-1, held=True
            )
    if stroke.scale_mm is not None:
        places |= _scale(painter, bar.right() + beside, picture, stroke, scale, inks, units)
    if picture.at_mm is not None:
        y = scale.y(picture.at_mm)
        painter.setPen(pen(inks.accent, 2.0))
        painter.drawLine(QPointF(bar.left() - 6, y), QPointF(bar.right() + 6, y))
    return places


def tall(
    painter: QPainter,
    y1: float,
    y2: float,
    x: float,
    words: str,
    inks: Inks,
    *,
    feature_x: float,
    side: int,
    down: float = 0.0,
    held: bool = False,
) -> QRectF:
    """An upright dimension at ``x``, its extension lines from ``feature_x``, its words level on one side (−1: left).

    ``down`` puts the words so far below its middle, px, where another's stand there; ``held``: it is the one in hand.
    Returns where its words stand.
    """
    colour = inks.accent if held else inks.faint
    top, bottom = min(y1, y2), max(y1, y2)
    painter.setPen(pen(inks.hairline))
    over = 4.0 if x > feature_x else -4.0
    for y in (top, bottom):
        painter.drawLine(QPointF(feature_x, y), QPointF(x + over, y))
    painter.setPen(pen(colour))
    inside = bottom - top > 24
    if inside:
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
    else:
        painter.drawLine(QPointF(x, top - 14), QPointF(x, top))
        painter.drawLine(QPointF(x, bottom), QPointF(x, bottom + 14))
    arrowhead_at(painter, QPointF(x, top), (0.0, -1.0 if inside else 1.0), colour)
    arrowhead_at(painter, QPointF(x, bottom), (0.0, 1.0 if inside else -1.0), colour)
    wide, y = text_width(painter, words), (top + bottom) / 2 + down
    at = x + side * 7 - (wide if side < 0 else 0.0)
    painter.fillRect(QRectF(at - 2, y - 10, wide + 4, 20), QColor(inks.sheet))
    return label(painter, QPointF(at, y), words, inks, anchor="left", colour=inks.accent if held else "")


def _dimensions(picture: StrokePicture, stroke: Stroke, units: UnitSystem) -> list[tuple[str, float, float]]:
    mark = "○ " if picture.unmeasured else ""
    found = [(f"{mark}travel {format_plain(stroke.travel_mm, units)}", 0.0, stroke.travel_mm)]
    if stroke.kept_mm is not None and stroke.stops:
        low, high = stroke.kept_mm
        found.insert(0, (f"kept {format_plain(high - low, units)}", low, high))
    return found


def _marks(picture: StrokePicture, stroke: Stroke, units: UnitSystem) -> list[tuple[str, Need | None]]:
    """Beside each end: its mark, or the stop that is needed there."""
    needs = [stroke.stop_at(end) for end in ENDS]
    words = [f"{picture.ends[n]} mark" if need is None else stop_words(need, units) for n, need in enumerate(needs)]
    return list(zip(words, needs, strict=True))


def _to_measure(painter: QPainter, bar: QRectF, picture: StrokePicture, scale: UprightScale, inks: Inks) -> None:
    painter.setPen(pen(inks.ink, 1.2, (5, 4)))
    painter.drawRect(bar)
    for mm, word in zip((0.0, 1.0), picture.ends, strict=True):
        label(painter, QPointF(bar.right() + _GAP, scale.y(mm)), f"{word} mark", inks, anchor="left", colour=inks.faint)
    tall(painter, bar.top(), bar.bottom(), bar.left() - 30, "measure this", inks, feature_x=bar.left(), side=-1)
    label(painter, QPointF(bar.right() + _GAP, bar.center().y()), f"travel of the {picture.members[0]}", inks,
          anchor="left")  # fmt: skip


def _bar(
    painter: QPainter, bar: QRectF, picture: StrokePicture, stroke: Stroke, scale: UprightScale, inks: Inks
) -> None:
    def part(low: float, high: float) -> QRectF:
        return scale.part(bar.left(), bar.width(), low, high)

    if stroke.kept_mm is not None:
        painter.fillRect(part(*stroke.kept_mm), QColor(inks.wash))
    low, high = stroke.give_up_mm
    hatch(painter, part(0.0, low), inks)
    hatch(painter, part(stroke.travel_mm - high, stroke.travel_mm), inks)
    for met in stroke.meets:
        first, last = max(0.0, met.from_mm), min(stroke.travel_mm, met.to_mm)
        if last > first:
            painter.setPen(pen(inks.stop, 0.8))
            painter.setBrush(QBrush(QColor(inks.stop), Qt.BrushStyle.DiagCrossPattern))
            painter.drawRect(part(first, last))
            painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.ink, 1.3, (5, 4) if picture.unmeasured else ()))
    painter.drawRect(bar)


def _ends(
    painter: QPainter,
    bar: QRectF,
    picture: StrokePicture,
    stroke: Stroke,
    scale: UprightScale,
    inks: Inks,
    units: UnitSystem,
) -> None:
    """A heavy post for each stop, a thin one where the mark is the end; a flag at each trip; the members between."""
    x = bar.right() + _GAP
    for end, (words, need) in zip(ENDS, _marks(picture, stroke, units), strict=True):
        y = scale.y(stroke.limit_mm(end))
        painter.setPen(pen(inks.ink, 1.2) if need is None else pen(inks.accent, 4.0))
        painter.drawLine(QPointF(bar.left() - 8, y), QPointF(bar.right() + 6, y))
        label(painter, QPointF(x, y), words, inks, anchor="left", colour=inks.faint if need is None else inks.ink)
    for n, stands in enumerate(picture.set_mm):
        wanted = stroke.trips_mm[n] if stroke.trips_mm is not None else None
        at = stands if stands is not None else wanted
        if at is None:
            continue
        painter.setPen(pen(inks.caution, 2.2))
        painter.drawLine(QPointF(bar.left() - 6, scale.y(at)), QPointF(bar.right() + 6, scale.y(at)))
        words = f"{'trip' if stands is None else 'set'} {format_plain(at, units)}"
        y = scale.y(at) + scale.way * (-20 if n == 0 else 20)
        label(painter, QPointF(x, y), words, inks, anchor="left", colour=inks.caution)
    words = f"{picture.members[0]} on {picture.members[1]}"
    label(painter, QPointF(x, bar.center().y()), words, inks, anchor="left", colour=inks.faint)


def _scale(
    painter: QPainter,
    x: float,
    picture: StrokePicture,
    stroke: Stroke,
    scale: UprightScale,
    inks: Inks,
    units: UnitSystem,
) -> Places:
    """The scale beside the line: body, measuring length with its margins, the reader, and the spare at each end."""
    body = picture.scale
    assert stroke.scale_mm is not None
    low, high = stroke.scale_mm
    extra = 0.0 if body is None else body.end_piece_mm

    def part(first: float, last: float) -> QRectF:
        return scale.part(x, _BODY, first, last)

    painter.setPen(pen(inks.ink, 1.2))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawRect(part(low - extra, high + extra))
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(part(low, high))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    hatch(painter, part(low, low + stroke.margin_mm[0]), inks)
    hatch(painter, part(high - stroke.margin_mm[1], high), inks)
    right = x + _BODY
    if body is not None:
        _reader(painter, right, body, picture, stroke, scale, inks)
        at = low - extra if body.left_at == "low" else high + extra
        y = scale.y(at) + scale.way * (12 if body.left_at == "low" else -12)
        label(painter, QPointF(x + _BODY / 2, y), f"{body.left_word} end", inks, colour=inks.faint)
    lanes, places = right + _READER + _LANE, Places()
    if body is not None:
        long = f"measures {format_plain(body.measuring_mm, units)}"
        whole = f"body {format_plain(body.measuring_mm + 2 * extra, units)}"
        for n, (words, more) in enumerate(((long, 0.0), (whole, extra)), 1):
            ends = scale.y(low - more), scale.y(high + more)
            x = lanes + n * _LANE
            name = "measuring" if n == 1 else "overall"
            places[name] = tall(
                painter, *ends, x, words, inks, feature_x=right, side=1, down=(n - 1.5) * 30, held=picture.holds(name)
            )
    for end, edge in zip(ENDS, (low, high), strict=True):
        limit = stroke.limit_mm(end)
        spare = limit - low if end == "low" else high - limit
        words = f"spare {format_plain(spare, units)}"
        name = f"spare_{end}"
        held = picture.holds(name, "spare", "margin")
        places[name] = tall(
            painter, scale.y(edge), scale.y(limit), lanes, words, inks, feature_x=right, side=1, held=held
        )
    return places


def _reader(
    painter: QPainter,
    x: float,
    body: ScaleRow,
    picture: StrokePicture,
    stroke: Stroke,
    scale: UprightScale,
    inks: Inks,
) -> None:
    """The reader where it stands, and dashed at both limits."""
    half = body.reader_mm / 2
    for at in map(stroke.limit_mm, ENDS):
        painter.setPen(pen(inks.faint, 1, (3, 3)))
        painter.drawRect(scale.part(x + 1, _READER - 2, at - half, at + half))
    if picture.at_mm is not None:
        painter.setPen(pen(inks.accent, 1.6))
        painter.setBrush(QBrush(QColor(inks.sheet)))
        painter.drawRect(scale.part(x + 1, _READER - 2, picture.at_mm - half, picture.at_mm + half))
        painter.setBrush(Qt.BrushStyle.NoBrush)

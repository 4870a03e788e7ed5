"""The stroke drawn: one line from mark to mark, with its stops, what metal and giving up take, scale and trips.

Every sheet and page draws this picture; in a low place it leaves out the dimensions and then the scale's own row. The
low mark is on the left; everything is to scale.
"""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.machine.stroke import ENDS, Pair
from vernus.core.units import UnitSystem, format_plain
from vernus.paper.drawing.lines import dimension, label, text_width
from vernus.paper.drawing.machine.stroke_parts import GIVEN_UP, Places, ScaleRow, StrokePicture, hatch, stop_words
from vernus.paper.drawing.machine.stroke_upright import paint_upright, upright_scale
from vernus.paper.ink import Inks, pen

_SIDE = 62.0
_BAR, _ROW = 26.0, 28.0
_UPRIGHT = 200.0
"""The height from which an upright axis is drawn upright, px; a strip shows it lying."""
_DIMENSIONED, _SCALED, _FULL = 150.0, 222.0, 292.0  # heights from which dimensions, the scale, and its lengths come


@dataclass(frozen=True)
class StrokeScale:
    """How mm from the low mark map to the picture."""

    left: float
    px_per_mm: float
    travel_mm: float

    def x(self, mm: float) -> float:
        """Picture x of a position on the line."""
        return self.left + mm * self.px_per_mm

    def position(self, x: float) -> float:
        """The position at picture ``x``, kept between the marks."""
        return min(self.travel_mm, max(0.0, (x - self.left) / self.px_per_mm))


def stroke_scale(picture: StrokePicture, room: QRectF) -> StrokeScale:
    """The one scale of the picture: marks, scale body and trips fit ``room`` lengthwise."""
    stroke = picture.stroke
    if stroke is None:
        return StrokeScale(room.left() + _SIDE, room.width() - 2 * _SIDE, 1.0)
    ends = [0.0, stroke.travel_mm, *(s for s in picture.set_mm if s is not None)]
    if stroke.scale_mm is not None and room.height() >= _SCALED:
        extra = picture.scale.end_piece_mm if picture.scale is not None else 0.0
        reader = picture.scale.reader_mm / 2 if picture.scale is not None else 0.0
        ends += [stroke.scale_mm[0] - extra, stroke.scale_mm[1] + extra, -reader, stroke.travel_mm + reader]
    low, high = min(ends), max(ends)
    px = (room.width() - 2 * _SIDE) / (high - low)
    return StrokeScale(room.left() + _SIDE - low * px, px, stroke.travel_mm)


def position_at(picture: StrokePicture, room: QRectF, spot: QPointF) -> float:
    """The position of the axis (mm from its low mark) at a place of the picture."""
    if picture.upright and room.height() >= _UPRIGHT:
        return upright_scale(picture, room).position(spot.y())
    return stroke_scale(picture, room).position(spot.x())


def paint_stroke(painter: QPainter, room: QRectF, picture: StrokePicture, inks: Inks, units: UnitSystem) -> Places:
    """Paint the line of an axis into ``room``: upright where the axis is and there is room for that.

    Returns where the words of each dimension stand, by the name of its figure.
    """
    if picture.upright and room.height() >= _UPRIGHT:
        return paint_upright(painter, room, picture, inks, units)
    scale = stroke_scale(picture, room)
    rich = room.height() >= _DIMENSIONED
    scaled = room.height() >= _SCALED and picture.stroke is not None and picture.stroke.scale_mm is not None
    above = 62.0 if rich else 10.0
    used = above + _BAR + (132.0 if scaled else 48.0) + (56.0 if scaled and room.height() >= _FULL else 0.0)
    y = room.top() + above + max(0.0, room.height() - used) / 2
    bar = QRectF(scale.x(0), y, scale.travel_mm * scale.px_per_mm, _BAR)
    if picture.stroke is None:
        _to_measure(painter, room, bar, picture, inks)
        return {}
    places: Places = {}
    _bar(painter, bar, picture, scale, inks)
    _stops(painter, room, bar, picture, scale, inks, units)
    if rich:
        places |= _dimensions(painter, room, bar, picture, scale, inks, units)
    _trips(painter, bar, picture, scale, inks, units)
    if scaled and picture.stroke.scale_mm is not None:
        row = QRectF(0, bar.bottom() + 56, 0, 20)
        places |= _scale_row(painter, room, row, picture, scale, inks, units)
    if picture.at_mm is not None:
        painter.setPen(pen(inks.accent, 2.0))
        x = scale.x(picture.at_mm)
        painter.drawLine(QPointF(x, bar.top() - 6), QPointF(x, bar.bottom() + 6))
    return places


def _to_measure(painter: QPainter, room: QRectF, bar: QRectF, picture: StrokePicture, inks: Inks) -> None:
    painter.setPen(pen(inks.ink, 1.2, (5, 4)))
    painter.drawRect(bar)
    label(painter, bar.center(), f"travel of the {picture.members[0]}", inks)
    for x, word in ((bar.left(), f"{picture.ends[0]} mark"), (bar.right(), f"{picture.ends[1]} mark")):
        label(painter, QPointF(x, bar.bottom() + 24), word, inks, colour=inks.faint)
    dimension(painter, bar.left(), bar.right(), bar.top() - 34, "measure this", inks, feature_y=bar.top(), room=room)


def _bar(painter: QPainter, bar: QRectF, picture: StrokePicture, scale: StrokeScale, inks: Inks) -> None:
    """The travel with what is kept, metal cross-hatched and what is given up hatched."""
    stroke = picture.stroke
    assert stroke is not None
    if stroke.kept_mm is not None:
        first, last = (scale.x(v) for v in stroke.kept_mm)
        painter.fillRect(QRectF(first, bar.top(), last - first, bar.height()), QColor(inks.wash))
    for n, mm in enumerate(stroke.give_up_mm):
        width = mm * scale.px_per_mm
        hatch(painter, QRectF(bar.left() if n == 0 else bar.right() - width, bar.top(), width, bar.height()), inks)
    for met in stroke.meets:
        low, high = max(0.0, met.from_mm), min(stroke.travel_mm, met.to_mm)
        if high > low:
            box = QRectF(scale.x(low), bar.top(), (high - low) * scale.px_per_mm, bar.height())
            painter.setPen(pen(inks.stop, 0.8))
            painter.setBrush(QBrush(QColor(inks.stop), Qt.BrushStyle.DiagCrossPattern))
            painter.drawRect(box)
            painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.ink, 1.3, (5, 4) if picture.unmeasured else ()))
    painter.drawRect(bar)
    words = f"{picture.members[0]} on {picture.members[1]}"
    kept = stroke.kept_mm
    if kept is not None and (kept[1] - kept[0]) * scale.px_per_mm > text_width(painter, words) + 10:
        label(painter, QPointF(scale.x(sum(kept) / 2), bar.center().y()), words, inks, colour=inks.faint)


def _stops(
    painter: QPainter,
    room: QRectF,
    bar: QRectF,
    picture: StrokePicture,
    scale: StrokeScale,
    inks: Inks,
    units: UnitSystem,
) -> None:
    """A heavy post for each stop that is needed, a thin one where the mark itself is the end."""
    stroke = picture.stroke
    if stroke is None:
        return
    y = bar.bottom() + 20
    said = {end: stroke.stop_at(end) for end in ENDS}
    half = bar.center().x()
    for n, end in enumerate(ENDS):
        need = said[end]
        x = scale.x(stroke.limit_mm(end))
        painter.setPen(pen(inks.ink, 1.2) if need is None else pen(inks.accent, 4.0))
        painter.drawLine(QPointF(x, bar.top() - 8), QPointF(x, bar.bottom() + 8))
        words = f"{picture.ends[end == 'high']} mark" if need is None else stop_words(need, units)
        width = text_width(painter, words)
        most = half - 6 - room.left() if n == 0 else room.right() - half - 6
        if need is not None and width > most:
            words = f"stop {format_plain(need.before_mark_mm, units)} before"
            width = text_width(painter, words)
        left = max(room.left() + 2, min(x - width / 2, half - width - 6)) if n == 0 else None
        at = left if left is not None else min(room.right() - width - 2, max(x - width / 2, half + 6))
        label(painter, QPointF(at, y), words, inks, anchor="left", colour=inks.faint if need is None else inks.ink)


def _dimensions(
    painter: QPainter,
    room: QRectF,
    bar: QRectF,
    picture: StrokePicture,
    scale: StrokeScale,
    inks: Inks,
    units: UnitSystem,
) -> Places:
    stroke = picture.stroke
    assert stroke is not None
    mark = "○ " if picture.unmeasured else ""
    words = f"{mark}travel {format_plain(stroke.travel_mm, units)}"
    held = picture.holds("usual")
    dimension(painter, bar.left(), bar.right(), bar.top() - 52, words, inks, feature_y=bar.top(), room=room, held=held)
    places: Places = {}
    for name, mm, x in zip(GIVEN_UP, stroke.give_up_mm, (bar.left(), bar.right()), strict=True):
        if picture.holds(name) and mm > 0:
            to = x + mm * scale.px_per_mm * (1 if name == GIVEN_UP[0] else -1)
            words = f"given up {format_plain(mm, units)}"
            places[name] = dimension(
                painter, x, to, bar.top() - 24, words, inks, feature_y=bar.top(), room=room, held=True
            )
            return places
    if stroke.kept_mm is not None and stroke.stops:
        first, last = (scale.x(v) for v in stroke.kept_mm)
        words = f"kept {format_plain(stroke.kept_mm[1] - stroke.kept_mm[0], units)}"
        dimension(painter, first, last, bar.top() - 24, words, inks, feature_y=bar.top(), room=room)
    return places


def _trips(
    painter: QPainter, bar: QRectF, picture: StrokePicture, scale: StrokeScale, inks: Inks, units: UnitSystem
) -> None:
    """A flag at each trip: where it stands, or where it is to be set."""
    stroke = picture.stroke
    assert stroke is not None
    if stroke.trips_mm is None and picture.set_mm == (None, None):
        return
    places: list[tuple[float, str]] = []
    for n, stands in enumerate(picture.set_mm):
        wanted = stroke.trips_mm[n] if stroke.trips_mm is not None else None
        at = stands if stands is not None else wanted
        if at is not None:
            places.append((at, "trip" if stands is None else "set"))
    y = bar.bottom() + 39
    half = bar.center().x()
    for n, (at, word) in enumerate(places):
        x = scale.x(at)
        painter.setPen(pen(inks.caution, 2.2))
        painter.drawLine(QPointF(x, bar.top() - 6), QPointF(x, bar.bottom() + 8))
        words = f"{word} {format_plain(at, units)}"
        width = text_width(painter, words)
        left = min(x + 6, half - width - 4) if n == 0 else max(x - 6 - width, half + 4)
        label(painter, QPointF(left, y), words, inks, anchor="left", colour=inks.caution)


def _scale_row(
    painter: QPainter,
    room: QRectF,
    row: QRectF,
    picture: StrokePicture,
    scale: StrokeScale,
    inks: Inks,
    units: UnitSystem,
) -> Places:
    """The scale: body, measuring length with its margins, the reader, and the spare at each end."""
    stroke, body = picture.stroke, picture.scale
    assert stroke is not None
    assert stroke.scale_mm is not None
    ends: Pair = (scale.x(stroke.scale_mm[0]), scale.x(stroke.scale_mm[1]))
    top, high = row.top(), row.height()
    extra = body.end_piece_mm * scale.px_per_mm if body is not None else 0.0
    painter.setPen(pen(inks.ink, 1.2))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.drawRect(QRectF(ends[0] - extra, top, ends[1] - ends[0] + 2 * extra, high))
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(QRectF(ends[0], top, ends[1] - ends[0], high))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for n, sign in ((0, 1), (1, -1)):
        margin = stroke.margin_mm[n] * scale.px_per_mm
        hatch(painter, QRectF(min(ends[n], ends[n] + sign * margin), top, margin, high), inks)
    if body is not None:
        _reader(painter, top + high, body, picture, scale, inks)
        side = "left" if body.left_at == "low" else "right"
        left = ends[0] - extra if side == "left" else ends[1] + extra
        anchor = "right" if side == "left" else "left"
        word = f"{body.left_word} end"
        word = body.left_word if text_width(painter, word) > _SIDE - 8 else word
        label(painter, QPointF(left + (-5 if side == "left" else 5), top + high / 2), word, inks, anchor=anchor,
              colour=inks.faint)  # fmt: skip
    y = top + high + 44
    places = _spares(painter, room, ends, y, (picture, scale), inks, units, feature_y=top + high)
    if body is None or room.height() < _FULL:
        return places
    for n, (word, mm, more) in enumerate(
        (("measures", body.measuring_mm, 0.0), ("body", body.measuring_mm + 2 * body.end_piece_mm, extra)), 1
    ):
        words, name = f"{word} {format_plain(mm, units)}", "measuring" if n == 1 else "overall"
        places[name] = dimension(
            painter, ends[0] - more, ends[1] + more, y + 28 * n, words, inks, feature_y=top + high, room=room,
            held=picture.holds(name),
        )  # fmt: skip
    return places


def _spares(
    painter: QPainter,
    room: QRectF,
    ends: Pair,
    y: float,
    line: tuple[StrokePicture, StrokeScale],
    inks: Inks,
    units: UnitSystem,
    *,
    feature_y: float,
) -> Places:
    """The spare beyond the limit of each end, its words outside the scale where they fit there."""
    (picture, scale), places = line, Places()
    stroke = picture.stroke
    assert stroke is not None
    assert stroke.scale_mm is not None
    spare = (stroke.limit_mm("low") - stroke.scale_mm[0], stroke.scale_mm[1] - stroke.limit_mm("high"))
    words = [f"spare {format_plain(mm, units)}" for mm in spare]
    limits = [scale.x(stroke.limit_mm(end)) for end in ENDS]
    wide = [text_width(painter, w) + 24 for w in words]
    outside = (min(ends[0], limits[0]) - wide[0] >= room.left(), max(ends[1], limits[1]) + wide[1] <= room.right())
    crossing = not any(outside) and max(ends[0], limits[0]) + sum(wide) > min(ends[1], limits[1])
    nowhere = QRectF(room.left(), 0, 0, 0)
    for n in (0, 1):
        beside = (nowhere if outside[0] else room) if n == 0 else (room if outside[1] else nowhere)
        down = 20 if crossing and n else 0
        name = ("spare_low", "spare_high")[n]
        places[name] = dimension(
            painter, ends[n], limits[n], y + down, words[n], inks, feature_y=feature_y, room=beside,
            held=picture.holds(name, "spare", "margin"),
        )  # fmt: skip
    return places


def _reader(
    painter: QPainter, y: float, body: ScaleRow, picture: StrokePicture, scale: StrokeScale, inks: Inks
) -> None:
    assert picture.stroke is not None
    width = body.reader_mm * scale.px_per_mm
    for end in ENDS:
        painter.setPen(pen(inks.faint, 1, (3, 3)))
        painter.drawRect(QRectF(scale.x(picture.stroke.limit_mm(end)) - width / 2, y + 1, width, 15))
    if picture.at_mm is not None:
        painter.setPen(pen(inks.accent, 1.6))
        painter.setBrush(QBrush(QColor(inks.sheet)))
        middle = scale.x(picture.at_mm)
        painter.drawRect(QRectF(middle - width / 2, y + 1, width, 15))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if width > text_width(painter, "reader") + 6:
            label(painter, QPointF(middle, y + 9), "reader", inks)

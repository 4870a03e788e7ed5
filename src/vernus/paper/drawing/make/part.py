"""A part as a shop drawing: every face that has something on it, to one scale, with its datum corner and centre lines.

Holes are numbered once through all views and found by the hole table, so that no place is dimensioned twice. Line kinds
and widths of ISO 128, dimensions of ISO 129, from memory: thick visible edges, thin dimension lines, dash-dot centres.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPolygonF

from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import FACE_WORDS, Part, PartFace
from vernus.core.units import UnitSystem, format_length
from vernus.paper.drawing.lines import arrowhead_at, dimension, label, text_width
from vernus.paper.drawing.make.section import Cut, paint_section, section_at
from vernus.paper.drawing.make.view import PX_PER_MM, THICK, THIN, View
from vernus.paper.ink import Inks, pen

SCALES = (1.0, 1 / 2, 1 / 5, 1 / 10, 1 / 20, 1 / 50)
"""Full size and the reductions of ISO 5455, from memory."""
_TITLE = 18.0
_BELOW = 44.0
_ASIDE = 62.0
_BETWEEN = 56.0
_PROFILE = 96.0
_SECTION = 42.0
_TIGHT = 44.0
_NEAR = 18.0


def paint_part(
    painter: QPainter, room: QRectF, part: Part, rows: Sequence[HoleRow], inks: Inks, units: UnitSystem
) -> None:
    """Paint every view of a part into ``room``, as large as it goes."""
    _paint(painter, room, part, rows, inks, units, None)


def paint_to_scale(
    painter: QPainter, room: QRectF, part: Part, rows: Sequence[HoleRow], inks: Inks, units: UnitSystem, scale: float
) -> None:
    """The same to a stated scale, with a section through what the front hides."""
    _paint(painter, room, part, rows, inks, units, scale)


def scale_for(part: Part, rows: Sequence[HoleRow], wide_px: float, high_px: float) -> tuple[float, float]:
    """The largest usual scale at which a part's views go into a room, and how high they are drawn then (px)."""
    ways = [_Arrangement(part, r, section_at(part, rows), tight=True) for r in _ways(part)]
    for scale in SCALES:
        per_mm = scale * PX_PER_MM
        fits = [w.high_px(per_mm) for w in ways if w.wide_px(per_mm) <= wide_px and w.high_px(per_mm) <= high_px]
        if fits:
            return scale, min(fits)
    return SCALES[-1], high_px


def _paint(
    painter: QPainter, room: QRectF, part: Part, rows: Sequence[HoleRow], inks: Inks, units: UnitSystem,
    scale: float | None,
) -> None:  # fmt: skip
    cut = section_at(part, rows)
    views, profile, section = _lay_out(part, room, cut, scale)
    for view in views:
        _paint_view(painter, view, part, [r for r in rows if r.hole.face == view.face], inks, titled=len(views) > 1)
    front = views[0]
    if section is not None and cut is not None:
        paint_section(painter, section, front, part, cut, inks)
    long, wide = format_length(part.length_mm, units), format_length(part.width_mm, units)
    round_it = part.kind == "ring"
    long = f"⌀ {long}" if round_it else long
    dimension(painter, front.left, front.left + front.wide, front.low + 24, long, inks, feature_y=front.low, room=room)
    if not round_it:
        upright(
            painter,
            front.low,
            front.low - front.high,
            front.left - (20 if section is None else 40),
            wide,
            inks,
            feature_x=front.left,
        )
    if part.seen:
        at = QPointF(front.left, front.low + 42)
        label(painter, at, f"{part.seen} (dashed)", inks, anchor="left", colour=inks.faint)
    if profile is not None:
        _paint_profile(painter, profile, part, inks, units, room)


def _ways(part: Part) -> list[list[list[PartFace]]]:
    """How the views can stand: one below the other, or side by side."""
    faces = part.faces_used()
    stacked: list[list[PartFace]] = [["face"]]
    for face in faces[1:]:
        if face == "right" and stacked[-1] == ["left"]:
            stacked[-1].append(face)
        else:
            stacked.append([face])
    return [stacked, [list(faces)]]


def _lay_out(
    part: Part, room: QRectF, cut: Cut | None, scale: float | None
) -> tuple[list[View], View | None, View | None]:
    """Where each view goes: to ``scale``, or to the largest that all have in common; a section below the front."""
    ways = [_Arrangement(part, rows, cut, tight=scale is not None) for rows in _ways(part)]
    if scale is None:
        return max((w.placed(room, w.per_mm(room)) for w in ways), key=lambda found: found[0][0].per_mm)
    per_mm = scale * PX_PER_MM
    fits = [w for w in ways if w.wide_px(per_mm) <= room.width() and w.high_px(per_mm) <= room.height() + 1]
    return min(fits or ways, key=lambda w: w.high_px(per_mm)).placed(room, per_mm)


class _Arrangement:
    """The views of a part in rows, the profile beside the front and a section below it; tighter to a stated scale."""

    def __init__(self, part: Part, rows: list[list[PartFace]], cut: Cut | None, *, tight: bool = False) -> None:
        self.part, self.rows, self._cut, self._tight = part, rows, cut, tight
        self._beside = 0.0 if part.kind == "face" else max(part.thickness_mm, _reach(part))
        self._sizes = {f: part.size_of(f)[:2] for row in rows for f in row}
        self._left, self._gap = (_TIGHT if cut is None else _ASIDE, _TIGHT) if tight else (_ASIDE, _ASIDE)
        self._wide_mm = max(
            sum(self._sizes[f][0] for f in row) + (self._beside if row[0] == "face" else 0.0) for row in rows
        )
        self._high_mm = sum(max(self._sizes[f][1] for f in row) for row in rows)
        self._high_mm += 0.0 if cut is None else part.thickness_mm
        self._pad_y = _BELOW + 8 + len(rows) * (_TITLE + 12) + _hangs_px(part) + (0.0 if cut is None else _SECTION)

    def _profile_px(self, per_mm: float) -> float:
        """What the profile takes beside its own width: the gap before it, and its words behind it."""
        if not self._beside:
            return 0.0
        words = _PROFILE if self.part.has_leg else _ASIDE
        return self._gap + (max(0.0, words + 44 - self._beside * per_mm) if self._tight else words)

    def _pad_x(self, per_mm: float) -> float:
        aside = max(
            (len(row) - 1) * _BETWEEN + (self._profile_px(per_mm) if row[0] == "face" else 0.0) for row in self.rows
        )
        return self._left + 20 + aside

    def wide_px(self, per_mm: float) -> float:
        """How wide everything is at a scale."""
        return self._wide_mm * per_mm + self._pad_x(per_mm)

    def high_px(self, per_mm: float) -> float:
        """How high everything is at a scale."""
        return self._high_mm * per_mm + self._pad_y

    def per_mm(self, room: QRectF) -> float:
        """The largest scale (px a mm) at which it goes into a room."""
        wide, high = (room.width() - self._pad_x(1.0)) / self._wide_mm, (room.height() - self._pad_y) / self._high_mm
        return max(0.02, min(wide, high))

    def placed(self, room: QRectF, per_mm: float) -> tuple[list[View], View | None, View | None]:
        """Every view in its place."""
        left = room.left() + self._left + max(0.0, (room.width() - self.wide_px(per_mm)) / 2)
        y = room.top() + _TITLE + 4
        views: list[View] = []
        profile = section = None
        for row in self.rows:
            x, tall = left, max(self._sizes[f][1] for f in row) * per_mm
            for face in row:
                wide, high = (v * per_mm for v in self._sizes[face])
                views.append(View(face, x, y + tall, wide, high, per_mm))
                x += wide + _BETWEEN
                if face == "face" and self._beside:
                    profile = View("face", x + self._gap - _BETWEEN, y + tall, self._beside * per_mm, high, per_mm)
                    x += self._beside * per_mm + self._profile_px(per_mm)
            y += tall + _TITLE + 12 + (_BELOW - 12 if row[0] == "face" else 0.0)
            if row[0] == "face" and self._cut is not None:
                deep = self.part.thickness_mm * per_mm
                section = View("face", left, y + _SECTION - 24 + deep, self.part.length_mm * per_mm, deep, per_mm)
                y += _SECTION + deep
        return views, profile, section


def _hangs_px(part: Part) -> float:
    """Room for the second line of words, under the profile of an angle or of what is seen from outside."""
    return 18.0 if part.has_leg or part.seen else 0.0


def _reach(part: Part) -> float:
    """How far an angle's other leg stands out of its profile."""
    return part.leg_mm * math.sin(math.radians(part.bend_deg)) if part.has_leg else 0.0


def _paint_view(
    painter: QPainter, view: View, part: Part, rows: Sequence[HoleRow], inks: Inks, *, titled: bool
) -> None:
    painter.setPen(pen(inks.ink, THICK))
    painter.setBrush(QBrush(QColor(inks.wash)))
    if part.kind == "ring" and view.face in ("face", "back"):
        painter.drawEllipse(view.rect)
    else:
        painter.drawRect(view.rect)
    for cut in (c for c in part.cuts if c.face == view.face):
        place = QRectF(view.at(cut.x_mm, cut.y_mm + cut.high_mm), view.at(cut.x_mm + cut.wide_mm, cut.y_mm))
        place = place.intersected(view.rect)
        if cut.kind == "keep clear":
            painter.setPen(pen(inks.caution, 1.0, (6, 4)))
            painter.setBrush(QBrush(QColor(inks.caution), Qt.BrushStyle.BDiagPattern))
        else:
            painter.setPen(pen(inks.ink, 1.2))
            painter.setBrush(QBrush(QColor(inks.sheet)) if cut.kind != "tongue" else Qt.BrushStyle.NoBrush)
        painter.drawRect(place)
        if place.height() > 16 and place.width() > text_width(painter, cut.kind) + 8 and cut.kind != "keep clear":
            label(painter, place.center(), cut.kind, inks, colour=inks.faint)
    painter.setBrush(QBrush(QColor(inks.sheet)))
    around = view.rect.adjusted(-_NEAR, -_NEAR, _NEAR, _NEAR)
    rows = [r for r in rows if around.contains(view.at(r.hole.x_mm, r.hole.y_mm))]  # those beyond are told as a stop
    middles = [view.at(r.hole.x_mm, r.hole.y_mm) for r in rows]
    taken = [_room_of(at, row, view.per_mm) for at, row in zip(middles, rows, strict=True)]
    for at, row in zip(middles, rows, strict=True):
        paint_hole(painter, at, row, view.per_mm, inks)
    for at, row in zip(middles, rows, strict=True):
        beside = _number_at(at, row, taken, view.rect, view.per_mm)
        if beside is not None:
            taken.append(label(painter, beside, str(row.number), inks))
    if part.kind == "ring" and view.face in ("face", "back"):
        return  # round: it counts from its middle, which the bore shows
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.accent, 2.4))
    corner = QPointF(view.left, view.low)
    painter.drawLine(corner, corner + QPointF(min(18.0, view.wide), 0))
    painter.drawLine(corner, corner - QPointF(0, min(18.0, view.high)))
    if titled:
        at = QPointF(view.left, view.low - view.high - 10)
        label(painter, at, FACE_WORDS[view.face], inks, anchor="left", colour=inks.faint)


def _room_of(at: QPointF, row: HoleRow, per_mm: float) -> QRectF:
    long = (row.slot_mm or row.size_mm) * per_mm
    across = abs(math.sin(math.radians(row.hole.angle_deg))) if row.slot_mm is not None else 0.0
    wide, high = (row.size_mm * per_mm, long) if across > 0.7 else (long, row.size_mm * per_mm)
    return QRectF(at.x() - wide / 2, at.y() - high / 2, wide, high)


def _number_at(at: QPointF, row: HoleRow, taken: Sequence[QRectF], plate: QRectF, per_mm: float) -> QPointF | None:
    """Where a hole's number stands: above, below, right or left of it, on the plate and clear of what is there.

    None where holes lie so close that no number has room: their row in the table tells.
    """
    mine = _room_of(at, row, per_mm)
    up, aside = mine.height() / 2 + 12, mine.width() / 2 + 12
    places = [at + QPointF(*off) for off in ((0.0, -up), (0.0, up), (aside, 0.0), (-aside, 0.0))]
    for place in places:
        box = QRectF(place.x() - 6, place.y() - 7, 12, 14)
        if plate.contains(box) and not any(box.intersects(other) for other in taken):
            return place
    free = [p for p in places if not any(QRectF(p.x() - 6, p.y() - 7, 12, 14).intersects(o) for o in taken)]
    return next((p for p in free if plate.left() <= p.x() - 6 and p.x() + 6 <= plate.right()), None)


def paint_hole(painter: QPainter, at: QPointF, row: HoleRow, per_mm: float, inks: Inks) -> None:
    """A hole, slot, counterbore or countersink with its centre lines, at a scale of ``per_mm`` px a millimetre."""
    painter.save()
    painter.translate(at)
    if row.slot_mm is not None:
        painter.rotate(-row.hole.angle_deg)
    radius, travel = row.drill_mm / 2 * per_mm, (row.slot_mm - row.drill_mm) / 2 * per_mm if row.slot_mm else 0.0
    painter.setPen(pen(inks.ink, THIN, (6, 3)) if row.hole.far_side else pen(inks.ink, THICK))
    for size in (row.counterbore_mm, row.drill_mm):
        if size is not None:
            r = size / 2 * per_mm
            painter.drawRoundedRect(QRectF(-travel - r, -r, 2 * (travel + r), 2 * r), r, r)
    if row.hole.is_tapped:
        painter.setPen(pen(inks.faint, 0.8, (4, 3)))
        painter.drawEllipse(QPointF(0, 0), radius * 1.2, radius * 1.2)
    reach = row.size_mm / 2 * per_mm + 5
    painter.setPen(pen(inks.accent, THIN, (12, 3, 1, 3)))
    painter.drawLine(QPointF(-reach - travel, 0), QPointF(reach + travel, 0))
    for x in sorted({-travel, travel}):
        painter.drawLine(QPointF(x, -reach), QPointF(x, reach))
    painter.restore()


def _paint_profile(painter: QPainter, view: View, part: Part, inks: Inks, units: UnitSystem, room: QRectF) -> None:
    """The part seen from its right end: its thickness, or the legs of an angle with the angle between them."""
    thick = part.thickness_mm
    painter.setPen(pen(inks.ink, THICK))
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawPolygon(QPolygonF([view.at(x, y) for x, y in end_outline(part)]))
    words = format_length(thick, units)
    # the length of a narrow front stands beside its line, where these words would be
    narrow = part.length_mm * view.per_mm < text_width(painter, format_length(part.length_mm, units)) + 26
    if part.has_leg:
        way = math.radians(part.bend_deg)
        along = (math.sin(way), math.cos(way))
        out = (-along[1], along[0])
        corners = [(0.0, 0.0), (part.leg_mm * along[0], part.leg_mm * along[1])]
        corners += [(x + thick * out[0], y + thick * out[1]) for x, y in reversed(corners)]
        painter.drawPolygon(QPolygonF([view.at(x, y) for x, y in corners]))
        words += " thick"
        more = f"leg {format_length(part.leg_mm, units)} at {part.bend_deg:g}°"
        low = view.low + 20 + view.per_mm * max(0.0, -min(y for _, y in corners))
        low += 18.0 if narrow else 0.0
        label(painter, QPointF(view.left, low), words, inks, anchor="left")
        label(painter, QPointF(view.left, low + 18), more, inks, anchor="left")
        return
    right = view.left + thick * view.per_mm
    if right + 24 + text_width(painter, words) <= room.right():
        low = view.low + (42 if narrow else 24)
        dimension(painter, view.left, right, low, words, inks, feature_y=view.low, room=room)
        return
    under = QPointF(min(room.right() - 4, right + text_width(painter, words) / 2), view.low + 16)
    label(painter, under, words, inks, anchor="right")  # no room beside: left of it the front has its own dimension


def end_outline(part: Part) -> list[tuple[float, float]]:
    """The outline of a part seen from its end, from its lower left corner (mm): across its thickness, then its width.

    Steps and reliefs that run the whole length of its face are cut out of it: a T-nut bar is seen as a T. A tongue
    along its back stands out to the left.
    """
    thick, wide = part.thickness_mm, part.width_mm
    runs = [c for c in part.cuts if c.kind in ("step", "relief") and c.face == "face" and c.wide_mm >= part.length_mm]
    spans = sorted((max(0.0, c.y_mm), min(wide, c.y_mm + c.high_mm), min(thick, c.depth_mm)) for c in runs)
    right = [(thick, 0.0)]
    for low, high, deep in spans:
        right += [(thick, low), (thick - deep, low), (thick - deep, high), (thick, high)]
    tongues = [c for c in part.cuts if c.kind == "tongue" and c.face == "back" and c.wide_mm >= part.length_mm]
    left: list[tuple[float, float]] = []
    for c in sorted(tongues, key=lambda c: -c.y_mm):
        low, high = max(0.0, c.y_mm), min(wide, c.y_mm + c.high_mm)
        left += [(0.0, high), (-c.depth_mm, high), (-c.depth_mm, low), (0.0, low)]
    return [(0.0, 0.0), *right, (thick, wide), (0.0, wide), *left]


def upright(painter: QPainter, y1: float, y2: float, x: float, text: str, inks: Inks, *, feature_x: float) -> None:
    """A dimension measured up and down at ``x``, its extension lines coming from ``feature_x``; read from the right."""
    top, low = min(y1, y2), max(y1, y2)
    painter.setPen(pen(inks.hairline))
    for y in (top, low):
        painter.drawLine(QPointF(feature_x, y), QPointF(x - 4, y))
    painter.setPen(pen(inks.faint))
    painter.drawLine(QPointF(x, top), QPointF(x, low))
    arrowhead_at(painter, QPointF(x, top), (0, -1), inks.faint)
    arrowhead_at(painter, QPointF(x, low), (0, 1), inks.faint)
    if low - top < text_width(painter, text) + 6:
        label(painter, QPointF(feature_x - 8, top - 12), text, inks, anchor="right")
        return
    painter.save()
    painter.translate(QPointF(x - 10, (top + low) / 2))
    painter.rotate(-90)
    label(painter, QPointF(0, 0), text, inks)
    painter.restore()

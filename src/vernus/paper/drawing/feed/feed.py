"""Pictures of a power feed: its mesh, its hole patterns, and the parts to make for it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from vernus.core.feed.fit import HoleMatch, TurnedPart
from vernus.core.feed.gears import Mesh
from vernus.core.feed.keys import SteppedKey
from vernus.core.units import UnitSystem, format_length, format_size
from vernus.paper.drawing.lines import dimension, label
from vernus.paper.ink import Inks, pen


def paint_mesh(
    painter: QPainter, room: QRectF, mesh: Mesh, teeth: tuple[int, int], inks: Inks, units: UnitSystem
) -> None:
    """Paint drive gear and unit's gear (``teeth`` in that order) at their centres: outside, and pitch circle dashed."""
    centre = mesh.centre_mm + mesh.open_mm
    outside = [mesh.module_mm * (z + 2) / 2 for z in teeth]
    per_mm = min((room.width() - 40) / (centre + sum(outside)), (room.height() - 66) / (2 * max(outside)))
    y = room.top() + 8 + max(outside) * per_mm
    start = room.center().x() - (centre + sum(outside)) * per_mm / 2
    middles = (start + outside[0] * per_mm, start + (outside[0] + centre) * per_mm)
    for x, radius, z in zip(middles, outside, teeth, strict=True):
        at = QPointF(x, y)
        painter.setBrush(QBrush(QColor(inks.wash)))
        painter.setPen(pen(inks.ink, 1.4))
        painter.drawEllipse(at, radius * per_mm, radius * per_mm)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(inks.accent, 0.9, (8, 3, 2, 3)))
        painter.drawEllipse(at, mesh.module_mm * z / 2 * per_mm, mesh.module_mm * z / 2 * per_mm)
        painter.drawLine(at - QPointF(6, 0), at + QPointF(6, 0))
        painter.drawLine(at - QPointF(0, 6), at + QPointF(0, 6))
        label(painter, at + QPointF(0, -18), str(z), inks)
    below = y + max(outside) * per_mm
    words = f"centres {format_length(centre, units)}"
    dimension(painter, *middles, below + 22, words, inks, feature_y=y + 10, room=room)
    label(
        painter,
        QPointF(room.center().x(), below + 46),
        "seen along the screw, with their teeth; pitch circles dashed",
        inks,
        colour=inks.faint,
    )


def paint_holes(painter: QPainter, room: QRectF, match: HoleMatch, inks: Inks, units: UnitSystem) -> None:
    """Paint the kit's holes dashed over the machine's screws, middle on middle, with both distances across."""
    wide = max(match.machine_mm[0], match.kit_mm[0]) + match.hole_mm
    high = max(match.machine_mm[1], match.kit_mm[1]) + match.hole_mm
    per_mm = min((room.width() - 150) / wide, (room.height() - 120) / high)
    middle = QPointF(room.center().x(), room.top() + 36 + high * per_mm / 2)
    filled, hollow = QBrush(QColor(inks.wash)), QBrush(Qt.BrushStyle.NoBrush)
    for pattern, size, ink, brush in (
        (match.machine_mm, match.screw_mm, pen(inks.ink, 1.4), filled),
        (match.kit_mm, match.hole_mm, pen(inks.accent, 1.2, (5, 3)), hollow),
    ):
        painter.setPen(ink)
        painter.setBrush(brush)
        for x, y in match.corners(pattern):
            painter.drawEllipse(middle + QPointF(x * per_mm, -y * per_mm), size / 2 * per_mm, size / 2 * per_mm)
    top, low = middle.y() - high * per_mm / 2, middle.y() + high * per_mm / 2
    for pattern, y, edge, word in ((match.kit_mm, top - 14, top, "kit"), (match.machine_mm, low + 18, low, "machine")):
        half = pattern[0] / 2 * per_mm
        words = f"{word} {format_size(pattern[0], units)}"
        dimension(painter, middle.x() - half, middle.x() + half, y, words, inks, feature_y=edge, room=room)
    label(
        painter, QPointF(room.center().x(), low + 44), "filled: screws of the machine; dashed: holes of the kit", inks,
        colour=inks.faint,
    )  # fmt: skip


def paint_made(painter: QPainter, room: QRectF, part: TurnedPart | SteppedKey, inks: Inks, units: UnitSystem) -> None:
    """Paint a part that the fit check asks for, to scale."""
    if isinstance(part, SteppedKey):
        paint_key(painter, room, part, inks, units)
    else:
        paint_turned(painter, room, part, inks, units)


def paint_key(painter: QPainter, room: QRectF, key: SteppedKey, inks: Inks, units: UnitSystem) -> None:
    """Paint a stepped key from its end and from the side, shaft side down, with its widths, heights and length."""
    wide = max(key.shaft_width_mm, key.hub_width_mm)
    per_mm = min((room.width() - 245) / (key.length_mm + wide), (room.height() - 84) / key.height_mm)
    top = room.center().y() - key.height_mm * per_mm / 2
    step, bottom = top + (key.height_mm - key.depth_mm) * per_mm, top + key.height_mm * per_mm
    middle = room.left() + 50 + wide * per_mm / 2
    side = QRectF(middle + wide * per_mm / 2 + 135, top, key.length_mm * per_mm, key.height_mm * per_mm)
    painter.setPen(pen(inks.ink, 1.4))
    painter.setBrush(QBrush(QColor(inks.wash)))
    for width, first, last in ((key.hub_width_mm, top, step), (key.shaft_width_mm, step, bottom)):
        painter.drawRect(QRectF(middle - width * per_mm / 2, first, width * per_mm, last - first))
    painter.drawRect(side)
    painter.drawLine(QPointF(side.left(), step), QPointF(side.right(), step))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for width, edge, y in ((key.hub_width_mm, top, top - 24), (key.shaft_width_mm, bottom, bottom + 24)):
        half = width * per_mm / 2
        words = format_size(width, units)
        dimension(painter, middle - half, middle + half, y, words, inks, feature_y=edge, room=room)
    x = middle + wide * per_mm / 2 + 12
    for height, first, last, where in (
        (key.height_mm - key.depth_mm, top, step, "hub"),
        (key.depth_mm, step, bottom, key.lower),
    ):
        words = f"{where} {format_length(height, units)}"
        label(painter, QPointF(x, (first + last) / 2), words, inks, anchor="left", colour=inks.faint)
    words = format_length(key.length_mm, units)
    dimension(painter, side.left(), side.right(), bottom + 24, words, inks, feature_y=bottom, room=room)


def paint_turned(painter: QPainter, room: QRectF, part: TurnedPart, inks: Inks, units: UnitSystem) -> None:
    """Paint a turned part from the side, half in section, with its steps dimensioned."""
    length = part.length_mm + (part.claws_mm or 0.0)
    below = 30 + 26 * len(part.steps_mm) + 17 * len(part.notes)
    above = 8 + 17 * len(part.steps_mm)
    per_mm = min((room.width() - 300) / length, (room.height() - above - below) / part.largest_mm)
    axis_y = room.top() + above + part.largest_mm * per_mm / 2
    x = room.center().x() - length * per_mm / 2
    start = x
    for number, (diameter, run) in enumerate(part.steps_mm):
        half = diameter / 2 * per_mm
        painter.setPen(pen(inks.ink, 1.4))
        painter.setBrush(QBrush(QColor(inks.wash)))
        painter.drawRect(QRectF(x, axis_y - half, run * per_mm, 2 * half))
        words = f"dia. {format_size(diameter, units)}"
        label(
            painter,
            QPointF(x + run * per_mm / 2, axis_y - part.largest_mm * per_mm / 2 - 10 - 17 * number),
            words,
            inks,
        )
        y = axis_y + part.largest_mm * per_mm / 2 + 24 + 26 * number
        dimension(painter, x, x + run * per_mm, y, format_length(run, units), inks, feature_y=axis_y + half, room=room)
        x += run * per_mm
    first = axis_y + part.largest_mm * per_mm / 2 + 22 + 26 * len(part.steps_mm)
    for line, note in enumerate(part.notes):
        at = QPointF(room.center().x(), first + 17 * line)
        label(painter, at, note.text(units), inks, colour=inks.faint)
    if part.claws_mm:
        half = part.steps_mm[-1][0] / 2 * per_mm
        painter.drawRect(QRectF(x, axis_y - half, part.claws_mm * per_mm, half * 0.7))
        painter.drawRect(QRectF(x, axis_y + half * 0.3, part.claws_mm * per_mm, half * 0.7))
    painter.setBrush(QBrush(QColor(inks.sheet)))
    painter.setPen(pen(inks.ink, 1.0, (4, 3)))
    if part.bore_mm:
        deep = part.bore_depth_mm if part.bore_depth_mm is not None else part.length_mm
        bore = part.bore_mm / 2 * per_mm
        painter.drawRect(QRectF(start, axis_y - bore, deep * per_mm, 2 * bore))
        label(painter, QPointF(start - 20, axis_y), f"bore {format_size(part.bore_mm, units)}", inks, anchor="right")
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.accent, 0.8, (8, 3, 2, 3)))
    painter.drawLine(QPointF(start - 14, axis_y), QPointF(start + length * per_mm + 14, axis_y))

"""Dimension lines, arrowheads and labels as on a shop drawing."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPagedPaintDevice, QPainter, QPolygonF

from vernus.paper.ink import Inks, font, pen


def label(
    painter: QPainter,
    at: QPointF,
    text: str,
    inks: Inks,
    *,
    anchor: str = "middle",
    bold: bool = False,
    colour: str = "",
) -> QRectF:
    """Text with its middle, left or right at ``at`` (vertically centred); returns where it stands."""
    painter.setFont(font(bold=bold))
    metrics = painter.fontMetrics()
    width, height = metrics.horizontalAdvance(text), metrics.height()
    x = {"middle": at.x() - width / 2, "left": at.x(), "right": at.x() - width}[anchor]
    box = on_paper(painter, QRectF(x, at.y() - height / 2, width + 1, height))
    painter.setPen(pen(colour or inks.ink))
    painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextDontClip, text)
    return box


_EDGE_MM = 9.0
"""What a printer leaves white round a page."""


def on_paper(painter: QPainter, box: QRectF) -> QRectF:
    """A box of words moved to where it is printed whole; it stays where it is on a screen."""
    page = painter.device()
    if not isinstance(page, QPagedPaintDevice):
        return box
    placed, away = painter.combinedTransform(), _EDGE_MM / 25.4 * page.logicalDpiX()
    free = QRectF(away, away, page.width() - 2 * away, page.height() - 2 * away)
    seen = placed.mapRect(box)
    right = max(0.0, free.left() - seen.left()) - max(0.0, seen.right() - free.right())
    down = max(0.0, free.top() - seen.top()) - max(0.0, seen.bottom() - free.bottom())
    if not right and not down:
        return box
    back = placed.inverted()[0]
    return box.translated(back.map(QPointF(right, down)) - back.map(QPointF(0.0, 0.0)))


def text_width(painter: QPainter, text: str) -> float:
    """Width of a label's text."""
    painter.setFont(font())
    return float(painter.fontMetrics().horizontalAdvance(text))


def arrowhead(painter: QPainter, tip: QPointF, direction: float, colour: str, size: float = 7.0) -> None:
    """A slim filled arrowhead pointing left (−1) or right (+1)."""
    back = tip.x() - direction * size
    shape = QPolygonF([tip, QPointF(back, tip.y() - size / 3.2), QPointF(back, tip.y() + size / 3.2)])
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(colour)))
    painter.drawPolygon(shape)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def arrowhead_at(painter: QPainter, tip: QPointF, way: tuple[float, float], colour: str, size: float = 7.0) -> None:
    """A slim filled arrowhead pointing along a unit vector."""
    back = tip - QPointF(way[0] * size, way[1] * size)
    side = QPointF(-way[1] * size / 3.2, way[0] * size / 3.2)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(colour)))
    painter.drawPolygon(QPolygonF([tip, back + side, back - side]))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def dimension(
    painter: QPainter,
    x1: float,
    x2: float,
    y: float,
    text: str,
    inks: Inks,
    *,
    feature_y: float,
    room: QRectF,
    held: bool = False,
) -> QRectF:
    """A horizontal dimension between ``x1`` and ``x2`` at height ``y``, its extension lines coming from ``feature_y``.

    Where the text doesn't fit between the arrows, they point inward from outside and the text stands beside them.
    ``held``: it is the one in hand, in the accent. Returns where its words stand.
    """
    thin, words = (inks.accent, inks.accent) if held else (inks.faint, "")
    x1, x2 = min(x1, x2), max(x1, x2)
    overshoot = 4 if y > feature_y else -4
    painter.setPen(pen(inks.hairline))
    for x in (x1, x2):
        painter.drawLine(QPointF(x, feature_y), QPointF(x, y + overshoot))
    width = text_width(painter, text)
    if x2 - x1 >= width + 26:
        middle = (x1 + x2) / 2
        painter.setPen(pen(thin))
        painter.drawLine(QPointF(x1, y), QPointF(middle - width / 2 - 4, y))
        painter.drawLine(QPointF(middle + width / 2 + 4, y), QPointF(x2, y))
        arrowhead(painter, QPointF(x1, y), -1, thin)
        arrowhead(painter, QPointF(x2, y), 1, thin)
        return label(painter, QPointF(middle, y), text, inks, colour=words)
    painter.setPen(pen(thin))
    painter.drawLine(QPointF(x1 - 16, y), QPointF(x1, y))
    painter.drawLine(QPointF(x2, y), QPointF(x2 + 16, y))
    arrowhead(painter, QPointF(x1, y), 1, thin)
    arrowhead(painter, QPointF(x2, y), -1, thin)
    if x2 + 20 + width <= room.right():
        return label(painter, QPointF(x2 + 20, y), text, inks, anchor="left", colour=words)
    return label(painter, QPointF(x1 - 20, y), text, inks, anchor="right", colour=words)

"""Things of the practice bench drawn as what they are: a hand, an ear, a lock, a strip of paper, a stand, a tooth."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPolygonF

from vernus.paper.drawing.keep.bench_shown import BenchShown
from vernus.paper.ink import Inks, font, pen

_TIGHT_MM, _LOOSE_MM = 0.03, 0.12


def paint_palm(painter: QPainter, place: QRectF, _shown: BenchShown, inks: Inks, _grip: str) -> None:
    """An open hand with a gauge block in it."""
    w, h = place.width(), place.height()
    for n in range(4):
        x, y = place.left() + w * (0.24 + 0.17 * n), place.top() + h * (0.04 if n in (1, 2) else 0.1)
        finger = QRectF(x, y, w * 0.13, h * 0.5)
        painter.drawRoundedRect(finger, w * 0.065, w * 0.065)
    painter.drawRoundedRect(
        QRectF(place.left() + w * 0.22, place.top() + h * 0.42, w * 0.68, h * 0.5), w * 0.14, w * 0.14
    )
    thumb = QPainterPath()
    thumb.addRoundedRect(QRectF(-w * 0.07, -h * 0.2, w * 0.14, h * 0.4), w * 0.07, w * 0.07)
    painter.save()
    painter.translate(place.left() + w * 0.16, place.top() + h * 0.56)
    painter.rotate(-32)
    painter.drawPath(thumb)
    painter.restore()
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(QRectF(place.left() + w * 0.36, place.top() + h * 0.6, w * 0.42, h * 0.14))


def paint_ear(painter: QPainter, place: QRectF, _shown: BenchShown, inks: Inks, _grip: str) -> None:
    """An ear: its rim, the fold inside, the lobe."""
    w, h, x, y = place.width(), place.height(), place.left(), place.top()
    rim = QPainterPath(QPointF(x + w * 0.3, y + h * 0.95))
    rim.cubicTo(
        QPointF(x + w * 0.1, y + h * 0.85), QPointF(x + w * 0.3, y + h * 0.7), QPointF(x + w * 0.22, y + h * 0.5)
    )
    rim.cubicTo(QPointF(x - w * 0.05, y), QPointF(x + w * 0.9, y - h * 0.1), QPointF(x + w * 0.9, y + h * 0.35))
    rim.cubicTo(
        QPointF(x + w * 0.9, y + h * 0.65), QPointF(x + w * 0.6, y + h * 0.6), QPointF(x + w * 0.55, y + h * 0.85)
    )
    rim.cubicTo(QPointF(x + w * 0.5, y + h), QPointF(x + w * 0.4, y + h), QPointF(x + w * 0.3, y + h * 0.95))
    painter.drawPath(rim)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    fold = QPainterPath(QPointF(x + w * 0.38, y + h * 0.5))
    fold.cubicTo(
        QPointF(x + w * 0.2, y + h * 0.2), QPointF(x + w * 0.75, y + h * 0.1), QPointF(x + w * 0.7, y + h * 0.38)
    )
    fold.cubicTo(
        QPointF(x + w * 0.68, y + h * 0.5), QPointF(x + w * 0.5, y + h * 0.5), QPointF(x + w * 0.48, y + h * 0.66)
    )
    painter.setPen(pen(inks.ink, 1.2))
    painter.drawPath(fold)


def paint_padlock(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, grip: str) -> None:
    """A padlock, its shackle closed where the feed is locked off."""
    w, h = place.width(), place.height()
    locked = shown.words.get(grip, "") == "locked off"
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(inks.ink, 3.0))
    lift = 0.0 if locked else -h * 0.12
    painter.drawArc(QRectF(place.left() + w * 0.26, place.top() + h * 0.14 + lift, w * 0.48, h * 0.6), 0, 180 * 16)
    if not locked:
        painter.drawLine(
            QPointF(place.left() + w * 0.26, place.top() + h * 0.42),
            QPointF(place.left() + w * 0.26, place.top() + h * 0.45),
        )
    painter.setPen(pen(inks.ink, 1.6))
    painter.setBrush(QBrush(QColor(inks.accent if locked else inks.sheet)))
    painter.drawRoundedRect(QRectF(place.left() + w * 0.14, place.top() + h * 0.44, w * 0.72, h * 0.42), 5, 5)
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    under = QRectF(place.center().x() - 60, place.bottom() - h * 0.1, 120, 20)
    painter.drawText(under, Qt.AlignmentFlag.AlignCenter, "locked off" if locked else "live")


def paint_paper(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, _grip: str) -> None:
    """A strip of paper; once it went through, dark where it was crushed and blank where it slipped."""
    strip = QRectF(place.left(), place.top() + place.height() * 0.34, place.width(), place.height() * 0.36)
    painter.drawRect(strip)
    if shown.rolled:
        step = strip.width() / len(shown.rolled)
        for n, backlash in enumerate(shown.rolled):
            pressed = min(1.0, max(0.0, (_LOOSE_MM - backlash) / (_LOOSE_MM - _TIGHT_MM)))
            cut = backlash < _TIGHT_MM
            painter.setPen(pen(inks.stop if cut else inks.ink, max(0.4, 2.0 * pressed)))
            if pressed > 0 and n % 2 == 0:
                x = strip.left() + (n + 0.5) * step
                painter.drawLine(QPointF(x, strip.top() + 2), QPointF(x, strip.bottom() - 2))
    else:
        curl = QPolygonF([strip.topRight(), strip.topRight() + QPointF(10, -8), strip.bottomRight() + QPointF(10, -8),
                          strip.bottomRight()])  # fmt: skip
        painter.drawPolygon(curl)
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    painter.drawText(place, int(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignHCenter), "paper, 0.05")


def paint_stand(painter: QPainter, place: QRectF, shown: BenchShown, inks: Inks, grip: str) -> None:
    """The stand of the indicator: foot, post and arm, and what the indicator touches."""
    w, h = place.width(), place.height()
    painter.setBrush(QBrush(QColor(inks.wash)))
    painter.drawRect(QRectF(place.left() + w * 0.1, place.top() + h * 0.72, w * 0.6, h * 0.12))
    painter.drawRect(QRectF(place.left() + w * 0.32, place.top() + h * 0.1, w * 0.12, h * 0.62))
    painter.drawRect(QRectF(place.left() + w * 0.32, place.top() + h * 0.14, w * 0.64, h * 0.08))
    painter.setPen(pen(inks.ink))
    painter.setFont(font(11))
    under = QRectF(place.center().x() - 60, place.bottom() - h * 0.14, 120, 20)
    painter.drawText(under, Qt.AlignmentFlag.AlignCenter, shown.words.get(grip, ""))


def paint_tooth(painter: QPainter, place: QRectF, _shown: BenchShown, inks: Inks, _grip: str) -> None:
    """A lever indicator whose tip rests on a tooth of the gear."""
    w, h = place.width(), place.height()
    radius = min(w, h) * 0.34
    dial = QPointF(place.left() + w * 0.62, place.top() + h * 0.36)
    painter.drawEllipse(dial, radius, radius)
    painter.drawLine(dial, dial + QPointF(radius * 0.5, -radius * 0.6))
    painter.setPen(pen(inks.ink, 2.2))
    tip = QPointF(place.left() + w * 0.12, place.top() + h * 0.92)
    painter.drawLine(dial + QPointF(-radius * 0.7, radius * 0.7), tip)
    painter.setBrush(QBrush(QColor(inks.ink)))
    painter.drawEllipse(tip, 2.5, 2.5)

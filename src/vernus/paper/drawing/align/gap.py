"""The gap over the stroke: at each station the span between the feeler that goes in and the one that doesn't."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from vernus.core.align.reader import FEELER_STEP_MM, GapAt
from vernus.core.units import UnitName, UnitSystem
from vernus.paper.drawing.chart import Chart, Range
from vernus.paper.ink import Inks, pen

GAP_UNIT: dict[UnitSystem, UnitName] = {"mm": "mm", "in": "thou"}


def paint_gap(
    painter: QPainter,
    room: QRectF,
    gaps: Sequence[GapAt],
    wanted_mm: tuple[float, float],
    inks: Inks,
    units: UnitSystem,
) -> None:
    """Paint the gaps (mm) against the band wanted into ``room``; an open span ends in an arrow upward."""
    low, high = wanted_mm
    if high - low < 2 * FEELER_STEP_MM:
        low, high = low - FEELER_STEP_MM, high + FEELER_STEP_MM
    tops = [g.no_go_mm if g.no_go_mm is not None else g.go_mm for g in gaps]
    x = Range.holding([g.station_mm for g in gaps], units, "station of the stroke", least_mm=20.0)
    y = Range.holding([0.0, low, high, *(g.go_mm for g in gaps), *tops], GAP_UNIT[units], "gap")
    chart = Chart(painter, room, x, y, inks)
    chart.band([(x.low_mm, low), (x.high_mm, low)], [(x.low_mm, high), (x.high_mm, high)], inks.wash)
    for gap in gaps:
        foot = chart.at(gap.station_mm, gap.go_mm)
        head = chart.at(gap.station_mm, gap.no_go_mm if gap.no_go_mm is not None else y.high_mm)
        painter.setPen(pen(inks.accent, 3.0, () if gap.no_go_mm is not None else (2.0, 2.0)))
        painter.drawLine(foot, head)
        painter.setPen(pen(inks.ink, 1.6))
        for end in (foot, head) if gap.no_go_mm is not None else (foot,):
            painter.drawLine(end + QPointF(-8, 0), end + QPointF(8, 0))
    chart.key([("line", inks.accent, "goes in … doesn't"), ("band", inks.wash, "wanted")])

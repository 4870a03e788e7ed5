"""The sweep chart: readings as heights, the fitted line, the tolerance, the bow, and the screws."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from vernus.core.align.sweep import Alignment, Correction
from vernus.core.units import UnitName, UnitSystem
from vernus.paper.drawing.chart import Chart, Range
from vernus.paper.drawing.lines import label
from vernus.paper.ink import Inks, pen

HEIGHT_UNIT: dict[UnitSystem, UnitName] = {"mm": "mm", "in": "thou"}


def paint_sweep(
    painter: QPainter,
    room: QRectF,
    sweep: Alignment,
    inks: Inks,
    units: UnitSystem,
    *,
    before: Alignment | None = None,
    fix: Correction | None = None,
) -> None:
    """Paint one pass (and the pass before it, faint) into ``room``; heights relative to the line's middle."""
    x_low, x_high = min(sweep.stations_mm), max(sweep.stations_mm)
    middle = (x_low + x_high) / 2
    zero, half = sweep.line.at(middle), sweep.tolerance_mm / 2
    old = [] if before is None else _heights(before, (min(before.stations_mm) + max(before.stations_mm)) / 2)
    now = [(x, y - zero) for x, y in zip(sweep.stations_mm, sweep.heights_mm, strict=True)]
    ends = [(x, sweep.line.at(x) - zero) for x in (x_low, x_high)]
    screws = [] if fix is None else [fix.hold_mm, fix.move_mm]
    chart = Chart(
        painter,
        room,
        Range.holding([x_low, x_high, *screws], units, "station along the body"),
        Range.holding(
            [y for _, y in (*now, *old, *ends)] + [-half, half],
            HEIGHT_UNIT[units],
            "height toward the indicator",
            foot=0.16 if screws else 0.0,
        ),
        inks,
    )
    chart.band([(x_low, -half), (x_high, -half)], [(x_low, half), (x_high, half)], inks.wash)
    if sweep.bow_mm is not None:
        for edge in (min(sweep.line.residuals_mm), max(sweep.line.residuals_mm)):
            chart.line([(x, y + edge) for x, y in ends], inks.faint, 1.0, dash=True)
    chart.line(ends, inks.accent, 2.0)
    chart.points(old, inks.faint, filled=False, square=True)
    chart.points(now, inks.ink, filled=True)
    if fix is not None:
        _screws(chart, fix)
    key = [("filled", inks.ink, "this pass"), ("line", inks.accent, "line"), ("band", inks.wash, "tolerance")]
    if old:
        key.insert(1, ("square", inks.faint, "pass before"))
    chart.key(key)


def _heights(sweep: Alignment, middle_mm: float) -> list[tuple[float, float]]:
    zero = sweep.line.at(middle_mm)
    return [(x, y - zero) for x, y in zip(sweep.stations_mm, sweep.heights_mm, strict=True)]


def paint_screw(painter: QPainter, at: QPointF, held: bool, inks: Inks) -> None:
    """An end screw: the one held has a cross, the one moved is an open ring."""
    painter.setPen(pen(inks.accent, 1.6))
    painter.drawEllipse(at, 6, 6)
    if held:
        painter.drawLine(at + QPointF(-4, -4), at + QPointF(4, 4))
        painter.drawLine(at + QPointF(-4, 4), at + QPointF(4, -4))


def _screws(chart: Chart, fix: Correction) -> None:
    """Both screws at the foot of the frame, with their words."""
    p, foot = chart.painter, chart.frame.bottom() - 12
    for mm, word in ((fix.hold_mm, "hold"), (fix.move_mm, "move")):
        x = chart.at(mm, 0).x()
        paint_screw(p, QPointF(x, foot), word == "hold", chart.inks)
        right = x < chart.frame.center().x()
        label(p, QPointF(x + (12 if right else -12), foot), word, chart.inks, anchor="left" if right else "right")

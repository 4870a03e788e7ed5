"""The positioning chart: mean deviations in both directions, bands of two standard deviations, every reading."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from vernus.core.prove.positioning import Positioning
from vernus.core.units import UnitSystem
from vernus.paper.drawing.chart import Chart, Range
from vernus.paper.drawing.prove.residuals import ERROR_UNIT
from vernus.paper.ink import Inks

Reading = tuple[float, bool, float]


def paint_positioning(
    painter: QPainter,
    room: QRectF,
    figures: Positioning | None,
    readings: Sequence[Reading],
    inks: Inks,
    units: UnitSystem,
) -> None:
    """Paint (target, upward, shown − target) readings in mm, and the figures once there are some, into ``room``."""
    shown = [d for _, _, d in readings] or [0.0]
    bands = [] if figures is None else [b for b in (figures.band(True), figures.band(False)) if b is not None]
    y_all = [*shown, *(v for low, high in bands for v in (*low, *high))]
    x = Range.holding([0.0, *(t for t, _, _ in readings)], units, "target", least_mm=1.0)
    y = Range.holding([0.0, *y_all], ERROR_UNIT[units], "shown less target", least_mm=0.004)
    chart = Chart(painter, room, x, y, inks)
    if figures is not None:
        for low, high in bands:
            chart.band(
                list(zip(figures.targets_mm, low, strict=True)),
                list(zip(figures.targets_mm, high, strict=True)),
                inks.wash,
            )
        if figures.mean_up_mm is not None:
            chart.line(list(zip(figures.targets_mm, figures.mean_up_mm, strict=True)), inks.accent, 1.8)
        if figures.mean_down_mm is not None:
            chart.line(list(zip(figures.targets_mm, figures.mean_down_mm, strict=True)), inks.ink, 1.8, dash=True)
    chart.points([(t, d) for t, up, d in readings if up], inks.accent, filled=True, aside=-4.5)
    chart.points([(t, d) for t, up, d in readings if not up], inks.ink, filled=False, square=True, aside=4.5)
    chart.key(
        [("filled", inks.accent, "going up"), ("square", inks.ink, "going down"), ("band", inks.wash, "mean ± 2 s")]
    )

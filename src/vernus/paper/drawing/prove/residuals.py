"""The residual chart: errors as the display reads now, and as it would after the correction."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from vernus.core.units import UnitName, UnitSystem
from vernus.paper.drawing.chart import Chart, Range
from vernus.paper.ink import Inks

ERROR_UNIT: dict[UnitSystem, UnitName] = {"mm": "µm", "in": "thou"}


def paint_residuals(
    painter: QPainter,
    room: QRectF,
    true_mm: Sequence[float],
    before_mm: Sequence[float],
    after_mm: Sequence[float],
    inks: Inks,
    units: UnitSystem,
) -> None:
    """Paint errors (shown − true, mm) over the true positions (mm) into ``room``.

    Without ``after_mm`` nothing is keyed in, and the errors are those that stay.
    """
    before = sorted(zip(true_mm, before_mm, strict=True))
    after = sorted(zip(true_mm, after_mm, strict=True)) if after_mm else []
    chart = Chart(
        painter,
        room,
        Range.holding([0.0, *true_mm], units, "true position", least_mm=1.0),
        Range.holding([0.0, *before_mm, *after_mm], ERROR_UNIT[units], "error, shown less true", least_mm=0.004),
        inks,
    )
    if not after:
        chart.line(before, inks.accent, 1.6)
        chart.points(before, inks.accent, filled=True)
        chart.key([("filled", inks.accent, "as it is set")])
        return
    chart.line(before, inks.faint, 1.0, dash=True)
    chart.line(after, inks.accent, 1.6)
    chart.points(before, inks.faint, filled=False, square=True)
    chart.points(after, inks.accent, filled=True)
    chart.key([("square", inks.faint, "before"), ("filled", inks.accent, "after keying it in")])

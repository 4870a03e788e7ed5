"""A view of a part on paper: where its face stands and to what scale; line widths."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF

from vernus.core.make.parts import PartFace

THICK, THIN = 1.9, 0.95
"""Line widths of ISO 128's group 0.5 (0.5 and 0.25 mm, px at 96 dpi), from memory."""
PX_PER_MM = 96 / 25.4


@dataclass(frozen=True)
class View:
    """A face where it is drawn: its lower left corner on the paper and the scale."""

    face: PartFace
    left: float
    low: float
    wide: float
    high: float
    per_mm: float

    def at(self, x_mm: float, y_mm: float) -> QPointF:
        """A place on the face (mm) on the paper."""
        return QPointF(self.left + x_mm * self.per_mm, self.low - y_mm * self.per_mm)

    @property
    def rect(self) -> QRectF:
        """Its outline on the paper."""
        return QRectF(self.left, self.low - self.high, self.wide, self.high)

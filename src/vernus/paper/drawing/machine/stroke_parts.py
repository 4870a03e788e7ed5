"""What the pictures of a stroke share, lying or upright: what is drawn, the hatching, the words at a stop."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from vernus.core.machine.stroke import End, Need, Stroke
from vernus.core.units import UnitSystem, format_plain
from vernus.paper.ink import Inks, pen

Places = dict[str, QRectF]
"""Where the words of dimensions stand, by the names of their figures."""
GIVEN_UP = ("give_up_low", "give_up_high")


@dataclass(frozen=True)
class ScaleRow:
    """The scale beside the line: measuring length, end pieces and reader (mm), and at which end its left is."""

    measuring_mm: float
    end_piece_mm: float
    reader_mm: float
    left_at: End
    left_word: str = "left"


@dataclass(frozen=True)
class StrokePicture:
    """What is drawn: the line, its scale, where the axis stands, where trips stand already, and the two members.

    Without a line the picture shows what to measure. ``unmeasured`` says that nobody measured the travel, ``upright``
    is 1 where the axis grows upward, −1 downward, 0 for a level one. ``in_hand`` is the figure that is drawn in the
    accent.
    """

    stroke: Stroke | None
    members: tuple[str, str]
    scale: ScaleRow | None = None
    at_mm: float | None = None
    set_mm: tuple[float | None, float | None] = (None, None)
    unmeasured: bool = False
    ends: tuple[str, str] = ("low", "high")
    upright: int = 0
    in_hand: str = ""

    def holding(self, name: str) -> StrokePicture:
        """The same with another figure in hand."""
        return replace(self, in_hand=name)

    def holds(self, *names: str) -> bool:
        """Whether one of these figures is in hand."""
        return self.in_hand in names


def hatch(painter: QPainter, box: QRectF, inks: Inks) -> None:
    """Slanted hairlines over what is given up."""
    if box.width() < 0.5:
        return
    painter.save()
    painter.setClipRect(box)
    painter.setPen(pen(inks.faint, 0.8))
    for n in range(int((box.width() + box.height()) / 6) + 1):
        x = box.left() + 6 * n
        painter.drawLine(QPointF(x, box.top()), QPointF(x - box.height(), box.bottom()))
    painter.restore()


def stop_words(need: Need, units: UnitSystem) -> str:
    """A stop that is needed: how far before the mark, and for what."""
    why = {"metal": need.with_ or "metal", "given up": "given up", "scale": "scale ends"}[need.why]
    return f"stop {format_plain(need.before_mark_mm, units)} before: {why}"

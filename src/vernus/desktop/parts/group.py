"""A group of rows and its heading, which folds it to one line that says what is in it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QAbstractButton

from vernus.desktop.parts.row import ROW_PX, Row
from vernus.desktop.parts.words import kept_together
from vernus.paper.ink import font, pen

_PAD = 6


@dataclass(frozen=True)
class Group:
    """A heading over rows; without words it is always open. ``says`` puts what is in it better than its figures do."""

    heading: str
    rows: Sequence[Row]
    aside: bool = False
    says: Callable[[], Sequence[str]] | None = field(default=None)


class Heading(QAbstractButton):
    """The heading of a group: a click, Enter or Space folds it and opens it again."""

    def __init__(self, group: Group) -> None:
        super().__init__()
        self.holds, self.folded, self.beside = group, False, ""
        self._said: tuple[tuple[str, ...], int] = ((), -1)
        self.setText(group.heading)
        self.setAccessibleName(group.heading)
        self.setFixedHeight(ROW_PX)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def say(self, items: Sequence[str]) -> None:
        """What stands beside the heading: as many of the items as there is room for, and how many more there are."""
        if (tuple(items), self.width()) == self._said:
            return
        self._said = tuple(items), self.width()
        room = self.width() - self._words_px() - 3 * _PAD - 18
        plain, said = self.fontMetrics(), ""
        for n in range(len(items), 0, -1):
            rest = len(items) - n
            said = kept_together(" · ".join(items[:n]) + (f" +{rest}" if rest else ""))
            if plain.horizontalAdvance(said) <= room:
                break
            said = ""
        if said != self.beside:
            self.beside = said
            self.setAccessibleDescription(said)
            self.update()

    def _words_px(self) -> int:
        return QFontMetrics(font(11, bold=True)).horizontalAdvance(self.text())

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        palette, here = self.palette(), self.rect()
        painter.fillRect(here, palette.alternateBase())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(palette.text())
        c = QPointF(_PAD + 5, here.height() / 2)
        shut = QPolygonF([c + QPointF(-3, -4), c + QPointF(4, 0), c + QPointF(-3, 4)])
        painter.drawPolygon(
            shut if self.folded else QPolygonF([c + QPointF(-4, -3), c + QPointF(4, -3), c + QPointF(0, 4)])
        )
        painter.setPen(palette.text().color())
        painter.setFont(font(11, bold=True))
        room = here.adjusted(_PAD + 16, 0, -_PAD, 0)
        painter.drawText(room, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft), self.text())
        painter.setFont(font())
        painter.setPen(palette.placeholderText().color())
        painter.drawText(room, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight), self.beside)
        if self.hasFocus():
            painter.setPen(pen(palette.link().color().name(), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(here.adjusted(1, 1, -1, -1))

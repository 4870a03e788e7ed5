"""Blocks of a printed page, and their flow over pages with a foot line and page numbers."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import Protocol

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter

from vernus.paper.ink import PRINT, font, pen

MARGIN = 58.0
FOOT = 34.0
_WRAP = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
_TALL = 100_000.0
_LONG_WORD = re.compile(r"(\S{24})(?=\S)")


class Block(Protocol):
    """Something with a height at a width, painted into its place; px at 96 dpi."""

    @property
    def keep_with_next(self) -> bool:
        """Whether it must not be the last thing on a page."""
        ...

    def height(self, width: float) -> float:
        """Height at ``width``."""
        ...

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """Paint into ``place``."""
        ...

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """Itself, or what it is parted into where it is taller than ``room``."""
        ...


def _breakable(text: str) -> str:
    """``text`` in which a word longer than any real one may be broken."""
    return _LONG_WORD.sub("\\1\u200b", text)


def _wrapped(text: str, kind: QFont, width: float) -> float:
    box = QRectF(0, 0, width, _TALL)
    return QFontMetricsF(kind).boundingRect(box, int(_WRAP), _breakable(text)).height()


def _cut(text: str, kind: QFont, width: float, tall: float) -> tuple[str, str]:
    """As much of ``text`` as is at most ``tall``, ended at a space where there is one, and the rest."""
    if _wrapped(text, kind, width) <= tall:
        return text, ""
    fits = bisect_left(range(1, len(text)), True, key=lambda n: _wrapped(text[:n], kind, width) > tall)
    at = max(1, fits)
    space = max(text.rfind(mark, 0, at + 1) for mark in (" ", "\n"))
    at = space if space > at // 2 else at
    return text[:at].rstrip(), text[at:].lstrip()


@dataclass
class Words:
    """A paragraph, plain text only."""

    text: str
    size: float = 11.0
    bold: bool = False
    indent: float = 0.0
    after: float = 6.0
    keep_with_next: bool = False

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """Paragraphs of at most that height."""
        if self.height(width) <= room:
            return [self]
        kind = font(self.size, bold=self.bold)
        first, rest = _cut(self.text, kind, width - self.indent, room - self.after)
        return [replace(self, text=first, after=0.0), *replace(self, text=rest).parts(width, room)]

    def height(self, width: float) -> float:
        """Height of the wrapped text and the space after it."""
        return _wrapped(self.text, font(self.size, bold=self.bold), width - self.indent) + self.after

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """Paint the text."""
        painter.setFont(font(self.size, bold=self.bold))
        painter.setPen(pen(PRINT.ink))
        box = place.adjusted(self.indent, 0, 0, 0)
        painter.drawText(box, int(_WRAP | Qt.TextFlag.TextDontClip), _breakable(self.text))


def heading(text: str) -> Words:
    """A section heading."""
    return Words(text, size=15, bold=True, after=8, keep_with_next=True)


def subheading(text: str) -> Words:
    """A heading inside a section."""
    return Words(text, size=12, bold=True, after=5, keep_with_next=True)


@dataclass
class Picture:
    """A drawing of a fixed height."""

    draw: Callable[[QPainter, QRectF], object]
    tall: float
    keep_with_next: bool = False

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """A drawing stays whole."""
        return [self]

    def height(self, width: float) -> float:
        """The height given."""
        return self.tall + 8

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """Paint the drawing."""
        painter.save()
        self.draw(painter, place.adjusted(0, 0, 0, -8))
        painter.restore()


@dataclass
class Row:
    """One row of a table; widths are shares of the whole."""

    cells: Sequence[str]
    shares: Sequence[float]
    head: bool = False
    last: bool = False
    figures: frozenset[int] = field(default_factory=frozenset)

    @property
    def keep_with_next(self) -> bool:
        """A table's head stays with its first row."""
        return self.head

    def _font(self) -> QFont:
        return font(11, bold=self.head)

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """Rows of at most that height, each cell going on in the next."""
        rows, rest = list[Block](), self
        while rest.height(width) > room:
            kind = self._font()
            cut = [_cut(c, kind, width * s - 10, room - 14) for c, s in zip(rest.cells, self.shares, strict=True)]
            rows.append(replace(self, cells=[a for a, _ in cut], last=False))
            rest = replace(self, cells=[b for _, b in cut])
        return [*rows, rest]

    def height(self, width: float) -> float:
        """The tallest cell."""
        tall = max(
            _wrapped(c or " ", self._font(), width * s - 10) for c, s in zip(self.cells, self.shares, strict=True)
        )
        return tall + 6 + (8 if self.last else 0)

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """Paint the cells and a hairline under them."""
        x = place.left()
        low = place.bottom() - (8 if self.last else 0)
        for n, (cell, share) in enumerate(zip(self.cells, self.shares, strict=True)):
            width = place.width() * share
            side = Qt.AlignmentFlag.AlignRight if n in self.figures else Qt.AlignmentFlag.AlignLeft
            painter.setFont(self._font())
            painter.setPen(pen(PRINT.ink))
            box = QRectF(x + 2, place.top() + 2, width - 10, low - place.top())
            painter.drawText(box, int(side | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap), _breakable(cell))
            x += width
        painter.setPen(pen(PRINT.ink if self.head else PRINT.hairline, 1.0 if self.head else 0.5))
        painter.drawLine(QPointF(place.left(), low), QPointF(place.right(), low))


def table(
    head: Sequence[str], rows: Sequence[Sequence[str]], shares: Sequence[float], figures: Sequence[int] = ()
) -> list[Row]:
    """The rows of a table; columns in ``figures`` are set right in tabular figures."""
    right = frozenset(figures)
    body = [Row(r, shares, last=n == len(rows), figures=right) for n, r in enumerate(rows, 1)]
    return [Row(head, shares, head=True, figures=right), *body]


@dataclass(frozen=True)
class Placed:
    """A block and its place on a page."""

    block: Block
    place: QRectF


def flow(blocks: Sequence[Block], page: QSizeF) -> list[list[Placed]]:
    """Lay blocks out over pages; a block kept with the next one starts a page together with it.

    What is taller than most of a page goes on on the next one.
    """
    width, bottom = page.width() - 2 * MARGIN, page.height() - MARGIN - FOOT
    blocks = [part for block in blocks for part in block.parts(width, 0.8 * (bottom - MARGIN))]
    heights = [b.height(width) for b in blocks]
    pages: list[list[Placed]] = [[]]
    y = MARGIN
    for n, block in enumerate(blocks):
        need, m = heights[n], n
        while blocks[m].keep_with_next and m + 1 < len(blocks):
            m += 1
            need += heights[m]
        if y + need > bottom and y > MARGIN:
            pages.append([])
            y = MARGIN
        pages[-1].append(Placed(block, QRectF(MARGIN, y, width, heights[n])))
        y += heights[n]
    return pages


def paint_page(painter: QPainter, pages: Sequence[Sequence[Placed]], number: int, page: QSizeF, foot: str) -> None:
    """Paint page ``number`` (from 0) with its foot line, in px at 96 dpi."""
    for placed in pages[number]:
        placed.block.paint(painter, placed.place)
    low = page.height() - MARGIN - FOOT / 2
    line = QRectF(MARGIN, low, page.width() - 2 * MARGIN, FOOT)
    painter.setPen(pen(PRINT.hairline, 0.6))
    painter.drawLine(line.topLeft(), line.topRight())
    painter.setFont(font(11))
    painter.setPen(pen(PRINT.faint))
    painter.drawText(line, int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter), foot)
    count = f"page {number + 1} of {len(pages)}"
    painter.drawText(line, int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter), count)

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

MARGIN = 42.0
"""Round every page (px at 96 dpi): 11 mm."""
FOOT = 24.0
BODY_PT, TABLE_PT = 9.0, 8.5
_WRAP = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
_TALL = 100_000.0
_TALLEST = 0.8
"""The share of a page that a block may take before it is parted."""
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
    size: float = BODY_PT
    bold: bool = False
    indent: float = 0.0
    after: float = 4.0
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
    return Words(text, size=13.5, bold=True, after=6, keep_with_next=True)


def subheading(text: str) -> Words:
    """A heading inside a section."""
    return Words(text, size=11, bold=True, after=4, keep_with_next=True)


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
class Columns:
    """The widths of a table's columns: no word is ever wider than its column, and no column wider than it needs."""

    shares: Sequence[float]
    size: float
    rows: list[Sequence[str]] = field(default_factory=list)
    head: Sequence[str] = ()
    _found: dict[float, list[float]] = field(default_factory=dict)

    def widths(self, whole: float) -> list[float]:
        """Width of every column (px) in a table as wide as ``whole``."""
        if whole not in self._found:
            self._found[whole] = self._widths(whole)
        return self._found[whole]

    def _widths(self, whole: float) -> list[float]:
        plain, bold = QFontMetricsF(font(self.size)), QFontMetricsF(font(self.size, bold=True))
        least, wished = list[float](), list[float]()
        for n in range(len(self.shares)):
            cells = [(self.head[n], bold), *((r[n], plain) for r in self.rows)]
            words = [kind.horizontalAdvance(w) for text, kind in cells for w in _breakable(text).split()]
            least.append(min(whole / 2, max(words, default=0.0) + _CELL))
            lines = [kind.horizontalAdvance(line) for text, kind in cells for line in text.split("\n")]
            wished.append(max(lines, default=0.0) + _CELL)
        if sum(wished) <= whole:
            more = (whole - sum(wished)) / len(wished)
            return [w + more for w in wished]
        short = sum(least)
        if short >= whole:
            return [w * whole / short for w in least]
        wants = [max(0.0, min(w, s * whole) - m) for w, s, m in zip(wished, self.shares, least, strict=True)]
        spare, wanted = whole - short, sum(wants)
        got = [m + w * min(1.0, spare / wanted if wanted else 0.0) for m, w in zip(least, wants, strict=True)]
        rest = [max(0.0, w - g) for w, g in zip(wished, got, strict=True)]
        over, lacks = whole - sum(got), sum(rest)
        return [g + (over * r / lacks if lacks else over / len(got)) for g, r in zip(got, rest, strict=True)]


_CELL = 12.0
"""What stands beside the words of a cell: px."""


@dataclass
class Row:
    """One row of a table; its columns are those of the whole table."""

    cells: Sequence[str]
    columns: Columns
    head: bool = False
    last: bool = False
    figures: frozenset[int] = field(default_factory=frozenset)
    above: Row | None = None
    """The head of its table, which is printed again where the table goes on on another page."""

    @property
    def keep_with_next(self) -> bool:
        """A table's head stays with its first row."""
        return self.head

    def _font(self) -> QFont:
        return font(self.columns.size, bold=self.head)

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """Rows of at most that height, each cell going on in the next."""
        rows, rest = list[Block](), self
        while rest.height(width) > room:
            kind, wide = self._font(), self.columns.widths(width)
            cut = [_cut(c, kind, w - _CELL, room - 14) for c, w in zip(rest.cells, wide, strict=True)]
            rows.append(replace(self, cells=[a for a, _ in cut], last=False))
            rest = replace(self, cells=[b for _, b in cut])
        return [*rows, rest]

    def height(self, width: float) -> float:
        """The tallest cell."""
        wide = self.columns.widths(width)
        tall = max(_wrapped(c or " ", self._font(), w - _CELL + 1) for c, w in zip(self.cells, wide, strict=True))
        return tall + 3 + (7 if self.last else 0)

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """Paint the cells and a hairline under them."""
        x = place.left()
        low = place.bottom() - (7 if self.last else 0)
        for n, (cell, width) in enumerate(zip(self.cells, self.columns.widths(place.width()), strict=True)):
            side = Qt.AlignmentFlag.AlignRight if n in self.figures else Qt.AlignmentFlag.AlignLeft
            painter.setFont(self._font())
            painter.setPen(pen(PRINT.ink))
            box = QRectF(x + 2, place.top() + 1, width - _CELL + 1, low - place.top())
            how = int(side | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap | Qt.TextFlag.TextDontClip)
            painter.drawText(box, how, _breakable(cell))
            x += width
        painter.setPen(pen(PRINT.ink if self.head else PRINT.hairline, 1.0 if self.head else 0.5))
        painter.drawLine(QPointF(place.left(), low), QPointF(place.right(), low))


def table(
    head: Sequence[str],
    rows: Sequence[Sequence[str]],
    shares: Sequence[float],
    figures: Sequence[int] = (),
    size: float = TABLE_PT,
) -> list[Row]:
    """The rows of a table; columns in ``figures`` are set right in tabular figures, ``shares`` what each would like."""
    right, columns = frozenset(figures), Columns(shares, size, list(rows), head)
    top = Row(head, columns, head=True, figures=right)
    return [top, *(Row(r, columns, last=n == len(rows), figures=right, above=top) for n, r in enumerate(rows, 1))]


def table_in_halves(
    head: tuple[str, str], rows: Sequence[tuple[str, str]], shares: tuple[float, float], size: float = TABLE_PT,
    figures: Sequence[int] = (),
) -> list[Row]:  # fmt: skip
    """A table of two columns with its second half beside its first."""
    half = (len(rows) + 1) // 2
    pairs = [(*a, *b) for a, b in zip(rows[:half], [*rows[half:], ("", "")], strict=False)]
    return table((*head, *head), pairs, (*shares, *shares), [*figures, *(n + 2 for n in figures)], size)


@dataclass
class NewPage:
    """What follows begins on a page of its own; ``foot`` stands at the foot of it and of those that follow."""

    foot: Block | None = None
    keep_with_next: bool = False

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """Itself."""
        return [self]

    def height(self, width: float) -> float:
        """None."""
        return 0.0

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """Nothing."""


@dataclass
class Filling:
    """Blocks that are made for the room a page has: ``build`` is told the width and the height (px)."""

    build: Callable[[float, float], Sequence[Block]]
    keep_with_next: bool = False

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """What is built, each in its own parts."""
        return [p for b in self.build(width, room / _TALLEST) for p in b.parts(width, room)]

    def height(self, width: float) -> float:
        """None: only its parts are laid out."""
        return 0.0

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """Nothing."""


@dataclass(frozen=True)
class Placed:
    """A block and its place on a page."""

    block: Block
    place: QRectF


def flow(blocks: Sequence[Block], page: QSizeF) -> list[list[Placed]]:
    """Lay blocks out over pages; a block kept with the next one starts a page together with it.

    What is taller than most of a page goes on on the next one; a table that does has its head there again.
    """
    width, bottom = page.width() - 2 * MARGIN, page.height() - MARGIN - FOOT
    room = _TALLEST * (bottom - MARGIN)
    blocks = [p for block in blocks for p in block.parts(width, room) if not (isinstance(p, Words) and not p.text)]
    heights = [b.height(width) for b in blocks]
    pages: list[list[Placed]] = [[]]
    y, low = MARGIN, bottom
    for n, block in enumerate(blocks):
        if isinstance(block, NewPage):
            low = bottom - (block.foot.height(width) if block.foot is not None else 0.0)
            if pages[-1]:
                pages.append([])
            y = MARGIN
            if block.foot is not None:
                pages[-1].append(Placed(block.foot, QRectF(MARGIN, low, width, bottom - low)))
            continue
        need, m = heights[n], n
        while blocks[m].keep_with_next and m + 1 < len(blocks):
            m += 1
            need += heights[m]
        if y + need > low and y > MARGIN:
            foot = [p for p in pages[-1] if p.place.top() >= low]
            pages.append([*foot])
            y = MARGIN
            if isinstance(block, Row) and block.above is not None:
                tall = block.above.height(width)
                pages[-1].append(Placed(block.above, QRectF(MARGIN, y, width, tall)))
                y += tall
        pages[-1].append(Placed(block, QRectF(MARGIN, y, width, heights[n])))
        y += heights[n]
    return [p for p in pages if p] or [[]]


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

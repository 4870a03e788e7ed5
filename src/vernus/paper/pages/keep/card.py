"""The card to tick: a box and a step a line, evening by evening; what to buy and to borrow on its last page."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter

from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.keep.card import CardLine
from vernus.job.keep.evenings.hours import hours_words
from vernus.job.keep.evenings.plan import CardPlan, plan_card
from vernus.job.keep.lists import buying_list, total_price
from vernus.job.keep.tools import tools_needed
from vernus.job.moments import day_words
from vernus.job.review.review import card_lines
from vernus.paper.ink import PRINT, font, pen
from vernus.paper.page import Block, NewPage, Words, subheading, table, table_in_halves

_BOX, _NUMBER, _RIGHT = 22.0, 48.0, 96.0
"""Where a line's number and words begin, and what is kept for its time and day: px."""
_SAID, _SMALL = 9.25, 7.75


@dataclass
class Tick:
    """One step: a box to tick, its number, axis and words, its time at the right, its tools small below."""

    number: str
    words: str
    right: str
    below: str
    keep_with_next: bool = False

    def parts(self, width: float, room: float) -> Sequence[Block]:
        """A step stays whole."""
        return [self]

    def _tall(self, text: str, size: float, width: float) -> float:
        box = QRectF(0, 0, width - _NUMBER - _RIGHT, 10_000)
        how = int(Qt.TextFlag.TextWordWrap)
        return QFontMetricsF(font(size)).boundingRect(box, how, text).height() if text else 0.0

    def height(self, width: float) -> float:
        """Its words, its tools, and air to tick in."""
        return self._tall(self.words, _SAID, width) + self._tall(self.below, _SMALL, width) + 3

    def paint(self, painter: QPainter, place: QRectF) -> None:
        """The box and the words."""
        box = QRectF(place.left() + 1, place.top() + 3, 13, 13)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(PRINT.ink, 1.2))
        painter.drawRect(box)
        painter.setFont(font(_SAID))
        painter.drawText(QPointF(place.left() + _BOX, place.top() + 15), self.number)
        wrap = int(Qt.TextFlag.TextWordWrap | Qt.TextFlag.TextDontClip)
        said = place.adjusted(_NUMBER, 2, -_RIGHT, 0)
        painter.drawText(said, wrap, self.words)
        painter.drawText(place.adjusted(0, 2, 0, 0), int(Qt.AlignmentFlag.AlignRight), self.right)
        if self.below:
            painter.setFont(font(_SMALL))
            painter.setPen(pen(PRINT.faint))
            painter.drawText(said.adjusted(0, self._tall(self.words, _SAID, place.width()), 0, 0), wrap, self.below)
        painter.setPen(pen(PRINT.hairline, 0.5))
        painter.drawLine(QPointF(place.left() + _NUMBER, place.bottom() - 1), place.bottomRight() - QPointF(0, 1))


def card_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """The card of some axes: what is open by evening, what is done, then what to buy and to borrow."""
    names = {"", *(a.name for a in axes)}
    every = card_lines(job)
    plan = plan_card(job, every, job.now().astimezone().date())
    lines = [(n, c) for n, c in enumerate(every, 1) if c.step.axis in names]
    yield Words(f"{job.info.title}: the card to tick", size=18, bold=True, after=4)
    left = [c for _, c in lines if not c.done]
    if left:
        finish = "" if plan.finish is None else f" Done by {day_words(plan.finish)}."
        whole = "Left" if len(lines) == len(every) else "Left of the whole job"
        yield Words(f"{whole}: about {plan.left.hours:.1f} h, {plan.left.least:.1f} to {plan.left.most:.1f}.{finish}")
    for told in plan.findings:
        yield Words(told.what.text(units))
    if plan.sooner is not None:
        yield Words(plan.sooner.text(units))
    yield from _open(lines, plan, units)
    done = [(n, c) for n, c in lines if c.done]
    if done:
        yield subheading("Done")
        brief = [(str(n), _done_words(c, units)) for n, c in done]
        yield from table_in_halves(("#", "Step"), brief, (0.04, 0.46), size=7.5)
    yield NewPage()
    yield from _tools(job, [c for _, c in lines])
    yield from list_blocks(job, names, units)


def _open(lines: Sequence[tuple[int, CardLine]], plan: CardPlan, units: UnitSystem) -> Iterable[Block]:
    """What is open, under the evening on which it begins; what has no day last."""
    days: dict[date | None, list[tuple[int, CardLine]]] = {}
    for n, line in lines:
        if not line.done:
            begins = plan.days.get(line.step.key, ())
            days.setdefault(begins[0] if begins else None, []).append((n, line))
    for day in sorted(d for d in days if d is not None):
        hours = sum(h for _, h in plan.evenings.get(day, ()))
        yield subheading(day_words(day) + (f", about {hours:.1f} h" if hours else ""))
        for n, line in days[day]:
            yield _tick(n, line, plan, units)
    if None in days:
        if len(days) > 1:
            yield subheading("Without a day yet")
        for n, line in days[None]:
            yield _tick(n, line, plan, units)


def _done_words(line: CardLine, units: UnitSystem) -> str:
    """A step that is done, with its axis, what was noted, and when."""
    axis = f"{line.step.axis}: " if line.step.axis else ""
    took = f"{line.minutes / 60:.1f} h" if line.minutes else ""
    return axis + " · ".join(t for t in (line.step.words, line.noted(units), took, line.when) if t)


def _hours(hours: float) -> str:
    return hours_words(hours) if hours < 10 else f"{hours:.0f}"


def _tick(number: int, line: CardLine, plan: CardPlan, units: UnitSystem) -> Tick:
    """An open step; where it isn't ended on the evening it begins, the day it is."""
    key, days = line.step.key, plan.days.get(line.step.key, ())
    took = f"{line.minutes / 60:.1f} h so far" if line.minutes else f"≈ {_hours(plan.hours[key])} h"
    ends = f"to {day_words(days[-1])}" if len(days) > 1 and days[-1] != days[0] else ""
    axis = f"{line.step.axis}: " if line.step.axis else ""
    below = "  ·  ".join(t for t in (line.step.tools, line.noted(units), ends) if t)
    return Tick(str(number), axis + line.step.words, took, below)


_LISTS = (
    ("buy", "To buy"), ("make", "To make"), ("measure", "To measure before it is made"), ("keep", "To keep"),
    ("have", "To have at hand"),
)  # fmt: skip


def list_blocks(job: Job, names: Collection[str], units: UnitSystem) -> Iterable[Block]:
    """What to buy, to make, to measure first, to keep and to have at hand, for some axes by name."""
    items = [i for i in buying_list(job) if i.axis in names]
    for kind, title in _LISTS:
        rows = [
            (i.axis, i.what.text(units), i.detail.text(units), "" if i.price is None else f"{i.price:g}")
            for i in items
            if i.kind == kind
        ]
        if rows:
            yield subheading(title)
            priced = any(r[3] for r in rows)
            heads = ("Axis", "What", "Detail", *(["Price"] if priced else []))
            cells = rows if priced else [r[:3] for r in rows]
            yield from table(heads, cells, (0.08, 0.36, 0.44, *([0.12] if priced else [])), (3,), size=8.5)
    total, unknown = total_price(items)
    if items:
        rest = f"; {unknown} lines have no price yet" if unknown else ""
        yield Words(f"Prices known: {total:g}{rest}.")


def _tools(job: Job, lines: Sequence[CardLine]) -> Iterable[Block]:
    """The tools of what is open: owned, to borrow, to get."""
    needs = tools_needed(job, list(lines))
    if needs:
        yield subheading("Tools for what is open")
        for title, words in (
            ("Owned", ("have it",)),
            ("To borrow", ("borrow it", "borrow it?")),
            ("To get", ("get it",)),
        ):
            names = ", ".join(n.name for n in needs if n.words in words)
            if names:
                yield Words(f"{title}: {names}.", size=9.5, indent=8, after=3)

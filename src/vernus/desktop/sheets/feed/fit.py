"""Fit: the chain along the screw, the kit and its supply; one scheme that fits, and what is made for it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize

from vernus.desktop.parts.asked_view import AskedView, figures_of
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.pictures import Paint
from vernus.desktop.parts.row import PartRow
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.session import Session
from vernus.desktop.sheets.feed.of_feed import OfFeed
from vernus.job.entities import PowerFeed
from vernus.job.feed.chain import driven_words
from vernus.job.feed.feed import FeedResult
from vernus.job.feed.fitting import FitResult
from vernus.paper.drawing.feed.chain import paint_chain
from vernus.paper.drawing.feed.feed import paint_holes, paint_made
from vernus.paper.drawing.feed.screw import screw_sketch
from vernus.paper.pages.feed.feed import fit_word

_MOST_FITS = 6


class FitSheet(OfFeed):
    """The figures of the kit and the screw's end on the left; what they come to, drawn, on the right."""

    name = "fit"
    title = "Fit"
    part = "fit"
    about = "Power feed on"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.fits = Table("What fits, and what is to be done")
        self.fits.selectionModel().currentRowChanged.connect(lambda _now, _was: self.look())
        self.fit_rows = PartRow("fits", self.fits)
        self.list = self.form([Group("What fits", [self.fit_rows], says=self._fits_said)])
        self.entry.addWidget(self.list, 1)
        self.sketch = AskedView("The screw's end taken apart", QSize(300, 190), lambda: self.list)
        self.picture.insertWidget(0, self.sketch, 1)

    def _fits_said(self) -> list[str]:
        """How many fit, where any was measured."""
        items = () if self._result is None else self._result.fit.items
        return [f"{sum(i.verdict == 'fits' for i in items)} of {len(items)}"] if items else []

    def show_answer(self, feed: PowerFeed, result: FeedResult) -> None:
        asked = [i for i in result.fit.items if i.verdict != "open"]
        fits, left = sum(i.verdict == "fits" for i in asked), len(result.fit.missing) + len(result.fit.covered)
        under = (
            ("1 figure to measure" if left == 1 else f"{left} figures to measure") if left else "everything measured"
        )
        figure = f"{fits} of {len(asked)} fit" if asked else "not measured yet"
        self.headline.show_answer(self.session, figure, under, "done" if "fit" in result.settled else None)

    def show_table(self, rows: list[list[str]]) -> None:
        result = self._result
        items = () if result is None else result.fit.items
        shown = [] if result is None else [[i.what, fit_word(result, i)] for i in items]
        self.fits.rows.show_rows([Column("what", False), Column("", False)], shown)
        self.fits.fix_widths({1: 96})
        self.fit_rows.show_count(len(shown), _MOST_FITS, waits=True)
        self.list.tell()
        self.below.keep_to(0, 0)

    def look(self) -> None:
        super().look()
        measuring = self._result is None or self._result.fit.chain is None
        self.sketch.setVisible(measuring)
        if measuring:
            self.view.hide()
            sketch = screw_sketch(*figures_of(self.list.rows, self.session.units))
            self.sketch.show_sketch(sketch, self.session.inks)

    def _row(self, fit: FitResult) -> int:
        """The item in view; -1 for all of them."""
        row = self.fits.currentIndex().row()
        return row if row < len(fit.items) else -1

    def caption_of(self, feed: PowerFeed, result: FeedResult) -> str:
        if not result.fit.items:
            return ""
        units, row = self.session.units, self._row(result.fit)
        first, *others = result.fit.items
        shown = [result.fit.items[row]] if row >= 0 else [first, *(i for i in others if i.verdict != "fits")]
        words = " ".join(i.words.text(units) for i in shown)
        chain = result.fit.chain
        if chain is not None and row <= 0:
            words += "".join(f" {said.text(units)}" for _, said in driven_words(chain, feed))
        return words

    def drawing_of(self, feed: PowerFeed, result: FeedResult) -> Paint | None:
        inks, units, row = self.session.inks, self.session.units, self._row(result.fit)
        item = result.fit.items[row] if row >= 0 else None
        if item is not None and item.part is not None:
            return partial(paint_made, part=item.part, inks=inks, units=units)
        if item is not None and item.holes is not None:
            return partial(paint_holes, match=item.holes, inks=inks, units=units)
        chain = result.fit.chain
        if chain is not None and (item is None or item.what == "screw's end"):
            return partial(paint_chain, end=chain.end, plan=chain.plan, inks=inks, units=units)
        return None

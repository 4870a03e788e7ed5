"""Bracket: bearing pocket, both hole patterns at the gears' centre distance, and the cover; drawn and written 1:1."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton

from vernus.core.feed.bracket import how_held
from vernus.core.finding import Mm, in_units
from vernus.core.make.hole_rows import HoleRow, hole_said
from vernus.core.make.parts import Part
from vernus.core.units import UnitSystem, format_length, format_plain
from vernus.desktop.parts.part_files import PartFiles
from vernus.desktop.parts.pictures import Paint
from vernus.desktop.session import Session
from vernus.desktop.sheets.feed.of_feed import OfFeed
from vernus.job.entities import PowerFeed
from vernus.job.feed.feed import FeedResult
from vernus.paper.drawing.make.part import paint_part


class BracketSheet(OfFeed):
    """What the bracket has to take on the left; the plate with its holes on the right."""

    name = "bracket"
    title = "Bracket"
    part = "bracket"
    about = "Bracket of the feed on"
    widths = (150, 92)
    most_rows = 2

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.files = PartFiles(session, self, self._drawn)
        self.entry.addWidget(self.form(), 1)
        row = QHBoxLayout()
        self.dxf, self.paper = QPushButton("Write DXF…"), QPushButton("1:1 paper template…")
        for button, act in ((self.dxf, self.files.ask_and_write_dxf), (self.paper, self.files.ask_and_write_template)):
            button.setObjectName("tight")
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _checked=False, act=act: act())
            row.addWidget(button)
        self.entry.addLayout(row)
        self.hidden_on_bench += [self.dxf, self.paper]

    def _drawn(self) -> tuple[Part, Sequence[HoleRow]] | None:
        """The bracket with its hole rows; None while it isn't solved."""
        solved = None if self._result is None else self._result.bracket
        return None if solved is None else (solved.part, solved.rows)

    def show_answer(self, feed: PowerFeed, result: FeedResult) -> None:
        units, mark = self.session.units, "done" if "bracket" in result.settled else None
        for button in (self.dxf, self.paper):
            button.setEnabled(result.bracket is not None)
        if result.bracket is None:
            figure = "a clamp" if feed.bracket == "clamp" else "not solved yet"
            self.headline.show_answer(self.session, figure, "", "done" if mark else None)
            return
        part = result.bracket.part
        under = in_units(units, "{t} thick, {n} holes and pockets", t=Mm(part.thickness_mm), n=len(part.holes))
        long = format_plain(part.length_mm, units, with_unit=False)
        size = in_units(units, "{long} × {wide}", long=long, wide=Mm(part.width_mm))
        stopped = any(f.severity == "stop" for f in result.findings_on["bracket"])
        self.headline.show_answer(self.session, size, under, "stop" if stopped else "done" if mark else None)

    def rows_of(self, feed: PowerFeed, result: FeedResult) -> list[list[str]]:
        units = self.session.units
        rows = [[c.label, "", c.words.text(units)] for c in result.fit.brackets]
        if result.bracket is not None:
            rows += [_hole_row(row, units) for row in result.bracket.rows]
            held = how_held(result.bracket, feed.unit_thread, studs=feed.feet == "slots")
            rows.append(["unit held by", "", held.text(units)])
        if result.cover is not None:
            state = "to make" if "gear cover" in result.unmade else "made"
            rows.append(["gear cover", state, result.cover.words.text(units)])
        return rows

    def drawing_of(self, feed: PowerFeed, result: FeedResult) -> Paint | None:
        drawn = self._drawn()
        if drawn is None:
            return None
        return partial(paint_part, part=drawn[0], rows=drawn[1], inks=self.session.inks, units=self.session.units)


def _hole_row(row: HoleRow, units: UnitSystem) -> list[str]:
    x, y = format_length(row.hole.x_mm, units), format_length(row.hole.y_mm, units)
    return [f"hole {row.number}", row.hole.kind, f"{hole_said(row).text(units)}, at x {x}, y {y}"]

"""What the sheets of a power feed share: the feed they look at, its rows and lists, and the round of a refresh."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Sequence
from functools import partial
from typing import Any, TypeVar

from PySide6.QtCore import QSize

from vernus.core.finding import Sentence
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.entity_list import EntityList, Fields
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.pictures import Paint, Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import Axis, Entity, PowerFeed
from vernus.job.feed.asked import ASKED, FeedSheet
from vernus.job.feed.feed import FeedResult, feed_result, fresh_feed
from vernus.job.known.axis_figures import feed_of
from vernus.paper.drawing.machine.stroke import paint_stroke
from vernus.paper.pages.machine.stroke import stroke_picture

E = TypeVar("E", bound=Entity)


class OfFeed(Sheet):
    """A sheet of the power feed: figures on the left; drawing, words and a table on the right."""

    part: FeedSheet
    about = ""
    """What the sheet is about, before the axis."""
    columns: Sequence[str] = ("what", "", "in figures")
    widths: tuple[int, int] = (100, 80)
    most_rows = 4
    caution = (
        "Isolate and lock off the machine before hands go near screw or gears. Supply and earthing follow local "
        "electrical codes."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._draft: Draft[PowerFeed] = Draft()
        self._result: FeedResult | None = None
        self.fields: dict[str, FigureRow] = {}
        self.forms: list[FigureList] = []
        self.lists: list[EntityList] = []
        self.tabs: Tabs | None = None
        self.words = Words("")
        self.view = Picture("The feed to scale", QSize(300, 150))
        self.below = Table("What is to be done")
        self.below.wrap_words()
        self.picture.addWidget(self.view, 1)
        self.picture.addWidget(self.words)
        self.picture.addWidget(self.below)
        self.hidden_on_bench = [self.below]

    # what a sheet says for itself

    @abstractmethod
    def show_answer(self, feed: PowerFeed, result: FeedResult) -> None:
        """Show the headline."""

    def rows_of(self, feed: PowerFeed, result: FeedResult) -> list[list[str]]:
        """The lines of the table under the drawing."""
        return []

    def drawing_of(self, feed: PowerFeed, result: FeedResult) -> Paint | None:
        """The drawing; None while nothing can be drawn."""
        return None

    def line_of_axis(self, result: FeedResult) -> Paint | None:
        """The line of the axis with its trips; None while it can't be drawn."""
        job, axis = self.session.job, self.session.axis
        if result.stops.stroke is None or job is None or axis is None:
            return None
        picture = stroke_picture(job, axis)
        return partial(paint_stroke, picture=picture, inks=self.session.inks, units=self.session.units)

    def caption_of(self, feed: PowerFeed, result: FeedResult) -> str:
        """What is drawn, in words under it."""
        return ""

    def instruction_of(self, result: FeedResult) -> Sentence:
        """What to do here next."""
        return result.instruction_on(self.part)

    # what all share

    def form(self, first: Sequence[Group] = (), settle: dict[str, Callable[[Any], Entity]] | None = None) -> FigureList:
        """The figures that the sheet asks for, in their groups, behind some of its own."""
        groups = list(first)
        for heading, names in ASKED[self.part].items():
            made = [
                FigureRow(self.session, PowerFeed, n, self.feed, settle=(settle or {}).get(n, _as_it_is)) for n in names
            ]
            self.fields |= {row.name: row for row in made}
            groups.append(Group(heading.lstrip("… "), made, aside=heading.startswith("…")))
        made_list = self.figures(*groups)
        self.forms.append(made_list)
        return made_list

    def listed(
        self,
        name: str,
        kind: type[Entity],
        fields: Fields,
        columns: Sequence[Column],
        row: Callable[..., Sequence[str]],
        settle: Callable[[Any], Entity] = lambda entity: entity,
    ) -> EntityList:
        """A list of entities of the axis, such as trials or tests."""
        made = EntityList(
            self.session, name, kind, fields, lambda: self.of_axis(kind), columns, row, lambda: self.new(kind),
            settle=settle,
        )  # fmt: skip
        self.lists.append(made)
        made.figures.held.connect(lambda _name: self.show_hand(made.figures))
        return made

    def turned_over(self, *faces: tuple[str, FigureList | EntityList]) -> Tabs:
        """Several faces of the entry, one in view."""
        self.tabs = Tabs(faces)
        self.tabs.turned.connect(self.refresh)
        self.entry.addWidget(self.tabs, 1)
        return self.tabs

    @property
    def face(self) -> str:
        """The face in view, by its words in lower case; "" where there is but one."""
        if self.tabs is None:
            return ""
        return list(self.tabs.buttons)[self.tabs.stack.currentIndex()]

    def turn_to(self, face: str) -> None:
        """Show a face and put the cursor into it."""
        if self.tabs is not None:
            self.tabs.turn_to(face)
        self.focus_entry()

    def of_axis(self, kind: type[E]) -> list[E]:
        """The entities of a kind that the axis in view has."""
        axis, job = self.session.axis, self.session.job
        return job.of_axis(kind, axis.id) if axis is not None and job is not None else []

    def new(self, kind: type[Entity]) -> Entity | None:
        """A fresh entity of a kind for the axis in view."""
        axis = self.session.axis
        return None if axis is None else kind.model_validate({"id": new_id(), "axis_id": axis.id})

    def feed(self) -> PowerFeed | None:
        """The feed of the axis; one that isn't in the job yet is kept here until its first figure."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        return feed_of(job, axis) or self._draft.of(axis.id, lambda: fresh_feed(axis, new_id()))

    def axis_in_view(self) -> Axis | None:
        """The axis in view."""
        return self.session.axis

    def focus_entry(self) -> None:
        if self.tabs is not None:
            self.tabs.focus_face()
        elif self.forms:
            self.forms[0].hold_first()

    def refresh(self) -> None:
        job, axis, feed = self.session.job, self.session.axis, self.feed()
        if job is None or axis is None or feed is None:
            return
        self.heading.setText(f"{self.about} {self.about_axis()}")
        for form in self.forms:
            form.refresh()
        for entities in self.lists:
            entities.refresh()
        result = self._result = feed_result(job, axis, feed)
        self.advise(self.instruction_of(result))
        self.show_answer(feed, result)
        self.show_table(self.rows_of(feed, result))
        self.look()

    def show_table(self, rows: list[list[str]]) -> None:
        """The table under the drawing."""
        self.below.rows.show_rows([Column(title, False) for title in self.columns], rows)
        self.below.fix_widths(dict(enumerate(self.widths)))
        self.below.resizeRowsToContents()
        self.below.keep_to(0 if self.on_bench else len(rows), self.most_rows, 1)

    def look(self) -> None:
        """The drawing with its words."""
        feed, result = self.feed(), self._result
        known = feed is not None and result is not None
        drawing = self.drawing_of(feed, result) if known and feed is not None and result is not None else None
        words = self.caption_of(feed, result) if known and feed is not None and result is not None else ""
        self.view.show_drawing(drawing)
        self.view.setVisible(drawing is not None)
        self.words.setText(words)
        self.words.setVisible(bool(words))


def _as_it_is(entity: Any) -> Entity:
    made: Entity = entity
    return made

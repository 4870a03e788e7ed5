"""Receive: planned against delivered, before anything is made."""

from __future__ import annotations

from PySide6.QtCore import QSize

from vernus.core.units import format_plain
from vernus.desktop.parts.asked_view import AskedView, figures_of
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.row import PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.session import Session
from vernus.job.catalog.families import family_edit
from vernus.job.document import new_id
from vernus.job.entities import Delivery, FamilyEdit
from vernus.job.known.axis_figures import delivery_of, plan_of
from vernus.job.known.lengths import body_length, measuring_length
from vernus.job.make.delivered import OFF_MM, compare_delivery, contents_of, not_of_it, turned
from vernus.paper.drawing.make.kit import kit_sketch

_BODY = ("measuring", "overall", "hole_from_end", "reader", "cable", "hole_thread")
_READER = (
    "reader_columns",
    "reader_apart",
    "reader_rows",
    "reader_rows_apart",
    "reader_thread",
    "reader_depth",
    "support_apart",
    "support_thread",
)
_WORDS = ("missing", "keep")
_SECTIONS = ("height", "depth", "reader_height", "reader_depth")

_MOST_COMPARED, _MOST_ITEMS = 6, 8


class ReceiveSheet(Sheet):
    """True sizes on the left, planned beside delivered on the right."""

    name = "receive"
    title = "Receive"
    caution = "Dimensions in an instruction sheet are proposals; measure the part itself."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._draft: Draft[Delivery] = Draft()
        self.fields = [FigureRow(session, Delivery, name, self._delivery) for name in (*_BODY, *_WORDS)]
        self.holes = [FigureRow(session, Delivery, name, self._delivery) for name in _READER]
        self.bracket = FigureRow(session, Delivery, "bracket", self._delivery)
        self.sections = [FigureRow(session, FamilyEdit, n, self._family, name=f"family_{n}") for n in _SECTIONS]
        self.contents = Table("What is in the box")
        self.contents.wrap_words()
        self.contents.chosen.connect(self._tick)
        self.box = PartRow("contents", self.contents)
        self.table = Table("Planned and delivered")
        self.table.two_lines()
        self.compared = PartRow("compared", self.table)
        self.list = self.figures(
            Group("In the box", [self.box]),
            Group("Measured on it", self.fields),
            Group("Reader's holes", self.holes),
            Group("Sections and bracket", [*self.sections, self.bracket]),
            Group("Planned and delivered", [self.compared]),
        )
        self.entry.addWidget(self.list, 1)
        self.view = AskedView("What arrived, to scale", QSize(320, 190), lambda: self.list)
        self.picture.addWidget(self.view, 1)

    def focus_entry(self) -> None:
        self.list.hold_first()

    def _tick(self, row: int) -> None:
        """Turn an item on: there, missing, not looked at."""
        arrived, items = self._delivery(), self._items()
        if arrived is not None and 0 <= row < len(items):
            item = items[row][0]
            self.session.apply(f"tick “{item}”", [turned(arrived, item)])

    def _items(self) -> list[tuple[str, str]]:
        axis, job = self.session.axis, self.session.job
        return [] if axis is None or job is None else list(contents_of(job, axis))

    def _delivery(self) -> Delivery | None:
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        known = delivery_of(job, axis)
        return known or self._draft.of(axis.id, lambda: Delivery(id=new_id(), axis_id=axis.id))

    def _family(self) -> FamilyEdit | None:
        """What is known of the family better than the table does; its sections are measured here as well."""
        axis, job = self.session.axis, self.session.job
        plan = None if axis is None or job is None else plan_of(job, axis)
        return None if job is None or plan is None or not plan.family else family_edit(job, plan.family, new_id())

    def refresh(self) -> None:
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None:
            return
        self.heading.setText(f"What arrived for {self.about_axis()}")
        lacks = not_of_it(job, axis)
        for field in self.fields:
            field.leave_out(field.name in lacks)
        for section in self.sections:
            section.leave_out(self._family() is None)
        self.list.refresh()
        items = self._items()
        self.contents.rows.show_rows(
            [Column("in the box", False), Column("", False)],
            [[item, {"there": "✓ there", "missing": "✗ missing"}.get(state, "?")] for item, state in items],
        )
        self.contents.fix_widths({1: 92})
        self.contents.resizeRowsToContents()
        self.box.show_count(len(items), _MOST_ITEMS, waits=any(not state for _, state in items))
        self.list.tell()
        units = self.session.units
        rows, _, ask = compare_delivery(job, axis)
        sizes, figures, names = figures_of([f for f in (*self.fields, *self.holes) if f.name not in lacks], units)
        for name, planned in (("measuring", measuring_length(job, axis)), ("overall", body_length(job, axis))):
            if sizes[name] is None and planned is not None:
                sizes[name] = planned.value
        arrived = self._delivery()
        if arrived is not None:
            sizes |= {"reader_columns": arrived.reader_columns, "reader_rows": arrived.reader_rows}
        self.view.show_sketch(kit_sketch(sizes, figures, names), self.session.inks)
        self.table.rows.show_rows(
            [Column("planned, delivered", False), Column("off by")],
            [
                [f"{r.words}\n{_say(r.planned_mm, units) or '–'}, {_say(r.delivered_mm, units) or 'not yet'}",
                 _say(r.off_mm, units)]
                for r in rows
            ],
        )  # fmt: skip
        self.table.fix_widths({1: 96})
        self.compared.show_count(len(rows), _MOST_COMPARED)
        known = sum(r.delivered_mm is not None for r in rows)
        off = sum(r.off_mm is not None and abs(r.off_mm) > OFF_MM for r in rows)
        figure = "nothing planned" if not rows else f"{known} of {len(rows)} measured"
        ticked = sum(bool(state) for _, state in items)
        if items and rows:
            figure = f"{ticked} of {len(items)} ticked, {known} of {len(rows)} measured"
        under = "" if not known else f"{off or 'none'} of them off by more than {_say(OFF_MM, units)}"
        self.headline.show_answer(self.session, figure, under)
        self.advise(ask)


def _say(mm: float | None, units: str) -> str:
    return "" if mm is None else format_plain(mm, "in" if units == "in" else "mm")

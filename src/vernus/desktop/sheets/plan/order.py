"""Order: the display wanted, and everything to buy and to make."""

from __future__ import annotations

from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import BESIDE_MACHINE, Display
from vernus.job.keep.lists import buying_list, total_price
from vernus.job.plan.compare import compare_families
from vernus.job.plan.display import display_findings, display_of, usual_display
from vernus.job.plan.order import Item
from vernus.job.scope import axes_in_scope, on_display

_GROUPS = {
    "Display wanted": ("axes", "digits", "functions", "signal", "price"),
    "Where it hangs": ("place", "member", "side", "reach", "shared"),
}  # fmt: skip


class OrderSheet(Sheet):
    """The display on the left, the list on the right."""

    name = "order"
    title = "Order"
    caution = "Check supply voltage and plug before buying; mains work follows local electrical codes."

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._draft_id = new_id()
        self.fields = [FigureRow(session, Display, name, self._display) for names in _GROUPS.values() for name in names]
        named = {row.name: row for row in self.fields}
        self.list = self.figures(*(Group(words, [named[n] for n in names]) for words, names in _GROUPS.items()))
        self.entry.addWidget(self.list, 1)
        self._none = Words("No axis is shown on a display: a readout of its own brings one along.", "faint")
        self.entry.addWidget(self._none)
        self.entry.addStretch(0)
        self.table = Table("To buy and to make")
        self.table.wrap_words()
        self.families = Table("One family for the whole machine")
        self.families.wrap_words()
        words = self._one = Words("One family for the whole machine?", "faint")
        self.picture.addWidget(self.table, 3)
        self.picture.addWidget(words)
        self.picture.addWidget(self.families, 2)
        self.hidden_on_bench = [self.table, self.families, words]

    def focus_entry(self) -> None:
        if not (self.list.isVisible() and self.list.hold_first()):
            self.table.setFocus()

    def _display(self) -> Display | None:
        job = self.session.job
        return (display_of(job) or usual_display(job, self._draft_id)) if job is not None else None

    def refresh(self) -> None:
        job = self.session.job
        if job is None:
            return
        root = next((m.id for m in job.machine.members if not m.on), "base")
        offered = [("", root), *((m.id, m.id) for m in job.machine.members if m.id != root)]
        offered += [(place, f"{place} beside it") for place in BESIDE_MACHINE]
        next(f for f in self.fields if f.name == "member").offer(offered)
        self.list.refresh()
        self._show_what_a_display_needs()
        units = self.session.units
        items = buying_list(job)
        rows = [
            [i.kind, i.axis, i.what.text(units), i.detail.text(units), "" if i.price is None else f"{i.price:g}"]
            for i in items
        ]
        columns = [
            Column("", False), Column("axis", False), Column("what", False), Column("detail", False), Column("price"),
        ]  # fmt: skip
        self.table.rows.show_rows(columns, rows)
        self.table.fix_widths({0: 62, 1: 48, 2: 196, 4: 60})
        self.table.resizeRowsToContents()
        self._show_families()
        buy = sum(i.kind == "buy" for i in items)
        total, unknown = total_price(items)
        under = f"{total:g} known" + (f", {unknown} without a price" if unknown else "") if items else ""
        make, keep, have = (sum(i.kind == kind for i in items) for kind in ("make", "keep", "have"))
        kept = (f", {keep} to keep" if keep else "") + (f", {have} to have" if have else "")
        self.headline.show_answer(self.session, f"{buy} to buy, {make} to make{kept}", under)
        self.say(
            _next(
                items, display_of(job) is None and any(on_display(a) for a in job.axes()), bool(display_findings(job))
            )
        )

    def _show_what_a_display_needs(self) -> None:
        """Nothing of display and families where no axis is shown on one: a readout of its own brings both."""
        job = self.session.job
        shown = job is not None and any(on_display(a) for a in axes_in_scope(job))
        for widget in (self.list, self.families, self._one):
            widget.setVisible(shown and not self.on_bench)
        self._none.setVisible(not shown)

    def _show_families(self) -> None:
        job = self.session.job
        if job is None:
            return
        rows = [[c.family.label, c.judgement.text(self.session.units)] for c in compare_families(job)]
        self.families.rows.show_rows([Column("family", False), Column("judgement", False)], rows)
        self.families.fix_widths({0: 150})
        self.families.resizeRowsToContents()


def _next(items: list[Item], no_display: bool, objections: bool) -> str:
    if not items:
        return "Choose a scale and a face for at least one axis; what to buy and to make follows from that."
    if objections:
        return "Settle the findings on the display before ordering."
    if no_display:
        return "Say which display is wanted: how many axes, which signal and plug, where it hangs."
    return "Order what the list says to buy. When it arrives, measure it before anything is made."

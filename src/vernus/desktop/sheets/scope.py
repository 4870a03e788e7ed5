"""Scope: what is fitted to which axis, what that brings into the job, and where to begin."""

from __future__ import annotations

from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.row import ChoiceRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.document import Job
from vernus.job.entities import JobInfo
from vernus.job.fitted import DRIVES, READOUTS
from vernus.job.keep.steps import steps_of, work_order
from vernus.job.machine.geometry import boxes_of
from vernus.job.scope import axes_in_scope, gets_scale, in_scope, sheets_of
from vernus.job.sheet_names import SHEET_WORDS

_COLUMNS = {"readout": ("Readout", READOUTS), "drive": ("Power feed", DRIVES)}


class ScopeSheet(Sheet):
    """A small table of the axes; beside it what comes and goes with each choice."""

    name = "scope"
    title = "Scope"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._told = ""
        self.fitted: dict[tuple[str, str], ChoiceRow] = {}
        self.fields = [
            FigureRow(session, JobInfo, name, lambda: session.job.info if session.job else None)
            for name in ("begin", "pace", "comes_off", "off_for")
        ]
        self.comes = Words("")
        self.kept = Words("Nothing entered is lost: what leaves the scope comes back with it.", "faint")
        self.list = self.figures()
        self.entry.addWidget(self.list, 1)
        self.entry.addWidget(self.comes)
        self.entry.addWidget(self.kept)
        self.table = Table("What each axis goes through")
        self.table.wrap_words()
        self.picture.addWidget(self.table, 1)
        self.hidden_on_bench = [self.table, self.kept]

    def focus_entry(self) -> None:
        self.list.hold_first()

    def _show_axes(self, job: Job) -> None:
        """A group per axis: what it is read by, and what drives it."""
        names = [a.name for a in job.axes()]
        if names != list(dict.fromkeys(name for name, _ in self.fitted)):
            self.fitted = {(name, column): self._row(name, column) for name in names for column in _COLUMNS}
            groups = [
                Group(f"{a.name}  {a.label}", [self.fitted[a.name, column] for column in _COLUMNS]) for a in job.axes()
            ]
            self.list.show_groups([*groups, Group("Order of work", self.fields)])
        for axis in job.axes():
            for column in _COLUMNS:
                self.fitted[axis.name, column].show_value(getattr(axis, column))

    def _row(self, name: str, column: str) -> ChoiceRow:
        label, choices = _COLUMNS[column]
        return ChoiceRow(f"{name} {column}", label, choices, lambda value: self._choose(name, column, str(value)))

    def _choose(self, name: str, column: str, value: str) -> None:
        job = self.session.job
        axis = next((a for a in job.axes() if a.name == name), None) if job is not None else None
        if job is None or axis is None or getattr(axis, column) == value:
            return
        before, steps = set[str](sheets_of(axis)), {s.key for s in steps_of(job)}
        changed = axis.with_(**{column: value})
        if self.session.apply(f"what is fitted to {name}", [changed]):
            after, now = set[str](sheets_of(changed)), {s.key for s in steps_of(job)}
            self._told = _difference(name, before, after, len(now - steps), len(steps - now))
            self.session.changed.emit()

    def refresh(self) -> None:
        job = self.session.job
        if job is None:
            return
        self._show_axes(job)
        fields = {f.name: f for f in self.fields}
        metal = [b.name.lower() for b in boxes_of(job) if b.role in ("solid", "head")]
        members = [(n, n) for n in dict.fromkeys([*(m.id for m in job.machine.members), *metal])]
        fields["comes_off"].offer([("", "nothing"), *members])
        fields["off_for"].offer([("", "not said"), *((a.id, a.name) for a in axes_in_scope(job) if gets_scale(a))])
        fields["off_for"].leave_out(not job.info.comes_off)
        self.list.refresh()
        axes, steps = work_order(job), steps_of(job)
        rows = []
        for axis in job.axes():
            mine = sum(s.axis == axis.name for s in steps)
            words = ", ".join(SHEET_WORDS[s] for s in sheets_of(axis)) if in_scope(axis) else "nothing; it only moves"
            rows.append([axis.name, words, str(mine) if in_scope(axis) else ""])
        self.table.rows.show_rows([Column("axis", False), Column("goes through", False), Column("steps")], rows)
        self.table.fix_widths({0: 46, 2: 58})
        self.table.resizeRowsToContents()
        self.comes.setText(self._told)
        n = len(axes_in_scope(job))
        order = ", then ".join(a.name for a in axes)
        figure = "nothing fitted yet" if not n else "1 axis" if n == 1 else f"{n} axes"
        self.headline.show_answer(self.session, figure, f"{len(steps)} steps on the card" if n else "")
        self.say(
            f"In this order: {order}. Go on to Machine."
            if n > 1
            else "Go on to Machine."
            if n
            else "Say for at least one axis what is fitted to it, or is on it already."
        )


def _difference(name: str, before: set[str], after: set[str], steps_more: int, steps_less: int) -> str:
    """What a choice brought and took, in a sentence."""
    said = []
    for verb, sheets, steps in (("comes", after - before, steps_more), ("goes", before - after, steps_less)):
        words = [SHEET_WORDS[s] for s in SHEET_WORDS if s in sheets]
        if steps:
            words.append("1 step" if steps == 1 else f"{steps} steps")
        if words:
            said.append(f"{verb}: {', '.join(words)}")
    return f"{name}: " + "; ".join(said) + "." if said else f"{name}: no sheet comes or goes."

"""A list of entities of one kind and the form of the chosen one; the entry engine adds and deletes by keys."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from vernus.desktop.parts.entry import Rows, drop_drafts
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.session import Session
from vernus.job.entities import Entity
from vernus.job.fields import applies

EntityRow = Callable[[Any], Sequence[str]]
Fields = Mapping[str, Sequence[str]]
_MOST_ROWS = 5


class EntityList(Rows):
    """Rows of entities over the figures of the chosen one.

    ``fields`` are the names of its rows, in groups under their headings ("" for none); a heading that begins with “…”
    stands for what is set once.
    """

    chosen = Signal()

    def __init__(
        self,
        session: Session,
        name: str,
        model: type[Entity],
        fields: Fields,
        entities: Callable[[], list[Any]],
        columns: Sequence[Column],
        row: EntityRow,
        make: Callable[[], Entity | None],
        narrow: int = 0,
        settle: Callable[[Any], Entity] = lambda entity: entity,
    ) -> None:
        super().__init__()
        self._session, self._entities, self._columns, self._row, self._make = session, entities, columns, row, make
        self._what = name
        self._id = ""
        self._narrow = narrow
        self.table = Table(name)
        self.table.delete_pressed.connect(self._drop)
        self.table.selectionModel().currentRowChanged.connect(lambda now, _was: self._select(now.row()))
        self.add = QPushButton("Add (Ctrl+Ins)")
        self.add.clicked.connect(self.add_row)
        self.drop = QPushButton("Delete (Ctrl+Del)")
        self.drop.clicked.connect(self.drop_row)
        row_of = QHBoxLayout()
        row_of.setSpacing(4)
        for button in (self.add, self.drop):
            button.setObjectName("tight")
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            row_of.addWidget(button)
        self._model, self._names, self._settle = model, fields, settle
        self._fields: list[FigureRow] = []
        self._offered: dict[str, Sequence[tuple[str, str]]] = {}
        self.figures = FigureList(make=self._make_groups)
        self.figures.filled.connect(self._leave_out)
        self.table.chosen.connect(lambda _row: self.figures.hold_first())
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.table)
        box.addLayout(row_of)
        box.addWidget(self.figures, 1)
        self.setFocusProxy(self.table)

    def _make_groups(self) -> list[Group]:
        """The rows, when they are first seen: the ones of what is chosen."""
        groups = []
        for heading, names in self._names.items():
            rows = [FigureRow(self._session, self._model, n, self.current, settle=self._settle) for n in names]
            self._fields += rows
            groups.append(Group(heading.lstrip("… "), rows, aside=heading.startswith("…")))
        for field, choices in self._offered.items():
            self.offer(field, choices)
        return groups

    @property
    def fields(self) -> list[FigureRow]:
        """Its rows, in reading order."""
        self.figures.make_rows()
        return self._fields

    def current(self) -> Any:
        """The chosen entity, None when there is none."""
        return next((e for e in self._entities() if e.id == self._id), None)

    def choose(self, entity_id: str) -> None:
        """Choose an entity by its id."""
        self._id = entity_id
        self.refresh()

    def offer(self, field: str, choices: Sequence[tuple[str, str]]) -> None:
        """Offer other choices for a field, such as this machine's members."""
        self._offered[field] = choices
        for row in self._fields:
            if row.name == field:
                row.offer(choices)

    def refresh(self) -> None:
        """Show what is stored."""
        entities = self._entities()
        if self._id not in [e.id for e in entities]:
            self._id = entities[0].id if entities else ""
        self.table.blockSignals(True)
        self.table.selectionModel().blockSignals(True)
        self.table.rows.show_rows(self._columns, [self._row(e) for e in entities])
        at = next((n for n, e in enumerate(entities) if e.id == self._id), -1)
        if at >= 0:
            self.table.selectRow(at)
        self.table.selectionModel().blockSignals(False)
        self.table.blockSignals(False)
        if self._narrow and len(self._columns) > 1:
            self.table.fix_widths({1: self._narrow})
        self._fit_table(len(entities))
        self._show_fields()

    def _select(self, row: int) -> None:
        entities = self._entities()
        if 0 <= row < len(entities) and entities[row].id != self._id:
            dropped = drop_drafts(self.figures)
            if dropped:
                self._session.notice.emit(f"Typed but not taken, so not kept: “{dropped[0][:30]}”.")
            self._id = entities[row].id
            self._show_fields()
            self.chosen.emit()

    def _show_fields(self) -> None:
        """The figures of what is chosen."""
        self._leave_out()
        self.figures.refresh()

    def _leave_out(self) -> None:
        """Leave out what doesn't apply to the kind of what is chosen; all where nothing is."""
        entity = self.current()
        for field in self._fields:
            field.setEnabled(entity is not None)
            field.leave_out(entity is None or not applies(entity, field.name))

    def _fit_table(self, count: int) -> None:
        """A few rows are seen whole; more scroll, so that the figures keep the room."""
        if self.table.wordWrap():
            self.table.resizeRowsToContents()
        self.table.keep_to(count, _MOST_ROWS)

    def drop_row(self) -> None:
        """Delete the chosen entity."""
        self._drop(self.table.currentIndex().row())

    def add_row(self) -> None:
        """Add an entity and put the cursor into its first field, its figures ready to be typed over."""
        made, was = self._make(), self._id
        if made is None:
            return
        self._id = made.id
        if self._session.apply(f"add to {self._what.lower()}", [made]):
            self.chosen.emit()
            self.figures.hold(self.fields[0].name)
        else:
            self.choose(was)

    def _drop(self, row: int) -> None:
        entities = self._entities()
        if 0 <= row < len(entities):
            self._session.apply(f"delete from {self._what.lower()}", drop=[entities[row].id])

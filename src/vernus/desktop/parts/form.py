"""Forms made from the declared fields of an entity: a control is bound to its field in one statement."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from vernus.core.errors import BadInputError, VernusError
from vernus.core.units import parse_number
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.words import Words, set_tip
from vernus.desktop.session import Session
from vernus.job.entities import Entity
from vernus.job.fields import LengthEntry, complaints, quantities
from vernus.job.known import HOLLOW, SOURCE_WORDS, Known

Current = Callable[[], Entity | None]


class BoundField(QWidget):
    """A label and an editor for one field of the entity that ``current`` returns; edits go through the session.

    ``settle`` puts right what else of the entity follows from the edit, in the same step. ``known`` answers what the
    job knows of the figure: it is shown while nothing is typed here, under a hollow mark where nobody measured it.
    ``store`` names the entity and field that hold the deciding copy, where that can be another one than this.
    """

    def __init__(
        self,
        session: Session,
        model: type[Entity],
        field: str,
        current: Current,
        *,
        choices: Sequence[tuple[str, str]] = (),
        label: str = "",
        settle: Callable[[Any], Entity] = lambda entity: entity,
        known: Callable[[], Known[float] | None] = lambda: None,
        store: Callable[[], tuple[Entity, str] | None] | None = None,
    ) -> None:
        super().__init__()
        self._known, self._store_of = known, store
        self._session, self._field, self._current, self._settle = session, field, current, settle
        self.name, self._complaint = field, ""
        self._quantity = quantities(model)[field]
        self.label = label or self._quantity.label
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        title = self.title = Words(self.label, "faint")
        box.addWidget(title)
        self.editor = self._make(choices or self._quantity.choices)
        title.setBuddy(self.editor)
        set_tip(self.editor, self._quantity.help)
        box.addWidget(self.editor)
        self.setFocusProxy(self.editor)

    def _make(self, choices: Sequence[tuple[str, str]]) -> QWidget:
        kind = self._quantity.kind
        if kind in ("length", "fine"):
            field = LengthField(self.label, lambda: self._session.unit(kind))
            field.accepted.connect(self._accept_length)
            return field
        if kind == "choice":
            box = QComboBox()
            box.setAccessibleName(self.label)
            for value, words in choices:
                box.addItem(words, value)
            box.activated.connect(lambda _index: self._store(box.currentData()))
            return box
        line = Line()
        line.setAccessibleName(self.label)
        line.editingFinished.connect(lambda: self._accept_text(line))
        return line

    def refresh(self) -> None:
        """Show what is stored."""
        entity, name = self._target()
        value = getattr(entity, name) if entity is not None else None
        wrong = "" if entity is None else next((t for f, t in complaints(entity) if f == name), "")
        known = self._known()
        if known is not None and not (isinstance(value, LengthEntry) and value.text):
            value = LengthEntry(mm=known.value)
        hollow = known is not None and not known.sure
        self.title.setText(f"{HOLLOW} {self.label}" if hollow else self.label)
        set_tip(self.editor, f"{known.name}: {SOURCE_WORDS[known.source]}" if known is not None and hollow else "")
        if isinstance(self.editor, LengthField):
            self.editor.show_entry(value, wrong)
        elif isinstance(self.editor, QComboBox):
            self.editor.setCurrentIndex(self.editor.findData(value))
        elif isinstance(self.editor, QLineEdit) and not (self.editor.property("wrong") and self.editor.isModified()):
            self.editor.setText("" if value is None else f"{value:.10g}" if isinstance(value, float) else str(value))
            if not self.editor.hasFocus():
                self.editor.setCursorPosition(0)  # long words are read from their beginning
            self._mark(wrong)

    def offer(self, choices: Sequence[tuple[str, str]]) -> None:
        """Offer other choices than the declared ones."""
        if not isinstance(self.editor, QComboBox):
            return
        if [(self.editor.itemData(n), self.editor.itemText(n)) for n in range(self.editor.count())] == list(choices):
            return
        self.editor.clear()
        for value, words in choices:
            self.editor.addItem(words, value)

    def say(self, words: dict[str, str]) -> None:
        """Put other words to the choices, such as the names of this machine's members."""
        if isinstance(self.editor, QComboBox):
            for n in range(self.editor.count()):
                self.editor.setItemText(n, words.get(self.editor.itemData(n), self.editor.itemText(n)))

    def _target(self) -> tuple[Entity | None, str]:
        """The entity and the field that hold what is shown and typed here."""
        found = self._store_of() if self._store_of is not None else None
        return (self._current(), self._field) if found is None else found

    def _accept_length(self, entry: LengthEntry | None) -> None:
        entity, name = self._target()
        if entity is None:
            return
        if entry is None and not _may_be_empty(entity, name) and isinstance(self.editor, LengthField):
            self.editor.show_entry(getattr(entity, name))
            return
        self._store(entry)

    def _accept_text(self, line: QLineEdit) -> None:
        if not line.isModified():
            return
        text = line.text().strip()
        if self._quantity.kind != "number":
            self._store(text)
            return
        try:
            value = parse_number(text) if text else None
        except BadInputError as error:
            self._mark(str(error))
            return
        self._mark("")
        self._store(value)

    def _mark(self, complaint: str) -> None:
        if complaint == self._complaint:
            return
        self._complaint = complaint
        set_tip(self.editor, complaint or self._quantity.help)
        self.editor.setProperty("wrong", bool(complaint))
        self.editor.style().unpolish(self.editor)
        self.editor.style().polish(self.editor)
        if complaint:
            self._session.told.emit(complaint)

    def _store(self, value: object) -> None:
        entity, name = self._target()
        if entity is None or getattr(entity, name) == value:
            return
        if value is None and not _may_be_empty(entity, name):
            self.refresh()
            return
        try:
            changed = entity.with_(**{name: value})
        except VernusError as error:
            self._mark(str(error))
            return
        self._session.apply(self.label.lower(), [self._settle(changed) if self._store_of is None else changed])


def scrolled_form(fields: Sequence[QWidget]) -> QScrollArea:
    """Fields one under the other, scrolling when there is no room."""
    form = QWidget()
    form.setObjectName("plain")
    column = QVBoxLayout(form)
    column.setContentsMargins(0, 0, 8, 0)
    column.setSpacing(6)
    for field in fields:
        column.addWidget(field)
    column.addStretch(1)
    for box in form.findChildren(QComboBox):
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.setMinimumContentsLength(8)
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(form)
    return area


def _may_be_empty(entity: Entity, field: str) -> bool:
    return type(entity).model_fields[field].default is None

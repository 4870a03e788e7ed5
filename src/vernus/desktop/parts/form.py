"""Forms made from the declared fields of an entity: a control is bound to its field in one statement."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Literal

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from vernus.core.doubt import Doubt, Yardstick
from vernus.core.errors import VernusError
from vernus.core.units import with_units
from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.number_field import NumberField, TemperatureField
from vernus.desktop.parts.words import Words, set_tip
from vernus.desktop.session import Session
from vernus.job.doubts import doubt_swapped, yardstick
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
        self._other_way: dict[str, LengthEntry] | None = None
        self._quantity = quantities(model)[field]
        self.label, self._said_as = label or self._quantity.label, label or self._quantity.said_as
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
            field = BoundLength(self.label, self._session, kind, self._yardstick, self._swapped)
            field.take_other = self._swap
            return self._bind(field)
        if kind == "temperature":
            return self._bind(TemperatureField(self.label, lambda: self._session.degrees, compare=self._yardstick))
        if kind == "number":
            return self._bind(NumberField(self.label, compare=self._yardstick))
        if kind == "choice":
            box = QComboBox()
            box.setAccessibleName(self.label)
            box.setMinimumHeight(30)
            for value, words in choices:
                box.addItem(words, value)
            box.activated.connect(lambda _index: self._store(box.currentData()))
            return box
        line = Line()
        line.setAccessibleName(self.label)
        line.setMinimumHeight(30)
        line.editingFinished.connect(lambda: self._accept_text(line))
        return line

    def _bind(self, field: FigureField) -> FigureField:
        field.accepted.connect(self._accept_figure)
        return field

    def _yardstick(self) -> Yardstick | None:
        """What a figure typed here is compared with."""
        entity, _ = self._target()
        job = self._session.job
        return None if job is None else yardstick(job, entity, self._quantity)

    def _swapped(self, entry: LengthEntry) -> Doubt | None:
        entity, name = self._target()
        found = None if entity is None else doubt_swapped(entity, name, entry)
        self._other_way = None if found is None else found[1]
        return None if found is None else found[0]

    def _swap(self, _text: str) -> bool:
        """Store both sides the other way round, where that was proposed."""
        entity, _ = self._target()
        if self._other_way is None or entity is None or not isinstance(self.editor, LengthField):
            return False
        both, self._other_way = self._other_way, None
        self.editor.drop_draft()
        self._session.apply(f"swap {self.label.lower()}", [entity.with_(**both)])
        return True

    def refresh(self) -> None:
        """Show what is stored."""
        entity, name = self._target()
        value = getattr(entity, name) if entity is not None else None
        wrong = "" if entity is None else next((t for f, t in complaints(entity) if f == name), "")
        known = self._known()
        if known is not None and not (isinstance(value, LengthEntry) and value.text):
            value = LengthEntry(mm=known.value)
        hollow = known is not None and not known.sure
        label = self._session.said(self._said_as)
        self.title.setText(f"{HOLLOW} {label}" if hollow else label)
        set_tip(self.editor, f"{known.name}: {SOURCE_WORDS[known.source]}" if known is not None and hollow else "")
        if isinstance(self.editor, LengthField):
            self.editor.show_entry(value, wrong)
        elif isinstance(self.editor, NumberField | TemperatureField):
            self.editor.show_value(value, wrong)
        elif isinstance(self.editor, QComboBox):
            self._say_choices(self.editor)
            self.editor.setCurrentIndex(self.editor.findData(value))
        elif isinstance(self.editor, QLineEdit) and not (self.editor.property("wrong") and self.editor.isModified()):
            self.editor.setText("" if value is None else str(value))
            if not self.editor.hasFocus():
                self.editor.setCursorPosition(0)  # long words are read from their beginning
            self._mark(wrong)

    def _say_choices(self, box: QComboBox) -> None:
        """The declared choices in the words of direction of the axis in view."""
        declared, said = dict(self._quantity.choices), dict(self._quantity.said_choices)
        for n in range(box.count()):
            words = declared.get(box.itemData(n), "")
            if words and box.itemText(n) in (words, box.property(f"said{n}")):
                named = self._session.said(said[box.itemData(n)])
                box.setProperty(f"said{n}", named)
                box.setItemText(n, named)

    def mm(self) -> float | None:
        """The length stored or known for this field, None when there is none."""
        entity, name = self._target()
        value = getattr(entity, name) if entity is not None else None
        known = self._known()
        if isinstance(value, LengthEntry) and (value.text or known is None):
            return value.mm
        return None if known is None else known.value

    def hollow(self) -> bool:
        """Whether nobody measured, typed or chose what is shown here."""
        entity, name = self._target()
        value = getattr(entity, name) if entity is not None else None
        known = self._known()
        typed = isinstance(value, LengthEntry) and bool(value.text)
        return not typed and (known is None or not known.sure)

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

    def _accept_figure(self, figure: LengthEntry | float | None) -> None:
        entity, name = self._target()
        if entity is None:
            return
        if figure is None and not _may_be_empty(entity, name):
            self.refresh()
            return
        if isinstance(self.editor, TemperatureField) and figure is not None:
            self._session.show_degrees(self.editor.named)
        self._store(figure)

    def _accept_text(self, line: QLineEdit) -> None:
        if not line.isModified():
            return
        text = line.text().strip()
        if self._quantity.kind == "lengths" and text:
            try:
                text = with_units(text, self._session.units)
            except VernusError as error:
                self._mark(str(error))
                return
        self._store(text)

    def drop_draft(self) -> str:
        """Forget words typed and not taken; figures are dropped by their own field."""
        if not isinstance(self.editor, QLineEdit) or not self.editor.isModified():
            return ""
        text = self.editor.text().strip()
        self.editor.setModified(False)
        self._mark("")
        self.refresh()
        return text

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


class BoundLength(LengthField):
    """A length field of a form: it also asks when two sides of a box come to lie the wrong way round."""

    def __init__(
        self,
        name: str,
        session: Session,
        kind: Literal["length", "fine"],
        compare: Callable[[], Yardstick | None],
        swapped: Callable[[LengthEntry], Doubt | None],
    ) -> None:
        super().__init__(name, lambda: session.unit(kind), compare=compare)
        self._swapped = swapped

    def doubt(self, text: str) -> Doubt | None:
        return super().doubt(text) or self._swapped(self.parse(text))


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
    return scrolled(form)


def scrolled(face: QWidget) -> QScrollArea:
    """A face that takes the room there is and scrolls when that is too little, instead of squeezing its lines."""
    face.setObjectName("plain")
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(face)
    return area


def _may_be_empty(entity: Entity, field: str) -> bool:
    return type(entity).model_fields[field].default is None

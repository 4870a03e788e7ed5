"""A row bound to one declared field of an entity: label, unit, limits and choices come from the declaration."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Literal

from PySide6.QtWidgets import QLineEdit, QWidget

from vernus.core.doubt import Doubt, Yardstick
from vernus.core.errors import VernusError
from vernus.core.finding import Sentence
from vernus.core.units import with_units
from vernus.desktop.parts.choice import ChoiceBox
from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.number_field import NumberField, TemperatureField
from vernus.desktop.parts.row import Row, offer
from vernus.desktop.parts.short_names import SHORT_NAMES
from vernus.desktop.parts.together import together
from vernus.desktop.parts.words import set_tip
from vernus.desktop.session import Session
from vernus.desktop.theme import restyle
from vernus.job.doubts import doubt_swapped, yardstick
from vernus.job.entities import Entity
from vernus.job.fields import LengthEntry, Quantity, complaints, quantities
from vernus.job.keep.evenings.days import READ
from vernus.job.known.axis_figures import SOURCE_WORDS, Sourced

Current = Callable[[], Entity | None]
_TEXT_HIGH = 24


class FigureRow(Row):
    """A row for one field of the entity that ``current`` returns; edits go through the session.

    ``settle`` puts right what else of the entity follows from the edit, in the same step. ``known`` answers what the
    job knows of the figure: it is shown while nothing is typed here, under a unmeasured mark where nobody measured it.
    ``store`` names the entity and field that hold the deciding copy, where that can be another one than this.
    ``name`` is the row's own in its list, where a field of another entity there is called the same.
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
        help: str = "",
        settle: Callable[[Any], Entity] = lambda entity: entity,
        known: Callable[[], Sourced[float] | None] = lambda: None,
        store: Callable[[], tuple[Entity, str] | None] | None = None,
        name: str = "",
    ) -> None:
        self._known, self._store_of = known, store
        self._session, self._field, self._current, self._settle = session, field, current, settle
        self._complaint, self._source = "", ""
        self._entity: Entity | None = None
        self._seen: object = None
        """What was shown last, of ``_seen_of``: as long as nothing of it changes nothing is shown anew."""
        self._seen_of: type | None = None
        self._stored_as = field
        self._stored: Any = None
        self._told: Sourced[float] | None = None
        self._other_way: dict[str, LengthEntry] | None = None
        self._quantity: Quantity = quantities(model)[field]
        self._help = help or self._quantity.help
        self._said_as = label or self._quantity.said_as
        shown = label or self._quantity.label
        super().__init__(name or field, shown, self._make(shown, choices or self._quantity.choices))
        set_tip(self.editor, self._help)

    def _make(self, label: str, choices: Sequence[tuple[str, str]]) -> QWidget:
        kind = self._quantity.kind
        if kind in ("length", "fine"):
            field = BoundLength(label, self._session, kind, self._yardstick, self._swapped)
            field.take_other = self._swap
            return self._bind(field)
        if kind == "temperature":
            return self._bind(TemperatureField(label, lambda: self._session.degrees, compare=self._yardstick))
        if kind == "number":
            such_as = "5080" if "counts" in label.lower() else ""
            return self._bind(NumberField(label, compare=self._yardstick, such_as=such_as))
        if kind == "choice":
            box = ChoiceBox(label, choices)
            box.activated.connect(lambda _index: self._store(box.currentData()))
            return box
        line = Line()
        line.setObjectName("inplace")
        line.setAccessibleName(label)
        line.setFixedHeight(_TEXT_HIGH)
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

    # what the row says for itself

    @property
    def open(self) -> bool:
        value = self._stored
        if isinstance(self.editor, ChoiceBox):
            words = self.editor.currentText()
            return value in (None, "") and (not words or words.startswith(("not ", "say ")))
        return self.is_unmeasured() if isinstance(self.editor, LengthField) else value in (None, "")

    @property
    def help(self) -> str:
        """Misfit first, then how to take it, then what the figure is elsewhere and where it is from."""
        means = self.editor.says() if isinstance(self.editor, FigureField) else ""
        return " ".join(words for words in (self._complaint, self._help, means, self._source) if words)

    def figure(self) -> str:
        if isinstance(self.editor, ChoiceBox):
            return self.editor.currentText() if self._stored not in (None, "") else ""
        if isinstance(self.editor, FigureField):
            text = self.editor.line.text()
            named = any(c.isalpha() or c in "\"'″" for c in text)
            return text if named or not text else f"{text} {self.editor.measure}".strip()
        return str(self._stored or "")

    def refresh(self) -> None:
        self._look()
        entity, value, known = self._entity, self._stored, self._told
        misfit = self._misfit()
        seen = (self._stored_as, value, known, misfit, together.of(self._session.shown_in))
        if self._seen == (seen, self._in_editor()) and type(entity) is self._seen_of and not self._complaint:
            self.show_mark()
            return
        wrong = "" if misfit is None else misfit.text(self._session.units)
        if known is not None and not (isinstance(value, LengthEntry) and value.text):
            value = LengthEntry(mm=known.value)
        self._source = "" if known is None or known.is_given else f"{known.name}: {SOURCE_WORDS[known.source]}."
        self.label = self._session.said(self._said_as)
        short = SHORT_NAMES.get(self._said_as)
        self.name_it(self.label if short is None else self._session.said(short))
        if isinstance(self.editor, LengthField):
            self.editor.show_entry(value, wrong)
        elif isinstance(self.editor, NumberField | TemperatureField):
            self.editor.show_value(value, wrong)
        elif isinstance(self.editor, ChoiceBox):
            self._say_choices(self.editor)
            self.editor.setCurrentIndex(self.editor.findData(value))
        elif isinstance(self.editor, Line):
            self._show_words(self.editor, "" if value is None else str(value), wrong)
            self._fit()
        self._seen, self._seen_of = (seen, self._in_editor()), type(entity)
        self.show_mark()

    def _misfit(self) -> Sentence | None:
        """Why what is stored is outside its limits."""
        entity = self._entity
        if entity is None:
            return None
        _, found = together.once(("misfits", id(entity)), lambda: (entity, dict(reversed(complaints(entity)))))
        misfit: Sentence | None = found.get(self._stored_as)
        return misfit

    def _in_editor(self) -> object:
        """What stands in the editor."""
        if isinstance(self.editor, ChoiceBox):
            return self.editor.currentIndex(), self.editor.count()
        line = self.editor.line if isinstance(self.editor, FigureField) else self.editor
        return (line.text(), line.isModified()) if isinstance(line, Line) else None

    def show_mark(self) -> None:
        """The mark of what is known of it."""
        entity, value = self._entity, self._stored
        usual = entity is not None and value is not None and value == type(entity).model_fields[self._stored_as].default
        figure = isinstance(self.editor, FigureField)
        length = isinstance(self.editor, LengthField)
        unmeasured = figure and (self.mm() is not None and self.is_unmeasured() if length else usual)
        measured = figure and not unmeasured and not self.open and value is not None
        self.mark_as(
            "wanted" if self.wanted else "unmeasured" if unmeasured else "measured" if measured else "",
            self._session.inks,
        )

    def _show_words(self, line: Line, text: str, wrong: str) -> None:
        typing = line.isModified() and (line.hasFocus() or bool(line.property("wrong")))
        if typing and line.text() != text:
            return
        if line.text() != text:
            line.renew(text)
        if not line.hasFocus():
            line.setCursorPosition(0)  # long words are read from their beginning
        self._mark_wrong(wrong)

    def _say_choices(self, box: ChoiceBox) -> None:
        """The declared choices in the words of direction of the axis in view."""
        declared, said = dict(self._quantity.choices), dict(self._quantity.said_choices)
        for n in range(box.count()):
            words = declared.get(box.itemData(n), "")
            if words and box.itemText(n) in (words, box.property(f"said{n}")):
                named = self._session.said(said[box.itemData(n)])
                box.setProperty(f"said{n}", named)
                box.setItemText(n, named)

    def _look(self) -> None:
        """Look once at what is stored and known: everything the row says of itself is said of that."""
        if self._store_of is None:
            self._entity, self._stored_as = together.of(self._current), self._field
        else:
            self._entity, self._stored_as = self._target()
        self._stored = None if self._entity is None else getattr(self._entity, self._stored_as)
        self._told = self._known()

    def mm(self) -> float | None:
        """The length stored or known for this field when it was last shown, None when there is none."""
        value, known = self._stored, self._told
        if isinstance(value, LengthEntry) and (value.text or known is None):
            return value.mm
        return None if known is None else known.value

    def is_unmeasured(self) -> bool:
        """Whether nobody measured, typed or chose what is shown here."""
        value, known = self._stored, self._told
        typed = isinstance(value, LengthEntry) and bool(value.text)
        return not typed and (known is None or not known.is_given)

    def offer(self, choices: Sequence[tuple[str, str]]) -> None:
        """Offer other choices than the declared ones."""
        if isinstance(self.editor, ChoiceBox):
            if offer(self.editor, choices):
                self._seen = None
            self._fit()

    # what is typed

    def _target(self) -> tuple[Entity | None, str]:
        """The entity and the field that hold what is shown and typed here."""
        found = self._store_of() if self._store_of is not None else None
        return (self._current(), self._field) if found is None else found

    def _accept_figure(self, figure: LengthEntry | float | None) -> None:
        entity, name = self._target()
        if entity is None:
            return
        if figure is None and not _may_be_empty(entity, name):
            if isinstance(self.editor, FigureField):
                self.editor.drop_draft()
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
                self._mark_wrong(str(error))
                return
        reads = READ.get(self._quantity.kind)
        if reads is not None and text:
            try:
                reads(text)
            except VernusError as error:
                self._mark_wrong(str(error))
                return
        line.setModified(False)
        self._mark_wrong("")
        self._store(text)
        if line.hasFocus():
            line.selectAll()

    def drop_draft(self) -> str:
        """Forget words typed and not taken; figures are dropped by their own field."""
        if not isinstance(self.editor, Line) or not self.editor.isModified():
            return ""
        text = self.editor.text().strip()
        self.editor.setModified(False)
        self._mark_wrong("")
        self.refresh()
        return text

    def _mark_wrong(self, complaint: str) -> None:
        if complaint == self._complaint:
            return
        self._complaint = complaint
        set_tip(self.editor, complaint or self._help)
        self.editor.setProperty("wrong", bool(complaint))
        restyle(self.editor)
        if complaint:
            self._session.notice.emit(complaint)

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
            if isinstance(self.editor, Line):
                self.editor.setModified(True)
            self._mark_wrong(str(error))
            return
        self._session.apply(self.label.lower(), [self._settle(changed) if self._store_of is None else changed])


class BoundLength(LengthField):
    """A length field of a row: it also asks when two sides of a box come to lie the wrong way round."""

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


def _may_be_empty(entity: Entity, field: str) -> bool:
    return type(entity).model_fields[field].default is None

"""One declaration per measured or chosen field: label, unit kind and limits.

Forms, validation, CSV headers and report rows are all made from these declarations.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache, lru_cache
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass as value_dataclass

from vernus.core.finding import PLAIN_DIRECTIONS, Fine, Mm, Sentence, Temperature
from vernus.core.units import (
    DECIMALS,
    MOST_MM,
    SYSTEM_OF,
    TypedLength,
    UnitName,
    UnitSystem,
    format_in,
    parse_length,
    without_idle_zeros,
)

Kind = Literal["length", "fine", "number", "temperature", "choice", "text", "lengths", "flag", "day", "days", "clock"]


@value_dataclass(frozen=True, slots=True, config=ConfigDict(extra="forbid"))
class LengthEntry:
    """A length with the text it was typed as; ``mm`` is what is computed with."""

    mm: float = Field(allow_inf_nan=False, ge=-MOST_MM, le=MOST_MM)
    text: str = Field(default="", max_length=80)
    unit: UnitName = "mm"
    kept: bool = Field(default=False, exclude_if=lambda kept: not kept)
    """Whether it was asked about and kept as it is."""

    @classmethod
    def of(cls, typed: TypedLength) -> LengthEntry:
        """From a parsed length."""
        return cls(mm=typed.mm, text=typed.text, unit=typed.unit)

    @classmethod
    def read(cls, text: str, unit: UnitName = "mm") -> LengthEntry:
        """Parse ``text``; raises LengthSyntaxError."""
        return cls.of(parse_length(text, unit))

    def shown(self, unit: UnitName) -> str:
        """As typed when that was in the same system, otherwise converted to ``unit``; bare of the unit."""
        if self.text and SYSTEM_OF[self.unit] == SYSTEM_OF[unit]:
            return self.text
        return without_idle_zeros(format_in(self.mm, unit, DECIMALS[unit], with_unit=False))


def mm_of(entry: LengthEntry | None) -> float | None:
    """The entry in mm, None when there is none."""
    return None if entry is None else entry.mm


def _bare(value: float) -> str:
    return f"{value:g}"


def field_unit(kind: Kind, system: UnitSystem) -> UnitName:
    """The unit of bare numbers in a field: thou for indicator-sized lengths in the inch system."""
    return "thou" if kind == "fine" and system == "in" else system


@dataclass(frozen=True)
class Quantity:
    """What a field means. Limits are in mm for lengths, in °C for temperatures; ``low_open`` excludes the lower limit.

    A label or choice may ask for words of direction (``{@low}``); ``label`` and ``choices`` have the plain ones, and
    ``said_as`` and ``said_choices`` are what an axis's own words are put into.
    ``against`` names what a figure is compared with before it is taken (``vernus.job.doubts``). ``when`` is a choice of
    the same entity, by its field, with those of its values under which the figure means anything.
    """

    label: str
    kind: Kind = "length"
    low: float | None = None
    high: float | None = None
    low_open: bool = False
    choices: tuple[tuple[str, str], ...] = ()
    help: str = ""
    judged: str = ""
    when: tuple[str, tuple[str, ...]] | None = None
    said_as: str = field(init=False, default="")
    said_choices: tuple[tuple[str, str], ...] = field(init=False, default=())

    def __post_init__(self) -> None:
        plain = PLAIN_DIRECTIONS.said
        object.__setattr__(self, "said_as", self.label)
        object.__setattr__(self, "said_choices", self.choices)
        object.__setattr__(self, "label", plain(self.label))
        object.__setattr__(self, "choices", tuple((value, plain(words)) for value, words in self.choices))

    def complaint(self, value: float) -> Sentence | None:
        """Why ``value`` is outside the limits and what would be right; None when it is inside."""
        if self.low is not None and (value < self.low or (self.low_open and value == self.low)):
            return self._beyond(value, "more than" if self.low_open else "at least", self.low)
        if self.high is not None and value > self.high:
            return self._beyond(value, "at most", self.high)
        return None

    def _beyond(self, value: float, word: str, limit: float) -> Sentence:
        said: Callable[[float], object] = {"length": Mm, "fine": Fine, "temperature": Temperature}.get(self.kind, _bare)
        values = {"label": self.label, "value": said(value), "word": word, "limit": said(limit)}
        return Sentence("{label}: {value} is not possible here; it must be {word} {limit}.", values)


@cache
def quantities(model: type[BaseModel]) -> dict[str, Quantity]:
    """The declared quantities of an entity, by field name, in order."""
    found: dict[str, Quantity] = {}
    for name, info in model.model_fields.items():
        for part in info.metadata:
            if isinstance(part, Quantity):
                found[name] = part
    return found


def applies(entity: BaseModel, field: str) -> bool:
    """Whether a field means anything for an entity of its kind, or holds a figure somebody put there."""
    quantity = quantities(type(entity)).get(field)
    if quantity is None or quantity.when is None:
        return True
    other, values = quantity.when
    return getattr(entity, other) in values or getattr(entity, field) != type(entity).model_fields[field].default


@lru_cache(maxsize=256)
def complaints(entity: BaseModel) -> tuple[tuple[str, Sentence], ...]:
    """(field, complaint) for each value of ``entity`` that is outside its declared limits."""
    found: list[tuple[str, Sentence]] = []
    for name, quantity in quantities(type(entity)).items():
        for value in _values(getattr(entity, name)):
            words = quantity.complaint(value)
            if words is not None:
                found.append((name, words))
    return tuple(found)


def _values(value: Any) -> list[float]:
    if isinstance(value, LengthEntry):
        return [value.mm]
    if isinstance(value, bool) or value is None:
        return []
    if isinstance(value, int | float):
        return [float(value)]
    if isinstance(value, tuple):
        return [v for item in value for v in _values(item)]
    return []

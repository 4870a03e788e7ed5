"""What every entity of a job is made of."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from vernus.job.errors import JobContentError
from vernus.job.fields import Quantity, quantities

Name = Annotated[str, Field(max_length=200)]
Text = Annotated[str, Field(max_length=20_000)]
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e12, le=1e12)]
Plane = Literal["face", "edge", "roll"]
Target = Literal["plate", "body", "reader", "rod"]
TARGETS: tuple[tuple[Target, str], ...] = (
    ("body", "scale body"),
    ("plate", "backing plate"),
    ("reader", "reader"),
    ("rod", "rod"),
)
Direction = Literal["+x", "-x", "+y", "-y", "+z", "-z"]
DIRECTIONS = (
    ("", "not said"),
    ("+x", "right"),
    ("-x", "left"),
    ("+y", "away from you"),
    ("-y", "toward you"),
    ("+z", "up"),
    ("-z", "down"),
)


_FIRST_YEAR, _LAST_YEAR = 1970, 9998
TIMES = ("created", "changed", "begun")
"""The fields of entities that hold a moment, ISO 8601 with its zone, or nothing."""


def is_moment(text: str) -> bool:
    """Whether a text is a moment: ISO 8601 with its zone, in a year that every calendar has."""
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        return False
    return found.tzinfo is not None and _FIRST_YEAR <= found.year <= _LAST_YEAR


def odd_times(entity: BaseModel) -> list[tuple[str, str]]:
    """(field, text) of each field of an entity that should hold a moment and doesn't."""
    found = [(name, getattr(entity, name, "")) for name in TIMES]
    return [(name, text) for name, text in found if text and not is_moment(text)]


class Value(BaseModel):
    """A part of an entity: frozen, and refusing fields it doesn't know."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


class MadeTo(Value):
    """A figure that something was made, bought or set to: of which statement, called what; in mm, or in words."""

    id: Name
    figure: Name
    name: Name = ""
    mm: Number | None = None
    words: Annotated[str, Field(max_length=1000)] = ""


class Entity(Value):
    """Anything with an identity in the job; times are ISO 8601, local with their zone (in UTC in older files)."""

    kind: ClassVar[str]

    id: Annotated[str, Field(min_length=1, max_length=64)]
    created: str = ""
    changed: str = ""
    note: Annotated[Text, Quantity("Note", "text")] = ""

    def __hash__(self) -> int:
        # Equal entities have equal ids and times; hashing every field of a long sweep costs more than it saves.
        return hash((type(self), self.id, self.changed))

    @property
    def decides(self) -> bool:
        """Whether anything beside its own list depends on it."""
        return True

    def with_(self, **changes: Any) -> Any:
        """A validated copy with some fields changed; raises JobContentError saying what can't be kept."""
        try:
            return type(self).model_validate({**dict(self), **changes})
        except ValidationError as error:
            raise JobContentError(self._refusal(error.errors()[0])) from None

    @classmethod
    def _refusal(cls, first: Any) -> str:
        """What is wrong with a value, in a sentence with the field's own words."""
        name = str(first["loc"][0]) if first["loc"] else ""
        quantity = quantities(cls).get(name)
        label = quantity.label if quantity is not None else name or "the whole entry"
        if first["type"] == "string_too_long":
            most = first["ctx"]["max_length"]
            return f"{label}: {len(first['input'])} characters; at most {most} fit. Shorten it."
        if first["type"] == "too_long":
            return f"{label}: at most {first['ctx']['max_length']} of them fit; take one away first."
        return f"{label}: {first['msg'][:1].lower()}{first['msg'][1:]}."


class Hung(Entity):
    """What holds only where a scale hangs: ``hung_on`` is the id of the face it hung on then, "" where nobody said.

    Given when it is first entered (``Job.apply``); ``Job.of_axis`` leaves away what was done on another face, but for
    a kind that ``outlasts`` it.
    """

    outlasts: ClassVar[bool] = False
    hung_on: Annotated[str, Field(max_length=64, exclude_if=lambda face: not face)] = ""

    @property
    def is_of_a_face(self) -> bool:
        """Whether it is for the face alone that the scale hangs on."""
        return True

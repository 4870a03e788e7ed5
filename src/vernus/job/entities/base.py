"""What every entity of a job is made of."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from vernus.job.fields import Quantity

Name = Annotated[str, Field(max_length=200)]
Text = Annotated[str, Field(max_length=20_000)]
Number = Annotated[float, Field(allow_inf_nan=False)]
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


class Value(BaseModel):
    """A part of an entity: frozen, and refusing fields it doesn't know."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


class Entity(Value):
    """Anything with an identity in the job; times are ISO 8601 in UTC."""

    kind: ClassVar[str]

    id: Annotated[str, Field(min_length=1, max_length=64)]
    created: str = ""
    changed: str = ""
    note: Annotated[Text, Quantity("Note", "text")] = ""

    def __hash__(self) -> int:
        # Equal entities have equal ids and times; hashing every field of a long sweep costs more than it saves.
        return hash((type(self), self.id, self.changed))

    def with_(self, **changes: Any) -> Any:
        """A validated copy with some fields changed."""
        return type(self).model_validate({**dict(self), **changes})

"""One thing that is said to be so or to be done: its figures, its words, and what nobody measured behind it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from vernus.core.finding import Directions, Sentence, directed
from vernus.core.units import UnitSystem
from vernus.job.sheet_names import SheetName


@dataclass(frozen=True)
class Statement:
    """What is said of an axis (its name; "" for the whole job) on a sheet; lengths among the figures in mm.

    ``about`` tells statements of one kind and axis apart; the three together stay the same over edits.
    """

    kind: str
    axis: str
    about: str
    sheet: SheetName
    words: Sentence
    figures: Mapping[str, object]
    rests_on: tuple[str, ...] = ()

    @property
    def id(self) -> str:
        """Kind, axis and what it is about."""
        return "/".join(part for part in (self.kind, self.axis, self.about) if part)

    def told_in(self, directions: Directions) -> Statement:
        """The same, its words told in an axis's own words of direction."""
        return replace(self, words=directed(self.words, directions))

    def as_json(self, system: UnitSystem = "mm") -> dict[str, object]:
        """The contract form: what every statement has, then the figures of its kind."""
        return {
            "id": self.id, "axis": self.axis, "sheet": self.sheet, "kind": self.kind, "text": self.words.text(system),
            "rests_on": list(self.rests_on), **self.figures,
        }  # fmt: skip

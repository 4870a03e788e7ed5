"""One thing that is said to be so or to be done: its figures, its words, and what nobody measured behind it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from vernus.core.budget import Verdict
from vernus.core.finding import Directions, Sentence, directed
from vernus.core.units import UnitSystem
from vernus.core.verdict_words import VERDICTS
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


@dataclass(frozen=True)
class Judged:
    """What was found against a limit: value, its U and the limit (mm), and the verdict."""

    value_mm: float
    u_mm: float
    limit_mm: float
    verdict: Verdict


def verdict_statement(axis: str, of: str, sheet: SheetName, words: Sentence, judged: Judged) -> Statement:
    """A verdict: what was found, by ``words``, which name value, ± and limit, with the word of the verdict behind."""
    figures = {
        "of": of, "value_mm": judged.value_mm, "u_mm": judged.u_mm, "limit_mm": judged.limit_mm,
        "verdict": judged.verdict,
    }  # fmt: skip
    told = Sentence("{found}: {word}.", {"found": words, "word": VERDICTS[judged.verdict]})
    return Statement("verdict", axis, of.replace(" ", "-"), sheet, told, figures)

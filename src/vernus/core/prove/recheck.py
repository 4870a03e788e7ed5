"""Over time: whether a calibration has changed, and when it should be checked again.

Two results differ for certain when |change| > U with U = 2·√(u₁² + u₂²) (GUM 5.1). Checks fall due a month after the
first one and half a year after later ones, and at once after a crash, after cleaning inside, or in another season
(temperature more than 8 °C away): common practice, no source. Dates are counted in days; this module has no clock.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.budget import BudgetLine, combine
from vernus.core.finding import Finding, Sentence, Temperature, finding, ppm_size
from vernus.core.uncertainty import student_t95

Event = Literal["", "crash", "knock", "off", "cleaned", "moved"]
FIRST_DAYS = 30
LATER_DAYS = 182
SEASON_C = 8.0
EVENT_WORDS: dict[Event, str] = {
    "crash": "the crash", "knock": "the knock", "off": "a part was taken off", "cleaned": "the cleaning",
    "moved": "the machine was moved",
}  # fmt: skip


@dataclass(frozen=True)
class Proof:
    """One calibration: its day (counted from any date), the correction wanted (ppm), its u, and the room (°C).

    ``called`` is what it is called where a later one is compared with it.
    """

    day: float
    ppm: float
    u_ppm: float | None
    room_c: float | None = None
    freedom: float = math.inf
    called: str = "before"

    def expanded(self) -> float | None:
        """± at 95 % as ppm; None where it isn't known."""
        return None if self.u_ppm is None else student_t95(self.freedom) * self.u_ppm

    def expanded_words(self) -> str:
        """± at 95 % as ppm; a dash where it isn't known."""
        expanded = self.expanded()
        return "–" if expanded is None else f"{expanded:.0f} ppm"


@dataclass(frozen=True)
class Change:
    """The change from the proof called ``than`` to a later one (ppm), its expanded uncertainty, whether it is real."""

    ppm: float
    expanded_ppm: float | None
    verdict: Literal["changed", "unchanged", "unsure"]
    than: str = "before"

    def in_words(self) -> Sentence:
        """The change as a sentence."""
        way = "longer" if self.ppm > 0 else "shorter"
        values = {"size": ppm_size(self.ppm), "way": way, "u": f"{self.expanded_ppm or 0:.0f}", "than": self.than}
        if self.verdict == "unsure":
            words = "Reads {size} {way} than {than}; how sure that is can't be said of one move or two stations."
            return Sentence(words, values)
        if self.verdict == "unchanged":
            return Sentence("Reads {size} {way} than {than}, inside the ± {u} ppm of both: not a change.", values)
        return Sentence("Reads {size} {way} than {than}, more than the ± {u} ppm of both: something changed.", values)


def change_between(before: Proof, after: Proof) -> Change:
    """What changed from one proof to the next."""
    change = after.ppm - before.ppm
    if before.u_ppm is None or after.u_ppm is None:
        return Change(change, None, "unsure", before.called)
    both = [BudgetLine("a proof", p.u_ppm or 0.0, "normal", freedom=p.freedom) for p in (before, after)]
    expanded = combine(both).expanded
    return Change(change, expanded, "changed" if abs(change) > expanded else "unchanged", before.called)


@dataclass(frozen=True)
class Due:
    """The day a check falls due and why; ``overdue`` against the day asked about."""

    day: float
    why: Sentence
    overdue: bool


def next_check(
    proofs: Sequence[Proof], events: Sequence[tuple[float, Event]], today: float, room_c: float | None = None
) -> Due | None:
    """When the next check falls due after the last proof; None while there is none.

    ``events`` are (day, what happened); ``room_c`` is the room's temperature now.
    """
    if not proofs:
        return None
    last = proofs[-1]
    later = next(((day, e) for day, e in events if e and day > last.day), None)
    if later is not None:
        day, event = later
        return Due(day, Sentence("it was last checked before {what}", {"what": EVENT_WORDS[event]}), True)
    if room_c is not None and last.room_c is not None and abs(room_c - last.room_c) >= SEASON_C:
        words = Sentence(
            "Another season: {now} now, {then} when it was checked.",
            {"now": Temperature(room_c), "then": Temperature(last.room_c)},
        )
        return Due(today, words, True)
    wait = FIRST_DAYS if len(proofs) == 1 else LATER_DAYS
    words = Sentence("a month after the first check" if wait == FIRST_DAYS else "half a year after the last one")
    return Due(last.day + wait, words, today > last.day + wait)


def review_change(before: Proof, after: Proof) -> list[Finding]:
    """A finding when two proofs differ for certain."""
    change = change_between(before, after)
    if change.verdict != "changed":
        return []
    return [
        finding(
            "calibration-changed",
            "caution",
            "{words}",
            "Before keying anything in, ask what happened between the two: a crash, a loosened mount, another "
            "temperature, another reference.",
            words=change.in_words(),
        )
    ]

"""One try at a lesson: the world of its seed, what was done so far, what is in hand, hints taken, and how it ended."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from vernus.bench.practice.lessons import (
    BACKLASH_MM,
    GAP_MM,
    GIVEN_MM,
    STOP_CLEAR_MM,
    TILT_MM,
    Lesson,
    Outcome,
    lesson_by_id,
    worst_run_on,
)
from vernus.bench.practice.players import PLAYERS
from vernus.bench.practice.world import Arg, Deed, Seen, World
from vernus.core.errors import BadInputError

HINT_MINUTES = 3.0
_MOST_DEEDS = 5000


@dataclass(frozen=True)
class Trace:
    """How a try went: minutes and how far from good after every deed, and how it ended."""

    minutes: tuple[float, ...]
    off: tuple[float, ...]
    total_minutes: float
    passes: int
    outcome: Outcome
    deeds: tuple[tuple[float, str], ...] = ()
    """Every deed with the minute it was done."""


@dataclass
class Attempt:
    """A learner at a lesson."""

    lesson: Lesson
    seed: int
    inch: bool = False
    hints: int = 0
    answer: float | str | None = None
    ended: bool = False
    world: World = field(init=False)
    last: Seen | None = None

    def __post_init__(self) -> None:
        self.world = self.lesson.world(self.seed, inch=self.inch)

    def do(self, name: str, *args: Arg) -> Seen:
        """Do one of the lesson's deeds; raises BadInputError for any other, or once it has ended."""
        if self.ended:
            raise BadInputError("This try has ended; begin again, or take another machine.")
        if name not in self.lesson.grips:
            raise BadInputError(f"“{name}” is no part of this lesson.")
        self.last = self.world.do(name, *args)
        return self.last

    @property
    def minutes(self) -> float:
        """What it took so far, hints included."""
        return self.world.minutes + HINT_MINUTES * self.hints

    def take_hint(self) -> str:
        """The next hint; it costs minutes."""
        hints = self.lesson.hints
        if self.hints >= len(hints):
            return "There are no more hints; end the try and see what the adviser did."
        self.hints += 1
        return hints[self.hints - 1]

    def end(self, answer: float | str | None) -> Trace:
        """End the try and judge it by the truth.

        Raises BadInputError without the answer that is asked for, and without what a verdict needs to rest on.
        """
        outcome = self.lesson.judge(self.world, answer)
        lacks = self.lesson.evidence(self.world)
        if lacks:
            raise BadInputError(lacks)
        self.answer, self.ended = answer, True
        return self._trace(outcome)

    def trace(self) -> Trace:
        """How the ended try went."""
        return self._trace(self.lesson.judge(self.world, self.answer))

    def _trace(self, outcome: Outcome) -> Trace:
        return trace_of(self.lesson, self.seed, self.inch, self.world.deeds, outcome, HINT_MINUTES * self.hints)

    def adviser(self) -> Trace:
        """How the adviser does on the same machine."""
        return _advised(self.lesson, self.seed, self.inch)

    def as_json(self) -> dict[str, Any]:
        """The try as it is kept."""
        return {
            "lesson": self.lesson.id, "seed": self.seed, "inch": self.inch, "hints": self.hints,
            "answer": self.answer, "ended": self.ended, "deeds": [[n, *a] for n, a in self.world.deeds],
        }  # fmt: skip

    @classmethod
    def from_json(cls, data: Any) -> Attempt:
        """The try as it was left: the same deeds on the same machine; raises BadInputError for anything else."""
        try:
            made = cls(lesson_by_id(str(data["lesson"])), int(data["seed"]), bool(data["inch"]), int(data["hints"]))
            deeds = [(str(d[0]), tuple(d[1:])) for d in data["deeds"]]
            ended, answer = bool(data["ended"]), data["answer"]
        except (KeyError, TypeError, ValueError, IndexError):
            raise BadInputError("This is no try at a lesson.") from None
        if len(deeds) > _MOST_DEEDS or not 0 <= made.hints <= len(made.lesson.hints):
            raise BadInputError("This is no try at a lesson.")
        for name, args in deeds:
            made.do(name, *args)
        if ended:
            made.end(answer)
        return made


@lru_cache(maxsize=16)
def _advised(lesson: Lesson, seed: int, inch: bool) -> Trace:
    """How the adviser does on a machine; looked up at every deed of a guided try."""
    world = lesson.world(seed, inch=inch)
    answer = PLAYERS[lesson.id][0](world)
    return trace_of(lesson, seed, inch, world.deeds, lesson.judge(world, answer))


CHANGES = ("tighten", "shift", "slide", "trip")
"""After these deeds something stands otherwise than before: one pass of setting is over."""


def trace_of(
    lesson: Lesson, seed: int, inch: bool, deeds: Sequence[Deed], outcome: Outcome, more_minutes: float = 0.0
) -> Trace:
    """How a try went, told by doing it again."""
    world = lesson.world(seed, inch=inch)
    minutes, off = [0.0], [distance(lesson, world)]
    passes, done = 0, []
    for name, args in deeds:
        done.append((world.minutes, name))
        world.do(name, *args)
        if name in CHANGES:
            passes += 1
            minutes.append(world.minutes)
            off.append(distance(lesson, world))
    minutes.append(world.minutes)
    off.append(off[-1])
    return Trace(tuple(minutes), tuple(off), world.minutes + more_minutes, passes, outcome, tuple(done))


_WHY = {
    "press": "a thumb tells which way the reading grows before anything is turned",
    "onto": "a second sweep on the table itself tells what is the body's",
    "lock": "the feed is locked off before a hand goes to the gears",
    "thermometer": "without a thermometer nobody can say what is temperature",
    "wait": "a block comes to the casting's temperature in an hour",
    "crank": "more places show what two can't", "read": "read before anything is changed",
    "rule": "once more shows how it scatters", "move": "several moves, and their mean",
    "feeler": "a feeler tells before anything is moved", "gear": "the tightest place of the turn comes first",
    "rock": "felt round the turn", "run": "measured before it is set", "display": "read from both sides",
    "push": "pushed both ways", "loosen": "one screw loose, the other holds", "listen": "heard over a whole turn",
}  # fmt: skip


def went_another_way(mine: Trace, adviser: Trace) -> str:
    """Where the adviser first did another thing than the learner, and why; "" where it never did."""
    kinds = [[n for n, _ in itertools.groupby(name for _, name in t.deeds)] for t in (mine, adviser)]
    for n, wanted in enumerate(kinds[1]):
        here = kinds[0][n] if n < len(kinds[0]) else ""
        if here != wanted:
            why = _WHY.get(wanted, "")
            did = f"you: {DEED_WORDS.get(here, here)}" if here else "you had ended"
            return f"Here it went another way, step {n + 1}: the adviser {DEED_WORDS.get(wanted, wanted)} ({did})" + (
                f"; {why}." if why else "."
            )
    return ""


DEED_WORDS = {
    "crank": "cranked", "rule": "read the rule", "loosen": "loosened", "tighten": "tightened", "turn": "eased an end",
    "read": "read the dial", "press": "pressed with a thumb", "reset": "set the dial to nought",
    "feeler": "tried a feeler", "shift": "moved reader or body", "push": "pushed the collar",
    "display": "read the display", "move": "moved by a block", "thermometer": "held the thermometer",
    "hand": "held the block", "wait": "waited", "slide": "slid the unit", "rock": "rocked the gear",
    "gear": "turned the gear", "listen": "listened", "trip": "set a trip", "run": "ran into a trip",
    "zero": "set the display to nought", "onto": "set the indicator elsewhere", "paper": "rolled a strip of paper",
    "lock": "used the lock",
}  # fmt: skip
"""What each deed is called when a try is told."""


def distance(lesson: Lesson, world: World) -> float:
    """How far the machine's state is from good (mm), 0 within; lessons that ask for an answer have none."""
    h = world.hidden
    if lesson.asked:
        return 0.0
    if lesson.scene == "body":
        return max(0.0, abs(world.tilt) - TILT_MM)
    if lesson.scene == "gap":
        return max(max(GAP_MM[0] - g, g - GAP_MM[1], 0.0) for g in world.gap)
    if lesson.scene == "mesh":
        least, most = world.swing
        return max(BACKLASH_MM[0] - least, most - BACKLASH_MM[1], 0.0)
    worst = worst_run_on(world)
    left = (world.trips[0] - worst, h.travel - world.trips[1] - worst)
    return max(max(STOP_CLEAR_MM - gap, gap - STOP_CLEAR_MM - GIVEN_MM, 0.0) for gap in left)

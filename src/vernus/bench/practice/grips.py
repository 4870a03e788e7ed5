"""What a learner can take hold of: each thing is turned one way or the other, worked, or given a figure.

What is in hand (which eye, which feeler, which block, which speed) is the learner's, not the machine's.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, field

from vernus.bench.practice.attempt import Attempt
from vernus.bench.practice.lessons import BACKLASH_MM, GAP_MM, GIVEN_MM, STOP_CLEAR_MM, TILT_MM, Lesson, blocks
from vernus.bench.practice.world import Arg, Seen
from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Sentence, Size

EYES = ("left", "square", "right")
WARM = ("room", "casting", "block")
SPEEDS = ("slow", "rapid")


@dataclass
class InHand:
    """What the learner holds: places in the lists above, a feeler (mm)."""

    eye: int = 0
    block: int = 0
    warm: int = 0
    speed: int = 0
    blade: float = 0.5


@dataclass(frozen=True)
class Grip:
    """A thing to take hold of. ``turned`` gets steps (negative: the other way) and whether finely.

    Empty words: that can't be done with it. ``shows`` tells what it is set to, None where there is nothing to tell.
    """

    id: str
    label: str
    turn_words: str = ""
    act_words: str = ""
    type_words: str = ""
    turned: Callable[[int, bool], Seen | None] = lambda _steps, _fine: None
    acted: Callable[[], Seen | None] = lambda: None
    typed: Callable[[float], Seen | None] = lambda _mm: None
    shows: Callable[[], Sentence | None] = field(default=lambda: None)


def grips_of(attempt: Attempt, hand: InHand) -> list[Grip]:
    """The things of a lesson, in the order Tab goes through them."""
    made = _Maker(attempt, hand)
    found: list[Grip] = []
    for deed in attempt.lesson.grips:
        found += made.of(deed)
    return found


class _Maker:
    """Makes the grips of one try."""

    def __init__(self, attempt: Attempt, hand: InHand) -> None:
        self.attempt, self.hand, self.world = attempt, hand, attempt.world

    def _do(self, name: str, *args: Arg) -> Seen:
        return self.attempt.do(name, *args)

    def of(self, deed: str) -> list[Grip]:
        """The grips that a deed gives."""
        ends = ("left", "right")
        if deed == "crank":
            return [self._wheel()]
        if deed == "rule":
            return [self._rule()]
        if deed == "turn":
            return [self._screw(end) for end in ends]
        if deed == "feeler":
            return [self._feeler(end) for end in ends]
        if deed == "shift":
            return [self._reader(), *(self._body_end(end) for end in ends)]
        if deed == "trip":
            return [self._trip(end) for end in ends]
        if deed == "run":
            return [self._motor(end) for end in ends]
        simple = {
            "read": ("dial", "the indicator", "read it"), "press": ("thumb", "a thumb on the body", "press it"),
            "reset": ("bezel", "the dial's ring", "set it to nought"), "display": ("display", "the display", "read it"),
            "zero": ("nought", "the display's nought", "set it"), "hand": ("palm", "the block in your hand", "hold it"),
            "rock": ("tooth", "the gear against the indicator", "rock it"), "listen": ("ear", "your ear", "listen"),
            "paper": ("paper", "a strip of paper", "roll it through"),
        }  # fmt: skip
        if deed in simple:
            grip, label, words = simple[deed]
            return [Grip(grip, label, act_words=words, acted=lambda: self._do(deed))]
        return self._more(deed)

    def _more(self, deed: str) -> list[Grip]:
        if deed == "lock":
            return [Grip("padlock", "the padlock of the feed", act_words="lock it off, or take the lock away",
                         acted=lambda: self._do("lock"),
                         shows=lambda: Sentence("locked off" if self.world.locked else "live"))]  # fmt: skip
        if deed == "onto":
            return [Grip("stand", "the indicator's stand", act_words="set it onto the table, or onto the body again",
                         acted=lambda: self._do("onto", "table" if self.world.onto == "body" else "body"),
                         shows=lambda: Sentence(f"on the {self.world.onto}"))]  # fmt: skip
        if deed == "push":
            return [Grip("collar", "the quill's collar", "push it up (right) or down (left)",
                         turned=lambda n, _f: self._do("push", "up" if n > 0 else "down"))]  # fmt: skip
        if deed == "move":
            return [self._picked("blocks", "the gauge blocks", "block", self._blocks(), "move by it", self._block)]
        if deed == "thermometer":
            return [self._picked("thermometer", "the thermometer", "warm", WARM, "hold it there",
                                 lambda: self._do("thermometer", WARM[self.hand.warm]))]  # fmt: skip
        if deed == "wait":
            return [Grip("clock", "the clock", act_words="wait ten minutes", type_words="wait so many minutes",
                         acted=lambda: self._do("wait", 10.0), typed=lambda n: self._do("wait", n))]  # fmt: skip
        if deed == "slide":
            return [Grip("unit", "the unit on its slots", "slide it (right: away) by 0.05, with Shift 0.01",
                         type_words="slide by so much",
                         turned=lambda n, f: self._do("slide", n * (0.01 if f else 0.05)),
                         typed=lambda mm: self._do("slide", mm))]  # fmt: skip
        if deed == "gear":
            return [Grip("gear", "the gear", "turn it by an eighth",
                         turned=lambda n, _f: self._do("gear", ((self.world.gear_turn * 8 + n) % 8) / 8),
                         shows=lambda: Sentence("{n:g} of a turn", {"n": self.world.gear_turn}))]  # fmt: skip
        return []

    def _picked(
        self, grip: str, label: str, name: str, choices: tuple[Arg, ...], words: str, act: Callable[[], Seen]
    ) -> Grip:
        def turned(steps: int, _fine: bool) -> None:
            setattr(self.hand, name, (getattr(self.hand, name) + steps) % len(choices))

        def shows() -> Sentence:
            held = choices[getattr(self.hand, name)]
            return Sentence("{held}", {"held": Size(held) if isinstance(held, float) else held})

        return Grip(grip, label, "take another", words, turned=turned, acted=act, shows=shows)

    def _block(self) -> Seen:
        return self._do("move", self._blocks()[self.hand.block])

    def _blocks(self) -> tuple[float, ...]:
        """The blocks that the table can move by."""
        return tuple(b for b in blocks(inch=self.attempt.inch) if b <= self.world.hidden.bar)

    def _rule(self) -> Grip:
        def turned(steps: int, _fine: bool) -> None:
            self.hand.eye = min(2, max(0, self.hand.eye + steps))

        words = {"left": "seen from the left", "square": "seen square on", "right": "seen from the right"}
        return Grip(
            "rule", "the rule, and your eye", "move your eye", "read it", turned=turned,
            acted=lambda: self._do("rule", EYES[self.hand.eye]),
            shows=lambda: Sentence(words[EYES[self.hand.eye]]),
        )  # fmt: skip

    def _wheel(self) -> Grip:
        return Grip(
            "wheel", "the handwheel", "crank by 10, with Shift by 1", type_words="crank to",
            turned=lambda n, f: self._do("crank", self.world.wheel + n * (1.0 if f else 10.0)),
            typed=lambda mm: self._do("crank", mm),
            shows=lambda: Sentence("dial at {at}", {"at": Mm(self.world.wheel)}),
        )  # fmt: skip

    def _screw(self, end: str) -> Grip:
        def acted() -> Seen:
            return self._do("loosen" if self.world.tight[self.world.end(end)] else "tighten", end)

        return Grip(
            f"screw-{end}", f"the {end} screw", "ease that end (right: toward the indicator; 0.05, with Shift 0.01)",
            "loosen or tighten it", "ease by so much, toward it",
            turned=lambda n, f: self._do("turn", end, n * (0.01 if f else 0.05)),
            acted=acted, typed=lambda mm: self._do("turn", end, mm),
            shows=lambda: Sentence("tight" if self.world.tight[self.world.end(end)] else "loose"),
        )  # fmt: skip

    def _feeler(self, end: str) -> Grip:
        def turned(steps: int, fine: bool) -> None:
            self.hand.blade = min(3.0, max(0.05, round(self.hand.blade + steps * (0.01 if fine else 0.05), 3)))

        def typed(mm: float) -> Seen:
            if not 0.02 <= mm <= 5:
                raise BadInputError("Feelers go from 0.02 to 5 mm.")
            self.hand.blade = mm
            return self._do("feeler", end, mm)

        return Grip(
            f"feeler-{end}", f"a feeler, {end} end", "take a thicker (right) or thinner one, by 0.05, with Shift 0.01",
            "try it", "try one of",
            turned=turned, acted=lambda: self._do("feeler", end, self.hand.blade), typed=typed,
            shows=lambda: Sentence("{blade}", {"blade": Fine(self.hand.blade)}),
        )  # fmt: skip

    def _reader(self) -> Grip:
        return Grip(
            "reader", "the reader's screws", "move it out (right) or in, by 0.1, with Shift 0.02",
            type_words="move by so much",
            turned=lambda n, f: self._do("shift", "reader", n * (0.02 if f else 0.1)),
            typed=lambda mm: self._do("shift", "reader", mm),
        )  # fmt: skip

    def _body_end(self, end: str) -> Grip:
        return Grip(
            f"end-{end}", f"the body's {end} end",
            "ease it away from the reader (right) or toward it, by 0.1, with Shift 0.02",
            type_words="ease away by so much", turned=lambda n, f: self._do("shift", end, n * (0.02 if f else 0.1)),
            typed=lambda mm: self._do("shift", end, mm),
        )  # fmt: skip

    def _trip(self, end: str) -> Grip:
        which = self.world.end(end)

        def to(mm: float) -> Seen:
            return self._do("trip", end, min(max(mm, 0.0), self.world.hidden.travel))

        return Grip(
            f"trip-{end}", f"the {end} trip", "move it by 5, with Shift 0.5", type_words="set it to",
            turned=lambda n, f: to(self.world.trips[which] + n * (0.5 if f else 5.0)), typed=to,
            shows=lambda: Sentence("at {at}", {"at": Mm(self.world.trips[which])}),
        )  # fmt: skip

    def _motor(self, end: str) -> Grip:
        def turned(steps: int, _fine: bool) -> None:
            self.hand.speed = (self.hand.speed + steps) % len(SPEEDS)

        return Grip(
            f"run-{end}", f"the feed, to the {end}", "slow or rapid", "run into the trip", turned=turned,
            acted=lambda: self._do("run", end, SPEEDS[self.hand.speed]),
            shows=lambda: Sentence(SPEEDS[self.hand.speed]),
        )  # fmt: skip


_THING = {
    "crank": "wheel", "rule": "rule", "loosen": "screw-right", "turn": "screw-right", "tighten": "screw-right",
    "read": "dial", "press": "thumb", "reset": "bezel", "feeler": "feeler-left", "shift": "reader", "push": "collar",
    "display": "display", "zero": "nought", "move": "blocks", "thermometer": "thermometer", "wait": "clock",
    "hand": "palm", "slide": "unit", "rock": "tooth", "gear": "gear", "listen": "ear", "trip": "trip-left",
    "run": "run-left", "onto": "stand", "paper": "paper", "lock": "padlock",
}  # fmt: skip


def next_thing(attempt: Attempt) -> str:
    """The thing that the adviser would take next, as far as the learner went his way; "" once he would end."""
    wanted = [n for n, _ in itertools.groupby(name for _, name in attempt.adviser().deeds)]
    mine = [n for n, _ in itertools.groupby(name for name, _ in attempt.world.deeds)]
    at = 0
    for name in mine:
        at += at < len(wanted) and wanted[at] == name
    return _THING[wanted[at]] if at < len(wanted) else ""


def known_facts(lesson: Lesson, attempt: Attempt) -> list[Sentence]:
    """What anybody can see or was told of the machine."""
    h = attempt.world.hidden
    facts: list[Sentence] = []
    if lesson.id != "travel":
        facts.append(Sentence("It travels {travel}.", {"travel": Mm(h.travel)}))
    if lesson.scene == "body" or lesson.id == "free":
        words = "Screws at {a} and {b}; the lever lies at {n:g}°, a division is {d}."
        facts.append(
            Sentence(words, {"a": Mm(h.screws[0]), "b": Mm(h.screws[1]), "n": h.lever_deg, "d": Fine(h.division)})
        )
    if lesson.scene == "body" and not lesson.asked:
        facts.append(Sentence("Tolerance {t} from screw to screw.", {"t": Fine(TILT_MM)}))
    if lesson.scene == "display":
        facts.append(
            Sentence("The display counts in {c}; the screw's lead is {l}.", {"c": Fine(h.count), "l": Mm(h.lead)})
        )
    if lesson.id == "gap":
        facts.append(Sentence("The band is {a} to {b}.", {"a": Fine(GAP_MM[0]), "b": Fine(GAP_MM[1])}))
    if lesson.id == "mesh":
        facts.append(
            Sentence(
                "Backlash of {a} to {b} over the whole turn; 20° teeth.",
                {"a": Fine(BACKLASH_MM[0]), "b": Fine(BACKLASH_MM[1])},
            )
        )
    if lesson.id == "trips":
        words = "Leave {a} before the stops at rapid, and give away no more than {b} beyond that."
        facts.append(Sentence(words, {"a": Mm(STOP_CLEAR_MM), "b": Mm(GIVEN_MM)}))
    return facts

"""The hidden world of the practice: one machine from one seed, what can be done to it, and what each thing costs.

Every reading comes from the same state; nothing here knows what Vernus computes. What is done goes through ``do`` under
its name, with its minutes, and is kept in order: the same seed and the same deeds make the same world again.

State in mm, °C and minutes. Wheel: the table follows the nut with play. Reader: follows the table with lost motion.
Its gap: one reader over a body, so moving the reader moves the gap at both ends alike; an end is eased by itself.
Body: the heights of its two ends, which move only while their screw is loose, and creep when it is tightened.
Indicator: sense, lever angle, friction of a fifth of a division, rounding to half a division, scatter of a quarter.
Room: each body follows it as a first-order lag of its own (a block 10 minutes, a casting 4 hours).
All sizes: common practice, no source.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Sentence, Size, Temperature

Arg = float | str
Deed = tuple[str, tuple[Arg, ...]]

RULE_SIGMA = 0.2
PARALLAX = {"square": 0.0, "left": 0.7, "right": -0.7}
BLOCK_TAU, CASTING_TAU = 10.0, 240.0
ALPHA_STEEL, ALPHA_SCALE = 11.5e-6, 8.5e-6
FEEL_SIGMA = 0.008
MINUTES = {
    "crank": 1.0, "rule": 1.0, "loosen": 0.5, "tighten": 0.5, "turn": 0.3, "read": 0.1, "press": 0.2, "reset": 2.0,
    "feeler": 1.0, "shift": 2.0, "push": 0.3, "display": 0.1, "move": 1.0, "thermometer": 0.5, "hand": 1.0,
    "slide": 1.0, "rock": 1.0, "gear": 0.3, "listen": 0.5, "trip": 1.0, "run": 1.0, "zero": 0.2, "onto": 2.0,
    "paper": 0.5, "lock": 0.2,
}  # fmt: skip
BENT_MINUTES = 60.0
"""What it costs to straighten what a crash into a stop bends, where that can be done at all."""
RANGE_MM = 0.8
"""How far the needle goes either way from the middle of its range: a lever indicator; common practice, no source."""


@dataclass(frozen=True)
class Hidden:
    """What is true of a machine and nobody is told before the end; lengths in mm."""

    travel: float = 400.0
    rule_division: float = 0.5
    backlash: float = 0.12
    screws: tuple[float, float] = (10.0, 390.0)
    tilt: float = 0.0
    bow: float = 0.0
    sag: float = 0.0
    creep: float = 0.0
    sense: int = 1
    lever_deg: float = 0.0
    division: float = 0.01
    count: float = 0.005
    scale_ppm: float = 0.0
    lost_motion: float = 0.0
    cyclic: float = 0.0
    lead: float = 5.0
    rock: float = 0.0
    gap: tuple[float, float] = (0.5, 0.5)
    gap_play: float = 0.02
    room_c: float = 20.0
    casting_c: float = 20.0
    block_c: float = 20.0
    bar: float = 300.0
    shifted_ppm: float = 0.0
    backlash_gear: float = 0.3
    runout: float = 0.0
    run_on: float = 3.0
    run_on_scatter: float = 0.1


@dataclass(frozen=True)
class Seen:
    """What a deed showed: in words, and as a figure where there is one."""

    words: Sentence
    value: float | None = None


HEARD_PLACES = 96
_BINDS_MM, _GROWLS_MM, _RATTLES_MM = 0.01, 0.05, 0.25
_HUM = 0.15
_PAPER_MM = (0.03, 0.12)
"""The backlash between which a strip of paper of 0.05 mm is creased and neither cut nor loose; invented."""
_STEPS, _ROOM_FOR_BLOCK = 12, 5.0


def _loudness(backlash_mm: float) -> float:
    """How loud gears run at a backlash, 0 to 1: below 0 they growl, above they rattle; a hum is 0.15.

    Where they begin to growl and to rattle is common practice, no source; how loud is invented.
    """
    if backlash_mm <= _GROWLS_MM:
        return -max(_HUM, 1 - max(0.0, backlash_mm - _BINDS_MM) / (_GROWLS_MM - _BINDS_MM))
    return _HUM if backlash_mm <= _RATTLES_MM else min(1.0, 0.4 + 3 * (backlash_mm - _RATTLES_MM))


@dataclass
class World:
    """The machine as it stands now."""

    hidden: Hidden
    seed: int
    minutes: float = 0.0
    deeds: list[Deed] = field(default_factory=list)

    def __post_init__(self) -> None:
        h = self.hidden
        self._chance = random.Random(self.seed)
        self.wheel = self.table = self.read_at = h.travel / 2
        self.heights = [-h.tilt / 2, h.tilt / 2]
        self.tight = [True, True]
        self.dial_zero = 0.0
        self._needle = 0.0
        self.reader = sum(h.gap) / 2
        self.ends = [self.reader - gap for gap in h.gap]
        self.pushed = 0
        self.casting_c, self.block_c = h.casting_c, h.block_c
        self.display_zero = 0.0
        self.gear_turn, self.slid = 0.0, 0.0
        self.rolled: tuple[float, ...] = ()
        """The backlash round the turn as a strip of paper went through it; empty before one did."""
        self.heard: tuple[float, ...] = ()
        """How loud it ran round the gear's turn, below 0 a growl; empty once the unit was moved."""
        self.trips = [0.0, h.travel]
        self.met = False
        """Whether metal met at speed, which no machine forgives."""
        self.locked, self.hurt = False, False
        """Whether the feed is locked off, and whether a hand was between the gears while it wasn't."""
        self.onto = "body"
        """What the indicator touches: the body, or the table's own surface."""
        self.needle_path: tuple[float, ...] = ()
        """Where the needle stood on the way of the last deed, friction with it: what an eye sees move."""
        self._deeds: dict[str, Callable[..., Seen]] = {
            "crank": self._crank, "rule": self._rule, "loosen": self._loosen, "tighten": self._tighten,
            "turn": self._turn, "read": self._read, "press": self._press, "reset": self._reset,
            "feeler": self._feeler, "shift": self._shift, "push": self._push, "display": self._display,
            "move": self._move, "thermometer": self._thermometer, "hand": self._hand, "wait": self._wait,
            "slide": self._slide, "rock": self._rock, "gear": self._gear, "listen": self._listen,
            "trip": self._trip, "run": self._run, "zero": self._zero, "onto": self._onto, "paper": self._paper,
            "lock": self._lock,
        }  # fmt: skip

    @classmethod
    def again(cls, hidden: Hidden, seed: int, deeds: Sequence[Deed]) -> World:
        """The world after the same deeds; raises BadInputError for one that can't be done."""
        world = cls(hidden, seed)
        for name, args in deeds:
            world.do(name, *args)
        return world

    def do(self, name: str, *args: Arg) -> Seen:
        """Do something to the machine and see what it shows; raises BadInputError for what can't be done."""
        deed = self._deeds.get(name)
        if deed is None:
            raise BadInputError(f"Nobody can do “{name[:30]}” here.")
        before = self.minutes
        try:
            seen = deed(*args)
        except TypeError:
            raise BadInputError(f"“{name}” can't be done with {args!r}.") from None
        if name not in ("wait", "crank"):
            self.minutes += MINUTES[name]
        self.deeds.append((name, args))
        if name in ("turn", "tighten", "loosen", "press", "onto"):
            self._follow()
        self._warm(self.minutes - before)
        return seen

    # The room

    def _warm(self, minutes: float) -> None:
        room = self.hidden.room_c
        self.casting_c = room + (self.casting_c - room) * math.exp(-minutes / CASTING_TAU)
        self.block_c = room + (self.block_c - room) * math.exp(-minutes / BLOCK_TAU)

    def _wait(self, minutes: Arg) -> Seen:
        wait = _number(minutes, 0, 24 * 60)
        self.minutes += wait
        return _seen("{n:g} minutes have passed.", n=wait)

    def _hand(self) -> Seen:
        self.block_c += (34.0 - self.block_c) * 0.35
        return _seen("The block has been in the hand for a minute.")

    def _thermometer(self, what: Arg) -> Seen:
        true = {"room": self.hidden.room_c, "casting": self.casting_c, "block": self.block_c}
        if what not in true:
            raise BadInputError("A thermometer is held to the room, the casting or the block.")
        shown = round((true[str(what)] + self._chance.gauss(0, 0.1)) * 2) / 2
        return _seen("The {what} is at {t}.", shown, what=what, t=Temperature(shown))

    # Wheel and table

    def _crank(self, to: Arg) -> Seen:
        """Turn the wheel until its dial shows a place; the table follows with the nut's play, and ends at its stops."""
        h, was = self.hidden, self.wheel
        wanted = _number(to, -50, h.travel + 50)
        self.minutes += MINUTES["crank"] * max(0.1, abs(wanted - was) / h.travel)
        table = min(max(self.table, wanted - h.backlash), wanted)
        stopped, began = min(max(table, 0.0), h.travel), self.table
        path = []
        for n in range(1, _STEPS + 1):
            self.table = began + (stopped - began) * n / _STEPS
            path.append(self._needle_now())
        self.needle_path = tuple(path)
        self._drag(stopped)
        self.wheel = min(max(wanted, self.table), self.table + h.backlash)
        if stopped != table:
            return _seen(
                "The wheel turns no farther: metal meets metal. Its dial stands at {at}.", self.wheel, at=Mm(self.wheel)
            )
        return _seen("The wheel's dial stands at {at}.", self.wheel, at=Mm(self.wheel))

    def _drag(self, to: float) -> None:
        """Bring the table somewhere; what the reader reads follows once half the lost motion is taken up."""
        slack = self.hidden.lost_motion / 2
        self.table = to
        self.read_at = min(max(self.read_at, to - slack), to + slack)

    def _rule(self, eye: Arg = "square") -> Seen:
        """The distance between the two scribed marks by a rule, seen from straight in front or from the side."""
        if eye not in PARALLAX:
            raise BadInputError("The eye looks square on, from the left or from the right.")
        true = self.hidden.travel + PARALLAX[str(eye)] + self._chance.gauss(0, RULE_SIGMA)
        shown = round(true / self.hidden.rule_division) * self.hidden.rule_division
        return _seen("The rule says {far} between the marks.", shown, far=Mm(shown))

    # Body, screws and indicator

    def end(self, which: Arg) -> int:
        """0 for the left end, 1 for the right; raises BadInputError for neither."""
        if which not in ("left", "right"):
            raise BadInputError("There is a left and a right end.")
        return int(which == "right")

    def _loosen(self, which: Arg) -> Seen:
        end = self.end(which)
        self.tight[end] = False
        if not any(self.tight):
            self.heights = [z + self._chance.gauss(0, 0.15) for z in self.heights]
            return _seen("Both screws are loose: the body has dropped.")
        return _seen("The {end} screw is loose.", end=which)

    def _tighten(self, which: Arg) -> Seen:
        end = self.end(which)
        if not self.tight[end]:
            self.tight[end] = True
            self.heights[end] += self._chance.gauss(0, 0.01) + self.hidden.creep
        return _seen("The {end} screw is tight.", end=which)

    def _turn(self, which: Arg, by: Arg) -> Seen:
        """Ease an end toward the indicator (+) or away from it; a tight screw holds it where it is."""
        end, mm = self.end(which), _number(by, -5, 5)
        if self.tight[end]:
            return _seen("It is tight; nothing moves.")
        self.heights[end] += mm
        return _seen("The {end} end was eased.", end=which)

    def height(self, station: float) -> float:
        """The true height of the body over a station (mm toward the indicator), the sag of the table left out."""
        left, right = self.hidden.screws
        share = (station - left) / (right - left)
        line = self.heights[0] + (self.heights[1] - self.heights[0]) * share
        return line + self.hidden.bow * 4 * share * (1 - share)

    @property
    def tilt(self) -> float:
        """The true rise from screw to screw."""
        return self.heights[1] - self.heights[0]

    def _true_needle(self) -> float:
        h = self.hidden
        sag = h.sag * (2 * self.table / h.travel - 1) ** 2
        under = self.height(self.table) if self.onto == "body" else 0.0
        return h.sense * (under - sag) / math.cos(math.radians(h.lever_deg)) - self.dial_zero

    def _needle_now(self) -> float:
        """Where the needle stands: it follows with a friction of a fifth of a division, and only within its range."""
        true, lag = self._true_needle(), 0.2 * self.hidden.division
        most = RANGE_MM
        self._needle = min(max(self._needle, true - lag), true + lag)
        self._needle = min(max(self._needle, -most), most)
        return self._needle

    @property
    def needle(self) -> float:
        """What the needle shows, without the scatter of an eye."""
        return self._needle_now()

    @property
    def at_its_end(self) -> bool:
        """Whether the indicator has come to the end of its range, where it says nothing any more."""
        return abs(self._true_needle()) > RANGE_MM

    def _follow(self) -> None:
        """The needle goes to where it stands now, and an eye sees it go."""
        was = self._needle
        now = self._needle_now()
        self.needle_path = tuple(was + (now - was) * n / _STEPS for n in range(1, _STEPS + 1))

    def _read(self) -> Seen:
        h = self.hidden
        shown = self._needle_now() + self._chance.gauss(0, h.division / 4)
        shown = round(shown / (h.division / 2)) * (h.division / 2)
        if self.at_its_end:
            return _seen("The needle is at the end of its range: set the indicator anew.", shown)
        return _seen("The needle stands at {at}.", shown, at=Fine(shown, sign=True))

    def _onto(self, what: Arg) -> Seen:
        """Set the indicator onto the body or onto the table's own surface, with a little preload, and to nought."""
        if what not in ("body", "table"):
            raise BadInputError("The indicator is set onto the body or onto the table.")
        self.onto = str(what)
        self.dial_zero += self._true_needle()
        return _seen("The indicator touches the {what}, and its dial is set to nought.", what=what)

    def _press(self) -> Seen:
        """Ease the body toward the indicator with a thumb and watch the needle."""
        way = "grows" if self.hidden.sense > 0 else "falls"
        return _seen("Pressed toward the indicator, the figure {way}.", float(self.hidden.sense), way=way)

    def _reset(self) -> Seen:
        self.dial_zero += self._true_needle()
        self._needle = 0.0
        return _seen("The dial is set to nought here.")

    # The reader's gap

    @property
    def gap(self) -> tuple[float, float]:
        """The true gap under the reader over the body's left and right end."""
        return self.reader - self.ends[0], self.reader - self.ends[1]

    def _feeler(self, end: Arg, mm: Arg) -> Seen:
        """Try a feeler under the reader with the table where it stands over one end of the body."""
        blade = _number(mm, 0.02, 5)
        goes = blade <= self.gap[self.end(end)] + self._chance.gauss(0, FEEL_SIGMA)
        return _seen(
            "{blade} {does} at the {end} end.",
            float(goes),
            blade=Fine(blade),
            does="goes in" if goes else "does not go in",
            end=end,
        )

    def _shift(self, what: Arg, mm: Arg) -> Seen:
        """Move the reader out (+), or ease one end of the body away from it (+); what is tightened moves a little."""
        moved = _number(mm, -3, 3) + self._chance.gauss(0, self.hidden.gap_play / 2)
        if what == "reader":
            self.reader += moved
            return _seen("The reader was moved; its gap changed by as much at both ends.")
        self.ends[self.end(what)] -= moved
        return _seen("The body was eased at its {end} end.", end=what)

    # Display

    def _shown(self) -> float:
        h = self.hidden
        wave = h.cyclic * math.sin(2 * math.pi * self.read_at / h.lead)
        rocked = h.rock / 2 * self.pushed
        grown = 1 + (h.scale_ppm + h.shifted_ppm) * 1e-6 - ALPHA_SCALE * (self.casting_c - 20.0)
        raw = self.read_at * grown + wave + rocked - self.display_zero
        return raw + self._chance.gauss(0, h.count / 5)

    def _display(self) -> Seen:
        count = self.hidden.count
        shown = round(self._shown() / count) * count
        return _seen("The display shows {at}.", shown, at=Size(shown))

    def _zero(self) -> Seen:
        self.display_zero += self._shown()
        return _seen("The display was set to nought.")

    def _push(self, way: Arg) -> Seen:
        """Push the quill's collar up or down and let go."""
        if way not in ("up", "down"):
            raise BadInputError("The collar is pushed up or down.")
        self.pushed = 1 if way == "up" else -1
        return _seen("The collar was pushed {way} and let go.", way=way)

    def _move(self, length: Arg) -> Seen:
        """Move by a block of known length, against it at both ends, and read what the display moved."""
        h = self.hidden
        long = _number(length, 1, h.bar)
        if long > h.travel - _ROOM_FOR_BLOCK:
            raise BadInputError("That block is longer than the table travels; take a shorter one.")
        true = long * (1 + ALPHA_STEEL * (self.block_c - 20.0))
        grown = 1 + (h.scale_ppm + h.shifted_ppm) * 1e-6 - ALPHA_SCALE * (self.casting_c - 20.0)
        ends = self._chance.gauss(0, h.count / 4) + self._chance.uniform(-0.5, 0.5) * h.count
        shown = round((true * grown + ends) / h.count) * h.count
        return _seen("Over {long} the display moved {shown}.", shown, long=Size(long), shown=Size(shown))

    # Gears and trips

    def backlash_at(self, turn: float) -> float:
        """The true backlash at a place of the gear's turn (0 to 1)."""
        h = self.hidden
        return h.backlash_gear + 2 * math.tan(math.radians(20)) * self.slid + h.runout * math.sin(2 * math.pi * turn)

    def _slide(self, mm: Arg) -> Seen:
        """Slide the unit away from the drive gear (+) or toward it, until the teeth touch."""
        self._hands_in()
        wanted = self.slid + _number(mm, -2, 2)
        tight = -(self.hidden.backlash_gear - abs(self.hidden.runout)) / (2 * math.tan(math.radians(20)))
        self.slid = max(wanted, tight - 0.05)
        self.heard, self.rolled = (), ()
        return _seen("The unit was moved; its screws are tight.")

    def _gear(self, turn: Arg) -> Seen:
        self.gear_turn = _number(turn, 0, 1)
        return _seen("The gear stands at {n:g} of a turn.", self.gear_turn, n=self.gear_turn)

    def _rock(self) -> Seen:
        """Rock the gear against the indicator: the backlash at this place of its turn."""
        self._hands_in()
        true = max(0.0, self.backlash_at(self.gear_turn))
        shown = round((true + self._chance.gauss(0, 0.003)) / 0.005) * 0.005
        return _seen("It rocks by {by}." if true > 0 else "It binds here.", shown, by=Fine(shown))

    def _paper(self) -> Seen:
        """Roll a strip of paper of 0.05 mm once through the teeth: crushed where it is tight, loose where it isn't."""
        self._hands_in()
        least, most = self._swing()
        self.rolled = tuple(self.backlash_at(n / HEARD_PLACES) for n in range(HEARD_PLACES))
        if least < _PAPER_MM[0]:
            return _seen("The strip is cut through where the turn is tightest.", least)
        words = "is creased all along" if most <= _PAPER_MM[1] else "is creased in part and slips out in part"
        return _seen("The strip " + (words if least <= _PAPER_MM[1] else "slips through without a mark") + ".", most)

    def _lock(self) -> Seen:
        """Lock the feed off, or take the lock away."""
        self.locked = not self.locked
        return _seen("The feed is locked off; the key is with you." if self.locked else "The lock is off.")

    def _hands_in(self) -> None:
        """Hands go between the gears; with the feed not locked off somebody leans on its lever."""
        if not self.locked:
            self.hurt = True

    def _listen(self) -> Seen:
        """Run it slowly and listen over a whole turn."""
        if self.locked:
            raise BadInputError("It is locked off and doesn't run; take your hands out and the lock off first.")
        least, most = self._swing()
        self.heard = tuple(_loudness(self.backlash_at(n / HEARD_PLACES)) for n in range(HEARD_PLACES))
        words = (
            "It growls once in every turn: it binds."
            if least <= _BINDS_MM
            else "It rattles all the way round."
            if least > _RATTLES_MM
            else ("It rattles once in every turn." if most > _RATTLES_MM else "It hums evenly.")
        )
        return _seen(words)

    def _swing(self) -> tuple[float, float]:
        found = [self.backlash_at(n / 48) for n in range(48)]
        return min(found), max(found)

    @property
    def swing(self) -> tuple[float, float]:
        """The true least and largest backlash of a turn."""
        return self._swing()

    def _trip(self, end: Arg, at: Arg) -> Seen:
        which, wanted = self.end(end), _number(at, 0, self.hidden.travel)
        if (wanted >= self.trips[1]) if which == 0 else (wanted <= self.trips[0]):
            raise BadInputError("The left trip stays left of the right one.")
        self.trips[which] = wanted
        return _seen("The {end} trip stands at {at}.", end=end, at=Mm(self.trips[self.end(end)]))

    def _run(self, end: Arg, speed: Arg) -> Seen:
        """Run into a trip and see where it stands still; at the end of the travel metal meets."""
        which, h = self.end(end), self.hidden
        if speed not in ("slow", "rapid"):
            raise BadInputError("It runs slow or rapid.")
        base = h.run_on * (1.0 if speed == "rapid" else 0.15)
        ran = base * (1 + h.run_on_scatter * abs(self._chance.gauss(0, 0.5)))
        stood = self.trips[which] + (ran if which else -ran)
        if not 0 <= stood <= h.travel:
            self.met = True
            self._drag(min(max(stood, 0.0), h.travel))
            self.wheel = self.table
            self.minutes += BENT_MINUTES
            return _seen("It ran into the stop: something is bent, and an hour goes into straightening it.", self.table)
        self._drag(stood)
        self.wheel = self.table
        return _seen("It stands still at {at}.", round(stood, 2), at=Mm(round(stood, 2)))


def _seen(words: str, value: float | None = None, **values: object) -> Seen:
    return Seen(Sentence(words, values), value)


def _number(value: Arg, low: float, high: float) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise BadInputError(f"{str(value)[:20]} can't be done here; {low:g} to {high:g} can.")
    return float(value)

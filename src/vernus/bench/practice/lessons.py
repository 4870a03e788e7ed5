"""The lessons: what is hidden, what may be gripped, what is asked, and how it is judged: by the truth alone.

Each takes about ten minutes. The sizes of the hidden faults are those met in workshops: common practice, no source.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from vernus.bench.practice import evidence
from vernus.bench.practice.evidence import Evidence
from vernus.bench.practice.world import Hidden, World
from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Sentence, Size

Scene = Literal["travel", "body", "gap", "display", "mesh", "trips"]
Asked = Literal["", "length", "counts", "choice"]
"""What the learner says at the end: nothing (the machine's state is judged), a length, counts per mm, or a choice."""
TILT_MM = 0.05
GAP_MM = (0.4, 0.6)
BACKLASH_MM = (0.03, 0.25)
STOP_CLEAR_MM, GIVEN_MM = 1.0, 6.0
COUNTS_PPM = 150.0


@dataclass(frozen=True)
class Outcome:
    """Whether it is good, by the truth, and the truth in words."""

    good: bool
    truth: Sentence


@dataclass(frozen=True)
class Lesson:
    """One lesson; ``grips`` are the deeds offered, ``sheet`` the sheet of Vernus that is practised with it."""

    id: str
    title: str
    brief: str
    scene: Scene
    grips: tuple[str, ...]
    sheet: str
    asked: Asked
    hints: tuple[str, ...]
    hide: Callable[[random.Random, bool], Hidden]
    judge: Callable[[World, float | str | None], Outcome]
    choices: tuple[tuple[str, str], ...] = ()
    evidence: Evidence = lambda _world: ""
    """What has to be read before a verdict is accepted."""

    def world(self, seed: int, *, inch: bool = False) -> World:
        """The hidden machine of a seed; in inches its dials and rules have inch divisions."""
        return World(self.hide(random.Random(seed), inch), seed)


_ROOM_FOR_BLOCK = 10.0


def blocks(*, inch: bool) -> tuple[float, ...]:
    """The gauge blocks there are (mm), in the sizes they are sold in."""
    return tuple(n * 25.4 for n in (0.5, 1.0, 2.0, 4.0, 8.0, 12.0)) if inch else (10.0, 25.0, 50.0, 100.0, 200.0, 300.0)


def _dials(inch: bool) -> dict[str, float]:
    """Divisions of rule and dial and the display's count, as they are read in that system (mm)."""
    return {"rule_division": 25.4 / 64, "division": 0.0127, "count": 0.00508} if inch else {}


def _hidden(chance: random.Random, inch: bool, **more: Any) -> Hidden:
    travel = round(chance.uniform(240, 620), 1)
    bar = max(b for b in blocks(inch=inch) if b <= travel - _ROOM_FOR_BLOCK)
    usual: dict[str, Any] = {
        "screws": (10.0, travel - 10.0), "backlash": chance.uniform(0.05, 0.3), "bar": bar, **_dials(inch),
    }  # fmt: skip
    return Hidden(travel=travel, **{**usual, **more})


def _length(answer: float | str | None) -> float:
    if not isinstance(answer, int | float) or isinstance(answer, bool):
        raise BadInputError("Say your figure first.")
    return float(answer)


def _near(true: float, within: float, words: str) -> Callable[[float | str | None], Outcome]:
    def judge(answer: float | str | None) -> Outcome:
        off = _length(answer) - true
        told = words + " You were off by {off}; within {within} was asked."
        return Outcome(
            abs(off) <= within, Sentence(told, {"true": Size(true), "off": Fine(off), "within": Fine(within)})
        )

    return judge


def _chosen(world: World, answer: float | str | None, true: str, words: str, **values: object) -> Outcome:
    if not isinstance(answer, str) or not answer:
        raise BadInputError("Choose an answer first.")
    return Outcome(answer == true, Sentence(words, values))


def _hide_travel(chance: random.Random, inch: bool) -> Hidden:
    return _hidden(chance, inch)


def _judge_travel(world: World, answer: float | str | None) -> Outcome:
    return _near(world.hidden.travel, 0.5, "It travels {true}.")(answer)


def _hide_tilt(chance: random.Random, inch: bool) -> Hidden:
    tilt = chance.choice((-1, 1)) * chance.uniform(0.15, 0.9)
    return _hidden(
        chance, inch, tilt=tilt, bow=chance.uniform(-0.01, 0.01), creep=chance.choice((-1, 1)) * 0.008,
        lever_deg=chance.choice((0.0, 0.0, 15.0)),
    )  # fmt: skip


def _hide_reversed(chance: random.Random, inch: bool) -> Hidden:
    tilt = chance.choice((-1, 1)) * chance.uniform(0.15, 0.9)
    return _hidden(chance, inch, tilt=tilt, sense=-1, creep=chance.choice((-1, 1)) * 0.008)


def _judge_tilt(world: World, _answer: float | str | None) -> Outcome:
    tilt, tight = world.tilt, all(world.tight)
    words = "It rises by {tilt} from screw to screw; {most} was allowed."
    if not tight:
        words += " A screw is still loose: tighten it, and it may creep."
    return Outcome(
        abs(tilt) <= TILT_MM and tight, Sentence(words, {"tilt": Fine(tilt, sign=True), "most": Fine(TILT_MM)})
    )


def _hide_sag(chance: random.Random, inch: bool) -> Hidden:
    which = chance.choice(("sag", "tilt", "bow"))
    sizes = {
        "sag": {"sag": chance.uniform(0.06, 0.15)}, "tilt": {"tilt": chance.choice((-1, 1)) * chance.uniform(0.1, 0.3)},
        "bow": {"bow": chance.choice((-1, 1)) * chance.uniform(0.06, 0.15)},
    }  # fmt: skip
    return _hidden(chance, inch, **sizes[which])


def _judge_sag(world: World, answer: float | str | None) -> Outcome:
    h = world.hidden
    words = "The table sags by {sag} at the ends of its travel; the body rises by {tilt} and bows by {bow}."
    true = "sag" if h.sag else "bow" if h.bow else "tilt"
    values = {"sag": Fine(h.sag), "tilt": Fine(world.tilt, sign=True), "bow": Fine(h.bow, sign=True)}
    return _chosen(world, answer, true, words, **values)


def _hide_collar(chance: random.Random, inch: bool) -> Hidden:
    return _hidden(chance, inch, rock=chance.choice((0.0, chance.uniform(0.03, 0.3))))


def _judge_collar(world: World, answer: float | str | None) -> Outcome:
    return _near(world.hidden.rock, 0.015, "The collar rocks by {true}.")(answer)


def _hide_gap(chance: random.Random, inch: bool) -> Hidden:
    return _hidden(chance, inch, gap=(chance.uniform(0.12, 1.2), chance.uniform(0.12, 1.2)))


def _judge_gap(world: World, _answer: float | str | None) -> Outcome:
    low, high = GAP_MM
    words = "The gap is {left} at the left end and {right} at the right; {low} to {high} was asked."
    values = {"left": Fine(world.gap[0]), "right": Fine(world.gap[1]), "low": Fine(low), "high": Fine(high)}
    return Outcome(all(low <= g <= high for g in world.gap), Sentence(words, values))


def _hide_counts(chance: random.Random, inch: bool) -> Hidden:
    return _hidden(chance, inch, scale_ppm=chance.choice((-1, 1)) * chance.uniform(800, 6000))


def true_counts(world: World, set_per_mm: float = 200.0) -> float:
    """The counts per mm that make the display true, at 20 °C."""
    return set_per_mm * (1 + world.hidden.scale_ppm * 1e-6)


def _judge_counts(world: World, answer: float | str | None) -> Outcome:
    true = true_counts(world)
    off = (_length(answer) / true - 1) * 1e6
    words = "{true:.4f} counts per mm make it true; you were off by {off:+.0f} ppm, {most:.0f} was allowed."
    return Outcome(abs(off) <= COUNTS_PPM, Sentence(words, {"true": true, "off": off, "most": COUNTS_PPM}))


def _hide_warmth(chance: random.Random, inch: bool) -> Hidden:
    room = chance.uniform(8, 30)
    shifted = chance.choice((0.0, chance.choice((-1, 1)) * chance.uniform(90, 160)))
    return _hidden(chance, inch, room_c=room, casting_c=room + chance.uniform(-1, 1), block_c=22.0, shifted_ppm=shifted)


def _judge_warmth(world: World, answer: float | str | None) -> Outcome:
    shifted = world.hidden.shifted_ppm
    words = "Temperature alone made the change." if not shifted else "The scale had moved by {ppm:+.0f} ppm as well."
    return _chosen(world, answer, "other" if shifted else "temperature", words, ppm=shifted)


def _hide_lost(chance: random.Random, inch: bool) -> Hidden:
    return _hidden(chance, inch, lost_motion=chance.choice((0.0, chance.uniform(0.02, 0.12))))


def _judge_lost(world: World, answer: float | str | None) -> Outcome:
    return _near(world.hidden.lost_motion, 0.01, "The display loses {true} when the direction turns.")(answer)


def _hide_mesh(chance: random.Random, inch: bool) -> Hidden:
    return _hidden(chance, inch, backlash_gear=chance.uniform(0.35, 0.9), runout=chance.uniform(0.02, 0.08))


def _judge_mesh(world: World, _answer: float | str | None) -> Outcome:
    least, most = world.swing
    words = "Over a turn the backlash swings from {least} to {most}; {low} to {high} was asked."
    values = {"least": Fine(least), "most": Fine(most), "low": Fine(BACKLASH_MM[0]), "high": Fine(BACKLASH_MM[1])}
    if world.hurt:
        words += (
            " Your hand was between the gears with the feed not locked off: on a real machine that ends the evening."
        )
    return Outcome(BACKLASH_MM[0] <= least and most <= BACKLASH_MM[1] and not world.hurt, Sentence(words, values))


def _hide_trips(chance: random.Random, inch: bool) -> Hidden:
    return _hidden(chance, inch, run_on=chance.uniform(1.5, 7.0), run_on_scatter=chance.uniform(0.04, 0.12))


def worst_run_on(world: World) -> float:
    """The longest run-on at rapid that is to be reckoned with: two sigma of what it does."""
    return world.hidden.run_on * (1 + world.hidden.run_on_scatter)


def _judge_trips(world: World, _answer: float | str | None) -> Outcome:
    worst, travel = worst_run_on(world), world.hidden.travel
    left = (world.trips[0] - worst, travel - world.trips[1] - worst)
    words = "At rapid it runs on by up to {worst}: {low} are left before the low stop, {high} before the high one."
    values = {"worst": Mm(worst), "low": Mm(left[0]), "high": Mm(left[1])}
    good = all(STOP_CLEAR_MM <= gap <= STOP_CLEAR_MM + GIVEN_MM for gap in left) and not world.met
    if world.met:
        words += " Metal met on the way."
    return Outcome(good, Sentence(words, values))


_ALIGN = ("crank", "read", "press", "reset", "loosen", "turn", "tighten")
LESSONS: tuple[Lesson, ...] = (
    Lesson(
        "travel", "Measure a travel twice", "Two marks are scribed, one at each end. Say how far it travels.",
        "travel", ("rule",), "travel", "length",
        ("Look square on: a rule read from the side is off by more than its division.",
         "Twice is once too few to see how it scatters; four readings give half the scatter of one."),
        _hide_travel, _judge_travel, evidence=evidence.travel,
    ),
    Lesson(
        "held", "Dial in a body, one screw held", "Bring the body level from screw to screw, within the tolerance.",
        "body", _ALIGN, "align", "",
        ("Keep one screw tight: with both loose the body drops and everything begins again.",
         "Sweep at several places, park near the loose screw, and bring the dial to one figure."),
        _hide_tilt, _judge_tilt, evidence=evidence.swept_again,
    ),
    Lesson(
        "reversed", "The reversed indicator", "Level the body. Somebody turned the indicator round.",
        "body", _ALIGN, "align", "",
        ("Press the body toward the indicator with a thumb before anything is turned, and see which way it goes.",
         "Say on Align which way the reading grows; the advice turns with it."),
        _hide_reversed, _judge_tilt, evidence=evidence.swept_again,
    ),
    Lesson(
        "sag", "Sag, bow or tilt", "The readings differ along the body. Is it the body, or does the table sag?",
        "body", ("crank", "read", "onto", "reset"), "align", "choice",
        ("Two readings can't tell: read at seven places.",
         "A tilt grows all the way; a bow and a sag are the same at both ends and other in the middle.",
         "Set the indicator onto the table itself: what is seen there too is the table's, not the body's."),
        _hide_sag, _judge_sag,
        (("tilt", "the body is tilted"), ("bow", "the body is bowed"), ("sag", "the table sags")),
        evidence.body_and_table,
    ),
    Lesson(
        "collar", "The collar that rocks", "The display of the quill doesn't come back. By how much does it rock?",
        "display", ("push", "display"), "positioning", "length",
        ("Push it up, read; push it down, read. Do it more than once: one count is nothing.",),
        _hide_collar, _judge_collar, evidence=evidence.pushed,
    ),
    Lesson(
        "gap", "Set a gap blind, with feelers", "Bring the reader's gap into its band at both ends of the stroke.",
        "gap", ("feeler", "shift"), "reader", "",
        ("Halve it: a feeler in the middle of what is left tells most.",
         "The reader is one piece: it moves the gap at both ends alike. What differs is the body's, at that end.",
         "Try again after tightening; it moves a little."),
        _hide_gap, _judge_gap, evidence=evidence.tried_both,
    ),
    Lesson(
        "counts", "Counts from a short move and a long one",
        "The display is set to 200 counts per mm, and shows something else than the blocks. What is to be set?",
        "display", ("move",), "calibrate", "counts",
        ("A count is the same in a short move and in a long one: take the longest block.",
         "Several moves, and their mean."),
        _hide_counts, _judge_counts, evidence=evidence.moved_long,
    ),
    Lesson(
        "warmth", "Temperature or not",
        "Last year at 20 °C the display was true. Now it is off. Is it the temperature?",
        "display", ("thermometer", "move", "wait", "hand"), "calibrate", "choice",
        ("A block from the drawer takes an hour to come to the casting's temperature: wait.",
         "Steel grows 11.5 ppm a degree, the scale here 8.5: only the difference is seen."),
        _hide_warmth, _judge_warmth,
        (("temperature", "temperature explains it"), ("other", "something else moved")), evidence.warm_and_moved,
    ),
    Lesson(
        "lost", "Find the lost motion", "How much does the display lose when the direction turns?",
        "display", ("crank", "display", "zero"), "positioning", "length",
        ("The wheel's own play is no lost motion: the display sits behind it. Come to one place from both sides.",
         "How far the wheel turns from stop to stop, less the travel, is its play: take it off."),
        _hide_lost, _judge_lost, evidence=evidence.both_sides,
    ),
    Lesson(
        "mesh", "Mesh by paper and ear", "Slide the unit until the gears mesh well over a whole turn.",
        "mesh", ("lock", "gear", "rock", "paper", "slide", "listen"), "mesh", "",
        ("Lock the feed off before a hand goes to the gears, and take the lock off to hear it run.",
         "Look for the tightest place of the turn first: the gear runs out.",
         "At 20° sliding by one opens the backlash by 0.73."),
        _hide_mesh, _judge_mesh, evidence=evidence.round_the_turn,
    ),
    Lesson(
        "trips", "Trips with run-on",
        "Set both trips so that at rapid it stops before the stops, and gives little travel away.",
        "trips", ("trip", "run"), "trips", "",
        ("Measure in mid travel, both ways, at rapid: slow says nothing of rapid.",
         "Reckon with the longest of several runs, and leave a little over."),
        _hide_trips, _judge_trips, evidence=evidence.run_at_rapid,
    ),
)  # fmt: skip


def lesson_by_id(wanted: str) -> Lesson:
    """The lesson of that id, free play too; raises BadInputError."""
    found = next((one for one in (*LESSONS, FREE_PLAY) if one.id == wanted), None)
    if found is None:
        raise BadInputError(f"There is no lesson “{wanted[:30]}”.")
    return found


FAULTS = (
    ("tilt", "the body is tilted"), ("sag", "the table sags"), ("lost", "the display loses motion"),
    ("scale", "the display counts wrong"), ("wave", "the display waves within a turn of the screw"),
)  # fmt: skip
PAIRS = tuple((f"{a}+{b}", f"{one}, and {other}") for n, (a, one) in enumerate(FAULTS) for b, other in FAULTS[n + 1 :])


def _hide_two(chance: random.Random, inch: bool) -> Hidden:
    made: dict[str, Any] = {}
    for fault in chance.choice(PAIRS)[0].split("+"):
        made |= {
            "tilt": {"tilt": chance.choice((-1, 1)) * chance.uniform(0.15, 0.5)},
            "sag": {"sag": chance.uniform(0.06, 0.15)},
            "lost": {"lost_motion": chance.uniform(0.03, 0.1)},
            "scale": {"scale_ppm": chance.choice((-1, 1)) * chance.uniform(800, 3000)},
            "wave": {"cyclic": chance.uniform(0.02, 0.05)},
        }[fault]
    return _hidden(chance, inch, **made)


def faults_of(hidden: Hidden) -> str:
    """The pair of faults of a machine, as the choices name it."""
    there = {
        "tilt": hidden.tilt, "sag": hidden.sag, "lost": hidden.lost_motion, "scale": hidden.scale_ppm,
        "wave": hidden.cyclic,
    }  # fmt: skip
    return "+".join(key for key, _ in FAULTS if there[key])


def _judge_two(world: World, answer: float | str | None) -> Outcome:
    true = faults_of(world.hidden)
    return _chosen(world, answer, true, "On this machine {what}.", what=dict(PAIRS)[true])


FREE_PLAY = Lesson(
    "free", "A machine with two hidden faults", "Two things are wrong with it. Find out which.", "display",
    ("crank", "read", "onto", "reset", "display", "zero", "move"), "positioning", "choice",
    ("Sweep the body at seven places: a tilt grows, a sag bends.",
     "Blocks tell the scale, both directions the lost motion, places within one turn of the screw the wave."),
    _hide_two, _judge_two, PAIRS, evidence.two_faults,
)  # fmt: skip

"""Two players at the practice: one who does what Vernus advises, and one who does what beginners do.

Both work the machine through the deeds a learner has, and know nothing that a learner can't read.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Callable
from itertools import pairwise

from vernus.bench.practice.lessons import GAP_MM, TILT_MM
from vernus.bench.practice.world import World
from vernus.core.align.sweep import Alignment, Correction, Indicator, Sense, analyse_sweep, correct
from vernus.core.feed.gears import slide_by
from vernus.core.feed.trip import place_stops
from vernus.core.machine.travel import measure_travel
from vernus.core.prove.calibrate.calibration import average_moves
from vernus.core.prove.calibrate.counts import count_per_unit
from vernus.core.prove.thermal import expected_difference

Answer = float | str | None
_MOST_PASSES = 6


def _value(world: World, name: str, *args: float | str) -> float:
    found = world.do(name, *args).value
    return 0.0 if found is None else found


def _come_to(world: World, at: float) -> None:
    """Come to a place from below, so that the nut's play is always on the same side."""
    world.do("crank", max(-40.0, at - 2.0))
    world.do("crank", at)


def _sweep(world: World, indicator: Indicator, count: int = 7) -> tuple[Alignment, list[float]]:
    low, high = world.hidden.screws
    stations = [low + 8 + (high - low - 16) * n / (count - 1) for n in range(count)]
    readings = []
    for station in (*stations, stations[0]):
        _come_to(world, station)
        readings.append(_value(world, "read"))
    return analyse_sweep([*stations, stations[0]], readings, indicator, TILT_MM, high - low), readings


def _indicator(world: World) -> Indicator:
    sense: Sense = "toward" if _value(world, "press") > 0 else "away"
    return Indicator(sense, world.hidden.lever_deg, world.hidden.division)  # the lever's angle can be seen


def _follow(world: World, fix: Correction, indicator: Indicator) -> None:
    """Hold the left screw, park, ease the right end until the dial shows its target, tighten."""
    left, right = world.hidden.screws
    world.do("loosen", "right")
    _come_to(world, fix.park_mm)
    lever = (right - left) / (fix.park_mm - left)
    for _ in range(4):
        off = fix.dial_target_mm - _value(world, "read")
        if abs(off) <= world.hidden.division / 2:
            break
        world.do("turn", "right", indicator.sign * off * indicator.cosine * lever)
    world.do("tighten", "right")


def adviser_levels(world: World) -> Answer:
    """Press once to learn the sense, sweep, follow the dial at the loose screw, sweep again until it passes."""
    indicator = _indicator(world)
    for _ in range(_MOST_PASSES):
        sweep, readings = _sweep(world, indicator)
        if sweep.verdict == "pass":
            break
        _follow(world, correct(sweep, readings, indicator, world.hidden.screws, "left"), indicator)
    return None


def naive_levels(world: World) -> Answer:
    """Two readings, both screws loosened and corrected by half each, the sense guessed; then once more."""
    left, right = world.hidden.screws
    for _ in range(2):
        world.do("crank", left + 8)
        first = _value(world, "read")
        world.do("crank", right - 8)
        rise = _value(world, "read") - first
        world.do("loosen", "left")
        world.do("loosen", "right")
        world.do("turn", "left", rise / 2)
        world.do("turn", "right", -rise / 2)
        world.do("tighten", "left")
        world.do("tighten", "right")
    return None


def adviser_travel(world: World) -> Answer:
    """Four readings, square on."""
    readings = [_value(world, "rule", "square") for _ in range(4)]
    return measure_travel(readings, world.hidden.rule_division).travel_mm


def naive_travel(world: World) -> Answer:
    """One reading from where one happens to stand."""
    return _value(world, "rule", "left")


def adviser_sag(world: World) -> Answer:
    """Seven places of the body, then of the table itself: what is seen there too is the table's."""
    if world.onto != "body":
        world.do("onto", "body")
    bend, rise = _bend_and_rise(world)
    world.do("onto", "table")
    table_bend, _ = _bend_and_rise(world)
    world.do("onto", "body")
    if abs(table_bend) > 0.025:
        return "sag"
    return "bow" if abs(bend) > abs(rise) / 2 else "tilt"


def _bend_and_rise(world: World) -> tuple[float, float]:
    """How far the middle stands off the line through both ends, and how far the far end stands above the near one."""
    sweep, _ = _sweep(world, Indicator("toward", 0.0, world.hidden.division))
    heights, stations = sweep.heights_mm, sweep.stations_mm
    middle = heights[stations.index(sorted(stations[:-1])[3])]
    return middle - (heights[0] + heights[-2]) / 2, heights[-2] - heights[0]


def naive_sag(world: World) -> Answer:
    """The left end and the middle: a difference is a tilt."""
    world.do("crank", world.hidden.screws[0] + 8)
    first = _value(world, "read")
    world.do("crank", world.hidden.travel / 2)
    return "tilt" if abs(_value(world, "read") - first) > 0.02 else "sag"


def adviser_collar(world: World) -> Answer:
    """Up and down, four times, and the mean of the differences; what is below a count is nothing."""
    found = []
    for _ in range(4):
        shown = []
        for way in ("up", "down"):
            world.do("push", way)
            shown.append(_value(world, "display"))
        found.append(shown[0] - shown[1])
    return statistics.fmean(found)


def naive_collar(world: World) -> Answer:
    """Two readings without a push between them."""
    return abs(_value(world, "display") - _value(world, "display"))


def _gap_at(world: World, end: str) -> float:
    """The gap at an end by halving."""
    low, high = 0.05, 1.5
    for _ in range(6):
        blade = (low + high) / 2
        if _value(world, "feeler", end, blade):
            low = blade
        else:
            high = blade
    return (low + high) / 2


def adviser_gap(world: World) -> Answer:
    """The reader to the middle of the band over one end, then the body's other end to the same, each tried again."""
    middle = sum(GAP_MM) / 2
    for end, moved in (("left", "reader"), ("right", "right")):
        for _ in range(4):
            gap = _gap_at(world, end)
            if abs(gap - middle) <= 0.05:
                break
            world.do("shift", moved, middle - gap)
    for end in ("left", "right"):
        for blade in (GAP_MM[0] + 0.02, GAP_MM[1] - 0.02):
            world.do("feeler", end, blade)
    return None


def naive_gap(world: World) -> Answer:
    """One feeler at one end, the reader moved until it goes; the other end is never tried."""
    for _ in range(3):
        if _value(world, "feeler", "left", 0.5):
            break
        world.do("shift", "reader", 0.15)
    return None


def adviser_counts(world: World) -> Answer:
    """The longest block, five times."""
    long = world.hidden.bar
    shown = [_value(world, "move", long) for _ in range(5)]
    check = average_moves(shown, [long] * 5, 200.0, step_mm=world.hidden.count)
    return count_per_unit(check, world.hidden.travel).counts_per_mm


def naive_counts(world: World) -> Answer:
    """A short block, once."""
    return 200.0 * _value(world, "move", 10.0) / 10.0


def adviser_warmth(world: World) -> Answer:
    """Wait until the block is as warm as the casting, then hold the sum of temperature against what is seen."""
    world.do("wait", 60.0)
    casting, block = (_value(world, "thermometer", what) for what in ("casting", "block"))
    long = world.hidden.bar
    seen = statistics.fmean(_value(world, "move", long) for _ in range(8)) - long
    expected = expected_difference(long, 8.5e-6, 11.5e-6, casting, block)
    return "temperature" if abs(seen - expected) < 45e-6 * long else "other"


def naive_warmth(world: World) -> Answer:
    """Warm from the hand, once; whatever is off is the temperature's doing."""
    world.do("hand")
    return "temperature" if abs(_value(world, "move", world.hidden.bar) - world.hidden.bar) > 0.005 else "other"


def adviser_lost(world: World) -> Answer:
    """Against each stop the table stands the same whatever the wheel does: leave it and come back from the other side.

    The display at one place from both sides is what is wanted; the wheel's play is taken up beyond the place each time.
    """
    found = []
    for share in (0.25, 0.5, 0.75):
        at, play = world.hidden.travel * share, _play(world)
        for _ in range(2):
            world.do("crank", at - 3)
            world.do("crank", at + play)
            up = _value(world, "display")
            world.do("crank", at + 3 + play)
            world.do("crank", at)
            down = _value(world, "display")
            found.append(down - up)
    return max(0.0, statistics.fmean(found))


def _play(world: World) -> float:
    """The nut's play: how far the wheel turns at a stop before it is stopped at the other side of the play."""
    travel = world.hidden.travel
    high = _value(world, "crank", travel + 20)
    low = _value(world, "crank", -20)
    return max(0.0, high - low - travel)


def naive_lost(world: World) -> Answer:
    """The wheel to one figure from both sides: the nut's play is taken for lost motion."""
    at = world.hidden.travel / 2
    world.do("crank", at - 3)
    world.do("crank", at)
    up = _value(world, "display")
    world.do("crank", at + 3)
    world.do("crank", at)
    return abs(up - _value(world, "display"))


def adviser_mesh(world: World) -> Answer:
    """Locked off: the tightest of eight places first; slide until it has its least, and look over the turn again."""
    world.do("lock")
    for _ in range(3):
        found = []
        for n in range(8):
            world.do("gear", n / 8)
            found.append(_value(world, "rock"))
        wanted = min(found) - 0.06
        if abs(wanted) < 0.015:
            break
        world.do("slide", slide_by(wanted, 0.0, 20.0))
    world.do("lock")
    world.do("listen")
    return None


def naive_mesh(world: World) -> Answer:
    """A strip of paper where it stands, and done."""
    world.do("slide", slide_by(_value(world, "rock") - 0.06, 0.0, 20.0))
    return None


def adviser_trips(world: World) -> Answer:
    """Temporary trips in mid travel, both ways, at rapid, several times; the longest counts, and a little over."""
    travel = world.hidden.travel
    ends = []
    for end, at in (("left", travel * 0.45), ("right", travel * 0.55)):
        world.do("trip", end, at)
        ran = [abs(_value(world, "run", end, "rapid") - at) for _ in range(4)]
        ends.append(max(ran) * 1.06)
    stops = place_stops((0.0, travel), (ends[0], ends[1]), clear_mm=STOP_OVER_MM)
    world.do("trip", "left", stops.trip_mm[0])
    world.do("trip", "right", stops.trip_mm[1])
    for end in ("left", "right"):
        world.do("run", end, "rapid")
    return None


STOP_OVER_MM = 2.5


def naive_trips(world: World) -> Answer:
    """One slow run, and its run-on doubled."""
    world.do("trip", "left", world.hidden.travel / 2)
    ran = 2 * abs(_value(world, "run", "left", "slow") - world.hidden.travel / 2)
    world.do("trip", "left", ran)
    world.do("trip", "right", world.hidden.travel - ran)
    world.do("run", "right", "rapid")
    return None


def adviser_free(world: World) -> Answer:
    """A sweep for tilt or sag, blocks for the scale, both directions for lost motion, one turn for the wave."""
    sizes: dict[str, float] = {}
    if world.onto != "body":
        world.do("onto", "body")
    sweep, _ = _sweep(world, Indicator("toward", 0.0, world.hidden.division))
    heights = sweep.heights_mm
    world.do("onto", "table")
    _bend_and_rise(world)
    world.do("onto", "body")
    sizes["tilt"] = abs(heights[-2] - heights[0]) / 0.05
    sizes["sag"] = abs(heights[3] - (heights[0] + heights[-2]) / 2) / 0.03
    long = world.hidden.bar
    moved = statistics.fmean(_value(world, "move", long) for _ in range(4))
    sizes["scale"] = abs(moved / long - 1) * 1e6 / 250
    lost = adviser_lost(world)
    sizes["lost"] = abs(lost if isinstance(lost, float) else 0.0) / 0.012
    sizes["wave"] = _wave(world) / 0.012
    named = sorted(sorted(sizes, key=lambda k: -sizes[k])[:2], key=("tilt", "sag", "lost", "scale", "wave").index)
    return "+".join(named)


def _wave(world: World) -> float:
    """How large a wave of the screw's lead the display makes: by sine and cosine over one turn, the line taken out."""
    lead, start = world.hidden.lead, world.hidden.travel * 0.4
    places = [start + lead * n / 8 for n in range(9)]
    errors = []
    for at in places:
        _come_to(world, at)
        errors.append(_value(world, "display") - at)
    slope = (errors[-1] - errors[0]) / lead
    rest = [e - slope * (p - start) for p, e in zip(places[:-1], errors[:-1], strict=True)]
    mean = statistics.fmean(rest)
    turns = [2 * math.pi * (p - start) / lead for p in places[:-1]]
    sine = 2 * statistics.fmean((r - mean) * math.sin(t) for r, t in zip(rest, turns, strict=True))
    cosine = 2 * statistics.fmean((r - mean) * math.cos(t) for r, t in zip(rest, turns, strict=True))
    return math.hypot(sine, cosine)


def naive_free(world: World) -> Answer:
    """Two readings along the body and one block: what is seen first is named."""
    world.do("crank", world.hidden.screws[0] + 8)
    first = _value(world, "read")
    world.do("crank", world.hidden.screws[1] - 8)
    tilted = abs(_value(world, "read") - first) > 0.03
    wrong = abs(_value(world, "move", 20.0) - 20.0) > 0.01
    return "tilt+scale" if tilted or wrong else "lost+wave"


Player = Callable[[World], Answer]
PLAYERS: dict[str, tuple[Player, Player]] = {
    "travel": (adviser_travel, naive_travel), "held": (adviser_levels, naive_levels),
    "reversed": (adviser_levels, naive_levels), "sag": (adviser_sag, naive_sag),
    "collar": (adviser_collar, naive_collar), "gap": (adviser_gap, naive_gap),
    "counts": (adviser_counts, naive_counts), "warmth": (adviser_warmth, naive_warmth),
    "lost": (adviser_lost, naive_lost), "mesh": (adviser_mesh, naive_mesh), "trips": (adviser_trips, naive_trips),
    "free": (adviser_free, naive_free),
}  # fmt: skip
"""By lesson: who follows the advice, and who doesn't."""


def passes_of(world: World) -> int:
    """How often it was gone over: turns of attempt after reading, as far as the deeds tell."""
    changes = ("turn", "shift", "slide", "trip")
    kinds = [name in changes for name, _ in world.deeds if name in changes or name not in ("crank", "press")]
    return 1 + sum(a and not b for a, b in pairwise(kinds))

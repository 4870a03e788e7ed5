"""The hand at the machine: sweeps and dial targets, first power-up, checks of the display, and what is keyed in."""

from copy import deepcopy
from dataclasses import dataclass, field

from tests.shop.things.display import checks
from tests.shop.things.indicator import Leaning

END_HOLE_MM = 8.0
MOST_PASSES = 4
EXPANDS = {"steel": 11.5e-6, "glass": 8.5e-6, "cast-iron": 10.5e-6}
"""Per kelvin; handbook values, from memory."""


@dataclass
class Aligned:
    """A plane of a body as it was aligned: how it leant before every pass, what was said then, and how it leans now."""

    axis: str
    plane: str
    over: float
    """Between the end screws."""
    early: object = None
    """What was said to be done to the dial while the first pass was not through, and a reading of it a slip."""
    passes: list = field(default_factory=list)
    """(true rise between the screws, verdict said, dial said) of each pass, in order."""


@dataclass
class Checked:
    """A display as it was checked: as it stood then, what was said, and as it stands with that keyed in."""

    axis: str
    before: object
    after: object
    said: dict
    verdict: dict
    refused: str = ""
    stations: int = 3


def align(hand, axis, long, reach):
    """Sweep the body, do what the dial's statement says, and sweep again; both planes."""
    chance, desk = hand.truth.chance(f"align {axis}"), hand.desk
    for plane in ("face", "edge"):
        division = 0.01 if hand.truth.units == "mm" else 0.0127
        lean = Leaning(chance.gauss(0, 0.0008), abs(chance.gauss(0, 0.004)), chance.choice((1, -1)), division, long)
        done = Aligned(axis, plane, long - 2 * END_HOLE_MM)
        hand.lived.aligned.append(done)
        stations = [reach[0] + (reach[1] - reach[0]) * n / 6 for n in range(7)]
        hold = chance.choice(("left", "right"))
        if chance.random() < 0.3:
            slip = [(stations[0], lean.reads(stations[0], chance)), (stations[1], 0.011), (stations[2], 2.8)]
            begun = desk.sweep(axis, plane, slip, hold=hold, division=division, ahead=stations)
            done.early = desk.said("dial", axis, plane=plane)
            desk.forget(begun)
        for _ in range(MOST_PASSES):
            read = [(x, lean.reads(x, chance)) for x in [*stations, stations[0]]]
            desk.sweep(axis, plane, read, hold=hold, sense="toward" if lean.sense > 0 else "away", division=division)
            verdict = desk.said("verdict", axis, of=f"align body-{plane}")
            dial = desk.said("dial", axis, plane=plane)
            done.passes.append((lean.rise(done.over), verdict, dial))
            if dial is None:
                break
            screws = {"left": END_HOLE_MM, "right": long - END_HOLE_MM}
            lean.bring(screws[dial["hold"]], dial["park_mm"], dial["to_mm"], chance)
        else:
            done.passes.append((lean.rise(done.over), None, None))


def power_up(hand, axis):
    """Switch on and look: a display that counts the wrong way is turned round if that is what is said."""
    display, desk = hand.truth.displays[axis], hand.desk
    wrong = display.reversed
    desk.powered(axis, counts="yes", right_axis="yes", stroke="yes", direction="no" if wrong else "yes",
                 before=0.0, after=0.0, low=0.0, high=0.0, drift=0.0)  # fmt: skip
    said = desk.said("setting", axis, what="direction")
    hand.lived.turned[axis] = (wrong, None if said is None else said["value"])
    if said is not None and said["value"] == "reverse":
        display.reversed = not display.reversed
        desk.powered(axis, direction="yes")


@dataclass
class Warmth:
    """A scale and a block that aren't at 20 °C: what stands on the thermometers, and what they make of a move."""

    scale_c: float
    reference_c: float
    like: str
    longer: float


def _warmth(truth, axis):
    """The temperatures of a check, in some jobs; a steel block, and a scale of glass or on cast iron."""
    chance = truth.chance(f"warm {axis}")
    if chance.random() > 0.3:
        return None
    scale, block = chance.uniform(10, 30), chance.uniform(14, 26)
    like = "glass" if truth.kits[axis].family.startswith("glass") else "cast-iron"
    longer = (1 + EXPANDS["steel"] * (block - 20)) / (1 + EXPANDS[like] * (scale - 20))
    read = round(scale + chance.uniform(-0.4, 0.4), 1), round(block + chance.uniform(-0.4, 0.4), 1)
    return Warmth(*read, like, longer)


def check_display(hand, axis):
    """Check against blocks, key in what is said as it is said, and remember both."""
    t, desk = hand.truth, hand.desk
    display, chance = t.displays[axis], t.chance(f"check {axis}")
    kept = desk.said("kept", axis)
    travel = t.machine.ways[axis].travel if kept is None else kept["to_mm"] - kept["from_mm"]
    warm = None if "finish" in t.rooms else _warmth(t, axis)
    pairs = checks(display, chance, travel, whole="finish" in t.rooms, longer=1.0 if warm is None else warm.longer)
    if display.way == "multiplier" and "finish" not in t.rooms and chance.random() < 0.4:
        pairs = [pairs[0], pairs[-1]]
    shows, counts = "diameter" if display.doubles else "radius", display.way == "counts"
    more = {} if counts else {"set_factor": display.factor}
    more |= {"u_reference": 0.001, "step": display.step_mm}
    if warm is not None:
        more |= {"scale_c": warm.scale_c, "reference_c": warm.reference_c, "u_c": 0.5, "scale_substance": warm.like}
    tell = [
        lambda: desk.setting(axis, display.counts, display.per, display.step_mm, shows),
        lambda: desk.check(axis, pairs, "counts" if counts else "factor", **more),
    ]
    if display.way != "counts":
        desk.takes(factor=display.way, per=display.per)
    else:
        desk.takes(per=display.per, counts="decimal")
    chance.shuffle(tell)
    for do in tell:
        do()
    said = {
        s["kind"]: s for s in desk.says() if s["axis"] == axis and (s["kind"] == "key_in" or s.get("of") == "display")
    }
    before, after, refused = deepcopy(display), deepcopy(display), ""
    key = said.get("key_in")
    if key is not None and not key["keyed"]:
        try:
            after.key(key["way"], key["value"])
        except (ValueError, TypeError, ZeroDivisionError, IndexError) as error:
            refused = f"{key['way']} {key['value']}: {error}"
    hand.lived.checked.append(
        Checked(axis, before, after, key, said.get("verdict"), refused, len({p[0] for p in pairs}))
    )

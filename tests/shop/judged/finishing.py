"""The last evening: gap by feelers, cable, keyed in, proved, every step ticked; and whether it is finished."""

import itertools

from tests.shop import setting_up
from tests.shop.judged.plan import Broken
from tests.shop.things.motion import offsets

CHECKS = ("centred", "marks", "clips", "wipers", "cover", "anchored", "free")
FEELERS_MM = {"mm": 0.05, "in": 0.0254}
PASSED_MM = 0.01
"""How far a gap may lie outside its limits and still be passed, where one figure is wanted and a feeler more."""


def gaps(hand, axis):
    """Feelers at both ends and in the middle of the stroke: the thickest that goes in, the thinnest that doesn't."""
    chance = hand.truth.chance(f"gap {axis}")
    middle, slope = chance.choice((0.5, 0.5, 0.5, 0.7, 0.3)), chance.gauss(0, 0.03)
    if axis in hand.truth.gap_mm:
        middle = chance.choice((0.505, 0.455, 0.555))
    if "finish" in hand.truth.rooms:  # it is set again until it is right
        middle, slope = 0.505, 0.0
    found = []
    for share in (0.0, 0.5, 1.0):
        true = max(0.12, middle + slope * (share - 0.5))
        step = FEELERS_MM[hand.truth.units]
        go = int(true / step) * step
        hand.desk.gap(axis, share * hand.truth.machine.ways[axis].travel, go, go + step)
        found.append(true)
    wanted = hand.truth.gap_mm.get(axis)
    if wanted is not None:
        hand.desk.reader(axis, gap_least=wanted[0], gap_most=wanted[1])
    hand.lived.gaps[axis] = found


def judge_gaps(lived):
    """A gap that is said to be right is right, as far as feelers tell."""
    slack = FEELERS_MM[lived.truth.units]
    for axis, true in lived.gaps.items():
        said = lived.one("gap", axis)
        if said is None:
            yield Broken("gap", axis, "feelers were tried and nothing is said of the gap")
            continue
        low, high = lived.truth.gap_mm.get(axis, said["limits_mm"])
        if high - low < PASSED_MM:  # one figure: a shim's, a feeler step to either side
            low, high = low - 0.05, high + 0.05
        if said["verdict"] == "pass" and (min(true) < low - PASSED_MM or max(true) > high + PASSED_MM):
            yield Broken("gap", axis, f"{min(true):.2f} to {max(true):.2f} passes {low:.2f} to {high:.2f}")
        if said["verdict"] == "fail" and min(true) > low + slack and max(true) < high - slack:
            yield Broken("gap", axis, f"{min(true):.2f} to {max(true):.2f} fails {low:.2f} to {high:.2f}")


def cable(hand, axis):
    """Hold the cable at the reader, at a clip on each member below it, and at the display; a supplied length."""
    machine, chance = hand.truth.machine, hand.truth.chance(f"cable {axis}")
    face = next(f for f in machine.faces if f.axis == axis and f.name == hand.truth.kits[axis].face)
    held, member = [], face.reader_member
    while member:
        solid = next(s for s in machine.solids if s.member == member)
        held.append((member, tuple(chance.uniform(a, b) for a, b in zip(solid.low, solid.high, strict=True))))
        member = machine.on.get(member, ("", ""))[0]
    foot = held[-1][0]
    held.append((foot, tuple(v + chance.uniform(200, 500) for v in held[-1][1])))
    supplied = chance.choice((2500.0, 3000.0, 3500.0))
    hand.desk.hold_cable(axis, [(m, _as_typed(machine, m, p)) for m, p in held], supplied)
    hand.lived.cables[axis] = (held, supplied)


def _as_typed(machine, member, place):
    """A place as it is measured with every axis in the middle of its travel, a quill at its low mark."""
    mid = {n: w.travel / 2 for n, w in machine.ways.items() if not (w.moving.endswith("quill"))}
    return tuple(v + o for v, o in zip(place, offsets(machine, mid)(member), strict=True))


def judge_cables(lived):
    """The length said reaches from holder to holder at every corner of every axis, and isn't twice what would do."""
    machine = lived.truth.machine
    for axis, (held, _) in lived.cables.items():
        said = lived.one("cable", axis)
        if said is None:
            yield Broken("cable", axis, "it is held, and nothing is said of how long it has to be")
            continue
        longest = 0.0
        for corner in itertools.product(*((0.0, w.travel / 2, w.travel) for w in machine.ways.values())):
            of = offsets(machine, dict(zip(machine.ways, corner, strict=True)))
            places = [tuple(v + o for v, o in zip(p, of(m), strict=True)) for m, p in held]
            longest = max(longest, sum(_apart(a, b) for a, b in itertools.pairwise(places)))
        if said["need_mm"] < longest:
            yield Broken(
                "cable",
                axis,
                f"{said['need_mm']:.0f} is said to do, {longest:.0f} lie between its holders at the farthest corner",
            )
        if said["need_mm"] > 1.6 * longest + 800:
            yield Broken(
                "cable", axis, f"{said['need_mm']:.0f} is said to be needed, {longest:.0f} lie between its holders"
            )


def _apart(a, b):
    return sum((x - y) ** 2 for x, y in zip(a, b, strict=True)) ** 0.5


def finish(hand):
    """Do and answer everything that is left; remember what is said of being finished before and after the last step."""
    desk, t = hand.desk, hand.truth
    desk.give_up_places()
    for axis in t.kits:
        desk.propose_cable(axis, 6000.0)
        desk.reader(axis, **dict.fromkeys(CHECKS, "yes"))
        desk.answer_cable(axis, earth="yes", tied="yes")
        for _ in range(3):
            done = hand.lived.checked[-1] if hand.lived.checked and hand.lived.checked[-1].axis == axis else None
            if done is None or done.said is None or done.said["keyed"] or not desk.keyed(axis):
                break
            t.displays[axis] = done.after
            setting_up.check_display(hand, axis)
        desk.prove(axis, t.displays[axis], t.chance(f"prove {axis}"))
    steps = [s["key"] for s in desk.says() if s["kind"] == "step" and not s["done"]]
    desk.tick(steps[:-1])
    soon = [s for s in desk.says() if s["kind"] == "finished"]
    desk.tick(steps[-1:])
    hand.lived.finished = (steps, soon, [s for s in desk.says() if s["kind"] == "finished"])
    hand.lived.at_the_end = [dict(s) for s in desk.says()]
    if t.chance("crash").random() < 0.5:
        desk.crash(sorted(t.kits)[0])
        hand.lived.crashed = [s for s in desk.says() if s["kind"] == "finished"]


def judge_finish(lived):
    """*Finished* once everything is done, and not while a step of the card is open."""
    if lived.finished is None:
        return
    steps, soon, last = lived.finished
    for s in lived.crashed:
        if s["is"] and s["of"] in ("job", sorted(lived.truth.kits)[0]):
            yield Broken("finished after a crash", s["axis"], s["text"])
    open_stops = [s for s in lived.at_the_end if s["kind"] == "stop" and not s["measured"]]
    bad = [s for s in lived.at_the_end if s["kind"] in ("verdict", "gap") and s["verdict"] != "pass"]
    for s in last:
        if not s["is"] and not open_stops and not bad:
            yield Broken("never finished", s["axis"], s["text"])
    if steps and not steps[-1].startswith(("rub-", "by-hand-")) and any(s["is"] and s["of"] == "job" for s in soon):
        yield Broken("finished too soon", "", f"the job is said to be finished with {steps[-1]} open")

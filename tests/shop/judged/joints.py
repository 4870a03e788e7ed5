"""Joints as they are in the metal: which thread is really there and how deep, and whether a screw said for it clamps.

Engagement: steel 1 d, iron 1.5, aluminium 2, at least 0.8, 1.0, 1.25; a reader's hole 1.0. Common practice, no source.
"""

import re
from dataclasses import dataclass

from tests.shop.judged.plan import Broken

THREADS = {
    "M4": (4.0, 0.7), "M5": (5.0, 0.8), "M6": (6.0, 1.0), "M8": (8.0, 1.25), "M10": (10.0, 1.5), "M12": (12.0, 1.75),
    "3/8-16": (9.525, 25.4 / 16), "7/16-14": (11.1125, 25.4 / 14),
    "10-24": (4.826, 25.4 / 24), "10-32": (4.826, 25.4 / 32),
    "1/4-20": (6.35, 25.4 / 20), "5/16-18": (7.9375, 25.4 / 18), "1/4 BSW": (6.35, 25.4 / 20), "3/16 BSF": (4.7625,
    25.4 / 32),
    "1/4 BSF": (6.35, 25.4 / 26), "1/4-28": (6.35, 25.4 / 28), "5/16-24": (7.9375, 25.4 / 24), "2 BA": (4.7, 0.81),
    "5/16 BSW": (7.9375, 25.4 / 18), "5/16 BSF": (7.9375, 25.4 / 22), "0 BA": (6.0, 1.0), "8-32": (4.166, 25.4 / 32),
}  # fmt: skip
"""Outside diameter and pitch (mm), from the names; published sizes, from memory."""
LEAST = {"cast-iron": 1.0, "aluminium": 1.25, "steel": 0.8, "reader": 1.0}
METRIC = (4, 5, 6, 8, 10, 12, 16, 20, 25, 30, 35, 40, 45, 50, 55, 60)
INCH = tuple(25.4 * n / 8 for n in (2, 3, 4, 5, 6, 7, 8, 10, 12, 14, 16, 18, 20))
WASHERS = ((4, 0.8), (4.17, 1.2), (4.83, 1.2), (5, 1.0), (6, 1.6), (6.35, 1.6), (8, 1.6), (9.5, 1.6), (10, 2.0))
"""Screw and thickness of its plain washer: published sizes, from memory."""
CAST, SAME_MM = "cast-iron", 0.6


@dataclass
class JointThere:
    """A joint that is to be made: what it is for, the thread that is there already, and how deep that really is."""

    axis: str
    way: str
    """``plate`` over old holes, ``reader`` bracket, ``pair`` of parts, ``slot`` with a T-nut, a ``gap`` filled."""
    part: str
    thread: str
    thread_mm: float
    drill_mm: float
    into: str
    grip_mm: float
    members: tuple = ("", "")
    """Member that holds the old holes, and the one that carries the scale."""
    slot: tuple = ()
    """Mouth, head, height of the head, depth in all."""
    made: bool = False
    fills: float = 0.0
    at_hand: float = 0.0


def a_joint(hand, axis):
    """Something to screw together on an axis."""
    chance, kit = hand.truth.chance(f"joint {axis}"), hand.truth.kits[axis]
    way = chance.choice(("plate", "plate", "reader", "pair", "slot", "gap"))
    inch = hand.truth.units == "in"
    thread = chance.choice(("1/4-20", "10-32", "10-24", "5/16-18", "1/4 BSW") if inch else ("M5", "M6", "M8", "M6"))
    d, pitch = THREADS[thread]
    deep = chance.uniform(0.8, 3.0) * d
    face = next(f for f in hand.truth.machine.faces if f.axis == axis and f.name == kit.face)
    holds = face.member
    if way == "plate" and chance.random() < 0.15:
        holds = face.reader_member
    if way == "reader":
        thread, deep = ("M4", chance.uniform(4, 9)) if not inch else ("8-32", chance.uniform(4, 9))
    grip = 12.0 if way == "plate" else chance.choice((6.0, 8.0, 10.0, 12.0))
    into = {"plate": CAST, "reader": "reader", "pair": "aluminium", "slot": "steel", "gap": CAST}[way]
    mouth = chance.uniform(9, 15)
    slot = (
        mouth,
        mouth * chance.uniform(1.6, 1.9),
        mouth * chance.uniform(0.5, 0.75),
        mouth * chance.uniform(1.25, 1.7),
    )
    return JointThere(
        axis,
        way,
        f"{way} of {axis}",
        thread,
        deep,
        deep + chance.uniform(1.5, 4) * pitch,
        into,
        grip,
        (holds, face.member),
        slot,
    )


def make_joint(hand, joint):
    """Note what is there, as it is asked for, and have the part proposed or type it."""
    desk, chance, kit = hand.desk, hand.truth.chance(f"make {joint.axis}"), hand.truth.kits[joint.axis]
    d, pitch = THREADS[joint.thread]
    if joint.way == "plate":
        face = next(f for f in hand.truth.machine.faces if f.axis == joint.axis and f.name == kit.face)
        first, apart = face.length * chance.uniform(0.15, 0.3), face.length * chance.uniform(0.3, 0.5)
        threaded = {
            "diameter": hand.caliper(d * chance.uniform(0.975, 1.0)),
            "pitch": pitch,
            "depth": max(1.0, joint.drill_mm),
        }
        if chance.random() < 0.6:  # a screw is turned in until it stops; or the hole is only gauged with a pin
            threaded["thread_deep"] = max(0.5, joint.thread_mm)
        hole = desk.hole(
            joint.axis, kit.face, joint.members[0], threaded, first, chance.uniform(-3, 3), count=2.0, apart=apart
        )
        desk.tried(hole, [name for name in desk.threads(hole) if _plain(name) == joint.thread])
        joint.made = desk.plate_proposed(joint.axis, "M5" if hand.truth.units == "mm" else "10-24")
    elif joint.way == "reader":
        desk.came(joint.axis, reader_depth=joint.thread_mm)
        part = desk.part(
            joint.axis, "plate", joint.part, (60.0, 40.0, joint.grip_mm), carries="other", bolts_to="reader"
        )
        for x in (15.0, 45.0):
            desk.drilled(part, x, 20.0, "clearance", joint.thread)
        joint.made = True
    elif joint.way == "gap":
        joint.fills, joint.at_hand = joint.grip_mm + chance.uniform(0.5, 8), joint.grip_mm + chance.uniform(9, 14)
        sizes = (60.0, 40.0, joint.at_hand - 1.0)
        desk.part(joint.axis, "bridge", joint.part, sizes, carries="other", fills="thickness",
                  gap=desk.length(joint.fills), stock_thick=desk.length(joint.at_hand))  # fmt: skip
        joint.made = True
    elif joint.way == "slot":
        sizes = dict(zip(("mouth", "head", "head_high", "depth"), map(hand.caliper, joint.slot), strict=True))
        nut = desk.slot(joint.axis, joint.members[1], sizes)
        joint.made = nut is not None
        if nut is not None:
            nut, joint.thread = nut
            bar = desk.part(joint.axis, "plate", joint.part, (60.0, 40.0, joint.grip_mm), carries="other", bolts_to=nut)
            for x in (15.0, 45.0):
                desk.drilled(bar, x, 20.0, "clearance", joint.thread)
    else:
        block = desk.part(joint.axis, "standoff", f"block of {joint.axis}", (60.0, 40.0, 25.0), carries="other")
        for x in (15.0, 45.0):
            desk.drilled(block, x, 20.0, "tapped", joint.thread, depth=joint.thread_mm)
        part = desk.part(joint.axis, "bridge", joint.part, (60.0, 40.0, joint.grip_mm), carries="other", bolts_to=block)
        for x in (15.0, 45.0):
            desk.drilled(part, x, 20.0, "counterbored" if joint.grip_mm >= 10 else "clearance", joint.thread)
        joint.made = True


def judge_joints(lived):
    """Whether every joint can be closed by what is said for it."""
    for joint in lived.joints:
        yield from _closed(lived, joint)


def _closed(lived, joint):
    if joint.members[0] != joint.members[1] and joint.way == "plate":
        if joint.made:
            yield Broken("tied", joint.axis, f"a plate holds {joint.members[0]} and {joint.members[1]} together")
        return
    if not joint.made:
        yield Broken("no plate", joint.axis, "no plate is proposed over the holes there are")
        return
    if joint.way == "gap":
        off = next((s["off_mm"] for s in lived.of("take_off", joint.axis) if s["part"] == joint.part), 0.0)
        if abs(joint.at_hand - off - joint.fills) > 0.1:
            yield Broken(
                "gap filled",
                joint.axis,
                f"{off:.2f} off a piece of {joint.at_hand:.2f} is said for a gap of {joint.fills:.2f}",
            )
        return
    if joint.way == "slot":
        yield from _in_the_slot(lived, joint)
        return
    screws = [s for s in lived.of("screw", joint.axis) if _mine(lived, joint, s)]
    if joint.way == "plate":  # as thick as it is said to be made
        joint.grip_mm = next(
            (s["stock_mm"][2] for s in lived.of("part", joint.axis) if s["name"].startswith("plate over")), 12.0
        )
    d, pitch = THREADS[joint.thread]
    for s in screws:
        yield from _clamps(joint, s, d, pitch)
    if not screws and _can_close(joint, d, pitch):
        yield Broken(
            "no screw",
            joint.axis,
            f"{joint.way}: {joint.thread} {joint.thread_mm:.1f} deep under {joint.grip_mm:g}, no screw is said",
        )


def _in_the_slot(lived, joint):
    """The T-nut slides in, stands below the lips, and its screw holds in it without reaching the slot's floor."""
    _, head, head_high, deep = joint.slot
    lip = deep - head_high
    bar = next((s for s in lived.of("part", joint.axis) if "T-nut" in s["name"]), None)
    if bar is None:
        yield Broken("no screw", joint.axis, "no T-nut is said for the slot")
        return
    _, wide, high = bar["stock_mm"]
    neck = high - (head_high - 0.5)
    if neck > lip - max(0.5, lip / 20) + 0.15:
        yield Broken(
            "neck", joint.axis, f"the neck is {neck:.2f} high under lips of {lip:.2f}: the part rides on the nut"
        )
    if wide > head - 0.3:
        yield Broken("width", joint.axis, f"the T-nut is {wide:.2f} wide in a head of {head:.2f}")
    d, _ = THREADS[_plain(joint.thread)]
    for s in (s for s in lived.of("screw", joint.axis) if s["part"] == joint.part):
        below = s["length_mm"] - joint.grip_mm
        held = min(below, lip + head_high - 0.5) - (lip - neck)
        if below > deep - 1:
            yield Broken("bottoms", joint.axis, f"{s['text']} reaches {below:.1f} into a slot {deep:.1f} deep")
        if held < LEAST["steel"] * d - 0.05 * d:
            yield Broken("holds too little", joint.axis, f"{s['text']} has {held:.1f} of thread in its T-nut")


def _plain(thread):
    return re.sub(r"x[\d.]+$", "", thread).replace(" UNC", "").replace(" UNF", "").lstrip("#")


def _mine(lived, joint, screw):
    return screw["part"] == joint.part or (
        joint.way == "plate" and "plate" in screw["part"] and joint.axis == screw["axis"]
    )


def _clamps(joint, s, d, pitch):
    name = _plain(s["thread"])
    if name not in THREADS:
        yield Broken("thread", joint.axis, f"a thread called {s['thread']} is not known in the shop")
        return
    said_d, said_pitch = THREADS[name]
    if abs(said_d - d) > 0.03 * d or abs(said_pitch - pitch) > 0.02 * pitch:
        yield Broken("thread", joint.axis, f"{s['thread']} is said where {joint.thread} is tapped")
        return
    sunk = min(d, joint.grip_mm - 1) if s["head"] == "sunk" else 0.0
    grip = joint.grip_mm - sunk + _washers(s, d)
    if abs(sum(s["layers_mm"]) - grip) > SAME_MM + 0.15 * d:
        yield Broken("layers", joint.axis, f"{s['text']} clamps {grip:.1f}, {sum(s['layers_mm']):.1f} is reckoned with")
    grip = sum(s["layers_mm"]) if s["head"] == "sunk" else grip
    engaged = s["length_mm"] - grip
    if engaged > joint.thread_mm - pitch + 1e-6:
        yield Broken("bottoms", joint.axis, f"{s['text']} goes {engaged:.1f} into a thread {joint.thread_mm:.1f} deep")
    if engaged < LEAST[joint.into] * d - 0.05 * d:
        yield Broken(
            "holds too little",
            joint.axis,
            f"{s['text']}: {engaged:.1f} in {joint.into}, {LEAST[joint.into] * d:.1f} at least",
        )
    sold = METRIC if name.startswith("M") or "BA" in name else INCH
    if all(abs(s["length_mm"] - mm) > 0.05 for mm in sold):
        yield Broken("not sold", joint.axis, f"{s['text']} is not sold in that length")


def _washers(s, d):
    """What the washers take that are said to lie under the head (mm)."""
    found = re.search(r"with (?:a nut and )?(a|\d+) washers?", s["text"])
    thick = min(WASHERS, key=lambda w: abs(w[0] - d))[1]
    return 0.0 if found is None else thick * (1 if found[1] == "a" else int(found[1]))


def _can_close(joint, d, pitch):
    sold = METRIC if joint.thread.startswith("M") else INCH
    clear = max(1.5 * pitch, 1.0)
    return any(joint.grip_mm + LEAST[joint.into] * d <= mm <= joint.grip_mm + joint.thread_mm - clear for mm in sold)

"""A power feed as it is: gears with their teeth, a screw that runs on after its trip, what must stop before what."""

import math
from dataclasses import dataclass

from tests.shop.judged.plan import Broken, said_of
from tests.shop.things.fitting import hang, stops_as_made

MODULES = (1.0, 1.25, 1.5, 2.0, 25.4 / 24, 25.4 / 20, 25.4 / 16, 25.4 / 12)
LASH_MM = (0.03, 0.35)
"""Backlash that runs: less grinds, more clatters; common practice, no source."""


@dataclass
class FeedThere:
    """A feed: its gears, what carries them, and how far it runs on after each trip (down, up)."""

    axis: str
    module: float
    teeth: tuple
    angle: float
    shaft: float
    out: float
    key: float
    bore: float
    gear_key: float
    face: float
    near: float
    clear: float
    run_on: tuple
    thread: tuple
    bearing: tuple
    """Diameter and width of the bearing its bracket takes; none where it is clamped."""
    pattern: tuple
    """Holes of the old bracket, across and up."""
    unit: tuple
    """Holes of the unit: across, up, and their middle from its gear, across and up."""
    clamp: float = 0.0
    """How far the clamp's face, to which the unit is screwed, stands outside the bearing bracket's."""
    wheel: float = 0.0
    """What the handwheel's hub takes of the screw; 0 where it goes."""


def a_feed(truth, axis):
    """A feed for an axis, of a seed."""
    chance = truth.chance(f"feed {axis}")
    shaft = chance.choice((12.0, 15.0, 16.0, 19.05, 20.0))
    key = chance.choice((0.0, 4.0, 5.0))
    near = chance.uniform(20, 50)
    face = chance.uniform(10, 18)
    found = FeedThere(
        axis, chance.choice(MODULES), (chance.randint(24, 60), chance.randint(12, 24)), chance.choice((14.5, 20.0)),
        shaft,
        chance.uniform(35, 90), key, shaft + chance.choice((0.0, 0.0, 5.0)), chance.choice((0.0, key, key)), face, near,
        chance.uniform(2, 5), (chance.uniform(1, 9), chance.uniform(1, 9)), chance.choice(((0.0, 0.0), (10.0, 1.0),
        (12.0, 1.5))),
        chance.choice(((), (chance.uniform(26, 40), chance.uniform(7, 11)))), (chance.uniform(60, 90),
        chance.uniform(30, 50)),
        (chance.uniform(50, 70), chance.uniform(25, 40), 0.0, chance.uniform(-35, -15)),
    )  # fmt: skip
    found.clamp = 0.0 if found.bearing else chance.choice((0.0, chance.uniform(-6, 14)))
    found.wheel = chance.choice((0.0, 0.0, chance.uniform(15, 30)))
    return found


def fit_feed(hand, feed):
    """Measure the kit and the screw's end, type them, and try the run-on in mid travel both ways."""
    desk, m = hand.desk, feed.module
    outside = [m * (z + 2) + hand.chance.uniform(-0.05, 0.05) for z in feed.teeth]
    drive = (
        {"gear_drive": hand.chance.choice(("pin", "set screw"))}
        if feed.gear_key == 0 and hand.chance.random() < 0.5
        else {}
    )
    desk.feed(
        feed.axis, shaft=hand.caliper(feed.shaft), shaft_length=hand.caliper(feed.out), shaft_key=feed.key,
        end_thread=feed.thread[0], gear_bore=hand.caliper(feed.bore), gear_key=feed.gear_key,
        gear_face=hand.caliper(feed.face),
        gear_teeth=float(feed.teeth[0]), unit_teeth=float(feed.teeth[1]), gear_outside=outside[0],
        unit_outside=outside[1],
        angle=f"{feed.angle:g}", school="indicator", unit_near=hand.caliper(feed.near),
        unit_far=hand.caliper(feed.near + feed.face),
        dial="no", wheel="yes" if feed.wheel else "no", clear=feed.clear, volts=230.0, shop_volts=230.0,
        rapid_rpm=240.0, fast_rpm=120.0, slow_rpm=10.0,
        **({"end_pitch": feed.thread[1]} if feed.thread[1] else {}), **drive,
        **({} if feed.bearing else {"clamp_face": hand.caliper(feed.clamp)}),
    )  # fmt: skip
    if feed.wheel:
        desk.feed(feed.axis, wheel_hub=hand.caliper(feed.wheel))
    machine = hand.truth.machine
    moving = machine.ways[feed.axis].moving
    if feed.wheel:
        moving = ""
    machine.solids[:] = [s for s in machine.solids if (s.name, s.member) != ("right handwheel", moving)]  # it goes
    if feed.bearing:
        desk.feed(
            feed.axis, bracket="replace", bearing=hand.caliper(feed.bearing[0]),
            bearing_width=hand.caliper(feed.bearing[1]),
            hole_across=hand.caliper(feed.pattern[0]), hole_up=hand.caliper(feed.pattern[1]), hole_thread="M6",
            unit_across=hand.caliper(feed.unit[0]), unit_up=hand.caliper(feed.unit[1]), unit_thread="M8",
            old_bracket=12.0, screw_below=40.0, table_end=75.0,
            pattern_x=feed.unit[2], pattern_y=feed.unit[3],
        )  # fmt: skip
    answer_drive(hand, feed)
    for way, ran in (("down", feed.run_on[0]), ("up", feed.run_on[1])):
        for speed, share in (("slow", 0.4), ("rapid", 1.0)):
            desk.ran_on(feed.axis, way, speed, max(0.1, ran * share + hand.chance.uniform(-0.2, 0.2)))


def answer_drive(hand, feed):
    """Say what drives gear and wheel and what holds them, where it is said that nothing does."""
    for _ in range(5):
        for s in hand.desk.says():
            if s["kind"] != "drive" or s["axis"] != feed.axis:
                continue
            if s["by"] is None and s["of"] == "gear":
                hand.desk.feed(feed.axis, gear_drive=hand.chance.choice(("pin", "set screw")))
            elif s["by"] is None:
                hand.desk.feed(feed.axis, wheel_drive=hand.chance.choice(("pin", "claws", "key")))
            if s["held_by"] is None and s["by"] not in (None, "free"):
                hand.desk.feed(feed.axis, gear_held="collar")


def judge_feeds(lived):
    """Trips before stops before the scale's ends; gears that mesh; torque that something carries."""
    for feed in lived.feeds:
        yield from _trips(lived, feed)
        yield from _mesh(lived, feed)
        if feed.bearing:
            yield from _bracket(lived, feed)
        yield from _turns(lived, feed)


def _turns(lived, feed):
    """The gear turns with the screw and can't walk off it: a key wants both keyways, everything something to hold it.

    A kit whose bore doesn't go over the shaft, or whose screw is too short for a socket, can't be carried at all.
    """
    said = {s["of"]: s for s in lived.of("drive", feed.axis)}
    if "gear" not in said or (feed.wheel and "wheel" not in said):
        yield Broken("no drive", feed.axis, "nothing is said of what drives the gear and what holds it on")
        return
    parts = {s["name"] for s in lived.of("part", feed.axis)}
    for of, s in said.items():
        if s["by"] is None:
            if _can_be_carried(feed):
                yield Broken("not driven", feed.axis, f"nothing drives the {of}")
            continue
        if s["by"] == "key" and of == "gear" and not (feed.gear_key and (feed.key or "coupler" in parts)):
            yield Broken(
                "not driven", feed.axis, f"a key drives the gear, of {feed.gear_key} and {feed.key} mm keyways"
            )
        if s["by"] == "key" and of == "wheel" and not feed.key:
            yield Broken("not driven", feed.axis, "a key drives the wheel on a shaft without one")
        if s["held_by"] is None and s["by"] != "free":
            yield Broken("walks off", feed.axis, f"nothing holds the {of} along the screw")
        if s["held_by"] == "nut" and not feed.thread[0]:
            yield Broken("walks off", feed.axis, "a nut holds it, and there is no thread")


def _can_be_carried(feed):
    """Whether a gear of that bore can sit on that shaft, on a sleeve, or on a coupler whose socket grips it."""
    out = feed.out - max(0.0, (feed.bearing[1] + 4 if feed.bearing else 12.0) - 12.0)
    near = feed.near + feed.clamp
    wall, reach = (feed.bore - feed.shaft) / 2, near + feed.face + feed.wheel + 0.8 * feed.thread[0]
    if reach <= out - 0.2:
        return wall < 0.03 or wall >= 2.05
    grips = min(out, near) if wall < 2 + feed.gear_key / 2 else out
    return grips >= 1.5 * feed.shaft + 1 and near > 1


def _trips(lived, feed):
    truth = lived.truth
    low, high = stops_as_made(truth, lived.said)[feed.axis]
    trips = {s["end"]: s["at_mm"] for s in lived.of("trip", feed.axis)}
    if set(trips) != {"low", "high"}:
        if high - low > sum(feed.run_on) + 2 * feed.clear + 20:
            yield Broken("no trip", feed.axis, f"trips are said for {sorted(trips)}")
        return
    stood = trips["low"] - feed.run_on[0], trips["high"] + feed.run_on[1]
    for end, over in (("low", low - stood[0]), ("high", stood[1] - high)):
        if over > 0.5:
            yield Broken("trip", feed.axis, f"tripped at the {end} end it runs {over:.1f} past its stop")
    said = said_of(lived, feed.axis)
    if said is not None:
        kit, h = truth.kits[feed.axis], hang(truth, feed.axis, said, covered=False)
        half = kit.reader[0] / 2 if kit.tape else 0.0
        past = max(h.starts - (h.reader_at(stood[0]) - half), h.reader_at(stood[1]) + half - h.ends)
        if past > 0.5:
            yield Broken("trip", feed.axis, f"tripped it carries the reader {past:.1f} past its scale")
    elif trips["low"] - low > 30 + feed.run_on[0] or high - trips["high"] > 30 + feed.run_on[1]:
        yield Broken(
            "trip",
            feed.axis,
            f"trips at {trips['low']:.1f} and {trips['high']:.1f} of {low:.1f} to {high:.1f} give much away",
        )


def _mesh(lived, feed):
    mesh = lived.one("mesh", feed.axis)
    if mesh is None:
        yield Broken("no mesh", feed.axis, "no centre distance is said of the gears")
        return
    pitch = feed.module * sum(feed.teeth) / 2
    lash = 2 * (mesh["centre_mm"] - pitch) * math.tan(math.radians(feed.angle))
    if not LASH_MM[0] <= lash <= LASH_MM[1]:
        yield Broken(
            "mesh",
            feed.axis,
            f"gears {mesh['centre_mm']:.2f} apart have {lash:.2f} of backlash; pitch circles touch at {pitch:.2f}",
        )


def _bracket(lived, feed):
    """The pocket is bored from the machine's side, and both patterns lie where their screws are."""
    holes = [s for s in lived.of("hole", feed.axis) if s["on"] == "feed bracket"]
    pocket = next((s for s in holes if s["thread"] is None and abs(s["diameter_mm"] - feed.bearing[0]) < 0.1), None)
    if pocket is None:
        yield Broken("pocket", feed.axis, f"no pocket of {feed.bearing[0]:.1f} is said")
        return
    if "machine" not in pocket["call"]:
        yield Broken("pocket", feed.axis, f"“{pocket['call']}” doesn't say from which side: it may come out mirrored")
    x, y = pocket["x_mm"], pocket["y_mm"]
    old = [(s["x_mm"] - x, s["y_mm"] - y) for s in holes if "M6" in s["call"]]
    for dx in (-0.5, 0.5):
        for dy in (-0.5, 0.5):
            wanted = dx * feed.pattern[0], dy * feed.pattern[1]
            if not any(abs(a - wanted[0]) < 0.3 and abs(b - wanted[1]) < 0.3 for a, b in old):
                yield Broken(
                    "pattern",
                    feed.axis,
                    f"no hole of the bracket lies over the old one at {wanted[0]:.1f}, {wanted[1]:.1f}",
                )
    unit = [(s["x_mm"] - x, s["y_mm"] - y) for s in holes if "M8" in s["call"]]
    mesh = lived.one("mesh", feed.axis)
    if unit and mesh is not None:
        middle = sum(b for _, b in unit) / len(unit)
        wanted = feed.unit[3] - mesh["centre_mm"]
        if abs(middle - wanted) > 5.0:
            yield Broken(
                "unit's holes",
                feed.axis,
                f"their middle is {-middle:.1f} below the screw; with the gears in mesh it is {-wanted:.1f}",
            )

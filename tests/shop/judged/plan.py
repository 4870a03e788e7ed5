"""What came of it: every judgement looks at metal, lengths or figures, never at how they were computed."""

from collections import Counter
from dataclasses import dataclass

from tests.shop.things.fitting import hang, overall, stops_as_made
from tests.shop.things.motion import clear_to, meets

RULE_MM = 1.0
"""What a stop set by rule from a mark may be off."""
KEPT_SHARE = 0.95


@dataclass(frozen=True)
class Broken:
    """One thing that came out wrong, of a kind, with its figures."""

    kind: str
    axis: str
    what: str


def judge(lived):
    """Everything that is broken in a job as it was lived."""
    return [*_metal(lived), *_scales(lived), *_lists(lived), *_order(lived)]


KEYS = {
    "travel": "travel_mm u_mm", "kept": "from_mm to_mm", "zone": "end mm how why",
    "scale": "family measuring_mm starts_mm overall_mm cut_to_mm source",
    "place": "axis_at_mm reader_at_mm within_mm", "spare": "low_mm high_mm",
    "face": "name stand_off_mm least_stand_off_mm",
    "body": "on from_mm to_mm across_mm across_from across_on",
    "cut": "what saw_mm end", "stop": "end before_mark_mm why measured made",
    "bumper": "length_mm between measured", "trip": "end at_mm decided_by", "drive": "of by held_by",
    "mesh": "centre_mm backlash_mm slide_mm verdict", "setting": "what value assumed", "check": "what due",
    "part": "name count material stock_mm state",
    "hole": "on face seen_from x_mm y_mm call thread diameter_mm depth_mm new",
    "screw": "part thread length_mm count layers_mm into_mm hole_mm head", "take_off": "part at_hand_mm to_mm off_mm",
    "shim": "under thickness_mm", "dial": "target plane hold move park_mm from_mm to_mm turn_deg",
    "gap": "least_mm most_mm limits_mm verdict", "cable": "need_mm have_mm anchors",
    "wire": "signal colour pin wanted_pin as_it_is",
    "key_in": "keyed way value u_mm over_mm",
    "verdict": "of value_mm u_mm limit_mm verdict", "buy": "what size count", "step": "key day hours done after",
    "finished": "of is",
}  # fmt: skip
"""What a statement of each kind must carry to be obeyed."""


def lacks(statement):
    """The figures that a statement of its kind must carry, and doesn't; of an unknown kind, that it is known."""
    return [k for k in KEYS.get(statement["kind"], "kind-is-known").split() if k not in statement]


def judge_statements(lived):
    """A statement of an unknown kind, without its datum or figures, or with an id that another one has."""
    ids = Counter(s["id"] for s in lived.said)
    for s in lived.said:
        if ids[s["id"]] > 1:
            yield Broken("statement", s["axis"], f"two statements are called {s['id']}")
        lacking = lacks(s)
        if lacking or not s["text"].strip():
            yield Broken("statement", s["axis"], f"{s['kind']} without {lacking}")


def said_of(lived, axis):
    """The statements of an axis that say where its scale hangs; None where one of them is missing."""
    found = {k: lived.one(k, axis) for k in ("face", "body", "place", "scale")}
    if any(v is None for v in found.values()):
        return None
    found["lift"] = _lift(lived, axis)
    cut = lived.one("cut", axis)
    return {**found, "cut": cut} if cut is not None else found


def _lift(lived, axis):
    """How far a plate over old holes carries the body above the middle of its face; 0 without one."""
    there = [s for s in lived.of("hole", axis) if not s["new"]]
    mine = [s for s in lived.of("hole", axis) if s["new"] and s["on"].startswith("plate over")]
    tapped, old = [s["y_mm"] for s in mine if s["thread"]], [s["y_mm"] for s in mine if not s["thread"]]
    return there[0]["y_mm"] + tapped[0] - old[0] if there and tapped and old else 0.0


def _hung(lived):
    covers = {s["axis"] for s in lived.of("buy") if s["what"] == "Cover"}
    hung = {}
    for axis in lived.truth.kits:
        said = said_of(lived, axis)
        if said is not None:
            hung[axis] = hang(lived.truth, axis, said, axis in covers)
    return hung


def _metal(lived):
    """Nothing meets inside the stops as made, and no stop takes more than metal asks for."""
    truth, machine = lived.truth, lived.truth.machine
    hung, ranges = _hung(lived), stops_as_made(truth, lived.said)
    solids = [*machine.solids, *(s for h in hung.values() for s in h.solids)]
    yield from (
        Broken("unanswered", "", f"{label} is asked for, and nothing here is called so") for label in lived.unanswered
    )
    for a, b, deep, where in meets(machine, solids, ranges)[:3]:
        at = ", ".join(f"{n} {mm:.1f}" for n, mm in where.items())
        yield Broken("metal", "", f"{a.name} meets {b.name}, {deep:.1f} deep, at {at}")
    yield from _standing(lived, hung)
    for s in lived.of("stop"):
        if not s["measured"]:
            yield Broken("brackets", s["axis"], f"{s['text']} rests on {s['rests_on']}")
        given = truth.give_up.get(s["axis"])
        if given is not None and given[2] == "driven" and s["end"] == given[0] and s["why"] == "given up":
            yield Broken(
                "driven", s["axis"], f"a stop is asked for at the {s['end']} end, where it has to be driven through"
            )
    yield from _bumpers(lived)
    marks = {n: (0.0, w.travel) for n, w in machine.ways.items()}
    for s in lived.of("stop"):
        if s["why"] in ("scale", "given up") or not s["measured"]:
            continue
        others = {**ranges, s["axis"]: marks[s["axis"]]}
        free = clear_to(machine, solids, others, s["axis"], s["end"])
        travel = machine.ways[s["axis"]].travel
        needed = travel - free if s["end"] == "high" else free
        if s["before_mark_mm"] > needed + (1 - KEPT_SHARE) * travel + 2 * RULE_MM:
            yield Broken("kept", s["axis"], f"stop {s['before_mark_mm']:.1f} before the mark, {needed:.1f} would do")


def _standing(lived, hung):
    """Nothing that is hung stands inside what it rides with, and the reader is beside the member that carries it."""
    machine = lived.truth.machine
    for axis, h in hung.items():
        parts = {s.name.split(": ")[1]: s for s in h.solids}
        for solid in machine.solids:
            for name in ("body", "reader"):
                part = parts[name]
                if part.member == solid.member and (deep := _inside(part, solid)) > 2 * RULE_MM:
                    yield Broken("inside", axis, f"its {name} stands {deep:.1f} inside the {solid.name}")
        way, reader = machine.ways[axis], parts["reader"]
        c = "xyz".index(way.direction[1])
        near = [s for s in machine.solids if s.member == reader.member]
        beside = max(min(reader.high[c], s.high[c]) - max(reader.low[c], s.low[c]) for s in near)
        if beside < 0.25 * (reader.high[c] - reader.low[c]):
            yield Broken(
                "reader's member",
                axis,
                f"set as said its reader stands {-beside:.1f} beyond the {reader.member} that is to carry it",
            )


def _inside(a, b):
    return min(min(a.high[c], b.high[c]) - max(a.low[c], b.low[c]) for c in range(3))


def _bumpers(lived):
    """A pillar as long as is said stops the axis where the stop is said to be."""
    gaps = lived.truth.machine.measured
    for b in lived.of("bumper"):
        stop = next((s for s in lived.of("stop", b["axis"]) if b["id"].endswith(s["end"])), None)
        if stop is None or not b["measured"]:
            continue
        gap = gaps.get("Saddle to column, saddle fully back") if b["axis"] == "Y" and stop["end"] == "high" else None
        if gap is None or "saddle" not in b["between"]:
            continue
        meets_at = b["length_mm"] - gap
        if abs(meets_at - stop["before_mark_mm"]) > 2 * RULE_MM:
            said = f"{b['length_mm']:.1f} long stops it {meets_at:.1f} before the mark"
            yield Broken("bumper", b["axis"], f"{said}, not {stop['before_mark_mm']:.1f}")


def _scales(lived):
    """The reader stays on its scale, its margin kept as far as the travel is known; what is spare is spare."""
    truth, ranges = lived.truth, stops_as_made(lived.truth, lived.said)
    for axis, kit in truth.kits.items():
        said = said_of(lived, axis)
        if said is None:
            if _could_hang(lived, axis):
                there = [s["kind"] for s in lived.said if s["axis"] == axis]
                yield Broken("silent", axis, f"no place for the reader is said; there is {there}")
            continue
        h = hang(truth, axis, said, covered=False)
        half = kit.reader[0] / 2 if kit.tape else 0.0
        low, high = ranges[axis]
        spare = (h.reader_at(low) - half - h.starts, h.ends - h.reader_at(high) - half)
        for end, mm in zip(("low", "high"), spare, strict=True):
            if mm < -RULE_MM:
                yield Broken(
                    "off the scale", axis, f"at the {end} stop the reader is {-mm:.1f} past the measuring length"
                )
        long = overall(kit, said)
        if abs(said["body"]["to_mm"] - said["body"]["from_mm"] - long) > 2 * RULE_MM:
            yield Broken(
                "body",
                axis,
                f"it is {long:.1f} long, and {said['body']['from_mm']:.1f} to {said['body']['to_mm']:.1f} is said",
            )
        if abs(said["scale"]["measuring_mm"] - (h.ends - h.starts)) > 2 * RULE_MM:
            yield Broken(
                "scale", axis, f"{said['scale']['measuring_mm']:.1f} is said, {h.ends - h.starts:.1f} is there"
            )
        told = lived.one("spare", axis)
        if told is not None and lived.one("scale", axis)["source"] in ("delivered", "there"):
            for end, mm in zip(("low", "high"), spare, strict=True):
                if abs(told[f"{end}_mm"] - mm) > 2 * RULE_MM:
                    yield Broken(
                        "spare", axis, f"{told[f'{end}_mm']:.1f} is said to be spare at the {end} stop, {mm:.1f} is"
                    )
        face = next(f for f in truth.machine.faces if f.axis == axis and f.name == said["face"]["name"])
        over = max(-h.on_body[0], h.on_body[1] - face.length)
        if over > 2 * RULE_MM and "stands over" not in said["body"]["text"]:
            yield Broken("body", axis, f"it hangs {over:.1f} over the end of its face, and nobody said so")


def _could_hang(lived, axis):
    """Whether a plain plan holds the scale: its measuring length takes the travel with a margin at both ends."""
    kit, scale = lived.truth.kits[axis], lived.one("scale", axis)
    travel = lived.truth.machine.ways[axis].travel
    head = kit.reader[0] if kit.tape else 0.0
    have = kit.there_mm or (scale["measuring_mm"] if scale is not None else max(kit.told["sizes"], default=2 * travel))
    return have >= travel + head + 25


def _lists(lived):
    """What is to be bought is enough for what is said, nothing is bought twice or though it is there."""
    truth = lived.truth
    for when, said in (("before", lived.before), ("after", lived.said)):
        buys = [s for s in said if s["kind"] == "buy"]
        for axis, kit in truth.kits.items():
            scale = next((s for s in said if s["kind"] == "scale" and s["axis"] == axis), None)
            mine = [b for b in buys if b["axis"] == axis and b["id"].endswith("/scale")]
            if kit.there_mm or scale is None or scale["source"] == "proposed":
                if kit.there_mm and mine:
                    yield Broken("list", axis, f"{when}: {mine[0]['text']} though it is there already")
                continue
            if when == "after":
                if mine:
                    yield Broken("list", axis, f"{mine[0]['text']} though it has arrived")
                continue
            if sum(b["count"] for b in mine) != 1:
                yield Broken("list", axis, f"{len(mine)} scales are to be bought for it")
            elif mine[0]["size_mm"] < scale["measuring_mm"] - 0.6:
                yield Broken("list", axis, f"{mine[0]['text']}, though {scale['measuring_mm']:.1f} is needed")
        new = [a for a, k in truth.kits.items() if truth.scope[a][0] == "new"]
        displays = [b for b in buys if b["what"].lower().startswith("display")]
        if new and not displays:
            yield Broken("list", "", f"{when}: no display is to be bought for {', '.join(new)}")
        twice = Counter((b["what"], b["axis"], b["size"]) for b in buys)
        yield from (Broken("list", k[1], f"{when}: {k[0]} stands there twice") for k, n in twice.items() if n > 1)


BEFORE = (
    ("survey", "plan"), ("plan", "order"), ("order", "receive"), ("receive", "drill"), ("receive", "stick"), ("stops",
    "reader"),
    ("drill", "align"), ("align", "reader"), ("reader", "cables"), ("cables", "powerup"), ("powerup", "calibrate"),
    ("calibrate", "prove"), ("make", "drill"),
)  # fmt: skip
"""What a person does before what, as steps are called; of one axis, or of the whole job."""


def _order(lived):
    """The steps can be done in the order in which they stand: nothing before what it needs."""
    steps, seen = lived.of("step"), {}
    for n, s in enumerate(steps):
        if s["key"] in seen:
            yield Broken("order", s["axis"], f"the step {s['key']} stands there twice")
        for need in s["after"]:
            if need not in seen:
                yield Broken("order", s["axis"], f"{s['key']} stands before {need}, which it needs")
        seen[s["key"]] = n
    for first, then in BEFORE:
        for key, n in seen.items():
            kind, _, axis = key.partition("-")
            if kind != then:
                continue
            earlier = [m for other, m in seen.items() if other in (first, f"{first}-{axis}")]
            if any(m > n for m in earlier):
                yield Broken("order", axis, f"{first} stands after {key}")

"""Planted mistakes: what is said is changed in a copy, and the shop must turn red; the table of it when run by itself.

``python -m tests.shop.sabotage`` tries every one on jobs that hold what it spoils.
"""

import copy
import re

from tests.shop.carried_out import carry_out, looked_at
from tests.shop.typing_in import Desk


def _first(said, kind, **having):
    return next((s for s in said if s["kind"] == kind and all(s.get(k) == v for k, v in having.items())), None)


def _add(kind, key, change, **having):
    """Change a figure of the first statement of a kind."""

    def spoil(said, lived=None):
        found = _first(said, kind, **having)
        if found is None or found[key] is None:
            return False
        was = found[key]
        found[key] = change(found[key])
        return found[key] != was

    return spoil


def _drop(kind, **having):
    def spoil(said, lived=None):
        found = _first(said, kind, **having)
        if found is not None:
            said.remove(found)
        return found is not None

    return spoil


def _again(kind, **having):
    def spoil(said, lived=None):
        found = _first(said, kind, **having)
        if found is not None:
            said.insert(said.index(found) + 1, dict(found))
        return found is not None

    return spoil


def _metal_stop(said):
    stops = [s for s in said if s["kind"] == "stop" and s["measured"] and s["before_mark_mm"] > 6]
    return next((s for s in stops if s["why"] not in ("scale", "given up")), None)


def _stop(change):
    def spoil(said, lived=None):
        found = _metal_stop(said)
        if found is not None:
            change(said, found)
        return found is not None

    return spoil


def _swap_ends(said, stop):
    stop["end"] = {"low": "high", "high": "low"}[stop["end"]]


def _half(said, stop):
    stop["before_mark_mm"] /= 2


def _thou(said, stop):
    stop["before_mark_mm"] /= 25.4


def _early(said, stop):
    stop["before_mark_mm"] += 60


def _other_mark(said, lived):
    place = _first(said, "place")
    if place is None:
        return False
    travel = lived.truth.machine.ways[place["axis"]].travel
    was = place["axis_at_mm"]
    place["axis_at_mm"] = travel - was + (0.25 * travel if abs(travel - 2 * was) < 0.1 * travel else 0)
    return True


def _other_end(said, lived):
    place = _first(said, "place")
    body = None if place is None else _first(said, "body", axis=place["axis"])
    if body is None:
        return False
    long = body["to_mm"] - body["from_mm"]
    place["reader_at_mm"] = long - place["reader_at_mm"] + (25 if abs(long - 2 * place["reader_at_mm"]) < 8 else 0)
    return True


def _other_face(said, lived):
    for face in (s for s in said if s["kind"] == "face" and _first(said, "bumper") is not None):
        if face["name"] == "in front of the table":
            face["name"] = "behind the table"
            return True
    for face in (s for s in said if s["kind"] == "face" and s["name"] == "in front of the table"):
        face["name"] = "behind the table"
        return True
    return False


def _unequal(said, lived):
    spare = next((s for s in said if s["kind"] == "spare" and abs(s["low_mm"] - s["high_mm"]) > 5), None)
    if spare is None:
        return False
    spare["low_mm"], spare["high_mm"] = spare["high_mm"], spare["low_mm"]
    return True


def _steps(change):
    def spoil(said, lived=None):
        steps = [n for n, s in enumerate(said) if s["kind"] == "step"]
        return bool(steps) and change(said, steps)

    return spoil


def _turned_round(said, steps):
    a, b = (next((n for n in steps if said[n]["key"].startswith(w)), None) for w in ("receive", "align-"))
    if a is None or b is None:
        return False
    said[a], said[b] = said[b], said[a]
    return True


def _last_first(said, steps):
    said.insert(steps[0], said.pop(steps[-1]))
    return len(steps) > 2


def _trip(low, high):
    def spoil(said, lived):
        trips = [s for s in said if s["kind"] == "trip"]
        for s in trips:
            s["at_mm"] += low if s["end"] == "low" else high
        return bool(trips)

    return spoil


def _trips_swapped(said, lived):
    trips = [s for s in said if s["kind"] == "trip"]
    for s in trips:
        s["end"] = {"low": "high", "high": "low"}[s["end"]]
    return bool(trips)


def _list(when, spoil):
    """A mistake in what was said to be bought before anything came, or after."""

    def at(said, lived):
        return spoil(lived.before if when == "before" else said, lived)

    return at


def _scale_bought(change):
    def spoil(said, lived):
        found = next((s for s in said if s["kind"] == "buy" and s["id"].endswith("/scale")), None)
        return found is not None and change(said, found)

    return spoil


def _gone(said, found):
    said.remove(found)
    return True


def _smaller(said, found):
    found["size_mm"] -= 50
    return True


def _still(said, lived):
    found = next((s for s in lived.before if s["kind"] == "buy" and s["id"].endswith("/scale")), None)
    if found is not None:
        said.append(dict(found))
    return found is not None


def _finished(early):
    def spoil(said, lived):
        if lived.finished is None or any(not s["is"] for s in lived.finished[2]):
            return False
        steps, soon, last = lived.finished
        changed = [dict(s, **{"is": early}) for s in (soon if early else last)]
        while early and steps and steps[-1].startswith(("rub-", "by-hand-")):
            steps = steps[:-1]
        lived.finished = (steps, changed, last) if early else (steps, soon, changed)
        return bool(steps)

    return spoil


def _screw(change):
    def spoil(said, lived):
        for joint in lived.joints:
            for s in said:
                mine = s["kind"] == "screw" and s["axis"] == joint.axis and joint.way != "slot"
                if mine and (s["part"] == joint.part or (joint.way == "plate" and "plate" in s["part"])):
                    return change(said, s)
        return False

    return spoil


def _longer(said, s):
    s["length_mm"] += 10 if s["thread"].startswith("M") else 12.7
    return True


def _shorter(said, s):
    s["length_mm"] = sum(s["layers_mm"]) + 1
    return True


def _blind(said, s):
    s["length_mm"] = sum(s["layers_mm"]) + 40
    return True


def _other_thread(said, s):
    s["thread"] = "1/4-20" if s["thread"].startswith("M") else "M6x1"
    return True


def _other_member(said, lived):
    joint = next((j for j in lived.joints if j.way == "plate" and j.made), None)
    if joint is not None:
        joint.members = ("saddle", "table") if joint.members[0] != "saddle" else ("table", "saddle")
    return joint is not None


def _bar(said, lived):
    bars = [s for s in said if s["kind"] == "part" and "T-nut" in s["name"]]
    return bars[0] if bars and any(j.way == "slot" for j in lived.joints) else None


def _neck(said, lived):
    bar = _bar(said, lived)
    if bar is not None:
        bar["stock_mm"] = [*bar["stock_mm"][:2], bar["stock_mm"][2] + 1.0]
    return bar is not None


def _wide_nut(said, lived):
    bar = _bar(said, lived)
    if bar is not None:
        bar["stock_mm"] = [bar["stock_mm"][0], bar["stock_mm"][1] + 1.0, bar["stock_mm"][2]]
    return bar is not None


def _pocket(said, lived):
    found = next((s for s in said if s["kind"] == "hole" and s["on"] == "feed bracket" and "pocket" in s["call"]), None)
    if found is not None:
        found["call"] = re.sub(r", pocket.*", "", found["call"])
    return found is not None


def _mirrored(said, lived):
    holes = [s for s in said if s["kind"] == "hole" and s["on"] == "feed bracket" and "M6" in s["call"]]
    for s in holes:
        s["y_mm"] = -s["y_mm"]
    return bool(holes)


def _gap_passes(said, lived):
    changed = False
    for s in (s for s in said if s["kind"] == "gap" and s["verdict"] == "fail"):
        s["verdict"], changed = "pass", True
    return changed


def _id_twice(said, lived):
    kept = [s for s in said if s["kind"] == "scale"]
    if len(kept) < 2:
        return False
    kept[1]["id"] = kept[0]["id"]
    return True


def _keyless(said, lived):
    place = _first(said, "place")
    spare = _first(said, "spare")
    if place is None or spare is None:
        return False
    del spare["low_mm"]
    said.remove(spare)
    said.append({**spare, "id": "spare/odd"})
    return True


def _foreign(said, lived):
    said.append({"id": "hint/1", "axis": "", "sheet": "scope", "kind": "hint", "text": "Mind the gap.", "rests_on": []})
    return True


AFTER = {
    "reader 13 mm up the body": _add("place", "reader_at_mm", lambda v: v + 13),
    "reader 13 mm down the body": _add("place", "reader_at_mm", lambda v: v - 13),
    "axis counted from the other mark": _other_mark,
    "reader counted from the body's other end": _other_end,
    "in front of for behind the table": _other_face,
    "stop dropped": _stop(lambda said, s: [said.remove(x) for x in [s]]),
    "stop at the other end": _stop(_swap_ends),
    "stop half as far": _stop(_half),
    "stop in thou for mm": _stop(_thou),
    "stop 60 mm too early": _stop(_early),
    "stop in brackets": _stop(lambda said, s: s.update(measured=False)),
    "bumper 13 mm too long": _add("bumper", "length_mm", lambda v: v + 13, measured=True),
    "bumper in thou for mm": _add("bumper", "length_mm", lambda v: v / 25.4, measured=True),
    "scale a size larger than it is": _add("scale", "measuring_mm", lambda v: v + 50),
    "spare of the other end": _unequal,
    "sawn 20 mm shorter": _add("cut", "saw_mm", lambda v: v - 20),
    "body told 13 mm too long": _add("body", "to_mm", lambda v: v + 13),
    "scale not on the list": _list("before", _scale_bought(_gone)),
    "scale on the list twice": _list("before", _scale_bought(lambda said, s: said.append(dict(s)) is None)),
    "a size too small on the list": _list("before", _scale_bought(_smaller)),
    "still to be bought once it has come": _still,
    "no display on the list": _list("before", lambda said, lived: _drop("buy", id="buy/display")(said)),
    "step twice": _steps(lambda said, steps: said.insert(steps[-1], dict(said[steps[-1]])) is None),
    "align before what arrives": _steps(_turned_round),
    "the last step first": _steps(_last_first),
    "finished before the last step": _finished(True),
    "never finished": _finished(False),
    "screw a length longer": _screw(_longer),
    "screw that hardly reaches": _screw(_shorter),
    "blind hole's depth ignored": _screw(_blind),
    "screw of the other system": _screw(_other_thread),
    "screw left out": _screw(_gone),
    "plate over both members": _other_member,
    "T-nut's neck as high as the lip": _neck,
    "T-nut too wide": _wide_nut,
    "pocket's side not said": _pocket,
    "bracket mirrored": _mirrored,
    "trips without run-on": _trip(-12, 12),
    "trips swapped": _trips_swapped,
    "gears 1 mm farther apart": _add("mesh", "centre_mm", lambda v: v + 1),
    "gears jammed": _add("mesh", "centre_mm", lambda v: v - 0.5),
    "centre distance left out": _drop("mesh"),
    "cable a quarter as long": _add("cable", "need_mm", lambda v: v / 4),
    "gap that fails passes": _gap_passes,
    "two statements of one name": _id_twice,
    "statement without its figure": _keyless,
    "statement of an unknown kind": _foreign,
}  # fmt: skip
"""Mistakes in what is said at the end."""


def _each(kind, change):
    def spoil(said):
        for s in said:
            if s["kind"] == kind:
                change(s)

    return spoil


def _swap_hold(s):
    s["hold"], s["move"] = s["move"], s["hold"]


def _other_sign(s):
    s["to_mm"] = 2 * s["from_mm"] - s["to_mm"]


def _twice_as_far(s):
    s["to_mm"] = s["from_mm"] + 2.2 * (s["to_mm"] - s["from_mm"])


def _upside_down(s):
    if s["keyed"] or s["value"] is None:
        return
    if s["way"] == "pair":
        s["value"] = s["value"][::-1]
    elif s["way"] in ("ppm", "mm_per_m"):
        s["value"] = -s["value"]
    elif s["way"] == "factor":
        s["value"] = 1 / s["value"]
    else:
        s["value"] = s["value"] * 1.01


def _inch_for_mm(s):
    if not s["keyed"] and s["way"].startswith("counts"):
        s["way"] = {"counts_per_inch": "counts_per_mm", "counts_per_mm": "counts_per_inch"}[s["way"]]


def _as_it_came(s):
    if s["what"] == "direction":
        s["value"] = "as it is"


OBEYED = {
    "the other end held": _each("dial", _swap_hold),
    "dial the other way": _each("dial", _other_sign),
    "dial moved twice as far": _each("dial", _twice_as_far),
    "factor upside down": _each("key_in", _upside_down),
    "counts per inch for per mm": _each("key_in", _inch_for_mm),
    "direction as it came": _each("setting", _as_it_came),
}
"""Mistakes in what the hand obeys while it works: the job is lived again with them."""


class Twisted(Desk):
    """A desk that says something else than it means."""

    spoil = None

    def says(self):
        said = copy.deepcopy(super().says())
        type(self).spoil(said)
        return said


def reddens(name, lives):
    """The seed of the first job in which a mistake is seen, and what is broken; None where none of them shows it."""
    for seed, lived, before in lives:
        if name in OBEYED:
            desk = type("Spoiled", (Twisted,), {"spoil": staticmethod(OBEYED[name])})
            broken = carry_out(seed, desk)[1]
        else:
            other = copy.copy(lived)
            other.said, other.before = copy.deepcopy(lived.said), copy.deepcopy(lived.before)
            other.joints = copy.deepcopy(lived.joints)
            if not AFTER[name](other.said, other):
                continue
            broken = looked_at(other)
        new = [b for b in broken if b not in before]
        if new:
            return seed, new[0]
    return None


def lived_through(seeds):
    """Jobs to plant mistakes in: (seed, as lived, what is broken anyhow)."""
    return [(seed, *carry_out(seed)) for seed in seeds]


if __name__ == "__main__":
    there = lived_through(range(60))
    for planted in (*AFTER, *OBEYED):
        found = reddens(planted, there)
        print(
            f"{planted:<42}", "NOT SEEN" if found is None else f"job {found[0]}: {found[1].kind}, {found[1].what[:90]}"
        )

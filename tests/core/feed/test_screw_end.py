"""The chain along the screw: over random kits the one scheme adds up, worked out here again from the kit's figures."""

import math
import random

import pytest

from vernus.core.errors import BadInputError
from vernus.core.feed.screw_end import Gear, ScrewEnd, driven, plan_screw_end
from vernus.job.formats.screw_end import screw_end_from

INCH = 25.4
CHAIN = {
    "screw_diameter_mm": 15, "projection_mm": 41, "key_mm": 6, "thread": None,
    "gear": {"bore_mm": 19.05, "keyway_mm": 6.35, "face_mm": 14}, "gear_plane_mm": [46, 60],
}  # fmt: skip


def kit(rng, unit):
    """A kit as somebody would type it in one unit system: sixteenths of an inch, or half millimetres."""
    step, per = (1 / 16, INCH) if unit == "in" else (0.5, 1.0)

    def size(low, high):
        return rng.randint(math.ceil(low / per / step), math.floor(high / per / step)) * step

    shaft = size(10, 28)
    plane = size(0, 60)
    return {
        "shaft": shaft, "out": size(12, 160), "key": rng.choice([0.0, size(3, 8)]),
        "bore": shaft + rng.choice([0, 0, 0, size(-2, 12)]), "slot": rng.choice([0.0, size(3, 8), size(3, 8)]),
        "face": size(8, 26),
        "plane": (plane, plane + size(8, 26)), "thread": rng.choice([0.0, shaft * 0.75]), "bracket": size(-4, 12),
        "dial": rng.choice([None, 0.0, size(8, 25)]), "wheel": rng.choice([None, 0.0, 0.0, size(15, 40)]),
        "drive": rng.choice([None, None, "key", "pin", "set screw", "claws"]),
        "wheel_drive": rng.choice([None, "claws", "pin", "free"]),
    }  # fmt: skip


def as_json(k, unit):
    def said(value):
        return None if value is None else f"{value!r} {unit}"

    return {
        "screw_diameter_mm": said(k["shaft"]), "projection_mm": said(k["out"]), "key_mm": said(k["key"]),
        "thread": {"diameter_mm": said(k["thread"])} if k["thread"] else None,
        "gear": {"bore_mm": said(k["bore"]), "keyway_mm": said(k["slot"]), "face_mm": said(k["face"]),
                 "drive": k["drive"]},
        "wheel_drive": k["wheel_drive"],
        "gear_plane_mm": [said(p) for p in k["plane"]], "bracket_mm": said(k["bracket"]),
        "dial_mm": said(k["dial"]), "wheel_mm": said(k["wheel"]),
    }  # fmt: skip


def check(k, plan, per):
    """Everything a machinist would lay out on the bench with these parts; ``k`` in its own unit, ``per`` in mm."""
    k = {n: tuple(p * per for p in v) if isinstance(v, tuple) else v if v is None or isinstance(v, str) else v * per
         for n, v in k.items()}  # fmt: skip
    out = k["out"] - k["bracket"]
    middle = sum(k["plane"]) / 2
    near, far = middle - k["face"] / 2, middle + k["face"] / 2
    assert plan.gear_plane_mm == pytest.approx((near, far)), "gear and unit gear in one plane"
    codes = {f.code: f.severity for f in plan.findings}
    if k["dial"] is None or k["wheel"] is None:
        assert (plan.scheme, plan.parts, codes) == (None, (), {"not-known": "caution"})
        return "asked"
    all_in = far + k["dial"] + k["wheel"] + 0.8 * k["thread"]
    assert plan.short_by_mm == pytest.approx(max(0.0, all_in - out), abs=1e-9)
    names = [p.part for p in plan.parts]
    gap = (k["bore"] - k["shaft"]) / 2
    if near < -1e-9:
        assert (plan.scheme, set(codes)) == (None, {"gear-in-the-bracket"})
    elif plan.scheme is None:
        assert "stop" in codes.values(), "nothing fits, and it is said why"
        assert plan.parts == ()
    elif plan.scheme == "direct":
        assert (names, all_in <= out + 1e-9, 0 <= gap + 1e-9 <= 0.026) == ([], True, True)
    elif plan.scheme == "sleeve":
        sleeve, other = plan.parts
        assert names == ["sleeve", "key" if k["key"] else "pin"]
        assert (sleeve.bore_mm, sleeve.seat_mm) == pytest.approx((k["shaft"], k["bore"]))
        assert (sleeve.from_mm, sleeve.from_mm + sleeve.length_mm) == pytest.approx((near, far))
        assert gap >= 2 - 1e-9, "two millimetres of wall"
        assert all_in <= out + 1e-9
        if other.part == "key":
            assert (other.from_mm, other.from_mm + other.length_mm) == pytest.approx((near, far)), "it reaches the gear"
            assert other.keyway_mm == pytest.approx(k["key"])
    torque_is_carried(k, plan, codes)
    if plan.scheme == "coupler":
        coupler, fastening = plan.parts
        socket = (coupler.from_mm, coupler.from_mm + coupler.socket_mm)
        assert coupler.socket_mm >= 1.5 * k["shaft"] - 1e-9
        assert 0 <= coupler.from_mm <= near + 1e-9, "the gear sits on the coupler along its whole face"
        assert names == ["coupler", "set screw" if k["key"] else "pin"]
        assert (coupler.bore_mm, coupler.seat_mm) == pytest.approx((k["shaft"], k["bore"]))
        assert coupler.from_mm + coupler.length_mm == pytest.approx(all_in)
        assert socket[0] >= -1e-9, "it begins outside the bracket"
        assert socket[1] <= out + 1e-9, "the socket has the screw in it all along"
        assert socket[0] <= fastening.from_mm <= socket[1]
        assert coupler.outside_mm > coupler.bore_mm + 4
        inside = out - near if "shaft-in-the-seat" not in codes else 0.0
        if inside > 1e-9:
            deep = 2.0 if k["slot"] else 0.0
            assert gap >= deep, "wall over the shaft where the gear's seat goes over it"
    return plan.scheme or "none"


def torque_is_carried(k, plan, codes):
    """From the screw to the gear every joint carries and nothing walks off, or it is a stop: turned by hand in mind."""
    if plan.scheme is None:
        assert not {"not-driven", "not-held"} & set(codes)
        return
    parts = [p.part for p in plan.parts]
    turns = {  # what the gear sits on turns with the screw, and the gear with that
        "direct": k["drive"] in ("pin", "set screw", "claws") or (k["key"] > 0 and k["slot"] > 0),
        "sleeve": k["drive"] in ("pin", "set screw", "claws") or (k["key"] > 0 and k["slot"] > 0)
        or ("pin" in parts and k["drive"] is None),
        "coupler": k["drive"] in ("pin", "set screw", "claws") or k["slot"] > 0,
    }[plan.scheme]  # fmt: skip
    own = k["wheel_drive"] is None and plan.scheme != "coupler"
    wheel = not k["wheel"] or (k["key"] > 0 if own or k["wheel_drive"] == "key" else k["wheel_drive"] is not None)
    assert ("not-driven" in codes) == (not turns or not wheel)
    stays = k["thread"] > 0 or k["drive"] in ("pin", "set screw")
    stays = stays or (plan.scheme == "sleeve" and "pin" in parts and k["drive"] is None)
    wheel_stays = not k["wheel"] or k["thread"] > 0 or k["wheel_drive"] in ("pin", "set screw")
    assert ("not-held" in codes) == (not stays or not wheel_stays)
    assert codes.get("not-driven", "stop") == codes.get("not-held", "stop") == "stop"


def run_kits(count, seed=1):
    """So many kits through the reader and the plan; how many came out each way."""
    rng, seen = random.Random(seed), {}
    for n in range(count):
        unit = ("mm", "in")[n % 2]
        k = kit(rng, unit)
        if k["bore"] <= 0:
            continue
        came = check(k, screw_end_from(as_json(k, unit)), INCH if unit == "in" else 1.0)
        seen[came] = seen.get(came, 0) + 1
    return seen


def test_every_random_kit_adds_up_in_both_unit_systems():
    assert set(run_kits(500)) == {"asked", "none", "direct", "sleeve", "coupler"}


def test_what_is_said_to_drive_agrees_with_what_stops():
    """Nothing is named as driving a gear or a wheel that nothing drives, and nothing left out that something does."""
    rng = random.Random(1)
    for _ in range(300):
        gear = Gear(rng.choice((15, 19.05)), rng.choice((0, 6)), 14, drive=rng.choice((None, "pin", "key", "claws")))
        wheel = rng.choice((None, "claws", "key", "free"))
        end = ScrewEnd(
            15, rng.choice((41, 90, 140)), rng.choice((0, 6)), gear, (46, 60), wheel_mm=22, wheel_drive=wheel
        )
        plan = plan_screw_end(end)
        stopped = " ".join(f.what.text() for f in plan.findings if f.code == "not-driven")
        for row in driven(end, plan):
            undriven = plan.scheme is None or ("handwheel" if row.of == "wheel" else "gear") in stopped
            assert (row.by is None) == undriven, (row, plan.scheme, stopped)


def test_a_short_screw_gets_one_coupler_that_brings_the_gear_to_its_plane():
    plan = screw_end_from(CHAIN)
    coupler, screw = plan.parts
    assert (plan.scheme, coupler.part, screw.part, plan.short_by_mm) == ("coupler", "coupler", "set screw", 19)
    assert (coupler.bore_mm, coupler.seat_mm, coupler.keyway_mm) == (15, 19.05, 6)
    assert coupler.from_mm == pytest.approx(41 - 22.5)
    assert coupler.from_mm + coupler.length_mm == pytest.approx(60)
    assert [f.code for f in plan.findings] == ["not-held"], "no thread for a nut"
    threaded = screw_end_from(CHAIN | {"thread": {"diameter_mm": 10}})
    assert threaded.findings == ()


@pytest.mark.parametrize("scheme", [{}, {"projection_mm": 120}, {"projection_mm": 120, "screw_diameter_mm": 19.05}])
def test_a_gear_that_nothing_drives_is_a_stop_in_every_scheme(scheme):
    end = CHAIN | {"thread": {"diameter_mm": 10}} | scheme
    gear = CHAIN["gear"]
    assert "not-driven" not in [f.code for f in screw_end_from(end).findings]
    bare = screw_end_from(end | {"gear": gear | {"keyway_mm": 0}})
    assert ("not-driven", "stop") in [(f.code, f.severity) for f in bare.findings]
    clawed = screw_end_from(end | {"gear": gear | {"keyway_mm": 0, "drive": "claws", "hub_mm": 6}})
    assert "not-driven" not in [f.code for f in clawed.findings]
    keyless = screw_end_from(end | {"key_mm": 0})
    direct = bare.scheme == "direct"
    assert ("not-driven" in [f.code for f in keyless.findings]) == direct, "a pin holds sleeve and coupler"
    with pytest.raises(BadInputError, match="drives nothing"):
        screw_end_from(end | {"gear": gear | {"drive": "glue"}})


def test_a_handwheel_on_a_bare_spigot_is_a_stop():
    end = CHAIN | {"thread": {"diameter_mm": 10}, "wheel_mm": 22}
    assert [f.code for f in screw_end_from(end).findings] == ["not-driven"]
    assert "handwheel: the coupler's end is a bare spigot" in screw_end_from(end).findings[0].what.text()
    keyless = screw_end_from(end | {"wheel_drive": "key", "key_mm": 0})
    assert "handwheel: the screw has no key for it" in keyless.findings[0].what.text()
    for said in ("key", "claws", "pin", "set screw", "free"):
        assert screw_end_from(end | {"wheel_drive": said}).findings == ()


def test_a_shaft_without_a_key_is_pinned():
    assert [p.part for p in screw_end_from(CHAIN | {"key_mm": 0}).parts] == ["coupler", "pin"]


def test_what_is_not_known_is_asked_and_nothing_fits():
    for unknown in ("dial_mm", "wheel_mm"):
        plan = screw_end_from(CHAIN | {"projection_mm": 200, unknown: None})
        assert (plan.scheme, plan.parts, plan.findings[0].code) == (None, (), "not-known")


def test_a_nut_takes_of_the_screw_only_where_there_is_a_thread():
    long = CHAIN | {"projection_mm": 60, "screw_diameter_mm": 19.05, "key_mm": 6.35}
    assert screw_end_from(long).scheme == "direct"
    threaded = screw_end_from(long | {"thread": {"diameter_mm": 12}})
    assert (threaded.scheme, threaded.short_by_mm) == ("coupler", pytest.approx(9.6))


def test_a_shaft_that_reaches_into_the_seat_has_to_end_before_it_and_what_spares_it_comes_first():
    gear = Gear(19.05, 6.35, 14, root_mm=50)
    plan = plan_screw_end(ScrewEnd(18, 60, 6, gear, (46, 60), wheel_mm=20))
    found = {f.code: f for f in plan.findings}["shaft-in-the-seat"]
    assert (plan.scheme, found.severity) == ("coupler", "stop")
    assert "14 mm into the gear's seat" in found.what.text()
    assert found.remedy.text().startswith("Spare the screw: shim the unit out by 14 mm")
    assert "or open the gear's bore" in found.remedy.text()
    assert "0.551 in" in found.what.text("in")
    small = plan_screw_end(ScrewEnd(18, 60, 6, Gear(19.05, 6.35, 14, root_mm=26), (46, 60), wheel_mm=20))
    assert "get a gear with a larger bore" in small.findings[0].remedy.text()
    unknown = plan_screw_end(ScrewEnd(18, 60, 6, Gear(19.05, 6.35, 14), (46, 60), wheel_mm=20))
    assert "measure it to its tooth roots" in unknown.findings[0].remedy.text()


@pytest.mark.parametrize(("root", "opened"), [(40.0, True), (27.0, False), (None, False)])
def test_a_bore_smaller_than_the_shaft_is_opened_only_where_three_millimetres_stay(root, opened):
    plan = plan_screw_end(ScrewEnd(20, 80, 5, Gear(19, 5, 14, root), (30, 44)))
    assert (plan.scheme, plan.findings[0].code, plan.findings[0].severity) == (None, "bore-too-small", "stop")
    assert plan.findings[0].remedy.text().startswith("Open the gear's bore") == opened


def test_a_stub_too_short_to_hold_on_has_no_scheme():
    plan = screw_end_from(CHAIN | {"projection_mm": 20})
    assert (plan.scheme, plan.findings[0].code) == (None, "no-grip")
    assert "22.5 mm" in plan.findings[0].what.text()


def test_a_key_of_another_system_is_told_where_the_gear_sits_on_the_shaft_itself():
    wide = ScrewEnd(19.05, 80, 6.35, Gear(19.05, 6, 14), (46, 60))
    assert plan_screw_end(wide).findings[0].code == "key-too-wide"
    narrow = ScrewEnd(19.05, 80, 6, Gear(19.05, 6.35, 14), (46, 60))
    assert plan_screw_end(narrow).findings[0].code == "key-too-narrow"


def test_the_key_of_a_sleeve_says_how_high_it_is_and_where_it_steps():
    plan = plan_screw_end(ScrewEnd(15, 90, 5, Gear(25.4, 6.35, 14), (46, 60)))
    told = plan.findings[0].what.text() + plan.findings[0].remedy.text()
    assert (plan.scheme, "in the hub" in told, "5.2 mm of wall" in told) == ("sleeve", True, True)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"gear": {"bore_mm": 19, "face_mm": 14}}, "keyway_mm"),
        ({"gear_plane_mm": [60, 46]}, "near side first"),
        ({"projection_mm": "far"}, "projection_mm"),
        ({"colour": "red"}, "colour"),
        ({"projection_mm": -3}, "larger than zero"),
        ({"dial_mm": -1}, "negative"),
    ],
)
def test_a_chain_that_cannot_be_is_refused_by_name(change, said):
    with pytest.raises(BadInputError, match=said):
        screw_end_from(CHAIN | change)

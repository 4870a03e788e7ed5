"""The bracket: over random patterns its holes lie where the mesh wants them, and what touches is told."""

import itertools
import math
import random

import pytest

from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import Bracket, how_held, plan_bracket, tapped_depth
from vernus.core.make.hole_rows import hole_said, hole_table
from vernus.core.make.parts import mirrored
from vernus.job.formats.bracket import bracket_from

INCH = 25.4
SPOTS = ((-42.0, -20.0), (42.0, -20.0), (-42.0, 20.0), (42.0, 20.0))
UNIT = ((-35.0, -60.0), (35.0, -60.0), (-35.0, -30.0), (35.0, -30.0))


def plate(**more):
    given = {
        "bearing_mm": (35.0, 9.0), "screw_mm": 15.0, "machine_holes": SPOTS, "machine_screw": "M6",
        "unit_holes": UNIT, "unit_screw": "M8", "unit_gear": (0.0, -1.0), "centre_mm": 54.0, "adjust_mm": 5.0,
        "top_mm": 45.0, "module_mm": 2.0,
    }  # fmt: skip
    return Bracket(**given | more)


def random_entry(rng, unit):
    """A bracket as somebody would type it, in steps of a half millimetre or of a sixteenth."""
    step, per = (1 / 16, INCH) if unit == "in" else (0.5, 1.0)

    def size(low, high):
        return round(rng.uniform(low, high) / per / step) * step

    def four(across, up, x, y):
        return [[f"{x + sx * across / 2} {unit}", f"{y + sy * up / 2} {unit}"] for sx in (-1, 1) for sy in (-1, 1)]

    return {
        "bearing": {"diameter_mm": f"{size(28, 52)} {unit}", "depth_mm": f"{size(7, 16)} {unit}"},
        "screw_diameter_mm": f"{size(12, 22)} {unit}",
        "machine_holes": four(size(50, 130), size(20, 60), 0.0, 0.0),
        "machine_screw": rng.choice(["M6", "M8", "1/4-20"]),
        "unit_holes": four(size(40, 120), size(20, 60), size(-20, 20), size(-60, 20)),
        "unit_screw": rng.choice(["M6", "M8", "5/16-18"]),
        "unit_gear": [rng.uniform(-1, 1), rng.choice([-1, 1]) * rng.uniform(0.1, 1)],
        "centre_distance_mm": f"{size(40, 90)} {unit}", "adjust_mm": f"{size(0, 8)} {unit}",
        "module_mm": rng.choice([1.5, 2.0, INCH / 12]), "top_limit_mm": f"{size(20, 120)} {unit}",
    }  # fmt: skip


def mm(text):
    value, unit = str(text).split() if isinstance(text, str) else (text, "mm")
    return float(value) * (INCH if unit == "in" else 1.0)


def ends_of(hole):
    """Dense places along a slot, worked out apart from the product."""
    a = math.radians(hole.slot_angle_deg)
    return [
        (hole.x_mm + t * hole.slot_mm * math.cos(a), hole.y_mm + t * hole.slot_mm * math.sin(a))
        for t in (n / 40 - 0.5 for n in range(41))
    ]


def check(entry, solved):
    by = {k: [h for h in solved.holes if h.for_ == k] for k in ("bearing", "screw", "machine", "unit")}
    codes = {f.code for f in solved.findings}
    gx, gy = entry["unit_gear"]
    long, centre = math.hypot(gx, gy), mm(entry["centre_distance_mm"])
    gear = (centre * gx / long, centre * gy / long)
    for hole, (x, y) in zip(by["unit"], entry["unit_holes"], strict=True):
        assert (hole.x_mm - gear[0], hole.y_mm - gear[1]) == pytest.approx((mm(x), mm(y)))
        assert hole.slot_mm == pytest.approx(2 * mm(entry["adjust_mm"]))
        if hole.slot_mm:
            a = math.radians(hole.slot_angle_deg)
            assert abs(math.cos(a) * gy - math.sin(a) * gx) < 1e-9, "slots lie along the line of centres"
    for hole, (x, y) in zip(by["machine"], entry["machine_holes"], strict=True):
        assert (hole.x_mm, hole.y_mm, hole.slot_mm) == pytest.approx((mm(x), mm(y), 0))
    assert by["screw"][0].diameter_mm == pytest.approx(mm(entry["screw_diameter_mm"]) + 1)
    assert solved.part.thickness_mm >= mm(entry["bearing"]["depth_mm"]) + 4 - 1e-9
    half_module = entry["module_mm"] / 2
    assert ("slots-too-short" in codes) == (mm(entry["adjust_mm"]) < half_module - 1e-9)
    sx, sy = solved.screw_mm
    for hole in solved.holes:
        for x, y in (ends_of(hole)[0], ends_of(hole)[-1]):
            edge = min(
                x + sx,
                solved.part.length_mm - x - sx,
                y + sy,
                solved.part.width_mm - y - sy,
            )
            assert edge >= hole.diameter_mm / 2 + 0.9, "inside the plate"
    over = solved.part.width_mm - sy > mm(entry["top_limit_mm"]) + 1e-9
    assert ("above-the-table" in codes) == over
    if not codes & {"hole-in-the-pocket", "patterns-collide"}:
        for a, b in itertools.combinations(by["machine"] + by["unit"], 2):
            near = min(math.dist(p, q) for p in ends_of(a) for q in ends_of(b))
            assert near - (a.diameter_mm + b.diameter_mm) / 2 >= 2.9, "metal between two holes"
        for a in by["machine"] + by["unit"]:
            near = min(math.hypot(*p) for p in ends_of(a))
            assert near - (a.diameter_mm + by["bearing"][0].diameter_mm) / 2 >= 5.9, "metal to the pocket"
        return "clean"
    return "touching"


def run_brackets(count, seed=1):
    """So many brackets through the reader and the plan; how many came out each way."""
    rng, seen = random.Random(seed), {}
    for n in range(count):
        entry = random_entry(rng, ("mm", "in")[n % 2])
        came = check(entry, bracket_from(entry))
        seen[came] = seen.get(came, 0) + 1
    return seen


def test_every_random_bracket_holds_its_patterns_or_says_what_touches():
    assert set(run_brackets(150)) == {"clean", "touching"}


@pytest.mark.parametrize(("gear", "angle"), [((0, -1), 90), ((0, 1), 90), ((1, 0), 0), ((-1, 0), 0), ((1, 1), 45)])
def test_slots_follow_the_unit_wherever_it_sits(gear, angle):
    solved = plan_bracket(plate(unit_gear=gear, top_mm=None))
    assert [h.slot_angle_deg for h in solved.holes if h.for_ == "unit"] == pytest.approx([angle] * 4)


def test_the_plate_has_pocket_screw_and_both_patterns_and_reads_as_a_part():
    solved = plan_bracket(plate(), sticks_out_mm=74, old_bracket_mm=9)
    assert [h.for_ for h in solved.holes] == ["bearing", "screw", *["machine"] * 4, *["unit"] * 4]
    assert (solved.part.thickness_mm, solved.projection_mm) == (13, 70)
    rows = hole_table(solved.part)
    assert [r.hole.kind for r in rows] == ["bore"] * 2 + ["clearance"] * 4 + ["slot"] * 4
    assert [f.code for f in solved.findings] == ["seen-from"]
    assert not any(f.severity == "stop" for r in rows for f in r.findings)
    assert "sticks out 70 mm" in solved.instruction.text()
    assert tapped_depth(solved, "M8") >= 8
    assert "tapped 8 mm deep at least" in how_held(solved, "M8").text()
    assert "13 mm are there" in how_held(solved, "M16").text()


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"unit_gear": (0, 1), "unit_holes": ((-35.0, 30.0), (35.0, 30.0))}, "above-the-table"),
        ({"unit_holes": ((0.0, 30.0),)}, "hole-in-the-pocket"),
        ({"unit_holes": ((42.0, 34.0),)}, "patterns-collide"),
        ({"adjust_mm": 0.8}, "slots-too-short"),
        ({"adjust_mm": 2.0}, "stays-in-mesh"),
        ({"thickness_mm": 11.0}, "plate-too-thin"),
        ({"screw_mm": 34.0}, "no-shoulder"),
    ],
)
def test_a_bracket_that_cannot_be_is_told(change, code):
    assert code in {f.code for f in plan_bracket(plate(**change)).findings}


def test_the_plate_at_hand_serves_or_says_what_is_missing():
    assert not [f for f in plan_bracket(plate(), stock_mm=(160, 190, 16)).findings if f.severity == "stop"]
    short = plan_bracket(plate(), stock_mm=(160, 60, 16)).findings
    assert [f.code for f in short] != []


def test_an_inch_bracket_is_the_same_in_inches():
    inch = plate(
        bearing_mm=(1.375 * INCH, 0.375 * INCH), machine_screw="1/4-20", unit_screw="5/16-18", top_mm=1.75 * INCH
    )
    solved = plan_bracket(inch)
    assert [f.code for f in solved.findings] == ["seen-from"]
    assert " in" in solved.instruction.text("in")


@pytest.mark.parametrize(
    "wrong", [{"bearing_mm": (0, 9)}, {"unit_gear": (0, 0)}, {"unit_holes": ()}, {"adjust_mm": -1}]
)
def test_what_cannot_be_solved_is_refused(wrong):
    with pytest.raises(BadInputError):
        plate(**wrong)
    with pytest.raises(BadInputError):
        plan_bracket(plate(thickness_mm=0.0))


def test_slots_of_any_length_are_judged_at_once():
    """A slip of the keyboard, a slot of a thousand kilometres, is an answer and not a wait."""
    assert "patterns-collide" in {f.code for f in plan_bracket(plate(adjust_mm=1e9)).findings}


def test_the_side_of_the_pocket_is_said_wherever_the_plate_is_read():
    solved = plan_bracket(plate())
    pocket, hole = hole_table(solved.part)[:2]
    assert "pocket from the machine's side" in hole_said(pocket).text()
    assert "machine" not in hole_said(hole).text()
    assert solved.part.seen == "seen from outside; pocket from the machine's side"
    turned = mirrored(solved.part, "other hand")
    assert turned.holes[0].far_side
    assert turned.holes[0].x_mm == pytest.approx(solved.part.length_mm - solved.part.holes[0].x_mm)

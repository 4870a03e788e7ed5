"""Parts with several faces: their hole tables, their usual holes, their other hand, and what could go wrong."""

import math
from dataclasses import replace
from typing import get_args

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import MATERIALS, thread_named
from vernus.core.make.hole_rows import hole_said, hole_table, lay_out
from vernus.core.make.parts import HoleKind, Part, PartCut, PartFace, PartHole, PartKind, mirrored
from vernus.core.make.reuse import HoleThere, review_school
from vernus.core.make.usual import usual_holes

BLOCK = Part("block", "standoff", 70, 30, 14, "aluminium", (
    PartHole(12, 15, "tapped", "M5"), PartHole(58, 15, "slot", "M5", 3), PartHole(35, 15, "counterbored", "M5"),
))  # fmt: skip
ANGLE = Part("angle", "angle", 90, 40, 8, "steel", leg_mm=35, bend_deg=88)
THREADS = ("M3", "M4", "M5", "M6", "M8", "1/4-20", "10-32", "6-32")


def codes(part):
    return [f.code for row in hole_table(part) for f in row.findings]


@pytest.mark.parametrize(
    ("kind", "long", "wide"),
    [("spacer", 18, 18), ("ring", 36, 36), ("cover", 30, 18), ("plate", 30, 30), ("bridge", None, 30)],
)
def test_usual_holes_want_a_diameter_and_a_half_to_every_edge_and_two_from_middle_to_middle(kind, long, wide):
    """M6: edges 9, middles 12 apart; a hair less is refused with the least size."""
    long = long or 60
    assert usual_holes(Part("p", kind, long, wide, 10, "steel"), "M6")
    for less in ((long, wide - 0.1), (long - 0.1, wide)) if kind != "bridge" else ((long, wide - 0.1),):
        with pytest.raises(BadInputError, match="too small"):
            usual_holes(Part("p", kind, *less, 10, "steel"), "M6")


def test_the_hole_table_says_what_to_drill_and_how_deep():
    tapped, slot, bore = hole_table(BLOCK)
    assert (tapped.drill_name, tapped.thread_depth_mm, tapped.drill_depth_mm) == ("4.2 mm", 14, None)
    assert (slot.drill_mm, slot.slot_mm) == (5.5, 11.5)
    assert (bore.drill_mm, bore.counterbore_mm, bore.size_mm) == (5.5, 10, 10)
    assert bore.counterbore_depth_mm == 5.4  # the head and 0.4 (DIN 974-2, from memory)
    blind = hole_table(replace(BLOCK, thickness_mm=40))[0]
    assert blind.drill_depth_mm == pytest.approx(10 + 1.2 + 3.2 + 1.26)  # the screw stays 1.5 pitches off the bottom
    assert blind.tape_flag_mm == 16


def test_inch_threads_give_inch_drills_by_their_names():
    plate = Part("p", "plate", 3 * 25.4, 25.4, 12.7, "steel", (
        PartHole(25.4, 12.7, "tapped", "1/4-20"), PartHole(50.8, 12.7, "clearance", "1/4-20"),
        PartHole(66, 12.7, "clearance", "10-32"),
    ))  # fmt: skip
    assert [r.drill_name for r in hole_table(plate)] == ["#7", "9/32", "#2"]


@pytest.mark.parametrize(
    ("face", "depth"), [("face", 8), ("leg", 8), ("left", 90), ("right", 90), ("lower", 40), ("upper", 40), ("back", 8)]
)
def test_a_hole_goes_into_what_lies_behind_its_own_face(face, depth):
    along, across, behind = ANGLE.size_of(face)
    assert behind == depth
    (row,) = hole_table(replace(ANGLE, holes=(PartHole(along / 2, across / 2, "tapped", "M4", face=face),)))
    assert (row.drill_depth_mm is None) == (depth < 20)


def test_two_legs_of_an_angle_and_the_ends_of_a_block_take_holes():
    part = replace(ANGLE, holes=(
        PartHole(20, 25, "clearance", "M6"), PartHole(45, 20, "slot", "M4", 5, face="leg", angle_deg=90),
        PartHole(20, 4, "tapped", "M4", face="right"),
    ))  # fmt: skip
    rows = hole_table(part)
    assert part.faces_used() == ["face", "leg", "right"]
    assert [r.hole.face for r in rows] == ["face", "leg", "right"]
    assert rows[1].ends == (pytest.approx((45, 15)), pytest.approx((45, 25)))
    assert "across the length" in hole_said(rows[1]).text()
    assert "16.5" not in hole_said(rows[1]).text()
    assert f"{rows[1].slot_mm:g} mm long overall" in hole_said(rows[1]).text()


@given(
    st.sampled_from(get_args(PartKind)), st.floats(20, 400), st.floats(12, 100), st.floats(3, 30), st.floats(0, 80),
    st.sampled_from(THREADS), st.sampled_from(MATERIALS),
)  # fmt: skip
def test_usual_holes_never_break_vernus_own_rules(kind, length, width, thick, leg, thread, material):
    part = Part("p", kind, length, width, thick, material, leg_mm=leg)
    try:
        holes = usual_holes(part, thread)
    except BadInputError as error:
        assert "too s" in str(error)
        return
    assert holes
    found = codes(replace(part, holes=holes))
    assert not {"off-the-part", "near-an-edge", "holes-too-near"} & set(found)


@given(st.sampled_from(get_args(PartKind)), st.sampled_from(THREADS))
def test_usual_holes_fit_a_part_of_usual_size(kind, thread):
    assert usual_holes(Part("p", kind, 120, 60, 20, "steel", leg_mm=60 if kind == "angle" else 0), thread)


_hole = st.builds(
    PartHole, st.floats(0, 70), st.floats(0, 30), st.sampled_from(get_args(HoleKind)), st.just("M5"), st.floats(0, 6),
    st.just(4.0), st.none(), st.sampled_from(get_args(PartFace)), st.floats(0, 179),
)  # fmt: skip


@given(st.lists(_hole, min_size=1, max_size=5))
def test_the_other_hand_is_the_mirror_image_and_twice_is_the_same(holes):
    part = Part("left", "angle", 70, 30, 14, "aluminium", tuple(holes), (PartCut("step", "left", 1, 2, 5, 4, 3),), 30)
    other = mirrored(part, "right")
    again = mirrored(other, "left")
    for one, two, there in zip(part.holes, again.holes, other.holes, strict=True):
        assert (one.face, one.kind) == (two.face, two.kind)
        assert (one.x_mm, one.y_mm) == pytest.approx((two.x_mm, two.y_mm), abs=1e-9)
        if one.face == "face":
            assert there.x_mm == pytest.approx(70 - one.x_mm)
            assert (
                math.sin(math.radians(there.angle_deg + one.angle_deg)) == pytest.approx(0, abs=1e-9) or not one.is_slot
            )
    assert [c.face for c in other.cuts] == ["right"]


@given(st.floats(5, 25), st.floats(-25, 25), st.floats(0, 180), st.floats(0.5, 12), st.floats(0.5, 12))
def test_metal_between_two_slots_is_what_a_fine_raster_finds(dx, dy, angle, one, two):
    assume(math.hypot(dx, dy) > 1)
    part = Part("p", "plate", 400, 400, 20, "steel", (
        PartHole(200, 200, "slot", "M4", one, angle_deg=angle), PartHole(200 + dx, 200 + dy, "slot", "M4", two),
    ))  # fmt: skip
    a, b = hole_table(part)

    def along(row):
        (x0, y0), (x1, y1) = row.ends
        return [(x0 + (x1 - x0) * n / 200, y0 + (y1 - y0) * n / 200) for n in range(201)]

    near = min(math.dist(p, q) for p in along(a)[::4] for q in along(b)[::4])
    metal = near - 4.5
    found = [f for f in b.findings if f.code == "holes-too-near"]
    if metal < -0.4:
        assert found[0].severity == "stop"
    elif near - 4 > 4.5:
        assert found == []


@pytest.mark.parametrize(
    ("part", "code"),
    [
        (replace(BLOCK, holes=(PartHole(1, 15, "tapped", "M5"),)), "off-the-part"),
        (replace(BLOCK, holes=(PartHole(5, 15, "tapped", "M5"),)), "near-an-edge"),
        (replace(BLOCK, holes=(PartHole(9, 15, "slot", "M5", 3),)), "near-an-edge"),
        (replace(BLOCK, thickness_mm=6, holes=(PartHole(35, 15, "tapped", "M5"),)), "thin-wall"),
        (replace(BLOCK, kind="face", holes=(PartHole(35, 15, "tapped", "M5"),)), "behind-the-wall"),
        (replace(BLOCK, holes=(PartHole(3, 15, "slot", "M5", 5),)), "off-the-part"),
        (replace(BLOCK, holes=(PartHole(35, 15, "tapped", "M6x0.75"),)), "fragile-thread"),
        (replace(BLOCK, holes=(PartHole(35, 15, "tapped", "M5"), PartHole(42, 15, "tapped", "M5"))), "holes-too-near"),
        (replace(BLOCK, thickness_mm=6, holes=(PartHole(35, 15, "counterbored", "M5"),)), "counterbore-too-deep"),
    ],
)
def test_what_could_go_wrong_is_told(part, code):
    assert code in codes(part)


def test_the_edge_rule_is_stated_with_its_own_numbers():
    part = replace(BLOCK, holes=(PartHole(5, 15, "tapped", "M5"),))
    (found,) = [f for f in hole_table(part)[0].findings if f.code == "near-an-edge"]
    assert found.what.text() == "Hole 1 of block is 5 mm from the left edge; 7.5 mm is kept (1.5 × 5 mm)."
    assert "2.5 mm" in found.remedy.text()


@pytest.mark.parametrize(("thread", "thick"), [("M4", 6), ("M3", 5), ("M3", 6), ("4-40", 4), ("6-32", 5)])
def test_advice_never_goes_in_a_circle(thread, thick):
    for material in MATERIALS:
        part = replace(BLOCK, thickness_mm=thick, material=material, holes=(PartHole(35, 15, "tapped", thread),))
        advice = " ".join(f.remedy.text() for row in hole_table(part) for f in row.findings)
        assert "smaller thread" not in advice
        assert "coarser thread" not in advice
        wants = {"aluminium": 2.0, "brass": 1.5, "plastic": 2.5, "cast-iron": 1.5}.get(material, 1.0)
        assert ("thin-wall" in codes(part)) == (thick < wants * thread_named(thread).major_mm - 1e-9)


def test_tools_are_laid_out_once_each_in_order():
    assert lay_out(hole_table(BLOCK)) == [
        "centre punch or transfer punch", "spot drill", "drill 4.2 mm", "drill 5.5 mm", "end mill for slots of 5.5 mm",
        "counterbore 10 mm for M5", "tap M5x0.8, guide block",
    ]  # fmt: skip


def test_a_screw_is_as_long_as_its_grip_and_what_it_goes_into_ask_for():
    sunk = PartHole(35, 15, "counterbored slot", "M4", 4, into="aluminium", angle_deg=90)
    (row,) = hole_table(replace(BLOCK, holes=(sunk,)))
    assert row.screw.in_words().text() == "M4 × 20"  # 14 − 4.4 + 2 × 4 = 17.6, the next one sold
    assert "counterbored 8 mm × 4.4 mm deep" in hole_said(row).text()
    assert "8 mm travel" not in hole_said(row).text()
    assert hole_said(row).text().endswith("and 16 mm long"), "the sunk part moves with its screw: 8 + 2 × 4"


def test_parts_that_cannot_be_are_refused():
    with pytest.raises(BadInputError, match="larger than zero"):
        replace(BLOCK, width_mm=0)
    with pytest.raises(BadInputError, match="not a thread"):
        hole_table(replace(BLOCK, holes=(PartHole(1, 1, "tapped", "M55"),)))
    with pytest.raises(BadInputError, match="no such leg"):
        replace(BLOCK, holes=(PartHole(1, 1, "tapped", "M5", face="leg"),))
    with pytest.raises(BadInputError, match="20 to 160"):
        replace(ANGLE, bend_deg=190)


FACE = Part(
    "rear", "face", 564, 33, 25, "cast-iron", (PartHole(15, 16, "tapped", "M6"), PartHole(500, 16, "tapped", "M6"))
)


def there(where, thread, *place):
    return HoleThere(where, thread_named(thread) if thread else None, tuple(place) or None)


def test_schools_object_to_new_holes_each_in_its_way():
    rows = hole_table(FACE)
    holes = [there("table, left of the drain", "M6")]
    assert review_school("drill", FACE, rows, holes) == []
    assert review_school("none", replace(FACE, kind="plate"), rows, holes) == []
    (none,) = review_school("none", FACE, rows, holes)
    assert "no new holes are wanted" in none.what.text()
    assert "T-slots" in none.remedy.text()
    assert "pacemakers" in review_school("stick", FACE, rows, holes)[0].remedy.text()


def test_a_hole_is_offered_once_and_only_within_reach():
    rows = hole_table(FACE)
    near, far = there("left of the drain", "M6", 18, 16), there("at the right", "5/16-18", 440, 20)
    one, two = review_school("reuse", FACE, rows, [far, near])
    assert (one.code, two.code) == ("hole-there", "hole-there")
    assert "left of the drain" in one.what.text()
    assert "3 mm away" in one.what.text()
    assert "slot" in one.remedy.text()
    assert "at the right" in two.what.text()
    assert "plate" in two.remedy.text()
    first, second = review_school("reuse", FACE, rows, [near])
    assert [first.code, second.code] == ["hole-there", "no-hole-there"]  # never twice the same one
    assert review_school("reuse", FACE, rows, [there("out of reach", "M6", 250, 16)])[0].code == "no-hole-there"
    assert "none noted" in review_school("reuse", FACE, rows, [])[0].what.text()


def test_a_plain_hole_is_drilled_to_its_diameter_and_leaves_room_for_setting():
    block = Part("block", "plate", 80, 40, 10, "steel")
    hole = PartHole(20, 20, "plain", "M8", bore_mm=10.0, into="steel")
    (row,) = hole_table(replace(block, holes=(hole,)))
    assert (row.drill_mm, row.drill_depth_mm) == (10.0, None)
    assert hole_said(row).text() == "hole 10 mm through for M8 (it can be set ± 1 mm)"
    assert row.screw.length_mm == 20
    assert codes(replace(block, holes=(replace(hole, bore_mm=7.5),))) == ["hole-too-small"]
    with pytest.raises(BadInputError, match="diameter larger than zero"):
        hole_table(replace(block, holes=(replace(hole, bore_mm=0.0),)))


@pytest.mark.parametrize(("apart", "code"), [(10.4, True), (11.5, False)])
def test_the_wall_between_two_counterbores_is_looked_at(apart, code):
    """M5 heads are sunk 10 wide: 0.4 of wall is told, 1.5 is not."""
    holes = tuple(PartHole(30 + n * apart, 20, "counterbored", "M5") for n in (0, 1))
    rows = hole_table(Part("plate", "plate", 80, 40, 12, "steel", holes))
    told = [f for r in rows for f in r.findings if f.code == "holes-too-near"]
    assert bool(told) == code
    if code:
        assert "leave a wall of 0.4 mm" in told[0].what.text("mm")

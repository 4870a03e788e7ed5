from dataclasses import replace
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import thread_named
from vernus.core.make.parts import Part, PartHole, PartKind, hole_table, lay_out, mirrored, review_school, usual_holes

BLOCK = Part("block", "standoff", 70, 30, 14, "aluminium", (
    PartHole(12, 15, "tapped", "M5"), PartHole(58, 15, "slot", "M5", 3), PartHole(35, 15, "counterbored", "M5"),
))  # fmt: skip


def test_the_hole_table_says_what_to_drill_and_how_deep():
    tapped, slot, bore = hole_table(BLOCK)
    assert (tapped.drill_name, tapped.thread_depth_mm, tapped.drill_depth_mm) == ("4.2 mm", 10, None)
    assert (slot.drill_mm, slot.slot_mm) == (5.5, 11.5)
    assert (bore.drill_mm, bore.counterbore_mm, bore.size_mm) == (5.5, 10, 10)
    blind = hole_table(replace(BLOCK, thickness_mm=40))[0]
    assert blind.drill_depth_mm == pytest.approx(10 + 3.2 + 1.26)
    assert blind.tape_flag_mm == 14.5


def test_inch_threads_give_inch_drills():
    (row,) = hole_table(Part("p", "plate", 3 * 25.4, 25.4, 12.7, "steel", (PartHole(25.4, 12.7, "tapped", "1/4-20"),)))
    assert row.drill_name == "#7"


@given(st.sampled_from(get_args(PartKind)), st.floats(30, 400), st.floats(24, 100))
def test_usual_holes_lie_on_the_part(kind, length, width):
    part = Part("p", kind, length, width, 20, "steel", usual_holes(kind, length, width, "M5"))
    assert part.holes
    codes = [f.code for row in hole_table(part) for f in row.findings]
    assert "off-the-part" not in codes


@given(st.lists(st.floats(0, 70), min_size=1, max_size=5))
def test_the_other_hand_is_the_mirror_image_and_twice_is_the_same(xs):
    part = replace(BLOCK, holes=tuple(PartHole(x, 10, "tapped", "M4") for x in xs))
    other = mirrored(part, "right")
    assert [h.x_mm for h in other.holes] == pytest.approx([70 - x for x in xs])
    assert [h.x_mm for h in mirrored(other, "block").holes] == pytest.approx(xs)


@pytest.mark.parametrize(
    ("part", "code"),
    [
        (replace(BLOCK, holes=(PartHole(1, 15, "tapped", "M5"),)), "off-the-part"),
        (replace(BLOCK, holes=(PartHole(5, 15, "tapped", "M5"),)), "near-an-edge"),
        (replace(BLOCK, thickness_mm=6, holes=(PartHole(35, 15, "tapped", "M5"),)), "thin-wall"),
        (replace(BLOCK, kind="face", holes=(PartHole(35, 15, "tapped", "M5"),)), "behind-the-wall"),
        (replace(BLOCK, holes=(PartHole(3, 15, "slot", "M5", 5),)), "off-the-part"),
        (replace(BLOCK, holes=(PartHole(35, 15, "tapped", "M6x0.75"),)), "fragile-thread"),
    ],
)
def test_what_could_go_wrong_is_told(part, code):
    assert code in [f.code for row in hole_table(part) for f in row.findings]


def test_tools_are_laid_out_once_each_in_order():
    assert lay_out(hole_table(BLOCK)) == [
        "centre punch or transfer punch", "spot drill", "drill 4.2 mm", "drill 5.5 mm", "counterbore 10 mm for M5",
        "tap M5x0.8, guide block",
    ]  # fmt: skip


def test_parts_that_cannot_be_are_refused():
    with pytest.raises(BadInputError, match="larger than zero"):
        replace(BLOCK, width_mm=0)
    with pytest.raises(BadInputError, match="not a thread"):
        hole_table(replace(BLOCK, holes=(PartHole(1, 1, "tapped", "M55"),)))


FACE = Part("rear", "face", 564, 33, 25, "cast-iron", (PartHole(15, 16, "tapped", "M6"),))


def test_schools_object_to_new_holes_each_in_its_way():
    rows = hole_table(FACE)
    there = [("table, left of the drain", thread_named("M6"))]
    assert review_school("drill", FACE, rows, there) == []
    assert review_school("none", replace(FACE, kind="plate"), rows, there) == []
    (none,) = review_school("none", FACE, rows, there)
    assert "no new holes are wanted" in none.what.text()
    assert "T-slots" in none.remedy.text()
    assert "pacemakers" in review_school("stick", FACE, rows, there)[0].remedy.text()


def test_a_hole_that_is_there_already_is_named():
    rows = hole_table(FACE)
    (there,) = review_school("reuse", FACE, rows, [("table, left of the drain", thread_named("M6"))])
    assert (there.code, there.severity) == ("hole-there", "info")
    assert "left of the drain" in there.what.text()
    (other,) = review_school("reuse", FACE, rows, [("knee", thread_named("5/16-18"))])
    assert "5/16-18 (knee)" in other.what.text()
    assert "none noted" in review_school("reuse", FACE, rows, [])[0].what.text()

"""Screw lengths, T-nuts, room for a drill, stock at hand, and patterns entered once and carried."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import ENGAGED_DIAMETERS, thread_named
from vernus.core.make.hole_rows import hole_table
from vernus.core.make.parts import Part, PartHole
from vernus.core.make.patterns import carried, chain_rest, circle, rectangle, row
from vernus.core.make.screws import (
    TSlot,
    drill_room,
    stock_finding,
    t_nut,
)

_spots = st.lists(st.tuples(st.floats(-200, 200), st.floats(-200, 200)), min_size=1, max_size=8)


def test_a_t_nut_slides_in_its_slot():
    nut = t_nut(TSlot(14, 23, 9, 23))
    assert nut.neck_mm < 14
    assert nut.neck_mm < nut.head_mm < 23
    assert nut.head_high_mm < 9
    assert nut.high_mm < 23
    assert nut.thread.name == "M10x1.5"  # the size sold for 12 slots; 14 ones take it with play (common practice)
    inch = t_nut(TSlot(5 / 8 * 25.4, 29, 12, 28), "inch").thread
    # A 5/8 slot takes a 1/2 stud in a forged nut, a plain bar the size below (common practice, no source).
    assert inch.name == "7/16-14"
    with pytest.raises(BadInputError, match="wider than its mouth"):
        TSlot(14, 10, 9, 23)
    with pytest.raises(BadInputError, match="no T-nut"):
        t_nut(TSlot(2, 5, 2, 6))


@pytest.mark.parametrize(
    ("room", "deep", "way"),
    # 3.1 in for a 1/4-20 in cast iron, 16 deep to the drill's tip.
    [(400, 20, "pistol drill"), (100, 20, "angle drill"), (3.1 * 25.4, 16.1, "angle drill"),
     (40, 20, "from the other side")],
)  # fmt: skip
def test_the_drill_follows_from_the_room(room, deep, way):
    found = drill_room(room, deep)
    assert found.way == way
    said = found.finding(room, deep)
    assert (said is None) == (way == "pistol drill")
    if way == "from the other side":
        assert said.severity == "stop"
        assert "other side" in said.remedy.text()


def test_stock_at_hand_serves_whichever_way_it_lies():
    good = stock_finding((140, 90, 16), (120, 160, 16))
    assert good.code == "stock-serves"
    assert "16 mm plate at hand" in good.what.text()
    assert "0.63 in plate" in good.what.text("in")
    assert "Mill it down" in stock_finding((140, 90, 14), (160, 120, 16)).remedy.text()
    bad = stock_finding((170, 90, 20), (160, 120, 16))
    assert bad.code == "stock-too-small"
    assert "not long enough and too thin" in bad.what.text()


@given(_spots, st.tuples(st.floats(-50, 50), st.floats(-50, 50)), st.booleans())
def test_a_carried_pattern_keeps_its_distances_and_back_again_is_the_same(spots, first, turned):
    there = carried(spots, first, turned=turned)
    assert there[0] == pytest.approx(first)
    for n, a in enumerate(spots):
        for m, b in enumerate(spots):
            assert math.dist(there[n], there[m]) == pytest.approx(math.dist(a, b), abs=1e-6)
    assert carried(there, spots[0], turned=turned) == [pytest.approx(s, abs=1e-6) for s in spots]


def test_faces_that_look_at_each_other_turn_a_pattern_left_for_right():
    assert carried([(0, 0), (30, 0), (0, 10)], (50, 5), turned=True) == [(50, 5), (20, 5), (50, 15)]
    assert carried([(0, 0), (30, 0), (0, 10)], (50, 5), turned=False) == [(50, 5), (80, 5), (50, 15)]
    assert carried([], (0, 0), turned=True) == []


@given(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), st.floats(1, 60), st.integers(1, 40), st.floats(-360, 360))
def test_a_circle_lies_on_its_radius_evenly(middle, radius, count, start):
    found = circle(middle, radius, count, start)
    assert len(found) == count
    assert all(math.dist(middle, p) == pytest.approx(radius) for p in found)
    chord = 2 * radius * math.sin(math.pi / count)
    for a, b in itertools.pairwise(found):
        assert math.dist(a, b) == pytest.approx(chord, abs=1e-6)


def test_rows_and_rectangles_count_from_their_first_hole():
    assert row((10, 5), (60, 0), 3) == [(10, 5), (70, 5), (130, 5)]
    assert rectangle((1, 2), (10, 20), (2, 2)) == [(1, 2), (11, 2), (1, 22), (11, 22)]
    for wrong in (
        lambda: row((0, 0), (1, 0), 0),
        lambda: rectangle((0, 0), (1, 1), (100, 100)),
        lambda: circle((0, 0), 0, 3),
    ):
        with pytest.raises(BadInputError):
            wrong()


def test_the_last_piece_of_a_chain_is_made_from_the_gap():
    assert chain_rest(47.2, 36.0) == pytest.approx(11.2)
    assert chain_rest(36.0, 36.5) == pytest.approx(-0.5)
    with pytest.raises(BadInputError):
        chain_rest(0, 5)


@pytest.mark.parametrize("thread", ["M6", "M8", "1/4-20", "10-24"])
@pytest.mark.parametrize("behind", [0.0, 0.7, 3.2, 4.4, 11.0])
@pytest.mark.parametrize("into", ["cast-iron", "aluminium", "steel"])
def test_a_screw_reaches_through_part_and_spacer_far_enough_into_what_it_holds(thread, behind, into):
    hole = PartHole(40, 30, "clearance", thread, into=into, behind_mm=behind)
    (row,) = hole_table(Part("plate", "plate", 80, 60, 12, "aluminium", (hole,)))
    engaged = row.screw.length_mm - 12 - behind
    assert engaged >= ENGAGED_DIAMETERS[into] * thread_named(thread).major_mm - 1e-6


@pytest.mark.parametrize("thread", ["M5", "M8", "1/4-20"])
@pytest.mark.parametrize("other", [3.0, 6.0, 12.7])
def test_a_screw_through_two_clearance_holes_takes_both_parts_and_its_nut(thread, other):
    hole = PartHole(40, 30, "clearance", thread, into="steel", through_mm=other, nut=True)
    (row,) = hole_table(Part("bridge", "bridge", 80, 60, 6, "aluminium", (hole,)))
    assert row.screw.length_mm >= 6 + other + thread_named(thread).major_mm
    assert row.screw.in_words().text().endswith("with a nut")

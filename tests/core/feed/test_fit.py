"""What of a kit fits: bores, keys, lengths, holes, threads, voltage."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.feed.fit import TurnedPart, compare_brackets, fit_holes, fit_keyway, fit_thread
from vernus.core.feed.keys import fit_key
from vernus.core.feed.speeds import CHECKS, Supply, answer_finding, feed_range, feed_rate, review_supply

INCH = 25.4


def test_inch_keys_in_metric_slots_and_the_other_way_round():
    """3/16 in is 4.7625 mm: 0.24 mm loose in a 5 mm slot, too wide by 0.24 the other way round."""
    loose = fit_key(INCH * 3 / 16, 5, rim_mm=180, shaft_mm=20)
    assert (loose.verdict, loose.slack_mm) == ("loose", pytest.approx(0.2375))
    assert loose.play_mm == pytest.approx(0.2375 * 9)
    assert "felt as 2.14 mm at the rim" in loose.words.text()
    assert "9.4 thou narrower" in loose.words.text("in")
    tight = fit_key(5, INCH * 3 / 16)
    assert (tight.verdict, tight.play_mm) == ("tight", None)
    assert "what stands out of the shaft, to 4.762 mm" in tight.words.text()
    assert fit_key(5, 5.02).verdict == "fits"
    with pytest.raises(BadInputError):
        fit_key(0, 5)


def test_a_turned_part_without_a_size_is_refused():
    with pytest.raises(BadInputError):
        TurnedPart("x", ((10, 0),))


@given(st.floats(60, 90), st.floats(60, 90), st.floats(6.6, 12))
def test_holes_fit_exactly_while_their_clearance_covers_them(machine, kit, hole):
    item = fit_holes("bracket holes", (machine, 40), (kit, 40), hole, 6)
    assert (item.verdict == "fits") == (abs(machine - kit) / 2 <= (hole - 6) / 2)


def test_the_end_thread_is_named_and_held_against_the_nut():
    assert fit_thread(11.95, 1.75, "M12x1.75").verdict in ("fits", "task")
    assert "3/8-24" in fit_thread(INCH * 0.372, INCH / 24, "M10x1").words.text()
    assert fit_thread(INCH * 0.372, INCH / 24, "").verdict == "open"
    assert fit_thread(3.3, 3.3, "M3").verdict == "open"


def test_a_key_that_does_not_fit_becomes_a_stepped_key_with_its_play():
    item = fit_keyway(4.7625, 5, 180, 20, 18)
    assert (item.verdict, "rim" in item.words.text()) == ("part", True)
    assert "Key 3/16 in, slot 5 mm." in item.words.text()
    part = item.part
    assert (part.shaft_width_mm, part.hub_width_mm, part.length_mm) == (4.7625, 5, 18)
    assert (part.height_mm, part.depth_mm) == pytest.approx((4.7625, 4.7625 / 2))
    assert "Usual on this shaft: 6 mm or 3/16 in" in fit_keyway(5, 5, None, 20, 18).words.text()
    assert "Usual" not in fit_keyway(6, 6, None, 20, 18).words.text()
    assert fit_keyway(6, 6, None, 20, 18).part is None


def test_a_key_too_wide_is_dressed_only_where_it_stands_out_of_the_shaft():
    item = fit_keyway(5, 4.76, None, 15, 18)
    assert "what stands out of the shaft, to 4.76 mm" in item.words.text()
    assert (item.part.shaft_width_mm, item.part.hub_width_mm, item.part.depth_mm) == (5, 4.76, 3)
    assert "0.1874 in" in item.words.text("in")


def test_both_ways_to_carry_it_are_compared_by_what_they_cost():
    clamp, replace = compare_brackets(30, 24, 18)
    assert (clamp.table_lost_mm, clamp.blocks_slots, clamp.parts) == (30, True, 0)
    assert (replace.table_lost_mm, replace.blocks_slots, replace.parts) == (0, False, 1)
    assert "a bracket of 24 mm to make, the screw sticks out 6 mm less" in replace.words.text()
    loose, unknown = compare_brackets(None, None, None, 74)
    assert "isn't measured" in loose.words.text()
    assert "0 mm" not in unknown.words.text()
    assert "sticks out, old bracket and bearing say" in unknown.words.text()
    _, measured = compare_brackets(30, 24, 18, 2 * INCH)
    assert "the screw then sticks out 1.764 in" in measured.words.text("in")


def test_feeds_follow_from_motor_gears_and_lead_in_both_unit_systems():
    assert feed_rate(240, (18, 36), 5) == 600
    found = feed_range(10, 160, 240, (18, 36), 5, 680)
    assert (found.rapid_mm_per_min, found.traverse_s) == (600, 68)
    assert "Feeds 25 mm/min to 400 mm/min, rapid 600 mm/min" in found.in_words().text()
    inch = feed_range(10, 160, 240, (18, 36), INCH / 5, 24 * INCH)
    assert "rapid 24.0 in/min" in inch.in_words().text("in")
    with pytest.raises(BadInputError):
        feed_range(200, 160, 240, (18, 36), 5, None)
    with pytest.raises(BadInputError):
        feed_rate(100, (18, 36), 0)


def test_every_check_of_commissioning_has_its_words():
    assert {answer_finding(name).severity for name in CHECKS} == {"stop", "caution"}


@pytest.mark.parametrize(
    ("unit", "shop", "codes"),
    [
        (Supply(110), Supply(230), ["other-voltage"]),
        (Supply(220), Supply(230), []),
        (Supply(), Supply(230, "1", 50), []),
        (Supply(400, "3", 50), Supply(230, "1", 50), ["other-voltage", "other-phases"]),
        (Supply(230, "1", 60), Supply(230, "1", 50), ["other-frequency"]),
        (Supply(230, "1", 50), Supply(230, "1", 50.2), []),
        (Supply(24, "dc"), Supply(24, "1"), ["other-phases"]),
    ],
)
def test_a_supply_is_compared_in_volts_phases_and_hertz_as_far_as_both_are_known(unit, shop, codes):
    assert [f.code for f in review_supply(unit, shop)] == codes


def test_another_frequency_says_how_fast_the_motor_then_runs():
    assert "83 % of its speed" in review_supply(Supply(hertz=60), Supply(hertz=50))[0].what.text()

"""Mix-ups told by their figures."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.prove.calibrate.calibration import MoveCheck
from vernus.core.prove.calibrate.counts import count_per_unit
from vernus.core.prove.calibrate.mixups import CLEAN_RATIOS, clean_ratio, review_keyed, review_ratio


@given(st.sampled_from(CLEAN_RATIOS), st.booleans(), st.floats(-0.004, 0.004))
def test_a_ratio_near_a_clean_one_is_that_one(ratio, under, off):
    wanted = 1 / ratio if under else ratio
    assert clean_ratio(wanted * (1 + off), 0.0) == pytest.approx(wanted)


@given(st.floats(0.98, 1.02))
def test_a_display_that_is_nearly_right_is_no_clean_ratio(ratio):
    assert clean_ratio(ratio, 0.0) is None
    assert review_ratio(ratio) == []


def test_a_ratio_known_badly_is_still_named_within_its_uncertainty():
    assert clean_ratio(2.03, 0.0) is None
    assert clean_ratio(2.03, 0.02) == 2.0


@pytest.mark.parametrize(
    ("ratio", "words"),
    [(25.4, "inch and mm"), (1 / 25.4, "inch and mm"), (2, "radius and diameter"), (0.5, "radius"), (10, "count size")],
)
def test_each_clean_ratio_says_what_it_means(ratio, words):
    found = review_ratio(ratio)[0]
    assert (found.code, found.severity) == ("clean-ratio", "stop")
    assert words in found.what.text()


def test_a_ratio_that_lands_on_a_standard_count_may_be_keyed_in_once_understood():
    """Set to 10 µm on a 5 µm scale: the display shows half, and 200 counts per mm are found."""
    half = count_per_unit(MoveCheck(500, 250, 100, u_moved_mm=0.002), 262)
    assert half.nominal_per_mm == 200
    assert [(f.code, f.severity) for f in half.findings] == [("clean-ratio", "caution")]
    lost = count_per_unit(MoveCheck(9.8425, 250, 200, u_moved_mm=0.002), 262)
    assert lost.nominal_per_mm is None
    assert lost.findings[0].severity == "stop"
    (found,) = review_ratio(0.25, lands=True)
    assert "key those in" in found.remedy.text(), "it says the same as the instruction beside it"
    (found,) = review_ratio(0.25)
    assert "don't make up for it" in found.remedy.text()


@given(st.floats(40, 2000), st.sampled_from([-1, 1]))
def test_a_correction_keyed_in_upside_down_doubles_the_error(ppm, sign):
    found = review_keyed(sign * ppm, 2 * sign * ppm, 5.0)
    assert [f.code for f in found] == ["factor-upside-down"]
    assert review_keyed(sign * ppm, 0.0, 5.0) == []
    assert review_keyed(sign * ppm, -2 * sign * ppm, 5.0) == []


def test_a_correction_inside_its_uncertainty_proves_nothing():
    assert review_keyed(15, 30, 5.0) == []

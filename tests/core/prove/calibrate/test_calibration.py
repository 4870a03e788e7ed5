import math
import random
import statistics

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.budget import blunders
from vernus.core.errors import BadInputError
from vernus.core.finding import plain
from vernus.core.prove.calibrate.calibration import MoveCheck, average_moves, odd_ones, odd_stations
from vernus.core.prove.calibrate.counts import count_per_unit, instruct_counts
from vernus.core.prove.calibrate.factor import fit_factor, instruct_factor

KEYED = plain("what the display takes")


def codes(result):
    return [f.code for f in result.findings]


@given(st.floats(0.1, 10), st.floats(1, 500), st.floats(10, 1000))
def test_counts_are_set_times_shown_over_moved(ratio, moved, per_mm):
    counts = count_per_unit(MoveCheck(moved * ratio, moved, per_mm))
    assert counts.counts_per_mm == pytest.approx(per_mm * ratio)
    assert counts.counts_per_inch == pytest.approx(25.4 * counts.counts_per_mm)
    assert counts.count_um * counts.counts_per_mm == pytest.approx(1000)


def test_the_display_itself_adds_two_roundings():
    check = MoveCheck(100, 100, 200, step_mm=0.01)
    assert check.u_display_mm == pytest.approx(0.01 / math.sqrt(6))
    finer = MoveCheck(100, 100, 200, step_mm=0.001)
    assert finer.u_display_mm == pytest.approx(0.005 / math.sqrt(6))


def test_exactly_one_standard_count_is_proposed():
    counts = count_per_unit(MoveCheck(2.0003 * 25.4, 50.8, 5080 / 25.4, u_moved_mm=0.01))
    assert counts.nominal_per_inch == pytest.approx(5080)
    beam = count_per_unit(MoveCheck(100.0, 100.0, 2560 / 25.4, u_moved_mm=0.005))
    assert beam.nominal_per_inch == pytest.approx(2560)


def test_a_move_too_short_to_tell_two_counts_apart_proposes_none():
    counts = count_per_unit(MoveCheck(1.0, 1.0, 100.4, u_moved_mm=0.02))
    assert counts.nominal_per_mm is None
    assert "two-standard-counts" in codes(counts)


@given(st.floats(50, 900), st.floats(0.001, 0.05), st.floats(0.002, 0.05))
def test_a_move_of_the_least_length_leaves_just_the_wanted_error(travel, u_moved, error):
    first = count_per_unit(MoveCheck(40, 40, 200, u_moved_mm=u_moved), travel, error)
    least = first.min_length_mm
    second = count_per_unit(MoveCheck(least, least, 200, u_moved_mm=u_moved), travel, error)
    assert 2 * second.u_rel * travel == pytest.approx(error)
    assert ("no-single-move" in codes(first)) == (least > travel and least > 40)


def test_a_short_move_says_how_long_it_must_be():
    counts = count_per_unit(MoveCheck(25.4, 25.4, 200, u_moved_mm=0.002), 500)
    assert codes(counts) == ["no-single-move"] or codes(counts) == ["move-too-short"]
    found = count_per_unit(MoveCheck(25.4, 25.4, 200, u_moved_mm=0.002), 100).findings[0]
    assert found.code == "move-too-short"
    assert "57.15 mm" in found.remedy.text("mm")
    assert "2.25 in" in found.remedy.text("in")


def test_a_reversed_direction_is_told_and_the_counts_stand():
    counts = count_per_unit(MoveCheck(-100, 100, 200))
    assert counts.reversed
    assert counts.counts_per_mm == 200
    assert codes(counts) == ["direction-reversed"]


def test_counts_far_from_any_standard_are_suspect():
    assert "counts-suspect" in codes(count_per_unit(MoveCheck(100.5, 100, 200)))


@pytest.mark.parametrize(
    ("wrong", "part"),
    [
        ({"moved_mm": 0}, "move is zero"),
        ({"shown_mm": 0}, "no movement"),
        ({"set_per_mm": 0}, "larger than zero"),
        ({"u_moved_mm": -1}, "negative"),
    ],
)
def test_impossible_checks_are_refused(wrong, part):
    with pytest.raises(BadInputError, match=part):
        MoveCheck(**{"shown_mm": 100, "moved_mm": 100, "set_per_mm": 200, **wrong})


@given(st.floats(0.99, 1.01), st.floats(-5, 5), st.floats(0.5, 2))
def test_a_true_line_is_found_and_the_factor_takes_it_out(slope, intercept, current):
    true = [0.0, 63.5, 127.0, 300.0, 311.0]
    shown = [intercept + slope * t for t in true]
    fit = fit_factor(true, shown, current)
    assert fit.slope == pytest.approx(slope, rel=1e-9)
    assert fit.factor == pytest.approx(current / slope, rel=1e-9)
    assert fit.ppm == pytest.approx((1 / slope - 1) * 1e6, abs=1e-3)


def test_two_stations_give_no_uncertainty_and_say_so():
    fit = fit_factor([0, 100], [0, 100.02])
    assert (fit.u_slope, fit.u_factor, fit.u_intercept_mm, fit.residual_sd_mm) == (None, None, None, None)
    assert "two-stations" in codes(fit)


def test_a_correction_beyond_the_family_limit_is_suspect():
    fit = fit_factor([0, 100, 200, 300], [0, 100.1, 200.2, 300.3])
    assert codes(fit) == ["ppm-suspect"]
    assert "−999 ppm" in fit.findings[0].what.text()
    assert "check the reference" in instruct_factor(fit, KEYED).text()


def test_an_error_inside_its_uncertainty_is_left_alone():
    fit = fit_factor([0, 100, 200, 300], [0.004, 99.998, 200.003, 299.999])
    assert "factor-not-needed" in codes(fit)
    assert instruct_factor(fit, KEYED).text().startswith("Leave the factor")


@pytest.mark.parametrize(
    ("true", "shown", "current"),
    [([1], [1], 1), ([1, 1], [1, 2], 1), ([0, 1], [1, 0], 1), ([0, 1], [0, 1], 0), ([0, 1], [0], 1)],
)
def test_impossible_stations_are_refused(true, shown, current):
    with pytest.raises(BadInputError):
        fit_factor(true, shown, current)


def test_the_instruction_prefers_the_standard_count_and_says_why():
    counts = count_per_unit(MoveCheck(100.002, 100, 200, u_moved_mm=0.002), 80)
    text = instruct_counts(counts, 100, per_inch=True, keyed=KEYED).text()
    assert text.startswith("Key what the display takes into the display")
    assert "5080.10" in text
    short = count_per_unit(MoveCheck(10.02, 10, 200), 500)
    assert (
        instruct_counts(short, 10, per_inch=False, keyed=KEYED)
        .text()
        .startswith("Don't key in 200.40 counts per mm yet")
    )


@given(st.floats(0.9, 1.1), st.floats(1, 500), st.lists(st.floats(-0.01, 0.01), min_size=2, max_size=9))
def test_repeats_of_one_move_are_averaged_and_their_scatter_is_part_of_the_answer(ratio, moved, off):
    """u_D² = s²/n + entered² + q²/6 (JCGM 100:2008, 4.2, 4.3.7): the rounding counted once."""
    shown = [ratio * moved + o for o in off]
    check = average_moves(shown, [moved] * len(off), 200.0, 0.001, 0.002, 0.005)
    mean, sd = statistics.fmean(shown), statistics.stdev(shown)
    assert check.shown_mm / check.moved_mm == pytest.approx(mean / moved)
    assert check.scatter_mm == pytest.approx(sd, abs=1e-9)
    assert check.u_display_mm == pytest.approx(math.sqrt(sd**2 / len(off) + 0.001**2 + 0.005**2 / 6))


@given(st.lists(st.floats(5, 300), min_size=2, max_size=6), st.floats(0.99, 1.01))
def test_moves_of_different_length_give_the_weighted_ratio(moved, ratio):
    check = average_moves([ratio * m for m in moved], moved, 200.0)
    assert check.shown_mm / check.moved_mm == pytest.approx(ratio)
    assert check.scatter_mm == pytest.approx(0, abs=1e-9)


def test_the_one_standard_count_in_reach_of_three_repeats():
    """20000 per inch set; 2.000 in moved three times shows 0.2559, 0.2561, 0.2560: a beam's 2560."""
    shown = [25.4 * s for s in (0.2559, 0.2561, 0.2560)]
    check = average_moves(shown, [50.8] * 3, 20000 / 25.4, u_moved_mm=0.002, step_mm=0.00254)
    found = count_per_unit(check, 150, 0.02, "in")
    assert found.nominal_per_inch == pytest.approx(2560)
    assert check.k > 2, "three repeats are few"


def test_a_count_off_every_standard_is_told_in_the_displays_own_unit():
    check = average_moves([50.8 * 1.002], [50.8], 2560 / 25.4, step_mm=0.001)
    text = next(f for f in count_per_unit(check, per="in").findings if f.code == "counts-suspect").what.text()
    assert "2560 per inch" in text


@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_one_repeat_far_off_the_others_is_named_and_an_even_scatter_is_not(unit):
    moved = [50 * unit] * 6
    even = [50 * unit + o * unit for o in (0, 0.001, -0.001, 0.002, 0, 0.001)]
    assert odd_ones(even, moved, 0.001 * unit) == []
    even[3] = 50.5 * unit
    assert odd_ones(even, moved, 0.001 * unit) == [3]
    even[5] = 49.2 * unit
    assert odd_ones(even, moved, 0.001 * unit) == [5, 3], "up to a third, farthest first"
    assert odd_ones(even[:2], moved[:2], 0.001) == []


@pytest.mark.parametrize("n", [4, 5, 7, 10, 20, 50])
def test_clean_readings_are_hardly_ever_asked_about_and_a_slip_is(n):
    chance, asked, seen = random.Random(n), 0, 0
    for _ in range(400):
        clean = [chance.gauss(0, 0.004) for _ in range(n)]
        asked += bool(blunders(clean, 0.0001))
        clean[n // 2] += 0.5
        seen += blunders(clean, 0.0001)[:1] == [n // 2]
    assert asked / 400 <= 0.03
    assert seen / 400 >= 0.9


def test_a_slip_among_stations_is_named_and_a_slope_or_a_bend_is_not():
    true = [0, 80, 160, 240, 320, 400, 480]
    shown = [t * 1.0004 + o for t, o in zip(true, (0.001, -0.001, 0, 0.001, 0, -0.001, 0.001), strict=True)]
    assert odd_stations(shown, true, 0.001) == []
    assert odd_stations([s + 0.00000005 * t * (480 - t) for s, t in zip(shown, true, strict=True)], true, 0.001) == []
    shown[4] += 0.2
    assert odd_stations(shown, true, 0.001) == [4]

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.bench.machine import Faults, SimulatedBody
from vernus.core.align.corrections import (
    analyse_roll,
    learned_gain,
    review_range,
    review_roll,
    review_tightening,
    shims_at_ends,
    what_is_left,
)
from vernus.core.align.means import instruct_roll
from vernus.core.align.sweep import Indicator, analyse_sweep, propose_stations
from vernus.core.align.sweep_review import Gain, gain_between
from vernus.core.errors import BadInputError

X = [0.0, 100.0, 200.0, 300.0, 400.0]


def sweep(slope, indicator=None, tolerance=0.05):
    held = indicator or Indicator(division_mm=0.001)
    return analyse_sweep(X, [slope * x / held.sign / held.cosine for x in X], held, tolerance)


@given(st.floats(-0.003, 0.003), st.floats(-50, 50), st.floats(100, 900))
def test_shims_at_the_ends_level_the_line_and_none_is_negative(slope, left, apart):
    moves = shims_at_ends(sweep(slope), (left, left + apart))
    assert min(moves.left_mm, moves.right_mm) == 0
    assert moves.left_mm >= 0
    assert moves.right_mm >= 0
    assert slope * apart + moves.right_mm - moves.left_mm == pytest.approx(0, abs=1e-9)


def test_what_earlier_moves_achieved_scales_the_next():
    assert shims_at_ends(sweep(0.001), (0, 400), gain=0.8).left_mm == pytest.approx(0.5)
    assert learned_gain([Gain(0.8, 0.05), Gain(0.9, 0.05), Gain(0.7, 0.05)]) == 0.8
    assert learned_gain([Gain(0.1, 0.05), Gain(0.9, 0.5), Gain(-1, 0.01)]) == 1.0
    assert learned_gain([Gain(3, 0.01)]) == 1.5


@pytest.mark.parametrize("seed", range(5))
def test_a_screw_that_takes_part_of_it_back_is_learned(seed):
    body = SimulatedBody(500, Faults(tilt_mm_per_m=2.0, screw_play=0.35), seed, division_mm=0.001)
    stations = propose_stations(*body.screws_mm, 7)

    def read():
        return analyse_sweep(stations, [body.reading(x) for x in stations], body.indicator)

    before = read()
    moves = shims_at_ends(before, body.screws_mm)
    body.move_screw("left", moves.right_mm - moves.left_mm)
    after = read()
    gain = learned_gain([Gain(1 - after.line.slope / before.line.slope, 0.02)])
    assert gain == pytest.approx(0.65, abs=0.02)
    again = shims_at_ends(after, body.screws_mm, gain)
    body.move_screw("left", again.right_mm - again.left_mm)
    assert abs(body.tilt_mm) < 0.02
    third = read()
    assert gain_between(after, third, after.line.slope / gain).value == pytest.approx(0.65, abs=0.02), (
        "of what was advised"
    )
    assert gain_between(after, third).value == pytest.approx(1, abs=0.03), "of what was there"


def test_readings_beyond_the_indicators_range_stop_the_advice():
    (found,) = review_range([-0.4, 0.5], 0.8)
    assert (found.code, found.severity) == ("indicator-out-of-range", "stop")
    assert review_range([-0.4, 0.4], 0.8) == []
    assert review_range([], 0.8) == review_range([1, 2], None) == []


def test_tightening_that_moves_the_body_is_told_with_how_far():
    (found,) = review_tightening(sweep(0.0), sweep(0.0001))
    assert "by +0.040 mm end to end" in found.what.text()
    assert review_tightening(sweep(0.0), sweep(0.00001)) == []


@pytest.mark.parametrize("indicator", [Indicator(), Indicator("away"), Indicator("toward", 60)])
def test_roll_is_the_same_by_any_indicator_and_the_shim_takes_it_out(indicator):
    scale = indicator.sign * indicator.cosine
    tops, bottoms = [0.06 / scale, 0.062 / scale], [0.02 / scale, 0.022 / scale]
    roll = analyse_roll([20, 380], tops, bottoms, indicator, 20, 25, 0.01)
    assert roll.difference_mm == pytest.approx(0.04)
    assert roll.shim_mm == pytest.approx(0.05)
    assert roll.twist_mm == pytest.approx(0, abs=1e-12)
    assert roll.verdict == "fail"
    assert "0.050 mm under the bottom row" in instruct_roll(roll).text()


def test_a_twisted_body_is_told_and_an_upright_one_left_alone():
    twisted = analyse_roll([0, 400], [0.1, -0.1], [0, 0], Indicator(), 20, 20, 0.05)
    assert [f.code for f in review_roll(twisted, 0.05)] == ["roll-unsure", "twist"]
    rolled = analyse_roll([0, 400], [0.2, 0.2], [0, 0], Indicator(division_mm=0.001), 20, 20, 0.05)
    (found,) = review_roll(rolled, 0.05)
    assert (rolled.verdict, found.code, found.severity) == ("fail", "rolled", "caution")
    assert "more than the 2.0 thou allowed" in found.what.text("in")
    upright = analyse_roll([0, 400], [0.0, 0.0], [0, 0], Indicator(division_mm=0.001), 20, 20, 0.05)
    assert upright.verdict == "pass"
    assert "leave it" in instruct_roll(upright).text()
    with pytest.raises(BadInputError, match="each station"):
        analyse_roll([0], [0.1], [], Indicator(), 20, 20, 0.05)


def test_what_is_left_says_gap_and_cosine():
    words = what_is_left(sweep(0.4 / 500), 500).text()
    assert "gap changes by 0.400 mm over 500 mm" in words
    assert "misreads by 0.16 µm" in words
    assert "misreads by 0.006 thou" in what_is_left(sweep(0.4 / 500), 500).text("in")

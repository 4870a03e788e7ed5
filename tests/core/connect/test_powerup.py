"""First power-up, tests by hand, and what is due again."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.connect.powerup import PowerUp, judge_powerup
from vernus.core.errors import BadInputError
from vernus.core.prove.feel import judge_steps, judge_zero
from vernus.core.prove.recheck import Proof, change_between, next_check, review_change

GOOD = {"counts": "yes", "right_axis": "yes", "direction": "yes", "stroke": "yes"}
STILL = {"low_mm": 0.0, "high_mm": 0.005, "drift_mm": 0.0, "before_mm": 0.0, "after_mm": 0.0}


@pytest.mark.parametrize(
    ("seen", "asks"),
    [
        ({}, "does its figure move"),
        ({"counts": "yes"}, "no other"),
        ({"counts": "yes", "right_axis": "yes"}, "count up"),
        ({"counts": "yes", "right_axis": "yes", "direction": "yes"}, "full stroke"),
        ({**GOOD, "before_mm": 0, "after_mm": 0}, "Stand still"),
        ({**GOOD, **STILL, "drift_mm": None}, "ten minutes"),
    ],
)
def test_the_next_thing_not_known_is_asked(seen, asks):
    result = judge_powerup(PowerUp(**seen), 0.005, 0.02)
    assert result.verdict is None
    assert asks in result.instruction.text()


def test_a_good_axis_may_be_closed_up():
    result = judge_powerup(PowerUp(**GOOD, **STILL), 0.005, 0.02)
    assert (result.verdict, result.jitter_mm, result.findings) == ("pass", 0.005, ())


@given(st.sampled_from([0.001, 0.005, 0.00508, 0.01, 0.0127]), st.floats(0.002, 0.2))
def test_two_steps_are_never_a_failure_and_a_stop_touched_by_hand_may_be_a_few_off(step, accuracy):
    seen = {**GOOD, "low_mm": 0.0, "high_mm": 2 * step, "drift_mm": -2 * step, "before_mm": 0.0, "after_mm": 5 * step}
    assert judge_powerup(PowerUp(**seen), step, accuracy).verdict == "pass"
    lost = judge_powerup(PowerUp(**{**seen, "after_mm": 30 * max(step, accuracy)}), step, accuracy)
    assert [f.severity for f in lost.findings] == ["stop"]
    assert "slowly" in lost.instruction.text()


def test_one_last_digit_in_inches_on_a_scale_of_five_micrometres_is_no_stop():
    """0.0002 in is 5.08 µm: 1.02 counts of the scale, one step of the display."""
    seen = {**GOOD, **STILL, "high_mm": 0.00508, "after_mm": 0.01016}
    assert judge_powerup(PowerUp(**seen), 0.00508, 0.0254).verdict == "pass"


@pytest.mark.parametrize(
    ("wrong", "code", "words"),
    [
        ({"counts": "no"}, "does-not-count", "swap plugs"),
        ({"right_axis": "no"}, "wrong-plug", "swap the plugs"),
        ({"direction": "no"}, "counts-backwards", "direction setting"),
        ({"stroke": "no", "lost_at_mm": 120.0}, "drops-out", "near 120 mm"),
        ({"high_mm": 0.02}, "jitter", "Earth"),
        ({"driven_mm": 0.05}, "hears-the-motor", "motor leads"),
        ({"drift_mm": -0.03}, "drifts", "loose"),
        ({"after_mm": 0.5}, "loses-counts", "slowly"),
        ({"after_mm": 0.05}, "loses-counts", "it was the hand"),
    ],
)
def test_what_is_wrong_is_named_with_what_to_try(wrong, code, words):
    result = judge_powerup(PowerUp(**{**GOOD, **STILL, **wrong}), 0.005, 0.02)
    assert result.verdict == "fail"
    assert [f.code for f in result.findings] == [code]
    assert words in result.instruction.text()


def test_inches_count_the_same():
    result = judge_powerup(PowerUp(**{**GOOD, **STILL, "high_mm": 0.00508 * 4}), 0.00508, 0.0254)
    assert "moves by 0.8 thou; 0.4 thou is harmless" in result.findings[0].what.text("in")


def test_small_steps_show_lost_motion_and_stick():
    assert judge_steps([0.025] * 3, 0.025, 0.006).verdict is None
    assert judge_steps([0.024, 0.026, 0.025, 0.024, 0.026], 0.025, 0.006).verdict == "pass"
    lost = judge_steps([0, 0.001, 0.024, 0.026, 0.025], 0.025, 0.006)
    assert "2 steps of 0.025 mm went nowhere: 0.049 mm of lost motion" in lost.findings[0].what.text()
    stick = judge_steps([0.025, 0.002, 0.048, 0.001, 0.05], 0.025, 0.006)
    assert [f.code for f in stick.findings] == ["sticks"]
    uneven = judge_steps([0.025, 0.033, 0.018, 0.025], 0.025, 0.006)
    assert (uneven.verdict, uneven.findings[0].code) == ("fail", "steps-uneven")
    assert "off by up to 0.008 mm; 0.006 mm is allowed" in uneven.findings[0].what.text()
    twice = judge_steps([0.0045 * 25.4] * 10, 0.002 * 25.4, 0.001 * 25.4)
    assert twice.verdict == "fail", "asked for two thou, four and a half came"
    with pytest.raises(BadInputError):
        judge_steps([0.1] * 5, 0.0, 0.01)


def test_coming_back_to_zero_tells_walking_from_scatter():
    assert judge_zero([0, 0], 0.01).verdict is None
    assert judge_zero([0, 0.005, 0], 0.01).verdict == "pass"
    assert judge_zero([0, 0.01, 0.02, 0.035, 0.05], 0.01).findings[0].code == "zero-walks"
    assert judge_zero([0, 0.03, -0.02, 0.025, -0.01], 0.01).findings[0].code == "zero-scatters"


def test_a_change_is_judged_against_both_uncertainties():
    before, after = Proof(0, 10, 15), Proof(100, 50, 15)
    assert change_between(before, after).verdict == "unchanged"
    assert change_between(before, Proof(100, 80, 15)).verdict == "changed"
    assert change_between(before, Proof(100, 80, None)).verdict == "unsure"
    assert change_between(before, Proof(100, 55, 15)).verdict == "changed"
    assert change_between(before, Proof(100, 55, 15, freedom=2)).verdict == "unchanged", "three readings know less"
    assert review_change(before, after) == []
    assert "Reads 70 ppm longer than before" in review_change(before, Proof(100, 80, 15))[0].what.text()


def test_checks_fall_due_after_a_month_half_a_year_a_crash_and_in_another_season():
    first = [Proof(100, 0, 5, 20.0)]
    assert next_check([], [], 0) is None
    assert (next_check(first, [], 110).day, next_check(first, [], 131).overdue) == (130, True)
    later = [*first, Proof(140, 0, 5, 20.0)]
    assert next_check(later, [], 150, 19.0).day == 140 + 182
    assert next_check(later, [(120, "crash")], 150).day == 140 + 182, "the crash was before the last check"
    crash = next_check(later, [(145, "crash")], 150)
    assert (crash.day, crash.overdue, "crash" in crash.why.text()) == (145, True, True)
    cold = next_check(later, [], 150, 8.0)
    assert cold.overdue
    assert "8 °C now, 20 °C" in cold.why.text()

"""What to do about a tilt, by what holds the body: words, dial targets, and that following them converges."""

import random

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from vernus.bench.machine import Faults, SimulatedBody
from vernus.core.align.corrections import analyse_roll, shims_at_ends
from vernus.core.align.means import (
    follows_face,
    instruct,
    instruct_corners,
    instruct_roll,
    instruct_rule,
    instruct_shims,
    instruct_spacers,
)
from vernus.core.align.sweep import Indicator, analyse_sweep, correct, propose_stations
from vernus.core.make.shims import ShimStock

X = [0.0, 100.0, 200.0, 300.0, 400.0]


def swept(slope, indicator=None, tolerance=0.05, stations=X):
    held = indicator or Indicator(division_mm=0.001)
    readings = [slope * x / held.sign / held.cosine for x in stations]
    return analyse_sweep(stations, readings, held, tolerance), readings, held


def told(slope, by, pitch=0.0, hold="left", **kind):
    sweep, readings, held = swept(slope, **kind)
    return instruct(sweep, correct(sweep, readings, held, (0, 400), hold), (), by, pitch)


@given(
    st.floats(-0.01, 0.01), st.sampled_from(["left", "right"]), st.sampled_from(["toward", "away"]), st.floats(0, 60)
)
def test_a_jack_screw_is_driven_in_to_push_the_body_toward_the_indicator_and_backed_off_for_the_other_way(
    slope, hold, sense, angle
):
    assume(abs(slope) > 3e-4)
    words = told(slope, "jacks", 0.8, hold, indicator=Indicator(sense, angle, 0.001)).text()
    nearer = (slope < 0) == (hold == "left")
    assert ("drive in" if nearer else "back off") in words
    assert ("back off" if nearer else "drive in") not in words
    assert "until the dial goes from" in words


@pytest.mark.parametrize("by", ["jacks", "slots", "restick", "pivot"])
@pytest.mark.parametrize("system", ["mm", "in"])
def test_every_means_has_a_dial_target_and_its_own_words(by, system):
    words = told(0.002, by, 1.0).text(system)
    assert ("+0.800 mm to 0.000 mm" if system == "mm" else "+31.5 thou to 0.0 thou") in words
    assert ("screw's end" in words) == (by == "pivot")
    assert {"jacks": "jack screw about 290°", "slots": "in its slots", "restick": "Lift the strip", "pivot": "ease"}[
        by
    ] in words


def test_what_passes_is_left_alone_whatever_holds_it():
    for by in ("jacks", "slots", "restick", "pivot"):
        assert told(1e-5, by).text().startswith("Leave")
    assert "screw" not in told(1e-5, "restick").text()


def test_a_strip_on_its_face_has_no_end_to_be_moved():
    sweep, _, _ = swept(0.001)
    assert "the face's own tilt" in follows_face(sweep).text()
    assert follows_face(swept(1e-5)[0]).text().startswith("Leave it")


@given(st.floats(1, 30), st.floats(1, 30), st.sampled_from(["left", "right"]))
def test_the_rule_says_which_end_goes_which_way(left, right, hold):
    words = instruct_rule(left, right, hold)
    if abs(left - right) <= 0.5:
        assert words is None
        return
    moved, other = ("right", left) if hold == "left" else ("left", right)
    had = right if hold == "left" else left
    assert f"the {moved} end" in words.text()
    assert ("nearer to" if had > other else "farther from") in words.text()


def test_19_32_and_9_16_by_the_rule_are_a_thirty_second_apart():
    words = instruct_rule(19 / 32 * 25.4, 9 / 16 * 25.4, "left").text("in")
    assert "differ by 0.031 in. Bring the right end 0.031 in farther from" in words


def test_shims_come_from_the_drawer_with_their_sum_in_both_systems():
    moves = shims_at_ends(swept(0.0005)[0], (0, 400))
    words, pick = instruct_shims(moves, [ShimStock(0.1, 3), ShimStock(0.05, 2)])
    assert pick.total_mm == pytest.approx(0.2)
    assert "under the left end: 2 of 0.100 mm makes 0.200 mm" in words.text()
    assert "7.9 thou" in words.text("in")
    assert "Put 0.200 mm" in instruct_shims(moves, [])[0].text()
    assert "leave the shims" in instruct_shims(shims_at_ends(swept(0.0)[0], (0, 400)), [])[0].text()


def test_three_bolts_get_spacers_along_the_body_too():
    words = instruct_spacers(swept(-0.001)[0], (0, 400)).text()
    assert "left 0.000 mm; middle 0.200 mm; right 0.400 mm" in words


def test_shimming_one_row_leaves_the_other_where_it_is():
    roll = analyse_roll([0, 200, 400], [0.2, 0.2, 0.2], [0, 0, 0], Indicator(division_mm=0.001), 20, 25, 0.05)
    assert "Put 0.250 mm under the bottom row of screws; the other row stays" in instruct_roll(roll).text()


def corners(slope, roll, stations=(20.0, 380.0)):
    return {(x, y): slope * x + roll * y for x in stations for y in (-10.0, 10.0)}


PLACES = {"left bottom": (10, -12), "right bottom": (390, -12), "left top": (10, 12), "right top": (390, 12)}


@given(st.floats(-0.002, 0.002), st.floats(-0.004, 0.004))
def test_corners_are_solved_together_from_both_lines_at_both_ends(slope, roll):
    words = instruct_corners(corners(slope, roll), Indicator(), (10, 390), 24)
    moves = dict(zip(PLACES, words.values.values(), strict=True))
    level = [slope * x + roll * y + moves[name].mm for name, (x, y) in PLACES.items()]
    assert max(level) - min(level) < 1e-9
    assert min(m.mm for m in moves.values()) >= 0


@given(st.floats(-0.002, 0.002), st.floats(-0.004, 0.004), st.sampled_from(["toward", "away"]))
def test_the_dial_targets_of_four_jacks_make_the_face_level(slope, roll, sense):
    """Every corner read at its target stands as high as every other, whatever way the indicator counts."""
    sign = 1 if sense == "toward" else -1
    read = {at: sign * h for at, h in corners(slope, roll).items()}
    words = instruct_corners(read, Indicator(sense), (10, 390), 24, pitch_mm=0.8, tolerance_mm=0.05)
    targets = [sign * v.mm for k, v in words.values.items() if k.startswith("t")]
    assert len(targets) == 4
    assert max(targets) - min(targets) < 1e-9


def test_three_bolts_get_spacers_and_four_jacks_turns_each_way():
    read = {(x, y): 0.4 if y > 0 else 0.0 for x in (0.0, 400.0) for y in (-10.0, 10.0)}
    three = instruct_corners(read, Indicator(), (0, 400), 20, three=True).text()
    assert "left bottom 0.400 mm; right bottom 0.400 mm; top middle 0.000 mm" in three
    jacks = instruct_corners(read, Indicator(), (0, 400), 20, pitch_mm=0.8, tolerance_mm=0.05).text()
    assert "drive in" in jacks
    assert "dial +0.400 mm to" in jacks
    assert "turn" not in instruct_corners(read, Indicator(), (0, 400), 20, pitch_mm=0.0).text().replace("in turn", "")


@pytest.mark.parametrize("pitch", [0.5, 1.0, 1.25])
def test_who_follows_the_dial_with_jack_screws_is_inside_in_three_passes(pitch):
    """The turns are only the way there, and never bring it farther off than half a division of the dial."""
    for seed in range(12):
        body = SimulatedBody.from_seed(seed)
        stations = propose_stations(*body.screws_mm, 7)
        for _ in range(4):
            readings = [body.reading(x) for x in stations]
            sweep = analyse_sweep(stations, readings, body.indicator)
            fix = correct(sweep, readings, body.indicator, body.screws_mm)
            words = instruct(sweep, fix, (), "jacks", pitch).text()
            if sweep.verdict == "pass":
                break
            assert "leave" not in words.lower()
            body.follow_dial("left", fix.park_mm, fix.dial_target_mm)
        assert abs(body.tilt_mm) <= 0.05, (seed, pitch)


@pytest.mark.parametrize("seed", range(20))
def test_a_short_sweep_of_a_long_body_never_passes_on_its_own_short_rise(seed):
    """Ten of 500, 280 of 400: what counts is the rise between the screws."""
    rng = random.Random(seed)
    span, screws = rng.choice([(10.0, 500.0), (280.0, 400.0), (60.0, 500.0)])
    body = SimulatedBody(screws, Faults(tilt_mm_per_m=rng.choice([-1, 1]) * 0.0625 / screws * 1000), seed)
    stations = [screws / 2 - span / 2 + span * n / 4 for n in range(5)]
    sweep = analyse_sweep(stations, [body.reading(x) for x in stations], body.indicator, 0.05, screws)
    assert sweep.verdict != "pass"
    assert sweep.judged_mm == screws
    assert sweep.rise_mm == pytest.approx(sweep.line.slope * screws)

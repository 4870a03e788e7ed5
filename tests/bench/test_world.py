"""The physics of the practice machine by itself, against what a workbench teaches, not against Vernus's formulas."""

import math
import statistics

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.bench.practice.world import BLOCK_TAU, CASTING_TAU, MINUTES, Hidden, World
from vernus.core.errors import BadInputError


def world(seed=1, **hidden):
    return World(Hidden(**hidden), seed)


def test_a_tight_screw_holds_and_a_loose_end_swings_about_the_other_as_a_lever():
    one = world(travel=400.0, screws=(0.0, 400.0))
    before = list(one.heights)
    one.do("turn", "right", 0.3)
    assert one.heights == before, "it is tight"
    one.do("loosen", "right")
    one.do("turn", "right", 0.3)
    assert one.heights[0] == before[0], "the held end stays"
    assert one.height(400) - before[1] == pytest.approx(0.3)
    assert one.height(200) == pytest.approx((before[0] + before[1] + 0.3) / 2), "half way, half as much"
    assert one.height(0) == before[0]


def test_tightening_creeps_one_way_and_scatters():
    moved = []
    for seed in range(300):
        one = world(seed, creep=0.02)
        was = one.heights[1]
        one.do("loosen", "right")
        one.do("tighten", "right")
        moved.append(one.heights[1] - was)
    assert statistics.fmean(moved) == pytest.approx(0.02, abs=0.003)
    assert statistics.stdev(moved) == pytest.approx(0.01, rel=0.2)
    one.do("tighten", "right")
    assert one.heights[1] == pytest.approx(was + moved[-1]), "what is tight is not tightened again"


def test_both_screws_loose_and_the_body_drops():
    one = world()
    one.do("loosen", "left")
    before = list(one.heights)
    assert "dropped" in one.do("loosen", "right").words.text()
    assert one.heights != before


@given(st.lists(st.floats(5, 395), min_size=1, max_size=20))
def test_the_table_follows_the_wheel_within_its_play_and_lags_on_the_way_back(places):
    one = world(travel=400.0, backlash=0.2)
    for place in places:
        one.do("crank", place)
        assert -1e-9 <= one.wheel - one.table <= 0.2 + 1e-9
        assert one.wheel == pytest.approx(place)
    one.do("crank", 1.0)
    one.do("crank", 300.0)
    pushed = one.table
    one.do("crank", 299.9)
    assert one.table == pushed, "the play is taken up first"
    one.do("crank", 299.0)
    assert one.table < pushed


def test_the_stops_stop_the_wheel():
    one = world(travel=400.0, backlash=0.1)
    assert "no farther" in one.do("crank", 430.0).words.text()
    assert (one.table, one.wheel) == (400.0, pytest.approx(400.1))
    one.do("crank", -30.0)
    assert (one.table, one.wheel) == (0.0, 0.0)


def test_rooms_and_bodies_come_together_each_in_its_own_time():
    one = world(room_c=10.0, casting_c=20.0, block_c=20.0)
    one.do("wait", BLOCK_TAU)
    assert one.block_c - 10 == pytest.approx(10 / math.e, rel=1e-6)
    assert one.casting_c - 10 == pytest.approx(10 * math.exp(-BLOCK_TAU / CASTING_TAU), rel=1e-6)
    one.do("hand")
    assert one.block_c > 15


def test_a_block_from_the_hand_measures_long_until_it_has_cooled():
    shown = []
    for warm in (False, True):
        one = world(count=0.0001, bar=300.0)
        for _ in range(3 * warm):
            one.do("hand")
        shown.append(statistics.fmean(one.do("move", 300.0).value for _ in range(2)))
        if warm:
            one.do("wait", 120.0)
            cooled = statistics.fmean(one.do("move", 300.0).value for _ in range(20))
    assert shown[1] - shown[0] > 0.02, "ten degrees of steel over 300 mm are 0.035"
    assert cooled == pytest.approx(shown[0], abs=0.001)


def test_a_reversed_indicator_falls_where_the_other_grows_and_a_thumb_tells():
    for sense in (1, -1):
        one = world(sense=sense, tilt=0.4, division=0.001)
        one.do("crank", 20.0)
        low = one.do("read").value
        one.do("crank", 380.0)
        assert (one.do("read").value - low) * sense > 0.3
        assert one.do("press").value == sense


def test_a_sagging_table_reads_alike_at_both_ends_and_a_tilted_body_does_not():
    def ends(**hidden):
        one = world(division=0.001, **hidden)
        found = []
        for place in (10.0, 200.0, 390.0):
            one.do("crank", place)
            found.append(one.do("read").value)
        return found

    left, middle, right = ends(sag=0.1)
    assert abs(left - right) < 0.01
    assert middle - left == pytest.approx(0.09, abs=0.01)
    left, middle, right = ends(tilt=0.2)
    assert middle == pytest.approx((left + right) / 2, abs=0.01)


def test_what_the_rule_says_depends_on_the_eye():
    square, left = (
        statistics.fmean(world(seed, rule_division=0.5).do("rule", eye).value for seed in range(300))
        for eye in ("square", "left")
    )
    assert square == pytest.approx(400.0, abs=0.05)
    assert left - square == pytest.approx(0.7, abs=0.08)


def test_the_needle_lags_by_its_friction_and_ends_at_its_range():
    one = world(tilt=0.4, division=0.01)
    one.do("crank", 20.0)
    up = one.needle
    one.do("crank", 380.0)
    assert one.needle - up == pytest.approx(0.4 * 360 / 380, abs=0.005)
    assert list(one.needle_path) == sorted(one.needle_path), "it goes along all the way"
    true = one._true_needle()
    assert one.needle == pytest.approx(true - 0.002, abs=1e-6), "a fifth of a division behind"
    one.do("loosen", "right")
    one.do("turn", "right", 3.0)
    assert one.at_its_end
    assert "end of its range" in one.do("read").words.text()
    one.do("reset")
    assert not one.at_its_end


def test_on_the_table_itself_only_the_table_is_seen():
    for hidden, seen in (({"sag": 0.1}, True), ({"bow": 0.1}, False), ({"tilt": 0.2}, False)):
        one = world(division=0.001, **hidden)
        one.do("onto", "table")
        found = []
        for place in (10.0, 200.0, 390.0):
            one.do("crank", place)
            found.append(one.do("read").value)
        assert (max(found) - min(found) > 0.05) == seen


def test_paper_is_cut_where_it_is_tight_and_slips_where_it_is_loose():
    said = []
    for backlash in (0.02, 0.08, 0.5):
        one = world(backlash_gear=backlash, runout=0.01)
        one.do("lock")
        said.append(one.do("paper").words.text())
    assert ["cut" in w or "creased" in w for w in said] == [True, True, False]
    assert "cut through" in said[0]
    assert "slips through" in said[2]


def test_what_rattles_all_round_is_not_said_to_rattle_once():
    one = world(backlash_gear=0.5, runout=0.02)
    assert "all the way round" in one.do("listen").words.text()


def test_a_crash_into_a_stop_costs_an_hour_and_trips_do_not_cross():
    one = world(run_on=5.0)
    one.do("trip", "right", 398.0)
    before = one.minutes
    one.do("run", "right", "rapid")
    assert one.minutes - before > 60
    with pytest.raises(BadInputError, match="left of the right"):
        one.do("trip", "left", 399.0)


def test_a_block_longer_than_the_travel_is_not_moved_by():
    with pytest.raises(BadInputError, match="shorter"):
        world(travel=242.0, bar=300.0).do("move", 300.0)


def test_lost_motion_shows_when_the_direction_turns_and_only_then():
    one = world(lost_motion=0.06, backlash=0.1, count=0.001)
    one.do("crank", 100.0)
    one.do("crank", 200.0)
    first = one.do("display").value
    assert one.do("display").value == pytest.approx(first, abs=0.003)
    assert first == pytest.approx(one.table - 0.03, abs=0.003), "going up the reading lags"
    at = one.table
    one.do("crank", 210.0)
    one.do("crank", at)
    assert one.table == pytest.approx(at)
    assert one.do("display").value - first == pytest.approx(0.06, abs=0.003)


def test_turned_back_the_display_stands_until_the_lost_motion_is_taken_up():
    one = world(lost_motion=0.06, backlash=0.1, count=0.001)
    one.do("crank", 250.0)
    stood, at = one.do("display").value, one.table
    one.do("crank", at - 0.05)
    assert (one.table, one.do("display").value) == (pytest.approx(at - 0.05), pytest.approx(stood, abs=0.003))
    one.do("crank", at - 0.1)
    assert stood - one.do("display").value == pytest.approx(0.04, abs=0.003)


@given(st.floats(0, 0.2), st.floats(0, 0.15))
def test_one_figure_of_the_wheel_from_both_sides_differs_by_play_and_lost_motion_together(play, lost):
    one = world(lost_motion=lost, backlash=play, count=0.001)
    shown = []
    for start in (190.0, 210.0):
        one.do("crank", start)
        one.do("crank", 200.0)
        shown.append(one.do("display").value)
    assert shown[1] - shown[0] == pytest.approx(play + lost, abs=0.004)


def test_feelers_go_in_up_to_the_gap():
    one = world(gap=(0.5, 0.9))
    assert [one.do("feeler", "left", b).value for b in (0.45, 0.55)] == [1.0, 0.0]
    assert [one.do("feeler", "right", b).value for b in (0.85, 0.95)] == [1.0, 0.0]
    one.do("shift", "left", 0.3)
    assert one.do("feeler", "left", 0.72).value == 1.0


@pytest.mark.parametrize(
    ("moved", "which"), [("reader", (True, True)), ("left", (True, False)), ("right", (False, True))]
)
def test_the_reader_is_one_piece_and_an_end_of_the_body_is_eased_by_itself(moved, which):
    one = world(gap=(0.3, 0.8), gap_play=0.0)
    one.do("shift", moved, 0.2)
    assert one.gap == pytest.approx([gap + 0.2 * change for gap, change in zip((0.3, 0.8), which, strict=True)])


def test_sliding_a_gear_opens_its_backlash_by_twice_the_tangent_and_it_runs_out_once_a_turn():
    one = world(backlash_gear=0.3, runout=0.05)
    least, most = one.swing
    assert (least, most) == (pytest.approx(0.25, abs=0.001), pytest.approx(0.35, abs=0.001))
    one.do("slide", 0.1)
    assert one.swing[0] - least == pytest.approx(0.0728, abs=0.001)  # 2 · 0.1 · tan 20°
    one.do("slide", -1.0)
    assert "growls" in one.do("listen").words.text()


@pytest.mark.parametrize(
    ("backlash", "growls", "rattles"), [(0.03, True, False), (0.15, False, False), (0.3, False, True)]
)
def test_what_is_heard_is_loud_where_the_turn_is_tight_or_loose(backlash, growls, rattles):
    one = world(backlash_gear=backlash, runout=0.06)
    assert one.heard == ()
    one.do("listen")
    assert (min(one.heard) < 0, max(one.heard) > 0.2) == (growls, rattles)
    places = [n / len(one.heard) for n in range(len(one.heard))]
    if growls:
        loudest = [at for at, loud in zip(places, one.heard, strict=True) if loud == min(one.heard)]
        assert sum(loudest) / len(loudest) == pytest.approx(0.75, abs=0.02)  # where the runout takes most
        assert all(one.backlash_at(at) <= 0.05 for at, loud in zip(places, one.heard, strict=True) if loud < 0)
    if rattles:
        assert places[one.heard.index(max(one.heard))] == pytest.approx(0.25, abs=0.15)
    one.do("slide", 0.01)
    assert one.heard == (), "not heard since it was moved"


def test_rapid_runs_on_farther_than_slow_and_never_shorter_than_its_least():
    one = world(run_on=4.0, run_on_scatter=0.1)
    for end, sign in (("left", -1), ("right", 1)):
        one.do("trip", "left", 0.0)
        one.do("trip", "right", 400.0)
        one.do("trip", end, 200.0)
        ran = [sign * (one.do("run", end, "rapid").value - 200.0) for _ in range(20)]
        assert min(ran) >= 4.0 - 0.01
        assert sign * (one.do("run", end, "slow").value - 200.0) < 1.0
    one.do("trip", "right", 399.0)
    assert "bent" in one.do("run", "right", "rapid").words.text()
    assert one.met


def test_the_same_seed_and_deeds_make_the_same_world_and_every_deed_costs_its_minutes():
    deeds = [
        ("crank", (100.0,)), ("read", ()), ("loosen", ("right",)), ("turn", ("right", 0.1)), ("tighten", ("right",)),
        ("rule", ("left",)), ("display", ()), ("wait", (5.0,)), ("feeler", ("left", 0.5)),
    ]  # fmt: skip
    first, again = (World.again(Hidden(tilt=0.3), 9, deeds) for _ in range(2))
    assert (first.heights, first.minutes, first.do("read")) == (again.heights, again.minutes, again.do("read"))
    assert first.deeds[:-1] == deeds
    one = world()
    for name in ("loosen", "tighten", "press", "rock"):
        before = one.minutes
        one.do(name, *(("left",) if name in ("loosen", "tighten") else ()))
        assert one.minutes - before == pytest.approx(MINUTES[name])


@pytest.mark.parametrize(
    ("name", "args"),
    [("fly", ()), ("shift", ("middle", 0.1)),
     ("crank", (1e9,)), ("crank", ("far",)), ("crank", ()), ("loosen", ("top",)), ("turn", ("left", True)),
     ("rule", ("above",)), ("push", ("sideways",)), ("thermometer", ("ear",)), ("run", ("left", "fast")),
     ("move", (0.0,)), ("wait", (float("nan"),)), ("feeler", ("left", -1.0))],
)  # fmt: skip
def test_what_cannot_be_done_is_refused_and_costs_nothing(name, args):
    one = world()
    with pytest.raises(BadInputError):
        one.do(name, *args)
    assert (one.minutes, one.deeds) == (0.0, [])

"""Stops: whatever the run-on and the margins, the scale is never driven past its measuring length."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.feed.trip import RunOn, estimated_run_on, place_stops, worst_run_on

MM = st.floats(0, 60)


@given(
    st.floats(-400, 0), st.floats(50, 900), MM, MM, MM, MM, st.floats(-50, 50), st.floats(-50, 50),
    st.sampled_from([1.0, 25.4 / 10]),
)  # fmt: skip
def test_the_scale_is_never_driven_past_its_end_nor_the_axis_into_its_stop(
    low, length, on_low, on_high, clear, margin, spare_low, spare_high, scale
):
    hard = (low * scale, (low + length) * scale)
    ends = (hard[0] - spare_low, hard[1] + spare_high)
    assume(ends[0] < ends[1])
    stops = place_stops(hard, (on_low, on_high), clear_mm=clear, scale_mm=ends, scale_margin_mm=margin)
    assert stops.trip_mm[1] + on_high <= ends[1] - margin + 1e-9
    assert stops.trip_mm[1] + on_high <= hard[1] - clear + 1e-9
    assert stops.trip_mm[0] - on_low >= ends[0] + margin - 1e-9
    assert stops.trip_mm[0] - on_low >= hard[0] + clear - 1e-9
    if stops.trip_mm[0] >= stops.trip_mm[1]:
        assert "no-room-for-stops" in {f.code for f in stops.findings}


def test_what_decides_each_end_is_said_and_what_the_scale_costs():
    stops = place_stops((0, 500), (4, 4), clear_mm=3, scale_mm=(-20, 505), scale_margin_mm=10)
    assert stops.trip_mm == (7, 491)
    assert stops.decided_by == ("hard stop", "scale")
    assert "takes 5 mm of the travel" in stops.findings[0].what.text()
    assert "+7 mm" in stops.instruction.text()
    assert "+0.276 in" in stops.instruction.text("in")


def test_the_estimate_grows_with_the_square_and_is_replaced_by_measuring():
    assert estimated_run_on(600, 0.1, 0.6) == pytest.approx(10 * 0.1 + 10 * 0.3)
    slow = [RunOn(True, "slow", 0.3), RunOn(False, "slow", 0.3)]
    run_on, found = worst_run_on(slow)
    assert run_on is None
    assert "say nothing of it" in found[0].what.text()
    rapid = [*slow, RunOn(True, "rapid", 4.0), RunOn(True, "rapid", 4.6), RunOn(False, "rapid", 3.9)]
    assert worst_run_on(rapid) == ((3.9, 4.6), [])
    assert "toward the low end" in worst_run_on(rapid[:4])[1][0].what.text()


def test_a_run_on_the_wrong_way_round_is_asked_about_and_not_counted():
    run_on, found = worst_run_on([RunOn(True, "rapid", -4.0), RunOn(True, "rapid", 4.6), RunOn(False, "rapid", 3.9)])
    assert (run_on, [f.code for f in found]) == ((3.9, 4.6), ["run-on-backward"])
    assert "4 mm before it tripped" in found[0].what.text()
    assert "0.157 in" in found[0].what.text("in")


def test_impossible_stops_are_refused():
    for make in (
        lambda: place_stops((10, 0), (1, 1)),
        lambda: place_stops((0, 10), (1, 1), scale_mm=(5, 5)),
        lambda: place_stops((0, 10), (-1, 1)),
        lambda: estimated_run_on(-1, 0, 0),
    ):
        with pytest.raises(BadInputError):
            make()

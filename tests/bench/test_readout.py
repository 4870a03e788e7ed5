"""The simulated axis: every fault shows where it should, at its size, and nowhere else."""

import random
import statistics

import pytest

from vernus.bench.readout import AxisFaults, SimulatedAxis
from vernus.core.errors import BadInputError
from vernus.core.prove.causes import PATTERNS


def error(axis, at, up=True, time=0.0):
    """The error of a fault alone: what a sound axis of the same seed shows is taken off."""
    sound = SimulatedAxis(axis.travel_mm, AxisFaults(), 5, count_mm=axis.count_mm)
    return axis.error(at, up, time) - sound.error(at, up, time)


def axis(**faults):
    return SimulatedAxis(400, AxisFaults(**faults), 5)


def test_each_fault_has_its_own_pattern():
    assert error(axis(lost_motion=0.04), 100) - error(axis(lost_motion=0.04), 100, up=False) == pytest.approx(0.04)
    growing = axis(lost_motion_growing=0.04)
    assert error(growing, 0) == pytest.approx(0)
    assert error(growing, 400) - error(growing, 400, up=False) == pytest.approx(0.04)
    other_end = axis(lost_motion_growing=-0.04)
    assert error(other_end, 400) == pytest.approx(0)
    step = axis(step=0.05, step_at_share=0.25)
    assert (error(step, 99), error(step, 101)) == (pytest.approx(0), pytest.approx(0.05))
    assert error(axis(trend_ppm=200), 400) == pytest.approx(0.08)
    assert (error(axis(bow=0.03), 200), error(axis(bow=0.03), 400)) == (pytest.approx(0.03), pytest.approx(0))
    drifting = axis(drift=0.06)
    assert (error(drifting, 10, time=0), error(drifting, 390, time=1)) == (pytest.approx(0), pytest.approx(0.06))


def test_a_wave_repeats_after_its_period():
    waving = axis(cyclic=0.05, period_share=0.25)
    assert error(waving, 30) == pytest.approx(error(waving, 130))
    values = [error(waving, x) for x in range(100)]
    assert max(values) - min(values) == pytest.approx(0.05, rel=0.2)


@pytest.mark.parametrize("count", [0.001, 0.005, 0.00508])
def test_the_display_shows_whole_counts_with_a_little_flicker(count):
    sound = SimulatedAxis(300, AxisFaults(), 2, count_mm=count)
    shown = [sound.show(120.0, True, 0.0) for _ in range(60)]
    assert all(s / count == pytest.approx(round(s / count)) for s in shown)
    assert statistics.pstdev(shown) < count
    loose = SimulatedAxis(300, AxisFaults(scatter=4 * count), 2, count_mm=count)
    assert statistics.pstdev(loose.show(120.0, True, 0.0) for _ in range(60)) > 2 * count


def test_a_run_goes_up_and_down_in_order_and_the_same_seed_gives_the_same_run():
    one, two = (SimulatedAxis.from_seed(9, "bow") for _ in range(2))
    rows = one.run(one.targets(6), 2)
    assert rows == two.run(two.targets(6), 2)
    assert len(rows) == 24
    assert [up for _, up, _ in rows[:12]] == [True] * 6 + [False] * 6
    assert [t for t, _, _ in rows[:6]] == [t for t, _, _ in rows[6:12]][::-1]


def test_every_cause_can_be_made_and_two_can_be_joined():
    chance = random.Random(1)
    for cause in PATTERNS:
        assert AxisFaults.of(cause, 400, 0.005, chance) != AxisFaults()
    both = AxisFaults(bow=0.02).together(AxisFaults(drift=0.03))
    assert (both.bow, both.drift) == (0.02, 0.03)
    assert SimulatedAxis.from_seed(3).faults != AxisFaults()


def test_an_axis_without_travel_is_refused():
    for travel, count in ((0, 0.005), (100, 0)):
        with pytest.raises(BadInputError):
            SimulatedAxis(travel, AxisFaults(), 1, count_mm=count)

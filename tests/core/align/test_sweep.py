import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import stats

from vernus.core.align.sweep import (
    Indicator,
    analyse_sweep,
    correct,
    cosine_error,
    finer_than_the_dial,
    minimum_zone,
    propose_stations,
)
from vernus.core.budget import judge
from vernus.core.errors import BadInputError

STATIONS = [12.0, 75.5, 140.0, 199.0, 301.25, 377.0, 455.0]  # never evenly spaced
heights = st.lists(st.floats(-0.5, 0.5), min_size=7, max_size=7)


class SimulatedScale:
    """A straight scale pivoting about one screw, read by an indicator; independent of the code under test."""

    def __init__(self, tilt, indicator, offset=0.3):
        self.tilt, self.indicator, self.offset = tilt, indicator, offset

    def read(self, x):
        height = self.offset + self.tilt * x
        sense = 1 if self.indicator.sense == "toward" else -1
        return sense * height / math.cos(math.radians(self.indicator.angle_deg)) - 0.12

    def sweep(self, stations):
        return [self.read(x) for x in stations]

    def move_end(self, pivot, moved, shift):
        """Push the end at ``moved`` by ``shift`` toward the indicator, turning about ``pivot``."""
        at_pivot = self.offset + self.tilt * pivot
        self.tilt += shift / (moved - pivot)
        self.offset = at_pivot - self.tilt * pivot


INDICATORS = [
    Indicator("toward"),
    Indicator("away"),
    Indicator("toward", 30.0),
    Indicator("away", 30.0),
    Indicator("toward", -45.0),
]


@pytest.mark.parametrize("indicator", INDICATORS)
@pytest.mark.parametrize("hold", ["left", "right"])
@given(tilt=st.floats(-3e-3, 3e-3), left=st.floats(-60, 10), right=st.floats(460, 520))
def test_the_advised_move_leaves_less_than_a_hundredth_of_the_tilt(indicator, hold, tilt, left, right):
    assume(abs(tilt) > 1e-6)
    scale = SimulatedScale(tilt, indicator)
    readings = scale.sweep(STATIONS)
    sweep = analyse_sweep(STATIONS, readings, indicator)
    fix = correct(sweep, readings, indicator, (left, right), hold)
    scale.move_end(fix.hold_mm, fix.move_mm, fix.shift_mm)
    assert abs(scale.tilt) < 0.01 * abs(tilt)
    assert scale.read(fix.park_mm) == pytest.approx(fix.dial_target_mm, abs=1e-9)


@given(heights)
def test_the_line_agrees_with_numpy_polyfit(y):
    indicator = Indicator()
    found = analyse_sweep(STATIONS, y, indicator)
    line = found.line
    middle = (min(STATIONS) + max(STATIONS)) / 2
    degree = 2 if found.sagging else 1
    *_, slope, height = np.polyfit(np.array(STATIONS) - middle, y, degree)
    assert line.slope == pytest.approx(slope, abs=1e-12)
    assert line.at(middle) == pytest.approx(height, abs=1e-12)


@given(heights, st.permutations(range(7)))
def test_the_order_of_rows_does_not_matter(y, order):
    first = analyse_sweep(STATIONS, y, Indicator())
    second = analyse_sweep([STATIONS[i] for i in order], [y[i] for i in order], Indicator())
    assert second.line.slope == pytest.approx(first.line.slope, abs=1e-15)
    assert second.bow_mm == pytest.approx(first.bow_mm, abs=1e-12)


@given(heights)
def test_the_minimum_zone_agrees_with_brute_force(y):
    x, y = np.array(STATIONS), np.array(y)
    slopes = [(y[j] - y[i]) / (x[j] - x[i]) for i in range(7) for j in range(i)]
    brute = min(np.ptp(y - t * x) for t in slopes)
    assert minimum_zone(x, y) == pytest.approx(brute, abs=1e-12)
    fine = min(np.ptp(y - t * x) for t in np.linspace(-0.02, 0.02, 2001))
    assert minimum_zone(x, y) <= fine + 1e-12


def test_two_stations_give_no_bow_but_an_uncertainty():
    sweep = analyse_sweep([0, 400], [0, 0.02], Indicator())
    assert sweep.bow_mm is None
    assert sweep.line.u_slope == pytest.approx(math.sqrt(2) * 0.01 / math.sqrt(12) / 400)
    assert math.isinf(sweep.line.budget.freedom)
    assert sweep.line.budget.expanded == pytest.approx(0.01), "one whole division, over the sweep"


def test_the_uncertainty_is_never_the_residual_spread_alone():
    exact = analyse_sweep(STATIONS, [1e-4 * x for x in STATIONS], Indicator())
    assert exact.line.u_slope == pytest.approx(math.sqrt(2) * 0.01 / math.sqrt(12) / 443, rel=1e-9)


def test_millimetres_and_inches_give_one_answer():
    inches = [x / 25.4 for x in STATIONS]
    thou = [0, 1.2, 2.5, 3.1, 5.2, 6.4, 7.7]
    metric = analyse_sweep(STATIONS, [t * 0.0254 for t in thou], Indicator(division_mm=0.0127), 0.0508)
    again = analyse_sweep([x * 25.4 for x in inches], [t * 0.0254 for t in thou], Indicator(division_mm=0.0127), 0.0508)
    assert again.line.slope == pytest.approx(metric.line.slope, rel=1e-12)
    assert again.verdict == metric.verdict


@pytest.mark.parametrize(
    ("value", "expanded", "verdict"),
    [
        (0.03, 0.02, "pass"),
        (-0.03, 0.02, "pass"),
        (0.08, 0.02, "fail"),
        (0.05, 0.001, "unsure"),
        (0.06, 0.02, "unsure"),
    ],
)
def test_verdicts_have_guard_bands(value, expanded, verdict):
    assert judge(value, expanded, 0.05).verdict == verdict


def test_a_symmetric_dip_is_sag_and_a_single_bump_is_not():
    x = np.linspace(0, 600, 7)
    dip = 0.08 * ((x - 300) / 300) ** 2
    assert analyse_sweep(x, dip, Indicator()).sagging
    bump = np.where(x == 200, 0.08, 0.0)
    assert not analyse_sweep(x, bump, Indicator()).sagging
    assert not analyse_sweep(x[:4], dip[:4], Indicator()).sagging


def test_cosine_error_is_as_small_as_people_should_know():
    # 0.4 mm over 500 mm changes the reading by 0.16 µm (common practice, no source; plain trigonometry)
    assert cosine_error(500, 0.4 / 500) * 1000 == pytest.approx(0.16, abs=0.001)


@pytest.mark.parametrize(
    ("arguments", "part"),
    [
        (([0, 0], [1, 2]), "two different stations"),
        (([], []), "two different stations"),
        (([0, 1], [1]), "Every station"),
    ],
)
def test_sweeps_that_say_nothing_are_refused(arguments, part):
    with pytest.raises(BadInputError, match=part):
        analyse_sweep(*arguments, Indicator())


@pytest.mark.parametrize("wrong", [{"angle_deg": 81}, {"division_mm": 0}, {"sense": "up"}, {"angle_deg": math.nan}])
def test_impossible_indicators_are_refused(wrong):
    with pytest.raises(BadInputError):
        Indicator(**wrong)


def test_a_correction_needs_two_screws_and_a_station_that_sees_the_move():
    sweep = analyse_sweep([100, 200], [0, 0.1], Indicator())
    with pytest.raises(BadInputError, match="one place"):
        correct(sweep, [0, 0.1], Indicator(), (50, 50))
    with pytest.raises(BadInputError, match="No swept station"):
        correct(sweep, [0, 0.1], Indicator(), (300, 900))


def test_the_target_starts_from_the_reading_last_logged_at_the_parked_station():
    stations, readings = [0, 200, 400, 400], [0.0, 0.1, 0.2, 0.21]
    fix = correct(analyse_sweep(stations, readings, Indicator()), readings, Indicator(), (0, 420))
    assert fix.dial_now_mm == 0.21


def test_proposed_stations_are_easy_to_set_and_inside():
    for low, high, grid in ((68.8, 331.2, 1.0), (0, 262.4, 2.54)):
        stations = propose_stations(low, high, 7, grid)
        assert len(set(stations)) == 7
        assert low <= stations[0]
        assert stations[-1] <= high
        assert all(s / grid == pytest.approx(round(s / grid)) for s in stations)
    with pytest.raises(BadInputError):
        propose_stations(0, 3, 7)


@given(st.lists(st.floats(-0.2, 0.2), min_size=3, max_size=9), st.floats(0, 60), st.sampled_from([1.0, 25.4]))
def test_the_uncertainty_of_a_tilt_is_that_of_a_regression_and_of_two_readings_with_student_t(readings, angle, unit):
    """u by JCGM 100:2008, 5.1, with NumPy and SciPy: scatter over √Sxx, and a division at either end.

    U is t·u of the scatter alone, by its own degrees of freedom, or one whole division where that is more.
    """
    assume(max(readings) - min(readings) > 1e-4)
    division, x = 0.01 * unit, 37.5 * unit * np.arange(len(readings))
    found = analyse_sweep(x, [r * unit for r in readings], Indicator("away", angle, division))
    y = np.array(readings) * unit * math.cos(math.radians(angle))
    degree = 2 if found.sagging else 1
    if len(x) > degree + 1:
        middle = (x[0] + x[-1]) / 2
        _, unscaled = np.polyfit(x - middle, y, degree, cov="unscaled")
        left = y - np.polyval(np.polyfit(x - middle, y, degree), x - middle)
        scatter = math.sqrt(left @ left / (len(x) - degree - 1) * unscaled[-2, -2])
    dial = division * math.cos(math.radians(angle)) / math.sqrt(12) * math.sqrt(2) / np.ptp(x)
    u, n = math.hypot(scatter, dial), len(x)
    assert found.line.u_slope == pytest.approx(u, rel=1e-6)
    one = division * math.cos(math.radians(angle))
    alone = stats.t.ppf(0.975, n - degree - 1) * scatter * np.ptp(x)
    assert found.expanded_mm == pytest.approx(max(alone, one), rel=1e-6)


def test_two_stations_leave_only_the_dial_in_the_budget():
    budget = analyse_sweep([0, 300], [0, 0.02], Indicator()).line.budget
    assert [line.name for line in budget.lines] == ["the dial's division, at both ends"]
    assert budget.u == pytest.approx(0.01 / math.sqrt(6)), "two divisions of 0.01, rectangular"


@given(st.lists(st.floats(-1, 1), min_size=2, max_size=2), st.floats(10, 900))
def test_two_readings_never_pass_and_fail_a_dozen_divisions_beyond_the_tolerance(readings, span):
    found = analyse_sweep([0, span], readings, Indicator())
    far = abs(readings[1] - readings[0]) > 0.05 + 12 * 0.01
    assert found.verdict == ("fail" if far else "unsure")
    assert found.two_only


@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_a_dip_is_told_by_itself_and_does_not_widen_the_tilt(unit):
    """Thou over 25 in, 7 equal stations: the dip of 2.2 is sag, the tilt of 0.2 passes two thou."""
    readings = [r * 0.001 * unit for r in (0, -1.2, -1.9, -2.2, -1.8, -1.1, 0.3)]
    found = analyse_sweep(
        [n * 25 / 6 * unit for n in range(7)], readings, Indicator(division_mm=0.0005 * unit), 0.002 * unit
    )
    assert found.sagging
    assert found.verdict == "pass"
    assert found.expanded_mm < 0.001 * unit
    assert found.bow_mm == pytest.approx(0.0023 * unit, rel=0.1)


@given(st.floats(-0.002, 0.002), st.floats(0.05, 0.5), st.floats(-300, 300))
def test_any_even_sag_leaves_the_tilt_as_it_is(slope, dip, start):
    stations = [start + 60 * n for n in range(7)]
    middle = start + 180
    flat = [slope * (x - middle) for x in stations]
    bent = [y + dip * ((x - middle) / 180) ** 2 for x, y in zip(stations, flat, strict=True)]
    found = analyse_sweep(stations, bent, Indicator(division_mm=0.001))
    assert found.sagging
    assert found.line.slope == pytest.approx(slope, abs=1e-12)
    assert found.expanded_mm == pytest.approx(
        analyse_sweep(stations, flat, Indicator(division_mm=0.001)).expanded_mm, abs=1e-9
    )


@pytest.mark.parametrize(
    ("readings", "asked"),
    [
        ((0.0, 0.005, -0.005, 0.0), False),
        ((0.002, -0.004, 0.006), False),
        ((0.00635, 0.0, 0.0127 / 2), True),
        ((0.0001, 0.0003, 0.0), True),
        ((0.005, 0.003, 0.0), True),
        ((0.0, 0.0), False),
        ((0.011, 0.003), False),
    ],
)
def test_halves_and_fifths_of_a_division_are_read_and_anything_finer_was_typed_in_another_unit(readings, asked):
    assert finer_than_the_dial(readings, 0.01) == asked


def test_a_reading_that_slipped_is_asked_about_and_decides_nothing():
    """Seven readings of a level body, one of them a tenth off: it would fail, and without it it passes."""
    for odd in (0.1, -0.1):
        readings = [0.0, 0.002, 0.001, odd, 0.003, 0.002, 0.0]
        found = analyse_sweep([0, 60, 120, 180, 240, 300, 360], readings, Indicator(division_mm=0.002), 0.02)
        assert found.odd == (3,)
        assert found.verdict == "pass" or found.verdict == "unsure"
        assert found.bow_verdict == "unsure"
    both = [0.0, 0.002, 0.001, 0.2, 0.003, -0.2, 0.0, 0.001, 0.0, 0.002]
    found = analyse_sweep([40 * n for n in range(10)], both, Indicator(division_mm=0.002), 0.02)
    assert set(found.odd) == {3, 5}
    clean = analyse_sweep([0, 100, 200, 300], [0.0, 0.05, 0.1, 0.15], Indicator())
    assert clean.odd == ()

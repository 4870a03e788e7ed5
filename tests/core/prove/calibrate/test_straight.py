"""Whether errors at stations lie on a line: false alarms are rare, real shapes are seen, in both units."""

import random
from collections import Counter

import numpy as np
import pytest
from scipy import stats

from vernus.core.prove.calibrate.straight import shape_of
from vernus.core.uncertainty import f_tail


def patterns(error, seed, trials=300, repeats=1, unit=1.0):
    """How often each pattern is seen of a true error (mm, of a share of the travel)."""
    rng, found = random.Random(seed), Counter()
    for _ in range(trials):
        share = np.linspace(0, 1, rng.choice([5, 7, 9, 11])).repeat(repeats)
        step, noise = rng.choice([0.001, 0.005]) * unit, rng.choice([0.001, 0.002, 0.004]) * unit
        read = [round((error(x) * unit + rng.gauss(0, noise)) / step) * step for x in share]
        found[shape_of(share * 400 * unit, [r - read[0] for r in read], step).pattern] += 1 / trials
    return found


@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_four_stations_on_a_parabola_are_bent(unit):
    bow = [0.0, 0.045, 0.045, 0.0]
    assert shape_of([100 * n * unit for n in range(4)], [e * unit for e in bow], 0.001 * unit).pattern == "bent"


@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_stations_that_repeat_finer_than_they_lie_on_a_line_lack_its_fit(unit):
    """Up and down from station to station: no polynomial finds it, their own repeats do."""
    at = np.linspace(0, 300, 9).repeat(3) * unit
    zigzag = [unit * (0.004 * (-1) ** (n // 3) + 0.0005 * (n % 3 - 1)) for n in range(27)]
    assert shape_of(at, zigzag, 0.001 * unit).pattern == "bent"
    assert shape_of(at[::3], zigzag[::3], 0.001 * unit).pattern == "line", "without repeats it may be scatter"


@pytest.mark.parametrize("unit", [1.0, 25.4])
@pytest.mark.parametrize("error", [lambda _x: 0.0, lambda x: 0.03 * x])
def test_what_is_straight_is_seldom_called_anything_else(error, unit):
    assert patterns(error, 1, unit=unit)["line"] > 0.92


def test_a_bow_of_twice_what_is_wanted_is_seen():
    assert patterns(lambda x: 0.04 * (1 - (2 * x - 1) ** 2), 2)["bent"] > 0.9
    assert patterns(lambda x: 0.04 * (1 - (2 * x - 1) ** 2), 2, repeats=2)["bent"] > 0.95


def test_a_zero_that_alone_is_off_is_seen_as_that():
    assert patterns(lambda x: 0.03 if x > 0 else 0.0, 3)["zero-off"] > 0.8
    even = shape_of([0, 100, 200, 300, 400], [0, 0.03, 0.03, 0.03, 0.03], 0.005)
    assert (even.pattern, even.range_mm) == ("zero-off", 0.03)


def test_roundings_alone_are_no_pattern():
    assert shape_of([0, 100, 200, 300, 400], [0, 0.005, 0, 0.005, 0], 0.005).pattern == "line"


@pytest.mark.parametrize(("above", "below"), [(1, 1), (1, 9), (2, 3), (3, 30), (8, 200)])
def test_fishers_f_is_that_of_scipy(above, below):
    for f in (0.01, 0.5, 1.0, 2.7, 15.0, 400.0):
        assert f_tail(f, above, below) == pytest.approx(stats.f.sf(f, above, below), rel=1e-9, abs=1e-14)

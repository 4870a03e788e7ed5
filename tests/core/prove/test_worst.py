"""How stations scatter: against SciPy's regression, NumPy's fit and a pooled scatter done by hand, in both units."""

import random

import numpy as np
import pytest
from scipy import stats

from vernus.core.prove.worst import Stations, judge_worst, scatter_of_stations


@pytest.mark.parametrize("unit", [1.0, 25.4])
@pytest.mark.parametrize("seed", range(6))
def test_single_readings_scatter_about_what_they_lie_on(seed, unit):
    chance = random.Random(seed)
    n = chance.randint(6, 12)
    at = sorted(chance.uniform(0, 400) * unit for _ in range(n))
    errors = [chance.gauss(0, 0.003) * unit for _ in range(n)]
    line = stats.linregress(at, errors)
    u, freedom = scatter_of_stations(at, errors, "line")
    assert (u / np.sqrt(np.sum((np.array(at) - np.mean(at)) ** 2)), freedom) == (pytest.approx(line.stderr), n - 2)
    u, freedom = scatter_of_stations([*at, -1.0], [*errors, 5.0], "zero-off")
    assert (u / np.sqrt(np.sum((np.array(at) - np.mean(at)) ** 2)), freedom) == (pytest.approx(line.stderr), n - 2)
    _, (left,), *_ = np.polyfit(np.array(at) / at[-1], errors, 3, full=True)
    u, freedom = scatter_of_stations(at, errors, "bent")
    assert (u**2 * freedom, freedom) == (pytest.approx(left), n - 4)
    assert scatter_of_stations(at[:2], errors[:2], "line") is None
    assert scatter_of_stations(at[:5], errors[:5], "bent") is None


def test_repeats_tell_their_own_scatter_pooled_over_the_stations():
    u, freedom = scatter_of_stations([0, 0, 100, 100, 100], [0.001, 0.003, 0, 0.003, 0.006], "line")
    assert (freedom, u) == (3, pytest.approx(np.sqrt((2e-6 + 18e-6) / 3 / 2)))


def test_a_worst_that_lies_within_its_own_scatter_is_not_judged():
    of = Stations(5, 0.004, 3, 0.001)
    verdicts = [judge_worst(mm, of, 0.02).verdict for mm in (0.005, 0.02, 0.06)]
    assert verdicts == ["pass", "unsure", "fail"]
    assert judge_worst(0.03, Stations(5, None, 0, 0.001), 0.02).verdict == "unsure"
    assert judge_worst(0.033, Stations(5, None, 0, 0.001), 0.02).verdict == "fail", "a dozen steps beyond"

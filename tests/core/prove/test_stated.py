"""U at 95 % of counts and factors covers the truth, and verdicts keep their error rates: by draws, a seeded tenth."""

import random

import pytest

from vernus.core.budget import judge, stated
from vernus.core.prove.calibrate.calibration import average_moves
from vernus.core.prove.calibrate.factor import fit_factor
from vernus.core.prove.positioning import analyse_positioning

DRAWS = 400
COVERED = 0.93
"""What U at 95 % covers at least, over every kind of noise; own requirement."""


def rounded(mm, step):
    return round(mm / step) * step


@pytest.mark.parametrize("n", [3, 5, 10])
@pytest.mark.parametrize(("noise", "step"), [(0.0, 0.005), (0.001, 0.005), (0.004, 0.001), (0.02, 0.001)])
def test_u_of_counts_covers_the_true_ones(n, noise, step):
    chance, inside = random.Random(f"{n} {noise} {step}"), 0
    for _ in range(DRAWS):
        true, moved = 200 * (1 + chance.gauss(0, 100e-6)), chance.uniform(60, 250)
        shown = [rounded(moved * true / 200 + chance.gauss(0, noise), step) for _ in range(n)]
        check = average_moves(shown, [moved] * n, 200.0, step_mm=step)
        found = 200 * check.shown_mm / check.moved_mm
        inside += abs(found / true - 1) <= check.expanded_rel
    assert inside / DRAWS >= COVERED


def test_a_display_set_far_off_has_its_scatter_in_true_length():
    # 30 000 counts per inch set where 2558.7 are so: what scatters by 0.2 thou shown is 2.3 thou true.
    check = average_moves([x * 25.4 for x in (0.2558, 0.2557, 0.2561)], [76.2] * 3, 30000 / 25.4)
    found = 30000 * check.shown_mm / check.moved_mm
    assert found == pytest.approx(2558.7, abs=0.1)
    assert found * check.expanded_rel == pytest.approx(5.2, abs=0.1)


@pytest.mark.parametrize("n", [3, 5, 8])
@pytest.mark.parametrize(("noise", "step"), [(0.0, 0.005), (0.003, 0.005), (0.01, 0.001)])
def test_u_of_a_factor_covers_the_true_one(n, noise, step):
    chance, inside = random.Random(f"factor {n} {noise}"), 0
    for _ in range(DRAWS):
        true, span = 1 + chance.gauss(0, 100e-6), chance.uniform(150, 600)
        stations = [span * k / (n - 1) for k in range(n)]
        fit = fit_factor(stations, [rounded(x * true + chance.gauss(0, noise), step) for x in stations])
        inside += abs(fit.factor * true - 1) <= fit.expanded(step)
    assert inside / DRAWS >= (COVERED if n > 3 else 0.9), "three stations of which rounding hides the scatter"


@pytest.mark.parametrize(("times", "most"), [(1.05, 0.06), (1.25, 0.015), (2.0, 0.005)])
def test_counts_off_by_more_than_is_wanted_hardly_ever_pass(times, most):
    chance, passed, wanted, travel = random.Random(f"pass {times}"), 0, 0.02, 400.0
    for _ in range(2 * DRAWS):
        off = chance.choice((-1, 1)) * times * wanted / travel
        shown = [rounded(200 * (1 + off) + chance.gauss(0, 0.001), 0.001) for _ in range(5)]
        check = average_moves(shown, [200.0] * 5, 200.0, step_mm=0.001)
        found = abs(check.shown_mm / check.moved_mm - 1) * travel
        passed += judge(found, check.expanded_rel * travel, wanted).verdict == "pass"
    assert passed / (2 * DRAWS) <= most


def test_a_second_source_never_makes_u_smaller():
    assert stated(0.01, 2, 0.0) <= stated(0.01, 2, 0.0, rest=0.001)
    assert stated(0.0, 4, 0.005) == 0.005
    assert stated(0.001, 4, 0.005) == 0.005


@pytest.mark.parametrize(("times", "passes", "fails"), [(0.5, None, 0.005), (1.05, 0.06, None), (2.0, 0.005, None)])
def test_the_accuracy_of_a_run_is_judged_at_the_rates_it_states(times, passes, fails):
    """Five cycles at ten targets both ways; the true accuracy of a machine without reversal is 4 s and its wave."""
    chance, said, s, tolerance = random.Random(f"iso {times}"), [], 0.001, 0.02
    wave = times * tolerance - 4 * s
    for _ in range(60):
        targets, up, off = [], [], []
        for _cycle in range(5):
            for way in (True, False):
                for k in range(10):
                    targets.append(40.0 * k)
                    up.append(way)
                    off.append(wave * (k % 2) + chance.gauss(0, s))
        said.append(analyse_positioning(targets, up, off).judge_accuracy(tolerance))
    if passes is not None:
        assert said.count("pass") / len(said) <= passes
    if fails is not None:
        assert said.count("fail") / len(said) <= fails
        assert said.count("pass") / len(said) >= 0.9, "far inside it is decided"

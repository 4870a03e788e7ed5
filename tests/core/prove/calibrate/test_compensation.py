"""The table of corrections: exact against trying everything, and never worse than what it replaces."""

import itertools
import math
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.prove.calibrate.compensation import fit_segments
from vernus.core.prove.calibrate.table_choice import compare_tables

INCH = 25.4


def everything(at, wanted, points, spacing):
    """(largest residual, sum of squares, points) of the best table, in steps, by trying every table there is."""
    grid = [at[0] + (at[-1] - at[0]) * k / (points - 1) for k in range(points)]
    inner = grid[1:-1] if spacing == "equal" else sorted({*at[1:-1], *grid[1:-1]})
    counts = [points - 2] if spacing == "equal" else range(points - 1)
    best = (math.inf, math.inf, 0)
    reach = range(math.floor(min(wanted)) - 2, math.ceil(max(wanted)) + 3)
    slack = straight_line(at, wanted) + 0.5
    for count in counts:
        for chosen in itertools.combinations(inner, count):
            knots = [at[0], *chosen, at[-1]]
            for values in itertools.product(reach, repeat=len(knots)):
                left = np.abs(np.interp(at, knots, values) - wanted)
                if not all(_near(k, v, at, wanted, slack) for k, v in zip(knots, values, strict=True)):
                    continue
                best = min(best, (round(left.max(), 6), round((left**2).sum(), 6), len(knots)))
    return best


def straight_line(at, wanted):
    """What the best line leaves at most: it runs along one pair of stations, half its zone away."""
    slopes = [(wanted[j] - wanted[i]) / (at[j] - at[i]) for i in range(len(at)) for j in range(i)]
    return min(np.ptp(wanted - m * np.asarray(at)) / 2 for m in slopes)


def _near(knot, value, at, wanted, slack):
    """A knot between stations stays near its neighbours' corrections."""
    after = next(n for n, x in enumerate(at) if x >= knot - 1e-9)
    if abs(at[after] - knot) < 1e-9:
        return True
    pair = [wanted[after - 1], wanted[after]]
    return min(pair) - slack - 1e-9 <= value <= max(pair) + slack + 1e-9


CASES = st.tuples(
    st.lists(st.integers(1, 9), min_size=2, max_size=3),
    st.lists(st.floats(-2.4, 2.4).map(lambda x: round(x, 2)), min_size=4, max_size=4),
    st.integers(2, 4),
    st.sampled_from(["free", "equal"]),
    st.sampled_from([0.001, 0.005, 0.0001 * INCH]),
)


@settings(max_examples=8)
@given(CASES)
def test_the_table_is_the_best_there_is(case):
    gaps, steps, points, spacing, step = case
    at = np.concatenate([[0.0], np.cumsum(gaps)]) * 7.3
    wanted = np.array(steps[: len(at)])
    table = fit_segments(at, at + wanted * step, points, spacing, step)
    most, squares, count = everything(at, wanted, points, spacing)
    assert table.max_residual_mm / step == pytest.approx(most, abs=2e-5)
    assert (table.rms_residual_mm / step) ** 2 * len(at) == pytest.approx(squares, abs=1e-4)
    if spacing == "free":
        assert len(table.knots) == count


def stations(seed, count, scale=1.0):
    rng = np.random.default_rng(seed)
    at = np.sort(rng.uniform(0, 500, count)) * scale
    shape = 0.02 * np.sin(at / scale / 80) + 3e-5 * at / scale + rng.normal(0, 0.002, count)
    return at, at + shape * scale


@pytest.mark.parametrize("scale", [1.0, INCH])
@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("points", [2, 5])
def test_never_worse_than_equal_spacing_than_the_line_or_than_nothing(seed, points, scale):
    shown, true = stations(seed, 9, scale)
    step = 0.001 * scale
    free, equal = (fit_segments(shown, true, points, spacing, step) for spacing in ("free", "equal"))
    assert free.max_residual_mm <= equal.max_residual_mm + 1e-9
    for table in (free, equal):
        assert table.max_residual_mm <= table.linear_max_mm + step / 2 + 1e-9
        assert table.max_residual_mm <= np.abs(true - shown).max() + 1e-9


def test_the_values_can_be_keyed_in_and_leave_what_is_said():
    shown, true = stations(3, 15)
    for table in (fit_segments(shown, true, points) for points in (2, 4, 7)):
        for knot in table.knots:
            assert round(knot.correction_mm * 1000) == pytest.approx(knot.correction_mm * 1000, abs=1e-6)
        assert (table.knots[0].at_mm, table.knots[-1].at_mm) == (shown[0], shown[-1])
        errors = [true_mm - s - table.correction(s) for s, true_mm in zip(shown, true, strict=True)]
        assert max(map(abs, errors)) == pytest.approx(table.max_residual_mm)


def test_a_roof_is_found_with_its_ridge_at_a_station_and_repeats_are_averaged():
    true = [0, 100, 200, 300, 400, 400, 500]
    shown = [0, 99.990, 199.980, 299.970, 399.985, 399.975, 499.990]
    table = fit_segments(shown, true, 5)
    assert [(round(k.at_mm, 3), round(k.correction_mm, 3)) for k in table.knots] == [
        (0, 0), (299.97, 0.03), (499.99, 0.01),
    ]  # fmt: skip
    assert table.max_residual_mm < 1e-9
    assert table.correction(600) == pytest.approx(0.01), "beyond the end the last value is held"


def test_noise_alone_is_not_worth_a_table_and_a_wave_is():
    rng = np.random.default_rng(4)
    true = np.linspace(0, 400, 11)
    noise = true - rng.normal(0, 0.002, 11)
    _, chosen = compare_tables(noise, true, 5)
    assert chosen.points <= 1
    trials, chosen = compare_tables(noise - 0.03 * np.sin(true / 90), true, 5)
    assert chosen.points >= 4
    assert chosen.unseen_rms_mm < trials[1].unseen_rms_mm / 2


def test_a_straight_error_wants_the_line():
    true = np.linspace(0, 20, 9) * INCH
    rng = np.random.default_rng(1)
    _, chosen = compare_tables(true * (1 - 120e-6) + rng.normal(0, 0.0015, 9), true, 4)
    assert chosen.points == 1


@pytest.mark.parametrize(
    ("shown", "true", "points", "step", "words"),
    [
        ([0, 1, 2], [0, 1, 2], 1, 0.001, "two points"),
        ([0, 1, 2], [0, 1, 2], 3, 0.0, "step"),
        ([0, 0], [0, 0], 3, 0.001, "two different stations"),
        ([0, 2, 1], [0, 1, 2], 3, 0.001, "direction"),
        ([0, math.inf], [0, 1], 3, 0.001, "finite"),
        ([0, 1], [0, 1], 5000, 0.001, "5000"),
    ],
)
def test_what_cannot_be_a_table_is_refused(shown, true, points, step, words):
    with pytest.raises(BadInputError, match=words):
        fit_segments(shown, true, points, step_mm=step)


@pytest.mark.parametrize(("stations", "spacing"), [(9, "free"), (21, "equal")])
def test_a_mistyped_station_is_told_and_does_not_take_for_ever(stations, spacing):
    true = np.linspace(0, 500, stations)
    shown = true.copy()
    shown[stations // 2] += 6
    table = fit_segments(shown, true, 4, spacing, 0.0005)
    assert "corrections-far-apart" in {f.code for f in table.findings}
    assert table.max_residual_mm <= table.linear_max_mm + 0.05
    for knot in table.knots:
        assert round(knot.correction_mm / 0.0005) == pytest.approx(knot.correction_mm / 0.0005, abs=1e-6)


def test_a_table_that_follows_every_reading_is_said_to_do_so():
    codes = {f.code for f in fit_segments([0, 10, 20], [0, 10.004, 20], 3).findings}
    assert codes == {"held-beyond-the-ends", "a-point-per-station"}
    codes = {f.code for f in fit_segments([0, 10, 20, 30], [0, 10.001, 20.002, 30.003], 3).findings}
    assert "line-is-as-good" not in codes, "the line itself is what the table became"


@pytest.mark.parametrize("seed", range(40))
def test_awkward_floats_and_ties_lose_no_knot(seed):
    """Means of repeats in steps of the display: values that lie between two multiples of the step, or nearly."""
    rng = random.Random(seed)
    for _ in range(8):
        true = [x / 10 for x in sorted(rng.sample(range(1, 4000), rng.randint(3, 7)))]
        repeats = rng.choice([1, 3, 6])
        shown = [sum(round(rng.gauss(x, 0.004), 3) for _ in range(repeats)) / repeats for x in true]
        points, step = rng.randint(2, 5), rng.choice([0.005, 0.001, 0.00508, 0.01])
        if sorted(shown) != shown:
            continue
        found = fit_segments(shown, true, points, "free", step)
        assert len(found.knots) >= 2
        assert (found.knots[0].at_mm, found.knots[-1].at_mm) == (shown[0], shown[-1])
        assert found.max_residual_mm <= fit_segments(shown, true, 2, "free", step).max_residual_mm + 1e-4 * step


def test_a_tie_found_in_use_keeps_its_knots():
    true = [51.2, 99.9, 181.1, 219.6]
    shown = [51.199333333333335, 99.897, 181.10133333333332, 219.59833333333333]
    found = fit_segments(shown, true, 3, "free", 0.005)
    assert len(found.knots) == 3
    assert found.max_residual_mm == pytest.approx(0.00294, abs=1e-5)

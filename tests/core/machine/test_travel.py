import math

import pytest

from vernus.core.errors import BadInputError
from vernus.core.machine.travel import compare_methods, measure_travel, useful_travel


def test_one_reading_has_the_uncertainty_of_its_two_marks():
    travel = measure_travel([262.0], 1.0)
    assert travel.u_mm == pytest.approx(math.sqrt(2 * 0.5**2 / 3))
    assert [f.code for f in travel.findings] == ["travel-one-reading"]


def test_repeats_add_the_uncertainty_of_their_mean():
    readings = [10.331 * 25.4, 10.335 * 25.4, 10.327 * 25.4]
    travel = measure_travel(readings, 0.02)
    spread = 0.004 * 25.4
    assert travel.travel_mm == pytest.approx(10.331 * 25.4)
    assert travel.u_mm == pytest.approx(math.sqrt(2 * 0.01**2 / 3 + spread**2 / 3))


def test_repeats_far_apart_are_told():
    assert [f.code for f in measure_travel([262, 267], 1.0).findings] == ["travel-repeats-apart"]


@pytest.mark.parametrize(("readings", "division"), [([], 1), ([0.0], 1), ([-262.0], 1), ([262.0], 0)])
def test_impossible_travels_are_refused(readings, division):
    with pytest.raises(BadInputError):
        measure_travel(readings, division)


def test_methods_that_disagree_are_told_with_both_figures():
    tape, handwheel = measure_travel([262.0, 262.0], 1.0), measure_travel([265.0, 265.0], 0.05)
    found = compare_methods(tape, handwheel)
    assert found is not None
    assert "+3.000 mm" in found.what.text("mm")
    assert "+118.1 thou" in found.what.text("in")
    assert compare_methods(tape, measure_travel([262.6, 262.6], 0.05)) is None


def test_useful_travel():
    assert useful_travel(262, 10, 0) == 252
    for low, high in ((-1, 0), (200, 100)):
        with pytest.raises(BadInputError):
            useful_travel(262, low, high)


@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_the_budget_of_a_travel_says_whether_a_finer_tool_or_more_readings_help(unit):
    coarse = measure_travel([262 * unit, 262.1 * unit, 261.9 * unit], 1.0 * unit)
    assert coarse.u_mm == pytest.approx(math.sqrt(2 * 0.25 / 3 + 0.01 / 3) * unit), "two half divisions, s 0.1 of three"
    assert coarse.budget.dominant.name == "the tool's division, at both marks"
    assert "finer tool" in coarse.budget.in_words().text()
    loose = measure_travel([262 * unit, 263 * unit], 0.02 * unit)
    assert loose.budget.dominant.name == "how well it repeats"
    assert loose.expanded_mm == pytest.approx(12.706 * unit / 2, rel=0.01), "t·s/√n of two readings 1 apart, one degree"


def test_two_readings_half_a_unit_apart_are_known_to_three_at_95_percent():
    """500, 500.5: s = 0.354, u = 0.25, one degree of freedom, t = 12.7 (JCGM 100:2008 table G.2)."""
    for unit in (1.0, 25.4):
        assert measure_travel([500 * unit, 500.5 * unit], 0.02 * unit).expanded_mm == pytest.approx(
            3.18 * unit, rel=0.01
        )

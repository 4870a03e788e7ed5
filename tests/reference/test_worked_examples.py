"""Budgets and fits against worked examples of published guides, and against the ``uncertainties`` package.

The figures of the guides are from memory.
"""

import math

import pytest
import uncertainties
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.budget import BudgetLine, combine
from vernus.core.prove.calibrate.factor import fit_factor
from vernus.core.prove.references import Reference, reference_lines, temperature_lines
from vernus.core.prove.thermal import ALPHA_PER_K, ALPHA_SHARE


def test_end_gauge_calibration_of_the_gum():
    """JCGM 100:2008, H.1: 25, 5.8, 3.9, 6.7, 2.9 and 16.6 nm make 32 nm with 16 degrees of freedom."""
    lines = [
        BudgetLine("standard", 25.0, "normal", freedom=18),
        BudgetLine("repeats", 5.8, "normal", freedom=24),
        BudgetLine("comparator, random", 3.9, "normal", freedom=5),
        BudgetLine("comparator, systematic", 6.7, "normal", freedom=8),
        BudgetLine("expansion", 2.9, "normal", freedom=50),
        BudgetLine("temperature difference", 16.6, "normal", freedom=2),
    ]
    budget = combine(lines)
    assert round(budget.u) == 32
    assert math.floor(budget.freedom) == 16
    assert budget.dominant.name == "standard"


def test_gauge_block_calibration_of_the_european_guide():
    """EA-4/02, example S4 (50 mm gauge block): 36.4 nm."""
    lines = [
        BudgetLine("standard", 15.0, "normal"),
        BudgetLine("its drift", 30.0),
        BudgetLine("repeats", 12.0 / math.sqrt(5), "normal"),
        BudgetLine("comparator", 32.0),
        BudgetLine("temperature difference", 0.05, sensitivity=575.0),
        BudgetLine("expansion", 11.8, "normal"),
        BudgetLine("off centre", 6.7),
    ]
    assert combine(lines).u == pytest.approx(36.4, abs=0.1)


def test_the_straight_line_of_the_gum():
    """JCGM 100:2008, H.3: intercept −0.1712(29), slope 0.00218(67), r = −0.930, at 30 °C −0.1494 with u = 0.0041."""
    at = [21.521, 22.012, 22.512, 23.003, 23.507, 23.999, 24.513, 25.002, 25.503, 26.010, 26.511]
    correction = [-0.171, -0.169, -0.166, -0.159, -0.164, -0.165, -0.156, -0.157, -0.159, -0.161, -0.160]
    true = [t - 20 for t in at]
    fit = fit_factor(true, [t + b for t, b in zip(true, correction, strict=True)])
    assert (fit.intercept_mm, fit.u_intercept_mm) == pytest.approx((-0.1712, 0.0029), abs=6e-5)
    assert (fit.slope - 1, fit.u_slope) == pytest.approx((0.00218, 0.00067), abs=6e-6)
    assert fit.correlation == pytest.approx(-0.930, abs=6e-4)
    assert fit.predicted_error(10) == pytest.approx((-0.1494, 0.0041), abs=6e-5)


@given(
    st.floats(20, 500), st.floats(10, 30), st.floats(10, 30), st.floats(0.1, 2), st.sampled_from(["steel", "aluminium"])
)
def test_a_move_with_its_temperatures_agrees_with_uncertainties(length, t_ref, t_scale, u_c, substance):
    """The same move by another package's propagation of derivatives, to six digits."""
    reference = Reference("blocks", "1", 1, substance, stated_mm=0.004, detector_mm=0.001)
    lines = reference_lines(reference, length) + temperature_lines(length, substance, "glass", t_ref, t_scale, u_c)

    def about(value, half_width):
        return uncertainties.ufloat(value, half_width / math.sqrt(3))

    ours, theirs = ALPHA_PER_K["glass"], ALPHA_PER_K[substance]
    block = uncertainties.ufloat(length, 0.002)
    zeros = about(0, 0.0005) + about(0, 0.0005)
    warm = length * (
        about(theirs, theirs * ALPHA_SHARE) * (about(t_ref, u_c) - 20)
        - about(ours, ours * ALPHA_SHARE) * (about(t_scale, u_c) - 20)
    )
    assert combine(lines).u == pytest.approx((block + zeros + warm).std_dev, rel=1e-6)

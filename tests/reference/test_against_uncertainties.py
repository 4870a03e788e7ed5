"""Our propagation against the ``uncertainties`` package, to six digits."""

import numpy as np
import pytest
import uncertainties
from uncertainties import ufloat

from vernus.core.align.sweep import Indicator, analyse_sweep, correct
from vernus.core.align.sweep_review import gain_between
from vernus.core.machine.travel import measure_travel
from vernus.core.prove.calibrate.calibration import MoveCheck
from vernus.core.prove.calibrate.counts import count_per_unit
from vernus.core.prove.calibrate.factor import fit_factor


@pytest.mark.parametrize(("shown", "moved", "per"), [(100.02, 100, 200), (9.251 * 25.4, 9.25 * 25.4, 5080 / 25.4)])
def test_counts_per_unit(shown, moved, per):
    q = max(1 / per, 0.01)
    d = ufloat(shown, (0.004**2 + q**2 / 6) ** 0.5)
    true = per * d / ufloat(moved, 0.003)
    ours = count_per_unit(MoveCheck(shown, moved, per, 0.004, 0.003, 0.01))
    assert ours.counts_per_mm == pytest.approx(true.nominal_value, rel=1e-12)
    assert ours.u_rel * ours.counts_per_mm == pytest.approx(true.std_dev, rel=1e-6)


def test_the_factor_and_the_error_it_predicts():
    true = np.array([0, 25.4, 101.6, 203.2, 300.0])
    shown = np.array([0.01, 25.42, 101.61, 203.28, 300.07])
    fit = fit_factor(true, shown, current=1.0002)
    covariance = [
        [fit.u_intercept_mm**2, fit.correlation * fit.u_intercept_mm * fit.u_slope],
        [fit.correlation * fit.u_intercept_mm * fit.u_slope, fit.u_slope**2],
    ]
    i, k = uncertainties.correlated_values([fit.intercept_mm, fit.slope], covariance)
    assert fit.u_factor == pytest.approx((1.0002 / k).std_dev, rel=1e-6)
    for x in (0.0, 150.0, 450.0):
        error, u = fit.predicted_error(x)
        theirs = i + k * x - x
        assert error == pytest.approx(theirs.nominal_value, abs=1e-12)
        assert u == pytest.approx(theirs.std_dev, rel=1e-6)


def test_the_covariance_agrees_with_numpy():
    true = np.array([0, 25.4, 101.6, 203.2, 300.0])
    shown = np.array([0.01, 25.42, 101.61, 203.28, 300.07])
    fit = fit_factor(true, shown)
    covariance = np.polyfit(true, shown, 1, cov=True)[1]
    assert fit.u_slope == pytest.approx(covariance[0, 0] ** 0.5, rel=1e-6)
    assert fit.u_intercept_mm == pytest.approx(covariance[1, 1] ** 0.5, rel=1e-6)
    assert fit.correlation == pytest.approx(covariance[0, 1] / (covariance[0, 0] * covariance[1, 1]) ** 0.5, rel=1e-6)


def test_the_gain_of_a_correction_and_the_shift():
    stations = [0.0, 111, 208, 330]
    before = analyse_sweep(stations, [0, 0.11, 0.22, 0.31], Indicator())
    after = analyse_sweep(stations, [0, 0.02, 0.01, 0.04], Indicator())
    b0, b1 = (ufloat(s.line.slope, s.line.u_slope) for s in (before, after))
    gain = gain_between(before, after)
    assert gain.u == pytest.approx(((b0 - b1) / b0).std_dev, rel=1e-6)
    fix = correct(before, [0, 0.11, 0.22, 0.31], Indicator(), (-20, 400))
    assert fix.u_shift_mm == pytest.approx((-b0 * 420).std_dev, rel=1e-6)


def test_a_travel_from_two_marks():
    half = 0.5 / 3**0.5
    distance = ufloat(400, half) - ufloat(138, half)
    assert measure_travel([262.0], 1.0).u_mm == pytest.approx(distance.std_dev, rel=1e-6)

"""Whether it is the temperature: worked by hand, and bounded by random draws."""

import random

import pytest

from vernus.core.errors import BadInputError
from vernus.core.prove.thermal import ALPHA_PER_K, check_temperature


@pytest.mark.parametrize(
    ("length", "scale", "reference", "t_scale", "t_reference", "wanted_um"),
    [
        (500.0, "glass", "steel", 26.0, 26.0, 500 * (11.5 - 8.5) * 6 / 1000),
        (500.0, "steel", "steel", 20.0, 20.0, 0.0),
        (19.685 * 25.4, "glass", "steel", 26.0, 26.0, 9.0),
        (1000.0, "steel", "steel", 30.0, 20.0, -115.0),
        (300.0, "cast-iron", "aluminium", 12.0, 16.0, 300 * (23 * -4 - 10.5 * -8) / 1000),
    ],
)
def test_the_sum_by_hand(length, scale, reference, t_scale, t_reference, wanted_um):
    found = check_temperature(length, scale, reference, t_scale, t_reference)
    assert found.expected_mm * 1000 == pytest.approx(wanted_um, abs=1e-4)
    assert found.least_mm <= found.expected_mm <= found.greatest_mm
    assert found.explained is None


@pytest.mark.parametrize("seed", range(8))
def test_no_draw_of_coefficients_and_temperatures_leaves_the_range(seed):
    rng = random.Random(seed)
    scale, reference = rng.sample(sorted(ALPHA_PER_K), 2)
    length, t, u = rng.uniform(20, 2000), rng.uniform(-5, 45), rng.uniform(-5, 45)
    found = check_temperature(length, scale, reference, t, u, u_c=0.7)
    drawn = [
        length
        * (
            ALPHA_PER_K[reference] * rng.uniform(0.85, 1.15) * (u + rng.uniform(-0.7, 0.7) - 20)
            - ALPHA_PER_K[scale] * rng.uniform(0.85, 1.15) * (t + rng.uniform(-0.7, 0.7) - 20)
        )
        for _ in range(2000)
    ]
    assert found.least_mm <= min(drawn)
    assert max(drawn) <= found.greatest_mm
    assert max(drawn) - min(drawn) > 0.6 * (found.greatest_mm - found.least_mm)


def test_a_drift_in_the_range_is_explained_and_one_outside_is_not():
    inside = check_temperature(500, "glass", "steel", 26, 26, drift_mm=0.009)
    assert inside.explained is True
    assert inside.findings[0].severity == "info"
    outside = check_temperature(500, "glass", "steel", 26, 26, drift_mm=0.2)
    assert outside.explained is False
    assert outside.findings[0].code == "not-the-temperature"
    unsure = check_temperature(500, "glass", "steel", 26, 26, drift_mm=0.2, u_drift_mm=0.1)
    assert unsure.explained is True


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        ({"length_mm": 0.0}, "larger than zero"),
        ({"scale": "cheese"}, "cheese"),
        ({"scale_c": 500.0}, "°C"),
        ({"u_drift_mm": -1.0}, "negative"),
    ],
)
def test_what_is_wrong_is_named(changed, words):
    given = {"length_mm": 500.0, "scale": "glass", "reference": "steel", "scale_c": 22.0, "reference_c": 22.0}
    with pytest.raises(BadInputError, match=words):
        check_temperature(**{**given, **changed})

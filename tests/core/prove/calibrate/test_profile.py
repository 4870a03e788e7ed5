"""What is keyed into displays of every kind."""

import pytest

from vernus.core.errors import BadInputError
from vernus.core.prove.calibrate.profile import DisplayProfile, key_counts, key_factor, key_knot


def test_counts_are_rounded_as_the_display_takes_them_and_the_cost_is_told():
    whole = key_counts(DisplayProfile("mm", True), 100.787, 500)
    assert whole.words.text() == "101 counts per mm"
    assert whole.findings[0].code == "whole-counts-cost"
    assert "1.057 mm over the travel of 500 mm" in whole.findings[0].what.text()
    inch = key_counts(DisplayProfile("in", True), 2560 / 25.4, 500)
    assert (inch.words.text(), inch.findings) == ("2560 counts per inch", ())
    assert key_counts(DisplayProfile("mm", False), 200.0348, None).value == pytest.approx(200.035)


def test_counts_outside_the_range_or_none_at_all_are_told():
    found = key_counts(DisplayProfile("in", True, 1000, 9999), 1000, 100).findings
    assert [f.code for f in found] == ["counts-out-of-range"]
    assert "1000 to 9999" in found[0].what.text()
    with pytest.raises(BadInputError, match="round to none"):
        key_counts(DisplayProfile("mm", True), 0.2, 100)
    with pytest.raises(BadInputError):
        key_counts(DisplayProfile(), 0.0, 100)


@pytest.mark.parametrize(
    ("style", "wants", "words", "value"),
    [
        ("multiplier", "correction", "0.999800", 0.9998),
        ("multiplier", "error", "1.000200", 1 / 1.0002),
        ("ppm", "correction", "−200 ppm", 0.9998),
        ("ppm", "error", "+200 ppm", 0.9998),
        ("mm-per-m", "correction", "−0.200 mm per metre", 0.9998),
        ("pair", "correction", "true 100 mm, shown 100.020 mm", 100 / 100.02),
    ],
)
def test_one_factor_in_every_way_of_writing_it(style, wants, words, value):
    keyed = key_factor(DisplayProfile(factor=style, wants=wants), 0.9998)
    assert keyed.words.text() == words
    assert keyed.value == pytest.approx(value, abs=1e-9)


@pytest.mark.parametrize("factor", [0.9998, 1.0008, 1.000031])
@pytest.mark.parametrize("true_in", [3.0, 2.9987, 0.5])
def test_both_of_a_pair_are_keyed_in_the_displays_own_unit(factor, true_in):
    """Read back as the display takes it: two figures of one unit whose ratio is the factor, to the display's step."""
    profile = DisplayProfile(factor="pair")
    said = key_factor(profile, factor, true_in * 25.4).words.text("in")
    true, shown = (float(part.split()[1]) for part in said.split(", "))
    assert [part.split()[2] for part in said.split(", ")] == ["in", "in"]
    assert true == pytest.approx(true_in, abs=1e-9)
    assert true / shown == pytest.approx(factor, abs=(profile.table_step_mm + 1.3e-4) / (true_in * 25.4))


def test_a_factor_that_cannot_be_is_refused():
    with pytest.raises(BadInputError):
        key_factor(DisplayProfile(), -1.0)


@pytest.mark.parametrize(
    "profile",
    [
        DisplayProfile(factor="multiplier", factor_decimals=0),
        DisplayProfile(factor="pair", table_step_mm=1e6),
        DisplayProfile(factor="ppm"),
        DisplayProfile(factor="mm-per-m"),
    ],
    ids=lambda p: p.factor,
)
def test_steps_too_coarse_for_a_factor_are_told_and_never_divided_by(profile):
    for factor in (1e-9, 0.3, 1.0002, 1e9):
        try:
            assert key_factor(profile, factor).value > 0
        except BadInputError as error:
            assert "too coarse" in str(error)
    with pytest.raises(BadInputError, match="too coarse"):
        key_factor(profile, 1e-9 if profile.factor != "pair" else 1.0)


def test_a_point_of_a_table_is_counted_from_the_origin_and_written_in_the_sign_the_display_wants():
    plain = DisplayProfile()
    assert key_knot(plain, 120.0, -0.004) == (120.0, -0.004)
    other = DisplayProfile(wants="error", origin_mm=20.0)
    assert key_knot(other, 120.0, -0.004) == (100.0, 0.004)
    assert str(key_knot(other, 20.0, 0.0)[1]) == "0.0", "never minus nothing"

"""What is asked about a typed figure, and what was likely meant."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.doubt import Yardstick, doubt_length, doubt_number, doubt_temperature, doubt_value
from vernus.core.finding import Sentence
from vernus.core.units import MM_PER, parse_length, parse_temperature

TRAVEL = Yardstick(165, 2640, Sentence("the travel is 660"), zero=False)
DIAL = Yardstick(0.00254, 0.8, Sentence("the dial's division is 0.5 thou"), signed=True)
PITCH = Yardstick(0.2, 13, Sentence("a pitch is 0.2 to 13"), zero=False, pitch=True)
SHOP = Yardstick(5, 40, Sentence("a shop is between 5 and 40"))


@pytest.mark.parametrize(("text", "unit", "yardstick", "mm"), [
    ("665", "in", TRAVEL, 665),
    ("26", "mm", TRAVEL, 660.4),
    ("0.011", "thou", DIAL, 0.2794),
    ("-0.002", "thou", DIAL, -0.0508),
    ("120", "mm", DIAL, 0.12),
    ("20", "mm", PITCH, 1.27),
    ("20", "in", PITCH, 1.27),
    ("1/20", "mm", PITCH, 1.27),
    ("-665", "mm", TRAVEL, 665),
    ("1,250", "mm", TRAVEL, 1250),
])  # fmt: skip
def test_what_was_likely_meant_is_proposed(text, unit, yardstick, mm):
    asked = doubt_length(text, unit, yardstick)
    assert parse_length(asked.instead, unit).mm == pytest.approx(mm)
    assert asked.what.text().startswith(text)


@pytest.mark.parametrize(("text", "unit", "yardstick"), [
    ("660", "mm", TRAVEL), ("26 in", "mm", TRAVEL), ("0", "thou", DIAL), ("-1.2", "thou", DIAL),
    ("20 tpi", "mm", PITCH), ("1/20", "in", PITCH), ("0,9", "mm", PITCH),
])  # fmt: skip
def test_what_is_usual_is_not_asked_about(text, unit, yardstick):
    assert doubt_length(text, unit, yardstick) is None


def test_a_figure_that_fits_nowhere_is_asked_about_without_a_proposal():
    asked = doubt_length("17315121.75", "mm", TRAVEL)
    assert (asked.instead, asked.meant) == ("", "")


@given(
    st.floats(170, 2600), st.sampled_from(["mm", "in"]), st.sampled_from(["mm", "in"]),
)  # fmt: skip
def test_the_right_figure_in_the_wrong_unit_is_never_swallowed(mm, meant, field):
    """Typed as it reads in one unit into a field of the other."""
    text = f"{mm / float(MM_PER[meant]):.4f}"
    typed = parse_length(text, field).mm
    asked = doubt_length(text, field, TRAVEL)
    if meant == field:
        assert asked is None
    elif not 165 <= typed <= 2640:
        assert parse_length(asked.instead, field).mm == pytest.approx(mm, abs=0.01)


@given(st.floats(-1e6, 1e6), st.sampled_from(["mm", "in", "thou", "µm"]))
def test_a_stored_figure_is_judged_by_its_value(mm, unit):
    asked = doubt_value(mm, unit, TRAVEL)
    shown = round(mm / float(MM_PER[unit]), {"mm": 4, "in": 5, "thou": 2, "µm": 1}[unit]) * float(MM_PER[unit])
    assert (asked is None) == TRAVEL.fits(shown)


def test_numbers_with_a_thousands_mark():
    counts = Yardstick(10, 1e7, Sentence("counts are more than 10"), zero=False)
    assert doubt_number("30,000", 30.0, counts).instead == "30000"
    assert doubt_number("5080", 5080.0, counts) is None
    assert doubt_number("2", 2.0, counts).instead == ""


@pytest.mark.parametrize(("text", "celsius"), [("75", 23.889), ("55", 12.778), ("41", 5.0), ("104", 40.0)])
def test_fahrenheit_typed_as_celsius(text, celsius):
    asked = doubt_temperature(text, "°C", SHOP)
    assert parse_temperature(asked.instead)[0] == pytest.approx(celsius, abs=1e-3)


def test_celsius_typed_as_fahrenheit():
    assert doubt_temperature("20", "°F", SHOP).instead == "20 °C"
    assert doubt_temperature("68", "°F", SHOP) is None
    assert doubt_temperature("500", "°C", SHOP).instead == ""

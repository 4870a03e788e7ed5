from fractions import Fraction

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError, LengthSyntaxError, VernusError
from vernus.core.units import format_fine, format_length, format_plain, format_pm, parse_length, parse_number, to_unit

UREG = pint.UnitRegistry()
PINT_NAME = {"mm": "mm", "cm": "cm", "m": "m", "in": "inch", "inch": "inch", "thou": "thou", "µm": "um", "um": "um"}


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("262", "mm", 262),
        ("262", "in", 6654.8),
        ("262 mm", "in", 262),
        ("9.25 in", "mm", 234.95),
        ('9 1/4"', "mm", 234.95),
        ("9 1/4", "in", 234.95),
        ("6-5/8", "in", 168.275),
        ("-6-5/8", "in", -168.275),
        ("6 - 5/8", "in", 136.525),
        ("3/32 in", "mm", 2.38125),
        ("3 thou", "mm", 0.0762),
        ("12 µm", "mm", 0.012),
        ("12 μm", "mm", 0.012),
        ("12um", "in", 0.012),
        ("22,5", "mm", 22.5),
        (".5", "mm", 0.5),
        ("5.", "mm", 5),
        ("180 + 22,5", "mm", 202.5),
        ("180-22,5", "mm", 157.5),
        ("1 in + 3 mm", "mm", 28.4),
        ("10 + 1/2 in - 2 thou", "mm", 22.6492),
        ("−3", "mm", -3),
        ("½ in", "mm", 12.7),
        ("3½", "thou", 0.0889),
        ("9 ¼ in", "mm", 234.95),
        ("2.5cm", "mm", 25),
    ],
)
def test_every_entry_form_is_read_exactly(text, unit, mm):
    typed = parse_length(text, unit)
    assert typed.mm == pytest.approx(mm, abs=1e-12)
    assert typed.text == text.strip()


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("53.2 × 5", "mm", 266.0),
        ("20*0.2 in", "mm", 101.6),
        ("3 × 1/4 in + 2 mm", "in", 21.05),
        ("2 × 3 × 4", "mm", 24),
    ],
)
def test_turns_times_lead_are_multiplied(text, unit, mm):
    assert parse_length(text, unit).mm == pytest.approx(mm)


@pytest.mark.parametrize("text", ["× 5", "5 ×", "5 × × 2", "5 in × 2 in"])
def test_a_product_that_is_none_is_refused(text):
    with pytest.raises(LengthSyntaxError):
        parse_length(text)


def test_inch_fractions_lose_nothing():
    assert parse_length("1/3 in").exact_mm == Fraction(254, 30)
    assert parse_length("1/64 in").exact_mm * 64 == Fraction(254, 10)


@pytest.mark.parametrize(
    ("text", "position", "part"),
    [
        ("", 1, "nothing typed"),
        ("12x", 3, "not a unit"),
        ("12 mm 3", 7, "one length"),
        ("12 ++", 5, "number is wanted"),
        ("abc", 1, "number is wanted"),
        ("1/0 in", 3, "divided by zero"),
        ("1.2.3", 4, "second"),
        ("1,000.5", 6, "thousands"),
        ("1/2/3", 4, "second"),
        ("180 +", 6, "the end"),
        ("9" * 90, 80, "longer than"),
        ("1e400", 2, "not a unit"),
    ],
)
def test_what_cannot_be_read_is_named_with_its_position(text, position, part):
    with pytest.raises(LengthSyntaxError, match=part) as caught:
        parse_length(text)
    assert caught.value.position == position
    assert isinstance(caught.value, ValueError)
    assert isinstance(caught.value, VernusError)


@given(st.decimals(-99999, 99999, places=4), st.sampled_from(sorted(PINT_NAME)))
def test_units_agree_with_pint(number, unit):
    ours = parse_length(f"{number} {unit}").mm
    theirs = UREG.Quantity(float(number), PINT_NAME[unit]).to("mm").magnitude
    assert ours == pytest.approx(theirs, rel=1e-12, abs=1e-12)


@given(st.integers(0, 200), st.integers(0, 63), st.sampled_from(["mm", "in", "thou"]))
def test_mixed_numbers_agree_with_pint(whole, top, unit):
    ours = parse_length(f"{whole}-{top}/64", unit).mm
    theirs = UREG.Quantity(whole + top / 64, PINT_NAME[unit]).to("mm").magnitude
    assert ours == pytest.approx(theirs, rel=1e-12)


@given(st.floats(-1e5, 1e5), st.sampled_from(["mm", "in", "thou", "µm"]))
def test_what_is_shown_reads_back(mm, unit):
    text = f"{to_unit(mm, unit):.9f} {unit}"
    assert parse_length(text).mm == pytest.approx(mm, abs=1e-7)


@given(st.text(max_size=30))
def test_any_text_is_read_or_refused_in_a_sentence(text):
    try:
        parse_length(text)
    except LengthSyntaxError as error:
        assert 1 <= error.position <= max(80, len(text)) + 1
        assert str(error).endswith(".")


def test_formats_in_both_systems():
    assert format_length(-0.001, "mm") == "0.00 mm"
    assert format_length(25.4, "in") == "1.000 in"
    assert format_fine(0.0254, "in") == "1.0 thou"
    assert format_fine(0.0254, "in", sign=True) == "+1.0 thou"
    assert format_fine(-0.0254, "mm") == "−0.025 mm"
    assert format_fine(-0.00001, "mm", sign=True) == "0.000 mm"
    assert format_plain(331.0, "mm") == "331 mm"
    assert format_plain(100.0, "mm") == "100 mm"
    assert format_plain(12.7, "in") == "0.5 in"
    assert format_pm(262.4012, 0.0823) == "262.401 ± 0.082"
    assert format_pm(680.4, 12.0) == "680 ± 12"


def test_plain_numbers():
    assert parse_number(" 0,9998 ") == 0.9998
    assert parse_number("1.5e-3") == 0.0015
    for bad in ("x", "", "nan", "inf", "1;2"):
        with pytest.raises(BadInputError):
            parse_number(bad)

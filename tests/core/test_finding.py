import re

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from vernus.core.finding import Fine, Mm, Rate, Sentence, Size, conclusion, finding, in_order, plain


def test_a_finding_reads_right_in_either_system():
    found = finding(
        "x", "caution", "Off by {by} at {at}, {rate}.", "Move {at}.", by=Fine(0.0254), at=Mm(254), rate=Rate(1e-3)
    )
    assert found.as_json("mm")["text"] == "Off by 0.025 mm at 254 mm, 1.000 mm per metre."
    assert found.as_json("in")["text"] == "Off by 1.0 thou at 10 in, 12.00 thou per foot."
    assert found.as_json()["remedy"] == "Move 254 mm."


def test_braces_in_what_somebody_typed_are_just_braces():
    assert plain("{0} {x!r}").text() == "{0} {x!r}"
    assert finding("x", "info", "{text}", "ok", text="{evil}").what.text() == "{evil}"


IN_MM = {"mm": 1.0, "in": 25.4, "thou": 0.0254, "µm": 0.001}
KINDS = st.sampled_from([Mm, Fine, Size])


def read_back(text):
    """The lengths of a sentence in mm, as its reader takes them."""
    found = re.findall(r"([+−-]?[\d.]+) (mm|in|thou|µm)", text)
    return [float(number.replace("−", "-")) * IN_MM[unit] for number, unit in found]


@given(st.floats(0, 900), st.floats(-0.02, 0.02), KINDS, KINDS, st.sampled_from(["mm", "in"]))
def test_a_comparison_is_printed_with_the_digits_that_make_it_true(mm, off, one, other, system):
    assume(abs(off) > 2e-6)
    said = Sentence("misreads by {a}, more than the {b} wanted", {"a": one(mm), "b": other(mm + off)}).text(system)
    a, b = read_back(said)
    assert (a > b) == (mm > mm + off), said


def test_equal_lengths_stay_short_and_the_usual_ones_keep_their_digits():
    said = Sentence("{a} of {b}", {"a": Mm(10.0), "b": Mm(10.0 + 1e-9)})
    assert said.text() == "10 mm of 10 mm"
    assert Sentence("{a}, {b}", {"a": Mm(0.0331), "b": Mm(0.03)}).text() == "0.033 mm, 0.03 mm"
    assert Sentence("{a}, {b}", {"a": Mm(391.0), "b": Fine(0.05)}).text() == "391 mm, 0.050 mm"


@pytest.mark.parametrize("words", ["Key 200.12 counts per mm into the display.", "Any words at all."])
def test_nothing_is_concluded_beside_an_open_stop_or_caution(words):
    note, caution, stop = (finding("x", s, "what", f"settle the {s}") for s in ("info", "caution", "stop"))
    for said in (conclusion(words), Sentence("Look first. {then}", {"then": conclusion(words)})):
        assert in_order(said, [note]).text() == said.text()
        assert in_order(said, [note, caution]).text() == "settle the caution"
        assert in_order(said, [caution, stop]).text() == "settle the stop"
    assert in_order(plain(words), [caution]).text() == words
    assert in_order(plain(words), [stop]).text() == "settle the stop"

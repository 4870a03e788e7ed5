import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.align.reader import (
    GapAt,
    judge_gap,
    judge_set,
    review_as_built,
    review_push,
    review_spare,
    review_spare_sum,
)  # fmt: skip
from vernus.core.budget import standing_limit
from vernus.core.errors import BadInputError

ENDS = (0.0, 150.0, 300.0)


def gaps(*pairs):
    return [GapAt(x, *pair) for x, pair in zip(ENDS, pairs, strict=False)]


def test_a_gap_proved_from_both_sides_passes():
    # Gap 0.5 by its shim, one feeler step either way (common practice, no source).
    result = judge_gap(gaps((0.45, 0.55), (0.5, 0.55), (0.45, 0.5)), (0.5, 0.5), 300)
    assert (result.verdict, result.least_mm, result.most_mm) == ("pass", 0.45, 0.55)
    assert "nothing may rub" in result.instruction.text()
    assert result.findings == ()


@pytest.mark.parametrize(
    ("tried", "verdict", "words"),
    [
        (((0.45, 0.55), (0.3, 0.4), (0.45, 0.55)), "fail", "At 150 mm the gap is under"),
        (((0.45, 0.55), (0.5, 0.55), (0.6, 0.7)), "fail", "At 300 mm the gap is over"),
        (((0.45, 0.55), (0.5, None), (0.45, 0.55)), "unsure", "at 150 mm try a feeler of 0.550 mm; it must not"),
        (((0.45, 0.55), (0.4, 0.5), (0.45, 0.55)), "unsure", "at 150 mm try a feeler of 0.450 mm; it must go"),
    ],
)
def test_what_feelers_leave_open_is_said_with_the_one_to_try(tried, verdict, words):
    result = judge_gap(gaps(*tried), (0.5, 0.5), 300)
    assert result.verdict == verdict
    assert words in result.instruction.text()


@given(st.lists(st.tuples(st.floats(0, 2), st.floats(0.01, 1)), min_size=3, max_size=6), st.floats(0.1, 1))
def test_a_verdict_never_contradicts_the_true_gap(pairs, wanted):
    tried = [GapAt(n * 50.0, go, go + more) for n, (go, more) in enumerate(pairs)]
    result = judge_gap(tried, (wanted, wanted))
    if result.verdict == "pass":
        assert all(wanted - 0.05 <= g.go_mm and g.no_go_mm <= wanted + 0.05 for g in tried)
    if result.verdict == "fail":
        assert any(g.no_go_mm <= wanted - 0.05 or g.go_mm >= wanted + 0.05 for g in tried)


def test_a_gap_that_changes_points_to_the_alignment():
    result = judge_gap(gaps((0.2, 0.3), (0.5, 0.6), (0.9, 1.0)), (0.1, 2.0), 300)
    assert result.verdict == "pass"
    assert result.change_mm == pytest.approx(0.6)
    narrow = judge_gap(gaps((0.4, 0.45), (0.5, 0.55), (0.6, 0.65)), (0.5, 0.5), 300)
    assert "gap-changes" in [f.code for f in narrow.findings]


def test_a_gap_tried_in_one_place_is_not_enough():
    assert "gap-not-everywhere" in [f.code for f in judge_gap([GapAt(0, 0.45, 0.55)], (0.5, 0.5)).findings]
    with pytest.raises(BadInputError, match="No gap"):
        judge_gap([], (0.5, 0.5))
    with pytest.raises(BadInputError, match="thicker"):
        GapAt(0, 0.5, 0.4)


@pytest.mark.parametrize(
    ("by", "answer", "shim", "verdict"),
    [
        ("clips", "yes", None, "pass"), ("clips", "no", None, "fail"), ("clips", "", None, "unsure"),
        ("shim", "no", None, "fail"), ("shim", "", 0.5, "unsure"), ("shim", "yes", None, "unsure"),
        ("shim", "yes", 0.5, "pass"), ("strip", "yes", 0.75, "fail"), ("strip", "yes", 0.45, "pass"),
    ],
)  # fmt: skip
def test_a_gap_set_by_what_came_with_it_is_as_thick_as_that(by, answer, shim, verdict):
    assert judge_set(by, answer, shim, (0.4, 0.6))[0] == verdict


def test_spare_beyond_the_stops():
    assert [f.code for f in review_spare(0.0, 12.0, (10, 10), (12, 12))] == ["no-spare"]
    assert [f.code for f in review_spare(3.0, 21.0, (10, 10), (12, 12))] == ["spare-thin", "off-centre"]
    thin = review_spare(9.0, 15.0, (10, 10), (12, 12))
    assert [(f.code, f.severity) for f in thin][:1] == [("spare-thin", "info")], "the margin wanted is told"
    off = review_spare(3.0, 21.0, (10, 10), (12, 12))[1]
    assert "+9 mm off the place planned" in off.what.text()
    assert "+0.354 in" in off.what.text("in")
    assert review_spare(11.0, 13.0, (10, 10), (12, 12)) == review_spare(None, None, (10, 10), None) == []
    assert review_spare(9.0, 15.0, (9, 10), (9, 15)) == [], "uneven on purpose"


def test_a_mount_that_gives_is_told_with_its_limit():
    assert review_push(0.01, 0.01) == review_push(None, 0.01) == []
    assert "0.020 mm; 0.010 mm is harmless" in review_push(-0.02, 0.01)[0].what.text()
    assert standing_limit(0.005, 0.02) == pytest.approx(0.01), "two steps of the display"
    assert standing_limit(0.001, 0.04) == pytest.approx(0.01), "a quarter of the accuracy wanted"


@given(st.floats(0, 40), st.floats(0, 40), st.floats(50, 900))
def test_spares_and_stroke_make_the_scale_or_are_asked_about(low, high, stroke):
    exact = low + high + stroke
    assert review_spare_sum((low, high), stroke, exact) == []
    for off in (-20, 20):
        (found,) = review_spare_sum((low, high), stroke, exact + off)
        assert ("missing" in found.what.text()) == (off > 0)


def test_26_15_with_0_40_and_0_85_on_28_inches_is_asked_about():
    (found,) = review_spare_sum((0.4 * 25.4, 0.85 * 25.4), 26.15 * 25.4, 28 * 25.4)
    assert "make 27.4 in, but the scale measures 28 in: 0.6 in are missing" in found.what.text("in")


@pytest.mark.parametrize(("built", "severity"), [(262.5, None), (250.0, "info"), (270.0, "caution"), (300.0, "stop")])
def test_travel_as_built_is_held_against_the_plan(built, severity):
    found = review_as_built(built, 262.4, 18.8)
    assert [f.severity for f in found] == ([] if severity is None else [severity])

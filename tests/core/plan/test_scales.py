import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.plan.scales import choose_size, choose_sizes, family_by_id, judge_plan, place_reader, required_length
from vernus.job.catalog.shipped import scale_families

FAMILIES = scale_families()
GLASS = family_by_id(FAMILIES, "glass-standard")
TAPE = family_by_id(FAMILIES, "tape")


def test_required_length_counts_the_head_where_it_must_lie_on_the_scale():
    assert required_length(262, 10) == 282
    assert required_length(262, 12.7, TAPE.head_mm) == pytest.approx(262 + 25.4 + 40)


@given(st.floats(5, 900), st.floats(0, 60), st.sampled_from(FAMILIES))
def test_the_size_chosen_serves_and_the_next_smaller_does_not(travel, margin, family):
    choice = choose_size(family, travel, margin)
    margin = 0.0 if family.sizing == "stroke" else margin  # sold by what it can travel
    need = required_length(travel, margin, family.head_mm)
    if choice is None:
        assert max(family.sizes_mm) < need
        return
    assert choice.measuring_mm >= need - 1e-6
    assert choice.spare_each_end_mm >= margin - 1e-6
    more = family.reader_mm if family.sizing == "stroke" else 0
    assert choice.overall_mm == pytest.approx(choice.measuring_mm + 2 * family.end_piece_mm + more)
    if family.can_be_cut and family.sizing != "stroke":
        assert choice.cut_to_mm == choice.measuring_mm == math.ceil(need - 1e-9)
        assert choice.order_mm >= choice.measuring_mm
    else:
        assert choice.cut_to_mm is None
        smaller = [s for s in family.sizes_mm if s < choice.measuring_mm]
        assert not smaller or max(smaller) < need


def test_a_sum_that_is_whole_on_paper_does_not_go_up_a_size():
    choice = choose_size(GLASS, 10.2 * 25.4 + 0.92, 10)
    assert required_length(10.2 * 25.4 + 0.92, 10) == pytest.approx(280)
    assert choice is not None
    tape = choose_size(TAPE, 0.1 + 0.2 + 199.7, 10)
    assert tape is not None
    assert tape.cut_to_mm == 260


def test_the_overall_length_not_the_measuring_length_must_fit_the_face():
    choices, findings = choose_sizes([GLASS], 262, 10, face_mm=365)
    assert choices[0].fits_face is False
    assert findings[0].code == "longer-than-face"
    text = findings[0].what.text("in")
    assert "16.693 in overall" in text
    assert "although its measuring length of 11.811 in is not" in text


def test_families_too_short_are_told_instead_of_left_out_silently():
    choices, findings = choose_sizes(FAMILIES, 700, 10)
    assert {f.code for f in findings} == {"no-size"}
    assert len(choices) + len(findings) == len(FAMILIES)


@given(st.floats(20, 500), st.floats(1, 20), st.booleans())
def test_the_reader_keeps_its_margin_at_either_stop(travel, margin, follows):
    choice = choose_size(GLASS, travel, margin)
    assert choice is not None
    place = place_reader(GLASS, choice.measuring_mm, (0, travel), (margin, margin), reader_follows=follows)
    low, high = place.at_stops_mm
    for stop in (low, high):
        for shift in (-place.slack_mm, place.slack_mm):
            assert place.measuring_from_mm + margin <= stop + shift + 1e-9
            assert stop + shift <= place.measuring_to_mm - margin + 1e-9
    assert (high > low) == follows
    assert abs(high - low) == pytest.approx(travel)


def test_the_place_counts_from_the_low_mark_and_is_the_middle_of_what_the_stops_leave():
    # 168 of travel, 60 given up at the high end, 150 of measuring length, 42 from the body's end: spare 21 each.
    family = replace(GLASS, end_piece_mm=42.0, sizing="measuring", head_mm=0.0)
    place = place_reader(family, 150, (0, 108), (10, 10), reader_follows=True)
    assert (place.axis_at_mm, place.reader_at_mm, place.slack_mm) == (54, 117, 11)
    assert (place.reader_mm(0), place.reader_mm(168)) == (63, 231)
    # 18 given to metal at the high end beyond that: the same bolt, another parking place, more slack there.
    nearer = place_reader(family, 150, (0, 108), (10, 10), reader_follows=True, stops_mm=(0, 90))
    assert (nearer.axis_at_mm, nearer.reader_at_mm, nearer.spare_mm) == (45, 108, (21, 39))
    assert [nearer.reader_mm(q) for q in (0, 60, 168)] == [place.reader_mm(q) for q in (0, 60, 168)]


def test_a_scale_shorter_than_the_travel_is_a_stop_with_its_number():
    findings = judge_plan(GLASS, 250, 262, (10, 10))
    assert [(f.code, f.severity) for f in findings] == [("scale-too-short", "stop")]
    assert "by 6 mm" in findings[0].what.text()
    assert "282 mm" in findings[0].remedy.text()


def test_a_tape_too_short_for_its_head_is_a_stop():
    assert judge_plan(TAPE, 290, 262, (10, 10))[0].code == "scale-too-short"
    assert judge_plan(TAPE, 310, 262, (10, 10))[0].code == "margin-thin"
    assert judge_plan(TAPE, 322, 262, (10, 10)) == []


@pytest.mark.parametrize(("travel", "margin", "face"), [(0, 10, None), (-5, 10, None), (262, -1, None), (262, 10, 0)])
def test_impossible_lengths_are_refused(travel, margin, face):
    with pytest.raises(BadInputError):
        choose_size(GLASS, travel, margin, face)


def test_an_unknown_family_is_refused_with_the_list():
    with pytest.raises(BadInputError, match="glass-slim"):
        family_by_id(FAMILIES, "laser")

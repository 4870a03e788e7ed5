"""Circles, rows and the middle by halving: every hole on its circle at even steps; the finder cancels."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.prove.circle import circle_of_holes, halve, row_of_holes

ANGLE = st.floats(-360, 360)
PLACE = st.tuples(st.floats(-500, 500), st.floats(-500, 500))


@given(st.integers(1, 40), st.floats(1, 500), ANGLE, PLACE, st.sampled_from([1.0, 25.4]))
def test_every_hole_lies_on_the_circle_at_even_steps(holes, radius, start, centre, unit):
    middle = (centre[0] * unit, centre[1] * unit)
    places = circle_of_holes(holes, radius * unit, start, 360, middle)
    assert len(places) == holes
    for n, (x, y) in enumerate(places):
        assert math.dist((x, y), middle) == pytest.approx(radius * unit)
        turned = math.radians(start + 360 * n / holes)
        assert (x - middle[0], y - middle[1]) == pytest.approx(
            (radius * unit * math.cos(turned), radius * unit * math.sin(turned)), abs=1e-6 * unit
        )
    apart = [math.dist(a, b) for a, b in itertools.pairwise([*places, places[0]])]
    assert max(apart) - min(apart) < 1e-6 * radius * unit


@given(st.integers(2, 20), st.floats(1, 359), ANGLE)
def test_a_part_of_a_circle_is_drilled_at_both_its_ends(holes, span, start):
    places = circle_of_holes(holes, 50, start, span)
    assert places[0] == pytest.approx(circle_of_holes(1, 50, start)[0], abs=1e-9)
    assert places[-1] == pytest.approx(circle_of_holes(1, 50, start + span)[0], abs=1e-6)


@given(st.integers(1, 30), st.floats(0.5, 100), ANGLE, PLACE)
def test_a_row_runs_straight_at_its_pitch(holes, pitch, angle, first):
    places = row_of_holes(holes, pitch, angle, first)
    for n, place in enumerate(places):
        assert math.dist(place, first) == pytest.approx(n * pitch, abs=1e-6)


def test_seven_holes_on_a_radius_of_1_375_inches():
    places = circle_of_holes(7, 1.375 * 25.4)
    assert places[0] == pytest.approx((34.925, 0))
    assert places[1] == pytest.approx((34.925 * math.cos(2 * math.pi / 7), 34.925 * math.sin(2 * math.pi / 7)))


@given(st.floats(-300, 300), st.floats(1, 300), st.floats(0, 20), st.booleans())
def test_the_finder_cancels_in_the_middle_and_not_in_the_width(edge, width, finder, from_right):
    """Both edges touched from outside: the display reads half a finder too little and half one too much."""
    readings = [edge - finder / 2, edge + width + finder / 2]
    found = halve(*(readings[::-1] if from_right else readings), finder)
    assert found.middle_mm == pytest.approx(edge + width / 2, abs=1e-9)
    assert found.width_mm == pytest.approx(width, abs=1e-9)
    if width > finder:
        bore = halve(edge + finder / 2, edge + width - finder / 2, finder, "inside")
        assert (bore.middle_mm, bore.width_mm) == pytest.approx((edge + width / 2, width), abs=1e-9)


@pytest.mark.parametrize(
    "call",
    [
        lambda: circle_of_holes(0, 10),
        lambda: circle_of_holes(3, 0),
        lambda: circle_of_holes(3, 10, 0, 400),
        lambda: circle_of_holes(3, 10, 0, 0),
        lambda: circle_of_holes(10**9, 10),
        lambda: row_of_holes(3, -1),
        lambda: halve(0, 5, 10),
        lambda: halve(0, 5, -1),
    ],
)
def test_what_can_be_no_pattern_is_refused(call):
    with pytest.raises(BadInputError):
        call()

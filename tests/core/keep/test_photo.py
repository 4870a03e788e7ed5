"""Measuring in a picture, against synthetic views whose truth is known."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.keep.photo import Sourced, measure_photo

SIZE = (4000, 3000)
PAPER = (297.0, 210.0)


class View:
    """A pinhole camera over the plane z = 0 (x right, y up), looking at about its middle, from ``lean`` off square."""

    def __init__(self, rng, lean=20.0, far=700.0, focal=3200.0):
        lean, turn, roll = math.radians(rng.uniform(0, lean)), rng.uniform(0, 2 * math.pi), rng.uniform(-0.4, 0.4)
        back = np.array([math.sin(lean) * math.cos(turn), math.sin(lean) * math.sin(turn), math.cos(lean)])
        self.eye = back * far * rng.uniform(0.9, 1.3) + np.append(rng.uniform(-40, 40, 2), 0)
        right = np.cross([math.sin(roll), math.cos(roll), 0.0], back)
        right /= np.linalg.norm(right)
        self.turned = np.array([right, -np.cross(back, right), -back])
        self.focal = focal

    def __call__(self, places):
        spaced = np.column_stack([places, np.zeros(len(places))]) if np.shape(places)[1] == 2 else np.array(places)
        seen = (spaced - self.eye) @ self.turned.T
        return self.focal * seen[:, :2] / seen[:, 2:] + np.array(SIZE) / 2


def rectangle(rng, length, width, at=(0.0, 0.0)):
    turn = rng.uniform(0, 2 * math.pi)
    own = np.array([(0, 0), (length, 0), (length, width), (0, width)]) - (length / 2, width / 2)
    return own @ np.array([(math.cos(turn), math.sin(turn)), (-math.sin(turn), math.cos(turn))]) + at


def clicks(places, within):
    return tuple((x, y, within) for x, y in places)


def known_in(view, corners, length, width, within=2.0, **more):
    return Sourced(clicks(view(corners), within), length, width, **more)


def test_exact_clicks_give_exact_places_from_a_slanted_view():
    rng = np.random.default_rng(5)
    for _ in range(20):
        view, corners = View(rng, 40), rectangle(rng, *PAPER)
        datum, holes = np.array([(-180.0, -90.0), (150.0, -60.0)]), rng.uniform(-200, 200, (4, 2))
        found = measure_photo(known_in(view, corners, *PAPER), clicks(view(holes), 1.0), clicks(view(datum), 1.0), SIZE)
        along = (datum[1] - datum[0]) / np.linalg.norm(datum[1] - datum[0])
        true = np.column_stack([(holes - datum[0]) @ along, (holes - datum[0]) @ (-along[1], along[0])])
        assert np.allclose([(p.x_mm, p.y_mm) for p in found.places], true, atol=1e-6)


def coverage(trials, seed, click=3.0, proud=0.0, within=0.2):
    """The share of places that lie within their ±, over x and y of holes in fresh views with clicks off at random."""
    rng, inside, asked = np.random.default_rng(seed), 0, 0
    for _ in range(trials):
        view, corners = View(rng, 35, focal=rng.uniform(2900, 4500)), rectangle(rng, *PAPER)
        off = rng.normal(0, within / 1.959964, 2)
        true_sides = np.array(PAPER) + off
        corners = rectangle(rng, *true_sides)
        datum, holes = np.array([(-190.0, -140.0), (190.0, -140.0)]), rng.uniform(-180, 180, (3, 2))
        lifted = np.column_stack([corners, np.full(4, proud)])

        def clicked(places, good_to, view=view):
            seen = view(places)
            return clicks(seen + rng.normal(0, good_to / 1.959964, seen.shape), good_to)

        known = Sourced(clicked(lifted, click), *PAPER, within_mm=within, proud_mm=proud)
        found = measure_photo(known, clicked(holes, 2 * click), clicked(datum, click / 2), SIZE)
        for place, true in zip(found.places, holes - datum[0], strict=True):
            inside += int(abs(place.x_mm - true[0]) <= place.x_expanded_mm)
            inside += int(abs(place.y_mm - true[1]) <= place.y_expanded_mm)
            asked += 2
    return inside / asked


def test_the_plus_minus_covers_the_truth_in_500_views():
    assert 0.93 <= coverage(500, 11) <= 0.97


def test_a_thing_a_little_proud_of_the_face_is_covered_by_its_bound():
    assert coverage(150, 12, proud=1.0) >= 0.93


@given(st.integers(0, 2**32 - 1), st.sampled_from([1.0, 25.4]))
def test_places_scale_with_the_unit_of_the_sides_and_do_not_mind_the_order_of_corners(seed, unit):
    rng = np.random.default_rng(seed)
    view, corners = View(rng), rectangle(rng, *PAPER)
    known = known_in(view, corners, PAPER[0] * unit, PAPER[1] * unit)
    datum = clicks(view(np.array([(-100.0, 0.0), (100.0, 0.0)])), 2.0)
    holes = clicks(view(rng.uniform(-100, 100, (3, 2))), 2.0)
    first = measure_photo(known, holes, datum, SIZE)
    turned = replace(known, corners=known.corners[::-1])  # from 4 to 3 is the length again, the other way round
    again = measure_photo(turned, holes, datum, SIZE)
    for one, other in zip(first.places, again.places, strict=True):
        assert (one.x_mm, one.y_mm) == pytest.approx((other.x_mm, other.y_mm), abs=1e-6 * unit)
        assert one.x_expanded_mm == pytest.approx(other.x_expanded_mm, rel=1e-3)
    true = measure_photo(known_in(view, corners, *PAPER), holes, datum, SIZE)
    assert first.places[0].x_expanded_mm == pytest.approx(true.places[0].x_expanded_mm * unit, rel=1e-3)


def test_finer_clicks_and_nearer_things_make_the_plus_minus_smaller():
    rng = np.random.default_rng(3)
    view, corners = View(rng), rectangle(rng, *PAPER)

    def within(place, click):
        known = known_in(view, corners, *PAPER, within=click)
        return measure_photo(known, clicks(view(np.array([place])), click), (), SIZE).places[0].x_expanded_mm

    assert within((20.0, 10.0), 1.0) < within((20.0, 10.0), 4.0) < within((600.0, 400.0), 4.0)


def refusal(known, points=((2000.0, 1500.0, 2.0),), datum=()):
    with pytest.raises(BadInputError) as caught:
        measure_photo(known, points, datum, SIZE)
    return str(caught.value)


def thing(*corners, length=100.0, width=100.0):
    return Sourced(clicks(corners, 2.0), length, width)


def test_what_a_picture_cannot_know_is_refused_with_a_remedy():
    square = thing((1000, 1000), (2000, 1000), (2000, 2000), (1000, 2000))
    assert "3 of 4 corners" in refusal(replace(square, corners=square.corners[:3]))
    crossed = (square.corners[0], square.corners[2], square.corners[1], square.corners[3])
    assert "around" in refusal(replace(square, corners=crossed))
    assert "above the face" in refusal(replace(square, proud_mm=10.0))
    assert "size" in refusal(replace(square, width_mm=0.0))
    assert "off square" in refusal(thing((1000, 1000), (2000, 1000), (2000, 1300), (1000, 1300)))
    assert "picture points long" in refusal(thing((0, 0), (15, 0), (15, 15), (0, 15)))
    assert "picture points long" in refusal(thing((5, 5), (5, 5), (15, 15), (0, 15)))
    assert "same" in refusal(square, datum=((5.0, 5.0, 1.0), (5.0, 5.0, 1.0)))
    leaning = thing((1000, 1000), (2000, 1000), (2300, 2000), (700, 2000), width=90.0)
    assert "horizon" in refusal(leaning, points=((1500.0, -3000.0, 2.0),))
    assert "more than nothing" in refusal(square, points=((1500.0, 1500.0, 0.0),))


def test_a_slanted_or_coarse_picture_is_told():
    slanted = thing((1000, 1000), (2000, 1000), (2000, 1650), (1000, 1650))
    found = measure_photo(slanted, ((1500.0, 1200.0, 2.0),), (), SIZE)
    assert [f.code for f in found.findings] == ["photo-slanted"]
    assert found.lean_deg == pytest.approx(49.5, abs=0.2)
    rng = np.random.default_rng(1)
    view = View(rng)
    small = known_in(view, rectangle(rng, 60.0, 40.0), 60.0, 40.0, within=4.0)
    coarse = measure_photo(small, clicks(view([(200.0, 200.0)]), 4.0), (), SIZE)
    assert "photo-coarse" in [f.code for f in coarse.findings]

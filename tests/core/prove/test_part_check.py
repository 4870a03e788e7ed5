"""A drilled part: what was put in comes out, however it lay when measured; uncertainties cover and agree with SciPy."""

import itertools
import math
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.prove.circle import circle_of_holes
from vernus.core.prove.part_check import check_distances, check_places

SMALL = st.floats(-0.002, 0.002)


def drilled(places, ex, ey, square, turned=0.0, shift=(0.0, 0.0)):
    """Holes where a machine with these errors drills them; the Y axis leans by ``square`` toward +X."""
    c, s = math.cos(turned), math.sin(turned)
    bent = [((1 + ex) * x + square * (1 + ey) * y, (1 + ey) * y) for x, y in places]
    return [(c * x - s * y + shift[0], s * x + c * y + shift[1]) for x, y in bent]


@given(SMALL, SMALL, SMALL, st.floats(-0.001, 0.001), st.tuples(st.floats(-50, 50), st.floats(-50, 50)),
       st.sampled_from([1.0, 25.4]))  # fmt: skip
def test_scales_and_squareness_come_out_however_the_part_lay(ex, ey, square, turned, shift, unit):
    holes = circle_of_holes(7, 40 * unit)
    found = check_places(holes, drilled(holes, ex, ey, square, turned, shift))
    assert found.scale_x - 1 == pytest.approx(ex, abs=1e-5)
    assert found.scale_y - 1 == pytest.approx(ey, abs=1e-5)
    assert found.squareness == pytest.approx(square, abs=1e-5)
    assert found.rms_mm < 1e-9 * unit + 1e-12


@given(SMALL, SMALL, SMALL)
def test_distances_alone_say_the_same(ex, ey, square):
    holes = [(0.0, 0.0), (100.0, 0.0), (100.0, 80.0), (0.0, 80.0)]
    got = drilled(holes, ex, ey, square)
    pairs = list(itertools.combinations(range(4), 2))
    found = check_distances(
        [holes[a] for a, _ in pairs], [holes[b] for _, b in pairs], [math.dist(got[a], got[b]) for a, b in pairs]
    )
    assert (found.scale_x - 1, found.scale_y - 1) == pytest.approx((ex, ey), abs=2e-5)
    assert found.squareness == pytest.approx(square, abs=2e-5)


def test_squareness_is_positive_where_the_angle_is_below_ninety_degrees():
    holes = [(0.0, 0.0), (100.0, 0.0), (0.0, 100.0), (100.0, 100.0)]
    got = drilled(holes, 0, 0, 0.001)
    corner = math.atan2(got[2][1], got[2][0]) - math.atan2(got[1][1], got[1][0])
    assert corner < math.pi / 2
    assert check_places(holes, got).squareness == pytest.approx(0.001)


def test_it_is_ordinary_least_squares_with_its_uncertainty():
    rng = random.Random(5)
    holes = circle_of_holes(9, 50)
    got = [(x + rng.gauss(0, 0.01), y + rng.gauss(0, 0.01)) for x, y in holes]
    found = check_places(holes, got)
    design = np.column_stack([np.ones(9), *np.array(holes).T])
    off = np.array(got) - np.array(holes)
    fit, rest, *_ = np.linalg.lstsq(design, off, rcond=None)
    sd = math.sqrt(rest.sum() / (2 * 9 - 6))
    inverse = np.linalg.inv(design.T @ design)
    assert found.scale_x == pytest.approx(math.hypot(1 + fit[1, 0], fit[1, 1]))
    assert found.scale_x - 1 == pytest.approx(fit[1, 0], abs=1e-6), "to first order"
    assert found.squareness == pytest.approx(fit[2, 0] + fit[1, 1], abs=1e-6)
    assert found.u_scale_x == pytest.approx(sd * math.sqrt(inverse[1, 1]))
    assert found.u_squareness == pytest.approx(sd * math.sqrt(inverse[1, 1] + inverse[2, 2]))


def test_the_uncertainty_covers_in_nine_of_ten():
    rng, inside = random.Random(3), 0
    holes = circle_of_holes(6, 35)
    for _ in range(300):
        got = [(x + rng.gauss(0, 0.008), y + rng.gauss(0, 0.008)) for x, y in drilled(holes, 3e-4, -2e-4, 1e-4)]
        found = check_places(holes, got)
        inside += abs(found.scale_x - 1 - 3e-4) <= found.expanded_x
        inside += abs(found.squareness - 1e-4) <= found.expanded_square
    assert 0.92 < inside / 600 < 0.98


def test_three_holes_leave_nothing_to_spare():
    found = check_places([(0, 0), (10, 0), (0, 10)], [(0, 0), (10.01, 0), (0, 10)])
    assert (found.freedom, found.u_scale_x, found.expanded_x) == (0, None, None)


@pytest.mark.parametrize(
    "call",
    [
        lambda: check_places([(0, 0), (1, 0)], [(0, 0), (1, 0)]),
        lambda: check_places([(0, 0), (1, 0), (2, 0)], [(0, 0), (1, 0), (2, 0)]),
        lambda: check_places([(0, 0), (1, 0), (0, 1)], [(0, 0), (1, 0)]),
        lambda: check_places([(0, 0), (1, 0), (0, math.nan)], [(0, 0), (1, 0), (0, 1)]),
        lambda: check_distances([(0, 0)] * 3, [(1, 0), (2, 0), (3, 0)], [1, 2, 3]),
        lambda: check_distances([(0, 0)] * 3, [(1, 0), (0, 1), (0, 0)], [1, 1, 1]),
        lambda: check_distances([], [], []),
    ],
)
def test_what_cannot_be_told_is_refused(call):
    with pytest.raises(BadInputError):
        call()


@pytest.mark.parametrize("turn", [0, 1, 2, 5, -30, 90, 179])
@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_a_perfect_part_is_perfect_however_it_lies_in_its_fixture(turn, unit):
    a, holes = math.radians(turn), [(x * unit, y * unit) for x, y in [*circle_of_holes(6, 1.4), (0.3, 2.2)]]
    got = [(7 + x * math.cos(a) - y * math.sin(a), -3 + x * math.sin(a) + y * math.cos(a)) for x, y in holes]
    found = check_places(holes, got)
    assert (found.scale_x, found.scale_y, found.squareness) == pytest.approx((1, 1, 0), abs=1e-9)
    assert math.degrees(found.turn) == pytest.approx(turn)
    assert found.rms_mm < 1e-9


@pytest.mark.parametrize("turn", [0, 3, 40])
def test_scales_and_squareness_of_the_machine_are_found_through_any_turn(turn):
    a, holes = math.radians(turn), circle_of_holes(8, 40)
    made = [(1.001 * x + 0.002 * y, 0.998 * y) for x, y in holes]  # sheared by the machine, then laid down askew
    got = [(x * math.cos(a) - y * math.sin(a), x * math.sin(a) + y * math.cos(a)) for x, y in made]
    found = check_places(holes, got)
    assert found.scale_x == pytest.approx(1.001)
    assert found.scale_y == pytest.approx(math.hypot(0.002, 0.998))
    assert found.squareness == pytest.approx(math.atan2(0.002, 0.998))


@pytest.mark.parametrize("swap", [lambda x, y: (y, x), lambda x, y: (-x, y)])
def test_an_axis_swapped_or_reversed_is_refused(swap):
    holes = circle_of_holes(6, 30)
    with pytest.raises(BadInputError, match="mirror image"):
        check_places(holes, [swap(x, y) for x, y in holes])

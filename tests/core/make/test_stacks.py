import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.shims import ShimStock, pick_shims
from vernus.core.make.stacks import (
    StackItem,
    add_up,
    jack_turns,
    level_plane,
    shims_for_roll,
    slot_length,
    solve_spacer,
    take_out_draft,
)

DRAWER = [ShimStock(t, n) for t, n in ((0.05, 4), (0.1, 4), (0.2, 2), (0.5, 2), (1.0, 1))]
stocks = st.lists(
    st.builds(ShimStock, st.integers(1, 60).map(lambda n: n / 100), st.integers(0, 3)), min_size=1, max_size=4
)


def by_trying_everything(stock, wanted, slack):
    kinds = {}
    for s in stock:
        kinds[round(s.thickness_mm * 10_000)] = kinds.get(round(s.thickness_mm * 10_000), 0) + s.count
    kinds = {k: n for k, n in kinds.items() if n}
    options = []
    for counts in itertools.product(*(range(n + 1) for n in kinds.values())):
        total = sum(k * c for k, c in zip(kinds, counts, strict=True))
        options.append((abs(total - round(wanted * 10_000)), sum(counts), sum(c > 0 for c in counts)))
    least = min(o[0] for o in options)
    best = min((o[1], o[0] != 0, o[2]) for o in options if o[0] <= max(least, slack))  # exact before near
    return best[0], best[2]


def test_an_exact_stack_beats_a_near_one_of_as_many_pieces():
    pick = pick_shims([ShimStock(0.1, 2), ShimStock(0.18, 2), ShimStock(0.25, 2)], 0.35)
    assert (pick.pieces, pick.error_mm) == (((0.1, 1), (0.25, 1)), 0.0) or pick.total_mm == 0.35


@given(stocks, st.integers(0, 150).map(lambda n: n / 100))
def test_the_pick_equals_trying_everything(stock, wanted):
    if not any(s.count for s in stock):
        return
    pick = pick_shims(stock, wanted)
    slack = min(round(s.thickness_mm * 10_000) for s in stock if s.count) / 2
    if round(wanted * 10_000) == 0:
        assert pick.count == 0
        return
    assert (pick.count, len(pick.pieces)) == by_trying_everything(stock, wanted, slack)
    assert pick.total_mm == pytest.approx(sum(t * n for t, n in pick.pieces))
    have = {}
    for s in stock:
        have[s.thickness_mm] = have.get(s.thickness_mm, 0) + s.count
    assert all(n <= have[t] for t, n in pick.pieces)


def test_few_thick_shims_are_better_than_many_thin_ones():
    assert pick_shims(DRAWER, 0.7).pieces == ((0.5, 1), (0.2, 1))
    assert pick_shims(DRAWER, 0.35, tolerance_mm=0).count == 3
    assert pick_shims(DRAWER, 0.0).pieces == ()
    assert pick_shims(DRAWER, 9).total_mm == pytest.approx(3.0)


def test_inch_shims_are_picked_as_exactly():
    thou = [ShimStock(n * 0.0254, 2) for n in (1, 2, 5, 10)]
    pick = pick_shims(thou, 17 * 0.0254, tolerance_mm=0)
    assert [(round(t / 0.0254), n) for t, n in pick.pieces] == [(10, 1), (5, 1), (2, 1)]


@pytest.mark.parametrize("wrong", [(DRAWER, -1), (DRAWER, 99), ([ShimStock(-0.1, 1)], 1), ([ShimStock(0.1, -1)], 1)])
def test_shims_that_cannot_be_are_refused(wrong):
    with pytest.raises(BadInputError):
        pick_shims(*wrong)


def test_a_stack_has_a_worst_case_and_a_likely_one():
    stack = add_up([StackItem("plate", 10, 0.03), StackItem("body", 23, 0.04), StackItem("reader", -5, 0.12)])
    assert (stack.total_mm, stack.worst_mm, stack.rss_mm) == pytest.approx((28, 0.19, 0.13))
    assert solve_spacer([StackItem("plate", 10)], 12.5).total_mm == 2.5
    with pytest.raises(BadInputError, match="too high"):
        solve_spacer([StackItem("plate", 10)], 9)
    with pytest.raises(BadInputError, match="negative"):
        add_up([StackItem("plate", 10, -1)])


def test_slots_draft_and_roll():
    assert slot_length(5.5, 3) == 11.5
    draft = take_out_draft(2.0, 50.0, 33.0, 20.0)
    assert draft.angle_deg == pytest.approx(2.2906, abs=1e-4)
    assert (draft.wedge_mm, draft.shim_mm) == pytest.approx((1.32, 0.8))
    assert shims_for_roll(0.06, 0.02, 20, 25) == pytest.approx((0.002, 0.05))
    for call in (lambda: slot_length(0, 1), lambda: take_out_draft(1, 0, 1, 1), lambda: shims_for_roll(0, 1, 0, 1)):
        with pytest.raises(BadInputError):
            call()


@pytest.mark.parametrize(
    ("move", "pitch", "words"),
    [
     (1.1, 0.8, "drive in 1 3/8 turns"), (-0.1, 0.8, "back off 1/8 turn"), (0.8, 0.8, "drive in 1 turn"),
     (0.01, 1, "leave it"),
     (25.4 / 16, 25.4 / 32, "drive in 2 turns")],
)  # fmt: skip
def test_jack_screws_turn_in_eighths_with_words(move, pitch, words):
    assert jack_turns(move, pitch).words() == words


@given(st.floats(-20, 20), st.floats(0.3, 3))
def test_turns_are_right_to_a_sixteenth(move, pitch):
    turns = jack_turns(move, pitch)
    back = (turns.whole + turns.eighths / 8) * pitch * (1 if turns.way == "drive in" else -1)
    assert abs(back - move) <= pitch / 16 + 1e-9


@given(st.floats(-20, 20), st.floats(0.3, 3), st.floats(0.005, 0.2))
def test_turns_are_told_in_degrees_where_an_eighth_is_coarser_than_half_the_tolerance(move, pitch, tolerance):
    turns = jack_turns(move, pitch, tolerance)
    assert (turns.degrees is not None) == (pitch / 8 > tolerance / 2)
    if turns.degrees is not None:
        back = (turns.whole + turns.degrees / 360) * pitch * (1 if turns.way == "drive in" else -1)
        assert abs(back - move) <= pitch * 2.5 / 360 + 1e-9, "to five degrees"


def test_a_set_screw_of_32_to_the_inch_is_told_fine_enough_for_two_thou():
    assert jack_turns(0.0508, 25.4 / 32, 0.0508).words() == "drive in 25°"
    assert jack_turns(-25.4 / 32 * 1.1, 25.4 / 32, 0.0508).words() == "back off 1 turn and 35°"


SCREWS = [(0.0, 0.0), (300.0, 0.0), (0.0, 40.0), (300.0, 40.0)]


@given(st.floats(-0.005, 0.005), st.floats(-0.005, 0.005), st.floats(-1, 1))
def test_the_moves_make_the_plane_level(slope_x, slope_y, height):
    points = [
        (x, y, height + slope_x * x + slope_y * y) for x, y in ((10, 5), (150, 20), (290, 5), (10, 35), (290, 35))
    ]
    result = level_plane(points, SCREWS)
    moved = [height + slope_x * x + slope_y * y + m for (x, y), m in zip(SCREWS, result.moves_mm, strict=True)]
    assert np.ptp(moved) < 1e-9
    assert result.residual_mm < 1e-9
    shimmed = level_plane(points, SCREWS, only_out=True)
    assert min(shimmed.moves_mm) >= 0
    assert sum(map(abs, result.moves_mm)) <= sum(map(abs, shimmed.moves_mm)) + 1e-12


def test_three_bolts_are_solved_together_and_a_line_of_points_is_refused():
    result = level_plane([(0, 0, 0.0), (100, 0, 0.1), (0, 50, 0.0)], [(0, 0), (100, 0), (0, 50)], only_out=True)
    assert result.moves_mm == pytest.approx((0.1, 0.0, 0.1))
    assert math.isclose(result.slope_x, 0.001)
    with pytest.raises(BadInputError, match="one line"):
        level_plane([(0, 0, 0), (50, 0, 0), (100, 0, 0.1)], SCREWS)
    with pytest.raises(BadInputError, match="three points"):
        level_plane([(0, 0, 0), (50, 0, 0)], SCREWS)

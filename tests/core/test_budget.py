"""Budgets by hand, and verdicts at their edges."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.budget import BudgetLine, combine, judge
from vernus.core.errors import BadInputError


def test_lines_add_by_squares_with_their_divisors_and_sensitivities():
    budget = combine(
        [
            BudgetLine("a", 0.003, "normal"),
            BudgetLine("b", 0.002 * math.sqrt(3), "rectangular", sensitivity=2),
            BudgetLine("c", 0.0, "triangular"),
        ]
    )
    assert budget.u == pytest.approx(0.005)
    assert budget.dominant.name == "b"
    assert [budget.share(line) for line in budget.lines] == pytest.approx([0.36, 0.64, 0])
    assert budget.expanded == pytest.approx(1.959964 * 0.005, rel=1e-6)


def test_few_repeats_widen_the_interval():
    """One line with 4 degrees of freedom: Student's t is 2.776 (any handbook table)."""
    assert combine([BudgetLine("repeats", 0.001, "normal", freedom=4)]).k == pytest.approx(2.776, abs=5e-4)


def test_the_words_name_what_dominates_and_whether_that_alone_can_halve_it():
    small, big = BudgetLine("rounding", 0.001, "normal"), BudgetLine("the block", 0.01, "normal", remedy="Buy better.")
    text = combine([small, big]).in_words().text()
    assert "99 %, is the block. Buy better." in text
    assert "With that gone" not in text, "the rest is less than half"
    even = combine([BudgetLine("a", 0.01, "normal"), BudgetLine("b", 0.01, "normal"), BudgetLine("c", 0.01, "normal")])
    assert "With that gone, ± " in even.in_words().text()
    assert "thou" in even.in_words().text("in")
    assert "Nothing" in combine([BudgetLine("none", 0.0)]).in_words().text()


@given(st.floats(-1, 1), st.floats(0, 1), st.floats(0.01, 1))
def test_a_verdict_is_certain_or_unsure_and_says_what_would_settle_it(value, expanded, tolerance):
    found = judge(value, expanded, tolerance)
    if found.verdict == "pass":
        assert abs(value) + expanded <= tolerance
    elif found.verdict == "fail":
        assert abs(value) - expanded > tolerance
    else:
        assert found.settle_mm <= expanded
        assert judge(value, found.settle_mm * 0.999, tolerance).verdict != "unsure" or found.settle_mm < 1e-9


def test_what_cannot_be_a_budget_is_refused():
    for make in (
        lambda: combine([]),
        lambda: BudgetLine("x", -1.0),
        lambda: BudgetLine("x", math.nan),
        lambda: BudgetLine("x", 1.0, freedom=0),
        lambda: judge(0.0, -1.0, 1.0),
        lambda: judge(0.0, 1.0, 0.0),
    ):
        with pytest.raises(BadInputError):
            make()

"""Sums of measures: how they are read, what follows from them, and what moves an answer most."""

import pytest

from vernus.core.errors import BadInputError
from vernus.core.machine.measures import Term, coefficients, influence, parse_sum, rests_on, tell

SUMS = {"table.left": "-0.5*table_length", "table.right": "0.5*table_length", "wheel.left": "table.right + gap"}


def test_a_sum_is_read_term_by_term():
    assert parse_sum("table.right + 0.5*Y.travel - 12") == (
        Term(1, "table.right"), Term(0.5, "Y.travel"), Term(-12),
    )  # fmt: skip


@pytest.mark.parametrize("text", ["", "a b", "a +", "2*", "a ++ b", "a * b", "1e5x"])
def test_a_sum_that_is_none_is_refused(text):
    with pytest.raises(BadInputError):
        parse_sum(text)


def test_figures_follow_from_measures():
    told = tell(SUMS, {"table_length": 1000, "gap": 60})
    assert (told["table.left"], told["table.right"], told["wheel.left"]) == (-500, 500, 560)
    assert rests_on(SUMS, "wheel.left") == {"table_length", "gap"}


def test_a_measure_that_counts_twice_counts_twice_and_one_taken_back_not_at_all():
    sums = {"c": "a + b", "twice": "c + a", "back": "c - a"}
    assert coefficients(sums, "twice") == {"a": 2, "b": 1}
    assert coefficients(sums, "back") == {"a": 0, "b": 1}
    assert coefficients(sums, "a") == {"a": 1}


def test_what_is_nowhere_or_leans_on_itself_is_refused():
    with pytest.raises(BadInputError, match="neither a measure"):
        tell(SUMS, {"gap": 1})
    with pytest.raises(BadInputError, match="circle"):
        tell({"a": "b + 1", "b": "a - 1"}, {})


def test_influence_is_the_largest_change_to_either_side():
    found = influence("gap", 30, 12, {"kept": 200.0}, lambda mm: {"kept": min(200.0, 170 + mm)})
    assert (found.most_mm, found.of) == (12, "kept")

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import ndtri, stdtr, stdtrit

from vernus.core.uncertainty import student_t95, student_tail


@given(st.floats(0.6, 1e7))
def test_student_t_agrees_with_scipy(freedom):
    assert student_t95(freedom) == pytest.approx(float(stdtrit(freedom, 0.975)), rel=1e-9)


@given(st.floats(0.01, 60), st.floats(0.6, 1e3))
def test_the_tail_agrees_with_scipy(t, freedom):
    assert student_tail(t, freedom) == pytest.approx(float(stdtr(freedom, -t)), rel=1e-8, abs=1e-14)


def test_infinite_freedom_is_the_normal_distribution():
    assert student_t95(math.inf) == pytest.approx(float(ndtri(0.975)), rel=1e-14)


# JCGM 100:2008 (GUM), table G.2, from memory.
@pytest.mark.parametrize(("freedom", "t"), [(1, 12.71), (2, 4.30), (5, 2.57), (10, 2.23), (50, 2.01)])
def test_student_t_agrees_with_the_table_of_the_gum(freedom, t):
    assert student_t95(freedom) == pytest.approx(t, abs=0.005)


def test_no_freedom_is_refused():
    with pytest.raises(ValueError, match="larger than zero"):
        student_t95(0.0)

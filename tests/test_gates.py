"""A seeded share of what `make soak` throws at every gate."""

import os

import pytest

from tests.gates import GATES, Terminals, attack
from vernus.job.entities import Photo, PhotoArrow, PhotoPoint
from vernus.job.errors import JobContentError

HERE = PhotoPoint(x=0.1, y=0.1)
MANY = int(os.environ.get("VERNUS_FUZZ", "0"))


@pytest.mark.parametrize("gate", GATES, ids=lambda g: g.__name__)
def test_a_gate_answers_or_says_one_sentence(gate, tmp_path):
    refused, broken = attack(gate, MANY or (20 if gate is Terminals else 200), 1, tmp_path)
    assert [said for _, said, _ in broken] == []
    assert refused > 0 or gate.LETS_ALL_IN


@pytest.mark.parametrize(
    ("field", "item", "most"), [("arrows", PhotoArrow(start=HERE, end=HERE), 100), ("points", HERE, 200)]
)
def test_one_more_than_fits_is_said_in_a_sentence(field, item, most):
    photo = Photo(id="p", picture="0" * 32, width=800, height=600).with_(**{field: (item,) * most})
    with pytest.raises(JobContentError, match=f"at most {most} of them fit; take one away first"):
        photo.with_(**{field: (item,) * (most + 1)})

"""A seeded share of `make soak`."""

import re

import pytest

from tests.soak import ATTACKS, SHARES


@pytest.mark.parametrize(("attack", "count"), ATTACKS, ids=lambda a: getattr(a, "__name__", ""))
def test_a_share_of_every_attack_breaks_nothing(tmp_path, attack, count):
    few = count // SHARES.get(attack.__name__, 20)
    said = [int(n) for n in re.findall(r"\d+", attack(few, tmp_path))]
    assert said[0] == few
    assert said[1] > 0, "nothing was refused: the attack doesn't attack"

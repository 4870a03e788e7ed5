"""A seeded tenth of `make soak`."""

import re

import pytest

from tests.soak import ATTACKS


@pytest.mark.parametrize(("attack", "count"), ATTACKS, ids=lambda a: getattr(a, "__name__", ""))
def test_a_share_of_every_attack_breaks_nothing(tmp_path, attack, count):
    said = [int(n) for n in re.findall(r"\d+", attack(count // 10, tmp_path))]
    assert said[0] == count // 10
    assert said[1] > 0, "nothing was refused: the attack doesn't attack"

"""A seeded tenth of `make soak`."""

import pytest

from tests.soak import ATTACKS


@pytest.mark.parametrize(("attack", "count"), ATTACKS, ids=lambda a: getattr(a, "__name__", ""))
def test_a_share_of_every_attack_breaks_nothing(tmp_path, attack, count):
    assert "0 " in attack(count // 10, tmp_path)

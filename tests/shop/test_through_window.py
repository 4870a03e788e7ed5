"""Every twentieth job goes through the window: sheets by their names, fields by what stands beside them."""

import os

import pytest

from tests.desktop.conftest import window  # noqa: F401
from tests.shop.carried_out import carry_out
from tests.shop.through_window import WindowDesk

MANY = int(os.environ.get("VERNUS_SHOP", "0"))


@pytest.mark.parametrize("seed", range(0, MANY, 20) if MANY else [29])
def test_a_job_typed_by_its_labels_says_the_same_as_at_the_desk(window, tmp_path, seed):  # noqa: F811
    typed, _ = carry_out(seed, lambda kind, units, scope: WindowDesk(kind, units, scope, window, tmp_path))
    desk, _ = carry_out(seed)
    assert [s["text"] for s in typed.said] == [s["text"] for s in desk.said]

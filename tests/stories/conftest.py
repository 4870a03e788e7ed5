"""Whole jobs, lived through the real window."""

import pytest

from tests.desktop.conftest import answer, hands, window  # noqa: F401
from tests.stories.teller import Teller


@pytest.fixture
def teller(window, hands, tmp_path, monkeypatch):  # noqa: F811
    return Teller(window, hands, tmp_path, monkeypatch)

"""Stories are told through the window of the desktop tests."""

import os

import pytest

from tests.desktop.conftest import *  # noqa: F403
from tests.stories.teller import Teller


@pytest.fixture
def teller(window, hands, tmp_path, monkeypatch):
    """One person at one window; with VERNUS_ALL_ON_PAPER set every story ends by comparing screen and paper."""
    told = Teller(window, hands, tmp_path, monkeypatch)
    yield told
    if os.environ.get("VERNUS_ALL_ON_PAPER") and told.job is not None:
        told.nothing_missing_on_paper()

"""Stories are told through the window of the desktop tests."""

import os

import pytest

from tests.desktop.conftest import *  # noqa: F403
from tests.job.test_laws import LAWS, said
from tests.job.test_said import KEYS
from tests.stories.teller import Teller
from vernus.job.document import Job
from vernus.job.said import statements


@pytest.fixture
def teller(window, hands, tmp_path, monkeypatch):
    """One person at one window; every story ends with the laws over its job, and with VERNUS_ALL_ON_PAPER
    set by comparing screen and paper."""
    told = Teller(window, hands, tmp_path, monkeypatch)
    yield told
    if told.job is not None:
        for law in LAWS:
            law(told.job)
        assert said(Job(told.job.entities())) == said(told.job), "reopened"
        found = statements(told.job)
        assert len({s.id for s in found}) == len(found)
        assert all(set(s.figures) == set(KEYS[s.kind].split()) for s in found)
    if os.environ.get("VERNUS_ALL_ON_PAPER") and told.job is not None:
        told.nothing_missing_on_paper()

"""Stories are told through the window of the desktop tests."""

import os
import re

import pytest

from tests.desktop.conftest import *  # noqa: F403
from tests.job.test_laws import LAWS, said
from tests.job.test_said import KEYS
from tests.stories.teller import Teller
from tests.stories.weeks_after import weeks_after
from vernus.job.document import Job
from vernus.job.said import statements

BEFORE = {1: 198, 2: 113, 3: 152, 4: 104, 5: 161, 6: 98, 7: 248, 8: 96, 9: 171, 10: 133, 11: 72, 12: 105, 13: 67,
          14: 130, 15: 169, 16: 170, 17: 101, 18: 142, 19: 134, 20: 73}  # fmt: skip
"""Keys and clicks beyond the figures that each story took with forms and Setup pages, counted before the list came."""
A_THIRD_LESS = (1, 3, 7, 9, 15)
OVER_WEEKS = (2, 5, 15)
"""Stories that are lived on with for five weeks."""


def took(request, taken):
    """Compare the keys and clicks of a story with those it took before."""
    found = re.match(r"test_(\d\d)_", request.node.path.name)
    if found is None:
        return
    story = int(found.group(1))
    most = BEFORE[story] * 2 / 3 if story in A_THIRD_LESS else BEFORE[story]
    print(f"story {story}: {taken} keys and clicks beyond the figures, {BEFORE[story]} before")  # noqa: T201
    assert taken <= most, f"story {story}: {taken} keys and clicks; at most {most:.0f}"


@pytest.fixture
def teller(window, hands, tmp_path, monkeypatch, request):
    """One person at one window; every story ends with the laws over its job, and with VERNUS_ALL_ON_PAPER
    set by comparing screen and paper."""
    told = Teller(window, hands, tmp_path, monkeypatch)
    yield told
    took(request, told.taken if told.taken is not None else hands.beyond)
    story = re.match(r"test_(\d\d)_", request.node.path.name)
    if told.job is not None and story is not None and int(story.group(1)) in OVER_WEEKS:
        weeks_after(window, hands, tmp_path)
    if told.job is not None:
        for law in LAWS:
            law(told.job)
        assert said(Job(told.job.entities())) == said(told.job), "reopened"
        found = statements(told.job)
        assert len({s.id for s in found}) == len(found)
        assert all(set(s.figures) == set(KEYS[s.kind].split()) for s in found)
    if os.environ.get("VERNUS_ALL_ON_PAPER") and told.job is not None:
        told.nothing_missing_on_paper()

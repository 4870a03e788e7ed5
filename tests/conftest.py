"""What every test may rely on: an empty home for settings, and no test that measures wall time."""

import gc
import os
from itertools import count

os.environ["QT_QPA_PLATFORM"] = "offscreen"

import pytest
from hypothesis import HealthCheck, settings

gc.set_threshold(20_000, 20, 50)  # tests leave little behind, and much is loaded that never is
_HOMES = count()

for name, examples in (("vernus", 30), ("soak", 400)):
    settings.register_profile(
        name, deadline=None, max_examples=examples, suppress_health_check=[HealthCheck.function_scoped_fixture]
    )
settings.load_profile(os.environ.get("VERNUS_HYPOTHESIS", "vernus"))


@pytest.fixture(scope="session")
def qapp_args():
    """As the application begins."""
    from vernus.desktop.theme import STYLE

    return ["vernus", *STYLE]


@pytest.fixture(autouse=True)
def own_home(tmp_path_factory, monkeypatch):
    """Nothing a test does touches the real home: each has one of its own, which isn't there until it is written to."""
    home = tmp_path_factory.getbasetemp() / "homes" / str(next(_HOMES))
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "HOME"):
        monkeypatch.setenv(name, str(home))
    return home


@pytest.fixture(autouse=True)
def slips_are_raised(monkeypatch, request):
    """What nobody foresaw fails a test, instead of being told; but for the tests of that."""
    if "slips_are_told" not in request.fixturenames:
        monkeypatch.setattr("vernus.job.review.review.UNFORESEEN", ())


@pytest.fixture
def slips_are_told():
    """As users have it: a slip of ours is a finding."""

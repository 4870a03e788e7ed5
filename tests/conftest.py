"""What every test may rely on: an empty home for settings, and no test that measures wall time."""

import os

os.environ["QT_QPA_PLATFORM"] = "offscreen"

import pytest
from hypothesis import HealthCheck, settings

settings.register_profile(
    "vernus", deadline=None, max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
settings.load_profile("vernus")


@pytest.fixture(autouse=True)
def own_home(tmp_path, monkeypatch):
    """Nothing a test does touches the real home."""
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "HOME"):
        monkeypatch.setenv(name, str(tmp_path / "home"))
    return tmp_path / "home"

"""Settings that somebody else wrote, or that are damaged: the window opens all the same."""

import json
import random

import pytest
from platformdirs import user_state_path

from vernus.desktop import settings

KEYS = ("recent", "theme", "dark", "scale", "paper", "due", "instruments")
VALUES = (
    None,
    7,
    -1.5,
    True,
    "x",
    [],
    {},
    [1],
    {"a": 1},
    [["a", 2]],
    {"a": ["b"]},
    {"/x": [["2027-01-01", 3]]},
    "\x1b[1m",
)


def written(text):
    path = user_state_path("vernus") / "settings.json"
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(text)


@pytest.mark.parametrize("seed", range(60))
def test_any_value_under_any_key_is_lived_with(seed):
    chance = random.Random(seed)
    written(json.dumps({key: chance.choice(VALUES) for key in KEYS}))
    assert settings.theme() in (None, "light", "dark", "contrast")
    assert settings.scale() in settings.SCALES
    assert settings.paper_size() in ("", "A4", "Letter")
    assert isinstance(settings.recent_jobs(), list)
    assert isinstance(settings.due_tasks(), list)
    assert isinstance(settings.links(), dict)
    assert settings.lessons_done() == 0


def test_settings_that_grow_beyond_what_is_read_are_begun_anew():
    written(json.dumps({"recent": ["x" * 990_000], "due": {"/y": [["2027-01-01", "z", "log", "X"]] * 200}}))
    settings.remember_theme("dark")
    assert settings.theme() == "dark"


@pytest.mark.parametrize("text", ["", "[", "[]", "7", '{"theme": ["light"]}', '{"scale": "2", "recent": {"a": 1}}'])
def test_the_window_opens_whatever_stands_there(text, window, hands):
    written(text)
    window.start.refresh()
    hands.press("F8")
    assert window.start.isVisible()

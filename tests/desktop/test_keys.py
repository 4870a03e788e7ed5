"""No key has two meanings: every shortcut of the window and its sheets stands in the one table, and in the guide."""

import re
from collections import Counter
from pathlib import Path

from PySide6.QtGui import QAction, QShortcut

from vernus.desktop.key_table import IN_LISTS, MENU_KEYS, SHEET_KEYS
from vernus.desktop.sheet_list import SHEETS

SOURCE = Path(__file__).parents[2] / "src" / "vernus"
GUIDE = Path(__file__).parents[2] / "docs" / "user-guide.md"


def test_every_menu_key_is_in_the_table_and_has_one_meaning(window, demo):
    keys = Counter(a.shortcut().toString() for a in window.findChildren(QAction) if not a.shortcut().isEmpty())
    assert max(keys.values()) == 1
    assert set(keys) == set(MENU_KEYS) | {s.keys for s in SHEETS}


def test_every_key_of_a_sheet_is_in_the_table_taken_once_and_answers_do_nothing_else(window, hands, demo):
    """Of two keys that are seen at once neither would do anything; with no question open answers change nothing."""
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        seen = Counter(s.key().toString() for s in window.findChildren(QShortcut) if s.parent().isVisible())
        assert {k for k, n in seen.items() if n > 1} == set(), sheet.name
        before = window.session.axis_id, window.session.in_view, list(window.session.job.entities())
        hands.press("Alt+1")
        hands.press("Alt+2")
        assert (window.session.axis_id, window.session.in_view, list(window.session.job.entities())) == before
    window.practise()
    found = {s.key().toString() for s in window.findChildren(QShortcut)}
    axes = {k for k in found if re.fullmatch(r"Alt\+[A-Z]", k)}
    assert found - axes == set(SHEET_KEYS)
    assert not set(SHEET_KEYS) & (set(MENU_KEYS) | {s.keys for s in SHEETS})


def test_no_sentence_sends_to_a_page_that_is_gone():
    """Nothing stands behind Setup any more; a heading that a sentence names is one of a list."""
    sources = [p.read_text(encoding="utf-8") for p in SOURCE.rglob("*.py")]
    assert not [text for text in sources if re.search(r"\bSetup\b", text)]
    sheets = "".join(p.read_text(encoding="utf-8") for p in (SOURCE / "desktop" / "sheets").rglob("*.py"))
    for heading in ("Ends and screws", "Screw and approach", "How it corrects", "This family, as you know it", "Run"):
        assert f'"{heading}"' in sheets, heading


def test_the_guide_has_every_key():
    text = GUIDE.read_text(encoding="utf-8")
    for keys, meaning in {**MENU_KEYS, **SHEET_KEYS}.items():
        assert f"| {keys} | {meaning} |" in text, keys
    for words in IN_LISTS:
        assert words in text, words

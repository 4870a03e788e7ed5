"""What the guide sends people to is there: its sheets by their keys, the words on them, its pictures on the disk."""

import re
from pathlib import Path

import pytest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLabel

from vernus.desktop.sheet_list import KEYS

DOCS = Path(__file__).parents[2] / "docs"
GUIDE = (DOCS / "user-guide.md").read_text(encoding="utf-8")
PART = GUIDE.split("# When it isn't as planned\n")[1].split("\n# ")[0]
ROWS = [line.strip("|").split(" | ") for line in PART.splitlines() if line.startswith("| ")][1:]
MENU = {"Job → Keep this machine as a template", "Keep this scale family as a file"}
BAND = {"Undo the last edit", "Go on", "Copy a description"}


def words_of(window, name):
    """Every word on a sheet: labels, buttons, choices."""
    sheet = window.sheets[name]
    found = [w.text() for w in sheet.findChildren(QLabel)] + [w.text() for w in sheet.findChildren(QAbstractButton)]
    for box in sheet.findChildren(QComboBox):
        found += [box.itemText(n) for n in range(box.count())]
    return " | ".join(found).lower()


@pytest.mark.parametrize("row", ROWS, ids=[r[0].strip() for r in ROWS])
def test_what_the_guide_says_when_it_isnt_as_planned_is_there(row, window, demo, hands):
    said = row[1]
    by_keys = {keys: name for name, keys in KEYS.items()}
    asked = [by_keys[k] for k in re.findall(r"\((Ctrl\+[^)]*)\)", said) if k in by_keys]
    shown = ""
    for name in asked:
        hands.press(KEYS[name])
        assert window.stack.currentWidget() is window.sheets[name]
        shown += words_of(window, name)
    menus = " | ".join(a.text().replace("&", "") for m in window.menus.actions() for a in m.menu().actions())
    band = " | ".join(b.text() for b in window.banner.findChildren(QAbstractButton))
    for words in (*re.findall(r"(?<!\*)\*([^*]+)\*(?!\*)", said), *re.findall(r"\*\*([^*]+)\*\*", said)):
        where = menus if words in MENU else band if words in BAND else shown
        assert words.removeprefix("Job → ").lower() in where.lower(), words
    for path in re.findall(r"\]\((screenshots/[^)]*)\)", said):
        assert (DOCS / path).exists(), path

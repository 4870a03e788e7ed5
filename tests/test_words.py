"""How Vernus says it: no sentence about another sentence, no double negative, at most two datums in one."""

import ast
import re
from functools import cache
from pathlib import Path

import pytest

import vernus

ROOT = Path(vernus.__file__).parent
FILES = [p for room in ("core", "job", "desktop", "paper") for p in sorted((ROOT / room).rglob("*.py"))]
NEGATIVE = r"(?:not|never|nobody|nothing)"
BANNED = {
    "a sentence about itself or another": r"\bthe instruction\b|as told above|see below",
    "what isn't named": r"the rest makes|\bwhat stands (?!out)|where it stood still|lets? it go by",
    "a double negative": rf"(?:\b{NEGATIVE}\b|n't\b|\bwithout\b)[^.;:,“”]*?(?:\b{NEGATIVE}\b|(?<!\w)\w+n't\b)",
    "of which axis?": r"[Nn]obody measured or said:",
    "one figures": r"\b1 (?:figures|holes|screws|steps|days|lines)\b",
    "a mark too many": r"°\.;|mm: mm|\.\.\s",
}
LEFT = ("can't be tidied up where nothing may be written",)
"""Two ends of two clauses, and no double negative."""


@cache
def sentences(path):
    """Every text of a file that a person may read, with its line."""
    return list(_sentences(path))


def _sentences(path):
    tree = ast.parse(path.read_text(encoding="utf-8"))
    alone = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.Constant)
            and isinstance(node.value, str)
            and id(node) not in alone
            and " " in node.value
        ):
            yield node.lineno, node.value


@pytest.mark.parametrize("why", BANNED)
def test_no_sentence_is_put_so(why):
    found = [
        f"{path.relative_to(ROOT)}:{line}: {text}"
        for path in FILES
        for line, text in sentences(path)
        if re.search(BANNED[why], text) and not any(left in text for left in LEFT)
    ]
    assert not found


def test_no_sentence_counts_from_three_places():
    datum = re.compile(r"\bfrom (?:the|its|his)\b|\{\w+\} from ")
    found = [
        f"{path.relative_to(ROOT)}:{line}: {text}"
        for path in FILES
        for line, text in sentences(path)
        if len(datum.findall(text)) > 2
    ]
    assert not found

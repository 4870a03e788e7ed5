"""The house as it is meant to be: short functions, rooms of about a dozen files, one subject a file."""

import ast
import json
import re
from functools import cache
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[1] / "src" / "vernus"
FILES = sorted(SOURCE.rglob("*.py"))


@cache
def tree_of(path):
    """A file as it is parsed, once for all rules."""
    return ast.parse(path.read_text(encoding="utf-8"))


def of_each(paths):
    """One test of a rule over many files, which names every file that breaks it."""

    def ruled(rule):
        def test():
            broken = []
            for path in paths:
                try:
                    rule(path)
                except AssertionError as error:
                    broken.append(f"{path.relative_to(SOURCE).as_posix()}: {error}")
            assert paths
            assert not broken, "\n".join(broken)

        test.__name__, test.__doc__ = rule.__name__, rule.__doc__
        return test

    return ruled


@of_each(FILES)
def test_no_function_is_longer_than_sixty_lines(path):
    for node in ast.walk(tree_of(path)):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            assert node.end_lineno - node.lineno < 60, f"{node.name} in {path.name}"


def test_a_room_holds_about_a_dozen_files():
    rooms = {p.parent for p in FILES if p.parent.parent.name in ("core", "job", "pages", "drawing", "sheets")}
    crowded = {r.relative_to(SOURCE).as_posix(): n for r in rooms if (n := len(list(r.glob("*.py")))) > 14}
    assert crowded == {}


@pytest.mark.parametrize("layer", ["core", "job"])
def test_every_room_says_what_it_is(layer):
    for folder in (p for p in (SOURCE / layer).iterdir() if p.is_dir() and p.name != "__pycache__"):
        assert ast.get_docstring(ast.parse((folder / "__init__.py").read_text(encoding="utf-8"))), folder.name


def test_every_file_is_written_by_the_one_writer():
    writes = re.compile(r"\.write_(text|bytes)\(|\.save\(str|shutil\.|\bopen\([^)]*[\"'][wa]b?[\"']|QSaveFile|QFile\(")
    others = [p.name for p in FILES if p.name != "disk.py" and writes.search(p.read_text(encoding="utf-8"))]
    assert others == []


METRIC = re.compile(r"\d[ \u00a0]?(mm|µm)\b(?!/)")
INCH = re.compile(r"\d[ \u00a0]?(in|thou)\b|\d/\d")


@of_each([p for p in FILES if p.relative_to(SOURCE).parts[0] in ("core", "job", "desktop")])
def test_no_words_hold_a_length_in_one_system_only(path):
    """A length in a sentence is a value, shown in the units of whoever reads it; an example names both."""
    tree = tree_of(path)
    prose = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}  # docstrings
    one_sided = [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in prose
        if METRIC.search(node.value) and not INCH.search(node.value)
    ]
    assert one_sided == []


@of_each(sorted((SOURCE / "data").glob("*.json")))
def test_no_words_shipped_hold_a_length_in_one_system_only(path):
    def texts(value):
        inside = value.values() if isinstance(value, dict) else value if isinstance(value, list) else ()
        return [value] if isinstance(value, str) else [t for v in inside for t in texts(v)]

    words = texts(json.loads(path.read_text(encoding="utf-8")))
    assert [t for t in words if METRIC.search(t) and not INCH.search(t)] == []


CONCLUDING = re.compile(
    r"^(Key (in )?[{a-z]|Leave |Proved|Connected|Nothing meets|All measured|This axis is (good|finished))"
)


@of_each([p for p in FILES if p.relative_to(SOURCE).parts[0] in ("core", "job")])
def test_what_concludes_says_so(path):
    """A sentence that reads like a conclusion is made as one: whether it may stand isn't read off its words."""
    for node in ast.walk(tree_of(path)):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Sentence" and node.args:
            first = node.args[0]
            words = first.value if isinstance(first, ast.Constant) and isinstance(first.value, str) else ""
            assert not CONCLUDING.match(words), words


_ENDS_BY_WORDS = re.compile(r"\b(low|high) (end|mark|stop|trip)\b|\b(left|right)( end)? (screw|bolt|shim)\b")


@of_each([p for p in FILES if p.relative_to(SOURCE).parts[0] in ("core", "job", "desktop", "paper")])
def test_ends_are_asked_for_by_name(path):
    """An end is a value that an axis names (``{@low}``, AxisEnd): no finished text is searched for its words."""
    tree = tree_of(path)
    prose = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    raised = {
        id(part) for node in ast.walk(tree) if isinstance(node, ast.Raise) for part in ast.walk(node)
    }  # refusals of figures that a file gives by low and high
    left_out = prose | raised
    told = [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in left_out
        if _ENDS_BY_WORDS.search(node.value)
    ]
    assert told == [], path.name


def _calls(tree):
    return (node for node in ast.walk(tree) if isinstance(node, ast.Call))


@of_each(FILES)
def test_nothing_is_read_back_out_of_a_sentence_and_no_protocol_is_guessed(path):
    """What a finding was filled with is told by who made it; a protocol is asked for by its name."""
    tree = tree_of(path)
    assert not [c for c in _calls(tree) if isinstance(c.func, ast.Name) and c.func.id == "hasattr"]
    read_back = [
        node
        for node in ast.walk(tree)
        if isinstance(node, ast.Attribute) and node.attr == "values"
        and isinstance(node.value, ast.Attribute) and node.value.attr in ("what", "remedy", "words")
    ]  # fmt: skip
    assert not read_back
    lists = [n.id for n in ast.walk(tree) if isinstance(n, ast.Name) and re.match(r"_OF_(THE|ALL)_", n.id)]
    assert not lists, "which findings concern what is told by the findings"


@of_each([p for p in FILES if p.relative_to(SOURCE).parts[0] in ("desktop", "paper")])
def test_no_unit_is_split_off_a_formatted_figure(path):
    for call in _calls(tree_of(path)):
        if isinstance(call.func, ast.Attribute) and call.func.attr in ("split", "removesuffix"):
            of = call.func.value
            named = of.func.id if isinstance(of, ast.Call) and isinstance(of.func, ast.Name) else ""
            assert not named.startswith("format_"), f"{path.name}:{call.lineno}"


DECIDERS = {
    "solve_stroke", "place_reader", "choose_size", "choose_sizes", "order_length", "plan_bumper", "keep_travel",
    "plan_hole", "hole_table", "screw_for", "screw_with_nut", "key_factor", "key_counts", "key_knot", "fit_factor",
    "fit_segments", "correct", "judge", "judge_gap", "measure_travel", "analyse_sweep", "analyse_positioning",
    "mesh_gears", "plan_bracket", "solve_spacer", "take_out_draft", "pick_shims", "next_check", "order_steps",
}  # fmt: skip
"""What of the core decides something that is said: called by the rooms of the job, never by a page or a sheet."""


@of_each([p for p in FILES if {"pages", "sheets"} & set(p.relative_to(SOURCE).parts)])
def test_a_page_or_a_sheet_says_a_length_as_a_sentence_does(path):
    """No length in an f-string, no verdict in words of its own, and nothing decided there: those stand in one place."""
    tree = tree_of(path)
    names = {a.name for n in ast.walk(tree) if isinstance(n, ast.ImportFrom) and "vernus.core" in (n.module or "")
             for a in n.names}  # fmt: skip
    assert not names & DECIDERS
    for text in (n for n in ast.walk(tree) if isinstance(n, ast.JoinedStr)):
        for call in _calls(text):
            named = call.func.id if isinstance(call.func, ast.Name) else ""
            assert not re.match(r"format_(plain|length|fine|in|keyed|size|with_uncertainty)$", named), call.lineno
    words = [n.value for n in ast.walk(tree) if isinstance(n, ast.Constant) and isinstance(n.value, str)]
    assert not {"FAIL", "PASS", "can't tell", "not done yet"} & set(words)

"""Every example of docs/command-line.md is run, and answers with the keys that stand there."""

import json
import re
import shlex
from pathlib import Path

import pytest

from vernus.cli.main import main

PAGE = (Path(__file__).parents[2] / "docs/command-line.md").read_text(encoding="utf-8")
SECTIONS = {s.split("\n", 1)[0]: s for s in PAGE.split("\n## ")[1:]}


def keys_of(answer, wanted, before=""):
    """Keys down to the depth the page goes to: ``a``, and ``a.b`` where the page names a part of ``a``."""
    found = set()
    for key, value in answer.items():
        name = f"{before}{key}"
        inner = value[0] if isinstance(value, list) and value and isinstance(value[0], dict) else value
        parts = isinstance(inner, dict) and any(w.startswith(f"{name}.") for w in wanted)
        found |= keys_of(inner, wanted, f"{name}.") if parts else set()
        if not parts or name in wanted:
            found.add(name)
    return found


@pytest.mark.parametrize("section", SECTIONS)
def test_an_example_answers_with_the_keys_of_the_page(section, tmp_path, monkeypatch, capsys):
    text = SECTIONS[section]
    monkeypatch.chdir(tmp_path)
    for name, content in re.findall(r"`([a-z]+\.(?:csv|json))`:\n\n```(?:csv|json)\n(.*?)```", text, re.S):
        Path(name).write_text(content, encoding="utf-8")
    (command,) = re.findall(r"```sh\nvernus (.*?)\n```", text)
    assert command.startswith(section)
    assert main(shlex.split(command)) == 0
    answer = json.loads(capsys.readouterr().out)
    table = text[text.index("| key |") :]
    wanted = {k for row in re.findall(r"^\| (`.*?`) \|", table, re.M) for k in re.findall(r"`(.*?)`", row)}
    assert keys_of(answer, wanted) == wanted | {"findings"}


def test_every_calculation_is_on_the_page(capsys):
    with pytest.raises(SystemExit):
        main(["calc", "--help"])
    offered = set(re.findall(r"^    ([a-z-]+)(?= |$)", capsys.readouterr().out, re.M))
    assert {f"calc {name}" for name in offered} == set(SECTIONS)


@pytest.mark.parametrize("section", SECTIONS)
@pytest.mark.parametrize("units", ["mm", "in"])
def test_an_example_is_told_to_people_too(section, units, tmp_path, monkeypatch, capsys):
    text = SECTIONS[section]
    monkeypatch.chdir(tmp_path)
    for name, content in re.findall(r"`([a-z]+\.(?:csv|json))`:\n\n```(?:csv|json)\n(.*?)```", text, re.S):
        Path(name).write_text(content, encoding="utf-8")
    (command,) = re.findall(r"```sh\nvernus (.*?)\n```", text)
    words = [w for w in shlex.split(command) if w != "--json"]
    assert main([*words, "--units", units] if "--units" not in words else words) == 0
    told = capsys.readouterr()
    assert told.err == ""
    assert told.out.strip()

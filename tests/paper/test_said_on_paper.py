"""Every statement of a job is printed with its figure: report and ``say`` are read against each other."""

import re
from importlib import resources
from pathlib import Path

import pytest

from tests.printed import words_of
from vernus.core.units import format_length
from vernus.job.document import Job
from vernus.job.formats.exchange import read_export
from vernus.job.said import statements
from vernus.paper.report import write_report

SENTENCES = {
    "travel", "kept", "zone", "stop", "bumper", "scale", "cut", "face", "body", "place", "spare", "trip", "setting",
    "dial", "gap", "cable", "key_in", "verdict",
}  # fmt: skip
"""Kinds that are printed in their own words; the others stand in tables, figure by figure."""


def plain(text):
    return re.sub(r"[\s\xa0\u2060\u202f]+", "", text)


def figures_of(statement, units):
    """What of a statement in a table has to stand there."""
    figures = statement.figures
    if statement.kind == "hole":
        return [format_length(figures[k], units) for k in ("x_mm", "y_mm")] if figures["new"] else []
    if statement.kind == "buy":
        return [figures["what"], figures["size"]]
    if statement.kind == "screw":
        return [f"{figures['count']} of {figures['thread'].split('x')[0]}"]
    return {"part": [str(figures.get("name", ""))[1:]], "step": [statement.words.text(units)]}.get(statement.kind, [])


@pytest.fixture(params=["mill", "lathe"])
def demo(request):
    return Job(read_export(Path(str(resources.files("vernus.data"))) / f"demo/{request.param}.json", []))


def test_every_statement_of_a_demo_is_printed_with_its_figure(demo, tmp_path, qapp):
    units = demo.info.units
    path = tmp_path / "report.pdf"
    write_report(demo, path)
    paper = plain(words_of(path))
    missing = [
        (statement.id, what)
        for statement in statements(demo)
        for what in ([statement.words.text(units)] if statement.kind in SENTENCES else figures_of(statement, units))
        if plain(what) not in paper
    ]
    assert not missing

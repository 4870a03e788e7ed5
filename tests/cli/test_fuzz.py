"""Every call with hostile figures and files: an answer, or one line; and nothing that a terminal would obey."""

import json
import os

import pytest

from tests.cli.fuzz import fuzz
from vernus.cli.main import main
from vernus.cli.terminal import json_text, plain
from vernus.core.errors import BadInputError
from vernus.core.units import parse_number
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.formats.exchange import _safe_cell

MANY = int(os.environ.get("VERNUS_FUZZ", "150"))


def test_a_seeded_share_of_hostile_calls_is_answered(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    assert fuzz(MANY, 11, tmp_path) == []


@pytest.mark.parametrize("text", ["1e308", "-1e13", "1e-200", "5e-324", "1" * 310])
def test_what_is_out_of_all_measure_is_no_number(text):
    with pytest.raises(BadInputError):
        parse_number(text)


def test_nothing_a_terminal_obeys_leaves_here(tmp_path, capsys):
    assert plain("a\x1b[31mb\x07\u202e\x9b\n") == "a\\u001b[31mb\\u0007\\u202e\\u009b\n"
    path = tmp_path / "x\x1b]0;gone\x07.vernus"
    job = Job.create(path, new_job_entities("Evil\x1b[2J", "bench-mill"))
    job.apply("name", [job.machine.with_(name="\x1b[31mred")])
    job.close()
    for words in (["check", str(path)], ["say", str(path)], ["check", str(tmp_path / "no\x1b[1m.vernus")]):
        main(words)
        told = capsys.readouterr()
        assert not [c for c in told.out + told.err if (ord(c) < 32 and c not in "\n\t") or 127 <= ord(c) < 160], words


def test_no_figure_of_json_is_none():
    assert json_text({"a": [float("nan"), float("inf"), 1.5], "b": {"c": float("-inf")}}).count("null") == 3


def test_no_call_reads_a_device_or_waits_for_a_pipe(tmp_path, capsys):
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    for call in ("part-check", "factor", "align", "segments", "positioning", "schedule", "plate", "stroke"):
        for path in (pipe, "/dev/zero", tmp_path):
            more = ["--points", "3"] if call == "segments" else []
            assert main(["calc", call, str(path), *more, "--json"]) == 2
            assert len(capsys.readouterr().err.splitlines()) == 1


@pytest.mark.parametrize(
    ("call", "data"),
    [
        ("plate", {"existing": [{"x_mm": 0, "y_mm": 0, "thread": "M6"}] * 600,
                   "wanted": [{"x_mm": 0, "y_mm": 0, "thread": "M6"}], "thickness_mm": 12, "material": "steel"}),
        ("bracket", {"bearing": {"diameter_mm": 35, "depth_mm": 11}, "screw_diameter_mm": 20,
                     "machine_holes": [[0, 30]] * 400, "machine_screw": "M6", "unit_holes": [[0, 60]],
                     "unit_screw": "M8", "unit_gear": [0, 60], "centre_distance_mm": 60, "adjust_mm": 2}),
    ],
)  # fmt: skip
def test_a_search_has_a_bound_in_work(call, data, tmp_path, capsys):
    path = tmp_path / "x.json"
    path.write_text(json.dumps(data))
    assert main(["calc", call, str(path), "--json"]) == 2
    assert "at most" in capsys.readouterr().err


def test_a_table_over_absurd_errors_ends(tmp_path, capsys):
    path = tmp_path / "x.csv"
    path.write_text("target_mm,shown_mm\n0,-4.2326e+07\n100,100.002\n200,200.005\n300,300.006\n400,400.010\n")
    assert main(["calc", "segments", str(path), "--points", "3", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["knots"]


@pytest.mark.parametrize("mark", ["\u3164", "\u115f", "\ufe0f", "\u0301", "\u034f", "\u200b", " ", "\u00a0"])
def test_a_formula_behind_what_cannot_be_seen_is_quoted_in_a_csv(mark):
    assert _safe_cell(f"{mark}=1+1").startswith("'")
    assert _safe_cell(f"{mark}plain words") == f"{mark}plain words"

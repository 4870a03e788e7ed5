"""The commands on a job: report, check, export, import, open."""

import errno
import json
import os
from pathlib import Path

import pytest
from pypdf import PdfReader

from vernus.cli.main import main
from vernus.desktop.demo import demo_source
from vernus.job.document import Job
from vernus.paper.report import usual_size


@pytest.fixture
def job_file(tmp_path):
    assert main(["import", str(demo_source()), "-o", str(tmp_path / "demo.vernus")]) == 0
    return tmp_path / "demo.vernus"


def test_report_writes_a_pdf(qapp, job_file, tmp_path, capsys):
    assert main(["report", str(job_file), "-o", str(tmp_path / "out.pdf")]) == 0
    assert "out.pdf" in capsys.readouterr().out
    assert len(PdfReader(tmp_path / "out.pdf").pages) > 3


@pytest.mark.parametrize(("size", "wide"), [("A4", 595), ("Letter", 612)])
def test_one_paper_of_a_size(qapp, job_file, tmp_path, size, wide):
    path = tmp_path / "card.pdf"
    assert main(["report", str(job_file), "--paper", "card", "--size", size, "-o", str(path)]) == 0
    pages = PdfReader(path).pages
    assert "the card to tick" in " ".join(pages[0].extract_text().split())
    assert float(pages[0].mediabox.width) == pytest.approx(wide, abs=1)


def test_the_country_decides_the_paper_and_the_units_where_there_is_none(monkeypatch):
    for name in ("LC_ALL", "LC_PAPER", "LANG"):
        monkeypatch.delenv(name, raising=False)
    assert (usual_size("mm"), usual_size("in")) == ("A4", "Letter")
    monkeypatch.setenv("LANG", "C.UTF-8")
    assert usual_size("in") == "Letter"
    monkeypatch.setenv("LANG", "en_CA.UTF-8")
    assert usual_size("mm") == "Letter"
    monkeypatch.setenv("LC_PAPER", "de_DE.UTF-8")
    assert usual_size("in") == "A4"


def test_check_lists_every_finding_for_people_and_for_scripts(job_file, capsys):
    assert main(["check", str(job_file)]) == 0
    assert "Y scale: CAUTION" in capsys.readouterr().out
    assert main(["check", str(job_file), "--json"]) == 0
    rows = json.loads(capsys.readouterr().out)["findings"]
    assert {"code", "severity", "text", "remedy", "axis", "sheet"} <= set(rows[0])
    assert "longer-than-face" in [r["code"] for r in rows]


def test_say_prints_for_people_and_for_scripts_and_refuses_what_is_no_job(job_file, tmp_path, capsys):
    assert main(["say", str(job_file)]) == 0
    assert "Y scale: Set the reader's middle 192 mm from the body's front end" in capsys.readouterr().out
    assert main(["say", str(job_file), "--json"]) == 0
    rows = json.loads(capsys.readouterr().out)["statements"]
    place = next(r for r in rows if r["id"] == "place/Y")
    assert (place["axis"], place["sheet"], place["axis_at_mm"]) == ("Y", "scale", pytest.approx(123.2))
    (tmp_path / "no.vernus").write_text("nothing")
    assert main(["say", str(tmp_path / "no.vernus")]) == 2
    assert len(capsys.readouterr().err.splitlines()) == 1


def test_check_tells_states_stops_and_what_rests_on_what_of_every_axis(job_file, capsys):
    assert main(["check", str(job_file), "--json"]) == 0
    axes = json.loads(capsys.readouterr().out)["axes"]
    assert {n: (a["scope"], a["drive"]) for n, a in axes.items()} == {
        "X": ("new", "new"), "Y": ("new", "none"), "W": ("new", "none"),
    }  # fmt: skip
    assert set(axes["Y"]) == {"scope", "drive", "states", "stops", "kept_mm", "rests_on"}
    assert axes["Y"]["stops"] == [{"end": "high", "before_mark_mm": pytest.approx(16.0), "why": "metal"}]
    assert axes["Y"]["kept_mm"] == pytest.approx([0, 246.4])
    assert "body length" in axes["Y"]["rests_on"]
    assert set(axes["Y"]["states"].values()) <= {"open", "begun", "done", "caution", "stop"}
    assert "feed" not in axes["Y"]["states"]


def test_an_export_of_version_1_is_imported_and_tells_what_was_decided(tmp_path, capsys):
    old = Path(__file__).parents[1] / "data" / "version-1" / "lathe.json"
    assert main(["import", str(old), "-o", str(tmp_path / "old.vernus")]) == 0
    assert "X a scale, Z a scale, T nothing" in capsys.readouterr().out


STROKE = {
    "marks_mm": [0, "10 1/2 in"],
    "give_up_mm": [0, 3],
    "meets": [{"with": "column", "from_mm": 250, "to_mm": 400}],
}


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"marks_mm": [5, 300]}, "begins with 0"), ({"marks": 1}, "“marks” is not known"),
        ({"meets": [{"with": "x"}]}, "has no “from_mm”"), ({"scale_mm": ["12 furlongs", 4]}, "furlongs"),
        ({"feed": {"clear_mm": 3}}, "has no “run_on_mm”"), ({"give_up_mm": [-1, 0]}, "negative"),
        ({"marks_mm": [0, 10**400]}, "far too large"), ({"home_mm": True}, "must be a length"),
    ],
)  # fmt: skip
def test_a_line_that_cannot_be_is_one_line_and_two(change, words, tmp_path, capsys):
    path = tmp_path / "stroke.json"
    path.write_text(json.dumps(STROKE))
    assert main(["calc", "stroke", str(path), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["stops"] == [{"end": "high", "before_mark_mm": pytest.approx(266.7 - 250), "why": "metal"}]
    assert answer["trips_mm"] is None
    path.write_text(json.dumps({**STROKE, **change}))
    assert main(["calc", "stroke", str(path)]) == 2
    told = capsys.readouterr().err
    assert words in told
    assert told.count("\n") == 1


def test_export_and_import_give_the_same_job_back(job_file, tmp_path):
    assert main(["export", str(job_file), "--to", str(tmp_path / "out")]) == 0
    assert main(["import", str(tmp_path / "out"), "-o", str(tmp_path / "again.vernus")]) == 0
    first, second = Job.open(job_file), Job.open(tmp_path / "again.vernus")
    assert first.entities() == second.entities()
    first.close()
    second.close()


@pytest.mark.parametrize(
    "words", [["report", "FILE", "-o", "x.pdf"], ["check", "FILE"], ["export", "FILE", "--to", "d"]]
)
@pytest.mark.parametrize("content", [None, b"", b"\x89PNG\r\n\x1a\n" + bytes(200)])
def test_a_file_that_is_no_job_is_one_line_and_two(words, content, tmp_path, capsys, monkeypatch):
    monkeypatch.chdir(tmp_path)
    if content is not None:
        (tmp_path / "bad.vernus").write_bytes(content)
    assert main([w.replace("FILE", "bad.vernus") for w in words]) == 2
    told = capsys.readouterr().err
    assert told.startswith("vernus: ")
    assert "bad.vernus" in told
    assert told.count("\n") == 1


def test_import_never_overwrites(job_file, capsys):
    before = job_file.read_bytes()
    assert main(["import", str(demo_source()), "-o", str(job_file)]) == 2
    assert "already there" in capsys.readouterr().err
    assert job_file.read_bytes() == before


ENVELOPE = {
    "members": [{"id": "c", "on": "b", "axis": "X"}, {"id": "b", "on": "a"}, {"id": "a"}],
    "axes": [{"id": "X", "direction": "+x", "from_mm": 0, "to_mm": 100}],
    "boxes": [],
}


@pytest.mark.parametrize(
    ("name", "text", "words", "part"),
    [
        ("e.json", json.dumps(ENVELOPE).replace("100", "9" * 400), ["envelope"], "far too large"),
        ("e.json", json.dumps(ENVELOPE).replace("100", "9" * 5000), ["envelope"], "thousands of digits"),
        ("e.json", json.dumps(ENVELOPE).replace("100", "NaN"), ["envelope"], "far too large"),
        ("e.json", "[" * 100_000, ["envelope"], "nested too deeply"),
        ("f.csv", f'target_mm,shown_mm\n0,0\n1,"{"9" * 140_000}"\n', ["factor"], "140004 characters"),
    ],
)
def test_hostile_input_is_one_sentence(tmp_path, capsys, name, text, words, part):
    path = tmp_path / name
    path.write_text(text)
    assert main(["calc", *words, str(path)]) == 2
    said = capsys.readouterr().err
    assert part in said
    assert said.count("\n") == 1


def test_members_may_be_listed_in_any_order(tmp_path, capsys):
    path = tmp_path / "e.json"
    path.write_text(json.dumps(ENVELOPE))
    assert main(["calc", "envelope", str(path)]) == 0


@pytest.mark.parametrize("command", ["check FIFO", "calc factor FIFO", "import FIFO -o new.vernus"])
def test_a_pipe_is_no_file_to_read(tmp_path, capsys, command):
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    assert main([str(pipe) if word == "FIFO" else word for word in command.split()]) == 2
    assert "ordinary file" in capsys.readouterr().err


@pytest.mark.parametrize("target", ["/dev/full", "pipe"])
def test_a_report_onto_what_is_no_file_is_refused_and_leaves_it_alone(qapp, job_file, tmp_path, capsys, target):
    path = tmp_path / target
    if target == "pipe":
        os.mkfifo(path)
    assert main(["report", str(job_file), "-o", str(path)]) == 2
    assert "left alone" in capsys.readouterr().err
    assert not path.is_file()


def test_a_report_that_does_not_fit_keeps_the_old_one(qapp, job_file, tmp_path, capsys, monkeypatch):
    path = tmp_path / "r.pdf"
    path.write_bytes(b"the good one")

    def full(handle, data):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "write", full)
    assert main(["report", str(job_file), "-o", str(path)]) == 1
    monkeypatch.undo()
    said = capsys.readouterr()
    assert "no space left" in said.err
    assert "Wrote" not in said.out
    assert path.read_bytes() == b"the good one"


def test_names_of_any_bytes_are_told(tmp_path, capfd):
    assert main(["check", os.fsdecode(os.fsencode(tmp_path) + b"/\xff.vernus")]) == 2
    assert "\\xff.vernus" in capfd.readouterr().err

"""The commands on a job: report, check, export, import, open."""

import json

import pytest
from pypdf import PdfReader

from vernus.cli.main import main
from vernus.desktop.demo import demo_source
from vernus.job.document import Job


@pytest.fixture
def job_file(tmp_path):
    assert main(["import", str(demo_source()), "-o", str(tmp_path / "demo.vernus")]) == 0
    return tmp_path / "demo.vernus"


def test_report_writes_a_pdf(qapp, job_file, tmp_path, capsys):
    assert main(["report", str(job_file), "-o", str(tmp_path / "out.pdf")]) == 0
    assert "out.pdf" in capsys.readouterr().out
    assert len(PdfReader(tmp_path / "out.pdf").pages) > 3


def test_check_lists_every_finding_for_people_and_for_scripts(job_file, capsys):
    assert main(["check", str(job_file)]) == 0
    assert "Y scale: CAUTION" in capsys.readouterr().out
    assert main(["check", str(job_file), "--json"]) == 0
    rows = json.loads(capsys.readouterr().out)["findings"]
    assert {"code", "severity", "text", "remedy", "axis", "sheet"} <= set(rows[0])
    assert "longer-than-face" in [r["code"] for r in rows]


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

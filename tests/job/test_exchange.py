import csv
import json
import re
import subprocess
import sys
from pathlib import Path

import jsonschema
import pytest

from vernus.core.errors import VernusError
from vernus.desktop.demo import demo_source
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.schema import job_schema
from vernus.job.document import Job
from vernus.job.entities import LogEntry
from vernus.job.errors import JobFileError
from vernus.job.formats.exchange import export_job, job_json, read_export
from vernus.job.review.review import review_axis, review_job

ROOT = Path(__file__).parents[2]


@pytest.fixture
def demo():
    return Job(read_export(demo_source()))


@pytest.mark.parametrize("name", ["mill", "lathe"])
def test_the_demo_jobs_are_what_their_scripts_write(name):
    words = [sys.executable, str(ROOT / f"tools/make_demo_{name}.py")]
    written = subprocess.run(words, capture_output=True, text=True, check=True).stdout
    assert written == demo_source(name).read_text(encoding="utf-8")


def test_no_finding_of_the_inch_job_speaks_of_bare_millimetres():
    lathe = Job(read_export(demo_source("lathe")))
    assert lathe.info.units == "in"
    told = [at.finding.as_json("in") for at in review_job(lathe)]
    assert {t["code"] for t in told} >= {"feature-blocked"}
    for text in (t["text"] + t["remedy"] for t in told):
        assert " mm" not in text
        assert not re.search(r"(above|below|between) [-−+]?[0-9.]+ (and|with)", text)


def test_export_and_import_lose_nothing(demo, tmp_path):
    export_job(demo, tmp_path / "out")
    again = Job.create(tmp_path / "again.vernus", read_export(tmp_path / "out"))
    assert again.entities() == demo.entities()
    assert review_job(again) == review_job(demo)
    again.close()


def test_readings_come_out_as_tables(demo, tmp_path):
    written = {p.name for p in export_job(demo, tmp_path)}
    assert {"job.json", "axis.csv", "sweep-readings.csv", "travel-readings.csv"} <= written
    with (tmp_path / "sweep-readings.csv").open(newline="") as file:
        rows = list(csv.DictReader(file))
    assert rows[1] == {
        "sweep_id": "x-face-1", "row": "2", "station_mm": "210.0", "station_typed": "210 mm",
        "reading_mm": "0.04", "reading_typed": "0.04 mm", "line": "", "live": "False",
    }  # fmt: skip


@pytest.mark.parametrize(
    "text",
    [
        '=HYPERLINK("x")',
        "  +1",
        "-1",
        "@a",
        "\t=1",
        "＝1",
        "＋1",
        "－1",
        "＠a",
        "\u200b=1",
        "\ufeff=1",
        "\u2060\u00a0=1",
        "\x00=1",
    ],
)
def test_text_that_a_spreadsheet_would_run_is_quoted(tmp_path, text):
    job = Job([*new_job_entities("x", "mini-mill"), LogEntry(id="l", created="2026", text=text)])
    export_job(job, tmp_path)
    with (tmp_path / "log.csv").open(newline="", encoding="utf-8") as file:
        assert next(csv.DictReader(file))["text"] == "'" + text.replace("\0", "")


def test_plain_text_is_left_as_it_is(tmp_path):
    job = Job([*new_job_entities("x", "mini-mill"), LogEntry(id="l", created="2026", text="0.02 - fine, 3 = 3")])
    export_job(job, tmp_path)
    assert "0.02 - fine, 3 = 3" in (tmp_path / "log.csv").read_text()


def test_the_schema_in_the_docs_is_the_one_generated(demo):
    assert json.loads((ROOT / "docs/job.schema.json").read_text()) == job_schema()
    jsonschema.validate(json.loads(job_json(demo.entities())), job_schema())


def test_the_schema_refuses_what_the_import_refuses(demo):
    content = json.loads(job_json(demo.entities()))
    content["entities"][1]["surprise"] = 1
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(content, job_schema())


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("", "not JSON|nested too deeply"),
        ("{", "line 1"),
        ("[" * 100_000, "not JSON|nested too deeply"),
        ("[]", "not an exported Vernus job"),
        ('{"format":"vernus-job","version":9,"entities":[]}', "newer Vernus"),
        ('{"format":"vernus-job","version":1,"entities":[3]}', "entry 1 is not an object"),
        ('{"format":"vernus-job","version":1,"entities":[{"kind":"ufo"}]}', "unknown kind"),
        ('{"format":"vernus-job","version":1,"entities":[{"kind":"log"}]}', "bad id"),
        (
            '{"format":"vernus-job","version":1,"entities":[{"kind":"log","id":"a"},{"kind":"log","id":"a"}]}',
            "share one id",
        ),
        ('{"format":"vernus-job","version":1,"entities":[]}', "0 job entries"),
    ],
)
def test_bad_exports_are_refused_whole(tmp_path, text, part):
    path = tmp_path / "job.json"
    path.write_text(text)
    with pytest.raises(JobFileError, match=part) as caught:
        read_export(tmp_path)
    assert isinstance(caught.value, VernusError)


def test_missing_and_binary_exports(tmp_path):
    with pytest.raises(JobFileError, match="no such file"):
        read_export(tmp_path)
    (tmp_path / "job.json").write_bytes(b"\xff\xfe\x00")
    with pytest.raises(JobFileError, match="not a text file"):
        read_export(tmp_path)


def test_the_demo_has_one_axis_done_one_in_alignment_and_one_surveyed(demo):
    x, y, w = (review_axis(demo, a) for a in demo.axes())
    looked = {"faces", "receive", "mounts", "fit", "bracket", "trips", "run-in"}
    assert {state for sheet, state in x.states.items() if sheet not in looked} == {"done"}
    assert (x.states["trips"], x.next_sheet) == ("caution", "fit")
    assert (y.states["scale"], y.next_sheet) == ("caution", "align")
    assert (w.states["travel"], w.states["scale"]) == ("begun", "open")
    codes = {at.finding.code for at in review_job(demo)}
    assert {"longer-than-face", "travel-one-reading"} <= codes

"""An axis that nothing is fitted to: its travel is asked for, so there is a place to type it, and paper has it."""

import pytest

from tests.printed import words_of
from vernus.desktop.sheet_list import KEYS
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import Axis, Measure
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import travel
from vernus.job.machine.geometry import geometry_findings
from vernus.paper.report import write_report


@pytest.mark.parametrize(("units", "typed", "mm"), [("mm", "312.5", 312.5), ("in", "12 1/4", 311.15)])
def test_its_travel_is_typed_among_the_measures(window, hands, tmp_path, units, typed, mm):
    scope = {"X": ("none", "none"), "Y": ("new", "none"), "Z": ("own", "none")}
    window.session.new_job(tmp_path / "m.vernus", "M", "round-column", units, "Ours", scope)
    hands.press(KEYS["machine"])
    rows = window.sheets["machine"].measures.list
    row = rows.row("travel-X")
    assert row.label == "Travel of the table"
    assert row.is_unmeasured()
    rows.hold("travel-X")
    hands.type(typed)
    hands.press("Return")
    job = window.session.job
    known = travel(job, next(a for a in job.axes() if a.name == "X"))
    assert (known.value, known.is_given) == (pytest.approx(mm), True)
    assert next(a for a in job.axes() if a.name == "X").readout == "none"
    write_report(job, tmp_path / "r.pdf")
    printed = words_of(tmp_path / "r.pdf")
    assert "Travel of the table" in printed
    assert typed in printed


def test_a_box_without_room_asks_for_the_travel_nobody_measured(window):
    job = Job(new_job_entities("M", "round-column", "mm", "", {"X": ("none", "none"), "Y": ("new", "none")}))
    job.apply("short", [m.with_(value=LengthEntry.read("350")) for m in job.all(Measure) if m.key == "table_length"])
    job.apply("all", [m.with_(value=LengthEntry.read(f"{m.value.mm}")) for m in job.all(Measure) if not m.value.text])
    said = {f.what.text(): f.remedy.text() for f in geometry_findings(job)}
    assert any("has no room left" in words and "travel of table" in remedy for words, remedy in said.items()), said
    assert not any("swapped" in words for words in said)
    (x,) = [a for a in job.all(Axis) if a.name == "X"]
    job.apply("typed", [x.with_(usual=LengthEntry.read("200"))])
    assert geometry_findings(job) == []

"""Receive and Reader in the job: delivered figures replace the plan's, and the reader is judged with its checklist."""

from dataclasses import replace

import pytest

from vernus.job.align.edits import current_sweep, with_reading
from vernus.job.align.passes import result_in_job
from vernus.job.align.reader import checks_for, reader_result
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import Delivery, GapCheck, ReaderSetting, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.keep.steps import steps_of
from vernus.job.known.axis_figures import plan_of
from vernus.job.known.lengths import measuring_length
from vernus.job.make.delivered import compare_delivery, contents_of, turned
from vernus.job.plan.scale import scale_plan, scale_result
from vernus.job.review.review import review_axis


def mm(text):
    return LengthEntry.read(text)


@pytest.fixture
def job():
    made = Job(new_job_entities("Set", "bench-mill"))
    axis = made.axes()[0]
    made.apply("travel", [TravelSurvey(id="t", axis_id=axis.id, division=mm("0.5"), readings=(mm("262"), mm("262")))])
    made.apply("plan", [scale_plan(made, axis).with_(family="glass-slim", measuring=mm("300"))])
    return made


@pytest.fixture
def axis(job):
    return job.axes()[0]


def test_delivered_figures_replace_the_plans_and_what_changes_is_said(job, axis):
    assert scale_result(job, axis).placement.reader_at_mm == 200
    job.apply("came", [Delivery(id="d", axis_id=axis.id, overall=mm("412"), reader=mm("88"))])
    result = scale_result(job, axis)
    assert result.placement.reader_at_mm == 206
    assert result.family.reader_mm == 88
    rows, findings, ask = compare_delivery(job, axis)
    assert [r.off_mm for r in rows] == [None, 12, None, -2]
    assert [f.code for f in findings] == ["delivered-differs", "delivered-differs"]
    assert "planned 400 mm, delivered 412 mm" in findings[0].what.text()
    assert "15.748 in" in findings[0].what.text("in")
    assert ask.text().startswith("Look in the box for: fitting kit and screws, gap clips")
    came = job.all(Delivery)[0]
    for item, _ in contents_of(job, axis):
        came = turned(came, item)
    job.apply("ticked", [turned(came, "gap clips")])  # a second time: missing
    assert compare_delivery(job, axis)[2].text().startswith("Keep it")
    assert "gap clips" in compare_delivery(job, axis)[1][-1].what.text()
    assert dict(contents_of(job, axis))["gap clips"] == "missing"
    assert "Ask for what was missing: gap clips." in [s.words for s in steps_of(job)]


def test_a_scale_that_came_too_short_stops_the_plan(job, axis):
    job.apply("came", [Delivery(id="d", axis_id=axis.id, measuring=mm("250"))])
    assert measuring_length(job, axis).source == "delivered"
    assert "scale-too-short" in [f.code for f in scale_result(job, axis).findings]
    assert "Shorter than planned" in compare_delivery(job, axis)[2].text()


def test_nothing_delivered_or_nothing_planned_is_asked_for(job, axis):
    assert "Tick what is in the box" in compare_delivery(job, axis)[2].text()
    assert compare_delivery(job, job.axes()[1])[0] == []
    job.apply("came", [Delivery(id="d", axis_id=axis.id, missing="clips", measuring=mm("300"))])
    assert [f.code for f in compare_delivery(job, axis)[1]] == ["missing"]


def note_gaps(job, axis, go="0.45", no_go="0.55"):
    gaps = [
        GapCheck(id=f"g{x}", axis_id=axis.id, station=mm(x), go=mm(go), no_go=mm(no_go)) for x in ("0", "131", "262")
    ]
    job.apply("gaps", gaps)


def test_the_reader_is_done_when_gap_and_checklist_are(job, axis):
    assert "Set it by its clips" in reader_result(job, axis).instruction.text()
    note_gaps(job, axis)
    result = reader_result(job, axis)
    assert (result.gap.verdict, result.done) == ("pass", False)
    assert "5 are open" in result.instruction.text()
    answers = dict.fromkeys(checks_for(job, axis), "yes")
    job.apply("checked", [ReaderSetting(id="r", axis_id=axis.id, **answers)])
    assert reader_result(job, axis).done


def test_a_gap_set_by_a_shim_passes_as_set_so_and_feelers_can_still_contradict(job, axis):
    job.apply("set", [ReaderSetting(id="r", axis_id=axis.id, gap_by="shim", gap_set="yes")])
    result = reader_result(job, axis)
    assert result.verdict == "unsure", "the gap is as thick as what lay in it, and nobody measured that"
    assert "micrometer" in result.instruction.text()
    job.apply("thin", [ReaderSetting(id="r", axis_id=axis.id, gap_by="shim", gap_set="yes", shim=mm("0.38"))])
    assert reader_result(job, axis).verdict == "fail"
    job.apply("set", [ReaderSetting(id="r", axis_id=axis.id, gap_by="shim", gap_set="yes", shim=mm("0.51"))])
    result = reader_result(job, axis)
    assert (result.verdict, result.gap) == ("pass", None)
    job.apply("one", [GapCheck(id="g", axis_id=axis.id, station=mm("0"), go=mm("0.45"), no_go=mm("0.55"))])
    assert reader_result(job, axis).verdict == "pass", "feelers go where they go"
    job.apply("tight", [GapCheck(id="g", axis_id=axis.id, station=mm("0"), go=mm("0.15"), no_go=mm("0.2"))])
    assert reader_result(job, axis).verdict == "fail"
    job.apply("other", [ReaderSetting(id="r", axis_id=axis.id, gap_by="shim", gap_set="no")])
    assert reader_result(job, axis).verdict == "fail"


def test_the_gap_wanted_is_what_was_typed(job, axis):
    note_gaps(job, axis)
    job.apply("0.2", [ReaderSetting(id="r", axis_id=axis.id, gap_by="feeler", gap_least=mm("0.1"), gap_most=mm("0.3"))])
    result = reader_result(job, axis)
    assert (result.wanted_mm, result.verdict) == ((0.1, 0.3), "fail")


@pytest.mark.parametrize(("stations", "place"), [(("131", "262"), "low end"), (("0", "131"), "high end"),
                                                 (("0", "262"), "middle")])  # fmt: skip
def test_by_feelers_a_gap_passes_only_at_both_ends_and_in_the_middle(job, axis, stations, place):
    gaps = [GapCheck(id=f"g{x}", axis_id=axis.id, station=mm(x), go=mm("0.45"), no_go=mm("0.55")) for x in stations]
    job.apply("gaps", [*gaps, ReaderSetting(id="r", axis_id=axis.id, gap_by="feeler")])
    result = reader_result(job, axis)
    assert result.verdict == "unsure"
    assert place in result.instruction.text()


def test_spares_that_do_not_make_the_scale_with_the_stroke_are_asked_about(job, axis):
    job.apply("spares", [ReaderSetting(id="r", axis_id=axis.id, spare_low=mm("10"), spare_high=mm("12"))])
    found = next(f for f in reader_result(job, axis).findings if f.code == "doubtful")
    assert "are missing" in found.what.text()
    rest = 300 - 262.0
    job.apply("right", [ReaderSetting(id="r", axis_id=axis.id, spare_low=mm("15"), spare_high=mm(f"{rest - 15}"))])
    assert "doubtful" not in [f.code for f in reader_result(job, axis).findings]


def test_a_head_too_high_or_beside_the_tape_is_told_with_its_remedy(job, axis):
    job.apply("high", [ReaderSetting(id="r", axis_id=axis.id, high_by=mm("3"), side_by=mm("2"), yaw_deg=3.0)])
    found = {f.code: f for f in reader_result(job, axis).findings}
    assert "File the slots of its bracket longer by 3 mm" in found["head-height"].remedy.text()
    assert "head-beside" not in found, "a body has no tape to be beside of"
    job.apply("tape", [plan_of(job, axis).with_(family="tape", measuring=mm("330"))])
    found = {f.code: f for f in reader_result(job, axis).findings}
    assert "2 mm beside the middle of the tape; 1 mm is allowed" in found["head-beside"].what.text()
    assert "3.0° out of line" in found["head-yawed"].what.text()


def test_clips_left_on_are_a_stop_whatever_the_gap(job, axis):
    note_gaps(job, axis)
    job.apply("checked", [ReaderSetting(id="r", axis_id=axis.id, clips="no", spare_low=mm("19"), push=mm("0.05"))])
    result = reader_result(job, axis)
    severities = {f.code: f.severity for f in result.findings}
    assert severities["reader-clips"] == "stop"
    assert severities["mount-gives"] == "caution"
    assert not result.done


def test_a_tape_has_no_clips_and_a_rod_no_gap_to_set(job, axis):
    plan = plan_of(job, axis)
    job.apply("tape", [plan.with_(family="tape", measuring=mm("330"))])
    assert "clips" not in checks_for(job, axis)
    assert reader_result(job, axis).wanted_mm == (0.1, 2.0)
    job.apply("rod", [plan.with_(family="rod", measuring=mm("300"))])
    answers = dict.fromkeys(checks_for(job, axis), "yes")
    job.apply("checked", [ReaderSetting(id="r", axis_id=axis.id, **answers)])
    assert reader_result(job, axis).done


def test_a_rod_set_by_running_its_reader_to_both_ends_needs_no_sweep(job, axis):
    job.apply("rod", [plan_of(job, axis).with_(family="rod", measuring=mm("300"))])
    for plane in ("face", "edge"):
        sweep = current_sweep(job, axis, plane, "mm", "reader")
        for station in (*sweep.stations, sweep.stations[0]):
            sweep = with_reading(sweep, station, mm("0"))
        job.apply(plane, [sweep])
    assert review_axis(job, axis).states["align"] == "begun"
    job.apply("set", [ReaderSetting(id="r", axis_id=axis.id, anchored="yes", free="yes")])
    assert review_axis(job, axis).states["align"] == "done"


@pytest.mark.parametrize(("units", "face", "edge"), [("mm", "0.5", "0.5"), ("in", "19", "19")])
def test_a_tape_may_lean_by_what_its_head_allows_and_has_no_screw(job, axis, units, face, edge):
    job.apply("tape", [plan_of(job, axis).with_(family="tape", measuring=mm("330")), axis.with_(accuracy=mm("0.05"))])
    job.apply("units", [job.info.with_(units=units)])
    axis = job.axes()[0]
    for plane, wanted in (("face", face), ("edge", edge)):
        sweep = current_sweep(job, axis, plane, units)
        assert sweep.tolerance.text == wanted
        assert sweep.tolerance.unit == ("thou" if units == "in" else "mm")
        for station in (*sweep.stations, sweep.stations[0]):
            sweep = with_reading(sweep, station, mm(f"{0.4 * station.mm / 300:.3f}"))
        job.apply(plane, [sweep])
        assert result_in_job(job, sweep).alignment.verdict == "pass"
    assert review_axis(job, axis).states["align"] == "done"
    steep = sweep.with_(id="steep", plane="face", readings=tuple(
        replace(r, reading=mm(f"{3 * r.station.mm / 300:.3f}")) for r in sweep.readings
    ))  # fmt: skip
    said = result_in_job(job, steep)
    assert (said.alignment.verdict, said.correction) == ("fail", None), "no end of it is moved off the face"
    assert "follows the face it is stuck to" in said.instruction.text(units)
    assert not any("screw" in f.what.text(units) for f in said.findings)

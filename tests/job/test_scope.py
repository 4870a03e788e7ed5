"""What isn't fitted isn't there: sheets, card, order, cables, findings and paper follow the scope of every axis."""

import pytest

from tests.job.conftest import Bench
from vernus.job.entities import CableRun, Display, LogEntry, PowerFeed
from vernus.job.keep.lists import buying_list
from vernus.job.keep.steps import steps_of, work_order
from vernus.job.known.axis_figures import feed_of, plan_of
from vernus.job.plan.display import display_findings
from vernus.job.plan.travel_left import envelope_result
from vernus.job.review.review import card_lines, review_axis, review_job
from vernus.job.review.states import axes_as_json
from vernus.job.scope import axes_in_scope, motion_name, sheets_of, sheets_of_job

TWO_AXES = {"X": ("new", "none"), "Y": ("new", "none"), "Z": ("none", "none")}


def test_a_two_axis_kit_has_no_step_and_no_wait_for_the_third(bench):
    three = steps_of(bench.job)
    two = Bench(scope=TWO_AXES).job
    steps = steps_of(two)
    assert len(three) - len(steps) == len([s for s in three if s.axis == "Z"]) > 9
    assert {s.axis for s in steps} == {"", "X", "Y"}
    needs = {s.key: s.needs for s in steps}
    assert needs["order"] == ("plan-X", "plan-Y")
    assert (needs["cables-X"], needs["cables-Y"]) == (("cover-X",), ("cover-Y",)), "either may be tried first"
    assert (needs["powerup-Y"], needs["calibrate-Y"]) == (("cables-Y",), ("powerup-Y",))


def test_nothing_is_deleted_by_leaving_the_scope_and_all_of_it_comes_back(bench):
    bench.travel("Z", 300, 300)
    bench.plan("Z", face="right side of the column")
    before = [at.finding.code for at in review_axis(bench.job, bench.axis("Z")).findings]
    bench.change("Z", readout="none")
    assert plan_of(bench.job, bench.axis("Z")) is None
    assert review_axis(bench.job, bench.axis("Z")).findings == ()
    assert all(at.axis != "Z" for at in review_job(bench.job))
    bench.change("Z", readout="new")
    assert [at.finding.code for at in review_axis(bench.job, bench.axis("Z")).findings] == before


def test_an_existing_scale_is_neither_bought_nor_drilled_for(bench):
    bench.travel("X", 380, 380)
    bench.plan(face="behind the table")
    assert ("buy", "X") in {(i.kind, i.axis) for i in buying_list(bench.job)}
    bench.change(readout="there")
    assert not [i for i in buying_list(bench.job) if i.axis == "X"]
    keys = {s.key for s in steps_of(bench.job) if s.axis == "X"}
    assert keys == {"survey-X", "calibrate-X", "prove-X"}
    assert sheets_of(bench.axis()) == ("travel", "scale", "faces", "calibrate", "positioning")


@pytest.mark.parametrize("order", ["there at once", "new, face, there"])
def test_a_scale_there_already_is_in_no_envelope_until_its_face_is_said(order):
    bench = Bench(scope={"X": ("there", "none"), "Y": ("new", "none")})
    bench.travel("X", 380, 380)
    bench.travel("Y", 175, 175)
    bench.plan("X", measuring=450)
    result = envelope_result(bench.job)
    told = [f for f in result.findings if f.code == "there-not-in-it"]
    assert len(told) == 1
    assert "X scale" in told[0].what.text()
    assert any("X scale there already" in w.text() for w in result.unchecked)
    assert result.verdict != "pass"
    assert not result.instruction.concludes
    bench.plan("X", measuring=450, face="behind the table")
    if order == "new, face, there":
        bench.change("X", readout="new")
        bench.change("X", readout="there")
    told = envelope_result(bench.job)
    assert not [f for f in told.findings if f.code == "there-not-in-it"]
    assert any(b.group == "X scale" for b in told.envelope.boxes)
    assert told.lost_mm["Y"] > 0


def test_a_readout_of_its_own_has_no_cable_cover_gap_or_counts():
    bench = Bench("round-column", scope={"Z": ("own", "none")})
    bench.travel("Z", 110, 110)
    bench.plan("Z", "beam", 150, "separate quill scale with its own readout")
    gone = {"reader", "cables", "powerup", "calibrate"}
    assert gone.isdisjoint(sheets_of(bench.axis("Z")))
    assert "Cover" not in [i.what.text() for i in buying_list(bench.job) if i.axis == "Z"]
    mine = {s.key: s.words for s in steps_of(bench.job) if s.axis == "Z"}
    assert gone.isdisjoint(k.split("-")[0] for k in mine)
    assert not any(word in " ".join(mine.values()).lower() for word in ("feeler", "clips", "key in", "cover on"))
    bench.job.apply("display", [Display(id="d", axes=2)])
    assert display_findings(bench.job) == [], "it needs no place on the display"


@pytest.mark.parametrize("drive", ["new", "there"])
def test_a_feed_is_a_branch_of_its_own(drive):
    bench = Bench(scope={"X": ("none", drive), "Y": ("none", "none"), "Z": ("none", "none")})
    assert [a.name for a in axes_in_scope(bench.job)] == ["X"]
    assert {"scale", "faces", "align", "calibrate"}.isdisjoint(sheets_of_job(bench.job))
    bench.job.apply("feed", [PowerFeed(id="f", axis_id=bench.axis().id)])
    bought = [i.what.text() for i in buying_list(bench.job)]
    assert (("Power feed kit" in bought), ("order" in sheets_of_job(bench.job))) == (drive == "new", drive == "new")
    bench.change(drive="none")
    assert feed_of(bench.job, bench.axis()) is None


def test_an_axis_out_of_scope_still_moves_and_goes_by_its_member():
    bench = Bench("knee-mill-universal")
    assert motion_name(bench.axis("W")) == "knee"
    column = next(b for b in bench.job.entities() if getattr(b, "name", "") == "column")
    bench.job.apply("short column", [column.with_(bottom=bench.length(80))])
    bench.plan("X", "glass-standard", 750, "behind the table")
    told = [at.finding.what.text() for at in review_job(bench.job) if at.finding.code == "meets"]
    assert any("while knee above" in text for text in told)
    assert not any(" W " in text for text in told)


def test_check_lists_every_axis_those_out_of_scope_too():
    found = axes_as_json(Bench(scope=TWO_AXES).job)
    assert {n: (f["scope"], f["drive"]) for n, f in found.items()} == {
        "X": ("new", "none"), "Y": ("new", "none"), "Z": ("none", "none"),
    }  # fmt: skip
    assert found["Z"]["states"] == {}
    assert set(found["X"]["states"]) >= {"scope", "machine", "travel", "scale", "faces", "paper"}
    assert set(found["X"]["states"].values()) == {"open", "done"}, "scope is said, the rest untouched"


def test_the_order_is_the_easiest_or_the_hardest_first_each_tested_before_the_next(bench):
    assert [a.name for a in work_order(bench.job)] == ["X", "Y", "Z"]
    bench.job.apply("school", [bench.job.info.with_(begin="hardest")])
    assert [a.name for a in work_order(bench.job)] == ["Z", "Y", "X"]
    needs = {s.key: s.needs for s in steps_of(bench.job)}
    assert "prove-Z" in needs["hold-Y"]
    assert "prove-Y" in needs["hold-X"]
    assert needs["calibrate-Z"] == ("powerup-Z",)
    keys = [c.step.key for c in card_lines(bench.job)]
    assert keys.index("powerup-Z") < keys.index("hold-Y"), "Z is powered up and tried before the others are begun"


def test_with_nothing_fitted_the_job_is_only_the_machine(bench):
    for name in "XYZ":
        bench.change(name, readout="none")
    bench.job.apply("old", [LogEntry(id="l", text="x"), CableRun(id="c", axis_id=bench.axis().id)])
    assert sheets_of_job(bench.job) == ("scope", "machine", "log", "paper")
    assert [at for at in review_job(bench.job) if at.axis != "machine"] == []
    assert buying_list(bench.job) == []

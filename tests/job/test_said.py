"""What ``vernus say`` tells: one statement for each thing, the same as the sheets say, and never two that fight."""

import json
import os
import re
from importlib import resources
from pathlib import Path

import pytest

from tests.job.conftest import Bench
from tests.job.random_jobs import RandomJob
from vernus.core.finding import directed
from vernus.job.document import Job
from vernus.job.entities import CalibrationRun, Check, Face, ScalePlan, Step
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import read_export
from vernus.job.keep.made import made_now
from vernus.job.machine.directions import directions_of
from vernus.job.machine.stroke import stroke_of
from vernus.job.plan.scale import scale_result
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.review.review import card_lines
from vernus.job.said import statements

KEYS = {
    "travel": "travel_mm u_mm", "kept": "from_mm to_mm", "place": "axis_at_mm reader_at_mm within_mm",
    "scale": "family measuring_mm starts_mm overall_mm cut_to_mm source", "spare": "low_mm high_mm",
    "zone": "end mm how why", "face": "name stand_off_mm least_stand_off_mm", "cut": "what saw_mm end",
    "stop": "end before_mark_mm why measured made", "bumper": "length_mm between measured",
    "trip": "end at_mm decided_by", "mesh": "centre_mm backlash_mm slide_mm verdict", "check": "what due",
    "setting": "what value assumed", "drive": "of by held_by", "part": "name count material stock_mm state",
    "hole": "on face seen_from x_mm y_mm call thread diameter_mm depth_mm new",
    "screw": "part thread length_mm count layers_mm into_mm hole_mm head", "take_off": "part at_hand_mm to_mm off_mm",
    "shim": "under thickness_mm", "dial": "target plane hold move park_mm from_mm to_mm turn_deg",
    "gap": "least_mm most_mm limits_mm verdict", "cable": "need_mm have_mm anchors",
    "wire": "signal colour pin wanted_pin as_it_is",
    "key_in": "keyed way value u_mm over_mm", "verdict": "of value_mm u_mm limit_mm verdict",
    "buy": "what size size_mm count", "body": "on from_mm to_mm across_mm across_from across_on",
    "step": "key day hours done after",
    "finished": "of is",
}  # fmt: skip
"""What a statement of each kind carries, as scripts read it."""


def said(job, kind, axis=None):
    return [s for s in statements(job) if s.kind == kind and axis in (None, s.axis)]


def one(job, kind, axis):
    (found,) = said(job, kind, axis)
    return found


def test_the_guide_tells_every_kind_and_key():
    rows = [line.split("|")[1:3] for line in Path("docs/command-line.md").read_text().splitlines() if "| `" in line]
    told = {kind.strip(" `"): keys for kind, keys in reversed(rows)}
    for kind, keys in KEYS.items():
        assert all(f"`{key}`" in told[kind] for key in keys.split()), kind


@pytest.fixture(params=["mill", "lathe"])
def demo(request):
    return Job(read_export(Path(str(resources.files("vernus.data"))) / f"demo/{request.param}.json", []))


def test_every_statement_of_the_demos_has_its_own_id_its_words_and_plain_figures(demo):
    found = statements(demo)
    assert len({s.id for s in found}) == len(found)
    assert all(set(s.figures) == set(KEYS[s.kind].split()) for s in found)
    rows = json.loads(json.dumps([s.as_json(demo.info.units) for s in found]))
    assert all(row["text"] and "{" not in row["text"] for row in rows)
    assert {s.kind for s in found} >= {"travel", "kept", "scale", "place", "spare", "verdict", "step", "finished"}


def test_the_sheet_says_what_is_said(demo):
    units = demo.info.units
    for place in said(demo, "place"):
        axis = next(a for a in demo.axes() if a.name == place.axis)
        assert place.words.text(units) in directed(
            scale_result(demo, axis).instruction, directions_of(demo, axis)
        ).text(units)


def test_steps_come_in_an_order_in_which_they_can_be_done(demo):
    steps = [s.figures for s in said(demo, "step")]
    keys = [s["key"] for s in steps]
    assert len(set(keys)) == len(keys) == len(card_lines(demo))
    for n, step in enumerate(steps):
        assert set(step["after"]) <= set(keys[:n]), step["key"]


@pytest.mark.parametrize("units", ["mm", "in"])
@pytest.mark.parametrize("on", ["moving", "still"])
@pytest.mark.parametrize("given", [(0, 0), (30, 0), (0, 45)])
@pytest.mark.parametrize("shift", [0, 11])
def test_a_reader_set_as_said_stands_at_both_stops_as_far_from_the_scale_s_end_as_is_said(units, on, given, shift):
    bench = Bench(units=units)
    mm = 1 if units == "mm" else 1 / 25.4
    bench.travel("X", 380 * mm, 380.4 * mm)
    bench.change("X", give_up_low=bench.length(given[0] * mm), give_up_high=bench.length(given[1] * mm))
    bench.plan("X", measuring=450 * mm, scale_on=on, shift=bench.length(shift * mm))
    place, scale, spare = (one(bench.job, kind, "X").figures for kind in ("place", "scale", "spare"))
    kept = one(bench.job, "kept", "X").figures
    assert (kept["from_mm"], kept["to_mm"]) == pytest.approx((given[0], 380.2 - given[1]))
    low, high = (place["reader_at_mm"] + kept[end] - place["axis_at_mm"] for end in ("from_mm", "to_mm"))
    assert low - scale["starts_mm"] == pytest.approx(spare["low_mm"])
    assert scale["starts_mm"] + scale["measuring_mm"] - high == pytest.approx(spare["high_mm"])
    zones = [(z.figures["end"], z.figures["mm"]) for z in said(bench.job, "zone", "X")]
    assert zones == [(end, pytest.approx(mm)) for end, mm in zip(("low", "high"), given, strict=True) if mm]
    stops = [(s.figures["end"], s.figures["why"]) for s in said(bench.job, "stop", "X")]
    assert {(end, "given up") for end, _ in zones} <= set(stops)


def test_nothing_is_set_on_a_scale_that_can_not_hold_it():
    bench = Bench()
    bench.travel("X", 380, 380)
    bench.plan("X", measuring=300)
    assert said(bench.job, "place", "X") == []
    assert said(bench.job, "scale", "X")


@pytest.mark.parametrize(("per", "way", "counts"), [("mm", "counts_per_mm", 100.0), ("in", "counts_per_inch", 2540.0)])
def test_what_is_to_be_keyed_in_is_what_calibrate_says_and_then_it_stands_there(per, way, counts):
    bench = Bench(units=per)
    far = bench.length({"mm": 380, "in": 15}[per])
    bench.travel("X", far.text, far.text)
    read = Check(true=far, shown=LengthEntry(mm=2 * far.mm, unit=per))
    run = CalibrationRun(
        id="r", axis_id=bench.axis().id, method="counts", set_counts=counts, per=per, checks=(read, read, read)
    )
    bench.job.apply("check", [run])
    key, result = one(bench.job, "key_in", "X").figures, calibration_result(bench.job, run)
    assert (key["way"], key["keyed"]) == (way, False)
    assert key["value"] == result.value_to_key == pytest.approx(counts * 2, rel=1e-3)
    assert key["u_mm"] == pytest.approx(result.budget.expanded)
    good = Check(true=far, shown=far)
    bench.job.apply("keyed", [run.with_(set_counts=key["value"], checks=(good, good, good))])
    again = one(bench.job, "key_in", "X").figures
    assert (again["keyed"], again["value"]) == (True, key["value"])


def test_a_job_with_a_step_open_is_not_finished():
    bench = Bench(scope={"X": ("new", "none"), "Y": ("none", "none"), "Z": ("none", "none")})
    bench.travel("X", 380, 380)
    bench.plan("X")
    assert [s.figures["is"] for s in said(bench.job, "finished")] == [False, False]
    done = [Step(id=f"s{n}", key=c.step.key, done=True) for n, c in enumerate(card_lines(bench.job))]
    bench.job.apply("ticked", done)
    assert [s.figures["is"] for s in said(bench.job, "finished")] == [False, False], "its sheets are still open"


@pytest.mark.parametrize("seed", range(int(os.environ.get("VERNUS_HANDS", "48")) // 4))
def test_any_job_can_be_said_each_statement_once_and_with_no_word_of_the_code(seed):
    made = RandomJob(seed)
    found = statements(made.job)
    assert len({s.id for s in found}) == len(found)
    for s in found:
        assert set(s.figures) == set(KEYS[s.kind].split())
        text = s.words.text(made.job.info.units)
        assert not re.search(r"[,;:][,;:.]|\(\)|  |\.\.(?!\.)| [,.;]", text), text
        assert text and not re.search(r"\bNone\b|\bnan\b|_mm\b|\{@", text), text
        json.dumps(s.as_json(made.job.info.units), allow_nan=False)
    for axis in made.job.axes():
        line = stroke_of(made.job, axis).stroke
        stops = {
            s.figures["end"]: s.figures["before_mark_mm"] for s in found if (s.kind, s.axis) == ("stop", axis.name)
        }
        if line is not None and stops and line.kept_mm is not None:
            assert line.kept_mm[0] == pytest.approx(stops.get("low", 0.0))
            assert line.kept_mm[1] == pytest.approx(line.travel_mm - stops.get("high", 0.0))


def test_ids_stay_over_edits():
    bench = Bench()
    bench.travel("X", 380, 380)
    bench.plan("X")
    before = [s.id for s in statements(bench.job)]
    (plan,) = bench.job.all(ScalePlan)
    bench.job.apply("size", [plan.with_(measuring=bench.length(500))])
    assert [s.id for s in statements(bench.job)] == before


def test_a_stop_is_made_where_it_was_ticked_for_and_not_where_it_is_wanted_since():
    bench = Bench()
    for name in ("X", "Y"):
        bench.travel(name, 300, 300)
    bench.change("X", give_up_high=bench.length(30))

    def made():
        return {(s.axis, s.figures["end"]): s.figures["made"] for s in said(bench.job, "stop")}

    assert made() == {("X", "high"): False}
    step = next(c.step for c in card_lines(bench.job) if c.step.key == "stops")
    bench.job.apply("tick", [Step(id="s", key="stops", made_to=made_now(bench.job, step))])
    assert made() == {("X", "high"): True}
    bench.change("Y", give_up_low=bench.length(12))
    assert made() == {("X", "high"): True, ("Y", "low"): False}, "one that came in later isn't fitted by that tick"
    bench.change("X", give_up_high=bench.length(45))
    assert made() == {("X", "high"): False, ("Y", "low"): False}
    line = next(c for c in card_lines(bench.job) if c.step.key == "stops")
    assert (line.done, "was 30 mm, it is 45 mm" in line.noted("mm")) == (False, True)


def test_a_tick_of_an_older_job_says_that_its_figures_were_not_noted():
    bench = Bench()
    bench.travel("X", 300, 300)
    bench.change("X", give_up_high=bench.length(30))
    bench.job.apply("old", [Step(id="s", key="stops")])
    line = next(c for c in card_lines(bench.job) if c.step.key == "stops")
    assert line.done and line.noted("mm").startswith("made to: not noted")


def test_a_body_said_to_be_on_one_member_is_a_stop_beside_a_face_of_the_other_in_either_order():
    told = []
    for first in ("face", "said"):
        bench = Bench()
        bench.travel("X", 380, 380)
        plan = bench.plan("X", face="behind the table" if first == "face" else "")
        on_face = next(f for f in bench.job.all(Face) if f.name == "behind the table")
        bench.job.apply("said", [plan.with_(scale_on="still")])
        bench.job.apply("face", [bench.job.get(plan.id).with_(face_id=on_face.id)])
        assert said(bench.job, "place", "X") == []
        told.append([f.what.text() for f in scale_result(bench.job, bench.axis()).findings if f.severity == "stop"])
    assert told[0] == told[1] != []

"""Power feeds in a job: alone and with scales, in the plan, on the card, and what they reopen."""

import pytest

from vernus.desktop.demo import demo_source
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    MeshTrial,
    PowerFeed,
    ReaderSetting,
    RemovedPart,
    Rework,
    RunOnTest,
    ScalePlan,
    Step,
)
from vernus.job.feed.feed import before_of, feed_result, made_now
from vernus.job.feed.trips import stops_result, trips_of
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import read_export
from vernus.job.keep.lists import buying_list
from vernus.job.keep.made import made_now as step_made_now
from vernus.job.machine.geometry import boxes_of
from vernus.job.machine.planned import feed_parts
from vernus.job.machine.stroke import margins_of, scale_ends
from vernus.job.machine.travel import survey_with
from vernus.job.plan.travel_left import envelope_result
from vernus.job.review.review import card_lines, review_axis
from vernus.job.review.states import axes_as_json
from vernus.job.scope import sheets_of

FEED_ALONE = {"X": ("none", "new"), "Y": ("none", "none"), "Z": ("none", "none"), "T": ("none", "none")}


CHECKED = dict.fromkeys(
    ("turns_free", "end_float", "greased", "covered", "trips", "reverses", "rapid", "lamp", "earthed"), "yes"
)


def mm(text, unit="mm"):
    return LengthEntry.read(str(text), unit)


def kit(**more):
    fields = {
        "shaft": mm(20), "shaft_length": mm(90), "shaft_key": mm(5), "gear_bore": mm("20.02"), "gear_key": mm(5),
        "gear_teeth": 36, "gear_outside": mm("75.9"), "gear_face": mm(18), "unit_teeth": 18, "volts": 230,
        "shop_volts": 230, "end_thread": mm(0), "dial": "no", "wheel": "no", "unit_near": mm(40), "unit_far": mm(58),
        "rapid_rpm": 240, "fast_rpm": 160, "slow_rpm": 10, "gear_held": "collar", "clamp_face": mm(0),
    }  # fmt: skip
    return {**fields, **more}


@pytest.fixture
def job():
    return Job(new_job_entities("x", "bench-mill", scope=FEED_ALONE))


@pytest.fixture
def axis(job):
    found = job.axes()[0]
    survey = survey_with(job, found, "caliper").with_(readings=(mm(400), mm(400)))
    job.apply("travel", [survey, found.with_(lead=mm(5))])
    return job.axes()[0]


def fitted(job, axis, **more):
    feed = PowerFeed.model_validate({"id": "feed", "axis_id": axis.id, **kit(**more)})
    job.apply("feed", [feed])
    return feed


def test_a_job_that_is_a_feed_only_asks_for_travel_and_feed(job, axis):
    assert sheets_of(axis) == ("travel", "mounts", "fit", "bracket", "mesh", "trips", "run-in")
    assert sheets_of(job.axes()[1]) == ()
    assert review_axis(job, axis).next_sheet == "fit"
    fitted(job, axis)
    assert [line.step.key for line in card_lines(job)][:6] == [
        "isolate", "survey-X", "screwend-X", "order", "fit-X", "off-X",
    ]  # fmt: skip


def test_it_leads_from_caliper_to_mesh_to_stops_to_commissioning_and_is_done(job, axis):
    feed = fitted(job, axis, volts=None)
    assert "the unit's voltage" in feed_result(job, axis, feed).instruction.text()
    feed = fitted(job, axis)
    assert "Roll a strip" in feed_result(job, axis, feed).instruction.text()
    job.apply("mesh", [MeshTrial(id="m1", axis_id=axis.id, backlash=mm("0.31"), noise="clatters")])
    assert (
        "wanted 0.202 mm: slide the unit 0.148 mm toward the screw"
        in feed_result(job, axis, feed).mesh.instruction.text()
    )
    job.apply("mesh", [MeshTrial(id="m2", axis_id=axis.id, backlash=mm("0.12"), noise="quiet")])
    result = feed_result(job, axis, feed)
    assert result.mesh.agreed
    assert "Estimated run-on 4 mm" in result.instruction.text()
    for n, (way, at, stood) in enumerate((("up", 200, 204.6), ("down", 200, 196.1))):
        job.apply(
            "run", [RunOnTest(id=f"r{n}", axis_id=axis.id, way=way, speed="rapid", tripped=mm(at), stood=mm(stood))]
        )
    stops = stops_result(job, axis, feed)
    assert (stops.measured, stops.stroke.scale_mm) == (True, None)
    assert stops.stroke.trips_mm == pytest.approx((6.9, 392.4))
    feed = feed.with_(set_low=mm(7), set_high=mm(392))
    job.apply("set", [feed])
    assert "9 checks are open" in feed_result(job, axis, feed).instruction.text()
    job.apply("checks", [feed.with_(**CHECKED)])
    assert review_axis(job, axis).states == {
        "travel": "done", "mounts": "open", "fit": "done", "bracket": "done", "mesh": "done", "trips": "done",
        "run-in": "done",
    }  # fmt: skip
    assert "finished" in review_axis(job, axis).next_step.text()
    job.apply("no", [feed.with_(**{**CHECKED, "earthed": "no"})])
    assert review_axis(job, axis).states["run-in"] == "stop"


def test_a_feed_with_parts_unmade_is_not_finished(job, axis):
    feed = fitted(job, axis, gear_bore=mm("25.4"), set_low=mm(7), set_high=mm(392), **CHECKED)
    job.apply("mesh", [MeshTrial(id="m", axis_id=axis.id, backlash=mm("0.12"), noise="quiet")])
    runs = [("up", "up", 200, 204), ("down", "down", 200, 196)]
    job.apply(
        "run",
        [
            RunOnTest(id=i, axis_id=axis.id, way=way, speed="rapid", tripped=mm(at), stood=mm(stood))
            for i, way, at, stood in runs
        ],
    )
    result = feed_result(job, axis, feed)
    assert (result.done, "made and fitted: sleeve" in result.instruction.text()) == (False, True)
    for figure in ("sleeve", "stepped key"):
        job.apply("one", [Rework(id=figure, axis_id=axis.id, figure=figure, minutes=30)])
    assert feed_result(job, axis, feed).done, "each ticked as it was made"
    job.apply("undo", drop=["sleeve"])
    assert not feed_result(job, axis, feed).done
    job.apply("made", [feed.with_(made="yes")])
    assert feed_result(job, axis, job.all(PowerFeed)[0]).done


def test_low_and_high_trips_swapped_are_not_taken(job, axis):
    feed = fitted(job, axis, set_low=mm(392), set_high=mm(7))
    found = {f.code: f for f in feed_result(job, axis, feed).findings}
    assert found["trips-swapped"].severity == "stop"
    assert "392 mm, not below the high one at +7 mm" in found["trips-swapped"].what.text()


def test_the_scale_of_the_same_axis_limits_the_stops_and_reopens_its_plan(axis, job):
    job.apply("both", [axis.with_(readout="new", drive="none")])
    axis = job.axes()[0]
    plan = ScalePlan(id="p", axis_id=axis.id, family="glass-slim", measuring=mm(450))
    job.apply("plan", [plan])
    assert "fit" not in review_axis(job, axis).states
    assert review_axis(job, axis).states["scale"] == "done"
    job.apply("feed", [axis.with_(drive="new")])
    axis = job.axes()[0]
    feed = fitted(job, axis, brake_s=0.0, switch_s=0.5)
    assert (scale_ends(job, axis), margins_of(job, axis)) == ((-25, 425), (10, 10))
    assert review_axis(job, axis).states["scale"] == "done", "the spare bears the stops"
    job.apply("reader", [ReaderSetting(id="r", axis_id=axis.id, spare_low=mm(25), spare_high=mm(2))])
    assert scale_ends(job, axis) == (-25, 402)
    found = {f.finding.code for f in review_axis(job, axis).findings if f.sheet == "scale"}
    assert "scale-decides" in found
    job.apply("set", [feed.with_(set_high=mm(399))])
    review = review_axis(job, axis)
    assert (review.states["scale"], review.next_sheet) == ("stop", "scale")
    assert "beyond the scale's right end at +402 mm" in next(
        f.finding.what.text() for f in review.findings if f.finding.code == "scale-runs-out"
    )


def test_trips_are_counted_from_the_low_mark_and_keep_before_what_is_given_up(job, axis):
    feed = fitted(job, axis)
    assert trips_of(job, axis) == pytest.approx((7, 393))
    job.apply("given", [axis.with_(give_up_low=mm(20))])
    assert trips_of(job, job.axes()[0]) == pytest.approx((27, 393)), "the stop that is fitted there counts"
    job.apply("set", [feed.with_(set_low=mm(30))])
    assert trips_of(job, job.axes()[0])[0] == 30
    assert trips_of(job, job.axes()[1]) is None


def test_the_unit_takes_room_in_the_envelope(job, axis):
    before = envelope_result(job).kept
    fitted(job, axis, unit_long=mm(110), unit_wide=mm(150), unit_high=mm(200), end="high")
    box = feed_parts(job)[0]
    assert (box.member, box.max_mm[0] - box.min_mm[0], box.max_mm[2]) == ("table", 110, 0)
    kept = envelope_result(job).kept
    assert kept["X"][0] > before["X"][0], "low over the base it meets it"
    fitted(
        job, axis, unit_long=mm(110), unit_wide=mm(150), unit_high=mm(200), end="high", bracket="replace",
        kit_bracket=mm(24),
    )  # fmt: skip
    unit, bracket = feed_parts(job)
    assert (bracket.name, bracket.max_mm[0] - bracket.min_mm[0]) == ("X feed bracket", 24)
    assert (unit.min_mm[0], bracket.min_mm[0]) == (bracket.max_mm[0], box.min_mm[0])
    fitted(job, axis, unit_long=mm(-110), unit_wide=mm(150), unit_high=mm(200), kit_bracket=mm(-5), bracket="replace")
    assert feed_parts(job) == [], "a size that can't be is a finding, not a box"
    job.apply("away", drop=["feed"])
    assert feed_parts(job) == []


def test_buying_making_and_keeping_are_listed(job, axis):
    fitted(job, axis, gear_bore=mm("25.4"), shaft_key=mm("4.76"))
    job.apply("gone", [RemovedPart(id="g", axis_id=axis.id, name="handwheel", kept="shelf 3", back="nut, 40 Nm")])
    items = [(i.kind, i.what.text()) for i in buying_list(job)]
    assert ("buy", "Power feed kit") in items
    assert ("make", "Sleeve") in items
    assert ("make", "Stepped key") in items
    assert ("make", "Coupler") not in items, "never parts of two schemes at once"
    assert ("keep", "handwheel") in items


def test_a_solved_bracket_becomes_a_part_with_its_pocket(job, axis):
    feed = fitted(
        job, axis, bracket="replace", bearing=mm(42), bearing_width=mm(12), screw_below=mm(45), hole_thread="M8",
        hole_across=mm(84), hole_up=mm(40), unit_across=mm(70), unit_up=mm(30), pattern_y=mm(-31), unit_thread="M8",
    )  # fmt: skip
    bracket = feed_result(job, axis, feed).bracket
    assert len(bracket.rows) == 10, "the hole for the screw too"
    assert bracket.rows[0].drill_name == "bore 42 mm"
    assert [f for f in bracket.findings if f.severity == "stop"] == []


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"hole_thread": "M99x", "hole_across": mm(80), "hole_up": mm(40), "kit_across": mm(80), "kit_up": mm(40),
          "kit_hole": mm(9)}, "M99x"),
        ({"rapid_rpm": 100, "fast_rpm": 160}, "grow"),
        ({"gear_face": mm(-3)}, "more than 0"),
    ],
)  # fmt: skip
def test_a_figure_that_cannot_be_is_a_finding_not_a_crash(job, axis, wrong, words):
    feed = fitted(job, axis, **wrong)
    result = feed_result(job, axis, feed)
    assert result.findings[0].severity == "stop"
    assert words in result.findings[0].what.text()
    assert review_axis(job, axis).states["fit"] == "stop"


def test_holes_of_the_trip_switch_off_by_a_millimetre_are_a_task(job, axis):
    feed = fitted(
        job, axis, switch_across=mm(31), switch_kit=mm(30), switch_hole=mm("4.5"), switch_thread="M4",
    )  # fmt: skip
    item = next(i for i in feed_result(job, axis, feed).fit.items if i.what == "trip switch")
    assert (item.verdict, "slot 5 mm long" in item.words.text()) == ("task", True)


def test_another_voltage_and_a_missing_travel_are_told(job, axis):
    feed = fitted(job, axis, volts=110)
    assert "other-voltage" in {f.code for f in feed_result(job, axis, feed).findings}
    other = job.axes()[1]
    assert "travel first" in stops_result(job, other, PowerFeed(id="o", axis_id=other.id)).instruction.text()


def test_a_unit_gear_of_another_pitch_is_told_before_it_is_bought(job, axis):
    feed = fitted(job, axis, unit_outside=mm("39.9"))
    result = feed_result(job, axis, feed)
    assert "gears-unlike" not in {f.code for f in result.findings}
    assert "pressure angle likely 20°" in result.mesh.named.text()
    other = feed_result(job, axis, feed.with_(unit_outside=mm("42.3")))
    told = next(f for f in other.findings if f.code == "gears-unlike")
    assert "18 teeth of module 2 the unit's gear would be 40 mm outside; it measures 42.3 mm" in told.what.text()
    assert "1.6654 in" in told.what.text("in")


def test_the_demo_mill_has_a_feed_in_the_middle_of_being_fitted():
    demo = Job(read_export(demo_source("mill")))
    axis = next(a for a in demo.all(Axis) if a.name == "X")
    result = feed_result(demo, axis, demo.all(PowerFeed)[0])
    assert (result.mesh.agreed, result.stops.measured, result.done) == (True, False, False)
    assert result.bracket is not None
    assert review_axis(demo, axis).next_sheet == "fit"
    verdicts = {i.what: i.verdict for i in result.fit.items}
    assert verdicts["trip switch"] == "fits", "reworked"
    assert verdicts["bracket holes"] == "task", "still open"
    assert result.fit.chain.plan.scheme == "coupler"
    notes = [n.text() for n in result.fit.items[0].part.notes]
    assert notes == [
        "bored 27 mm deep, with a keyway of 6 mm", "set screw of 5 mm, 13.5 mm from the socket's end",
        "keyway of 6.35 mm in the seat of 22.225 mm",
    ]  # fmt: skip
    assert {i.kind for i in buying_list(demo)} == {"buy", "have", "make", "keep"}


def test_an_inch_job_gives_the_same_stops():
    job = Job(new_job_entities("x", "lathe-mid", units="in", scope=FEED_ALONE))
    axis = job.axes()[0]
    survey = survey_with(job, axis, "caliper").with_(readings=(mm("7.5", "in"), mm("7.5", "in")))
    job.apply("travel", [survey])
    feed = fitted(job, axis)
    for n, (way, at, stood) in enumerate((("up", "3", "3.15"), ("down", "3", "2.85"))):
        test = RunOnTest(
            id=f"r{n}", axis_id=axis.id, way=way, speed="rapid", tripped=mm(at, "in"), stood=mm(stood, "in")
        )
        job.apply("run", [test])
    stops = stops_result(job, axis, feed)
    assert stops.stroke.trips_mm[1] == pytest.approx(7.5 * 25.4 - 3 - 0.15 * 25.4)
    assert "in" in stops.instruction.text("in")


def test_a_mesh_set_by_ear_can_pass_and_what_rubs_is_looked_for(job, axis):
    feed = fitted(job, axis, school="ear")
    job.apply("mesh", [MeshTrial(id="m1", axis_id=axis.id, noise="rubs")])
    assert "Something rubs" in feed_result(job, axis, feed).mesh.instruction.text()
    job.apply("mesh", [MeshTrial(id="m2", axis_id=axis.id, noise="quiet")])
    assert feed_result(job, axis, feed).mesh.agreed
    assert "set the mesh by ear" in next(c.step.words for c in card_lines(job) if c.step.key == f"mesh-{axis.name}")
    paper = feed.with_(school="paper2")
    assert not feed_result(job, axis, paper).mesh.agreed, "who rolls paper has to say what it did"
    job.apply("mesh", [MeshTrial(id="m3", axis_id=axis.id, noise="quiet", backlash=mm("0.6"))])
    assert not feed_result(job, axis, feed).mesh.agreed, "what is measured goes before the ear"


@pytest.mark.parametrize(
    ("unit", "tight", "loose", "slides"), [("mm", "0.03", "0.23", False), ("in", "0.012", "0.024", True)]
)
def test_tight_and_loose_within_a_turn_is_runout_and_not_slid_for(job, axis, unit, tight, loose, slides):
    feed = fitted(job, axis)
    trial = MeshTrial(id="m", axis_id=axis.id, noise="grinds", backlash=mm(tight, unit), loosest=mm(loose, unit))
    job.apply("mesh", [trial])
    mesh = feed_result(job, axis, feed).mesh
    assert mesh.measured_mm == pytest.approx((trial.backlash.mm + trial.loosest.mm) / 2)
    words = mesh.instruction.text(unit)
    assert "runout" in words
    assert ("slide the unit" in words) == slides
    assert ("don't slide" in words) != slides


def test_a_run_on_is_one_length_by_rule_and_one_the_wrong_way_round_is_asked_about(job, axis):
    feed = fitted(job, axis)
    runs = [RunOnTest(id=w, axis_id=axis.id, way=w, speed="rapid", ran=mm(r)) for w, r in (("up", 6), ("down", 5))]
    job.apply("rule", runs)
    stops = stops_result(job, axis, feed)
    assert (stops.measured, stops.stroke.trips_mm) == (True, pytest.approx((8, 391)))
    swapped = RunOnTest(id="s", axis_id=axis.id, way="up", speed="rapid", tripped=mm(204), stood=mm(200))
    job.apply("swapped", [swapped])
    result = feed_result(job, axis, feed)
    told = next(f for f in result.findings if f.code == "run-on-backward")
    assert (told.severity, "wrong way round" in told.remedy.text()) == ("stop", True)
    assert result.stops.stroke.trips_mm == pytest.approx((8, 391)), "it isn't counted until it is answered"


@pytest.mark.parametrize(("far", "unit", "rapid"), [("200", "mm", "600 mm/min"), ("10", "in", "30.0 in/min")])
def test_a_stopwatch_stands_for_the_rpm(job, axis, far, unit, rapid):
    feed = fitted(job, axis, rapid_rpm=None, fast_rpm=None, slow_rpm=None, timed=mm(far, unit), timed_s=20)
    result = feed_result(job, axis, feed)
    assert f"Rapid {rapid} by stopwatch" in result.speeds.in_words().text(unit)
    assert result.stops.run_on is not None, "it gives the estimate of the run-on too"


def test_what_was_worked_over_counts_and_stays_with_both_figures(job, axis):
    feed = fitted(job, axis, shaft_key=mm("0.188", "in"), gear_key=mm("0.180", "in"))
    key = next(i for i in feed_result(job, axis, feed).fit.items if i.what == "key")
    assert key.verdict == "part"
    work = Rework(
        id="w", axis_id=axis.id, figure="gear_key", before=feed.gear_key, after=mm("0.1885", "in"), how="broached",
        minutes=40,
    )  # fmt: skip
    job.apply("work", [work])
    key = next(i for i in feed_result(job, axis, feed).fit.items if i.what == "key")
    assert (key.verdict, job.all(PowerFeed)[0].gear_key.text) == ("fits", "0.180")


def test_a_bracket_worked_over_is_as_thick_in_the_envelope_as_in_the_chain(job, axis):
    size = {"unit_long": mm(110), "unit_wide": mm(150), "unit_high": mm(200)}
    feed = fitted(job, axis, bracket="replace", old_bracket=mm(10), kit_bracket=mm(24), **size)
    job.apply("work", [Rework(id="w", axis_id=axis.id, figure="kit_bracket", after=mm(20))])
    _, plate = feed_parts(job)
    assert plate.max_mm[0] - plate.min_mm[0] == pytest.approx(20)
    assert feed_result(job, axis, feed).fit.chain.end.bracket_mm == 10


def test_what_lies_under_handle_and_dial_is_asked_when_they_are_off(job, axis):
    feed = fitted(job, axis, dial="yes", wheel="yes", shaft=None)
    result = feed_result(job, axis, feed)
    assert (result.fit.chain, result.fit.items) == (None, ())
    assert "handle and dial come off" in result.instruction.text()
    assert "what the dial takes of the screw" in result.fit.covered
    known = feed_result(job, axis, feed.with_(shaft=mm(20)))
    item = known.fit.items[0]
    assert (item.what, item.verdict) == ("screw's end", "open")
    assert "nothing fits yet" in item.words.text()


def test_the_new_bracket_counts_the_same_wherever_it_is_asked_for(job, axis):
    feed = fitted(job, axis, bracket="replace", old_bracket=mm(10), bearing_width=mm(12), shaft_length=mm(70))
    result = feed_result(job, axis, feed)
    chain, (_, replace) = result.fit.chain, result.fit.brackets
    assert chain.end.bracket_mm == 6
    assert "a bracket of 16 mm to make, the screw then sticks out 64 mm" in replace.words.text()
    clamped = feed_result(job, axis, feed.with_(bracket="clamp"))
    assert clamped.fit.chain.end.bracket_mm == 0


def test_what_stops_the_screws_end_stops_the_feed(job, axis):
    feed = fitted(job, axis, gear_bore=mm(19))
    result = feed_result(job, axis, feed)
    assert result.findings[0].code == "bore-too-small"
    assert result.fit.items[0].verdict == "task"
    assert not result.done


def run_in(job, axis, **more):
    feed = fitted(job, axis, **{"gear_bore": mm("25.4"), "set_low": mm(7), "set_high": mm(392), **CHECKED, **more})
    job.apply("mesh", [MeshTrial(id="m", axis_id=axis.id, backlash=mm("0.12"), noise="quiet")])
    runs = [RunOnTest(id=w, axis_id=axis.id, way=w, speed="rapid", tripped=mm(200), stood=mm(s))
            for w, s in (("up", 204), ("down", 196))]  # fmt: skip
    job.apply("run", runs)
    return feed


def test_grease_says_nothing_of_the_cover(job, axis):
    feed = run_in(job, axis, covered="", made="yes")
    result = feed_result(job, axis, feed)
    assert result.cover is not None
    assert not result.done
    assert "covered" in result.open_checks
    feed = run_in(job, axis, covered="", made="")
    assert "gear cover" in feed_result(job, axis, feed).unmade
    assert "gear cover" not in feed_result(job, axis, run_in(job, axis, covered="yes")).unmade


def test_what_was_made_is_to_make_again_once_the_figures_change(job, axis):
    feed = run_in(job, axis, gear_bore=mm(21), shaft_length=mm(60))
    result = feed_result(job, axis, feed)
    assert "coupler" in result.unmade
    job.apply("made", [Rework(id="c", axis_id=axis.id, figure="coupler", made_to=made_now(job, axis, feed, "coupler"))])
    assert "coupler" not in feed_result(job, axis, feed).unmade
    longer = feed.with_(unit_near=mm(70), unit_far=mm(88))
    job.apply("shim", [longer])
    again = feed_result(job, axis, longer)
    assert "coupler" in again.unmade
    assert "made-to-other-figures" in {f.code for f in again.findings}
    assert not again.done
    job.apply("all", [longer.with_(made="yes", made_to=made_now(job, axis, feed))])
    job.apply("gone", drop=["c"])
    assert "coupler" in feed_result(job, axis, job.get("feed")).unmade, "all of them made, to the figures of before"


def test_an_old_word_that_it_is_made_stands(job, axis):
    feed = run_in(job, axis, made="yes")
    assert "sleeve" not in feed_result(job, axis, feed).unmade


def test_a_feed_is_not_in_while_a_stop_is_still_to_be_fitted(job, axis):
    feed = run_in(job, axis, made="yes", set_low=mm(40), set_high=mm(360))
    assert feed_result(job, axis, feed).done
    given = job.axes()[0].with_(give_up_low=mm(25))
    job.apply("give up", [given])
    result = feed_result(job, given, feed)
    assert not result.done
    assert "Fit the stops" in result.instruction.text()
    assert not result.instruction.concludes
    assert "finished" not in review_axis(job, given).next_step.text()
    job.apply("tick", [Step(id="s", key="stops")])
    assert feed_result(job, given, feed).done


def test_a_gear_that_nothing_drives_stops_the_feed(job, axis):
    result = feed_result(job, axis, run_in(job, axis, shaft_key=mm(0), gear_bore=mm("20.02")))
    assert ("not-driven", "stop") in {(f.code, f.severity) for f in result.findings}
    assert review_axis(job, job.axes()[0]).states["fit"] == "stop"
    held = feed_result(job, axis, run_in(job, axis, gear_held=""))
    assert ("not-held", "stop") in {(f.code, f.severity) for f in held.findings}


SIZES = {"unit_long": "110 mm", "unit_wide": "150 mm", "unit_high": "200 mm"}


@pytest.mark.parametrize("units", ["mm", "in"])
@pytest.mark.parametrize("end, wheel", [("high", "right handwheel"), ("low", "left handwheel")])
def test_a_handwheel_taken_off_is_one_fact(job, axis, units, end, wheel):
    sizes = {k: LengthEntry.read(v, units) for k, v in SIZES.items()}
    names = lambda: {b.name for b in envelope_result(job).envelope.boxes}  # noqa: E731
    feed = fitted(job, axis, **sizes, end=end, wheel="yes", wheel_hub=mm(25))
    assert wheel in names()
    inside = [f for f in feed_result(job, axis, feed).findings if f.code == "fixed-overlap"]
    assert [f.what.values["other"] for f in inside] == [wheel], "told on the feed's own sheet too"
    fitted(job, axis, **sizes, end=end, wheel="no")
    assert wheel not in names()
    feed = fitted(job, axis, **sizes, end=end, wheel="yes")
    assert "what the handwheel's hub takes" in feed_result(job, axis, feed).fit.covered
    box = next(b for b in boxes_of(job) if b.name == wheel)
    job.apply("off", [job.get(box.id).with_(fitted="off")])
    assert "what the handwheel's hub takes" not in feed_result(job, axis, feed).fit.covered
    assert not [f for f in feed_result(job, axis, feed).findings if f.code == "fixed-overlap"]


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("school", ["paper1", "paper2", "indicator"])
def test_obeying_a_school_passes_it(job, axis, unit, school):
    """Set as the school says, the backlash that comes of it is not answered with a slide."""
    feed = fitted(job, axis, school=school, paper=LengthEntry.read("0.0955 mm", unit))
    makes = feed_result(job, axis, feed).mesh.mesh.backlash_mm
    trial = MeshTrial(
        id="t", axis_id=axis.id, paper="rolls", noise="grinds", backlash=LengthEntry.read(f"{makes:.4f} mm", unit)
    )
    job.apply("trial", [trial])
    said = feed_result(job, axis, feed).mesh
    assert abs(said.slide_mm) < 0.001
    assert "wanted" not in said.instruction.text()


def test_a_second_rework_starts_from_the_last_and_a_part_made_from_nothing(job, axis):
    feed = fitted(job, axis)
    first = Rework(id="r1", axis_id=axis.id, figure="gear_bore")
    assert before_of(job, axis, feed, first).mm == 20.02
    job.apply("bored", [first.with_(before=mm("20.02"), after=mm("21"))])
    assert before_of(job, axis, feed, Rework(id="r2", axis_id=axis.id, figure="gear_bore")).mm == 21
    assert before_of(job, axis, feed, Rework(id="r3", axis_id=axis.id, figure="gear_key")).mm == 5
    assert before_of(job, axis, feed, Rework(id="r4", axis_id=axis.id, figure="coupler")) is None


@pytest.mark.parametrize("units", ["mm", "in"])
def test_a_clamp_s_face_moves_the_gear_and_is_asked_for(job, axis, units):
    job.apply("units", [job.info.with_(units=units)])
    feed = fitted(job, axis, clamp_face=None)
    result = feed_result(job, axis, feed)
    assert result.fit.chain is None
    assert "clamp's face" in result.instruction.text()
    at_face = feed_result(job, axis, fitted(job, axis, clamp_face=mm(0))).fit.chain.end.gear_plane_mm
    beyond = feed_result(job, axis, fitted(job, axis, clamp_face=mm("12.5"))).fit.chain.end.gear_plane_mm
    assert beyond == pytest.approx([at + 12.5 for at in at_face])
    faces = {"drive_near": mm("52.5"), "drive_far": mm("70.5")}
    meshed = feed_result(job, axis, fitted(job, axis, clamp_face=mm("12.5"), **faces)).mesh.engagement
    assert meshed.engaged_mm == pytest.approx(18)


def replaced(job, axis, **more):
    return fitted(
        job, axis, bracket="replace", clamp_face=None, old_bracket=mm(12), bearing=mm(42), bearing_width=mm(12),
        screw_below=mm(45), hole_thread="M8", hole_across=mm(84), hole_up=mm(40), unit_across=mm(70), unit_up=mm(30),
        pattern_y=mm(-31), unit_thread="M8", **more,
    )  # fmt: skip


def test_slotted_feet_want_studs_and_a_gear_over_the_table_is_a_stop(job, axis):
    bracket = feed_result(job, axis, replaced(job, axis, feet="slots")).bracket
    kinds = {h.kind for h in bracket.part.holes}
    assert "tapped" in kinds
    assert "slot" not in kinds
    codes = {f.code for f in feed_result(job, axis, replaced(job, axis, sits="above")).findings_on["bracket"]}
    assert "gear-above-the-table" in codes
    assert "gear-above-the-table" not in {f.code for f in feed_result(job, axis, replaced(job, axis)).findings}


def test_each_sheet_of_the_feed_has_a_mark_of_its_own_and_feed_is_the_worst(job, axis):
    fitted(job, axis)
    states = review_axis(job, axis).states
    assert (states["fit"], states["mesh"], states["run-in"]) == ("done", "open", "open")
    told = axes_as_json(job)["X"]["states"]
    assert told["feed"] == min((told[s] for s in ("fit", "bracket", "mesh", "trips", "run-in")),
                               key=("stop", "caution", "begun", "open", "done").index)  # fmt: skip


def test_a_part_of_a_feed_ticked_on_the_card_is_made_and_opens_again_when_the_figures_change(job, axis):
    feed = fitted(job, axis, gear_bore=mm(25), shaft_key=mm(5))
    assert feed_result(job, axis, feed).unmade[0] == "sleeve"
    step = next(line.step for line in card_lines(job) if line.step.key == "feedpart-X-sleeve")
    job.apply("tick", [Step(id="s", key=step.key, made_to=step_made_now(job, step))])
    assert "sleeve" not in feed_result(job, axis, feed).unmade
    assert next(line for line in card_lines(job) if line.step.key == step.key).done
    feed = fitted(job, axis, gear_bore=mm(26), shaft_key=mm(5))
    assert feed_result(job, axis, feed).again == ("sleeve",)
    assert not next(line for line in card_lines(job) if line.step.key == step.key).done
    job.apply("untick", drop=["s"])
    job.apply("noted", [Rework(id="w", axis_id=axis.id, figure="sleeve",
                               made_to=made_now(job, axis, feed, "sleeve"))])  # fmt: skip
    assert next(line for line in card_lines(job) if line.step.key == step.key).done


@pytest.mark.parametrize(
    ("said", "told"),
    [
        ({"bracket": "replace", "unit_across": mm(60)}, "pattern-missing"),
        ({"bracket": "replace", "unit_across": mm(60), "unit_x": mm(12)}, "pattern-from-the-screw"),
        ({"bracket": "replace", "unit_across": mm(60), "unit_x": mm(12), "pattern_y": mm(0)}, None),
        ({"bracket": "clamp", "unit_across": mm(60)}, None),
        ({"bracket": "replace"}, None),
    ],
)
def test_where_the_units_holes_lie_is_asked_for_where_a_bracket_is_made(job, axis, said, told):
    codes = {f.code for f in feed_result(job, axis, fitted(job, axis, **said)).findings}
    assert codes & {"pattern-missing", "pattern-from-the-screw"} == ({told} if told else set())

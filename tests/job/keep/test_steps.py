"""The card follows the job: a step per part and per pattern, a member off and on again, and open again on a change."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.job.random_jobs import RandomJob
from vernus.core.keep.schedule import order_steps
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import Delivery, Face, HolePattern, MountPart, ScalePlan, Step
from vernus.job.fields import LengthEntry
from vernus.job.keep.card import _SHEET_OF
from vernus.job.keep.made import made_now
from vernus.job.keep.steps import steps_of
from vernus.job.made import changed_since
from vernus.job.review.review import card_lines
from vernus.job.scope import axes_in_scope
from vernus.job.sheet_names import SHEET_WORDS


def mm(value):
    return LengthEntry(mm=value, text=f"{value:g}")


@pytest.fixture
def job():
    made = Job(new_job_entities("x", "bench-mill"))
    made.apply("scope", [a.with_(readout="new" if a.name != "Z" else "none") for a in made.axes()])
    x = made.axes()[0]
    made.apply(
        "plan",
        [
            ScalePlan(id="s", axis_id=x.id, family="thin-housing", measuring=mm(400), face_id="f"),
            Face(id="f", axis_id=x.id, name="front of the table", member="table", reader_member="saddle"),
            MountPart(id="p", axis_id=x.id, name="left standoff", part_kind="standoff"),
            MountPart(id="g", axis_id=x.id, name="filler", part_kind="spacer", gap=mm(11.4)),
            MountPart(id="c", axis_id=x.id, name="chip guard", part_kind="deflector"),
            MountPart(id="w", axis_id=x.id, name="table front", part_kind="face", length=mm(500)),
            HolePattern(id="h1", part_id="w", shape="row", thread="M5", hole_kind="tapped"),
            HolePattern(id="h2", part_id="w", shape="rectangle", thread="M4", hole_kind="tapped"),
        ],
    )  # fmt: skip
    return made


def by_key(job):
    return {s.key: s for s in steps_of(job)}


def line(job, key):
    return next(c for c in card_lines(job) if c.step.key == key)


def tick(job, key, **more):
    step = line(job, key).step
    job.apply("tick", [Step(id=f"step-{key}", key=key, done=True, made_to=made_now(job, step), **more)])


def test_there_is_a_step_for_each_part_and_each_pattern_and_none_for_a_face(job):
    steps = by_key(job)
    assert {"make-p", "make-g", "make-c", "drill-X-h1", "drill-X-h2"} <= set(steps)
    assert "make-w" not in steps
    assert "drill-X" not in steps, "no hole stands by itself"
    assert steps["make-p"].needs == ("receive",)
    assert steps["make-g"].needs == ("mark-X",), "the last piece is made to the gap measured"
    assert {"make-p", "make-g", "drill-X-h2"} <= set(steps["align-X"].needs)
    assert "make-c" in steps["cover-X"].needs
    assert "chip guard on" in steps["cover-X"].words
    assert "M5" in steps["drill-X-h1"].words
    assert "tap M5" in steps["drill-X-h1"].tools


def test_what_was_made_is_painted_once_it_is_proved_and_only_where_something_is_made(job):
    steps = by_key(job)
    assert set(steps["paint"].needs) == {"prove-X", "prove-Y"}
    assert steps["again"].needs == ("paint",)
    job.apply("none", drop=["p", "g", "c"])
    assert "paint" not in by_key(job)


def test_a_member_comes_off_after_its_readings_are_noted_and_goes_on_with_them_in_hand(job):
    y = job.axes()[1]
    job.apply("off", [job.info.with_(comes_off="column", off_for=y.id)])
    steps = by_key(job)
    assert steps["takeoff"].needs == ("noteoff",)
    assert "takeoff" in steps["hold-Y"].needs
    assert steps["putback"].needs == ("powerup-Y",)
    assert steps["calibrate-Y"].needs == ("putback",)
    tick(job, "noteoff", note="0.02 in 200, shim 0.1 left rear")
    assert "It was: 0.02 in 200, shim 0.1 left rear" in by_key(job)["putback"].words
    job.apply("away", [y.with_(readout="none")])
    assert "takeoff" not in by_key(job)


@pytest.mark.parametrize(
    ("begin", "pace", "one"),
    [("easiest", "", False), ("hardest", "", True), ("easiest", "one", True), ("hardest", "together", False)],
)
def test_both_schools_of_pace_go_with_both_of_where_to_begin(job, begin, pace, one):
    job.apply("school", [job.info.with_(begin=begin, pace=pace)])
    first, second = (a.name for a in axes_in_scope(job)) if begin == "easiest" else ("Y", "X")
    assert (f"prove-{first}" in by_key(job)[f"hold-{second}"].needs) is one


def test_a_lathe_has_no_head_to_tram():
    lathe = Job(new_job_entities("x", "lathe-small"))
    lathe.apply("scope", [a.with_(readout="new") for a in lathe.axes()])
    assert "tailstock" in by_key(lathe)["again"].words
    assert not any("head" in s.words.replace("headstock", "") for s in steps_of(lathe))


def test_a_step_is_open_again_when_what_it_rests_on_changes_and_says_why_in_both_units(job):
    tick(job, "make-p")
    assert line(job, "make-p").done
    job.apply("thicker", [job.get("p").with_(thickness=mm(15))])
    again = line(job, "make-p")
    assert not again.done
    assert again.noted("mm") == "Open again: its thickness was 12 mm, it is 15 mm."
    assert "0.472 in, it is 0.591 in" in again.noted("in")
    tick(job, "make-p")
    assert line(job, "make-p").done


def test_another_hole_opens_the_drilling_and_units_alone_open_nothing(job):
    tick(job, "drill-X-h1")
    job.apply("units", [job.info.with_(units="in")])
    assert line(job, "drill-X-h1").done
    job.apply("thread", [job.get("h1").with_(thread="M6")])
    assert "table front was “tap M5: drill 4.2 mm" in line(job, "drill-X-h1").noted("mm")
    assert "it is “tap M6: drill 5 mm" in line(job, "drill-X-h1").noted("mm")


def test_what_was_delivered_does_not_open_the_order(job):
    tick(job, "order")
    x = job.axes()[0]
    job.apply("came", [Delivery(id="d", axis_id=x.id, measuring=mm(402))])
    assert line(job, "order").done, "what has come is not sent for again"
    job.apply("gone", [job.get("s").with_(measuring=mm(397))], drop=["d"])
    assert line(job, "order").done, "it is cut from the same length"
    job.apply("longer", [job.get("s").with_(measuring=mm(450))])
    assert "its size was 400 mm, it is 500 mm" in line(job, "order").noted("mm")


def test_ticks_of_older_jobs_stay_for_the_whole_drilling(job):
    job.apply("tick", [Step(id="old", key="drill-X", done=True)])
    assert line(job, "drill-X-h1").done
    assert line(job, "drill-X-h2").done
    assert changed_since((), made_now(job, line(job, "drill-X-h1").step)) is None


@given(st.integers(0, 2**32 - 1))
def test_every_card_of_a_random_job_is_an_order_with_a_sheet_and_nothing_changes_by_itself(seed):
    random = RandomJob(seed)
    job = random.job
    steps = order_steps(steps_of(job))
    assert len({s.key for s in steps}) == len(steps)
    assert all(s.axis in ("", *(a.name for a in axes_in_scope(job))) for s in steps)
    for step in steps:
        now = made_now(job, step)
        assert changed_since(now, now) is None
        assert len({(m.id, m.figure) for m in now}) == len(now), "a figure of a statement is kept once"
    assert set(_SHEET_OF.values()) <= set(SHEET_WORDS)

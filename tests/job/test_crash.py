"""A crash noted in the log opens again what it may have moved, and says why; a note doesn't."""

import pytest

from vernus.desktop.demo import demo_source
from vernus.job.document import Job, new_id
from vernus.job.entities import LogEntry, Step
from vernus.job.formats.exchange import read_export
from vernus.job.review.review import card_lines, review_axis

OPENED = ("align", "reader", "calibrate", "positioning")


@pytest.fixture
def job():
    made = Job(read_export(demo_source("mill")))
    axis = made.axes()[0]
    made.apply("ticked", [Step(id=new_id(), key=f"{k}-{axis.name}") for k in ("align", "calibrate", "prove")])
    return made


@pytest.mark.parametrize("where", ["the axis", "the machine"])
def test_a_crash_opens_what_it_may_have_moved_and_says_so(job, where):
    axis = job.axes()[0]
    before = review_axis(job, axis)
    was_done = [s for s in OPENED if before.states[s] == "done"]
    assert "align" in was_done
    on_card = {c.step.key for c in card_lines(job) if c.done}
    job.apply(
        "crash",
        [
            LogEntry(
                id=new_id(), axis_id=axis.id if where == "the axis" else "", text="vice met the cutter", event="crash"
            )
        ],
    )
    after = review_axis(job, axis)
    assert not [s for s in OPENED if after.states[s] == "done"]
    told = [at for at in after.findings if at.finding.code == "happened"]
    assert {at.sheet for at in told} >= set(was_done)
    assert all("vice met the cutter" in at.finding.what.text() for at in told)
    gone = on_card - {c.step.key for c in card_lines(job) if c.done}
    assert {f"align-{axis.name}", f"calibrate-{axis.name}", f"prove-{axis.name}"} <= gone
    why = next(c for c in card_lines(job) if c.step.key == f"align-{axis.name}")
    assert "crash" in why.noted("mm")


@pytest.mark.parametrize("entry", [{"event": ""}, {"event": "crash", "axis_id": "axis-y"}])
def test_a_note_or_another_axis_crash_opens_nothing_here(job, entry):
    axis = job.axes()[0]
    before = review_axis(job, axis).states
    job.apply("note", [LogEntry(id=new_id(), **{"axis_id": axis.id, "text": "x", **entry})])
    assert review_axis(job, axis).states == before

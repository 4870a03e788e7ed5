"""What comes again: by hand every so many days, rub marks after a month, the display; a tick that is old comes off."""

from datetime import UTC, datetime, timedelta

import pytest

from tests.job.conftest import Bench
from vernus.desktop.demo import demo_source
from vernus.job.document import Job
from vernus.job.entities import Step
from vernus.job.formats.exchange import read_export
from vernus.job.keep.due import tasks_of
from vernus.job.keep.steps_own import BY_HAND
from vernus.job.machine.geometry import keep_reachable
from vernus.job.review.review import card_lines


@pytest.fixture
def clock():
    return [datetime(2026, 12, 1, 18, tzinfo=UTC)]


@pytest.fixture
def job(clock):
    return Job(read_export(demo_source("mill")), clock=lambda: clock[0])


def due(job):
    return {t.key or "display": t for t in tasks_of(job, card_lines(job), job.now())}


def test_a_display_is_due_by_its_history(job, clock):
    assert due(job)["display"].axis == "X"
    day = due(job)["display"].day
    clock[0] = datetime(day.year, day.month, day.day, tzinfo=UTC) + timedelta(days=2)
    assert due(job)["display"].overdue(clock[0].date())


def test_what_is_done_by_hand_comes_again_and_its_tick_goes(clock):
    bench = Bench("lathe-mid", units="in")
    job = bench.job
    job._clock = lambda: clock[0]
    bench.travel("X", "6.9", "6.9")
    bench.plan("X", family="glass-micro", measuring=8, face="tailstock side of the cross slide")
    covered = [b.with_(covered="by hand", every_days=14) for b in keep_reachable(job)]
    job.apply("by hand", covered)
    key = next(c.step.key for c in card_lines(job) if c.step.key.startswith(BY_HAND))
    assert key not in due(job), "not before the cover is on"
    job.apply("cover", [Step(id="c", key="cover-X")])
    assert due(job)[key].overdue(clock[0].date())
    job.apply("oiled", [Step(id="o", key=key)])
    line = next(c for c in card_lines(job) if c.step.key == key)
    assert line.done
    assert "again on" in line.note
    clock[0] += timedelta(days=15)
    line = next(c for c in card_lines(job) if c.step.key == key)
    assert not line.done
    assert "due again since" in line.note


def test_rub_marks_are_looked_for_a_month_after_the_cover(job, clock):
    job.apply("cover", [Step(id="c", key="cover-X")])
    task = due(job)["rub-X"]
    assert (task.day - clock[0].date()).days == 30
    job.apply("looked", [Step(id="r", key="rub-X")])
    assert "rub-X" not in due(job)

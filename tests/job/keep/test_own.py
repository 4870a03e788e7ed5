"""What belongs to the user: the kit across jobs, the times of other jobs, and the calendar file."""

from datetime import UTC, date, datetime, timedelta

import pytest
from icalendar import Calendar
from platformdirs import user_data_path

from vernus.core.errors import BadInputError
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import EveningPlan, Step
from vernus.job.keep.evenings.calendar import write_calendar
from vernus.job.keep.evenings.hours import hours_of, ratios_of, took_here
from vernus.job.keep.evenings.plan import plan_card
from vernus.job.keep.own import keep_times, keep_tool, own_tools, took_elsewhere
from vernus.job.keep.tools import tools_needed
from vernus.job.review.review import card_lines

NOW = datetime(2027, 1, 4, 18, tzinfo=UTC)


@pytest.fixture
def job():
    made = Job(new_job_entities("The mill", "bench-mill"), clock=lambda: NOW)
    made.apply("scope", [a.with_(readout="new" if a.name != "Z" else "none") for a in made.axes()])
    made.apply("evenings", [EveningPlan(id="e", tue=2, sat=5)])
    return made


def test_a_tool_kept_in_one_job_is_owned_in_every_other(job):
    needs = {n.name: n for n in tools_needed(job, card_lines(job))}
    assert needs["indicator"].words == "get it"
    assert len(needs["indicator"].steps) > 2
    keep_tool("Indicator", "have")
    keep_tool("feelers", "borrow")
    other = Job(new_job_entities("Another", "lathe-small"))
    other.apply("scope", [a.with_(readout="new") for a in other.axes()])
    words = {n.name: n.words for n in tools_needed(other, card_lines(other))}
    assert words["indicator"] == "have it"
    keep_tool("indicator", "")
    assert own_tools() == {"feelers": "borrow"}


def test_tools_of_what_is_done_are_not_asked_for(job):
    before = {n.name for n in tools_needed(job, card_lines(job))}
    job.apply("all", [Step(id=f"s{n}", key=c.step.key) for n, c in enumerate(card_lines(job))])
    left = [c for c in card_lines(job) if not c.done]
    assert {n.name for n in tools_needed(job, card_lines(job))} < before
    assert all(c.step.key.startswith(("rub", "by-hand")) for c in left)


@pytest.mark.parametrize("text", ["", "[1, 2", '{"tools": [1]}', '{"tools": {"saw": "perhaps"}}', '"words"', "\0\0"])
def test_a_kit_that_cannot_be_read_counts_as_empty(text):
    path = user_data_path("vernus") / "kit.json"
    path.parent.mkdir(parents=True)
    path.write_text(text)
    assert own_tools() == {}
    keep_tool("saw", "have")
    assert own_tools() == {"saw": "have"}


def test_what_steps_took_in_other_jobs_is_the_estimate_here_and_its_spread(job):
    assert hours_of(job, "align-X") == 0.75
    keep_times("first", (("align", 2.0, 0.75), ("align", 3.0, 0.75), ("drill", 1.0, 0.75)))
    keep_times("second", (("align", 4.0, 0.75),))
    assert hours_of(job, "align-X") == 3.0
    job.apply("took", [Step(id="t", key="align-Y", minutes=60)])
    assert took_here(job) == (("align", 1.0, 0.75),)
    assert hours_of(job, "align-X") == 2.5
    assert len(ratios_of(job)) == 5
    keep_times(job.info.id, took_here(job))
    assert hours_of(job, "align-X") == 2.5, "its own times count once"
    keep_times("first", ())
    assert took_elsewhere("none") == (("align", 4.0, 0.75), ("align", 1.0, 0.75))


def test_times_that_are_none_are_left_out():
    path = user_data_path("vernus") / "times.json"
    path.parent.mkdir(parents=True)
    path.write_text('{"jobs": {"a": [["align", -1, 1], ["align", 1], 7, ["align", 2, 1], ["x", true, 1]], "b": 3}}')
    assert took_elsewhere("") == (("align", 2.0, 1.0),)


def test_the_calendar_holds_every_evening_and_what_comes_again(job, tmp_path):
    lines = card_lines(job)
    plan = plan_card(job, lines, NOW.astimezone().date())
    count = write_calendar(job, lines, tmp_path / "job.ics")
    found = Calendar.from_ical((tmp_path / "job.ics").read_bytes())
    events = list(found.walk("VEVENT"))
    comes = [e for e in events if "parcel" in str(e["summary"])]
    assert [e.decoded("dtstart") for e in comes] == [c.day for c in plan.comes]
    assert len(events) == count == len(plan.evenings) + 1
    events = [e for e in events if e not in comes]
    days = {e.decoded("dtstart") for e in events}
    assert days == set(plan.evenings)
    assert {d.weekday() for d in days} == {1, 5}
    assert max(days) <= plan.finish
    total = sum(h for steps in plan.evenings.values() for _, h in steps)
    assert total == pytest.approx(sum(plan.hours[k] for k in plan.days))
    assert plan.left.least < total < plan.left.most
    assert all(e.decoded("dtend") - e.decoded("dtstart") == timedelta(days=1) for e in events)
    assert len({str(e["uid"]) for e in events}) == len(events)


def test_a_calendar_without_a_day_is_refused_with_what_is_wanted(job, tmp_path):
    job.apply("none", drop=["e"])
    with pytest.raises(BadInputError, match="say under Evenings"):
        write_calendar(job, card_lines(job), tmp_path / "job.ics")
    assert not (tmp_path / "job.ics").exists()


def test_what_falls_due_comes_again_in_the_calendar(job, tmp_path):
    lines = card_lines(job)
    job.apply("done", [Step(id=f"s{n}", key=c.step.key) for n, c in enumerate(lines)])
    job.apply("on", drop=[s.id for s in job.all(Step) if s.key.startswith("rub")])
    write_calendar(job, card_lines(job), tmp_path / "job.ics")
    events = list(Calendar.from_ical((tmp_path / "job.ics").read_bytes()).walk("VEVENT"))
    rub = [e for e in events if "rub marks" in str(e["summary"])]
    assert {e.decoded("dtstart") for e in rub} == {date(2027, 2, 3)}

"""What happens later opens what it touches; own steps stand where they were put; the calendar lives through changes."""

import os
import subprocess
import sys
from datetime import UTC, date, datetime, timedelta

import pytest
from icalendar import Calendar

from tests.job.conftest import Bench
from vernus.desktop.demo import demo_source
from vernus.job.catalog.copies import Along, copied
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import EveningPlan, Face, JobInfo, LogEntry, OwnStep, Photo, PhotoPoint, SentCalendar, Step
from vernus.job.formats.exchange import read_export
from vernus.job.happened import TOUCHES
from vernus.job.keep.due import tasks_of
from vernus.job.keep.evenings.calendar import write_calendar
from vernus.job.keep.evenings.plan import plan_card
from vernus.job.keep.evenings.tonight import tonight_of
from vernus.job.keep.found import find_words
from vernus.job.keep.photo import clicked, holes_from, measured_in
from vernus.job.keep.steps_own import moved, own_key
from vernus.job.review.review import card_lines, review_axis

NOW = datetime(2027, 1, 4, 17, tzinfo=UTC)
SHEETS = {
    "align": "align",
    "reader": "reader",
    "calibrate": "calibrate",
    "positioning": "positioning",
    "screws": "mounts",
}


@pytest.fixture
def clock():
    return [NOW]


@pytest.fixture
def job(clock):
    made = Job(new_job_entities("Bench mill", "bench-mill"), clock=lambda: clock[0])
    made.apply("evenings", [EveningPlan(id="e", tue=2, thu=2, sat=4, begins="19:30", set_up=10, pack_up=10)])
    return made


def keys(job):
    return [c.step.key for c in card_lines(job)]


def planned(job, clock):
    return plan_card(job, card_lines(job), clock[0].date())


@pytest.mark.parametrize("event", TOUCHES)
def test_each_event_opens_exactly_what_it_touches(event):
    made = Job(read_export(demo_source("mill")))
    axis = made.axes()[0]
    made.apply("event", [LogEntry(id="l", axis_id=axis.id, text="it slipped", event=event)])
    opened = {at.sheet for at in review_axis(made, axis).findings if at.finding.code == "happened"}
    there = {SHEETS[t] for t in TOUCHES[event]}
    assert opened == there
    assert not [s for s in there if review_axis(made, axis).states[s] == "done"]
    assert ("screws-X" in keys(made)) == ("screws" in TOUCHES[event])
    told = [t for t in tasks_of(made, card_lines(made), made.now()) if t.key == "opened"]
    assert [t.axis for t in told] == [axis.name]
    other = made.axes()[1]
    assert not [at for at in review_axis(made, other).findings if at.finding.code == "happened"]


def test_a_crash_before_anything_was_fitted_touches_no_screws(clock):
    bench = Bench("knee-mill-turret", units="in")
    made = bench.job
    made._clock = lambda: clock[0]
    bench.travel("X", "27.5", "27.5")
    made.apply("event", [LogEntry(id="l", axis_id=made.axes()[0].id, event="crash")])
    clock[0] += timedelta(days=1)
    assert "screws-X" not in keys(made)
    made.apply("held", [Step(id="h", key="hold-X")])
    assert "screws-X" not in keys(made), "nothing hung there when it happened"
    clock[0] += timedelta(days=1)
    made.apply("again", [LogEntry(id="l2", axis_id=made.axes()[0].id, event="crash")])
    assert "screws-X" in keys(made)


def test_screws_gone_over_let_the_sweep_come_and_close_the_finding():
    made = Job(read_export(demo_source("mill")))
    made.apply("event", [LogEntry(id="l", axis_id=made.axes()[0].id, event="knock")])
    align = next(c for c in card_lines(made) if c.step.key == "align-X")
    assert "screws-X" in align.step.needs
    made.apply("tick", [Step(id="t", key="screws-X")])
    assert next(c for c in card_lines(made) if c.step.key == "screws-X").done
    found = {at.sheet for at in review_axis(made, made.axes()[0]).findings if at.finding.code == "happened"}
    assert "mounts" not in found
    made.apply("again", [LogEntry(id="l2", axis_id=made.axes()[0].id, event="crash")])
    assert not next(c for c in card_lines(made) if c.step.key == "screws-X").done


def test_own_steps_after_another_at_the_end_and_moved(job):
    job.apply("own", [OwnStep(id="a", words="first", after="order"), OwnStep(id="b", words="second", after="order")])
    job.apply("own", [OwnStep(id="c", words="last")])
    found = keys(job)
    assert found.index("own-a") + 1 == found.index("own-b") == found.index("order") + 2
    last = [k for k in found if not k.startswith(("rub-", "by-hand-"))][-1]
    assert last == "own-c", "at the end is at the end"
    down = moved(job, job.get("a"), found, 1)
    job.apply("down", [down])
    assert keys(job).index("own-b") < keys(job).index("own-a")
    up = moved(job, job.get("a"), keys(job), -1)
    job.apply("up", [up])
    assert keys(job)[keys(job).index("own-a") - 1] == up.after


def test_an_own_step_need_not_wait_for_the_parcel_and_a_pinned_one_keeps_its_day(job, clock):
    job.apply("own", [OwnStep(id="a", words="borrow the puller", after="order", waits="no", hours=0.5)])
    job.apply("own", [OwnStep(id="b", words="paint", after="order", waits="yes", hours=0.5)])
    plan = planned(job, clock)
    ordered = plan.days["order"][-1]
    assert plan.days["own-a"][0] < ordered + timedelta(days=9) <= plan.days["own-b"][0]
    friday = date(2027, 1, 8)
    job.apply("pin", [job.get("a").with_(after="isolate", on_day=str(friday))])
    assert planned(job, clock).days["own-a"] == (friday,), "also where there are no hours"
    job.apply("pin", [job.get("a").with_(after="order", on_day="2027-01-05")])
    told = planned(job, clock)
    assert [f.code for f in told.findings] == ["pinned-early"]


def test_a_step_in_one_go_is_not_left_half_done(job, clock):
    job.apply("short", [job.get("e").with_(tue=0.75, thu=0.75, sat=0.75, set_up=0, pack_up=0)])
    plan = planned(job, clock)
    assert all(len(days) == 1 for key, days in plan.days.items() if key.startswith("align-"))
    job.apply("shorter", [job.get("e").with_(tue=0.5, thu=0.5, sat=0.5)])
    assert [f.code for f in planned(job, clock).findings] == ["split"]


def test_a_tick_out_of_order_is_told_and_takes_nothing_away(job, clock):
    job.apply("early", [Step(id="s", key="drill-X")])
    line = next(c for c in card_lines(job) if c.step.key == "drill-X")
    assert "which it needs" in line.noted("mm")
    plan = planned(job, clock)
    assert plan.days["align-X"][0] >= plan.days["receive"][-1] >= plan.days["order"][-1] + timedelta(days=9)


def test_a_recurring_task_falls_due_again_and_fills_no_evening(job, clock):
    job.apply("own", [OwnStep(id="g", words="oil the gibs", every_days=14)])
    task = next(t for t in tasks_of(job, card_lines(job), clock[0]) if t.key == "own-g")
    assert task.day == (added := clock[0].date())
    clock[0] += timedelta(days=3)
    (task,) = (t for t in tasks_of(job, card_lines(job), clock[0]) if t.key == "own-g")
    assert task.day == added, "left undone it is overdue, not new every day"
    assert "own-g" not in planned(job, clock).days
    job.apply("tick", [Step(id="s", key="own-g")])
    task = next(t for t in tasks_of(job, card_lines(job), clock[0]) if t.key == "own-g")
    assert task.day == clock[0].date() + timedelta(days=14)
    clock[0] += timedelta(days=15)
    assert not next(c for c in card_lines(job) if c.step.key == "own-g").done


def events(path):
    return {str(e["uid"]): e for e in Calendar.from_ical(path.read_bytes()).walk("VEVENT")}


def test_the_calendar_changes_and_cancels_its_own_entries(job, tmp_path):
    path = tmp_path / "job.ics"
    write_calendar(job, card_lines(job), path)
    first = events(path)
    write_calendar(job, card_lines(job), path)
    assert {u: int(e["sequence"]) for u, e in events(path).items()} == dict.fromkeys(first, 0), "nothing changed"
    job.apply("away", [job.get("e").with_(away="2027-01-05 to 2027-01-20")])
    write_calendar(job, card_lines(job), path)
    second = events(path)
    gone = {u for u, e in second.items() if str(e["status"]) == "CANCELLED"}
    assert {u for u in first if u not in second} == set()
    inside = {u for u, e in first.items() if "2027-01-05" <= str(e.decoded("dtstart"))[:10] <= "2027-01-20"}
    assert {u for u in inside if "-20" in u and "due" not in u and "comes" not in u} <= gone
    assert gone
    assert all(int(second[u]["sequence"]) == 1 for u in gone)
    job.apply("back", [job.get("e").with_(away="")])
    write_calendar(job, card_lines(job), path)
    third = events(path)
    assert all(str(third[u]["status"]) == "CONFIRMED" and int(third[u]["sequence"]) == 2 for u in gone & set(first))
    assert all("organizer" in e and "dtstamp" in e for e in third.values())
    assert b"METHOD:PUBLISH" in path.read_bytes()


def test_an_entry_does_not_hang_on_its_words_and_nothing_raw_gets_in(job, tmp_path):
    path = tmp_path / "job.ics"
    job.apply("own", [OwnStep(id="g", words="oil", every_days=14)])
    job.apply("name", [job.info.with_(title="Old\nmill; a, b\x07")])
    write_calendar(job, card_lines(job), path)
    before = set(events(path))
    job.apply("words", [job.get("g").with_(words="grease")])
    write_calendar(job, card_lines(job), path)
    assert set(events(path)) == before
    assert b"\x07" not in path.read_bytes()
    assert b"X-WR-CALNAME:Old mill\\; a\\, b" in path.read_bytes()


def test_an_evening_begins_when_it_was_said_to(job, tmp_path, clock):
    path = tmp_path / "job.ics"
    write_calendar(job, card_lines(job), path)
    evenings = [e for e in events(path).values() if isinstance(e.decoded("dtstart"), datetime)]
    assert {e.decoded("dtstart").astimezone().strftime("%H:%M") for e in evenings} == {"19:30"}
    assert all((e.decoded("dtend") - e.decoded("dtstart")).total_seconds() <= 4 * 3600 + 1 for e in evenings)


def test_tonight_is_the_next_evening_with_its_tools(job, clock):
    lines = card_lines(job)
    found = tonight_of(job, lines, planned(job, clock), clock[0])
    assert found.day == date(2027, 1, 5)
    assert "Tue 2027-01-05, 19:30" in found.words(clock[0].date())
    assert found.hours() <= 2
    assert found.tools
    job.apply("none", drop=["e"])
    assert tonight_of(job, lines, planned(job, clock), clock[0]).day is None


ZONES = """
import sys
from datetime import datetime, timezone, timedelta
from vernus.job.document import Job
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.entities import LogEntry
from vernus.job.moments import local_day, local_minute
at = datetime(2026, 11, 30, 3, 59, tzinfo=timezone.utc)
job = Job(new_job_entities("x", "bench-mill"), clock=lambda: at.astimezone())
job.apply("note", [LogEntry(id="n", text="x")])
print(job.get("n").created, local_day(job.get("n").created))
print(local_day(sys.argv[1]), local_minute(sys.argv[1]))
"""


@pytest.mark.parametrize(("zone", "day"), [("America/Los_Angeles", "2026-11-29"), ("Pacific/Kiritimati", "2026-11-30")])
def test_an_evening_is_ones_own_wherever_the_job_is_read(zone, day):
    """What was written at nine in the evening in Chicago stands on that day in Auckland too."""
    written = "2026-11-29T21:00:00.000000-06:00"
    told = subprocess.run(
        [sys.executable, "-c", ZONES, written], env={"TZ": zone, "PATH": "", "HOME": "/tmp"}, capture_output=True,
        text=True, check=True,
    ).stdout.split("\n")  # fmt: skip
    assert told[0].endswith(day)
    assert told[0][:10] == day
    assert told[1].startswith("2026-11-29 2026-11-29 21:00")
    assert "UTC-06:00" in told[1]


def test_a_copy_is_a_job_of_its_own(job):
    job.apply("log", [LogEntry(id="l", text="private"), Step(id="s", key="isolate"), SentCalendar(id="sent-calendar")])
    entities, _ = copied(job, "For Ada", Along(ticks=False, log=False, prices=False))
    info = next(e for e in entities if isinstance(e, JobInfo))
    assert info.id != job.info.id
    assert info.title == "For Ada"
    assert not [e for e in entities if isinstance(e, (LogEntry, Step, SentCalendar))]
    assert {e.id for e in job.entities()} - {e.id for e in entities} == {"l", "s", "sent-calendar", job.info.id}


def test_words_are_found_in_jobs_without_opening_them(tmp_path):
    for n, words in enumerate(("the quill drifts when warm", "nothing odd")):
        made = Job.create(tmp_path / f"{n}.vernus", new_job_entities(f"Mill {n}", "bench-mill"))
        made.apply("log", [LogEntry(id="l", text=words)])
        made.close()
    (tmp_path / "2.vernus").write_bytes(b"no job at all")
    os.mkfifo(tmp_path / "3.vernus")
    paths = sorted(tmp_path.glob("*.vernus"))
    (found,) = find_words(paths, "Quill WARM")
    assert (found.path.name, found.sheet) == ("0.vernus", "log")
    assert [f.path.name for f in find_words(paths, "mill 1")] == ["1.vernus"]
    assert find_words(paths, "") == []


def test_a_place_of_a_picture_is_what_it_was_said_to_be_and_once():
    photo = Photo(id="p", picture="", width=1000, height=800, known_length=None)
    corners = tuple(PhotoPoint(x=x, y=y) for x, y in ((0.1, 0.1), (0.5, 0.1), (0.5, 0.4), (0.1, 0.4)))
    datum = (PhotoPoint(x=0.1, y=0.6), PhotoPoint(x=0.9, y=0.6))
    from vernus.job.fields import LengthEntry

    photo = photo.with_(
        corners=corners, datum=datum, known_length=LengthEntry.read("85.6 mm"), known_width=LengthEntry.read("54 mm")
    )
    for what, x in (("threaded", 0.3), ("slot", 0.5), ("place", 0.6), ("plain", 0.7)):
        photo = clicked(photo, x, 0.7, 1.0, what)
    made = Job(new_job_entities("x", "bench-mill"))
    made.apply("photo", [photo])
    face = made.all(Face)[0]
    holes = holes_from(made, photo, measured_in(photo), face, "mm")
    assert [h.what for h in holes] == ["threaded", "slot", "plain"]
    made.apply("holes", holes)
    made.apply("depth", [made.get(holes[0].id).with_(thread="M6")])
    again = holes_from(made, photo, measured_in(photo), face, "mm")
    assert [h.id for h in again] == [h.id for h in holes]
    assert again[0].thread == "M6"
    assert own_key(OwnStep(id="x")) == "own-x"

"""The card in evenings: whose hours decide, what the days away and the delivery do, and what would end it sooner."""

import math
from datetime import UTC, date, datetime, timedelta

import pytest

from vernus.core.errors import BadInputError
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import EveningPlan, OwnStep, Step
from vernus.job.keep.card import next_line
from vernus.job.keep.evenings.clock import began, forgotten, stopped
from vernus.job.keep.evenings.hours import HOURS, hours_of, kind_of, took_here, waits_of
from vernus.job.keep.evenings.plan import evenings_of, plan_card
from vernus.job.review.review import card_lines

TODAY = date(2027, 1, 4)  # a Monday


@pytest.fixture
def clock():
    return [datetime(2027, 1, 4, 18, tzinfo=UTC)]


@pytest.fixture
def job(clock):
    made = Job(new_job_entities("x", "bench-mill"), clock=lambda: clock[0])
    made.apply("scope", [a.with_(readout="new" if a.name != "Z" else "none") for a in made.axes()])
    made.apply("evenings", [EveningPlan(id="e", tue=2, thu=2, sat=5)])
    return made


def planned(job, today=TODAY):
    return plan_card(job, card_lines(job), today)


def test_every_step_falls_on_an_evening_there_is_and_after_what_it_needs(job):
    plan = planned(job)
    steps = {c.step.key: c.step for c in card_lines(job)}
    assert set(plan.days) == {k for k in steps if plan.hours[k] and not k.startswith("rub")}
    for key, days in plan.days.items():
        assert all(d.weekday() in (1, 3, 5) for d in days)
        for need in steps[key].needs:
            if need in plan.days:
                assert days[0] >= plan.days[need][-1] + timedelta(days=waits_of(job, need))
    assert plan.finish == max(d[-1] for d in plan.days.values())
    assert plan.left.least < sum(plan.hours[k] for k in plan.days) < plan.left.most


def test_days_away_and_a_later_start_push_it_back(job):
    soon = planned(job).finish
    job.apply("away", [EveningPlan(id="e", tue=2, thu=2, sat=5, away="2027-01-05 to 2027-01-20, 2027-02-02")])
    assert planned(job).finish > soon
    job.apply("late", [EveningPlan(id="e", tue=2, thu=2, sat=5, starts="2027-03-01")])
    plan = planned(job)
    assert min(d[0] for d in plan.days.values()) >= date(2027, 3, 1)


@pytest.mark.parametrize("said", [{"away": "next week"}, {"away": "2027-02-30"}, {"starts": "soon"},
                                  {"away": "2027-02-07 to 2027-02-01"}])  # fmt: skip
def test_days_that_are_none_are_told_and_nothing_else_is_lost(job, said):
    job.apply("wrong", [EveningPlan(id="e", tue=2, **said)])
    plan = planned(job)
    assert (plan.finish, [f.code for f in plan.findings]) == (None, ["no-evenings"])
    assert plan.left.hours > 0
    with pytest.raises(BadInputError):
        evenings_of(job.all(EveningPlan)[-1], TODAY)


def test_typed_hours_go_before_your_own_which_go_before_the_trades(job):
    assert hours_of(job, "align-X") == HOURS["align"]
    job.apply("took", [Step(id="s", key="align-X", minutes=120)])
    assert hours_of(job, "align-Y") == 2.0, "as it took on the other axis"
    job.apply("typed", [Step(id="t", key="align-Y", done=False, hours=1.5)])
    assert hours_of(job, "align-Y") == 1.5
    assert kind_of("powerup-X") == "powerup"
    assert kind_of("by-hand-12") == "by-hand"


def test_a_delivery_begun_at_once_ends_it_sooner_where_others_go_before_it(job):
    tidy = OwnStep(id="o", words="tidy", hours=10, after="isolate")
    job.apply("slow", [EveningPlan(id="e", tue=1, sat=1, delivery_days=40), tidy])
    plan = planned(job)
    assert "do “Order what the list says” and what it needs first; it waits 40 days" in plan.sooner.text()
    then, now = (date.fromisoformat(plan.sooner.values[k][4:]) for k in ("then", "now"))
    assert then < now == plan.finish
    job.apply("fast", [EveningPlan(id="e", tue=1, sat=1, delivery_days=0)])
    assert planned(job).finish < now


def test_what_was_ordered_goes_on_waiting_after_its_tick(job, clock):
    keys = ["isolate", "survey-X", "survey-Y", "plan-X", "plan-Y", "order"]
    job.apply("ticked", [Step(id=f"s{k}", key=k) for k in keys])
    plan = planned(job)
    assert plan.days["receive"][0] >= TODAY + timedelta(days=9)
    assert planned(job, TODAY + timedelta(days=8)).days["receive"][0] <= plan.days["receive"][0] + timedelta(days=1)


def test_an_own_step_stands_where_it_was_put_and_a_circle_can_not_be_made(job):
    job.apply(
        "own", [OwnStep(id="a", words="paint", after="own-b", hours=1), OwnStep(id="b", words="prime", after="own-a")]
    )
    keys = [c.step.key for c in card_lines(job)]
    assert {"own-a", "own-b"} <= set(keys)
    job.apply("own", [OwnStep(id="c", words="photograph", after="survey-X")])
    keys = [c.step.key for c in card_lines(job)]
    assert keys.index("own-c") > keys.index("survey-X")


def test_the_clock_adds_what_it_ran(job, clock):
    (step,) = began(job, Step(id="s", key="align-X", done=False), clock[0])
    assert step.begun
    done = stopped(step, clock[0] + timedelta(minutes=42))
    assert (done.begun, done.minutes) == ("", 42)
    assert stopped(began(job, done, clock[0])[-1], clock[0] + timedelta(minutes=8)).minutes == 50
    assert stopped(done, clock[0]) is done


def test_a_forgotten_clock_adds_nothing_until_it_is_said_and_two_do_not_run(job, clock):
    (first,) = began(job, Step(id="s", key="align-X", done=False), clock[0])
    job.apply("clock", [first])
    ten_past = clock[0] + timedelta(minutes=10)
    both = began(job, Step(id="t", key="align-Y", done=False), ten_past)
    assert [(s.id, bool(s.begun), s.minutes) for s in both] == [("s", False, 10.0), ("t", True, None)]
    next_day = clock[0] + timedelta(hours=14)
    assert forgotten(first, next_day)
    assert stopped(first, next_day).minutes is None
    assert stopped(first, next_day, 95).minutes == 95
    job.apply("open", [first.with_(begun="", minutes=840)])
    assert not took_here(job), "a step that isn't ticked has no time of its own"


def behind(key, steps):
    """Every step that one rests on, straight or through others."""
    found, todo = set(), [key]
    while todo:
        for need in steps[todo.pop()].needs:
            if need in steps and need not in found:
                found.add(need)
                todo.append(need)
    return found


@pytest.mark.parametrize("n", range(0, 40, 3))
def test_a_tick_out_of_order_takes_nothing_away_from_what_stands_before_it(job, n):
    steps = {c.step.key: c.step for c in card_lines(job)}
    ticked = list(steps)[n % len(steps)]
    job.apply("tick", [Step(id="t", key=ticked)])
    lines = card_lines(job)
    plan = plan_card(job, lines, TODAY)
    for key, days in plan.days.items():
        for need in behind(key, steps) & set(plan.days):
            assert days[0] >= plan.days[need][-1], (ticked, need, key)
    following = next_line(lines)
    done = {c.step.key for c in lines if c.done}
    assert following is None or behind(following.step.key, steps) <= done


def test_steps_done_before_are_counted_once_with_what_they_took(job):
    # Every step takes twice its estimate: what is left of the same kinds is the medians, not twice those.
    keys = [c.step.key for c in card_lines(job) if c.step.key.endswith("-X")][:6]
    hours = {k: hours_of(job, k) for k in keys}
    job.apply("took", [Step(id=k, key=k, minutes=hours[k] * 120) for k in keys])
    lines = card_lines(job)
    plan = plan_card(job, lines, TODAY)
    own = {kind_of(k) for k in keys}
    open_ = [c.step.key for c in lines if not c.done and kind_of(c.step.key) not in ("rub", "by-hand")]
    same = sum(2 * HOURS[kind_of(k)] for k in open_ if kind_of(k) in own)
    rest = sum(HOURS.get(kind_of(k), 0.5) for k in open_ if kind_of(k) not in own)
    squared = 5 * 0.35**2 / 10  # six ratios that are alike, pooled with five of 0.35
    factor = math.exp(6 / (6 + squared / 0.09) * math.log(2) + squared / 2)
    assert plan.left.hours == pytest.approx(same + factor * rest)

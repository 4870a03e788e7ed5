"""Steps in evenings: needs, waits and capacity hold on random jobs by a check of their own; nothing idles."""

import math
import random

import pytest

from tests.core.keep.own_planner import QUARTER, plan_by_quarters
from vernus.core.errors import BadInputError
from vernus.core.keep.evenings import TimedStep, hours_left, plan_evenings


def random_job(seed):
    rng = random.Random(seed)
    steps = []
    for n in range(rng.randint(1, 15)):
        needs = tuple(f"s{k}" for k in rng.sample(range(n), min(n, rng.randint(0, 3))))
        steps.append(TimedStep(f"s{n}", rng.choice([0, 0.25, 1, 2.5, 7]), needs, rng.choice([0, 0, 0, 1, 9])))
    rng.shuffle(steps)
    week = [rng.choice([0, 0, 1, 2.5]) for _ in range(7)]
    week[rng.randrange(7)] = 2.0
    away = {rng.randrange(60) for _ in range(rng.randint(0, 15))}
    return steps, (lambda day: 0.0 if day in away else week[day % 7])


def waits(steps):
    return {s.key: s.wait_days for s in steps}


@pytest.mark.parametrize("seed", range(60))
def test_needs_waits_hours_and_capacity_hold(seed):
    steps, hours_on = random_job(seed)
    plan = plan_evenings(steps, 0, hours_on)
    told, used = {s.key: s for s in plan.steps}, {}
    assert set(told) == {s.key for s in steps}
    for step in steps:
        mine = told[step.key]
        assert sum(h for _, h in mine.slots) == pytest.approx(step.hours)
        assert list(mine.slots) == sorted(mine.slots)
        for day, hours in mine.slots:
            used[day] = used.get(day, 0) + hours
        begun = mine.slots[0][0] if mine.slots else mine.day
        for need in step.needs:
            assert begun >= told[need].day + waits(steps)[need]
    for day, hours in used.items():
        assert hours <= hours_on(day) + 1e-9
    assert plan.finish == max(s.day for s in plan.steps)


@pytest.mark.parametrize("seed", range(30))
def test_no_evening_idles_while_something_is_ready(seed):
    steps, hours_on = random_job(seed)
    plan = plan_evenings(steps, 0, hours_on)
    told = {s.key: s for s in plan.steps}
    for day in range(plan.finish):
        spent = sum(h for s in plan.steps for d, h in s.slots if d == day)
        if spent >= hours_on(day) - 1e-9:
            continue
        for step in steps:
            free = all(told[n].day + waits(steps)[n] <= day for n in step.needs)
            assert not free or told[step.key].day <= day, f"{step.key} was ready on day {day}"


def test_a_step_once_begun_is_finished_before_the_next_and_list_order_decides():
    steps = [TimedStep("long", 5), TimedStep("late", 1, ("order",)), TimedStep("order", 1, wait_days=1)]
    plan = plan_evenings(steps, 0, lambda _day: 2.0)
    assert [s.key for s in plan.steps] == ["long", "order", "late"]
    assert plan.steps[0].slots == ((0, 2.0), (1, 2.0), (2, 1.0))
    assert plan.steps[2].day == 3, "the order waits a day"


@pytest.mark.parametrize(
    ("steps", "words"),
    [
        ([TimedStep("a", 1, ("b",)), TimedStep("b", 1, ("a",))], "circle"),
        ([TimedStep("a", 1, ("b",))], "not a step"),
        ([TimedStep("a", 1), TimedStep("a", 1)], "twice"),
        ([TimedStep("a", -1)], "negative"),
        ([TimedStep("a", float("nan"))], "negative"),
        ([TimedStep("a", 1, wait_days=-1)], "wait"),
    ],
)
def test_what_can_be_no_plan_is_refused(steps, words):
    with pytest.raises(BadInputError, match=words):
        plan_evenings(steps, 0, lambda _day: 1.0)


def test_no_evenings_at_all_end_in_a_sentence():
    with pytest.raises(BadInputError, match="hundred years"):
        plan_evenings([TimedStep("a", 1)], 0, lambda _day: 0.0)


@pytest.mark.parametrize("timed", [0, 3, 6, 20])
def test_the_range_of_what_is_left_holds_nineteen_times_of_twenty(timed):
    """People and steps drawn by the spreads that are stated: the range holds them, and is no wider than it need be."""
    chance, inside, ways, draws = random.Random(timed), 0, [], 400
    for _ in range(draws):
        person = chance.gauss(0, 0.3)
        ratios = [math.exp(person + chance.gauss(0, 0.35)) for _ in range(timed)]
        hours = [chance.uniform(0.5, 4) for _ in range(12)]
        took = sum(h * math.exp(person + chance.gauss(0, 0.35)) for h in hours)
        left = hours_left(hours, ratios)
        inside += left.least <= took <= left.most
        ways.append(left.most / left.hours)
    assert inside / draws >= 0.9
    assert max(ways) < (2.2 if timed == 0 else 1.9)


def test_own_times_are_told_as_they_are():
    assert hours_left([], [2.0] * 6, own=[3.0, 4.0]).hours == 7.0
    assert hours_left([], []).hours == 0.0


@pytest.mark.parametrize("seed", range(150))
def test_the_plan_is_that_of_another_planner(seed):
    """A planner that counts quarter hours, with steps in one go, pinned ones and ones that don't wait for a parcel."""
    rng = random.Random(1000 + seed)
    steps = []
    for n in range(rng.randint(2, 12)):
        needs = rng.sample(range(n), min(n, rng.randint(0, 3)))
        split = rng.randint(0, len(needs))
        steps.append({
            "key": f"s{n}", "quarters": rng.choice([0, 1, 2, 3, 6, 14]), "wait": rng.choice([0, 0, 1, 9]),
            "needs": [f"s{k}" for k in needs[split:]], "at_once": [f"s{k}" for k in needs[:split]],
            "whole": rng.random() < 0.3, "pin": rng.randint(0, 20) if rng.random() < 0.15 else None,
        })  # fmt: skip
    rng.shuffle(steps)
    week = [rng.choice([0, 0, 2, 4, 9]) for _ in range(7)]
    week[rng.randrange(7)] = 8
    quarters, finish = plan_by_quarters(steps, 0, lambda day: week[day % 7])
    timed = [
        TimedStep(
            s["key"], s["quarters"] / QUARTER, tuple(s["needs"]), s["wait"], tuple(s["at_once"]), s["whole"], s["pin"]
        )
        for s in steps
    ]
    plan = plan_evenings(timed, 0, lambda day: week[day % 7] / QUARTER)
    assert {s.key: [(d, round(h * QUARTER)) for d, h in s.slots] for s in plan.steps} == quarters
    assert plan.finish == finish

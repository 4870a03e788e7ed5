"""The job card through the window: own steps, evenings, the clock, and a tick that doesn't come off by surprise."""

import pytest

from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import EveningPlan, OwnStep, Step


@pytest.fixture
def card(window, hands, bench_mill):
    hands.press(KEYS["card"])
    return window.sheets["card"]


def named(fields, name):
    return next(f for f in fields if f.name == name)


def steps(card):
    return [" ".join(row) for row in card.table.rows.rows]


def test_evenings_give_every_open_step_its_day_and_the_whole_its_end(card, hands, bench_mill):
    assert "say under Evenings when you work" in card.headline.under.text()
    assert " h left, " in card.headline.under.text()
    hands.click(card.tabs.buttons["evenings"])
    for day, hours in (("tue", "2"), ("sat", "4")):
        named(card.evenings.rows, day).setFocus()
        hands.press("Ctrl+A")
        hands.enter(hours)
    assert (bench_mill.job.all(EveningPlan)[0].tue, bench_mill.job.all(EveningPlan)[0].sat) == (2, 4)
    finish = card.headline.under.text().partition("done by ")[2]
    assert finish[:3] in ("Tue", "Sat"), "a day with its weekday"
    assert card.table.rows.rows[0][-1][:3] in ("Tue", "Sat")
    away = named(card.evenings.rows, "away")
    away.setFocus()
    hands.enter("whenever")
    assert away.editor.property("wrong")
    assert "whenever" not in bench_mill.job.all(EveningPlan)[0].away
    assert finish == card.headline.under.text().partition("done by ")[2], "one bad day is one complaint, at its field"


def test_an_own_step_is_on_the_card_where_it_was_put(card, hands, bench_mill):
    hands.click(card.tabs.buttons["own steps"])
    hands.press("Ctrl+Ins")
    hands.press("Ctrl+A")
    hands.enter("paint the bracket")
    (own,) = bench_mill.job.all(OwnStep)
    assert own.words == "paint the bracket"
    assert any("paint the bracket" in s for s in steps(card))
    hands.press("Ctrl+Del")
    assert bench_mill.job.all(OwnStep) == []


def test_the_clock_runs_on_the_step_chosen_and_its_minutes_stay_with_the_tick(card, hands, bench_mill):
    card.table.selectRow(0)
    hands.click(card.clock)
    (step,) = bench_mill.job.all(Step)
    assert step.begun
    assert not step.done
    assert card.clock.text().startswith("Stop the clock")
    card.table.setFocus()
    hands.press("Return")
    (step,) = bench_mill.job.all(Step)
    assert (step.done, step.begun) == (True, "")
    assert step.minutes is not None
    named(card.times, "minutes").setFocus()
    hands.press("Ctrl+A")
    hands.enter("25")
    (step,) = bench_mill.job.all(Step)
    assert (step.minutes, step.done) == (25, True), "noting the time takes no tick away"


def test_typed_hours_change_what_is_left(card, hands, bench_mill):
    before = card.headline.under.text()
    card.table.selectRow(1)
    named(card.times, "hours").setFocus()
    hands.enter("9")
    assert card.headline.under.text() != before
    assert not bench_mill.job.all(Step)[0].done

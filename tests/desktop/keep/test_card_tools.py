"""Ticks that stay, tools across jobs and the calendar file through the window."""

import pytest
from icalendar import Calendar
from PySide6.QtWidgets import QFileDialog

from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import EveningPlan, MountPart, Step
from vernus.job.fields import LengthEntry
from vernus.job.keep.own import own_tools, took_elsewhere


@pytest.fixture
def card(window, hands, bench_mill):
    hands.press(KEYS["card"])
    return window.sheets["card"]


def select(card, words):
    at = next(n for n, row in enumerate(card.table.rows.rows) if words in " ".join(row))
    card.table.setFocus()
    card.table.selectRow(at)
    return at


def test_ticking_twice_takes_no_tick_away_and_its_own_key_does(card, hands, bench_mill):
    told = []
    bench_mill.notice.connect(told.append)
    select(card, "Isolate")
    hands.press("Return")
    select(card, "Isolate")
    hands.press("Return")
    assert bench_mill.job.all(Step)[0].done
    assert "takes the tick away" in told[-1]
    hands.press("Ctrl+Backspace")
    assert not bench_mill.job.all(Step)[0].done
    assert not card.untick.isVisible()


def test_a_changed_part_opens_its_step_again_and_the_card_says_why(card, hands, bench_mill):
    axis = bench_mill.job.axes()[0]
    part = MountPart(id="p", axis_id=axis.id, name="left standoff")
    bench_mill.apply("part", [part])
    select(card, "Make left standoff")
    hands.press("Return")
    at = select(card, "Make left standoff")
    assert "✓" in card.table.rows.rows[at]
    bench_mill.apply("longer", [part.with_(length=LengthEntry(mm=75, text="75"))])
    at = select(card, "Make left standoff")
    assert "Open again: its length was 60 mm, it is 75 mm." in " ".join(card.table.rows.rows[at])
    assert card.reopened.isVisible()


def test_a_step_leads_to_its_sheet_and_its_axis(card, hands, window, bench_mill):
    select(card, "Choose scale, face and display place")
    row = card.table.rows.rows[card.table.currentIndex().row()]
    hands.press("F6")
    assert window.sheets["scale"].isVisible()
    assert bench_mill.axis.name == row[2]


def test_a_tool_is_said_to_be_owned_and_stays_so_in_the_next_job(card, hands, window, bench_mill, tmp_path):
    hands.click(card.tabs.buttons["tools"])
    card.kit.table.setFocus()
    card.kit.table.selectRow(0)
    name = card.kit.table.rows.rows[0][0]
    hands.press("Return")
    assert card.kit.table.rows.rows[0][1] == "have it"
    hands.press("Return")
    assert card.kit.table.rows.rows[0][1] == "borrow it"
    card.kit.own.setFocus()
    hands.enter("angle drill")
    assert own_tools() == {name.lower(): "borrow", "angle drill": "have"}
    bench_mill.new_job(tmp_path / "second.vernus", "Second", "lathe-small", "in", "Lathe")
    hands.press(KEYS["card"])
    rows = window.sheets["card"].kit.table.rows.rows
    assert [name, "borrow it"] in [list(r) for r in rows]


def test_the_calendar_file_is_written_and_refused_without_an_evening(card, hands, bench_mill, tmp_path, monkeypatch):
    path = tmp_path / "job.ics"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(path), ""))
    told = []
    bench_mill.notice.connect(told.append)
    hands.click(card.tabs.buttons["evenings"])
    hands.click(card.evenings.calendar)
    assert "say under Evenings" in told[-1]
    bench_mill.apply("evenings", [EveningPlan(id="e", fri=3)])
    hands.click(card.evenings.calendar)
    assert "entries to" in told[-1]
    assert len(Calendar.from_ical(path.read_bytes()).walk("VEVENT")) > 1


def test_the_times_of_a_job_are_there_for_the_next_one(card, hands, window, bench_mill):
    bench_mill.apply("took", [Step(id="t", key="survey-X", minutes=90)])
    bench_mill.close_job()
    assert took_elsewhere("") == (("survey", 1.5, 0.25),)

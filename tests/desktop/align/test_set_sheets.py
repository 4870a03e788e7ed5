"""Receive and Reader by key."""

from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import Delivery, GapCheck, ReaderSetting, ScalePlan


def test_feelers_are_logged_with_enter_from_end_to_end(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["scale"])
    hands.press("Return")
    hands.press(KEYS["reader"])
    sheet = window.sheets["reader"]
    assert "Axis at 0 mm" in sheet.ask.text()
    hands.presses = 0
    for go, no_go in (("0.45", "0.55"), ("0.5", "0.55"), ("0.45", "0.5")):
        hands.enter(go, no_go)
    assert hands.presses == 4 + 4 + 3 + 4 + 4 + 3 + 6
    assert [g.station.mm for g in bench_mill.job.all(GapCheck)] == [0, 131, 262]
    assert sheet.headline.word.text() == "PASS"
    assert sheet.headline.figure.text() == "0.450 to 0.550 mm"
    assert "checklist" in sheet.instruction.text()


def test_a_feeler_that_cannot_be_is_refused_and_an_open_one_is_taken(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["reader"])
    sheet = window.sheets["reader"]
    hands.enter("0.5", "0.4")
    assert "thicker" in sheet.no_go.complaint.text()
    assert bench_mill.job.all(GapCheck) == []
    hands.press("Ctrl+A")
    hands.press("Delete")
    hands.press("Return")
    assert bench_mill.job.all(GapCheck)[0].no_go is None
    assert sheet.headline.word.text() == "CAN’T TELL"
    hands.press("Ctrl+Z")
    assert bench_mill.job.all(GapCheck) == []


def test_the_checklist_is_answered_in_the_list(window, hands, bench_mill):
    hands.press(KEYS["reader"])
    sheet = window.sheets["reader"]
    sheet.list.hold("clips")
    hands.press("Y")
    assert bench_mill.job.all(ReaderSetting)[0].clips == "yes"
    assert "shipping clips" not in sheet.checks.text()
    assert "wipers back on" in sheet.checks.text()


def test_what_arrived_is_typed_and_held_against_the_plan(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["scale"])
    hands.press("Return")
    assert bench_mill.job.all(ScalePlan)
    hands.press(KEYS["receive"])
    sheet = window.sheets["receive"]
    hands.enter("300")
    hands.press("Tab")
    sheet.fields[1].setFocus()
    hands.enter("430")
    assert bench_mill.job.all(Delivery)[0].overall.mm == 430
    assert list(sheet.table.rows.rows[1]) == ["Body length\n424 mm, 430 mm", "6 mm"]
    assert any("planned 424 mm, delivered 430 mm" in t for t in window.findings.texts())
    hands.press("Ctrl+U")
    assert list(sheet.table.rows.rows[1])[1] == "0.236 in"

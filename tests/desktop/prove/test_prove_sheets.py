"""Cables, First power-up, Calibrate, Positioning, the log of checks and the wall sheet, by key."""

import pytest

from tests.printed import words_of
from vernus.bench.readout import AxisFaults, SimulatedAxis
from vernus.desktop.parts.budget_view import BudgetDialog
from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import (
    AxisSetting,
    CableAnchor,
    CalibrationRun,
    Compensation,
    FeelRecord,
    LogEntry,
    PositioningRun,
    PowerUpCheck,
    ProfileSetting,
    ReferenceKit,
    Wire,
)
from vernus.job.fields import LengthEntry
from vernus.job.prove.runs import next_approach


def choose(field, value):
    """Choose a value of a bound choice as the arrow keys and Enter would."""
    field.editor.setCurrentIndex(field.editor.findData(value))
    field.editor.activated.emit(field.editor.currentIndex())


def named(fields, name):
    return next(f for f in fields if f.name == name)


def test_anchors_are_proposed_and_the_need_is_shown_with_where_to_hold_the_machine(window, hands, demo):
    demo.show_axis("axis-y")
    hands.press(KEYS["cables"])
    sheet = window.sheets["cables"]
    assert sheet.headline.figure.text() == "not known yet"
    hands.click(sheet.tabs.buttons["anchors"])
    hands.click(sheet.propose)
    held = [a.member for a in demo.job.of_axis(CableAnchor, "axis-y")]
    assert (held[0], held[-1], set(held)) == ("saddle", "column", {"saddle", "knee", "column"})
    assert sheet.headline.figure.text().endswith("mm needed")
    assert any("W at its" in row[0] for row in sheet.table.rows.rows)
    hands.click(sheet.tabs.buttons["cable"])
    hands.press(KEYS["cables"])
    hands.enter("800")
    assert sheet.headline.word.text() == "Stop"
    assert "Extend it" in sheet.instruction.text()
    assert "Too short by" in sheet.then.text()
    hands.press("Ctrl+U")
    assert sheet.headline.figure.text().endswith("in needed")


def test_wires_are_listed_and_a_wrong_pin_stops_the_plug(window, hands, demo):
    demo.show_axis("axis-y")
    hands.press(KEYS["cables"])
    sheet = window.sheets["cables"]
    hands.click(sheet.tabs.buttons["wires"])
    hands.click(sheet.usual)
    wires = demo.job.of_axis(Wire, "axis-y")
    assert [w.signal for w in wires][:2] == ["0 V", "+5 V"]
    pins = [named(sheet.wires.fields, n) for n in ("pin", "wanted_pin")]
    pins[0].setFocus()
    hands.enter("1")
    pins[1].setFocus()
    hands.enter("5")
    assert any("0 V 1 → 5" in text for text in window.findings.texts())


def test_power_up_asks_one_thing_after_the_other(window, hands, bench_mill):
    hands.press(KEYS["powerup"])
    sheet = window.sheets["powerup"]
    assert "does its figure move" in sheet.instruction.text()
    for name in ("counts", "right_axis", "direction"):
        choose(named(sheet.fields, name), "yes")
    for name, text in (("before", "0"), ("after", "0"), ("low", "0"), ("high", "0.02"), ("drift", "0")):
        named(sheet.fields, name).setFocus()
        hands.enter(text)
    assert not named(sheet.fields, "lost_at").isVisibleTo(sheet)
    choose(named(sheet.fields, "stroke"), "no")
    assert named(sheet.fields, "lost_at").isVisibleTo(sheet)
    choose(named(sheet.fields, "stroke"), "yes")
    assert sheet.headline.word.text() == "FAIL"
    assert sheet.rows["jitter"][1].text() == "Jitter at a standstill: 0.020 mm"
    named(sheet.fields, "high").setFocus()
    hands.press("Ctrl+A")
    hands.enter("0.005")
    assert (sheet.headline.figure.text(), sheet.headline.word.text()) == ("close it up", "PASS")
    assert len(bench_mill.job.all(PowerUpCheck)) == 1


def test_a_reference_of_the_kit_and_the_display_are_described_and_used(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["calibrate"])
    sheet = window.sheets["calibrate"]
    hands.click(sheet.sides.buttons["kit"])
    hands.press("Ctrl+Ins")
    hands.press("Ctrl+A")
    hands.enter("blocks of the drawer")
    assert bench_mill.job.all(ReferenceKit)[0].name == "blocks of the drawer"
    hands.click(sheet.sides.buttons["display"])
    sheet.begin.setCurrentIndex(sheet.begin.findText("a table where you like"))
    sheet.begin.activated.emit(sheet.begin.currentIndex())
    assert bench_mill.job.all(ProfileSetting)[0].points == 10
    choose(named(sheet.display, "factor"), "mm-per-m")
    assert bench_mill.job.all(ProfileSetting)[0].factor == "mm-per-m"
    hands.click(sheet.sides.buttons["check"])
    choose(named(sheet.fields, "method"), "factor")
    choose(named(sheet.fields, "reference_id"), bench_mill.job.all(ReferenceKit)[0].id)
    assert not named(sheet.fields, "u_reference").isVisibleTo(sheet)
    sheet.true.setFocus()
    for true, shown in (("0", "0"), ("80", "80.008"), ("160", "160.016"), ("250", "250.025")):
        hands.enter(true, shown)
    assert sheet.headline.figure.text() == "−0.100 mm per metre"
    assert "blocks of the drawer" in sheet.list.headings[1].holds.rows[0].figure()
    hands.press("F7")
    opened = window.findChild(BudgetDialog)
    assert opened.table.rows.rows[-1][0].startswith("all together, k =")
    assert opened.words.text().startswith("Over the travel ± ")
    opened.accept()
    window.activateWindow()
    hands.click(sheet.views.buttons["warm?"])
    assert "5 °C between them would make" in sheet.warm.text()
    hands.click(sheet.views.buttons["key in"])
    assert sheet.order.rows.rows[0][2] == "−0.100 mm per metre"
    hands.press("Ctrl+Return")
    assert bench_mill.job.all(Compensation)[0].value == pytest.approx(0.9999)


def test_a_table_is_worked_out_compared_off_the_thread_and_shown_in_keying_order(window, hands, bench_mill, qtbot):
    hands.enter("262", "262")
    hands.press(KEYS["calibrate"])
    sheet = window.sheets["calibrate"]
    hands.click(sheet.sides.buttons["display"])
    points = named(sheet.display, "points")
    points.setFocus()
    hands.press("Ctrl+A")
    hands.enter("4")
    hands.click(sheet.sides.buttons["check"])
    choose(named(sheet.fields, "method"), "table")
    sheet.true.setFocus()
    for true in range(0, 241, 40):
        hands.enter(str(true), f"{true + 0.06 * true * (240 - true) / 14400:.3f}")
    assert sheet.headline.figure.text().startswith("4 points")
    hands.click(sheet.views.buttons["key in"])
    assert [r[0] for r in sheet.order.rows.rows] == ["1", "2", "3", "4"]
    first, correction = sheet.order.rows.rows[0][1], sheet.order.rows.rows[1][2]
    (profile,) = bench_mill.job.all(ProfileSetting)
    bench_mill.apply("other sign", [profile.with_(origin=LengthEntry(mm=-20.0), wants="error")])
    assert sheet.order.rows.columns[2].header == "error"
    assert float(sheet.order.rows.rows[0][1]) == float(first) + 20
    assert {correction[0], sheet.order.rows.rows[1][2][0]} == {"+", "−"}
    bench_mill.undo()
    hands.click(sheet.views.buttons["table?"])
    ways = sheet.ways.table.rows
    assert "leaving out one station" in ways.rows[0][0]
    qtbot.waitUntil(lambda: ways.rows[0][0] == "no correction", timeout=20_000)
    (chosen,) = (r[0] for r in ways.rows if r[1] == "best")
    assert sheet.ways.words.text().startswith(f"Key in a {chosen}: ")
    assert chosen.startswith("table of")
    hands.press("Ctrl+Return")
    assert len(bench_mill.job.all(Compensation)[0].knots) == 4


def test_cycles_are_logged_with_enter_and_the_cause_is_named(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["positioning"])
    sheet = window.sheets["positioning"]
    assert "Cycle 1 of 5: up to 5 mm" in sheet.ask.text()
    loose = SimulatedAxis(262, AxisFaults(lost_motion=0.06), 1)
    for _ in range(50):
        due = next_approach(sheet.run())
        hands.enter(f"{loose.show(due[1].mm, due[2], 0.5):.3f}")
    assert len(bench_mill.job.all(PositioningRun)[0].readings) == 50
    assert "Up and down differ" in sheet.cause.text()
    assert "reversal B 0.0" in sheet.figures_said.text()
    assert not sheet.shown.isEnabled()
    hands.press("Ctrl+U")
    assert "thou" in sheet.figures_said.text()
    hands.press("Ctrl+Return")
    assert len(bench_mill.job.all(PositioningRun)) == 2
    sheet.table.setFocus()
    assert sheet.headline.figure.text() == "not run yet"


def test_a_wrong_reading_is_corrected_and_the_last_one_deleted(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["positioning"])
    sheet = window.sheets["positioning"]
    hands.enter("5", "57")
    sheet._edit(0, "47.5")
    assert [r.shown.mm for r in bench_mill.job.all(PositioningRun)[0].readings] == [5, 47.5]
    sheet._edit(0, "nonsense")
    assert "The old figure stays" in window.statusBar().currentMessage()
    sheet.table.setFocus()
    sheet.table.selectRow(0)
    hands.press("Delete")
    assert len(bench_mill.job.all(PositioningRun)[0].readings) == 1


def test_a_csv_is_imported_and_a_bad_one_told(window, hands, bench_mill, tmp_path):
    hands.press(KEYS["positioning"])
    sheet = window.sheets["positioning"]
    cycle = [("+", t) for t in (0, 50, 100)] + [("-", t) for t in (100, 50, 0)]
    rows = [f"{target},{way},{target + 0.001}" for way, target in cycle * 2]
    path = tmp_path / "run.csv"
    path.write_text("\n".join(["target_mm,approach,shown_mm", *rows]), encoding="utf-8")
    sheet.read_csv(path)
    assert sheet.headline.under.text().startswith("accuracy A, both directions")
    path.write_text("target_m,approach,shown_mm\n1,+,1", encoding="utf-8")
    sheet.read_csv(path)
    assert "names no unit" in window.statusBar().currentMessage()
    assert len(bench_mill.job.all(PositioningRun)) == 1


def test_small_steps_are_logged_by_hand(window, hands, bench_mill):
    hands.press(KEYS["positioning"])
    sheet = window.sheets["positioning"]
    hands.click(sheet.sides.buttons["by hand"])
    hands.enter("0", "0.025", "0.024", "0.026")
    assert "went nowhere" in sheet.felt_words.text()
    assert sheet.headline.figure.text() == "small steps: not good"
    sheet.felt_table.setFocus()
    sheet.felt_table.selectRow(0)
    hands.press("Delete")
    assert len(bench_mill.job.all(FeelRecord)[0].values) == 3


def test_a_crash_noted_in_the_log_makes_a_check_due(window, hands, demo):
    hands.press(KEYS["log"])
    sheet = window.sheets["log"]
    assert "X: Next check on" in sheet.due.text()
    sheet.happened.setCurrentIndex(1)
    hands.enter("ran the table into the vice")
    assert demo.job.all(LogEntry)[-1].event == "crash"
    assert "X: A check is due since" in sheet.due.text()
    assert sheet.checks.rows.rows[0][2].startswith("Reads")


def test_the_wall_sheet_tells_what_is_keyed_in_and_the_report_has_the_proof(window, hands, demo, tmp_path):
    hands.press(KEYS["paper"])
    sheet = window.sheets["paper"]
    sheet.write_to(tmp_path / "report.pdf")
    sheet.what.setCurrentText("Sheets to hang")
    sheet.write_to(tmp_path / "wall.pdf")
    wall, report = (words_of(tmp_path / name) for name in ("wall.pdf", "report.pdf"))
    assert "200 counts per mm, keyed in 2026-10-10" in wall
    assert "Next check on Sat 2027-04-10" in wall
    assert "Not calibrated yet" in wall
    for words in (
        "Hold while tying",
        "First power-up",
        "repeatability R",
        "the gauge blocks",
        "Calibrations over time",
    ):
        assert words in report


def test_calibrating_in_an_empty_job_needs_no_setup(window, hands, bench_mill):
    hands.press(KEYS["calibrate"])
    hands.enter("100", "100")
    assert len(bench_mill.job.all(CalibrationRun)) == 1
    assert window.sheets["calibrate"].headline.figure.text() == "leave 200 per mm"


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_at_a_clean_two_one_key_says_that_the_display_shows_a_diameter(window, hands, bench_mill, unit):
    job = bench_mill.job
    job.apply("units", [job.info.with_(units=unit)])
    hands.press(KEYS["calibrate"])
    for true, shown in (("1", "2"), ("2", "4"), ("3", "6")):
        hands.enter(true, shown)
    sheet = window.sheets["calibrate"]
    assert sheet.headline.word.text() == "FAIL"
    assert sheet.diameter.isVisible()
    hands.press("Ctrl+Shift+D")
    assert job.all(AxisSetting)[-1].shows == "diameter"
    assert not sheet.diameter.isVisible()
    assert sheet.headline.word.text() != "FAIL"
    hands.press("Ctrl+Z")
    assert sheet.diameter.isVisible()

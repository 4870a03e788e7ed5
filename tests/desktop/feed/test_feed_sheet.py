"""The power feed sheet by keyboard, from Start to the report."""

from PySide6.QtWidgets import QApplication

from tests.printed import words_of
from vernus.desktop.parts.group import Heading
from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import MeshTrial, MountPart, PowerFeed, RemovedPart, RunOnTest
from vernus.job.scope import axes_in_scope


def tab_to(hands, field):
    """Press Tab until a field has the cursor."""
    for _ in range(60):
        if QApplication.focusWidget() is not None and field.isAncestorOf(QApplication.focusWidget()):
            return
        here = QApplication.focusWidget()
        hands.press("Return" if isinstance(here, Heading) and here.folded else "Tab")
    raise AssertionError(f"{field.name} can't be reached by Tab")


def test_a_feed_job_without_any_scale_goes_from_start_to_report_by_keyboard(window, hands, tmp_path):
    start = window.start
    hands.type("Feed for the bench mill")
    start.kind.setFocus()
    hands.press("Down")
    hands.press("Down")
    for (name, column), box in start.fitted.boxes.items():
        box.setFocus()
        hands.press("Down" if (name, column) == ("X", "drive") else "Home" if column == "readout" else "Up")
    start.path.setFocus()
    hands.press("Ctrl+A")
    hands.type(str(tmp_path / "feed.vernus"))
    hands.press("Return")
    session = window.session
    assert [(a.readout, a.drive) for a in session.job.axes()] == [("none", "new"), ("none", "none"), ("none", "none")]
    assert not window.route.rows["scale"].isVisible()
    assert [a.name for a in axes_in_scope(session.job)] == ["X"]
    hands.enter("400", "400")
    hands.press("Ctrl+G")
    assert window._current == "feed"
    sheet = window.sheets["feed"]
    for name, text in (
        ("shaft", "20"), ("shaft_length", "60"), ("shaft_key", "5"), ("gear_bore", "25.4"), ("gear_key", "3/16 in"),
        ("gear_teeth", "36"), ("gear_outside", "75.9"), ("gear_face", "18"), ("unit_teeth", "18"),
        ("unit_near", "20"), ("unit_far", "38"), ("volts", "230"), ("shop_volts", "230"),
    ):  # fmt: skip
        tab_to(hands, sheet.fields[name])
        hands.enter(text)
    assert sheet.headline.figure.text() == "not measured yet", "the thread, the dial and the wheel are not known"
    assert "handle and dial come off" in sheet.instruction.text()
    for name, text in (("end_thread", "0"), ("dial_length", "0"), ("wheel_hub", "12")):
        tab_to(hands, sheet.fields[name])
        hands.enter(text)
    assert sheet.headline.figure.text() == "0 of 2 fit"
    rows = {r[0]: r for r in sheet.table.rows.rows}
    assert rows["screw's end"][1] == "to make"
    assert "Make a sleeve: outside 25.4 mm, bore 20 mm, 18 mm long" in sheet.words.text()
    assert "in the hub" in rows["key"][2]
    hands.press("Ctrl+Tab")
    hands.press("Ctrl+Tab")
    hands.press("Ctrl+Ins")
    trial = session.job.all(MeshTrial)[0]
    session.apply("trial", [trial.with_(backlash={"mm": 0.12, "text": "0.12"}, noise="quiet")])
    assert sheet.headline.word.text() == "PASS"
    hands.press("Ctrl+Tab")
    for name, text in (("slow_rpm", "10"), ("fast_rpm", "160"), ("rapid_rpm", "240")):
        tab_to(hands, sheet.fields[name])
        hands.enter(text)
    assert "rapid 600 mm/min" in sheet.words.text()
    assert sheet.headline.figure.text() == "7 to 393 mm"
    assert "Don't trust it" in sheet.then.text()
    for way, tripped, stood in (("up", 200, 204.5), ("down", 200, 196)):
        run = {"id": way, "axis_id": session.axis_id, "way": way, "speed": "rapid"}
        session.apply("run", [RunOnTest.model_validate({**run, "tripped": {"mm": tripped}, "stood": {"mm": stood}})])
    assert sheet.headline.figure.text() == "7 to 392.5 mm"
    hands.press("Ctrl+U")
    assert sheet.headline.figure.text() == "0.276 to 15.453 in"
    hands.press("Ctrl+U")
    sheet.turn_to(7)
    hands.press("Ctrl+Ins")
    assert len(session.job.all(RemovedPart)) == 1
    hands.press(KEYS["paper"])
    window.sheets["paper"].write_to(tmp_path / "feed.pdf")
    text = words_of(tmp_path / "feed.pdf")
    for words in ("Power feed", "Make a sleeve", "rapid 600 mm/min", "Taken off", "Isolate the machine"):
        assert words in text


def test_the_bracket_goes_to_mounts_with_its_pocket(window, hands, demo):
    hands.press(KEYS["feed"])
    sheet = window.sheets["feed"]
    sheet.turn_to(5)
    assert sheet.headline.figure.text() == "108 × 149.28 mm"
    hands.click(sheet.to_mounts)
    part = next(p for p in demo.job.all(MountPart) if p.name == "feed bracket")
    hands.press(KEYS["mounts"])
    mounts = window.sheets["mounts"]
    mounts.parts.choose(part.id)
    mounts.refresh()
    assert mounts.table.rows.rows[0][4].startswith("bore ")


def test_trips_stand_in_the_stroke_picture_and_late_ones_reopen_the_scale(window, hands, demo):
    hands.press(KEYS["scale"])
    assert window.sheets["scale"].stroke._shown.stroke.trips_mm is not None
    feed = demo.job.all(PowerFeed)[0]
    demo.apply("late", [feed.with_(set_high={"mm": 720})])
    assert demo.review(demo.axis).states["scale"] == "stop"
    assert any("driven into its end" in text for text in window.findings.texts())


def test_an_axis_without_a_feed_is_asked_for_caliper_figures(window, hands, bench_mill):
    bench_mill.apply("scope", [bench_mill.axis.with_(drive="new")])
    hands.press(KEYS["feed"])
    sheet = window.sheets["feed"]
    assert sheet.headline.figure.text() == "not measured yet"
    assert "before anything is taken apart" in sheet.instruction.text()
    assert bench_mill.job.all(PowerFeed) == []
    hands.enter("-20")
    hands.press("Alt+2")
    assert bench_mill.job.all(PowerFeed) == [], "a shaft below nothing can't be kept"
    hands.press("Alt+1")
    assert bench_mill.job.all(PowerFeed)[0].shaft.mm == 20


def test_every_section_heads_with_its_own_figure_and_shows_the_part_of_the_row_chosen(window, hands, demo):
    hands.press(KEYS["feed"])
    sheet = window.sheets["feed"]
    assert sheet.view._paint.keywords["plan"].scheme == "coupler", "the parts of the one scheme in place"
    sheet.table.selectRow(0)
    assert sheet.view._paint.keywords["part"].name == "coupler"
    sheet.table.selectRow(2)
    assert sheet.view._paint.keywords["match"].screw_mm == 8
    figures = []
    for section in range(8):
        sheet.turn_to(section)
        figures.append(sheet.headline.figure.text())
    assert figures == [
        "2 of 5 fit", "0.140 mm measured", "0.140 mm measured", "7.6 to 672.87 mm", "7.6 to 672.87 mm",
        figures[5], "2 of 8 checked", "2 parts kept",
    ]  # fmt: skip  # 3 clear of the stops and 4.6 of run-on off each end of 680.47
    assert figures[5].endswith(" mm") and " × " in figures[5]
    assert sheet.table.rows.rows[0] == ["handwheel, left", "shelf 3, red box", "key upward, nut, 40 Nm"]
    assert "refit the 2 parts" in sheet.instruction.text()
    sheet.turn_to(8)
    assert "Still to make or to see to: bracket holes, height, feed bracket" in sheet.instruction.text()
    assert "31.5 mm → 30.2 mm; 25 min" in sheet.table.rows.rows[1][2]


def test_phases_that_differ_are_told_as_they_are_chosen(window, hands, demo):
    hands.press(KEYS["feed"])
    sheet = window.sheets["feed"]
    editor = sheet.fields["phases"].editor
    editor.setCurrentIndex(editor.findData("3"))
    editor.activated.emit(editor.currentIndex())
    assert any("three-phase, the shop has single-phase" in text for text in window.findings.texts())
    hands.press("Ctrl+Z")
    assert not any("three-phase" in text for text in window.findings.texts())

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
    assert window.session.in_view == "fit"
    sheet = window.sheets["fit"]
    for name, text in (
        ("shaft", "20"), ("shaft_length", "60"), ("shaft_key", "5"), ("gear_bore", "25.4"), ("gear_key", "3/16 in"),
        ("gear_teeth", "36"), ("gear_outside", "75.9"), ("gear_face", "18"), ("unit_teeth", "18"),
        ("unit_near", "20"), ("unit_far", "38"), ("volts", "230"), ("shop_volts", "230"), ("clamp_face", "0"),
    ):  # fmt: skip
        tab_to(hands, sheet.fields[name])
        hands.enter(text)
    assert sheet.headline.figure.text() == "not measured yet", "the thread, the dial and the wheel are not known"
    assert "handle and dial come off" in sheet.instruction.text()
    for name, text in (("end_thread", "0"), ("dial_length", "0"), ("wheel_hub", "12")):
        tab_to(hands, sheet.fields[name])
        hands.enter(text)
    assert sheet.headline.figure.text() == "0 of 2 fit"
    rows = {r[0]: r for r in sheet.fits.rows.rows}
    assert rows["screw's end"][1] == "to make"
    assert "Make a sleeve: outside 25.4 mm, bore 20 mm, 18 mm long" in sheet.words.text()
    assert "in the hub" in sheet.words.text()
    hands.press(KEYS["mesh"])
    sheet = window.sheets["mesh"]
    hands.press("Ctrl+Tab")
    hands.press("Ctrl+Ins")
    trial = session.job.all(MeshTrial)[0]
    session.apply("trial", [trial.with_(backlash={"mm": 0.12, "text": "0.12"}, noise="quiet")])
    assert sheet.headline.word.text() == "PASS"
    hands.press(KEYS["trips"])
    sheet = window.sheets["trips"]
    for name, text in (("slow_rpm", "10"), ("fast_rpm", "160"), ("rapid_rpm", "240")):
        tab_to(hands, sheet.fields[name])
        hands.enter(text)
    assert "rapid 600 mm/min" in sheet.words.text()
    assert sheet.headline.figure.text() == "7 to 393 mm"
    assert "Don't trust it" in sheet.instruction.text() + sheet.then.text()
    for way, tripped, stood in (("up", 200, 204.5), ("down", 200, 196)):
        run = {"id": way, "axis_id": session.axis_id, "way": way, "speed": "rapid"}
        session.apply("run", [RunOnTest.model_validate({**run, "tripped": {"mm": tripped}, "stood": {"mm": stood}})])
    assert sheet.headline.figure.text() == "7 to 392.5 mm"
    hands.press("Ctrl+U")
    assert sheet.headline.figure.text() == "0.276 to 15.453 in"
    hands.press("Ctrl+U")
    hands.press(KEYS["run-in"])
    window.sheets["run-in"].turn_to("taken off")
    hands.press("Ctrl+Ins")
    assert len(session.job.all(RemovedPart)) == 1
    hands.press(KEYS["paper"])
    window.sheets["paper"].write_to(tmp_path / "feed.pdf")
    text = words_of(tmp_path / "feed.pdf")
    for words in ("Power feed", "Make a sleeve", "rapid 600 mm/min", "Taken off", "Isolate the machine"):
        assert words in text


def test_the_bracket_is_one_part_with_its_pocket_drawn_and_written(window, hands, demo, tmp_path):
    hands.press(KEYS["bracket"])
    sheet = window.sheets["bracket"]
    assert sheet.headline.figure.text() == "108 × 149.28 mm"
    assert sheet.view._paint.keywords["rows"][0].drill_name.startswith("bore ")
    sheet.files.write_dxf(tmp_path / "bracket.dxf")
    sheet.files.write_template(tmp_path / "bracket.pdf")
    assert "pocket from the machine's side" in words_of(tmp_path / "bracket.pdf")
    assert (tmp_path / "bracket.dxf").exists()
    assert not any(p.name == "feed bracket" for p in demo.job.all(MountPart)), "no copy that could drift apart"


def test_trips_stand_in_the_stroke_picture_and_late_ones_reopen_the_scale(window, hands, demo):
    hands.press(KEYS["scale"])
    assert window.sheets["scale"].stroke._shown.stroke.trips_mm is not None
    feed = demo.job.all(PowerFeed)[0]
    demo.apply("late", [feed.with_(set_high={"mm": 720})])
    assert demo.review(demo.axis).states["scale"] == "stop"
    assert any("driven into its end" in text for text in window.findings.texts())


def test_an_axis_without_a_feed_is_asked_for_caliper_figures(window, hands, bench_mill):
    bench_mill.apply("scope", [bench_mill.axis.with_(drive="new")])
    hands.press(KEYS["fit"])
    sheet = window.sheets["fit"]
    assert sheet.headline.figure.text() == "not measured yet"
    assert "before anything is taken apart" in sheet.instruction.text()
    assert bench_mill.job.all(PowerFeed) == []
    hands.enter("-20")
    hands.press("Alt+2")
    assert bench_mill.job.all(PowerFeed) == [], "a shaft below nothing can't be kept"
    hands.press("Alt+1")
    assert bench_mill.job.all(PowerFeed)[0].shaft.mm == 20


def test_every_sheet_heads_with_its_own_figure_and_fit_shows_the_part_of_the_row_chosen(window, hands, demo):
    hands.press(KEYS["fit"])
    sheet = window.sheets["fit"]
    assert sheet.view._paint.keywords["plan"].scheme == "coupler", "the parts of the one scheme in place"
    sheet.fits.selectRow(0)
    assert sheet.view._paint.keywords["part"].name == "coupler"
    sheet.fits.selectRow(2)
    assert sheet.view._paint.keywords["match"].screw_mm == 8
    figures = {}
    for name in ("fit", "bracket", "mesh", "trips", "run-in"):
        hands.press(KEYS[name])
        figures[name] = window.sheets[name].headline.figure.text()
    assert figures == {
        "fit": "2 of 5 fit", "bracket": "108 × 149.28 mm", "mesh": "0.140 mm measured", "trips": "7.6 to 672.87 mm",
        "run-in": "2 of 9 checked",
    }  # fmt: skip  # 3 clear of the stops and 4.6 of run-on off each end of 680.47
    sheet = window.sheets["run-in"]
    sheet.turn_to("taken off")
    assert ["handwheel, left", "shelf 3, red box", "key upward, nut, 40 Nm"] in sheet.below.rows.rows
    assert "refit the 2 parts" in sheet.instruction.text()
    sheet.turn_to("worked over")
    assert "Still to make or to see to: bracket holes, height, feed bracket" in sheet.instruction.text()
    assert any("31.5 mm → 30.2 mm; 25 min" in row[2] for row in sheet.below.rows.rows)


def test_phases_that_differ_are_told_as_they_are_chosen(window, hands, demo):
    hands.press(KEYS["fit"])
    sheet = window.sheets["fit"]
    editor = sheet.fields["phases"].editor
    editor.setCurrentIndex(editor.findData("3"))
    editor.activated.emit(editor.currentIndex())
    assert any("three-phase, the shop has single-phase" in text for text in window.findings.texts())
    hands.press("Ctrl+Z")
    assert not any("three-phase" in text for text in window.findings.texts())

"""The Align sheet in full: targets, roll, shims and jacks, the kit, and a real serial line from end to end."""

import pytest

from vernus.bench.line import pattern_by_id
from vernus.bench.machine import Faults, SimulatedBody
from vernus.bench.serve import BenchServer
from vernus.desktop import settings
from vernus.desktop.instrument import InstrumentError, Link
from vernus.desktop.instrument_dialog import InstrumentDialog
from vernus.desktop.sheet_list import KEYS
from vernus.job.align.edits import clear_of_obstacle
from vernus.job.align.passes import passes
from vernus.job.entities import IndicatorKit, Reading, ShimKind, Sweep
from vernus.job.fields import LengthEntry
from vernus.job.plan.scale import scale_plan
from vernus.job.review.review import review_axis


@pytest.fixture
def align(window, hands, bench_mill):
    hands.press(KEYS["align"])
    return window.sheets["align"]


def field(sheet, name):
    return next(f for f in sheet.fields if f.name == name)


def choose(bound, value):
    bound.editor.setCurrentIndex(bound.editor.findData(value))
    bound.editor.activated.emit(bound.editor.currentIndex())


def test_roll_asks_for_both_lines_at_both_ends_and_says_what_to_shim(align, hands, bench_mill):
    hands.click(align.planes["roll"])
    assert "near the top edge at 0 mm" in align.ask.text()
    hands.enter("0.07")
    assert "near the bottom edge at 0 mm" in align.ask.text()
    hands.enter("0.00", "0.07", "0.00")
    assert [r.line for r in bench_mill.job.all(Sweep)[0].readings] == ["top", "bottom", "top", "bottom"]
    assert align.headline.figure.text() == "+0.070 mm"
    assert align.headline.word.text() == "FAIL"
    assert "under the bottom row" in align.instruction.text()
    assert align.headline.word.text() == "FAIL"


def test_a_roll_pass_solves_all_corner_jacks_together(align, hands, bench_mill):
    hands.click(align.planes["roll"])
    hands.enter("0.20", "0.00", "0.30", "0.10")
    choose(field(align, "by"), "jacks")
    assert align.instruction.text().startswith("Jack screws, in turn and round again: left bottom")
    assert "turn," not in align.instruction.text(), "no pitch, no turns: the dial says how far"
    bench_mill.apply("pitch", [align.sweep().with_(jack_pitch=LengthEntry.read("0.8"))])
    assert "°, dial" in align.instruction.text()
    choose(field(align, "by"), "three")
    assert "top middle 0.000 mm" in align.instruction.text()


def test_stations_ahead_are_moved_and_left_out(align, hands, bench_mill):
    hands.enter("0")
    rows = align.table.rows
    assert rows.setData(rows.index(2, 1), "3 3/4 in")
    assert align.sweep().stations[2].mm == pytest.approx(95.25)
    rows.setData(rows.index(3, 2), "0.5")
    assert len(align.sweep().readings) == 1
    align.table.setFocus()
    align.table.selectRow(4)
    hands.press("Delete")
    assert len(align.sweep().stations) == 6
    assert len(align.sweep().readings) == 1


def test_an_out_and_back_sweep_asks_for_the_stations_in_reverse(align, hands, bench_mill):
    choose(field(align, "order"), "back")
    stations = [s.mm for s in align.sweep().stations]
    hands.enter(*["0"] * 14)
    assert [r.station.mm for r in align.sweep().readings] == stations + stations[::-1]
    assert align.headline.word.text() == "PASS"


def test_a_tolerance_is_taken_by_habit_and_a_pass_has_its_note(align, hands, bench_mill):
    hands.enter(*["0.00", "0.00", "0.00", "0.01", "0.01", "0.01", "0.01"])
    assert align.headline.word.text() == "PASS"
    align.habit.setCurrentIndex(4)
    align.habit.activated.emit(4)
    assert align.sweep().tolerance.mm == 0.01
    assert align.headline.word.text() in ("CAN’T TELL", "FAIL")
    align.list.hold("note")
    hands.type("left screw snug")
    hands.press("Return")
    assert align.sweep().note == "left screw snug"


def test_advice_by_shims_uses_the_drawer(align, hands, bench_mill):
    bench_mill.apply("drawer", [ShimKind(id="s", thickness=LengthEntry.read("0.1"), count=5)])
    hands.enter(*[f"{0.05 * n:.2f}" for n in range(7)])
    choose(field(align, "by"), "shims")
    assert "under the left end: 3 of 0.100 mm" in align.instruction.text()


def test_advice_by_jack_screws_has_a_dial_target_and_with_the_pitch_the_turns(align, hands, bench_mill):
    hands.enter(*[f"{-0.05 * n:.2f}" for n in range(7)])
    choose(field(align, "by"), "jacks")
    assert (
        "drive in the jack screw at the right end until the dial goes from −0.300 mm to 0.000 mm"
        in align.instruction.text()
    )
    bench_mill.apply("pitch", [align.sweep().with_(jack_pitch=LengthEntry.read("0.8"))])
    assert "drive in the jack screw about 135°" in align.instruction.text()


def test_a_pass_ends_visibly_and_a_typed_station_is_read_as_a_station(align, hands, bench_mill):
    hands.enter(*["0.00"] * 7)
    assert align.ask.text().startswith("Back at")
    hands.enter("0.00")
    assert align.ask.text().startswith("This pass is through: 8 readings")
    assert align.station.line.text() == ""
    align.station.setFocus()
    hands.enter("123", "0.01")
    last = align.sweep().readings[-1]
    assert (last.station.mm, last.reading.mm) == (123, 0.01)


def test_two_indicators_in_one_traverse_make_two_passes(align, hands, bench_mill):
    assert align.second.isHidden()
    choose(field(align, "both"), "yes")
    align.reading.setFocus()
    for n in range(4):
        hands.enter(f"{0.01 * n:.2f}", f"{-0.02 * n:.2f}")
    face = align.sweep()
    assert [r.reading.mm for r in face.readings] == pytest.approx([0, 0.01, 0.02, 0.03])
    hands.click(align.planes["edge"])
    edge = align.sweep()
    assert [r.reading.mm for r in edge.readings] == pytest.approx([0, -0.02, -0.04, -0.06])
    assert [r.station for r in edge.readings] == [r.station for r in face.readings]
    hands.click(align.planes["face"])
    hands.press("Ctrl+Z")
    assert len(align.sweep().readings) == 3, "both readings of a place are one edit"


def test_the_rule_at_both_ends_comes_before_the_indicator(align, hands, bench_mill):
    assert align.instruction.text().startswith("Rough it in by rule")
    sweep = align.sweep()
    bench_mill.apply(
        "rule", [sweep.with_(rule_left=LengthEntry.read("19/32 in"), rule_right=LengthEntry.read("9/16 in"))]
    )
    assert "By the rule first" in align.instruction.text()
    assert "0.79 mm farther from" in align.instruction.text()


def test_an_indicator_of_the_kit_sets_the_pass(align, hands, bench_mill):
    kit = IndicatorKit(
        id="k", name="lever, tenths", division=LengthEntry.read("0.5 thou"), range=LengthEntry.read("30 thou"),
        sense="away", lever_deg=30,
    )  # fmt: skip
    bench_mill.apply("kit", [kit])
    assert align.kit.itemText(1) == "lever, tenths"
    align.kit.setCurrentIndex(1)
    align.kit.activated.emit(1)
    sweep = align.sweep()
    assert (sweep.sense, sweep.lever_deg, sweep.range.mm) == ("away", 30, pytest.approx(0.762))
    hands.enter("0", "1.2")
    hands.press("Alt+2")
    assert "indicator-out-of-range" in [at.finding.code for at in review_axis(bench_mill.job, bench_mill.axis).findings]


def test_a_rod_is_begun_with_its_reader_over_the_readers_own_length(window, hands, bench_mill):
    axis = bench_mill.axis
    plan = scale_plan(bench_mill.job, axis).with_(family="rod", measuring=LengthEntry.read("450"))
    bench_mill.apply("plan", [plan])
    hands.press(KEYS["align"])
    sheet = window.sheets["align"]
    assert sheet.target == "reader"
    assert sheet.sweep().stations[-1].mm <= 140
    review = review_axis(bench_mill.job, axis)
    assert review.states["align"] == "open"
    for plane in ("face", "edge"):
        sheet.show_plane(plane)
        hands.enter(*["0"] * 7)
    assert review_axis(bench_mill.job, axis).states["align"] == "begun"
    sheet.show_target("rod")
    for plane in ("face", "edge"):
        sheet.show_plane(plane)
        hands.enter(*["0"] * 7)
    assert review_axis(bench_mill.job, axis).states["align"] == "done"


def test_tightening_alone_is_judged_as_such(align, hands, bench_mill):
    hands.enter(*["0"] * 7)
    hands.press("Ctrl+Return")
    choose(field(align, "moved_by"), "tightening")
    hands.enter(*[f"{0.03 * n:.2f}" for n in range(7)])
    codes = [at.finding.code for at in review_axis(bench_mill.job, bench_mill.axis).findings]
    assert "moved-on-tightening" in codes


@pytest.fixture
def server(request):
    body = SimulatedBody(560, Faults(tilt_mm_per_m=1.0), 3)
    made = BenchServer(body, "with-unit")
    made.start()
    request.addfinalizer(made.stop)
    return made


def test_a_real_serial_line_from_bench_to_sheet_with_garbage_and_an_unplug(align, hands, bench_mill, server, qtbot):
    link = bench_mill.instrument
    link.link(server.port, pattern_by_id("with-unit"))
    qtbot.waitUntil(lambda: link.live_mm is not None, timeout=5000)
    assert align.live.isVisible()
    for _ in range(3):
        at = align.sweep().stations[len(align.sweep().readings)].mm
        server.body.crank(min(560, at))
        qtbot.waitUntil(lambda: link.live_mm == pytest.approx(server.body.reading(), abs=1e-6), timeout=5000)
        hands.press("F9")
    logged = [r.reading.mm for r in align.sweep().readings]
    assert logged == pytest.approx([server.body.reading(r.station.mm) for r in align.sweep().readings])
    server.send("\x00##garbage##")
    qtbot.waitUntil(lambda: "can't read" in link.trouble, timeout=5000)
    qtbot.waitUntil(lambda: link.trouble == "" and link.live_mm is not None, timeout=8000)
    server.stop()
    qtbot.waitUntil(lambda: not link.linked, timeout=5000)
    assert "unplugged" in link.trouble
    hands.press("F9")
    assert len(align.sweep().readings) == 3
    hands.enter(f"{logged[-1]:.3f}")
    assert len(align.sweep().readings) == 4
    link.unlink()


def test_the_instruments_own_button_logs_to_the_next_station(align, bench_mill, server, qtbot):
    bench_mill.instrument.link(server.port, pattern_by_id("with-unit"), who="button")
    server.send()
    qtbot.waitUntil(lambda: len(align.sweep().readings) == 1, timeout=5000)
    qtbot.wait(1100)
    server.send("+0.125 mm")
    qtbot.waitUntil(lambda: len(align.sweep().readings) == 2, timeout=5000)
    assert align.sweep().readings[1].reading.mm == 0.125
    bench_mill.instrument.unlink()


def test_an_absurd_line_is_left_out_and_a_stream_makes_no_pass(align, bench_mill, server, qtbot):
    bench_mill.instrument.link(server.port, pattern_by_id("with-unit"), who="button")
    server.send("+9999999999.0 mm")
    qtbot.waitUntil(lambda: "no indicator shows" in bench_mill.instrument.trouble, timeout=5000)
    for n in range(20):
        server.send(f"+0.0{n + 10} mm")
        qtbot.wait(60)
    assert len(align.sweep().readings) <= 1
    assert "sends by itself" in bench_mill.instrument.trouble
    bench_mill.instrument.unlink()


def test_a_pass_that_is_through_takes_nothing_from_an_instrument(align, hands, bench_mill):
    hands.enter(*[f"{0.01 * n:.3f}" for n in range(len(align.sweep().stations))])
    hands.enter("0.000")
    before = align.sweep().readings
    bench_mill.instrument.sent.emit(0.123)
    assert align.sweep().readings == before


def test_one_hand_on_the_crank_the_space_bar_takes_a_whole_sweep(align, hands, bench_mill):
    """A live figure of another unit is asked about before anything of it is logged."""
    link = bench_mill.instrument
    link._line, link.link_now = object(), Link("/dev/x", pattern_by_id("plain"))
    link._timer.stop()
    align.focus_entry()
    for n in range(len(align.sweep().stations) + 1):
        link.live_mm = 0.004 * n
        hands.press("Space")
    assert len(align.sweep().readings) == 8
    assert all(r.live for r in align.sweep().readings)
    hands.press("Ctrl+Return")
    link.live_mm = 14.224
    hands.press("Space")
    assert align.reading.unanswered
    assert not align.sweep().readings
    link._line = None


def test_bench_view_shows_what_the_instrument_reads_and_ctrl_enter_begins_the_next_pass(
    window, align, hands, bench_mill
):
    hands.enter(*[f"{0.02 * n:.3f}" for n in range(7)], "0.000")
    hands.press("F11")
    link = bench_mill.instrument
    link.link_now, link.live_mm, link._line = Link("/dev/x", pattern_by_id("plain")), 0.412, object()
    link.changed.emit()
    assert "0.412" in align.instrument.now.text()
    assert align.instrument.now.font().pixelSize() >= 50
    assert align.live.isVisible()
    assert align.live.height() >= 80
    link.trouble = "nothing heard for three seconds"
    link.changed.emit()
    assert align.instrument.trouble.isVisible()
    hands.press("Ctrl+Return")
    assert len(passes(bench_mill.job, bench_mill.axis_id, "face", "body")) == 2
    link._line = None


def test_the_simulated_instrument_starts_with_one_click_and_follows_the_stations(
    window, align, hands, bench_mill, qtbot
):
    hands.press("F8")
    dialog = window.findChild(InstrumentDialog)
    hands.click(dialog.simulated)
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow, timeout=5000)
    align.focus_entry()
    link = bench_mill.instrument
    for n in range(7):
        expected = bench_mill.bench.body
        qtbot.waitUntil(lambda: link.live_mm is not None, timeout=5000)
        assert expected.station_mm == min(expected.length_mm, align.sweep().stations[n].mm)
        qtbot.wait(120)
        hands.press("F9")
    assert align.headline.word.text() in ("PASS", "FAIL", "CAN’T TELL")
    bench_mill.stop_bench()
    assert not link.linked


def test_ports_and_patterns_that_are_none_are_told(window, bench_mill, hands):
    with pytest.raises(InstrumentError, match="Can't open"):
        bench_mill.instrument.link("/dev/nothing-here", pattern_by_id("plain"))
    hands.press("F8")
    dialog = window.findChild(InstrumentDialog)
    dialog.port.setEditText("/dev/nothing-here")
    hands.click(dialog.look)
    assert "dialout" in dialog.complaint.text()
    dialog.pattern.setCurrentIndex(dialog.pattern.count() - 1)
    dialog.own.setText("(")
    hands.click(dialog.go)
    assert "regular expression" in dialog.complaint.text()
    dialog.reject()


@pytest.mark.parametrize("units", ["mm", "in"])
def test_stations_keep_clear_of_an_obstacle_and_so_do_those_of_the_next_pass(align, hands, bench_mill, units):
    hands.enter("0")
    at = [s.mm for s in align.sweep().stations]
    bench_mill.show_units(units)
    low, high = at[2] - 4, at[3] + 9
    per = 1 if units == "mm" else 25.4
    for name, value in (("blocked_from", low), ("blocked_to", high)):
        line = field(align, name).editor.line
        line.setText(f"{value / per:.6f}")
        line.editingFinished.emit()
        line.returnPressed.emit()
    kept = [s.mm for s in align.sweep().stations]
    assert kept == pytest.approx([*at[:2], low, high, *at[4:]], abs=1e-4)
    hands.press("Ctrl+Z")
    assert [s.mm for s in align.sweep().stations] == at
    assert (align.sweep().blocked_from is None, align.sweep().blocked_to is None) == (False, True)


def test_an_obstacle_moves_no_station_read_and_leaves_out_what_falls_together():
    def stations(*values):
        return tuple(LengthEntry(mm=v) for v in values)

    base = Sweep(id="s", axis_id="a", stations=stations(0, 50, 90, 100, 200))
    assert clear_of_obstacle(base) is base
    ends = {"blocked_from": LengthEntry(mm=110), "blocked_to": LengthEntry(mm=45)}
    assert [s.mm for s in clear_of_obstacle(base.with_(**ends)).stations] == [0, 45, 110, 200]
    read = base.with_(**ends, readings=[Reading(station=LengthEntry(mm=v), reading=LengthEntry(mm=0)) for v in (0, 50)])
    assert [s.mm for s in clear_of_obstacle(read).stations] == [0, 50, 110, 200]


def test_the_dialog_links_by_trying_and_remembers_the_instrument(window, bench_mill, hands, server, qtbot):
    """What it heard stands there with its unit, and next time the same instrument is found at once."""
    hands.press("F8")
    dialog = window.findChild(InstrumentDialog)
    dialog.port.setEditText(server.port)
    hands.click(dialog.look)
    qtbot.waitUntil(lambda: "that is" in dialog.heard.text(), timeout=5000)
    assert "mm" in dialog.heard.text()
    hands.click(dialog.go)
    assert bench_mill.instrument.linked
    qtbot.waitUntil(lambda: bench_mill.instrument.live_mm is not None, timeout=5000)
    assert settings.links()[server.port]["pattern"] == "with-unit"
    bench_mill.instrument.unlink()


def test_a_figure_without_a_unit_is_not_linked_before_somebody_says_which(window, bench_mill, hands, request, qtbot):
    plain = BenchServer(SimulatedBody(560, Faults(tilt_mm_per_m=1.0), 3), "plain")
    plain.start()
    request.addfinalizer(plain.stop)
    hands.press("F8")
    dialog = window.findChild(InstrumentDialog)
    dialog.port.setEditText(plain.port)
    hands.click(dialog.look)
    qtbot.waitUntil(lambda: "Say below" in dialog.heard.text(), timeout=5000)
    hands.click(dialog.go)
    assert not bench_mill.instrument.linked
    assert "understood" in dialog.complaint.text()
    dialog.unit.setCurrentIndex(dialog.unit.findData("in"))
    dialog.unit.activated.emit(dialog.unit.currentIndex())
    qtbot.waitUntil(lambda: "that is" in dialog.heard.text(), timeout=5000)
    hands.click(dialog.go)
    assert bench_mill.instrument.link_now.pattern.unit == "in"
    bench_mill.instrument.unlink()


def test_an_instrument_plugged_in_again_is_linked_again(bench_mill, server, qtbot):
    link = bench_mill.instrument
    link.link(server.port, pattern_by_id("with-unit"))
    qtbot.waitUntil(lambda: link.live_mm is not None, timeout=5000)
    link._line.close()
    qtbot.waitUntil(lambda: "unplugged" in link.trouble, timeout=5000)
    qtbot.waitUntil(lambda: link.linked and link.live_mm is not None, timeout=5000)
    link.unlink()

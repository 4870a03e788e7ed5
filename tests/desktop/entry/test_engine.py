"""Enter, Add, Delete and drafts, the same on every sheet."""

import random

import pytest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit

from vernus.desktop.sheet_list import KEYS, SHEETS
from vernus.job.align.passes import next_to_read
from vernus.job.entities import Hole, Measure, MountPart, PowerFeed, SolidBox, Sweep, TravelSurvey


def named(fields, name):
    return next(f for f in (fields.values() if isinstance(fields, dict) else fields) if f.name == name)


def focus():
    return QApplication.focusWidget()


def test_enter_takes_and_goes_on_and_shift_enter_goes_back(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    hands.click(sheet.tabs.buttons["holes"])
    hands.press("Ctrl+Ins")
    hands.enter("under the table", "5.9", "1", "14")
    (hole,) = bench_mill.job.all(Hole)
    assert (hole.place, hole.diameter.mm, hole.pitch.mm, hole.depth.mm) == ("under the table", 5.9, 1, 14)
    assert focus() is named(sheet.holes.fields, "thread_deep").editor.line, "the hole's depth isn't its thread's"
    hands.press("Shift+Return")
    assert focus() is named(sheet.holes.fields, "depth").editor.line


def test_a_row_of_holes_is_typed_without_the_mouse_and_none_overwrites_another(window, hands, bench_mill):
    """Story 7's row: place, diameter and depth of each; the next row is ready after the last field."""
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    hands.click(sheet.tabs.buttons["holes"])
    before = hands.presses
    typed = 0
    for n, depth in enumerate(("55", "40", "8"), 1):
        hands.press("Ctrl+Ins")
        for text in (f"column {n}", "5.9", "1", depth):
            hands.enter(text)
            typed += len(text)
    holes = bench_mill.job.all(Hole)
    assert [(h.place, h.depth.mm) for h in holes] == [("column 1", 55), ("column 2", 40), ("column 3", 8)]
    assert hands.presses - before - typed == 3 * 5
    named(sheet.holes.fields, "depth").setFocus()
    hands.press("Ctrl+Del")
    assert [h.place for h in bench_mill.job.all(Hole)] == ["column 1", "column 2"]
    assert "Ctrl+Z brings it back" in window.statusBar().currentMessage()
    hands.press("Ctrl+Z")
    assert len(bench_mill.job.all(Hole)) == 3


def test_enter_presses_the_button_in_hand(window, hands, bench_mill):
    window.strip.chips[bench_mill.job.axes()[1].id].setFocus()
    hands.press("Return")
    assert bench_mill.axis.name == "Y"
    hands.press(KEYS["align"])
    heading = window.sheets["align"].list.headings[1]
    heading.setFocus()
    hands.press("Return")
    assert not heading.folded


def test_enter_walks_through_every_field_that_can_be_seen(window, hands, demo):
    for entry in SHEETS:
        if entry.name in ("machine", "card", "log"):  # a measure is passed by; a line is noted
            continue
        hands.press(entry.keys)
        sheet = window.sheets[entry.name]
        fields = sheet.engine.fields()
        figures = [f for f in fields if isinstance(f, QLineEdit | QComboBox)]
        if not figures:
            continue
        figures[0].setFocus()
        seen = [focus()]
        for _ in range(len(fields)):
            hands.press("Return")
            if focus() is seen[-1]:
                break  # a field that logs waits for a figure
            seen.append(focus())
        assert all(sheet.entry_zone.isAncestorOf(f) for f in seen), entry.name
        assert len(seen) == len(set(seen)), entry.name


def test_the_label_of_a_field_is_what_it_reads_in(window, hands, bench_mill):
    """Whatever was pressed before: the unit beside the line is the unit of a bare figure."""
    chance = random.Random(3)
    ways = [
        lambda: hands.press("Ctrl+U"), lambda: hands.press("Ctrl+PgDown"),
        lambda: hands.press(KEYS[chance.choice(["align", "travel", "reader", "calibrate", "scale", "receive"])]),
    ]  # fmt: skip
    for _ in range(60):
        chance.choice(ways)()
        sheet = window.sheets[window.session.in_view]
        for field in sheet.findChildren(QLineEdit):
            owner = field.parentWidget()
            if hasattr(owner, "measure") and owner.measure in ("mm", "in", "thou", "µm") and field.isVisible():
                assert owner.suffix.text().split(" ")[0] in (owner.measure, "=", "turns")
                assert owner.measure == owner._unit()


def test_what_is_being_typed_keeps_its_unit_when_the_units_change(window, hands, bench_mill):
    hands.press(KEYS["align"])
    hands.type("1.5")
    hands.press("Ctrl+U")
    field = window.sheets["align"].reading
    assert field.line.text() == "1.5 mm"
    hands.press("Return")
    assert bench_mill.job.all(Sweep)[0].readings[0].reading.mm == 1.5


@pytest.mark.parametrize("leave", ["axis", "sheet", "job"])
def test_what_is_typed_and_not_taken_dies_with_its_context_and_that_is_said(window, hands, bench_mill, tmp_path, leave):
    hands.press(KEYS["align"])
    hands.type("0.5")
    told = []
    bench_mill.notice.connect(told.append)
    if leave == "axis":
        hands.press("Ctrl+PgDown")
    elif leave == "sheet":
        hands.press(KEYS["travel"])
    else:
        bench_mill.new_job(tmp_path / "other.vernus", "Other", "bench-mill", "mm", "")
    assert any("“0.5”" in words for words in told)
    hands.press(KEYS["align"])
    assert window.sheets["align"].reading.line.text() == ""
    assert bench_mill.job.all(Sweep) == []


def test_nothing_of_one_job_is_open_in_the_next(window, hands, bench_mill, tmp_path):
    hands.press(KEYS["travel"])
    screw = window.sheets["travel"].list.headings[-1]
    hands.click(screw)
    assert not screw.folded
    bench_mill.new_job(tmp_path / "other.vernus", "Other", "bench-mill", "mm", "")
    hands.press(KEYS["travel"])
    QApplication.processEvents()
    assert window.sheets["travel"].list.headings[-1].folded
    hands.enter("400")
    assert [r.mm for s in bench_mill.job.all(TravelSurvey) for r in s.readings] == [400]
    window.session.close_job()
    assert (window.start.machine.text(), window.start.name.text()) == ("", "My machine")


def test_a_reading_taken_again_at_a_station_is_a_second_look_and_the_next_one_is_asked(window, hands, bench_mill):
    hands.press(KEYS["align"])
    sheet = window.sheets["align"]
    hands.enter("0", "0.02")
    first = sheet.sweep().readings[0].station
    sheet.station.line.setText(first.shown("mm"))
    hands.enter("0.03")
    readings = bench_mill.job.all(Sweep)[0].readings
    assert [r.reading.mm for r in readings] == [0, 0.02, 0.03]
    assert next_to_read(sheet.sweep()).mm == sheet.sweep().stations[2].mm


def test_a_proposed_figure_typed_again_is_confirmed(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    face = window.sheets["machine"].measures
    measure = face.current()
    hands.enter(f"{measure.value.mm:g}")
    stored = next(m for m in bench_mill.job.all(Measure) if m.key == measure.key)
    assert (stored.value.mm, stored.value.text) == (measure.value.mm, f"{measure.value.mm:g}")


def test_measures_go_on_with_enter_and_the_machine_follows(window, hands, bench_mill, qtbot):
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    face = sheet.measures
    face.choose("table_length")
    hands.press("Ctrl+A")
    hands.enter("620")
    assert face.current().key != "table_length"
    boxes = {b.name: b for b in sheet._all_boxes()}
    assert boxes["table"].right.text == ""
    with qtbot.waitSignal(face.advised, timeout=15_000):
        face.refresh()
    assert "Measure next" in sheet.instruction.text()
    assert sheet.headline.figure.text() == "1 of 22 measures taken"
    hands.press("Ctrl+Z")
    assert sheet.headline.figure.text() == "0 of 22 measures taken"


def test_a_wheel_is_not_four_hundred_inches(window, hands, tmp_path):
    window.session.new_job(tmp_path / "m.vernus", "M", "knee-mill-turret", "in", "")
    hands.press(KEYS["machine"])
    face = window.sheets["machine"].measures
    face.choose("wheel_across")
    hands.enter("170")
    assert face.row("wheel_across").editor.unanswered
    hands.press("Alt+1")
    assert face.current().key != "wheel_across" or face.current().value.mm == 170
    assert next(m for m in window.session.job.all(Measure) if m.key == "wheel_across").value.mm == 170


def test_a_clicked_dimension_goes_to_its_field(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    sheet.measures.choose("table_length")
    sheet.view.grab()
    sheet.view.asked.emit("column_width")
    assert sheet.measures.current().key == "column_width"
    assert focus() is sheet.measures.row("column_width").editor.line


def test_other_kinds_of_entities_are_added_wherever_the_cursor_is(window, hands, bench_mill):
    hands.press(KEYS["mounts"])
    hands.press("Ctrl+Ins")
    hands.press("Ctrl+Ins")
    assert len(bench_mill.job.all(MountPart)) == 2
    assert bench_mill.job.all(SolidBox)
    assert bench_mill.job.all(PowerFeed) == []


def test_a_room_half_typed_does_not_outlive_its_job(window, hands, bench_mill, tmp_path):
    field = window.strip.room.editor
    field.line.setFocus()
    hands.enter("75")
    assert field.unanswered
    bench_mill.new_job(tmp_path / "other.vernus", "Other", "bench-mill", "mm", "")
    assert (field.unanswered, field.line.text(), bench_mill.job.info.room_c) == (False, "", None)

"""The plan sheets by key and click, and a new user's way from template to buying list."""

import itertools
import json

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QImage, QPainter

from vernus.core.units import parse_length
from vernus.desktop import settings
from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import Display, Face, Hole, JobInfo, ScalePlan, SolidBox, Step, TravelSurvey
from vernus.job.machine.geometry import envelope_of, keep_reachable, solid
from vernus.job.plan.travel_left import envelope_result
from vernus.paper.drawing.machine.views import Scene, paint_views, scene_spans
from vernus.paper.ink import LIGHT


def rows(table):
    return [list(r) for r in table.rows.rows]


def colours(widget):
    picture = widget.grab().toImage()
    spots = itertools.product(range(0, picture.width(), 2), range(0, picture.height(), 2))
    return {QColor(value).name() for value in {picture.pixel(x, y) for x, y in spots}}


@pytest.mark.parametrize(("units", "x", "y"), [("mm", "398", "176"), ("in", "15 11/16", "6.93")])
def test_a_two_axis_bench_mill_from_template_to_buying_list(window, hands, tmp_path, units, x, y):
    start = window.start
    start.kind.setFocus()
    hands.press("Down")
    hands.press("Down")
    if units == "in":
        start.units.setFocus()
        hands.press("Down")
    start.path.setText(str(tmp_path / "mill.vernus"))
    hands.click(start.begin)
    session = window.session
    assert session.job.machine.kind_label == "Bench mill with dovetail column"
    for axis, travel in (("X", x), ("Y", y)):
        hands.press(f"Alt+{axis}")
        assert session.axis.name == axis
        hands.press(KEYS["travel"])
        hands.enter(travel, travel)
        hands.press("Ctrl+G")
        assert window.session.in_view == "scale"
        hands.press("Return")
        hands.press("Ctrl+G")
        assert window.session.in_view == "faces"
        hands.press("Return")
    hands.press(KEYS["order"])
    sheet = window.sheets["order"]
    listed = rows(sheet.table)
    assert [r[:2] for r in listed if r[0] == "buy"] == [
        ["buy", "X"],
        ["buy", "X"],
        ["buy", "Y"],
        ["buy", "Y"],
        ["buy", ""],
    ]
    assert any("bumper pillar" in r[2] for r in listed)
    unit = " in" if units == "in" else " mm"
    assert unit in listed[0][3]
    assert "Say which display" in sheet.instruction.text()
    typed = len(x) * 2 + len(y) * 2
    # Two choose the machine; an axis takes two keys to get there, two Enters, two steps on and two choices.
    assert hands.presses - typed == 2 + 2 * 8 + 1 + (units == "in")


def test_a_box_is_measured_by_key_and_the_plan_follows(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    hands.click(sheet.tabs.buttons["boxes"])
    names = [r[0] for r in rows(sheet.boxes.table)]
    sheet.boxes.table.selectRow(names.index("column"))
    field = next(f for f in sheet.boxes.fields if f.name == "front")
    field.setFocus()
    hands.press("Ctrl+A")
    hands.enter("8 in")
    column = next(b for b in bench_mill.job.all(SolidBox) if b.name == "column")
    assert (column.front.mm, column.front.text) == (203.2, "8 in")
    assert sheet.headline.under.text().startswith("column: ")


def test_boxes_and_holes_are_added_and_dropped_by_key(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    sheet, job = window.sheets["machine"], bench_mill.job
    before = len(job.all(SolidBox))
    hands.click(sheet.tabs.buttons["boxes"])
    hands.press("Ctrl+Ins")
    assert len(job.all(SolidBox)) == before + 1
    hands.press("Ctrl+A")
    hands.enter("vice")
    assert any(b.name == "vice" for b in job.all(SolidBox))
    sheet.boxes.table.setFocus()
    hands.press("Delete")
    assert len(job.all(SolidBox)) == before
    hands.click(sheet.tabs.buttons["holes"])
    hands.press("Ctrl+Ins")
    assert len(job.all(Hole)) == 1


def test_a_hole_gets_its_thread_in_the_list(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    hands.click(sheet.tabs.buttons["holes"])
    hands.press("Ctrl+Ins")
    for name, text in (("diameter", "0.248 in"), ("pitch", "1/20 in")):
        next(f for f in sheet.holes.fields if f.name == name).setFocus()
        hands.press("Ctrl+A")
        hands.enter(text)
    assert rows(sheet.holes.table)[0][1] == "1/4-20 or 1/4 BSW"
    assert "angle gauge" in sheet.thread_words.text()


def test_a_school_sets_the_weights_and_own_weights_are_shown_as_such(window, hands, bench_mill):
    hands.press(KEYS["faces"])
    sheet = window.sheets["faces"]
    sheet.school.setCurrentIndex(2)
    sheet.school.activated.emit(2)
    assert bench_mill.job.all(JobInfo)[0].w_travel == 20
    assert "in front of the table" in rows(sheet.table)[0][0]
    sheet.wishes.hold("w_travel")
    hands.enter("0")
    assert sheet.school.currentData() is None
    assert "behind the table" in rows(sheet.table)[0][0]


def test_the_face_under_the_cursor_is_judged_and_enter_chooses_it(window, hands, bench_mill):
    hands.press(KEYS["faces"])
    sheet = window.sheets["faces"]
    hands.press("Down")
    assert "table lock" in sheet.note.text()
    hands.press("Return")
    plan = bench_mill.job.all(ScalePlan)[0]
    assert bench_mill.job.get(plan.face_id).name == "in front of the table"
    assert any("table lock" in t for t in window.findings.texts())


def test_faces_are_described_on_the_other_face_of_the_list(window, hands, bench_mill):
    hands.press(KEYS["faces"])
    sheet = window.sheets["faces"]
    hands.press("Ctrl+Tab")
    before = len(bench_mill.job.all(Face))
    hands.press("Ctrl+Ins")
    hands.enter("under the table")
    assert len(bench_mill.job.all(Face)) == before + 1
    assert any("under the table" in r[0] for r in rows(sheet.table))


def test_running_the_sliders_shows_which_pair_meets(window, hands, demo):
    hands.press(KEYS["envelope"])
    sheet = window.sheets["envelope"]
    assert sheet.headline.figure.text() == "Y loses 16 mm"
    slider = sheet.sliders._rows["Y"][0]
    slider.setFocus()
    hands.press("End")
    assert sheet.sliders.at()["Y"] == 131.2
    assert "+131.20" in sheet.sliders._rows["Y"][2].text()
    assert LIGHT.stop in colours(sheet.view)
    hands.press("Home")
    assert LIGHT.stop not in colours(sheet.view)


def test_a_least_travel_makes_another_axis_give_way_or_says_it_cannot(window, hands, demo):
    demo.show_axis("axis-y")
    hands.press(KEYS["envelope"])
    sheet = window.sheets["envelope"]
    sheet.fields[0].setFocus()
    hands.enter("260")
    assert sheet.headline.figure.text() != "home is blocked"
    assert any("Y can keep at most 246.4 mm; at least 260 mm is wanted." in t for t in window.findings.texts())


def test_the_display_is_described_and_objected_to(window, hands, demo):
    hands.press(KEYS["order"])
    sheet = window.sheets["order"]
    sheet.list.hold("axes")
    hands.enter("1")
    assert demo.job.all(Display)[0].axes == 1
    assert any("2 scales want one" in t for t in window.findings.texts())
    assert "display with 2 axes" in sheet.instruction.text()
    assert "Settle the findings" in sheet.then.text()


def test_steps_are_ticked_with_a_note_and_unticked(window, hands, bench_mill):
    hands.press(KEYS["card"])
    sheet = window.sheets["card"]
    assert "Isolate" in sheet.instruction.text()
    sheet.note.setFocus()
    hands.enter("key on the nail")
    tick = bench_mill.job.all(Step)[0]
    assert (tick.key, tick.done, tick.note) == ("isolate", True, "key on the nail")
    assert rows(sheet.table)[0][1] == "✓"
    hands.press("Ctrl+Backspace")
    assert not bench_mill.job.all(Step)[0].done


def test_handwheel_turns_are_typed_as_turns(window, hands, bench_mill):
    sheet = window.sheets["travel"]
    sheet.tool.setCurrentIndex(sheet.tool.findData("handwheel"))
    sheet.refresh()
    assert "turns" in sheet.between.text()
    sheet.reading.setFocus()
    hands.enter("79.6")
    assert bench_mill.job.all(TravelSurvey)[0].readings[0].mm == pytest.approx(398)
    hands.enter("79.6 × 5")
    assert bench_mill.job.all(TravelSurvey)[0].readings[1].mm == pytest.approx(398)


def test_a_machine_is_kept_as_a_template_and_offered_at_start(window, hands, bench_mill, tmp_path):
    window.files.keep_template(settings.templates_folder() / "ours.json")
    offered = [window.start.kind.itemText(n) for n in range(window.start.kind.count())]
    assert "own: Our mill (X, Y, Z)" in offered
    window.files.import_template(settings.templates_folder() / "ours.json")
    (tmp_path / "bad.json").write_text(json.dumps({"id": "x"}))
    assert not window.files.attempt(lambda: window.files.import_template(tmp_path / "bad.json"))
    assert "no machine template" in window.banner.text.text()


@pytest.mark.parametrize("size", [(320, 300), (488, 470), (900, 700)])
def test_the_views_are_to_one_scale_at_any_size(qapp, demo, size):
    """The column's width from the front and from above, and its depth from the right and above, are the same."""
    job = demo.job
    envelope = envelope_of(job)
    keep = [solid(b) for b in keep_reachable(job)]
    image = QImage(*size, QImage.Format.Format_ARGB32)
    seen = []

    class Spy(QPainter):
        def drawRect(self, rect):
            seen.append(QRectF(rect))
            super().drawRect(rect)

    painter = Spy(image)
    column = next(b for b in envelope.boxes if b.name == "column")
    only = type(envelope)(envelope.members, envelope.axes, (column,))
    paint_views(painter, QRectF(0, 0, *size), Scene(only, only.home), scene_spans(envelope, keep), LIGHT, "mm")
    painter.end()
    front, right, above = seen[:3]
    wide, deep, tall = (h - low for low, h in zip(column.min_mm, column.max_mm, strict=True))
    per_mm = front.width() / wide
    assert (front.height(), right.width(), right.height(), above.width(), above.height()) == pytest.approx(
        (tall * per_mm, deep * per_mm, tall * per_mm, wide * per_mm, deep * per_mm), abs=1e-6
    )
    for box in seen[:3]:
        assert QRectF(0, 0, *size).contains(box)


def test_the_demo_agrees_with_its_own_figures(demo):
    bumper = next(f for f in envelope_result(demo.job).findings if f.code == "bumper")
    told = bumper.what.text()
    note = next(e.text for e in demo.job.entities() if "Bumper pillar turned" in getattr(e, "text", ""))
    length = told.split("a bumper ")[1].split(" long")[0]
    assert f"turned, {parse_length(length).mm:g} long" in note


def test_a_sheet_of_the_whole_machine_names_what_nobody_measured_of_any_axis(window, hands, tmp_path):
    window.session.new_job(tmp_path / "mill.vernus", "Mill", "knee-mill-turret", "in", "Our mill")
    for axis, travel in (("X", "30 7/16"), ("Y", "12.1")):
        hands.press(f"Alt+{axis}")
        hands.press(KEYS["travel"])
        hands.enter(travel, travel)
    hands.press("Alt+X")
    for sheet in ("scale", "faces"):
        hands.press(KEYS[sheet])
        hands.press("Return")
    hands.press("Alt+Y")
    assert "Table, length" not in window.sheets["faces"].headline.rests.text()
    hands.press(KEYS["envelope"])
    assert "Table, length" in window.sheets["envelope"].headline.rests.text()
    assert "Table to column" in window.sheets["envelope"].headline.rests.text()


@pytest.mark.parametrize(("units", "by"), [("mm", "9"), ("in", "3/8")])
def test_what_a_move_of_the_body_changes_at_each_end_stands_there_before_it_is_entered(window, hands, demo, units, by):
    if units == "in":
        hands.press("Ctrl+U")
    hands.press("Alt+Y")
    hands.press(KEYS["scale"])
    sheet = window.sheets["scale"]
    before = sheet.words_of("spare")
    sheet.list.hold("shift")
    hands.type(by)
    foreseen = sheet.hand_words.words.text()
    assert foreseen.startswith("Then spare ")
    assert " Now spare " in foreseen
    assert sheet.words_of("spare") == before, "nothing is done yet"
    hands.press("Return")
    low, high = foreseen.removeprefix("Then spare ").split(";")[0].split(", ")
    after = sheet.words_of("spare")
    assert low.removesuffix(" front") in after
    assert high.removesuffix(" back") in after

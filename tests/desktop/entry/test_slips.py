"""Every slip of the hand that is known: asked about where it was typed, and right after one key."""

import pytest

from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.sheet_list import KEYS
from vernus.job.align.passes import result_in_job
from vernus.job.entities import (
    Axis,
    AxisSetting,
    CalibrationRun,
    Delivery,
    GapCheck,
    Hole,
    PowerFeed,
    Reading,
    ScalePlan,
    SolidBox,
    Sweep,
    TravelSurvey,
)
from vernus.job.fields import LengthEntry


def named(fields, name):
    return next(f for f in (fields.values() if isinstance(fields, dict) else fields) if f.name == name)


@pytest.fixture
def inch_mill(window, tmp_path):
    """A fresh job in inches on a knee mill whose table travels 26 in."""
    window.session.new_job(tmp_path / "mill.vernus", "Mill", "knee-mill-turret", "in", "Our mill")
    return window.session


def type_into(hands, field, text):
    for figures in hands.window.findChildren(FigureList):
        if field in figures.rows:
            figures.hold(field.name)
    field.setFocus()
    hands.type(text)
    hands.press("Return")


def test_inches_in_a_thou_field_are_asked_about_and_give_no_verdict(window, hands, inch_mill):
    hands.press(KEYS["align"])
    sheet = window.sheets["align"]
    hands.enter("0.011")
    assert inch_mill.job.all(Sweep) == []
    assert sheet.reading.question.words.text().startswith("0.011 thou? the dial's division is 0.5 thou")
    assert sheet.reading.question.take.text() == "11 thou (Alt+1)"
    hands.press("Alt+1")
    assert inch_mill.job.all(Sweep)[0].readings[0].reading.mm == pytest.approx(0.2794)
    assert not sheet.reading.unanswered
    assert sheet.reading.line.text() == ""


def test_a_figure_kept_on_purpose_is_kept_and_marked_as_kept(window, hands, inch_mill):
    hands.press(KEYS["align"])
    hands.enter("0.011")
    hands.press("Alt+2")
    (reading,) = inch_mill.job.all(Sweep)[0].readings
    assert (reading.reading.mm, reading.reading.kept) == (pytest.approx(0.0002794), True)


def test_a_dial_reading_beyond_its_range_is_asked_about(window, hands, bench_mill):
    hands.press(KEYS["align"])
    sheet = window.sheets["align"]
    hands.enter("250")
    assert bench_mill.job.all(Sweep) == []
    assert "0.25 mm" in sheet.reading.question.take.text()
    hands.press("Alt+1")
    assert bench_mill.job.all(Sweep)[0].readings[0].reading.mm == pytest.approx(0.25)


def test_millimetres_typed_as_a_travel_in_inches(window, hands, inch_mill):
    hands.press(KEYS["travel"])
    hands.enter("665")
    assert inch_mill.job.all(TravelSurvey) == []
    hands.press("Alt+1")
    assert inch_mill.job.all(TravelSurvey)[0].readings[0].mm == 665


def test_travel_readings_that_disagree_by_a_factor(window, hands, bench_mill):
    hands.press(KEYS["travel"])
    hands.enter("400", "401", "15.75")
    field = window.sheets["travel"].reading
    assert "the other readings are near 400.5 mm" in field.question.words.text()
    hands.press("Alt+1")
    readings = bench_mill.job.all(TravelSurvey)[0].readings
    assert [r.mm for r in readings] == [400, 401, pytest.approx(15.75 * 25.4)]


FORMS = [
    ("receive", Delivery, "measuring", "420", 420.0),
    ("receive", Delivery, "overall", "440", 440.0),
    ("fit", PowerFeed, "shaft", "20", 20.0),
    ("travel", Axis, "accuracy", ".001", 0.0254),
    ("fit", PowerFeed, "shaft_length", "-1.5", 38.1),
]


@pytest.mark.parametrize(("sheet_name", "model", "name", "text", "mm"), FORMS, ids=[f[2] for f in FORMS])
def test_a_figure_in_another_unit_in_a_form(window, hands, inch_mill, sheet_name, model, name, text, mm):
    inch_mill.apply("scope", [inch_mill.axis.with_(drive="new")])
    hands.press(KEYS[sheet_name])
    sheet = window.sheets[sheet_name]
    field = named(sheet.fields, name)
    type_into(hands, field, text)
    stored = inch_mill.axis if model is Axis else next(iter(inch_mill.job.all(model)), None)
    assert stored is None or getattr(stored, name) is None
    assert field.editor.unanswered
    hands.press("Alt+1")
    stored = inch_mill.axis if model is Axis else inch_mill.job.all(model)[0]
    assert getattr(stored, name).mm == pytest.approx(mm)


@pytest.mark.parametrize(("text", "mm", "asked"), [
    ("20", 1.27, True), ("20 tpi", 1.27, False), ("1/20", 1.27, False), ("1.25 mm", 1.25, False),
])  # fmt: skip
def test_a_pitch_is_read_as_threads_per_inch(window, hands, inch_mill, text, mm, asked):
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    hands.click(sheet.tabs.buttons["holes"])
    hands.press("Ctrl+Ins")
    field = named(sheet.holes.fields, "pitch")
    type_into(hands, field, text)
    assert field.editor.unanswered == asked
    if asked:
        assert field.editor.question.take.text().startswith("20 tpi")
        hands.press("Alt+1")
    assert inch_mill.job.all(Hole)[0].pitch.mm == pytest.approx(mm)


@pytest.mark.parametrize(("typed", "kept"), [("75", 23.889), ("55", 12.778), ("75 °F", 23.889), ("68f", 20.0)])
def test_the_room_in_fahrenheit_is_asked_about_or_said_and_shown_as_chosen(window, hands, bench_mill, typed, kept):
    field = window.strip.room
    type_into(hands, field, typed)
    if typed.isdigit():
        assert bench_mill.job.info.room_c is None
        hands.press("Alt+1")
    assert bench_mill.job.info.room_c == pytest.approx(kept, abs=1e-3)
    assert bench_mill.job.info.degrees == "°F"
    assert field.editor.suffix.text() == "°F"
    assert float(field.editor.line.text()) == pytest.approx(kept * 1.8 + 32, abs=0.01)


def test_a_reference_temperature_in_fahrenheit(window, hands, bench_mill):
    hands.press(KEYS["calibrate"])
    sheet = window.sheets["calibrate"]
    field = named(sheet.fields, "reference_c")
    type_into(hands, field, "75 °F")
    assert bench_mill.job.all(CalibrationRun)[0].reference_c == pytest.approx(23.889, abs=1e-3)


def test_a_thousands_mark_is_asked_about(window, hands, bench_mill):
    hands.press(KEYS["calibrate"])
    sheet = window.sheets["calibrate"]
    hands.click(sheet.sides.buttons["display"])
    field = named(sheet.of_axis, "counts")
    type_into(hands, field, "30,000")
    assert field.editor.question.take.text() == "30000 (Alt+1)"
    hands.press("Alt+1")
    assert bench_mill.job.all(AxisSetting)[0].counts == 30000


def test_a_handwheel_of_four_hundred_inches(window, hands, inch_mill):
    hands.press(KEYS["machine"])
    hands.click(window.sheets["machine"].tabs.buttons["boxes"])
    boxes = window.sheets["machine"].boxes
    wheel = next(b for b in inch_mill.job.all(SolidBox) if b.name == "right handwheel")
    boxes.choose(wheel.id)
    field = named(boxes.fields, "right")
    type_into(hands, field, "430")
    assert inch_mill.job.get(wheel.id) == wheel
    hands.press("Alt+1")
    assert inch_mill.job.get(wheel.id).right.mm == 430


def test_left_and_right_swapped_are_put_right_by_one_key(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    hands.click(window.sheets["machine"].tabs.buttons["boxes"])
    boxes = window.sheets["machine"].boxes
    boxes.choose(bench_mill.job.all(SolidBox)[0].id)
    type_into(hands, named(boxes.fields, "left"), "320")
    type_into(hands, named(boxes.fields, "right"), "-310")
    field = named(boxes.fields, "right")
    assert "are the two swapped?" in field.editor.question.words.text()
    hands.press("Alt+1")
    box = bench_mill.job.get(boxes.current().id)
    assert (box.left.mm, box.right.mm) == (-310, 320)


def test_true_and_shown_swapped_are_put_right_by_one_key(window, hands, bench_mill):
    hands.press(KEYS["calibrate"])
    sheet = window.sheets["calibrate"]
    hands.enter("75", "74.93", "50", "49.953", "74.93", "75")
    assert "swapped" in sheet.shown.question.words.text()
    hands.press("Alt+1")
    checks = bench_mill.job.all(CalibrationRun)[0].checks
    assert [(c.true.mm, c.shown.mm) for c in checks] == [(75, 74.93), (50, 49.953), (75, 74.93)]


@pytest.mark.parametrize(("text", "word"), [("17 315 121.75", "character"), ("17315121.75", "?")])
def test_a_length_beyond_any_machine_is_not_taken(window, hands, bench_mill, text, word):
    hands.press(KEYS["machine"])
    hands.click(window.sheets["machine"].tabs.buttons["boxes"])
    boxes = window.sheets["machine"].boxes
    box = bench_mill.job.all(SolidBox)[0]
    boxes.choose(box.id)
    field = named(boxes.fields, "right")
    type_into(hands, field, text)
    said = field.editor.complaint.text() + field.editor.question.words.text()
    assert word in said
    assert bench_mill.job.get(box.id) == box


def test_a_feeler_of_25_is_25_micrometres_or_asked(window, hands, bench_mill):
    hands.press(KEYS["reader"])
    sheet = window.sheets["reader"]
    sheet.station.setFocus()
    hands.enter("0", "25")
    assert sheet.go.unanswered
    hands.press("Alt+1")
    hands.enter("0.05")
    assert [(g.go.mm, g.no_go.mm) for g in bench_mill.job.all(GapCheck)] == [(0.025, 0.05)]


def test_a_cell_corrected_in_a_table_is_asked_about_too(window, hands, inch_mill):
    hands.press(KEYS["align"])
    hands.enter("0", "1.2")
    sheet = window.sheets["align"]
    model = sheet.table.rows
    model.setData(model.index(1, 2), "0.012")
    assert inch_mill.job.all(Sweep)[0].readings[1].reading.text == "1.2"
    assert sheet.cell_question.take.text() == "12 thou (Alt+1)"
    hands.press("Alt+1")
    assert inch_mill.job.all(Sweep)[0].readings[1].reading.mm == pytest.approx(0.3048)


def test_one_wrong_text_leaves_the_rest_of_the_sheet_as_it_was(window, hands, demo):
    hands.press(KEYS["scale"])
    sheet = window.sheets["scale"]
    before = sheet.headline.figure.text()
    field = named(sheet.fields, "margin")
    type_into(hands, field, "2 furlongs")
    assert "“furlongs” is not a unit" in field.editor.complaint.text()
    assert sheet.headline.figure.text() == before
    assert all(p.margin is None or p.margin.text != "2 furlongs" for p in demo.job.all(ScalePlan))


@pytest.mark.parametrize("plane", ["face", "roll"])
def test_no_plane_passes_on_a_reading_that_is_doubtful_by_now(inch_mill, plane):
    """Readings taken before anybody asked, as in an older file."""
    rows = [(0, "top", "0.0 thou"), (0, "bottom", "0.5 thou"), (20, "top", "0.012 thou"), (20, "bottom", "0.5 thou")]
    readings = tuple(
        Reading(
            station=LengthEntry.read(f"{at} in"), reading=LengthEntry.read(text), line=line if plane == "roll" else ""
        )
        for at, line, text in rows
    )
    half, two = LengthEntry.read("0.5 thou"), LengthEntry.read("2 thou")
    sweep = Sweep(
        id="s", axis_id=inch_mill.axis.id, plane=plane, division=half, tolerance=two, readings=readings,
        lines_apart=LengthEntry.read("1 in"), bolts_apart=LengthEntry.read("2 in"),
    )  # fmt: skip
    inch_mill.apply("old", [sweep])
    result = result_in_job(inch_mill.job, sweep)
    judged = result.roll if plane == "roll" else result.alignment
    assert judged.verdict == "unsure"
    assert "doubtful" in [f.code for f in result.findings]
    assert inch_mill.review(inch_mill.axis).states["align"] == "caution"

"""However a row is reached, what is typed there replaces what stood there; and where Enter goes is no surprise."""

import os
import random

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QTableView

from vernus.desktop.parts.asked_view import AskedView
from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.row import PartRow
from vernus.desktop.sheet_list import SHEETS

TIMES = int(os.environ.get("VERNUS_TYPING", "1"))
FIGURES = ("7", "12.5", "110", "0.03", "1/2", "62,5", "-4", "250 mm", "3 thou", "85")
LISTED = [s.name for s in SHEETS if s.name not in ("log", "paper", "card")]


def lists(sheet):
    return [f for f in sheet.findChildren(FigureList) if f.isVisible() and figures_of(f)]


def figures_of(figures):
    return [r for r in figures.rows if r.applies and r.isEnabled() and isinstance(r.editor, FigureField)]


def arrive(window, hands, figures, row, chance):
    """Come to a row in some way; what stands there then is the row in hand."""
    figures.hold(row.name)  # its group is open
    QApplication.processEvents()
    stops = [r for r in figures.rows if r.isVisibleTo(figures) and r.isEnabled() and not isinstance(r, PartRow)]
    at = stops.index(row)
    way = chance.choice(("click", "name", "tab", "down", "up", "enter", "drawing", "units", "undo", "table"))
    if way == "click":
        QTest.mouseClick(row.editor.line, Qt.MouseButton.LeftButton)
    elif way == "name":
        QTest.mouseClick(row.title, Qt.MouseButton.LeftButton)
    elif way == "tab" and at:
        stops[at - 1].editor.setFocus()
        hands.press("Tab")
    elif way == "down" and at:
        stops[at - 1].editor.setFocus()
        hands.press("Down")
    elif way == "up" and at + 1 < len(stops):
        stops[at + 1].editor.setFocus()
        hands.press("Up")
    elif way == "enter":
        hands.press("Return")
    elif way == "drawing":
        views = [v for v in window.sheets[window.session.in_view].findChildren(AskedView) if v.isVisible()]
        for view in views:
            view.grab()
            place = view._places.get(row.name)
            if place is not None:
                QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=place.center().toPoint())
    elif way == "units":
        hands.press("Ctrl+U")
        hands.press("Ctrl+U")
    elif way == "undo":
        hands.press("Ctrl+Z")
        hands.press("Ctrl+Shift+Z")
    elif way == "table":
        tables = [t for t in window.sheets[window.session.in_view].findChildren(QTableView) if t.isVisible()]
        if tables:
            tables[0].setFocus()
    QApplication.processEvents()
    return way


@pytest.mark.parametrize("units", ["mm", "in"] if TIMES > 1 else ["in"])
def test_what_stands_there_is_what_was_typed_however_it_was_reached(window, hands, units):
    chance = random.Random(os.environ.get("VERNUS_SEED", units))
    tried = 0
    for demo in ("mill", "lathe"):
        window.files.open_demo(demo)
        window.session.show_units(units)
        for name in LISTED if TIMES > 1 else LISTED[(demo == "mill") == (units == "mm") :: 2]:
            window.show_sheet(name)
            QApplication.processEvents()
            for _ in range(TIMES):
                there = lists(window.sheets[window.session.in_view])
                if not there:
                    break
                figures = chance.choice(there)
                row = chance.choice(figures_of(figures))
                text = chance.choice(FIGURES)
                way = arrive(window, hands, figures, row, chance)
                hands.type(text)
                line = QApplication.focusWidget()
                assert isinstance(line, Line), (name, row.name, way)
                assert line.text() == text, (name, row.name, way)
                for field in window.sheets[window.session.in_view].findChildren(FigureField):
                    field.drop_draft()
                tried += 1
    assert tried > 10 * TIMES


@pytest.mark.parametrize("demo", ["mill", "lathe"])
def test_an_axis_chip_gives_the_cursor_back_and_the_next_figure_is_its(window, hands, demo):
    """A click on an axis, and what is typed then stands in a field of that axis."""
    window.files.open_demo(demo)
    for name in ("travel", "scale", "align", "reader", "calibrate"):
        for axis, chip in list(window.strip.chips.items()):
            window.show_sheet(name)
            hands.click(chip)
            assert window.session.axis_id == axis
            hands.type("12")
            line = QApplication.focusWidget()
            assert isinstance(line, Line), (name, axis)
            assert line.text() == "12", (name, axis)
            for field in window.sheets[window.session.in_view].findChildren(FigureField):
                field.drop_draft()


def test_a_figure_typed_before_another_axis_is_clicked_is_the_first_axiss(window, hands, bench_mill):
    window.show_sheet("travel")
    sheet = window.sheets["travel"]
    sheet.list.hold("accuracy")
    hands.type("0.05")
    first, second = list(window.strip.chips)[:2]
    hands.click(window.strip.chips[second])
    assert bench_mill.job.get(first).accuracy.mm == 0.05
    assert bench_mill.job.get(second).accuracy is None
    hands.type("0.02")
    hands.press("Ctrl+3")
    assert bench_mill.job.get(second).accuracy.mm == 0.02


def test_enter_goes_to_the_next_open_row_as_the_list_is_read(window, hands, demo):
    chance = random.Random(os.environ.get("VERNUS_SEED", "enter"))
    for name in LISTED:
        window.show_sheet(name)
        QApplication.processEvents()
        for figures in lists(window.sheets[window.session.in_view]):
            for row in chance.sample(figures_of(figures), min(TIMES + 1, len(figures_of(figures)))):
                figures.hold(row.name)
                QApplication.processEvents()
                wanted = figures.next_open(row.editor)
                read = figures.rows
                if wanted is None:
                    continue
                assert read.index(wanted) > read.index(row)
                assert wanted.open
                hands.press("Return")
                assert figures.in_hand is wanted, (name, row.name, wanted.name)


def test_a_figure_typed_into_the_drawing_is_its_rows(window, hands, bench_mill):
    window.show_sheet("receive")
    sheet = window.sheets["receive"]
    QApplication.processEvents()
    sheet.list.hold("measuring")
    sheet.view.grab()
    hands.press("F4")
    assert QApplication.focusWidget() is sheet.view.edit
    hands.enter("550")
    assert bench_mill.job.all(type(sheet._delivery()))[0].measuring.mm == 550
    sheet.view.grab()
    place = sheet.view._places["reader"].center().toPoint()
    QTest.mouseDClick(sheet.view, Qt.MouseButton.LeftButton, pos=place)
    hands.type("0.2")
    hands.press("Return")
    assert sheet.list.row("reader").editor.unanswered, "what is asked is asked under its row"
    assert QApplication.focusWidget() is sheet.list.row("reader").editor.line
    sheet.list.hold("overall")
    hands.press("F4")
    hands.type("9")
    hands.press("Escape")
    assert bench_mill.job.all(type(sheet._delivery()))[0].overall is None


@pytest.mark.parametrize("name", ["stock_thick", "wanted", "leg"])
def test_what_is_asked_is_seen_whole_under_its_row(window, hands, bench_mill, name):
    window.show_sheet("mounts")
    hands.press("Ctrl+Ins")
    figures = window.sheets["mounts"].parts.figures
    row = figures.row(name)
    row.leave_out(absent=False)
    figures.hold(name)
    hands.enter("9999")
    for _ in range(3):
        QApplication.processEvents()
    question = row.editor.question
    assert question.open
    for part in (question.words, question.keep):
        assert part.visibleRegion().boundingRect().height() >= part.height() - 1
    assert question.width() > 0.9 * figures.viewport().width()


def test_what_matters_most_is_marked_and_has_a_key(window, hands, bench_mill, qtbot):
    window.show_sheet("machine")
    face = window.sheets["machine"].measures
    with qtbot.waitSignal(face.advised, timeout=20_000):
        face.refresh()
    key = face.advice.measure.key
    assert face.row(key).mark.name == "wanted"
    hands.press("F3")
    assert face.list.in_hand is face.row(key)


def test_a_choice_is_taken_by_letter_space_and_arrows_and_walked_past(window, hands, bench_mill):
    window.show_sheet("powerup")
    figures = window.sheets["powerup"].list
    figures.hold("counts")
    box = figures.row("counts").editor
    hands.press("Y")
    assert box.currentText() == "yes"
    hands.press("Space")
    assert box.currentText() == "no"
    hands.press("Left")
    assert box.currentText() == "yes"
    hands.press("Down")
    assert figures.in_hand.name == "right_axis"
    assert box.currentText() == "yes"

"""Reusable widgets on their own: the length field, the line, sliders, marks, tables, settings."""

import json
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QLineEdit, QWidget

from vernus.core.machine.envelope import EnvelopeAxis
from vernus.desktop import settings
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.marks import WORDS, paint_mark
from vernus.desktop.parts.pages import Pages
from vernus.desktop.parts.sliders import AxisSliders
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words, kept_together
from vernus.job.entities import JobInfo
from vernus.job.fields import LengthEntry
from vernus.paper.ink import LIGHT


@pytest.fixture
def field(qtbot):
    made = LengthField("Length", lambda: "mm", logging=True)
    qtbot.addWidget(made)
    made.taken = []
    made.accepted.connect(made.taken.append)
    return made


def test_a_length_field_shows_what_a_typed_value_means_in_the_other_system(field):
    QTest.keyClicks(field.line, "25.4")
    assert field.suffix.text() == "mm = 1.0000 in"
    field.clear()
    QTest.keyClicks(field.line, "1 in")
    assert "25.4" in field.suffix.text() or "1.0000 in" in field.suffix.text()


@pytest.mark.parametrize(
    ("text", "mm"), [("180 + 22,5", 202.5), ('9 1/4"', 234.95), ("3 thou", 0.0762), ("12 µm", 0.012)]
)
def test_every_entry_form_is_taken_and_kept_as_typed(field, text, mm):
    field.line.setText(text)
    QTest.keyClick(field.line, Qt.Key.Key_Return)
    assert field.taken[-1].mm == pytest.approx(mm)
    assert field.taken[-1].text == text


def test_nonsense_stays_marked_and_is_not_overwritten_by_a_refresh(field):
    field.line.setText("12 furlongs")
    QTest.keyClick(field.line, Qt.Key.Key_Return)
    assert field.taken == []
    assert "not a unit" in field.complaint.text()
    field.show_entry(LengthEntry(mm=5, text="5"))
    assert field.line.text() == "12 furlongs"


def test_an_emptied_optional_field_says_none(field):
    field.show_entry(LengthEntry(mm=5, text="5"))
    field.line.setText("")
    QTest.keyClick(field.line, Qt.Key.Key_Return)
    assert field.taken == [None]


def test_a_line_has_its_own_undo_while_there_is_typing(qtbot):
    line = Line()
    qtbot.addWidget(line)
    QTest.keyClicks(line, "abc")
    assert line.isUndoAvailable()
    line.renew("x")
    assert not line.isUndoAvailable()


@pytest.fixture
def sliders(qtbot):
    made = AxisSliders()
    qtbot.addWidget(made)
    made.show_axes((EnvelopeAxis("X", "+x", -340.2375, 340.2375), EnvelopeAxis("Z", "-z", 0, 127, 0)), "mm")
    return made


def test_slider_ends_and_home_are_exact(sliders):
    assert sliders.at() == {"X": 0.0, "Z": 0.0}
    sliders.go({"X": 340.2375, "Z": 127})
    assert sliders.at() == {"X": 340.2375, "Z": 127}
    sliders.go({"X": -340.2375})
    assert sliders.at()["X"] == -340.2375


def test_sliders_keep_their_place_when_the_travel_changes(sliders):
    sliders.go({"X": 340.2375})
    sliders.show_axes((EnvelopeAxis("X", "+x", -100, 100), EnvelopeAxis("Z", "-z", 0, 127, 0)), "in")
    assert sliders.at()["X"] == 100
    assert sliders._rows["X"][2].text() == "+3.937 in"


@pytest.mark.parametrize("name", list(WORDS))
def test_every_mark_has_a_shape_of_its_own(qapp, name):
    pictures = {}
    for each in WORDS:
        image = QImage(28, 28, QImage.Format.Format_Grayscale8)
        image.fill(255)
        painter = QPainter(image)
        paint_mark(painter, QRectF(4, 4, 20, 20), each, LIGHT)
        painter.end()
        pictures[each] = bytes(image.constBits())
    twins = [n for n, p in pictures.items() if p == pictures[name] and n != name]
    alike = ({"done", "pass"}, {"stop", "fail"}, {"caution", "unsure"})
    assert not twins or any({name, *twins} <= group for group in alike)


def test_a_table_deletes_chooses_and_edits_by_key(qtbot):
    table = Table("things")
    qtbot.addWidget(table)
    told = []
    table.delete_pressed.connect(lambda row: told.append(("delete", row)))
    table.chosen.connect(lambda row: told.append(("choose", row)))
    table.rows.show_rows([Column("a", edit=lambda row, text: told.append((row, text)))], [["1"], ["2"]])
    table.selectRow(1)
    QTest.keyClick(table, Qt.Key.Key_Delete)
    QTest.keyClick(table, Qt.Key.Key_Return)
    assert told == [("delete", 1), ("choose", 1)]
    assert table.rows.setData(table.rows.index(0, 0), "9")
    assert told[-1] == (0, "9")
    assert not table.rows.setData(table.rows.index(0, 0), "1")


def test_enter_chooses_what_the_cursor_is_on_though_rows_changed_places(qtbot):
    table, told = Table("things"), []
    qtbot.addWidget(table)
    rng = random.Random(7)
    keys: list[str] = []
    table.chosen.connect(lambda row: told.append(keys[row]))
    columns = [Column("a", False)]
    for _ in range(60):
        on = keys[table.currentIndex().row()] if table.currentIndex().row() >= 0 else None
        keys = rng.sample("abcdefg", rng.randint(1, 7))
        table.rows.show_rows(columns, [[k] for k in keys], keys)
        if on in keys:
            QTest.keyClick(table, Qt.Key.Key_Return)
            assert told[-1] == on
        else:
            assert table.currentIndex().row() < 0, "nothing is chosen for what is gone"
            table.selectRow(rng.randrange(len(keys)))


def test_settings_survive_nonsense_in_their_file(tmp_path):
    settings.remember_theme("dark")
    assert settings.theme() == "dark"
    for text in ("", "[]", "{", json.dumps({"dark": "yes", "recent": "no"}), json.dumps({"recent": [1, None]})):
        settings._file().write_text(text)
        assert settings.theme() is None
        assert settings.recent_jobs() == []


def test_only_the_last_jobs_that_are_still_there_are_recent(tmp_path):
    paths = [tmp_path / f"{n}.vernus" for n in range(12)]
    for path in paths:
        path.write_text("x")
        settings.remember_job(path)
    paths[11].unlink()
    recent = settings.recent_jobs()
    assert recent == paths[10:3:-1]


@given(st.floats(-1e5, 1e5), st.sampled_from(["mm", "in", "thou", "µm"]))
def test_a_length_nobody_typed_reads_back_within_its_last_digit(mm, unit):
    shown = LengthEntry(mm=mm).shown(unit)
    step = 1.01 * {"mm": 5e-4, "in": 1.27e-3, "thou": 1.27e-3, "µm": 5e-4}[unit]
    assert LengthEntry.read(shown, unit).mm == pytest.approx(mm, abs=step)


def test_a_row_is_as_high_as_its_wrapped_words_even_where_they_just_miss_the_width(qtbot):
    table = Table("words")
    qtbot.addWidget(table)
    table.setStyleSheet("QTableView::item { padding: 2px 6px; }")
    table.wrap_words()
    words = "10 mm to the right"
    table.resize(table.fontMetrics().horizontalAdvance(words) + 16, 200)
    table.show()
    table.rows.show_rows([Column("variant", False)], [[words], ["as planned"]])
    table.resizeRowsToContents()
    assert table.rowHeight(0) >= 2 * table.fontMetrics().height()
    assert table.rowHeight(1) < table.rowHeight(0)


def test_a_row_is_two_lines_at_most_and_its_words_are_told_whole(qtbot):
    table = Table("words")
    qtbot.addWidget(table)
    table.wrap_words()
    table.resize(200, 160)
    table.show()
    words = "drill, ream and tap it square; " * 20
    table.rows.show_rows([Column("what", False)], [[words], ["next"]])
    table.resizeRowsToContents()
    told = []
    table.looked.connect(told.append)
    assert table.rowHeight(0) <= 50
    assert str(table.model().data(table.model().index(0, 0))).endswith("…")
    table.selectRow(0)
    assert told == [words]
    table.selectRow(1)
    assert told == [words], "what has room is not told again"


def test_no_figure_is_parted_from_its_unit_and_the_words_read_as_given(qtbot):
    assert kept_together("18 mm of 5.5 µm, ± 3 %, 2 of 7") == "18\u00a0mm of 5.5\u00a0µm, ±\u00a03\u00a0%, 2 of 7"
    assert kept_together("in 3 minutes, 4 inches, 5 in") == "in 3 minutes, 4 inches, 5\u00a0in"
    label = Words("<b>bold</b> 3 mm")
    qtbot.addWidget(label)
    assert label.text() == "<b>bold</b> 3 mm"
    assert QLabel.text(label) == "<b>bold</b> 3\u00a0mm"


def test_the_budget_opens_by_key_and_only_where_a_figure_has_one(window, hands, demo):
    for name in ("travel", "align", "calibrate", "positioning"):
        window.show_sheet(name)
        assert window.sheets[name].headline.lines.isVisible()
    hands.press("F11")
    assert not window.sheets["positioning"].headline.lines.isVisible()
    hands.press("F11")
    window.show_sheet("powerup")
    assert not window.sheets["powerup"].headline.lines.isVisible()
    demo.show_axis("axis-w")
    window.show_sheet("align")
    assert not window.sheets["align"].headline.lines.isVisible()


def test_words_are_marked_from_the_first_press_on_and_a_path_breaks_in_its_middle(qtbot):
    words = Words("Wrote 12 pages.")
    qtbot.addWidget(words)
    words.resize(200, 40)
    words.show()
    assert not words.hasSelectedText()
    QTest.mousePress(words, Qt.MouseButton.LeftButton, pos=QPoint(1, 10))
    QTest.mouseMove(words, QPoint(190, 10))
    assert words.selectedText()
    words.setText("Wrote /home/somebody/a/very/long/way/down/into/a/folder.pdf")
    assert words.heightForWidth(120) > words.heightForWidth(500)
    assert words.sizeHint().width() < 400


def test_only_the_page_in_view_is_laid_out_and_the_cursor_comes_along(qtbot):
    pages, faces = Pages(), [QWidget(), QWidget()]
    qtbot.addWidget(pages)
    lines = []
    for face in faces:
        lines.append(QLineEdit(face))
        pages.addWidget(face)
    pages.resize(300, 200)
    pages.show()
    with qtbot.waitActive(pages):
        pass
    lines[0].setFocus()
    pages.setCurrentWidget(faces[1])
    assert [f.isVisible() for f in faces] == [False, True]
    assert faces[1].size() == pages.size()
    assert faces[1].isAncestorOf(QApplication.focusWidget()) or faces[1].hasFocus()
    pages.resize(400, 300)
    assert (faces[0].width(), faces[1].width()) == (300, 400)
    pages.setCurrentIndex(0)
    assert (pages.currentIndex(), faces[0].width(), lines[0].hasFocus()) == (0, 400, True)


def test_a_choice_offered_anew_shows_what_is_stored_and_a_list_out_of_view_has_no_rows(window, bench_mill):
    row = FigureRow(bench_mill, JobInfo, "hole_school", lambda: bench_mill.job.info)
    row.setParent(window)
    row.refresh()
    stored, choices = row.editor.currentData(), [(c, row.editor.itemText(n)) for n, c in enumerate(_values(row.editor))]
    for offered in (choices[::-1], choices[1:] + choices[:1], choices):
        row.offer(offered)
        row.refresh()
        assert row.editor.currentData() == stored
    window.show_sheet("mounts")
    sheet = window.sheets["mounts"]
    assert not sheet.holes.figures.made
    sheet.parts.add_row()
    sheet.usual.click()
    sheet.tabs.turn_to("holes")
    assert sheet.holes.figures.made
    assert named_text(sheet.holes, "x") == sheet.holes.current().x.shown("mm")


def _values(box):
    return [box.itemData(n) for n in range(box.count())]


def named_text(entities, name):
    return next(f for f in entities.fields if f.name == name).editor.line.text()

import pytest
import shiboken6
from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QWidget

from tests.share import SOAK
from vernus.desktop import settings
from vernus.desktop.demo import demo_source
from vernus.desktop.session import Session
from vernus.desktop.sheet_list import KEYS, SHEETS
from vernus.desktop.window import Window
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.document import Job
from vernus.job.entities import JobInfo, LogEntry, Sweep, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import plan_of
from vernus.job.sheet_names import AXIS_SHEETS


def headline(window):
    return window.sheets[window.session.in_view].headline.figure.text()


def test_the_demo_opens_where_the_first_axis_needs_work(window, demo):
    assert window.session.axis.name == "X"
    window.session.show_axis("axis-y")
    assert "Align" in window.route.next_title.text()
    assert "X: next, Fit" in window.route.others.text()


def test_each_demo_machine_is_one_button_away(window, hands):
    for button, name, units in ((window.start.demo_lathe, "lathe", "in"), (window.start.demo, "mill", "mm")):
        window.session.close_job()
        hands.click(button)
        assert window.session.job.path.name == f"demo-{name}.vernus"
        assert window.session.units == units


def test_the_demo_lathe_stands_where_work_goes_on(window):
    window.files.open_demo("lathe")
    sheets = window.sheets
    window.session.show_axis("axis-z")
    window.show_sheet("align")
    assert sheets["align"].headline.figure.text().endswith("thou")
    window.session.show_axis("axis-x")
    window.show_sheet("envelope")
    told = [row[0] for row in sheets["envelope"].what_if.rows.rows]
    assert "0.394 in to the front" in told
    assert not [words for words in told if "mm" in words]
    window.show_sheet("reader")
    assert "try a feeler" not in sheets["reader"].instruction.text()


OF_LENGTHS = ("travel", "scale", "envelope", "mounts", "fit", "align", "reader", "calibrate", "positioning")
"""Sheets whose headline is a length or rests on one; the others are gone to by ``make soak``."""


def test_units_switch_live_everywhere_and_what_was_typed_comes_back(window, hands, demo):
    for sheet in SHEETS:
        if sheet.name not in OF_LENGTHS and not SOAK:
            continue
        hands.press(KEYS[sheet.name])
        assert window.session.in_view == sheet.name
        metric = headline(window)
        hands.press("Ctrl+U")
        inches = headline(window)
        hands.press("Ctrl+U")
        assert headline(window) == metric
        if sheet.name in ("travel", "scale", "align", "envelope"):
            assert (" mm" in metric, " mm" in inches) == (True, False)
    assert window.session.job.info.units == "mm"


def test_undo_and_redo_by_key(window, hands, bench_mill):
    hands.enter("262")
    hands.enter("263")
    survey = window.session.job.all(TravelSurvey)[0]
    hands.press("Ctrl+Z")
    assert len(window.session.job.all(TravelSurvey)[0].readings) == 1
    hands.press("Ctrl+Shift+Z")
    assert window.session.job.all(TravelSurvey)[0].readings == survey.readings


def test_undo_takes_back_typing_before_it_takes_back_an_edit(window, hands, bench_mill):
    hands.enter("262")
    hands.type("26")
    hands.press("Ctrl+Z")
    assert window.sheets["travel"].reading.line.text() == ""
    assert len(window.session.job.all(TravelSurvey)[0].readings) == 1
    hands.press("Ctrl+Z")
    assert window.session.job.all(TravelSurvey) == []


def test_a_travel_corrected_to_nonsense_keeps_the_old_figure(window, hands, bench_mill):
    hands.enter("262")
    rows = window.sheets["travel"].table.rows
    rows.setData(rows.index(0, 1), "26x")
    assert "old figure stays" in window.statusBar().currentMessage()
    assert window.session.job.all(TravelSurvey)[0].readings[0].mm == 262


def test_text_that_is_no_length_stays_is_marked_and_explained(window, hands, bench_mill):
    field = window.sheets["travel"].reading
    hands.enter("26x2")
    assert field.line.text() == "26x2"
    assert "character 3" in field.complaint.text()
    assert window.session.job.all(TravelSurvey) == []
    hands.press("Ctrl+A")
    hands.enter("262")
    assert field.complaint.text() == ""
    assert window.session.job.all(TravelSurvey)[0].readings[0].mm == 262


def test_a_negative_travel_can_be_turned_round_and_not_kept(window, hands, bench_mill):
    hands.enter("-262")
    question = window.sheets["travel"].reading.question
    assert question.open
    assert not question.keep.isVisible()
    hands.press("Alt+2")
    assert window.session.job.all(TravelSurvey) == []
    hands.press("Alt+1")
    assert window.session.job.all(TravelSurvey)[0].readings[0].mm == 262


def test_a_scale_shorter_than_the_travel_is_told_with_its_number(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["scale"])
    hands.press("Return")
    window.sheets["scale"].own_size.setFocus()
    hands.press("Ctrl+A")
    hands.enter("250")
    assert any("driven into its end by 6 mm" in t for t in window.findings.texts())
    assert "282 mm or more" in window.sheets["scale"].instruction.text()


def test_a_negative_margin_is_told_and_the_stroke_is_still_drawn(window, hands, bench_mill):
    hands.enter("262", "262")
    hands.press(KEYS["scale"])
    hands.press("Return")
    sheet = window.sheets["scale"]
    axis = bench_mill.axis
    bench_mill.apply("margin", [plan_of(bench_mill.job, axis).with_(margin=LengthEntry.read("-20", "mm"))])
    assert sheet.stroke._shown.stroke.travel_mm == 262
    assert any("margin" in t.lower() for t in window.findings.texts())


def test_a_zero_move_is_refused_in_a_sentence(window, hands, bench_mill):
    hands.press(KEYS["calibrate"])
    hands.enter("0", "0.1")
    assert "move is zero" in window.sheets["calibrate"].true.complaint.text()


def test_rows_are_deleted_and_corrected_by_key(window, hands, demo):
    window.session.show_axis("axis-y")
    hands.press(KEYS["align"])
    sheet = window.sheets["align"]
    before = sheet.sweep().readings
    sheet.table.setFocus()
    sheet.table.selectRow(1)
    hands.press("Delete")
    assert sheet.sweep().readings == (before[0], *before[2:])
    sheet.table.rows.setData(sheet.table.rows.index(0, 2), "nonsense")
    assert "old figure stays" in window.statusBar().currentMessage()
    sheet.table.rows.setData(sheet.table.rows.index(0, 2), "3 thou")
    assert sheet.sweep().readings[0].reading.mm == pytest.approx(0.0762)


def test_no_list_is_wider_than_its_column(window, demo):
    for name in ("travel", "scale", "align", "calibrate"):
        window.show_sheet(name)
        QApplication.processEvents()
        figures = window.sheets[name].list
        assert figures.widget().minimumSizeHint().width() <= figures.viewport().width(), name


def test_what_is_set_once_is_reached_and_changed_by_key(window, hands, demo):
    window.session.show_axis("axis-y")
    hands.press(KEYS["align"])
    sheet = window.sheets["align"]
    sheet.list.headings[2].setFocus()
    hands.press("Return")
    sheet.list.hold("screw_left")
    hands.enter("25")
    assert sheet.sweep().screw_left.mm == 25
    hands.press(KEYS["align"])
    assert QApplication.focusWidget() is sheet.reading.line


def test_the_reader_is_dragged_along_its_stroke(window, hands, demo):
    hands.press(KEYS["scale"])
    view = window.sheets["scale"].stroke
    view.setFocus()
    hands.press("Home")
    at_start = window.sheets["scale"].position.text()
    assert "Axis 0 mm from its left mark" in at_start
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(view.width() // 2, view.height() // 2))
    assert "Axis 3" in window.sheets["scale"].position.text()
    hands.press("End")
    assert "680.47" in window.sheets["scale"].position.text()


def test_a_second_window_is_read_only_and_says_so(window, demo):
    second = Window(Session())
    second.files.open_demo()
    second.show()
    assert second.banner.isVisible()
    assert "another window" in second.banner.text.text()
    second.show_sheet("log")
    second.sheets["log"].line.setText("no")
    second.sheets["log"]._log()
    assert "read-only" in second.statusBar().currentMessage()
    assert second.sheets["log"].line.text() == "no"
    second.session.job.close()
    shiboken6.delete(second)


def test_a_disk_that_refuses_shows_a_banner_and_keeps_the_work(window, hands, bench_mill, answer):
    db = window.session.job._file._db
    db.execute("PRAGMA max_page_count=1")
    hands.press(KEYS["log"])
    long = "x" * 1900
    for _ in range(6):
        window.sheets["log"].line.setText(long)
        window.sheets["log"]._log()
    assert window.banner.isVisible()
    assert "kept in memory" in window.banner.text.text()
    answer("Stay")
    assert not window.close()
    db.execute("PRAGMA max_page_count=100000")
    hands.click(window.banner.retry)
    assert not window.banner.isVisible()
    assert window.session.job.pending == {}


@pytest.mark.parametrize("content", [b"", b"\x89PNG\r\n\x1a\n" + bytes(300), b"SQLite format 3\0" + bytes(50)])
def test_files_that_are_no_job_are_told_and_what_was_open_stays(window, demo, tmp_path, content):
    bad = tmp_path / "bad.vernus"
    bad.write_bytes(content)
    assert not window.files.attempt(lambda: window.session.open_job(bad))
    assert "bad.vernus" in window.banner.text.text()
    assert window.session.job.info.title == "Universal mill, refit"


def test_a_refused_new_job_says_why_on_the_start_sheet(window, hands, tmp_path):
    taken = tmp_path / "taken.vernus"
    taken.write_text("something")
    window.start.path.setText(str(taken))
    hands.click(window.start.begin)
    assert "already there" in window.start.complaint.text()
    assert taken.read_text() == "something"


def test_recent_jobs_are_offered(window, bench_mill, tmp_path):
    assert settings.recent_jobs() == [tmp_path / "mill.vernus"]
    window.session.close_job()
    assert "mill" in [b.text() for b in window.start.findChildren(type(window.start.begin))]


def test_every_sheet_of_every_axis_of_every_machine_kind_opens_empty(window, tmp_path):
    for kind in machine_kinds():
        if kind.id != "knee-mill-turret" and not SOAK:
            continue
        window.session.new_job(tmp_path / f"{kind.id}.vernus", "x", kind.id, "in", "")
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        for n, axis in enumerate(window.session.job.axes()):
            window.session.show_axis(axis.id)
            for sheet in SHEETS:
                whole = kind.id in ("knee-mill-turret", "lathe-mid") and (n == 0 or sheet.name in AXIS_SHEETS)
                if whole or sheet.name in ("machine", "scale", "faces", "envelope"):
                    window.show_sheet(sheet.name)
                    window.grab()


ADVISING = (
    "machine", "travel", "scale", "faces", "envelope", "order", "align", "cables", "powerup", "calibrate",
    "positioning", "fit", "bracket", "mesh", "trips", "run-in", "card",
)  # fmt: skip


SIZES = [((1200, 700), False), ((1280, 800), True), ((1920, 1080), False)]


@pytest.mark.parametrize(("size", "dark"), SIZES if SOAK else SIZES[:1])
def test_the_advice_is_visible_without_scrolling(window, demo, dark, size):
    window.resize(*size)
    window.session.show_theme("dark" if dark else "light")
    for axis in ("axis-x", "axis-y", "axis-w"):
        window.session.show_axis(axis)
        for name in ADVISING if axis == "axis-x" else [n for n in ADVISING if n in AXIS_SHEETS]:
            window.show_sheet(name)
            for _ in range(4):  # a wrapped label asks for its height in a second pass of the layout
                QApplication.processEvents()
            sheet = window.sheets[name]
            assert window.size().width() == size[0], f"{name} does not fit {size}"
            assert window.size().height() == size[1], f"{name} does not fit {size}"
            for label in (sheet.instruction, sheet.headline.figure):
                wanted = label.heightForWidth(label.width()) if label.wordWrap() else label.sizeHint().height()
                assert label.visibleRegion().boundingRect().height() >= wanted - 1, (axis, name)


def test_no_sheet_flashes_up_a_window_of_its_own(window, demo, hands):
    class Watch(QObject):
        def __init__(self):
            super().__init__()
            self.strays = []

        def eventFilter(self, watched, event):
            if event.type() == QEvent.Type.Show and isinstance(watched, QWidget) and watched.isWindow():
                self.strays.append(watched)
            return False

    watch = Watch()
    QApplication.instance().installEventFilter(watch)
    for n, sheet in enumerate(SHEETS):
        window.show_sheet(sheet.name)
        if n % 4 == 0 or SOAK:
            hands.press("F11")
            hands.press("F11")
    QApplication.instance().removeEventFilter(watch)
    assert watch.strays == []
    assert window.isActiveWindow()


def test_what_somebody_typed_is_never_run_as_markup(window, demo):
    evil = "<b>bold</b><img src=x>"
    window.session.apply("rename", [window.session.job.info.with_(title=evil)])
    window.show_sheet("log")
    labels = [w for w in window.findChildren(QLabel) if evil in w.text()]
    assert labels
    assert all(w.textFormat() == Qt.TextFormat.PlainText for w in labels)


def test_bench_view_shows_only_figure_entry_and_instruction(window, hands, demo):
    hands.press(KEYS["align"])
    hands.press("F11")
    sheet = window.sheets["align"]
    assert not window.route.isVisible()
    assert not sheet.view.chart.isVisible()
    assert sheet.view.dial.height() > 300
    assert sheet.reading.isVisible()
    assert sheet.headline.figure.font().pixelSize() > 50
    hands.press("Escape")
    assert window.route.isVisible()


def test_export_and_import_through_the_session(window, demo, tmp_path):
    window.session.import_job(demo_source(), tmp_path / "again.vernus")
    assert window.session.job.info.title == "Universal mill, refit"
    assert isinstance(window.session.job.all(JobInfo)[0], JobInfo)


def test_saving_a_copy_leaves_an_openable_file(window, demo, tmp_path):
    window.session.job.save_copy(tmp_path / "copy.vernus")
    copy = Job.open(tmp_path / "copy.vernus")
    assert copy.all(Sweep) == window.session.job.all(Sweep)
    assert copy.all(LogEntry)
    copy.close()

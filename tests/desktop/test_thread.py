"""The whole thread from New job to PDF, with key presses and clicks only."""

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit

from tests.printed import words_of
from tests.share import SOAK
from vernus.desktop.sheet_list import KEYS
from vernus.job.document import Job
from vernus.job.entities import Compensation, ScalePlan, Sweep


def answer_file_dialog(path):
    """Types a path into the file dialog once it is up, and presses Enter."""

    def answer():
        dialog = next((w for w in QApplication.topLevelWidgets() if isinstance(w, QFileDialog) and w.isVisible()), None)
        if dialog is None:
            QTimer.singleShot(50, answer)
            return
        dialog.findChild(QLineEdit).setText(str(path))
        dialog.accept()

    QTimer.singleShot(50, answer)


@pytest.mark.parametrize(
    ("units", "travel", "face", "tilted", "straight", "moved", "shown"),
    [
        ("mm", ["262", "262,4"], "420", "0.03", "0.00", "250", "250.005"),
        ("in", ["10.33", "10 11/32"], "16.5", "1.2", "0", "10", "10.0002"),
    ][0 if SOAK else 1 :],
)
def test_from_new_job_to_pdf(window, hands, tmp_path, units, travel, face, tilted, straight, moved, shown):
    start = window.start
    hands.type("Harbour mill")
    start.kind.setFocus()
    hands.press("Down")
    hands.press("Down")
    start.units.setFocus()
    if units == "in":
        hands.press("Down")
    start.path.setFocus()
    hands.press("Ctrl+A")
    hands.type(str(tmp_path / "harbour.vernus"))
    hands.press("Return")
    session = window.session
    assert session.job is not None
    assert [a.name for a in session.job.axes()] == ["X", "Y", "Z"]

    assert window.session.in_view == "travel"
    hands.enter(*travel)
    assert (
        "262" in window.sheets["travel"].headline.figure.text()
        or "10.33" in window.sheets["travel"].headline.figure.text()
    )

    hands.press("Ctrl+G")
    assert window.session.in_view == "scale"
    hands.press("Down")
    hands.press("Return")
    plan = session.job.of_axis(ScalePlan, session.axis_id)[0]
    assert (plan.family, plan.measuring.mm) == ("glass-slim", 300)
    window.sheets["scale"].fields[1].setFocus()
    hands.enter(face)
    assert session.job.of_axis(ScalePlan, session.axis_id)[0].face is not None

    hands.press("Ctrl+G")
    assert window.session.in_view == "faces"
    hands.press("Return")
    assert session.job.of_axis(ScalePlan, session.axis_id)[0].face_id

    hands.press("Ctrl+G")
    assert window.session.in_view == "receive", "measured before anything is made"
    hands.press(KEYS["align"])
    step = float(tilted)
    hands.enter(*[f"{step * n:.3f}" for n in range(7)])
    sheet = window.sheets["align"]
    assert sheet.headline.word.text() == "FAIL"
    assert "Keep the left screw" in sheet.instruction.text()
    hands.press("Ctrl+Return")
    hands.enter(*[straight] * 7)
    assert sheet.headline.word.text() == "PASS"
    hands.click(sheet.planes["edge"])
    hands.enter(*[straight] * 7)
    assert [s.plane for s in session.job.all(Sweep)] == ["face", "face", "edge"]

    hands.press("Ctrl+G")
    assert window.session.in_view == "reader"
    hands.press(KEYS["calibrate"])
    hands.enter(moved, shown, moved, shown, moved, shown)
    assert window.sheets["calibrate"].headline.figure.text() in ("leave 200 per mm", "leave 5080 per inch")
    hands.press("Ctrl+Return")
    assert session.job.all(Compensation) == [], "what is left as it is isn't keyed in"
    hands.enter(*[moved] * 6)
    assert window.sheets["calibrate"].headline.word.text() == "PASS"

    hands.press("Ctrl+G")
    assert window.session.in_view == "reader", "a check of the display says nothing of how the reader was set"
    hands.press(KEYS["paper"])
    answer_file_dialog(tmp_path / "report.pdf")
    hands.press("Ctrl+P")
    text = words_of(tmp_path / "report.pdf")
    assert "Harbour mill" in text
    assert "counts per" in text
    assert ("thou" in text) == (units == "in")

    session.job.close()
    again = Job.open(tmp_path / "harbour.vernus")
    assert sum(len(s.readings) for s in again.all(Sweep)) == 21
    again.close()


def test_a_seven_station_sweep_takes_the_seven_numbers_and_seven_enters(window, hands, bench_mill):
    hands.press("Ctrl+7")
    hands.presses = 0
    readings = ["0", ".02", ".05", ".07", ".09", ".12", ".14"]
    hands.enter(*readings)
    assert hands.presses == sum(map(len, readings)) + 7
    assert "until the dial goes" in window.sheets["align"].instruction.text()


def test_every_key_shown_in_the_help_is_a_real_one(window, hands, demo, qtbot):
    hands.press("F1")
    dialog = QApplication.activeModalWidget() or window.findChildren(type(window))
    qtbot.waitUntil(lambda: any(w.windowTitle() == "Keys" for w in QApplication.topLevelWidgets()))
    dialog = next(w for w in QApplication.topLevelWidgets() if w.windowTitle() == "Keys")
    assert dialog.isVisible()
    dialog.close()

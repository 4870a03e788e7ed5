"""Twelve things somebody wants on the first day, each found and done without the guide; keys and clicks are counted.

What is counted is what goes beyond typing the figures themselves. ``-s`` prints the table.
"""

import pytest
from PySide6.QtWidgets import QFileDialog

from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import Compensation, ScalePlan

MOST = {
    "what scale for this axis": 9, "which screw": 2, "what do I key in": 2, "will it hit": 1, "where do I drill": 1,
    "is it the temperature": 1, "what's next tonight": 1, "did I lose anything": 1, "what did I set last year": 1,
    "send it to a friend": 1, "print the wall sheet": 3, "undo that": 1,
}  # fmt: skip


@pytest.fixture
def count(hands, window):
    """What was pressed and clicked since it was last asked."""

    class Count:
        def __init__(self):
            self.clicks = self._typed = 0
            self._before = hands.presses

        def type(self, *texts):
            for text in texts:
                hands.enter(text)
                self._typed += len(text)

        def click(self, widget):
            self.clicks += 1
            hands.click(widget)

        def done(self, what):
            took = hands.presses - self._before - self._typed + self.clicks
            self.clicks, self._typed, self._before = 0, 0, hands.presses
            print(f"{what}: {took}")  # noqa: T201
            assert took <= MOST[what], f"{what} took {took} keys and clicks"

    return Count()


def test_what_a_scale_which_screw_and_what_to_key_in(window, hands, demo, count, tmp_path):
    window.session.new_job(tmp_path / "new.vernus", "New", "bench-mill", "mm", "", {"X": ("new", "none")})
    hands.press(KEYS["travel"])
    count._before = hands.presses
    hands.press(KEYS["travel"])
    count.type("398", "398.5")
    hands.press(KEYS["scale"])
    hands.press("Down")
    hands.press("Return")
    assert window.session.job.all(ScalePlan)[0].family
    count.done("what scale for this axis")
    window.files.open_demo("mill")
    count._before = hands.presses
    hands.press("Alt+1")
    hands.press(KEYS["align"])
    assert "screw" in window.sheets["align"].instruction.text()
    count.done("which screw")
    window.session.show_axis("axis-x")
    count._before = hands.presses
    hands.press(KEYS["calibrate"])
    assert "leave 1.000000" in window.sheets["calibrate"].headline.figure.text()
    count.done("what do I key in")


def test_will_it_hit_where_to_drill_and_is_it_the_temperature(window, hands, demo, count):
    count._before = hands.presses
    hands.press(KEYS["envelope"])
    assert (
        "loses" in window.sheets["envelope"].instruction.text()
        or "stop" in window.sheets["envelope"].instruction.text()
    )
    count.done("will it hit")
    window.session.show_axis("axis-y")
    count._before = hands.presses
    hands.press(KEYS["mounts"])
    rows = [" ".join(r) for r in window.sheets["mounts"].table.rows.rows]
    assert any("tap M5" in r for r in rows)
    count.done("where do I drill")
    window.session.show_axis("axis-x")
    count._before = hands.presses
    hands.press(KEYS["calibrate"])
    assert window.sheets["calibrate"].warm.text()
    count.done("is it the temperature")


def test_next_lost_last_year_and_undo(window, hands, demo, count):
    count._before = hands.presses
    hands.press(KEYS["card"])
    assert window.sheets["card"].instruction.text().startswith("Next")
    count.done("what's next tonight")
    told = []
    demo.notice.connect(told.append)
    count._before = hands.presses
    hands.press("Ctrl+S")
    assert "nothing to save" in window.statusBar().currentMessage()
    count.done("did I lose anything")
    hands.press("Alt+X")
    count._before = hands.presses
    hands.press(KEYS["log"])
    assert window.sheets["log"].checks.rows.rows
    assert demo.job.all(Compensation)
    count.done("what did I set last year")
    window.sheets["log"].line.setFocus()
    hands.enter("a slip")
    count._before = hands.presses
    hands.press("Ctrl+Z")
    assert "Undone" in told[-1]
    count.done("undo that")


def test_a_friend_gets_the_job_and_the_wall_its_sheet(window, hands, demo, count, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "out.vernus"), ""))
    count._before = hands.presses
    hands.press("Ctrl+Shift+S")
    assert (tmp_path / "out.vernus").exists()
    count.done("send it to a friend")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "wall.pdf"), ""))
    hands.press("Alt+X")
    count._before = hands.presses
    hands.press(KEYS["paper"])
    window.sheets["paper"].what.setFocus()
    hands.press("Down")
    hands.press("Ctrl+P")
    assert (tmp_path / "wall.pdf").exists()
    count.done("print the wall sheet")

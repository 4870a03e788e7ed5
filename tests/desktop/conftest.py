"""The real window, driven by the keys a user presses."""

import pytest
import shiboken6
from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from vernus.desktop.session import Session
from vernus.desktop.window import Window
from vernus.paper.ink import load_fonts


class Hands:
    """Types and presses into whatever has the focus, counts the presses, and keys and clicks ``beyond`` figures."""

    def __init__(self, window):
        self.window, self.presses, self.beyond = window, 0, 0

    def type(self, text):
        for letter in text:
            QTest.keyClicks(QApplication.focusWidget() or self.window, letter)
            self.presses += 1

    def press(self, keys):
        combined = QKeySequence(keys)[0]
        QTest.keyClick(QApplication.focusWidget() or self.window, combined.key(), combined.keyboardModifiers())
        self.presses += 1
        self.beyond += 1
        QApplication.processEvents()

    def enter(self, *texts):
        """Each text and Enter."""
        for text in texts:
            self.type(text)
            self.press("Return")

    def click(self, widget):
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)
        self.beyond += 1
        QApplication.processEvents()

    def reach(self, widget):
        """Put the cursor into a control, as one click would."""
        widget.setFocus()
        self.beyond += 1


@pytest.fixture
def window(qtbot, qapp):
    load_fonts()
    made = Window(Session())
    made.show()
    with qtbot.waitActive(made):
        pass
    yield made
    if made.session.job is not None:
        made.session.job.close()
    shiboken6.delete(made)
    assert QApplication.topLevelWidgets() == [], "a widget outlived its window"


@pytest.fixture
def hands(window):
    return Hands(window)


@pytest.fixture
def demo(window):
    window.files.open_demo()
    return window.session


@pytest.fixture
def bench_mill(window, tmp_path):
    """A fresh three-axis job."""
    window.session.new_job(tmp_path / "mill.vernus", "Mill", "bench-mill", "mm", "Our mill")
    return window.session


@pytest.fixture
def answer():
    """Press a button, by words of it, of the question that comes next; ``answer.asked`` are the questions."""

    def press(words):
        def look(tries=200):
            box = QApplication.activeModalWidget()
            if box is None:
                if tries:
                    QTimer.singleShot(10, lambda: look(tries - 1))
                return
            press.asked.append(box.text())
            next(b for b in box.buttons() if words in b.text().replace("&", "")).click()

        QTimer.singleShot(0, look)

    press.asked = []
    return press

"""The same desk through the real window: sheets by name, fields by what stands beside them, lists by their words."""

import re

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QTableView

from tests.shop.typing_in import Desk

SHEETS = {"machine": "Machine", "travel": "Travel", "scale": "Scale", "face": "Face", "receive": "Receive"}


def _plain(text):
    return re.sub(r"[^\w]", "", text)


def _top(widget):
    return widget.mapToGlobal(QPoint(0, 0)).y()


class Person:
    """Somebody at a window, who knows nothing but what stands there."""

    def __init__(self, window):
        self.window = window

    def press(self, keys):
        one = QKeySequence(keys)[0]
        QTest.keyClick(QApplication.focusWidget() or self.window, one.key(), one.keyboardModifiers())
        QApplication.processEvents()

    def write(self, text):
        """Over what stands in the field, and Enter; what is asked about is kept as it was typed."""
        self.press("Ctrl+A")
        for letter in text:
            QTest.keyClicks(QApplication.focusWidget() or self.window, letter)
        self.press("Return")
        if any(
            b.isVisible() and b.text().replace("&", "").startswith("keep")
            for b in self.window.findChildren(QAbstractButton)
        ):
            self.press("Alt+2")

    def turn_to(self, sheet, axis=None):
        """To a sheet by its name in the menu, and to an axis by its letter."""
        if axis is not None:
            self.press(f"Alt+{axis}")
        action = next(a for a in self.window.findChildren(QAction) if a.text().replace("&", "") == SHEETS[sheet])
        action.trigger()
        QApplication.processEvents()

    def field(self, words):
        """The editor that is called so, or the one nearest below a label that begins so; its group is opened."""
        for heading in (None, *self._folded()):
            if heading is not None:
                QTest.mouseClick(heading, Qt.MouseButton.LeftButton)
                QApplication.processEvents()
            called = [
                w
                for kind in (QLineEdit, QComboBox)
                for w in self.window.findChildren(kind)
                if w.isVisible() and _plain(w.accessibleName()).startswith(_plain(words))
            ]
            if called:
                return min(called, key=_top)
            below = self._below(words)
            if below is not None:
                return below
        raise AssertionError(f"“{words}” stands nowhere on this sheet")

    def _folded(self):
        """The headings of groups that can be seen, as they stand now."""
        return [b for b in self.window.findChildren(QAbstractButton) if b.isVisible() and type(b).__name__ == "Heading"]

    def _below(self, words):
        labels = [
            w for w in self.window.findChildren(QLabel) if w.isVisible() and _plain(w.text()).startswith(_plain(words))
        ]
        for label in labels:
            found = [
                w for kind in (QLineEdit, QComboBox) for w in label.parentWidget().findChildren(kind) if w.isVisible()
            ]
            below = [w for w in found if _top(w) >= _top(label)]
            if below:
                return min(below, key=_top)
        return None

    def fill(self, words, text):
        editor = self.field(words)
        editor.setFocus(Qt.FocusReason.OtherFocusReason)
        if isinstance(editor, QComboBox):
            at = next(n for n in range(editor.count()) if editor.itemText(n).startswith(text))
            editor.setCurrentIndex(at)
            editor.activated.emit(at)
        else:
            self.write(text)

    def choose(self, *words):
        """Enter on the row of a list that has all these words in it."""
        for table in self.window.findChildren(QTableView):
            if not table.isVisible():
                continue
            model = table.model()
            for n in range(model.rowCount()):
                row = " ".join(str(model.index(n, c).data() or "") for c in range(model.columnCount()))
                if all(w in row for w in words):
                    table.setFocus()
                    table.selectRow(n)
                    self.press("Return")
                    return
        raise AssertionError(f"no list has a row with {words}")


class WindowDesk(Desk):
    """A desk whose survey, choices and deliveries are typed into the window; the rest as at any desk."""

    def __init__(self, kind, units, scope, window, folder):
        window.session.new_job(folder / "shop.vernus", "A job of the shop", kind, units, "Our machine", scope)
        QApplication.processEvents()
        super().__init__(kind, units, scope, job=window.session.job)
        self.person = Person(window)

    def _text(self, mm):
        return self.length(mm).text

    def measure(self, label, mm):
        self._said = self._asked = None
        self.person.turn_to("machine")
        self.person.fill(label, self._text(mm))

    def travel(self, axis, readings, division):
        if axis not in self.in_scope:  # its motion has no Travel sheet of its own
            super().travel(axis, readings, division)
            return
        self._said = self._asked = None
        self.person.turn_to("travel", axis)
        self.person.fill("Division of the tool", self._text(division))
        for reading in readings:
            self.person.fill("Distance between the marks", self._text(reading))

    def came(self, axis, **fields):
        if axis not in self.bought:  # what hangs there already has no Receive sheet
            super().came(axis, **fields)
            return
        self._said = self._asked = None
        self.person.turn_to("receive", axis)
        labels = {"measuring": "Measuring length", "overall": "True body length", "reader": "Reader, length",
                  "hole_from_end": "First hole from its end"}  # fmt: skip
        for key, mm in fields.items():
            if key in labels:
                self.person.fill(labels[key], self._text(mm))
        rest = {k: v for k, v in fields.items() if k not in labels}
        if rest:
            super().came(axis, **rest)

    def scale(self, axis, **fields):
        super().scale(axis, **{k: v for k, v in fields.items() if k != "face"})
        if "face" in fields:
            self.person.turn_to("face", axis)
            self.person.choose(fields["face"])

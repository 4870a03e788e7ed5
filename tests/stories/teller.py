"""Lives a job through the real window: keys and clicks only, figures typed once, read back from screen and paper."""

from PySide6.QtCore import QEvent
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QFileDialog, QLabel, QLineEdit, QTableView

from tests.on_paper import missing_on_paper
from tests.printed import words_of
from vernus.desktop.parts.choice import ChoiceBox
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.question import KEEP_KEYS, TAKE_KEYS
from vernus.desktop.parts.row import Row
from vernus.desktop.parts.scope_table import ScopeTable
from vernus.desktop.parts.tabs import Tabs
from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import Photo

MOST_CHOICES = 60


class Teller:
    """One person at one window."""

    def __init__(self, window, hands, tmp_path, monkeypatch):
        self.window, self.hands, self._tmp, self._patch = window, hands, tmp_path, monkeypatch
        self.sheet, self.taken = None, None

    def think_again(self):
        """Up to here the keys and clicks of a story are counted: what comes is a second thought."""
        self.taken = self.hands.beyond

    @property
    def job(self):
        return self.window.session.job

    def begin(self, machine, units, **scope):
        """A new job from the Start sheet; ``scope`` says per axis the words of its readout."""
        start = self.window.start
        start.refresh()
        self.click(start.name)
        self.hands.press("Ctrl+A")
        self.hands.type("A job")
        self.pick(start.kind, machine)
        self.pick(start.units, {"mm": "millimetres", "in": "inches"}[units])
        for axis, words in scope.items():
            for column, said in zip(
                ("readout", "drive"), (words, "none") if isinstance(words, str) else words, strict=True
            ):
                self.pick(start.findChild(ScopeTable).boxes[axis, column], said)
        self.click(start.begin)
        assert self.job is not None, start.complaint.text()

    def go(self, name, axis=None):
        """Turn to a sheet, and to an axis."""
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        if axis is not None:
            self.hands.press(f"Alt+{axis}")
        self.hands.press(KEYS[name])
        self.sheet = self.window.sheets[name]
        assert self.sheet.isVisible(), f"{name} can't be reached"

    def click(self, widget):
        self.hands.click(widget)

    def press(self, words):
        """Press a button by its words."""
        button = next(b for b in self.sheet.findChildren(QAbstractButton) if words in b.text() and b.isVisible())
        self.click(button)

    def pick(self, box, words):
        """Choose by the keys of a choice: its first letter, or one step after the other."""
        offered = [box.itemText(n) for n in range(box.count())]
        words = words if words in offered else next((t for t in offered if t.startswith(words)), words)
        assert words in offered, f"“{words}” is not offered; there are {offered}"
        if box.currentText() == words:
            return
        if QApplication.focusWidget() is not box:
            self.hands.reach(box)
        for _ in range(MOST_CHOICES):
            if box.currentText() == words:
                return
            same = [t for t in offered if t[:1].lower() == words[:1].lower()]
            if isinstance(box, ChoiceBox) and words[:1].isalnum() and len(same) <= 3:
                self.hands.press(words[0].upper())
            elif isinstance(box, ChoiceBox):
                ahead = (offered.index(words) - box.currentIndex()) % len(offered)
                self.hands.press("Right" if ahead <= len(offered) / 2 else "Left")
            else:
                self.hands.press("Down" if box.currentIndex() < offered.index(words) else "Up")
        raise AssertionError(f"the keys never come to “{words}”")

    def field(self, name):
        """A row of the sheet by its name; its group is opened where it is folded."""
        found = [f for f in self.sheet.findChildren(FigureRow) if f.name == name and f.applies]
        shown = [f for f in found if f.isVisible()]
        tabs = [t for t in self.sheet.findChildren(Tabs) if t.isVisible()]
        for tab in tabs if found and not shown else ():
            page = next((n for n in range(tab.stack.count()) if tab.stack.widget(n).isAncestorOf(found[0])), None)
            if page is not None and page != tab.stack.currentIndex():
                self.click(list(tab.buttons.values())[page])
        shown = [f for f in found if f.isVisible()]
        if not shown:
            for row in found:
                figures = next(w for w in self.sheet.findChildren(FigureList) if row in w.rows)
                heading = next(h for h in figures.headings if row in h.holds.rows)
                if heading.isVisible():
                    self.click(heading)
                    shown = [f for f in found if f.isVisible()]
                    break
        assert shown, f"{name} is nowhere on this sheet"
        where = shown[0].visibleRegion().boundingRect().height()
        assert where >= min(20, shown[0].height()), f"{name} has to be scrolled to"
        return shown[0]

    def fill(self, **figures):
        """Type into rows by their names; what is a choice is chosen by its words."""
        for name, text in figures.items():
            field = self.field(name)
            if isinstance(field.editor, QComboBox):
                self.pick(field.editor, text)
                continue
            line = field.editor if isinstance(field.editor, QLineEdit) else field.editor.line
            if QApplication.focusWidget() is not line:
                self.hands.reach(line)
            self.hands.enter(str(text))
            assert not self.asked(), f"{name}: {self.asked()}"

    def asked(self):
        """What is being asked about a figure, if anything."""
        questions = [f.editor for f in self.sheet.findChildren(Row) if hasattr(f.editor, "question")]
        shown = [e.question for e in questions if e.question is not None and e.question.isVisible()]
        return " ".join(label.text() for q in shown for label in q.findChildren(QLabel))

    def log(self, *readings):
        """Readings one after the other into the sheet's own entry."""
        self.sheet.focus_entry()
        self.hands.enter(*readings)

    def add(self, tab, **figures):
        """A new line in a list, with its figures."""
        button = self.sheet.tabs.buttons[tab.lower()]
        self.click(button)
        self.hands.press("Ctrl+Ins")
        self.fill(**figures)

    def choose(self, table, words):
        """Choose a row of a table by some of its words, and press Enter on it."""
        rows = [" ".join(r) for r in table.rows.rows]
        at = next((n for n, row in enumerate(rows) if words in row), None)
        assert at is not None, f"“{words}” is not among {rows}"
        self.hands.reach(table)
        table.selectRow(at)
        self.hands.press("Return")

    def measure(self, words, text):
        """A distance of the machine, by some words of its label."""
        rows = self.sheet.measures.list.rows
        row = next((r for r in rows if words in r.label), None)
        assert row is not None, f"“{words}” is no measure: {[r.label for r in rows]}"
        self.fill(**{row.name: text})

    def survey(self, axis, *readings, tool=None, accuracy=None):
        """The travel of an axis between its marks."""
        self.go("travel", axis)
        if tool is not None:
            self.pick(self.sheet.tool, tool)
        self.log(*readings)
        if accuracy is not None:
            self.fill(accuracy=accuracy)

    def scale(self, axis, family, **options):
        """A scale of a family from the list of sizes that serve."""
        self.go("scale", axis)
        if options:
            self.fill(**options)
        self.choose(self.sheet.table, family)

    def face(self, axis, words):
        """The face a scale goes on."""
        self.go("faces", axis)
        self.choose(self.sheet.table, words)

    def findings(self, words=""):
        """The findings in view, those with some words in them."""
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        return "\n".join(t for t in self.window.findings.texts() if words in t)

    def said(self):
        """Everything that can be read on the sheet and among the findings."""
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        texts = [label.text() for label in self.sheet.findChildren(QLabel) if label.isVisible()]
        for table in self.sheet.findChildren(QTableView):
            if table.isVisible():
                texts += [" ".join(row) for row in table.model().rows]
        return "\n".join([*texts, *self.window.findings.texts()]).replace("\xa0", " ").replace("\u2060", "")

    def paper(self):
        """The report as it is printed, in words."""
        path = self._tmp / "report.pdf"
        self._patch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(path), "PDF (*.pdf)"))
        self.hands.press(KEYS["paper"])
        self.sheet = self.window.sheets["paper"]
        self.click(self.sheet.write)
        return " ".join(words_of(path).replace("\xa0", " ").replace("\u2060", "").split())

    def step(self, words, note="", minutes=None):
        """Tick a step of the card by some of its words, with a note and the minutes it took."""
        self.go("card")
        table = self.sheet.table
        at = next((n for n, r in enumerate(table.rows.rows) if words in " ".join(r)), None)
        assert at is not None, f"“{words}” is no step of the card: {[r[3] for r in table.rows.rows]}"
        self.hands.reach(table)
        table.selectRow(at)
        if minutes is not None:
            self.click(self.sheet.tabs.buttons["step"])
            self.fill(minutes=minutes)
        if note:
            self.hands.reach(self.sheet.note)
            self.hands.type(note)
        self.hands.press("Ctrl+Return")

    def photo(self, words):
        """A picture chosen on the log, and what it shows."""
        path = self._tmp / "picture.png"
        image = QImage(900, 600, QImage.Format.Format_RGB32)
        image.fill(0xFF8E9794 + len(list(self.job.all(Photo))))
        image.save(str(path))
        self._patch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: ([str(path)], ""))
        self.go("log")
        self.click(self.sheet.tabs.buttons["pictures"])
        before = len(self.job.all(Photo))
        self.hands.reach(self.sheet.pictures.list.table)
        self.hands.press("Ctrl+Ins")
        for _ in range(1000):
            QTest.qWait(5)
            if not self.sheet.pictures.intake.busy:
                break
        assert len(self.job.all(Photo)) == before + 1
        self.sheet.pictures.list.choose(self.job.all(Photo)[-1].id)
        self.fill(words=words)

    def nothing_missing_on_paper(self):
        """Every figure and finding of every sheet is on paper, or left out on purpose."""
        missing = missing_on_paper(self.window, self._tmp / "whole.pdf")
        assert not missing, "\n".join(map(str, missing))

    def accept(self):
        """Answer what is asked with what was meant."""
        self.hands.press(TAKE_KEYS)

    def keep(self):
        """Answer what is asked: keep it as it was typed."""
        self.hands.press(KEEP_KEYS)

    def part_of_feed(self, name, face=None):
        """A sheet of the power feed by its key, and one of its faces."""
        self.go(name)
        for _ in range(3):
            if face is None or self.sheet.face == face:
                return
            self.hands.press("Ctrl+Tab")
        raise AssertionError(f"{name} has no face “{face}”")

    def line(self, **figures):
        """A new line in the list of the section shown."""
        self.hands.press("Ctrl+Ins")
        self.fill(**figures)

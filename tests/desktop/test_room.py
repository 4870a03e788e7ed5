"""Nothing is cut: every word of every sheet, of both demos, has the room it takes, at three sizes and in both units."""

import pytest
from PySide6.QtCore import QRect, Qt
from PySide6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QTableView, QWidget

from tests.share import SOAK
from vernus.desktop.parts.group import Heading
from vernus.desktop.parts.row import Row
from vernus.desktop.sheet_list import SHEETS

CASES = [
    ((1200, 700), "mill", "mm"), ((1200, 700), "lathe", "in"), ((1200, 700), "mill", "in"),
    ((1920, 1080), "lathe", "mm"),
]  # fmt: skip
"""The smallest in every way, where words are cut first; the others where more hands are asked for."""


FOLDS = [("mm", "mill"), ("in", "lathe")][: None if SOAK else 1]
"""Where every group is opened too."""


def cut(window):
    """What can't be read whole: (kind of control, its text)."""
    found = []
    shown = [w for w in window.findChildren(QWidget) if w.isVisible()]

    def those(*kinds):
        return [w for w in shown if isinstance(w, kinds)]

    for label in those(QLabel):
        if not label.text() or label.visibleRegion().isEmpty():
            continue
        if label.wordWrap():
            wanted = label.heightForWidth(label.width())
            if wanted > label.height() + 3 and label.text()[-1] != "…":
                found.append(("words", label.text()))
        elif label.fontMetrics().horizontalAdvance(label.text()) > label.width() + 2:
            found.append(("label", label.text()))
    found += [("without its name", row.label) for row in those(Row) if not row.title.isVisible() and row.label]
    for button in those(QAbstractButton):
        text = button.text().replace("&&", "\0").replace("&", "").replace("\0", "&")
        if text and button.fontMetrics().horizontalAdvance(text) > button.width() - 4:
            found.append(("button", text))
    for widget in those(QLabel, QLineEdit, QComboBox, QAbstractButton):
        seen = widget.visibleRegion().boundingRect().width()
        if 0 < seen < widget.width() - 1:  # a column too narrow clips it at its side
            found.append(("clipped", widget.accessibleName() or getattr(widget, "text", str)()))
    for line in those(QLineEdit, QComboBox):
        if line.height() < line.fontMetrics().height() + 4:
            found.append(("squeezed", line.accessibleName()))
    for table in those(QTableView):
        found += [("cell", text) for text in cells_cut(table)]
    return found


def cells_cut(table):
    """Cells whose words are wider than their column less what style and focus frame take of it (18 px)."""
    model, found = table.model(), []
    header = table.horizontalHeader()
    for column in range(model.columnCount()):
        if table.isColumnHidden(column):
            continue
        title = str(model.headerData(column, Qt.Orientation.Horizontal) or "")
        if header.fontMetrics().horizontalAdvance(title) > header.sectionSize(column) - 6:
            found.append(f"header: {title}")
        for row in range(min(model.rowCount(), 60)):
            text = str(model.data(model.index(row, column)) or "")
            wraps = hasattr(table, "_rows_fit")
            words = max(text.split(" "), key=len, default="") if wraps else text
            if wraps:
                room = QRect(0, 0, table.columnWidth(column) - 20, 10_000)
                high = table.fontMetrics().boundingRect(room, Qt.TextFlag.TextWordWrap, text).height()
                if high > table.rowHeight(row) + 2:
                    found.append(f"row: {text}")
            if max(map(table.fontMetrics().horizontalAdvance, words.split("\n"))) > table.columnWidth(column) - 18:
                found.append(text)
    return found


@pytest.mark.parametrize(("size", "which", "units"), CASES if SOAK else CASES[:2], ids=str)
def test_every_word_of_every_sheet_can_be_read(window, hands, size, which, units):
    window.resize(*size)
    window.files.open_demo(which)
    window.session.show_units(units)
    window.statusBar().clearMessage()
    wrong = []
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        for _ in range(3):  # rows of wrapped words follow the width of their column
            QApplication.processEvents()
        wrong += [(sheet.name, *what) for what in cut(window)]
        for heading in window.sheets[sheet.name].findChildren(Heading) if size[0] == 1200 else ():
            if heading.isVisible() and heading.folded and (units, which) in FOLDS:
                hands.click(heading)
                QApplication.processEvents()
                wrong += [(sheet.name, heading.text(), *what) for what in cut(window)]
    assert wrong == []


def test_a_combo_box_shows_its_longest_choice_or_wraps_it_in_its_list(window, demo):
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        for box in window.sheets[sheet.name].findChildren(QComboBox):
            if box.isVisible() and box.count():
                longest = max(box.fontMetrics().horizontalAdvance(box.itemText(n)) for n in range(box.count()))
                assert longest <= max(box.width() - 36, box.view().minimumWidth()) or box.toolTip() or longest < 340

"""The drawing gets the room: measured at 1280 by 800 on every sheet of both demos, with two findings open."""

import pytest
from PySide6.QtWidgets import QApplication, QTableView

from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.row import ROW_PX, PartRow
from vernus.desktop.sheet_list import SHEETS

WINDOW = 1280 * 800
TABLES = ("scope", "order", "powerup", "card", "log")
"""Sheets whose answer is a list: they have no drawing of a thing."""
MOST_LINES_PX = 2 * 20 + 10


@pytest.mark.parametrize("demo", ["mill", "lathe"])
def test_the_picture_has_nearly_half_of_the_window(window, demo):
    window.resize(1280, 800)
    window.open_demo(demo)
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        for line in window.findings.lines[:2]:
            line.open(True)
        window.findings.fit()
        for _ in range(3):
            QApplication.processEvents()
        shown = window.sheets[window._current]
        if not shown.isVisible() or window._current in TABLES:
            continue
        zone = shown.picture_zone.width() * shown.picture_zone.height()
        assert zone >= 0.45 * WINDOW, (sheet.name, zone / WINDOW)
        drawn = sum(v.width() * v.height() for v in shown.findChildren(Picture) if v.isVisible())
        assert drawn >= 0.25 * WINDOW, (sheet.name, drawn / WINDOW)


@pytest.mark.parametrize("demo", ["mill", "lathe"])
def test_a_list_keeps_to_its_room_and_its_rows_to_one_line_mostly(window, demo):
    window.resize(1280, 800)
    window.open_demo(demo)
    tall = rows = 0
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        for _ in range(3):
            QApplication.processEvents()
        for figures in window.sheets[window._current].findChildren(FigureList):
            if not figures.isVisible():
                continue
            shown = [r for r in figures.rows if r.isVisibleTo(figures) and not isinstance(r, PartRow)]
            rows += len(shown)
            tall += sum(r.height() > ROW_PX + 2 for r in shown)
            opened = [h for h in figures.headings if h.holds.heading and not h.folded and not h.isHidden()]
            assert len(opened) <= 1 or figures._wanted_px() <= figures.viewport().height(), sheet.name
    assert rows > 60
    assert tall <= 0.2 * rows


def test_no_table_row_is_taller_than_two_lines(window, demo):
    window.resize(1280, 800)
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        for _ in range(3):
            QApplication.processEvents()
        for table in window.sheets[window._current].findChildren(QTableView):
            if table.isVisible():
                heights = [table.rowHeight(n) for n in range(table.model().rowCount())]
                assert max(heights, default=0) <= MOST_LINES_PX, (sheet.name, table.accessibleName())


def test_findings_are_lines_that_open_in_place(window, hands, demo):
    window.session.show_axis("axis-y")
    window.show_sheet("scale")
    line = window.findings.lines[0]
    assert not line.remedy.isVisible()
    line.setFocus()
    hands.press("Return")
    assert line.remedy.isVisible()
    hands.press("Ctrl+Space")
    hands.press("Ctrl+Space")
    assert not line.remedy.isVisible()

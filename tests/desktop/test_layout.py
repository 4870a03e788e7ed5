"""The drawing gets the room: measured at 1280 by 800 on every sheet of both demos, with two findings open."""

import pytest
from PySide6.QtWidgets import QApplication, QTableView

from tests.share import SOAK
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.row import ROW_PX, PartRow
from vernus.desktop.sheet_list import SHEETS

WINDOW = 1280 * 800
TABLES = ("scope", "order", "powerup", "card", "log")
"""Sheets whose answer is a list: they have no drawing of a thing."""
MOST_LINES_PX = 2 * 20 + 10


def shown(window, demo):
    """Every sheet of a demo, one after the other, laid out."""
    window.resize(1280, 800)
    window.files.open_demo(demo)
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        if window.session.in_view == sheet.name:
            for line in window.findings.lines[:2]:
                line.open(True)
            window.findings.fit()
            for _ in range(3):
                QApplication.processEvents()
            yield sheet.name, window.sheets[sheet.name]


@pytest.mark.parametrize("demo", ["mill", "lathe"] if SOAK else ["mill"])
def test_the_picture_has_nearly_half_of_the_window_and_lists_keep_to_their_room(window, demo):
    """Also: most rows are one line high, and no table row more than two."""
    tall = rows = 0
    for name, sheet in shown(window, demo):
        for table in sheet.findChildren(QTableView):
            if table.isVisible():
                heights = [table.rowHeight(n) for n in range(table.model().rowCount())]
                assert max(heights, default=0) <= MOST_LINES_PX, (name, table.accessibleName())
        for figures in sheet.findChildren(FigureList):
            if not figures.isVisible():
                continue
            there = [r for r in figures.rows if r.isVisibleTo(figures) and not isinstance(r, PartRow)]
            rows += len(there)
            tall += sum(r.height() > ROW_PX + 2 for r in there)
            opened = [h for h in figures.headings if h.holds.heading and not h.folded and not h.isHidden()]
            assert len(opened) <= 1 or figures._wanted_px(set(opened)) <= figures.viewport().height(), name
        if name in TABLES:
            continue
        zone = sheet.picture_zone.width() * sheet.picture_zone.height()
        assert zone >= 0.45 * WINDOW, (name, zone / WINDOW)
        drawn = sum(v.width() * v.height() for v in sheet.findChildren(Picture) if v.isVisible())
        assert drawn >= 0.25 * WINDOW, (name, drawn / WINDOW)
    assert rows > 60
    assert tall <= 0.25 * rows


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


def test_no_two_rows_of_a_list_have_one_name(window):
    """A drawing, F3 and a dimension find a row by its name: a second one of it would take another's figure."""
    window.files.open_demo("mill")
    lists = 0
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        for figures in window.sheets[sheet.name].findChildren(FigureList):
            names = [row.name for row in figures.rows]
            assert len(set(names)) == len(names), (sheet.name, sorted(n for n in names if names.count(n) > 1))
            lists += 1
    assert lists > 20

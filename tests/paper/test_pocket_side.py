"""The side a pocket is bored from is on the drawing, in the table of the page and on the 1:1 template."""

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage

from tests.paper.conftest import Reader
from tests.printed import words_of
from vernus.core.feed.bracket import Bracket, plan_bracket
from vernus.core.make.hole_rows import hole_table
from vernus.paper.drawing.make.part import paint_part
from vernus.paper.ink import LIGHT, load_fonts
from vernus.paper.pages.make.template import write_template_pdf

SIDE = "from the machine's side"


@pytest.fixture
def solved(qapp):
    load_fonts()
    corners = ((-40.0, -15.0), (40.0, -15.0), (-40.0, 15.0), (40.0, 15.0))
    return plan_bracket(
        Bracket((35.0, 11.0), 18.0, corners, "M6", ((-20.0, 0.0), (20.0, 0.0)), "M8", (0.0, -1.0), 80.0, 5.0)
    )


@pytest.mark.parametrize("size", [(1100, 700), (420, 330)])
@pytest.mark.parametrize("units", ["mm", "in"])
def test_the_drawing_says_it(solved, size, units):
    image = QImage(*size, QImage.Format.Format_ARGB32)
    painter = Reader(image)
    paint_part(painter, QRectF(0, 0, *size), solved.part, hole_table(solved.part), LIGHT, units)
    painter.end()
    assert any("seen from outside" in w and SIDE in w for w in painter.words)


def test_the_template_says_it(solved, tmp_path):
    write_template_pdf(solved.part, hole_table(solved.part), tmp_path / "t.pdf", "mm")
    text = words_of(tmp_path / "t.pdf")
    assert "seen from outside" in text
    assert SIDE in text

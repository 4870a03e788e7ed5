"""The 1:1 template measured back from the PDF, and the DXF read back."""

import ezdxf
import pytest
from pypdf import PdfReader

from vernus.core.make.hole_rows import hole_table
from vernus.core.make.parts import Part, PartHole
from vernus.job.errors import JobFileError
from vernus.job.formats.dxf import write_dxf
from vernus.paper.ink import load_fonts
from vernus.paper.pages.make.template import CHECK_MM, write_template_pdf

PT = 72 / 25.4
PLATE = Part("plate", "plate", 254, 60, 12, "steel", (
    PartHole(2, 20, "tapped", "M5"), PartHole(252, 20, "tapped", "M5"), PartHole(131, 45, "slot", "M6", 4),
))  # fmt: skip


def lines_mm(page):
    """Every straight stroke of a page as ((x1, y1), (x2, y2)) in mm, by the page's own transformation."""
    found, state = [], {"at": None}

    def visit(operator, operands, matrix, _text):
        name = operator.decode()
        if name in ("m", "l"):
            x, y = (float(v) for v in operands[:2])
            a, b, c, d, e, f = matrix
            point = ((a * x + c * y + e) / PT, (b * x + d * y + f) / PT)
            if name == "l" and state["at"] is not None:
                found.append((state["at"], point))
            state["at"] = point

    page.extract_text(visitor_operand_before=visit)
    return found


def length(line):
    (x1, y1), (x2, y2) = line
    return ((x2 - x1) ** 2 + (y2 - y1) ** 2) ** 0.5


@pytest.mark.parametrize("units", ["mm", "in"])
def test_the_template_is_right_to_a_tenth_over_250_mm(qapp, tmp_path, units):
    load_fonts()
    assert write_template_pdf(PLATE, hole_table(PLATE), tmp_path / "t.pdf", units) == 1
    page = PdfReader(tmp_path / "t.pdf").pages[0]
    strokes = lines_mm(page)
    assert any(length(s) == pytest.approx(CHECK_MM[units], abs=0.1) for s in strokes), "the check bar"
    # Centre lines of the two tapped holes: level strokes of one length at one height.
    level = [s for s in strokes if abs(s[0][1] - s[1][1]) < 0.01 and 5 < length(s) < 9]
    middles = sorted({round((a[0] + b[0]) / 2, 2) for a, b in level})
    apart = max(middles) - min(middles)
    assert apart == pytest.approx(250, abs=0.1)


def test_a_part_longer_than_the_paper_is_tiled_with_an_overlap(qapp, tmp_path):
    load_fonts()
    long = Part("long", "plate", 700, 60, 12, "steel", (PartHole(10, 30, "tapped", "M5"),))
    assert write_template_pdf(long, hole_table(long), tmp_path / "t.pdf", "mm") == 3
    texts = [" ".join(p.extract_text().split()) for p in PdfReader(tmp_path / "t.pdf").pages]
    assert "sheet 2 of 3" in texts[1]
    assert all("print again at 100 %" in t for t in texts)


def test_a_template_that_cannot_be_written_is_told(qapp, tmp_path):
    (tmp_path / "file").write_text("")
    with pytest.raises(JobFileError, match=r"Can't (write|make the folder)"):
        write_template_pdf(PLATE, hole_table(PLATE), tmp_path / "file" / "t.pdf", "mm")
    with pytest.raises(JobFileError, match=r"Can't (write|make the folder)"):
        write_dxf(PLATE, hole_table(PLATE), tmp_path / "file" / "t.dxf")


def test_the_dxf_holds_the_same_coordinates(tmp_path):
    write_dxf(PLATE, hole_table(PLATE), tmp_path / "t.dxf")
    drawing = ezdxf.readfile(tmp_path / "t.dxf")
    assert drawing.header["$INSUNITS"] == 4
    space = drawing.modelspace()
    circles = {(c.dxf.center.x, c.dxf.center.y, c.dxf.radius) for c in space.query("CIRCLE")}
    assert circles == {(2, 20, 2.1), (252, 20, 2.1)}
    assert {(p.dxf.location.x, p.dxf.location.y) for p in space.query("POINT")} == {(2, 20), (252, 20), (131, 45)}
    outline = space.query('LWPOLYLINE[layer=="outline"]').first
    assert [(x, y) for x, y, *_ in outline.get_points()] == [(0, 0), (254, 0), (254, 60), (0, 60)]
    slot = space.query('LWPOLYLINE[layer=="holes"]').first
    assert max(x for x, *_ in slot.get_points()) - min(x for x, *_ in slot.get_points()) == pytest.approx(8)
    assert not drawing.audit().errors
    lines = space.query('LINE[layer=="centre lines"]')
    assert len(lines) == 2 * 2 + 3, "a cross a round hole, one line along the slot and two across it"
    assert {"outline", "holes", "centre lines", "text"} <= {layer.dxf.name for layer in drawing.layers}
    assert any(t.dxf.text == "Seen from outside." for t in space.query("TEXT"))

"""Every page of every paper, read back with the places of its words: nothing cut, torn, broken or over the margin."""

import os
import re
from contextlib import closing
from importlib import resources
from itertools import pairwise
from pathlib import Path

import pypdfium2
import pytest

from tests.job.conftest import Bench
from tests.job.random_jobs import RandomJob
from tests.printed import words_of
from vernus.job.document import Job
from vernus.job.entities import MountPart
from vernus.job.formats.exchange import read_export
from vernus.paper.page import MARGIN, Row, Words, flow
from vernus.paper.pages.make.drawings import bolted_together
from vernus.paper.report import PAPERS, Report, write_report

LEAST_MARGIN_PT = 8 / 25.4 * 72
SOAK = os.environ.get("VERNUS_HYPOTHESIS") == "soak"
JOBS = (
    [(n, units) for n in range(100) for units in ("mm", "in")] if SOAK else [(0, "mm"), (1, "in"), (2, "in"), (3, "mm")]
)


def demo(name):
    return Job(read_export(Path(str(resources.files("vernus.data"))) / f"demo/{name}.json", []))


def glyphs(path):
    """(page, glyph, left, bottom, right, top, page width, page height) of everything printed; pt."""
    with closing(pypdfium2.PdfDocument(path)) as document:
        for number, page in enumerate(document):
            wide, high = page.get_size()
            text = page.get_textpage()
            for n in range(text.count_chars()):
                left, low, right, top = text.get_charbox(n)
                if right - left > 0.01 and top - low > 0.01:
                    yield number, text.get_text_range(n, 1), left, low, right, top, wide, high, n


def lying_on_each_other(letters):
    """Pairs of glyphs of a page of which one covers more than a third of the other; the parts of a ligature apart."""
    cells = {}
    for letter in letters:
        _, _, left, low, right, top, _, _, at = letter
        for other in cells.get((round(left / 12), round(low / 12)), ()):
            wide = min(right, other[4]) - max(left, other[2])
            tall = min(top, other[5]) - max(low, other[3])
            least = min((right - left) * (top - low), (other[4] - other[2]) * (other[5] - other[3]))
            if wide > 0 and tall > 0 and wide * tall > least / 3 and abs(at - other[8]) > 2:
                yield other[1], letter[1], round(left), round(low)
        for x in (-1, 0, 1):
            for y in (-1, 0, 1):
                cells.setdefault((round(left / 12) + x, round(low / 12) + y), []).append(letter)


def check_pages(job, path, content=None, size=None):
    """No word over the margin, none on another one, no table without its head, no heading at a page's foot."""
    report = Report(job, None, content, size)
    write_report(job, path, None, content, size)
    pages = {}
    for letter in glyphs(path):
        number, what, left, low, right, top, wide, tall, _ = letter
        assert left >= LEAST_MARGIN_PT, (number, what, "left")
        assert right <= wide - LEAST_MARGIN_PT, (number, what, right, "right")
        assert low >= LEAST_MARGIN_PT, (number, what, "low")
        assert top <= tall - LEAST_MARGIN_PT, (number, what, "high")
        pages.setdefault(number, []).append(letter)
    for number, letters in pages.items():
        assert not list(lying_on_each_other(letters)), (number, list(lying_on_each_other(letters))[:8])
    bottom = report.page.height() - MARGIN
    for number, placed in enumerate(report.pages):
        blocks = [p.block for p in sorted(placed, key=lambda p: p.place.top())]
        for one, after in pairwise([*blocks, None]):
            if isinstance(one, Words) and one.keep_with_next:
                assert after is not None, (number, one.text, "a heading at the foot")
            if isinstance(after, Row) and not after.head:
                assert isinstance(one, Row), (number, after.cells, "a row without its table's head")
                assert one.columns is after.columns, (number, after.cells, "a row under another table")
        for one in placed:
            assert one.place.bottom() <= bottom + 0.5, (number, one.block)
            if isinstance(one.block, Row):
                check_row(one.block, one.place.width())
    return report


def check_row(row, width):
    """No word wider than its column, no row lower than its words."""
    from PySide6.QtGui import QFontMetricsF

    from vernus.paper.ink import font

    metrics = QFontMetricsF(font(row.columns.size, bold=row.head))
    for cell, wide in zip(row.cells, row.columns.widths(width), strict=True):
        for word in cell.split():
            assert len(word) > 24 or metrics.horizontalAdvance(word) <= wide, (word, wide)


DEMOS = [("mill", "A4"), ("lathe", "Letter"), ("mill", "Letter")]


@pytest.mark.parametrize(("name", "size"), DEMOS if SOAK else DEMOS[:2])
def test_the_papers_of_a_demo(name, size, tmp_path, qapp):
    job = demo(name)
    check_pages(job, tmp_path / "all.pdf", size=size)
    check_pages(job, tmp_path / "hang.pdf", PAPERS["hang"][1], size)
    counts = {paper: len(Report(job, None, content, size).pages) for paper, (_, content) in PAPERS.items()}
    parts = sum(s.kind == "part" for s in _said(job))
    assert counts["job"] <= 2
    assert counts["drawings"] <= max(1, parts)
    assert counts["card"] <= 3 + (size == "Letter")  # which is shorter
    assert counts["record"] <= 12 + (size == "Letter")


def _said(job):
    from vernus.job.said import statements

    return statements(job)


@pytest.mark.parametrize(("seed", "units"), JOBS)
def test_the_papers_of_a_random_job(seed, units, tmp_path, qapp):
    job = RandomJob(seed).job
    job.apply("units", [job.info.with_(units=units)])
    check_pages(job, tmp_path / "all.pdf")
    check_pages(job, tmp_path / "hang.pdf", PAPERS["hang"][1])


def test_every_part_to_make_has_its_drawing(tmp_path, qapp):
    for name in ("mill", "lathe"):
        job = demo(name)
        path = tmp_path / f"{name}.pdf"
        write_report(job, path, None, PAPERS["drawings"][1])
        pages = words_of(path)
        for said in _said(job):
            if said.kind == "part" and said.figures["state"] == "to make":
                assert str(said.figures["name"]) in pages, said.id


def test_a_hole_distance_at_full_size_is_that_distance_on_paper(tmp_path, qapp):
    """Two holes, 20 and 80 mm from the left of the first part, are 60 mm apart on its drawing of full size."""
    path = tmp_path / "drawings.pdf"
    write_report(demo("mill"), path, None, PAPERS["drawings"][1])
    with closing(pypdfium2.PdfDocument(path)) as document:
        page = document[0]
        boxes = [o.get_bounds() for o in page.get_objects() if o.type == pypdfium2.raw.FPDF_PAGEOBJ_PATH]
    size = 72 / 25.4
    round_ones = [
        (left + right) / 2 / size
        for left, low, right, high in boxes
        if 6.6 <= (right - left) / size <= 8.0 and abs((right - left) - (high - low)) < 0.05 * size
    ]
    assert max(round_ones) - min(round_ones) == pytest.approx(60.0, abs=0.1)


def test_the_paper_of_one_axis_holds_no_other(tmp_path, qapp):
    job = demo("mill")
    y = next(a for a in job.axes() if a.name == "Y")
    path = tmp_path / "y.pdf"
    write_report(job, path, {y.id}, PAPERS["card"][1])
    text = words_of(path)
    assert "Y: Make" in text
    assert not re.search(r"\b(X|W): ", text)


def test_a_table_longer_than_a_page_has_its_head_on_every_page(qapp):
    from PySide6.QtCore import QSizeF

    from vernus.paper.page import table

    rows = [(str(n), "a figure") for n in range(200)]
    pages = flow(table(("Number", "What"), rows, (0.3, 0.7)), QSizeF(794, 1123))
    assert len(pages) > 2
    assert all(page[0].block.head for page in pages)


def test_a_bare_job_has_papers(tmp_path, qapp):
    check_pages(Bench().job, tmp_path / "all.pdf")
    assert all(Report(Bench().job, None, content).pages for _, content in PAPERS.values())


def test_parts_bolted_to_each_other_are_drawn_apart_with_their_numbers(tmp_path, qapp):
    bench = Bench()
    bench.travel("X", "380 mm", "380 mm")
    size = bench.length
    made = [
        MountPart(id=name, axis_id=bench.axis().id, name=name, part_kind="plate", length=size(90 - 20 * n),
                  width=size(60), thickness=size(10), bolts_to=on)
        for n, (name, on) in enumerate((("bridge", "upright"), ("plate", "machine"), ("upright", "plate")))
    ]  # fmt: skip
    bench.job.apply("parts", made)
    assert [[p.name for p in c] for c in bolted_together(bench.job, bench.axis())] == [["plate", "upright", "bridge"]]
    check_pages(bench.job, tmp_path / "drawings.pdf", PAPERS["drawings"][1])
    words = words_of(tmp_path / "drawings.pdf")
    assert "Assembly for X: plate and upright and bridge" in words
    assert words.index("1 plate aluminium") < words.index("2 upright aluminium") < words.index("3 bridge aluminium")

import pytest
from pypdf import PdfReader

from tests.printed import pages_of, words_of
from vernus.desktop.demo import demo_source
from vernus.job.document import Job
from vernus.job.entities import LogEntry
from vernus.job.errors import JobFileError
from vernus.job.formats.exchange import read_export
from vernus.paper.cautions import CAUTIONS
from vernus.paper.ink import LIGHT, PRINT, load_fonts
from vernus.paper.page import MARGIN
from vernus.paper.report import Report, write_report


@pytest.fixture
def job():
    return Job(read_export(demo_source()))


@pytest.fixture
def report(qapp, job, tmp_path):
    load_fonts()
    write_report(job, tmp_path / "report.pdf")
    return tmp_path / "report.pdf"


def test_the_report_of_the_lathe_is_in_inches(qapp, tmp_path):
    load_fonts()
    write_report(Job(read_export(demo_source("lathe"))), tmp_path / "lathe.pdf")
    text = words_of(tmp_path / "lathe.pdf")
    # 5080 counts per inch × 6.0002 shown / 6 moved = 5080.17
    for part in (
        "Long Wubbo",
        "7.084",
        "Sealed glass, micro",
        "leave the display as it is set; measured 5080.16 ± 0.34",
        "Ferry horn",
    ):
        assert part in text, part
    assert "10 mm to the" not in text


def test_the_report_tells_the_whole_job(report):
    text = words_of(report)
    for part in (
        "Big Agda", "680.47 ± 0.73 mm", "Sealed glass, standard", "Alignment, scale body, face",
        "until the dial goes from",
        "200 counts per mm", "linear factor 0.999981 ± 0.000014", "is longer than the face", "Knock-off time",
    ):  # fmt: skip
        assert part in text, part
    for caution in CAUTIONS:
        assert " ".join(caution.split()) in text


def test_every_page_has_its_number_and_the_job(report):
    pages = pages_of(report)
    for n, text in enumerate(pages, 1):
        assert f"page {n} of {len(pages)}" in text
        assert "Universal mill, refit" in text


def test_only_the_shipped_typeface_is_used_and_it_is_embedded(report):
    for page in PdfReader(report).pages:
        for font in page["/Resources"]["/Font"].values():
            face = font.get_object()["/DescendantFonts"][0].get_object()
            assert "B612" in face["/BaseFont"]
            assert any(key in face["/FontDescriptor"] for key in ("/FontFile", "/FontFile2", "/FontFile3"))


def test_inches_print_on_letter_and_speak_inches(qapp, job, tmp_path):
    load_fonts()
    job.apply("units", [job.info.with_(units="in")])
    write_report(job, tmp_path / "inch.pdf")
    first = PdfReader(tmp_path / "inch.pdf").pages[0]
    assert [round(float(first.mediabox[n])) for n in (2, 3)] == [612, 792]
    # 680.475 mm / 25.4
    assert "26.790 ± 0.029" in words_of(tmp_path / "inch.pdf")
    assert "thou" in words_of(tmp_path / "inch.pdf")


def test_one_axis_alone_can_be_printed(qapp, job, tmp_path):
    load_fonts()
    write_report(job, tmp_path / "y.pdf", {"axis-y"})
    text = words_of(tmp_path / "y.pdf")
    assert "Y axis: saddle" in text
    assert "X axis: table" not in text


def test_a_place_that_cannot_be_written_is_told(qapp, job, tmp_path):
    (tmp_path / "file").write_text("")
    with pytest.raises(JobFileError, match=r"Can't (write|make the folder)"):
        write_report(job, tmp_path / "file" / "report.pdf")


def grey(colour):
    r, g, b = (int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5))
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


@pytest.mark.parametrize("name", ["ink", "faint", "accent", "caution", "stop"])
def test_print_inks_are_dark_enough_for_a_grey_printer(name):
    assert grey(getattr(PRINT, name)) < 0.35
    assert grey(PRINT.wash) > 0.85


@pytest.mark.parametrize("name", ["ink", "faint", "accent", "caution", "stop"])
@pytest.mark.parametrize("inks", ["LIGHT", "DARK"])
def test_text_has_a_contrast_of_4_5_to_1(inks, name):
    """WCAG 2.2, 1.4.3, from memory: (L1 + 0.05)/(L2 + 0.05) with linearised luminance."""
    from vernus.paper import ink

    def luminance(colour):
        parts = [int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5)]
        r, g, b = (p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    set_ = getattr(ink, inks)
    for ground in (set_.ground, set_.sheet):
        light, dark = sorted((luminance(getattr(set_, name)), luminance(ground)), reverse=True)
        assert (light + 0.05) / (dark + 0.05) >= 4.5
    assert LIGHT.ground != set_.ink


def test_a_note_longer_than_a_page_goes_on_over_pages_and_a_long_word_stays_on_paper(qapp, tmp_path):
    job = Job(read_export(demo_source("lathe")))
    text = " ".join(f"word{n}" for n in range(1, 2200)) + " " + "W" * 900
    job.apply("note", [LogEntry(id="long", text=text)])
    pages = Report(job).pages
    page = Report(job).page
    assert all(p.place.bottom() <= page.height() - MARGIN for placed in pages for p in placed)
    write_report(job, tmp_path / "long.pdf")
    found = words_of(tmp_path / "long.pdf")
    assert {f"word{n}" for n in range(1, 2200)} <= set(found.split())
    assert found.count("W") >= 900

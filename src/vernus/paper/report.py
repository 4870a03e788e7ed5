"""The papers of a job as PDF: the job on a page, shop drawings, the card to tick, the record, sheets to hang."""

from __future__ import annotations

import os
from collections.abc import Callable, Collection, Iterable
from pathlib import Path
from typing import Literal

from PySide6.QtCore import QSizeF
from PySide6.QtGui import QGuiApplication, QPageSize, QPainter

from vernus.core.finding import directed
from vernus.core.units import (
    UnitSystem,
    format_fine,
    format_length,
    format_temperature,
    format_with_uncertainty,
)
from vernus.core.verdict_words import SEVERITIES_SAID
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    Compensation,
    LogEntry,
)
from vernus.job.finished import next_step
from vernus.job.known.lengths import family_of, measuring_length
from vernus.job.machine.directions import directions_of
from vernus.job.machine.travel import travel_result
from vernus.job.moments import local_minute, local_zone
from vernus.job.plan.scale import scale_result
from vernus.job.prove.keyed import keyed_words
from vernus.job.review.review import AxisReview, review_axis
from vernus.job.said import of_axis
from vernus.job.scope import axes_in_scope, has_scale, on_display, sheets_of
from vernus.job.sheet_names import SHEET_WORDS
from vernus.paper.cautions import CAUTIONS
from vernus.paper.ink import load_fonts
from vernus.paper.page import Block, NewPage, Placed, Words, flow, heading, paint_page, subheading, table
from vernus.paper.pages.align.passes import align_blocks, reader_blocks
from vernus.paper.pages.feed.feed import feed_blocks
from vernus.paper.pages.keep.card import card_blocks
from vernus.paper.pages.keep.hang import back_blocks, oil_blocks
from vernus.paper.pages.keep.job_page import job_blocks
from vernus.paper.pages.keep.pictures import picture_blocks
from vernus.paper.pages.keep.tonight import tonight_blocks
from vernus.paper.pages.machine.names import kind_label
from vernus.paper.pages.machine.survey import measure_blocks, travel_blocks
from vernus.paper.pages.make.drawings import drawing_blocks, part_pages
from vernus.paper.pages.make.received import received_blocks
from vernus.paper.pages.plan.plan import plan_blocks
from vernus.paper.pages.prove.part import trial_part_blocks
from vernus.paper.pages.prove.proof import proof_blocks, wall_blocks
from vernus.paper.pages.said import said_blocks
from vernus.paper.pdf import pdf_pages

Content = Callable[[Job, list[Axis], UnitSystem], Iterable[Block]]
PaperSize = Literal["A4", "Letter"]
SIZES: tuple[PaperSize, ...] = ("A4", "Letter")


class Report:
    """Pages laid out and ready to paint; ``axis_ids`` limits them to some axes (None: all).

    ``content`` makes the blocks; None: the four papers, one after the other. ``size`` None: as the country prints.
    """

    def __init__(
        self, job: Job, axis_ids: Collection[str] | None = None, content: Content | None = None,
        size: PaperSize | None = None,
    ) -> None:  # fmt: skip
        units = job.info.units
        letter = (size or usual_size(units)) == "Letter"
        self.size_id = QPageSize.PageSizeId.Letter if letter else QPageSize.PageSizeId.A4
        self.page = QSizeF(816, 1056) if letter else QSizeF(794, 1123)
        self.foot = f"{job.info.title}, {job.machine.name}"[:70]
        axes = [a for a in axes_in_scope(job) if axis_ids is None or a.id in axis_ids]
        self.pages: list[list[Placed]] = flow(list((content or report_blocks)(job, axes, units)), self.page)

    def paint(self, painter: QPainter, number: int) -> None:
        """Paint page ``number`` (from 0) at 96 dpi."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_page(painter, self.pages, number, self.page, self.foot)


_LETTER = ("US", "CA", "MX", "PH", "CL", "CO", "VE", "GT", "CR", "PA", "DO", "PR")
"""Countries that print on Letter: common practice, no source."""


def usual_size(units: UnitSystem) -> PaperSize:
    """The paper of the country the desktop is set to; where none is said, Letter for inches, A4 for millimetres."""
    for name in ("LC_ALL", "LC_PAPER", "LANG"):
        country = os.environ.get(name, "").partition(".")[0].partition("_")[2]
        if country:
            return "Letter" if country in _LETTER else "A4"
    return "Letter" if units == "in" else "A4"


def write_report(
    job: Job, path: Path, axis_ids: Collection[str] | None = None, content: Content | None = None,
    size: PaperSize | None = None,
) -> int:  # fmt: skip
    """Write the papers, or other ``content``, as PDF and return the number of pages; needs a QGuiApplication with the
    fonts loaded.

    Raises JobFileError when the file can't be written.
    """
    report = Report(job, axis_ids, content, size)
    with pdf_pages(path, job.info.title, report.size_id) as (writer, painter):
        for number in range(len(report.pages)):
            if number:
                writer.newPage()
            report.paint(painter, number)
    return len(report.pages)


def write_report_headless(job: Job, path: Path, paper: str = "", size: PaperSize | None = None) -> None:
    """As ``write_report`` from the command line, where no window exists; ``paper`` "": all four."""
    application = QGuiApplication.instance() or QGuiApplication(["vernus", "-platform", "offscreen"])
    load_fonts()
    write_report(job, path, None, PAPERS[paper][1] if paper else None, size)
    del application


def hang_blocks(job: Job, axes: list[Axis], units: UnitSystem) -> Iterable[Block]:
    """All sheets to hang, a page each: the settings, the oil points, how to put it back."""
    for content in (wall_blocks, oil_blocks, back_blocks):
        yield NewPage()
        yield from content(job, axes, units)


def record_blocks(job: Job, axes: list[Axis], units: UnitSystem) -> Iterable[Block]:
    """The record: everything measured, planned, done and found, axis by axis; the log with its pictures."""
    info, machine = job.info, job.machine
    yield Words(f"{info.title}: the record", size=18, bold=True, after=2)
    yield Words(f"{machine.name} ({kind_label(job)})" + (f", {info.workshop}" if info.workshop else ""), size=13)
    room = "" if info.room_c is None else f" Room {format_temperature(info.room_c, info.degrees)}."
    yield Words(f"Lengths in {'inches' if units == 'in' else 'millimetres'} unless said. ± is for 95 % "
                f"unless said.{room} Times are local, {local_zone()}.", after=14)  # fmt: skip
    yield heading("Axes")
    reviews = {a.id: review_axis(job, a) for a in axes}
    rows = [_overview(job, a, reviews[a.id], units) for a in axes]
    yield from table(("Axis", "Travel", "Scale", "Keyed in", "Next"), rows, (0.09, 0.24, 0.29, 0.22, 0.16))
    yield from measure_blocks(job, units)
    yield from plan_blocks(job, axes, units)
    yield from received_blocks(job, axes, units)
    for axis in axes:
        yield from _axis(job, axis, reviews[axis.id], units)
    yield from trial_part_blocks(job, units)
    yield heading("Cautions")
    for text in CAUTIONS:
        yield Words("–  " + text, indent=8, after=4)
    ids = {a.id for a in axes}
    log = [e for e in job.all(LogEntry) if not e.axis_id or e.axis_id in ids]
    if log:
        names = {a.id: a.name for a in axes}
        yield heading("Log")
        lines = [(local_minute(e.created), names.get(e.axis_id, ""), e.text) for e in log]
        yield from table(("When", "Axis", "Note"), lines, (0.24, 0.08, 0.68))
    yield from picture_blocks(job, axes, units)


PAPERS: dict[str, tuple[str, Content]] = {
    "job": ("The job on a page", job_blocks),
    "drawings": ("Shop drawings", drawing_blocks),
    "card": ("The card to tick", card_blocks),
    "record": ("The record", record_blocks),
    "hang": ("Sheets to hang", hang_blocks),
    "tonight": ("Tonight's sheet", tonight_blocks),
}
"""The papers by the word that the command line takes: what each is called, and what it says."""


def report_blocks(job: Job, axes: list[Axis], units: UnitSystem) -> Iterable[Block]:
    """The four papers one after the other, each beginning on a page of its own."""
    for content in (job_blocks, part_pages, card_blocks, record_blocks):
        yield NewPage()
        yield from content(job, axes, units)


def _overview(job: Job, axis: Axis, review: AxisReview, units: UnitSystem) -> tuple[str, ...]:
    best, family, measuring = travel_result(job, axis).best, family_of(job, axis), measuring_length(job, axis)
    keyed = job.of_axis(Compensation, axis.id) if on_display(axis) else []
    return (
        axis.name,
        "not measured" if best is None else format_with_uncertainty(best.travel_mm, best.expanded_mm, units),
        "none"
        if not has_scale(axis)
        else "not chosen"
        if measuring is None or family is None
        else f"{family.label}, {format_length(measuring.value, units)}",
        keyed_words(job, keyed[-1]).text(units) if keyed else "nothing yet" if on_display(axis) else "nothing to key",
        SHEET_WORDS[review.next_sheet] if review.next_sheet else "every sheet filled in",
    )


def _axis(job: Job, axis: Axis, review: AxisReview, units: UnitSystem) -> Iterable[Block]:
    yield heading(f"{axis.name} axis: {axis.label}")
    wanted = "" if axis.accuracy is None else f" Accuracy wanted: {format_fine(axis.accuracy.mm, units)}."
    yield Words(f"The {axis.moving} moves on the {axis.still}.{wanted}")
    yield Words(f"Next: {next_step(job, axis).text(units)}", after=8)
    yield from travel_blocks(job, axis, units)
    sheets = sheets_of(axis)
    if has_scale(axis):
        yield from _scale(job, axis, units)
    if "align" in sheets:
        yield from align_blocks(job, axis, units)
    if "reader" in sheets:
        yield from reader_blocks(job, axis, units)
    yield from proof_blocks(job, axis, units)
    yield from feed_blocks(job, axis, units)
    if review.rests_on:
        yield Words(f"Not measured for {axis.name}: " + ", ".join(review.rests_on) + ".", after=8)
    if review.findings:
        yield subheading("Findings")
        for at in review.findings:
            what = f"{SEVERITIES_SAID[at.finding.severity]}: {at.finding.what.text(units)}"
            yield Words(what, indent=8, after=2, keep_with_next=True)
            yield Words(f"→ {at.finding.remedy.text(units)}", indent=24, after=6)


def _scale(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    result = scale_result(job, axis)
    if not of_axis(job, axis, "scale"):
        return
    yield subheading("Scale")
    if result.placement is None or result.family is None:
        yield from said_blocks(job, axis, units, "scale")
        return
    yield Words(directed(result.instruction, directions_of(job, axis)).text(units))
    if result.family.needs:
        yield Words(f"{result.family.label} wants: {result.family.needs}.")
    yield from said_blocks(job, axis, units, "scale", "cut", "face", "body", "place", "spare")

"""The PDF report of a job: machine, axes, scales, sweeps, calibration, findings, cautions, log."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QSizeF
from PySide6.QtGui import QGuiApplication, QPageSize, QPainter

from vernus.core.align.reader import GAP_WORDS
from vernus.core.align.sweep import Alignment
from vernus.core.units import (
    UnitName,
    UnitSystem,
    format_fine,
    format_length,
    format_temperature,
    format_with_uncertainty,
)
from vernus.job.align.passes import PLANES, passes, result_in_job
from vernus.job.align.reader import reader_result
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.document import Job
from vernus.job.entities import (
    TARGETS,
    Axis,
    Compensation,
    Entity,
    GapCheck,
    LogEntry,
    ReaderSetting,
    Sweep,
    TravelSurvey,
)
from vernus.job.known import chosen_face, family_of, give_up, measuring_length
from vernus.job.machine.stroke import stroke_of
from vernus.job.machine.travel import travel_result
from vernus.job.plan.places import place_on_face
from vernus.job.plan.scale import scale_result
from vernus.job.review import AxisReview, review_axis
from vernus.job.scope import SHEET_WORDS, axes_in_scope, has_scale, on_display, sheets_of
from vernus.paper.cautions import CAUTIONS
from vernus.paper.drawing.align.sweep import paint_sweep
from vernus.paper.drawing.machine.stroke import paint_stroke
from vernus.paper.ink import PRINT, load_fonts
from vernus.paper.page import Block, Picture, Placed, Words, flow, heading, paint_page, subheading, table
from vernus.paper.pages.feed.feed import feed_blocks
from vernus.paper.pages.keep.pictures import picture_blocks
from vernus.paper.pages.machine.noted import noted_words
from vernus.paper.pages.machine.stroke import stroke_picture
from vernus.paper.pages.make.parts import part_blocks
from vernus.paper.pages.make.received import received_blocks
from vernus.paper.pages.plan.plan import plan_blocks
from vernus.paper.pages.prove.part import trial_part_blocks
from vernus.paper.pages.prove.proof import keyed_words, proof_blocks
from vernus.paper.pdf import pdf_pages

_NOTED_OF_READER: tuple[type[Entity], ...] = (GapCheck, ReaderSetting)
_SEVERITY = {"info": "Note", "caution": "CAUTION", "stop": "STOP"}


Content = Callable[[Job, list[Axis], UnitSystem], Iterable[Block]]


class Report:
    """Pages laid out and ready to paint; ``axis_ids`` limits them to some axes (None: all).

    ``content`` makes the blocks; None: those of the whole report.
    """

    def __init__(self, job: Job, axis_ids: Collection[str] | None = None, content: Content | None = None) -> None:
        units = job.info.units
        letter = units == "in"
        self.size_id = QPageSize.PageSizeId.Letter if letter else QPageSize.PageSizeId.A4
        self.page = QSizeF(816, 1056) if letter else QSizeF(794, 1123)
        self.foot = f"{job.info.title}, {job.machine.name}"[:70]
        axes = [a for a in axes_in_scope(job) if axis_ids is None or a.id in axis_ids]
        self.pages: list[list[Placed]] = flow(list((content or report_blocks)(job, axes, units)), self.page)

    def paint(self, painter: QPainter, number: int) -> None:
        """Paint page ``number`` (from 0) at 96 dpi."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_page(painter, self.pages, number, self.page, self.foot)


def write_report(job: Job, path: Path, axis_ids: Collection[str] | None = None, content: Content | None = None) -> int:
    """Write the report, or other ``content``, as PDF and return the number of pages; needs a QGuiApplication with the
    fonts loaded.

    Raises JobFileError when the file can't be written.
    """
    report = Report(job, axis_ids, content)
    with pdf_pages(path, job.info.title, report.size_id) as (writer, painter):
        for number in range(len(report.pages)):
            if number:
                writer.newPage()
            report.paint(painter, number)
    return len(report.pages)


def write_report_headless(job: Job, path: Path) -> None:
    """As ``write_report`` from the command line, where no window exists."""
    application = QGuiApplication.instance() or QGuiApplication(["vernus", "-platform", "offscreen"])
    load_fonts()
    write_report(job, path)
    del application


def report_blocks(job: Job, axes: list[Axis], units: UnitSystem) -> Iterable[Block]:
    """Everything the whole report says, block by block, for some axes of the job."""
    info, machine = job.info, job.machine
    yield Words(info.title, size=22, bold=True, after=2)
    kind = machine.kind_label or next((k.label for k in machine_kinds() if k.id == machine.machine_kind), "own kind")
    yield Words(f"{machine.name} ({kind})" + (f", {info.workshop}" if info.workshop else ""), size=13)
    room = "" if info.room_c is None else f" Room {format_temperature(info.room_c, info.degrees)}."
    yield Words(f"Lengths in {'inches' if units == 'in' else 'millimetres'} unless said. ± is for 95 % "
                f"unless said.{room}", after=14)  # fmt: skip
    yield heading("Axes")
    reviews = {a.id: review_axis(job, a) for a in axes}
    rows = [_overview(job, a, reviews[a.id], units) for a in axes]
    yield from table(("Axis", "Travel", "Scale", "Keyed in", "Next"), rows, (0.09, 0.24, 0.29, 0.22, 0.16))
    yield from plan_blocks(job, units)
    yield from received_blocks(job, axes, units)
    yield from part_blocks(job, axes, units)
    for axis in axes:
        yield from _axis(job, axis, reviews[axis.id], units)
    yield from trial_part_blocks(job, units)
    yield heading("Cautions")
    for text in CAUTIONS:
        yield Words("–  " + text, indent=8, after=4)
    log = [e for e in job.all(LogEntry) if not e.axis_id or e.axis_id in {a.id for a in axes_in_scope(job)}]
    if log:
        names = {a.id: a.name for a in axes_in_scope(job)}
        yield heading("Log")
        lines = [(e.created[:16].replace("T", " "), names.get(e.axis_id, ""), e.text) for e in log]
        yield from table(("When (UTC)", "Axis", "Note"), lines, (0.24, 0.08, 0.68))
    yield from picture_blocks(job, axes, units)


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
        keyed_words(keyed[-1]) if keyed else "nothing yet" if on_display(axis) else "nothing to key",
        SHEET_WORDS[review.next_sheet] if review.next_sheet else "every sheet filled in",
    )


def _axis(job: Job, axis: Axis, review: AxisReview, units: UnitSystem) -> Iterable[Block]:
    yield heading(f"{axis.name} axis: {axis.label}")
    wanted = "" if axis.accuracy is None else f" Accuracy wanted: {format_fine(axis.accuracy.mm, units)}."
    yield Words(f"The {axis.moving} moves on the {axis.still}.{wanted}")
    yield Words(f"Next: {review.next_step.text(units)}", after=8)
    yield from _travel(job, axis, units)
    sheets = sheets_of(axis)
    if has_scale(axis):
        yield from _scale(job, axis, units)
    if "align" in sheets:
        for target, words in TARGETS:
            for plane in (*PLANES, "roll"):
                yield from _sweeps(job, axis, plane, target, words, units)
    if "reader" in sheets:
        yield from _reader(job, axis, units)
    yield from proof_blocks(job, axis, units)
    yield from feed_blocks(job, axis, units)
    if review.rests_on:
        yield Words("Not measured by anybody: " + ", ".join(review.rests_on) + ".", after=8)
    if review.findings:
        yield subheading("Findings")
        for at in review.findings:
            told = at.finding.as_json(units)
            yield Words(f"{_SEVERITY[told['severity']]}: {told['text']}", indent=8, after=2, keep_with_next=True)
            yield Words(f"→ {told['remedy']}", indent=24, after=6)


def _travel(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    result = travel_result(job, axis)
    if result.best is None:
        return
    yield subheading("Travel")
    figure = format_with_uncertainty(result.best.travel_mm, result.best.expanded_mm, units)
    given = give_up(axis)
    useful = ""
    if result.useful_mm is not None and sum(given) > 0:
        low, high = (format_length(g, units) for g in given)
        useful = (
            f" Given up: {low} at the low end, {high} at the high end; useful {format_length(result.useful_mm, units)}."
        )
        useful += f" {axis.give_up_why}" if axis.give_up_why else ""
    parts = [
        f"{s.tool}: " + ", ".join(r.shown(units) for r in s.readings)
        for s in job.of_axis(TravelSurvey, axis.id)
        if s.readings
    ]
    yield Words(f"{figure} ({'; '.join(parts)}).{useful}")
    yield Picture(partial(paint_stroke, picture=stroke_picture(job, axis), inks=PRINT, units=units), 232)
    for stop in stroke_of(job, axis).findings:
        if stop.code == "stop-needed":
            yield Words(stop.what.text(units), indent=8, after=3)


def _scale(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    result = scale_result(job, axis)
    if result.placement is None or result.family is None:
        return
    yield subheading("Scale")
    yield Words(result.instruction.text(units))
    place = result.placement
    stops = " and ".join(format_length(mm, units) for mm in (place.low_stop_mm, place.high_stop_mm))
    yield Words(f"At the low and the high stop the reader's middle stands at {stops} from the body's left end.")
    lies = place_on_face(job, axis)
    face = chosen_face(job, axis)
    if lies is not None and face is not None:
        start, hole = format_length(lies.start_mm, units), format_length(lies.first_hole_mm, units)
        yield Words(f"Face: {face.name}. The body starts {start} from its left end, the first hole is at {hole}.")


def _sweeps(job: Job, axis: Axis, plane: str, target: str, words: str, units: UnitSystem) -> Iterable[Block]:
    done = [s for s in passes(job, axis.id, plane, target) if s.readings]
    looked = [(s, result_in_job(job, s)) for s in done]
    rolls = [r for _, r in looked if r.roll is not None]
    if rolls and rolls[-1].roll is not None:
        roll = rolls[-1].roll
        said = f"{format_fine(roll.difference_mm, units, sign=True)} ± {format_fine(roll.expanded_mm, units)}"
        yield subheading(f"Alignment, {words}, roll")
        yield Words(f"Top less bottom {said}. {rolls[-1].instruction.text(units)}")
    figured = [(s, r, r.alignment) for s, r in looked if r.alignment is not None]
    if not figured:
        return
    yield subheading(f"Alignment, {words}, {plane}")
    rows = [_pass_row(n, s, figures, units) for n, (s, _, figures) in enumerate(figured, 1)]
    head = (
        "Pass",
        "When (UTC)",
        f"Rise over {format_length(figured[-1][2].judged_mm, units)}",
        "±, 95 %",
        "Bow",
        "Verdict",
    )
    yield from table(head, rows, (0.08, 0.26, 0.19, 0.16, 0.15, 0.16), (2, 3, 4))
    held, result, figures = figured[-1]
    yield Words(noted_words(held, units, ("target", "plane")))
    before = figured[-2][2] if len(figured) > 1 else None
    draw: Callable[..., Any] = partial(
        paint_sweep, sweep=figures, inks=PRINT, units=units, before=before, fix=result.correction
    )
    yield Picture(draw, 240)
    yield Words(result.instruction.text(units))


def _pass_row(number: int, sweep: Sweep, figures: Alignment, units: UnitSystem) -> tuple[str, ...]:
    return (
        str(number),
        sweep.created[:16].replace("T", " "),
        format_fine(figures.rise_mm, units, sign=True),
        format_fine(figures.expanded_mm, units),
        "–" if figures.bow_mm is None else format_fine(figures.bow_mm, units),
        {"pass": "pass", "fail": "FAIL", "unsure": "can't tell"}[figures.verdict],
    )


def _reader(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    result = reader_result(job, axis)
    if not any(job.of_axis(kind, axis.id) for kind in _NOTED_OF_READER):
        return
    yield subheading("Reader")
    verdict = {"pass": "pass", "fail": "FAIL", "unsure": "can't tell"}[result.verdict]
    if result.by == "none":
        yield Words(f"No gap to be set. {result.instruction.text(units)}")
    elif result.gap is None:
        yield Words(f"Gap by {GAP_WORDS.get(result.by, 'feelers')}: {verdict}. {result.instruction.text(units)}")
    else:
        most = "more" if result.gap.most_mm is None else format_fine(result.gap.most_mm, units)
        least = format_fine(result.gap.least_mm, units)
        yield Words(f"Gap over the stroke {least} to {most}: {verdict}. {result.instruction.text(units)}")
        unit: UnitName = "thou" if units == "in" else "mm"
        rows = [
            (g.station.shown(units), g.go.shown(unit), "–" if g.no_go is None else g.no_go.shown(unit))
            for g in job.of_axis(GapCheck, axis.id)
        ]
        heads = (f"Axis at, {units}", f"Goes in, {unit}", f"Doesn't, {unit}")
        yield from table(heads, rows, (0.3, 0.3, 0.3), (0, 1, 2))
    for setting in job.of_axis(ReaderSetting, axis.id)[-1:]:
        noted = noted_words(setting, units)
        if noted:
            yield Words(noted)

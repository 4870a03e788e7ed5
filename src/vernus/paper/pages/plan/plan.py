"""The plan in the record: envelope, faces, holes there are, and changing a display over."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import partial
from typing import Any

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, in_units
from vernus.core.plan.plan_parts import abbe_error
from vernus.core.units import UnitSystem, format_in
from vernus.core.verdict_words import SEVERITIES_SAID
from vernus.job.document import Job
from vernus.job.entities import Axis, Hole
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face, plan_of
from vernus.job.machine.geometry import keep_reachable, solid
from vernus.job.machine.survey import hole_thread
from vernus.job.make.holes_there import used_by
from vernus.job.plan.display import display_of
from vernus.job.plan.faces import faces_result, play_told
from vernus.job.plan.travel_left import EnvelopeResult, envelope_result
from vernus.job.plan.what_if import end_names, show_ends, show_lost, what_ifs
from vernus.job.review.review import review_machine
from vernus.job.said import of_axis
from vernus.job.scope import gets_scale, on_display
from vernus.paper.drawing.machine.views import Scene, paint_views, scene_spans
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, heading, subheading, table
from vernus.paper.pages.said import unfitted_stops


def plan_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """What the plan says about the machine, and the faces of some axes; nothing while the job knows no members."""
    if not job.machine.members or not axes:
        return
    yield heading("Plan")
    try:
        yield from _envelope(job, envelope_result(job), units)
    except BadInputError as error:
        yield Words(str(error))
    for at in review_machine(job):
        what, how = at.finding.what.text(units), at.finding.remedy.text(units)
        yield Words(f"{SEVERITIES_SAID[at.finding.severity]}: {what} → {how}", indent=8, after=4)
    yield from _faces(job, axes, units)
    yield from _holes(job, units)
    yield from _swap(job, units)


def _envelope(job: Job, result: EnvelopeResult, units: UnitSystem) -> Iterable[Block]:
    yield subheading("Travel that is left")
    lost = show_ends(result.ends_lost_mm, end_names(job), units)
    yield Words(f"Lost with all planned parts and stops in place: {lost}. {result.instruction.text(units)}")
    said = "; ".join(w.text(units) for w in result.unchecked)
    yield Words(f"Not checked: {said}." if said else "Every pair is checked.")
    for axis in job.axes():
        plan = plan_of(job, axis)
        if plan is not None and plan.beside is not None:
            both = [f"{w.words.text(units)}: {w.in_words(units)}" for w in what_ifs(job, axis)[:2]]
            yield Words(f"The {axis.name} scale in two places, and what each takes: " + "; ".join(both) + ".")
    yield from unfitted_stops(job, units)
    keep = [solid(b) for b in keep_reachable(job)]
    scene = Scene(result.envelope, result.envelope.home, keep)
    spans = scene_spans(result.envelope, keep)
    draw: Callable[..., Any] = partial(
        paint_views, scene=scene, spans=spans, inks=PRINT, units=units, kept=result.left or None
    )
    yield Picture(draw, 330)


def _faces(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    for axis in axes:
        result = faces_result(job, axis) if gets_scale(axis) else None
        if result is None or not result.judged:
            continue
        mine = chosen_face(job, axis)
        yield subheading(f"Faces for {axis.name}, best first")
        rows = []
        for judged in result.judged:
            costs = judged.ranked.costs
            lost = show_lost(costs.lost_mm if costs.possible else None, units)
            abbe = format_in(abbe_error(costs.abbe_mm), "µm" if units == "mm" else "thou", 0 if units == "mm" else 1)
            chosen = mine is not None and mine.id == judged.face.id
            name = f"● {judged.face.name}, chosen" if chosen else judged.face.name
            rows.append(
                (name, lost, ", ".join(costs.blocked) or "nothing", f"{costs.holes:g} / {judged.face.parts:g}", abbe)
            )
        yield from table(
            ("Face", "Travel lost", "Covers", "Holes/parts", "Abbe"), rows, (0.33, 0.17, 0.26, 0.13, 0.11), (3, 4)
        )
        plays = (play_told(job, axis, j.face, units) for j in result.judged)
        yield Words(" ".join((result.why.text(units), *filter(None, plays))))


def _holes(job: Job, units: UnitSystem) -> Iterable[Block]:
    holes = job.all(Hole)
    if not holes:
        return
    yield subheading("Holes there are")
    rows = [
        (
            h.member, h.place, hole_thread(h).text(),
            _where(h, units), _deep(h, units), used_by(job, h),
        )
        for h in holes
    ]  # fmt: skip
    columns = ("In the", "Where", "Thread", "From the left, above the middle", "Depth", "Used by")
    yield from table(columns, rows, (0.1, 0.2, 0.22, 0.2, 0.16, 0.12))


def _where(hole: Hole, units: UnitSystem) -> str:
    """The place of a hole or of the first of its row, how many there are and how far apart."""

    def said(words: str, length: LengthEntry | None) -> str:
        return "" if length is None else in_units(units, words, mm=Mm(length.mm))

    row = f"; {round(hole.count)} in a row" + said(", {mm} apart", hole.apart) if round(hole.count) > 1 else ""
    return (said("{mm}", hole.at_x) + said(", {mm}", hole.at_y) + row).lstrip(",; ")


def _deep(hole: Hole, units: UnitSystem) -> str:
    """How deep a hole and its thread are; of a T-slot its head, the height of that and the whole depth."""
    sizes = (("hole {mm}", hole.depth), ("thread {mm}", hole.thread_deep), ("pitch {mm}", hole.pitch))
    if hole.what == "slot":
        sizes = (("head {mm}", hole.head), ("{mm} high", hole.head_high), ("{mm} deep", hole.depth))
    elif hole.through == "through":
        return "through"
    return ", ".join(in_units(units, words, mm=Mm(mm.mm)) for words, mm in sizes if mm is not None)


def _swap(job: Job, units: UnitSystem) -> Iterable[Block]:
    """What is done when a display goes over from another machine: plugs, settings axis by axis, and what to check."""
    display = display_of(job)
    if display is None or not display.shared.strip():
        return
    yield subheading(f"Changing the display over between {display.shared} and this machine")
    yield Words("Display off and unplugged before a plug is drawn; earth it to this machine before it is switched on.")
    rows = []
    for axis in job.axes():
        if not on_display(axis):
            continue
        set_ = [s.words.text(units) for s in of_axis(job, axis, "setting", "key_in")]
        rows.append((axis.name, display.signal or "as its plug is marked", " ".join(set_)))
    yield from table(("Axis", "Plug", "Set in the display for this machine"), rows, (0.08, 0.22, 0.7))
    yield Words(
        "Note what is set in the display for the other machine before it is changed. Then check on every axis: it "
        "counts the way its dial does, a known length reads as it did when it was keyed in, and zero comes back. "
        "Mark the plugs."
    )

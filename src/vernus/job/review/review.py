"""Everything worth saying about an axis, the machine and the job: findings by sheet, and the next step."""

from __future__ import annotations

import itertools
import traceback
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from vernus.core.errors import BadInputError, VernusError
from vernus.core.finding import SEVERITIES, Finding, Sentence, conclusion, directed, finding
from vernus.job.document import LOGGED, Job
from vernus.job.doubts import doubt_finding, doubtful
from vernus.job.entities import (
    Axis,
    Entity,
    Photo,
    PowerFeed,
    Step,
    Sweep,
    TrialPart,
)
from vernus.job.feed.asked import asked_on
from vernus.job.fields import quantities
from vernus.job.happened import HAPPENED
from vernus.job.keep.card import CardLine, lines_with
from vernus.job.keep.photo import said_of
from vernus.job.known.axis_figures import TOLD_BY, plan_of
from vernus.job.known.stored import unmeasured
from vernus.job.machine.directions import directions_of, finding_directed
from vernus.job.machine.fitted_stops import stops_fitted
from vernus.job.machine.geometry import contradiction_finding, contradictions, geometry_findings
from vernus.job.machine.survey import hole_findings
from vernus.job.plan.display import display_findings
from vernus.job.plan.places import place_rests
from vernus.job.plan.travel_left import envelope_result, pillar_rests, stops_of
from vernus.job.prove.part import part_result, trial_part
from vernus.job.prove.recheck import change_findings
from vernus.job.review.sheet_reviews import SHEET_REVIEWS, SheetReview, State
from vernus.job.scope import (
    axes_in_scope,
    drives_patterns,
    gets_scale,
    has_scale,
    in_scope,
    on_display,
    sheets_of,
)
from vernus.job.sheet_names import SheetName

UNFORESEEN: tuple[type[Exception], ...] = (
    VernusError, ArithmeticError, AssertionError, AttributeError, LookupError, RecursionError, TypeError, ValueError,
)  # fmt: skip
"""What a look may raise without taking the job with it."""


@dataclass(frozen=True)
class Located:
    """A finding and where it belongs."""

    finding: Finding
    axis_id: str
    axis: str
    sheet: SheetName


@dataclass(frozen=True)
class AxisReview:
    """One axis: its findings, the state of each of its sheets, and what comes next."""

    findings: tuple[Located, ...]
    states: dict[SheetName, State]
    next_sheet: SheetName | None
    next_step: Sentence
    rests_on: tuple[str, ...]


def review_axis(job: Job, axis: Axis) -> AxisReview:
    """Findings, states and next step of one axis; nothing of an axis out of scope."""
    if job.get(axis.id) is not axis:  # one that is only imagined
        return _review_axis(job, axis)
    return job.derived_of_axis("review", axis.id, lambda: _review_axis(job, axis))


def _review_axis(job: Job, axis: Axis) -> AxisReview:
    found: list[Located] = []
    states: dict[SheetName, State] = {}
    next_sheet: SheetName | None = None
    next_step = conclusion("This axis is finished. When it is checked again, and why, stands under Log.")
    for sheet in sheets_of(axis):
        look = _looked(job, axis, sheet)
        states[sheet] = look.state
        found += [Located(f, axis.id, axis.name, sheet) for f in look.findings]
        passed_by = look.entered == "open" and _passed_by(job, axis, sheet)
        if next_sheet is None and not passed_by and (look.entered != "done" or look.state == "stop" or look.failed):
            next_sheet, next_step = sheet, look.step
    for sheet, asked in _doubts(job).get(axis.id, ()):
        if sheet in states:
            found.append(Located(asked, axis.id, axis.name, sheet))
            states[sheet] = "stop" if states[sheet] == "stop" else "caution"
    if on_display(axis):
        found += [Located(f, axis.id, axis.name, "calibrate") for f in change_findings(job, axis)]
    rests = rests_on(job, axis)
    if rests and has_scale(axis) and plan_of(job, axis) is not None:
        found.append(Located(_rests(rests), axis.id, axis.name, "scale"))
    if next_sheet is None and not stops_fitted(job, axis):
        next_step = Sentence("Fit the stops that the Envelope sheet asks for, and tick that on the job card.")
    if next_sheet is None and any(at.finding.severity != "info" for at in found):
        next_step = Sentence("Every sheet of this axis is filled in; look at the cautions that are still open.")
    found.sort(key=lambda at: -SEVERITIES.index(at.finding.severity))
    words = directions_of(job, axis)
    located = tuple(replace(at, finding=finding_directed(at.finding, words)) for at in found)
    return AxisReview(located, states, next_sheet, directed(next_step, words), rests)


def _looked(job: Job, axis: Axis, sheet: SheetName) -> SheetReview:
    """What a sheet comes to; where that can't be worked out, a finding that says so, and the others live on."""
    try:
        return SHEET_REVIEWS[sheet](job, axis)
    except UNFORESEEN as error:
        found = _slip(error)
        return SheetReview("begun", (found,), found.remedy)


def _slip(error: Exception) -> Finding:
    """What nobody foresaw as a finding: its kind and place, or what was raised on purpose."""
    last = traceback.extract_tb(error.__traceback__)[-1]
    where = f"{type(error).__name__} in {Path(last.filename).name}, line {last.lineno}"
    return finding(
        "fault",
        "stop",
        "This can't be worked out: {why}.",
        "Undo the last edit, or correct the figure typed last. What you logged is on the disk.",
        why=str(error).rstrip(".") if isinstance(error, VernusError) else where,
    )


_ENTERED_ON: dict[str, SheetName] = {
    "axis": "travel", "travel": "travel", "scale": "scale", "delivery": "receive", "part": "mounts", "height": "mounts",
    "drilled": "mounts", "feed": "fit", "mesh": "mesh", "runon": "trips", "rework": "run-in", "sweep": "align",
    "reader": "reader", "gap": "reader", "cable": "cables", "powerup": "powerup", "calibration": "calibrate",
    "setting": "calibrate", "positioning": "positioning", "feel": "positioning", "trial-part": "part",
}  # fmt: skip
"""The sheet on which an entity of an axis is entered, by its kind."""


def _doubts(job: Job) -> dict[str, list[tuple[SheetName, Finding]]]:
    """Findings on stored figures that would be asked about today, by axis id; "" for those of no axis.

    What is only logged is looked at apart from the rest, so that a reading costs no look at everything else.
    """
    parts = job.derived("doubts", lambda: [_doubts_of(job, e) for e in job.entities() if type(e) not in LOGGED])
    for kind in LOGGED:
        parts = parts + job.derived_each(("doubts", kind), kind, partial(_doubts_of, job), TOLD_BY)
    found: dict[str, list[tuple[SheetName, Finding]]] = {}
    for axis_id, sheet, asked in itertools.chain.from_iterable(parts):
        found.setdefault(axis_id, []).append((sheet, asked))
    return found


def _doubts_of(job: Job, entity: Entity) -> list[tuple[str, SheetName, Finding]]:
    """The axis id, the sheet and the finding of each doubtful figure of an entity."""
    found: list[tuple[str, SheetName, Finding]] = []
    for quantity, asked in doubtful(job, entity):
        holder = job.get(getattr(entity, "part_id", "")) or entity
        axis_id = entity.id if isinstance(entity, Axis) else getattr(holder, "axis_id", "")
        sheet = _ENTERED_ON.get(entity.kind, "machine")
        if isinstance(entity, PowerFeed):
            sheet = asked_on(next(n for n, q in quantities(PowerFeed).items() if q is quantity))
        name = getattr(entity, "name", "")
        label = f"{name}, {quantity.label.lower()}" if name and not isinstance(entity, Axis) else quantity.label
        found.append((axis_id, sheet, doubt_finding(asked, label)))
    return found


def _passed_by(job: Job, axis: Axis, sheet: SheetName) -> bool:
    """Whether work went on without this sheet: nothing is received or mounted any more once the body was swept.

    Parts needn't be designed here either: a step of the card behind them that is ticked passes them by, and so does a
    readout there already. The sheet stays open; it is only not what comes next.
    """
    if sheet not in ("receive", "mounts"):
        return False
    ticked = {s.key for s in job.all(Step) if s.done}
    passed = {f"{key}-{axis.name}" for key in (("hold", "mark", "drill") if sheet == "mounts" else ("receive",))}
    received = sheet == "receive" and ("receive" in ticked or any(e.axis_id == axis.id for e in job.all(Sweep)))
    return received or not gets_scale(axis) or bool(ticked & passed) or bool(job.of_axis(Sweep, axis.id))


def rests_on(job: Job, axis: Axis) -> tuple[str, ...]:
    """The names of the figures that the plan of an axis uses and nobody measured."""
    if not in_scope(axis):
        return ()
    known = [k.name for k in unmeasured(job, axis)]
    return tuple(dict.fromkeys([*known, *place_rests(job, axis), *_unmeasured_boxes(job, axis)]))


def _unmeasured_boxes(job: Job, axis: Axis) -> list[str]:
    """What nobody measured of the machine that decides a stop of the axis, or the bumper that makes it."""
    try:
        stops = [s for s in stops_of(job) if s.axis.id == axis.id]
        return [name for s in stops for name in (*s.unmeasured, *pillar_rests(job, axis, s.need.end))]
    except BadInputError:
        return []


def _rests(names: tuple[str, ...]) -> Finding:
    return finding(
        "rests-on-unmeasured",
        "info",
        "Some figures in this plan are not measured: {names}.",
        "Measure them before anything is drilled; what is entered then decides everywhere.",
        names=", ".join(names),
    )


def review_job(job: Job) -> list[Located]:
    """Every finding of the job: the machine's and the plan's, then by axis, gravest first within an axis."""
    found = review_machine(job)
    for axis in axes_in_scope(job):
        found += review_axis(job, axis).findings
    return found


def review_pictures(job: Job) -> list[Located]:
    """The pictures of the job that its file has lost; reads each of them whole, so not at every edit."""
    lost = [p for p in job.all(Photo) if any(job.picture(i) is None for i in (p.picture, p.original) if i)]
    return [
        Located(
            finding(
                "picture-lost",
                "caution",
                "A picture is missing from the job file or was altered: {said}.",
                "Drop it into the Log again; a copy of the job from before still has it.",
                said=said_of(job, photo),
            ),
            photo.axis_id,
            next((a.name for a in axes_in_scope(job) if a.id == photo.axis_id), "machine"),
            "log",
        )
        for photo in lost
    ]


def review_machine(job: Job) -> list[Located]:
    """What concerns the machine as a whole: its boxes, the envelope of the plan, and the display."""
    try:
        return _machine_found(job)
    except UNFORESEEN as error:
        return [Located(_slip(error), "", "machine", "machine")]


def _machine_found(job: Job) -> list[Located]:
    wrong = geometry_findings(job)
    found = [Located(f, "", "machine", "machine") for f in wrong]
    found += [Located(contradiction_finding(c), "", "machine", "machine") for c in contradictions(job)]
    found += [Located(f, "", "machine", "machine") for f in hole_findings(job)]
    found += [Located(f, "", "machine", "machine") for sheet, f in _doubts(job).get("", ()) if sheet == "machine"]
    found += [Located(f, "", "machine", "part") for sheet, f in _doubts(job).get("", ()) if sheet == "part"]
    if not wrong and job.machine.members and axes_in_scope(job):
        try:
            found += [Located(f, "", "machine", "envelope") for f in envelope_result(job).findings]
        except BadInputError as error:
            text = finding("cannot-compute", "stop", "{text}", "Correct it on the Machine sheet.", text=str(error))
            found.append(Located(text, "", "machine", "envelope"))
    if job.all(TrialPart) and drives_patterns(job):
        found += [Located(f, "", "machine", "part") for f in part_result(job, trial_part(job, "none")).findings]
    return found + [Located(f, "", "machine", "order") for f in display_findings(job)]


def card_lines(job: Job) -> list[CardLine]:
    """The job card: every step in order, with what is ticked and what the sheets say is done."""
    return list(job.derived_now(("card", job.now().astimezone().date()), lambda: _card_lines(job)))


def _card_lines(job: Job) -> list[CardLine]:
    reviews = {a.name: review_axis(job, a) for a in axes_in_scope(job)}
    states = {name: {str(k): v for k, v in found.states.items()} for name, found in reviews.items()}
    opened = {(name, str(at.sheet)) for name, r in reviews.items() for at in r.findings if at.finding.code == HAPPENED}
    return lines_with(job, states, opened)

"""Everything worth saying about a job: its findings by axis and sheet, how far each sheet is, and the next step.

The roof over every room. A sheet's state comes from what was entered on that sheet and from nothing else; an open stop
or caution of it is its state before all.
"""

from __future__ import annotations

import itertools
import traceback
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Literal

from vernus.core.errors import BadInputError, VernusError
from vernus.core.finding import SEVERITIES, Finding, Sentence, conclusion, directed, finding, in_order
from vernus.job.align.passes import PLANES, passes, result_in_job, targets_of
from vernus.job.align.reader import reader_result, rod_set
from vernus.job.connect.cables import cable_result
from vernus.job.connect.powerup import powerup_result
from vernus.job.document import LOGGED, Job
from vernus.job.doubts import doubt_finding, doubtful
from vernus.job.entities import (
    TARGETS,
    Axis,
    CableAnchor,
    CableRun,
    CalibrationRun,
    Entity,
    FeelRecord,
    GapCheck,
    LogEntry,
    Photo,
    PositioningRun,
    PowerFeed,
    PowerUpCheck,
    ReaderSetting,
    Step,
    Sweep,
    TravelSurvey,
    TrialPart,
    Wire,
)
from vernus.job.feed.asked import FEED_SHEETS, FeedSheet, asked_on, begun_on
from vernus.job.feed.feed import feed_result
from vernus.job.feed.trips import stops_result
from vernus.job.fields import quantities
from vernus.job.happened import HAPPENED, screws_findings
from vernus.job.keep.card import CardLine, lines_with
from vernus.job.keep.photo import said_of
from vernus.job.known import TOLD_BY, chosen_face, delivery_of, feed_of, plan_of, unmeasured
from vernus.job.machine.directions import directions_of, finding_directed
from vernus.job.machine.fitted_stops import stops_fitted
from vernus.job.machine.geometry import contradiction_finding, contradictions, faces_of, geometry_findings
from vernus.job.machine.stroke import stroke_of
from vernus.job.machine.survey import hole_findings, told_so_far
from vernus.job.machine.travel import travel_result
from vernus.job.make.delivered import compare_delivery
from vernus.job.make.mounts import mount_result
from vernus.job.make.served import parts_of
from vernus.job.plan.display import display_findings, display_of
from vernus.job.plan.faces import face_findings
from vernus.job.plan.places import place_rests
from vernus.job.plan.scale import scale_result
from vernus.job.plan.travel_left import envelope_result, pillar_rests, stops_of
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.prove.feel import feel_result
from vernus.job.prove.part import part_result, trial_part
from vernus.job.prove.positioning import positioning_result
from vernus.job.prove.recheck import change_findings
from vernus.job.scope import (
    axes_in_scope,
    drives_patterns,
    gets_scale,
    has_scale,
    in_scope,
    on_display,
    sheets_of,
    sheets_of_job,
)
from vernus.job.sheet_names import AXIS_SHEETS, SheetName

UNFORESEEN: tuple[type[Exception], ...] = (
    VernusError, ArithmeticError, AssertionError, AttributeError, LookupError, RecursionError, TypeError, ValueError,
)  # fmt: skip
"""What a look may raise without taking the job with it."""
State = Literal["open", "begun", "done", "caution", "stop"]


@dataclass(frozen=True)
class Located:
    """A finding and where it belongs."""

    finding: Finding
    axis_id: str
    axis: str
    sheet: SheetName


@dataclass(frozen=True)
class Look:
    """What one sheet of an axis comes to: how far it is, its findings, the next step on it, and whether it failed."""

    entered: Literal["open", "begun", "done"]
    findings: tuple[Finding, ...]
    step: Sentence
    failed: bool = False

    @property
    def state(self) -> State:
        """The state the route shows: an open stop or caution first."""
        return _state_with(self.entered, self.findings, failed=self.failed)


def _state_with(entered: Literal["open", "begun", "done"], findings: Iterable[Finding], *, failed: bool) -> State:
    grave = {f.severity for f in findings}
    return "stop" if "stop" in grave else "caution" if failed or "caution" in grave else entered


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


def _looked(job: Job, axis: Axis, sheet: SheetName) -> Look:
    """What a sheet comes to; where that can't be worked out, a finding that says so, and the others live on."""
    try:
        return _LOOKS[sheet](job, axis)
    except UNFORESEEN as error:
        found = _slip(error)
        return Look("begun", (found,), found.remedy)


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
    received = "receive" in ticked and sheet == "receive"
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


def _travel(job: Job, axis: Axis) -> Look:
    result = travel_result(job, axis)
    logged = any(s.readings for s in job.of_axis(TravelSurvey, axis.id))
    good = result.useful_mm is not None and result.best is not None and result.best.readings > 1
    return Look("done" if good else "begun" if logged else "open", result.findings, result.instruction)


def _scale(job: Job, axis: Axis) -> Look:
    plan = plan_of(job, axis)
    if plan is None:
        words = "Say which scale it has." if axis.readout == "there" else "Choose the scale."
        return Look("open", (), Sentence(words))
    result = scale_result(job, axis)
    findings = [*result.findings, *_reopened(job, axis)]
    stop = next((f for f in findings if f.severity == "stop"), None)
    entered: Literal["begun", "done"] = "begun" if result.placement is None or stop is not None else "done"
    return Look(entered, tuple(findings), stop.remedy if stop is not None else result.instruction)


def _reopened(job: Job, axis: Axis) -> list[Finding]:
    """What a power feed on the axis says against the scale's plan: its trips would let the scale run out."""
    feed = feed_of(job, axis)
    found = stops_result(job, axis, feed).findings if feed is not None else ()
    return [f for f in found if "scale" in f.concerns]


def _faces(job: Job, axis: Axis) -> Look:
    if not faces_of(job, axis):
        return Look("open", (), Sentence("No face of this axis is described; describe the one it goes on."))
    if chosen_face(job, axis) is None and axis.readout == "there":
        words = "Say on which face the scale hangs that is there already: until then it is in no envelope."
        return Look("open", (), Sentence(words))
    if chosen_face(job, axis) is None:
        return Look("open", (), Sentence("Choose the face: see what each one costs in travel, reach and work."))
    return Look("done", tuple(face_findings(job, axis)), Sentence("The face is chosen."))


def _receive(job: Job, axis: Axis) -> Look:
    came = delivery_of(job, axis)
    _, findings, step = compare_delivery(job, axis)
    if came is None:
        return Look("open", (), step)
    said = [came.measuring, came.overall, came.hole_from_end, came.reader]
    whole = all(e is not None for e in said)
    return Look("done" if whole else "begun", tuple(findings), step)


def _mounts(job: Job, axis: Axis) -> Look:
    results = [mount_result(job, part) for part in parts_of(job, axis)]
    loose = screws_findings(job, axis)
    if not results and loose:
        return Look("begun", tuple(loose), loose[0].remedy)
    if not results:
        return Look("open", (), Sentence("Design the parts that hold it, from heights measured in a dry fit."))
    findings = (*loose, *(f for r in results for f in r.findings))
    made = all(r.part is not None and r.rows for r in results)
    return Look("done" if made else "begun", findings, next((r.instruction for r in results), Sentence("")))


def _align(job: Job, axis: Axis) -> Look:
    findings: list[Finding] = []
    open_, begun, failed = 0, False, False
    step: Sentence | None = None
    words = dict(TARGETS)
    for target in targets_of(job, axis):
        settled = target == "rod" and rod_set(job, axis)
        for plane in (*PLANES, "roll"):
            last = latest_read(passes(job, axis.id, plane, target))
            if last is None:
                if plane != "roll" and not settled:
                    open_ += 1
                    step = step or (_SET_ROD if target == "rod" else Sentence(
                        f"Sweep the {words[target]} with the indicator, {plane} plane."
                    ))  # fmt: skip
                continue
            begun = True
            result = result_in_job(job, last)
            where = plane.capitalize() if len(targets_of(job, axis)) == 1 else f"{words[target].capitalize()}, {plane}"
            at = f"{where}, pass {len([s for s in passes(job, axis.id, plane, target) if s.readings])}"
            findings += _placed(result.findings, at, findings)
            figures = result.alignment if plane != "roll" else result.roll
            verdict = None if figures is None else figures.verdict
            failed = failed or verdict == "fail"
            if verdict != "pass" or _stops(result.findings):
                open_ += 1
                step = step or result.instruction
    entered: Literal["open", "begun", "done"] = "done" if not open_ else "begun" if begun else "open"
    return Look(entered, tuple(findings), step or Sentence("Aligned in both planes."), failed)


_SET_ROD = Sentence(
    "Set the rod by running the reader to both ends and feeling for bind; tick that on Reader. Or sweep it with the "
    "indicator."
)
_ALL_PASSES = "all passes"


def _placed(found: Iterable[Finding], at: str, told: list[Finding]) -> list[Finding]:
    """Findings of a pass with its plane and number before them; what concerns every pass alike is told once."""
    codes = {f.code for f in told}
    return [
        f if _ALL_PASSES in f.concerns else replace(f, what=Sentence("{at}: {what}", {"at": at, "what": f.what}))
        for f in found
        if _ALL_PASSES not in f.concerns or f.code not in codes
    ]


def _reader(job: Job, axis: Axis) -> Look:
    result = reader_result(job, axis)
    begun = bool(job.of_axis(GapCheck, axis.id) or job.of_axis(ReaderSetting, axis.id))
    failed = result.verdict == "fail"
    entered: Literal["open", "begun", "done"] = "done" if result.done and begun else "begun" if begun else "open"
    return Look(entered, result.findings, result.instruction, failed)


def _cables(job: Job, axis: Axis) -> Look:
    if not any(job.of_axis(kind, axis.id) for kind in (CableRun, CableAnchor, Wire)):
        return Look("open", (), Sentence("See that the cable reaches at every corner before it is tied."))
    result = cable_result(job, axis)
    return Look("done" if result.done else "begun", result.findings, result.instruction)


def _powerup(job: Job, axis: Axis) -> Look:
    begun = bool(job.of_axis(PowerUpCheck, axis.id))
    result = powerup_result(job, axis)
    entered: Literal["open", "begun", "done"] = "open" if not begun else "done" if result.verdict == "pass" else "begun"
    return Look(entered, result.findings, result.instruction, result.verdict == "fail")


def _calibrate(job: Job, axis: Axis) -> Look:
    runs = [r for r in job.of_axis(CalibrationRun, axis.id) if r.checks]
    if not runs:
        return Look("open", (), Sentence("Check the display against a reference block."))
    result = calibration_result(job, runs[-1])
    return Look("done" if result.settled else "begun", result.findings, result.instruction, result.verdict == "fail")


def _positioning(job: Job, axis: Axis) -> Look:
    felt = [feel_result(job, axis, r) for r in _latest_tests(job, axis)]
    findings = [f for r in felt for f in r.findings]
    failed = any(r.verdict == "fail" for r in felt)
    runs = [r for r in job.of_axis(PositioningRun, axis.id) if r.readings]
    if not runs:
        ask = Sentence("Prove it: several targets, both directions, and back to zero.")
        words = next((r.instruction for r in felt if r.verdict == "fail"), ask)
        return Look("begun" if felt else "open", tuple(findings), words, failed)
    result = positioning_result(job, axis, runs[-1])
    done = result.done and not failed
    both = (*result.findings, *findings)
    words = in_order(result.instruction, both)
    return Look("done" if done else "begun", both, words, failed or result.verdict == "fail")


def _latest_tests(job: Job, axis: Axis) -> list[FeelRecord]:
    """The last record of every test by hand that has figures."""
    latest = {r.test: r for r in job.of_axis(FeelRecord, axis.id) if r.values}
    return list(latest.values())


def _feed(sheet: FeedSheet, job: Job, axis: Axis) -> Look:
    feed = feed_of(job, axis)
    if feed is None:
        words = "Measure screw end and kit with the caliper, before anything is taken apart."
        there = "Say where its trips stand, and measure the run-on."
        return Look("open", (), Sentence(there if axis.drive == "there" else words))
    result = feed_result(job, axis, feed)
    told = result.told.get(sheet, ())
    begun = bool(told) or begun_on(job, axis, feed, sheet)
    entered: Literal["open", "begun", "done"] = "done" if sheet in result.settled else "begun" if begun else "open"
    return Look(entered, told, result.instruction_on(sheet))


_LOOKS: dict[SheetName, Callable[[Job, Axis], Look]] = {
    "travel": _travel, "scale": _scale, "faces": _faces, "receive": _receive, "mounts": _mounts,
    **{sheet: partial(_feed, sheet) for sheet in FEED_SHEETS},
    "align": _align, "reader": _reader, "cables": _cables, "powerup": _powerup, "calibrate": _calibrate,
    "positioning": _positioning,
}  # fmt: skip


def _stops(findings: Iterable[Finding]) -> bool:
    return any(f.severity == "stop" for f in findings)


def latest_read(sweeps: list[Sweep]) -> Sweep | None:
    """The last pass that has readings."""
    read = [s for s in sweeps if s.readings]
    return read[-1] if read else None


def card_lines(job: Job) -> list[CardLine]:
    """The job card: every step in order, with what is ticked and what the sheets say is done."""
    return list(job.derived_now(("card", job.now().astimezone().date()), lambda: _card_lines(job)))


def _card_lines(job: Job) -> list[CardLine]:
    reviews = {a.name: review_axis(job, a) for a in axes_in_scope(job)}
    states = {name: {str(k): v for k, v in found.states.items()} for name, found in reviews.items()}
    opened = {(name, str(at.sheet)) for name, r in reviews.items() for at in r.findings if at.finding.code == HAPPENED}
    return lines_with(job, states, opened)


def job_states(job: Job) -> dict[SheetName, State]:
    """The state of every sheet that belongs to the machine or the whole job."""
    grave = {
        s: [at.finding for at in review_machine(job) if at.sheet == s] for s in ("machine", "envelope", "order", "part")
    }
    fitted = [a for a in axes_in_scope(job) if gets_scale(a)]
    chosen = sum(chosen_face(job, a) is not None for a in fitted)
    done, of = told_so_far(job)
    entered: dict[SheetName, Literal["open", "begun", "done"]] = {
        "scope": "done" if axes_in_scope(job) else "open",
        "machine": _how_far(done, of),
        "envelope": _how_far(chosen, len(fitted)),
        "order": _how_far(sum((display_of(job) is not None, _ordered(job))), 2),
        "part": _part_state(job),
        "card": _card_state(job),
        "log": "begun" if job.all(LogEntry) else "open",
        "paper": "open",
    }
    wanted = [s for s in sheets_of_job(job) if s not in AXIS_SHEETS]
    return {s: _state_with(entered[s], grave.get(str(s), ()), failed=False) for s in wanted}


def _part_state(job: Job) -> Literal["open", "begun", "done"]:
    if not job.all(TrialPart):
        return "open"
    return "done" if part_result(job, trial_part(job, "none")).done else "begun"


def _how_far(done: int, of: int) -> Literal["open", "begun", "done"]:
    return "open" if done == 0 else "done" if done >= of else "begun"


def _ordered(job: Job) -> bool:
    return any(s.key == "order" and s.done for s in job.all(Step))


def _card_state(job: Job) -> Literal["open", "begun", "done"]:
    lines = card_lines(job)
    return "open" if not any(s.done for s in job.all(Step)) else _how_far(sum(c.done for c in lines), len(lines))


_WORST: tuple[State, ...] = ("stop", "caution", "begun", "open", "done")


def _with_feed(states: dict[SheetName, State]) -> dict[str, State]:
    """The states with the worst of a feed's sheets before them, under ``feed``."""
    found: dict[str, State] = {}
    mine = [states[s] for s in FEED_SHEETS if s in states]
    for sheet, state in states.items():
        if sheet in FEED_SHEETS and "feed" not in found:
            worst = min(mine, key=_WORST.index)
            found["feed"] = "begun" if worst == "open" and "done" in mine else worst
        found[sheet] = state
    return found


def axes_as_json(job: Job) -> dict[str, dict[str, object]]:
    """What ``check --json`` says of every axis, those out of scope too."""
    shared = job_states(job) if axes_in_scope(job) else {}
    found: dict[str, dict[str, object]] = {}
    for axis in job.axes():
        review, line = review_axis(job, axis), stroke_of(job, axis).stroke
        wanted = sheets_of(axis)
        states = {**shared, **review.states} if in_scope(axis) else {}
        order = [s for s in sheets_of_job(job) if s in states and (s in wanted or s not in AXIS_SHEETS)]
        found[axis.name] = {
            "scope": axis.readout,
            "drive": axis.drive,
            "states": _with_feed({s: states[s] for s in order}),
            "stops": []
            if line is None
            else [{"end": n.end, "before_mark_mm": n.before_mark_mm, "why": n.why} for n in line.stops],
            "kept_mm": None if line is None or line.kept_mm is None else list(line.kept_mm),
            "rests_on": list(review.rests_on),
        }
    return found

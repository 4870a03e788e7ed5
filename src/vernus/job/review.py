"""Everything worth saying about a job: its findings by axis and sheet, how far each sheet is, and the next step."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.finding import SEVERITIES, Finding, Sentence
from vernus.job.align.passes import PLANES, passes, result_in_job, targets_of
from vernus.job.align.reader import reader_result
from vernus.job.connect.cables import cable_result
from vernus.job.connect.powerup import powerup_result
from vernus.job.document import Job
from vernus.job.entities import (
    TARGETS,
    Axis,
    CableAnchor,
    CableRun,
    CalibrationRun,
    GapCheck,
    PositioningRun,
    PowerFeed,
    PowerUpCheck,
    ReaderSetting,
    Sweep,
    TravelSurvey,
    Wire,
)
from vernus.job.feed.feed import feed_result, stops_result
from vernus.job.machine.geometry import chosen_face, faces_of, geometry_findings
from vernus.job.machine.survey import consequence
from vernus.job.machine.travel import plan_of, scale_result, travel_result
from vernus.job.plan.display import display_findings
from vernus.job.plan.faces import envelope_result, face_findings
from vernus.job.prove.calibrate import calibration_result
from vernus.job.prove.positioning import positioning_result
from vernus.job.prove.recheck import change_findings

SheetName = Literal[
    "machine", "travel", "scale", "faces", "envelope", "order", "receive", "align", "reader", "cables", "powerup",
    "calibrate", "positioning", "feed", "log", "card",
]  # fmt: skip
State = Literal["open", "begun", "done"]
AXIS_SHEETS: tuple[SheetName, ...] = (
    "travel", "scale", "faces", "align", "reader", "cables", "powerup", "calibrate", "positioning", "feed",
)  # fmt: skip
_FEED_ALONE: tuple[SheetName, ...] = ("travel", "feed")


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


def review_axis(job: Job, axis: Axis) -> AxisReview:
    """Findings, states and next step of one axis."""
    looks = {
        "travel": _travel,
        "scale": _scale,
        "faces": _faces,
        "align": _align,
        "reader": _reader,
        "cables": _cables,
        "powerup": _powerup,
        "calibrate": _calibrate,
        "positioning": _positioning,
        "feed": _feed,
    }
    found: list[Located] = []
    states: dict[SheetName, State] = {}
    next_sheet: SheetName | None = None
    next_step = Sentence("This axis is finished. Check it again in a month, after a crash, or in another season.")
    for sheet in sheets_of(job, axis):
        state, findings, step = looks[sheet](job, axis)
        states[sheet] = state
        found += [Located(f, axis.id, axis.name, sheet) for f in findings]
        if state != "done" and next_sheet is None:
            next_sheet, next_step = sheet, step
    found += [Located(f, axis.id, axis.name, "calibrate") for f in change_findings(job, axis)]
    found.sort(key=lambda at: -SEVERITIES.index(at.finding.severity))
    return AxisReview(tuple(found), states, next_sheet, next_step)


def sheets_of(job: Job, axis: Axis) -> tuple[SheetName, ...]:
    """The sheets an axis goes through: those of its readout, those of its power feed, or both.

    A job that is a power feed only leaves out an axis without one, its travel apart.
    """
    feed = bool(job.of_axis(PowerFeed, axis.id))
    if job.info.purpose == "feed":
        return _FEED_ALONE if feed or job.axes()[0].id == axis.id else ("travel",)
    return AXIS_SHEETS if feed else AXIS_SHEETS[:-1]


def review_job(job: Job) -> list[Located]:
    """Every finding of the job: the machine's and the plan's, then by axis, gravest first within an axis."""
    found = review_machine(job)
    for axis in job.axes():
        found += [Located(f, axis.id, axis.name, "faces") for f in face_findings(job, axis)]
        found += review_axis(job, axis).findings
    return found


def review_machine(job: Job) -> list[Located]:
    """What concerns the machine as a whole: its boxes, the envelope of the plan, and the display."""
    wrong = geometry_findings(job)
    found = [Located(f, "", "machine", "machine") for f in wrong]
    if not wrong and job.machine.members:
        found += [Located(f, "", "machine", "envelope") for f in envelope_result(job).findings]
    return found + [Located(f, "", "machine", "order") for f in display_findings(job)]


_Look = tuple[State, list[Finding], Sentence]


def _travel(job: Job, axis: Axis) -> _Look:
    result = travel_result(job, axis)
    logged = any(s.readings for s in job.of_axis(TravelSurvey, axis.id))
    costs = consequence(job, axis)
    findings = [
        replace(f, what=Sentence(f.what.template + " " + costs.template, {**f.what.values, **costs.values}))
        if f.code == "travel-given-up" and costs is not None
        else f
        for f in result.findings
    ]
    good = result.useful_mm is not None and result.best is not None and result.best.readings > 1
    return "done" if good else "begun" if logged else "open", findings, result.instruction


def _scale(job: Job, axis: Axis) -> _Look:
    plan = plan_of(job, axis)
    if plan is None:
        return "open", [], Sentence("Choose the scale.")
    result = scale_result(job, axis, plan)
    findings = [*result.findings, *_reopened(job, axis)]
    stop = next((f for f in findings if f.severity == "stop"), None)
    state: State = "begun" if result.placement is None or stop is not None else "done"
    return state, findings, stop.remedy if stop is not None else result.instruction


def _reopened(job: Job, axis: Axis) -> list[Finding]:
    """What a power feed on the axis says against the scale's plan: its stops would let the scale run out."""
    feeds = job.of_axis(PowerFeed, axis.id)
    found = stops_result(job, axis, feeds[-1]).findings if feeds else ()
    return [f for f in found if f.code in ("scale-runs-out", "scale-decides", "no-room-for-stops")]


def _feed(job: Job, axis: Axis) -> _Look:
    feeds = job.of_axis(PowerFeed, axis.id)
    if not feeds:
        return "open", [], Sentence("Measure screw end and kit with the caliper, before anything is taken apart.")
    result = feed_result(job, axis, feeds[-1])
    return "done" if result.done else "begun", list(result.findings), result.instruction


def _faces(job: Job, axis: Axis) -> _Look:
    """Cheap on purpose: what the face costs is worked out where it is asked for."""
    if chosen_face(job, plan_of(job, axis)) is not None or job.of_axis(Sweep, axis.id):
        return "done", [], Sentence("The face is chosen.")
    if not faces_of(job, axis):
        return "done", [], Sentence("No face of this axis is described.")
    return "open", [], Sentence("Choose the face: see what each one costs in travel, reach and work.")


def _align(job: Job, axis: Axis) -> _Look:
    findings: list[Finding] = []
    passed, begun, wanted = 0, False, 0
    step: Sentence | None = None
    words = dict(TARGETS)
    for target in targets_of(job, axis):
        for plane in PLANES:
            wanted += 1
            last = latest_read(passes(job, axis.id, plane, target))
            if last is None:
                ask = f"Sweep the {words[target]} with the indicator, {plane} plane."
                step = step or Sentence(ask)
                continue
            begun = True
            result = result_in_job(job, last)
            findings += result.findings
            if result.alignment is not None and result.alignment.verdict == "pass" and not _stops(result.findings):
                passed += 1
            else:
                step = step or result.instruction
        roll = latest_read(passes(job, axis.id, "roll", target))
        if roll is not None:
            findings += result_in_job(job, roll).findings
    state: State = "done" if passed == wanted else "begun" if begun else "open"
    return state, findings, step or Sentence("Aligned in both planes.")


def _reader(job: Job, axis: Axis) -> _Look:
    result = reader_result(job, axis)
    begun = bool(job.of_axis(GapCheck, axis.id) or job.of_axis(ReaderSetting, axis.id))
    state: State = "done" if result.done or (_checked(job, axis) and not begun) else "begun" if begun else "open"
    return state, list(result.findings), result.instruction


def _checked(job: Job, axis: Axis) -> bool:
    """Whether the display of the axis was ever checked: then what comes before it was done, written down or not."""
    return any(r.checks for r in job.of_axis(CalibrationRun, axis.id))


def _cables(job: Job, axis: Axis) -> _Look:
    begun = any(job.of_axis(kind, axis.id) for kind in (CableRun, CableAnchor, Wire))
    if not begun:
        state: State = "done" if _checked(job, axis) or job.of_axis(PowerUpCheck, axis.id) else "open"
        return state, [], Sentence("See that the cable reaches at every corner before it is tied.")
    result = cable_result(job, axis)
    return "done" if result.done else "begun", list(result.findings), result.instruction


def _powerup(job: Job, axis: Axis) -> _Look:
    begun = bool(job.of_axis(PowerUpCheck, axis.id))
    result = powerup_result(job, axis)
    done = result.verdict == "pass" or (_checked(job, axis) and not begun)
    return "done" if done else "begun" if begun else "open", list(result.findings), result.instruction


def _positioning(job: Job, axis: Axis) -> _Look:
    runs = job.of_axis(PositioningRun, axis.id)
    if not runs or not runs[-1].readings:
        return "open", [], Sentence("Prove it: several targets, both directions, and back to zero.")
    result = positioning_result(job, axis, runs[-1])
    return "done" if result.done else "begun", list(result.findings), result.instruction


def _stops(findings: tuple[Finding, ...]) -> bool:
    return any(f.severity == "stop" for f in findings)


def latest_read(sweeps: list[Sweep]) -> Sweep | None:
    """The last pass that has readings."""
    read = [s for s in sweeps if s.readings]
    return read[-1] if read else None


def _calibrate(job: Job, axis: Axis) -> _Look:
    runs = [r for r in job.of_axis(CalibrationRun, axis.id) if r.checks]
    if not runs:
        return "open", [], Sentence("Check the display against a reference block.")
    result = calibration_result(job, runs[-1])
    state: State = "done" if result.settled else "begun"
    return state, list(result.findings), result.instruction

"""What each sheet of an axis comes to: how far it is, its findings, the next step on it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

from vernus.core.finding import Finding, Sentence, in_order
from vernus.job.align.passes import PLANES, passes, result_in_job, targets_of
from vernus.job.align.reader import reader_result, rod_set
from vernus.job.connect.cables import cable_result
from vernus.job.connect.powerup import powerup_result
from vernus.job.document import Job
from vernus.job.entities import (
    TARGETS,
    Axis,
    CableAnchor,
    CableRun,
    CalibrationRun,
    FeelRecord,
    GapCheck,
    MountPart,
    PositioningRun,
    PowerUpCheck,
    ReaderSetting,
    Sweep,
    TravelSurvey,
    Wire,
)
from vernus.job.feed.asked import FEED_SHEETS, FeedSheet, begun_on
from vernus.job.feed.feed import feed_result
from vernus.job.feed.trips import stops_result
from vernus.job.happened import elsewhere_findings, screws_findings
from vernus.job.known.axis_figures import chosen_face, delivery_of, feed_of, plan_of
from vernus.job.machine.geometry import faces_of, geometry_findings
from vernus.job.machine.travel import travel_result
from vernus.job.make.delivered import compare_delivery
from vernus.job.make.mounts import mount_result
from vernus.job.make.served import parts_of
from vernus.job.plan.faces import face_findings
from vernus.job.plan.scale import scale_result
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.prove.feel import feel_result
from vernus.job.prove.positioning import positioning_result
from vernus.job.sheet_names import SheetName

State = Literal["open", "begun", "done", "caution", "stop"]


@dataclass(frozen=True)
class SheetReview:
    """What one sheet of an axis comes to: how far it is, its findings, the next step on it, and whether it failed."""

    entered: Literal["open", "begun", "done"]
    findings: tuple[Finding, ...]
    step: Sentence
    failed: bool = False

    @property
    def state(self) -> State:
        """The state the route shows: an open stop or caution first."""
        return state_with(self.entered, self.findings, failed=self.failed)


def state_with(entered: Literal["open", "begun", "done"], findings: Iterable[Finding], *, failed: bool) -> State:
    """How far a sheet is, an open stop or caution first."""
    serious = {f.severity for f in findings}
    return "stop" if "stop" in serious else "caution" if failed or "caution" in serious else entered


def _travel(job: Job, axis: Axis) -> SheetReview:
    result = travel_result(job, axis)
    logged = any(s.readings for s in job.of_axis(TravelSurvey, axis.id))
    good = result.useful_mm is not None and result.best is not None and result.best.readings > 1
    return SheetReview("done" if good else "begun" if logged else "open", result.findings, result.instruction)


def _scale(job: Job, axis: Axis) -> SheetReview:
    plan = plan_of(job, axis)
    if plan is None:
        words = "Say which scale it has." if axis.readout == "there" else "Choose the scale."
        return SheetReview("open", (), Sentence(words))
    result = scale_result(job, axis)
    findings = [*result.findings, *_reopened(job, axis)]
    stop = next((f for f in findings if f.severity == "stop"), None)
    entered: Literal["begun", "done"] = "begun" if result.placement is None or stop is not None else "done"
    return SheetReview(entered, tuple(findings), stop.remedy if stop is not None else result.instruction)


def _reopened(job: Job, axis: Axis) -> list[Finding]:
    """What a power feed on the axis says against the scale's plan: its trips would let the scale run out."""
    feed = feed_of(job, axis)
    found = stops_result(job, axis, feed).findings if feed is not None else ()
    return [f for f in found if "scale" in f.concerns]


def _faces(job: Job, axis: Axis) -> SheetReview:
    if not faces_of(job, axis):
        return SheetReview("open", (), Sentence("No face of this axis is described; describe the one it goes on."))
    if chosen_face(job, axis) is None and axis.readout == "there":
        words = "Say on which face the scale hangs that is there already: until then it is in no envelope."
        return SheetReview("open", (), Sentence(words))
    if chosen_face(job, axis) is None and (wrong := geometry_findings(job)):
        return SheetReview("open", tuple(wrong[:1]), wrong[0].remedy)
    if chosen_face(job, axis) is None:
        return SheetReview("open", (), Sentence("Choose the face: see what each one costs in travel, reach and work."))
    return SheetReview("done", tuple(face_findings(job, axis)), Sentence("The face is chosen."))


def _receive(job: Job, axis: Axis) -> SheetReview:
    arrived = delivery_of(job, axis)
    _, findings, step = compare_delivery(job, axis)
    if arrived is None:
        return SheetReview("open", (), step)
    said = [arrived.measuring, arrived.overall, arrived.hole_from_end, arrived.reader]
    whole = all(e is not None for e in said)
    return SheetReview("done" if whole else "begun", tuple(findings), step)


def _mounts(job: Job, axis: Axis) -> SheetReview:
    results = [mount_result(job, part) for part in parts_of(job, axis)]
    loose = [*screws_findings(job, axis), *elsewhere_findings(
        job, axis, (MountPart,), "What was laid out", "None of it is drilled or made; lay it out anew for this face."
    )]  # fmt: skip
    if not results and loose:
        return SheetReview("begun", tuple(loose), loose[0].remedy)
    if not results:
        return SheetReview("open", (), Sentence("Design the parts that hold it, from heights measured in a dry fit."))
    findings = (*loose, *(f for r in results for f in r.findings))
    made = all(r.part is not None and r.rows for r in results)
    return SheetReview("done" if made else "begun", findings, next((r.instruction for r in results), Sentence("")))


def _align(job: Job, axis: Axis) -> SheetReview:
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
    findings += elsewhere_findings(
        job, axis, (Sweep, GapCheck, ReaderSetting, PositioningRun, FeelRecord), "What was swept, set and proved",
        "Sweep and set it anew; if it goes back there, what was noted counts again.",
    )  # fmt: skip
    entered: Literal["open", "begun", "done"] = "done" if not open_ else "begun" if begun else "open"
    return SheetReview(entered, tuple(findings), step or Sentence("Aligned in both planes."), failed)


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


def _reader(job: Job, axis: Axis) -> SheetReview:
    result = reader_result(job, axis)
    begun = bool(job.of_axis(GapCheck, axis.id) or job.of_axis(ReaderSetting, axis.id))
    failed = result.verdict == "fail"
    entered: Literal["open", "begun", "done"] = "done" if result.done and begun else "begun" if begun else "open"
    return SheetReview(entered, result.findings, result.instruction, failed)


def _cables(job: Job, axis: Axis) -> SheetReview:
    if not any(job.of_axis(kind, axis.id) for kind in (CableRun, CableAnchor, Wire)):
        return SheetReview("open", (), Sentence("See that the cable reaches at every corner before it is tied."))
    result = cable_result(job, axis)
    return SheetReview("done" if result.done else "begun", result.findings, result.instruction)


def _powerup(job: Job, axis: Axis) -> SheetReview:
    begun = bool(job.of_axis(PowerUpCheck, axis.id))
    result = powerup_result(job, axis)
    entered: Literal["open", "begun", "done"] = "open" if not begun else "done" if result.verdict == "pass" else "begun"
    return SheetReview(entered, result.findings, result.instruction, result.verdict == "fail")


def _calibrate(job: Job, axis: Axis) -> SheetReview:
    runs = [r for r in job.of_axis(CalibrationRun, axis.id) if r.checks]
    if not runs:
        return SheetReview("open", (), Sentence("Check the display against a reference block."))
    result = calibration_result(job, runs[-1])
    return SheetReview(
        "done" if result.settled else "begun", result.findings, result.instruction, result.verdict == "fail"
    )


def _positioning(job: Job, axis: Axis) -> SheetReview:
    felt = [feel_result(job, axis, r) for r in _latest_tests(job, axis)]
    findings = [f for r in felt for f in r.findings]
    failed = any(r.verdict == "fail" for r in felt)
    runs = [r for r in job.of_axis(PositioningRun, axis.id) if r.readings]
    if not runs:
        ask = Sentence("Prove it: several targets, both directions, and back to zero.")
        words = next((r.instruction for r in felt if r.verdict == "fail"), ask)
        return SheetReview("begun" if felt else "open", tuple(findings), words, failed)
    result = positioning_result(job, axis, runs[-1])
    done = result.done and not failed
    both = (*result.findings, *findings)
    words = in_order(result.instruction, both)
    return SheetReview("done" if done else "begun", both, words, failed or result.verdict == "fail")


def _latest_tests(job: Job, axis: Axis) -> list[FeelRecord]:
    """The last record of every test by hand that has figures."""
    latest = {r.test: r for r in job.of_axis(FeelRecord, axis.id) if r.values}
    return list(latest.values())


def _feed(sheet: FeedSheet, job: Job, axis: Axis) -> SheetReview:
    feed = feed_of(job, axis)
    if feed is None:
        words = "Measure screw end and kit with the caliper, before anything is taken apart."
        there = "Say where its trips stand, and measure the run-on."
        return SheetReview("open", (), Sentence(there if axis.drive == "there" else words))
    result = feed_result(job, axis, feed)
    told = result.findings_on.get(sheet, ())
    begun = bool(told) or begun_on(job, axis, feed, sheet)
    entered: Literal["open", "begun", "done"] = "done" if sheet in result.settled else "begun" if begun else "open"
    return SheetReview(entered, told, result.instruction_on(sheet))


SHEET_REVIEWS: dict[SheetName, Callable[[Job, Axis], SheetReview]] = {
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

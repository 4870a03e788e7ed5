"""Positioning runs of an axis: the figures, what is wrong by the pattern, and the tests by hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from vernus.core.align.reader import review_push
from vernus.core.budget import Budget, BudgetLine, Guarded, combine, judge
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Sentence, finding, in_order, plain
from vernus.core.prove.diagnosis import Diagnosis, diagnose
from vernus.core.prove.feel import FeelResult, judge_steps, judge_zero
from vernus.core.prove.positioning import LEAST_PER_METRE, Positioning, analyse_positioning
from vernus.core.prove.references import Reference, reference_lines
from vernus.core.units import UnitSystem
from vernus.job.document import Job, new_id
from vernus.job.entities import Approach, Axis, FeelRecord, PositioningRun
from vernus.job.fields import LengthEntry, complaints
from vernus.job.formats.measurements import read_measurements
from vernus.job.known import count, shows, step, still_limit, substance
from vernus.job.machine.travel import travel_result
from vernus.job.prove.calibrate import suspect_ppm
from vernus.job.prove.owned_references import core_reference, reference_of
from vernus.job.prove.temperature import review_trend, taken_out, warmth_lines, warmth_mm
from vernus.job.refusals import limit_findings, refusal


@dataclass(frozen=True)
class PositioningResult:
    """The standard's figures and the diagnosis (None while there is too little), findings, and what to do.

    ``verdict`` holds the accuracy found, with its ``budget``, against the one wanted (None while none is said).
    ``readings`` are target, upward, and shown − target (mm), what the temperatures noted make taken out.
    """

    figures: Positioning | None
    budget: Budget | None
    verdict: Literal["pass", "fail", "unsure"] | None
    diagnosis: Diagnosis | None
    findings: tuple[Finding, ...]
    instruction: Sentence
    done: bool
    readings: tuple[tuple[float, bool, float], ...] = ()


def run_of(job: Job, axis: Axis, units: UnitSystem) -> PositioningRun:
    """The run being logged, or a fresh one over the travel that isn't in the job yet."""
    found = job.of_axis(PositioningRun, axis.id)
    if found:
        return found[-1]
    fresh = PositioningRun(
        id=new_id(), axis_id=axis.id, shows=shows(job, axis).value, scale_substance=substance(job, axis).value
    )
    last = step(job, axis)
    if last is not None:
        fresh = _changed(fresh, step=last.value)
    elif units == "in":
        fresh = _changed(fresh, step=LengthEntry(mm=0.0127, text="0.5", unit="thou"))
    return with_targets(job, axis, fresh, units)


def _changed(run: PositioningRun, **changes: object) -> PositioningRun:
    made = run.with_(**changes)
    assert isinstance(made, PositioningRun)
    return made


def with_targets(job: Job, axis: Axis, run: PositioningRun, units: UnitSystem) -> PositioningRun:
    """The run with as many targets as it asks for, spread over the useful travel; kept while readings are logged.

    A number of targets outside its limits changes nothing: it is told as a finding.
    """
    travel = travel_result(job, axis).useful_mm
    if run.readings or travel is None or complaints(run):
        return run
    count = max(2, round(run.stations))
    grid = 25.4 / 20 if units == "in" else 1.0
    inset = min(5.0, travel / 50)
    uneven = [0.0, *((n + 0.18 * (-1) ** n) / (count - 1) for n in range(1, count - 1)), 1.0]
    places = [round((inset + u * (travel - 2 * inset)) / grid) * grid for u in uneven]
    targets = tuple(LengthEntry(mm=p) for p in sorted(set(places)))
    return _changed(run, targets=targets)


def fewest_targets(travel_mm: float) -> int:
    """How many targets the standard asks for over a travel (mm)."""
    return max(LEAST_PER_METRE, -int(-LEAST_PER_METRE * travel_mm // 1000))


def next_approach(run: PositioningRun) -> tuple[int, LengthEntry, bool] | None:
    """Cycle (from 1), target and direction of the next reading: up through all targets, then back down."""
    order = [(t, True) for t in run.targets]
    if run.ways == "both":
        order += [(t, False) for t in reversed(run.targets)]
    done = len(run.readings)
    if not order or done >= len(order) * round(run.cycles):
        return None
    return done // len(order) + 1, *order[done % len(order)]


def with_shown(run: PositioningRun, shown: LengthEntry) -> PositioningRun:
    """The run with one more reading; raises BadInputError when it is full."""
    due = next_approach(run)
    if due is None:
        raise BadInputError("Every cycle is read; start another run, or ask for more cycles under Setup (F4).")
    return _changed(run, readings=(*run.readings, Approach(target=due[1], up=due[2], shown=shown)))


def with_shown_changed(run: PositioningRun, row: int, shown: LengthEntry) -> PositioningRun:
    """The run with one reading corrected."""
    changed = run.readings[row].model_copy(update={"shown": shown})
    return _changed(run, readings=(*run.readings[:row], changed, *run.readings[row + 1 :]))


def without_last(run: PositioningRun) -> PositioningRun:
    """The run without its last reading."""
    return _changed(run, readings=run.readings[:-1])


def read_run(path: Path, axis: Axis) -> PositioningRun:
    """A run from a CSV of target, approach and shown, in the order read; raises BadInputError."""
    rows = read_measurements(path, ("target", "shown"), ("approach",))
    readings = [
        Approach(target=LengthEntry(mm=t), up=way > 0, shown=LengthEntry(mm=s))
        for t, way, s in zip(rows["target"], rows["approach"], rows["shown"], strict=True)
    ]
    targets = sorted({r.target.mm for r in readings})
    both = len({r.up for r in readings}) == 2
    cycles = len(readings) / (len(targets) * (2 if both else 1))
    return PositioningRun(
        id=new_id(), axis_id=axis.id, targets=tuple(LengthEntry(mm=t) for t in targets), stations=float(len(targets)),
        cycles=min(50.0, max(1.0, float(-int(-cycles // 1)))), ways="both" if both else "up", readings=tuple(readings),
    )  # fmt: skip


def _readings(run: PositioningRun, reference: Reference | None) -> list[tuple[float, bool, float]]:
    """Target, upward, and shown − target (mm) as they would be at 20 °C, counted from the lowest target."""
    low = min((r.target.mm for r in run.readings), default=0.0)
    half = 0.5 if run.shows == "diameter" else 1.0
    return [
        (r.target.mm, r.up, half * r.shown.mm - r.target.mm - (warmth_mm(run, reference, r.target.mm - low) or 0.0))
        for r in run.readings
    ]


def positioning_result(job: Job, axis: Axis, run: PositioningRun) -> PositioningResult:
    """The figures of a run and what they mean; deviations are shown − target."""
    findings = limit_findings(run)
    if findings:
        return PositioningResult(None, None, None, None, tuple(findings), findings[0].remedy, False)
    due = next_approach(run)
    if not run.targets:
        ask = Sentence("Measure the travel first: the targets are spread over it. Or read a run from a CSV file.")
        return PositioningResult(None, None, None, None, tuple(findings), ask, False)
    reference = core_reference(reference_of(job, run))
    readings = _readings(run, reference)
    target, up, off = [r[0] for r in readings], [r[1] for r in readings], [r[2] for r in readings]
    span = max(target, default=0.0) - min(target, default=0.0)
    figures = diagnosis = budget = None
    trouble: str | None = None
    if len(set(target)) > 1 and (due is None or due[0] > 1):
        try:
            whole = _whole_cycles(run)
            figures = analyse_positioning(target[:whole], up[:whole], off[:whole])
            known = count(job, axis)
            one = max(known.value, run.step.mm) if known.source != "default" else run.step.mm
            diagnosis = (
                diagnose(target, up, [t + d for t, _, d in readings], one, **suspect_ppm(job, axis))
                if len(set(target)) > 2
                else None
            )
            budget = _budget(run, reference, span)
        except BadInputError as error:
            trouble = str(error)
            findings.append(refusal(error))
    if figures is not None:
        findings += figures.findings
    if figures is not None and diagnosis is not None:
        findings += _named(diagnosis) + review_trend(run, reference, diagnosis, span)
        findings += taken_out(run, warmth_mm(run, reference, span), run.step.mm, "the targets", span)
    judged = _judged(axis, figures, budget)
    if judged is not None and figures is not None and judged.verdict != "pass":
        findings.append(_not_met(axis, figures, judged, budget))
    grave = any(f.severity != "info" for f in findings)
    if due is not None:
        words = _ask(due, diagnosis)
    elif trouble is not None:
        words = plain(trouble)
    elif diagnosis is not None and diagnosis.causes:
        words = diagnosis.instruction
    else:
        words = Sentence("Proved. Check again in a month, after a crash, and in another season.")
    verdict = None if judged is None else judged.verdict
    done = due is None and not grave
    words = in_order(words, findings)
    return PositioningResult(figures, budget, verdict, diagnosis, tuple(findings), words, done, tuple(readings))


def accuracy_of(figures: Positioning) -> float | None:
    """The accuracy A (mm) of both directions, of the one there is otherwise; None without repeats."""
    one = figures.up or figures.down
    return figures.accuracy_mm if figures.accuracy_mm is not None or one is None else one.accuracy_mm


def _budget(run: PositioningRun, reference: Reference | None, span: float) -> Budget:
    """What the accuracy found is worth: reference and temperatures over the span, the display's rounding at two places.

    Raises BadInputError for a reference that can't be that long.
    """
    rounding = BudgetLine(
        "the display's rounding, twice", run.step.mm / 2, sensitivity=2**0.5, remedy="Set a finer resolution."
    )
    known = reference_lines(reference, span) if reference is not None else []
    return combine([rounding, *known, *warmth_lines(run, reference, span)])


def _judged(axis: Axis, figures: Positioning | None, budget: Budget | None) -> Guarded | None:
    found = None if figures is None else accuracy_of(figures)
    if found is None or budget is None or axis.accuracy is None or not axis.accuracy.mm > 0:
        return None
    return judge(found, budget.expanded, axis.accuracy.mm)


def _whole_cycles(run: PositioningRun) -> int:
    """How many readings make whole cycles; all of them where they don't follow the plan."""
    cycle = len(run.targets) * (2 if run.ways == "both" else 1)
    return len(run.readings) // cycle * cycle or len(run.readings)


def _ask(due: tuple[int, LengthEntry, bool], diagnosis: Diagnosis | None) -> Sentence:
    words = "Cycle {n}: go {way} to {at}, from {side} without passing it, and log what the display shows."
    values: dict[str, object] = {
        "n": due[0],
        "way": "up" if due[2] else "down",
        "at": Fine(due[1].mm),
        "side": "below" if due[2] else "above",
    }
    if diagnosis is not None and diagnosis.causes:
        words += " So far: {so_far}"
        values["so_far"] = diagnosis.causes[0].evidence
    return Sentence(words, values)


def _named(diagnosis: Diagnosis) -> list[Finding]:
    if diagnosis.unsure is not None:
        return [
            finding(
                "cause-unsure",
                "caution",
                "{words}",
                "{test}",
                words=diagnosis.causes[0].evidence,
                test=diagnosis.instruction,
            )
        ]
    return [
        finding(
            f"cause-{n.cause}",
            "caution" if n is diagnosis.causes[0] else "info",
            "{words}",
            "{test}",
            words=n.evidence,
            test=n.next_test,
        )
        for n in diagnosis.causes
    ]


def _not_met(axis: Axis, figures: Positioning, judged: Guarded, budget: Budget | None) -> Finding:
    values = {
        "found": Fine(accuracy_of(figures) or 0.0),
        "wanted": Fine(axis.accuracy.mm if axis.accuracy else 0.0),
        "u": Fine(0.0 if budget is None else budget.expanded),
        "settle": Fine(judged.settle_mm),
    }
    if judged.verdict == "unsure":
        return finding(
            "accuracy-unsure",
            "caution",
            "The accuracy found, {found} ± {u}, is too near the {wanted} wanted to tell.",
            "A reference and a display good for {settle} would settle it; name the reference under Setup (F4).",
            **values,
        )
    return finding(
        "accuracy-not-met",
        "caution",
        "The accuracy found, {found} ± {u}, is more than the {wanted} wanted.",
        "Take out the first cause above, then run it again; or accept it knowingly on the Travel sheet.",
        **values,
    )


def feel_of(job: Job, axis: Axis, test: str) -> FeelRecord:
    """The record of one test of an axis, a fresh one if there is none yet."""
    found = [r for r in job.of_axis(FeelRecord, axis.id) if r.test == test]
    return found[-1] if found else FeelRecord.model_validate({"id": new_id(), "axis_id": axis.id, "test": test})


def feel_result(job: Job, axis: Axis, record: FeelRecord) -> FeelResult:
    """One test by hand, judged; a value off its limits is said and nothing is computed."""
    limits, limit = limit_findings(record), still_limit(job, axis)
    if limits:
        return FeelResult(None, None, limit, tuple(limits), limits[0].remedy)
    values = [v.mm for v in record.values]
    if record.test == "steps":
        return judge_steps(values, record.asked.mm, limit)
    if record.test == "zero":
        return judge_zero(values, limit)
    return _push(values, limit)


def _push(values: Sequence[float], limit_mm: float) -> FeelResult:
    if not values:
        ask = "Push the reader from the side by hand, both ways; log by how much the figure moves."
        return FeelResult(None, None, limit_mm, (), Sentence(ask))
    worst = max(values, key=abs)
    found = tuple(review_push(worst, limit_mm))
    words = (
        found[0].remedy
        if found
        else Sentence("A push from the side moves it by {mm} at most: stiff.", {"mm": Fine(abs(worst))})
    )
    return FeelResult("fail" if found else "pass", abs(worst), limit_mm, found, words)

"""Positioning runs of an axis: the figures, whether they prove it, and what is wrong by the pattern."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.budget import Budget, BudgetLine, Guarded, combine_apart, judge
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, conclusion, finding, in_order, plain
from vernus.core.prove.calibrate.counts import SUSPECT_PPM
from vernus.core.prove.diagnosis import WAVE_SEEN, Diagnosis, diagnose, odd_readings, widest_phase
from vernus.core.prove.positioning import LEAST_CYCLES, Positioning, analyse_positioning
from vernus.core.prove.references import Reference, reference_lines
from vernus.job.document import Job
from vernus.job.entities import Axis, PositioningRun
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.happened import opened_findings
from vernus.job.known.display import count, step
from vernus.job.known.lengths import family_of
from vernus.job.prove.as_read import run_as_read
from vernus.job.prove.calibrate.setting import suspect_ppm
from vernus.job.prove.owned_references import core_reference, reference_of
from vernus.job.prove.runs import fewest_targets, next_approach
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


def _readings(run: PositioningRun, reference: Reference | None) -> list[tuple[float, bool, float]]:
    """Target, upward, and shown − target (mm) as they would be at 20 °C, counted from the lowest target."""
    low = min((r.target.mm for r in run.readings), default=0.0)
    half = 0.5 if run.shows == "diameter" else 1.0
    return [
        (r.target.mm, r.up, half * r.shown.mm - r.target.mm - (warmth_mm(run, reference, r.target.mm - low) or 0.0))
        for r in run.readings
    ]


_MEANT_FOR = {"quick": "This quick check", "wave": "This run, made to look for a wave,", "full": "This run"}


def _not_proved(
    axis: Axis, run: PositioningRun, figures: Positioning | None, reference: Reference | None, verdict: str | None
) -> list[str]:
    """What a run lacks to prove an axis, in words; nothing where it proves it."""
    lacks = []
    if figures is None or figures.accuracy_mm is None:
        lacks.append("both directions, repeated" if run.ways == "up" else "a second cycle")
    if run.plan != "full" or round(run.cycles) < LEAST_CYCLES:
        lacks.append(f"{LEAST_CYCLES} cycles over {fewest_targets(_span(run))} targets")
    if reference is None:
        lacks.append("a reference, named under Run")
    if axis.accuracy is None or not axis.accuracy.mm > 0:
        lacks.append("the accuracy wanted, said on the Travel sheet")
    elif verdict not in ("pass", None):
        lacks.append("an accuracy surely inside the one wanted")
    return lacks


def _span(run: PositioningRun) -> float:
    places = [t.mm for t in run.targets]
    return max(places, default=0.0) - min(places, default=0.0)


def _proved(lacks: Sequence[str], run: PositioningRun) -> Sentence:
    """The conclusion of a run in which nothing was found."""
    if not lacks:
        return conclusion("Proved. When it is checked again, and why, stands under Log.")
    what = lacks[0] if len(lacks) == 1 else ", ".join(lacks[:-1]) + " and " + lacks[-1]
    return Sentence(f"{_MEANT_FOR[run.plan]} found nothing wrong. For a proof it still takes {what}.")


def _doubted(run: PositioningRun, row: int) -> Finding:
    """One reading far off its repeats: asked about before it becomes a cause."""
    odd = run.readings[row]
    return finding(
        "doubtful",
        "caution",
        "Reading {n}, {shown} at {target} going {way}, lies far off its repeats.",
        "Go there again, the same way; correct the line if it was a slip. Until then it makes no cause.",
        n=row + 1,
        shown=Mm(odd.shown.mm),
        target=Mm(odd.target.mm),
        way="up" if odd.up else "down",
    )


def positioning_result(job: Job, axis: Axis, run: PositioningRun) -> PositioningResult:
    """The figures of a run and what they mean; deviations are shown − target."""
    run, findings = run_as_read(job, run), limit_findings(run)
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
            one = shown_step_of(job, axis, run)
            odd = odd_readings(target, up, [t + d for t, _, d in readings], one)
            findings += [_doubted(run, n) for n in odd]
            if len(set(target)) > 2:
                diagnosis = _diagnosis(job, axis, [r for n, r in enumerate(readings) if n not in odd], one)
            budget = _budget(run, reference, span, figures)
        except BadInputError as error:
            trouble = str(error)
            findings.append(refusal(error))
    if figures is not None:
        findings += figures.findings
    judged = _judged(axis, run, figures, budget)
    unseen = _too_few_for_waves(axis, run, target)
    findings += unseen
    if judged is not None and judged.verdict == "pass" and unseen:
        judged = replace(judged, verdict="unsure")
    met = judged is not None and judged.verdict == "pass"
    if figures is not None and diagnosis is not None:
        findings += _named(diagnosis, met=met) + review_trend(run, reference, diagnosis, span)
        findings += taken_out(run, warmth_mm(run, reference, span), run.step.mm, "the targets", span)
    if judged is not None and any(f.code == "doubtful" for f in findings):
        judged = replace(judged, verdict="unsure")
    if judged is not None and figures is not None and judged.verdict != "pass":
        findings.append(_not_met(axis, figures, judged, budget))
    opened = _opened(job, axis, run)
    findings += opened
    serious = any(f.severity != "info" for f in findings)
    verdict = None if judged is None else "unsure" if opened else judged.verdict
    lacks = _not_proved(axis, run, figures, reference, verdict)
    if due is not None:
        words = _ask(due, diagnosis)
    elif trouble is not None:
        words = plain(trouble)
    elif diagnosis is not None and diagnosis.causes and not met:
        words = diagnosis.instruction
    else:
        words = _proved(lacks, run)
    done = due is None and not serious and not lacks
    words = in_order(words, findings)
    return PositioningResult(figures, budget, verdict, diagnosis, tuple(findings), words, done, tuple(readings))


def _opened(job: Job, axis: Axis, run: PositioningRun) -> list[Finding]:
    """What happened after the last run of an axis."""
    read = [r for r in job.of_axis(PositioningRun, axis.id) if r.readings]
    if not read or read[-1].id != run.id:
        return []
    return opened_findings(
        job, axis, run.changed, "positioning", "This run", "Run it again once alignment and reader are looked at."
    )


def accuracy_of(figures: Positioning) -> float | None:
    """The accuracy A (mm) of both directions, of the one there is otherwise; None without repeats."""
    one = figures.up or figures.down
    return figures.accuracy_mm if figures.accuracy_mm is not None or one is None else one.accuracy_mm


def shown_step_of(job: Job, axis: Axis, run: PositioningRun) -> float:
    """The step (mm) in which the figure of a run moves: one count, or the last digit set now, whichever is larger."""
    known, last = count(job, axis), step(job, axis)
    digit = run.step.mm if last is None else last.value.mm
    return max(known.value, digit) if known.source != "default" else digit


def _diagnosis(job: Job, axis: Axis, readings: Sequence[tuple[float, bool, float]], one: float) -> Diagnosis:
    """What the pattern of the readings says of this axis."""
    wanted = axis.accuracy.mm if axis.accuracy is not None and axis.accuracy.mm > 0 else None
    lead, family = mm_of(axis.lead), family_of(job, axis)
    return diagnose(
        [r[0] for r in readings], [r[1] for r in readings], [t + d for t, _, d in readings], one,
        suspect_ppm(job, axis.id).get("suspect_ppm", SUSPECT_PPM), wanted_mm=wanted,
        periods_mm=() if lead is None else (lead,), member=axis.moving or "moving part",
        body_type="body" if family is None else family.body_type,
    )  # fmt: skip


def _budget(run: PositioningRun, reference: Reference | None, span: float, figures: Positioning) -> Budget:
    """What the accuracy found is worth: sampling, reference and temperatures over the span, the display's rounding.

    Raises BadInputError for a reference that can't be that long.
    """
    rounding = BudgetLine(
        "the display's rounding, twice", run.step.mm / 2, sensitivity=2**0.5, remedy="Set a finer resolution.",
        step=run.step.mm / 2**0.5,
    )  # fmt: skip
    known = reference_lines(reference, span) if reference is not None else []
    sampled = figures.sampling()
    lines = [] if sampled is None else [sampled]
    return combine_apart([*lines, rounding, *known, *warmth_lines(run, reference, span)])


def _too_few_for_waves(axis: Axis, run: PositioningRun, targets: Sequence[float]) -> list[Finding]:
    """A run that looks for a wave by targets that see too little of one."""
    lead = mm_of(axis.lead)
    if run.plan != "wave" or not lead or len(set(targets)) < 2:
        return []
    gap = widest_phase(targets, lead)
    if gap <= 1 / 8 + 0.005:
        return []
    return [
        finding(
            "too-few-for-waves",
            "caution",
            "Too few targets to see a wave of {lead}: at worst they see {share:.0f} % of it.",
            "Let the targets be proposed again, or add some: within two turns of the screw, an eighth of a turn apart.",
            lead=Mm(lead),
            share=100 * max(0.0, math.cos(math.pi * min(gap, 0.5))),
        )
    ]


def _judged(axis: Axis, run: PositioningRun, figures: Positioning | None, budget: Budget | None) -> Guarded | None:
    """The accuracy found against the one wanted; a run that looks for waves passes by the share it sees of them."""
    found = None if figures is None else accuracy_of(figures)
    if figures is None or found is None or budget is None or axis.accuracy is None or not axis.accuracy.mm > 0:
        return None
    wanted = axis.accuracy.mm * (WAVE_SEEN if run.plan == "wave" else 1.0)
    plain = judge(found, budget.expanded, wanted)
    known = [line for line in budget.lines if line.freedom == math.inf]  # reference, temperatures, the display's step
    beside = combine_apart(known).expanded if known else 0.0
    verdict = figures.judge_accuracy(wanted, beside)
    return plain if verdict is None else replace(plain, verdict=verdict)


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


def _named(diagnosis: Diagnosis, *, met: bool) -> list[Finding]:
    """What the pattern says; a cause is only worth knowing where the accuracy wanted is ``met`` all the same."""
    serious: Literal["info", "caution"] = "info" if met else "caution"
    if diagnosis.unsure is not None:
        return [
            finding(
                "cause-unsure",
                serious,
                "{words}",
                "{test}",
                words=diagnosis.causes[0].evidence,
                test=diagnosis.instruction,
            )
        ]
    return [
        finding(
            f"cause-{n.cause}",
            serious if n is diagnosis.causes[0] else "info",
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
            "An uncertainty of {settle} would settle it; the budget (F7) says what makes most of it: too few cycles, "
            "the reference, or the display's step.",
            **values,
        )
    return finding(
        "accuracy-not-met",
        "caution",
        "The accuracy found, {found} ± {u}, is more than the {wanted} wanted.",
        "Take out the first cause above, then run it again; or accept it knowingly on the Travel sheet.",
        **values,
    )

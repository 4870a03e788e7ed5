"""From the entities of a job to what the core makes of them: one function per sheet, used by screen, paper and CLI."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding, plain
from vernus.core.machine.travel import Travel, compare_methods, measure_travel, useful_travel
from vernus.core.plan.scales import (
    Placement,
    ScaleChoice,
    ScaleFamily,
    choose_sizes,
    judge_plan,
    place_reader,
)
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Axis, Entity, ScalePlan, TravelSurvey
from vernus.job.fields import LengthEntry, complaints
from vernus.job.make.delivered import real_scale


@dataclass(frozen=True)
class TravelResult:
    """The axis's travel from its most certain survey; ``useful_mm`` is None while nothing usable is measured.

    ``surveys`` are (tool, travel), most certain first.
    """

    best: Travel | None
    useful_mm: float | None
    findings: tuple[Finding, ...]
    instruction: Sentence
    surveys: tuple[tuple[str, Travel], ...] = ()


@dataclass(frozen=True)
class ScaleResult:
    """The sizes that serve, and the plan's own figures once a measuring length is chosen."""

    travel_mm: float | None
    choices: tuple[ScaleChoice, ...]
    family: ScaleFamily | None
    placement: Placement | None
    spare_mm: float | None
    findings: tuple[Finding, ...]
    instruction: Sentence


def limit_findings(entity: Entity) -> list[Finding]:
    """A finding for each value outside its declared limits; the value itself is kept."""
    return [
        finding("out-of-range", "stop", "{text}", "Correct it; the value is kept and marked until then.", text=text)
        for _, text in complaints(entity)
    ]


def refusal(error: BadInputError) -> Finding:
    """The finding for a figure that can't be computed with."""
    return finding(
        "cannot-compute", "stop", "{text}", "Correct the entry; nothing was computed from it.", text=str(error)
    )


def mm_of(entry: LengthEntry | None) -> float | None:
    """The entry in mm, None when there is none."""
    return None if entry is None else entry.mm


def travel_result(job: Job, axis: Axis) -> TravelResult:
    """What the travel surveys of an axis say together."""
    findings = limit_findings(axis)
    known: list[tuple[str, Travel]] = []
    for survey in job.of_axis(TravelSurvey, axis.id):
        findings += limit_findings(survey)
        if survey.readings and not complaints(survey):
            known.append((survey.tool, measure_travel([r.mm for r in survey.readings], survey.division.mm)))
    surveys = tuple(sorted(known, key=lambda k: k[1].u_mm))
    best = surveys[0][1] if surveys else None
    if best is None:
        ask = "Drive the axis to one end, scribe a line across the joint, drive to the other end, and log the distance."
        return TravelResult(None, None, tuple(findings), Sentence(ask))
    findings += best.findings
    for _, other in surveys[1:]:
        clash = compare_methods(best, other)
        if clash is not None:
            findings.append(clash)
    try:
        useful = useful_travel(best.travel_mm, mm_of(axis.give_up_low) or 0.0, mm_of(axis.give_up_high) or 0.0)
    except BadInputError as error:
        return TravelResult(best, None, (*findings, refusal(error)), plain(str(error)), surveys)
    if useful < best.travel_mm:
        findings.append(_stop_needed(axis))
    return TravelResult(best, useful, tuple(findings), _travel_instruction(best, findings), surveys)


def _stop_needed(axis: Axis) -> Finding:
    why = f" ({axis.give_up_why})" if axis.give_up_why else ""
    return finding(
        "travel-given-up",
        "info",
        "Travel is given up on purpose: {low} at the low end, {high} at the high end{why}.",
        "Fit a stop at each such end, or the scale can be overrun.",
        low=Mm(mm_of(axis.give_up_low) or 0.0),
        high=Mm(mm_of(axis.give_up_high) or 0.0),
        why=why,
    )


def _travel_instruction(best: Travel, findings: Sequence[Finding]) -> Sentence:
    serious = next((f for f in findings if f.severity != "info"), None)
    if serious is not None:
        return serious.remedy
    if best.readings == 1:
        return Sentence("Drive to both ends once more and log a second reading; one alone can hide a slip.")
    return Sentence(
        "Good: {travel} from {n} readings. Go on to Scale.", {"travel": Mm(best.travel_mm), "n": best.readings}
    )


def plan_of(job: Job, axis: Axis) -> ScalePlan | None:
    """The scale plan of an axis."""
    plans = job.of_axis(ScalePlan, axis.id)
    return plans[-1] if plans else None


def scale_result(job: Job, axis: Axis, plan: ScalePlan) -> ScaleResult:
    """The sizes that serve the axis, and where the chosen one puts the reader."""
    travel = travel_result(job, axis).useful_mm
    findings = limit_findings(plan)
    real = real_scale(job, axis, plan)
    family = real.family if real is not None else None
    if travel is None:
        ask = Sentence("Measure the travel first: every length here follows from it.")
        return ScaleResult(None, (), family, None, None, tuple(findings), ask)
    if findings:
        return ScaleResult(travel, (), family, None, None, tuple(findings), findings[0].remedy)
    choices, size_findings = choose_sizes(families_of(job), travel, plan.margin.mm, mm_of(plan.face))
    if family is None or plan.measuring is None:
        ask = Sentence("Choose a family and a size from the list (arrow keys, Enter); see what it leaves at both ends.")
        return ScaleResult(travel, tuple(choices), family, None, None, tuple(findings), ask)
    measuring = real.measuring_mm if real is not None and real.measuring_mm is not None else plan.measuring.mm
    findings += [f for f in size_findings if f.code == "no-size" and f.what.values["family"] == family.label]
    findings += judge_plan(family, measuring, travel, plan.margin.mm, mm_of(plan.face))
    place = place_reader(family, measuring, travel, plan.margin.mm, reader_follows=plan.scale_on == "still")
    spare = (measuring - family.head_mm - travel) / 2
    return ScaleResult(
        travel, tuple(choices), family, place, spare, tuple(findings), _order(family, measuring, place, spare, findings)
    )


def _order(
    family: ScaleFamily, measuring_mm: float, place: Placement, spare_mm: float, findings: Sequence[Finding]
) -> Sentence:
    stop = next((f for f in findings if f.severity == "stop"), None)
    if stop is not None:
        return stop.remedy
    verb = "Cut to" if family.can_be_cut else "Order"
    return Sentence(
        verb
        + " {size} measuring length ({family}). With the axis at mid travel set the reader's middle {mid} from the "
        "body's left end, ± {slack}.",
        {
            "size": Mm(measuring_mm),
            "family": family.label,
            "mid": Mm(place.mid_mm),
            "slack": Mm(max(place.slack_mm, 0.0)),
        },
    )

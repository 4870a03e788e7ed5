"""From the entities of a job to what the core makes of them: one function per sheet, used by screen, paper and CLI."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from vernus.core.calibration import (
    DEFAULT_ERROR_MM,
    MM_PER_INCH,
    Counts,
    LinearFactor,
    MoveCheck,
    count_per_unit,
    fit_factor,
    instruct_counts,
    instruct_factor,
    least_move,
)
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, finding, plain
from vernus.core.scales import (
    Placement,
    ScaleChoice,
    ScaleFamily,
    choose_sizes,
    family_by_id,
    judge_plan,
    place_reader,
)
from vernus.core.travel import Travel, compare_methods, measure_travel, useful_travel
from vernus.core.units import format_pm
from vernus.job.delivered import real_scale
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun, Entity, ScalePlan, TravelSurvey
from vernus.job.families import families_of
from vernus.job.fields import LengthEntry, complaints


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


@dataclass(frozen=True)
class CalibrationResult:
    """One run: what to key in, errors before (as read) and after (as they would be), and what to do.

    ``settled`` is true when what is set now is as good as the axis needs.
    """

    counts: Counts | None
    factor: LinearFactor | None
    true_mm: tuple[float, ...]
    before_mm: tuple[float, ...]
    after_mm: tuple[float, ...]
    value_to_key: float | None
    settled: bool
    findings: tuple[Finding, ...]
    instruction: Sentence

    def measured(self, per: Literal["in", "mm"]) -> str:
        """What was measured, counts per ``per`` or the factor, with U = 2u where there is one."""
        if self.counts is not None:
            counts = self.counts.counts_per_inch if per == "in" else self.counts.counts_per_mm
            return format_pm(counts, 2 * self.counts.u_rel * counts)
        if self.factor is None:
            return ""
        u = self.factor.u_factor
        return f"{self.factor.factor:.6f}" if u is None else format_pm(self.factor.factor, 2 * u)


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


def calibration_result(job: Job, run: CalibrationRun) -> CalibrationResult:
    """What a check of the display says should be keyed in."""
    limits = limit_findings(run)
    axis = job.get(run.axis_id)
    travel = travel_result(job, axis).useful_mm if isinstance(axis, Axis) else None
    wanted = axis.accuracy.mm if isinstance(axis, Axis) and axis.accuracy and axis.accuracy.mm > 0 else DEFAULT_ERROR_MM
    if limits:
        return _no_calibration(limits, limits[0].remedy)
    if not run.checks:
        return _no_calibration([], _ask_for_checks(run, travel, wanted))
    try:
        if run.method == "counts":
            return _counts_result(run, travel, wanted)
        return _factor_result(job, run, travel, wanted)
    except BadInputError as error:
        return _no_calibration([refusal(error)], plain(str(error)))


def _ask_for_checks(run: CalibrationRun, travel_mm: float | None, wanted_mm: float) -> Sentence:
    if run.method == "factor":
        return Sentence(
            "Zero both, then go from station to station over the whole travel, always from the same side, and log the "
            "true position and what the display shows. Three stations at least; the middle and the far end matter."
        )
    if travel_mm is None:
        return Sentence(
            "Move a known distance, as long as your reference allows, and log it with what the display shows."
        )
    u_move = MoveCheck(1.0, 1.0, _per_mm(run), u_moved_mm=run.u_reference.mm, step_mm=run.step.mm).u_true_move_mm
    least = least_move(u_move, travel_mm, wanted_mm)
    if least > travel_mm:
        return Sentence(
            "No single move with this reference is good enough for {wanted} over the travel. Use a better reference, "
            "or choose the linear factor under Setup (F4) and check many stations.",
            {"wanted": Fine(wanted_mm)},
        )
    return Sentence(
        "Move a known distance of at least {least} (that holds {wanted} over the travel of {travel}) and log it with "
        "what the display shows.",
        {"least": Mm(least), "wanted": Fine(wanted_mm), "travel": Mm(travel_mm)},
    )


def _per_mm(run: CalibrationRun) -> float:
    return run.set_counts / (MM_PER_INCH if run.per == "in" else 1.0)


def _no_calibration(findings: list[Finding], ask: Sentence) -> CalibrationResult:
    return CalibrationResult(None, None, (), (), (), None, False, tuple(findings), ask)


def _errors(run: CalibrationRun) -> dict[str, Any]:
    return {
        "true_mm": tuple(c.true.mm for c in run.checks),
        "before_mm": tuple(c.shown.mm - c.true.mm for c in run.checks),
    }


def _counts_result(run: CalibrationRun, travel_mm: float | None, error_mm: float) -> CalibrationResult:
    """The longest move decides: its relative uncertainty is the smallest."""
    per_mm = _per_mm(run)
    moves = [
        MoveCheck(c.shown.mm, c.true.mm, per_mm, u_moved_mm=run.u_reference.mm, step_mm=run.step.mm) for c in run.checks
    ]
    longest = min(moves, key=lambda m: m.u_rel)
    counts = count_per_unit(longest, travel_mm, error_mm)
    key = counts.nominal_per_mm or counts.counts_per_mm
    sign = -1 if counts.reversed else 1
    off_mm = abs(counts.counts_per_mm / per_mm - 1) * (travel_mm or abs(longest.moved_mm))
    too_short = any(f.code in ("move-too-short", "no-single-move") for f in counts.findings)
    settled = not counts.reversed and (key == per_mm or (not too_short and off_mm <= error_mm))
    return CalibrationResult(
        counts=counts,
        factor=None,
        after_mm=tuple(sign * c.shown.mm * per_mm / key - c.true.mm for c in run.checks),
        value_to_key=key * (MM_PER_INCH if run.per == "in" else 1.0),
        settled=settled,
        findings=counts.findings,
        instruction=_leave_it(off_mm, error_mm)
        if settled
        else instruct_counts(counts, longest.moved_mm, run.per == "in"),
        **_errors(run),
    )


def _leave_it(error_mm: float, wanted_mm: float) -> Sentence:
    return Sentence(
        "Leave the display as it is set: over the travel this makes {error}, inside the {wanted} wanted. "
        "Check again in a month and in another season.",
        {"error": Fine(error_mm), "wanted": Fine(wanted_mm)},
    )


def _factor_result(job: Job, run: CalibrationRun, travel_mm: float | None, wanted_mm: float) -> CalibrationResult:
    axis = job.get(run.axis_id)
    plan = plan_of(job, axis) if isinstance(axis, Axis) else None
    limit = {"suspect_ppm": family_by_id(families_of(job), plan.family).suspect_ppm} if plan and plan.family else {}
    true, shown = [c.true.mm for c in run.checks], [c.shown.mm for c in run.checks]
    fit = fit_factor(true, shown, run.set_factor, **limit)
    off_mm = abs(fit.slope - 1) * (travel_mm or max(true) - min(true))
    settled = off_mm <= wanted_mm and fit.residual_sd_mm is not None
    return CalibrationResult(
        counts=None,
        factor=fit,
        after_mm=tuple(s / fit.slope - t for t, s in zip(true, shown, strict=True)),
        value_to_key=fit.factor,
        settled=settled,
        findings=fit.findings,
        instruction=_leave_it(off_mm, wanted_mm) if settled else instruct_factor(fit),
        **_errors(run),
    )


def latest_run(job: Job, axis: Axis) -> CalibrationRun | None:
    """The newest check of the display for an axis."""
    found = job.of_axis(CalibrationRun, axis.id)
    return found[-1] if found else None

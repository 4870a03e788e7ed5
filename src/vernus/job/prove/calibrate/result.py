"""A check of the display against a reference: what to key in, how far to trust it, and what is wrong."""

from __future__ import annotations

from dataclasses import replace

from vernus.core.budget import combine
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, finding, in_order, plain
from vernus.core.prove.calibrate.calibration import MoveCheck, least_move
from vernus.core.prove.calibrate.mixups import review_keyed
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun
from vernus.job.happened import hung_findings, opened_findings
from vernus.job.known.axis_figures import accuracy
from vernus.job.prove.as_read import check_as_read
from vernus.job.prove.calibrate.asks import review_checks
from vernus.job.prove.calibrate.counts import counts_result
from vernus.job.prove.calibrate.factor import factor_result
from vernus.job.prove.calibrate.found import CalibrationResult
from vernus.job.prove.calibrate.setting import (
    CalibrationSetting,
    keyed_into,
    moved_lines,
    set_per_mm,
    setting_of,
)
from vernus.job.prove.calibrate.table import table_result
from vernus.job.refusals import limit_findings, refusal


def calibration_result(job: Job, run: CalibrationRun) -> CalibrationResult:
    """What a check of the display says should be keyed in."""
    run, limits = check_as_read(job, run), limit_findings(run)
    if limits:
        return CalibrationResult(tuple(limits), limits[0].remedy)
    setting = setting_of(job, run)
    try:
        if not run.checks:
            return CalibrationResult((), _ask_for_checks(run, setting))
        judged = {"counts": counts_result, "factor": factor_result, "table": table_result}[run.method]
        result = judged(job, run, setting)
    except BadInputError as error:
        return CalibrationResult((refusal(error),), plain(str(error)))
    thought_of = review_checks(
        run, setting.reference, setting.travel_mm, setting.true, setting.thermal_mm, setting.step_mm
    )
    opened = _opened(job, run)
    findings = [*opened, *_after_keying(job, run, result), *result.findings, *thought_of]
    if opened:
        result = replace(result, verdict="unsure", settled=False, value_to_key=None, instruction=opened[0].remedy)
    serious = next((f for f in findings if f.severity == "stop"), None)
    if serious is not None:
        return replace(result, findings=tuple(findings), instruction=serious.remedy, settled=False, value_to_key=None)
    findings += [*_assumed(job, run), *_carried(job, run)]
    if result.verdict == "fail":
        findings.append(_off(result, setting.wanted_mm))
    return replace(result, findings=tuple(findings), instruction=in_order(result.instruction, findings))


def _opened(job: Job, run: CalibrationRun) -> list[Finding]:
    """What happened after the last check of an axis."""
    axis = job.get(run.axis_id)
    read = [r for r in job.of_axis(CalibrationRun, run.axis_id) if r.checks]
    if not isinstance(axis, Axis) or not read or read[-1].id != run.id:
        return []
    do = "Check the display again, nothing keyed in."
    return [
        *opened_findings(job, axis, run.changed, "calibrate", "This check", do),
        *hung_findings(job, axis, run.changed, run.hung_on, "This check", do),
    ]


def _carried(job: Job, run: CalibrationRun) -> list[Finding]:
    """Temperatures that are those of the check before: taken over, and asked about."""
    series = job.of_axis(CalibrationRun, run.axis_id)
    at = next((n for n, r in enumerate(series) if r.id == run.id), 0)
    same = at > 0 and run.scale_c is not None and (run.scale_c, run.reference_c) == (
        series[at - 1].scale_c, series[at - 1].reference_c
    )  # fmt: skip
    if not same:
        return []
    return [
        finding(
            "temperatures-carried",
            "info",
            "The temperatures are those of the check before.",
            "Still so? Otherwise type what the thermometer reads now.",
        )
    ]


def _assumed(job: Job, run: CalibrationRun) -> list[Finding]:
    """The accuracy a check is judged by, where nobody said which is wanted."""
    axis = job.get(run.axis_id)
    if not isinstance(axis, Axis) or accuracy(axis).source != "default":
        return []
    return [
        finding(
            "accuracy-assumed",
            "info",
            "Nobody said which accuracy is wanted on {axis}: {wanted} is assumed.",
            "Say it on the Travel sheet, under Accuracy wanted; every verdict follows it.",
            axis=axis.name,
            wanted=Fine(accuracy(axis).value),
        )
    ]


def _off(result: CalibrationResult, wanted_mm: float) -> Finding:
    """What is set now makes more than is wanted over the travel: that is what the check is for, and it is told."""
    return finding(
        "display-off",
        "info",
        "As it is set now, the display is off by {error} over {over}, where {wanted} is wanted.",
        "Correct the setting, then check it again.",
        error=Fine(result.error_mm or 0.0),
        over=Mm(result.over_mm or 0.0),
        wanted=Fine(wanted_mm),
    )


def _ask_for_checks(run: CalibrationRun, setting: CalibrationSetting) -> Sentence:
    if run.method != "counts":
        return Sentence(
            "Zero both, then go from station to station over the whole travel, always from the same side, and log the "
            "true position and what the display shows. Three stations at least; the middle and the far end matter."
        )
    travel = setting.travel_mm
    if travel is None:
        return Sentence(
            "Move a known distance, as long as your reference allows, and log it with what the display shows."
        )
    u_moved = combine(moved_lines(run, setting, travel)).u
    u_move = MoveCheck(1.0, 1.0, set_per_mm(run), u_moved_mm=u_moved, step_mm=setting.step_mm).u_true_move_mm
    least = least_move(u_move, travel, setting.wanted_mm)
    if least > travel:
        return Sentence(
            "No single move with this reference is good enough for {wanted} over the travel. Use a better reference, "
            "or choose the linear factor under How it corrects and check many stations.",
            {"wanted": Fine(setting.wanted_mm)},
        )
    return Sentence(
        "Move a known distance of at least {least} (that holds {wanted} over the travel of {travel}) and log it with "
        "what the display shows.",
        {"least": Mm(least), "wanted": Fine(setting.wanted_mm), "travel": Mm(travel)},
    )


def wanted_ppm(result: CalibrationResult, run: CalibrationRun) -> tuple[float, float] | None:
    """The correction still wanted by a run (ppm) and its standard uncertainty; None where there is none."""
    if result.budget is None or result.over_mm is None:
        return None
    u_ppm = result.budget.u / result.over_mm * 1e6
    if result.counts is not None:
        return (result.counts.counts_per_mm / set_per_mm(run) - 1) * 1e6, u_ppm
    return None if result.factor is None else (result.factor.ppm, u_ppm)


def _after_keying(job: Job, run: CalibrationRun, result: CalibrationResult) -> list[Finding]:
    """Whether the last figure keyed in went in upside down."""
    keyed = [c for c in keyed_into(job, run) if c.method == run.method]
    earlier = job.get(keyed[-1].run_id) if keyed else None
    now = wanted_ppm(result, run)
    if now is None or not isinstance(earlier, CalibrationRun) or not earlier.checks or limit_findings(earlier):
        return []
    judged, earlier = counts_result if earlier.method == "counts" else factor_result, check_as_read(job, earlier)
    try:
        before = wanted_ppm(judged(job, earlier, setting_of(job, earlier)), earlier)
    except BadInputError:
        return []
    return [] if before is None else review_keyed(before[0], now[0], now[1])


def latest_run(job: Job, axis: Axis) -> CalibrationRun | None:
    """The newest check of the display for an axis."""
    found = job.of_axis(CalibrationRun, axis.id)
    return found[-1] if found else None

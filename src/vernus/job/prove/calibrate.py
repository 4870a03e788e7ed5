"""A check of the display against a reference: what to key in, how far to trust it, and what is wrong."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Literal

from vernus.core.budget import Budget, BudgetLine, combine, judge
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, finding, in_order, plain
from vernus.core.prove.calibration import (
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
from vernus.core.prove.compensation import SegmentTable, fit_segments
from vernus.core.prove.mixups import review_keyed, review_ratio
from vernus.core.prove.profile import Keyed, key_counts, key_factor
from vernus.core.prove.table_search import Spacing
from vernus.core.units import format_pm
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun
from vernus.job.known import family_of
from vernus.job.prove.asks import review_checks
from vernus.job.prove.setting import (
    CalibrationSetting,
    keyed_into,
    moved_lines,
    rounding_line,
    scaled,
    set_per_mm,
    setting_of,
    stations_before_table,
)
from vernus.job.refusals import limit_findings, refusal


@dataclass(frozen=True)
class CalibrationResult:
    """One run: what to key in, errors before (as read) and after (as they would be), and what to do.

    ``verdict`` judges what is set now over the travel: ``error_mm`` with its ``budget`` against the accuracy wanted,
    over ``over_mm``.
    ``settled`` is true when what is set now can stay. ``thermal_mm`` is what temperature made over the longest move.
    """

    findings: tuple[Finding, ...]
    instruction: Sentence
    counts: Counts | None = None
    factor: LinearFactor | None = None
    table: SegmentTable | None = None
    true_mm: tuple[float, ...] = ()
    before_mm: tuple[float, ...] = ()
    after_mm: tuple[float, ...] = ()
    value_to_key: float | None = None
    keyed: Keyed | None = None
    error_mm: float | None = None
    over_mm: float | None = None
    budget: Budget | None = None
    verdict: Literal["pass", "fail", "unsure"] | None = None
    settled: bool = False
    thermal_mm: float | None = None

    def middle_and_full(self) -> tuple[float, float] | None:
        """The error (mm) as read nearest to the middle and at the far end; None with fewer than three stations."""
        rows = sorted(zip(self.true_mm, self.before_mm, strict=True))
        if self.counts is not None or len({true for true, _ in rows}) < 3:
            return None
        middle = (rows[0][0] + rows[-1][0]) / 2
        return min(rows, key=lambda row: abs(row[0] - middle))[1], rows[-1][1]

    def measured(self, per: Literal["in", "mm"]) -> str:
        """What was measured, counts per ``per`` or the factor, with U = 2u where there is one."""
        if self.counts is not None:
            counts = self.counts.counts_per_inch if per == "in" else self.counts.counts_per_mm
            return format_pm(counts, 2 * self.counts.u_rel * counts)
        if self.factor is None:
            return ""
        u = self.factor.u_factor
        return f"{self.factor.factor:.6f}" if u is None else format_pm(self.factor.factor, 2 * u)


def calibration_result(job: Job, run: CalibrationRun) -> CalibrationResult:
    """What a check of the display says should be keyed in."""
    limits = limit_findings(run)
    if limits:
        return CalibrationResult(tuple(limits), limits[0].remedy)
    setting = setting_of(job, run)
    try:
        if not run.checks:
            return CalibrationResult((), _ask_for_checks(run, setting))
        judged = {"counts": _counts_result, "factor": _factor_result, "table": _table_result}[run.method]
        result = judged(job, run, setting)
    except BadInputError as error:
        return CalibrationResult((refusal(error),), plain(str(error)))
    thought_of = review_checks(run, setting.reference, setting.travel_mm, setting.true, setting.thermal_mm)
    findings = [*_after_keying(job, run, result), *result.findings, *thought_of]
    grave = next((f for f in findings if f.severity == "stop"), None)
    if grave is not None:
        return replace(result, findings=tuple(findings), instruction=grave.remedy, settled=False, value_to_key=None)
    if result.verdict == "fail":
        findings.append(_off(result, setting.wanted_mm))
    return replace(result, findings=tuple(findings), instruction=in_order(result.instruction, findings))


def _off(result: CalibrationResult, wanted_mm: float) -> Finding:
    """What is set now makes more than is wanted over the travel: that is what the check is for, and it is told."""
    return finding(
        "display-off",
        "info",
        "As it is set now, the display is off by {error} over {over}, where {wanted} is wanted.",
        "Correct it as the instruction says, then check it again.",
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
    u_move = MoveCheck(1.0, 1.0, set_per_mm(run), u_moved_mm=u_moved, step_mm=run.step.mm).u_true_move_mm
    least = least_move(u_move, travel, setting.wanted_mm)
    if least > travel:
        return Sentence(
            "No single move with this reference is good enough for {wanted} over the travel. Use a better reference, "
            "or choose the linear factor under Setup (F4) and check many stations.",
            {"wanted": Fine(setting.wanted_mm)},
        )
    return Sentence(
        "Move a known distance of at least {least} (that holds {wanted} over the travel of {travel}) and log it with "
        "what the display shows.",
        {"least": Mm(least), "wanted": Fine(setting.wanted_mm), "travel": Mm(travel)},
    )


def _base(setting: CalibrationSetting) -> dict[str, Any]:
    return {
        "true_mm": setting.true,
        "before_mm": tuple(s - t for s, t in zip(setting.shown, setting.true, strict=True)),
        "thermal_mm": setting.thermal_mm,
    }


def _counts_result(_job: Job, run: CalibrationRun, setting: CalibrationSetting) -> CalibrationResult:
    """The longest move decides: its relative uncertainty is the smallest."""
    per_mm = set_per_mm(run)
    moves = [
        MoveCheck(s, t, per_mm, u_moved_mm=combine(moved_lines(run, setting, t)).u, step_mm=run.step.mm)
        for s, t in zip(setting.shown, setting.true, strict=True)
    ]
    longest = min(moves, key=lambda m: m.u_rel)
    travel, length = setting.travel_mm, abs(longest.moved_mm)
    counts = count_per_unit(longest, travel, setting.wanted_mm)
    best = counts.nominal_per_mm or counts.counts_per_mm
    keyed = key_counts(setting.profile, best, travel)
    key = (
        best
        if counts.nominal_per_mm is not None and not setting.profile.whole_counts
        else keyed.value / (MM_PER_INCH if run.per == "in" else 1.0)
    )
    sign = -1 if counts.reversed else 1
    over = travel or length
    off = abs(counts.counts_per_mm / per_mm - 1) * over
    budget = combine(scaled([*moved_lines(run, setting, length), rounding_line(run)], over / length))
    verdict = judge(off, budget.expanded, setting.wanted_mm).verdict
    same = abs(key / per_mm - 1) < 1e-9 and not counts.reversed
    too_short = any(f.code in ("move-too-short", "no-single-move") for f in counts.findings)
    settled = not counts.reversed and (verdict == "pass" or (same and not too_short))
    return CalibrationResult(
        counts=counts,
        after_mm=tuple(sign * s * per_mm / key - t for s, t in zip(setting.shown, setting.true, strict=True)),
        value_to_key=key * (MM_PER_INCH if run.per == "in" else 1.0),
        keyed=keyed,
        error_mm=off,
        over_mm=over,
        budget=budget,
        verdict=verdict,
        settled=settled,
        findings=(*counts.findings, *keyed.findings),
        instruction=_leave_it(off, setting.wanted_mm)
        if settled and off <= setting.wanted_mm
        else _not_proved(counts, keyed)
        if same
        else instruct_counts(counts, longest.moved_mm, run.per == "in", keyed.words),
        **_base(setting),
    )


def _leave_it(error_mm: float, wanted_mm: float) -> Sentence:
    return Sentence(
        "Leave the display as it is set: over the travel this makes {error}, inside the {wanted} wanted. "
        "Check again in a month and in another season.",
        {"error": Fine(error_mm), "wanted": Fine(wanted_mm)},
    )


def _not_proved(counts: Counts, keyed: Keyed) -> Sentence:
    """The standard count is set already and the move agrees with it, but says too little."""
    least = counts.min_length_mm
    words = "Leave {keyed}: the move agrees with this standard count. It was too short to prove it"
    if least is None:
        return Sentence(words + "; repeat over a longer one.", {"keyed": keyed.words})
    return Sentence(words + "; that takes {least} with this reference.", {"keyed": keyed.words, "least": Mm(least)})


def suspect_ppm(job: Job, axis: Axis | None) -> dict[str, float]:
    """The plausibility limit of the axis's family, as a keyword for the core; empty where no family is chosen."""
    family = family_of(job, axis) if axis is not None else None
    return {} if family is None else {"suspect_ppm": family.suspect_ppm}


def _factor_result(job: Job, run: CalibrationRun, setting: CalibrationSetting) -> CalibrationResult:
    axis = job.get(run.axis_id)
    limit = suspect_ppm(job, axis if isinstance(axis, Axis) else None)
    true, shown = setting.true, setting.shown
    fit = fit_factor(true, shown, run.set_factor, **limit)
    mixed = review_ratio(fit.slope)
    span = max(true) - min(true)
    over = setting.travel_mm or span
    off = abs(fit.slope - 1) * over
    budget = _factor_budget(run, setting, fit, over, span)
    verdict = judge(off, budget.expanded, setting.wanted_mm).verdict if fit.residual_sd_mm is not None else "unsure"
    keyed = key_factor(setting.profile, fit.factor)
    made = run.set_factor / keyed.value
    settled = verdict == "pass"
    return CalibrationResult(
        factor=fit,
        after_mm=tuple(s / made - t for t, s in zip(true, shown, strict=True)),
        value_to_key=keyed.value,
        keyed=keyed,
        error_mm=off,
        over_mm=over,
        budget=budget,
        verdict=verdict,
        settled=settled,
        findings=(*mixed, *(f for f in fit.findings if not (mixed and f.code == "ppm-suspect"))),
        instruction=_leave_it(off, setting.wanted_mm) if settled else instruct_factor(fit, keyed.words),
        **_base(setting),
    )


def _factor_budget(
    run: CalibrationRun, setting: CalibrationSetting, fit: LinearFactor, over_mm: float, span_mm: float
) -> Budget:
    """The error over the travel: scatter of the stations (never less than the rounding), reference and temperatures."""
    rounding = run.step.mm / 12**0.5
    scatter = max(fit.residual_sd_mm or 0.0, rounding)
    seen = fit.residual_sd_mm is not None and fit.residual_sd_mm > rounding
    mean = sum(setting.true) / len(setting.true)
    sxx = sum((t - mean) ** 2 for t in setting.true)
    line = BudgetLine(
        "scatter of the stations" if seen else "the display's rounding",
        scatter * over_mm / sxx**0.5,
        "normal",
        freedom=max(1, len(setting.true) - 2) if seen else float("inf"),
        remedy="Read more stations, farther apart.",
    )
    return combine([line, *scaled(moved_lines(run, setting, span_mm), over_mm / span_mm)])


_NO_SCALE_ERRS_MM = 2.0  # common practice, no source: a table corrects hundredths


@lru_cache(maxsize=32)
def _fitted(
    raw: tuple[float, ...], true: tuple[float, ...], points: int, spacing: Spacing, step_mm: float
) -> SegmentTable:
    """The table of some stations, solved once: sheet, review and history all ask for it."""
    return fit_segments(raw, true, points, spacing, step_mm)


def _slipped(raw: Sequence[float], true: Sequence[float]) -> Finding | None:
    """A station so far off that it is a slip or another unit, and no error a table is made for: asked about first."""
    off = [s - t for s, t in zip(raw, true, strict=True)]
    middle = sorted(off)[len(off) // 2]
    n = max(range(len(off)), key=lambda k: abs(off[k] - middle))
    worst = n if abs(off[n] - middle) > abs(middle) else max(range(len(off)), key=lambda k: abs(off[k]))
    if abs(off[worst]) <= _NO_SCALE_ERRS_MM:
        return None
    return finding(
        "doubtful",
        "stop",
        "At {true} the display shows {shown}, {off} off: no scale errs by that.",
        "Correct that station if it is mistyped; if the display counts in another unit, or twice the move, set that.",
        true=Mm(true[worst]),
        shown=Mm(raw[worst]),
        off=Mm(off[worst], sign=True),
    )


def _table_result(job: Job, run: CalibrationRun, setting: CalibrationSetting) -> CalibrationResult:
    profile = setting.profile
    if profile.table_points < 2:
        raise BadInputError("Say under Display how many points the display's table has; 0 means that it has none.")
    raw, true = stations_before_table(job, run, setting)
    slip = _slipped(raw, true)
    if slip is not None:
        base = _base(setting)
        return CalibrationResult(findings=(slip,), instruction=slip.remedy, after_mm=base["before_mm"], **base)
    table = _fitted(tuple(raw), tuple(true), profile.table_points, profile.spacing, profile.table_step_mm)
    before = [s - t for s, t in zip(setting.shown, setting.true, strict=True)]
    worst = max(map(abs, before))
    length = max(abs(t) for t in true) or 1.0
    budget = combine([*moved_lines(run, setting, length), rounding_line(run)])
    verdict = judge(worst, budget.expanded, setting.wanted_mm).verdict
    settled = verdict == "pass"
    words = Sentence("{n} points", {"n": len(table.knots)})
    return CalibrationResult(
        table=table,
        after_mm=tuple(r + table.correction(r) - t for r, t in zip(raw, true, strict=True)),
        value_to_key=float(len(table.knots)),
        keyed=Keyed(words, float(len(table.knots))),
        error_mm=worst,
        over_mm=length,
        budget=budget,
        verdict=verdict,
        settled=settled,
        findings=table.findings,
        instruction=_leave_it(worst, setting.wanted_mm)
        if settled
        else Sentence(
            "Key in the table from the top, point by point; it leaves {left} at most where {line} would be left by the "
            "best factor. Then run the stations again.",
            {"left": Fine(table.max_residual_mm), "line": Fine(table.linear_max_mm)},
        ),
        **_base(setting),
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
    judged = _counts_result if earlier.method == "counts" else _factor_result
    try:
        before = wanted_ppm(judged(job, earlier, setting_of(job, earlier)), earlier)
    except BadInputError:
        return []
    return [] if before is None else review_keyed(before[0], now[0], now[1])


def latest_run(job: Job, axis: Axis) -> CalibrationRun | None:
    """The newest check of the display for an axis."""
    found = job.of_axis(CalibrationRun, axis.id)
    return found[-1] if found else None

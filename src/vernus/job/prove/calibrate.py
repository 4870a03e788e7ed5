"""A check of the display against a reference: what to key in, how far to trust it, and what is wrong."""

from __future__ import annotations

import math
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
    average_moves,
    count_per_unit,
    fit_factor,
    instruct_counts,
    instruct_factor,
    least_move,
    odd_one,
)
from vernus.core.prove.compensation import SegmentTable, fit_segments
from vernus.core.prove.mixups import review_keyed, review_ratio
from vernus.core.prove.profile import Keyed, key_counts, key_factor
from vernus.core.prove.straight import Shape, shape_of
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
        """What was measured, counts per ``per`` or the factor, with the U of its budget (95 %) where there is one."""
        relative = None if self.budget is None or not self.over_mm else self.budget.expanded / self.over_mm
        if self.counts is not None:
            counts = self.counts.counts_per_inch if per == "in" else self.counts.counts_per_mm
            return f"{counts:.7g}" if relative is None else format_pm(counts, relative * counts)
        if self.factor is None:
            return ""
        known = relative is not None and self.factor.u_factor is not None
        return (
            format_pm(self.factor.factor, (relative or 0.0) * self.factor.factor)
            if known
            else (f"{self.factor.factor:.6f}")
        )


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
    thought_of = review_checks(
        run, setting.reference, setting.travel_mm, setting.true, setting.thermal_mm, setting.step_mm
    )
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
    u_move = MoveCheck(1.0, 1.0, set_per_mm(run), u_moved_mm=u_moved, step_mm=setting.step_mm).u_true_move_mm
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
    """All moves together, repeats averaged; nothing is keyed in whose correction lies inside its own U."""
    per_mm = set_per_mm(run)
    if any(t == 0 for t in setting.true):
        raise BadInputError("A move is zero, so nothing can be divided by it; move a known distance.")
    rms = math.sqrt(math.fsum(t * t for t in setting.true) / len(setting.true))
    u_moved = combine(moved_lines(run, setting, rms)).u
    move = average_moves(setting.shown, setting.true, per_mm, 0.0, u_moved, setting.step_mm)
    travel, length = setting.travel_mm, abs(move.moved_mm)
    counts = count_per_unit(move, travel, setting.wanted_mm, run.per)
    best = counts.nominal_per_mm or counts.counts_per_mm
    keyed = key_counts(setting.profile, best, travel)
    key = (
        best
        if counts.nominal_per_mm is not None and not setting.profile.whole_counts
        else keyed.value / (MM_PER_INCH if run.per == "in" else 1.0)
    )
    sign = -1 if counts.reversed else 1
    over = max(travel or 0.0, length)
    budget = combine(scaled([*_scatter_line(move), *moved_lines(run, setting, rms), rounding_line(run, setting)],
                            over / length))  # fmt: skip
    found = odd_one(setting.shown, setting.true, max(1 / per_mm, setting.step_mm))
    asked = [] if found is None else [_odd_repeat(run, found)]
    judged = _judge_counts(run, setting, counts, key, over, budget)
    to_key = None if judged.leave else key * (MM_PER_INCH if run.per == "in" else 1.0)
    return CalibrationResult(
        counts=counts,
        after_mm=tuple(sign * s * per_mm / (per_mm if judged.leave else key) - t
                       for s, t in zip(setting.shown, setting.true, strict=True)),
        value_to_key=to_key if not asked else None,
        keyed=keyed,
        error_mm=judged.error_mm,
        over_mm=over,
        budget=budget,
        verdict=judged.verdict if not asked else "unsure",
        settled=judged.settled and not asked,
        findings=(*asked, *judged.findings, *counts.findings, *(keyed.findings if not judged.leave else ())),
        instruction=judged.words or instruct_counts(counts, move.moved_mm, run.per == "in", keyed.words),
        **_base(setting),
    )  # fmt: skip


def _scatter_line(move: MoveCheck) -> list[BudgetLine]:
    """The budget line of repeats that scatter; none for one move."""
    if move.n < 2:
        return []
    spread = move.scatter_mm / move.n**0.5
    return [
        BudgetLine("how well the move repeats", spread, "normal", freedom=move.n - 1, remedy="Repeat it more often.")
    ]


@dataclass(frozen=True)
class _Judged:
    """What follows from counts: the error as set now, whether it is left so, and the words where it is."""

    error_mm: float
    verdict: Literal["pass", "fail", "unsure"]
    settled: bool
    leave: bool
    words: Sentence | None = None
    findings: tuple[Finding, ...] = ()


def _judge_counts(
    run: CalibrationRun, setting: CalibrationSetting, counts: Counts, key: float, over_mm: float, budget: Budget
) -> _Judged:
    per_mm = set_per_mm(run)
    off = abs(counts.counts_per_mm / per_mm - 1) * over_mm
    worst = max(off, *(abs(abs(s) - abs(t)) for s, t in zip(setting.shown, setting.true, strict=True)))
    verdict = judge(worst, budget.expanded, setting.wanted_mm).verdict
    same = abs(key / per_mm - 1) < 1e-9 and not counts.reversed
    known = off > budget.expanded
    if counts.reversed:
        return _Judged(worst, verdict, settled=False, leave=False)
    if verdict == "pass":
        return _Judged(worst, verdict, settled=True, leave=True, words=_leave_it(worst, setting.wanted_mm))
    if same and known:
        told = _whole_counts_fail(run, setting, off, over_mm)
        return _Judged(worst, verdict, settled=False, leave=True, words=told.remedy, findings=(told,))
    too_short = any(f.code in ("move-too-short", "no-single-move") for f in counts.findings)
    if same:
        words = _not_proved(counts, key_counts(setting.profile, key, setting.travel_mm))
        return _Judged(worst, verdict, settled=not too_short and verdict != "fail", leave=True, words=words)
    if not known:
        return _Judged(worst, verdict, settled=False, leave=True, words=_not_known(run, counts, off, budget))
    return _Judged(worst, verdict, settled=False, leave=False)


def _not_known(run: CalibrationRun, counts: Counts, off_mm: float, budget: Budget) -> Sentence:
    """The correction lies inside its own U: it is left, or looked at over a longer move."""
    least = counts.min_length_mm
    words = (
        "Leave {set} counts per {unit}: the correction found, {off} over the travel, is inside its own ± {u}. To know "
        "better, repeat the move"
    )
    values = {
        "set": f"{run.set_counts:.7g}",
        "unit": "inch" if run.per == "in" else "mm",
        "off": Fine(off_mm),
        "u": Fine(budget.expanded),
        "least": Mm(least or 0.0),
    }
    return Sentence(words + (" over {least} at least." if least is not None else " over a longer stretch."), values)


def _whole_counts_fail(run: CalibrationRun, setting: CalibrationSetting, off_mm: float, over_mm: float) -> Finding:
    """The counts nearest to what was measured are set already, and leave more than is wanted."""
    whole = setting.profile.whole_counts
    return finding(
        "counts-cannot-mend",
        "caution",
        "{set} counts per {unit} are set, and leave {off} over {over} where {wanted} is wanted"
        + ("; the display takes whole counts only." if whole else "."),
        "Counts can't take that out: use the display's linear factor or its table (Setup, F4), or one that takes "
        "decimals."
        if whole
        else "Repeat over a longer move; then use the display's linear factor or its table.",
        set=f"{run.set_counts:.7g}",
        unit="inch" if run.per == "in" else "mm",
        off=Fine(off_mm),
        over=Mm(over_mm),
        wanted=Fine(setting.wanted_mm),
    )


def _odd_repeat(run: CalibrationRun, row: int) -> Finding:
    """A repeat far off the others: asked about, not dropped."""
    check = run.checks[row]
    return finding(
        "doubtful",
        "caution",
        "Check {n}, {shown} for {true}, lies far off the others.",
        "Move it once more; correct or delete that line if it was a slip.",
        n=row + 1,
        shown=Mm(check.shown.mm),
        true=Mm(check.true.mm),
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
    """The line through all stations; a bend or a zero that is off is judged by what is left, not by the slope."""
    axis = job.get(run.axis_id)
    limit = suspect_ppm(job, axis if isinstance(axis, Axis) else None)
    true, shown = setting.true, setting.shown
    fit = fit_factor(true, shown, run.set_factor, **limit)
    mixed = review_ratio(fit.slope)
    span = max(true) - min(true)
    over = max(setting.travel_mm or 0.0, span)
    off = abs(fit.slope - 1) * over
    line = _factor_budget(run, setting, fit, over, span)
    shape = shape_of(true, [s - t for s, t in zip(shown, true, strict=True)], setting.step_mm)
    everywhere = _station_budget(run, setting, shape, span)
    slopes = off > line.expanded
    verdict = judge(off, line.expanded, setting.wanted_mm).verdict if fit.residual_sd_mm is not None else "unsure"
    at_stations = judge(shape.range_mm, everywhere.expanded, setting.wanted_mm).verdict
    beyond = shape.pattern != "line" and shape.range_mm > off
    if beyond:
        verdict = "fail" if "fail" in (verdict, at_stations) else "unsure" if at_stations != "pass" else verdict
    elif at_stations == "fail" and verdict == "pass":
        verdict = "unsure"
    keyed = key_factor(setting.profile, fit.factor)
    leave = verdict == "pass" or beyond or not slopes
    made = 1.0 if leave else run.set_factor / keyed.value
    told = _beyond_a_line(setting, fit, shape) if beyond and verdict != "pass" else []
    words = _instruct_factor(setting, fit, keyed, verdict, off, line, told, leave=leave)
    return CalibrationResult(
        factor=fit,
        after_mm=tuple(s / made - t for t, s in zip(true, shown, strict=True)),
        value_to_key=None if leave else keyed.value,
        keyed=keyed,
        error_mm=shape.range_mm if beyond else off,
        over_mm=span if beyond else over,
        budget=everywhere if beyond else line,
        verdict=verdict,
        settled=verdict == "pass",
        findings=(*told, *mixed, *(f for f in fit.findings if not ((mixed or leave) and f.code == "ppm-suspect"))),
        instruction=words,
        **_base(setting),
    )


def _instruct_factor(
    setting: CalibrationSetting,
    fit: LinearFactor,
    keyed: Keyed,
    verdict: str,
    off_mm: float,
    budget: Budget,
    told: Sequence[Finding],
    *,
    leave: bool,
) -> Sentence:
    """What to do about the factor: leave it, read more, or key it in."""
    if verdict == "pass":
        return _leave_it(off_mm, setting.wanted_mm)
    if told:
        return told[0].remedy
    if leave:
        return Sentence(
            "Leave the factor as it is: the error found, {off}, is inside its own ± {u}. Read more stations, or over a "
            "longer stretch, to know better.",
            {"off": Fine(off_mm), "u": Fine(budget.expanded)},
        )
    return instruct_factor(fit, keyed.words)


def _station_budget(run: CalibrationRun, setting: CalibrationSetting, shape: Shape, span_mm: float) -> Budget:
    """What the difference of two stations is known to: both readings, and the reference between them."""
    both = BudgetLine(
        "reading two stations", shape.u_station_mm, "normal", sensitivity=2**0.5, freedom=shape.freedom,
        remedy="Read every station several times.",
    )  # fmt: skip
    return combine([both, *moved_lines(run, setting, span_mm)])


def _beyond_a_line(setting: CalibrationSetting, fit: LinearFactor, shape: Shape) -> list[Finding]:
    """What no factor takes out: a bend, or a zero that was off; and what can."""
    left = max(fit.residuals_mm) - min(fit.residuals_mm)
    if shape.pattern == "zero-off":
        return [
            finding(
                "zero-off",
                "caution",
                "All stations but the zero agree among themselves; the zero lies {range} beside them.",
                "Zero again from the same side as the stations, and read them once more: it was the zero, or lost "
                "motion.",
                range=Fine(shape.range_mm),
            )
        ]
    table = setting.profile.table_points >= 2
    return [
        finding(
            "bent",
            "caution",
            "The errors don't lie on a line: {range} between stations, where {wanted} is wanted. The best factor would "
            "leave {left}.",
            "Choose “a table of points” under Setup (F4); a factor can't take it out."
            if table
            else "A factor can't take that out, and the display is said to have no table: look for a strained body, "
            "the gap at both ends, and the reference; or correct by hand from the list of errors.",
            range=Fine(shape.range_mm),
            wanted=Fine(setting.wanted_mm),
            left=Fine(left),
        )
    ]


def _factor_budget(
    run: CalibrationRun, setting: CalibrationSetting, fit: LinearFactor, over_mm: float, span_mm: float
) -> Budget:
    """The error over the travel: scatter of the stations (never less than the rounding), reference and temperatures."""
    rounding = setting.step_mm / 12**0.5
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
    budget = combine([*moved_lines(run, setting, length), rounding_line(run, setting)])
    verdict = judge(worst, budget.expanded, setting.wanted_mm).verdict
    settled = verdict == "pass"
    known = worst > budget.expanded and (len(set(true)) < 4 or _bends(raw, true, setting))
    words = Sentence("{n} points", {"n": len(table.knots)})
    if settled:
        instruction = _leave_it(worst, setting.wanted_mm)
    elif not known:
        instruction = Sentence(
            "Key in no table: the errors bend no more than they scatter, so it would hold noise. Take the linear "
            "factor under Setup (F4), or read the stations again."
        )
    else:
        instruction = Sentence(
            "Key in the table from the top, point by point; it leaves {left} at most where {line} would be left by the "
            "best factor. Then run the stations again.",
            {"left": Fine(table.max_residual_mm), "line": Fine(table.linear_max_mm)},
        )
    return CalibrationResult(
        table=table,
        after_mm=tuple(r + table.correction(r) - t for r, t in zip(raw, true, strict=True)),
        value_to_key=float(len(table.knots)) if known and not settled else None,
        keyed=Keyed(words, float(len(table.knots))),
        error_mm=worst,
        over_mm=length,
        budget=budget,
        verdict=verdict,
        settled=settled,
        findings=table.findings,
        instruction=instruction,
        **_base(setting),
    )


def _bends(raw: Sequence[float], true: Sequence[float], setting: CalibrationSetting) -> bool:
    """Whether the display's own errors, without its table, are other than a line."""
    return shape_of(true, [s - t for s, t in zip(raw, true, strict=True)], setting.step_mm).pattern == "bent"


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

"""The linear factor: the line through the stations, and what no line takes out."""

from __future__ import annotations

import math
from collections.abc import Sequence

from vernus.core.budget import Budget, BudgetLine, combine, combine_apart, judge
from vernus.core.finding import Finding, Fine, Mm, Sentence, conclusion, finding
from vernus.core.prove.calibrate.calibration import review_stations
from vernus.core.prove.calibrate.factor import LinearFactor, fit_factor, instruct_factor
from vernus.core.prove.calibrate.mixups import review_ratio
from vernus.core.prove.calibrate.profile import Keyed, key_factor
from vernus.core.prove.calibrate.straight import Shape, shape_of
from vernus.core.prove.worst import Stations, judge_worst, scatter_of_stations
from vernus.job.document import Job
from vernus.job.entities import CalibrationRun
from vernus.job.prove.calibrate.found import CalibrationResult, base, leave_it
from vernus.job.prove.calibrate.setting import (
    CalibrationSetting,
    moved_lines,
    scaled,
    suspect_ppm,
)

LEAST_STATIONS = 3
"""From fewer different stations no factor is keyed in, but where the display takes only a pair."""


def factor_result(job: Job, run: CalibrationRun, setting: CalibrationSetting) -> CalibrationResult:
    """The line through all stations; a bend or a zero that is off is judged by what is left, not by the slope."""
    limit = suspect_ppm(job, run.axis_id)
    true, shown = setting.true, setting.shown
    if setting.profile.factor == "pair" and len(set(true)) == 1 and true[0] != 0:
        true, shown = (0.0, *true), (0.0, *shown)  # a pair is one move from where the display was zeroed
    fit = fit_factor(true, shown, run.set_factor, **limit)
    mixed = review_ratio(fit.slope)
    span = max(true) - min(true)
    over = max(setting.travel_mm or 0.0, span)
    off = abs(fit.slope - 1) * over
    line = _factor_budget(run, setting, fit, true, over)
    errors = [s - t for s, t in zip(shown, true, strict=True)]
    shape = shape_of(true, errors, setting.step_mm)
    stations = _two_stations(run, setting, shape, true, errors)
    everywhere = _station_budget(run, setting, stations, span)
    slopes = off > line.expanded
    verdict = judge(off, line.expanded, setting.wanted_mm).verdict if fit.residual_sd_mm is not None else "unsure"
    at_stations = judge_worst(shape.range_mm, stations, setting.wanted_mm).verdict
    beyond = shape.pattern != "line" and shape.range_mm > off
    if beyond:
        verdict = "fail" if "fail" in (verdict, at_stations) else "unsure" if at_stations != "pass" else verdict
    elif verdict == "pass" and at_stations != "pass":
        verdict = "unsure"  # the line keeps it, and yet two stations may lie farther apart
    keyed = key_factor(setting.profile, fit.factor, max(map(abs, true)))
    few = len(set(true)) < LEAST_STATIONS and setting.profile.factor != "pair"
    asked = review_stations(shown, true, setting.step_mm)
    if asked:
        verdict = "unsure"  # until it is said whether that one was a slip
    leave = verdict == "pass" or beyond or not slopes or few or bool(asked)
    made = 1.0 if leave else run.set_factor / keyed.value
    told = _beyond_a_line(setting, fit, shape) if beyond and verdict != "pass" else []
    first = [*asked, *told]
    words = _instruct_factor(setting, fit, keyed, verdict, off, line, over, first, leave=leave, few=few)
    return CalibrationResult(
        factor=fit,
        after_mm=tuple(s / made - t for t, s in zip(setting.true, setting.shown, strict=True)),
        value_to_key=None if leave else keyed.value,
        keyed=keyed,
        error_mm=shape.range_mm if beyond else off,
        over_mm=span if beyond else over,
        budget=everywhere if beyond else line,
        verdict=verdict,
        settled=verdict == "pass",
        findings=(
            *asked,
            *told,
            *mixed,
            *(f for f in fit.findings if not ((mixed or leave) and f.code == "ppm-suspect")),
        ),
        instruction=words,
        **base(setting),
    )


def _instruct_factor(
    setting: CalibrationSetting,
    fit: LinearFactor,
    keyed: Keyed,
    verdict: str,
    off_mm: float,
    budget: Budget,
    over_mm: float,
    told: Sequence[Finding],
    *,
    leave: bool,
    few: bool,
) -> Sentence:
    """What to do about the factor: leave it, read more, or key it in."""
    if verdict == "pass":
        return leave_it(off_mm, setting, over_mm)
    if told:
        return told[0].remedy
    if few:
        return Sentence(
            "Two stations can't tell a factor from a slip, so nothing is keyed in yet: read a third one at least, in "
            "the middle of the travel or at its far end."
        )
    if leave:
        return conclusion(
            "Leave the factor as it is: the error found, {off}, is inside its own ± {u}. Read more stations, or over a "
            "longer stretch, to know better.",
            {"off": Fine(off_mm), "u": Fine(budget.expanded)},
        )
    words = instruct_factor(fit, keyed.words)
    if fit.residual_sd_mm is not None or not words.concludes:
        return words
    known = {"keyed": words, "u": Fine(budget.expanded), "over": Mm(over_mm)}
    return Sentence("{keyed} Two stations know it to ± {u} over {over} at best; a third would tell.", known)


def _two_stations(run: CalibrationRun, setting: CalibrationSetting, shape: Shape, true: Sequence[float],
                  errors: Sequence[float]) -> Stations:  # fmt: skip
    """How the difference of two stations scatters, of all the pairs there are, and what else is known of it."""
    count, span = len(set(true)), max(true) - min(true)
    rest = combine(moved_lines(run, setting, span)).u
    found = scatter_of_stations(true, errors, shape.pattern)
    u, freedom = found if found is not None else (None, math.inf)
    return Stations(
        count * (count - 1) // 2, None if u is None else u * 2**0.5, freedom, setting.step_mm, rest, pairs=True
    )


def _station_budget(run: CalibrationRun, setting: CalibrationSetting, of: Stations, span_mm: float) -> Budget:
    """What the difference of two stations is known to: both readings, and the reference between them."""
    more = "Read every station several times."
    lines = [BudgetLine("the display's last step", setting.step_mm / 2, remedy=more, step=setting.step_mm)]
    if of.u_mm is not None and math.isfinite(of.freedom):
        lines.append(BudgetLine("reading two stations", of.u_mm, "normal", freedom=of.freedom, remedy=more))
    return combine_apart([*lines, *moved_lines(run, setting, span_mm)])


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
            "Choose “a table of points” under How it corrects; a factor can't take it out."
            if table
            else "A factor can't take that out, and the display is said to have no table: look for a strained body, "
            "the gap at both ends, and the reference; or correct by hand from the list of errors.",
            range=Fine(shape.range_mm),
            wanted=Fine(setting.wanted_mm),
            left=Fine(left),
        )
    ]


def _factor_budget(
    run: CalibrationRun, setting: CalibrationSetting, fit: LinearFactor, true: Sequence[float], over_mm: float
) -> Budget:
    """The error over the travel: scatter of the stations or one step over their span, reference and temperatures."""
    span_mm, mean = max(true) - min(true), sum(true) / len(true)
    sxx = sum((t - mean) ** 2 for t in true)
    more = "Read more stations, farther apart."
    lines = [BudgetLine("the display's last step", setting.step_mm / 2, sensitivity=over_mm / span_mm, remedy=more,
                        step=setting.step_mm)]  # fmt: skip
    if fit.residual_sd_mm is not None:
        scatter, freedom = fit.residual_sd_mm * over_mm / sxx**0.5, max(1, len(true) - 2)
        lines.append(BudgetLine("scatter of the stations", scatter, "normal", freedom=freedom, remedy=more))
    return combine_apart([*lines, *scaled(moved_lines(run, setting, span_mm), over_mm / span_mm)])

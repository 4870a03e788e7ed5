"""The linear factor: the line through the stations, and what no line takes out."""

from __future__ import annotations

import math
from collections.abc import Sequence

from vernus.core.budget import Budget, BudgetLine, combine_apart, judge, stated
from vernus.core.finding import Finding, Fine, Mm, Sentence, conclusion, finding
from vernus.core.prove.calibrate.calibration import (
    LinearFactor,
    fit_factor,
    instruct_factor,
    review_stations,
)
from vernus.core.prove.calibrate.mixups import review_ratio
from vernus.core.prove.calibrate.profile import Keyed, key_factor
from vernus.core.prove.calibrate.straight import Shape, shape_of
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
    shape = shape_of(true, [s - t for s, t in zip(shown, true, strict=True)], setting.step_mm)
    everywhere = _station_budget(run, setting, shape, span)
    slopes = off > line.expanded
    verdict = judge(off, line.expanded, setting.wanted_mm).verdict if fit.residual_sd_mm is not None else "unsure"
    at_stations = judge(shape.range_mm, everywhere.expanded, setting.wanted_mm).verdict
    beyond = shape.pattern != "line" and shape.range_mm > off
    if beyond:
        verdict = "fail" if "fail" in (verdict, at_stations) else "unsure" if at_stations != "pass" else verdict
    elif verdict == "pass" and shape.range_mm + _largest_u(setting, fit, shape) > setting.wanted_mm:
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


def _largest_u(setting: CalibrationSetting, fit: LinearFactor, shape: Shape) -> float:
    """U of the farthest station without widening for how many there are, half a step at least (mm).

    By repeats where there are some, else by what the line leaves.
    """
    scatter, freedom = shape.u_station_mm, shape.freedom
    if math.isinf(freedom) and fit.residual_sd_mm is not None:
        scatter, freedom = fit.residual_sd_mm, len(setting.true) - 2
    return stated(scatter, freedom, setting.step_mm / 2)


def _station_budget(run: CalibrationRun, setting: CalibrationSetting, shape: Shape, span_mm: float) -> Budget:
    """What the difference of two stations is known to: both readings, and the reference between them."""
    both = BudgetLine(
        "reading two stations", shape.u_station_mm, "normal", sensitivity=2**0.5, freedom=shape.freedom,
        remedy="Read every station several times.",
    )  # fmt: skip
    return combine_apart([both, *moved_lines(run, setting, span_mm)])


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

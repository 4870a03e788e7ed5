"""Counts per unit: all moves together, and whether what they say is known well enough to be keyed in."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from vernus.core.budget import Budget, BudgetLine, combine, combine_apart, judge
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, conclusion, finding
from vernus.core.prove.calibrate.calibration import MM_PER_INCH, MoveCheck, average_moves, review_repeats
from vernus.core.prove.calibrate.counts import Counts, count_per_unit, instruct_counts
from vernus.core.prove.calibrate.profile import Keyed, key_counts
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun
from vernus.job.known.display import count_said
from vernus.job.prove.calibrate.found import CalibrationResult, base, leave_it, over_words
from vernus.job.prove.calibrate.setting import (
    CalibrationSetting,
    moved_lines,
    rounding_line,
    scaled,
    set_per_mm,
    suspect_ppm,
)


def counts_result(job: Job, run: CalibrationRun, setting: CalibrationSetting) -> CalibrationResult:
    """All moves together, repeats averaged; nothing is keyed in whose correction lies inside its own U."""
    per_mm = set_per_mm(run)
    if any(t == 0 for t in setting.true):
        raise BadInputError("A move is zero, so nothing can be divided by it; move a known distance.")
    rms = math.sqrt(math.fsum(t * t for t in setting.true) / len(setting.true))
    u_moved = combine(moved_lines(run, setting, rms)).u
    move = average_moves(setting.shown, setting.true, per_mm, 0.0, u_moved, setting.step_mm)
    travel, length = setting.travel_mm, abs(move.moved_mm)
    counts = count_per_unit(move, travel, setting.wanted_mm, run.per, **suspect_ppm(job, run.axis_id))
    best = counts.nominal_per_mm or counts.counts_per_mm
    keyed = key_counts(setting.profile, best, travel)
    key = (
        best
        if counts.nominal_per_mm is not None and not setting.profile.whole_counts
        else keyed.value / (MM_PER_INCH if run.per == "in" else 1.0)
    )
    sign = -1 if counts.reversed else 1
    over = max(travel or 0.0, length)
    true_of_shown = abs(move.moved_mm / move.shown_mm)  # a display set ten times too coarse hides ten times as much
    read = scaled([*_scatter_line(move), rounding_line(run, setting)], true_of_shown)
    budget = combine_apart(scaled([*read, *moved_lines(run, setting, rms)], over / length))
    asked = review_repeats(setting.shown, setting.true, max(1 / per_mm, setting.step_mm))
    judged = _judge_counts(run, setting, counts, key, over, budget, abs(move.shown_mm / move.moved_mm))
    guessed = _guessed(job, run)
    words = judged.words or instruct_counts(counts, move.moved_mm, run.per == "in", keyed.words)
    if guessed and not judged.leave:
        words = Sentence("{first} {then}", {"first": guessed[0].remedy, "then": words})
    to_key = None if judged.leave else key * (MM_PER_INCH if run.per == "in" else 1.0)
    return CalibrationResult(
        counts=counts,
        after_mm=tuple(sign * s * per_mm / (per_mm if judged.leave else key) - t
                       for s, t in zip(setting.shown, setting.true, strict=True)),
        value_to_key=to_key if not asked else None,
        keyed=keyed,
        error_mm=judged.error_mm,
        shown_of_true=abs(move.shown_mm / move.moved_mm),
        over_mm=over,
        budget=budget,
        verdict=judged.verdict if not asked else "unsure",
        settled=judged.settled and not asked,
        findings=(
            *asked, *judged.findings, *counts.findings, *(keyed.findings if not judged.leave else ()), *guessed,
        ),
        instruction=words,
        **base(setting),
    )  # fmt: skip


def _guessed(job: Job, run: CalibrationRun) -> list[Finding]:
    """What the display is set to, where nobody said it: every figure to key in is reckoned from that."""
    axis = job.get(run.axis_id)
    if not isinstance(axis, Axis) or count_said(job, axis, run):
        return []
    return [
        finding(
            "counts-not-said",
            "info",
            "Nobody said what the display is set to: {set} counts per {unit} are taken, as such a scale usually has.",
            "Look first whether the display is set to {set} counts per {unit}, and say so under Display.",
            set=f"{run.counts_set:.7g}",
            unit="inch" if run.per == "in" else "mm",
        )
    ]


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
    run: CalibrationRun,
    setting: CalibrationSetting,
    counts: Counts,
    key: float,
    over_mm: float,
    budget: Budget,
    shown_of_true: float,
) -> _Judged:
    per_mm = set_per_mm(run)
    off = abs(counts.counts_per_mm / per_mm - 1) * over_mm
    few = len(setting.true) < LEAST_MOVES and not _gross(counts, per_mm, off, budget)
    # The mean is judged by its own U: the farthest repeat decides nothing.
    verdict = judge(off, budget.expanded * shown_of_true, setting.wanted_mm).verdict
    same = abs(key / per_mm - 1) < 1e-9 and not counts.reversed
    known = off > budget.expanded
    if counts.reversed:
        return _Judged(off, verdict, settled=False, leave=False)
    if few:
        return _Judged(off, "unsure", settled=False, leave=True, words=_repeat_it(run, setting, counts))
    if verdict == "pass":
        return _Judged(off, verdict, settled=True, leave=True, words=leave_it(off, setting, over_mm))
    if same and known:
        told = _whole_counts_fail(run, setting, off, over_mm)
        return _Judged(off, verdict, settled=False, leave=True, words=told.remedy, findings=(told,))
    too_short = any(f.code in ("move-too-short", "no-single-move") for f in counts.findings)
    if same:
        words = _not_proved(counts, key_counts(setting.profile, key, setting.travel_mm))
        return _Judged(off, verdict, settled=not too_short and verdict != "fail", leave=True, words=words)
    if not known:
        return _Judged(
            off,
            verdict,
            settled=False,
            leave=True,
            words=_not_known(run, counts, off, budget, over_words(setting.travel_mm, over_mm)),
        )
    return _Judged(off, verdict, settled=False, leave=False)


LEAST_MOVES = 3
"""So many moves show how they scatter; from fewer nothing passes, fails or is keyed in."""
GROSS = 0.01


def _gross(counts: Counts, per_mm: float, off_mm: float, budget: Budget) -> bool:
    """Whether another standard count is set than the one found: off by more than any scatter makes."""
    wrong = counts.nominal_per_mm is not None and abs(counts.nominal_per_mm / per_mm - 1) > GROSS
    return wrong and off_mm > 10 * budget.expanded


def _repeat_it(run: CalibrationRun, setting: CalibrationSetting, counts: Counts) -> Sentence:
    """One move or two say nothing of how it repeats; one that is too short is lengthened first."""
    short = next((f for f in counts.findings if f.code in ("move-too-short", "no-single-move")), None)
    if short is not None:
        return short.remedy
    left = LEAST_MOVES - len(setting.true)
    times = "once more" if left == 1 else "twice more"
    values = {"set": f"{run.counts_set:.7g}", "unit": "inch" if run.per == "in" else "mm", "times": times}
    return Sentence(
        "Make the move {times}, from the same side, and leave {set} counts per {unit} until then: fewer than three "
        "moves don't show how well it repeats.",
        values,
    )


def _not_known(run: CalibrationRun, counts: Counts, off_mm: float, budget: Budget, over: Sentence) -> Sentence:
    """The correction lies inside its own U: it is left, or looked at over a longer move."""
    least = counts.min_length_mm
    words = (
        "Leave {set} counts per {unit}: the correction found, {off} over {over}, is inside its own ± {u}. To know "
        "better, repeat the move"
    )
    values = {
        "set": f"{run.counts_set:.7g}",
        "unit": "inch" if run.per == "in" else "mm",
        "off": Fine(off_mm),
        "over": over,
        "u": Fine(budget.expanded),
        "least": Mm(least or 0.0),
    }
    return conclusion(words + (" over {least} at least." if least is not None else " over a longer stretch."), values)


def _whole_counts_fail(run: CalibrationRun, setting: CalibrationSetting, off_mm: float, over_mm: float) -> Finding:
    """The counts nearest to what was measured are set already, and leave more than is wanted."""
    whole = setting.profile.whole_counts
    return finding(
        "counts-cannot-mend",
        "caution",
        "{set} counts per {unit} are set, and leave {off} over {over} where {wanted} is wanted"
        + ("; the display takes whole counts only." if whole else "."),
        "Counts can't take that out: use the display's linear factor or its table (How it corrects), or one that takes "
        "decimals."
        if whole
        else "Repeat over a longer move; then use the display's linear factor or its table.",
        set=f"{run.counts_set:.7g}",
        unit="inch" if run.per == "in" else "mm",
        off=Fine(off_mm),
        over=Mm(over_mm),
        wanted=Fine(setting.wanted_mm),
    )


def _not_proved(counts: Counts, keyed: Keyed) -> Sentence:
    """The standard count is set already and the move agrees with it, but says too little."""
    least = counts.min_length_mm
    words = "Leave {keyed}: the move agrees with this standard count. It was too short to prove it"
    if least is None:
        return conclusion(words + "; repeat over a longer one.", {"keyed": keyed.words})
    return conclusion(words + "; that takes {least} with this reference.", {"keyed": keyed.words, "least": Mm(least)})

"""Three tests by hand and indicator: small steps, a push from the side, and coming back to zero; common practice, no
source.

Small steps: the axis is asked for the same small move again and again (0.025 mm or a thou) and an indicator on the
moved member says what came. Stick shows as nothing and then too much, lost motion as the first steps after a reversal
missing.
"""

from __future__ import annotations

import itertools
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Sentence, finding

FeelTest = Literal["steps", "push", "zero"]
SMALL_STEP_MM = 0.025


@dataclass(frozen=True)
class FeelResult:
    """Verdict of one test (None while too little is logged), its figure and its limit (mm), findings, what to do."""

    verdict: Literal["pass", "fail"] | None
    figure_mm: float | None
    limit_mm: float
    findings: tuple[Finding, ...]
    instruction: Sentence


def judge_steps(shown_mm: Sequence[float], asked_mm: float, limit_mm: float) -> FeelResult:
    """Small steps: ``shown_mm`` is what the indicator gained at each, all in one direction after a reversal.

    ``limit_mm`` is what a step may be off. Raises BadInputError for a step that isn't positive.
    """
    if not asked_mm > 0:
        raise BadInputError("The step asked for must be larger than zero, such as 0.025 mm or 1 thou.")
    if len(shown_mm) < 4:
        ask = "Reverse, then ask for {step} at a time, ten times; log what the indicator gained at each."
        return FeelResult(None, None, limit_mm, (), Sentence(ask, {"step": Fine(asked_mm)}))
    always = _constant_ratio(shown_mm, asked_mm, limit_mm)
    still = (
        0 if always is not None else next((n for n, s in enumerate(shown_mm) if abs(s) > asked_mm / 2), len(shown_mm))
    )
    rest = shown_mm[still:]
    worst = max((abs(s - asked_mm) for s in rest), default=asked_mm)
    found = []
    if still * asked_mm - sum(shown_mm[:still]) > limit_mm:
        found.append(
            finding(
                "first-steps-missing",
                "caution",
                "After the reversal {n} steps of {step} went nowhere: {lost} of lost motion, {limit} is allowed.",
                "Find what gives: reader bracket, its drive pin, or the indicator's own post.",
                n=still,
                step=Fine(asked_mm),
                lost=Fine(still * asked_mm - sum(shown_mm[:still])),
                limit=Fine(limit_mm),
            )
        )
    if worst > limit_mm:
        ratio = always if always is not None else _constant_ratio(rest, asked_mm, limit_mm)
        found.append(_how_steps_come(rest, asked_mm, limit_mm, worst, ratio))
    serious = [f for f in found if f.severity == "caution"]
    words = serious[0].remedy if serious else Sentence("Every step comes: nothing sticks or is lost.")
    return FeelResult("fail" if serious else "pass", worst, limit_mm, tuple(found), words)


def _how_steps_come(
    rest_mm: Sequence[float], asked_mm: float, limit_mm: float, worst_mm: float, ratio: float | None
) -> Finding:
    """What steps that don't come as asked have in common: one ratio, sticking and slipping, or neither."""
    if ratio is not None:
        return finding(
            "steps-by-a-ratio",
            "caution",
            "Every step of {step} comes as {came}: always {ratio} times as much, so nothing sticks.",
            "Look at the counts or the resolution set, at a display in the other unit or in diameter, or at a rack "
            "or pinion of another pitch.",
            step=Fine(asked_mm),
            came=Fine(asked_mm * ratio),
            ratio=f"{ratio:.3g}",
        )
    if any(s < asked_mm / 2 for s in rest_mm) and any(s > 1.5 * asked_mm for s in rest_mm):
        return finding(
            "sticks",
            "caution",
            "Steps of {step} come as nothing and then too much, up to {most}: it sticks and slips.",
            "Ease the gib, oil the way, and check that cover and seal lips don't drag.",
            step=Fine(asked_mm),
            most=Fine(max(rest_mm)),
        )
    return finding(
        "steps-uneven",
        "caution",
        "Steps of {step} are off by up to {worst}; {limit} is allowed here.",
        "Repeat with a finer indicator, clamped stiffly. If it stays: gib, oil, and what drags.",
        step=Fine(asked_mm),
        worst=Fine(worst_mm),
        limit=Fine(limit_mm),
    )


def _constant_ratio(shown_mm: Sequence[float], asked_mm: float, limit_mm: float) -> float | None:
    """How many times as much every step is, where all agree and it isn't once; None otherwise.

    Agree: within the limit of their median, and within a tenth of it. Less than a fifth is as good as nothing.
    """
    if len(shown_mm) < 3:
        return None
    middle = statistics.median(shown_mm)
    near = min(limit_mm, abs(middle) / 10) if middle else 0.0
    if middle < asked_mm / 5 or any(abs(s - middle) > max(near, asked_mm / 20) for s in shown_mm):
        return None
    return middle / asked_mm if abs(middle / asked_mm - 1) > 0.25 else None


def judge_zero(returns_mm: Sequence[float], limit_mm: float) -> FeelResult:
    """Coming back to the same stop: what the display shows there each time (0 at first)."""
    if len(returns_mm) < 3:
        ask = "Zero at a stop or a block, run away and come back from the same side; log what it shows, five times."
        return FeelResult(None, None, limit_mm, (), Sentence(ask))
    spread = max(returns_mm) - min(returns_mm)
    walk = returns_mm[-1] - returns_mm[0]
    steady = sum((b - a) * walk > 0 for a, b in itertools.pairwise(returns_mm))
    if spread <= limit_mm:
        return FeelResult("pass", spread, limit_mm, (), Sentence("It comes back to zero."))
    if abs(walk) > 0.8 * spread and steady >= 0.6 * (len(returns_mm) - 1):
        found = finding(
            "zero-walks",
            "caution",
            "Zero walks away by {walk} over {n} returns ({limit} is allowed): counts are lost, or something warms up.",
            "Wait an hour without moving: if it goes on, it is temperature or a loose mount; if not, counts are lost "
            "on the way, so check gap, speed and cable.",
            walk=Fine(walk, sign=True),
            n=len(returns_mm),
            limit=Fine(limit_mm),
        )
    else:
        found = finding(
            "zero-scatters",
            "caution",
            "Zero comes back within {spread} only, {limit} is allowed (middle {middle}).",
            "Clean the stop, come from the same side with the same force, and check the reader's mount by pushing it.",
            spread=Fine(spread),
            limit=Fine(limit_mm),
            middle=Fine(statistics.median(returns_mm), sign=True),
        )
    return FeelResult("fail", spread, limit_mm, (found,), found.remedy)

"""Beyond the pivot screw: shims at both ends, roll and twist, what earlier passes taught, what is left.

Roll: heights along two lines of the face, ``apart`` from each other; roll = (top − bottom)/apart, and a shim of
roll × bolt spacing under the bottom row takes a positive one out. Twist: roll that grows along the body.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.align.sweep import Alignment, Indicator, cosine_error
from vernus.core.align.sweep_review import Gain
from vernus.core.budget import BudgetLine, Verdict, combine_apart, judge
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, Tiny, finding
from vernus.core.make.stacks import shims_for_roll


@dataclass(frozen=True)
class EndMoves:
    """How far each end must come toward the indicator (mm); one of them is zero, none is negative."""

    left_mm: float
    right_mm: float
    expanded_mm: float


def shims_at_ends(sweep: Alignment, screws_mm: tuple[float, float], gain: float = 1.0) -> EndMoves:
    """What to put under the lower end so that both stand alike; ``gain`` is what earlier moves achieved of theirs."""
    left, right = sorted(screws_mm)
    if right - left <= 0:
        raise BadInputError("The two screws are in one place; give the station of each.")
    rise = sweep.line.slope * (right - left) / gain
    expanded = sweep.line.budget.expanded / sweep.line.span_mm * (right - left)
    return EndMoves(max(rise, 0.0), max(-rise, 0.0), expanded)


def learned_gain(gains: Sequence[Gain]) -> float:
    """The median of what earlier moves by turns or shims achieved, 1 where nothing reliable is known.

    Only gains that are well known and went the right way count, and none is believed beyond 0.5 to 1.5.
    """
    known = [g.value for g in gains if g.judged and g.value > 0.25]
    return min(1.5, max(0.5, statistics.median(known))) if known else 1.0


def review_range(readings_mm: Sequence[float], range_mm: float | None) -> list[Finding]:
    """A finding when a reading lies outside what the indicator can show."""
    if range_mm is None or not readings_mm:
        return []
    swing = max(readings_mm) - min(readings_mm)
    if swing <= range_mm:
        return []
    return [
        finding(
            "indicator-out-of-range",
            "stop",
            "The readings swing over {swing}, more than the indicator's range of {range}: some of them are its end "
            "stop.",
            "Rough the body in with a rule first, or use an indicator with a longer range.",
            swing=Fine(swing),
            range=Fine(range_mm),
        )
    ]


def review_tightening(before: Alignment, after: Alignment) -> list[Finding]:
    """A finding when tightening alone moved the body more than the two sweeps are uncertain."""
    moved = (after.line.slope - before.line.slope) * after.judged_mm
    unsure = math.hypot(before.expanded_mm, after.expanded_mm)
    if abs(moved) <= max(unsure, after.tolerance_mm / 5):
        return []
    return [
        finding(
            "moved-on-tightening",
            "caution",
            "Tightening moved the body by {moved} end to end.",
            "Tighten in two goes, the held screw first, and correct by the dial with the screws nearly tight.",
            moved=Fine(moved, sign=True),
        )
    ]


@dataclass(frozen=True)
class Roll:
    """Roll from two lines of readings: top less bottom (mm), its uncertainty (95 %), and how it changes along the body.

    ``shim_mm`` goes under the bottom row (negative: under the top row).
    """

    difference_mm: float
    expanded_mm: float
    twist_mm: float
    shim_mm: float
    verdict: Verdict


def analyse_roll(
    stations_mm: Sequence[float],
    tops_mm: Sequence[float],
    bottoms_mm: Sequence[float],
    indicator: Indicator,
    apart_mm: float,
    bolts_mm: float,
    tolerance_mm: float,
) -> Roll:
    """Roll and twist; readings of both lines at each station, in mm as read. Raises BadInputError without any."""
    if not stations_mm or not len(stations_mm) == len(tops_mm) == len(bottoms_mm):
        raise BadInputError("Roll needs a reading on the top line and one on the bottom line at each station.")
    scale = indicator.sign * indicator.cosine
    apart = [scale * (t - b) for t, b in zip(tops_mm, bottoms_mm, strict=True)]
    mean = statistics.fmean(apart)
    spread = statistics.stdev(apart) / math.sqrt(len(apart)) if len(apart) > 1 else 0.0
    half = indicator.division_mm * indicator.cosine / 2
    each = (2 / len(apart)) ** 0.5
    lines = [BudgetLine("the dial's division", half, sensitivity=each, step=2 * half / each)]
    if len(apart) > 1:
        lines.append(BudgetLine("scatter along the body", spread, "normal", freedom=len(apart) - 1))
    budget = combine_apart(lines)
    first, last = (
        min(range(len(apart)), key=lambda n: stations_mm[n]),
        max(range(len(apart)), key=lambda n: stations_mm[n]),
    )
    _, shim = shims_for_roll(mean, 0.0, apart_mm, bolts_mm)
    verdict = judge(mean, budget.expanded, tolerance_mm).verdict if len(apart) > 1 else "unsure"
    return Roll(mean, budget.expanded, apart[last] - apart[first], shim, verdict)


def review_roll(roll: Roll, tolerance_mm: float) -> list[Finding]:
    """What is wrong with a roll: out of tolerance, not known well enough, or twisted along the body."""
    found: list[Finding] = []
    if roll.verdict != "pass":
        fails = roll.verdict == "fail"
        found.append(
            finding(
                "rolled" if fails else "roll-unsure",
                "caution" if fails else "info",
                "Top less bottom is {roll} ± {u}, more than the {tolerance} allowed."
                if fails
                else "Top less bottom is {roll} ± {u}, too near the {tolerance} allowed to tell.",
                "Shim the lower row if the top stands out, else the upper one; then read both lines again."
                if fails
                else "Read both lines at more stations, or use an indicator with finer divisions.",
                roll=Fine(abs(roll.difference_mm)),
                u=Fine(roll.expanded_mm),
                tolerance=Fine(tolerance_mm),
            )
        )
    if abs(roll.twist_mm) <= tolerance_mm:
        return found
    return [
        *found,
        finding(
            "twist",
            "caution",
            "The roll changes by {twist} from end to end: the body or its face is twisted.",
            "Shim each end for its own roll, or support the body on three points only.",
            twist=Fine(roll.twist_mm, sign=True),
        ),
    ]


def what_is_left(sweep: Alignment, travel_mm: float | None, *, reader: bool = False) -> Sentence:
    """What the tilt left really costs, so that nobody chases the last half thou in vain.

    A reader keeps its tilt wherever the axis stands.
    """
    if reader:
        return Sentence(
            "The reader keeps this tilt all along the stroke: from its one end to the other the gap differs by {rise} "
            "over {over}, everywhere alike.",
            {"rise": Fine(abs(sweep.rise_mm)), "over": Mm(sweep.judged_mm)},
        )
    over = sweep.judged_mm if travel_mm is None else travel_mm
    return Sentence(
        "Left like this, the reader's gap changes by {gap} over {over}, and the display misreads by {error} (cosine).",
        {
            "gap": Fine(abs(sweep.line.slope) * over),
            "over": Mm(over),
            "error": Tiny(cosine_error(over, sweep.line.slope)),
        },
    )

"""Beyond the pivot screw: shims at both ends, jack screws, roll and twist, what earlier passes taught, what is left.

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
from vernus.core.budget import Verdict, judge
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, Tiny, finding
from vernus.core.make.shims import ShimPick, ShimStock, pick_shims
from vernus.core.make.stacks import jack_turns, level_plane, shims_for_roll


@dataclass(frozen=True)
class EndMoves:
    """How far each end must come toward the indicator (mm); one of them is zero, none is negative."""

    left_mm: float
    right_mm: float
    u_mm: float


def shims_at_ends(sweep: Alignment, screws_mm: tuple[float, float], gain: float = 1.0) -> EndMoves:
    """What to put under the lower end so that both stand alike; ``gain`` is what earlier moves achieved of theirs."""
    left, right = sorted(screws_mm)
    if right - left <= 0:
        raise BadInputError("The two screws are in one place; give the station of each.")
    rise = sweep.line.slope * (right - left) / gain
    u = sweep.line.u_slope * (right - left)
    return EndMoves(max(rise, 0.0), max(-rise, 0.0), u)


def learned_gain(gains: Sequence[Gain]) -> float:
    """The median of what earlier moves by turns or shims achieved, 1 where nothing reliable is known.

    Only gains that are well known and went the right way count, and none is believed beyond 0.5 to 1.5.
    """
    known = [g.value for g in gains if g.judged and g.value > 0.25]
    return min(1.5, max(0.5, statistics.median(known))) if known else 1.0


def instruct_shims(moves: EndMoves, stock: Sequence[ShimStock]) -> tuple[Sentence, ShimPick | None]:
    """Which end gets how much under it, and from which shims of the drawer."""
    end, mm = ("left", moves.left_mm) if moves.left_mm > 0 else ("right", moves.right_mm)
    if mm <= 0:
        return Sentence("Both ends stand alike; leave the shims as they are."), None
    pick = pick_shims(stock, min(mm, 50.0)) if stock else None
    values = {"end": end, "mm": Fine(mm), "u": Fine(2 * moves.u_mm)}
    if pick is None or not pick.pieces:
        return Sentence("Put {mm} ± {u} under the {end} end, tighten, and sweep again.", values), pick
    names = {f"t{n}": Fine(t) for n, (t, _) in enumerate(pick.pieces)}
    words = " and ".join(f"{count} of {{t{n}}}" for n, (_, count) in enumerate(pick.pieces))
    return Sentence(
        "Put {mm} ± {u} under the {end} end: " + words + " makes {total}. Tighten, and sweep again.",
        {**values, **names, "total": Fine(pick.total_mm)},
    ), pick


def instruct_jacks(moves: EndMoves, pitch_mm: float) -> Sentence:
    """Turns of the jack screw at the lower end."""
    end, mm = ("left", moves.left_mm) if moves.left_mm > 0 else ("right", moves.right_mm)
    turns = jack_turns(mm, pitch_mm)
    if (turns.whole, turns.eighths) == (0, 0):
        return Sentence("Less than a sixteenth of a turn is left; leave the jack screws, tighten, and sweep again.")
    return Sentence(
        "Turn the jack screw at the {end} end {turns} ({mm} toward the indicator), lock it, tighten, and sweep again.",
        {"end": end, "turns": turns.words(), "mm": Fine(mm)},
    )


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
    moved = after.end_to_end_mm - before.end_to_end_mm
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
    u = math.hypot(indicator.u_reading_mm * math.sqrt(2 / len(apart)), spread)
    first, last = (
        min(range(len(apart)), key=lambda n: stations_mm[n]),
        max(range(len(apart)), key=lambda n: stations_mm[n]),
    )
    _, shim = shims_for_roll(mean, 0.0, apart_mm, bolts_mm)
    return Roll(mean, 2 * u, apart[last] - apart[first], shim, judge(mean, 2 * u, tolerance_mm).verdict)


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
                "Shim the row that the instruction names, then read both lines again."
                if fails
                else "Use an indicator with finer divisions, or lines farther apart.",
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


def instruct_roll(roll: Roll) -> Sentence:
    """What to put under which row."""
    if roll.verdict == "pass":
        return Sentence("The face stands upright enough; leave it. Tighten, and read both lines once more.")
    row = "bottom" if roll.shim_mm > 0 else "top"
    return Sentence(
        "Put {shim} under the {row} row of screws; the other row is then {other} nearer than now.",
        {"shim": Fine(abs(roll.shim_mm)), "row": row, "other": Fine(abs(roll.difference_mm))},
    )


def corner_points(
    stations_mm: Sequence[float],
    tops_mm: Sequence[float],
    bottoms_mm: Sequence[float],
    indicator: Indicator,
    apart_mm: float,
) -> list[tuple[float, float, float]]:
    """The heights of a roll pass as points (x, y, height) in mm, y from the middle between the two lines."""
    scale, half = indicator.sign * indicator.cosine, apart_mm / 2
    top = [(x, half, scale * r) for x, r in zip(stations_mm, tops_mm, strict=True)]
    return top + [(x, -half, scale * r) for x, r in zip(stations_mm, bottoms_mm, strict=True)]


def instruct_corners(
    points: Sequence[tuple[float, float, float]],
    screws_mm: tuple[float, float],
    rows_mm: float,
    *,
    three: bool,
    pitch_mm: float | None,
) -> Sentence:
    """A move for each of four corner jacks, or a spacer for each of three bolts (the third in the middle of the top).

    With a pitch the moves are turns either way, with the least total; without one they are shims, none negative.
    """
    left, right = sorted(screws_mm)
    half = rows_mm / 2
    places = {"left bottom": (left, -half), "right bottom": (right, -half)}
    if three:
        places["top middle"] = ((left + right) / 2, half)
    else:
        places |= {"left top": (left, half), "right top": (right, half)}
    result = level_plane(points, list(places.values()), only_out=pitch_mm is None)
    parts: list[str] = []
    values: dict[str, object] = {}
    for n, (name, move) in enumerate(zip(places, result.moves_mm, strict=True)):
        if pitch_mm is None:
            parts.append(f"{name} {{m{n}}}")
            values[f"m{n}"] = Fine(move)
        else:
            parts.append(f"{name} {jack_turns(move, pitch_mm).words()}")
    lead = "Put under the bolts: " if pitch_mm is None else "Turn the jack screws: "
    return Sentence(lead + "; ".join(parts) + ". Tighten, and read both lines at both ends again.", values)


def what_is_left(sweep: Alignment, travel_mm: float | None) -> Sentence:
    """What the tilt left really costs, so that nobody chases the last half thou in vain."""
    over = sweep.swept_mm if travel_mm is None else travel_mm
    return Sentence(
        "Left like this, the reader's gap changes by {gap} over {over}, and the display misreads by {error} (cosine).",
        {
            "gap": Fine(abs(sweep.line.slope) * over),
            "over": Mm(over),
            "error": Tiny(cosine_error(over, sweep.line.slope)),
        },
    )

"""What is said of an axis's alignment and of its reader's gap."""

from __future__ import annotations

from vernus.core.align.corrections import Roll
from vernus.core.align.sweep import Correction
from vernus.core.finding import BodySide, Fine, Mm, Sentence
from vernus.core.verdict_words import VERDICTS
from vernus.job.align.passes import PLANES, passes, result_in_job, setting_in_job, targets_of
from vernus.job.align.reader import reader_result
from vernus.job.document import Job
from vernus.job.entities import TARGETS, Axis, Sweep
from vernus.job.statement import Judged, Statement, verdict_statement


def align_statements(job: Job, axis: Axis) -> list[Statement]:
    """The verdict and the dial target of the last pass of each plane, the roll, and the gap as it was tried."""
    found: list[Statement] = []
    for target in targets_of(job, axis):
        for plane in (*PLANES, "roll"):
            read = [s for s in passes(job, axis.id, plane, target) if s.readings]
            if read:
                found += _pass(job, axis, read[-1])
    found += _gap(job, axis)
    return found


def _pass(job: Job, axis: Axis, sweep: Sweep) -> list[Statement]:
    result = result_in_job(job, sweep)
    figures, fix = result.alignment, result.correction
    if figures is None:
        return [] if result.roll is None else [_rolled(axis, sweep, result.roll)]
    what = f"{dict(TARGETS)[sweep.target]}, {sweep.plane}"
    said = Sentence(
        "The {what}: {rise} ± {u} over {over}, {limit} allowed",
        {
            "what": what, "rise": Fine(figures.rise_mm, sign=True), "u": Fine(figures.expanded_mm),
            "over": Mm(figures.judged_mm), "limit": Fine(figures.tolerance_mm),
        },
    )  # fmt: skip
    judged = Judged(figures.rise_mm, figures.expanded_mm, figures.tolerance_mm, figures.verdict)
    found = [verdict_statement(axis.name, f"align {sweep.target}-{sweep.plane}", "align", said, judged)]
    stopped = any(f.severity == "stop" for f in result.findings)
    setting = setting_in_job(job, sweep)
    by = setting.by_on(sweep)
    by_dial = by not in ("shims", "three") and not (by == "restick" and sweep.plane == "face")
    if fix is not None and by_dial and not stopped and figures.verdict != "pass":
        found.append(_dial(axis, sweep, fix, setting.pitch_on(sweep) if by == "jacks" else 0.0))
    return found


def _rolled(axis: Axis, sweep: Sweep, roll: Roll) -> Statement:
    """How far the body is rolled, between its two lines."""
    said = Sentence(
        "The {what}, rolled: {off} ± {u} between two lines {apart} apart, {limit} allowed",
        {
            "what": dict(TARGETS)[sweep.target], "off": Fine(roll.difference_mm, sign=True),
            "u": Fine(roll.expanded_mm), "apart": Mm(sweep.lines_apart.mm), "limit": Fine(sweep.tolerance.mm),
        },
    )  # fmt: skip
    judged = Judged(roll.difference_mm, roll.expanded_mm, sweep.tolerance.mm, roll.verdict)
    return verdict_statement(axis.name, f"align {sweep.target}-roll", "align", said, judged)


def _dial(axis: Axis, sweep: Sweep, fix: Correction, pitch_mm: float) -> Statement:
    """Which end is kept, where the indicator stands, and the figure to bring its dial to.

    ``pitch_mm`` is that of the jack screws, 0 where it isn't known or none are there.
    """
    left_held = fix.hold_mm < fix.move_mm
    hold, move = ("left", "right") if left_held else ("right", "left")
    values = {
        "hold": BodySide("left" if left_held else "right"), "move": BodySide("right" if left_held else "left"),
        "park": Mm(fix.park_mm), "now": Fine(fix.dial_now_mm, sign=True), "to": Fine(fix.dial_target_mm, sign=True),
    }  # fmt: skip
    words = Sentence("Keep the {hold} end; at {park} bring the dial from {now} to {to} at the {move} end.", values)
    turn = fix.shift_mm / pitch_mm * 360 if pitch_mm > 0 else None
    said = {
        "target": sweep.target, "plane": sweep.plane, "hold": hold, "move": move, "park_mm": fix.park_mm,
        "from_mm": fix.dial_now_mm, "to_mm": fix.dial_target_mm, "turn_deg": turn,
    }  # fmt: skip
    return Statement("dial", axis.name, f"{sweep.target}-{sweep.plane}", "align", words, said)


def _gap(job: Job, axis: Axis) -> list[Statement]:
    result = reader_result(job, axis)
    if result.gap is None:
        return []
    low, high = result.wanted_mm
    least, most = result.gap.least_mm, result.gap.most_mm
    values: dict[str, object] = {"least": Fine(least), "low": Fine(low), "high": Fine(high)}
    values["word"] = VERDICTS[result.verdict]
    words = "The reader's gap is at least {least}; {low} to {high} is wanted: {word}."
    if most is not None:
        values["most"], words = Fine(most), "The reader's gap is {least} to {most}; {low} to {high} is wanted: {word}."
    said = {"least_mm": least, "most_mm": most, "limits_mm": [low, high], "verdict": result.verdict}
    return [Statement("gap", axis.name, "", "reader", Sentence(words, values), said)]

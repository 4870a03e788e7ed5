"""The alignment passes of a job: what each says, what earlier ones taught, and what to do next."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from vernus.core.align.corrections import (
    Roll,
    analyse_roll,
    corner_points,
    instruct_corners,
    instruct_jacks,
    instruct_roll,
    instruct_shims,
    learned_gain,
    review_range,
    review_roll,
    review_tightening,
    shims_at_ends,
)
from vernus.core.align.sweep import Alignment, Correction, Indicator, analyse_sweep, correct
from vernus.core.align.sweep_review import compare_passes, gain_between, instruct, review_sweep
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding, in_order, plain
from vernus.core.make.shims import ShimStock
from vernus.job.document import Job
from vernus.job.doubts import doubt_finding, doubtful_reading
from vernus.job.entities import Axis, Plane, Sweep, Target
from vernus.job.fields import mm_of
from vernus.job.known import Known, family_of
from vernus.job.known import screws as end_screws
from vernus.job.make.mounts import shim_stock
from vernus.job.refusals import limit_findings, refusal

PLANES: tuple[Plane, ...] = ("face", "edge")
"""The planes a body must pass in; roll is looked at besides."""


@dataclass(frozen=True)
class SweepResult:
    """One pass: the figures (None below two stations), the correction, and what to do; for roll passes the roll."""

    alignment: Alignment | None
    correction: Correction | None
    findings: tuple[Finding, ...]
    instruction: Sentence
    roll: Roll | None = None


def indicator_of(sweep: Sweep) -> Indicator:
    """The indicator as noted on a sweep; raises BadInputError."""
    return Indicator(sweep.sense, sweep.lever_deg, sweep.division.mm)


Screws = tuple[float, float]


@lru_cache(maxsize=4096)
def sweep_result(
    sweep: Sweep,
    previous: Sweep | None = None,
    gain: float = 1.0,
    stock: tuple[ShimStock, ...] = (),
    known: Known[Screws] | None = None,
) -> SweepResult:
    """What a pass says; ``previous`` is the pass before it in the same series.

    ``gain`` is what earlier moves by turns or shims achieved of theirs, ``stock`` the shims in the drawer, ``known``
    where the scale's end screws are, for those that were not measured on the pass itself.
    """
    result = _sweep_result(sweep, previous, gain, stock, screws_of(sweep, known))
    asked = doubtful_reading(sweep)
    if asked is not None:
        figures, roll = result.alignment, result.roll
        result = replace(
            result,
            alignment=None if figures is None else replace(figures, verdict="unsure"),
            roll=None if roll is None else replace(roll, verdict="unsure"),
            correction=None,
            findings=(doubt_finding(asked), *result.findings),
        )
    return replace(result, instruction=in_order(result.instruction, result.findings))


def _sweep_result(
    sweep: Sweep, previous: Sweep | None, gain: float, stock: tuple[ShimStock, ...], known: Known[Screws] | None
) -> SweepResult:
    screws = None if known is None else known.value
    if sweep.plane == "roll":
        return _roll_result(sweep, screws)
    stations, readings = [r.station.mm for r in sweep.readings], [r.reading.mm for r in sweep.readings]
    if len(set(stations)) < 2:
        ask = "Set the indicator on the other member, run to the first station, and log reading by reading with Enter."
        return SweepResult(None, None, tuple(limit_findings(sweep)), Sentence(ask))
    try:
        indicator = indicator_of(sweep)
        figures = analyse_sweep(stations, readings, indicator, sweep.tolerance.mm)
    except BadInputError as error:
        return SweepResult(None, None, (*limit_findings(sweep), refusal(error)), plain(str(error)))
    findings = limit_findings(sweep) + review_sweep(figures, readings, indicator, screws)
    findings += review_range(readings, mm_of(sweep.range))
    if known is not None and not known.sure:
        findings.append(_screws_proposed(known.value))
    fix = None
    if screws is not None:
        try:
            fix = correct(figures, readings, indicator, screws, sweep.hold)
        except BadInputError as error:
            findings.append(refusal(error))
    before = sweep_result(previous, known=known).alignment if previous is not None else None
    if before is not None and sweep.moved_by == "tightening":
        findings += review_tightening(before, figures)
    elif before is not None:
        findings += compare_passes(before, figures, sweep.moved_by)
    return SweepResult(figures, fix, tuple(findings), _instruct(sweep, figures, fix, findings, screws, gain, stock))


def _instruct(
    sweep: Sweep,
    figures: Alignment,
    fix: Correction | None,
    findings: Sequence[Finding],
    screws: tuple[float, float] | None,
    gain: float,
    stock: tuple[ShimStock, ...],
) -> Sentence:
    grave = any(f.severity == "stop" for f in findings)
    if sweep.by in ("pivot", "three") or grave or figures.verdict == "pass" or screws is None:
        return instruct(figures, fix, findings)
    moves = shims_at_ends(figures, screws, gain)
    if sweep.by == "shims":
        return instruct_shims(moves, stock)[0]
    if sweep.jack_pitch is None or sweep.jack_pitch.mm <= 0:
        return Sentence("Say the pitch of the jack screws under Setup (F4) to be told the turns.")
    return instruct_jacks(moves, sweep.jack_pitch.mm)


def _roll_result(sweep: Sweep, screws: Screws | None) -> SweepResult:
    pairs: dict[float, dict[str, float]] = {}
    for reading in sweep.readings:
        pairs.setdefault(reading.station.mm, {})[reading.line or "top"] = reading.reading.mm
    whole = {x: lines for x, lines in pairs.items() if {"top", "bottom"} <= set(lines)}
    limits = limit_findings(sweep)
    if not whole or limits:
        ask = "Touch the face near its top edge, log, then straight below near its bottom edge, log; at both ends."
        return SweepResult(None, None, tuple(limits), limits[0].remedy if limits else Sentence(ask))
    try:
        roll = analyse_roll(
            list(whole),
            [lines["top"] for lines in whole.values()],
            [lines["bottom"] for lines in whole.values()],
            indicator_of(sweep),
            sweep.lines_apart.mm,
            sweep.bolts_apart.mm,
            sweep.tolerance.mm,
        )
    except BadInputError as error:
        return SweepResult(None, None, (refusal(error),), plain(str(error)))
    words = instruct_roll(roll)
    if sweep.by != "pivot" and screws is not None and len(whole) > 1 and roll.verdict != "pass":
        try:
            words = _corners(sweep, whole, screws)
        except BadInputError as error:
            words = plain(str(error))
    return SweepResult(None, None, tuple(review_roll(roll, sweep.tolerance.mm)), words, roll)


def _corners(sweep: Sweep, whole: dict[float, dict[str, float]], screws: Screws) -> Sentence:
    """All bolts of the body solved together from both lines at both ends."""
    tops, bottoms = ([lines[line] for lines in whole.values()] for line in ("top", "bottom"))
    points = corner_points(list(whole), tops, bottoms, indicator_of(sweep), sweep.lines_apart.mm)
    pitch = mm_of(sweep.jack_pitch) if sweep.by == "jacks" else None
    if sweep.by == "jacks" and not pitch:
        return Sentence("Say the pitch of the jack screws under Setup (F4) to be told the turns.")
    return instruct_corners(points, screws, sweep.bolts_apart.mm, three=sweep.by == "three", pitch_mm=pitch)


def result_in_job(job: Job, sweep: Sweep) -> SweepResult:
    """What a pass says, with what earlier passes and the drawer add to it."""
    axis = job.get(sweep.axis_id)
    ends = end_screws(job, axis, sweep.target) if isinstance(axis, Axis) else None
    return sweep_result(sweep, sweep_before(job, sweep), _gain(job, sweep), shim_stock(job), ends)


def _gain(job: Job, sweep: Sweep) -> float:
    """What moves by turns or shims achieved so far in this series."""
    series = [s for s in passes(job, sweep.axis_id, sweep.plane, sweep.target) if s.created <= sweep.created]
    moved = [pair for pair in itertools.pairwise(s for s in series if s.readings) if pair[1].moved_by == "turns"]
    figures = [(sweep_result(before).alignment, sweep_result(after).alignment) for before, after in moved]
    return learned_gain([gain_between(a, b) for a, b in figures if a is not None and b is not None])


def targets_of(job: Job, axis: Axis) -> tuple[Target, ...]:
    """What must be aligned, in order: a rod's reader is trammed before the rod, other families by their body."""
    family = family_of(job, axis)
    return ("reader", "rod") if family is not None and family.body_type == "rod" else ("body",)


def _screws_proposed(screws_mm: tuple[float, float]) -> Finding:
    return finding(
        "screws-proposed",
        "info",
        "The end screws are taken to be at {left} and {right}; nobody has measured that yet.",
        "Measure both from the same end as the stations and enter them under Setup (F4).",
        left=Mm(screws_mm[0]),
        right=Mm(screws_mm[1]),
    )


def screws_of(sweep: Sweep, known: Known[Screws] | None = None) -> Known[Screws] | None:
    """The two end screws (mm), left first: as measured on the pass, as known of the scale, as proposed otherwise."""
    noted = (sweep.screw_left, sweep.screw_right)
    typed = [e is not None and bool(e.text) for e in noted]
    proposed = None if None in noted else tuple(e.mm for e in noted if e is not None)
    if all(typed) and proposed is not None:
        return Known((proposed[0], proposed[1]), "measured", "end screws")
    rest = known.value if known is not None else proposed
    if rest is None:
        return None
    left, right = (
        e.mm if is_typed and e is not None else other for e, is_typed, other in zip(noted, typed, rest, strict=True)
    )
    return Known((left, right), known.source if known is not None else "template", "end screws")


def passes(job: Job, axis_id: str, plane: str, target: str = "body") -> list[Sweep]:
    """The alignment passes of an axis's target in one plane, oldest first."""
    found = job.derived(
        ("passes", axis_id, plane, target),
        lambda: [s for s in job.of_axis(Sweep, axis_id) if s.plane == plane and s.target == target],
        (Sweep,),
    )
    return list(found)


def sweep_before(job: Job, sweep: Sweep) -> Sweep | None:
    """The pass before ``sweep`` in its series: the same plane of the same target of the same axis."""
    series = reversed(passes(job, sweep.axis_id, sweep.plane, sweep.target))
    return next((s for s in series if (s.created, s.id) < (sweep.created, sweep.id) and s.readings), None)


def first_target(job: Job, axis: Axis) -> Target:
    """The target to begin with: the first that hasn't passed in both planes, or the last."""
    wanted = targets_of(job, axis)
    for target in wanted:
        for plane in PLANES:
            series = [s for s in passes(job, axis.id, plane, target) if s.readings]
            figures = result_in_job(job, series[-1]).alignment if series else None
            if figures is None or figures.verdict != "pass":
                return target
    return wanted[-1]

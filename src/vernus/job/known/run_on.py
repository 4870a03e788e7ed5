"""How fast a feed drives an axis and how far it runs on, with what was worked over on its kit. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import LEAST_THICKNESS_MM, WEB_MM
from vernus.core.feed.speeds import feed_rate
from vernus.core.feed.trip import RunOn, estimated_run_on, worst_run_on
from vernus.core.finding import Finding
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    PowerFeed,
    Rework,
    RunOnTest,
)
from vernus.job.known.axis_figures import Sourced, feed_of


def rapid_mm_per_min(job: Job, axis: Axis) -> float | None:
    """The fastest feed of an axis; None while a figure for it is missing."""
    feed = feed_of(job, axis)
    if feed is None:
        return None
    if feed.timed is not None and feed.timed_s and feed.timed.mm > 0:
        return 60 * feed.timed.mm / feed.timed_s
    if (
        axis.lead is None
        or not axis.lead.mm > 0
        or feed.unit_teeth is None
        or feed.gear_teeth is None
        or feed.rapid_rpm is None
    ):
        return None
    try:
        return feed_rate(feed.rapid_rpm, (round(feed.unit_teeth), round(feed.gear_teeth)), axis.lead.mm)
    except BadInputError:
        return None


@dataclass(frozen=True)
class RunOnKnown:
    """The run-on toward either end, None while nothing is known of it, and what there is to say of it."""

    run_on: Sourced[tuple[float, float]] | None
    findings: tuple[Finding, ...]


def ran_on_mm(test: RunOnTest) -> float:
    """How far a test ran on: by rule where it was measured so, else from where it tripped to where it stood."""
    if test.ran is not None:
        return test.ran.mm
    return (test.stood.mm - test.tripped.mm) * (1 if test.way == "up" else -1)


def run_on(job: Job, axis: Axis) -> RunOnKnown:
    """How far the axis runs on after a trip: measured at rapid in both directions, or estimated until then.

    Raises BadInputError for a test that can't be.
    """
    feed = feed_of(job, axis)
    tests = [
        RunOn(t.way == "up", t.speed, ran_on_mm(t))
        for t in (job.of_axis(RunOnTest, axis.id) if feed is not None else [])
    ]
    measured, findings = worst_run_on(tests)
    if measured is not None:
        return RunOnKnown(Sourced(measured, "measured", "run-on"), tuple(findings))
    rapid = rapid_mm_per_min(job, axis)
    if feed is None or rapid is None:
        return RunOnKnown(None, tuple(findings))
    guess = max(estimated_run_on(rapid, feed.switch_s, feed.brake_s), *(t.run_on_mm for t in tests), 0.0)
    return RunOnKnown(Sourced((guess, guess), "default", "run-on"), tuple(findings))


def new_bracket_mm(feed: PowerFeed) -> float | None:
    """How thick the bracket in place of the bearing's is: as measured, or as its bearing wants; None of neither."""
    if feed.kit_bracket is not None:
        return feed.kit_bracket.mm
    return None if feed.bearing_width is None else max(LEAST_THICKNESS_MM, feed.bearing_width.mm + WEB_MM)


def reworks(job: Job, axis: Axis) -> list[Rework]:
    """What was worked over on the kit or the machine, in the order it was noted."""
    return job.of_axis(Rework, axis.id)


def worked_over(job: Job, axis: Axis, feed: PowerFeed) -> PowerFeed:
    """The feed with what was broached, filed or bored as it measures after; its own figures stay what they were."""
    worked = [r for r in reworks(job, axis) if r.figure in PowerFeed.model_fields]
    after = {r.figure: r.after for r in worked if r.after is not None and r.after.mm > 0}
    return feed.with_(**after) if after else feed

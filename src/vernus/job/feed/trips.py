"""The trips of a power feed on the axis's line, what decides each end, and the run-on behind them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.finding import Finding, Mm, Sentence, finding, in_order
from vernus.core.machine.stroke import Stroke
from vernus.job.document import Job
from vernus.job.entities import Axis, PowerFeed
from vernus.job.known.axis_figures import Sourced, feed_of, travel
from vernus.job.machine.stroke import stroke_of

Ends = tuple[float, float]


@dataclass(frozen=True)
class StopsResult:
    """The line of the axis with its trips, the run-on behind them and whether it is measured; lengths in mm.

    The stroke is None while it can't be drawn, the run-on while nothing is known of it.
    """

    stroke: Stroke | None
    run_on: Sourced[Ends] | None
    measured: bool
    findings: tuple[Finding, ...]
    instruction: Sentence


def stops_result(job: Job, axis: Axis, feed: PowerFeed) -> StopsResult:
    """Trip positions on the axis's line, from its low mark: before its stops, and before its scale runs out."""
    far = travel(job, axis)
    if far is None or not far.is_given:
        ask = Sentence("Measure the travel first: the trips are placed from its ends.")
        return StopsResult(None, None, False, (), ask)
    line = stroke_of(job, axis)
    measured = line.run_on is not None and line.run_on.source == "measured"
    findings = [f for f in line.findings if "feed" in f.concerns]
    stroke = line.stroke
    if stroke is None:
        serious = line.findings[0] if line.findings else None
        ask = serious.what if serious is not None else Sentence("The line of this axis can't be drawn yet.")
        return StopsResult(None, None, measured, line.findings, ask)
    if stroke.trips_mm is None or line.run_on is None:
        ask = Sentence(
            "Say lead, teeth and rapid speed, or measure the run-on: trip it in mid travel with temporary stops."
        )
        return StopsResult(stroke, None, measured, tuple(findings), in_order(ask, findings))
    findings += _scale_decides(stroke)
    return StopsResult(stroke, line.run_on, measured, tuple(findings), _trip_words(stroke, line.run_on, findings))


def _trip_words(stroke: Stroke, run_on: Sourced[Ends], findings: Sequence[Finding]) -> Sentence:
    assert stroke.trips_mm is not None
    ends = {"low": Mm(stroke.trips_mm[0], sign=True), "high": Mm(stroke.trips_mm[1], sign=True)}
    serious = next((f for f in findings if f.severity == "stop"), None)
    if serious is not None:
        return serious.remedy
    if run_on.source != "measured":
        return Sentence(
            "Estimated run-on {on}: with it the trips go to {low} and {high}. Don't trust it: trip it in mid travel "
            "with temporary stops, both directions, slow then rapid, and note where it comes to rest.",
            {"on": Mm(max(run_on.value)), **ends},
        )
    first = "Fit the stops first, as the Envelope sheet says; then set" if stroke.stops else "Set"
    return Sentence(
        first + " the trips at {low} and {high}, then run into each slowly, then at rapid, with a hand on the stop.",
        ends,
    )


def _scale_decides(stroke: Stroke) -> list[Finding]:
    """What the scale's margin takes of the travel under power, where it ends before the hard stop does."""
    lost = sum(n.before_mark_mm for n in stroke.stops if n.why == "scale")
    if lost <= 0:
        return []
    return [
        finding(
            "scale-decides",
            "caution",
            "The scale ends before the hard stop does: its margin takes {lost} of the travel.",
            "Fit hard stops there too, so that a handwheel can't overrun it; a longer scale or a shifted reader "
            "gives it back.",
            lost=Mm(lost),
        ).told_of("scale")
    ]


def trips_of(job: Job, axis: Axis) -> Ends | None:
    """Where the feed of an axis trips, from its low mark; None without a feed or its figures.

    Trips that stand already go before the ones worked out.
    """
    feed, stroke = feed_of(job, axis), stroke_of(job, axis).stroke
    if feed is None or stroke is None or stroke.trips_mm is None:
        return None
    low = stroke.trips_mm[0] if feed.set_low is None else feed.set_low.mm
    high = stroke.trips_mm[1] if feed.set_high is None else feed.set_high.mm
    return low, high

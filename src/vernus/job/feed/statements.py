"""What is said of a power feed: where its trips go."""

from __future__ import annotations

from vernus.core.finding import AxisEnd, Mm, Sentence
from vernus.core.machine.stroke import ENDS
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.feed.feed import stops_result
from vernus.job.known import feed_of
from vernus.job.statement import Statement


def feed_statements(job: Job, axis: Axis) -> list[Statement]:
    """The trips of both ends, from the low mark, and what decides each."""
    feed = feed_of(job, axis)
    result = None if feed is None else stops_result(job, axis, feed)
    if result is None or result.stroke is None or result.stroke.trips_mm is None:
        return []
    line, found, rests = result.stroke, [], () if result.measured else ("run-on",)
    for end, at, by in zip(ENDS, result.stroke.trips_mm, line.trips_by, strict=True):
        decided = "scale" if by == "scale" else "stop" if line.stop_at(end) is not None else "hard"
        words = Sentence("The {end} trip stands {at} from the {@low} mark.", {"end": AxisEnd(end), "at": Mm(at)})
        said = {"end": end, "at_mm": at, "decided_by": decided}
        found.append(Statement("trip", axis.name, end, "feed", words, said, rests))
    return found

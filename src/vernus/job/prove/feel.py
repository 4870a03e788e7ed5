"""The tests by hand of an axis: small steps, a push from the side, back to zero."""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.align.reader import review_push
from vernus.core.finding import Fine, Sentence
from vernus.core.prove.feel import FeelResult, judge_steps, judge_zero
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, FeelRecord
from vernus.job.known.display import still_limit
from vernus.job.refusals import limit_findings


def feel_of(job: Job, axis: Axis, test: str) -> FeelRecord:
    """The record of one test of an axis, a fresh one if there is none yet."""
    found = [r for r in job.of_axis(FeelRecord, axis.id) if r.test == test]
    return found[-1] if found else FeelRecord.model_validate({"id": new_id(), "axis_id": axis.id, "test": test})


def feel_result(job: Job, axis: Axis, record: FeelRecord) -> FeelResult:
    """One test by hand, judged; a value off its limits is said and nothing is computed."""
    limits, limit = limit_findings(record), still_limit(job, axis)
    if limits:
        return FeelResult(None, None, limit, tuple(limits), limits[0].remedy)
    values = [v.mm for v in record.values]
    if record.test == "steps":
        return judge_steps(values, record.asked.mm, limit)
    if record.test == "zero":
        return judge_zero(values, limit)
    return _push(values, limit)


def _push(values: Sequence[float], limit_mm: float) -> FeelResult:
    if not values:
        ask = "Push the reader from the side by hand, both ways; log by how much the figure moves."
        return FeelResult(None, None, limit_mm, (), Sentence(ask))
    worst = max(values, key=abs)
    found = tuple(review_push(worst, limit_mm))
    words = (
        found[0].remedy
        if found
        else Sentence("A push from the side moves it by {mm} at most: stiff.", {"mm": Fine(abs(worst))})
    )
    return FeelResult("fail" if found else "pass", abs(worst), limit_mm, found, words)

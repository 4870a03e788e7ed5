"""Everything that a job says, statement by statement: what ``vernus say`` prints."""

from __future__ import annotations

from vernus.core.finding import Sentence, conclusion
from vernus.job.align.statements import align_statements
from vernus.job.connect.statements import cable_statements
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.feed.statements import feed_statements
from vernus.job.finished import open_of_axis, open_of_feed, open_of_job
from vernus.job.keep.buying import buy_statements
from vernus.job.keep.card import CardLine
from vernus.job.keep.statements import check_statements, step_statements
from vernus.job.machine.directions import directions_of
from vernus.job.make.mounts import Made, MadeState
from vernus.job.make.statements import part_statements
from vernus.job.plan.statements import plan_statements
from vernus.job.prove.statements import prove_statements
from vernus.job.review.review import card_lines, review_axis
from vernus.job.scope import axes_in_scope, has_feed, has_scale, in_scope, on_display
from vernus.job.statement import Statement


def statements(job: Job) -> list[Statement]:
    """All statements of a job: axis by axis, then what to buy, to check and to do, then what is finished."""
    lines = card_lines(job)
    found = [s for axis in job.axes() for s in of_axis(job, axis)]
    kept = [*buy_statements(job), *check_statements(job, lines), *step_statements(job, lines)]
    return [*found, *kept, *_finished(job, lines)]


def of_axis(job: Job, axis: Axis, *kinds: str) -> list[Statement]:
    """What is said of an axis, or of those kinds, told in its own words of direction."""
    found = job.derived_of_axis("said", axis.id, lambda: tuple(_of_axis(job, axis)))
    return [s for s in found if not kinds or s.kind in kinds]


def _of_axis(job: Job, axis: Axis) -> list[Statement]:
    rests = review_axis(job, axis).rests_on if in_scope(axis) else ()
    found = plan_statements(job, axis, rests)
    if in_scope(axis):
        parts = _made(card_lines(job))
        found += [*part_statements(job, axis, parts), *feed_statements(job, axis)]
        if has_scale(axis):
            found += [*align_statements(job, axis), *cable_statements(job, axis)]
        if on_display(axis):
            found += prove_statements(job, axis)
    words = directions_of(job, axis)
    return [s.told_in(words) for s in found]


def _made(lines: list[CardLine]) -> Made:
    """How far every part is, by its id: as its step on the card says."""
    found: dict[str, MadeState] = {}
    for line in lines:
        if line.step.key.startswith("make-"):
            state: MadeState = "to make" if line.reopened is None else "to make again"
            found[line.step.key.removeprefix("make-")] = "made" if line.done else state
    return found


def _finished(job: Job, lines: list[CardLine]) -> list[Statement]:
    """Whether each axis, its feed and the job are finished: nothing of it open, on any sheet or on the card."""
    found: list[Statement] = []
    for axis in axes_in_scope(job):
        found.append(_is("axis", axis.name, open_of_axis(job, axis, lines)))
        if has_feed(axis):
            found.append(_is("feed", axis.name, open_of_feed(job, axis, lines)))
    return [*found, _is("job", "", open_of_job(job, lines))]


def _is(of: str, axis: str, left: Sentence | None) -> Statement:
    """Whether something is finished, and what is left of it otherwise."""
    told: dict[str, object] = {
        "what": {"axis": "This axis", "feed": "The power feed", "job": "The job"}[of],
        "left": left,
    }
    words = Sentence("{what} is not finished: {left}.", told)
    if left is None:
        words = conclusion("{what} is finished.", told)
    return Statement("finished", axis, of, "card", words, {"of": axis if of == "axis" else of, "is": left is None})

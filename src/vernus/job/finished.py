"""Whether an axis is finished, and what is left of it: its sheets, its steps on the card, its stops, its checks."""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.finding import Sentence
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.feed.feed import feed_result
from vernus.job.keep.card import CardLine
from vernus.job.keep.due import tasks_of
from vernus.job.keep.steps_own import BY_HAND
from vernus.job.known.axis_figures import feed_of
from vernus.job.machine.fitted_stops import stops_fitted
from vernus.job.review.review import card_lines, review_axis, review_machine
from vernus.job.scope import axes_in_scope
from vernus.job.sheet_names import SHEET_WORDS

COMES_AGAIN = ("rub-", BY_HAND)
"""Steps that fall due on a day of their own, once everything else is done."""


def open_of_axis(job: Job, axis: Axis, lines: Sequence[CardLine]) -> Sentence | None:
    """What is still open of an axis, in a few words: a sheet, a caution, a stop or part, a step, a check that is due.

    None once nothing is: only then it is finished. The steps are the axis's own and all those that they need.
    """
    review = review_axis(job, axis)
    if review.next_sheet is not None:
        return Sentence("the {sheet} sheet", {"sheet": SHEET_WORDS[review.next_sheet]})
    if any(at.finding.severity != "info" for at in review.findings):
        return Sentence("a caution is open")
    by_key = {line.step.key: line for line in lines}
    own = [line.step for line in lines if line.step.axis == axis.name]
    wanted = [step.key for step in own if not step.key.startswith(COMES_AGAIN)]
    for key in wanted:  # grows as it goes
        wanted += [n for n in by_key[key].step.needs if n in by_key and n not in wanted]
    left = [line for line in lines if line.step.key in wanted and not line.done]
    if left:
        n = len(left)
        what = "1 step of the card is open" if n == 1 else f"{n} steps of the card are open"
        return Sentence(what + ", first: {first}", {"first": left[0].step.words.rstrip(".")})
    if not stops_fitted(job, axis):
        return Sentence("a stop of it stands elsewhere than is wanted, or isn't fitted")
    today = job.now().astimezone().date()
    due = [t for t in tasks_of(job, list(lines), job.now()) if t.axis == axis.name and t.overdue(today)]
    return Sentence("{what} is due", {"what": due[0].words.rstrip(".")}) if due else None


_OF_A_FEED = ("fit", "feedpart", "off", "trip", "mesh", "guard", "runon", "feed", "test")
"""The first words of the steps of a power feed."""


def open_of_feed(job: Job, axis: Axis, lines: Sequence[CardLine]) -> Sentence | None:
    """What is still open of the power feed of an axis, in a few words; None once nothing is."""
    feed = feed_of(job, axis)
    if feed is None or not feed_result(job, axis, feed).done:
        return Sentence("the sheets of the power feed")
    mine = [c for c in lines if c.step.axis == axis.name and c.step.key.split("-")[0] in _OF_A_FEED and not c.done]
    return Sentence("on the card: {first}", {"first": mine[0].step.words.rstrip(".")}) if mine else None


def open_of_job(job: Job, lines: Sequence[CardLine]) -> Sentence | None:
    """What is still open of the whole job, in a few words; None once nothing is."""
    for axis in axes_in_scope(job):
        left = open_of_axis(job, axis, lines)
        if left is not None:
            return Sentence("{axis}, {left}", {"axis": axis.name, "left": left})
    if any(at.finding.severity != "info" for at in review_machine(job)):
        return Sentence("a caution about the machine is open")
    first = next((c for c in lines if not c.done and not c.step.key.startswith(COMES_AGAIN)), None)
    return None if first is None else Sentence("on the card: {first}", {"first": first.step.words.rstrip(".")})


def next_step(job: Job, axis: Axis) -> Sentence:
    """What comes next of an axis: on its sheets, then on the card; finished only when nothing of it is open."""
    review = review_axis(job, axis)
    left = open_of_axis(job, axis, card_lines(job)) if review.next_step.concludes else None
    if left is None:
        return review.next_step
    return Sentence("Every sheet of this axis is filled in; {left}.", {"left": left})

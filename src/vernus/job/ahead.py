"""What the sheets of a job rest on, worked out before they are looked at."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from contextlib import suppress
from functools import partial

from vernus.job.document import Job
from vernus.job.plan.what_if import what_ifs
from vernus.job.review.review import card_lines, review_job
from vernus.job.said import statements
from vernus.job.scope import axes_in_scope


def _what_ifs(job: Job) -> None:
    for axis in axes_in_scope(job):
        what_ifs(job, axis)


_ASKED_BY: dict[str, tuple[Callable[[Job], object], ...]] = {
    "envelope": (_what_ifs,), "card": (card_lines,), "log": (card_lines,), "paper": (_what_ifs, card_lines, statements),
}  # fmt: skip
"""What a sheet asks for beside the review of the job."""


Ask = Callable[[Job], object]


def asked_by(sheet: str) -> tuple[Ask, ...]:
    """What a sheet asks of a job, the review that all of them ask for first."""
    return (review_job, *_ASKED_BY.get(sheet, ()))


def work_ahead(job: Job, asked: Iterable[Ask]) -> None:
    """Ask a job, so that the answers are there when a sheet asks; raises nothing."""
    for ask in asked:
        with suppress(Exception):  # the sheet meets the same, and tells it
            job.derived_now(ask, partial(ask, job))

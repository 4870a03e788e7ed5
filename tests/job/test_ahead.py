"""What is worked out ahead, of a job as it was, is never taken for an answer about the job as it is."""

import pytest

from tests.job.random_jobs import RandomJob
from tests.share import SOAK
from vernus.job.ahead import asked_by, work_ahead
from vernus.job.document import Job
from vernus.job.entities import LogEntry
from vernus.job.review.review import review_job
from vernus.job.said import statements


@pytest.mark.parametrize("seed", range(120 if SOAK else 12))
@pytest.mark.parametrize("sheet", ["paper", "envelope"])
def test_what_was_worked_out_before_an_edit_is_of_no_consequence(seed, sheet):
    made = RandomJob(seed)
    before = made.job.supposing()
    work_ahead(before, asked_by(sheet))
    for _ in range(seed % 4):
        made.edit()
    made.job.apply("happened", [LogEntry(id="n", event="crash" if seed % 2 else "")])
    made.job.take_over(before)
    fresh = Job(made.job.entities(), clock=made.job.now)
    assert review_job(made.job) == review_job(fresh)
    assert statements(made.job) == statements(fresh)


def test_what_was_worked_out_ahead_is_there(monkeypatch):
    job = RandomJob(3).job
    other = job.supposing()
    work_ahead(other, asked_by("paper"))
    job.take_over(other)
    monkeypatch.setattr("vernus.job.review.review._looked", lambda *_: pytest.fail("looked at again"))
    review_job(job)

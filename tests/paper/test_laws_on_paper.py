"""What is open stands on paper and nothing out of scope does: the laws over random jobs, in the report's blocks."""

import re

import pytest

from tests.job.random_jobs import RandomJob
from vernus.job.review.review import review_job
from vernus.job.scope import axes_in_scope, in_scope
from vernus.paper.ink import load_fonts
from vernus.paper.report import report_blocks


def lines_of(job, units="mm"):
    """Every paragraph and table row of the report."""
    found = []
    for block in report_blocks(job, axes_in_scope(job), units):
        found += [block.text] if hasattr(block, "text") else [" | ".join(getattr(block, "cells", ()))]
    return found


@pytest.mark.parametrize("seed", range(12))
def test_every_open_finding_is_a_printed_line_and_no_axis_out_of_scope_is_named(qapp, seed):
    load_fonts()
    job = RandomJob(seed).job
    lines = lines_of(job)
    printed = "\n".join(lines)
    if job.machine.members and axes_in_scope(job):
        for at in review_job(job):
            if at.finding.severity != "info":
                assert at.finding.what.text() in printed, (at.sheet, at.finding.code)
    for axis in (a for a in job.axes() if not in_scope(a)):
        named = [t for t in lines if re.search(rf"(?<![\w-]){axis.name}(?![\w-])", t)]
        assert not named, (axis.name, named[:2])

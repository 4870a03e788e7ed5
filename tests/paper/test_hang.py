"""Sheets to hang: every place to be reached with what covers it, and how to put back what was taken off."""

import pytest

from vernus.desktop.demo import demo_source
from vernus.job.document import Job
from vernus.job.formats.exchange import read_export
from vernus.job.machine.geometry import keep_reachable
from vernus.job.scope import axes_in_scope
from vernus.paper.page import Words
from vernus.paper.pages.keep.hang import back_blocks, oil_blocks


def told(blocks):
    return " | ".join(b.text if isinstance(b, Words) else " ".join(map(str, getattr(b, "cells", ()))) for b in blocks)


@pytest.mark.parametrize("kind", ["mill", "lathe"])
def test_every_place_to_be_reached_is_on_the_sheet(kind):
    job = Job(read_export(demo_source(kind)))
    text = told(oil_blocks(job, axes_in_scope(job), "mm"))
    for box in keep_reachable(job):
        assert box.name in text


def test_what_was_taken_off_is_there_with_the_way_back():
    job = Job(read_export(demo_source("mill")))
    text = told(back_blocks(job, axes_in_scope(job), "mm"))
    assert "handwheel, left" in text
    assert "shelf 3, red box" in text
    assert "two dowels first" in text
    bare = told(back_blocks(job, [], "mm"))
    assert "handwheel, left" not in bare

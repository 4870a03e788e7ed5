"""A slip kept on purpose, or a figure that is none: a finding or a refusal, never a job that can't be opened."""

import os
import random
from contextlib import suppress

import pytest

from vernus.desktop.demo import demo_source
from vernus.job.document import Job
from vernus.job.entities import Measure, SolidBox, Step, TravelSurvey
from vernus.job.errors import JobContentError
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import entities_from_json, job_json, read_export
from vernus.job.review.review import review_job
from vernus.paper.report import Report


def demo(change):
    return [change(e) for e in read_export(demo_source("mill"))]


@pytest.mark.parametrize("text", ["999999999", "39370000 in"])
def test_a_slip_in_a_measure_is_a_finding_and_the_job_opens_prints_and_is_imported_again(qapp, tmp_path, text):
    entry = LengthEntry.read(text)
    n = iter(range(100))
    entities = demo(lambda e: e.with_(value=entry) if isinstance(e, Measure) and next(n) == 3 else e)
    Job.create(tmp_path / "s.vernus", entities_from_json(job_json(entities))).close()
    job = Job.open(tmp_path / "s.vernus")
    found = [i.finding for i in review_job(job) if i.finding.code == "machine-wrong"]
    slipped = next(m for m in job.all(Measure) if m.value.mm == entry.mm)
    assert any(slipped.label in f.what.text() and f.severity == "stop" for f in found)
    assert Report(job).pages
    job.close()


def test_a_slip_in_a_travel_is_a_finding_too(qapp):
    far = LengthEntry.read("999999999")
    job = Job(demo(lambda e: e.with_(readings=(far,)) if isinstance(e, TravelSurvey) else e))
    assert any(i.finding.severity == "stop" for i in review_job(job))
    assert Report(job).pages


def slipped(demo, far):
    """Every job that is a demo with one figure far off, as (what, entities)."""
    base = read_export(demo_source(demo))
    for n, entity in enumerate(base):
        for name in type(entity).model_fields:
            value = getattr(entity, name)
            if isinstance(value, LengthEntry | float):
                wrong = LengthEntry(mm=far, text=str(far)) if isinstance(value, LengthEntry) else far
                with suppress(JobContentError):
                    yield f"{demo}: {entity.kind}.{name}", [*base[:n], entity.with_(**{name: wrong}), *base[n + 1 :]]


@pytest.mark.parametrize("seed", range(int(os.environ.get("VERNUS_HANDS", "48")) // 8))
def test_no_single_figure_makes_a_job_unreadable(qapp, seed):
    chance = random.Random(seed)
    every = list(slipped(chance.choice(("mill", "lathe")), chance.choice((-999999999.0, 999999999.0))))
    what, entities = chance.choice(every)
    job = Job(entities_from_json(job_json(entities)))
    try:
        review_job(job)
        assert Report(job).pages
    except Exception as error:
        raise AssertionError(what) from error


@pytest.mark.parametrize(
    ("field", "sum_", "words"),
    [
        ("left", "no_such_measure + 3", "no_such_measure"),
        ("left", "table.nowhere", "table.nowhere"),
        ("name", "table_length", "no length"),
        ("nowhere", "table_length", "no length"),
        ("left", "9" * 180 + "*table_length + 9", "more than any|no sum"),
        ("left", "table_length table_width", "no sum"),
    ],
)
def test_an_imported_sum_that_names_nothing_is_refused(field, sum_, words):
    n = iter(range(100))
    entities = demo(lambda e: e.with_(built=((field, sum_),)) if isinstance(e, SolidBox) and next(n) == 2 else e)
    with pytest.raises(JobContentError, match=words):
        entities_from_json(job_json(entities))
    job = Job(entities)
    review_job(job)  # and a job that holds it all the same is shown


@pytest.mark.parametrize("field", ["created", "changed", "begun"])
@pytest.mark.parametrize(
    "text", ["soon", "2027-13-01T00:00:00+00:00", "2027-01-01T00:00:00", "9999-12-31T23:59:59-12:00"]
)
def test_a_time_that_is_none_is_refused_at_import_and_harms_no_job(qapp, field, text):
    step = Step(
        id="s", key="order", done=False, created="2027-01-01T00:00:00+00:00", changed="2027-01-01T00:00:00+00:00"
    )
    entities = [*read_export(demo_source("mill")), step.model_copy(update={field: text})]
    with pytest.raises(JobContentError, match=f"in {field} is no time"):
        entities_from_json(job_json(entities))
    job = Job(entities)
    review_job(job)
    assert Report(job).pages
    assert getattr(job.get("s"), field) != text

"""A job that loads serves every sheet, the check and the report; what can't is refused with the reason."""

import itertools
import os
import random

import pytest

from tests.share import SOAK
from vernus.desktop.demo import demo_source
from vernus.desktop.sheet_list import SHEETS
from vernus.job.document import Job
from vernus.job.entities import ENTITY_TYPES, Axis, Machine, ScalePlan, TravelSurvey
from vernus.job.errors import JobContentError, JobFileError
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import entities_from_json, job_json, read_export
from vernus.job.review.review import review_job
from vernus.job.sheet_names import AXIS_SHEETS
from vernus.paper.report import Report

TEXTS = ("", "a.b", "x" * 200, "<b>&amp;</b>", "é\u200b\u202e", "..", "no such", "\n\t", "0")
FAR = (0.0, -1e9, 1e9, 1e-9, -0.0)


def mangled(entity, rng):
    """The entity with some of its values replaced by other ones that its declaration takes."""
    changes = {}
    for name, field in type(entity).model_fields.items():
        if name in ("id", "created", "changed", "machine_id") or rng.random() > 0.35:
            continue
        value = getattr(entity, name)
        if isinstance(value, LengthEntry):
            changes[name] = LengthEntry(mm=rng.choice(FAR))
        elif isinstance(value, str):
            changes[name] = rng.choice(TEXTS)
        elif isinstance(value, float):
            changes[name] = rng.choice(FAR)
        elif isinstance(value, tuple) and not isinstance(entity, Machine):
            changes[name] = value[: rng.randrange(len(value) + 1)]
        elif field.default is None:
            changes[name] = None
    for name, value in changes.items():
        try:
            entity = entity.with_(**{name: value})
        except JobContentError:
            continue
    return entity


def hostile(seed):
    """A demo job of which one kind of entity is mangled or missing."""
    rng = random.Random(seed)
    entities = read_export(demo_source(rng.choice(("mill", "lathe"))))
    kind = rng.choice(list(ENTITY_TYPES.values()))
    gone = rng.random() < 0.25
    return [mangled(e, rng) if type(e) is kind else e for e in entities if not (gone and type(e) is kind)]


def walk(window, path, entities):
    """Every sheet of every axis, the check and the report; False where the job was refused."""
    try:
        entities_from_json(job_json(entities))
    except JobContentError as error:
        assert str(error).count("\n") == 0
        return False
    Job.create(path, entities).close()
    window.session.open_job(path)
    job = window.session.job
    whole = [s.name for s in SHEETS if s.name not in AXIS_SHEETS]
    for axis in job.axes():
        window.session.show_axis(axis.id)
        for name in itertools.chain(AXIS_SHEETS, whole):
            window.show_sheet(name)
        whole = []
    review_job(job)
    assert Report(job).pages
    return True


@pytest.mark.parametrize("seed", range(int(os.environ.get("VERNUS_HANDS", "16")) // 16))
def test_what_loads_serves(window, tmp_path, seed):
    walk(window, tmp_path / "h.vernus", hostile(seed))


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda e: None if isinstance(e, Machine) else e, "0 machine entries"),
        (lambda e: None if isinstance(e, Axis) else e, "no axes"),
        (lambda e: e.with_(name="X") if isinstance(e, Axis) else e, "two axes named “X”"),
        (lambda e: e.with_(name=" ") if isinstance(e, Axis) and e.name == "Y" else e, "an axis without a name"),
    ],
)
def test_what_is_no_machine_is_refused_from_file_and_import(window, tmp_path, change, words):
    entities = [c for e in read_export(demo_source("mill")) if (c := change(e)) is not None]
    with pytest.raises(JobContentError, match=words):
        entities_from_json(job_json(entities))
    with pytest.raises(JobFileError, match=words):
        Job.create(tmp_path / "bad.vernus", entities).close()
        window.session.open_job(tmp_path / "bad.vernus")


@pytest.mark.parametrize("changed", [(TravelSurvey, "tool"), (ScalePlan, "family")] if SOAK else [])
def test_an_unknown_tool_or_family_is_no_reason_to_fail(window, tmp_path, changed):
    kind, name = changed
    entities = [e.with_(**{name: "unheard of"}) if isinstance(e, kind) else e for e in read_export(demo_source("mill"))]
    assert walk(window, tmp_path / "u.vernus", entities)

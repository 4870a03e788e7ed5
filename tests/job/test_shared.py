"""A scale family as a file: what was measured goes out and comes in again, and only what is one comes in."""

import json
from datetime import date

import jsonschema
import pytest

from vernus.core.errors import BadInputError
from vernus.job.catalog.families import families_of
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.schema import family_schema
from vernus.job.catalog.shared import SharedFamily, own_families, read_family, shared_family, write_family
from vernus.job.catalog.shipped import scale_families
from vernus.job.document import Job
from vernus.job.entities import FamilyEdit
from vernus.job.fields import LengthEntry

DAY = date(2026, 11, 30)


@pytest.fixture(params=["mm", "in"])
def job(request):
    reader = LengthEntry.read("83.5" if request.param == "mm" else "3 9/32", request.param)
    edit = FamilyEdit(id="f", family="glass-slim", sizes="212.5; 437.5 mm", reader=reader, price=12.5)
    return Job([*new_job_entities("Shared", "mini-mill", request.param), edit])


def test_what_was_measured_is_known_to_whoever_gets_the_file(job, tmp_path):
    write_family(shared_family(job, "glass-slim", "Quay shop", DAY), tmp_path / "a.json")
    shared = read_family(tmp_path / "a.json")
    jsonschema.validate(json.loads((tmp_path / "a.json").read_text()), family_schema())
    assert shared.said() == "Sealed glass, slim (Quay shop, 2026-11-30)"
    theirs = Job([*new_job_entities("Theirs", "lathe-small"), shared.entity("other")])
    mine, other = (next(f for f in families_of(j) if f.id == "glass-slim") for j in (job, theirs))
    assert mine == other
    assert "Quay shop, 2026-11-30" in theirs.all(FamilyEdit)[0].note


def test_a_figure_typed_in_the_job_stays_where_the_file_has_none(job, tmp_path):
    (edit,) = job.all(FamilyEdit)
    shared = SharedFamily(family="glass-slim", by="Quay shop", figures={"reader": {"mm": 77.0}})
    made = shared.into(edit)
    assert (made.id, made.reader.mm, made.sizes, made.price) == (edit.id, 77.0, edit.sizes, edit.price)
    assert "Quay shop" in made.note


def test_nothing_measured_is_nothing_to_share(job):
    with pytest.raises(BadInputError, match="Nothing of this family is measured"):
        shared_family(job, "beam", "", DAY)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"family": "unheard of"}, "knows no family"),
        ({"figures": {"reader": {"mm": -3.0}}}, "reader"),
        ({"figures": {"reader": {"mm": 1e12}}}, "less than or equal"),
        ({"figures": {"surprise": 1}}, "surprise"),
        ({"figures": {}}, "no figures"),
        ({"on": "2026-13-01"}, "no day"),
        ({"version": 9}, "version"),
        ({"more": 1}, "more"),
    ],
)
def test_what_is_no_family_is_refused_in_a_sentence(tmp_path, change, said):
    good = SharedFamily(family="glass-slim", label="x", figures={"reader": {"mm": 83.5}}).model_dump()
    (tmp_path / "bad.json").write_text(json.dumps({**good, **change}))
    with pytest.raises(BadInputError, match=said):
        read_family(tmp_path / "bad.json")
    assert own_families(tmp_path)[0] == []
    assert len(own_families(tmp_path)[1]) == 1


def test_of_two_files_of_a_family_the_later_one_is_known(tmp_path):
    for name, day, mm in (("a", "2026-01-01", 80.0), ("b", "2025-01-01", 90.0)):
        shared = SharedFamily(family="glass-slim", on=day, figures={"reader": {"mm": mm}})
        write_family(shared, tmp_path / f"{name}.json")
    (known,), wrong = own_families(tmp_path)
    assert (known.figures, wrong) == ({"reader": {"mm": 80.0}}, [])
    assert scale_families()

"""A new field raises the minor version: an older Vernus then says “newer”, and never “damaged”.

``make fields`` writes the list of the version that is written now.
"""

import json
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import ENTITY_TYPES
from vernus.job.errors import JobContentError, JobFileError
from vernus.job.file import JobFile
from vernus.job.formats.exchange import entities_from_json, job_json
from vernus.job.migration import MINOR, STORED, VERSION, stored_version, version_words
from vernus.job.rows import added, row_sum

FIELDS = Path(__file__).parents[1] / "data" / f"fields-{VERSION}.{MINOR}.json"


def fields():
    return {kind: sorted(model.model_fields) for kind, model in sorted(ENTITY_TYPES.items())}


def test_the_fields_are_those_of_the_version_written():
    """Where this fails a field was added or taken away: raise MINOR and write the list beside the old one."""
    assert json.loads(FIELDS.read_text()) == fields()


def with_field(path, name):
    """A whole file in which one entry has a field more, its sums put right, as a newer Vernus would write it."""
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("UPDATE entity SET body=json_set(body, '$.' || ?, 1) WHERE kind='axis'", (name,))
        whole = (0, 0)
        for row in db.execute("SELECT id, kind, body FROM entity").fetchall():
            now = row_sum(*row)
            whole = added(whole, 1, now)
            db.execute("UPDATE entity SET sum=? WHERE id=?", (now, row[0]))
        db.execute("UPDATE whole SET entries=?, sum=?", whole)


@pytest.fixture
def path(tmp_path):
    path = tmp_path / "mill.vernus"
    Job.create(path, new_job_entities("Mill", "bench-mill")).close()
    return path


def test_a_field_of_a_later_version_is_newer_and_not_damaged(path):
    with_field(path, "coolant_ph")
    before = path.read_bytes()
    with pytest.raises(JobFileError, match="written by a newer Vernus") as caught:
        Job.open(path)
    assert "damaged" not in str(caught.value)
    assert "coolant_ph" in str(caught.value)
    assert path.read_bytes() == before


@pytest.mark.parametrize("number", [STORED + 1, (VERSION + 1) * 100, 9])
def test_a_later_version_is_named(path, number):
    with closing(sqlite3.connect(path)) as db:
        db.execute(f"PRAGMA user_version={number}")
    with pytest.raises(JobFileError, match=rf"newer Vernus .*reads up to {version_words(STORED)}"):
        Job.open(path)
    text = job_json(new_job_entities("x", "bench-mill")).replace(f'"version":{STORED}', f'"version":{number}')
    with pytest.raises(JobContentError, match="newer Vernus"):
        entities_from_json(text)


def test_an_imported_field_nobody_knows_is_newer(path):
    text = job_json(new_job_entities("x", "bench-mill")).replace('"readout"', '"coolant_ph":1,"readout"', 1)
    with pytest.raises(JobContentError, match=r"newer Vernus.*coolant_ph"):
        entities_from_json(text)


def test_a_file_of_the_same_major_version_opens_without_a_copy_and_is_marked_as_of_today(path):
    with closing(sqlite3.connect(path)) as db:
        db.execute(f"PRAGMA user_version={VERSION}")
    JobFile.open(path).close()
    assert [p.name for p in path.parent.iterdir()] == [path.name]
    assert stored_version(int.from_bytes(path.read_bytes()[60:64], "big")) == STORED
    text = job_json(new_job_entities("x", "bench-mill")).replace(f'"version":{STORED}', f'"version":{VERSION}')
    assert entities_from_json(text)


if __name__ == "__main__":
    FIELDS.write_text(json.dumps(fields(), indent=0) + "\n")

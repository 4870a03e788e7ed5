import errno
import fcntl
import os
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing, suppress
from pathlib import Path

import pytest

from vernus.core.errors import VernusError
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import LogEntry
from vernus.job.errors import JobFileError, JobWriteError, ReadOnlyError
from vernus.job.file import JobFile, recover
from vernus.job.rows import APPLICATION_ID, added, row_sum

VERSION_1 = Path(__file__).parents[1] / "data" / "version-1"


def log(job, text):
    return job.apply("note", [LogEntry(id=text, text=text)])


def test_an_edit_is_on_the_disk_when_apply_returns(job, path):
    log(job, "first")
    rows = (
        sqlite3.connect(f"file:{path}?mode=ro", uri=True).execute("SELECT id FROM entity WHERE kind='log'").fetchall()
    )
    assert rows == [("first",)]


def test_what_was_written_reads_back_equal(job, path):
    log(job, "first")
    before = job.entities()
    job.close()
    again = Job.open(path)
    assert again.entities() == before
    assert [a.name for a in again.axes()] == ["X", "Y", "Z"]
    again.close()


def test_a_second_window_reads_only_and_says_why(job, path):
    second = Job.open(path)
    assert second.read_only_because == "it is open in another window"
    with pytest.raises(ReadOnlyError, match="another window"):
        log(second, "no")
    second.close()
    log(job, "the first window still writes")
    job.close()
    third = Job.open(path)
    assert third.read_only_because == ""
    third.close()


def test_another_process_holds_the_lock_too(job, path):
    code = "import sys; from pathlib import Path; from vernus.job.document import Job;"
    code += f"print(Job.open(Path({str(path)!r})).read_only_because)"
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    assert out.strip() == "it is open in another window"


def refused(path, part):
    before = path.read_bytes() if path.is_file() else None
    with pytest.raises(JobFileError, match=part) as caught:
        Job.open(path)
    assert isinstance(caught.value, VernusError)
    assert str(caught.value).count("\n") == 0
    assert (path.read_bytes() if path.is_file() else None) == before


def test_half_a_job_file(job, path, tmp_path):
    for n in range(200):
        log(job, f"entry {n}")
    whole = path.read_bytes()
    for share in (0.95, 0.5, 0.3):
        half = tmp_path / "half.vernus"
        half.write_bytes(whole[: int(len(whole) * share)])
        refused(half, "damaged")


def test_damage_in_the_middle(job, path, tmp_path):
    for n in range(200):
        log(job, f"entry {n}")
    data = bytearray(path.read_bytes())
    data[len(data) // 2 : len(data) // 2 + 3000] = os.urandom(3000)
    hurt = tmp_path / "hurt.vernus"
    hurt.write_bytes(data)
    refused(hurt, "damaged")


def test_names_that_are_no_text_any_more(job, path, tmp_path):
    whole, hurt = path.read_bytes(), tmp_path / "hurt.vernus"
    first = whole.index(b"CREATE TABLE")
    for at in range(first - 20, first + 40):
        hurt.write_bytes(whole[:at] + bytes([whole[at] ^ 0x80]) + whole[at + 1 :])
        refused(hurt, "damaged|tables that Vernus did not make")
        with suppress(JobFileError):
            recover(hurt)


def test_foreign_files(tmp_path):
    png = tmp_path / "png.vernus"
    png.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(500))
    refused(png, "not a Vernus job")
    empty = tmp_path / "empty.vernus"
    empty.touch()
    refused(empty, "empty")
    other = tmp_path / "other.vernus"
    db = sqlite3.connect(other)
    db.execute("CREATE TABLE entity (id)")
    db.close()
    refused(other, "not a Vernus job")
    refused(tmp_path / "none.vernus", "no such file")
    refused(tmp_path, "folder")


def test_hostile_databases(job, path):
    job.close()
    db = sqlite3.connect(path)
    db.execute("CREATE TRIGGER t AFTER INSERT ON entity BEGIN DELETE FROM entity; END")
    db.commit()
    db.close()
    refused(path, "tables that Vernus did not make")


@pytest.mark.parametrize(
    ("sql", "part"),
    [
        ("UPDATE entity SET body='{' WHERE kind='axis'", "damaged"),
        ("UPDATE entity SET kind='spaceship' WHERE kind='axis'", "unknown kind"),
        ("UPDATE entity SET body=json_set(body,'$.surprise',1) WHERE kind='machine'", "newer Vernus"),
        ("DELETE FROM entity WHERE kind='job'", "job entries"),
        ("UPDATE entity SET id='x' WHERE kind='machine'", "wrong id"),
        ("UPDATE entity SET body=x'00ff' WHERE kind='machine'", "not text"),
    ],
)
def test_bad_rows_load_nothing(job, path, sql, part):
    job.close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute(sql)
    refused(path, "altered|missing|not text|wrong id")
    with closing(sqlite3.connect(path)) as db, db:
        whole = (0, 0)
        for row_id, kind, body in db.execute("SELECT id, kind, body FROM entity").fetchall():
            if isinstance(body, str):
                now = row_sum(row_id, kind, body)
                whole = added(whole, 1, now)
                db.execute("UPDATE entity SET sum=? WHERE id=?", (now, row_id))
        db.execute("UPDATE whole SET entries=?, sum=?", whole)
    refused(path, part)


def test_a_newer_file_is_refused_untouched(job, path):
    job.close()
    db = sqlite3.connect(path)
    db.execute("PRAGMA user_version=7")
    db.close()
    refused(path, "newer Vernus")


def older(tmp_path):
    """A job file of version 1, as it was written then."""
    return Path(shutil.copy(VERSION_1 / "mill.vernus", tmp_path / "old.vernus"))


def test_an_older_file_is_migrated_after_a_backup(tmp_path):
    path = older(tmp_path)
    original = path.read_bytes()
    file = JobFile.open(path)
    assert any("fitted are: X a scale and a power feed" in words for words in file.notices)
    file.close()
    assert path.with_name("old.vernus.version-1.bak").read_bytes() == original
    again = JobFile.open(path)
    assert again.notices == (), "told once"
    again.close()


def test_a_migration_that_fails_changes_nothing(tmp_path):
    path = older(tmp_path)
    db = sqlite3.connect(path)
    db.execute("UPDATE entity SET body='{\"id\": 3}' WHERE id=(SELECT min(id) FROM entity)")
    db.commit()
    db.close()
    original = path.read_bytes()
    with pytest.raises(JobFileError, match="damaged"):
        JobFile.open(path)
    assert path.read_bytes() == original


def test_an_older_file_that_may_not_be_written_is_converted_in_memory(tmp_path):
    path = older(tmp_path)
    original, first = path.read_bytes(), JobFile.open(older(tmp_path))
    first.close()
    path.write_bytes(original)
    with path.open("rb") as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        file = JobFile.open(path)
        assert file.read_only_because == "it is open in another window"
        assert {e.readout for e in file.load().values() if e.kind == "axis"} == {"new"}
        file.close()
    assert path.read_bytes() == original


def test_rows_deleted_from_outside_are_counted_and_the_rest_is_recovered(job, path, tmp_path):
    for n in range(20):
        log(job, f"entry {n}")
    job.close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("DELETE FROM entity WHERE id IN ('entry 3', 'entry 4')")
        db.execute("UPDATE entity SET body=replace(body, 'entry 7', 'entry 8') WHERE id='entry 7'")
    refused(path, "altered")
    entities, (told,) = recover(path)
    assert {f"entry {n}" for n in range(20)} - {e.id for e in entities} == {"entry 3", "entry 4", "entry 7"}
    assert "3 of" in told
    assert "log" in told


def test_a_file_overwritten_in_place_by_another_job_is_not_written_into(job, path, tmp_path):
    other = Job.create(tmp_path / "other.vernus", new_job_entities("Other", "mini-mill"))
    other.close()
    log(job, "first")
    path.write_bytes((tmp_path / "other.vernus").read_bytes())
    with pytest.raises(JobWriteError, match="written over the file"):
        log(job, "second")
    assert path.read_bytes() == (tmp_path / "other.vernus").read_bytes()
    assert list(job.pending) == ["second"]


def test_a_file_that_was_only_touched_goes_on(job, path):
    log(job, "first")
    os.utime(path, (1, 1))
    log(job, "second")
    assert job.pending == {}


def test_a_drive_that_cannot_lock_opens_with_a_note(job, path, monkeypatch):
    job.close()

    def no_locks(file, how):
        raise OSError(errno.ENOLCK, "No locks available")

    monkeypatch.setattr(fcntl, "flock", no_locks)
    with closing(Job.open(path)) as again:
        assert again.read_only_because == ""
        assert "can't lock" in again.notices[0]
        log(again, "written")


@pytest.mark.parametrize("created", ["9999-12-31T23:59:59.999999+00:00", "long ago", "2999-01-01T00:00:00+00:00"])
def test_no_clock_keeps_an_edit_from_being_accepted(job, created):
    job.apply("note", [LogEntry(id="odd", text="odd", created=created)])
    again = Job(job.entities())
    stored = [again.apply("note", [LogEntry(id=f"n{n}", text="x")])[0] for n in range(3)]
    times = [again.get("odd").created, *(e.created for e in stored)]
    assert times == sorted(set(times))
    assert [e.id for e in again.all(LogEntry)][-3:] == ["n0", "n1", "n2"]


def test_a_copy_never_goes_onto_a_job_that_is_open(job, path, tmp_path):
    other = Job.create(tmp_path / "other.vernus", new_job_entities("Other", "mini-mill"))
    for target in (path, tmp_path / "other.vernus"):
        before = target.read_bytes()
        with pytest.raises(JobFileError, match="open in a window"):
            job.save_copy(target, replace=True)
        assert target.read_bytes() == before
    other.close()
    job.save_copy(tmp_path / "other.vernus", replace=True)
    with closing(Job.open(tmp_path / "other.vernus")) as copy:
        assert copy.info.title == "Mill"


def test_an_existing_file_is_never_overwritten(job, path):
    with pytest.raises(JobFileError, match="already there"):
        Job.create(path, new_job_entities("Other", "mini-mill"))


def test_a_full_disk_keeps_the_work_in_memory_until_retry(job, path):
    job._file._db.execute("PRAGMA max_page_count=1")
    with pytest.raises(JobWriteError, match="kept in memory"):
        job.apply("note", [LogEntry(id="long", text="x" * 19_000)])
    assert job.get("long") is not None
    assert list(job.pending) == ["long"]
    with pytest.raises(JobWriteError):
        job.apply("note", [LogEntry(id="second", text="y" * 19_000)])
    job._file._db.execute("PRAGMA max_page_count=1000000")
    job.retry()
    assert job.pending == {}
    job.close()
    again = Job.open(path)
    assert again.get("long") is not None
    assert again.get("second") is not None
    again.close()


def test_a_file_pulled_away_is_noticed(job, path, tmp_path):
    shutil.move(path, tmp_path / "elsewhere.vernus")
    with pytest.raises(JobWriteError, match="no such file"):
        log(job, "kept")
    shutil.copy(tmp_path / "elsewhere.vernus", path)
    with pytest.raises(JobWriteError, match="replaced"):
        job.retry()
    copy = tmp_path / "copy.vernus"
    job.save_copy(copy)
    saved = Job.open(copy)
    assert saved.get("kept") is not None
    saved.close()


def test_a_folder_that_cannot_be_written(tmp_path):
    with pytest.raises(JobFileError, match="Choose another folder"):
        Job.create(tmp_path / "none" / "x.vernus", new_job_entities("x", "mini-mill"))


def test_the_file_is_marked_as_ours(job, path):
    assert path.read_bytes()[68:72] == APPLICATION_ID.to_bytes(4, "big") == b"VERN"


def test_an_edit_is_flushed_with_its_folder(job):
    assert job._file._db.execute("PRAGMA synchronous").fetchone() == (3,)
    assert job._file._db.execute("PRAGMA journal_mode").fetchone() == ("delete",)


def test_a_hot_journal_where_nothing_may_be_written_is_said_as_that(job, path, tmp_path, monkeypatch):
    """A crash in the middle of an edit, then the file opened from a folder that is read-only."""
    folder = tmp_path / "stick"
    folder.mkdir()
    db = job._file._db
    db.execute("PRAGMA cache_size=1")
    db.execute("BEGIN IMMEDIATE")
    db.executemany("INSERT INTO entity VALUES (?,'log','x',0)", [(f"{n}" * 2000,) for n in range(40)])
    for name in ("mill.vernus", "mill.vernus-journal"):
        shutil.copy(tmp_path / name, folder / name)
    db.execute("ROLLBACK")
    monkeypatch.setattr(os, "access", lambda *_: False)
    with pytest.raises(JobFileError, match="left in the middle of an edit by a crash"):
        Job.open(folder / "mill.vernus")
    monkeypatch.undo()
    with closing(Job.open(folder / "mill.vernus")) as tidied:
        assert tidied.entities() == job.entities()


def test_a_new_job_is_never_put_beside_the_journal_of_another(tmp_path):
    (tmp_path / "new.vernus-journal").write_bytes(b"\xd9\xd5\x05\xf9 a journal")
    with pytest.raises(JobFileError, match="from a crash"):
        Job.create(tmp_path / "new.vernus", new_job_entities("New", "mini-mill"))
    assert not (tmp_path / "new.vernus").exists()


def test_a_file_overwritten_in_place_by_rubbish_keeps_the_edit_in_memory(job, path):
    log(job, "first")
    path.write_bytes(b"rubbish" * 2000)
    with pytest.raises(JobWriteError, match="kept in memory"):
        log(job, "second")
    assert list(job.pending) == ["second"]
    assert path.read_bytes() == b"rubbish" * 2000

"""Kills at a random moment, while edits are written and while an old file is made one of today.

A child is forked and killed; what it was told is safe must be in the file, and the file must open.
"""

import os
import random
import shutil
import signal
import time
from contextlib import closing, suppress
from pathlib import Path

from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.entities import LogEntry

OLD = sorted((Path(__file__).parent / "data").glob("version-*/*.vernus"))


def killed_after(seconds, act):
    """Fork a child that does ``act``, kill it after a while, and wait until it is gone."""
    child = os.fork()
    if child == 0:
        with suppress(BaseException):
            act()
        os._exit(0)
    time.sleep(seconds)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)


def swept(folder):
    for left in folder.iterdir():
        if left.is_file():
            left.unlink()


def in_migrations(count, folder):
    """An old file killed while it is opened for the first time: it opens, with what it holds when nothing is killed."""
    rng, whole, took, halfway = random.Random(count), {}, {}, 0
    for old in OLD:
        shutil.copy(old, folder / "whole.vernus")
        begun = time.perf_counter()
        with closing(Job.open(folder / "whole.vernus")) as job:
            took[old], whole[old] = time.perf_counter() - begun, job.entities()
        swept(folder)
    for n in range(count):
        old, path = OLD[n % len(OLD)], folder / "old.vernus"
        shutil.copy(old, path)
        killed_after(rng.uniform(0, 1.3 * took[old]), lambda path=path: Job.open(path).close())
        halfway += path.read_bytes() != old.read_bytes() or len(list(folder.iterdir())) > 1
        with closing(Job.open(path)) as job:
            assert job.read_only_because == ""
            assert job.entities() == whole[old]
        swept(folder)
    return f"{count} kills in migrations, {halfway} of them half-way, 0 lost, 0 refused"


def while_logging(count, folder):
    """A child logs notes and says which are safe; every one of those is in the file, whole and in order."""
    rng, path, safe_in_all = random.Random(count), folder / "log.vernus", 0
    for n in range(count):
        if n % 50 == 0:
            swept(folder)
            Job.create(path, new_job_entities("Killed", "bench-mill")).close()
            before = 0
        read, write = os.pipe()

        def log(write=write, n=n):
            job = Job.open(path)
            for k in range(10_000):
                job.apply("note", [LogEntry(id=f"{n}-{k}", text=f"note {k} " * 20)])
                os.write(write, b".")

        killed_after(rng.uniform(0.004, 0.03), log)
        os.close(write)
        with os.fdopen(read, "rb") as pipe:
            safe = len(pipe.read())
        safe_in_all += safe
        with closing(Job.open(path)) as job:
            assert job.read_only_because == ""
            notes = job.all(LogEntry)
            mine = [e.id for e in notes if e.id.startswith(f"{n}-")]
            assert mine[:safe] == [f"{n}-{k}" for k in range(safe)]
            assert len(mine) <= safe + 1
            assert len(notes) == before + len(mine)
            before = len(notes)
    return f"{count} kills with {safe_in_all} notes told safe, 0 lost"

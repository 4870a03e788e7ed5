"""One writer for every file: whole or not at all, and never onto what is no file."""

import errno
import os
import resource
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from vernus.job.disk import read_text, read_whole, write_text, write_whole
from vernus.job.errors import DiskError, JobFileError


def test_what_is_written_is_there_whole_with_the_permissions_it_had(tmp_path):
    path = tmp_path / "a.txt"
    write_text(path, "one µ")
    path.chmod(0o640)
    write_text(path, "two")
    assert (path.read_text(), path.stat().st_mode & 0o777) == ("two", 0o640)
    assert [p.name for p in path.parent.iterdir()] == ["a.txt"]
    assert read_text(path, 10) == "two"


def test_a_link_is_followed_and_stays_a_link(tmp_path):
    real, link = tmp_path / "real.txt", tmp_path / "link.txt"
    real.write_text("old")
    link.symlink_to(real)
    write_text(link, "new")
    assert (real.read_text(), link.is_symlink()) == ("new", True)


def test_where_there_is_no_nameless_file_a_passing_name_serves(tmp_path, monkeypatch):
    real = os.open

    def without(path, flags, *rest, **more):
        if flags & os.O_TMPFILE == os.O_TMPFILE:
            raise OSError(errno.EOPNOTSUPP, "Operation not supported")
        return real(path, flags, *rest, **more)

    monkeypatch.setattr(os, "open", without)
    write_text(tmp_path / "a.txt", "whole")
    assert [p.name for p in tmp_path.iterdir()] == ["a.txt"]


@pytest.mark.parametrize("target", ["/dev/full", "/dev/null", "pipe", "folder"])
def test_what_is_no_ordinary_file_is_left_alone(tmp_path, target):
    path = tmp_path / target
    if target == "pipe":
        os.mkfifo(path)
    elif target == "folder":
        path.mkdir()
    before = path.lstat().st_mode
    with pytest.raises(JobFileError, match="left alone"):
        write_whole(path, b"x")
    with pytest.raises(JobFileError, match="ordinary file"):
        read_whole(path, 100)
    assert path.lstat().st_mode == before


def test_a_file_that_is_there_is_kept_unless_it_may_be_replaced(tmp_path):
    path = tmp_path / "a.txt"
    write_whole(path, b"first", replace=False)
    with pytest.raises(JobFileError, match="already there"):
        write_whole(path, b"second", replace=False)
    assert path.read_bytes() == b"first"


def test_a_disk_that_is_full_leaves_the_old_file_whole_and_no_rest(tmp_path):
    path = tmp_path / "a.txt"
    path.write_bytes(b"old")
    handler = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    soft, hard = resource.getrlimit(resource.RLIMIT_FSIZE)
    try:
        resource.setrlimit(resource.RLIMIT_FSIZE, (1000, hard))
        with pytest.raises(DiskError, match="what was there is unchanged"):
            write_whole(path, bytes(5000))
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, (soft, hard))
        signal.signal(signal.SIGXFSZ, handler)
    assert path.read_bytes() == b"old"
    assert list(tmp_path.iterdir()) == [path]


@pytest.mark.parametrize("text", ["x" * 101, "\ud800"])
def test_too_much_or_no_text_is_refused_in_a_sentence(tmp_path, text):
    path = tmp_path / "a.txt"
    path.write_bytes(text.encode("utf-8", "surrogatepass"))
    with pytest.raises(JobFileError) as caught:
        read_text(path, 100)
    assert str(caught.value).endswith(".")


WRITER = """
import sys
from pathlib import Path
from vernus.job.disk import write_whole
n = 0
while True:
    n += 1
    write_whole(Path(sys.argv[1]), bytes([65 + n % 26]) * 300_000)
    print(n, flush=True)
"""


def test_a_kill_leaves_the_old_or_the_new_and_nothing_else(tmp_path):
    path = tmp_path / "a.bin"
    for n in range(6):
        child = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE)
        assert child.stdout.readline()
        time.sleep(0.004 * n)
        child.kill()
        child.wait()
        child.stdout.close()
        data = path.read_bytes()
        assert (len(data), len(set(data))) == (300_000, 1)
    write_whole(path, b"last")
    assert [p.name for p in Path(tmp_path).iterdir()] == ["a.bin"]

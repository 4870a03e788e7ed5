"""Files read and written whole: everything Vernus is given, and everything it leaves behind, passes here.

A file is written beside its place under no name, flushed, looked at again and only then put in place, so that a full
disk, a kill or a power cut leaves what was there before.
"""

from __future__ import annotations

import errno
import os
import stat
import zlib
from pathlib import Path

from vernus.job.errors import DiskError, JobFileError

_FULL = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG, errno.EIO)
_NO_NAMELESS = (errno.EOPNOTSUPP, errno.EISDIR, errno.ENOENT, errno.EINVAL)


def read_whole(path: Path, largest: int) -> bytes:
    """The bytes of an ordinary file of at most ``largest`` bytes; raises JobFileError for anything else."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        found = os.fstat(handle)
        if not stat.S_ISREG(found.st_mode):
            os.close(handle)
            raise JobFileError(f"{shown(path)} is {_kind(found.st_mode)}; an ordinary file is wanted.")
        with os.fdopen(handle, "rb") as file:
            data = file.read(largest + 1) if found.st_size <= largest else None
    except (OSError, ValueError) as error:
        if isinstance(error, JobFileError):
            raise
        raise JobFileError(f"Can't read {shown(path)}: {reason(error)}.") from None
    if data is None or len(data) > largest:
        raise JobFileError(f"{shown(path)} is larger than {largest / 1e6:.0f} MB; that is not what is wanted here.")
    return data


def read_text(path: Path, largest: int) -> str:
    """The text of a UTF-8 file, with or without BOM; raises JobFileError."""
    try:
        return read_whole(path, largest).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise JobFileError(f"{shown(path)} is not a text file in UTF-8.") from None


def write_text(path: Path, text: str) -> None:
    """As ``write_whole``, from text, in UTF-8."""
    write_whole(path, text.encode("utf-8", "backslashreplace"))


def write_whole(path: Path, data: bytes, *, replace: bool = True) -> None:
    """Put ``data`` in place of what is at ``path``, or leave that as it is.

    Raises JobFileError where no file can be put, and DiskError where the disk took only a part of it.
    """
    target, mode = _target(path, replace)
    made: Path | None = None
    handle = -1
    try:
        _sweep(target)
        passing = _passing_name(target, os.getpid())
        handle, made = _nameless(target.parent, passing)
        if mode is not None:
            os.fchmod(handle, mode)
        _fill(handle, data)
        if made is None:
            os.link(f"/proc/self/fd/{handle}", passing, src_dir_fd=handle, follow_symlinks=True)
            made = passing
        if replace:
            made.rename(target)
        else:
            os.link(made, target)
            made.unlink()
        made = None
        sync_folder(target.parent)
    except (OSError, ValueError) as error:
        full = isinstance(error, OSError) and error.errno in _FULL
        kind, rest = (DiskError, "what was there is unchanged") if full else (JobFileError, "choose another place")
        raise kind(f"Can't write {shown(path)}: {reason(error)}; {rest}.") from None
    finally:
        if handle >= 0:
            os.close(handle)
        if made is not None:
            made.unlink(missing_ok=True)


def make_folder(path: Path) -> None:
    """Make a folder and those above it; raises JobFileError."""
    try:
        path.mkdir(parents=True, exist_ok=True)
    except (OSError, ValueError) as error:
        raise JobFileError(f"Can't make the folder {shown(path)}: {reason(error)}.") from None


def sync_folder(folder: Path) -> None:
    """See that names made or dropped in a folder are on the disk."""
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def reason(error: Exception) -> str:
    """Why something failed, as the end of a sentence."""
    if isinstance(error, OSError) and error.strerror:
        return error.strerror[0].lower() + error.strerror[1:]
    return str(error)


def shown(path: Path) -> str:
    """A path as it can be printed anywhere, whatever bytes its name is made of."""
    return os.fsencode(path).decode("utf-8", "backslashreplace")


def is_there(path: Path) -> bool:
    """Whether an ordinary file can be seen there; never an error."""
    try:
        return path.is_file()
    except (OSError, ValueError):
        return False


def _target(path: Path, replace: bool) -> tuple[Path, int | None]:
    """Where the file goes (a link is followed), and the permissions to keep; raises JobFileError."""
    try:
        target = Path(os.path.realpath(path))
        found = target.stat()
    except FileNotFoundError:
        return target, None
    except (OSError, ValueError) as error:
        raise JobFileError(f"Can't write {shown(path)}: {reason(error)}; choose another place.") from None
    if not stat.S_ISREG(found.st_mode):
        raise JobFileError(f"{shown(path)} is {_kind(found.st_mode)}; choose the name of a file. It was left alone.")
    if not replace:
        raise JobFileError(f"{path.name} is already there; choose another name, or open it.")
    if not os.access(target, os.W_OK):
        raise JobFileError(f"Can't write {shown(path)}: it is write-protected; choose another name.")
    return target, stat.S_IMODE(found.st_mode)


def _kind(mode: int) -> str:
    if stat.S_ISDIR(mode):
        return "a folder"
    return "a pipe" if stat.S_ISFIFO(mode) else "a device or socket"


def _nameless(folder: Path, passing: Path) -> tuple[int, Path | None]:
    """A file without a name in ``folder``, so that a kill leaves nothing; by a passing name where there is no such."""
    flags = os.O_RDWR | os.O_CLOEXEC
    try:
        return os.open(folder, flags | os.O_TMPFILE, 0o666), None
    except OSError as error:
        if error.errno not in _NO_NAMELESS:
            raise
    return os.open(passing, flags | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o666), passing


def _fill(handle: int, data: bytes) -> None:
    """Write everything, flush it, and see that its length and its end are there."""
    rest = memoryview(data)
    while rest:
        rest = rest[os.write(handle, rest) :]
    os.fsync(handle)
    end = data[-64:]
    if os.fstat(handle).st_size != len(data) or os.pread(handle, len(end), len(data) - len(end)) != end:
        raise OSError(errno.EIO, "only a part of it arrived on the disk")


def _passing_name(target: Path, process: int) -> Path:
    return target.with_name(f".vernus-{zlib.crc32(os.fsencode(target.name)):08x}-{process}.new")


def _sweep(target: Path) -> None:
    """Drop what a process that is gone left of this file in the moment between its two names."""
    for left in target.parent.glob(_passing_name(target, 0).name.replace("-0.new", "-*.new")):
        process = left.stem.rpartition("-")[2]
        if process == str(os.getpid()) or not Path("/proc", process).exists():
            left.unlink(missing_ok=True)

"""What can go wrong with a job and its file."""

from vernus.core.errors import VernusError


class JobFileError(VernusError, OSError):
    """A job file that can't be opened: foreign, damaged, newer, or out of reach."""


class DiskError(JobFileError):
    """A file the disk would not take whole; what was there before is unchanged."""


class JobWriteError(VernusError, OSError):
    """An edit that could not be written; it is kept in memory and can be retried."""


class ReadOnlyError(VernusError, PermissionError):
    """An edit of a job that was opened read-only."""


class JobContentError(VernusError, ValueError):
    """Content that is not a job: an unknown kind, a missing field, a value of the wrong type."""


class NewerContentError(JobContentError):
    """What is in a job is whole, but of a kind or with a field that only a newer Vernus knows."""

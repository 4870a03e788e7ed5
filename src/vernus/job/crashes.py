"""A crash noted in the log: whatever was set, swept or proved before it is open again, and says why."""

from __future__ import annotations

from vernus.core.finding import Finding, Sentence, finding
from vernus.job.document import Job
from vernus.job.entities import Axis, LogEntry
from vernus.job.moments import local_day

BY_A_CRASH = "by-a-crash"
"""The code of the finding by which a crash opens a sheet again."""


def crash_since(job: Job, axis: Axis, moment: str) -> LogEntry | None:
    """The last crash of an axis, or of the whole machine, noted after a moment; None without one."""
    found = [e for e in job.all(LogEntry) if e.event == "crash" and e.axis_id in ("", axis.id) and e.created > moment]
    return found[-1] if found else None


def crash_findings(job: Job, axis: Axis, moment: str, what: str, do: str) -> list[Finding]:
    """A crash noted after something was done at ``moment``: ``what`` is open again, and ``do`` settles it."""
    crash = crash_since(job, axis, moment)
    if crash is None:
        return []
    return [
        finding(
            BY_A_CRASH,
            "caution",
            "{thing} was before the crash of {day}{text}.",
            do,
            thing=what,
            day=local_day(crash.created),
            text=f" ({crash.text[:80]})" if crash.text.strip() else "",
        )
    ]


def crash_words(crash: LogEntry) -> Sentence:
    """Why a step of the card is open again."""
    return Sentence("Open again: done before the crash of {day}.", {"day": local_day(crash.created)})

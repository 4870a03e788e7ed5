"""What happened to the machine since: a crash, a knock, a part taken off, cleaning, a move; and what each opens again.

Whatever was set, swept or proved before it is open again where that can have moved, and says why. Which event touches
what: common practice, no source.
"""

from __future__ import annotations

from typing import Literal

from vernus.core.finding import Finding, Sentence, finding
from vernus.core.prove.recheck import EVENT_WORDS, Event
from vernus.job.document import Job
from vernus.job.entities import Axis, Entity, Face, GapCheck, LogEntry, ReaderSetting, Step, Sweep
from vernus.job.moments import instant, local_day

Touched = Literal["screws", "align", "reader", "calibrate", "positioning"]
"""What an event can have moved: screws of body, bracket and reader; how they lie; the gap; what the display shows."""

SCREWS = "screws"
"""The step by which they are gone over, by the first word of its key."""
HAPPENED = "happened"
"""The code of the finding by which something that happened opens a sheet again."""


TOUCHES: dict[Event, tuple[Touched, ...]] = {
    "crash": ("screws", "align", "reader", "calibrate", "positioning"),
    "knock": ("screws", "align", "reader", "calibrate"),
    "off": ("screws", "align", "reader", "calibrate", "positioning"),
    "cleaned": ("reader", "calibrate"),
    "moved": ("calibrate", "positioning"),
}


def happened_since(job: Job, axis: Axis, moment: str, touched: Touched) -> LogEntry | None:
    """The last event of an axis, or of the whole machine, after a moment that touches something; None without one."""
    after = instant(moment)
    found = [
        e
        for e in job.all(LogEntry)
        if e.event and e.axis_id in ("", axis.id) and touched in TOUCHES[e.event]
        and instant(e.created) > after
    ]  # fmt: skip
    return found[-1] if found else None


def opened_findings(job: Job, axis: Axis, moment: str, touched: Touched, what: str, do: str) -> list[Finding]:
    """An event after something was done at ``moment``: ``what`` is open again, and ``do`` settles it."""
    event = happened_since(job, axis, moment, touched)
    if event is None:
        return []
    told = f": {event.text[:80]}" if event.text.strip() else ""
    return [
        finding(
            HAPPENED, "caution", "{thing} was before {event} ({day}{text}).", do,
            thing=what, event=EVENT_WORDS[event.event], day=local_day(event.created), text=told,
        )
    ]  # fmt: skip


def hung_findings(job: Job, axis: Axis, moment: str, hung_on: str, what: str, do: str) -> list[Finding]:
    """Something done at a moment while the scale hung on another face than now: open again."""
    now, was = job.get(job.face_of(axis.id)), job.get(hung_on)
    if not isinstance(now, Face) or not isinstance(was, Face) or now.id == was.id:
        return []
    return [
        finding(
            HAPPENED, "caution", "{thing} ({day}) was made while the scale hung on “{was}”; now it is “{now}”.", do,
            thing=what, day=local_day(moment), was=was.name, now=now.name,
        )
    ]  # fmt: skip


def elsewhere_findings(job: Job, axis: Axis, kinds: tuple[type[Entity], ...], what: str, do: str) -> list[Finding]:
    """What of an axis was done on another face than its scale goes on now: it stays in the job and doesn't count."""
    now = job.get(job.face_of(axis.id))
    left = [e for kind in kinds for e in job.all(kind) if getattr(e, "axis_id", "") == axis.id and not job.counts(e)]
    faces = dict.fromkeys(f.name for e in left if isinstance(f := job.get(getattr(e, "hung_on", "")), Face))
    if not left or not isinstance(now, Face):
        return []
    was = "”, “".join(faces) or "a face that is gone"
    return [
        finding(
            "done-elsewhere", "info", "{thing} on “{was}” doesn't count: the scale goes on “{now}” now.", do,
            thing=what, was=was, now=now.name,
        )
    ]  # fmt: skip


def opened_words(event: LogEntry) -> Sentence:
    """Why a step of the card is open again."""
    words = {"event": EVENT_WORDS[event.event], "day": local_day(event.created)}
    return Sentence("Open again: done before {event} ({day}).", words)


_FITTED = ("hold", "drill", "align", "reader", "cover", "calibrate", "prove")


def fitted_since(job: Job, axis: Axis) -> str | None:
    """Since when something hangs on an axis that could be knocked: the first tick, sweep or setting of it.

    "" for one that was there already; None while nothing hangs there.
    """
    if axis.readout == "there":
        return ""
    keys = {f"{kind}-{axis.name}" for kind in _FITTED}
    logged: tuple[type[Entity], ...] = (Sweep, ReaderSetting, GapCheck)
    moments = [s.changed for s in job.all(Step) if s.done and s.key in keys]
    moments += [e.created for kind in logged for e in job.of_axis(kind, axis.id)]
    return min(moments, key=instant, default=None)


def screws_touched(job: Job, axis: Axis) -> LogEntry | None:
    """The last event that can have loosened screws of what hangs on an axis, gone over since or not."""
    since = fitted_since(job, axis)
    return None if since is None else happened_since(job, axis, since, "screws")


def screws_findings(job: Job, axis: Axis) -> list[Finding]:
    """The screws of body, bracket and reader after such an event, until they were gone over."""
    since = fitted_since(job, axis)
    if since is None:
        return []
    ticked = [s.changed for s in job.all(Step) if s.key == f"{SCREWS}-{axis.name}" and s.done]
    do = "Go over each of them with its key, bracket and body too, and tick it on the job card."
    last = max([since, *ticked], key=instant)
    return opened_findings(job, axis, last, "screws", "Every screw of body, bracket and reader", do)

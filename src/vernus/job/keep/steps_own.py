"""The steps that the user adds to the card: after which other, at the end, pinned to a day, or again every so often."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from vernus.core.keep.schedule import JobStep
from vernus.job.document import Job
from vernus.job.entities import OwnStep
from vernus.job.machine.geometry import keep_reachable
from vernus.job.scope import axes_in_scope

BY_HAND, RUB = "by-hand-", "rub-"
_ONLY_DUE = (BY_HAND, RUB)


def own_key(own: OwnStep) -> str:
    """The key of a step that the user added."""
    return f"own-{own.id}"


def own_step(job: Job, key: str) -> OwnStep | None:
    """The step that the user added, by its key; None for any other."""
    return next((o for o in job.all(OwnStep) if own_key(o) == key), None) if key.startswith("own-") else None


def again_days(job: Job, key: str) -> int | None:
    """After how many days something done by hand, or a task of one's own, comes again; None for any other step."""
    own = own_step(job, key)
    if own is not None:
        return max(1, round(own.every_days)) if own.every_days else None
    box = next((b for b in keep_reachable(job) if f"{BY_HAND}{b.id}" == key), None) if key.startswith(BY_HAND) else None
    return None if box is None else round(box.every_days)


def falls_due(job: Job, key: str) -> bool:
    """Whether a step has a day of its own and fills no evening."""
    return key.startswith(_ONLY_DUE) or again_days(job, key) is not None


def with_own(job: Job, steps: Sequence[JobStep]) -> list[JobStep]:
    """The steps with those the user added, each right after the one it was put after and those put there before it.

    At the end is after everything that isn't only waited for; what comes again so often stands below all.
    """
    names, found = {a.id: a.name for a in axes_in_scope(job)}, list(steps)
    waiting = [o for o in job.all(OwnStep) if o.words and (not o.axis_id or o.axis_id in names)]
    behind: dict[str, str] = {}
    while True:
        keys = [s.key for s in found]
        own = next((o for o in waiting if o.after in keys and not o.every_days), None)
        if own is None:
            break
        waiting.remove(own)
        found.insert(keys.index(behind.get(own.after, own.after)) + 1, _step(own, names, (own.after,)))
        behind[own.after] = own_key(own)
    for own in waiting:
        ends = tuple(s.key for s in found if not falls_due(job, s.key))
        at = next((n for n, s in enumerate(found) if falls_due(job, s.key)), len(found))
        if own.every_days:
            found.append(_step(own, names, ()))
        else:
            found.insert(at, _step(own, names, ends))
    return found


def _step(own: OwnStep, names: Mapping[str, str], needs: tuple[str, ...]) -> JobStep:
    often = f"Every {round(own.every_days)} days: " if own.every_days else ""
    return JobStep(own_key(own), names.get(own.axis_id, ""), often + own.words, needs, own.tools)


def moved(job: Job, own: OwnStep, keys: Sequence[str], by: int) -> OwnStep | None:
    """The step put one place up (``by`` −1) or down (+1) among ``keys``, the card's; None where it can't go there."""
    others = [k for k in keys if k != own_key(own) and not falls_due(job, k)]
    above = [k for k in keys[: keys.index(own_key(own))] if k in others] if own_key(own) in keys else others
    place = len(above) - 1 + by
    if not 0 <= place < len(others):
        return None
    put = own.with_(after=others[place])
    assert isinstance(put, OwnStep)
    return put

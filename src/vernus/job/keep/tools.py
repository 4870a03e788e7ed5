"""Every tool the open steps of the card need, against what the user owns; what to borrow or to get."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from vernus.job.document import Job
from vernus.job.entities import MountPart
from vernus.job.keep.card import CardLine
from vernus.job.keep.own import Have, own_tools
from vernus.job.make.mounts import mount_result
from vernus.job.scope import axes_in_scope

_RARE = ("angle drill", "broach", "hoist", "puller", "lathe")
"""What few own and many can borrow; common practice, no source."""
_GENERAL = frozenset({"drill", "taps", "tap", "keys", "drivers"})
"""Words of steps that were not laid out yet; once a part says its drills and taps, those stand in their place."""


@dataclass(frozen=True)
class ToolNeed:
    """A tool, the steps that need it (in order), and whether it is owned or can be borrowed."""

    name: str
    steps: tuple[str, ...]
    have: Have

    @property
    def words(self) -> str:
        """What to do about it."""
        if self.have:
            return {"have": "have it", "borrow": "borrow it"}[self.have]
        return "borrow it?" if any(r in self.name.lower() for r in _RARE) else "get it"


def tools_needed(job: Job, lines: Sequence[CardLine]) -> list[ToolNeed]:
    """The tools of every step that isn't done, each once, in the order they are first needed."""
    kit = own_tools()
    needs: dict[str, list[str]] = {}
    spelled: dict[str, str] = {}
    for line in lines:
        if line.done:
            continue
        axis = f"{line.step.axis}: " if line.step.axis else ""
        for name in _named(job, line):
            spelled.setdefault(name.lower(), name)
            needs.setdefault(name.lower(), []).append(f"{axis}{line.step.words.rstrip('.')}")
    return [ToolNeed(spelled[k], tuple(steps), kit.get(k, "")) for k, steps in needs.items()]


def _named(job: Job, line: CardLine) -> Iterable[str]:
    names = [w.strip() for w in re.split(r"[,;]", line.step.tools) if w.strip()]
    laid_out = any(n.startswith(("drill ", "tap ")) for n in names)
    yield from (n for n in names if not (laid_out and n in _GENERAL))
    if line.step.key.startswith(f"drill-{line.step.axis}"):
        yield from _for_room(job, line.step.axis)


def _for_room(job: Job, axis_name: str) -> Iterable[str]:
    """What drills in the room there is in front of the faces of an axis."""
    ids = {a.id for a in axes_in_scope(job) if a.name == axis_name}
    for part in (p for axis_id in ids for p in job.of_axis(MountPart, axis_id)):
        if part.part_kind == "face":
            told = [f for f in mount_result(job, part).findings if f.code == "drill-room" and f.severity == "caution"]
            yield from ("angle drill with a short drill" for _ in told)

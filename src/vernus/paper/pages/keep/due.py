"""What falls due after the job: the next check of each display, looks for rub marks, what is done by hand."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.keep.due import tasks_of
from vernus.job.prove.recheck import due_of, due_words
from vernus.job.review.review import card_lines
from vernus.job.scope import on_display
from vernus.paper.page import BODY_PT, Block, Words, subheading


def due_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem, size: float = BODY_PT) -> Iterable[Block]:
    """The days of what comes again, of these axes and the whole machine."""
    now = job.now()
    names = {a.name for a in axes}
    said = [f"{a.name}: {due_words(due_of(job, a, now)).text(units)}" for a in axes if on_display(a)]
    for task in tasks_of(job, card_lines(job), now):
        if task.key and task.axis in ("", *names):
            word = "due since" if task.overdue(now.astimezone().date()) else "on"
            said.append(f"{task.axis}: {task.words.rstrip('.')}, {word} {task.day.isoformat()}.")
    if said:
        yield subheading("What falls due")
    for words in said:
        yield Words(words, size=size, indent=8, after=2)

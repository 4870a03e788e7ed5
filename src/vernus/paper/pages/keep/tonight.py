"""Tonight's sheet: one page for the evening, its steps to tick, with tools and what to mind, and what to bring."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.keep.evenings.hours import hours_words
from vernus.job.keep.evenings.plan import plan_card
from vernus.job.keep.evenings.tonight import TonightStep, tonight_of
from vernus.job.review.review import card_lines
from vernus.paper.page import Block, Words, subheading
from vernus.paper.pages.keep.card import Tick

_CAUTION = "Isolate and lock off before hands go near screws or gears; eye protection for drilling and compressed air."


def tonight_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """The next evening; of a whole job, since an evening is one whatever axis is worked on."""
    lines, now = card_lines(job), job.now().astimezone()
    found = tonight_of(job, lines, plan_card(job, lines, now.date()), now)
    yield Words(f"{job.info.title}: tonight", size=18, bold=True, after=4)
    if found is None:
        yield Words("Nothing is open.")
        return
    yield Words(f"{found.words(now.date())}: about {found.hours():.1f} h of work.", after=10)
    for step in found.steps:
        yield _tick(step, units)
    if found.tools:
        yield subheading("To have at hand")
        for names in found.bring():
            if names:
                yield Words(", ".join(names), size=9.5, indent=8, after=3)
    yield Words(_CAUTION, size=9, after=6)
    yield subheading("Noted on the way")
    for _ in range(6):
        yield Words("_" * 92, size=9, after=9)


def _tick(step: TonightStep, units: UnitSystem) -> Tick:
    line = step.line
    axis = f"{line.step.axis}: " if line.step.axis else ""
    later = "goes on another evening" if step.goes_on else ""
    below = "  ·  ".join(t for t in (line.step.tools, line.step.care, line.noted(units), later) if t)
    return Tick(str(step.number), axis + line.step.words, f"≈ {hours_words(step.hours)} h", below)

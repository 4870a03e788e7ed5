"""The parts designed on Mounts as lines of the list of things to make."""

from __future__ import annotations

from vernus.core.finding import Mm, Sentence
from vernus.job.document import Job
from vernus.job.entities import Axis, HolePattern
from vernus.job.make.parts import holes_of, parts_of, patterns_of
from vernus.job.plan.order import Item
from vernus.job.scope import gets_scale


def made_items(job: Job, axis: Axis) -> list[Item]:
    """A line per part of an axis; a face of the machine is drilled, not made."""
    items: list[Item] = []
    for part in parts_of(job, axis) if gets_scale(axis) or axis.drive == "new" else ():
        if part.part_kind == "face":
            continue
        holes = len(holes_of(job, part)) + sum(_count(p) for p in patterns_of(job, part))
        words = "{l} × {w} × {t}, {m}" + (f", {holes} hole" + ("s" if holes > 1 else "") if holes else "")
        values = {
            "l": Mm(part.length.mm), "w": Mm(part.width.mm), "t": Mm(part.thickness.mm),
            "m": part.material.replace("-", " "),
        }  # fmt: skip
        items.append(Item("make", axis.name, Sentence("{n}", {"n": part.name or "a part"}), Sentence(words, values)))
    return items


def _count(pattern: HolePattern) -> int:
    """How many holes a pattern has; a carried one is told by what it is carried from."""
    many = {"row": pattern.count, "rectangle": pattern.count * pattern.rows, "circle": pattern.count}
    return round(many.get(pattern.shape, 2))

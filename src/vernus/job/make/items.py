"""The parts designed on Mounts as lines of the list of things to make."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, Sentence
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart
from vernus.job.make.fits import foam_strip
from vernus.job.make.lean import jack_screw
from vernus.job.make.machine_holes import machine_holes
from vernus.job.make.mounts import mount_result, screw_groups
from vernus.job.make.parts import part_of, solved_size
from vernus.job.make.served import parts_of
from vernus.job.plan.order import Item
from vernus.job.scope import axes_in_scope, gets_scale


def tool_items(job: Job) -> list[Item]:
    """The drills and taps that the holes made in the machine want, each once."""
    found: list[Item] = []
    new = [h for a in axes_in_scope(job) if gets_scale(a) or a.drive == "new" for h in machine_holes(job, a)]
    for tap, drill in dict.fromkeys((h.tap, h.drill) for h in new):
        count = sum(h.count for h in new if (h.tap, h.drill) == (tap, drill))
        what = f"Drill {drill}" + (f" and tap {tap}" if tap else "")
        detail = f"{count} hole{'s' if count > 1 else ''} in the machine"
        found.append(Item("have", "", Sentence(what), Sentence(detail), None, f"drill-{drill}-{tap}"))
    return found


def made_items(job: Job, axis: Axis) -> list[Item]:
    """A line per part of an axis; a face of the machine is drilled, not made."""
    items: list[Item] = []
    for part in parts_of(job, axis) if gets_scale(axis) or axis.drive == "new" else ():
        if part.part_kind == "face":
            continue
        holes = _holes(job, part)
        words = "{l} × {w} × {t}, {m}" + (f", {holes} hole" + ("s" if holes > 1 else "") if holes else "")
        values: dict[str, object] = {
            **dict(zip("lwt", (Mm(mm) for mm in solved_size(job, part)), strict=True)),
            "m": part.material.replace("-", " "),
        }  # fmt: skip
        items += [*_screws(job, axis, part), *_jack_screws(job, axis, part), *_foam(job, axis, part)]
        items.append(Item("make", axis.name, Sentence("{n}", {"n": part.name or "a part"}), Sentence(words, values)))
    return items


def _screws(job: Job, axis: Axis, part: MountPart) -> list[Item]:
    """The screws of a part, each length once, with their washers and nuts."""
    items: list[Item] = []
    for group in screw_groups(mount_result(job, part).rows):
        screw = group[0].screw
        if screw is not None:
            what, size = (
                Sentence("Screws for {n}", {"n": part.name or "a part"}),
                replace(screw, nut=False, washers=0).in_words(),
            )
            detail = Sentence("{c} of {s}", {"c": len(group), "s": size})
            key = f"screws-{part.id}-{group[0].number}"
            items.append(Item("buy", axis.name, what, detail, None, key, size, len(group)))
            loose = (("Washers", screw.washers * len(group)), ("Nuts", len(group) if screw.nut else 0))
            for word, count in loose:
                if count:
                    what = Sentence(word + " for {n}", {"n": part.name or "a part"})
                    of = Sentence(screw.thread.name.split("x")[0])
                    detail = Sentence("{c} of {s}", {"c": count, "s": of})
                    items.append(Item("buy", axis.name, what, detail, None, f"{word.lower()}-{key}", of, count))
    return items


def _jack_screws(job: Job, axis: Axis, part: MountPart) -> list[Item]:
    """The jack screws of a part, each with the nut that locks it."""
    counts = Counter(r.hole.thread for r in mount_result(job, part).rows if r.hole.kind == "jack")
    items: list[Item] = []
    for thread, count in counts.items():
        screw = jack_screw(thread, solved_size(job, part)[2])
        if screw is None:
            continue
        size = screw.in_words()
        detail = Sentence("{c} of {s}, each with a lock nut", {"c": count, "s": size})
        what = Sentence("Jack screws for {n}", {"n": part.name})
        items.append(Item("buy", axis.name, what, detail, None, f"jacks-{part.id}-{thread}", size, count))
    return items


def _foam(job: Job, axis: Axis, part: MountPart) -> list[Item]:
    """The foam tape a part is held by."""
    made = mount_result(job, part).part if part.fixed == "foam" else None
    if made is None:
        return []
    long, wide = foam_strip(part, made)
    values = {"l": Mm(long), "w": Mm(wide), "t": Mm(part.tape_thick.mm)}
    size = Sentence("{l} × {w}, {t} thick", values)
    return [Item("buy", axis.name, Sentence("Foam tape for {n}", {"n": part.name}), size, None, f"foam-{part.id}",
                 size, 1)]  # fmt: skip


def _holes(job: Job, part: MountPart) -> int:
    """How many holes a part has, patterns and all; 0 while it can't be made."""
    try:
        return len(part_of(job, part).holes)
    except BadInputError:
        return 0

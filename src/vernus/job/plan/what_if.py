"""Variants of an axis's plan compared at once, each by what it takes of the travel at either end.

Every variant is the whole job with that one thing said otherwise, solved as the job itself is: what is lost "as
planned" is what the headline says.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, Sentence, plain
from vernus.core.machine.stroke import Pair
from vernus.core.units import UnitSystem, format_plain
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Axis, Entity, ScalePlan
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face, plan_of
from vernus.job.known.lengths import family_of, measuring_length, spare
from vernus.job.machine.directions import directions_of, end_words
from vernus.job.machine.geometry import axis_key, faces_of, geometry_findings
from vernus.job.machine.stroke import metal_of
from vernus.job.plan.scale import scale_result
from vernus.job.plan.travel_left import ends_lost, home_blocked

_SLIM = ("glass-slim", "glass-micro", "thin-housing")
_NUDGE_MM = 10.0
_HAIR_MM = 1e-6


@dataclass(frozen=True)
class WhatIf:
    """One variant of the plan, and what it takes at the low and the high end of each axis that loses any (mm).

    ``ends_mm`` is None where it can't work; ``meets`` then names who meets whom.
    """

    words: Sentence
    ends_mm: Mapping[str, Pair] | None
    names: Mapping[str, tuple[str, str]]
    """What the ends of each axis are called."""
    meets: tuple[tuple[str, str], ...] = ()

    @property
    def lost_mm(self) -> dict[str, float] | None:
        """What each axis loses in all."""
        return None if self.ends_mm is None else {k: sum(v) for k, v in self.ends_mm.items()}

    def in_words(self, units: UnitSystem) -> str:
        """What is lost at which end; where nothing can be kept, who meets whom."""
        if self.ends_mm is None:
            return "does not work" + (f": {self.meets[0][0]} meets {self.meets[0][1]}" if self.meets else "")
        return show_ends(self.ends_mm, self.names, units)


def show_ends(ends_mm: Mapping[str, Pair], names: Mapping[str, tuple[str, str]], units: UnitSystem) -> str:
    """What each axis loses at which end: “Y 4.5 mm back”."""
    told = [
        f"{axis} {format_plain(mm, units)} {end}"
        for axis, both in sorted(ends_mm.items())
        for mm, end in zip(both, names[axis], strict=True)
        if mm > _HAIR_MM
    ]
    return ", ".join(told) or "nothing"


def end_names(job: Job) -> dict[str, tuple[str, str]]:
    """What the ends of every axis are called, by the name of its motion."""
    return {axis_key(job, a): end_words(job, a) for a in job.axes()}


def show_lost(lost: Mapping[str, float] | None, units: UnitSystem) -> str:
    """What each axis loses in all, in words."""
    if lost is None:
        return "does not work"
    return ", ".join(f"{k} {format_plain(v, units)}" for k, v in sorted(lost.items())) or "nothing"


def what_ifs(job: Job, axis: Axis) -> list[WhatIf]:
    """As planned, moved as one likes, no cover, slimmer, a little either way, on the other faces."""
    return list(job.derived(("what ifs", axis.id), lambda: _what_ifs(job, axis)))


def _what_ifs(job: Job, axis: Axis) -> list[WhatIf]:
    plan, face = plan_of(job, axis), chosen_face(job, axis)
    if plan is None or face is None or geometry_findings(job):
        return []
    return [_tried(words, job if said is plan else job.supposing(said)) for words, said in _variants(job, axis, plan)]


def foretell(job: Job, axis: Axis, said: ScalePlan, units: UnitSystem) -> str:
    """What changes at each end of the travels if that is said of an axis's scale, before it is said.

    The spare at both ends at the stops, and the travel lost at each end, so and as it is.
    """
    then = job.supposing(said)
    lost_now, lost_then = (_tried(plain(""), j).in_words(units) for j in (job, then))
    spare_now, spare_then = (_spare_words(j, axis, units) for j in (job, then))
    words = f"Then {spare_then}; lost: {lost_then}." if spare_then else f"Then lost: {lost_then}."
    now = [w for w, t in ((spare_now, spare_then), (f"lost: {lost_now}", f"lost: {lost_then}")) if w and w != t]
    words += f" Now {'; '.join(now)}." if now else " As it is now."
    known = spare(job, axis)
    measured = known is not None and known.source == "measured"
    return words + (" The spare was measured: measure it again once the body is moved." if measured else "")


def _spare_words(job: Job, axis: Axis, units: UnitSystem) -> str:
    place = scale_result(job, axis).placement
    if place is None:
        return ""
    ends = [f"{format_plain(mm, units)} {end}" for mm, end in zip(place.spare_mm, end_words(job, axis), strict=True)]
    return f"spare {ends[0]}, {ends[1]}"


def _variants(job: Job, axis: Axis, plan: ScalePlan) -> list[tuple[Sentence, Entity]]:
    found: list[tuple[Sentence, Entity]] = [(plain("as planned"), plan)]
    if plan.beside is not None and plan.beside.mm:
        found.append(_moved(job, axis, plan, plan.beside.mm))
    family, measuring = family_of(job, axis), measuring_length(job, axis)
    if plan.cover == "yes":
        found.append((plain("without the cover"), plan.with_(cover="no")))
    for other in families_of(job) if measuring is not None else ():
        if other.id in _SLIM and (family is None or other.id != family.id):
            slim = plan.with_(family=other.id, measuring=LengthEntry(mm=measuring.value if measuring else 0.0))
            found.append((plain(f"with {other.label[0].lower()}{other.label[1:]}"), slim))
    found += [_moved(job, axis, plan, by) for by in (-_NUDGE_MM, _NUDGE_MM)]
    for there in faces_of(job, axis):
        if there.id != plan.face_id:
            found.append((plain(there.name), plan.with_(face_id=there.id, shift=LengthEntry(mm=0))))
    return found


def _moved(job: Job, axis: Axis, plan: ScalePlan, by_mm: float) -> tuple[Sentence, Entity]:
    """The body moved along its face; its reader stays where it is bolted."""
    way = directions_of(job, axis).way("left" if by_mm < 0 else "right")
    return Sentence("{by} " + way, {"by": Mm(abs(by_mm))}), plan.with_(shift=LengthEntry(mm=plan.shift.mm + by_mm))


def _tried(words: Sentence, job: Job) -> WhatIf:
    """What a job loses."""
    names = end_names(job)
    try:
        lost = ends_lost(job)
    except BadInputError:
        return WhatIf(words, None, names)
    return WhatIf(words, lost, names, () if lost is not None else home_blocked(metal_of(job).result))

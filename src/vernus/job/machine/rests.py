"""What lengths of the machine rest on that nobody measured, by the sums by which the machine is told."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from vernus.core.machine.envelope import COORDINATES, Box
from vernus.core.machine.measures import coefficients
from vernus.core.plan.plan_parts import FacePlace, clearing_off
from vernus.job.document import Job
from vernus.job.entities import Face, Machine, SolidBox
from vernus.job.known.axis_figures import figures_given, travel
from vernus.job.machine.measures import is_taken, measures_of
from vernus.job.scope import motion_name
from vernus.job.sums import figure_name, sums_of

Shares = dict[str, float]
"""Name of a given figure → how much of it there is in a length."""
FAR_SHARE, FAR_MM = 0.4, 15.0
"""How far a machine may be off what is usual on its kind, as a share and at least; common practice, no source."""
FAR_IDLE_MM = 1.0
"""Below this nothing so far off decides anything."""
_NOTHING = 1e-9
BOX_SIDES = (("left", "right"), ("front", "back"), ("bottom", "top"))
PART = "part: "
"""Begins the name of a size of a planned part, which is no figure of the machine."""


def far(job: Job, name: str) -> float:
    """How far (mm) a figure of the machine may be off."""
    return far_off(abs(figures_given(job).get(name, 0.0)))


def far_off(mm: float) -> float:
    """How far (mm) a figure of so much may be off on machines of a kind."""
    return max(FAR_MM, FAR_SHARE * mm)


def less(a: Shares, b: Shares) -> Shares:
    """The shares of a difference of two lengths."""
    both = {name: a.get(name, 0.0) - b.get(name, 0.0) for name in (*a, *(n for n in b if n not in a))}
    return {name: share for name, share in both.items() if abs(share) > _NOTHING}


def casting_rests(job: Job, face: Face, casting: Box, c: int) -> tuple[Shares, Shares]:
    """What there is in where a casting begins and ends along a coordinate, from the face's own left end."""
    sums = sums_in(job)
    entity = box_named(job, casting.name)
    if entity is None:
        return {}, {}
    left = coefficients(sums, figure_name(face, "xyz"[c]))
    low, high = (less(coefficients(sums, figure_name(entity, side)), left) for side in BOX_SIDES[c])
    return low, high


def sums_in(job: Job) -> Mapping[str, str]:
    """Figure name → sum, of everything in the job that follows from measures."""
    return job.derived("sums", lambda: sums_of(job.entities()), (SolidBox, Face, Machine))


def box_named(job: Job, name: str) -> SolidBox | None:
    """The first box of the machine of that name."""
    named = job.derived("named boxes", lambda: {e.name: e for e in reversed(job.all(SolidBox))}, (SolidBox,))
    return named.get(name)


def across_of(face: Face) -> int:
    """The coordinate across a face: neither along it nor out of it."""
    (u,) = {0, 1, 2} - {COORDINATES.index(face.along[1]), COORDINATES.index(face.out[1])}
    return u


def put_across(job: Job, face: Face, casting: Box) -> Iterator[tuple[str, Box]]:
    """The casting across a face as it may be if a figure is as far off as it can be, with that figure's name."""
    u = across_of(face)
    low, high = casting_rests(job, face, casting, u)
    for name in dict.fromkeys((*low, *high)):
        for by in (-far(job, name), far(job, name)):
            ends = casting.min_mm[u] + by * low.get(name, 0.0), casting.max_mm[u] + by * high.get(name, 0.0)
            yield name, with_span(casting, u, min(ends), max(ends))


def with_span(box: Box, c: int, low_mm: float, high_mm: float) -> Box:
    """A box that reaches from and to other places along a coordinate."""
    low, high = list(box.min_mm), list(box.max_mm)
    low[c], high[c] = low_mm, high_mm
    return replace(box, min_mm=(low[0], low[1], low[2]), max_mm=(high[0], high[1], high[2]))


def open_across(job: Job, face: Face, place: FacePlace, parts: Sequence[Box], casting: Box) -> bool:
    """Whether a figure nobody measured decides that a body or its reader meets a casting at all."""
    here = clearing_off(place, parts, [casting])
    return any(
        clearing_off(place, parts, [there]) != here and unmeasured_of(job, {name: 1.0})
        for name, there in put_across(job, face, casting)
    )


def unmeasured_of(job: Job, shares: Shares) -> tuple[str, ...]:
    """The names of what nobody measured among what has a share."""
    return tuple(dict.fromkeys(_names(job, [n for n, share in shares.items() if abs(share) > _NOTHING])))


def _sides(job: Job) -> dict[str, tuple[SolidBox, str]]:
    """Every side of every box by its figure's name."""
    return {figure_name(b, side): (b, side) for b in job.all(SolidBox) for pair in BOX_SIDES for side in pair}


def _names(job: Job, given: Iterable[str]) -> Iterable[str]:
    measures = {m.key: m for m in measures_of(job)}
    travels = {f"{a.name}.travel": a for a in job.axes()}
    sides = job.derived("sides", lambda: _sides(job), (SolidBox,))
    for name in given:
        if name.startswith(PART):
            yield name.removeprefix(PART)
        elif name in measures:
            if not is_taken(measures[name]):
                yield measures[name].label
        elif name in travels:
            known = travel(job, travels[name])
            if known is None or not known.is_given:
                yield f"travel of {motion_name(travels[name])}"
        elif name in sides:
            box, side = sides[name]
            if not getattr(box, side).text:
                yield f"size of the {box.name}"

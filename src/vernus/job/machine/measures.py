"""The measures of a job's machine: which are taken, where each lies on the machine, and what rests on them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from vernus.core.machine.envelope import Envelope, Triple
from vernus.core.machine.measures import rests_on
from vernus.job.document import Job
from vernus.job.entities import Axis, Measure, SolidBox
from vernus.job.known.axis_figures import surveys_of
from vernus.job.machine.geometry import boxes_of, machine_told
from vernus.job.scope import in_scope
from vernus.job.sums import SIDES, figure_name, sums_of

_COORDINATE = {"left": 0, "right": 0, "front": 1, "back": 1, "bottom": 2, "top": 2, "x": 0, "y": 1, "z": 2}


@dataclass(frozen=True)
class Span:
    """Where a measure lies (mm, machine coordinates with the axes where they stand), from one figure to the other."""

    start: Triple
    end: Triple


def measures_of(job: Job) -> list[Measure]:
    """The measures of the machine, in the order in which they are taken from the front to the back of the list."""
    return job.all(Measure)


def only_moved(job: Job) -> list[Axis]:
    """The axes that nothing is fitted to, of which nobody surveyed the travel: it is typed beside the measures."""
    return [a for a in job.axes() if not in_scope(a) and a.direction and not surveys_of(job, a)]


def is_taken(measure: Measure) -> bool:
    """Whether somebody measured it."""
    return bool(measure.value.text)


def taken(job: Job) -> tuple[int, int]:
    """How many measures somebody took, and how many there are."""
    found = measures_of(job)
    return sum(map(is_taken, found)), len(found)


def unmeasured_under(job: Job, box: SolidBox, coordinate: int | None = None) -> list[str]:
    """What nobody measured under a box: the labels of measures its sides follow from, or its own size.

    With a coordinate (0, 1, 2) only under its two sides across that.
    """
    if box.side:  # given by its gap to a neighbour and its size
        told = all(e is not None and e.text for e in (box.gap, box.wide, box.deep, box.high))
        return [] if told else [f"size of the {box.name}"]
    sums, following = sums_of(job.entities()), {field for field, _ in box.built}
    sides = [s for s in SIDES if coordinate is None or _COORDINATE[s] == coordinate]
    by_key = {m.key: m for m in measures_of(job)}
    found: list[str] = []
    for side in sides:
        if getattr(box, side).text:
            continue
        if side not in following:
            found.append(f"size of the {box.name}")
            continue
        keys = rests_on(sums, figure_name(box, side))
        found += [m.label for k, m in by_key.items() if k in keys and not is_taken(m)]
    return list(dict.fromkeys(found))


def span_of(job: Job, measure: Measure, envelope: Envelope, at: Mapping[str, float]) -> Span | None:
    """Where a measure lies on the machine with its axes at ``at``; None for one between figures that aren't there."""
    ends = [_figure(job, name, envelope, at) for name in (measure.low, measure.high)]
    if None in ends:
        return None
    (c, low, near), (_, high, other) = ends[0], ends[1]  # type: ignore[misc]
    start, end = list(near), list(near)
    beside = other if c == 2 else near
    start[0], end[0] = beside[0], beside[0]
    start[c], end[c] = low, high
    return Span((start[0], start[1], start[2]), (end[0], end[1], end[2]))


def _figure(job: Job, name: str, envelope: Envelope, at: Mapping[str, float]) -> tuple[int, float, Triple] | None:
    """A figure's coordinate, its place, and the corner of its box, front, right and on top, that it is drawn at."""
    key, _, side = name.partition(".")
    if side not in _COORDINATE:
        return None
    c = _COORDINATE[side]
    if key == "tool":
        machine = machine_told(job)
        entries = (machine.tool_x, machine.tool_y, machine.tool_z)
        point = [0.0 if e is None else e.mm for e in entries]
        carrier = next((m for m in ("head", "carriage") if any(x.id == m for x in envelope.members)), None)
        moved = envelope.offset(carrier, at) if carrier is not None else (0.0, 0.0, 0.0)
        place = (point[0] + moved[0], point[1] + moved[1], point[2] + moved[2])
        return c, place[c], place
    box = next((b for b in boxes_of(job) if b.key == key), None)
    if box is None:
        return None
    moved = envelope.offset(box.member, at)
    corner = (box.right.mm + moved[0], box.front.mm + moved[1], box.top.mm + moved[2])
    return c, getattr(box, side).mm + moved[c], corner


def pose_of(measure: Measure, envelope: Envelope, keys: Mapping[str, str]) -> dict[str, float]:
    """Where the axes stand when the measure is taken: at home, the posed one at its end; ``keys`` by axis name."""
    at = dict(envelope.home)
    axis = keys.get(measure.pose[:-1], "") if measure.pose else ""
    for known in envelope.axes:
        if known.id == axis:
            at[axis] = known.to_mm if measure.pose.endswith("+") else known.from_mm
    return at

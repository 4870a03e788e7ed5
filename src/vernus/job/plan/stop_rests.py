"""What a stop and its bumper rest on that nobody measured: found from the sums by which the machine is told.

Where metal meets is a difference of two figures of the machine, so that what both rest on alike drops out: a table's
width decides nothing between its back and a column that was measured from there.
"""

from __future__ import annotations

from collections.abc import Iterable

from vernus.core.machine.envelope import Box, Envelope
from vernus.core.machine.measures import coefficients
from vernus.core.machine.stroke import End, Need
from vernus.job.document import Job
from vernus.job.entities import Axis, SolidBox
from vernus.job.known import chosen_face, travel
from vernus.job.machine.geometry import axis_key
from vernus.job.machine.measures import is_taken, measures_of
from vernus.job.machine.stroke import metal_of, stroke_of
from vernus.job.scope import motion_name
from vernus.job.sums import figure_name, sums_of

Shares = dict[str, float]
"""Name of a given figure → how much of it there is in a length."""
_NOTHING = 1e-9
_SIDES = (("left", "right"), ("front", "back"), ("bottom", "top"))


def stop_rests(job: Job, axis: Axis, need: Need) -> tuple[str, ...]:
    """What nobody measured of what decides a stop, by name; none for one that isn't of metal."""
    pair = stroke_of(job, axis).blocks.get(need.end) if need.why == "metal" else None
    if pair is None:
        return ()
    return _unmeasured(job, _less(_to_mark(axis, need.end), _apart(job, axis, need.end, pair.a, pair.b)))


def bumper_rests(job: Job, axis: Axis, end: End, mine: Box, other: Box) -> tuple[str, ...]:
    """What nobody measured of what decides the length of the bumper at an end, between two boxes of the machine."""
    pair = stroke_of(job, axis).blocks.get(end)
    between = _apart(job, axis, end, mine, other)
    return _unmeasured(job, between if pair is None else _less(between, _apart(job, axis, end, pair.a, pair.b)))


def _to_mark(axis: Axis, end: End) -> Shares:
    """What there is in the distance from where the boxes are drawn to the mark of an end."""
    share = 0.5 if axis.home == "mid" else 0.0 if axis.home == end else 1.0
    return {f"{axis.name}.travel": share}


def _apart(job: Job, axis: Axis, end: End, a: Box, b: Box) -> Shares:
    """What there is in the distance that an axis may go toward an end until two boxes meet."""
    envelope, key = metal_of(job).envelope, axis_key(job, axis)
    carrier = next(m.id for m in envelope.members if m.axis == key)
    mine, other = (a, b) if _carried(envelope, a.member, carrier) else (b, a)
    sign, c = (1 if axis.direction[0] == "+" else -1), "xyz".index(axis.direction[1])
    toward = sign * (1 if end == "high" else -1) > 0
    return _less(_figure(job, other, c, high=not toward), _figure(job, mine, c, high=toward))


def _carried(envelope: Envelope, member: str | None, carrier: str) -> bool:
    on = {m.id: m.on for m in envelope.members}
    while member is not None and member != carrier:
        member = on.get(member)
    return member == carrier


def _figure(job: Job, box: Box, c: int, *, high: bool) -> Shares:
    """What there is in a side of a box; of a planned part in the face it lies on."""
    sums = job.derived("sums", lambda: sums_of(job.entities()))
    if box.group:
        axis = next((a for a in job.axes() if box.group == f"{a.name} scale"), None)
        face = None if axis is None else chosen_face(job, axis)
        return {} if face is None else coefficients(sums, figure_name(face, "xyz"[c]))
    entity = next((e for e in job.all(SolidBox) if e.name == box.name), None)
    return {} if entity is None else coefficients(sums, figure_name(entity, _SIDES[c][high]))


def _less(a: Shares, b: Shares) -> Shares:
    return {name: a.get(name, 0.0) - b.get(name, 0.0) for name in (*a, *(n for n in b if n not in a))}


def _unmeasured(job: Job, shares: Shares) -> tuple[str, ...]:
    """The names of what nobody measured among what has a share."""
    return tuple(dict.fromkeys(_names(job, [n for n, share in shares.items() if abs(share) > _NOTHING])))


def _names(job: Job, given: Iterable[str]) -> Iterable[str]:
    measures = {m.key: m for m in measures_of(job)}
    travels = {f"{a.name}.travel": a for a in job.axes()}
    sides = {figure_name(b, side): (b, side) for b in job.all(SolidBox) for pair in _SIDES for side in pair}
    for name in given:
        if name in measures:
            if not is_taken(measures[name]):
                yield measures[name].label
        elif name in travels:
            known = travel(job, travels[name])
            if known is None or not known.sure:
                yield f"travel of {motion_name(travels[name])}"
        elif name in sides:
            box, side = sides[name]
            if not getattr(box, side).text:
                yield f"size of the {box.name}"

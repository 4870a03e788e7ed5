"""The holes a part of a kind usually has, placed so that Vernus's own rules are kept, or refused."""

from __future__ import annotations

from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import counterbore, thread_named
from vernus.core.make.hole_rows import EDGE_DIAMETERS, LIGAMENT_DIAMETERS
from vernus.core.make.parts import Part, PartHole

_SLOT_ADJUST_MM = 3.0
_SCREWS_APART_MM = 150.0
_PROUD_MM = 1.0
_T_NUT_DIAMETERS = 1.4  # a thread of 0.75 of the neck leaves that much of the bar; common practice, no source


def usual_holes(part: Part, thread: str) -> tuple[PartHole, ...]:
    """Clearance to the machine, tapped or slotted for what it carries; raises BadInputError where they don't fit."""
    major = thread_named(thread).major_mm
    edge = EDGE_DIAMETERS * major
    long, wide = part.length_mm, part.width_mm
    if part.kind in ("spacer", "stud"):
        _fits(part, (2 * edge, 2 * edge))
        return (PartHole(long / 2, wide / 2, "clearance", thread),)
    if part.kind == "ring":
        _fits(part, (4 * edge, 4 * edge))
        return (PartHole(long / 2, wide / 2, "bore", thread, bore_mm=min(long, wide) - 4 * edge + 1.0),)
    if part.kind == "t-nut":
        _fits(part, (2 * edge, _T_NUT_DIAMETERS * major))
        return _row(part, wide / 2, "tapped", thread, 2 if long >= 2 * edge + _apart(major) else 1)
    if part.kind in ("cover", "deflector"):
        _fits(part, (2 * edge + _apart(major), 2 * edge))
        count = 1 + max(1, round((long - 2 * edge) / _SCREWS_APART_MM))
        return _row(part, edge, "clearance", thread, count)
    if part.kind == "standoff":
        return _standoff(part, thread)
    if part.kind in ("angle", "bridge"):
        return _bracket(part, thread)
    _fits(part, (2 * edge + _apart(major), 2 * edge + _apart(major)))
    inset_y = max(edge, min(wide / 4, (wide - _apart(major)) / 2))
    xs = _ends(part, thread, _apart(major))
    return tuple(PartHole(x, y, "tapped", thread) for y in (inset_y, wide - inset_y) for x in xs)


def _apart(major_mm: float) -> float:
    """Between the middles of two holes of one thread."""
    return (1 + LIGAMENT_DIAMETERS) * major_mm


def _ends(part: Part, thread: str, apart_mm: float, more_mm: float = 0.0) -> tuple[float, float]:
    """The outer places along a part: a usual inset where that leaves ``apart_mm`` between them, else at its edges."""
    edge = EDGE_DIAMETERS * thread_named(thread).major_mm + more_mm
    inset = max(edge, min(12.0 + more_mm, part.length_mm / 4))
    inset = inset if part.length_mm - 2 * inset >= apart_mm else edge
    return inset, part.length_mm - inset


def _row(part: Part, y: float, kind: Literal["clearance", "tapped"], thread: str, count: int) -> tuple[PartHole, ...]:
    first, last = _ends(part, thread, _apart(thread_named(thread).major_mm) * (count - 1))
    xs = [part.length_mm / 2] if count == 1 else [first + n * (last - first) / (count - 1) for n in range(count)]
    return tuple(PartHole(x, y, kind, thread) for x in xs)


def _standoff(part: Part, thread: str) -> tuple[PartHole, ...]:
    """Two tapped at the ends for what it carries, one sunk in the middle to the machine, or that alone."""
    major, head = thread_named(thread).major_mm, counterbore(thread_named(thread))[0]
    edge = EDGE_DIAMETERS * major
    _fits(part, (2 * max(edge, head / 2 + _PROUD_MM), 2 * max(edge, head / 2 + _PROUD_MM)))
    middle = PartHole(part.length_mm / 2, part.width_mm / 2, "counterbored", thread)
    between = max(_apart(major), (head + major) / 2 + _PROUD_MM)
    if part.length_mm < 2 * edge + 2 * between:
        return (middle,)
    ends = _ends(part, thread, 2 * between)
    return (*(PartHole(x, part.width_mm / 2, "tapped", thread) for x in ends), middle)


def _bracket(part: Part, thread: str) -> tuple[PartHole, ...]:
    """Clearance holes to the machine on one row, slots to the reader on the other leg or the other row."""
    major = thread_named(thread).major_mm
    edge, apart = EDGE_DIAMETERS * major, _apart(major)
    long = 2 * (edge + _SLOT_ADJUST_MM) + apart + 2 * _SLOT_ADJUST_MM
    clear = _ends(part, thread, apart)
    slots = _ends(part, thread, apart + 2 * _SLOT_ADJUST_MM, _SLOT_ADJUST_MM)
    if part.has_leg:
        bend = part.thickness_mm + edge  # clear of the bend's inside
        _fits(part, (long, bend + edge))
        if part.leg_mm < bend + edge - 1e-9:
            raise BadInputError(f"The other leg of {part.name} is too short for its usual holes: {bend + edge:.3g} mm.")
        y, up = (max(bend, min(size / 2 + bend / 2, size - edge)) for size in (part.width_mm, part.leg_mm))
        return (
            *(PartHole(x, y, "clearance", thread) for x in clear),
            *(PartHole(x, up, "slot", thread, _SLOT_ADJUST_MM, face="leg") for x in slots),
        )
    _fits(part, (long, 2 * edge + apart))
    inset = max(edge, min(part.width_mm / 4, (part.width_mm - apart) / 2))
    return (
        *(PartHole(x, inset, "clearance", thread) for x in clear),
        *(PartHole(x, part.width_mm - inset, "slot", thread, _SLOT_ADJUST_MM) for x in slots),
    )


def _fits(part: Part, least_mm: tuple[float, float]) -> None:
    """Raises BadInputError where a part is too small for its usual holes with their edges."""
    if part.length_mm < least_mm[0] - 1e-9 or part.width_mm < least_mm[1] - 1e-9:
        raise BadInputError(
            f"{part.name} is too small for its usual holes, which want {least_mm[0]:.3g} × {least_mm[1]:.3g} mm with "
            "their edges: use a smaller screw or a larger part."
        )

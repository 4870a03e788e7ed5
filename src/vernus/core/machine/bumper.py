"""Bumpers: turned pillars that let metal meet metal first, and where they stand so that they always land.

A pillar stands on the moving box and faces the still one. Over all the travels of the other axes it must face it, and
it must stand clear of every planned part that is proud there: below the reader, in line with what it meets.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from vernus.core.errors import BadInputError
from vernus.core.finding import Bracketed, Finding, Mm, Sentence, finding
from vernus.core.machine.envelope import COORDINATES, Box, Envelope, Range

ROOM_MM = 10.0  # a pillar thinner than that is none; common practice, no source


@dataclass(frozen=True)
class Bumper:
    """A pillar that lets metal meet metal first: its length, and where along the other coordinates it always lands.

    ``lands_mm`` maps x, y or z to the interval on the moving box (coordinates at 0) in which the pillar faces the
    still box over all of the ranges and stands clear of the parts in ``avoided``; None where no place does.
    """

    length_mm: float
    stop_mm: float
    axis: str
    lands_mm: dict[str, Range | None]
    avoided: tuple[str, ...] = ()
    end: str = ""

    @property
    def lands(self) -> bool:
        """Whether there is a place that always lands."""
        return all(span is not None for span in self.lands_mm.values())


def plan_bumper(
    envelope: Envelope,
    moving: Box,
    still: Box,
    axis_id: str,
    ranges: Mapping[str, Range],
    high: bool,
    clear_of: Iterable[Box] = (),
) -> Bumper:
    """The bumper between two boxes that stops ``axis_id`` at the end of its range (``high``: the upper one).

    ``clear_of`` are parts beside which it has to stand. Raises BadInputError when the axis does not bring the two boxes
    together, or when the gap is already closed there.
    """
    axis = next(a for a in envelope.axes if a.id == axis_id)
    c = axis.coordinate
    moves = envelope.moves(moving.member, still.member)
    mine = [(a, s) for a, s in moves.by_coordinate[c] if a == axis_id]
    if not mine or len(moves.by_coordinate[c]) > 1:
        raise BadInputError(f"{moving.name} and {still.name} do not come together along {axis_id} alone.")
    stop = ranges[axis_id][1 if high else 0]
    d = mine[0][1] * stop
    toward = mine[0][1] * (1 if high else -1)
    gap = still.min_mm[c] - (moving.max_mm[c] + d) if toward > 0 else moving.min_mm[c] + d - still.max_mm[c]
    if gap <= 0:
        raise BadInputError(f"{moving.name} and {still.name} leave no room for a bumper at {axis_id} {stop:g} mm.")
    lands: dict[str, Range | None] = {}
    for other in (n for n in range(3) if n != c):
        low_d, high_d = moves.span(other, ranges)
        low = max(moving.min_mm[other], still.min_mm[other] - low_d)
        top = min(moving.max_mm[other], still.max_mm[other] - high_d)
        lands[COORDINATES[other]] = (low, top) if low < top else None
    found = Bumper(gap, stop, axis_id, lands, (), "high" if high else "low")
    return _beside(found, envelope, moving, ranges, (c, toward), list(clear_of)) if found.lands else found


def _beside(
    bumper: Bumper,
    envelope: Envelope,
    moving: Box,
    ranges: Mapping[str, Range],
    way: tuple[int, int],
    parts: list[Box],
) -> Bumper:
    """The place beside the parts that are proud on that side: below them if there is room, else above or to a side."""
    c, toward = way
    lands = dict(bumper.lands_mm)
    avoided: list[str] = []
    for part in sorted(parts, key=lambda b: -b.max_mm[2]):
        moves = envelope.moves(part.member, moving.member)
        proud = part.max_mm[c] > moving.max_mm[c] if toward > 0 else part.min_mm[c] < moving.min_mm[c]
        if not proud or any(moves.by_coordinate[c]):
            continue
        swept = {n: _swept(part, n, moves.span(n, ranges)) for n in range(3) if n != c}
        spans = {n: lands[COORDINATES[n]] for n in swept}
        if not all(s is not None and s[0] < swept[n][1] and swept[n][0] < s[1] for n, s in spans.items()):
            continue
        avoided.append(part.name)
        room = _most_room(spans, swept)
        if room is None:
            lands = dict.fromkeys(lands)
            break
        n, span = room
        lands[COORDINATES[n]] = span
    return replace(bumper, lands_mm=lands, avoided=tuple(avoided))


def _swept(part: Box, n: int, moved: Range) -> Range:
    return part.min_mm[n] + moved[0], part.max_mm[n] + moved[1]


def _most_room(spans: Mapping[int, Range | None], swept: Mapping[int, Range]) -> tuple[int, Range] | None:
    """Below the part where a pillar has room there, otherwise the widest strip beside it; None without any."""
    strips: list[tuple[int, Range]] = []
    for n, span in spans.items():
        assert span is not None
        strips += [(n, (span[0], swept[n][0])), (n, (swept[n][1], span[1]))]
    wide = [(n, s) for n, s in strips if s[1] - s[0] >= ROOM_MM]
    below = [(n, s) for n, s in wide if n == 2 and s[1] <= swept[2][0]]
    return below[0] if below else max(wide, key=lambda w: w[1][1] - w[1][0], default=None)


def bumper_finding(
    bumper: Bumper, moving: Box, still: Box, others: str = "", unmeasured: Sequence[str] = ()
) -> Finding:
    """The bumper in words; ``others`` names the motions over which it lands, such as “height of the knee”.

    ``unmeasured`` is what its length rests on and nobody measured: then it is told in brackets, and not to be made.
    """
    stop, length = Mm(bumper.stop_mm, sign=True), Mm(bumper.length_mm)
    if bumper.lands and unmeasured:
        return finding(
            "bumper",
            "caution",
            "{axis} must stop at {stop}: a bumper {length} long between the {moving} and the {still} would make metal "
            "meet metal first, but its length rests on what nobody measured.",
            "Measure first: {unmeasured}. Turn no pillar before that.",
            axis=bumper.axis,
            stop=stop,
            length=Bracketed(bumper.length_mm),
            moving=moving.name,
            still=still.name,
            end=bumper.end,
            unmeasured=", ".join(unmeasured),
        )
    if bumper.lands:
        return finding(
            "bumper",
            "info",
            "{axis} must stop at {stop}: a bumper {length} long between the {moving} and the {still} makes metal meet "
            "metal first.",
            "Turn a pillar of that length and screw it to the {moving} in line with the {still}: {where}.{always} It "
            "must be proud of everything on that side.",
            axis=bumper.axis,
            stop=stop,
            length=length,
            moving=moving.name,
            still=still.name,
            end=bumper.end,
            where=_where(bumper, moving),
            always=f" It lands at every {others}." if others else "",
        )
    return finding(
        "bumper-misses",
        "caution",
        "{axis} must stop at {stop}, but no place on the {moving} faces the {still} over the whole travel of the other "
        "axes" + (", clear of the planned parts." if bumper.avoided else "."),
        "Use a stop on the guideway of {axis} itself instead of a bumper.",
        axis=bumper.axis,
        stop=stop,
        moving=moving.name,
        still=still.name,
    )


def _where(bumper: Bumper, moving: Box) -> Sentence:
    """Its place on the moving box, from the edges one can measure from."""
    words: list[str] = []
    values: dict[str, object] = {}
    spans = {"xyz".index(k): v for k, v in bumper.lands_mm.items() if v is not None}
    names = {0: ("from its left edge", 0), 1: ("from its front edge", 0), 2: ("below its top", 1)}
    for n, (low, high) in sorted(spans.items()):
        edge, from_top = names[n]
        near, far = (moving.max_mm[2] - high, moving.max_mm[2] - low) if from_top else (
            low - moving.min_mm[n], high - moving.min_mm[n]
        )  # fmt: skip
        words.append(f"{{near{n}}} to {{far{n}}} {edge}")
        values |= {f"near{n}": Mm(float(math.ceil(near - 1e-9))), f"far{n}": Mm(float(math.floor(far + 1e-9)))}
    below = ", clear of the " + " and ".join(bumper.avoided) if bumper.avoided else ""
    return Sentence(" and ".join(words) + below.replace("{", "(").replace("}", ")"), values)

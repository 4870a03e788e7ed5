"""How long a cable must be, which position to hold while tying it, and what it can snag on.

A cable runs from anchor to anchor: the reader's stub, clips on members, the display. The distance of two points that
move along straight axes is convex in the axis positions, so it is longest at a corner of the ranges. A clip holds the
cable, so every stretch needs its own longest, at its own corner. Need = Σ longest·(1 + slack share) + a half turn π·r
for each stretch whose ends move against each other + the drip loop. Slack share and half turn: common practice, no
source. All lengths in mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.envelope import Box, Envelope, Moves, Range, Triple
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding

Ends = Literal["moulded", "screw"]
_PLACES = 5
_GRAZE_MM = 0.5
_AT_ANCHOR_MM = 2.0


@dataclass(frozen=True)
class Anchor:
    """A point the cable is held at: on which member, and where with every axis at 0."""

    name: str
    member: str
    point_mm: Triple


@dataclass(frozen=True)
class Stretch:
    """The cable between two anchors: greatest and least straight distance, and where the axes stand at the greatest.

    ``high`` says for each of these axes whether that is the high end of its range.
    """

    a: Anchor
    b: Anchor
    longest_mm: float
    shortest_mm: float
    hold: Mapping[str, float]
    high: Mapping[str, bool]

    def hold_words(self) -> str:
        """Where to hold the axes while tying it: always at an end of their ranges."""
        ends = (f"{axis} at its {'high' if high else 'low'} end" for axis, high in self.high.items())
        return ", ".join(ends) or "anywhere"

    @property
    def moves(self) -> bool:
        """Whether its ends move against each other."""
        return bool(self.hold)


@dataclass(frozen=True)
class Snag:
    """A box that a straight stretch runs through, and an axis position where it does."""

    stretch: Stretch
    box: Box
    at: Mapping[str, float]


@dataclass(frozen=True)
class CableNeed:
    """What a cable needs against what is supplied (None: not known yet); ``over_mm`` is negative when it is short."""

    stretches: tuple[Stretch, ...]
    straight_mm: float
    need_mm: float
    over_mm: float | None
    snags: tuple[Snag, ...]
    findings: tuple[Finding, ...]
    instruction: Sentence


def stretch_between(envelope: Envelope, a: Anchor, b: Anchor, ranges: Mapping[str, Range]) -> Stretch:
    """The stretch from ``a`` to ``b``; raises BadInputError for an anchor on a member that isn't there."""
    known = {m.id for m in envelope.members}
    for anchor in (a, b):
        if anchor.member not in known:
            raise BadInputError(f"{anchor.name} is on “{anchor.member}”, which is not a member of the machine.")
    moves = envelope.moves(a.member, b.member)
    axes = sorted({axis for part in moves.by_coordinate for axis, _ in part})
    start = np.subtract(a.point_mm, b.point_mm)

    def apart(at: Mapping[str, float]) -> float:
        return math.dist((0.0, 0.0, 0.0), [start[c] + moves.displacement(c, at) for c in range(3)])

    corners = [dict(zip(axes, ends, strict=True)) for ends in itertools.product(*(ranges[axis] for axis in axes))]
    hold = max(corners, key=apart)
    spans = [moves.span(c, ranges) for c in range(3)]
    nearest = [max(0.0, start[c] + spans[c][0], -(start[c] + spans[c][1])) for c in range(3)]
    high = {axis: mm == ranges[axis][1] for axis, mm in hold.items()}
    return Stretch(a, b, apart(hold), math.dist((0.0, 0.0, 0.0), nearest), hold, high)


def plan_cable(
    envelope: Envelope,
    anchors: Sequence[Anchor],
    *,
    supplied_mm: float | None = None,
    slack_share: float = 0.1,
    bend_mm: float = 30.0,
    drip_mm: float = 100.0,
    ends: Ends = "moulded",
    ranges: Mapping[str, Range] | None = None,
) -> CableNeed:
    """The need of a cable along its anchors, in order; ``ranges`` are the axes' positions (None: whole travels).

    Raises BadInputError for fewer than two anchors or a negative allowance.
    """
    if len(anchors) < 2:
        raise BadInputError("A cable runs from one anchor to another; add the reader and the display.")
    if min(slack_share, bend_mm, drip_mm) < 0:
        raise BadInputError("Slack, bend radius and drip loop can't be negative.")
    within = envelope.full if ranges is None else ranges
    stretches = [stretch_between(envelope, a, b, within) for a, b in itertools.pairwise(anchors)]
    straight = math.fsum(s.longest_mm for s in stretches)
    need = straight * (1 + slack_share) + math.pi * bend_mm * sum(s.moves for s in stretches) + drip_mm
    snags = [snag for s in stretches for snag in find_snags(envelope, s, within)]
    over = None if supplied_mm is None else supplied_mm - need
    found = [_snag_finding(s) for s in snags]
    if over is not None and over < 0:
        found.insert(0, _short(need, supplied_mm or 0.0))
    return CableNeed(
        tuple(stretches), straight, need, over, tuple(snags), tuple(found), _instruct(need, over, ends, snags)
    )


def _short(need_mm: float, supplied_mm: float) -> Finding:
    return finding(
        "cable-short",
        "stop",
        "The cable is {supplied} long and {need} are needed at the farthest corner: {short} are missing.",
        "Extend it with a made-up lead of the same pins and screen, hang the display nearer, or move a clip; never let "
        "the axis pull it tight.",
        supplied=Mm(supplied_mm),
        need=Mm(need_mm),
        short=Mm(need_mm - supplied_mm),
    )


def _snag_finding(snag: Snag) -> Finding:
    at = ", ".join(f"{{{axis}_axis}} at {{{axis}_at}}" for axis in snag.at)
    values: dict[str, object] = {f"{axis}_at": Mm(mm, sign=True) for axis, mm in snag.at.items()}
    values |= {f"{axis}_axis": axis for axis in snag.at}
    return finding(
        "cable-snags",
        "caution",
        "Stretched straight, the cable from {a} to {b} runs through {box}" + (f" with {at}." if at else "."),
        "Put a clip on the way that leads it round, or choose another place for one of the two.",
        a=snag.stretch.a.name,
        b=snag.stretch.b.name,
        box=snag.box.name,
        **values,
    )


def _instruct(need_mm: float, over_mm: float | None, ends: Ends, snags: Sequence[Snag]) -> Sentence:
    if over_mm is None:
        return Sentence("A cable of {need} is needed. Measure the one supplied, plug to reader.", {"need": Mm(need_mm)})
    if over_mm < 0:
        return Sentence("Too short by {short}. Extend it or hang the display nearer.", {"short": Mm(-over_mm)})
    if snags:
        return Sentence("Long enough. Lead it round what it would snag on first; see the findings.")
    if ends == "screw" and over_mm > need_mm / 4:
        return Sentence(
            "Long enough by {over}. Its ends are screw terminals, so it may be cut; leave the slack and label every "
            "wire first.",
            {"over": Mm(over_mm)},
        )
    return Sentence(
        "Long enough by {over}. Tie each stretch with the axes held where it is longest; coil what is left, wide, "
        "where nothing moves. Its plug is moulded on: don't cut it."
        if ends == "moulded"
        else "Long enough by {over}. Tie each stretch with the axes held where it is longest; coil what is left.",
        {"over": Mm(over_mm)},
    )


def find_snags(envelope: Envelope, stretch: Stretch, ranges: Mapping[str, Range]) -> list[Snag]:
    """Boxes that the straight stretch runs through, looked for at five places of every axis; one position each.

    Boxes that an anchor sits on are left out: the cable begins there.
    """
    found = []
    for box in envelope.boxes:
        if any(e.member == box.member and _on(e.point_mm, box) for e in (stretch.a, stretch.b)):
            continue
        at = _snags_at(envelope, stretch, box, ranges)
        if at is not None:
            found.append(Snag(stretch, box, at))
    return found


def _snags_at(envelope: Envelope, stretch: Stretch, box: Box, ranges: Mapping[str, Range]) -> dict[str, float] | None:
    """A place of the axes where the stretch runs through the box, seen from the box; None where it never does."""
    moves = [envelope.moves(end.member, box.member) for end in (stretch.a, stretch.b)]
    axes = sorted({axis for m in moves for part in m.by_coordinate for axis, _ in part})
    spans = [[m.span(c, ranges) for c in range(3)] for m in moves]
    for c in range(3):
        reach = [
            (end.point_mm[c] + low, end.point_mm[c] + high)
            for end, (low, high) in zip((stretch.a, stretch.b), (s[c] for s in spans), strict=True)
        ]
        if min(r[0] for r in reach) >= box.max_mm[c] or max(r[1] for r in reach) <= box.min_mm[c]:
            return None
    grid = np.array(list(itertools.product(*(np.linspace(*ranges[a], _PLACES) for a in axes))))
    places = {a: grid[:, n] for n, a in enumerate(axes)}
    ends = [_placed(m, end.point_mm, places, len(grid)) for m, end in zip(moves, (stretch.a, stretch.b), strict=True)]
    hit = np.flatnonzero(_through(ends[0], ends[1], np.array(box.min_mm), np.array(box.max_mm)) > _GRAZE_MM)
    return {a: float(grid[hit[0], n]) for n, a in enumerate(axes)} if len(hit) else None


def _placed(moves: Moves, point: Triple, places: Mapping[str, NDArray[np.float64]], count: int) -> NDArray[np.float64]:
    """A point at every place of the axes, one row each, seen from the member it moves against."""
    placed = np.tile(np.asarray(point, dtype=float), (count, 1))
    for c in range(3):
        for axis, sign in moves.by_coordinate[c]:
            placed[:, c] += sign * places[axis]
    return placed


def _on(point: Triple, box: Box) -> bool:
    return all(
        low - _AT_ANCHOR_MM <= p <= high + _AT_ANCHOR_MM
        for p, low, high in zip(point, box.min_mm, box.max_mm, strict=True)
    )


def _through(
    a: NDArray[np.float64], b: NDArray[np.float64], low: NDArray[np.float64], high: NDArray[np.float64]
) -> NDArray[np.float64]:
    """The length (mm) of each segment inside its box."""
    along = b - a
    with np.errstate(divide="ignore", invalid="ignore"):
        t1, t2 = (low - a) / along, (high - a) / along
    inside = (low < a) & (a < high)
    still = along == 0
    near = np.where(still, np.where(inside, -np.inf, np.inf), np.minimum(t1, t2)).max(axis=1)
    far = np.where(still, np.where(inside, np.inf, -np.inf), np.maximum(t1, t2)).min(axis=1)
    share = np.minimum(far, 1.0) - np.maximum(near, 0.0)
    return np.asarray(np.maximum(share, 0.0) * np.linalg.norm(along, axis=1))

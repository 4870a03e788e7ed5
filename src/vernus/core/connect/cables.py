"""How long a cable must be, which position to hold while tying it, and what it can snag on.

A cable runs from anchor to anchor: the reader's stub, clips on members, the display. The distance of two points that
move along straight axes is convex in the axis positions, so it is longest at a corner of the ranges. A clip holds the
cable, so every stretch needs its own longest, at its own corner. Need = Σ longest·(1 + slack share) + a half turn π·r
for each stretch whose ends move against each other + the drip loop. Slack share and half turn: common practice, no
source. What rides on a head that tilts is looked at upright and tilted to either side. All lengths in mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.machine.envelope import Box, Envelope, Moves, Range, Triple

Ends = Literal["moulded", "screw"]
_TOUCH_MM = 2.0


@dataclass(frozen=True)
class Anchor:
    """A point the cable is held at: on which member, and where with every axis at 0."""

    name: str
    member: str
    point_mm: Triple


@dataclass(frozen=True)
class Tilt:
    """A head that tilts about the y direction: the members that ride on it, its angle either way, its pivot (x, z).

    ``rides_mm`` is by member how far an axis moves it along the head; tilted, that goes askew, by 2·sin(θ/2) of it.
    """

    members: frozenset[str]
    angle_deg: float
    pivot_mm: tuple[float, float]
    rides_mm: Mapping[str, float]

    def turned(self, anchor: Anchor, side: int) -> Anchor:
        """The anchor with the head tilted to ``side`` (+1 or −1)."""
        if anchor.member not in self.members:
            return anchor
        a = math.radians(side * self.angle_deg)
        (x, y, z), (px, pz) = anchor.point_mm, self.pivot_mm
        along, up = x - px, z - pz
        point = (px + math.cos(a) * along - math.sin(a) * up, y, pz + math.sin(a) * along + math.cos(a) * up)
        return replace(anchor, point_mm=point)

    def askew_mm(self, *anchors: Anchor) -> float:
        """The most by which what rides along the tilted head is off where the upright axes would put it."""
        rides = math.fsum(self.rides_mm.get(a.member, 0.0) for a in anchors)
        return 2 * math.sin(math.radians(self.angle_deg) / 2) * rides


@dataclass(frozen=True)
class Stretch:
    """The cable between two anchors: greatest and least straight distance, and where the axes stand at the greatest.

    ``high`` says for each of these axes whether that is the high end of its range, ``pose`` how the head is tilted.
    """

    a: Anchor
    b: Anchor
    longest_mm: float
    shortest_mm: float
    hold: Mapping[str, float]
    high: Mapping[str, bool]
    pose: str = ""

    def hold_words(self, ends_of: Mapping[str, tuple[str, str]] | None = None) -> str:
        """Where to hold the axes while tying it: always at an end of their ranges.

        ``ends_of`` has the names of an axis's low and high end, where they are known.
        """
        names = {axis: (ends_of or {}).get(axis, ("low", "high")) for axis in self.high}
        ends = [f"{axis} at its {names[axis][high]} end" for axis, high in self.high.items()]
        return ", ".join([*ends, *([self.pose] if self.pose else [])]) or "anywhere"

    @property
    def moves(self) -> bool:
        """Whether its ends move against each other."""
        return bool(self.hold or self.pose)


@dataclass(frozen=True)
class Snag:
    """A box that a straight stretch runs through, and an axis position where it does."""

    stretch: Stretch
    box: Box
    at: Mapping[str, float]


@dataclass(frozen=True)
class CableNeed:
    """What a cable needs against what is supplied (None: not known yet); ``over_mm`` is negative when it is short.

    ``need_mm`` is rounded up to a whole mm.
    """

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
    apart = np.subtract([a.point_mm], [b.point_mm])
    high: dict[str, bool] = {}
    for c in range(3):
        low, top = apart[0, c] + moves.span(c, ranges)
        high |= {axis: bool((abs(top) > abs(low)) == (sign > 0)) for axis, sign in moves.by_coordinate[c]}
    high = dict(sorted(high.items()))
    hold = {axis: ranges[axis][1 if at_high else 0] for axis, at_high in high.items()}
    longest, shortest = (float(d[0]) for d in farthest_and_nearest(moves, apart, ranges))
    return Stretch(a, b, longest, shortest, hold, high)


def _longest(envelope: Envelope, a: Anchor, b: Anchor, ranges: Mapping[str, Range], tilt: Tilt | None) -> Stretch:
    """A stretch with the head as it makes it longest; both ends on the head move together."""
    found = stretch_between(envelope, a, b, ranges)
    if tilt is None or (a.member in tilt.members) == (b.member in tilt.members):
        return found
    for side, word in ((1, "head tilted left"), (-1, "head tilted right")):
        tried = stretch_between(envelope, tilt.turned(a, side), tilt.turned(b, side), ranges)
        longest = tried.longest_mm + tilt.askew_mm(a, b)
        if longest > found.longest_mm + 1e-6:
            found = replace(tried, a=a, b=b, longest_mm=longest, pose=word)
    return found


def farthest_and_nearest(
    moves: Moves, apart_mm: NDArray[np.float64], ranges: Mapping[str, Range]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Greatest and least distance (mm) of points that are ``apart_mm`` (n, 3) with every axis at 0.

    Each axis drives one coordinate, so each coordinate takes its own farthest and nearest.
    """
    spans = np.array([moves.span(c, ranges) for c in range(3)])
    low, top = apart_mm + spans[:, 0], apart_mm + spans[:, 1]
    farthest = np.maximum(np.abs(low), np.abs(top))
    nearest = np.maximum(0.0, np.maximum(low, -top))
    return np.linalg.norm(farthest, axis=1), np.linalg.norm(nearest, axis=1)


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
    tilt: Tilt | None = None,
) -> CableNeed:
    """The need of a cable along its anchors, in order; ``ranges`` are the axes' positions (None: whole travels).

    With ``tilt`` every stretch is the longest of the head upright and tilted either way.

    Raises BadInputError for fewer than two anchors or a negative allowance.
    """
    if len(anchors) < 2:
        raise BadInputError("A cable runs from one anchor to another; add the reader and the display.")
    if min(slack_share, bend_mm, drip_mm) < 0:
        raise BadInputError("Slack, bend radius and drip loop can't be negative.")
    within = envelope.full if ranges is None else ranges
    stretches = [_longest(envelope, a, b, within, tilt) for a, b in itertools.pairwise(anchors)]
    straight = math.fsum(s.longest_mm for s in stretches)
    need = straight * (1 + slack_share) + math.pi * bend_mm * sum(s.moves for s in stretches) + drip_mm
    need = float(math.ceil(need - 1e-9))
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
            "Long enough by {over}. Its ends are screw terminals, so it may be cut; keep the slack and label every "
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
    """Every box that the straight stretch runs through somewhere in the ranges, with one position where it does.

    A box in which an anchor sits more than 2 mm deep is left out: the cable begins inside it.
    """
    found = []
    spans: dict[str, tuple[tuple[Range, Range, Range], ...]] = {}
    for box in envelope.boxes:
        if box.member not in spans:
            moves = [envelope.moves(end.member, box.member) for end in (stretch.a, stretch.b)]
            spans[box.member] = tuple((m.span(0, ranges), m.span(1, ranges), m.span(2, ranges)) for m in moves)
        if _clear_of(stretch, spans[box.member], box):
            continue
        at = _snags_at(envelope, stretch, box, ranges)
        if at is not None:
            found.append(Snag(stretch, box, at))
    return found


def _clear_of(stretch: Stretch, spans: Sequence[Sequence[Range]], box: Box) -> bool:
    """Whether all that the stretch ever sweeps stays to one side of a box: most boxes are far away."""
    for c in range(3):
        ends = [end.point_mm[c] for end in (stretch.a, stretch.b)]
        least = min(mm + span[c][0] for mm, span in zip(ends, spans, strict=True))
        most = max(mm + span[c][1] for mm, span in zip(ends, spans, strict=True))
        if most < box.min_mm[c] or box.max_mm[c] < least:
            return True
    return False


def snag_shares(
    envelope: Envelope,
    a: tuple[str, NDArray[np.float64]],
    b: tuple[str, NDArray[np.float64]],
    box: Box,
    ranges: Mapping[str, Range],
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Which part of straight stretches can lie in a box somewhere in the ranges: shares t of the way, from and to.

    ``a`` and ``b``: the member of the ends and their points, (n, 3). None of the way: from ≥ to. Exact, since each axis
    drives one coordinate: at a share t the coordinates can be chosen apart, and the least and greatest of each are
    linear in t. Less than 2 mm deep is touching, not running into. An end that sits deeper in the box than that begins
    inside it: none of the way.
    """
    first, last = np.zeros(len(a[1])), np.ones(len(a[1]))
    moves = [envelope.moves(member, box.member) for member, _ in (a, b)]
    for c in range(3):
        low, high = _inner(box, c)
        spans = [m.span(c, ranges) for m in moves]
        for side, sign, wall in ((0, 1.0, high), (1, -1.0, low)):
            from_a = sign * (a[1][:, c] + spans[0][side] - wall)
            from_b = sign * (b[1][:, c] + spans[1][side] - wall)
            fall = from_a - from_b
            root = np.divide(from_a, fall, out=np.zeros_like(fall), where=fall != 0)
            first = np.where(from_a >= 0, np.maximum(first, np.where(from_b >= 0, 1.0, root)), first)
            last = np.where(from_b >= 0, np.minimum(last, np.where(from_a >= 0, 0.0, root)), last)
    for member, points in (a, b):
        if member == box.member:
            walls = np.array([_inner(box, c) for c in range(3)])
            last = np.where(np.all((walls[:, 0] < points) & (points < walls[:, 1]), axis=1), 0.0, last)
    return first, last


def _snags_at(envelope: Envelope, stretch: Stretch, box: Box, ranges: Mapping[str, Range]) -> dict[str, float] | None:
    """A place of the axes where the stretch runs through the box, seen from the box; None where it never does."""
    a, b = ((end.member, np.array([end.point_mm])) for end in (stretch.a, stretch.b))
    first, last = snag_shares(envelope, a, b, box, ranges)
    if not first[0] < last[0]:
        return None
    t = float(first[0] + last[0]) / 2
    moves = [envelope.moves(member, box.member) for member, _ in (a, b)]
    at: dict[str, float] = {}
    for c in range(3):
        ends = [m.span(c, ranges) for m in moves]
        point = (1 - t) * stretch.a.point_mm[c] + t * stretch.b.point_mm[c]
        least, most = (point + (1 - t) * ends[0][side] + t * ends[1][side] for side in (0, 1))
        low, high = _inner(box, c)
        wanted = min(max((least + most) / 2, low), high)
        share = (min(max(wanted, least), most) - least) / (most - least) if most > least else 0.5
        for axis, sign in {*moves[0].by_coordinate[c], *moves[1].by_coordinate[c]}:
            near, far = ranges[axis] if sign > 0 else ranges[axis][::-1]
            at[axis] = near + share * (far - near)
    return dict(sorted(at.items()))


def _inner(box: Box, c: int) -> Range:
    """A side of a box without the depth that only touches; a thin plate keeps its middle half."""
    low, high = box.min_mm[c], box.max_mm[c]
    off = min(_TOUCH_MM, (high - low) / 4)
    return low + off, high - off

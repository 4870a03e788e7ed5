"""Which boxes of a machine meet, where, and which of them by whose fault: the pairs of an envelope.

Every pair is looked at, all boxes of two members at once, so that also thousands of boxes are answered.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import combinations, permutations
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.finding import Mm, Sentence
from vernus.core.machine.envelope import UPRIGHT, Box, Envelope, Moves, Range

OVERLAP_MM = 0.01
_FEW = 300
MeetingKind = Literal["hard", "minded", "aside"]


@dataclass(frozen=True)
class Meeting:
    """Two boxes that can meet, how they move against each other, and how far per coordinate (``spans``, mm).

    It may have been found for an envelope just like this one: a box of it is equal to one's own, not the same object.
    """

    a: Box
    b: Box
    moves: Moves
    clearance_mm: float
    spans: tuple[Range, Range, Range]

    @property
    def pose(self) -> str:
        """The pose in which both are there; "" in every one."""
        return self.a.pose or self.b.pose

    @cached_property
    def blocked(self) -> dict[str, Range]:
        """Where they meet: per sum of axes (such as ``Y`` or ``W+Z``) the open interval (mm)."""
        return {
            key: self._of_sum(first, (max(low, least), min(high, most)))
            for key, first, (low, high), (least, most) in self._sums()
        }

    @cached_property
    def limits(self) -> dict[str, Range]:
        """How far each of those sums goes (mm)."""
        return {key: self._of_sum(first, span) for key, first, _, span in self._sums()}

    def _sums(self) -> list[tuple[str, int, Range, Range]]:
        """Per coordinate in which they move: the sum of axes, the sign of its first, its bounds and its span."""
        found: list[tuple[str, int, Range, Range]] = []
        met = pair_bounds(self.a, self.b, self.clearance_mm)
        for terms, bounds, span in zip(self.moves.by_coordinate, met, self.spans, strict=True):
            if terms:
                ordered = sorted(terms)
                first = ordered[0][1]
                key = ordered[0][0] + "".join(("+" if s == first else "-") + axis for axis, s in ordered[1:])
                found.append((key, first, bounds, span))
        return found

    @staticmethod
    def _of_sum(first: int, span: Range) -> Range:
        return span if first > 0 else (-span[1] + 0.0, -span[0] + 0.0)

    def in_words(self) -> Sentence | None:
        """“Y above +132 mm while W below +40 mm”; None where they meet with every axis anywhere."""
        parts: list[str] = []
        values: dict[str, object] = {}
        for n, (key, (low, high)) in enumerate(self.blocked.items()):
            least, most = self.limits[key]
            if low <= least and high >= most:
                continue
            values |= {f"key{n}": key, f"low{n}": Mm(low, sign=True), f"high{n}": Mm(high, sign=True)}
            parts.append(
                f"{{key{n}}} above {{low{n}}}"
                if high >= most
                else f"{{key{n}}} below {{high{n}}}"
                if low <= least
                else f"{{key{n}}} between {{low{n}}} and {{high{n}}}"
            )
        return Sentence(" while ".join(parts), values) if parts else None


def pair_bounds(a: Box, b: Box, clearance_mm: float) -> tuple[Range, Range, Range]:
    """The open intervals of d_x, d_y, d_z in which two boxes meet."""
    return tuple(  # type: ignore[return-value]
        (b.min_mm[c] - a.max_mm[c] - clearance_mm, b.max_mm[c] - a.min_mm[c] + clearance_mm) for c in range(3)
    )


def meetings(envelope: Envelope, ranges: Mapping[str, Range] | None = None) -> list[Meeting]:
    """Every pair that meets somewhere while each axis stays in its range (None: its whole travel).

    Left away: what is exempt, what the operator keeps apart or slides aside by hand, and what never moves apart.
    """
    return [met for met, kind in _met(envelope, ranges) if kind == "hard"]


def minded_meetings(envelope: Envelope, ranges: Mapping[str, Range] | None = None) -> list[Meeting]:
    """Pairs that meet unless the operator keeps them apart at work, two of the machine's own left away."""
    return [m for m, kind in _met(envelope, ranges) if kind == "minded" and not (m.a.own and m.b.own)]


def aside_meetings(envelope: Envelope, ranges: Mapping[str, Range] | None = None) -> list[Meeting]:
    """Pairs that meet where a member slid by hand stands drawn, until it is slid aside; two own ones left away."""
    return [m for m, kind in _met(envelope, ranges) if kind == "aside" and not (m.a.own and m.b.own)]


def unchecked(envelope: Envelope) -> list[tuple[Meeting, str]]:
    """Pairs of the machine's own boxes that would meet by their figures and are not compared, and why."""
    own = [(m, kind) for m, kind in _met(envelope, None, exempting=False) if m.a.own and m.b.own]
    whys = [(m, _why_exempt(envelope, m)) for m, kind in own if kind == "hard"]
    minded = [(m, "kept apart by hand at work") for m, kind in own if kind == "minded"]
    return [(m, why) for m, why in whys if why] + minded


def _why_exempt(envelope: Envelope, met: Meeting) -> str:
    """Why a pair isn't compared; "" where it is."""
    both = met.a.own and met.b.own and envelope.exempt
    return envelope.exempt.get(frozenset((met.a.name, met.b.name)), "") if both else ""


def _met(
    envelope: Envelope, ranges: Mapping[str, Range] | None, *, exempting: bool = True
) -> list[tuple[Meeting, MeetingKind]]:
    """Every pair that meets somewhere, and whether that is ``hard``, ``minded`` or put ``aside``."""
    within = tuple((envelope.full if ranges is None else ranges).items())
    found = (_met_before if len(envelope.boxes) <= _FEW else _all_met)(envelope, within)
    if not exempting or not envelope.exempt:
        return found
    return [(m, kind) for m, kind in found if not _why_exempt(envelope, m)]


@dataclass(frozen=True)
class _Between:
    """How the boxes of one member move against those of another, while each axis stays in its range."""

    moves: Moves
    spans: tuple[Range, Range, Range]
    kind: MeetingKind


def _all_met(envelope: Envelope, ranges: tuple[tuple[str, Range], ...]) -> list[tuple[Meeting, MeetingKind]]:
    within, boxes = dict(ranges), envelope.boxes
    if len(boxes) < 2:
        return []
    members = list(dict.fromkeys(b.member for b in boxes))
    between = _between(envelope, members, within)
    low, high = np.array([b.min_mm for b in boxes]).T.copy(), np.array([b.max_mm for b in boxes]).T.copy()
    pose, group = _numbered([b.pose for b in boxes]), _numbered([b.group for b in boxes])
    on = {m: np.array([n for n, b in enumerate(boxes) if b.member == m]) for m in members}
    clear = envelope.clearance_mm
    pairs: list[tuple[int, int]] = []
    for one, other in combinations(members, 2):
        how = between.get((one, other))
        if how is None:
            continue
        mine, theirs = on[one][:, None], on[other][None, :]
        met = np.ones((len(on[one]), len(on[other])), dtype=bool)
        for c, (least, most) in enumerate(how.spans):
            met &= low[c][theirs] - high[c][mine] - clear < most
            met &= least < high[c][theirs] - low[c][mine] + clear
        met &= (pose[mine] == 0) | (pose[theirs] == 0) | (pose[mine] == pose[theirs])
        met &= (group[mine] == 0) | (group[mine] != group[theirs])
        pairs += [(min(p), max(p)) for p in zip(on[one][met.nonzero()[0]], on[other][met.nonzero()[1]], strict=True)]
    found: list[tuple[Meeting, MeetingKind]] = []
    for n, k in sorted(pairs):
        how = between[boxes[n].member, boxes[k].member]
        found.append((Meeting(boxes[n], boxes[k], how.moves, clear, how.spans), how.kind))
    return found


_met_before = lru_cache(maxsize=64)(_all_met)
"""As ``_all_met``; most edits of a job leave its boxes as they are."""


def _numbered(names: Sequence[str]) -> NDArray[np.int64]:
    """A number for each name, the same for the same; 0 for none."""
    known = {name: n for n, name in enumerate(dict.fromkeys(["", *names]))}
    return np.array([known[name] for name in names])


def _between(
    envelope: Envelope, members: Sequence[str], within: Mapping[str, Range]
) -> dict[tuple[str, str], _Between]:
    """How the boxes of members move against each other; two that never move apart left away."""
    between: dict[tuple[str, str], _Between] = {}
    for one, other in permutations(members, 2):
        every = envelope.moves(one, other)
        moves = envelope.driven(every)
        if any(moves.by_coordinate):
            kind: MeetingKind = (
                "minded" if frozenset((one, other)) in envelope.minded else "hard" if moves == every else "aside"
            )
            x, y, z = (moves.span(c, within) for c in range(3))
            between[one, other] = _Between(moves, (x, y, z), kind)
    return between


def overlaps(envelope: Envelope) -> list[tuple[Box, Box, float]]:
    """Boxes that never move apart and take the same room, and how deep (mm, least of the three coordinates).

    Two of the machine's own, and boxes of one group, may touch as they like. What is slid by hand stands as drawn. What
    tilts together is looked at upright: tilted only its bounds take the same room.
    """
    boxes = envelope.boxes
    if len(boxes) < 2:
        return []
    members = list(dict.fromkeys(b.member for b in boxes))
    apart = {(p, q): any(envelope.driven(envelope.moves(p, q)).by_coordinate) for p in members for q in members}
    still = np.array([[not apart[p, q] for q in members] for p in members])
    at = np.array([members.index(b.member) for b in boxes])
    low, high = np.array([b.min_mm for b in boxes]).T.copy(), np.array([b.max_mm for b in boxes]).T.copy()
    pose, group = _numbered([b.pose for b in boxes]), _numbered([b.group for b in boxes])
    tilted = np.array([b.pose not in ("", UPRIGHT) for b in boxes])
    own = np.array([b.own for b in boxes])
    found: list[tuple[Box, Box, float]] = []
    for n, a in enumerate(boxes[:-1]):
        after = slice(n + 1, None)
        deep = np.minimum(high[0, n], high[0, after]) - np.maximum(low[0, n], low[0, after])
        for c in (1, 2):
            deep = np.minimum(deep, np.minimum(high[c, n], high[c, after]) - np.maximum(low[c, n], low[c, after]))
        met = (deep > OVERLAP_MM) & still[at[n]][at[after]]
        if own[n]:
            met &= ~own[after]
        if group[n]:
            met &= group[after] != group[n]
        if pose[n]:
            met &= (pose[after] == 0) | ((pose[after] == pose[n]) & ~tilted[n])
        for k in np.flatnonzero(met).tolist():
            found.append((a, boxes[n + 1 + k], float(deep[k])))
    return found

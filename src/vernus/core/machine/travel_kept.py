"""The largest travels in which no pair of boxes meets.

Kept = one interval per axis, together holding home. Their product R is free of a pair iff for some coordinate c and one
side max d_c over R ≤ its lower bound, or min d_c over R ≥ its upper bound. Each way out of a pair therefore says that
some interval ends, counted from home, add up to no more than a slack: with one axis in c one end, with two their sum.
Maximise Σ w_k·kept_k/travel_k, ties by the larger smallest fraction. Exact by best-first branching over the ways out
of a pair still met; a node is a box, or a small linear program where two axes share a coordinate.
"""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.machine.envelope import COORDINATES, UPRIGHT, Envelope, Range
from vernus.core.machine.meetings import Meeting, meetings, pair_bounds

_SAME = 1e-12
_TOUCHING = 1e-11  # mm; a sum that rounds this far beyond its limit still only touches
_MOST_NODES = 200_000
_HAIR_MM = 1e-6
_NEXT_TO_NOTHING = 1e-6
_FEW = 300


@dataclass(frozen=True)
class TravelKept:
    """The answer: ``kept`` per axis id (None when home is blocked or no answer honours the minimums)."""

    kept: dict[str, Range] | None
    score: float | None
    pairs: tuple[Meeting, ...]
    findings: tuple[Finding, ...]
    blocked: tuple[tuple[str, str], ...] = ()
    """The pairs that meet already with every axis at home, by name, a planned part first."""
    ways_out: tuple[tuple[str, float], ...] = ()
    """Of each of them the shortest way out: along which coordinate (x, y, z), and how far at least (mm)."""


@dataclass(frozen=True)
class WayOut:
    """Keeping the ends in ``ends`` (indices into the interval ends) to a sum of at most ``slack`` (mm)."""

    ends: tuple[int, ...]
    slack: float


@dataclass(frozen=True)
class _Ends:
    """Interval ends counted from home: 2k is axis k's low end, 2k + 1 its high end. Sizes in mm."""

    reach: tuple[float, ...]
    worth: tuple[float, ...]
    travel: tuple[float, ...]
    minimum: tuple[float, ...]

    def score(self, sizes: Sequence[float]) -> float:
        return math.fsum(w * s for w, s in zip(self.worth, sizes, strict=True))

    def smallest_share(self, sizes: Sequence[float]) -> float:
        return min((sizes[2 * k] + sizes[2 * k + 1]) / t for k, t in enumerate(self.travel))


def keep_travel(envelope: Envelope, *, tilt_by_hand: bool = False) -> TravelKept:
    """The best travels of ``envelope``; a pair that meets at home is a finding and no result.

    With ``tilt_by_hand`` one that meets there in a tilted pose is a finding, and the travels are kept for the others.
    """
    return (_kept_before if len(envelope.boxes) <= _FEW else _keep_travel)(envelope, tilt_by_hand)


def _keep_travel(envelope: Envelope, tilt_by_hand: bool) -> TravelKept:
    pairs = tuple(meetings(envelope))
    at_home = meetings(envelope, {k: (v, v) for k, v in envelope.home.items()})
    tilted = [m for m in at_home if tilt_by_hand and m.pose not in ("", UPRIGHT)]
    blocked = [m for m in at_home if m not in tilted]
    if blocked:
        met = tuple(_named(m) for m in blocked)
        ways = tuple(_depths(envelope, blocked))
        found = tuple(_home_blocked(*names, way) for names, way in zip(met, ways, strict=True))
        return TravelKept(None, None, pairs, found, met, tuple((along, _more(deep)) for along, deep in ways))
    met_tilted = {(m.a, m.b) for m in tilted}
    pairs = tuple(m for m in pairs if (m.a, m.b) not in met_tilted)
    ends = _ends(envelope)
    problem = _Problem(ends, _ways_out(envelope, pairs))
    best = problem.solve()
    if best is None:
        return TravelKept(None, None, pairs, tuple(_minimum_unreachable(envelope)) or (_not_together(envelope),))
    kept = {
        a.id: (a.home_mm - best[2 * k] + 0.0, a.home_mm + best[2 * k + 1] + 0.0) for k, a in enumerate(envelope.axes)
    }
    for k, axis in enumerate(envelope.axes):  # an end that is kept whole is that end, not a sum that rounds beside it
        low = axis.from_mm if best[2 * k] == ends.reach[2 * k] else kept[axis.id][0]
        high = axis.to_mm if best[2 * k + 1] == ends.reach[2 * k + 1] else kept[axis.id][1]
        kept[axis.id] = (axis.from_mm, axis.to_mm) if axis.by_hand else (low, high)
    lost = [_axis_lost(a.id) for a in envelope.axes if kept[a.id][1] - kept[a.id][0] <= 1e-9]
    return TravelKept(kept, ends.score(best), pairs, (*(_tilt_blocked(m) for m in tilted), *lost))


_kept_before = lru_cache(maxsize=64)(_keep_travel)
"""As ``_keep_travel``; most edits of a job leave its boxes as they are."""


def _ends(envelope: Envelope) -> _Ends:
    reach: list[float] = []
    worth: list[float] = []
    for axis in envelope.axes:
        reach += [axis.home_mm - axis.from_mm, axis.to_mm - axis.home_mm]
        worth += [axis.weight / axis.travel_mm] * 2
    return _Ends(
        tuple(reach),
        tuple(worth),
        tuple(a.travel_mm for a in envelope.axes),
        tuple(a.minimum_mm for a in envelope.axes),
    )


def _ways_out(envelope: Envelope, pairs: Sequence[Meeting]) -> list[tuple[WayOut, ...]]:
    """Per pair its ways out, pairs that another one's ways out settle anyway left away."""
    index = {a.id: k for k, a in enumerate(envelope.axes)}
    home = envelope.home
    groups: dict[tuple[tuple[int, ...], ...], list[tuple[float, ...]]] = {}
    for pair in pairs:
        moves = envelope.moves(pair.a.member, pair.b.member)
        found: list[WayOut] = []
        for c, (low, high) in enumerate(pair_bounds(pair.a, pair.b, envelope.clearance_mm)):
            terms = moves.by_coordinate[c]
            at = moves.displacement(c, home)
            if terms and at <= low:
                found.append(WayOut(tuple(sorted(2 * index[a] + (s > 0) for a, s in terms)), low - at))
            elif terms and at >= high:
                found.append(WayOut(tuple(sorted(2 * index[a] + (s < 0) for a, s in terms)), at - high))
        found.sort(key=lambda w: w.ends)
        groups.setdefault(tuple(w.ends for w in found), []).append(tuple(w.slack for w in found))
    return [
        tuple(WayOut(e, s) for e, s in zip(which, slacks, strict=True))
        for which, rows in groups.items()
        for slacks in _tightest(rows)
    ]


def _tightest(rows: Sequence[tuple[float, ...]]) -> list[tuple[float, ...]]:
    """The rows that no other row lies wholly at or below."""
    kept: list[tuple[float, ...]] = []
    for row in sorted(set(rows)):
        if not any(all(k <= r for k, r in zip(other, row, strict=True)) for other in kept):
            kept.append(row)
    return kept


@dataclass(frozen=True)
class _Node:
    """Sizes that are best under ``limits`` (idle ways left away), the pair to settle next, and what is at most left."""

    sizes: tuple[float, ...]
    limits: tuple[WayOut, ...]
    pair: int | None
    bound: float
    share: float


class _Problem:
    """Best-first search over the ways out of the pairs still met."""

    def __init__(self, ends: _Ends, pairs: Sequence[tuple[WayOut, ...]]) -> None:
        self._ends = ends
        self._pairs = [p for p in pairs if len(p) > 1]
        self._certain = [p[0] for p in pairs if len(p) == 1]
        options = max((len(p) for p in self._pairs), default=1)
        self._member = np.zeros((len(self._pairs), options, len(ends.reach)))
        self._slack = np.full((len(self._pairs), options), math.inf)
        for i, ways in enumerate(self._pairs):
            for j, way in enumerate(ways):
                self._member[i, j, list(way.ends)] = 1.0
                self._slack[i, j] = way.slack
        self._there = np.isfinite(self._slack)
        # Giving up 1 mm of a sum costs at least the cheapest of its ends.
        worth = np.asarray(ends.worth)
        self._cheapest = np.where(self._member > 0, worth, math.inf).min(axis=2, initial=math.inf)

    def solve(self) -> tuple[float, ...] | None:
        """The best sizes of the interval ends, or None when the minimums can't be honoured."""
        count = itertools.count()
        heap: list[tuple[float, float, int, _Node]] = []
        seen: set[tuple[WayOut, ...]] = set()

        def push(ways: tuple[WayOut, ...]) -> None:
            node = self._node(ways)
            if node is not None and node.limits not in seen:
                seen.add(node.limits)
                heapq.heappush(heap, (-node.bound, -node.share, next(count), node))

        push(tuple(self._certain))
        best: _Node | None = None
        while heap:
            *_, node = heapq.heappop(heap)
            if best is not None and node.bound < best.bound - _SAME:
                break
            if best is not None and node.share <= best.share + _SAME:
                continue
            if node.pair is None:
                best = node
                continue
            for way in self._pairs[node.pair]:
                push((*node.limits, way))
            if len(seen) > _MOST_NODES:
                raise BadInputError(
                    "These boxes leave too many ways apart to compare; merge boxes that lie side by side on one member."
                )
        return None if best is None else best.sizes

    def _hardest(self, sizes: Sequence[float]) -> tuple[int | None, float]:
        """The pair still met whose cheapest way out costs most, and that cost; None and 0 when no pair is met."""
        if not self._pairs:
            return None, 0.0
        over = self._member @ np.asarray(sizes) - self._slack
        met = np.where(self._there, over > _TOUCHING, True).all(axis=1)
        if not met.any():
            return None, 0.0
        cost = np.where(self._there, over * self._cheapest, math.inf).min(axis=1)
        cost[~met] = -math.inf
        pair = int(cost.argmax())
        return pair, float(cost[pair])

    def _node(self, ways: tuple[WayOut, ...]) -> _Node | None:
        """The best sizes under some ways out; None when a minimum can't be honoured."""
        tight: dict[tuple[int, ...], float] = {}
        for way in ways:
            tight[way.ends] = min(way.slack, tight.get(way.ends, math.inf))
        most = [min(r, tight.get((e,), math.inf)) for e, r in enumerate(self._ends.reach)]
        shared = {e: s for e, s in tight.items() if len(e) > 1 and s < math.fsum(most[i] for i in e)}
        limits = tuple(
            WayOut(e, s)
            for e, s in sorted(tight.items())
            if e in shared or (len(e) == 1 and s < self._ends.reach[e[0]])
        )
        sizes = most if not shared else _share_out(self._ends, most, shared)
        if sizes is None or any(
            sizes[2 * k] + sizes[2 * k + 1] < least - 1e-9 for k, least in enumerate(self._ends.minimum)
        ):
            return None
        pair, cost = self._hardest(sizes)
        return _Node(tuple(sizes), limits, pair, self._ends.score(sizes) - cost, self._ends.smallest_share(sizes))


def _share_out(ends: _Ends, most: Sequence[float], shared: dict[tuple[int, ...], float]) -> list[float] | None:
    """The best sizes where ends share slacks: a linear program for the score, then one for the smallest fraction."""
    from scipy.optimize import linprog

    n, axes = len(most), len(ends.travel)
    rows: list[NDArray[np.float64]] = []
    limits: list[float] = []
    for which, slack in shared.items():
        row = np.zeros(n + 1)
        row[list(which)] = 1.0
        rows.append(row)
        limits.append(slack)
    for k, least in enumerate(ends.minimum):
        if least > 0:
            row = np.zeros(n + 1)
            row[2 * k] = row[2 * k + 1] = -1.0
            rows.append(row)
            limits.append(-least)
    bounds = [(0.0, m) for m in most] + [(0.0, 1.0)]
    aim = np.append(-np.asarray(ends.worth), 0.0)
    first = linprog(aim, A_ub=np.array(rows), b_ub=limits, bounds=bounds, method="highs")
    if first.status != 0:
        return None
    for k in range(axes):
        row = np.zeros(n + 1)
        row[2 * k] = row[2 * k + 1] = -1.0 / ends.travel[k]
        row[n] = 1.0
        rows.append(row)
        limits.append(0.0)
    rows.append(aim)
    limits.append(float(first.fun) + 1e-13)
    last = np.zeros(n + 1)
    last[n] = -1.0
    second = linprog(last, A_ub=np.array(rows), b_ub=limits, bounds=bounds, method="highs")
    sizes = (second if second.status == 0 else first).x[:n]
    return _settle([float(s) for s in sizes], most, shared)


def _settle(sizes: list[float], most: Sequence[float], shared: dict[tuple[int, ...], float]) -> list[float]:
    """Round a solver's figures onto their limits, and never beyond one."""
    for end, limit in enumerate(most):
        sizes[end] = 0.0 if sizes[end] < 1e-9 else limit if sizes[end] > limit - 1e-9 else sizes[end]
    for which, slack in shared.items():
        free = [e for e in which if 0 < sizes[e] < most[e]] or [e for e in which if sizes[e] > 0]
        total = math.fsum(sizes[e] for e in which)
        if free and (total > slack or slack - total < 1e-7) and total != slack:
            sizes[free[0]] = max(0.0, min(most[free[0]], sizes[free[0]] + slack - total))
    for which, slack in shared.items():
        while math.fsum(sizes[e] for e in which) > slack:
            largest = max(which, key=lambda e: sizes[e])
            sizes[largest] = max(
                0.0, math.nextafter(sizes[largest] - (math.fsum(sizes[e] for e in which) - slack), 0.0)
            )
    return sizes


def blocked_along(envelope: Envelope, within: Mapping[str, Range], axis_id: str) -> list[tuple[Meeting, Range]]:
    """The open intervals (mm) of one axis in which a pair meets while every other axis is in its range."""
    axis = next(a for a in envelope.axes if a.id == axis_id)
    reach = {**within, axis_id: (axis.from_mm, axis.to_mm)}
    found: list[tuple[Meeting, Range]] = []
    for pair in meetings(envelope, reach):
        moves = envelope.moves(pair.a.member, pair.b.member)
        sign = next((s for a, s in moves.by_coordinate[axis.coordinate] if a == axis_id), 0)
        if sign == 0:
            continue
        low, high = pair_bounds(pair.a, pair.b, envelope.clearance_mm)[axis.coordinate]
        bottom, top = moves.span(axis.coordinate, {**reach, axis_id: (0.0, 0.0)})
        span = (low - top, high - bottom) if sign > 0 else (bottom - high, top - low)
        if span[0] < span[1]:
            found.append((pair, span))
    return found


def _named(pair: Meeting) -> tuple[str, str]:
    """Both of a pair by name, a planned part before the machine's own metal."""
    first, second = (pair.a, pair.b) if pair.a.group or not pair.b.group else (pair.b, pair.a)
    return first.name, second.name


def _depths(envelope: Envelope, met: Sequence[Meeting]) -> list[tuple[str, float]]:
    """Per pair that meets at home the way out that is shortest: along which coordinate, and how far that is (mm)."""
    found: list[tuple[str, float]] = []
    for pair in met:
        moves = envelope.moves(pair.a.member, pair.b.member)
        ways: list[tuple[float, str]] = []
        for c, (low, high) in enumerate(pair_bounds(pair.a, pair.b, envelope.clearance_mm)):
            at = moves.displacement(c, envelope.home)
            ways.append((min(at - low, high - at), COORDINATES[c]))
        deep, along = min(ways)
        found.append((along, deep))
    return found


def _more(deep_mm: float) -> float:
    """What clears a depth, to the next tenth."""
    return math.ceil(deep_mm * 10 + 1e-9) / 10


_ALONG = {"x": "left or right", "y": "to front or back", "z": "up or down"}


def _home_blocked(a: str, b: str, way: tuple[str, float]) -> Finding:
    along, deep = _ALONG[way[0]], way[1]
    return finding(
        "home-blocked",
        "stop",
        "{a} and {b} already meet with every axis at home, by {deep} {along}.",
        "Shorten or move one by at least {more} {along}, or choose another face: with a meeting at home no travel can "
        "be kept.",
        a=a,
        b=b,
        deep=Mm(deep),
        more=Mm(_more(deep)),
        along=along,
    )


def _tilt_blocked(pair: Meeting) -> Finding:
    return finding(
        "tilt-blocked",
        "caution",
        "{a} and {b} can meet with the head {pose}: the room round a tilted part is reckoned generously.",
        "Tilt the head by hand with the parts held in place and look, before anything is drilled.",
        a=pair.a.name,
        b=pair.b.name,
        pose=pair.pose,
    )


def _minimum_unreachable(envelope: Envelope) -> Iterator[Finding]:
    """What each axis of which more is wanted than can be can keep at most."""
    for axis in envelope.axes:
        most = most_kept(envelope, axis.id) if axis.minimum_mm > 0 else axis.minimum_mm
        if most < axis.minimum_mm - _SAME:
            yield finding(
                "minimum-unreachable",
                "stop",
                "{axis} can keep at most {most}; at least {least} is wanted.",
                "Ask for less, or move a part to another face.",
                axis=axis.id,
                most=Mm(most),
                least=Mm(axis.minimum_mm),
            )


def _not_together(envelope: Envelope) -> Finding:
    """Every axis alone can keep what is wanted of it, only not all of them."""
    return finding(
        "minimum-unreachable",
        "stop",
        "{axes} can't all keep the least that is wanted of them.",
        "Ask for less of one, or move a part to another face.",
        axes=", ".join(a.id for a in envelope.axes if a.minimum_mm > 0),
    )


def most_kept(envelope: Envelope, axis_id: str) -> float:
    """The most (mm) that an axis can keep while every other one keeps its least, where that can be."""
    mine = [
        replace(a, weight=1.0, minimum_mm=0.0) if a.id == axis_id else replace(a, weight=_NEXT_TO_NOTHING)
        for a in envelope.axes
    ]
    freed = [a if a.id == axis_id else replace(a, minimum_mm=0.0) for a in mine]
    for axes in (mine, freed):
        kept = keep_travel(replace(envelope, axes=tuple(axes))).kept
        if kept is not None:
            return kept[axis_id][1] - kept[axis_id][0]
    return 0.0


def with_reachable_least(envelope: Envelope) -> Envelope:
    """The envelope with so much less wanted as can be kept: of the axis worth least first."""
    for axis in sorted((a for a in envelope.axes if a.minimum_mm > 0), key=lambda a: a.weight):
        least = min(axis.minimum_mm, most_kept(envelope, axis.id))
        axes = tuple(replace(a, minimum_mm=max(0.0, least - _HAIR_MM)) if a is axis else a for a in envelope.axes)
        envelope = replace(envelope, axes=axes)
        if keep_travel(envelope).kept is not None:
            return envelope
    return replace(envelope, axes=tuple(replace(a, minimum_mm=0.0) for a in envelope.axes))


def _axis_lost(axis: str) -> Finding:
    return finding(
        "axis-lost",
        "stop",
        "Axis {axis} keeps no travel at all.",
        "Give it a least travel to keep, or move the part that takes it.",
        axis=axis,
    )

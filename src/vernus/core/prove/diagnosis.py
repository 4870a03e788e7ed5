"""What is wrong with a display that does not read right: the likely cause from the pattern of its errors.

Readings are shown − target (mm) at targets approached upward and downward, in the order they were taken. Patterns are
added one at a time, each the one that explains most (least Bayesian information criterion, one term per station and
direction), until none is worth its freedom: lost motion the same everywhere or growing, a straight trend, a bow, a step
at one place, a wave, drift in time. What is left between repeats is scatter, named where it matters to the accuracy
wanted. Station means that repeat but follow no pattern are told as such (lack of fit, Fisher's F at 1 %, always looked
at). A pattern smaller than one count of the scale is not reported. Where another pattern would do nearly as well in
place of the first one, that is said. One reading far off its repeats is asked about before it makes a cause. Which
cause makes which pattern: common practice, no source.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from statistics import median

import numpy as np
from numpy.typing import NDArray

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Ppm, Sentence
from vernus.core.prove.calibrate.counts import SUSPECT_PPM
from vernus.core.prove.calibrate.mixups import clean_ratio
from vernus.core.prove.causes import CAUSES, Cause, own_words
from vernus.core.uncertainty import f_tail

Array = NDArray[np.float64]
_WORTH = 10.0  # how much better a pattern must explain the readings to be believed (BIC)
_PAIR_WORTH = 1.5 * _WORTH
_CLOSE_CALL = 4.0  # and how much better than another one in its place
_MOST_PATTERNS = 4
_NEAR_LIMIT = 0.1
_LACKS_BELOW = 0.01
_WAVE_TARGETS = 7
_ODD_SD, _ODD_COUNTS = 6.0, 4.0
_WRONG_SHARE = 0.02


@dataclass(frozen=True)
class Named:
    """One cause: its code, how large its pattern is (mm, from peak to peak), the evidence, and the next test.

    ``grows_mm`` is what an even trend comes to over the targets, signed; None for every other pattern.
    """

    cause: Cause
    size_mm: float
    evidence: Sentence
    next_test: Sentence
    grows_mm: float | None = None


@dataclass(frozen=True)
class Diagnosis:
    """Causes, the largest first; ``unsure`` names one that would explain the readings nearly as well as the first."""

    causes: tuple[Named, ...]
    unsure: Cause | None
    noise_mm: float
    instruction: Sentence

    @property
    def first(self) -> Cause | None:
        """The likely cause; None when nothing was found or when it can't be told from another."""
        return None if self.unsure is not None or not self.causes else self.causes[0].cause


@dataclass(frozen=True)
class _Pattern:
    cause: Cause
    columns: Array
    freedom: int
    where: float = 0.0


def diagnose(
    targets_mm: Sequence[float],
    up: Sequence[bool],
    shown_mm: Sequence[float],
    count_mm: float = 0.005,
    suspect_ppm: float = SUSPECT_PPM,
    *,
    wanted_mm: float | None = None,
    periods_mm: Sequence[float] = (),
    member: str = "table",
    body_type: str = "body",
) -> Diagnosis:
    """The likely cause of what a display shows at known targets; three equally long rows in the order read.

    ``count_mm`` is one count or the display's last step, whichever is larger. ``wanted_mm`` is the accuracy wanted,
    ``periods_mm`` are those a wave may well have (the lead of the screw), ``member`` is what moves, in words,
    ``body_type`` the scale's: body, tape, rod or beam. Raises BadInputError for fewer than three targets or a
    count that isn't positive.
    """
    target, way = np.asarray(targets_mm, dtype=float), np.asarray(up, dtype=bool)
    shown = np.asarray(shown_mm, dtype=float)
    if not len(target) == len(way) == len(shown):
        raise BadInputError("Every row needs a target, an approach and a value.")
    if len(np.unique(target)) < 3:
        raise BadInputError("A pattern needs three targets at least; read more of them.")
    if not count_mm > 0:
        raise BadInputError("One count must be larger than zero, such as 0.005 mm or 0.2 thou.")
    slope = float(np.polyfit(target, shown, 1)[0])
    if abs(slope - 1) > _WRONG_SHARE:
        return _off_by_far(slope, float(np.ptp(target)))
    return _Readings(
        target, way, shown - target, count_mm, suspect_ppm, wanted_mm, tuple(periods_mm), member, body_type
    ).diagnose()


def odd_readings(
    targets_mm: Sequence[float], up: Sequence[bool], shown_mm: Sequence[float], count_mm: float
) -> list[int]:
    """The rows of the readings that lie far off their repeats, up to a third of them; none where more do.

    Far off: more than six robust standard deviations of all readings about the median of their target and direction
    (1.4826 MAD), and four counts at least; three repeats at each target are wanted. Raises nothing.
    """
    off = np.asarray(shown_mm, dtype=float) - np.asarray(targets_mm, dtype=float)
    places = np.stack([np.asarray(targets_mm, dtype=float), np.asarray(up, dtype=float)])
    _, cell = np.unique(places, axis=1, return_inverse=True)
    if not len(off) or np.bincount(cell).min() < 3:
        return []
    apart = off - np.array([median(off[cell == c]) for c in range(int(cell.max()) + 1)])[cell]
    limit = max(_ODD_SD * 1.4826 * median(np.abs(apart)), _ODD_COUNTS * count_mm)
    far = np.flatnonzero(np.abs(apart) > limit)
    return [int(n) for n in far] if len(far) <= len(off) / 3 else []


def _off_by_far(slope: float, span_mm: float) -> Diagnosis:
    size = abs(slope - 1) * span_mm
    found = clean_ratio(slope, 0.0)
    clean = None if found is None else max(found, 1 / found)
    values = {"slope": f"{slope:.5g}", "ratio": f"{clean or slope:.4g}"}
    if slope < 0:
        ratio = "The display counts the other way from the targets (slope {slope})."
        test = "Change the direction setting, or check which way the targets were noted; then read again."
        return _alone("ratio", size, ratio, test, values)
    if clean is None:
        return _alone(
            "reads-wrong", size, "Everything shown is {slope} times the target: no clean ratio, and far from one.",
            "Check the counts or factor set in the display against what is written on the scale, then the reference.",
            values,
        )  # fmt: skip
    meant = {
        25.4: "mm and inch mixed up, in the display or in the counts keyed in",
        2.54: "counts per inch and per cm, or µm, mixed up",
        2.0: "radius and diameter, or a count of half or twice the size",
    }.get(clean, "a count size set to another standard one")
    test = {
        2.0: "Look whether the display shows a diameter on this axis; then check the resolution set.",
        25.4: "Press mm/inch and move one inch; then check in which unit the counts are keyed in.",
    }.get(clean, "Check the resolution set for this axis against what is written on the scale.")
    return _alone(
        "ratio", size, "Everything shown is {slope} times the target, a clean ratio of {ratio}: {meant}.", test,
        {**values, "meant": meant},
    )  # fmt: skip


def _alone(cause: Cause, size: float, evidence: str, test: str, values: dict[str, str]) -> Diagnosis:
    named = Named(cause, size, Sentence(evidence, values), Sentence(test))
    return Diagnosis((named,), None, 0.0, named.next_test)


class _Readings:
    """Deviations (mm) with everything that patterns are made of."""

    def __init__(
        self, target: Array, way: NDArray[np.bool_], deviation: Array, count: float, suspect: float,
        wanted: float | None, periods: tuple[float, ...], member: str, body_type: str,
    ) -> None:  # fmt: skip
        self.wanted, self.periods, self.member = wanted, periods, member
        self.own_words = own_words(body_type, member)
        self.x, self.up, self.y, self.count, self.suspect = target, way, deviation, count, suspect
        self.span = float(np.ptp(target))
        self.share = (target - target.min()) / self.span
        _, self.cell = np.unique(np.stack([target, way]), axis=1, return_inverse=True)
        self.cells = int(self.cell.max()) + 1
        self.time = np.arange(len(target)) / max(1, len(target) - 1)
        self.one = np.ones((len(target), 1))

    def diagnose(self) -> Diagnosis:
        chosen: list[_Pattern] = []
        best = self._score(chosen)
        while len(chosen) < _MOST_PATTERNS:
            offers = [p for p in self._patterns() if p.cause not in [c.cause for c in chosen]]
            tried = [([p], self._score([*chosen, p])) for p in offers]
            if not tried or min(score for _, score in tried) > best - _WORTH:
                tried = self._pairs(chosen, offers, best)
            if not tried:
                break
            found, best = min(tried, key=lambda t: t[1])
            chosen += found
        chosen = self._without_needless(chosen)
        left = self.y - self._fitted(chosen)
        noise = self._noise(left)
        named = [self._name(p, chosen) for p in chosen]
        named = [n for n in named if n.size_mm > 1.2 * self.count]
        named += self._unexplained(left)
        if noise > self.count and (self.wanted is None or 4 * noise > self.wanted / 2):
            named.append(self._scatter(noise))
        named.sort(key=lambda n: -n.size_mm)
        return self._told(named, chosen, noise)

    def _pairs(
        self, chosen: Sequence[_Pattern], offers: Sequence[_Pattern], best: float
    ) -> list[tuple[list[_Pattern], float]]:
        """Two patterns of like size at once, each of which hides the other; waves are not tried in pairs."""
        plain = [p for p in offers if p.cause != "cyclic"]
        tried = [
            ([p, q], self._score([*chosen, p, q])) for p, q in itertools.combinations(plain, 2) if p.cause != q.cause
        ]
        return [(pair, score) for pair, score in tried if score <= best - _PAIR_WORTH]

    def _without_needless(self, chosen: list[_Pattern]) -> list[_Pattern]:
        """Without patterns that later ones made needless."""
        for p in list(chosen):
            rest = [q for q in chosen if q is not p]
            if len(chosen) > 1 and self._score(rest) < self._score(chosen) + _WORTH / 2:
                chosen = rest
        return chosen

    def _unexplained(self, left: Array) -> list[Named]:
        """What the station means still do beside the patterns, where they repeat too well for that to be chance."""
        times = np.bincount(self.cell)
        again = len(left) - self.cells
        if times.min() < 2 or self.cells < 4:
            return []
        means = np.bincount(self.cell, left) / times
        pure = float(((left - means[self.cell]) ** 2).sum()) / again
        scatter = pure / float(times.mean()) + self.count**2 / 12  # a mean keeps the rounding of its place
        lack = float((means**2).sum()) / (self.cells - 2)
        if float(np.ptp(means)) <= 2.5 * self.count or f_tail(lack / scatter, self.cells - 2, again) > _LACKS_BELOW:
            return []
        places = np.unique(self.x)
        by_place = np.bincount(np.searchsorted(places, self.x), left) / np.bincount(np.searchsorted(places, self.x))
        values: dict[str, object] = {"size": Fine(float(np.ptp(means)))}
        wanted = more_targets(places, by_place)
        values |= {f"t{n}": Mm(mm) for n, mm in enumerate(wanted)}
        evidence, test = CAUSES["unexplained"].evidence, CAUSES["unexplained"].test
        test = test.replace("{places}", ", ".join(f"{{t{n}}}" for n in range(len(wanted))))
        return [Named("unexplained", float(np.ptp(means)), Sentence(evidence, values), Sentence(test, values))]

    def _told(self, named: list[Named], chosen: list[_Pattern], noise: float) -> Diagnosis:
        if not named:
            found = "Nothing stands out of the scatter of {noise}: this is as good as these readings can tell."
            if len(np.unique(self.x)) < _WAVE_TARGETS:
                found += " A wave can't be seen with fewer than seven targets."
            return Diagnosis((), None, noise, Sentence(found, {"noise": Fine(noise)}))
        first = named[0]
        mine = next((p for p in chosen if self._code(p) == first.cause), None)
        rival = self._rival(mine, chosen) if mine is not None else None
        if rival is not None:
            words = Sentence(
                "Can't tell {a} from {b} by these readings. {test}",
                {
                    "a": CAUSES[first.cause].name,
                    "b": CAUSES[rival].name,
                    "test": CAUSES[rival].to_tell or first.next_test,
                },
            )
            return Diagnosis(tuple(named), rival, noise, words)
        return Diagnosis(tuple(named), None, noise, first.next_test)

    def _rival(self, mine: _Pattern, chosen: list[_Pattern]) -> Cause | None:
        """A cause that can't be told from the first: nearly as good, or across a limit that is too near."""
        if mine.cause == "trend":
            share = abs(float(self._fit([mine])[1])) / self.span * 1e6 / self.suspect
            if abs(share - 1) < _NEAR_LIMIT:
                return "trend" if share > 1 else "reads-wrong"
        if mine.cause == "lost-motion-growing" and np.bincount(self.cell).max() == 1:
            return "drift"  # one cycle: the way back is also what came later
        rest = [p for p in chosen if p is not mine]
        have = self._score(chosen)
        others = [p for p in self._patterns() if p.cause not in [q.cause for q in chosen]]
        scored = [(self._score([*rest, p]), p.cause) for p in others]
        best = min(scored, default=(math.inf, mine.cause))
        return best[1] if best[0] < have + _CLOSE_CALL else None

    def _patterns(self) -> Iterable[_Pattern]:
        side = np.where(self.up, 0.5, -0.5)
        if self.up.any() and not self.up.all():
            yield _Pattern("lost-motion", side[:, None], 1)
            yield _Pattern("lost-motion-growing", (side * self.share)[:, None], 1, 1.0)
            yield _Pattern("lost-motion-growing", (side * (1 - self.share))[:, None], 1, 0.0)
        yield _Pattern("trend", self.share[:, None], 1)
        yield _Pattern("bow", (4 * self.share * (1 - self.share))[:, None], 1)
        yield from self._steps()
        yield from self._waves()
        if np.bincount(self.cell).min() > 1:
            yield _Pattern("drift", self.time[:, None], 1)

    def _steps(self) -> Iterable[_Pattern]:
        places = np.unique(self.x)
        for low, high in itertools.pairwise(places):
            yield _Pattern("step", (self.x > low).astype(float)[:, None], 2, (low + high) / 2)

    def _waves(self) -> Iterable[_Pattern]:
        """Periods from two and a half gaps between targets to two thirds of the span, and those that are likely."""
        places = np.unique(self.x)
        if len(places) < _WAVE_TARGETS:
            return
        for period in self.periods:
            if period > 0 and np.ptp(np.unique(np.round(places / period % 1, 2))) > 0.5:
                phase = 2 * np.pi * self.x / period
                yield _Pattern("cyclic", np.stack([np.sin(phase), np.cos(phase)], axis=1), 2, float(period))
        gap = median(np.diff(places))
        least, most = 2.5 * gap, self.span / 1.5
        if least >= most:
            return
        for waves in np.arange(self.span / most, self.span / least, 0.1):
            period = self.span / waves
            phase = 2 * np.pi * self.x / period
            yield _Pattern("cyclic", np.stack([np.sin(phase), np.cos(phase)], axis=1), 4, float(period))

    def _design(self, chosen: Sequence[_Pattern]) -> Array:
        return np.hstack([self.one, *(p.columns for p in chosen)])

    def _fit(self, chosen: Sequence[_Pattern]) -> Array:
        return np.asarray(np.linalg.lstsq(self._design(chosen), self.y, rcond=None)[0])

    def _fitted(self, chosen: Sequence[_Pattern]) -> Array:
        return np.asarray(self._design(chosen) @ self._fit(chosen))

    def _score(self, chosen: Sequence[_Pattern]) -> float:
        left = self.y - self._fitted(chosen)
        floor = len(left) * self.count**2 / 24
        freedom = 1 + sum(p.freedom for p in chosen)
        return self.cells * math.log(max(float(left @ left), floor) / len(left)) + freedom * math.log(self.cells)

    def _noise(self, left: Array) -> float:
        """Standard deviation (mm) between repeats, or of what is left where nothing was repeated."""
        times = np.bincount(self.cell)
        if times.max() > 1:
            means = np.bincount(self.cell, left) / times
            return float(np.sqrt(((left - means[self.cell]) ** 2).sum() / max(1, len(left) - self.cells)))
        return float(left.std())

    def _code(self, p: _Pattern) -> Cause:
        if p.cause == "trend":
            slope = float(self._fit([p])[1]) / self.span
            return "reads-wrong" if abs(slope) * 1e6 > self.suspect else "trend"
        return p.cause

    def _name(self, p: _Pattern, chosen: Sequence[_Pattern]) -> Named:
        at = 1 + sum(q.columns.shape[1] for q in chosen[: chosen.index(p)])
        weights = self._fit(chosen)[at : at + p.columns.shape[1]]
        size = float(np.ptp(p.columns @ weights)) if p.cause != "cyclic" else 2 * float(np.hypot(*weights))
        sign = float(weights[0])
        code = self._code(p)
        evidence, test = CAUSES[code].evidence, CAUSES[code].test
        values = {
            "size": Fine(size),
            "signed": Fine(sign, sign=True),
            "ppm": Ppm(sign / self.span * 1e6),
            "where": Mm(p.where),
            "end": "high" if p.where else "low",
            "span": Mm(self.span),
            "limit": f"{self.suspect:.0f}",
            "member": self.member,
            **self.own_words,
        }
        grows = sign if p.cause == "trend" else None
        return Named(code, size, Sentence(evidence, values), Sentence(test, values), grows)

    def _scatter(self, noise: float) -> Named:
        values = {"noise": Fine(noise), "counts": f"{noise / self.count:.1f}"}
        evidence, test = CAUSES["scatter"].evidence, CAUSES["scatter"].test
        return Named("scatter", 4 * noise, Sentence(evidence, values), Sentence(test, values))


def more_targets(places_mm: Array, errors_mm: Array, most: int = 3) -> list[float]:
    """Where further targets tell most (mm): off the middle of the gaps over which the errors change most."""
    change = np.abs(np.diff(errors_mm))
    gaps = sorted(np.argsort(-change, kind="stable")[:most].tolist())
    return [float(places_mm[n] + 0.45 * (places_mm[n + 1] - places_mm[n])) for n in gaps]


_SHARES = (0.0, 0.215, 0.45, 0.66, 0.885, 1.11, 1.325, 1.56, 1.775)
"""Places within two turns of the screw: both laid on each other, nowhere more than an eighth of a turn apart."""
WAVE_SEEN = 0.92
"""The share of a wave that stations an eighth of it apart see at worst: cos 22.5°."""


def widest_phase(targets_mm: Sequence[float], period_mm: float) -> float:
    """The widest stretch of a wave, in periods, in which no target lies."""
    phases = sorted({round(t / period_mm % 1.0, 9) for t in targets_mm})
    return max(b - a for a, b in itertools.pairwise([*phases, phases[0] + 1.0]))


def wave_targets(low_mm: float, high_mm: float, lead_mm: float | None, coarse: int = 7) -> list[float]:
    """Targets by which a wave can be told: uneven over the travel, and denser within two leads of the screw (mm).

    Without a lead only the uneven ones.
    """
    span = high_mm - low_mm
    places = [
        low_mm + span * u for u in (0.0, *((n + 0.18 * (-1) ** n) / (coarse - 1) for n in range(1, coarse - 1)), 1.0)
    ]
    if lead_mm is not None and 0 < 2 * lead_mm < span:
        begin = low_mm + min(span / 3, span - 2 * lead_mm)
        places += [begin + lead_mm * share for share in _SHARES]
    return sorted(places)

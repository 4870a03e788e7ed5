"""What is wrong with a display that does not read right: the likely cause from the pattern of its errors.

Readings are shown − target (mm) at targets approached upward and downward, in the order they were taken. Patterns are
added one at a time, each the one that explains most (least Bayesian information criterion, one term per station and
direction), until none is worth its freedom: lost motion the same everywhere or growing, a straight trend, a bow, a step
at one place, a wave, drift in time. What is left between repeats is scatter. A pattern smaller than one count of the
scale is not reported. Where another pattern would do nearly as well in place of the first one, that is said. Which
cause makes which pattern: common practice, no source.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Mm, Ppm, Sentence
from vernus.core.prove.calibration import SUSPECT_PPM
from vernus.core.prove.mixups import clean_ratio

Cause = Literal[
    "lost-motion", "lost-motion-growing", "step", "cyclic", "trend", "bow", "scatter", "drift", "reads-wrong", "ratio"
]
CAUSES: tuple[Cause, ...] = (
    "lost-motion", "lost-motion-growing", "step", "cyclic", "trend", "bow", "scatter", "drift", "reads-wrong", "ratio",
)  # fmt: skip
Array = NDArray[np.float64]
_WORTH = 10.0  # how much better a pattern must explain the readings to be believed (BIC)
_CLOSE_CALL = 4.0  # and how much better than another one in its place
_MOST_PATTERNS = 4
_NEAR_LIMIT = 0.1
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
) -> Diagnosis:
    """The likely cause of what a display shows at known targets; three equally long rows in the order read.

    ``count_mm`` is one count or the display's last step, whichever is larger. Raises BadInputError for fewer than
    three targets or a count that isn't positive.
    """
    target, way = np.asarray(targets_mm, dtype=float), np.asarray(up, dtype=bool)
    shown = np.asarray(shown_mm, dtype=float)
    if not len(target) == len(way) == len(shown):
        raise BadInputError("Every row needs a target, an approach and a value.")
    if len(np.unique(target)) < 3:
        raise BadInputError("A pattern needs three targets at least; read more of them.")
    if not count_mm > 0:
        raise BadInputError("One count must be larger than zero, such as 0.005 mm.")
    slope = float(np.polyfit(target, shown, 1)[0])
    if abs(slope - 1) > _WRONG_SHARE:
        return _off_by_far(slope, float(np.ptp(target)))
    return _Readings(target, way, shown - target, count_mm, suspect_ppm).diagnose()


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

    def __init__(self, target: Array, way: NDArray[np.bool_], deviation: Array, count: float, suspect: float) -> None:
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
            scores = [self._score([*chosen, p]) for p in offers]
            if not scores or min(scores) > best - _WORTH:
                break
            best = min(scores)
            chosen.append(offers[int(np.argmin(scores))])
        chosen = self._weed(chosen)
        left = self.y - self._fitted(chosen)
        noise = self._noise(left)
        named = [self._name(p, chosen) for p in chosen]
        named = [n for n in named if n.size_mm > 1.2 * self.count]
        if noise > self.count:
            named.append(self._scatter(noise))
        named.sort(key=lambda n: -n.size_mm)
        return self._told(named, chosen, noise)

    def _weed(self, chosen: list[_Pattern]) -> list[_Pattern]:
        """Without patterns that later ones made needless."""
        for p in list(chosen):
            rest = [q for q in chosen if q is not p]
            if len(chosen) > 1 and self._score(rest) < self._score(chosen) + _WORTH / 2:
                chosen = rest
        return chosen

    def _told(self, named: list[Named], chosen: list[_Pattern], noise: float) -> Diagnosis:
        if not named:
            words = Sentence(
                "Nothing stands out of the scatter of {noise}: this is as good as these readings can tell.",
                {"noise": Fine(noise)},
            )
            return Diagnosis((), None, noise, words)
        first = named[0]
        mine = next((p for p in chosen if self._code(p) == first.cause), None)
        rival = self._rival(mine, chosen) if mine is not None else None
        if rival is not None:
            words = Sentence(
                "Can't tell {a} from {b} by these readings. {test}",
                {"a": WORDS[first.cause], "b": WORDS[rival], "test": TO_TELL.get(rival, first.next_test)},
            )
            return Diagnosis(tuple(named), rival, noise, words)
        return Diagnosis(tuple(named), None, noise, first.next_test)

    def _rival(self, mine: _Pattern, chosen: list[_Pattern]) -> Cause | None:
        """A cause that can't be told from the first: nearly as good, or across a limit that is too near."""
        if mine.cause == "trend":
            share = abs(float(self._fit([mine])[1])) / self.span * 1e6 / self.suspect
            if abs(share - 1) < _NEAR_LIMIT:
                return "trend" if share > 1 else "reads-wrong"
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
        """Periods from two and a half gaps between targets to two thirds of the span."""
        places = np.unique(self.x)
        if len(places) < 7:
            return
        gap = float(np.median(np.diff(places)))
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
        evidence, test = _SAID[code]
        values = {
            "size": Fine(size),
            "signed": Fine(sign, sign=True),
            "ppm": Ppm(sign / self.span * 1e6),
            "where": Mm(p.where),
            "end": "high" if p.where else "low",
            "span": Mm(self.span),
            "limit": f"{self.suspect:.0f}",
        }
        grows = sign if p.cause == "trend" else None
        return Named(code, size, Sentence(evidence, values), Sentence(test, values), grows)

    def _scatter(self, noise: float) -> Named:
        values = {"noise": Fine(noise), "counts": f"{noise / self.count:.1f}"}
        evidence, test = _SAID["scatter"]
        return Named("scatter", 4 * noise, Sentence(evidence, values), Sentence(test, values))


WORDS: dict[Cause, str] = {
    "lost-motion": "lost motion in the reader mount",
    "lost-motion-growing": "lost motion growing along the travel",
    "step": "a step at one place",
    "cyclic": "a wave",
    "trend": "a straight trend",
    "bow": "a bow",
    "scatter": "scatter",
    "drift": "drift in time",
    "reads-wrong": "repeats well but reads wrong",
    "ratio": "a clean ratio",
}
TO_TELL: dict[Cause, Sentence] = {
    "drift": Sentence("Read the same targets again in the opposite order: a trend follows the place, drift the clock."),
    "trend": Sentence("Read the same targets again in the opposite order: a trend follows the place, drift the clock."),
    "step": Sentence("Read more targets, close together, where the readings change most."),
    "cyclic": Sentence("Read twice as many targets at uneven distances."),
    "bow": Sentence("Read more targets in the middle and near both ends."),
    "reads-wrong": Sentence("Check the reference and the count size first; if both are right it is a plain factor."),
    "lost-motion": Sentence("Read both ends in both directions, five times each."),
    "lost-motion-growing": Sentence("Read both ends in both directions, five times each."),
}
_SAID: dict[Cause, tuple[str, str]] = {
    "lost-motion": (
        "Up and down differ by {signed} everywhere: lost motion, most likely in the reader's mount or its drive.",
        "Push the reader along the axis by hand: what the figure gives is the play. Tighten the bracket and repeat. If "
        "the reader is solid, put the indicator on the moved member itself: then the play is in the reference.",
    ),
    "lost-motion-growing": (
        "Up and down differ more and more toward the {end} end, by {size} there: something gives as the axis goes "
        "over.",
        "Lock the cross axes and read that end again. Then check gibs there, the free end of the body, and the arm "
        "that carries the reader.",
    ),
    "step": (
        "The error jumps by {signed} near {where}.",
        "Look at {where}: a scratch, a chip, a joint of the tape, a screw that pinches the body. Run over it slowly; "
        "counts lost for good don't come back at zero.",
    ),
    "cyclic": (
        "The error swings by {size} and repeats every {where}.",
        "Compare {where} with the lead of the screw (then the reference is the screw), the pitch of the tape's "
        "poles, and the spacing of the body's screws.",
    ),
    "trend": (
        "The error grows evenly, by {signed} over {span} ({ppm}): a factor, or temperature.",
        "Work out whether the temperatures can make it; if not, take it out by the linear factor of Calibrate and read "
        "again.",
    ),
    "bow": (
        "The error bows by {signed} in the middle: the axis tilts on its way, and the scale lies off the tool's line.",
        "Put a level or an indicator on the table and run the axis through: if it tilts, tighten the gibs; what is "
        "left can go into a segmented table, or the scale nearer to the tool.",
    ),
    "scatter": (
        "Repeats at one target scatter by {noise} (one standard deviation), {counts} counts: more than reading can.",
        "Clean scale and reader, check the gap at both ends, tighten the mount, earth the display, then read one "
        "target ten times. If that is still, the reference is what scatters.",
    ),
    "drift": (
        "Over the readings the figure drifted by {signed}, wherever the axis stood.",
        "Let the axis stand for ten minutes and watch. If it drifts, push the mounts; if it doesn't, let machine and "
        "reference reach one temperature and read again.",
    ),
    "reads-wrong": (
        "It repeats well but is off by {ppm}, more than the {limit} ppm a good scale may need.",
        "Check the reference first, then the count size set, then whether the scale or the move is tilted: 600 ppm "
        "of tilt is two degrees, and can be seen.",
    ),
}  # fmt: skip

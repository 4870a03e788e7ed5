"""Uncertainty budgets (JCGM 100:2008 (GUM)) and verdicts that allow for them.

u = √Σ(c·value/divisor)² (5.1), effective degrees of freedom by Welch–Satterthwaite (G.4), k from Student's t at 95 %
(G.3). Verdicts with guard bands (ISO 14253-1:2017, from memory: the default rule is 95 % conformance, 1.65 u; here
U = 2u, a little stricter).
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from vernus.core.errors import BadInputError
from vernus.core.finding import Fine, Sentence, Tiny
from vernus.core.uncertainty import student_t95
from vernus.core.units import UnitSystem

Distribution = Literal["normal", "rectangular", "triangular", "u-shaped"]
DIVISOR: dict[Distribution, float] = {
    "normal": 1.0, "rectangular": math.sqrt(3), "triangular": math.sqrt(6), "u-shaped": math.sqrt(2),
}  # fmt: skip
Verdict = Literal["pass", "fail", "unsure"]


@dataclass(frozen=True)
class BudgetLine:
    """One source: a half-width (or standard deviation, ``normal``), how it is spread, and what it does to the result.

    ``value`` is in its own unit, ``sensitivity`` in result units (mm) per that unit. ``remedy`` says what would halve
    it.
    """

    name: str
    value: float
    distribution: Distribution = "rectangular"
    sensitivity: float = 1.0
    freedom: float = math.inf
    remedy: str = ""
    step: float = 0.0
    """One whole step of what is read, where this is its rounding."""

    def __post_init__(self) -> None:
        if not (math.isfinite(self.value) and self.value >= 0 and math.isfinite(self.sensitivity)):
            raise BadInputError(f"{self.name}: an uncertainty is a finite number that isn't negative.")
        if not self.freedom > 0:
            raise BadInputError(f"{self.name}: degrees of freedom must be larger than zero.")

    @property
    def u(self) -> float:
        """Its share of the result's standard uncertainty (mm)."""
        return abs(self.sensitivity) * self.value / DIVISOR[self.distribution]


@dataclass(frozen=True)
class Budget:
    """The lines together: standard uncertainty, degrees of freedom, k for 95 %, and the expanded uncertainty (mm)."""

    lines: tuple[BudgetLine, ...]
    u: float
    freedom: float
    k: float

    @property
    def expanded(self) -> float:
        """k·u at 95 %."""
        return self.k * self.u

    @property
    def dominant(self) -> BudgetLine | None:
        """The largest line, None when nothing is uncertain."""
        top = max(self.lines, key=lambda line: line.u, default=None)
        return top if top is not None and top.u > 0 else None

    def share(self, line: BudgetLine) -> float:
        """The line's share of the variance."""
        return (line.u / self.u) ** 2 if self.u > 0 else 0.0

    def in_rows(self, system: UnitSystem) -> list[list[str]]:
        """Name, spread, standard uncertainty and share of every line, and last all together with k."""
        rows = [[x.name, x.distribution, Tiny(x.u).show(system), f"{100 * self.share(x):.0f} %"] for x in self.lines]
        freedom = "many" if self.freedom > 1000 else f"{self.freedom:.0f}"
        total = f"all together, k = {self.k:.2f}, {freedom} degrees of freedom"
        return [*rows, [total, "", f"± {Tiny(self.expanded).show(system)}", ""]]

    def in_words(self) -> Sentence:
        """What dominates and what would halve it."""
        top = self.dominant
        if top is None:
            return Sentence("Nothing in this result is uncertain, as far as was said.")
        rest = math.sqrt(max(0.0, self.u**2 - top.u**2))
        tail = "" if rest <= self.u / 2 else " With that gone, ± {rest} is left."
        return Sentence(
            "± {u} (95 %); the largest part, {share:.0f} %, is {name}. {remedy}" + tail,
            {
                "u": Fine(self.expanded),
                "name": top.name,
                "share": 100 * self.share(top),
                "remedy": top.remedy,
                "rest": Fine(self.k * rest),
            },
        )


def combine(lines: Sequence[BudgetLine], k: float | None = None) -> Budget:
    """The budget of uncorrelated lines; ``k`` None: from Student's t. Raises BadInputError without any line."""
    if not lines:
        raise BadInputError("A budget needs one line at least.")
    u = math.sqrt(math.fsum(line.u**2 for line in lines))
    spread = math.fsum(line.u**4 / line.freedom for line in lines)
    freedom = u**4 / spread if spread > 0 else math.inf
    return Budget(tuple(lines), u, freedom, student_t95(freedom) if k is None else k)


def combine_apart(lines: Sequence[BudgetLine]) -> Budget:
    """The budget with what scatters expanded by its own Student's t, or one whole step where that is more.

    As ``stated`` has it, with the rest by 1.96: adding a source never makes U smaller, as effective degrees of freedom
    can. Raises BadInputError without any line.
    """
    plain = combine(lines)
    scattered = math.sqrt(
        math.fsum((student_t95(x.freedom) * x.u) ** 2 for x in lines if not x.step and math.isfinite(x.freedom))
    )
    step = max((abs(x.sensitivity) * x.step for x in lines), default=0.0)
    rest = math.sqrt(math.fsum(x.u**2 for x in lines if not x.step and math.isinf(x.freedom)))
    expanded = at_95(scattered, step, rest)
    return combine(lines, expanded / plain.u if plain.u > 0 else None)


def stated(scatter: float, freedom: float, step: float, rest: float = 0.0) -> float:
    """U at 95 %: √(max(t·u_s, q)² + (1.96·u_rest)²), own work, found by simulation (no source).

    ``scatter`` is the standard uncertainty from scatter alone with its own degrees of freedom (0 of none: one reading),
    ``step`` one whole step as it acts on the result, ``rest`` what else is known of it. Step and scatter aren't added:
    where only rounding acts, a twelfth of its square covers too little, and where scatter does, it holds it already.
    """
    return at_95(student_t95(freedom) * scatter if freedom > 0 and scatter > 0 else 0.0, step, rest)


def at_95(scattered: float, step: float, rest: float) -> float:
    """U of what scatters, already expanded, or one step where that is more, beside what else is known."""
    return math.hypot(max(scattered, step), 1.96 * rest)


_BLUNDERS = ((4.0, 5.0, 7.0, 10.0, 20.0, 50.0), (16.0, 19.0, 11.0, 7.0, 5.2, 4.4))
"""How many robust deviations off the median are asked about, by how many there are: 1 % of clean sets; simulation."""
BLUNDER_STEPS = 4.0


_OF_A_LINE = 12.0
"""A line takes its share of the scatter of few: the limit is 1 + 12/n times as far; by simulation."""


def blunders(values: Sequence[float], step: float, *, of_a_line: bool = False) -> list[int]:
    """Which of at least three values lie so far off their median that they are asked about, farthest first.

    Farther than four steps, and than so many robust standard deviations (1.4826 MAD); up to a third of them. They are
    never dropped: what the user strikes is out. ``of_a_line``: they are what a line through them leaves.
    """
    n = len(values)
    if n < 3:
        return []
    middle = statistics.median(values)
    spread = 1.4826 * statistics.median(abs(v - middle) for v in values)
    sizes, times = _BLUNDERS
    most = float(np.interp(n, sizes, times)) * (1 + _OF_A_LINE / n if of_a_line else 1.0)
    limit = max(BLUNDER_STEPS * step, most * spread)
    far = sorted((i for i in range(n) if abs(values[i] - middle) > limit), key=lambda i: -abs(values[i] - middle))
    return far if len(far) <= n / 3 else []


_BLUNDERS_OF_A_LINE = (
    (5.0, 6.0, 7.0, 9.0, 11.0, 15.0, 20.0, 50.0), (118.0, 27.0, 27.0, 12.7, 9.4, 7.0, 5.7, 4.5),
)  # fmt: skip
"""The same off the median line through them: 1 % of clean sets; simulation."""


def blunders_of_line(x: Sequence[float], y: Sequence[float], step: float) -> list[int]:
    """Which of at least five points lie so far off the line of the others that they are asked about, farthest first.

    The line is the median of all slopes (Theil and Sen, from memory), which a third of them can't pull off. Farther
    than four steps, and than so many robust standard deviations (1.4826 MAD); up to a third of them.
    """
    at, value = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    n = len(at)
    if n < 5:
        return []
    first, second = np.triu_indices(n, 1)
    apart = at[second] != at[first]
    if not apart.any():
        return blunders(value.tolist(), step)
    slopes = np.sort((value[second] - value[first])[apart] / (at[second] - at[first])[apart])
    slope = float(slopes[(len(slopes) - 1) // 2] + slopes[len(slopes) // 2]) / 2
    rest = value - slope * at
    rest = rest - statistics.median(rest.tolist())
    most = float(np.interp(n, *_BLUNDERS_OF_A_LINE)) * 1.4826 * statistics.median(np.abs(rest).tolist())
    far = np.flatnonzero(np.abs(rest) > max(BLUNDER_STEPS * step, most))
    return sorted((int(i) for i in far), key=lambda i: -abs(rest[i])) if len(far) <= n / 3 else []


_STEPS_MM = (1.0, 0.5, 0.1, 0.05, 0.02, 0.01, 0.005, 0.002, 0.001, 0.0005, 0.0001)
_STEPS_IN = (0.1, 0.05, 0.01, 0.005, 0.001, 0.0005, 0.0002, 0.0001, 0.00005)


def written_step(values_mm: Sequence[float]) -> float:
    """The coarsest usual step (mm) of which every figure is a whole number of; 0 where none is."""
    steps = sorted([*_STEPS_MM, *(25.4 * s for s in _STEPS_IN)], reverse=True)
    for step in steps:
        if all(abs(v / step - round(v / step)) < 1e-4 for v in values_mm):
            return step
    return 0.0


def unsure_if_odd(verdict: Verdict, without: Verdict | None) -> Verdict:
    """A verdict where some readings are asked about: unsure unless it is the same without them.

    ``without`` None: nothing is asked about.
    """
    return verdict if without is None or without == verdict else "unsure"


@dataclass(frozen=True)
class Guarded:
    """A verdict against a tolerance, and the expanded uncertainty (mm) that would settle it (0: none would)."""

    verdict: Verdict
    settle_mm: float


def judge(value_mm: float, expanded_mm: float, tolerance_mm: float) -> Guarded:
    """Pass if |value| + U ≤ tolerance, fail if |value| − U > tolerance, otherwise unsure."""
    if not tolerance_mm > 0 or expanded_mm < 0:
        raise BadInputError("The tolerance must be larger than zero and the uncertainty not negative.")
    settle = abs(tolerance_mm - abs(value_mm))
    if abs(value_mm) + expanded_mm <= tolerance_mm:
        return Guarded("pass", settle)
    return Guarded("fail" if abs(value_mm) - expanded_mm > tolerance_mm else "unsure", settle)


SURELY_STEPS = 12.0
"""So many steps or divisions beyond a tolerance it fails whatever the count: common practice, no source."""

STEPS_STILL = 2.0  # a display's last digit at rest may show one or two more; common practice, no source


def standing_limit(step_mm: float, accuracy_mm: float) -> float:
    """How far (mm) a figure that should stand still may move: two steps of the display, or a quarter of the accuracy.

    The larger of the two, so that two steps are never a failure by themselves.
    """
    return max(STEPS_STILL * step_mm, accuracy_mm / 4) * (1 + 1e-9)

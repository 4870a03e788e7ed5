"""Moves made to check a display against something better: their means, and readings that don't fit the others.

u_D = √(s²/n + entered² + q²/6), q the larger of one count and the display's last step (two roundings, GUM 4.3.7).
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.budget import Verdict, blunders, blunders_of_line, judge, stated
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.uncertainty import student_t95

MM_PER_INCH = 25.4
MOST_MM = 1e6
DEFAULT_ERROR_MM = 0.01


@dataclass(frozen=True)
class MoveCheck:
    """One move, or the mean of ``n``: what was shown, what was really moved, how well both are known. Lengths in mm.

    ``scatter_mm`` is the standard deviation (n − 1) of the shown lengths about the mean.
    """

    shown_mm: float
    moved_mm: float
    set_per_mm: float
    u_shown_mm: float = 0.0
    u_moved_mm: float = 0.0
    step_mm: float = 0.0
    n: int = 1
    scatter_mm: float = 0.0

    def __post_init__(self) -> None:
        if self.moved_mm == 0:
            raise BadInputError("The move is zero, so nothing can be divided by it; move a known distance first.")
        if self.shown_mm == 0:
            raise BadInputError("The display showed no movement; check that it is on, connected and counting.")
        if not self.set_per_mm > 0:
            raise BadInputError("The counts set in the display must be larger than zero, such as 5080 per inch.")
        for value, name in ((self.u_shown_mm, "shown"), (self.u_moved_mm, "moved"), (self.step_mm, "step")):
            if value < 0:
                raise BadInputError(f"The uncertainty or step of what was {name} can't be negative.")

    @property
    def u_display_mm(self) -> float:
        """Standard uncertainty of the shown distance, the rounding at both ends included."""
        rounding = max(1 / self.set_per_mm, self.step_mm) / math.sqrt(6)
        return math.hypot(self.u_shown_mm, rounding, self.scatter_mm / math.sqrt(self.n))

    @property
    def u_true_move_mm(self) -> float:
        """Both uncertainties as true length, √((u_D·L/D)² + u_L²)."""
        return math.hypot(self.u_display_mm * self.moved_mm / self.shown_mm, self.u_moved_mm)

    @property
    def u_rel(self) -> float:
        """Relative standard uncertainty of the counts."""
        return self.u_true_move_mm / abs(self.moved_mm)

    @property
    def expanded_rel(self) -> float:
        """U of the counts at 95 %, relative: the scatter of repeats by its own Student's t, or one whole step."""
        true_of_shown = abs(self.moved_mm / self.shown_mm)
        step = max(1 / self.set_per_mm, self.step_mm) * true_of_shown
        rest = math.hypot(self.u_shown_mm * true_of_shown, self.u_moved_mm)
        u = stated(self.scatter_mm / math.sqrt(self.n) * true_of_shown, self.n - 1, step, rest)
        return u / abs(self.moved_mm)

    def judge(self, error_mm: float, travel_mm: float | None = None, *, doubtful: bool = False) -> Verdict:
        """Whether the counts set keep an error over a travel, or over the move itself where none is given.

        One move says nothing of how it repeats: it neither passes nor fails by itself, nor does what is asked about.
        """
        if doubtful or self.n < 2:
            return "unsure"
        over, shown = travel_mm if travel_mm is not None else abs(self.moved_mm), abs(self.shown_mm / self.moved_mm)
        return judge(abs(shown - 1) * over, self.expanded_rel * over * shown, error_mm).verdict

    @property
    def k95(self) -> float:
        """The factor that expands ``u_rel`` to 95 %: Student's t (GUM G.4) where repeats scatter."""
        scatter = self.scatter_mm / math.sqrt(self.n) * abs(self.moved_mm / self.shown_mm)
        freedom = self.u_true_move_mm**4 / (scatter**4 / (self.n - 1)) if scatter > 0 else math.inf
        return student_t95(freedom)

    @property
    def k(self) -> float:
        """The same, never below 2: within so many ``u_rel`` a standard count agrees."""
        return max(2.0, self.k95)


def average_moves(
    shown_mm: Sequence[float],
    moved_mm: Sequence[float],
    set_per_mm: float,
    u_shown_mm: float = 0.0,
    u_moved_mm: float = 0.0,
    step_mm: float = 0.0,
) -> MoveCheck:
    """Repeated moves as one, of their root mean square length: shown/moved = ΣDL/ΣL², scatter about that.

    Raises BadInputError for none, for lists of different length, and for moves of zero.
    """
    if not shown_mm or len(shown_mm) != len(moved_mm):
        raise BadInputError("Every move needs what was truly moved and what the display showed.")
    if any(moved == 0 for moved in moved_mm):
        raise BadInputError("A move is zero, so nothing can be divided by it; move a known distance.")
    if not all(abs(length) <= MOST_MM for length in (*shown_mm, *moved_mm)):
        raise BadInputError(f"No axis moves more than {MOST_MM:g} mm, a kilometre; look at the figures and their unit.")
    n = len(shown_mm)
    squares = math.fsum(m * m for m in moved_mm)
    ratio = math.fsum(s * m for s, m in zip(shown_mm, moved_mm, strict=True)) / squares
    length = abs(moved_mm[0]) if n == 1 else math.sqrt(squares / n)
    length *= -1 if all(m < 0 for m in moved_mm) else 1
    left = math.fsum((s - ratio * m) ** 2 for s, m in zip(shown_mm, moved_mm, strict=True))
    scatter = math.sqrt(left / (n - 1)) if n > 1 else 0.0
    shown = shown_mm[0] if n == 1 else ratio * length
    return MoveCheck(shown, length, set_per_mm, u_shown_mm, u_moved_mm, step_mm, n, scatter)


def odd_ones(shown_mm: Sequence[float], moved_mm: Sequence[float], step_mm: float) -> list[int]:
    """Which of at least three repeats lie far off the others, against what the median of shown over moved makes."""
    if len(shown_mm) < 3:
        return []
    ratio = statistics.median(s / m for s, m in zip(shown_mm, moved_mm, strict=True))
    return blunders([s - ratio * m for s, m in zip(shown_mm, moved_mm, strict=True)], step_mm)


def odd_stations(shown_mm: Sequence[float], true_mm: Sequence[float], step_mm: float) -> list[int]:
    """Which of at least five stations lie far off the line of the others; the zero alone is told as such elsewhere."""
    return [k for k in blunders_of_line(true_mm, shown_mm, step_mm) if true_mm[k] != 0]


def review_repeats(shown_mm: Sequence[float], moved_mm: Sequence[float], step_mm: float) -> list[Finding]:
    """A finding on each repeat that lies far off the others, by its number from 1; asked about, never dropped."""
    return [_doubtful(k, shown_mm[k], moved_mm[k]) for k in odd_ones(shown_mm, moved_mm, step_mm)]


def review_stations(shown_mm: Sequence[float], true_mm: Sequence[float], step_mm: float) -> list[Finding]:
    """A finding on each station that lies far off the line of the others; asked about, never dropped."""
    return [_doubtful(k, shown_mm[k], true_mm[k]) for k in odd_stations(shown_mm, true_mm, step_mm)]


def _doubtful(row: int, shown_mm: float, moved_mm: float) -> Finding:
    return finding(
        "doubtful",
        "caution",
        "Check {n}, {shown} for {moved}, lies far off the others.",
        "Move it once more; correct or delete that line if it was a slip.",
        n=row + 1,
        shown=Mm(shown_mm),
        moved=Mm(moved_mm),
    )


def least_move(u_move_mm: float, travel_mm: float, error_mm: float) -> float:
    """The shortest move (mm), known to ``u_move_mm``: its counts err by ``error_mm`` over the travel (k = 2)."""
    return 2 * travel_mm * u_move_mm / error_mm

"""What a check of the display comes to, whatever it corrects by; and the words that several of them share."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from vernus.core.budget import Budget
from vernus.core.finding import Finding, Fine, Mm, Sentence, conclusion
from vernus.core.prove.calibrate.compensation import SegmentTable
from vernus.core.prove.calibrate.counts import Counts
from vernus.core.prove.calibrate.factor import LinearFactor
from vernus.core.prove.calibrate.profile import Keyed
from vernus.core.units import format_pm
from vernus.job.prove.calibrate.setting import (
    CalibrationSetting,
)


@dataclass(frozen=True)
class CalibrationResult:
    """One run: what to key in, errors before (as read) and after (as they would be), and what to do.

    ``verdict`` judges what is set now over the travel: ``error_mm`` with its ``budget`` against the accuracy wanted,
    over ``over_mm``.
    ``settled`` is true when what is set now can stay. ``thermal_mm`` is what temperature made over the longest move.
    """

    findings: tuple[Finding, ...]
    instruction: Sentence
    counts: Counts | None = None
    factor: LinearFactor | None = None
    table: SegmentTable | None = None
    true_mm: tuple[float, ...] = ()
    before_mm: tuple[float, ...] = ()
    after_mm: tuple[float, ...] = ()
    value_to_key: float | None = None
    keyed: Keyed | None = None
    error_mm: float | None = None
    over_mm: float | None = None
    travel_mm: float | None = None
    """The travel as it was measured; None where nobody did."""
    budget: Budget | None = None
    verdict: Literal["pass", "fail", "unsure"] | None = None
    settled: bool = False
    thermal_mm: float | None = None
    shown_of_true: float = 1.0
    """How much the display shows of a true move as it is set: an error in what is shown is known so much worse."""

    @property
    def error_u_mm(self) -> float | None:
        """U of ``error_mm``: the budget's, which is of true lengths, in what the display shows."""
        return None if self.budget is None else self.budget.expanded * self.shown_of_true

    def middle_and_full(self) -> tuple[float, float] | None:
        """The error (mm) as read nearest to the middle and at the far end; None with fewer than three stations."""
        rows = sorted(zip(self.true_mm, self.before_mm, strict=True))
        if self.counts is not None or len({true for true, _ in rows}) < 3:
            return None
        middle = (rows[0][0] + rows[-1][0]) / 2
        return min(rows, key=lambda row: abs(row[0] - middle))[1], rows[-1][1]

    def measured(self, per: Literal["in", "mm"]) -> str:
        """What was measured, counts per ``per`` or the factor, with the U of its budget (95 %) where there is one."""
        relative = None if self.budget is None or not self.over_mm else self.budget.expanded / self.over_mm
        if self.counts is not None:
            counts = self.counts.counts_per_inch if per == "in" else self.counts.counts_per_mm
            return f"{counts:.7g}" if relative is None else format_pm(counts, relative * counts)
        if self.factor is None:
            return ""
        known = relative is not None and self.factor.u_factor is not None
        return (
            format_pm(self.factor.factor, (relative or 0.0) * self.factor.factor)
            if known
            else (f"{self.factor.factor:.6f}")
        )


def base(setting: CalibrationSetting) -> dict[str, Any]:
    """What every result tells of its checks, as keywords."""
    return {
        "true_mm": setting.true,
        "before_mm": tuple(s - t for s, t in zip(setting.shown, setting.true, strict=True)),
        "thermal_mm": setting.thermal_mm,
        "travel_mm": setting.travel_mm,
    }


def leave_it(error_mm: float, setting: CalibrationSetting, over_mm: float) -> Sentence:
    """The display may stay as it is set: what that makes, and when to look again."""
    return conclusion(
        "Leave the display as it is set: over {over} this makes {error}, inside the {wanted} wanted. "
        "When it is checked again stands under Log.",
        {"error": Fine(error_mm), "wanted": Fine(setting.wanted_mm), "over": over_words(setting.travel_mm, over_mm)},
    )


def over_words(travel_mm: float | None, over_mm: float) -> Sentence:
    """What an error is told over: the travel where that was measured, else the length itself."""
    return Sentence("{mm}", {"mm": Mm(over_mm)}) if travel_mm is None else Sentence("the travel")

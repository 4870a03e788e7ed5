"""How far an axis really travels, and how well that is known.

Two marks, each read with a tool of division *a*: u² = 2·(a/2)²/3 + s²/n over n repeats
(JCGM 100:2008 (GUM) 4.3.7 for the marks, 4.2 for the repeats).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.budget import Budget, BudgetLine, blunders, combine
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, finding


@dataclass(frozen=True)
class Travel:
    """A measured travel: the mean, its standard uncertainty, and how many readings stand behind it."""

    travel_mm: float
    readings: int
    budget: Budget
    findings: tuple[Finding, ...] = ()

    @property
    def u_mm(self) -> float:
        """Its standard uncertainty."""
        return self.budget.u

    @property
    def expanded_mm(self) -> float:
        """U for 95 %."""
        return self.budget.expanded


def measure_travel(readings_mm: Sequence[float], division_mm: float) -> Travel:
    """Travel from n readings (mm) between two marks with a tool of division ``division_mm``.

    Raises BadInputError for no reading, a division that isn't positive, or a travel that isn't.
    """
    if not readings_mm:
        raise BadInputError("No travel reading yet; measure between the two end marks.")
    if not division_mm > 0:
        raise BadInputError("The tool's division must be larger than zero, such as 1 mm or 1/32 in for a tape.")
    bad = next((r for r in readings_mm if not r > 0), None)
    if bad is not None:
        raise BadInputError(f"A travel of {bad:g} mm is not possible; measure from mark to mark as a positive length.")
    n = len(readings_mm)
    mean = math.fsum(readings_mm) / n
    finer = "Measure with a finer tool, or count the turns of the handwheel."
    lines = [BudgetLine("the tool's division, at both marks", division_mm / 2, sensitivity=2**0.5, remedy=finer)]
    findings: list[Finding] = []
    if n > 1:
        spread = math.sqrt(math.fsum((r - mean) ** 2 for r in readings_mm) / (n - 1))
        more = "Drive to both ends and read again, a few times."
        lines.append(BudgetLine("how well it repeats", spread / math.sqrt(n), "normal", freedom=n - 1, remedy=more))
        widest = max(readings_mm) - min(readings_mm)
        odd = blunders(readings_mm, division_mm)
        findings += [_odd(n, readings_mm[n]) for n in odd]
        if widest > 4 * division_mm and not odd:
            findings.append(
                finding(
                    "travel-repeats-apart",
                    "caution",
                    "The {n} readings of the travel are up to {widest} apart, more than four divisions of the tool.",
                    "Drive to both ends again and scribe fresh marks; discard the reading that doesn't repeat.",
                    n=n,
                    widest=Mm(widest),
                )
            )
    else:
        findings.append(
            finding(
                "travel-one-reading",
                "info",
                "The travel rests on one reading, so a slip in it would go unseen.",
                "Drive to both ends once more, mark, and log a second reading.",
            )
        )
    return Travel(mean, n, combine(lines), tuple(findings))


def _odd(row: int, reading_mm: float) -> Finding:
    """A reading far off the others: asked about, never dropped."""
    return finding(
        "doubtful",
        "caution",
        "Reading {n} of the travel, {reading}, lies far off the others.",
        "Drive to both ends and read again; correct or delete that one if it was a slip.",
        n=row + 1,
        reading=Mm(reading_mm),
    )


def handwheel_travel(turns: float, lead_mm: float, backlash_mm: float = 0.0, *, same_side: bool = True) -> float:
    """Travel (mm) from handwheel turns: turns × lead, less the backlash unless both marks were approached alike.

    Raises BadInputError for a lead or number of turns that isn't positive, or a negative backlash.
    """
    if not lead_mm > 0:
        raise BadInputError("The lead of the screw must be larger than zero, such as 5 mm or 0.2 in.")
    if not turns > 0:
        raise BadInputError("Count the turns from mark to mark as a positive number, such as 53.24.")
    if backlash_mm < 0:
        raise BadInputError("The backlash can't be negative.")
    return turns * lead_mm - (0.0 if same_side else backlash_mm)


def compare_methods(first: Travel, second: Travel) -> Finding | None:
    """A finding when two ways of measuring differ by more than both U explain: few readings explain much."""
    limit = math.hypot(first.expanded_mm, second.expanded_mm)
    apart = second.travel_mm - first.travel_mm
    if abs(apart) <= limit:
        return None
    return finding(
        "travel-methods-differ",
        "caution",
        "The two ways of measuring the travel differ by {apart}; their uncertainty explains only {limit}.",
        "Count the handwheel turns again, take up the backlash at both marks, and look for a slipped mark.",
        apart=Fine(apart, sign=True),
        limit=Fine(limit),
    )


def useful_travel(mechanical_mm: float, give_up_low_mm: float, give_up_high_mm: float) -> float:
    """What is left of the mechanical travel (mm) after what is given up on purpose at either end."""
    for amount in (give_up_low_mm, give_up_high_mm):
        if amount < 0:
            raise BadInputError("Travel given up can't be negative; write 0 to keep it all.")
    left = mechanical_mm - give_up_low_mm - give_up_high_mm
    if left <= 0:
        raise BadInputError(
            f"Giving up {give_up_low_mm + give_up_high_mm:g} mm leaves nothing of {mechanical_mm:g} mm of travel."
        )
    return left

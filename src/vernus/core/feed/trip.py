"""Where the trip stops of a power feed go: before the hard stop and before the scale runs out.

Trip = min(hard stop − clearance, scale end − its margin) − run-on at the high end; the low end is the mirror image.
Scale end = axis position with the reader at the end of the measuring length. Run-on is measured at the fastest feed,
tripped in mid travel, both directions; until then it is estimated v·t_switch + v·t_brake/2, v in mm/s. It grows with
v², so a slow measurement says nothing of a rapid one. All lengths in mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding

Ends = tuple[float, float]
CLEARANCE_MM = 3.0
SPEED_WORDS = {"slow": "slow", "rapid": "rapid"}


def estimated_run_on(speed_mm_per_min: float, switch_s: float, brake_s: float) -> float:
    """Run-on (mm) until it is measured: full speed until the switch lets go, then an even stop."""
    if min(speed_mm_per_min, switch_s, brake_s) < 0:
        raise BadInputError("Speed and times can't be negative.")
    v = speed_mm_per_min / 60
    return v * switch_s + v * brake_s / 2


@dataclass(frozen=True)
class RunOn:
    """One measured run-on: direction up or not, slow or rapid, and how far it ran on (mm)."""

    up: bool
    speed: Literal["slow", "rapid"]
    run_on_mm: float


@dataclass(frozen=True)
class Stops:
    """Trip positions (low, high), what decides each, the travel left under power, findings, and what to do."""

    run_on_mm: Ends
    trip_mm: Ends
    decided_by: tuple[str, str]
    left_mm: float
    findings: tuple[Finding, ...]
    instruction: Sentence


def worst_run_on(measured: Sequence[RunOn]) -> tuple[Ends | None, list[Finding]]:
    """Run-on (low end, high end) from rapid measurements in both directions; None while one is missing."""
    backward = [run for run in measured if run.run_on_mm < 0]
    measured = [run for run in measured if run.run_on_mm >= 0]
    found = [_backward(run) for run in backward[:1]]
    rapid = {up: [m.run_on_mm for m in measured if m.speed == "rapid" and m.up is up] for up in (False, True)}
    if all(rapid.values()):
        return (max(rapid[False]), max(rapid[True])), found
    toward = ((False, "toward the {@low} end"), (True, "toward the {@high} end"))
    missing = Sentence(" and ".join(words for up, words in toward if not rapid[up]))
    slow = any(m.speed == "slow" for m in measured) and not any(m.speed == "rapid" for m in measured)
    return None, [
        *found,
        finding(
            "run-on-not-measured",
            "caution",
            "The run-on at rapid is not measured {missing}" + ("; slow ones say nothing of it." if slow else "."),
            "Trip it with temporary stops in mid travel, slow first, then rapid, and note where it comes to rest.",
            missing=missing,
        ).told_of("feed"),
    ]


def _backward(run: RunOn) -> Finding:
    return finding(
        "run-on-backward",
        "stop",
        "A test running toward the " + ("high" if run.up else "low") + " end stood still {by} before it tripped.",
        "Tripped and stood, or the way it ran, are the wrong way round: which was it? It isn't counted until then.",
        by=Mm(-run.run_on_mm),
    ).told_of("feed")


def place_stops(
    hard_mm: Ends,
    run_on_mm: Ends,
    *,
    clear_mm: float = CLEARANCE_MM,
    scale_mm: Ends | None = None,
    scale_margin_mm: float = 0.0,
) -> Stops:
    """Trip positions on the axis; ``scale_mm`` are its ends (None: no scale).

    Raises BadInputError when an end lies beyond the other one, or for a negative allowance.
    """
    for ends, what in ((hard_mm, "hard stop"), (scale_mm, "scale end")):
        if ends is not None and not ends[0] < ends[1]:
            raise BadInputError(f"The low {what} must lie below the high one.")
    if min(*run_on_mm, clear_mm, scale_margin_mm) < 0:
        raise BadInputError("Run-on, clearance and margin can't be negative.")
    low, high = hard_mm[0] + clear_mm, hard_mm[1] - clear_mm
    by_low = by_high = "hard stop"
    if scale_mm is not None:
        if scale_mm[0] + scale_margin_mm > low:
            low, by_low = scale_mm[0] + scale_margin_mm, "scale"
        if scale_mm[1] - scale_margin_mm < high:
            high, by_high = scale_mm[1] - scale_margin_mm, "scale"
    trip = (low + run_on_mm[0], high - run_on_mm[1])
    found = _review(hard_mm, run_on_mm, trip, (low, high), (by_low, by_high))
    return Stops(run_on_mm, trip, (by_low, by_high), trip[1] - trip[0], tuple(found), _instruct(trip, found))


def _review(
    hard: Ends,
    run_on: Ends,
    trip: Ends,
    limit: Ends,
    by: tuple[str, str],
) -> list[Finding]:
    found = []
    if trip[0] >= trip[1]:
        found.append(
            finding(
                "no-room-for-stops",
                "stop",
                "With run-ons of {low} and {high} no travel is left between the trips.",
                "Rapid is too fast for this axis: limit it, shorten the braking, or use the feed without rapid.",
                low=Mm(run_on[0]),
                high=Mm(run_on[1]),
            )
        )
    if "scale" in by:
        lost = sum(abs(limit[n] - hard[n]) for n in range(2) if by[n] == "scale")
        found.append(
            finding(
                "scale-decides",
                "caution",
                "The scale ends before the hard stop does: its margin takes {lost} of the travel under power.",
                "Fit hard stops there too, so that a handwheel can't overrun it; a longer scale or a shifted reader "
                "gives it back.",
                lost=Mm(lost),
            ).told_of("scale")
        )
    return found


def _instruct(trip: Ends, found: Sequence[Finding]) -> Sentence:
    serious = next((f for f in found if f.severity == "stop"), None)
    if serious is not None:
        return serious.remedy
    return Sentence(
        "Set the trips at {low} and {high}, then run into each slowly, then at rapid, with a hand on the stop.",
        {"low": Mm(trip[0], sign=True), "high": Mm(trip[1], sign=True)},
    )

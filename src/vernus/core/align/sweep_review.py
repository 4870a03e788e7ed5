"""What a sweep's figures mean: findings, and the comparison of two passes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.align.sweep import Alignment, Indicator, finer_than_the_dial, which_way
from vernus.core.finding import BodySide, Finding, Fine, Mm, Rate, Tiny, finding

LEVER_MM = 15.0  # length of a common test indicator's lever; common practice, no source
SHORT_SWEEP = 0.75  # of the length the tolerance is for
LONGEST = 0.95  # of the longest stretch there is counts as all of it
MovedBy = Literal["dial", "turns", "tightening"]


@dataclass(frozen=True)
class Gain:
    """How much of the advised correction arrived: 1 all of it, 0 none, −1 the wrong way. None: can't be judged."""

    value: float
    u: float

    @property
    def judged(self) -> bool:
        """Whether the gain is known well enough to say anything (its own u below 0.15)."""
        return self.u < 0.15


def review_sweep(
    sweep: Alignment,
    readings_mm: Sequence[float],
    indicator: Indicator,
    screws_mm: tuple[float, float] | None = None,
    longest_mm: float | None = None,
) -> list[Finding]:
    """Every finding on one sweep; readings in mm as logged, in the order they were logged.

    ``longest_mm`` is the longest stretch that can be swept; who sweeps that is asked for no more.
    """
    findings = [*_moved_base(sweep, readings_mm, indicator), *_steep_lever(sweep, readings_mm, indicator)]
    findings += [_odd(sweep, readings_mm, row) for row in sweep.odd]
    if finer_than_the_dial(readings_mm, indicator.division_mm):
        findings.append(_doubtful(max(abs(r) for r in readings_mm), indicator.division_mm))
    elif sweep.verdict == "unsure":
        findings.append(_cannot_tell(sweep))
    if sweep.verdict == "fail":
        findings.append(_tilted(sweep))
    if sweep.bow_mm is not None and sweep.sagging and sweep.bow_mm > sweep.tolerance_mm / 4:
        findings.append(_sag(sweep.bow_mm, sweep.tolerance_mm))
    elif sweep.bow_mm is not None and sweep.bow_mm > sweep.tolerance_mm:
        sure = sweep.bow_verdict == "fail"
        why = (
            ": the body is bent. End screws can't take that out."
            if sure
            else ": the body is bent, or a reading is wrong."
        )
        findings.append(
            finding(
                "bow-over-tolerance" if sure else "bow-unsure",
                "caution",
                "The readings lie in a zone {bow} wide, more than the tolerance of {tolerance}" + why,
                "Look for dirt, a high spot or a strained middle screw."
                if sure
                else "Read them back once, and again at the station farthest from the line; then it can be told.",
                bow=Fine(sweep.bow_mm),
                tolerance=Fine(sweep.tolerance_mm),
            )
        )
    return findings + _reach(sweep, screws_mm, longest_mm)


def _odd(sweep: Alignment, readings_mm: Sequence[float], row: int) -> Finding:
    """A reading far off what the others make: asked about, never dropped."""
    return finding(
        "doubtful",
        "caution",
        "Reading {n}, {reading} at {station}, lies far off what the others make.",
        "Go back to that station and read it again; correct or delete that line if it was a slip, dirt or a burr.",
        n=row + 1,
        reading=Fine(readings_mm[row], sign=True),
        station=Mm(sweep.stations_mm[row]),
    )


def _moved_base(sweep: Alignment, readings_mm: Sequence[float], indicator: Indicator) -> list[Finding]:
    first: dict[float, float] = {}
    last: dict[float, float] = {}
    for station, reading in zip(sweep.stations_mm, readings_mm, strict=True):
        first.setdefault(station, reading)
        last[station] = reading
    station = max(first, key=lambda x: abs(last[x] - first[x]))
    apart = last[station] - first[station]
    if abs(apart) <= 2 * indicator.division_mm * (1 + 1e-9):
        return []
    return [
        finding(
            "indicator-moved",
            "stop",
            "At {station} the first and the last reading differ by {apart}, more than two divisions: "
            "the indicator or its base moved during the sweep.",
            "Clamp the base and the stem, and sweep again before touching a screw.",
            station=Mm(station),
            apart=Fine(apart, sign=True),
        )
    ]


def _steep_lever(sweep: Alignment, readings_mm: Sequence[float], indicator: Indicator) -> list[Finding]:
    swing = max(readings_mm) - min(readings_mm)
    error = swing**2 * abs(math.sin(math.radians(indicator.angle_deg))) / (8 * LEVER_MM)
    if error <= max(indicator.division_mm / 2, sweep.tolerance_mm / 10):
        return []
    return [
        finding(
            "steep-lever",
            "caution",
            "With the lever at {angle:.0f}° over a swing of {swing} its curvature alone makes about {error}.",
            "Hold the lever nearer to parallel with the surface, or rough the body in first.",
            angle=abs(indicator.angle_deg),
            swing=Fine(swing),
            error=Fine(error),
        )
    ]


def _tilted(sweep: Alignment) -> Finding:
    return finding(
        "tilted",
        "caution",
        "Over {over} it {way} {rise} ± {expanded} toward the {end} end, more than the tolerance of {tolerance}.",
        "Correct the tilt, then sweep again.",
        over=Mm(sweep.judged_mm),
        way=which_way(sweep),
        end=BodySide("right"),
        rise=Fine(abs(sweep.rise_mm)),
        expanded=Fine(sweep.expanded_mm),
        tolerance=Fine(sweep.tolerance_mm),
    )


def _doubtful(most_mm: float, division_mm: float) -> Finding:
    return finding(
        "doubtful",
        "caution",
        "Every reading lies below one division of the dial ({division}); the largest is {most}.",
        "Look at the unit the readings were typed in, and at the dial's division; then type them again.",
        division=Fine(division_mm),
        most=Tiny(most_mm),
    )


def _cannot_tell(sweep: Alignment) -> Finding:
    if sweep.two_only:
        return finding(
            "two-readings",
            "info",
            "By two readings it {way} {rise} over {over} toward the {end} end; nothing shows how well they repeat, "
            "so this can't be told.",
            "Read more stations between the two, or these two again.",
            way=which_way(sweep),
            end=BodySide("right"),
            rise=Fine(abs(sweep.rise_mm)),
            over=Mm(sweep.judged_mm),
        )
    return finding(
        "cannot-tell",
        "info",
        "Over {over} it {way} {rise} ± {expanded} toward the {end} end, against a tolerance of {tolerance}: this sweep "
        "can't tell.",
        "An uncertainty of {settle} would settle it: sweep a longer stretch, read more stations, or use an indicator "
        "with finer divisions."
        if sweep.settle_mm > 0
        else "The value lies on the tolerance itself, so no measurement settles it: correct it anyway.",
        over=Mm(sweep.judged_mm),
        way=which_way(sweep),
        end=BodySide("right"),
        rise=Fine(abs(sweep.rise_mm)),
        expanded=Fine(sweep.expanded_mm),
        tolerance=Fine(sweep.tolerance_mm),
        settle=Fine(sweep.settle_mm),
    )


def _sag(bow_mm: float, tolerance_mm: float) -> Finding:
    return finding(
        "sag",
        "caution" if bow_mm > tolerance_mm else "info",
        "A bow of {bow}, symmetric about the middle: table sag or a bowed extrusion, not misalignment.",
        "End screws can't take it out. Correct the tilt only; if the bow matters, support the body in the middle.",
        bow=Fine(bow_mm),
    )


def _reach(sweep: Alignment, screws_mm: tuple[float, float] | None, longest_mm: float | None) -> list[Finding]:
    """The sweep against the length its tolerance is for, unless nothing longer can be swept."""
    low, high = min(sweep.stations_mm), max(sweep.stations_mm)
    left, right = (low, high) if screws_mm is None else sorted(screws_mm)
    outside = max(low - left, right - high, 0.0)
    short = sweep.swept_mm < SHORT_SWEEP * sweep.judged_mm or outside > 0.25 * sweep.swept_mm
    if not short or (longest_mm is not None and sweep.swept_mm >= LONGEST * min(longest_mm, sweep.judged_mm)):
        return []
    return [
        finding(
            "short-sweep",
            "info" if sweep.verdict == "pass" else "caution",
            "The sweep covers {swept} of the {judged} it is judged over: the uncertainty there is {grows:.1f} times "
            "that of the sweep.",
            "Sweep the longest stretch the travel allows before moving a screw.",
            swept=Mm(sweep.swept_mm),
            judged=Mm(sweep.judged_mm),
            grows=sweep.judged_mm / sweep.swept_mm,
        )
    ]


def gain_between(before: Alignment, after: Alignment, advised_slope: float | None = None) -> Gain:
    """g = (b_before − b_after)/advised with its standard uncertainty (first-order propagation, GUM 5.1.2).

    ``advised_slope`` is the change of slope that was advised; all of b_before where it isn't given.
    """
    b0, b1 = before.line.slope, after.line.slope
    whole = b0 if advised_slope is None else advised_slope
    if whole == 0:
        return Gain(math.nan, math.inf)
    by_before = b1 / b0**2 if advised_slope is None else 1 / whole
    u = math.hypot(after.line.u_slope / whole, by_before * before.line.u_slope)
    return Gain((b0 - b1) / whole, u)


def compare_passes(before: Alignment, after: Alignment, moved_by: MovedBy) -> list[Finding]:
    """What two passes in a row say about the correction made between them.

    Who brings the dial to its target gets a gain near 1 even with the sense noted wrong, so a reversed sense shows
    only when the move was made by turns or shims.
    """
    gain = gain_between(before, after)
    if not gain.judged or after.verdict == "pass":
        return []
    values = {"was": Rate(before.line.slope), "now": Rate(after.line.slope)}
    if gain.value < -0.5:
        return [_wrong_way(moved_by, values)]
    if abs(gain.value) <= 0.25:
        return [
            finding(
                "screw-stuck",
                "caution",
                "The tilt hardly changed between the passes ({was}, now {now}): the screw did not let go, or "
                "tightening took the move back.",
                "Loosen the moved end fully, tap it over, and watch the dial while tightening.",
                **values,
            )
        ]
    return []


def _wrong_way(moved_by: MovedBy, values: dict[str, Rate]) -> Finding:
    if moved_by == "turns":
        return finding(
            "sense-reversed",
            "stop",
            "The tilt doubled instead of going away ({was}, now {now}): the indicator reads the other way round.",
            "Press the surface toward the indicator and see whether the reading grows; set the sense to match, "
            "then take the move back.",
            **values,
        )
    return finding(
        "moved-wrong-way",
        "stop",
        "The tilt grew instead of going away ({was}, now {now}) although the dial was followed.",
        "Turn a little toward and see whether the dial moves to the target; check that the stations run to the "
        "right as you face the body, and that the held screw was tight.",
        **values,
    )

"""A part as proof: where to drive to, and what its measured holes say of both axes, held against Calibrate."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.budget import Verdict, judge, written_step
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Ppm, Sentence, finding, plain
from vernus.core.prove.circle import Halved, Place, circle_of_holes, halve, row_of_holes
from vernus.core.prove.part_check import PartCheck, check_distances, check_places, off_in_place
from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis, Compensation, PlaceMeasured, SpanMeasured, TrialPart
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.known.axis_figures import accuracy
from vernus.job.known.display import shown_step
from vernus.job.machine.travel import travel_result
from vernus.job.prove.calibrate.result import calibration_result, latest_run
from vernus.job.refusals import limit_findings, refusal
from vernus.job.scope import drives_patterns, on_display

DECIMALS: dict[UnitSystem, int] = {"mm": 3, "in": 4}
"""Decimals of a place to drive to: as fine as a display shows it."""


@dataclass(frozen=True)
class PartResult:
    """The middle found, the holes to drive to (mm from it), what was measured of them, findings, and what to do."""

    middle: tuple[Halved | None, Halved | None]
    holes: tuple[Place, ...]
    check: PartCheck | None
    findings: tuple[Finding, ...]
    instruction: Sentence
    done: bool

    def shown(self, number: int) -> Place:
        """What the display shows over hole ``number`` (from 1): its place from the middle found."""
        x, y = self.holes[number - 1]
        left, front = ((m.middle_mm if m is not None else 0.0) for m in self.middle)
        return x + left, y + front


def off_places(part: TrialPart, result: PartResult) -> dict[int, Place] | None:
    """By hole how far it lies off its place (mm) once scales, squareness and datum are taken out; None by distances."""
    if result.check is None or len(part.places) < 3:
        return None
    return {p.hole: (r[0], r[1]) for p, r in zip(part.places, result.check.residuals_mm, strict=True)}


def found_places(part: TrialPart, result: PartResult) -> dict[int, Place] | None:
    """By hole how far it was found off its place (mm), scales and squareness still in it; None by distances."""
    if result.check is None or len(part.places) < 3:
        return None
    wanted = [result.holes[p.hole - 1] for p in part.places]
    off = off_in_place(wanted, [(p.x.mm, p.y.mm) for p in part.places])
    return {p.hole: o for p, o in zip(part.places, off, strict=True)}


def plane_axes(job: Job) -> tuple[Axis, Axis] | None:
    """The two axes a pattern is driven by: along x and along y, both read on the display; None on a lathe."""
    if not drives_patterns(job):
        return None
    first, second = (next(a for a in job.axes() if on_display(a) and a.direction[1:] == c) for c in "xy")
    return first, second


def trial_part(job: Job, new_id: str) -> TrialPart:
    """The part in hand, a fresh one if there is none yet."""
    found = job.all(TrialPart)
    return found[-1] if found else TrialPart(id=new_id)


def with_place(part: TrialPart, hole: int, x: LengthEntry, y: LengthEntry) -> TrialPart:
    """The part with one hole measured; measured again, it takes the first one's place."""
    rest = [p for p in part.places if p.hole != hole]
    return _changed(part, places=tuple(sorted([*rest, PlaceMeasured(hole=hole, x=x, y=y)], key=lambda p: p.hole)))


def with_span(part: TrialPart, first: int, second: int, apart: LengthEntry) -> TrialPart:
    """The part with one distance between two holes; measured again, it takes the first one's place.

    Raises BadInputError for a distance from a hole to itself.
    """
    if first == second:
        raise BadInputError("A distance goes from one hole to another one; give two numbers.")
    rest = [s for s in part.spans if {s.first, s.second} != {first, second}]
    return _changed(part, spans=(*rest, SpanMeasured(first=first, second=second, apart=apart)))


def without_measured(part: TrialPart, row: int) -> TrialPart:
    """The part without one row of what was measured: places first, then distances."""
    count = len(part.places)
    if row < count:
        return _changed(part, places=(*part.places[:row], *part.places[row + 1 :]))
    return _changed(part, spans=(*part.spans[: row - count], *part.spans[row - count + 1 :]))


def next_hole(part: TrialPart, holes: int) -> int | None:
    """The next hole to be measured; None once all are."""
    done = {p.hole for p in part.places}
    return next((n for n in range(1, holes + 1) if n not in done), None)


def _changed(part: TrialPart, **changes: object) -> TrialPart:
    made = part.with_(**changes)
    assert isinstance(made, TrialPart)
    return made


def part_result(job: Job, part: TrialPart) -> PartResult:
    """What a part comes to; nothing is computed from a figure off its limits."""
    axes = plane_axes(job)
    none: tuple[Halved | None, Halved | None] = (None, None)
    limits = limit_findings(part)
    if axes is None or limits:
        words = limits[0].remedy if limits else Sentence("A pattern needs two axes read on the display, along X and Y.")
        return PartResult(none, (), None, tuple(limits), words, False)
    findings: list[Finding] = []
    try:
        middle = _middle(job, part, axes)
        holes = tuple(_pattern(part))
    except BadInputError as error:
        return PartResult(none, (), None, (refusal(error),), plain(str(error)), False)
    if not holes:
        asked = "pitch" if part.pattern == "row" else "radius"
        ask = Sentence(f"Give the {asked} of the holes, and touch both sides of the part in X and in Y to halve it.")
        return PartResult(middle, (), None, (), ask, False)
    check = None
    try:
        check = _check(part, holes, max(shown_step(job, a) for a in axes))
    except BadInputError as error:
        if _measured(part) >= 3:
            findings.append(refusal(error))
    if check is not None:
        findings += [*_odd_rows(part, check), *(() if check.odd else _review(job, axes, check, holes))]
    serious = next((f.remedy for f in findings if f.severity != "info"), None)
    words = _instruct(part, holes, middle, check) if serious is None else serious
    done = check is not None and check.freedom > 0 and serious is None
    return PartResult(middle, holes, check, tuple(findings), words, done)


def _measured(part: TrialPart) -> int:
    return max(len(part.places), len(part.spans))


def _middle(job: Job, part: TrialPart, axes: tuple[Axis, Axis]) -> tuple[Halved | None, Halved | None]:
    """The middle found by halving, along both axes."""
    edges = ((part.x_first, part.x_second), (part.y_first, part.y_second))
    finder = mm_of(part.finder) or 0.0
    found = [
        None if a is None or b is None else halve(a.mm, b.mm, finder, part.touched, shown_step(job, axis))
        for (a, b), axis in zip(edges, axes, strict=True)
    ]
    return found[0], found[1]


def _pattern(part: TrialPart) -> list[Place]:
    count, radius, pitch = round(part.holes), mm_of(part.radius), mm_of(part.pitch)
    if part.pattern == "row":
        return [] if pitch is None else row_of_holes(count, pitch, part.angle_deg)
    if radius is None:
        return []
    return circle_of_holes(count, radius, part.start_deg, part.span_deg if part.pattern == "arc" else 360.0)


def _step(measured_mm: Sequence[Place], display_mm: float) -> float:
    """One step of a hole's place (mm): of the tool, as its figures are written, and of the display it was driven by."""
    return math.hypot(written_step([v for place in measured_mm for v in place]), display_mm)


def _check(part: TrialPart, holes: tuple[Place, ...], display_mm: float) -> PartCheck | None:
    """What was measured, judged: places where there are three, else distances. Raises BadInputError."""
    for number in (*(p.hole for p in part.places), *(n for s in part.spans for n in (s.first, s.second))):
        if number > len(holes):
            raise BadInputError(f"Hole {number} was measured, but the pattern has {len(holes)} only.")
    if len(part.places) >= 3:
        got = [(p.x.mm, p.y.mm) for p in part.places]
        return check_places([holes[p.hole - 1] for p in part.places], got, _step(got, display_mm))
    if len(part.spans) >= 3:
        starts, ends = [holes[s.first - 1] for s in part.spans], [holes[s.second - 1] for s in part.spans]
        apart = [s.apart.mm for s in part.spans]
        return check_distances(starts, ends, apart, _step([(mm, mm) for mm in apart], display_mm))
    return None


def _instruct(
    part: TrialPart, holes: tuple[Place, ...], middle: tuple[Halved | None, Halved | None], check: PartCheck | None
) -> Sentence:
    if check is not None:
        if check.freedom == 0:
            return Sentence("Measure one hole or distance more: as it is, nothing says how far to trust the figures.")
        return Sentence("The part agrees with the display as far as it can tell. Keep it, and drill another in a year.")
    if _measured(part):
        return Sentence("Go on measuring: three holes not in one line, or distances in three directions.")
    lead = "" if None not in middle else "Zero the display over the middle. "
    words = "Drive to each hole as the table says, always from the same side, and drill. Then measure the part cold."
    if not part.places and len(holes) < 3:
        words += " Three holes not in one line can be judged."
    return Sentence(lead + words)


def _odd_rows(part: TrialPart, check: PartCheck) -> list[Finding]:
    """What was measured far off what the rest makes of the part: asked about before anything is concluded."""
    found: list[Finding] = []
    by_places = len(part.places) >= 3
    for row in check.odd:
        what = f"hole {part.places[row].hole}" if by_places else f"{part.spans[row].first} to {part.spans[row].second}"
        found.append(
            finding(
                "doubtful",
                "caution",
                "{hole}: measured far off the place that the others give it.",
                "Measure it again; correct or delete that line if it was a slip, a chip or a burr.",
                hole=what,
            )
        )
    return found


def _review(job: Job, axes: tuple[Axis, Axis], check: PartCheck, holes: tuple[Place, ...]) -> list[Finding]:
    """Both scales against the accuracy wanted and against Calibrate, and the squareness over the part."""
    found: list[Finding] = []
    for axis, scale, expanded in (
        (axes[0], check.scale_x, check.expanded_x),
        (axes[1], check.scale_y, check.expanded_y),
    ):
        if expanded is None:
            continue
        found += _scale_findings(job, axis, scale - 1, expanded)
    size = max(math.dist(a, b) for a in holes for b in holes)
    sure = check.expanded_square
    wanted = max(accuracy(a).value for a in axes)
    if sure is not None and size > 0 and judge(check.squareness * size, sure * size, wanted).verdict == "fail":
        found.append(
            finding(
                "part-not-square",
                "caution",
                "{x} and {y} are {off} out of square over {size}: the angle is {way} 90°.",
                "No display takes that out: look at the gibs of both, at the head's tram, and whether the part moved.",
                x=axes[0].name,
                y=axes[1].name,
                off=Fine(abs(check.squareness) * size),
                size=Mm(size),
                way="below" if check.squareness > 0 else "above",
            )
        )
    return found


def part_verdict(job: Job, axis: Axis) -> tuple[float, float, Verdict] | None:
    """What a part measured says of the display of an axis over its travel: error, U (mm) and verdict; None of neither.

    Against the accuracy wanted.
    """
    axes, part = plane_axes(job), trial_part(job, "none")
    if axes is None or axis.id not in (a.id for a in axes):
        return None
    check = part_result(job, part).check
    over = travel_result(job, axis).useful_mm
    if check is None or not over:
        return None
    x = axis.id == axes[0].id
    expanded = check.expanded_x if x else check.expanded_y
    if expanded is None:
        return None
    off = ((check.scale_x if x else check.scale_y) - 1) * over
    verdict = "unsure" if check.odd else judge(off, expanded * over, accuracy(axis).value).verdict
    return off, expanded * over, verdict


def _scale_findings(job: Job, axis: Axis, off: float, expanded: float) -> list[Finding]:
    travel, wanted = travel_result(job, axis).useful_mm, accuracy(axis).value
    said = display_ppm(job, axis)
    values = {"axis": axis.name, "off": Ppm(off * 1e6), "u": f"{expanded * 1e6:.0f}"}
    if said is not None and abs(off - said[0]) > math.hypot(expanded, said[1]):
        return [
            finding(
                "part-differs",
                "caution",
                "Along {axis} the part came out {off} ± {u} ppm; Calibrate says {said} ± {its} ppm. They don't agree.",
                "Ask what differs: the reference of either, a part measured warm, a drill that ran, or lost motion.",
                **values,
                said=Ppm(said[0] * 1e6),
                its=f"{said[1] * 1e6:.0f}",
            )
        ]
    over = travel or 0.0
    if not over or judge(off * over, expanded * over, wanted).verdict != "fail":
        return []
    return [
        finding(
            "part-scale",
            "caution",
            "Along {axis} the part came out {off} ± {u} ppm: {makes} over the travel, where {wanted} is wanted.",
            "Check this axis on Calibrate over a long move, and key in what that says.",
            **values,
            makes=Fine(abs(off) * over),
            wanted=Fine(wanted),
        )
    ]


def display_ppm(job: Job, axis: Axis) -> tuple[float, float] | None:
    """True over shown less 1, and its U (95 %), as the latest check finds the display set now; None without one."""
    run = latest_run(job, axis)
    if run is None or not run.checks or any(c.run_id == run.id for c in job.of_axis(Compensation, axis.id)):
        return None
    result = calibration_result(job, run)
    if result.budget is None or not result.over_mm:
        return None
    sure = result.budget.expanded / result.over_mm
    if result.factor is not None:
        return 1 / result.factor.slope - 1, sure
    if result.counts is None:
        return None
    shown = math.fsum(s * t for s, t in zip(_shown(result.true_mm, result.before_mm), result.true_mm, strict=True))
    return math.fsum(t * t for t in result.true_mm) / shown - 1, sure


def _shown(true_mm: tuple[float, ...], errors_mm: tuple[float, ...]) -> list[float]:
    return [t + e for t, e in zip(true_mm, errors_mm, strict=True)]

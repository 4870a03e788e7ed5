"""The alignment passes of a job: what each says, what earlier ones taught, and what to do next."""

from __future__ import annotations

import itertools
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from vernus.core.align.corrections import (
    Roll,
    analyse_roll,
    learned_gain,
    review_range,
    review_roll,
    review_tightening,
    shims_at_ends,
    what_is_left,
)
from vernus.core.align.means import (
    By,
    follows_face,
    instruct,
    instruct_corners,
    instruct_roll,
    instruct_rule,
    instruct_shims,
    instruct_spacers,
    knows_shift,
)
from vernus.core.align.sweep import Alignment, Correction, Indicator, analyse_sweep, correct
from vernus.core.align.sweep_review import Gain, compare_passes, gain_between, review_sweep
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, finding, in_order, plain
from vernus.core.make.shims import ShimStock
from vernus.core.units import UnitSystem, format_fine
from vernus.job.align.held import ends_of, jacks_of
from vernus.job.document import Job
from vernus.job.doubts import doubt_finding, doubtful_reading
from vernus.job.entities import Axis, Plane, ScalePlan, Sweep, Target
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.happened import opened_findings
from vernus.job.known.axis_figures import Sourced
from vernus.job.known.lengths import family_of, reader_length
from vernus.job.machine.travel import travel_result
from vernus.job.make.mounts import shim_stock
from vernus.job.moments import instant
from vernus.job.refusals import limit_findings, refusal

PLANES: tuple[Plane, ...] = ("face", "edge")
"""The planes a body must pass in; roll is looked at besides."""


@dataclass(frozen=True)
class SweepResult:
    """One pass: the figures (None below two stations), the correction, and what to do; for roll passes the roll."""

    alignment: Alignment | None
    correction: Correction | None
    findings: tuple[Finding, ...]
    instruction: Sentence
    roll: Roll | None = None


def indicator_of(sweep: Sweep) -> Indicator:
    """The indicator as noted on a sweep; raises BadInputError."""
    return Indicator(sweep.sense, sweep.lever_deg, sweep.division.mm)


Screws = tuple[float, float]


@dataclass(frozen=True)
class Setting:
    """What the job knows beside a pass: what earlier moves achieved, the shims in the drawer, and its lengths (mm).

    ``screws`` is where the end screws are, for those that were not measured on the pass itself; ``judged_mm`` the
    length the tolerance is for where that isn't the distance of the screws, ``longest_mm`` what can be swept, ``by``
    what holds the ends where the pass doesn't say otherwise, ``pitch_mm`` that of the jack screws.
    """

    gain: float = 1.0
    stock: tuple[ShimStock, ...] = ()
    screws: Sourced[Screws] | None = None
    judged_mm: float | None = None
    longest_mm: float | None = None
    by: By = "pivot"
    pitch_mm: float = 0.0

    def by_on(self, sweep: Sweep) -> By:
        """What corrects a pass: as it says, or what holds the ends."""
        return self.by if sweep.by == "pivot" else sweep.by

    def pitch_on(self, sweep: Sweep) -> float:
        """The pitch of the jack screws (mm); 0 while it isn't known."""
        return mm_of(sweep.jack_pitch) or self.pitch_mm


@lru_cache(maxsize=4096)
def sweep_result(sweep: Sweep, previous: Sweep | None = None, setting: Setting = Setting()) -> SweepResult:
    """What a pass says; ``previous`` is the pass before it in the same series."""
    result = _sweep_result(sweep, previous, setting, screws_of(sweep, setting.screws))
    asked = doubtful_reading(sweep)
    told = [] if asked is None else [doubt_finding(asked)]
    told += _never_moved(sweep)
    if told:
        figures, roll = result.alignment, result.roll
        result = replace(
            result,
            alignment=None if figures is None else replace(figures, verdict="unsure"),
            roll=None if roll is None else replace(roll, verdict="unsure"),
            correction=None,
            findings=(*told, *result.findings),
        )
    figures, fix = result.alignment, result.correction
    ahead = None if is_through(sweep) else next_to_read(sweep)
    if ahead is not None and figures is not None and not any(f.severity == "stop" for f in result.findings):
        on = Sentence("Read on: the pass is not through. Next at {station}.", {"station": Mm(ahead.mm)})
        return replace(result, correction=None, instruction=on)
    if figures is not None and fix is not None and figures.verdict == "unsure" and not knows_shift(figures, fix):
        result = replace(result, correction=None)
    return replace(result, instruction=in_order(result.instruction, result.findings))


_EQUAL_STATIONS = 3
"""From so many stations on, live readings that are all the same are asked about."""


def _never_moved(sweep: Sweep) -> list[Finding]:
    """Live readings that are the same at every station: no face repeats like that, the axis may never have moved.

    A reading typed by hand says that somebody looked.
    """
    live = [r for r in sweep.readings if r.live]
    stations, values = {r.station.mm for r in live}, {r.reading.mm for r in live}
    if len(live) < len(sweep.readings) or len(stations) < _EQUAL_STATIONS or len(values) > 1:
        return []
    return [
        finding(
            "never-moved",
            "caution",
            "{n} readings of the instrument are all the same: was the axis cranked between them?",
            "Crank to each station, wait for the figure and log it there. If it was cranked, type the reading of one "
            "station by hand.",
            n=len(live),
        )
    ]


SAME_STATION_MM = 1e-6


def next_to_read(sweep: Sweep) -> LengthEntry | None:
    """Where a pass is to be read next: through the stations once, then the first again, or all of them back.

    For roll both ends and the middle, each on the top and on the bottom line. None once the pass is through.
    """
    if not sweep.stations:
        return None
    count, n = len(sweep.stations), len(sweep.readings)
    if sweep.plane == "roll":
        places = tuple(dict.fromkeys((0, count - 1, count // 2)))
        return sweep.stations[places[n // 2]] if n // 2 < len(places) else None
    read = sorted(r.station.mm for r in sweep.readings)
    looks = [_times(read, s.mm) for s in sweep.stations]
    ahead = next((s for s, times in zip(sweep.stations, looks, strict=True) if not times), None)
    if ahead is not None:
        return ahead
    if sweep.order == "first":
        return sweep.stations[0] if looks[0] < 2 else None
    return next((s for s, times in zip(reversed(sweep.stations), reversed(looks), strict=True) if times < 2), None)


def is_through(sweep: Sweep) -> bool:
    """Whether every planned station was read once at least."""
    read = sorted(r.station.mm for r in sweep.readings)
    return all(_times(read, s.mm) for s in sweep.stations)


def _times(read_mm: list[float], station_mm: float) -> int:
    """How often a station is among those read, which are in order."""
    after = bisect_left(read_mm, station_mm + SAME_STATION_MM)
    return after - bisect_right(read_mm, station_mm - SAME_STATION_MM)


def _sweep_result(sweep: Sweep, previous: Sweep | None, setting: Setting, known: Sourced[Screws] | None) -> SweepResult:
    screws = None if known is None else known.value
    if sweep.plane == "roll":
        return _roll_result(sweep, screws, setting)
    stations, readings = [r.station.mm for r in sweep.readings], [r.reading.mm for r in sweep.readings]
    if len(set(stations)) < 2:
        return SweepResult(None, None, tuple(limit_findings(sweep)), _begin(sweep, previous))
    try:
        indicator = indicator_of(sweep)
        figures = analyse_sweep(stations, readings, indicator, sweep.tolerance.mm, judged_length(screws, setting))
    except BadInputError as error:
        return SweepResult(None, None, (*limit_findings(sweep), refusal(error)), plain(str(error)))
    findings = limit_findings(sweep) + review_sweep(figures, readings, indicator, screws, setting.longest_mm)
    findings += review_range(readings, mm_of(sweep.range))
    if known is not None and not known.is_given and not _as_its_face(sweep, setting):
        findings.append(_screws_proposed(known.value))
    fix = None
    if screws is not None and not _as_its_face(sweep, setting):
        try:
            fix = correct(figures, readings, indicator, screws, sweep.hold)
        except BadInputError as error:
            findings.append(refusal(error))
    before = sweep_result(previous, setting=setting).alignment if previous is not None else None
    if before is not None and sweep.moved_by == "tightening":
        findings += review_tightening(before, figures)
    elif before is not None:
        findings += compare_passes(before, figures, sweep.moved_by)
    return SweepResult(figures, fix, tuple(findings), _instruct(sweep, figures, fix, findings, screws, setting))


def judged_length(screws: Screws | None, setting: Setting) -> float | None:
    """The length (mm) that the tolerance of a pass is for: the job's, or the distance of the screws."""
    if setting.judged_mm is not None or screws is None:
        return setting.judged_mm
    return abs(screws[1] - screws[0])


def _begin(sweep: Sweep, previous: Sweep | None) -> Sentence:
    """What comes before two stations are read: the rule at both ends, then the indicator; later, the first station."""
    if previous is not None and previous.readings and sweep.stations:
        if not sweep.readings:
            first = {"at": Mm(sweep.stations[0].mm)}
            return Sentence("Sweep again from the first station: run to {at}, and log what the dial reads.", first)
        left = [s.mm for s in sweep.stations if all(abs(s.mm - r.station.mm) > SAME_STATION_MM for r in sweep.readings)]
        if left:
            return Sentence("Go on to the next station, {at}: every station counts anew.", {"at": Mm(left[0])})
    if sweep.rule_left is not None and sweep.rule_right is not None:
        rough = instruct_rule(sweep.rule_left.mm, sweep.rule_right.mm, sweep.hold)
        if rough is not None:
            return rough
    return Sentence(
        "Rough it in by rule at both ends, both noted under Ends and screws. Then set the indicator on the other "
        "member, "
        "run to the first station, and log reading by reading with Enter."
        if sweep.rule_left is None or sweep.rule_right is None
        else "Near enough by the rule. Set the indicator on the other member, run to the first station, and log "
        "reading by reading with Enter."
    )


def _as_its_face(sweep: Sweep, setting: Setting) -> bool:
    """Whether what is swept can't be moved in that plane: a strip lies as the face it is stuck to lies."""
    return setting.by_on(sweep) == "restick" and sweep.plane == "face"


def _instruct(
    sweep: Sweep,
    figures: Alignment,
    fix: Correction | None,
    findings: Sequence[Finding],
    screws: Screws | None,
    setting: Setting,
) -> Sentence:
    serious = any(f.severity == "stop" for f in findings)
    by = setting.by_on(sweep)
    if _as_its_face(sweep, setting) and not serious:
        return follows_face(figures)
    if by in ("shims", "three") and not serious and figures.verdict != "pass" and screws is not None:
        if by == "three":
            return instruct_spacers(figures, screws)
        return instruct_shims(shims_at_ends(figures, screws, setting.gain), setting.stock)[0]
    return instruct(figures, fix, findings, by, setting.pitch_on(sweep))


def _roll_result(sweep: Sweep, screws: Screws | None, setting: Setting) -> SweepResult:
    pairs: dict[float, dict[str, float]] = {}
    for reading in sweep.readings:
        pairs.setdefault(reading.station.mm, {})[reading.line or "top"] = reading.reading.mm
    whole = {x: lines for x, lines in pairs.items() if {"top", "bottom"} <= set(lines)}
    limits = limit_findings(sweep)
    if not whole or limits:
        ask = "Touch the face near its top edge, log, then straight below near its bottom edge, log; at both ends."
        return SweepResult(None, None, tuple(limits), limits[0].remedy if limits else Sentence(ask))
    try:
        roll = analyse_roll(
            list(whole),
            [lines["top"] for lines in whole.values()],
            [lines["bottom"] for lines in whole.values()],
            indicator_of(sweep),
            sweep.lines_apart.mm,
            sweep.bolts_apart.mm,
            sweep.tolerance.mm,
        )
    except BadInputError as error:
        return SweepResult(None, None, (refusal(error),), plain(str(error)))
    words = instruct_roll(roll)
    if setting.by_on(sweep) != "pivot" and screws is not None and len(whole) > 1 and roll.verdict != "pass":
        try:
            words = _corners(sweep, whole, screws, setting)
        except BadInputError as error:
            words = plain(str(error))
    return SweepResult(None, None, tuple(review_roll(roll, sweep.tolerance.mm)), words, roll)


def _corners(sweep: Sweep, whole: dict[float, dict[str, float]], screws: Screws, setting: Setting) -> Sentence:
    """All bolts of the body solved together from both lines at both ends."""
    half = sweep.lines_apart.mm / 2
    read = {(x, half if line == "top" else -half): r for x, lines in whole.items() for line, r in lines.items()}
    return instruct_corners(
        read,
        indicator_of(sweep),
        screws,
        sweep.bolts_apart.mm,
        three=sweep.by == "three",
        pitch_mm=setting.pitch_on(sweep) if setting.by_on(sweep) == "jacks" else None,
        tolerance_mm=sweep.tolerance.mm,
    )


def result_in_job(job: Job, sweep: Sweep) -> SweepResult:
    """What a pass says, with what earlier passes and the drawer add to it."""
    setting = setting_in_job(job, sweep)
    found = sweep_result(sweep, sweep_before(job, sweep), replace(setting, gain=_gain(job, sweep, setting)))
    return _after_what_happened(job, sweep, found)


def _after_what_happened(job: Job, sweep: Sweep, found: SweepResult) -> SweepResult:
    """The last pass of a series proves nothing any more once something that moves it was noted after it."""
    axis, series = job.get(sweep.axis_id), passes(job, sweep.axis_id, sweep.plane, sweep.target)
    last = next((s for s in reversed(series) if s.readings), None)
    if not isinstance(axis, Axis) or last is None or last.id != sweep.id:
        return found
    told = opened_findings(
        job, axis, sweep.changed, "align", "This pass", "Sweep again before anything is cut by the display."
    )
    if not told:
        return found
    figures, roll = found.alignment, found.roll
    return replace(
        found,
        alignment=None if figures is None else replace(figures, verdict="unsure"),
        roll=None if roll is None else replace(roll, verdict="unsure"),
        correction=None,
        findings=(*told, *found.findings),
        instruction=told[0].remedy,
    )


def setting_in_job(job: Job, sweep: Sweep) -> Setting:
    """What the job knows beside a pass, all but what earlier moves achieved.

    A reader's tilt is judged over the reader, a rod's and a strip's over the stroke, a body's between its screws. What
    is stuck or held in slots has no screw to ease.
    """
    axis = job.get(sweep.axis_id)
    if not isinstance(axis, Axis):
        return Setting(stock=shim_stock(job))
    travel = travel_result(job, axis).useful_mm
    reader, family = reader_length(job, axis), family_of(job, axis)
    over, longest = None, travel
    by: By = _HELD.get((sweep.target, "" if family is None else family.body_type), "pivot")
    if sweep.target == "reader":
        over = longest = None if reader is None else reader.value
    elif sweep.target == "rod" or "restick" in (by, sweep.by):
        over = travel
    jacks = jacks_of(job, axis, sweep.target, sweep.plane)
    return Setting(
        stock=shim_stock(job), screws=ends_of(job, axis, sweep.target, sweep.plane), judged_mm=over,
        longest_mm=longest, by=by if jacks is None else "jacks", pitch_mm=0.0 if jacks is None else jacks.pitch_mm,
    )  # fmt: skip


_HELD: dict[tuple[str, str], By] = {
    ("body", "tape"): "restick", ("body", "beam"): "slots", ("rod", "rod"): "slots", ("reader", "rod"): "jacks",
}  # fmt: skip
"""What holds the ends of a target, by family, where it isn't a pair of screws."""


def _gain(job: Job, sweep: Sweep, setting: Setting) -> float:
    """What moves by turns or shims achieved so far in this series, each of what was advised for it."""
    until = instant(sweep.created)
    series = [s for s in passes(job, sweep.axis_id, sweep.plane, sweep.target) if instant(s.created) <= until]
    gains: list[Gain] = []
    if not any(s.moved_by == "turns" for s in series):
        return learned_gain(gains)
    for before, after in itertools.pairwise(s for s in series if s.readings):
        if after.moved_by != "turns":
            continue
        was, now = (sweep_result(s, setting=setting).alignment for s in (before, after))
        if was is not None and now is not None:
            gains.append(gain_between(was, now, was.line.slope / learned_gain(gains)))
    return learned_gain(gains)


def targets_of(job: Job, axis: Axis) -> tuple[Target, ...]:
    """What must be aligned, in order: a rod's reader is trammed before the rod, other families by their body."""
    family = family_of(job, axis)
    return ("reader", "rod") if family is not None and family.body_type == "rod" else ("body",)


def _screws_proposed(screws_mm: tuple[float, float]) -> Finding:
    return finding(
        "screws-proposed",
        "info",
        "The two ends it is held at are taken to be at {left} and {right}; nobody has measured that yet.",
        "Measure both from the same end as the stations and enter them under Ends and screws.",
        left=Mm(screws_mm[0]),
        right=Mm(screws_mm[1]),
    ).told_of("all passes")


def screws_of(sweep: Sweep, known: Sourced[Screws] | None = None) -> Sourced[Screws] | None:
    """The two end screws (mm), left first: as measured on the pass, as known of the scale, as proposed otherwise."""
    noted = (sweep.screw_left, sweep.screw_right)
    typed = [e is not None and bool(e.text) for e in noted]
    proposed = None if None in noted else tuple(e.mm for e in noted if e is not None)
    if all(typed) and proposed is not None:
        return Sourced((proposed[0], proposed[1]), "measured", "end screws")
    rest = known.value if known is not None else proposed
    if rest is None:
        return None
    left, right = (
        e.mm if is_typed and e is not None else other for e, is_typed, other in zip(noted, typed, rest, strict=True)
    )
    return Sourced((left, right), known.source if known is not None else "template", "end screws")


def passes(job: Job, axis_id: str, plane: str, target: str = "body") -> list[Sweep]:
    """The alignment passes of an axis's target in one plane, oldest first."""
    found = job.derived(
        ("passes", axis_id, plane, target),
        lambda: [s for s in job.of_axis(Sweep, axis_id) if s.plane == plane and s.target == target],
        (Sweep, ScalePlan, Axis),
    )
    return list(found)


def sweep_before(job: Job, sweep: Sweep) -> Sweep | None:
    """The pass before ``sweep`` in its series: the same plane of the same target of the same axis."""
    series = reversed(passes(job, sweep.axis_id, sweep.plane, sweep.target))
    return next(
        (s for s in series if (instant(s.created), s.id) < (instant(sweep.created), sweep.id) and s.readings), None
    )


def first_target(job: Job, axis: Axis) -> Target:
    """The target to begin with: the first that hasn't passed in both planes, or the last."""
    wanted = targets_of(job, axis)
    for target in wanted:
        for plane in PLANES:
            series = [s for s in passes(job, axis.id, plane, target) if s.readings]
            figures = result_in_job(job, series[-1]).alignment if series else None
            if figures is None or figures.verdict != "pass":
                return target
    return wanted[-1]


def figures_words(figures: Alignment) -> Sentence:
    """Over what a pass is judged, how sure it is, its tolerance and its bow."""
    values = {
        "over": Mm(figures.judged_mm), "swept": Mm(figures.swept_mm), "u": Fine(figures.expanded_mm),
        "tol": Fine(figures.tolerance_mm), "bow": Fine(figures.bow_mm or 0.0),
        "sure": Fine(figures.bow_expanded_mm or 0.0),
    }  # fmt: skip
    bow = "" if figures.bow_mm is None else "; bow {bow}" + (" ± {sure}" if figures.bow_expanded_mm is not None else "")
    return Sentence("over {over} (swept {swept}), ± {u} (95 %), tolerance {tol}" + bow, values)


def left_words(result: SweepResult, useful_mm: float | None, *, reader: bool, units: UnitSystem) -> list[str]:
    """The correction at the screw, and what it costs to leave the tilt as it is."""
    fix, figures, lines = result.correction, result.alignment, list[str]()
    if figures is None:
        return lines
    if fix is not None and figures.verdict != "pass":
        way = "toward" if fix.shift_mm > 0 else "away from"
        sure = figures.line.budget.k * fix.u_shift_mm
        shift = f"{format_fine(abs(fix.shift_mm), units)} ± {format_fine(sure, units)}"
        lines.append(f"At the end to be moved that is {shift} {way} the indicator.")
    lines.append(what_is_left(figures, useful_mm, reader=reader).text(units))
    return lines

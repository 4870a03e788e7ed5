"""The power feed of an axis: what fits, mesh, speeds, stops with the scale's margins, bracket, and commissioning."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import SolvedBracket
from vernus.core.feed.fit import (
    NUT_SHARE,
    BracketChoice,
    FitItem,
    TurnedPart,
    compare_brackets,
    fit_bore,
    fit_holes,
    fit_keyway,
    fit_length,
    fit_thread,
)
from vernus.core.feed.gears import identify_gear
from vernus.core.feed.keys import SteppedKey
from vernus.core.feed.speeds import CHECKS, FeedRange, Supply, answer_finding, feed_range, review_supply
from vernus.core.feed.trip import Ends, RunOn, Stops, estimated_run_on, place_stops, worst_run_on
from vernus.core.finding import Finding, Mm, Sentence, finding, plain
from vernus.core.make.hardware import thread_named
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    PowerFeed,
    ReaderSetting,
    RemovedPart,
    RunOnTest,
)
from vernus.job.feed.mesh import MeshResult, mesh_result, unlike_gears
from vernus.job.feed.place import bracket_result
from vernus.job.machine.travel import limit_findings, mm_of, plan_of, refusal, scale_result, travel_result

_CLAMP_MM = 32.0  # a clamp takes 25 to 40 mm of table; common practice, no source


@dataclass(frozen=True)
class FitResult:
    """What was looked at, what is still to measure, and the parts to make."""

    items: tuple[FitItem, ...]
    missing: tuple[str, ...]
    brackets: tuple[BracketChoice, ...]

    def in_words(self) -> Sentence:
        """What to make and what to do before anything is taken apart."""
        make = [i.part.name for i in self.items if i.part is not None]
        do = [i.what for i in self.items if i.verdict == "task"]
        if not make and not do:
            return Sentence("Everything measured fits. List what comes off under Parts taken off before it does.")
        words = (("make", make), ("see to", do))
        todo = "; ".join(f"{verb} {', '.join(names)}" for verb, names in words if names)
        return Sentence("Before anything is taken apart: {todo}. The figures are in the table.", {"todo": todo})

    @property
    def parts(self) -> tuple[TurnedPart | SteppedKey, ...]:
        """Everything to make."""
        return tuple(i.part for i in self.items if i.part is not None)


@dataclass(frozen=True)
class StopsResult:
    """Stops on the axis (mm from its low mark), whether the run-on is measured, and the scale's ends if any."""

    stops: Stops | None
    measured: bool
    hard_mm: Ends | None
    scale_mm: Ends | None
    findings: tuple[Finding, ...]
    instruction: Sentence


@dataclass(frozen=True)
class FeedResult:
    """Everything about the feed of an axis; ``done`` once it runs, its stops are set and nothing is open."""

    fit: FitResult
    mesh: MeshResult
    speeds: FeedRange | None
    stops: StopsResult
    bracket: SolvedBracket | None
    open_checks: tuple[str, ...]
    findings: tuple[Finding, ...]
    instruction: Sentence
    done: bool


def feed_of(job: Job, axis: Axis) -> PowerFeed | None:
    """The power feed of an axis, if one is planned."""
    found = job.of_axis(PowerFeed, axis.id)
    return found[-1] if found else None


def fresh_feed(axis: Axis, new_id: str) -> PowerFeed:
    """A feed that isn't in the job yet."""
    return PowerFeed(id=new_id, axis_id=axis.id)


_WANTED = (
    ("shaft", "diameter of the screw's end"), ("shaft_length", "how far it sticks out"), ("shaft_key", "its key"),
    ("gear_bore", "bore of the drive gear"), ("gear_key", "its keyway"), ("gear_teeth", "its teeth"),
    ("gear_outside", "its outside diameter"), ("gear_face", "its face width"),
    ("unit_teeth", "teeth of the unit's gear"), ("volts", "the unit's voltage"), ("shop_volts", "the shop's voltage"),
)  # fmt: skip


def fit_result(feed: PowerFeed) -> FitResult:
    """What fits of the kit, from the caliper figures there are; raises BadInputError."""
    items: list[FitItem] = []
    shaft, face = mm_of(feed.shaft), mm_of(feed.gear_face)
    if shaft is not None and feed.gear_bore is not None and face is not None:
        items.append(fit_bore(shaft, feed.gear_bore.mm, face, _root(feed), mm_of(feed.gear_key)))
    if shaft is not None and feed.shaft_length is not None and face is not None:
        items.append(
            fit_length(
                feed.shaft_length.mm, _sits_on(feed, shaft, face), shaft, mm_of(feed.gear_bore) or shaft,
                claws=feed.claws == "yes",
            )
        )  # fmt: skip
    if shaft is not None and feed.shaft_key is not None and feed.gear_key is not None and face is not None:
        items.append(fit_keyway(feed.shaft_key.mm, feed.gear_key.mm, mm_of(feed.rim), shaft, face))
    if feed.end_thread is not None and feed.end_pitch is not None:
        items.append(fit_thread(feed.end_thread.mm, feed.end_pitch.mm, feed.nut))
    holes = (feed.hole_across, feed.hole_up, feed.kit_across, feed.kit_up, feed.kit_hole)
    if all(h is not None for h in holes) and feed.hole_thread:
        across, up, kit_across, kit_up, hole = (mm_of(h) or 0.0 for h in holes)
        screw = thread_named(feed.hole_thread).major_mm
        items.append(fit_holes("bracket holes", (across, up), (kit_across, kit_up), hole, screw))
    if feed.switch_across is not None and feed.switch_kit is not None and feed.switch_hole and feed.switch_thread:
        screw, apart = thread_named(feed.switch_thread).major_mm, (feed.switch_across.mm, 0.0)
        items.append(fit_holes("trip switch", apart, (feed.switch_kit.mm, 0.0), feed.switch_hole.mm, screw))
    if feed.table_end is not None and feed.unit_high is not None:
        items.append(_height(feed.table_end.mm, feed.unit_high.mm, feed.way))
    missing = tuple(words for name, words in _WANTED if getattr(feed, name) is None)
    clamp = mm_of(feed.kit_bracket) or _CLAMP_MM
    return FitResult(tuple(items), missing, compare_brackets(clamp, clamp, mm_of(feed.old_bracket) or 0.0))


def _root(feed: PowerFeed) -> float | None:
    """The diameter at the drive gear's tooth roots, 1.25 modules below the pitch circle."""
    if feed.gear_outside is None or feed.gear_teeth is None:
        return None
    return feed.gear_outside.mm - 4.5 * identify_gear(feed.gear_outside.mm, round(feed.gear_teeth))[0].module_mm


def _sits_on(feed: PowerFeed, shaft: float, face: float) -> dict[str, float]:
    bracket = (mm_of(feed.kit_bracket) or 0.0) - (mm_of(feed.old_bracket) or 0.0)
    needs = {"drive gear": face}
    if bracket > 0:
        needs["thicker bracket"] = bracket
    if feed.dial == "yes" and feed.dial_length is not None:
        needs["dial"] = feed.dial_length.mm
    if feed.wheel == "yes" and feed.wheel_hub is not None:
        needs["handwheel"] = feed.wheel_hub.mm
    return {**needs, "nut": NUT_SHARE * shaft}


def _height(table_mm: float, unit_mm: float, way: str) -> FitItem:
    values = {"table": Mm(table_mm), "unit": Mm(unit_mm), "over": Mm(unit_mm - table_mm), "way": way}
    if unit_mm <= table_mm:
        return FitItem("height", "fits", Sentence("The unit ({unit}) hides behind the table's end ({table}).", values))
    words = "The unit is {over} higher than the table's end: hang it so that it stands out below, never above the top"
    words += ", or lay it down." if way == "vertical" else "."
    return FitItem("height", "task", Sentence(words, values))


def speeds_of(axis: Axis, feed: PowerFeed, travel_mm: float | None) -> FeedRange | None:
    """Feeds and rapid on this axis; None while a figure is missing. Raises BadInputError."""
    if axis.lead is None or feed.unit_teeth is None or feed.gear_teeth is None or feed.rapid_rpm is None:
        return None
    teeth = (round(feed.unit_teeth), round(feed.gear_teeth))
    fast = feed.fast_rpm if feed.fast_rpm is not None else feed.rapid_rpm
    return feed_range(feed.slow_rpm or 0.0, fast, feed.rapid_rpm, teeth, axis.lead.mm, travel_mm)


def stops_result(job: Job, axis: Axis, feed: PowerFeed) -> StopsResult:
    """Trip positions from the hard stops, the run-on and the scale of the same axis, from the low mark.

    Where travel is given up, the stop fitted there is the hard stop.
    """
    best = travel_result(job, axis).best
    if best is None:
        ask = Sentence("Measure the travel first: the stops are placed from its ends.")
        return StopsResult(None, False, None, None, (), ask)
    hard = (mm_of(axis.give_up_low) or 0.0, best.travel_mm - (mm_of(axis.give_up_high) or 0.0))
    scale, margin = scale_ends(job, axis, best.travel_mm)
    tests = [_run_on(t) for t in job.of_axis(RunOnTest, axis.id)]
    try:
        measured, findings = worst_run_on(tests)
        run_on = measured
        if run_on is None:
            speeds = speeds_of(axis, feed, None)
            if speeds is None:
                ask = Sentence(
                    "Say lead, teeth and rapid speed, or measure the run-on: trip it in mid travel with temporary "
                    "stops."
                )
                return StopsResult(None, False, hard, scale, tuple(findings), ask)
            guess = estimated_run_on(speeds.rapid_mm_per_min, feed.switch_s, feed.brake_s)
            guess = max(guess, *(t.run_on_mm for t in tests), 0.0)
            run_on = (guess, guess)
        stops = place_stops(
            hard, run_on, clear_mm=feed.clear.mm, scale_mm=scale, scale_margin_mm=margin,
            set_mm=(mm_of(feed.set_low), mm_of(feed.set_high)),
        )  # fmt: skip
    except BadInputError as error:
        return StopsResult(None, False, hard, scale, (refusal(error),), plain(str(error)))
    findings += stops.findings
    grave = any(f.severity == "stop" for f in findings)
    if measured is None and not grave:
        words = Sentence(
            "Estimated run-on {on}: with it the trips go to {low} and {high}. Don't trust it: trip it in mid travel "
            "with temporary stops, both directions, slow then rapid, and note where it stood still.",
            {"on": Mm(stops.run_on_mm[1]), "low": Mm(stops.trip_mm[0]), "high": Mm(stops.trip_mm[1])},
        )
    else:
        words = stops.instruction
    return StopsResult(stops, measured is not None, hard, scale, tuple(findings), words)


def _run_on(test: RunOnTest) -> RunOn:
    up = test.way == "up"
    return RunOn(up, test.speed, (test.stood.mm - test.tripped.mm) * (1 if up else -1))


def scale_ends(job: Job, axis: Axis, travel_mm: float) -> tuple[Ends | None, float]:
    """Axis positions with the reader at the ends of the measuring length, and the margin wanted; None without a scale.

    Spare measured on the Reader sheet goes before the plan's.
    """
    plan = plan_of(job, axis)
    result = scale_result(job, axis, plan) if plan is not None else None
    if plan is None or result is None or result.spare_mm is None or result.travel_mm is None:
        return None, 0.0
    low_given, high_given = mm_of(axis.give_up_low) or 0.0, mm_of(axis.give_up_high) or 0.0
    set_up = job.of_axis(ReaderSetting, axis.id)
    low = mm_of(set_up[-1].spare_low) if set_up else None
    high = mm_of(set_up[-1].spare_high) if set_up else None
    low = result.spare_mm if low is None else low
    high = result.spare_mm if high is None else high
    return (low_given - low, travel_mm - high_given + high), max(0.0, plan.margin.mm)


def feed_result(job: Job, axis: Axis, feed: PowerFeed) -> FeedResult:
    """Everything the figures of a feed say; a figure that can't be computed with is a finding."""
    findings = limit_findings(feed)
    nothing = FitResult((), (), ())
    no_mesh = MeshResult((), None, None, None, None, False, Sentence("Correct the figures first."))
    no_stops = StopsResult(None, False, None, None, (), Sentence("Correct the figures first."))
    still = tuple(name for name in CHECKS if getattr(feed, name) != "yes")
    if findings:
        return FeedResult(nothing, no_mesh, None, no_stops, None, still, tuple(findings), findings[0].remedy, False)
    travel = travel_result(job, axis).useful_mm
    try:
        fit, mesh = fit_result(feed), mesh_result(job, axis, feed)
        speeds, bracket = speeds_of(axis, feed, travel), bracket_result(feed)
    except BadInputError as error:
        wrong = finding("cannot-compute", "stop", "{text}", "Correct the figure.", text=str(error))
        return FeedResult(nothing, no_mesh, None, no_stops, None, still, (wrong,), plain(str(error)), False)
    stops = stops_result(job, axis, feed)
    shop = Supply(feed.shop_volts, feed.shop_phases, feed.shop_hertz)
    findings += review_supply(Supply(feed.volts, feed.phases, feed.hertz), shop)
    findings += unlike_gears(feed, mesh.guesses)
    findings += mesh.mesh.findings if mesh.mesh is not None else ()
    findings += mesh.engagement.findings if mesh.engagement is not None else ()
    findings += bracket.findings if bracket is not None else ()
    findings += stops.findings
    findings += [answer_finding(name) for name in CHECKS if getattr(feed, name) == "no"]
    grave = next((f for f in findings if f.severity == "stop"), None)
    set_both = feed.set_low is not None and feed.set_high is not None
    done = grave is None and not fit.missing and mesh.agreed and stops.measured and set_both and not still
    words = _next(fit, mesh, stops, still, set_both) if grave is None else grave.remedy
    return FeedResult(fit, mesh, speeds, stops, bracket, still, tuple(findings), words, done)


def _next(fit: FitResult, mesh: MeshResult, stops: StopsResult, still: tuple[str, ...], set_both: bool) -> Sentence:
    if fit.missing:
        return Sentence(
            "Still to measure with the caliper, before anything is taken apart: {what}.",
            {"what": ", ".join(fit.missing[:3])},
        )
    if not mesh.agreed:
        return mesh.instruction
    if not stops.measured or not set_both:
        return stops.instruction
    if still:
        return Sentence("Stops are set. Go through Commissioning: {n} checks are open.", {"n": len(still)})
    return Sentence("The feed is in: fold or take off the handle while it runs, and check the stops after a month.")


def removed_parts(job: Job, axis: Axis) -> list[RemovedPart]:
    """What was taken off for the feed."""
    return job.of_axis(RemovedPart, axis.id)


def put_back(parts: list[RemovedPart]) -> Sentence:
    """How the machine is put back from the parts kept."""
    if not parts:
        return Sentence(
            "List every part that comes off, where it is kept and how it goes back, before it is forgotten."
        )
    return Sentence(
        "To put the machine back: isolate it, take the feed off, and refit {what}, as the list says.",
        {"what": "the part" if len(parts) == 1 else f"the {len(parts)} parts from the last to the first"},
    )


def trips_of(job: Job, axis: Axis) -> Ends | None:
    """Where the feed of an axis trips, from the low end of its useful travel; None without a feed or its figures.

    Stops that stand already go before the ones worked out.
    """
    feed = feed_of(job, axis)
    stops = stops_result(job, axis, feed).stops if feed is not None else None
    if feed is None or stops is None:
        return None
    low = stops.trip_mm[0] if feed.set_low is None else feed.set_low.mm
    high = stops.trip_mm[1] if feed.set_high is None else feed.set_high.mm
    given = mm_of(axis.give_up_low) or 0.0
    return low - given, high - given

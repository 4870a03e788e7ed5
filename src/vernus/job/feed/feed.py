"""The power feed of an axis: what fits, mesh, speeds, stops with the scale's margins, bracket, and commissioning."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import SolvedBracket
from vernus.core.feed.cover import GearCover, plan_cover
from vernus.core.feed.fit import (
    BracketChoice,
    FitItem,
    TurnedPart,
    compare_brackets,
    fit_holes,
    fit_thread,
)
from vernus.core.feed.keys import SteppedKey
from vernus.core.feed.speeds import CHECKS, FeedRange, Supply, answer_finding, feed_range, review_supply, timed_range
from vernus.core.finding import Finding, Mm, Sentence, conclusion, finding, in_order, plain
from vernus.core.machine.stroke import Stroke
from vernus.core.make.hardware import thread_named
from vernus.job.document import Job
from vernus.job.entities import Axis, MadeTo, PowerFeed, RemovedPart, Rework
from vernus.job.feed.chain import Chain, chain_items, chain_of, end_missing, kit_missing
from vernus.job.feed.mesh import MeshResult, mesh_result, unlike_gears
from vernus.job.feed.place import adjust_mm, bracket_result, counts_from_screw, pattern_missing
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.known import Known, feed_of, new_bracket_mm, reworks, travel, worked_over
from vernus.job.machine.fitted_stops import stops_fitted
from vernus.job.machine.geometry import wheel_goes
from vernus.job.machine.stroke import metal_of, stroke_of
from vernus.job.machine.travel import travel_result
from vernus.job.plan.meets import stands_in
from vernus.job.refusals import limit_findings

Ends = tuple[float, float]


def made_name(item: FitItem) -> str:
    """What has to be made or seen to for an item: its part, or the item itself."""
    return item.part.name if item.part is not None else item.what


@dataclass(frozen=True)
class FitResult:
    """What was looked at, what is still to measure, and the parts to make.

    ``covered`` lies under handle and dial: it is asked once those are off.
    """

    items: tuple[FitItem, ...]
    missing: tuple[str, ...]
    brackets: tuple[BracketChoice, ...]
    covered: tuple[str, ...] = ()
    chain: Chain | None = None

    def in_words(self, unmade: Sequence[str]) -> Sentence:
        """What to make and what to do of what isn't made yet."""
        make = [i.part.name for i in self.items if i.part is not None and i.part.name in unmade]
        do = [i.what for i in self.items if i.verdict == "task" and i.what in unmade]
        if not make and not do and self.to_make:
            return conclusion(
                "Everything that didn't fit is made or seen to. List what comes off under Parts taken off."
            )
        if not make and not do:
            return conclusion("Everything measured fits. List what comes off under Parts taken off before it does.")
        words = (("make", make), ("see to", do))
        todo = "; ".join(f"{verb} {', '.join(names)}" for verb, names in words if names)
        return Sentence("Before the unit goes on: {todo}. The figures are in the table.", {"todo": todo})

    @property
    def to_make(self) -> list[str]:
        """What is made or reworked before it fits, by name."""
        return [made_name(i) for i in self.items if i.part or i.verdict == "task"]

    @property
    def parts(self) -> tuple[TurnedPart | SteppedKey, ...]:
        """Everything to make."""
        return tuple(i.part for i in self.items if i.part is not None)


@dataclass(frozen=True)
class StopsResult:
    """The line of the axis with its trips, the run-on behind them and whether it is measured; lengths in mm.

    The stroke is None while it can't be drawn, the run-on while nothing is known of it.
    """

    stroke: Stroke | None
    run_on: Known[Ends] | None
    measured: bool
    findings: tuple[Finding, ...]
    instruction: Sentence


@dataclass(frozen=True)
class FeedResult:
    """Everything about the feed of an axis; ``done`` once it runs, its stops are set and nothing is open or unmade."""

    fit: FitResult
    mesh: MeshResult
    speeds: FeedRange | None
    stops: StopsResult
    bracket: SolvedBracket | None
    cover: GearCover | None
    open_checks: tuple[str, ...]
    findings: tuple[Finding, ...]
    instruction: Sentence
    done: bool
    unmade: tuple[str, ...] = ()
    again: tuple[str, ...] = ()
    """What was made to other figures than are wanted now."""
    made_words: dict[str, str] = field(default_factory=dict)


def fresh_feed(axis: Axis, new_id: str) -> PowerFeed:
    """A feed that isn't in the job yet."""
    return PowerFeed(id=new_id, axis_id=axis.id)


def fit_result(feed: PowerFeed) -> FitResult:
    """What fits of the kit, from the caliper figures there are; raises BadInputError."""
    items: list[FitItem] = []
    chain = chain_of(feed)
    if chain is not None:
        items += chain_items(feed, chain)
    if feed.end_thread is not None and feed.end_thread.mm > 0 and feed.end_pitch is not None:
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
    return FitResult(tuple(items), kit_missing(feed), _brackets(feed), end_missing(feed), chain)


def _brackets(feed: PowerFeed) -> tuple[BracketChoice, BracketChoice]:
    """Both ways to carry it, by the thicknesses that the rest of the job counts with."""
    made = feed.bracket == "replace"
    new = new_bracket_mm(feed if made else feed.with_(kit_bracket=None))  # what is typed there is then the clamp's
    clamp = None if made else mm_of(feed.kit_bracket)
    return compare_brackets(clamp, new, mm_of(feed.old_bracket), mm_of(feed.shaft_length))


def _height(table_mm: float, unit_mm: float, way: str) -> FitItem:
    values = {"table": Mm(table_mm), "unit": Mm(unit_mm), "over": Mm(unit_mm - table_mm), "way": way}
    if unit_mm <= table_mm:
        return FitItem("height", "fits", Sentence("The unit ({unit}) hides behind the table's end ({table}).", values))
    words = "The unit is {over} higher than the table's end: hang it so that it stands out below, never above the top"
    words += ", or lay it down." if way == "vertical" else "."
    return FitItem("height", "task", Sentence(words, values))


def speeds_of(axis: Axis, feed: PowerFeed, travel_mm: float | None) -> FeedRange | None:
    """Feeds and rapid on this axis; None while a figure is missing. Raises BadInputError."""
    if feed.timed is not None and feed.timed_s is not None:
        return timed_range(feed.timed.mm, feed.timed_s, travel_mm)
    if axis.lead is None or feed.unit_teeth is None or feed.gear_teeth is None or feed.rapid_rpm is None:
        return None
    teeth = (round(feed.unit_teeth), round(feed.gear_teeth))
    fast = feed.fast_rpm if feed.fast_rpm is not None else feed.rapid_rpm
    return feed_range(feed.slow_rpm or 0.0, fast, feed.rapid_rpm, teeth, axis.lead.mm, travel_mm)


def stops_result(job: Job, axis: Axis, feed: PowerFeed) -> StopsResult:
    """Trip positions on the axis's line, from its low mark: before its stops, and before its scale runs out."""
    far = travel(job, axis)
    if far is None or not far.sure:
        ask = Sentence("Measure the travel first: the trips are placed from its ends.")
        return StopsResult(None, None, False, (), ask)
    line = stroke_of(job, axis)
    measured = line.run_on is not None and line.run_on.source == "measured"
    findings = [f for f in line.findings if "feed" in f.concerns]
    stroke = line.stroke
    if stroke is None:
        grave = line.findings[0] if line.findings else None
        ask = grave.what if grave is not None else Sentence("The line of this axis can't be drawn yet.")
        return StopsResult(None, None, measured, line.findings, ask)
    if stroke.trips_mm is None or line.run_on is None:
        ask = Sentence(
            "Say lead, teeth and rapid speed, or measure the run-on: trip it in mid travel with temporary stops."
        )
        return StopsResult(stroke, None, measured, tuple(findings), in_order(ask, findings))
    findings += _scale_decides(stroke)
    return StopsResult(stroke, line.run_on, measured, tuple(findings), _trip_words(stroke, line.run_on, findings))


def _trip_words(stroke: Stroke, run_on: Known[Ends], findings: Sequence[Finding]) -> Sentence:
    assert stroke.trips_mm is not None
    ends = {"low": Mm(stroke.trips_mm[0], sign=True), "high": Mm(stroke.trips_mm[1], sign=True)}
    grave = next((f for f in findings if f.severity == "stop"), None)
    if grave is not None:
        return grave.remedy
    if run_on.source != "measured":
        return Sentence(
            "Estimated run-on {on}: with it the trips go to {low} and {high}. Don't trust it: trip it in mid travel "
            "with temporary stops, both directions, slow then rapid, and note where it stood still.",
            {"on": Mm(max(run_on.value)), **ends},
        )
    first = "Fit the stops first, as the Envelope sheet says; then set" if stroke.stops else "Set"
    return Sentence(
        first + " the trips at {low} and {high}, then run into each slowly, then at rapid, with a hand on the stop.",
        ends,
    )


def _scale_decides(stroke: Stroke) -> list[Finding]:
    """What the scale's margin takes of the travel under power, where it ends before the hard stop does."""
    lost = sum(n.before_mark_mm for n in stroke.stops if n.why == "scale")
    if lost <= 0:
        return []
    return [
        finding(
            "scale-decides",
            "caution",
            "The scale ends before the hard stop does: its margin takes {lost} of the travel.",
            "Fit hard stops there too, so that a handwheel can't overrun it; a longer scale or a shifted reader "
            "gives it back.",
            lost=Mm(lost),
        ).told_of("scale")
    ]


def feed_result(job: Job, axis: Axis, feed: PowerFeed) -> FeedResult:
    """Everything the figures of a feed say; a figure that can't be computed with is a finding."""
    findings = limit_findings(feed)
    feed = worked_over(job, axis, feed)
    if not findings and wheel_goes(job, axis, feed):
        feed = feed.with_(wheel="no")
    nothing = FitResult((), (), ())
    no_mesh = MeshResult((), None, None, None, None, False, Sentence("Correct the figures first."))
    no_stops = StopsResult(None, None, False, (), Sentence("Correct the figures first."))
    still = tuple(name for name in CHECKS if getattr(feed, name) != "yes")
    if findings:
        return FeedResult(
            nothing, no_mesh, None, no_stops, None, None, still, tuple(findings), findings[0].remedy, False
        )
    useful = travel_result(job, axis).useful_mm
    try:
        fit, mesh = fit_result(feed), mesh_result(job, axis, feed)
        speeds = speeds_of(axis, feed, useful)
        centre = None if mesh.mesh is None else mesh.mesh.centre_mm + mesh.mesh.open_mm
        bracket = bracket_result(feed, centre, None if mesh.mesh is None else mesh.mesh.module_mm)
        cover = _cover(feed, mesh, fit.chain)
    except BadInputError as error:
        wrong = finding("cannot-compute", "stop", "{text}", "Correct the figure.", text=str(error))
        return FeedResult(nothing, no_mesh, None, no_stops, None, None, still, (wrong,), plain(str(error)), False)
    stops = stops_result(job, axis, feed)
    findings += _of_the_kit(feed, mesh)
    findings += _against(fit.chain)
    findings += bracket.findings if bracket is not None else ()
    findings += cover.findings if cover is not None else ()
    findings += stops.findings
    findings += [*_stands_in(job, axis), *_pattern(feed)]
    findings += [answer_finding(name) for name in CHECKS if getattr(feed, name) == "no"]
    grave = next((f for f in findings if f.severity == "stop"), None)
    set_both = feed.set_low is not None and feed.set_high is not None
    now = made_words(fit, bracket, cover)
    wanted = [*fit.to_make, *(["feed bracket"] if bracket is not None else [])]
    wanted += ["gear cover"] if cover is not None and feed.covered != "yes" else []
    again = [what for what in dict.fromkeys(wanted) if _made_otherwise(job, axis, feed, what, now)]
    made = {r.figure for r in reworks(job, axis)} | (set(wanted) if feed.made == "yes" else set())
    unmade = [what for what in wanted if what not in made or what in again]
    findings += [_to_make_again(what) for what in again]
    unfitted = not stops_fitted(job, axis)
    if axis.drive == "there":
        done = grave is None and stops.measured and set_both and not unfitted
        words = in_order(
            (_FIT_STOPS if unfitted else _RUNS) if stops.measured and set_both else stops.instruction, findings
        )
    else:
        done = grave is None and not (fit.missing or fit.covered) and mesh.agreed and stops.measured and set_both
        done = done and not still and not unmade and not unfitted
        words = _next(fit, mesh, stops, still, set_both, unmade)
        words = in_order(_FIT_STOPS if words is _RUNS and unfitted else words, findings)
    return FeedResult(
        fit, mesh, speeds, stops, bracket, cover, still, tuple(findings), words, done, tuple(unmade), tuple(again), now
    )


_FIT_STOPS = Sentence("Fit the stops that the Envelope sheet asks for, and tick that on the job card.")


def made_words(fit: FitResult, bracket: SolvedBracket | None, cover: GearCover | None) -> dict[str, str]:
    """How everything that is made has to be, by name: the words by which it is made now."""
    found = {made_name(i): i.words.text() for i in fit.items}
    if bracket is not None:
        holes = "; ".join(f"{h.kind} {h.x_mm:.2f} {h.y_mm:.2f} {h.bore_mm:.2f}" for h in bracket.part.holes)
        found["feed bracket"] = f"{bracket.instruction.text()} {bracket.part.thickness_mm:.2f} thick: {holes}"
    if cover is not None:
        found["gear cover"] = cover.words.text()
    return {what: words[:1000] for what, words in found.items()}


def made_now(job: Job, axis: Axis, feed: PowerFeed, only: str = "") -> tuple[MadeTo, ...]:
    """What a feed's parts have to be, or the one named, to be kept with the word that they are made."""
    words = feed_result(job, axis, feed).made_words
    return tuple(
        MadeTo(id=part_id(axis, what), figure="how", name=what, words=text)
        for what, text in words.items()
        if only in ("", what)
    )


def before_of(job: Job, axis: Axis, feed: PowerFeed, work: Rework) -> LengthEntry | None:
    """What a figure measures before it is worked over: as it is now, after what was done already; None of a part made.

    A second rework starts from the last; the one looked at counts for nothing.
    """
    earlier = [r for r in reworks(job, axis) if r.figure == work.figure and r.id != work.id and r.after is not None]
    if work.figure not in PowerFeed.model_fields:
        return None
    found = earlier[-1].after if earlier else getattr(feed, work.figure)
    return found if isinstance(found, LengthEntry) else None


def part_id(axis: Axis, what: str) -> str:
    """The id of the statement that says how a part of a feed is made."""
    return f"part/{axis.name}/feed-{what}"[:200]


def _made_otherwise(job: Job, axis: Axis, feed: PowerFeed, what: str, now: Mapping[str, str]) -> bool:
    """Whether what is made was made to other figures than are wanted now; not where they weren't noted."""
    then = [m.words for r in reworks(job, axis) if r.figure == what for m in r.made_to]
    then = then or [m.words for m in feed.made_to if m.id == part_id(axis, what) and feed.made == "yes"]
    return bool(then) and then[-1] != now.get(what, then[-1])


def _to_make_again(what: str) -> Finding:
    return finding(
        "made-to-other-figures",
        "caution",
        "The {part} was made to other figures than are wanted now.",
        "Look whether it still serves; otherwise make it again and note that.",
        part=what,
    )


def _of_the_kit(feed: PowerFeed, mesh: MeshResult) -> list[Finding]:
    """What is wrong with the unit's supply and with its gears."""
    volts = feed.transformer if feed.transformer is not None else feed.shop_volts
    shop = Supply(volts, feed.shop_phases, feed.shop_hertz)
    found = [*review_supply(Supply(feed.volts, feed.phases, feed.hertz), shop), *unlike_gears(feed, mesh.guesses)]
    found += mesh.mesh.findings if mesh.mesh is not None else ()
    return [*found, *(mesh.engagement.findings if mesh.engagement is not None else ())]


def _pattern(feed: PowerFeed) -> list[Finding]:
    """What is to be said of where the unit's holes lie, where its bracket is made."""
    if feed.bracket != "replace" or feed.unit_across is None:
        return []
    if counts_from_screw(feed):
        return [
            finding(
                "pattern-from-the-screw", "caution",
                "The unit's holes are told from the screw, as an older Vernus asked: another centre distance of the "
                "gears doesn't move them.",
                "Measure their middle from the unit's own gear, and type that under Bracket.",
            )
        ]  # fmt: skip
    if pattern_missing(feed):
        return [
            finding(
                "pattern-missing", "caution",
                "Nobody said where the unit's holes lie: the bracket can't be solved.",
                "Measure their middle from the unit's own gear, across and up, and type that under Bracket.",
            )
        ]  # fmt: skip
    return []


def _stands_in(job: Job, axis: Axis) -> list[Finding]:
    """What the unit stands inside of, where it hangs as the figures say; nothing while the machine can't be drawn."""
    try:
        return stands_in(metal_of(job).envelope, f"{axis.name} power feed")
    except BadInputError:
        return []


_RUNS = conclusion("The feed is in: fold or take off the handle while it runs, and check the stops after a month.")


def _cover(feed: PowerFeed, mesh: MeshResult, chain: Chain | None) -> GearCover | None:
    """The cover of the open gears; None while mesh or chain isn't known."""
    if mesh.mesh is None or chain is None or feed.gear_teeth is None or feed.unit_teeth is None:
        return None
    teeth, end = (round(feed.gear_teeth), round(feed.unit_teeth)), chain.end
    far = max(end.gear_at_mm[1], end.gear_plane_mm[1])
    reach = max(end.end_mm, end.needs_mm)
    screw = (max(end.diameter_mm, end.gear.bore_mm), reach)
    return plan_cover(
        mesh.mesh,
        teeth,
        far,
        adjust_mm(mesh.mesh.module_mm),
        screw=screw,
        sits=feed.sits,
        top_mm=mm_of(feed.screw_below),
    )


def _against(chain: Chain | None) -> list[Finding]:
    """What stops the screw's end; the rest is told where its parts are."""
    return [] if chain is None else [f for f in chain.plan.findings if f.severity == "stop"]


def _next(
    fit: FitResult,
    mesh: MeshResult,
    stops: StopsResult,
    still: tuple[str, ...],
    set_both: bool,
    unmade: Sequence[str],
) -> Sentence:
    if fit.missing:
        return Sentence(
            "Still to measure with the caliper, before anything is taken apart: {what}.",
            {"what": ", ".join(fit.missing[:3])},
        )
    if fit.covered:
        return Sentence(
            "Now handle and dial come off: list them under Parts taken off, then measure {what}.",
            {"what": ", ".join(fit.covered[:3])},
        )
    if not mesh.agreed:
        return mesh.instruction
    if not stops.measured or not set_both:
        return stops.instruction
    if still:
        return Sentence("Stops are set. Go through Commissioning: {n} checks are open.", {"n": len(still)})
    if unmade:
        return Sentence("Say under Commissioning when these are made and fitted: {what}.", {"what": ", ".join(unmade)})
    return _RUNS


def still_to_make(unmade: Sequence[str]) -> Sentence:
    """What is left to make or to see to."""
    if not unmade:
        return Sentence("Nothing is left to make. What was worked over counts in the fit check as it measures now.")
    return Sentence("Still to make or to see to: {what}. Note each as it is done.", {"what": ", ".join(unmade)})


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
    """Where the feed of an axis trips, from its low mark; None without a feed or its figures.

    Trips that stand already go before the ones worked out.
    """
    feed, stroke = feed_of(job, axis), stroke_of(job, axis).stroke
    if feed is None or stroke is None or stroke.trips_mm is None:
        return None
    low = stroke.trips_mm[0] if feed.set_low is None else feed.set_low.mm
    high = stroke.trips_mm[1] if feed.set_high is None else feed.set_high.mm
    return low, high

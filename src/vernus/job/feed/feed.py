"""The power feed of an axis: what fits, mesh, speeds, stops with the scale's margins, bracket, and commissioning."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import SolvedBracket
from vernus.core.feed.cover import GearCover, plan_cover
from vernus.core.feed.speeds import CHECKS, FeedRange, Supply, answer_finding, feed_range, review_supply, timed_range
from vernus.core.finding import Finding, Sentence, conclusion, finding, in_order, plain
from vernus.job.document import Job
from vernus.job.entities import Axis, MadeTo, PowerFeed, RemovedPart, Rework, Step
from vernus.job.feed.asked import FEED_SHEETS, FeedSheet, sheets_of_feed
from vernus.job.feed.chain import Chain
from vernus.job.feed.fitting import FitResult, fit_result, made_name
from vernus.job.feed.mesh import MeshResult, mesh_result, unlike_gears
from vernus.job.feed.place import adjust_mm, bracket_asks, bracket_result, counts_from_screw, pattern_missing
from vernus.job.feed.trips import StopsResult, stops_result
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.known.run_on import reworks, worked_over
from vernus.job.machine.fitted_stops import stops_fitted
from vernus.job.machine.geometry import wheel_goes
from vernus.job.machine.stroke import metal_of
from vernus.job.machine.travel import travel_result
from vernus.job.plan.meets import stands_in
from vernus.job.refusals import limit_findings

Ends = tuple[float, float]


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
    findings_on: Mapping[FeedSheet, tuple[Finding, ...]]
    instruction: Sentence
    done: bool
    unmade: tuple[str, ...] = ()
    again: tuple[str, ...] = ()
    """What was made to other figures than are wanted now."""
    wanted: tuple[str, ...] = ()
    """Everything that is made or seen to, done or not."""
    made_words: dict[str, str] = field(default_factory=dict)
    settled: frozenset[FeedSheet] = frozenset()
    """The sheets on which nothing is left to do."""
    bracket_asks: Sentence | None = None
    """What is still to be measured for the bracket, or how the clamp goes on."""

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What stands against the feed, in the order of its sheets."""
        return tuple(f for sheet in FEED_SHEETS for f in self.findings_on.get(sheet, ()))

    def instruction_on(self, sheet: FeedSheet) -> Sentence:
        """What to do on one of the sheets; what comes next of all where nothing is to be done there."""
        own = {"fit": self._fit_words(), "bracket": self._bracket_words(), "mesh": self.mesh.instruction}.get(sheet)
        if sheet == "trips" and "trips" not in self.settled:
            own = self.stops.instruction
        return in_order(own or self.instruction, self.findings_on.get(sheet, ()))

    def _fit_words(self) -> Sentence | None:
        measured = self.fit.items and not (self.fit.missing or self.fit.covered)
        return self.fit.in_words(self.unmade) if measured else None

    def _bracket_words(self) -> Sentence | None:
        return self.bracket.instruction if self.bracket is not None else self.bracket_asks


def fresh_feed(axis: Axis, new_id: str) -> PowerFeed:
    """A feed that isn't in the job yet."""
    return PowerFeed(id=new_id, axis_id=axis.id)


def speeds_of(axis: Axis, feed: PowerFeed, travel_mm: float | None) -> FeedRange | None:
    """Feeds and rapid on this axis; None while a figure is missing. Raises BadInputError."""
    if feed.timed is not None and feed.timed_s is not None:
        return timed_range(feed.timed.mm, feed.timed_s, travel_mm)
    if axis.lead is None or feed.unit_teeth is None or feed.gear_teeth is None or feed.rapid_rpm is None:
        return None
    teeth = (round(feed.unit_teeth), round(feed.gear_teeth))
    fast = feed.fast_rpm if feed.fast_rpm is not None else feed.rapid_rpm
    return feed_range(feed.slow_rpm or 0.0, fast, feed.rapid_rpm, teeth, axis.lead.mm, travel_mm)


_NO_MESH = MeshResult((), None, None, None, None, False, Sentence("Correct the figures first."))
_NO_STOPS = StopsResult(None, None, False, (), Sentence("Correct the figures first."))


def _refused(findings: Sequence[Finding], still: tuple[str, ...], words: Sentence) -> FeedResult:
    """Nothing but what is wrong with the figures."""
    told: dict[FeedSheet, tuple[Finding, ...]] = {"fit": tuple(findings)}
    return FeedResult(FitResult((), (), ()), _NO_MESH, None, _NO_STOPS, None, None, still, told, words, False)


def feed_result(job: Job, axis: Axis, feed: PowerFeed) -> FeedResult:
    """Everything the figures of a feed say; a figure that can't be computed with is a finding."""
    if job.get(feed.id) is not feed or job.get(axis.id) is not axis:  # one that is only imagined
        return _feed_result(job, axis, feed)
    return job.derived_of_axis(("feed", feed.id), axis.id, lambda: _feed_result(job, axis, feed))


def _feed_result(job: Job, axis: Axis, feed: PowerFeed) -> FeedResult:
    wrong = limit_findings(feed)
    feed = worked_over(job, axis, feed)
    still = tuple(name for name in CHECKS if getattr(feed, name) != "yes")
    if wrong:
        return _refused(wrong, still, wrong[0].remedy)
    if wheel_goes(job, axis, feed):
        feed = feed.with_(wheel="no")
    try:
        fit, mesh = fit_result(feed), mesh_result(job, axis, feed)
        speeds = speeds_of(axis, feed, travel_result(job, axis).useful_mm)
        centre = None if mesh.mesh is None else mesh.mesh.centre_mm + mesh.mesh.open_mm
        bracket = bracket_result(feed, centre, None if mesh.mesh is None else mesh.mesh.module_mm)
        cover = _cover(feed, mesh, fit.chain)
    except BadInputError as error:
        told_wrong = finding("cannot-compute", "stop", "{text}", "Correct the figure.", text=str(error))
        return _refused([told_wrong], still, plain(str(error)))
    stops, now = stops_result(job, axis, feed), made_words(fit, bracket, cover)
    wanted = [*fit.to_make, *([_BRACKET] if bracket is not None else [])]
    wanted += [_COVER] if cover is not None and feed.covered != "yes" else []
    again = [what for what in dict.fromkeys(wanted) if _made_otherwise(job, axis, feed, what, now)]
    made = {r.figure for r in reworks(job, axis)} | (set(wanted) if feed.made == "yes" else set())
    made |= {what for what in wanted if _ticked(job, axis, what) is not None}
    unmade = tuple(what for what in wanted if what not in made or what in again)
    told = _told(job, axis, feed, fit, mesh, stops, again)
    told["bracket"] += [*(bracket.findings if bracket is not None else ()), *_pattern(feed)]
    told["bracket"] += cover.findings if cover is not None else ()
    settled = _settled(axis, feed, fit, mesh, stops, bracket, still, unmade, stops_fitted(job, axis))
    findings = [f for sheet in FEED_SHEETS for f in told[sheet]]
    done = settled >= set(sheets_of_feed(axis)) and not any(f.severity == "stop" for f in findings)
    words = in_order(_next(axis, fit, mesh, stops, still, settled, unmade, feed), findings)
    kept = {sheet: tuple(found) for sheet, found in told.items()}
    return FeedResult(
        fit, mesh, speeds, stops, bracket, cover, still, kept, words, done, unmade, tuple(again), tuple(wanted), now,
        settled, bracket_asks(feed, mesh.mesh is not None),
    )  # fmt: skip


_BRACKET, _COVER = "feed bracket", "gear cover"


def _told(
    job: Job, axis: Axis, feed: PowerFeed, fit: FitResult, mesh: MeshResult, stops: StopsResult, again: Sequence[str]
) -> dict[FeedSheet, list[Finding]]:
    """What stands against the feed, by the sheet on which it is put right; bracket and cover come on top."""
    remade: dict[bool, list[Finding]] = {True: [], False: []}
    for what in again:
        remade[what in (_BRACKET, _COVER)].append(_to_make_again(what))
    meshed = mesh.mesh.findings if mesh.mesh is not None else ()
    faces = mesh.engagement.findings if mesh.engagement is not None else ()
    return {
        "fit": [*_supply(feed), *_against(fit.chain), *_stands_in(job, axis), *remade[False]],
        "bracket": remade[True],
        "mesh": [*unlike_gears(feed, mesh.guesses), *meshed, *faces],
        "trips": list(stops.findings),
        "run-in": [answer_finding(name) for name in CHECKS if getattr(feed, name) == "no"],
    }


def _settled(
    axis: Axis, feed: PowerFeed, fit: FitResult, mesh: MeshResult, stops: StopsResult, bracket: SolvedBracket | None,
    still: Sequence[str], unmade: Sequence[str], fitted: bool,
) -> frozenset[FeedSheet]:  # fmt: skip
    """The sheets on which nothing is left to do: everything measured and made, meshed, tripped and checked."""
    turned = [what for what in unmade if what not in (_BRACKET, _COVER)]
    carried = feed.bracket == "clamp" or bracket is not None
    found: dict[FeedSheet, bool] = {
        "fit": not (fit.missing or fit.covered or turned),
        "bracket": carried and _BRACKET not in unmade and not fit.missing,
        "mesh": mesh.agreed,
        "trips": stops.measured and feed.set_low is not None and feed.set_high is not None and fitted,
        "run-in": not still and not unmade,
    }
    wanted = sheets_of_feed(axis)
    return frozenset(sheet for sheet, settled in found.items() if settled and sheet in wanted)


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


def step_key(axis: Axis, what: str) -> str:
    """The key of the card's step by which a part of a feed is made or seen to."""
    return f"feedpart-{axis.name}-{what}"


def _ticked(job: Job, axis: Axis, what: str) -> Step | None:
    """The tick on the card that a part is made; None without one."""
    key = step_key(axis, what)
    return next((s for s in job.all(Step) if s.key == key and s.done), None)


def _made_otherwise(job: Job, axis: Axis, feed: PowerFeed, what: str, now: Mapping[str, str]) -> bool:
    """Whether what is made was made to other figures than are wanted now; not where they weren't noted."""
    then = [m.words for r in reworks(job, axis) if r.figure == what for m in r.made_to]
    then = then or [m.words for m in feed.made_to if m.id == part_id(axis, what) and feed.made == "yes"]
    tick = _ticked(job, axis, what)
    then = then or ([] if tick is None else [m.words for m in tick.made_to])
    return bool(then) and then[-1] != now.get(what, then[-1])


def _to_make_again(what: str) -> Finding:
    return finding(
        "made-to-other-figures",
        "caution",
        "The {part} was made to other figures than are wanted now.",
        "Look whether it still serves; otherwise make it again and note that.",
        part=what,
    )


def _supply(feed: PowerFeed) -> list[Finding]:
    """What is wrong with the unit's supply."""
    volts = feed.transformer if feed.transformer is not None else feed.shop_volts
    shop = Supply(volts, feed.shop_phases, feed.shop_hertz)
    return list(review_supply(Supply(feed.volts, feed.phases, feed.hertz), shop))


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
                "Measure their middle from the unit's own gear, and type that on Bracket.",
            )
        ]  # fmt: skip
    if pattern_missing(feed):
        return [
            finding(
                "pattern-missing", "caution",
                "Nobody said where the unit's holes lie: the bracket can't be solved.",
                "Measure their middle from the unit's own gear, across and up, and type that on Bracket.",
            )
        ]  # fmt: skip
    return []


def _stands_in(job: Job, axis: Axis) -> list[Finding]:
    """What the unit stands inside of, where it hangs as the figures say; nothing while the machine can't be drawn."""
    group = f"{axis.name} power feed"
    try:
        return job.derived(("stands in", group), lambda: stands_in(metal_of(job).envelope, group))
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
    axis: Axis, fit: FitResult, mesh: MeshResult, stops: StopsResult, still: Sequence[str],
    settled: frozenset[FeedSheet], unmade: Sequence[str], feed: PowerFeed,
) -> Sentence:  # fmt: skip
    """What comes next: measure, take off, mesh, trips, checks, parts."""
    runs = stops.measured and feed.set_low is not None and feed.set_high is not None
    if axis.drive != "there":
        if fit.missing:
            return Sentence(
                "Still to measure with the caliper, before anything is taken apart: {what}.",
                {"what": ", ".join(fit.missing[:3])},
            )
        if fit.covered:
            return Sentence(
                "Now handle and dial come off: list them on Run in under Taken off, then measure {what}.",
                {"what": ", ".join(fit.covered[:3])},
            )
        if not mesh.agreed:
            return mesh.instruction
    if not runs:
        return stops.instruction
    if axis.drive != "there" and still:
        left = "1 check is open" if len(still) == 1 else f"{len(still)} checks are open"
        return Sentence("Trips are set. Go through Run in: {left}.", {"left": left})
    if axis.drive != "there" and unmade:
        return Sentence("Say on Run in when these are made and fitted: {what}.", {"what": ", ".join(unmade)})
    return _RUNS if "trips" in settled else _FIT_STOPS


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

"""The power feed of an axis in the report."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any

from vernus.core.feed.fit import FitItem
from vernus.core.feed.speeds import CHECKS
from vernus.core.finding import Fine, Mm, in_units
from vernus.core.units import UnitSystem, format_fine, format_length, format_plain, format_size
from vernus.job.document import Job
from vernus.job.entities import Axis, MeshTrial, PowerFeed, Rework, RunOnTest
from vernus.job.feed.feed import FeedResult, feed_result, removed_parts
from vernus.job.feed.fitting import made_name
from vernus.job.feed.mesh import MeshResult
from vernus.job.fields import LengthEntry, field_unit, quantities
from vernus.job.known.axis_figures import feed_of
from vernus.job.known.run_on import ran_on_mm, reworks
from vernus.job.machine.directions import directions_of
from vernus.job.moments import local_day
from vernus.paper.drawing.feed.chain import paint_chain
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, subheading, table, table_in_halves
from vernus.paper.pages.said import said_blocks

_SET = ("set_low", "set_high", "timed")
REWORKED = dict(quantities(Rework)["figure"].choices)
WAYS = {"up": "toward the {@high} end", "down": "toward the {@low} end"}
FIT_WORDS = {"fits": "fits", "task": "to do", "part": "to make", "open": "to measure"}


def fit_word(result: FeedResult, item: FitItem) -> str:
    """The verdict on an item in a word; what was to be made and is made reads so."""
    if item.verdict in ("part", "task") and made_name(item) not in result.unmade:
        return "made" if item.verdict == "part" else "seen to"
    return FIT_WORDS[item.verdict]


def feed_blocks(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """Fit, speeds, mesh, stops and what was taken off; nothing without a feed."""
    feed = feed_of(job, axis)
    if feed is None:
        return
    result = feed_result(job, axis, feed)
    yield subheading("Power feed")
    yield Words(result.instruction.text(units))
    if result.fit.items:
        rows = [(i.what, fit_word(result, i), i.words.text(units)) for i in result.fit.items]
        yield from table(("What", "Verdict", "In figures"), rows, (0.18, 0.14, 0.68))
    said = (("In the kit", feed.came), ("Missing from it", feed.lacking))
    for words, what in said:
        if what:
            yield Words(f"{words}: {what}.")
    if feed.transformer is not None:
        yield Words(f"Supplied through a transformer or new wiring: {feed.transformer:g} V.")
    yield from _measured(feed, units)
    if result.fit.brackets:
        ways = [
            (c.label + (" (chosen)" if c.school == feed.bracket else ""), c.words.text(units))
            for c in result.fit.brackets
        ]
        yield from table(("Carried by", "What it costs"), ways, (0.3, 0.7))
    if result.bracket is not None:
        yield Words("Feed bracket. " + result.bracket.instruction.text(units))
    if result.cover is not None:
        yield Words("Gear cover. " + result.cover.words.text(units))
    chain = result.fit.chain
    if chain is not None:
        yield Words("The screw's end with its parts in place, to scale", keep_with_next=True)
        laid: Callable[..., Any] = partial(paint_chain, end=chain.end, plan=chain.plan, inks=PRINT, units=units)
        yield Picture(laid, 215)
        yield from said_blocks(job, axis, units, "drive")
    if result.speeds is not None:
        yield Words(result.speeds.in_words().text(units))
    yield from _gears(result.mesh, units)
    yield from said_blocks(job, axis, units, "mesh")
    yield from _mesh(job, axis, units)
    if result.stops.stroke is not None:
        yield from said_blocks(job, axis, units, "trip")
        yield Words(result.stops.instruction.text(units))
    yield from _runs(job, axis, units)
    yield from _record(job, axis, feed, units)


def wall_feed(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """Feeds and trips of an axis for the sheet on the wall; nothing without a feed."""
    feed = feed_of(job, axis)
    if feed is None:
        return
    result = feed_result(job, axis, feed)
    if result.speeds is not None:
        yield Words(result.speeds.in_words().text(units), size=13)
    ends = directions_of(job, axis).ends
    for end, at in zip(ends, (feed.set_low, feed.set_high), strict=True):
        if at is not None:
            said = in_units(units, f"The {end} stop trips at {{at}} from the {ends[0]} mark.", at=Mm(at.mm))
            yield Words(said, size=15, bold=True)
    if feed.set_low is None or feed.set_high is None:
        yield Words("Trips not set yet.", size=13)
    yield Words("Fold or take off the handle while it runs; try both trips after a month.", size=13, after=12)


def _runs(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    """The run-on tests."""
    words = directions_of(job, axis)
    tests = job.of_axis(RunOnTest, axis.id)
    if tests:
        lines = [
            (
                words.said(WAYS[t.way]),
                t.speed,
                "–" if t.ran is not None else t.tripped.shown(units),
                "by rule" if t.ran is not None else t.stood.shown(units),
                format_plain(ran_on_mm(t), units),
            )
            for t in tests
        ]
        yield from table(
            ("Running", "At", "Tripped", "Stood", "Run-on"), lines, (0.34, 0.12, 0.18, 0.18, 0.18), (2, 3, 4)
        )


def _record(job: Job, axis: Axis, feed: PowerFeed, units: UnitSystem) -> Iterable[Block]:
    """What was worked over, what commissioning said, and what was taken off."""
    worked = reworks(job, axis)
    if worked:
        before_after = [
            (
                REWORKED[r.figure], "–" if r.before is None else format_size(r.before.mm, units),
                "–" if r.after is None else format_size(r.after.mm, units), r.how or "–", local_day(r.created),
                "–" if r.minutes is None else f"{r.minutes:g} min",
            )
            for r in worked
        ]  # fmt: skip
        yield Words("Made and worked over, before and after", keep_with_next=True)
        titles = ("What", "Before", "After", "How", "Date", "Time")
        yield from table(titles, before_after, (0.26, 0.12, 0.12, 0.22, 0.16, 0.12), (1, 2, 5))
        minutes = sum(r.minutes or 0.0 for r in worked)
        if minutes:
            yield Words(f"{minutes:g} min of work noted in all.")
    answers = [(quantities(PowerFeed)[name].label, getattr(feed, name) or "–") for name in CHECKS]
    if any(said != "–" for _, said in answers):
        yield from table_in_halves(("Commissioning", "Answer"), answers, (0.32, 0.18), size=8.5)
    gone = removed_parts(job, axis)
    if gone:
        yield Words("Taken off, and how the machine is put back", keep_with_next=True)
        yield from table(("Part", "Kept", "Goes back"), [(g.name, g.kept, g.back) for g in gone], (0.3, 0.3, 0.4))


def _measured(feed: PowerFeed, units: UnitSystem) -> Iterable[Block]:
    """Every caliper figure there is, as it was measured."""
    rows: list[tuple[str, str]] = []
    whole = ""
    for name, quantity in quantities(PowerFeed).items():
        value = getattr(feed, name)
        label = f"{whole}, {quantity.label[1:].strip()}" if quantity.label.startswith("…") else quantity.label
        whole = whole if quantity.label.startswith("…") else quantity.label.split(",")[0]
        if value in (None, "") or name in (*_SET, *CHECKS) or quantity.kind == "text":
            continue
        if isinstance(value, LengthEntry):
            unit = field_unit(quantity.kind, units)
            rows.append((label, f"{value.shown(unit)} {unit}"))
        elif quantity.choices:
            rows.append((label, dict(quantity.choices).get(str(value), str(value))))
        else:
            rows.append((label, f"{value:g}"))
    if rows:
        yield Words("Measured on kit and machine, before anything was worked over", keep_with_next=True)
        yield from table_in_halves(("What", "Measured"), rows, (0.32, 0.18), size=8.5)


def _backlash(trial: MeshTrial, units: UnitSystem) -> str:
    """The backlash of a trial, or the two it swings between within a turn."""
    ends = [format_fine(b.mm, units) for b in (trial.backlash, trial.loosest) if b is not None]
    return " to ".join(ends) or "–"


def _gaps(trial: MeshTrial, units: UnitSystem) -> str:
    """The gap of the gear to its housing, bracket side and far side."""
    both = [format_length(g.mm, units) for g in (trial.inner_gap, trial.outer_gap) if g is not None]
    return ", ".join(both) or "–"


def _gears(mesh: MeshResult, units: UnitSystem) -> Iterable[Block]:
    """What the gear is, what else it might be, and how the pair meshes."""
    if not mesh.guesses:
        return
    first, *others = mesh.guesses
    rest = "".join(
        in_units(units, "; or {name} ({off} off)", name=g.name, off=Fine(g.off_mm, sign=True)) for g in others
    )
    named = mesh.named.text(units).rstrip(".") if mesh.named is not None else first.name
    yield Words(f"Gear: {named}{rest}.")
    if mesh.engagement is not None:
        faces = {"mm": Mm(mesh.engagement.engaged_mm), "share": 100 * mesh.engagement.share}
        yield Words(in_units(units, "{mm} of its face in mesh, {share:.0f} % of the narrower.", **faces))
    if mesh.mesh is not None:
        values = {
            "lash": Fine(mesh.mesh.backlash_mm), "found": Fine(mesh.measured_mm or 0.0),
            "centre": Mm(mesh.mesh.centre_mm), "open": Fine(mesh.mesh.open_mm), "ratio": mesh.mesh.contact_ratio,
        }  # fmt: skip
        measured = "" if mesh.measured_mm is None else ", measured {found}"
        words = "Backlash {lash} to expect" + measured + "; centres {centre} opened by {open}; "
        yield Words(in_units(units, words + "{ratio:.2f} pairs of teeth in mesh.", **values))


def _mesh(job: Job, axis: Axis, units: UnitSystem) -> Iterable[Block]:
    trials = job.of_axis(MeshTrial, axis.id)
    if not trials:
        return
    rows = [
        (
            str(n), format_length(t.shim.mm, units), t.paper or "–", _gaps(t, units),
            _backlash(t, units), t.noise or "–",
        )
        for n, t in enumerate(trials, 1)
    ]  # fmt: skip
    yield from table(
        ("Trial", "Stand-off", "Paper", "To housing", "Backlash", "By ear"), rows,
        (0.1, 0.16, 0.16, 0.2, 0.2, 0.18), (1,),
    )  # fmt: skip

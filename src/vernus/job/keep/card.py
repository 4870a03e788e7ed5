"""What to buy, what to make, and the job card: steps in order with tools, and what to park or keep where."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, Sentence
from vernus.core.keep.schedule import JobStep, order_steps
from vernus.core.plan.scales import choose_size, family_by_id
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.entities import Axis, Step
from vernus.job.feed.feed import feed_of, feed_result, removed_parts
from vernus.job.machine.geometry import axis_travel, chosen_face
from vernus.job.machine.travel import plan_of
from vernus.job.plan.display import display_of
from vernus.job.plan.faces import envelope_result, place_on_face
from vernus.job.review import review_axis


@dataclass(frozen=True)
class Item:
    """One line of the buying or making list; ``price`` is in the user's own money, None where unknown."""

    kind: str
    axis: str
    what: Sentence
    detail: Sentence
    price: float | None = None


@dataclass(frozen=True)
class CardLine:
    """A step of the job card, whether it is done, and by what: ticked, or the sheet says so."""

    step: JobStep
    done: bool
    when: str
    note: str
    by_sheet: bool


def buying_list(job: Job) -> list[Item]:
    """Everything to buy and to make for the plan as it stands."""
    items: list[Item] = []
    for axis in job.axes():
        items += _axis_items(job, axis)
        items += _feed_items(job, axis)
    display = display_of(job)
    if display is not None:
        text = f"Display for {display.axes:g} axes, {display.digits:g} digits"
        items.append(Item("buy", "", Sentence(text), Sentence("{t}", {"t": display.functions}), display.price))
    try:
        result = envelope_result(job)
    except BadInputError:
        return items
    for found in result.findings:
        if found.code == "bumper":
            words = Sentence("{length} long, between {moving} and {still}", found.what.values)
            items.append(Item("make", found.what.values["axis"], Sentence("Bumper pillar"), words))
    for stop in result.stops:
        words = Sentence("Stop at the {end} end", {"end": "high" if stop.high else "low"})
        items.append(Item("make", stop.axis, words, Sentence("{mm} before the mark", {"mm": Mm(stop.short_by_mm)})))
    return items


def _axis_items(job: Job, axis: Axis) -> list[Item]:
    plan = plan_of(job, axis)
    if plan is None or not plan.family or plan.measuring is None:
        return []
    family = family_by_id(families_of(job), plan.family)
    travel = axis_travel(job, axis)
    stock = None
    if family.can_be_cut and family.sizes_mm and travel:
        choice = choose_size(family, travel, max(0.0, plan.margin.mm))
        stock = choice.order_mm if choice is not None else None
    detail = Sentence(
        "measuring length {m}" + ("; buy {o} and cut it" if stock else ""),
        {"m": Mm(plan.measuring.mm), "o": Mm(stock or 0.0)},
    )
    price = plan.price if plan.price is not None else family.price
    items = [Item("buy", axis.name, Sentence("{f}", {"f": family.label}), detail, price)]
    if plan.cover == "yes":
        items.append(Item("buy", axis.name, Sentence("Cover"), Sentence("{m} long", {"m": Mm(plan.measuring.mm)})))
    face = chosen_face(job, plan)
    if face is not None:
        where = Sentence("{n:.0f} parts, {face}", {"n": face.parts, "face": face.name})
        items.append(Item("make", axis.name, Sentence("Bracket and standoffs"), where))
        place = place_on_face(job, axis)
        if place is not None and place.overhang_mm > 0:
            over = Sentence("the body stands over the face by {o}", {"o": Mm(place.overhang_mm)})
            items.append(Item("make", axis.name, Sentence("Extension plate or end standoffs"), over))
    return items


def _feed_items(job: Job, axis: Axis) -> list[Item]:
    """What a power feed brings: the kit to buy, the parts to make, the parts taken off to keep."""
    feed = feed_of(job, axis)
    if feed is None:
        return []
    kit = Sentence("for {v:g} V" if feed.volts is not None else "voltage to be said", {"v": feed.volts or 0.0})
    items = [Item("buy", axis.name, Sentence("Power feed kit"), kit)]
    result = feed_result(job, axis, feed)
    for made in result.fit.items:
        if made.verdict == "part" and made.part is not None:
            items.append(Item("make", axis.name, Sentence(made.part.name.capitalize()), made.words))
        elif made.verdict == "task":
            items.append(Item("make", axis.name, Sentence("Task: " + made.what), made.words))
    if result.bracket is not None:
        items.append(Item("make", axis.name, Sentence("Feed bracket"), result.bracket.instruction))
    for gone in removed_parts(job, axis):
        where = Sentence("{k}; {b}", {"k": gone.kept or "say where", "b": gone.back or "goes back as it was"})
        items.append(Item("keep", axis.name, Sentence("{n}", {"n": gone.name or "a part taken off"}), where))
    return items


def total_price(items: list[Item]) -> tuple[float, int]:
    """The sum of the prices known, and how many lines to buy have none."""
    known = [i.price for i in items if i.price is not None]
    return sum(known), sum(i.kind == "buy" and i.price is None for i in items)


def card_lines(job: Job) -> list[CardLine]:
    """The job card: every step in order, with what is ticked."""
    ticked = {s.key: s for s in job.all(Step)}
    by_sheet = _done_by_sheet(job)
    lines: list[CardLine] = []
    for step in order_steps(_steps(job)):
        tick = ticked.get(step.key)
        done = tick is not None and tick.done
        sheet = step.key in by_sheet
        lines.append(CardLine(step, done or sheet, tick.changed[:10] if tick else "", tick.note if tick else "", sheet))
    return lines


def next_line(lines: list[CardLine]) -> CardLine | None:
    """The first step that is not done and whose needs all are."""
    done = {line.step.key for line in lines if line.done}
    return next((c for c in lines if not c.done and all(n in done for n in c.step.needs)), None)


_TICKED_BY = (
    ("travel", "survey"), ("align", "align"), ("reader", "reader"), ("calibrate", "calibrate"),
    ("positioning", "prove"), ("feed", "feed"),
)  # fmt: skip


_WHOLE_MACHINE = ("cables", "powerup")


def _done_by_sheet(job: Job) -> set[str]:
    """Keys of the steps that a finished sheet ticks; cables and power-up are one step once every axis has them."""
    done: set[str] = set()
    reviews = {axis.name: review_axis(job, axis).states for axis in job.axes()}
    states = {name: {str(sheet): state for sheet, state in found.items()} for name, found in reviews.items()}
    for name, found in states.items():
        done |= {f"{step}-{name}" for sheet, step in _TICKED_BY if found.get(sheet) == "done"}
    done |= {sheet for sheet in _WHOLE_MACHINE if all(found.get(sheet) == "done" for found in states.values())}
    for axis in job.axes():
        plan = plan_of(job, axis)
        if plan is not None and plan.measuring is not None and chosen_face(job, plan) is not None:
            done.add(f"plan-{axis.name}")
    return done


def _steps(job: Job) -> list[JobStep]:
    axes = job.axes()
    steps = [
        JobStep(
            "isolate", "", "Isolate the machine and lock it off; clear the table.", (), "padlock",
            "Keep the key with you until the covers are back.",
        )
    ]  # fmt: skip
    if job.info.purpose == "feed":
        fed = [axis for axis in axes if feed_of(job, axis) is not None]
        words = "Measure the travel, twice."
        steps += [JobStep(f"survey-{a.name}", a.name, words, ("isolate",), "scriber, tape or caliper") for a in fed]
        return [*steps, *(s for a in fed for s in _feed_steps(job, a, (f"survey-{a.name}",)))]
    for axis in axes:
        survey, plan = f"survey-{axis.name}", f"plan-{axis.name}"
        words = "Measure the travel, twice, and the holes there are."
        care = "Don't let the screw run out of its nut."
        steps.append(JobStep(survey, axis.name, words, ("isolate",), "scriber, tape or caliper", care))
        steps.append(JobStep(plan, axis.name, "Choose scale, face and display place.", (survey,)))
    steps.append(JobStep("order", "", "Order what the list says.", tuple(f"plan-{a.name}" for a in axes)))
    care = "Keep clips, gap shims and certificates in one bag."
    steps.append(JobStep("receive", "", "Measure what arrived before anything is made.", ("order",), "caliper", care))
    care = "Metal must meet metal before the reader meets the scale's end."
    words = "Fit stops and bumpers before any reader goes on."
    steps.append(JobStep("stops", "", words, ("receive",), "lathe, tap", care))
    for axis in axes:
        steps += _fitting(job, axis)
    words = "Route the cables with the display off; earth the display to the machine."
    care = "Hold every axis at its farthest corner while tying."
    steps.append(JobStep("cables", "", words, tuple(f"cover-{a.name}" for a in axes), "clips, ties", care))
    words = "First power-up, axis by axis: does it count, the right way, over the whole stroke?"
    steps.append(JobStep("powerup", "", words, ("cables",), "", "Before hidden parts are closed up."))
    for axis in axes:
        words = "Check against a reference and key in what it says."
        care = "Let machine and reference reach one temperature."
        tools = "gauge blocks, indicator"
        steps.append(JobStep(f"calibrate-{axis.name}", axis.name, words, ("powerup",), tools, care))
        words = "Prove it: targets in both directions, small steps, back to zero."
        steps.append(JobStep(f"prove-{axis.name}", axis.name, words, (f"calibrate-{axis.name}",), "indicator"))
    feeds = [s for axis in axes for s in _feed_steps(job, axis, (f"prove-{axis.name}",))]
    words = "Put it all back: guards, stops, oil. Tram the head again if it was moved."
    last = tuple(s.key for s in feeds if s.key.startswith("feed-"))
    steps += feeds
    steps.append(JobStep("again", "", words, (*(f"prove-{a.name}" for a in axes), *last), "indicator"))
    return steps


def _feed_steps(job: Job, axis: Axis, after: tuple[str, ...]) -> list[JobStep]:
    """The steps of a power feed; stops go on before the bracket, or they are trapped behind it."""
    if feed_of(job, axis) is None:
        return []
    name = axis.name
    chain = (
        ("fit", "Measure screw end and kit; see what fits and what is to be made.", "caliper, depth gauge",
         "Nothing is taken apart yet."),
        ("off", "Take off handle, dial and bracket; list and keep every part.", "keys, puller",
         "Isolated and locked off. Support the screw."),
        ("trip", "Put the trip stops on before the bracket.", "", "Afterwards they are trapped behind it."),
        ("mesh", "Bracket, drive gear, unit: set the mesh by paper and indicator, shim the stand-off.",
         "paper, indicator, shims", "Turn the handwheel through the whole travel before tightening for good."),
        ("runon", "Measure the run-on with temporary stops in mid travel, both ways, slow then rapid.", "",
         "Covers on. Handle folded or off: a spinning handle breaks fingers."),
        ("feed", "Set the final stops, run into each slowly, then at rapid.", "", "A hand on the stop."),
    )  # fmt: skip
    steps, need = [], after
    for key, words, tools, care in chain:
        steps.append(JobStep(f"{key}-{name}", name, words, need, tools, care))
        need = (f"{key}-{name}",)
    return steps


def _fitting(job: Job, axis: Axis) -> list[JobStep]:
    face = chosen_face(job, plan_of(job, axis))
    where = face.name if face is not None else "face"
    name, others = axis.name, ", ".join(a.name for a in job.axes())
    steps = (
        ("hold", "stops", f"Dry fit, {where}: hold body, reader and bracket with clamps, magnets or tape.",
         "clamps, magnets, tape", "Nothing is drilled yet. Keep magnets from pacemakers."),
        ("run", "hold", f"Dry fit: run {others} by hand through their whole strokes, in their corners too.", "",
         "Shipping clips off before the axis moves; watch cover, cable stub and locks."),
        ("mark", "run", "Dry fit: mark body and bracket, and measure the last gap again.", "scriber, caliper",
         "Note the height under Stack on Mounts: the last piece is made from that, not from the plan."),
        ("reach", "mark", "See that every screw can be reached with the tool that turns it.", "keys, drivers",
         f"Park the {axis.moving} or take its handwheel off where it can't; cut a key short if need be."),
        ("drill", "reach", f"Drill and tap, {where}.", "drill, taps, guide block, eye protection",
         f"Park the {axis.moving} so that the drill stands square; find out what is behind the wall."),
        ("align", "drill", "Hang the body, snug, sweep and align in both planes.", "indicator", ""),
        ("reader", "align", "Set the reader: gap over the whole stroke, clips off before anything moves.",
         "clips, feeler", ""),
        ("cover", "reader", "Cover on; it must not rub. Run the whole stroke.", "", ""),
    )  # fmt: skip
    return [
        JobStep(f"{key}-{name}", name, words, (need if need == "stops" else f"{need}-{name}",), tools, care)
        for key, need, words, tools, care in steps
    ]

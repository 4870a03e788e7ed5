"""What the plan asks to buy and to make: scales, covers, the display, stops and bumpers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.finding import AxisEnd, Mm, Sentence, Sold
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known.axis_figures import chosen_face, plan_of
from vernus.job.known.lengths import body_length, family_of, measuring_length
from vernus.job.machine.directions import directions_of
from vernus.job.plan.compare import chosen_kit
from vernus.job.plan.cut import cut_of, is_here
from vernus.job.plan.display import display_of, usual_display
from vernus.job.plan.places import place_on_face
from vernus.job.plan.travel_left import made_by, stops_of
from vernus.job.scope import gets_scale, in_scope


@dataclass(frozen=True)
class Item:
    """One line of what to buy, to make, to measure before it is made, to keep or to have at hand.

    ``price`` is in the user's own money, None where unknown; ``key`` tells the lines of an axis apart; ``size`` is what
    is asked for over the counter.
    """

    kind: Literal["buy", "make", "measure", "keep", "have"]
    axis: str
    what: Sentence
    detail: Sentence
    price: float | None = None
    key: str = ""
    size: Sentence | None = None
    count: int = 1
    size_mm: float | None = None


def scale_items(job: Job, axis: Axis) -> list[Item]:
    """The scale of an axis with its cover; nothing for a scale that is there already."""
    plan, family, measuring = plan_of(job, axis), family_of(job, axis), measuring_length(job, axis)
    if not gets_scale(axis) or plan is None or family is None or measuring is None:
        return []
    kit = chosen_kit(job)
    cut = cut_of(job, axis)
    stock = measuring.value if cut is None or cut.from_mm is None else cut.from_mm
    name = "usable stroke" if family.sizing == "stroke" else "measuring length"
    bought = " {m}; buy {o} and cut it" if stock > measuring.value else " {s}"
    words = name + (" {m}; from the kit's {o}" if kit is not None else bought)
    detail = Sentence(words, {"m": Mm(measuring.value), "s": Sold(measuring.value), "o": Sold(stock)})
    size = Sentence("{s}", {"s": Sold(stock)})
    price = plan.price if plan.price is not None else 0.0 if kit is not None else family.price
    items = [Item("buy", axis.name, Sentence("{f}", {"f": family.label}), detail, price, "scale", size, 1, stock)]
    if is_here(job, axis):  # what has come is never ordered again
        saw = Sentence("{o} has come; cut it to {m} of " + name, {"o": Mm(stock), "m": Mm(measuring.value)})
        items = [] if cut is None else [Item("make", axis.name, Sentence("Cut the scale"), saw)]
    body = body_length(job, axis)
    if plan.cover == "yes" and axis.readout == "new" and body is not None:
        long = Sentence("{m}", {"m": Mm(body.value)})
        what = Sentence(family.covered_by[:1].upper() + family.covered_by[1:])
        items.append(
            Item(
                "buy", axis.name, what, Sentence("{m} long", {"m": Mm(body.value)}), None, "cover", long, 1, body.value
            )
        )
    place = place_on_face(job, axis)
    if place is not None and place.overhang_mm > 0 and axis.readout != "there":
        over = Sentence("the body stands over the face by {o}", {"o": Mm(place.overhang_mm)})
        items.append(Item("make", axis.name, Sentence("Plate or end standoffs that carry it"), over))
    return items


def kit_item(job: Job) -> list[Item]:
    """The kit that brings the scales, once, with its one price."""
    kit = chosen_kit(job)
    if kit is None or all(is_here(job, a) for a in job.axes() if a.name in kit.lengths_mm):
        return []
    text = "Kit of " + " × ".join(f"{{k{n}}}" for n in range(len(kit.kit.lengths_mm)))
    values = {f"k{n}": Sold(mm) for n, mm in enumerate(kit.kit.lengths_mm)}
    axes = ", ".join(sorted(kit.lengths_mm))
    return [
        Item("buy", "", Sentence(text, values), Sentence("one price, for {axes}", {"axes": axes}), kit.kit.price, "kit")
    ]


def bracket_item(job: Job, axis: Axis) -> list[Item]:
    """Bracket and standoffs of a chosen face, while nobody has designed them."""
    face = chosen_face(job, axis)
    if face is None or not gets_scale(axis):
        return []
    parts = round(face.parts)
    words = "{n} part, {face}" if parts == 1 else "{n} parts, {face}"
    where = Sentence(words, {"n": parts, "face": face.name})
    return [Item("make", axis.name, Sentence("Bracket and standoffs"), where)]


def display_items(job: Job) -> list[Item]:
    """The display wanted, from the start; nothing while no new axis is read on one."""
    said = display_of(job)
    if not any(a.readout == "new" for a in job.axes()):
        return []
    display = said or usual_display(job, "usual")
    axes, digits = round(display.axes), round(display.digits)
    text = f"Display for {axes} {'axis' if axes == 1 else 'axes'}" + ("" if said is None else f", {digits} digits")
    open_ = "; say on Order which one" if said is None else ""
    detail = Sentence("{t}" + open_, {"t": display.functions})
    return [Item("buy", "", Sentence(text), detail, display.price, "display")]


def stop_items(job: Job) -> list[Item]:
    """Every stop once: as the pillar that makes it where there is one, otherwise as a stop.

    One that rests on what nobody measured isn't made yet: it is told with what to measure first.
    """
    scoped = {a.name for a in job.axes() if in_scope(a)}
    items: list[Item] = []
    for stop in stops_of(job):
        own = stop.motion == stop.axis.name
        pillar = made_by(job, stop)
        where = "" if own else f" of the {stop.motion}"
        text = "Stop at the {end} end" + where + (": bumper pillar" if pillar is not None else "")
        values: dict[str, object] = {"mm": stop.before, "why": stop.reason}
        detail, first = "{mm} before the mark: {why}", stop.unmeasured
        if pillar is not None:
            detail = "{length} long, between {moving} and {still}; it stops {mm} before the mark"
            values |= {"length": pillar.length, "moving": pillar.mine.name, "still": pillar.other.name}
            first = pillar.unmeasured or first
        if first:
            detail += "; measure first, and make nothing before: {unmeasured}"
            values["unmeasured"] = ", ".join(first)
        what = Sentence(text, {"end": AxisEnd(stop.need.end)}, directions_of(job, stop.axis))
        kind: Literal["make", "measure"] = "measure" if first else "make"
        items.append(Item(kind, stop.motion if own and stop.motion in scoped else "",
                          what, Sentence(detail, values)))  # fmt: skip
    return items

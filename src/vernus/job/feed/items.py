"""What a power feed brings to the lists: the kit to buy, the parts to make, the parts taken off to keep."""

from __future__ import annotations

from vernus.core.finding import Sentence
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.feed.feed import feed_result, removed_parts
from vernus.job.feed.fitting import made_name
from vernus.job.known.axis_figures import feed_of
from vernus.job.plan.order import Item


def feed_items(job: Job, axis: Axis) -> list[Item]:
    """What a power feed brings: the kit to buy, the parts to make, the parts taken off to keep."""
    feed = feed_of(job, axis) if axis.drive == "new" else None
    if feed is None:
        return [] if axis.drive != "new" else [_kit_to_be_measured(axis)]
    kit = Sentence("for {v:g} V" if feed.volts is not None else "voltage to be said", {"v": feed.volts or 0.0})
    items = [Item("buy", axis.name, Sentence("Power feed kit"), kit, feed.price, "feed kit")]
    if feed.lacking:
        items.append(
            Item(
                "buy",
                axis.name,
                Sentence("Missing from the feed kit"),
                Sentence("{m}", {"m": feed.lacking}),
                None,
                "missing",
            )
        )
    if feed.transformer is not None:
        values = {"shop": feed.shop_volts or 0.0, "unit": feed.transformer}
        words = Sentence(
            "{shop:g} V to {unit:g} V; wired by who is licensed for it" if feed.shop_volts else "to {unit:g} V", values
        )
        items.append(Item("buy", axis.name, Sentence("Transformer or new supply"), words, None, "supply"))
    result = feed_result(job, axis, feed)
    for made in result.fit.items:
        if made_name(made) not in result.unmade:
            continue
        if made.verdict == "part" and made.part is not None:
            items.append(Item("make", axis.name, Sentence(made.part.name.capitalize()), made.words))
        elif made.verdict == "task":
            items.append(Item("make", axis.name, Sentence("Task: " + made.what), made.words))
    if result.bracket is not None and "feed bracket" in result.unmade:
        items.append(Item("make", axis.name, Sentence("Feed bracket"), result.bracket.instruction))
    if result.cover is not None and "gear cover" in result.unmade:
        items.append(Item("make", axis.name, Sentence("Gear cover"), result.cover.words))
    for gone in removed_parts(job, axis):
        where = Sentence("{k}; {b}", {"k": gone.kept or "say where", "b": gone.back or "goes back as it was"})
        items.append(Item("keep", axis.name, Sentence("{n}", {"n": gone.name or "a part taken off"}), where))
    return items


def _kit_to_be_measured(axis: Axis) -> Item:
    return Item(
        "buy",
        axis.name,
        Sentence("Power feed kit"),
        Sentence("voltage to be said; measure the screw's end first"),
        None,
        "feed kit",
    )

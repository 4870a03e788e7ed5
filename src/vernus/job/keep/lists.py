"""Everything to buy, to make and to keep, collected from the rooms."""

from __future__ import annotations

from vernus.job.connect.items import cable_items
from vernus.job.document import Job
from vernus.job.feed.items import feed_items
from vernus.job.make.items import made_items, tool_items
from vernus.job.plan.order import Item, bracket_item, display_items, kit_item, scale_items, stop_items
from vernus.job.scope import axes_in_scope


def buying_list(job: Job) -> list[Item]:
    """Everything to buy, to make and to keep for the plan as it stands; nothing for axes out of scope."""
    items: list[Item] = [*kit_item(job)]
    for axis in axes_in_scope(job):
        made = made_items(job, axis)
        items += [*scale_items(job, axis), *(made or bracket_item(job, axis)), *feed_items(job, axis)]
    return [*items, *display_items(job), *cable_items(job), *stop_items(job), *tool_items(job)]


def total_price(items: list[Item]) -> tuple[float, int]:
    """The sum of the prices known, and how many lines to buy have none."""
    known = [i.price for i in items if i.price is not None]
    return sum(known), sum(i.kind == "buy" and i.price is None for i in items)

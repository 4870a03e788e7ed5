"""What fits of a power feed's kit, from the caliper figures there are, and what is made or worked over for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.feed.fit import BracketChoice, FitItem, TurnedPart, compare_brackets, fit_holes, fit_thread
from vernus.core.feed.keys import SteppedKey
from vernus.core.finding import Mm, Sentence, conclusion
from vernus.core.make.hardware import thread_named
from vernus.job.entities import PowerFeed
from vernus.job.feed.chain import Chain, chain_items, chain_of, end_missing, kit_missing
from vernus.job.fields import mm_of
from vernus.job.known.run_on import new_bracket_mm


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
                "Everything that didn't fit is made or seen to. List what comes off on Run in, under Taken off."
            )
        if not make and not do:
            return conclusion(
                "Everything measured fits. List what comes off on Run in, under Taken off, before it does."
            )
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

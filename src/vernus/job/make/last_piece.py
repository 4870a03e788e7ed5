"""The piece of a chain that fills a measured gap: what the others leave for it, and what comes off what is at hand."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.make.patterns import chain_rest
from vernus.job.document import Job
from vernus.job.entities import MountPart
from vernus.job.fields import mm_of
from vernus.job.known.lengths import gap_left
from vernus.job.make.parts import heights_of

_SAME_MM = 0.005


@dataclass(frozen=True)
class LastPiece:
    """The piece that fills a measured gap: what it has, what it is brought to, and what comes off (mm)."""

    at_hand_mm: float
    to_mm: float
    words: Sentence

    @property
    def off_mm(self) -> float:
        """What is taken off; negative where it is too short."""
        return self.at_hand_mm - self.to_mm


def made_last(job: Job, entity: MountPart) -> LastPiece | None:
    """What to take off the last piece: of the piece at hand where that was measured, else of what was planned.

    The pieces beside it in the gap are those noted under Stack.
    """
    to = gap_left(job, entity)
    if to is None or not to > 0 or entity.gap is None:
        return None
    planned, at_hand = getattr(entity, entity.fills).mm, _at_hand(entity)
    has = planned if at_hand is None else at_hand
    rest = chain_rest(has, to)
    heights = heights_of(job, entity)
    gap = "The gap is {gap}"
    if heights:
        gap += ", " + " and ".join(f"{{n{k}}} takes {{h{k}}}" for k in range(len(heights))) + ", which leaves {to}"
    of = "the {fills} was planned {has}" if at_hand is None else "the piece at hand has a {fills} of {has}"
    words = gap + ": " + of + ", so take {rest} off."
    if abs(rest) < _SAME_MM:
        words = gap + (", as planned." if at_hand is None else ", as the piece at hand.")
    elif rest < 0:
        words = gap + ": " + of + "; make it {short} longer."
    values: dict[str, object] = {"gap": Mm(entity.gap.mm), "fills": entity.fills, "has": Mm(has), "rest": Mm(rest)}
    values |= {f"n{k}": h.name or "a piece" for k, h in enumerate(heights)}
    values |= {f"h{k}": Mm(h.height.mm) for k, h in enumerate(heights)}
    return LastPiece(has, to, Sentence(words, {**values, "short": Mm(-rest), "to": Mm(to)}))


def _at_hand(entity: MountPart) -> float | None:
    """The piece at hand along what fills the gap (mm); None while it wasn't measured."""
    stock = {"length": entity.stock_length, "width": entity.stock_width, "thickness": entity.stock_thick}
    return mm_of(stock[entity.fills])


def review_gap(job: Job, entity: MountPart) -> list[Finding]:
    """A last piece that is too short for what the gap leaves, or a gap that the pieces beside it fill already."""
    to = gap_left(job, entity)
    if to is None or entity.gap is None:
        return []
    values = {"gap": Mm(entity.gap.mm), "part": entity.name or "the part", "to": Mm(abs(to))}
    if not to > 0:
        return [
            finding(
                "gap-is-full",
                "stop",
                "The pieces noted under Stack are {to} more than the gap of {gap}: nothing is left for {part}.",
                "Measure the gap and the pieces again, or make one of them thinner.",
                **values,
            )
        ]
    planned = getattr(entity, entity.fills).mm
    rest = chain_rest(planned, to)
    if rest >= -1e-9:
        return []
    return [
        finding(
            "too-short-for-the-gap",
            "caution",
            "The gap leaves {to}, and {part} was planned {planned}: {short} too short.",
            "Make it {to}, or put a spacer of {short} under it; look first whether all other parts sit home.",
            **values, planned=Mm(planned), short=Mm(-rest),
        )
    ]  # fmt: skip

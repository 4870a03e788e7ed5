"""Run in: the checks of commissioning, what was taken off and goes back, what was made and worked over."""

from __future__ import annotations

from typing import Any

from vernus.core.feed.speeds import CHECKS
from vernus.core.finding import Sentence
from vernus.core.units import format_size
from vernus.desktop.parts.marks import MarkName
from vernus.desktop.parts.pictures import Paint
from vernus.desktop.parts.tables import Column
from vernus.desktop.session import Session
from vernus.desktop.sheets.feed.of_feed import OfFeed
from vernus.job.entities import Entity, PowerFeed, RemovedPart, Rework
from vernus.job.feed.feed import FeedResult, before_of, made_now, put_back, still_to_make
from vernus.job.fields import LengthEntry
from vernus.job.moments import local_day
from vernus.paper.pages.feed.feed import REWORKED


class RunInSheet(OfFeed):
    """Checks, parts taken off, or what was worked over, on the left; what is still open on the right."""

    name = "run-in"
    title = "Run in"
    part = "run-in"
    about = "Run in the feed on"
    widths = (150, 120)
    caution = (
        "Covers on, handle folded or off while it runs. Supply and earthing follow local electrical codes; where they "
        "ask for a licensed electrician, use one."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.removed = self.listed(
            "Parts taken off", RemovedPart, {"": ("name", "kept", "back")},
            [Column("part", False), Column("kept", False)], lambda p: [p.name, p.kept],
        )  # fmt: skip
        self.worked = self.listed(
            "Worked over", Rework, {"": ("figure", "before", "after", "how", "minutes")},
            [Column("what", False), Column("before"), Column("after")],
            lambda r: [REWORKED[r.figure], self._size(r.before), self._size(r.after)], self._made_to,
        )  # fmt: skip
        checks = self.form(settle={"made": self._as_made})
        self.turned_over(("Checks", checks), ("Taken off", self.removed), ("Worked over", self.worked))

    def _as_made(self, feed: PowerFeed) -> PowerFeed:
        """The feed with what its parts are made to, where it was just said that they are."""
        job, axis = self.session.job, self.session.axis
        if feed.made != "yes" or job is None or axis is None:
            return feed
        made: PowerFeed = feed.with_(made_to=made_now(job, axis, feed))
        return made

    def _made_to(self, work: Rework) -> Rework:
        """What is noted as made, with what it was made to."""
        job, axis, feed = self.session.job, self.session.axis, self.feed()
        if job is None or axis is None or feed is None:
            return work
        stored = job.get(work.id)
        if isinstance(stored, Rework) and stored.figure != work.figure:  # another figure was chosen: its own before
            work = work.with_(before=before_of(job, axis, feed, work))
        if work.figure in PowerFeed.model_fields:
            return work
        made: Rework = work.with_(made_to=made_now(job, axis, feed, work.figure))
        return made

    def new(self, kind: type[Entity]) -> Any:
        made, job, axis, feed = super().new(kind), self.session.job, self.session.axis, self.feed()
        if not isinstance(made, Rework) or job is None or axis is None or feed is None:
            return made
        return made.with_(before=before_of(job, axis, feed, made))

    def _size(self, measured: LengthEntry | None) -> str:
        return "–" if measured is None else format_size(measured.mm, self.session.units)

    def instruction_of(self, result: FeedResult) -> Sentence:
        if self.face == "worked over":
            return still_to_make(result.unmade)
        if self.face == "taken off":
            return put_back(self.of_axis(RemovedPart))
        return super().instruction_of(result)

    def show_answer(self, feed: PowerFeed, result: FeedResult) -> None:
        done, left = len(CHECKS) - len(result.open_checks), len(result.open_checks)
        stopped = any(f.severity == "stop" for f in result.findings)
        told = [f"{left} still to do"] if left else []
        told += ["1 part to make"] if len(result.unmade) == 1 else []
        told += [f"{len(result.unmade)} parts to make"] if len(result.unmade) > 1 else []
        minutes = sum(r.minutes or 0.0 for r in self.of_axis(Rework))
        told += [f"{minutes:g} min of work noted"] if minutes else []
        mark: MarkName | None = "stop" if stopped else "done" if "run-in" in result.settled else None
        self.headline.show_answer(self.session, f"{done} of {len(CHECKS)} checked", "; ".join(told), mark)

    def drawing_of(self, feed: PowerFeed, result: FeedResult) -> Paint | None:
        return self.line_of_axis(result)

    def rows_of(self, feed: PowerFeed, result: FeedResult) -> list[list[str]]:
        noted = [[REWORKED[r.figure], local_day(r.created), self._done(r)] for r in self.of_axis(Rework)]
        kept = [[p.name or "a part taken off", p.kept or "kept where?", p.back] for p in self.of_axis(RemovedPart)]
        return [*([what, "to do", ""] for what in result.unmade), *noted, *kept]

    def _done(self, work: Rework) -> str:
        """What was done, from which figure to which, and how long it took."""
        both = f"{self._size(work.before)} → {self._size(work.after)}" if work.after is not None else ""
        took = f"{work.minutes:g} min" if work.minutes is not None else ""
        return "; ".join(words for words in (work.how, both, took) if words)

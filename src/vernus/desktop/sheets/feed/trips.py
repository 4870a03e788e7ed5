"""Trips: speeds, the run-on measured, and where both trips go on the line of the axis."""

from __future__ import annotations

from vernus.core.machine.stroke import Stroke
from vernus.core.units import format_plain
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.marks import MarkName
from vernus.desktop.parts.pictures import Paint
from vernus.desktop.parts.tables import Column
from vernus.desktop.session import Session
from vernus.desktop.sheets.feed.of_feed import OfFeed
from vernus.job.entities import Axis, PowerFeed, RunOnTest
from vernus.job.feed.feed import FeedResult
from vernus.job.known.run_on import ran_on_mm
from vernus.paper.pages.feed.feed import WAYS


class TripsSheet(OfFeed):
    """Speeds and stops, or the run-on tests, on the left; the line of the axis with its trips on the right."""

    name = "trips"
    title = "Trips"
    part = "trips"
    about = "Trips of the feed on"
    caution = (
        "Covers on; handle folded or off while it runs: a spinning handle breaks fingers. A hand on the stop at every "
        "trial."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.fields["lead"] = FigureRow(session, Axis, "lead", self.axis_in_view)
        speeds = self.form([Group("Screw", [self.fields["lead"]])])
        self.tests = self.listed(
            "Run-on tests", RunOnTest, {"": ("way", "speed", "ran", "tripped", "stood")},
            [Column("running", False), Column("at", False), Column("run-on")],
            lambda t: [session.said(WAYS[t.way]), t.speed, format_plain(ran_on_mm(t), session.units)],
        )  # fmt: skip
        self.turned_over(("Speeds and stops", speeds), ("Run-on", self.tests))

    def show_answer(self, feed: PowerFeed, result: FeedResult) -> None:
        units, line = self.session.units, result.stops.stroke
        if line is None or line.trips_mm is None:
            self.headline.show_answer(self.session, "no trips yet", "", _stopped(result))
            return
        low = format_plain(line.trips_mm[0], units, with_unit=False)
        high = format_plain(line.trips_mm[1], units)
        sure = "run-on measured" if result.stops.measured else "run-on only estimated"
        ends = self.session.directions.ends
        under = f"from the {ends[0]} mark; {_decided(line, ends)}; {sure}"
        mark: MarkName | None = _stopped(result) or ("done" if "trips" in result.settled else None)
        self.headline.show_answer(self.session, f"{low} to {high}", under, mark)

    def caption_of(self, feed: PowerFeed, result: FeedResult) -> str:
        return "" if result.speeds is None else result.speeds.in_words().text(self.session.units)

    def drawing_of(self, feed: PowerFeed, result: FeedResult) -> Paint | None:
        return self.line_of_axis(result)


def _stopped(result: FeedResult) -> MarkName | None:
    return "stop" if any(f.severity == "stop" for f in result.findings_on.get("trips", ())) else None


def _decided(line: Stroke, ends: tuple[str, str]) -> str:
    """What decides the trips, in words."""
    low, high = line.trips_by
    if low == high == "hard stop":
        return "decided by the hard stops"
    return f"{ends[0]} end by the {low}, {ends[1]} end by the {high}"

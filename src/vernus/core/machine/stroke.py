"""The stroke: one line per axis, from its physical low mark 0 to its high mark T, with nothing fitted.

On it stand where metal meets, what is given up, the scale's ends with the reader's margin, and the trips of a power
feed with their run-on. Each asks for a stop on its own, as a distance before the mark of its end: metal T − x₁ (x₁ the
lower bound of what the axis can't pass), given up as it is, scale T − (b − margin). There is one stop per end, at the
largest of them, and none of them changes because another does. Trip = min(stop − clearance, b − margin) − run-on. The
low end is the mirror image. An interval in mid stroke splits the travel: the part that holds home is kept. All in mm.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import AxisEnd, Finding, Mm, Sentence, finding

Pair = tuple[float, float]
End = Literal["low", "high"]
Why = Literal["metal", "given up", "scale"]
ENDS: tuple[End, End] = ("low", "high")
_SAME = 1e-9  # mm; a sum that rounds this far beyond its limit still only touches


@dataclass(frozen=True)
class Meets:
    """An open interval of the axis in which it meets something."""

    with_: str
    from_mm: float
    to_mm: float


@dataclass(frozen=True)
class FeedRun:
    """What a power feed needs: run-on toward either end, and how far it trips before a stop."""

    run_on_mm: Pair
    clear_mm: float


@dataclass(frozen=True)
class Need:
    """Why an end needs a stop, and how far before its mark; ``with_`` names what the metal is."""

    end: End
    before_mark_mm: float
    why: Why
    with_: str = ""

    def in_words(self) -> Sentence:
        """The reason with its figure."""
        words = {
            "metal": "{with_} is met {mm} before the mark",
            "given up": "{mm} given up",
            "scale": "the scale with its margin ends {mm} before the mark",
        }[self.why]
        return Sentence(words, {"mm": Mm(self.before_mark_mm), "with_": self.with_ or "metal"})


@dataclass(frozen=True)
class Stroke:
    """The line solved; ``kept_mm`` is None where nothing is left, ``trips_mm`` without a feed.

    ``needs`` are all reasons at both ends, ``stops`` the one of each end that decides.
    """

    travel_mm: float
    home_mm: float
    meets: tuple[Meets, ...]
    give_up_mm: Pair
    scale_mm: Pair | None
    margin_mm: Pair
    needs: tuple[Need, ...]
    stops: tuple[Need, ...]
    kept_mm: Pair | None
    trips_mm: Pair | None
    trips_by: tuple[str, str]
    findings: tuple[Finding, ...]

    def stop_at(self, end: End) -> Need | None:
        """The stop of an end, if it needs one."""
        return next((s for s in self.stops if s.end == end), None)

    def limit_mm(self, end: End) -> float:
        """Where the axis stops at an end: at its stop, or at its mark."""
        stop = self.stop_at(end)
        before = 0.0 if stop is None else stop.before_mark_mm
        return before if end == "low" else self.travel_mm - before

    def ends_at_mm(self, end: End) -> float | None:
        """Where the scale's margin begins at an end; None without a scale."""
        if self.scale_mm is None:
            return None
        return self.scale_mm[0] + self.margin_mm[0] if end == "low" else self.scale_mm[1] - self.margin_mm[1]


def solve_stroke(
    travel_mm: float,
    *,
    home_mm: float | None = None,
    meets: Sequence[Meets] = (),
    give_up_mm: Pair = (0.0, 0.0),
    scale_mm: Pair | None = None,
    margin_mm: Pair = (0.0, 0.0),
    feed: FeedRun | None = None,
    u_mm: float = 0.0,
    unread_mm: Pair = (0.0, 0.0),
) -> Stroke:
    """The stroke of an axis; positions count from the low mark, ``home_mm`` is the middle where it isn't given.

    ``u_mm`` is the expanded uncertainty of the travel: it moves no stop, but a smaller spare is told, and a margin
    broken by less asks for none. ``unread_mm`` is what is not read at either end though the axis is driven through it:
    no stop there, and the scale bears the whole.
    Raises BadInputError for a length that can't be.
    """
    home = travel_mm / 2 if home_mm is None else home_mm
    _check(travel_mm, home, meets, give_up_mm, scale_mm, margin_mm, feed)
    if not all(math.isfinite(mm) and 0 <= mm < travel_mm for mm in unread_mm):
        raise BadInputError(
            f"What is driven through unread must be at least 0 and less than the travel of {travel_mm:g} mm."
        )
    free = _around_home(travel_mm, home, meets)
    needs = [*_metal(travel_mm, home, free, meets), *_given_up(give_up_mm)]
    needs += [n for n in _scale_needs(travel_mm, scale_mm, margin_mm, u_mm) if not unread_mm[ENDS.index(n.end)]]
    stops = [max(mine, key=lambda n: n.before_mark_mm) for e in ENDS if (mine := [n for n in needs if n.end == e])]
    kept = _kept(travel_mm, stops) if free is not None else None
    trips, by = _trips(travel_mm, stops, scale_mm, margin_mm, feed)
    made = Stroke(
        travel_mm, home, tuple(meets), give_up_mm, scale_mm, margin_mm, tuple(needs), tuple(stops), kept, trips, by, ()
    )
    found = [*_review(made, home_free=free is not None, u_mm=u_mm), *_unread(made, unread_mm)]
    return Stroke(**{**vars(made), "findings": tuple(found)})


def _check(
    travel: float,
    home: float,
    meets: Sequence[Meets],
    give_up: Pair,
    scale: Pair | None,
    margin: Pair,
    feed: FeedRun | None,
) -> None:
    run_on = feed.run_on_mm if feed is not None else (0.0, 0.0)
    clear = feed.clear_mm if feed is not None else 0.0
    ends = [v for m in meets for v in (m.from_mm, m.to_mm)]
    if not all(map(math.isfinite, (travel, home, *give_up, *(scale or ()), *margin, *run_on, clear, *ends))):
        raise BadInputError("Every length of a stroke must be a finite number.")
    if not travel > 0:
        raise BadInputError(f"The high mark must lie beyond the low one; the travel given is {travel:g} mm.")
    if not 0 <= home <= travel:
        raise BadInputError(f"Home must lie between the marks, 0 and {travel:g} mm; {home:g} mm was given.")
    if min(*give_up, *margin, *run_on, clear) < 0:
        raise BadInputError("What is given up, margin, run-on and clearance can't be negative; 0 is right for none.")
    if scale is not None and not scale[0] < scale[1]:
        raise BadInputError("The scale's low end must lie below its high end.")
    wrong = next((m for m in meets if m.from_mm > m.to_mm), None)
    if wrong is not None:
        raise BadInputError(f"Meeting {wrong.with_}: it begins at {wrong.from_mm:g} mm, beyond its end.")


def _around_home(travel: float, home: float, meets: Sequence[Meets]) -> Pair | None:
    """The part of the travel around home that nothing takes; None where home lies inside something."""
    low, high = 0.0, travel
    for m in meets:
        if m.from_mm < home < m.to_mm:
            return None
        if m.from_mm < m.to_mm and m.to_mm <= home:
            low = max(low, m.to_mm)
        elif m.from_mm < m.to_mm and m.from_mm >= home:
            high = min(high, m.from_mm)
    return low, high


def _metal(travel: float, home: float, free: Pair | None, meets: Sequence[Meets]) -> list[Need]:
    if free is None:
        return []
    found: list[Need] = []
    if free[0] > _SAME:
        by = next(m for m in meets if m.to_mm == free[0] and m.to_mm <= home and m.from_mm < m.to_mm)
        found.append(Need("low", free[0], "metal", by.with_))
    if free[1] < travel - _SAME:
        by = next(m for m in meets if m.from_mm == free[1] and m.from_mm >= home and m.from_mm < m.to_mm)
        found.append(Need("high", travel - free[1], "metal", by.with_))
    return found


def _given_up(give_up: Pair) -> list[Need]:
    return [Need(end, mm, "given up") for end, mm in zip(ENDS, give_up, strict=True) if mm > 0]


def _scale_needs(travel: float, scale: Pair | None, margin: Pair, u_mm: float) -> list[Need]:
    """The stops that keep a margin; none for a breach that the travel's uncertainty and the margin itself cover."""
    if scale is None:
        return []
    before = (scale[0] + margin[0], travel - (scale[1] - margin[1]))
    covered = [min(u_mm, m) for m in margin]
    return [
        Need(end, mm, "scale") for end, mm, room in zip(ENDS, before, covered, strict=True) if mm > max(_SAME, room)
    ]


def _kept(travel: float, stops: Sequence[Need]) -> Pair | None:
    before = {s.end: s.before_mark_mm for s in stops}
    low, high = before.get("low", 0.0), travel - before.get("high", 0.0)
    return (low, high) if low <= high else None


def _trips(
    travel: float, stops: Sequence[Need], scale: Pair | None, margin: Pair, feed: FeedRun | None
) -> tuple[Pair | None, tuple[str, str]]:
    """Where the feed trips at either end, and what decides each."""
    if feed is None:
        return None, ("", "")
    before = {s.end: s.before_mark_mm for s in stops}
    low, high = before.get("low", 0.0) + feed.clear_mm, travel - before.get("high", 0.0) - feed.clear_mm
    by_low = by_high = "hard stop"
    if scale is not None:
        if scale[0] + margin[0] > low:
            low, by_low = scale[0] + margin[0], "scale"
        if scale[1] - margin[1] < high:
            high, by_high = scale[1] - margin[1], "scale"
    return (low + feed.run_on_mm[0], high - feed.run_on_mm[1]), (by_low, by_high)


def _review(stroke: Stroke, *, home_free: bool, u_mm: float) -> list[Finding]:
    found: list[Finding] = []
    if not home_free:
        inside = next(m.with_ for m in stroke.meets if m.from_mm < stroke.home_mm < m.to_mm)
        found.append(
            finding(
                "home-blocked",
                "stop",
                "At home, {home} from the {@low} mark, the axis already meets {with_}.",
                "Check both parts, or move one: with a meeting at home no travel can be kept.",
                home=Mm(stroke.home_mm),
                with_=inside or "metal",
            ).told_of("feed")
        )
    elif stroke.kept_mm is None:
        found.append(
            finding(
                "no-travel-left",
                "stop",
                "The stops of both ends leave nothing of the {travel} of travel.",
                "Give up less, or take away what meets.",
                travel=Mm(stroke.travel_mm),
            ).told_of("feed", "envelope")
        )
    found += [_stop_finding(stroke, s) for s in stroke.stops]
    found += _mid_stroke(stroke) if home_free else []
    found += _off_the_scale(stroke)
    if stroke.trips_mm is not None and stroke.trips_mm[0] >= stroke.trips_mm[1]:
        found.append(
            finding(
                "no-room-for-trips",
                "stop",
                "The trips come to {low} and {high} from the {@low} mark: nothing is left between them.",
                "Rapid is too fast for this axis: limit it, shorten the braking, or use the feed without rapid.",
                low=Mm(stroke.trips_mm[0]),
                high=Mm(stroke.trips_mm[1]),
            ).told_of("feed", "scale")
        )
    return found + _thin_spare(stroke, u_mm)


def _stop_finding(stroke: Stroke, stop: Need) -> Finding:
    """The stop of an end, why it is there, and what else asked for one."""
    others = [n for n in stroke.needs if n.end == stop.end and n is not stop]
    words = "A stop {before} before the {end} mark: {why}"
    words += "".join(f"; {{other{n}}}" for n in range(len(others))) + "."
    return finding(
        "stop-needed",
        "info",
        words,
        "Fit it before the axis is run under power, and before a reader is on its scale.",
        before=Mm(stop.before_mark_mm),
        end=AxisEnd(stop.end),
        why=stop.in_words(),
        **{f"other{n}": need.in_words() for n, need in enumerate(others)},
    )


def _mid_stroke(stroke: Stroke) -> list[Finding]:
    """What stands in mid stroke, with free travel beyond it that can't be reached."""
    low = [m for m in stroke.meets if _SAME < m.from_mm < m.to_mm <= stroke.home_mm]
    high = [m for m in stroke.meets if stroke.home_mm <= m.from_mm < m.to_mm < stroke.travel_mm - _SAME]
    return [
        finding(
            "splits-the-travel",
            "caution",
            "{with_} stands in mid stroke, from {from_} to {to}: the travel beyond it is lost too.",
            "Move that part or take it off; only the side with home is kept.",
            with_=m.with_ or "Metal",
            from_=Mm(m.from_mm),
            to=Mm(m.to_mm),
        ).told_of("envelope")
        for m in (*low, *high)
    ]


def _unread(stroke: Stroke, unread_mm: Pair) -> list[Finding]:
    """What is driven through unread at either end, and whether the scale bears it."""
    found: list[Finding] = []
    for end, mm in zip(ENDS, unread_mm, strict=True):
        if not mm:
            continue
        found.append(
            finding(
                "driven-unread",
                "info",
                "At the {end} end {mm} are not read but still driven through: no stop goes there.",
                "The scale has to bear the whole travel.",
                end=AxisEnd(end),
                mm=Mm(mm),
            )
        )
        over = _over_the_end(stroke, end)
        if over > _SAME:
            found.append(
                finding(
                    "driven-off-the-scale",
                    "stop",
                    "At the {end} end the scale ends {over} before the mark, and the axis is driven to the mark: its "
                    "reader is driven off.",
                    "Take a scale that bears the whole travel, or shift its reader; a stop would keep the axis from "
                    "what it has to do there.",
                    end=AxisEnd(end),
                    over=Mm(over),
                ).told_of("envelope", "scale")
            )
    return found


def _over_the_end(stroke: Stroke, end: End) -> float:
    """How far before its mark the scale itself ends; 0 or less where it reaches it, or where there is none."""
    if stroke.scale_mm is None:
        return 0.0
    return stroke.scale_mm[0] if end == "low" else stroke.travel_mm - stroke.scale_mm[1]


def _off_the_scale(stroke: Stroke) -> list[Finding]:
    """Where the scale itself ends inside the travel: without the stop the reader is driven into its end."""
    if stroke.scale_mm is None:
        return []
    asked = {n.end for n in stroke.needs if n.why == "scale"}
    over = {end: _over_the_end(stroke, end) for end in ENDS if end in asked}
    return [
        finding(
            "scale-ends-first",
            "caution",
            "At the {end} end the scale ends {over} before the mark: without its stop the reader is driven off it.",
            "A longer scale or a shifted reader gives it back; until then the stop goes on before the reader does.",
            end=AxisEnd(end),
            over=Mm(mm),
        ).told_of("envelope")
        for end, mm in over.items()
        if mm > _SAME
    ]


def _thin_spare(stroke: Stroke, u_mm: float) -> list[Finding]:
    """A spare beyond the limit of an end that is smaller than the travel is known."""
    found: list[Finding] = []
    for n, end in enumerate(ENDS):
        if stroke.scale_mm is None or u_mm <= 0:
            break
        limit = stroke.limit_mm(end)
        spare = limit - stroke.scale_mm[0] if n == 0 else stroke.scale_mm[1] - limit
        if 0 <= spare < u_mm:
            found.append(
                finding(
                    "spare-below-uncertainty",
                    "caution",
                    "At the {end} end {spare} of the scale is spare, and the travel is known to ± {u} only.",
                    "Measure the travel with a finer tool, or ask for more spare there.",
                    end=AxisEnd(end),
                    spare=Mm(spare),
                    u=Mm(u_mm),
                ).told_of("scale")
            )
    return found


def review_trips(stroke: Stroke, run_on_mm: Pair, set_mm: tuple[float | None, float | None]) -> list[Finding]:
    """Trips as they stand now, against stops and scale ends: too late, swapped, or beyond an end (mm)."""
    low, high = set_mm
    if low is not None and high is not None and low >= high:
        return [
            finding(
                "trips-swapped",
                "stop",
                "The {@low} trip is noted at {low}, not below the {@high} one at {high}: swapped, or one is mistyped.",
                "Enter the trip near the {@low} mark as the {@low} one; nothing is judged until then.",
                low=Mm(low, sign=True),
                high=Mm(high, sign=True),
            ).told_of("feed")
        ]
    found: list[Finding] = []
    for n, at in enumerate(set_mm):
        if at is not None:
            found += _trip_at(stroke, ENDS[n], at, run_on_mm[n])
    return found


_MOVE = "Move this trip to {trip} before anything is run under power."


def _trip_at(stroke: Stroke, end: End, at: float, run_on: float) -> list[Finding]:
    n, sign = ENDS.index(end), 1 if end == "high" else -1
    stop, scale = stroke.limit_mm(end), stroke.scale_mm[n] if stroke.scale_mm is not None else None
    trip = stroke.trips_mm[n] if stroke.trips_mm is not None else stop
    reached = at + sign * run_on
    values = {
        "at": Mm(at, sign=True), "reached": Mm(reached, sign=True), "trip": Mm(trip, sign=True),
        "stop": Mm(stop, sign=True), "scale": Mm(scale or 0.0, sign=True), "end": AxisEnd(end),
    }  # fmt: skip
    if scale is not None and sign * (reached - scale) > 0:
        what = (
            "Tripped at {at} the axis runs on to {reached}, beyond the scale's {end} end at {scale}: the reader is "
            "driven into its end."
        )
        return [finding("scale-runs-out", "stop", what, _MOVE, **values).told_of("feed", "scale")]
    if sign * (reached - stop) > 0:
        what = "Tripped at {at} the axis runs on to {reached}, into the {end} stop at {stop}."
        return [finding("hits-hard-stop", "stop", what, _MOVE, **values).told_of("feed")]
    if sign * (at - trip) > _SAME:
        what = "The {end} trip stands at {at}, later than {trip}: its clearance is used up."
        return [finding("stop-late", "caution", what, "Move it to {trip}.", **values).told_of("feed")]
    return []

"""Speeds of a power feed, and its supply.

Feed (mm/min) = motor rpm × z₁/z₂ × lead, z₁ on the unit, z₂ on the screw. Supply: most units take ± 10 % of their
voltage and ± 5 % of their frequency; common practice, no source, the maker's plate goes before it.
"""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Sentence, Shown, finding
from vernus.core.units import UnitSystem, format_in

_SHARE, _HERTZ_SHARE = 0.1, 0.05


@dataclass(frozen=True)
class FeedRate(Shown):
    """A feed inside a sentence, in mm/min or in/min."""

    mm_per_min: float

    def show(self, system: UnitSystem) -> str:
        """The feed in the reader's unit system."""
        return f"{format_in(self.mm_per_min, system, 0 if system == 'mm' else 1, with_unit=False)} {system}/min"


@dataclass(frozen=True)
class FeedRange:
    """Slowest and fastest feed (mm/min), rapid, and seconds for the whole travel at rapid and at the slowest.

    ``timed``: rapid is by stopwatch, and slowest and fastest are not known.
    """

    slow_mm_per_min: float
    fast_mm_per_min: float
    rapid_mm_per_min: float
    traverse_s: float | None
    slow_traverse_s: float | None
    timed: bool = False

    def in_words(self) -> Sentence:
        """The range in one sentence."""
        if self.timed:
            words = "Rapid {rapid} by stopwatch" + (
                "; the whole travel takes {quick:.0f} s." if self.traverse_s else "."
            )
            return Sentence(words, {"rapid": FeedRate(self.rapid_mm_per_min), "quick": self.traverse_s or 0.0})
        words = "Feeds {slow} to {fast}, rapid {rapid}"
        values: dict[str, object] = {
            "slow": FeedRate(self.slow_mm_per_min), "fast": FeedRate(self.fast_mm_per_min),
            "rapid": FeedRate(self.rapid_mm_per_min),
        }  # fmt: skip
        if self.traverse_s is not None and self.slow_traverse_s is not None:
            words += "; the whole travel takes {quick:.0f} s at rapid, {long:.0f} min at the slowest"
            values |= {"quick": self.traverse_s, "long": self.slow_traverse_s / 60}
        return Sentence(words + ".", values)


def feed_rate(rpm: float, teeth: tuple[int, int], lead_mm: float) -> float:
    """Feed (mm/min) of a motor shaft at ``rpm`` through ``teeth`` (unit, screw) and a screw's lead."""
    if rpm < 0 or min(teeth) < 1 or not lead_mm > 0:
        raise BadInputError("Speed, teeth and lead must be larger than zero.")
    return rpm * teeth[0] / teeth[1] * lead_mm


def feed_range(
    slow_rpm: float, fast_rpm: float, rapid_rpm: float, teeth: tuple[int, int], lead_mm: float, travel_mm: float | None
) -> FeedRange:
    """The feeds of a unit on an axis; ``travel_mm`` None: no times."""
    if not slow_rpm <= fast_rpm <= rapid_rpm:
        raise BadInputError("Speeds must grow from the slowest feed over the fastest to rapid.")
    slow, fast, rapid = (feed_rate(rpm, teeth, lead_mm) for rpm in (slow_rpm, fast_rpm, rapid_rpm))
    if travel_mm is None or slow <= 0:
        return FeedRange(slow, fast, rapid, None, None)
    return FeedRange(slow, fast, rapid, 60 * travel_mm / rapid, 60 * travel_mm / slow)


def timed_range(distance_mm: float, seconds: float, travel_mm: float | None) -> FeedRange:
    """Rapid by stopwatch: feed = distance/time. Raises BadInputError for what isn't larger than zero."""
    if not (distance_mm > 0 and seconds > 0):
        raise BadInputError("A stopwatch wants a distance and a time larger than zero.")
    rapid = 60 * distance_mm / seconds
    return FeedRange(0.0, 0.0, rapid, None if travel_mm is None else 60 * travel_mm / rapid, None, timed=True)


@dataclass(frozen=True)
class Supply:
    """A supply: volts, phases (``1``, ``3`` or ``dc``) and hertz; what isn't known is None or empty."""

    volts: float | None = None
    phases: str = ""
    hertz: float | None = None


PHASES = {"1": "single-phase", "3": "three-phase", "dc": "direct current"}


def review_supply(unit: Supply, shop: Supply) -> list[Finding]:
    """Findings where what the unit wants is not what the shop has; what isn't known of either is not compared."""
    found = []
    if unit.volts and shop.volts and abs(shop.volts / unit.volts - 1) > _SHARE:
        found.append(
            finding(
                "other-voltage",
                "stop",
                "The unit is for {unit:g} V, the shop has {shop:g} V.",
                "Don't connect it. Order it for {shop:g} V, or a transformer of its power by an electrician; local "
                "electrical codes go before this.",
                unit=unit.volts,
                shop=shop.volts,
            )
        )
    if unit.phases and shop.phases and unit.phases != shop.phases:
        found.append(
            finding(
                "other-phases",
                "stop",
                "The unit is for {unit}, the shop has {shop}.",
                "Don't connect it. Order it for {shop}, or have an electrician fit what turns one into the other; "
                "local electrical codes go before this.",
                unit=PHASES[unit.phases],
                shop=PHASES[shop.phases],
            )
        )
    if unit.hertz and shop.hertz and abs(shop.hertz / unit.hertz - 1) > _HERTZ_SHARE:
        found.append(
            finding(
                "other-frequency",
                "caution",
                "The unit is for {unit:g} Hz, the shop has {shop:g} Hz: a mains-fed motor runs at {share:.0f} % of "
                "its speed.",
                "Ask the maker whether it may run so, and count the feeds by that share; a unit with its own "
                "electronics may not mind.",
                unit=unit.hertz,
                shop=shop.hertz,
                share=100 * shop.hertz / unit.hertz,
            )
        )
    return found


CHECKS = ("turns_free", "end_float", "greased", "covered", "trips", "reverses", "rapid", "lamp", "earthed")
_WRONG = {
    "turns_free": (
        "It binds somewhere by hand.",
        "Loosen the bracket, find the place, shim or move it; never let the motor overcome it.",
    ),
    "end_float": (
        "The screw floats along its length, or its bearing is too tight.",
        "Seat the bearing, set nut and collar until it turns free without play, then measure again.",
    ),
    "greased": ("The gears are dry.", "Grease them before it is run under power."),
    "covered": ("The gears are open.", "Make the cover and put it on before it is run under power."),
    "trips": (
        "A trip does not stop it.",
        "Isolate. See that the stop reaches the switch before anything else.",
    ),
    "reverses": (
        "It can be reversed while running.",
        "Let it stop first, always; ask the maker whether that is meant.",
    ),
    "rapid": (
        "Rapid stays on by itself.",
        "Isolate and follow the maker's instructions; rapid must need a hand that holds it.",
    ),
    "lamp": ("Nobody knows what the lamp means.", "Look it up: on some units it shows a tripped breaker, not power."),
    "earthed": (
        "It is not earthed.",
        "Don't run it. Earthing follows local electrical codes; an electrician where they ask for one.",
    ),
}
_STOPS = ("turns_free", "covered", "trips", "rapid", "earthed")


def answer_finding(name: str) -> Finding:
    """The finding for a check of commissioning (one of ``CHECKS``) answered with no."""
    what, remedy = _WRONG[name]
    return finding(f"feed-{name.replace('_', '-')}", "stop" if name in _STOPS else "caution", what, remedy)

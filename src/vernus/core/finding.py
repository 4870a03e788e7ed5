"""Findings and instructions: sentences that carry their numbers, so that they read right in either unit system."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Any, Literal, NamedTuple

from vernus.core.units import (
    MM_PER,
    DegreeName,
    UnitName,
    UnitSystem,
    format_in,
    format_temperature,
    format_with_uncertainty,
    to_unit,
    without_idle_zeros,
)

Severity = Literal["info", "caution", "stop"]
SEVERITIES: tuple[Severity, ...] = ("info", "caution", "stop")
_SAME_MM = 1e-7
_MOST_EXTRA = 4


class Style(NamedTuple):
    """How a length is printed: unit, decimals, and whether zeros at the end are dropped."""

    unit: UnitName
    decimals: int
    trim: bool


class Shown:
    """A value that is printed in the reader's unit system."""

    def show(self, system: UnitSystem) -> str:
        """As it is printed."""
        raise NotImplementedError


@dataclass(frozen=True)
class Mm:
    """A working length inside a sentence, as on a shop drawing."""

    mm: float
    sign: bool = False

    def style(self, system: UnitSystem) -> Style:
        """Its unit, decimals, and whether zeros at the end are dropped."""
        return Style(system, 2 if system == "mm" else 3, True)

    def show(self, system: UnitSystem, extra: int = 0) -> str:
        """The length in the reader's unit system, with so many decimals more than usual."""
        unit, decimals, trim = self.style(system)
        number = format_in(self.mm, unit, decimals + extra, sign=self.sign, with_unit=False)
        return f"{without_idle_zeros(number) if trim else number} {unit}"

    def printed_mm(self, system: UnitSystem, extra: int = 0) -> float:
        """What the reader takes the length for."""
        unit, decimals, _ = self.style(system)
        return round(to_unit(self.mm, unit), decimals + extra) * float(MM_PER[unit])


@dataclass(frozen=True)
class Bracketed(Mm):
    """A length that rests on what nobody measured: printed in brackets, and nothing is made to it yet."""

    def show(self, system: UnitSystem, extra: int = 0) -> str:
        """“[48 mm]”."""
        return f"[{super().show(system, extra)}]"


@dataclass(frozen=True)
class Fine(Mm):
    """An indicator-sized length inside a sentence, to a µm or a tenth of a thou."""

    def style(self, system: UnitSystem) -> Style:
        """Thousandths of a millimetre, tenths of a thou."""
        return Style("mm", 3, False) if system == "mm" else Style("thou", 1, False)


@dataclass(frozen=True)
class KeyedLength(Mm):
    """A length as it is keyed into a display, in the display's own millimetres or inches, never in thou."""

    def style(self, system: UnitSystem) -> Style:
        """To a µm, or to a hundredth of a thou as the finest scale counts."""
        return Style("mm", 3, False) if system == "mm" else Style("in", 5, True)


@dataclass(frozen=True)
class Least(Mm):
    """The least of a span of indicator-sized lengths inside a sentence: to as many places as it takes not to be 0."""

    def style(self, system: UnitSystem) -> Style:
        """Without idle zeros, to a hundredth of a µm or a thousandth of a thou."""
        return Style("mm", 5, True) if system == "mm" else Style("thou", 3, True)


@dataclass(frozen=True)
class Size(Mm):
    """A measured size, such as a diameter or a key's width, inside a sentence."""

    def style(self, system: UnitSystem) -> Style:
        """To a µm or a tenth of a thou, in mm or inches."""
        return Style(system, 3 if system == "mm" else 4, True)


@dataclass(frozen=True)
class Sold(Mm):
    """A length as goods are sold by: in inches by the nominal inch of a 50 mm step, with the true figure beside it."""

    def show(self, system: UnitSystem, extra: int = 0) -> str:
        """“500 mm”, or “20 in (500 mm)”."""
        nominal = self.nominal_in
        if system == "mm" or nominal is None:
            return super().show(system, extra)
        return f"{nominal} in" if abs(self.mm / 25.4 - nominal) < 1e-6 else f"{nominal} in ({self.mm:g} mm)"

    @property
    def nominal_in(self) -> int | None:
        """The whole inches it is sold as; None where it is sold by no such name."""
        nominal = round(self.mm / 25.4)
        exact = abs(self.mm / 25.4 - nominal) < 1e-6
        stepped = abs(self.mm / 50 - round(self.mm / 50)) < 1e-6 and abs(self.mm / 25.4 - nominal) <= 0.02 * nominal
        return nominal if nominal >= 1 and (exact or stepped) else None


@dataclass(frozen=True)
class Stock(Mm):
    """A set screw or pin by the size it is sold in: whole millimetres, or the nearest 1/32 in."""

    def show(self, system: UnitSystem, extra: int = 0) -> str:
        """“5 mm”, or “3/16 in”."""
        nearest = Fraction(round(self.mm / 25.4 * 32), 32)
        return f"{nearest} in" if system == "in" and nearest else f"{self.mm:g} mm"


@dataclass(frozen=True)
class Tiny(Mm):
    """A length below an indicator's division inside a sentence."""

    def style(self, system: UnitSystem) -> Style:
        """Hundredths of a µm, or thousandths of a thou."""
        return Style("µm", 2, False) if system == "mm" else Style("thou", 3, False)


@dataclass(frozen=True)
class WithUncertainty(Shown):
    """A working length with its uncertainty inside a sentence."""

    mm: float
    u_mm: float

    def show(self, system: UnitSystem) -> str:
        """“680.5 mm ± 0.7 mm”, the length no finer than its uncertainty."""
        return format_with_uncertainty(self.mm, self.u_mm, system)


@dataclass(frozen=True)
class Rate(Shown):
    """A slope (rise over run) inside a sentence."""

    slope: float

    def show(self, system: UnitSystem) -> str:
        """Millimetres per metre, or thou per foot."""
        if system == "mm":
            return f"{self.slope * 1000:.3f} mm per metre".replace("-", "−")
        return f"{self.slope * 12_000:.2f} thou per foot".replace("-", "−")


@dataclass(frozen=True)
class Ppm(Shown):
    """A relative figure inside a sentence."""

    ppm: float

    def show(self, _system: UnitSystem) -> str:
        """Signed, in whole parts per million."""
        return f"{self.ppm:+,.0f} ppm".replace(",", "\u202f").replace("-", "−")


def ppm_size(ppm: float) -> str:
    """How large a relative figure is, without its sign, in whole parts per million."""
    return f"{abs(ppm):,.0f} ppm".replace(",", "\u202f")


@dataclass(frozen=True)
class Reads(Shown):
    """How much a display reads too long (positive) or too short, relative; the sign is a word."""

    ppm: float

    def show(self, _system: UnitSystem) -> str:
        """In whole parts per million, and which way."""
        size = ppm_size(self.ppm)
        way = "" if round(self.ppm) == 0 else " too long" if self.ppm > 0 else " too short"
        return size + way


@dataclass(frozen=True)
class Temperature:
    """A temperature inside a sentence: in the scale chosen for the job; nobody chose one: in °C, in inches °F too."""

    celsius: float

    def show(self, system: UnitSystem, degrees: DegreeName | None = None) -> str:
        """To a tenth of a degree."""
        value = format_temperature(self.celsius, degrees or "°C")
        return value if system == "mm" or degrees else f"{value} ({format_temperature(self.celsius, '°F')})"


@dataclass(frozen=True)
class DegreesApart:
    """A difference of temperatures, or its ±: told as a temperature is, without the zero of its scale."""

    kelvin: float

    def show(self, system: UnitSystem, degrees: DegreeName | None = None) -> str:
        """To a tenth of a degree."""
        celsius, fahrenheit = (f"{without_idle_zeros(f'{self.kelvin * by:.1f}')} {d}" for by, d in _DEGREES_APART)
        if degrees is None:
            return celsius if system == "mm" else f"{celsius} ({fahrenheit})"
        return celsius if degrees == "°C" else fahrenheit


_DEGREES_APART = ((1.0, "°C"), (1.8, "°F"))


AxisEndName = Literal["low", "high"]
BodySideName = Literal["left", "right"]


@dataclass(frozen=True)
class Directions:
    """What the ends of an axis and of its scale are called: computed as low and high, left and right, read by name."""

    ends: tuple[str, str] = ("low", "high")
    sides: tuple[str, str] = ("left", "right")
    seen: str = ""
    """From where its face is looked at, where that isn't from the front: “from behind”."""
    degrees: DegreeName | None = None
    """The scale in which the job's temperatures are told; None: nobody chose one."""

    def end(self, end: AxisEndName) -> str:
        """What an end of the axis is called."""
        return self.ends[end == "high"]

    def side(self, side: BodySideName) -> str:
        """What an end of the scale's body is called."""
        return self.sides[side == "right"]

    def way(self, side: BodySideName) -> str:
        """Which way a body goes on its face that goes to its own left or right: “to the left”, or “up” or “down”."""
        name = self.side(side)
        if name in ("upper", "lower"):
            return "up" if name == "upper" else "down"
        return f"to the {name}" + (f" (seen {self.seen})" if self.seen else "")

    def words(self) -> dict[str, str]:
        """The words by the names under which templates ask for them, such as ``{@low}``."""
        return {
            "@low": self.ends[0], "@high": self.ends[1], "@left": self.sides[0], "@right": self.sides[1],
            "@to_left": self.way("left"), "@to_right": self.way("right"),
            "@seen": f" (seen {self.seen})" if self.seen else "",
        }  # fmt: skip

    def said(self, template: str) -> str:
        """A template of our own, such as a field's label, with its words of direction filled in."""
        return template.format_map(self.words()) if "{@" in template else template


PLAIN_DIRECTIONS = Directions()


@dataclass(frozen=True)
class AxisEnd:
    """An end of an axis inside a sentence, called as that axis calls it."""

    end: AxisEndName

    def named(self, directions: Directions) -> str:
        """Its name."""
        return directions.end(self.end)


@dataclass(frozen=True)
class BodySide:
    """An end of a scale's body inside a sentence, called as one sees it standing before its face."""

    side: BodySideName

    def named(self, directions: Directions) -> str:
        """Its name."""
        return directions.side(self.side)


@dataclass(frozen=True)
class Sentence:
    """A template and the values that fill it; lengths among them follow the reader's unit system."""

    template: str
    values: dict[str, Any] = field(default_factory=dict)
    directions: Directions | None = field(default=None, compare=False)
    concluding: bool = field(default=False, compare=False)

    @property
    def concludes(self) -> bool:
        """Whether it concludes something (key in, leave, proved, finished), itself or in a sentence that fills it."""
        return self.concluding or any(isinstance(v, Sentence) and v.concludes for v in self.values.values())

    def text(self, system: UnitSystem = "mm") -> str:
        """The sentence as read in ``system``; lengths in it are printed with the digits that keep them apart."""
        directions = self.directions or PLAIN_DIRECTIONS
        extra = _digits_apart([v for v in self.values.values() if isinstance(v, Mm)], system)
        shown = {k: _shown(v, system, extra, directions) for k, v in self.values.items()}
        return self.template.format_map(directions.words() | shown if "{@" in self.template else shown)

    def show(self, system: UnitSystem) -> str:
        """The same, as a value inside another sentence."""
        return self.text(system)


def _shown(value: Any, system: UnitSystem, extra: dict[Mm, int], directions: Directions) -> Any:
    if isinstance(value, Mm):
        return value.show(system, extra.get(value, 0))
    if isinstance(value, AxisEnd | BodySide):
        return value.named(directions)
    if isinstance(value, Sentence):
        return (value if value.directions is not None else replace(value, directions=directions)).text(system)
    if isinstance(value, Temperature | DegreesApart):
        return value.show(system, directions.degrees)
    return value.show(system) if isinstance(value, Shown) else value


def _digits_apart(lengths: list[Mm], system: UnitSystem) -> dict[Mm, int]:
    """How many more decimals lengths of one sentence need, so that the printed ones compare as the true ones do."""
    extra: dict[Mm, int] = {}
    for a, b in itertools.combinations(lengths, 2):
        for more in range(_MOST_EXTRA + 1):
            off = a.printed_mm(system, more) - b.printed_mm(system, more)
            if abs(a.mm - b.mm) <= _SAME_MM or ((off > _SAME_MM / 10) == (a.mm > b.mm) and abs(off) > _SAME_MM / 10):
                break
        for length in (a, b):
            extra[length] = max(extra.get(length, 0), more)
    return extra


@dataclass(frozen=True)
class Finding:
    """One judgement: what was seen with its number and reason, and what to do about it."""

    code: str
    severity: Severity
    what: Sentence
    remedy: Sentence
    concerns: tuple[str, ...] = field(default=(), compare=False)
    """What else it is told of beside where it was found: a scale's plan, the envelope, a feed."""

    def told_of(self, *concerns: str) -> Finding:
        """The same, told of other things too."""
        return replace(self, concerns=concerns)

    def as_json(self, system: UnitSystem = "mm") -> dict[str, str]:
        """The contract form: ``code``, ``severity``, ``text``, ``remedy``."""
        return {
            "code": self.code,
            "severity": self.severity,
            "text": self.what.text(system),
            "remedy": self.remedy.text(system),
        }


def in_units(units: UnitSystem, template: str, **values: Any) -> str:
    """A template with its values, as read in a unit system: how a page or a sheet says a figure."""
    return Sentence(template, values).text(units)


def conclusion(template: str, values: dict[str, Any] | None = None) -> Sentence:
    """A sentence that concludes something: it never stands beside an open caution."""
    return Sentence(template, {} if values is None else values, concluding=True)


def directed(what: Sentence, directions: Directions) -> Sentence:
    """The sentence told in an axis's own words of direction; one that has an axis's words already keeps them."""
    return what if what.directions is not None else replace(what, directions=directions)


def in_order(words: Sentence, findings: Iterable[Finding]) -> Sentence:
    """The instruction, or what comes before it.

    An open stop is settled first, whatever else is to be said; a sentence that concludes something (key in, leave,
    proved, finished) never stands beside an open caution either.
    """
    serious = sorted((f for f in findings if f.severity != "info"), key=lambda f: -SEVERITIES.index(f.severity))
    if serious and (serious[0].severity == "stop" or words.concludes):
        return serious[0].remedy
    return words


def plain(text: str) -> Sentence:
    """A sentence without values; braces in ``text`` are just braces."""
    return Sentence("{text}", {"text": text})


def finding(code: str, severity: Severity, what: str, remedy: str, **values: Any) -> Finding:
    """Make a finding from two templates that share their values."""
    return Finding(code, severity, Sentence(what, values), Sentence(remedy, values))

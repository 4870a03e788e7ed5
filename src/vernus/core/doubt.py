"""Doubt: a typed figure against what it is compared with, and what was likely meant.

A figure outside its yardstick is asked about, never swallowed: the same digits are read in the other units, as threads
per inch, without a thousands mark, with the other sign, or in the other degrees, and the first reading that fits is
proposed. Which unit is tried first is common practice, no source: a bare figure slips most often between the two units
that one shop uses side by side.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from vernus.core.errors import BadInputError
from vernus.core.finding import Sentence
from vernus.core.units import (
    MM_PER,
    SYSTEM_OF,
    DegreeName,
    UnitName,
    format_in,
    parse_length,
    parse_temperature,
    to_unit,
    without_idle_zeros,
)

_SLIPS: Final[dict[UnitName, tuple[UnitName, ...]]] = {
    "mm": ("in", "µm", "thou"),
    "in": ("mm", "thou"),
    "thou": ("in", "mm"),
    "µm": ("mm", "thou"),
}
_POINT: Final = (0.1, 10.0, 0.01, 100.0)
"""A point slipped by a place or two, or left out: 110 for 11.0."""
_THOUSANDS: Final = re.compile(r"^\s*(\d{1,3}(?:[ ,.\u202f]\d{3})+)(?![\d.,])")
_DECIMALS: Final[dict[UnitName, int]] = {"mm": 4, "in": 5, "thou": 2, "µm": 1}


@dataclass(frozen=True)
class Yardstick:
    """What a figure is compared with: usual ones lie from ``low`` to ``high`` (mm, °C, or the figure's own unit).

    ``words`` say what it is compared with; ``zero`` and ``signed`` tell that 0 and negative figures are usual too,
    ``pitch`` that a whole number may be threads per inch. In a ``sequence`` a point slips more often than the unit.
    Below ``floor`` (at it, where it is ``floor_open``) nothing can be: such a figure is asked about, and can't be kept.
    """

    low: float
    high: float
    words: Sentence
    zero: bool = True
    signed: bool = False
    pitch: bool = False
    sequence: bool = False
    floor: float | None = None
    floor_open: bool = False

    def can_be(self, value: float) -> bool:
        """Whether a figure is possible at all, however odd."""
        return self.floor is None or value > self.floor or (value == self.floor and not self.floor_open)

    def fits(self, value: float) -> bool:
        """Whether nobody would be surprised by ``value``."""
        if value == 0:
            return self.zero
        return self.low <= (abs(value) if self.signed else value) <= self.high


@dataclass(frozen=True)
class Doubt:
    """What is asked, and the text to take instead ("": nothing fits better, so it is typed again or kept).

    ``may_stay`` is false for what can't be so: a travel below nothing. ``as_read`` is the figure with the unit it was
    read in.
    """

    what: Sentence
    instead: str = ""
    meant: str = ""
    may_stay: bool = True
    as_read: str = ""

    def typed(self, text: str) -> str:
        """The figure as the answer that keeps it names it."""
        return self.as_read or text.strip()


def doubt_length(text: str, unit: UnitName, yardstick: Yardstick) -> Doubt | None:
    """What is to be asked about a typed length; None when it fits. Raises LengthSyntaxError."""
    typed = parse_length(text, unit)
    marked = _without_marks(text)
    if yardstick.fits(typed.mm) and not (marked and yardstick.fits(parse_length(marked, unit).mm)):
        return None
    named = any(c.isalpha() or c in "\"″'" for c in text)
    shown = text.strip() if named else f"{text.strip()} {typed.unit}"
    what = Sentence("{shown}? {words}.", {"shown": shown, "words": yardstick.words})
    stays = yardstick.can_be(typed.mm)
    for meant in _readings(text, typed.unit, typed.mm, yardstick):
        try:
            other = parse_length(meant, unit).mm
        except BadInputError:
            continue
        if yardstick.fits(other) and abs(other - typed.mm) > 1e-9:
            return Doubt(what, meant, _in_field(meant, other, unit), stays, shown)
    return Doubt(what, may_stay=stays, as_read=shown)


def doubt_value(mm: float, unit: UnitName, yardstick: Yardstick) -> Doubt | None:
    """What is to be asked about a length (mm) that was taken in ``unit``; None when it fits."""
    return doubt_length(format_in(mm, unit, _DECIMALS[unit]), unit, yardstick)


def _in_field(meant: str, mm: float, unit: UnitName) -> str:
    """How the proposal reads: as it was meant, and in the field's own unit where that is another one."""
    if meant.endswith(f" {unit}"):
        return meant
    own = without_idle_zeros(format_in(mm, unit, _DECIMALS[unit]).split()[0])
    same = any(meant.endswith(f" {u}") and SYSTEM_OF[u] == SYSTEM_OF[unit] for u in MM_PER)
    return f"{own} {unit}" if same else f"{meant} = {own} {unit}"


def _without_marks(text: str) -> str:
    """The text without thousands marks; empty when it has none that could be one."""
    found = _THOUSANDS.match(text)
    if found is None:
        return ""
    bare = re.sub(r"[ ,.\u202f]", "", found.group(1))
    return "" if bare.startswith("0") else bare + text[found.end() :]


def _readings(text: str, unit: UnitName, mm: float, yardstick: Yardstick) -> Iterator[str]:
    """Other ways to read the text, likeliest first."""
    number = without_idle_zeros(f"{to_unit(mm, unit):.6f}")
    marked = _without_marks(text)
    if marked:
        yield marked
    if mm < 0:
        yield f"{number.lstrip('-')} {unit}"
    if yardstick.pitch and mm > 0:
        yield f"{number} tpi"
    slipped = [f"{without_idle_zeros(f'{to_unit(mm, unit) * by:.6f}')} {unit}" for by in _POINT]
    if yardstick.sequence:
        yield from slipped
    for other in _SLIPS[unit]:
        yield f"{number} {other}"
    for other in _SLIPS[unit]:
        yield f"{number.lstrip('-')} {other}"
    yield from slipped


def doubt_number(text: str, value: float, yardstick: Yardstick) -> Doubt | None:
    """What is to be asked about a typed number; None when it fits."""
    marked = _without_marks(text)
    if yardstick.fits(value) and not (marked and yardstick.fits(float(marked))):
        return None
    what = Sentence("{shown}? {words}.", {"shown": f"{value:.10g}", "words": yardstick.words})
    instead = marked if marked and yardstick.fits(float(marked)) else ""
    if not instead and value < 0 and yardstick.fits(-value):
        instead = f"{-value:.10g}"
    return Doubt(what, instead, instead, yardstick.can_be(value))


def doubt_temperature(text: str, degrees: DegreeName, yardstick: Yardstick) -> Doubt | None:
    """What is to be asked about a typed temperature; None when it fits. Raises BadInputError."""
    value, named = parse_temperature(text, degrees)
    if yardstick.fits(value):
        return None
    number = text.strip().rstrip("CFcf° ").strip()
    what = Sentence("{shown}? {words}.", {"shown": f"{number} {named}", "words": yardstick.words})
    other = f"{number} {'°F' if named == '°C' else '°C'}"
    return Doubt(what, other, other) if yardstick.fits(parse_temperature(other)[0]) else Doubt(what)

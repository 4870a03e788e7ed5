"""Lengths as people type and read them, exact in both unit systems.

One inch is exactly 25.4 mm (ISO 31-1; the international inch of 1959). A typed length is read into an exact
fraction of a millimetre, so nothing is rounded before it is shown.

Entry forms: ``262``, ``262 mm``, ``9.25 in``, ``9 1/4"``, ``6-5/8``, ``3/32 in``, ``3 thou``, ``12 µm``, ``20 tpi``
(the pitch: 1/20 in); decimal comma or point; short sums such as ``180 + 22,5``; turns times lead, ``53.2 × 5``.
A bare number means the unit of the field it is typed into.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Final, Literal

from vernus.core.errors import BadInputError, LengthSyntaxError

UnitName = Literal["mm", "in", "thou", "µm"]
UnitSystem = Literal["mm", "in"]

MM_PER: Final[dict[UnitName, Fraction]] = {
    "mm": Fraction(1),
    "in": Fraction(254, 10),
    "thou": Fraction(254, 10_000),
    "µm": Fraction(1, 1000),
}
DECIMALS: Final[dict[UnitName, int]] = {"mm": 3, "in": 4, "thou": 1, "µm": 0}
SYSTEM_OF: Final[dict[UnitName, UnitSystem]] = {"mm": "mm", "µm": "mm", "in": "in", "thou": "in"}
_SPELLINGS: Final[dict[str, tuple[Fraction, UnitName]]] = {
    **dict.fromkeys(("mm", "millimetre", "millimetres", "millimeter", "millimeters"), (MM_PER["mm"], "mm")),
    **{s: (Fraction(10), "mm") for s in ("cm",)},
    **{s: (Fraction(1000), "mm") for s in ("m",)},
    **dict.fromkeys(("in", "inch", "inches", '"', "''"), (MM_PER["in"], "in")),
    **dict.fromkeys(("thou", "thous"), (MM_PER["thou"], "thou")),
    **dict.fromkeys(("µm", "um", "micron", "microns"), (MM_PER["µm"], "µm")),
}
_SAME_CHARACTER: Final = str.maketrans(
    {"*": "×", "−": "-", "–": "-", "μ": "µ", "″": '"', "”": '"', "“": '"', "\u00a0": " ", "\u202f": " ", "\t": " "}
)
_VULGAR: Final = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_NUMBER: Final = re.compile(
    r"""(?P<whole>[0-9]+)(?P<joint>-|\ +)(?P<top>[0-9]+)\ ?/\ ?(?P<bottom>[0-9]+)   # 9 1/4, 6-5/8
      | (?P<num>[0-9]+)\ ?/\ ?(?P<den>[0-9]+)                                       # 3/32
      | (?P<decimal>[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)                               # 262, 9.25, 22,5, .5
    """,
    re.VERBOSE,
)
_UNIT: Final = re.compile(r"""[A-Za-zµ]+|"|''""")
_LONGEST: Final = 80


@dataclass(frozen=True)
class TypedLength:
    """A length as typed: ``mm`` for computing, ``exact_mm`` to the last digit, the ``text`` and its ``unit``."""

    mm: float
    exact_mm: Fraction
    text: str
    unit: UnitName


LEAST_NUMBER, MOST_NUMBER = 1e-12, 1e12
"""What is smaller or larger is no figure of a machine; nothing is computed with it."""
LEAST_MM, MOST_MM = 1e-6, 1e9
"""And no length of one: a nanometre, a thousand kilometres."""


def parse_length(text: str, unit: UnitName = "mm") -> TypedLength:
    """Read a typed length; bare numbers are in ``unit``.

    Raises LengthSyntaxError naming the character where reading stopped and what would be right.
    """
    clean = text.translate(_SAME_CHARACTER)
    if not clean.strip():
        raise LengthSyntaxError(text, 1, "nothing typed; write a length such as 262 mm or 9 1/4 in")
    if len(clean) > _LONGEST:
        raise LengthSyntaxError(text[:20] + "…", _LONGEST, f"longer than {_LONGEST} characters; write one length")
    total, at, units = Fraction(0), _skip_blanks(clean, 0), set[UnitName]()
    first = True
    while True:
        sign, at = _read_sign(text, clean, at, required=not first)
        value, named, at = _read_quantity(text, clean, at, unit)
        units.add(named)
        total += sign * value
        first = False
        if at >= len(clean):
            break
    (shown,) = units if len(units) == 1 else (unit,)
    mm = float(total)
    if not math.isfinite(mm) or abs(mm) > MOST_MM:
        raise LengthSyntaxError(text, 1, "too large for a length; check the digits")
    return TypedLength(mm, total, text.strip(), shown)


def parse_lengths(text: str, unit: UnitName = "mm") -> tuple[TypedLength, ...]:
    """Read several lengths, separated by ``;``, ``×`` or ``x``, or by blanks where each is a bare number.

    Raises LengthSyntaxError as ``parse_length`` does.
    """
    pieces = [p.strip() for p in re.split(r"[;×]|(?<=[\d\s\"n])x(?=[\d\s])", text) if p.strip()]
    pieces = [word for piece in pieces for word in _bare_numbers(piece) or [piece]]
    if not pieces:
        raise LengthSyntaxError(text, 1, "nothing typed; write lengths such as 200; 400 or 8 in × 16 in")
    return tuple(parse_length(p, unit) for p in pieces)


def _bare_numbers(piece: str) -> list[str]:
    """The numbers of a piece that is nothing but bare numbers with blanks between them."""
    words = piece.split()
    return [w.rstrip(",") for w in words] if all(re.fullmatch(r"\d+(?:[.,]\d+)?,?", w) for w in words) else []


def with_units(text: str, unit: UnitName) -> str:
    """Several lengths, each with its unit, so that they mean the same in every unit system; kits stay together by ×."""
    kits = [k for k in text.split(";") if k.strip()]
    told = []
    for kit in kits:
        lengths = parse_lengths(kit, unit)
        joined = " × " if re.search(r"[×x]", kit) else "; "
        told.append(joined.join(t.text if re.search(r"[^\d.,/ -]", t.text) else f"{t.text} {t.unit}" for t in lengths))
    return "; ".join(told)


def _skip_blanks(clean: str, at: int) -> int:
    while at < len(clean) and clean[at] == " ":
        at += 1
    return at


def _read_sign(text: str, clean: str, at: int, *, required: bool) -> tuple[int, int]:
    if at < len(clean) and clean[at] in "+-":
        sign = -1 if clean[at] == "-" else 1
        return sign, _skip_blanks(clean, at + 1)
    if required:
        raise LengthSyntaxError(text, at + 1, f"can't read “{clean[at]}” here; write one length, or a sum with + or -")
    return 1, at


def _read_quantity(text: str, clean: str, at: int, unit: UnitName) -> tuple[Fraction, UnitName, int]:
    number, at = _read_number(text, clean, at)
    factor, named = MM_PER[unit], unit
    start = _skip_blanks(clean, at)
    if start < len(clean) and clean[start] == "×":
        value, named, at = _read_quantity(text, clean, _skip_blanks(clean, start + 1), unit)
        return number * value, named, at
    found = _UNIT.match(clean, start)
    if found:
        word = found.group()
        if word.lower() == "tpi":
            if number == 0:
                raise LengthSyntaxError(text, start + 1, "no thread has 0 turns per inch")
            return MM_PER["in"] / number, "in", _skip_blanks(clean, found.end())
        known = _SPELLINGS.get(word) or _SPELLINGS.get(word.lower())
        if known is None:
            raise LengthSyntaxError(text, start + 1, f'“{word}” is not a unit; use mm, cm, m, in, ", thou, µm or tpi')
        factor, named = known
        start = _skip_blanks(clean, found.end())
    return number * factor, named, start


def _read_number(text: str, clean: str, at: int) -> tuple[Fraction, int]:
    if at < len(clean) and clean[at] in _VULGAR:
        return Fraction(_VULGAR[clean[at]]), at + 1
    found = _NUMBER.match(clean, at)
    if not found:
        where = f"“{clean[at]}”" if at < len(clean) else "the end"
        raise LengthSyntaxError(text, at + 1, f"a number is wanted where {where} stands, such as 262, 9.25 or 9 1/4")
    part, end = found.groupdict(), found.end()
    if part["decimal"] is not None:
        number = Fraction(part["decimal"].replace(",", ".").rstrip(".") or "0")
        vulgar = _skip_blanks(clean, end)
        if vulgar < len(clean) and clean[vulgar] in _VULGAR and number.denominator == 1:
            return number + Fraction(_VULGAR[clean[vulgar]]), vulgar + 1
    else:
        bottom = int(part["bottom"] or part["den"])
        if bottom == 0:
            raise LengthSyntaxError(text, end, "the fraction is divided by zero")
        number = Fraction(int(part["top"] or part["num"]), bottom) + int(part["whole"] or 0)
    if end < len(clean) and clean[end] in ".,/":
        raise LengthSyntaxError(
            text, end + 1, f"a second “{clean[end]}” in one number; write it without thousands marks"
        )
    return number, end


def parse_number(text: str, *, such_as: str = "5080 or 0,9998") -> float:
    """Read a plain number (decimal comma or point, exponent allowed); raises BadInputError with an example."""
    try:
        value = float(text.strip().translate(_SAME_CHARACTER).replace(",", "."))
    except ValueError:
        raise BadInputError(f"“{text.strip()[:40]}” is not a number; write one such as {such_as}.") from None
    if not math.isfinite(value):
        raise BadInputError(f"“{text.strip()[:40]}” is not a finite number.")
    if value and not LEAST_NUMBER <= abs(value) <= MOST_NUMBER:
        raise BadInputError(f"“{text.strip()[:40]}” is out of all measure: {LEAST_NUMBER:g} to {MOST_NUMBER:g}.")
    return value


DegreeName = Literal["°C", "°F"]
_DEGREES: Final = re.compile(r"^(?P<number>.*?)\s*(?:°\s*|deg\s*)?(?P<scale>[CF])?$", re.IGNORECASE)


def parse_temperature(text: str, degrees: DegreeName = "°C") -> tuple[float, DegreeName]:
    """A temperature in °C and the scale it was given in: ``20``, ``20 °C``, ``68 F``; bare ones are in ``degrees``.

    Raises BadInputError.
    """
    found = _DEGREES.match(text.strip().removesuffix("°"))
    scale = found.group("scale") if found else None
    named: DegreeName = degrees if scale is None else "°F" if scale.upper() == "F" else "°C"
    try:
        value = parse_number(found.group("number") if found else text)
    except BadInputError:
        raise BadInputError(f"“{text.strip()[:40]}” is not a temperature; write one such as 20 or 68 °F.") from None
    return (value if named == "°C" else celsius(value)), named


def celsius(fahrenheit: float) -> float:
    """°F in °C."""
    return (fahrenheit - 32) / 1.8


def in_degrees(value_c: float, degrees: DegreeName) -> float:
    """°C in the scale shown."""
    return value_c if degrees == "°C" else value_c * 1.8 + 32


def format_temperature(value_c: float, degrees: DegreeName) -> str:
    """A temperature to a tenth of a degree, without idle zeros."""
    return f"{without_idle_zeros(f'{in_degrees(value_c, degrees):.1f}')} {degrees}"


def to_unit(mm: float, unit: UnitName) -> float:
    """``mm`` expressed in ``unit``."""
    return mm / float(MM_PER[unit])


def format_in(mm: float, unit: UnitName, decimals: int, *, sign: bool = False, with_unit: bool = True) -> str:
    """``mm`` in ``unit`` with a fixed number of decimals; never ``-0.00``."""
    value = round(to_unit(mm, unit), decimals) + 0.0
    number = f"{value:{'+' if sign else ''}.{decimals}f}".replace("-", "−")
    if sign and value == 0:
        number = number.lstrip("+")
    return f"{number} {unit}" if with_unit else number


def format_length(mm: float, system: UnitSystem, *, sign: bool = False, with_unit: bool = True) -> str:
    """A working length: two decimals of a millimetre or three of an inch, as on a shop drawing."""
    return format_in(mm, system, 2 if system == "mm" else 3, sign=sign, with_unit=with_unit)


def format_plain(mm: float, system: UnitSystem, *, sign: bool = False, with_unit: bool = True) -> str:
    """A working length for a sentence: as ``format_length``, without zeros that nobody measured."""
    number = without_idle_zeros(format_length(mm, system, sign=sign, with_unit=False))
    return f"{number} {system}" if with_unit else number


def without_idle_zeros(number: str) -> str:
    """``391.000`` as ``391``."""
    return number.rstrip("0").rstrip(".") if "." in number else number


def format_fine(mm: float, system: UnitSystem, *, sign: bool = False, with_unit: bool = True) -> str:
    """An indicator-sized length: three decimals of a millimetre or tenths of a thou."""
    if system == "mm":
        return format_in(mm, "mm", 3, sign=sign, with_unit=with_unit)
    return format_in(mm, "thou", 1, sign=sign, with_unit=with_unit)


def format_keyed(mm: float, system: UnitSystem, *, sign: bool = False) -> str:
    """A length as it is keyed into a display: in its own millimetres or inches, never in thou."""
    return format_in(mm, system, 3 if system == "mm" else 5, sign=sign)


def format_size(mm: float, system: UnitSystem) -> str:
    """A caliper's or micrometer's size, such as a diameter: to a µm or a tenth of a thou, without idle zeros."""
    return f"{without_idle_zeros(format_in(mm, system, 3 if system == 'mm' else 4, with_unit=False))} {system}"


def format_pm(value: float, u: float) -> str:
    """``value ± u`` as plain numbers, the uncertainty to two digits and the value to the same place (GUM 7.2.6)."""
    decimals = 6 if u == 0 else max(0, min(9, 1 - math.floor(math.log10(abs(u)))))
    return f"{value:.{decimals}f} ± {abs(u):.{decimals}f}".replace("-", "−")


def format_with_uncertainty(mm: float, u_mm: float, system: UnitSystem) -> str:
    """``value ± U unit``, the uncertainty to two digits and the value to the same place (GUM 7.2.6)."""
    factor = float(MM_PER[system])
    return f"{format_pm(mm / factor, u_mm / factor)} {system}"

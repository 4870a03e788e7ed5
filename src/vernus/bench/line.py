"""Lines that instruments send: patterns that find a value in them, and a reader that survives garbage."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.units import MM_PER, UnitName

_LONGEST_LINE = 200
_UNITS: dict[str, UnitName] = {"mm": "mm", "in": "in", "inch": "in", '"': "in", "um": "µm", "µm": "µm", "thou": "thou"}


@dataclass(frozen=True)
class LinePattern:
    """How a value stands in a line: a regular expression with the groups ``value`` and, if it is sent, ``unit``."""

    id: str
    label: str
    expression: str
    unit: UnitName = "mm"

    def __post_init__(self) -> None:
        try:
            compiled = re.compile(self.expression)
        except re.error as error:
            raise BadInputError(f"The line pattern is not a regular expression: {error}.") from None
        if "value" not in compiled.groupindex:
            raise BadInputError("The line pattern must name the figure, such as (?P<value>[-+]?[0-9.]+).")

    def read(self, line: str) -> float | None:
        """The value in mm, None when the line doesn't hold one."""
        found = re.search(self.expression, line)
        if found is None:
            return None
        try:
            value = float(found.group("value").replace(",", ".").replace(" ", ""))
        except (ValueError, IndexError):
            return None
        named = found.groupdict().get("unit")
        unit = _UNITS.get((named or "").strip().lower(), self.unit if not named else None)
        return None if unit is None else value * float(MM_PER[unit])


_FIGURE = r"(?P<value>[-+]?\s?[0-9]+(?:[.,][0-9]+)?)"
_TAGGED = rf"^(?=[0-9]*[A-Za-z])[A-Za-z0-9]{{1,6}}?[ ,:;=]?\s*{_FIGURE}\s*(?P<unit>mm|in)?\s*$"
PATTERNS: tuple[LinePattern, ...] = (
    LinePattern("plain", "a figure alone, millimetres", rf"^\s*{_FIGURE}\s*$"),
    LinePattern("plain-in", "a figure alone, inches", rf"^\s*{_FIGURE}\s*$", "in"),
    LinePattern("with-unit", "a figure and its unit", rf'^\s*{_FIGURE}\s*(?P<unit>mm|in|inch|"|µm|um|thou)\s*$'),
    LinePattern("tagged", "a tag, then the figure, millimetres", _TAGGED),
    LinePattern("tagged-in", "a tag, then the figure, inches", _TAGGED, "in"),
)


_PAIRS = (("plain", "plain-in"), ("tagged", "tagged-in"))
BAUDS = (9600, 4800, 19200, 38400, 115200, 2400, 1200)


def patterns_of(lines: Iterable[str]) -> list[LinePattern]:
    """The presets that find a figure in every one of the lines, those that name its unit first; none of no lines.

    Two remain where a figure stands alone: a line can't tell millimetres from inches, so its reader is asked.
    """
    heard = [line for line in lines if line.strip()]
    if heard and all(pattern_by_id("with-unit").read(line) is not None for line in heard):
        return [pattern_by_id("with-unit")]
    for pair in _PAIRS:
        both = [pattern_by_id(name) for name in pair]
        read = [[p.read(line) for line in heard] for p in both]
        if heard and None not in read[0]:
            return both[:1] if read[0] == read[1] and any(read[0]) else both  # its unit stands in the line
    return []


def pattern_by_id(wanted: str) -> LinePattern:
    """The preset of that id; raises BadInputError listing those there are."""
    for pattern in PATTERNS:
        if pattern.id == wanted:
            return pattern
    raise BadInputError(f"There is no line pattern “{wanted}”; choose one of {', '.join(p.id for p in PATTERNS)}.")


@dataclass(frozen=True)
class Heard:
    """One line: its value in mm, or None with the line as it came."""

    value_mm: float | None
    line: str


class LineReader:
    """Bytes in, lines out; half a line waits for the rest, a line without end is dropped."""

    def __init__(self, pattern: LinePattern) -> None:
        self.pattern = pattern
        self._rest = b""

    def feed(self, data: bytes) -> list[Heard]:
        """Every whole line in what was heard so far."""
        self._rest += data
        *lines, self._rest = re.split(rb"[\r\n]+", self._rest)
        heard = list(self._read(lines))
        if len(self._rest) > _LONGEST_LINE:
            heard.append(Heard(None, self._rest[:40].decode("ascii", "replace") + "…"))
            self._rest = b""
        return heard

    def _read(self, lines: Iterable[bytes]) -> Iterable[Heard]:
        for raw in lines:
            text = raw.decode("utf-8", "replace").strip()
            if text:
                yield Heard(self.pattern.read(text), text[:_LONGEST_LINE])

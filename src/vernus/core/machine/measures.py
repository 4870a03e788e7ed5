"""Measures: distances a person takes, and what follows from them as sums.

A machine is told by distances with a name (``table_length``), not by coordinates. Every figure that depends on them is
a sum of terms, ``table.right + wheel_gap`` or ``-0.5*table_width``, whose names are measures, travels (``Y.travel``) or
other figures told in the same way (``table.right``). All in mm.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from vernus.core.errors import BadInputError

_TERM: Final = re.compile(
    r"\s*(?P<sign>[+-]?)\s*(?:(?P<factor>\d+(?:\.\d+)?)\s*\*\s*)?(?:(?P<name>[A-Za-z_][\w.]*)|(?P<number>\d+(?:\.\d+)?))"
)


_BEYOND_MM: Final = 1e15
"""Far beyond any length, and far below where sums of such figures overflow."""


@dataclass(frozen=True)
class Term:
    """``factor`` times the figure called ``name``; a plain number has no name."""

    factor: float
    name: str = ""


@lru_cache(maxsize=4096)
def parse_sum(text: str) -> tuple[Term, ...]:
    """The terms of a sum such as ``table.right + 0.5*Y.travel - 12``; raises BadInputError."""
    terms: list[Term] = []
    at = 0
    while at < len(text.rstrip()):
        found = _TERM.match(text, at)
        if found is None or (terms and not found.group("sign")):
            raise BadInputError(f"“{text}” is no sum of measures: it can't be read at character {at + 1}.")
        sign = -1.0 if found.group("sign") == "-" else 1.0
        factor = sign * float(found.group("factor") or 1)
        name, number = found.group("name"), found.group("number")
        terms.append(Term(factor, name) if name else Term(factor * float(number)))
        at = found.end()
    if not terms:
        raise BadInputError("An empty sum says nothing; write a number or a measure.")
    return tuple(terms)


def tell(sums: Mapping[str, str], given: Mapping[str, float]) -> dict[str, float]:
    """Every figure of ``sums`` (name → sum) from the given ones, mm; given figures are not told again.

    Raises BadInputError for a name that is nowhere, or for figures that lean on each other in a circle.
    """
    told = dict(given)
    on_the_way: list[str] = []

    def figure(name: str) -> float:
        if name in told:
            return told[name]
        if name not in sums:
            raise BadInputError(f"“{name}” is neither a measure nor a figure of the machine.")
        if name in on_the_way:
            raise BadInputError(f"{' → '.join([*on_the_way, name])}: these figures lean on each other in a circle.")
        on_the_way.append(name)
        told[name] = math.fsum(t.factor * (figure(t.name) if t.name else 1.0) for t in parse_sum(sums[name]))
        on_the_way.pop()
        if abs(told[name]) > _BEYOND_MM:
            raise BadInputError(f"“{name}” comes to more than any length.")
        return told[name]

    for name in sums:
        figure(name)
    return told


def coefficients(sums: Mapping[str, str], name: str) -> dict[str, float]:
    """How much of every given figure there is in a figure, straight or through others; {name: 1} of a given one.

    Raises BadInputError for figures that lean on each other in a circle.
    """
    if name not in sums:
        return {name: 1.0}
    rests_on(sums, name)  # ends on a circle too
    found: dict[str, float] = {}
    todo, left = [(name, 1.0)], 100_000
    while todo:
        left -= 1
        if left < 0:
            raise BadInputError(f"“{name}”: these figures lean on each other in a circle.")
        at, share = todo.pop()
        for term in parse_sum(sums[at]):
            if term.name in sums:
                todo.append((term.name, share * term.factor))
            elif term.name:
                found[term.name] = found.get(term.name, 0.0) + share * term.factor
    return found


def rests_on(sums: Mapping[str, str], name: str) -> frozenset[str]:
    """The given names that a figure rests on, straight or through others; raises BadInputError on a circle."""
    found: set[str] = set()
    todo, seen = [name], set[str]()
    while todo:
        at = todo.pop()
        if at in seen:
            continue
        seen.add(at)
        if at in sums:
            todo += [t.name for t in parse_sum(sums[at]) if t.name]
        else:
            found.add(at)
    return frozenset(found)


@dataclass(frozen=True)
class Influence:
    """How far (mm) an answer moves when one measure is off by its likely error, and which answer that is."""

    key: str
    most_mm: float
    of: str


def influence(
    key: str,
    value_mm: float,
    likely_mm: float,
    here: Mapping[str, float],
    answers: Callable[[float], Mapping[str, float]],
) -> Influence:
    """The largest change of any answer while a measure goes from ``value_mm`` to either side of it by ``likely_mm``.

    ``here`` are the answers (name → mm) as it is, ``answers`` gives them for another value; one that isn't there is 0.
    """
    most, of = 0.0, ""
    for there in (answers(max(0.0, value_mm - likely_mm)), answers(value_mm + likely_mm)):
        for name in sorted(here.keys() | there.keys()):
            moved = abs(there.get(name, 0.0) - here.get(name, 0.0))
            if moved > most + 1e-9:
                most, of = moved, name
    return Influence(key, most, of)

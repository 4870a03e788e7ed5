"""Arguments in the entry syntax of lengths, one-line errors, and negative lengths as separate words."""

from __future__ import annotations

import argparse
import re
from collections.abc import Callable, Sequence
from typing import Any, NoReturn

from vernus.core.errors import BadInputError, VernusError
from vernus.core.units import LEAST_MM, MOST_MM, UnitName, parse_length, parse_number


class OneLineParser(argparse.ArgumentParser):
    """A parser whose errors are one clear line and exit code 2."""

    def error(self, message: str) -> NoReturn:
        """Raise instead of printing the usage and leaving."""
        raise BadInputError(f"{message}. Try “{self.prog} --help”.")


def length_reader(unit: UnitName) -> Callable[[str], float]:
    """Reads one length into mm; bare numbers are in ``unit``."""
    return _told(lambda text: _sized(parse_length(text, unit).mm, text))


_MOST_WHOLE, _MOST_TEETH, _MOST_DIGITS = 1_000_000, 10_000, 12


def _sized(mm: float, text: str) -> float:
    """A length that can be one: nothing, or between a nanometre and a thousand kilometres."""
    if mm and not LEAST_MM <= abs(mm) <= MOST_MM:
        raise BadInputError(f"“{text[:40]}” is no length of a machine; it lies between {LEAST_MM:g} and {MOST_MM:g} mm")
    return mm


def number(text: str) -> float:
    """Reads a plain number."""
    return float(_told(parse_number)(text))


def screws_reader(unit: UnitName) -> Callable[[str], tuple[float, float]]:
    """Reads two lengths separated by a semicolon, or by the only comma in the text."""

    def read(text: str) -> tuple[float, float]:
        parts = text.split(";") if ";" in text else text.split(",")
        if len(parts) != 2:
            raise BadInputError(f"“{text}”: two lengths are wanted, such as 20;480 or “1/2 in; 19 in”.")
        first, second = (_sized(parse_length(part, unit).mm, part) for part in parts)
        return first, second

    return _told(read)


def whole_number(text: str) -> int:
    """A whole number option."""
    try:
        value = int(text) if len(text) <= _MOST_DIGITS else None
    except ValueError:
        value = None
    if value is None or abs(value) > _MOST_WHOLE:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is no whole number to compute with; write one such as 5")
    return value


def teeth_reader(text: str) -> tuple[int, int]:
    """Two numbers of teeth, such as ``20,40``."""
    parts = text.replace(";", ",").split(",")
    good = len(parts) == 2 and all(p.strip().isdecimal() and len(p.strip()) <= _MOST_DIGITS for p in parts)
    if not good or max(int(p) for p in parts) > _MOST_TEETH:
        raise argparse.ArgumentTypeError(f"“{text[:40]}”: two numbers of teeth are wanted, such as 20,40")
    return int(parts[0]), int(parts[1])


def _told(read: Callable[[str], Any]) -> Callable[[str], Any]:
    """argparse shows the message of an ArgumentTypeError only."""

    def reader(text: str) -> Any:
        try:
            return read(text)
        except VernusError as error:
            raise argparse.ArgumentTypeError(str(error).rstrip(".")) from None

    return reader


def join_negative_values(words: Sequence[str]) -> list[str]:
    """``--travel -5 mm`` style words joined to their option, which argparse would take for an option."""
    joined: list[str] = []
    for word in words:
        option = joined[-1] if joined else ""
        if re.match(r"[-−–]\s*[0-9.,½¼¾⅛⅜⅝⅞]", word) and option.startswith("--") and "=" not in option:
            joined[-1] = f"{option}={word}"
        else:
            joined.append(word)
    return joined

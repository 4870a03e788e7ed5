"""Which thread an old hole or its screw has, from the diameter and the pitch measured.

Nominal sizes as in ISO 261 and ASME B1.1 (UNC, UNF), from memory. A screw measures a little under its nominal
diameter; a tapped bore about D − 1.08·P (ISO 68-1's basic minor diameter), a little more when it was drilled easy.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Sentence

MeasuredOn = Literal["screw", "bore"]
_METRIC = (
    (3, 0.5), (4, 0.7), (5, 0.8), (6, 1.0), (8, 1.25), (8, 1.0), (10, 1.5), (10, 1.25), (10, 1.0), (12, 1.75),
    (12, 1.5), (12, 1.25), (14, 2.0), (16, 2.0), (16, 1.5), (20, 2.5), (20, 1.5), (24, 3.0),
)  # fmt: skip
_INCH = (
    ("#4-40", 0.112, 40), ("#5-40", 0.125, 40), ("#6-32", 0.138, 32), ("#8-32", 0.164, 32), ("#10-24", 0.190, 24),
    ("#10-32", 0.190, 32), ("1/4-20", 0.25, 20), ("1/4-28", 0.25, 28), ("5/16-18", 0.3125, 18),
    ("5/16-24", 0.3125, 24), ("3/8-16", 0.375, 16), ("3/8-24", 0.375, 24), ("7/16-14", 0.4375, 14),
    ("1/2-13", 0.5, 13), ("1/2-20", 0.5, 20), ("5/8-11", 0.625, 11), ("3/4-10", 0.75, 10),
)  # fmt: skip


@dataclass(frozen=True)
class Thread:
    """A nominal thread; ``major_mm`` and ``pitch_mm`` are exact."""

    name: str
    major_mm: float
    pitch_mm: float

    @property
    def minor_mm(self) -> float:
        """The basic minor diameter, D − 1.0825·P (ISO 68-1)."""
        return self.major_mm - 1.082532 * self.pitch_mm


THREADS = tuple(Thread(f"M{d}×{p:g}", float(d), p) for d, p in _METRIC) + tuple(
    Thread(name, d * 25.4, 25.4 / n) for name, d, n in _INCH
)
# How far a measured diameter may lie from nominal, in pitches: (below, above).
_ROOM = {"screw": (0.2, 0.03), "bore": (0.1, 0.25)}
_PITCH_ROOM = 0.04  # of the pitch; a thread gauge tells 0.8 from 0.85 but not 1.25 from 1.27


def identify_thread(diameter_mm: float, pitch_mm: float, on: MeasuredOn = "screw") -> list[Thread]:
    """The threads that fit a measured diameter and pitch (mm), nearest first; empty when none does.

    Raises BadInputError for a diameter or pitch that isn't positive.
    """
    if not (diameter_mm > 0 and pitch_mm > 0):
        raise BadInputError("Diameter and pitch must be larger than zero, such as 5.9 mm and 1 mm.")
    below, above = _ROOM[on]
    fits: list[tuple[float, Thread]] = []
    for thread in THREADS:
        nominal = thread.major_mm if on == "screw" else thread.minor_mm
        off = (diameter_mm - nominal) / thread.pitch_mm
        pitch_off = abs(pitch_mm / thread.pitch_mm - 1)
        if -below <= off <= above and pitch_off <= _PITCH_ROOM:
            fits.append((pitch_off / _PITCH_ROOM + abs(off - (above - below) / 4), thread))
    return [thread for _, thread in sorted(fits, key=lambda f: f[0])]


def name_thread(found: Sequence[Thread]) -> Sentence:
    """The thread in words, with what would tell two apart."""
    if not found:
        return Sentence("No thread of the table fits: measure the screw with a caliper and the pitch with a gauge.")
    if len(found) == 1:
        return Sentence(f"{found[0].name}.")
    rest = " or ".join(t.name for t in found[1:3])
    return Sentence(f"{found[0].name}, though {rest} can't be told from it: try a screw by hand before tapping.")

"""Which thread an old hole or its screw has, from the diameter and the pitch measured.

A screw measures a little under its nominal
diameter; a tapped bore about D − 1.08·P (ISO 68-1's basic minor diameter), a little more when it was drilled easy.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Sentence
from vernus.core.make.hardware import THREADS, Thread

MeasuredOn = Literal["screw", "bore"]
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
